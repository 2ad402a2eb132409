// The wall: only the tiles that can be seen are there, so that ten thousand editions scroll as lightly as ten.

const wall = at("wall");
const GAP = 18, CAPTION = 45, HEADING = 52, AROUND = 600, PASSING = 50;
let shown = [];
let current = 0;
let likened;
const beside = [];
let lines = [];
const tiles = new Map();

const points = data.points && (() => {
  const raw = Uint8Array.from(atob(data.points.values), (letter) => letter.charCodeAt(0));
  return { width: data.points.width, values: new Int16Array(raw.buffer) };
})();
function apart(one, other) {
  let sum = 0;
  for (let place = 0; place < points.width; place++) {
    const off = points.values[one.order * points.width + place] - points.values[other.order * points.width + place];
    sum += off * off;
  }
  return sum;
}

function arrange() {
  const column = at("sort").value, descending = at("way").getAttribute("aria-pressed") === "true", group = at("group").value;
  const mark = at("by-mark").value, words = at("find").value.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const wanted = [...at("filters").querySelectorAll("select")].filter((select) => select.value).map((select) => [select.dataset.column, select.value]);
  const focused = shown[current];
  const text = (edition) => edition.words ??= [edition.title, edition.caption, ...Object.entries(edition.dials).map(([name, found]) => name + "=" + told(found))].join(" ").toLowerCase();
  shown = editions.filter((edition) =>
    (!mark || (mark === "none" ? !edition.mark : mark === "not drop" ? edition.mark !== "drop" : edition.mark === mark)) &&
    wanted.every(([name, wish]) => told(value(edition, name)) === wish) &&
    words.every((word) => text(edition).includes(word) || edition.note.toLowerCase().includes(word)));
  const of = new Map(shown.map((edition) => [edition, column === "likeness" && likened ? apart(edition, likened) : value(edition, column)]));
  const missing = (found) => found === null || found === undefined;
  shown.sort((one, other) => {
    const left = of.get(one), right = of.get(other);
    if (missing(left) || missing(right)) return missing(left) - missing(right) || one.order - other.order;
    return (descending ? -1 : 1) * (left < right ? -1 : left > right ? 1 : 0) || one.order - other.order;
  });
  if (group) {
    const groups = new Map();
    for (const edition of shown) {
      const name = told(value(edition, group));
      if (!groups.has(name)) groups.set(name, []);
      groups.get(name).push(edition);
    }
    sections = [...groups].sort(([one], [other]) => one.localeCompare(other, undefined, { numeric: true })).map(([name, own]) => ({ name: group + " " + name, own }));
    shown = sections.flatMap((section) => section.own);
  } else sections = [{ name: "", own: shown }];
  current = Math.max(shown.indexOf(focused), 0);
  for (const edition of tiles.keys()) take(edition);
  lay();
  at("nothing").hidden = shown.length > 0;
  count();
  if (!at("map-view").hidden) drawMap();
}
let sections = [];
function count() {
  const counts = { keep: 0, maybe: 0, drop: 0 };
  for (const edition of editions) if (edition.mark) counts[edition.mark] += 1;
  at("count").textContent = shown.length.toLocaleString("en") + " of " + editions.length.toLocaleString("en") + " editions; " +
    counts.keep + " kept, " + counts.maybe + " maybe, " + counts.drop + " dropped";
}

