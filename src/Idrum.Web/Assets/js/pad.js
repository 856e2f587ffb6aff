// A number pad under the thumb: it writes into the field of its form; the field itself takes any keyboard.
document.addEventListener("click", (event) => {
  const key = event.target.closest?.("[data-digit]");
  if (!key) return;
  const field = key.form.elements.value;
  const digit = key.dataset.digit;
  if (digit === "back") field.value = field.value.slice(0, -1);
  else if (digit !== "." || !field.value.includes(".")) field.value += digit;
  field.dispatchEvent(new Event("input", { bubbles: true }));
});
