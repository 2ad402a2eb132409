// The map: what looks alike lies close together. Pictures where there is room for them, dots for the others.

const canvas = at("map").querySelector("canvas");
const CELL = 86;
const view = { scale: 1, x: 0, y: 0 };
const images = new Map();
const placeOf = (edition) => [edition.place[0], 1 - edition.place[1]];
function onScreen(edition) {
  const [x, y] = placeOf(edition), { clientWidth: width, clientHeight: height } = canvas;
  return [(x * (width - 2 * CELL) + CELL) * view.scale + view.x, (y * (height - 2 * CELL) + CELL) * view.scale + view.y];
}
function drawMap() {
  const { clientWidth: width, clientHeight: height } = canvas, fine = devicePixelRatio || 1;
  canvas.width = width * fine;
  canvas.height = height * fine;
  const paint = canvas.getContext("2d"), style = getComputedStyle(document.documentElement);
  paint.scale(fine, fine);
  const chosen = new Map();
  for (const edition of shown) {
    const [x, y] = onScreen(edition);
    if (x < -CELL || y < -CELL || x > width + CELL || y > height + CELL) continue;
    paint.fillStyle = edition.palette.length > 1 ? edition.palette[1][0] : style.getPropertyValue("--muted");
    paint.globalAlpha = 0.8;
    paint.beginPath();
    paint.arc(x, y, 3, 0, 7);
    paint.fill();
    const cell = Math.round(x / CELL) + "/" + Math.round(y / CELL);
    const off = Math.hypot(x - Math.round(x / CELL) * CELL, y - Math.round(y / CELL) * CELL);
    if (!chosen.has(cell) || chosen.get(cell).off > off) chosen.set(cell, { edition, x, y, off });
  }
  paint.globalAlpha = 1;
  const own = shown[current];
  for (const { edition, x, y } of chosen.values()) if (edition !== own) picture(paint, edition, x, y, style, false);
  if (own) picture(paint, own, ...onScreen(own), style, true);
}
function picture(paint, edition, x, y, style, marked) {
  let image = images.get(edition);
  if (!image) {
    image = new Image();
    image.onload = soonMap;
    image.src = edition.small;
    images.set(edition, image);
  }
  const width = (CELL - 22) / Math.max(1, data.aspect), height = width * data.aspect;
  if (image.complete && image.naturalWidth) paint.drawImage(image, x - width / 2, y - height / 2, width, height);
  const colour = edition.mark ? style.getPropertyValue("--" + edition.mark) : style.getPropertyValue("--hairline");
  paint.strokeStyle = marked ? style.getPropertyValue("--accent") : colour;
  paint.lineWidth = marked ? 4 : edition.mark ? 3 : 1;
  paint.strokeRect(x - width / 2, y - height / 2, width, height);
}
let askedMap = false;
function soonMap() {
  if (!askedMap) { askedMap = true; requestAnimationFrame(() => { askedMap = false; drawMap(); }); }
}
function zoomMap(by, x = canvas.clientWidth / 2, y = canvas.clientHeight / 2) {
  const scale = Math.min(Math.max(view.scale * by, 1), 60), ratio = scale / view.scale;
  Object.assign(view, { scale, x: x - (x - view.x) * ratio, y: y - (y - view.y) * ratio });
  if (scale === 1) Object.assign(view, { x: 0, y: 0 });
  soonMap();
}
function nearest(x, y, accepted = () => true) {
  let best, least = Infinity;
  shown.forEach((edition, place) => {
    const [left, top] = onScreen(edition), off = Math.hypot(left - x, top - y);
    if (off < least && accepted(left - x, top - y)) { least = off; best = place; }
  });
  return best;
}
function stepOnMap(across, down) {
  // To the nearest that lies that way, within a quarter turn.
  const [x, y] = onScreen(shown[current]);
  const next = nearest(x, y, (dx, dy) => dx * across + dy * down > 0.5 && Math.abs(dx * down) + Math.abs(dy * across) <= dx * across + dy * down);
  if (next === undefined) return;
  current = next;
  const [left, top] = onScreen(shown[current]);
  if (left < CELL || left > canvas.clientWidth - CELL) view.x += canvas.clientWidth / 2 - left;
  if (top < CELL || top > canvas.clientHeight - CELL) view.y += canvas.clientHeight / 2 - top;
  say("edition " + shown[current].title + ", " + [shown[current].mark, shown[current].caption].filter(Boolean).join(", "));
  soonMap();
}
canvas.addEventListener("wheel", (turned) => { turned.preventDefault(); zoomMap(turned.deltaY < 0 ? 1.2 : 1 / 1.2, turned.offsetX, turned.offsetY); }, { passive: false });
let drag;
canvas.addEventListener("pointerdown", (down) => { drag = { x: down.offsetX, y: down.offsetY, moved: false }; canvas.setPointerCapture(down.pointerId); });
canvas.addEventListener("pointermove", (moved) => {
  if (!drag) return;
  const dx = moved.offsetX - drag.x, dy = moved.offsetY - drag.y;
  if (Math.hypot(dx, dy) > 4 || drag.moved) { view.x += dx; view.y += dy; drag = { x: moved.offsetX, y: moved.offsetY, moved: true }; soonMap(); }
});
canvas.addEventListener("pointerup", (up) => {
  const clicked = drag && !drag.moved;
  drag = undefined;
  const found = clicked ? nearest(up.offsetX, up.offsetY) : undefined;
  if (found !== undefined) { current = found; soonMap(); look(); }
});
new ResizeObserver(() => { if (!at("map-view").hidden) soonMap(); }).observe(at("map"));
