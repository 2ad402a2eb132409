// One edition with all that is known of it, and up to four side by side, that are zoomed and moved together.

function large(picture, edition) {
  // The picture itself, where the page lies beside its series; the small one otherwise.
  picture.onerror = () => { picture.onerror = null; picture.src = edition.small; };
  picture.alt = "edition " + edition.title;
  picture.src = edition.file || edition.small;
}
function look() { if (shown[current]) { showOne(); if (!at("single").open) at("single").showModal(); } }
function facts(heading, pairs) {
  const rows = Object.entries(pairs);
  if (!rows.length) return [];
  const list = element("dl");
  for (const [name, found] of rows) list.append(element("dt", name), element("dd", told(found)));
  return [element("h3", heading), list];
}
function showOne() {
  const edition = shown[current];
  at("single-title").textContent = "edition " + edition.title;
  large(at("single-picture"), edition);
  at("note").value = edition.note;
  for (const button of document.querySelectorAll("[data-set]")) button.setAttribute("aria-pressed", String(button.dataset.set === edition.mark));
  const swatches = element("div", undefined, { className: "swatches" });
  swatches.setAttribute("role", "img");
  swatches.setAttribute("aria-label", "palette: " + edition.palette.map(([css]) => css).join(", "));
  for (const [css, share] of edition.palette) {
    const swatch = element("span", undefined, { title: css + " " + Math.round(share * 100) + "%" });
    swatch.style.background = css;
    swatch.style.flex = String(share);
    swatches.append(swatch);
  }
  at("facts").replaceChildren(
    swatches, ...facts("came by chance", edition.outcomes), ...facts("dials", edition.dials), ...facts("measures", edition.measures),
    ...facts("history", edition.history), element("h3", "to make it again"), element("code", edition.again));
}
at("note").addEventListener("change", () => { change(shown[current], { mark: shown[current].mark, note: at("note").value }); refresh(shown[current]); });
for (const button of document.querySelectorAll("[data-set]")) button.addEventListener("click", () => setMark(button.dataset.set));
function step(way) { at("note").blur(); current = (current + way + shown.length) % shown.length; showOne(); }
at("previous").addEventListener("click", () => step(-1));
at("next").addEventListener("click", () => step(1));
at("beside").addEventListener("click", () => { at("single").close(); compare([shown[current], shown[current + 1] || shown[current - 1]]); });
for (const button of document.querySelectorAll("[data-close]")) button.addEventListener("click", () => at(button.dataset.close).close());
at("single").addEventListener("close", () => {
  if (document.activeElement === at("note")) at("note").blur();
  const edition = shown[current];
  arrange();
  back(Math.max(shown.indexOf(edition), 0));
});
at("pair").addEventListener("close", () => back(current));
function back(place) {
  if (at("map-view").hidden) move(place); else { current = place; at("map").focus(); soonMap(); }
}

// Side by side

