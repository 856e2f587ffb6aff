// Buttons that print the page.
document.addEventListener("click", ({ target }) => {
  if (target.closest?.("[data-print]")) window.print();
});
