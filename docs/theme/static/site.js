// A slash goes to the search, from anywhere but a field.
addEventListener("keydown", (event) => {
  const typing = /^(INPUT|TEXTAREA|SELECT)$/.test(document.activeElement.tagName);
  if (event.key !== "/" || typing || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  at("find").focus();
});
// What was searched for stays in the field.
const asked = new URLSearchParams(location.search).get("q");
if (asked) at("find").value = asked;
// What is wider than its place is scrolled with the keyboard, too.
for (const wide of document.querySelectorAll("pre, table")) {
  if (wide.scrollWidth > wide.clientWidth) wide.tabIndex = 0;
}
