// The window of a coat for the way and the warmth that are chosen: Core worked all of them out, here one is picked.
document.addEventListener("change", (event) => {
  const form = event.target.closest("form[data-times]");
  if (!form || !["school", "celsius"].includes(event.target.name)) return;
  const times = JSON.parse(form.dataset.times)[form.elements.school.value];
  // Another way is looked at in the same warmth.
  for (const way of document.querySelectorAll(".ways a[href*='celsius=']"))
    way.href = way.href.replace(
      /celsius=[^&]*/,
      `celsius=${encodeURIComponent(form.elements.celsius.value)}`,
    );
  const picked = times?.[form.elements.celsius.value];
  if (!picked) return;
  ["join", "latest", "press", "handling", "cure"].forEach((name, n) => {
    form.elements[`${name}Minutes`].value = picked[n];
  });
  const cold = form.querySelector("[data-cold]");
  cold.hidden =
    Number(form.elements.celsius.value) >= Number(cold.dataset.cold);
});