// Which line of tiles lies where; a heading is a line too.
let grid = { columns: 1, width: 100, height: 100 };
function lay() {
  const room = wall.clientWidth || 800, size = Number(at("size").value);
  const columns = Math.max(Math.floor((room + GAP) / (size + GAP)), 1);
  const width = (room - GAP * (columns - 1)) / columns;
  grid = { columns, width, height: (width - 14) * data.aspect + CAPTION };
  lines = [];
  let top = 0, from = 0;
  for (const { name, own } of sections) {
    if (name) { lines.push({ top, name, own }); top += HEADING; }
    for (let start = 0; start < own.length; start += columns) {
      lines.push({ top, from: from + start, to: from + Math.min(start + columns, own.length) });
      top += grid.height + GAP;
    }
    from += own.length;
  }
  wall.style.height = top + "px";
  wall.style.setProperty("--aspect", String(1 / data.aspect));
  show();
}
function lineAt(height) {
  // The last line that begins above a height.
  let low = 0, high = lines.length;
  while (low < high) { const middle = (low + high) >> 1; if (lines[middle].top <= height) low = middle + 1; else high = middle; }
  return Math.max(low - 1, 0);
}
const headings = new Map();
function show() {
  const top = -wall.getBoundingClientRect().top;
  const first = lineAt(top - AROUND), last = lineAt(top + innerHeight + AROUND);
  const wanted = new Set(), named = new Set();
  for (const line of lines.slice(first, last + 1)) {
    if (line.name !== undefined) { named.add(line.name); heading(line); continue; }
    for (let place = line.from; place < line.to; place++) {
      wanted.add(shown[place]);
      put(shown[place], place, (place - line.from) * (grid.width + GAP), line.top);
    }
  }
  for (const [edition, tile] of tiles) {
    if (!wanted.has(edition) && tile.button !== document.activeElement) take(edition);
  }
  for (const [name, made] of headings) if (!named.has(name)) { made.remove(); headings.delete(name); }
}
function heading(line) {
  let made = headings.get(line.name);
  if (!made) {
    made = element("div");
    made.setAttribute("role", "listitem");
    made.append(element("h2", line.name));
    headings.set(line.name, made);
    wall.append(made);
  }
  made.firstChild.replaceChildren(line.name, element("small", line.own.length.toLocaleString("en")));
  made.style.transform = "translateY(" + line.top + "px)";
}
function put(edition, place, left, top) {
  let tile = tiles.get(edition);
  if (!tile) {
    const item = element("div"), button = element("button", undefined, { className: "tile", type: "button", tabIndex: -1 });
    const frame = element("span", undefined, { className: "frame" }), under = element("span", undefined, { className: "under" });
    const image = element("img", undefined, { alt: "", decoding: "async" });
    frame.append(image);
    under.append(element("span", edition.title), element("span", undefined, { className: "mark" }), element("span", undefined, { className: "note" }));
    button.append(frame, under);
    item.setAttribute("role", "listitem");
    item.append(button);
    button.addEventListener("click", () => { current = shown.indexOf(edition); look(); });
    button.addEventListener("focus", () => { current = shown.indexOf(edition); });
    tile = { item, button };
    tiles.set(edition, tile);
    // A tile that is scrolled past at once needs no picture.
    setTimeout(() => { if (tiles.get(edition)?.item === item) image.src = edition.small; }, PASSING);
    refresh(edition);
    // In the order of the wall, which is that of a reader who hears it.
    const after = shown.slice(place + 1, place + 1 + grid.columns).map((next) => tiles.get(next)).find(Boolean);
    wall.insertBefore(item, after ? after.item : null);
  }
  tile.item.setAttribute("aria-setsize", String(shown.length));
  tile.item.setAttribute("aria-posinset", String(place + 1));
  tile.item.style.width = grid.width + "px";
  tile.item.style.transform = "translate(" + left + "px, " + top + "px)";
  tile.button.tabIndex = place === current ? 0 : -1;
}
function take(edition) {
  const { item } = tiles.get(edition);
  item.querySelector("img").removeAttribute("src");
  item.remove();
  tiles.delete(edition);
}
function refresh(edition) {
  const tile = tiles.get(edition);
  if (!tile) return;
  const [, mark, note] = tile.button.querySelector(".under").children;
  tile.button.dataset.mark = edition.mark;
  tile.button.toggleAttribute("data-beside", beside.includes(edition));
  mark.dataset.mark = edition.mark;
  mark.textContent = edition.mark ? "● " + edition.mark : "";
  const column = at("sort").value;
  note.textContent = edition.note || (column && !["seed", "likeness"].includes(column) ? told(value(edition, column)) : edition.caption);
  tile.button.setAttribute("aria-label", ["edition " + edition.title, edition.mark, note.textContent, beside.includes(edition) ? "chosen" : ""].filter(Boolean).join(", "));
}
function move(place, focus = true) {
  if (!shown.length) return;
  current = Math.min(Math.max(place, 0), shown.length - 1);
  const line = lines.find((each) => each.name === undefined && each.from <= current && current < each.to);
  const head = document.querySelector("header").offsetHeight;
  const top = wall.getBoundingClientRect().top + line.top, bottom = top + grid.height;
  if (focus && top < head + GAP) scrollBy(0, top - head - GAP);
  else if (focus && bottom > innerHeight) scrollBy(0, bottom - innerHeight + GAP);
  show();
  if (focus) tiles.get(shown[current]).button.focus({ preventScroll: true });
}
function above(way) {
  // The place a line higher or lower, in the same column where there is one.
  const lineOf = lines.findIndex((each) => each.name === undefined && each.from <= current && current < each.to);
  let next = lineOf + way;
  while (lines[next] && lines[next].name !== undefined) next += way;
  return lines[next] ? Math.min(lines[next].from + current - lines[lineOf].from, lines[next].to - 1) : current;
}
let asked = false;
function soon() {
  if (!asked) { asked = true; requestAnimationFrame(() => { asked = false; show(); }); }
}
addEventListener("scroll", soon, { passive: true });
new ResizeObserver(() => lay()).observe(at("wall-view"));