const lens = { scale: 1, x: 0, y: 0 };
let together = [];
function choose() {
  const edition = shown[current];
  if (!edition) return;
  const place = beside.indexOf(edition);
  if (place >= 0) beside.splice(place, 1);
  else {
    beside.push(edition);
    if (beside.length > 4) refresh(beside.shift());
  }
  if (beside.includes(edition)) refresh(edition); else for (const each of [edition, ...beside]) refresh(each);
  say(beside.length + " chosen");
}
function compare(chosen) {
  if (!shown[current]) return;
  const own = shown[current], next = shown[current + 1] || shown[current - 1] || own;
  together = chosen ? chosen.filter(Boolean) : beside.length > 1 ? [...beside] : beside.length ? [beside[0], own === beside[0] ? next : own] : [own, next];
  if (together.length < 2) together.push(together[0]);
  Object.assign(lens, { scale: 1, x: 0, y: 0 });
  at("over").hidden = together.length > 2;
  over(false);
  showTogether();
  at("pair").showModal();
  at("together").focus();
}
function showTogether() {
  const label = (place) => together.length > 2 ? "picture " + (place + 1) : place ? "right" : "left";
  at("sides").replaceChildren(...together.map((edition, place) => {
    const select = element("select", undefined, { id: "side-" + place });
    select.setAttribute("aria-label", label(place));
    // Of very many the ones about it; all others can be chosen on the wall.
    const from = Math.max(editions.indexOf(edition) - 100, 0);
    for (const each of editions.slice(from, from + 200)) select.append(element("option", each.title, { value: String(each.order) }));
    select.value = String(edition.order);
    select.addEventListener("change", () => { together[place] = editions[select.value]; showTogether(); at("side-" + place).focus(); });
    return select;
  }));
  const names = [...new Set(together.flatMap((edition) => [...Object.keys(edition.outcomes), ...Object.keys(edition.dials)]))];
  const differ = names.filter((name) => new Set(together.map((edition) => told(value(edition, name)))).size > 1);
  at("together").replaceChildren(...together.map((edition) => {
    const figure = element("figure"), frame = element("div", undefined, { className: "window" });
    const image = element("img", undefined, { draggable: false });
    large(image, edition);
    frame.append(image);
    const words = differ.map((name) => name + " " + told(value(edition, name))).join(", ");
    figure.append(frame, element("figcaption", [edition.title, edition.mark, words || "same dials and outcomes"].filter(Boolean).join(" · ")));
    return figure;
  }));
  zoom();
}
function over(on) {
  at("over").setAttribute("aria-pressed", String(on));
  at("together").classList.toggle("over", on);
  at("cutting").hidden = !on;
  at("pair-title").textContent = on ? "One over the other" : "Side by side";
  cut();
}
function zoom() {
  for (const image of at("together").querySelectorAll("img")) image.style.transform = "translate(" + lens.x + "px, " + lens.y + "px) scale(" + lens.scale + ")";
}
function zoomBy(by, x, y) {
  const frame = at("together").querySelector(".window");
  x ??= frame.clientWidth / 2;
  y ??= frame.clientHeight / 2;
  const scale = Math.min(Math.max(lens.scale * by, 1), 40), ratio = scale / lens.scale;
  Object.assign(lens, scale === 1 ? { scale, x: 0, y: 0 } : { scale, x: x - (x - lens.x) * ratio, y: y - (y - lens.y) * ratio });
  zoom();
}
function pan(across, down) { if (lens.scale > 1) { lens.x += across; lens.y += down; zoom(); } }
function cut() { at("together").style.setProperty("--cut", at("cut").value); }
at("cut").addEventListener("input", cut);
at("over").addEventListener("click", () => { over(at("over").getAttribute("aria-pressed") !== "true"); if (!at("cutting").hidden) at("cut").focus(); });
const zooms = { in: () => zoomBy(1.4), out: () => zoomBy(1 / 1.4), fit: () => zoomBy(0) };
for (const button of document.querySelectorAll("[data-zoom]")) button.addEventListener("click", () => zooms[button.dataset.zoom]());
at("together").addEventListener("wheel", (turned) => {
  turned.preventDefault();
  const frame = turned.target.closest(".window");
  if (!frame) return;
  const box = frame.getBoundingClientRect();
  zoomBy(turned.deltaY < 0 ? 1.2 : 1 / 1.2, turned.clientX - box.left, turned.clientY - box.top);
}, { passive: false });
let dragged;
at("together").addEventListener("pointerdown", (down) => { dragged = [down.clientX, down.clientY]; at("together").setPointerCapture(down.pointerId); });
at("together").addEventListener("pointermove", (moved) => {
  if (!dragged) return;
  pan(moved.clientX - dragged[0], moved.clientY - dragged[1]);
  dragged = [moved.clientX, moved.clientY];
});
at("together").addEventListener("pointerup", () => { dragged = undefined; });
