// The tools above the wall, and the keys.

function setMark(mark) {
  const edition = shown[current];
  if (!edition) return;
  change(edition, { mark, note: edition.note });
  say("edition " + edition.title + ": " + (mark || "no mark"));
  marked(edition);
}
function marked(edition) {
  refresh(edition);
  count();
  if (at("single").open) { showOne(); return; }
  if (!at("map-view").hidden) { soonMap(); return; }
  // Where only some marks are shown, it may be no longer among them.
  const place = current;
  if (at("by-mark").value) { arrange(); move(Math.min(shown.includes(edition) ? shown.indexOf(edition) : place, shown.length - 1)); }
}
function takeBack() {
  const edition = undo();
  if (!edition) return;
  if (at("single").open || at("map-view").hidden === false) { marked(edition); return; }
  if (at("by-mark").value) arrange(); else { refresh(edition); count(); }
  if (shown.includes(edition)) move(shown.indexOf(edition));
}
function liken() {
  const edition = shown[current];
  if (!edition || !points) return;
  likened = edition;
  let option = [...at("sort").options].find((each) => each.value === "likeness");
  if (!option) { option = element("option", "", { value: "likeness" }); at("sort").append(option); }
  option.textContent = "like " + edition.title;
  at("sort").value = "likeness";
  at("way").setAttribute("aria-pressed", "false");
  arrange();
  scrollTo(0, 0);
  move(0);
  say("sorted by likeness to edition " + edition.title);
}
function showView(name) {
  for (const button of at("views").children) button.setAttribute("aria-pressed", String(button.dataset.view === name));
  at("wall-view").hidden = name !== "wall";
  at("map-view").hidden = name !== "map";
  if (name === "map") { drawMap(); at("map").focus(); } else { lay(); move(current); }
}

for (const column of ["seed", ...data.sortable]) at("sort").append(element("option", column === "seed" ? "as listed" : column, { value: column }));
at("group").append(element("option", "nothing", { value: "" }));
for (const column of data.grouped) at("group").append(element("option", column === "group" ? "likeness" : column, { value: column }));
for (const [column, choices] of Object.entries(data.filters)) {
  const label = element("label", column);
  const select = element("select");
  select.dataset.column = column;
  select.append(element("option", "all", { value: "" }), ...choices.map((choice) => element("option", told(choice), { value: told(choice) })));
  select.addEventListener("change", arrange);
  label.append(select);
  at("filters").append(label);
}
at("views").hidden = !points;
at("axes").textContent = data.axes.join("   ·   ");
for (const button of at("views").children) button.addEventListener("click", () => showView(button.dataset.view));
for (const id of ["sort", "by-mark", "group"]) at(id).addEventListener("change", arrange);
at("find").addEventListener("input", arrange);
at("way").addEventListener("click", () => { at("way").setAttribute("aria-pressed", String(at("way").getAttribute("aria-pressed") !== "true")); arrange(); });
at("size").addEventListener("input", () => { lay(); });
at("undo").addEventListener("click", takeBack);
at("theme").addEventListener("click", () => { if (!at("map-view").hidden) soonMap(); });
at("save").hidden = data.served;
at("save").addEventListener("click", () => {
  const changed = editions.filter((edition) => edition.mark || edition.note || edition.first.mark || edition.first.note);
  const marks = changed.map(({ seed, variant, mark, note }) => ({ seed, variant, mark, note }));
  const file = new Blob([JSON.stringify({ series: data.series, marks }, null, 2)], { type: "application/json" });
  const link = element("a", undefined, { href: URL.createObjectURL(file), download: data.marks_file });
  link.click();
  unsaved = false;
  at("save").textContent = "save marks";
  say("saved as " + data.marks_file);
});
addEventListener("beforeunload", (leaving) => { if (unsaved) leaving.preventDefault(); });

const marks = { k: "keep", m: "maybe", d: "drop", n: "" };
function inPair(pressed) {
  const pans = { ArrowLeft: [60, 0], ArrowRight: [-60, 0], ArrowUp: [0, 60], ArrowDown: [0, -60] };
  const others = { "+": zooms.in, "=": zooms.in, "-": zooms.out, 0: zooms.fit, o: () => { if (!at("over").hidden) at("over").click(); } };
  if (pressed.key in pans) pan(...pans[pressed.key]);
  else if (pressed.key in others) others[pressed.key]();
  else return false;
  return true;
}
function onMap(pressed) {
  const ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  const others = { "+": () => zoomMap(1.4), "=": () => zoomMap(1.4), "-": () => zoomMap(1 / 1.4), 0: () => zoomMap(0), Enter: look };
  if (!shown[current]) return false;
  if (pressed.key in ways) stepOnMap(...ways[pressed.key]);
  else if (pressed.key in others) others[pressed.key]();
  else return false;
  return true;
}
function onWall(pressed) {
  const inside = at("single").open;
  const steps = { ArrowRight: current + 1, ArrowLeft: current - 1, ArrowDown: above(1), ArrowUp: above(-1), Home: 0, End: shown.length - 1 };
  if (!(pressed.key in steps)) return false;
  if (!inside && !(wall.contains(document.activeElement) || document.activeElement === document.body)) return false;
  if (!inside) move(steps[pressed.key]);
  else if (["ArrowRight", "ArrowDown"].includes(pressed.key)) step(1);
  else if (["ArrowLeft", "ArrowUp"].includes(pressed.key)) step(-1);
  else { current = steps[pressed.key]; showOne(); }
  return true;
}
addEventListener("keydown", (pressed) => {
  if (pressed.ctrlKey || pressed.metaKey || pressed.altKey) return;
  if (pressed.target.closest("input, select, textarea")) return;
  const inside = at("single").open;
  let done = true;
  if (at("pair").open) done = inPair(pressed);
  else if (!inside && document.activeElement === at("map") && onMap(pressed)) done = true;
  else if (onWall(pressed)) done = true;
  else if (pressed.key in marks) setMark(marks[pressed.key]);
  else if (pressed.key === "u") takeBack();
  else if (pressed.key === "c") { if (inside) at("single").close(); compare(); }
  else if (pressed.key === "l" && !inside && at("map-view").hidden) liken();
  else if (pressed.key === "x" && !inside) choose();
  else if (pressed.key === "v" && !inside && points) showView(at("map-view").hidden ? "map" : "wall");
  else if (pressed.key === "/" && !inside) at("find").focus();
  else done = false;
  if (done) pressed.preventDefault();
});
arrange();
if (unsaved) at("save").textContent = "save marks •";
