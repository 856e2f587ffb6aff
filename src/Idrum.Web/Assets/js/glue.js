// The window of a coat for the way and the warmth that are chosen: Core worked all of them out, here one is picked.
document.addEventListener("change", (event) => {
  const form = event.target.closest("form[data-times]");
  if (!form || !["school", "celsius"].includes(event.target.name)) return;
  const times = JSON.parse(form.dataset.times)[form.elements.school.value];
  const picked = times?.[form.elements.celsius.value];
  if (!picked) return;
  ["join", "latest", "press", "handling", "cure"].forEach((name, n) => {
    form.elements[`${name}Minutes`].value = picked[n];
  });
  const cold = form.querySelector("[data-cold]");
  cold.hidden =
    Number(form.elements.celsius.value) >= Number(cold.dataset.cold);
});

// Another way is looked at in the same warmth.
document.addEventListener("htmx:configRequest", ({ detail }) => {
  const warm = document.getElementById("g-warm")?.value;
  if (warm && detail.elt.matches(".ways a"))
    detail.path = detail.path.replace(
      /celsius=[^&]*/,
      `celsius=${encodeURIComponent(warm)}`,
    );
});
