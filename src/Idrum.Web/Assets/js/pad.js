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

// What one reading alone says, by figures that came with the page: so the phone says it without a link, too.
document.addEventListener("input", (event) => {
  const form = event.target.form;
  const say = form?.querySelector("[data-alone]");
  if (!say) return;
  const { good, beyond, unit } = form.dataset;
  const typed = form.elements.value.value.replace(",", ".").trim();
  const known = typed !== "" && form.elements.unit.value === unit;
  const value = Number(typed);
  const up = Number(beyond) > Number(good) ? 1 : -1;
  say.textContent =
    !known || Number.isNaN(value)
      ? ""
      : (value - Number(beyond)) * up >= 0
        ? "Alone: beyond the limit."
        : (value - Number(good)) * up > 0
          ? "Alone: near the limit; read it again."
          : "Alone: good.";
});
