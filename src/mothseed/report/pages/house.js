// What the pages have in common: making elements, saying something to a screen reader, light and dark.
const at = (id) => document.getElementById(id);
const say = (words) => { at("said").textContent = words; };
function element(name, text, properties = {}) {
  const made = document.createElement(name);
  if (text !== undefined) made.textContent = text;
  return Object.assign(made, properties);
}
function theme(name) {
  document.documentElement.dataset.theme = name;
  at("theme").textContent = name === "dark" ? "light" : "dark";
}
theme(matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");
at("theme").addEventListener("click", () => theme(document.documentElement.dataset.theme === "dark" ? "light" : "dark"));
