// What the page is about, and what the artist thinks of it: marks and notes, kept in the browser or in the series, with undo.

const data = JSON.parse(at("data").textContent);
const editions = data.editions;
const store = "mothseed light table " + data.series + " " + location.pathname;
const changes = [];
let unsaved = false;

const key = (edition) => edition.variant + "/" + edition.seed;
for (const edition of editions) edition.first = { mark: edition.mark, note: edition.note };

// What was marked here before and not yet saved; where a browser keeps nothing for files, the page still works.
if (!data.served) {
  try {
    const kept = JSON.parse(localStorage.getItem(store) || "{}");
    for (const edition of editions) {
      const before = kept[key(edition)];
      if (before) { edition.mark = before.mark; edition.note = before.note; unsaved = true; }
    }
  } catch { /* nothing is kept */ }
}
function change(edition, after, { again = false } = {}) {
  // Every change of a mark or a note passes here; those that were taken back are not taken back again.
  const before = { mark: edition.mark, note: edition.note };
  if (before.mark === after.mark && before.note === after.note) return;
  if (!again) changes.push({ edition, before });
  at("undo").disabled = !changes.length;
  Object.assign(edition, after);
  data.served ? send(edition) : keep();
}
function undo() {
  const last = changes.pop();
  if (!last) return undefined;
  change(last.edition, last.before, { again: true });
  say("edition " + last.edition.title + ": " + (last.edition.mark || "no mark"));
  return last.edition;
}
function keep() {
  unsaved = true;
  at("save").textContent = "save marks •";
  try {
    const kept = {};
    for (const edition of editions) {
      if (edition.mark !== edition.first.mark || edition.note !== edition.first.note) kept[key(edition)] = { mark: edition.mark, note: edition.note };
    }
    localStorage.setItem(store, JSON.stringify(kept));
  } catch { /* the file that is saved has them */ }
}
// To the series, one after the other and in order; what could not be kept is told, and sent again with the next.
const unsent = new Map();
let sending = false;
async function send(edition) {
  if (edition) unsent.set(key(edition), edition);
  if (sending || !unsent.size) return;
  sending = true;
  unsaved = true;
  const going = [...unsent.values()].map(({ seed, variant, mark, note }) => ({ seed, variant, mark, note }));
  unsent.clear();
  let trouble = "";
  try {
    const answer = await fetch("marks", { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify({ marks: going }) });
    if (!answer.ok) trouble = (await answer.json().catch(() => ({}))).message || "the marks were not kept";
  } catch { trouble = "mothseed no longer answers; start it again, and reload this page"; }
  sending = false;
  at("trouble").hidden = !trouble;
  at("trouble").textContent = trouble && "Not kept yet: " + trouble;
  if (trouble) {
    for (const each of going) { const own = editions.find((edition) => key(edition) === key(each)); if (!unsent.has(key(each))) unsent.set(key(each), own); }
  } else if (unsent.size) send();
  else unsaved = false;
}

function value(edition, column) {
  if (column === "seed") return edition.order;
  if (column === "group") return edition.group;
  if (column === "variant") return edition.variant;
  for (const part of [edition.outcomes, edition.dials, edition.measures]) if (column in part) return part[column];
  return undefined;
}
function told(found) {
  if (found === null || found === undefined || found === "") return "–";
  if (typeof found === "boolean") return found ? "on" : "off";
  return typeof found === "number" ? String(Number(found.toPrecision(4))) : String(found);
}
