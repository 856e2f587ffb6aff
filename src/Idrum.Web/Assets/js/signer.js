// Who signed last on this device signs next, unless another name is written.
const KEY = "idrum.signed-by";

function look() {
  const field = document.getElementById("signedBy");
  if (field && !field.value) field.value = localStorage.getItem(KEY) ?? "";
}
document.addEventListener("submit", (event) => {
  const name = event.target.elements?.signedBy?.value.trim();
  if (name) localStorage.setItem(KEY, name);
});
document.addEventListener("htmx:afterSettle", look);
look();
