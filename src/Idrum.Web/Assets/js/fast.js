// Glue in an exercise: a second is a minute. Without scripts the minutes are typed.
import { onShow } from "./page.js";

onShow(() => {
  const clock = document.querySelector("[data-fast]");
  if (!clock) return;
  const field = clock.parentElement.elements.minutes;
  const since = performance.now();
  clock.hidden = false;
  field.labels[0].hidden = field.hidden = true;
  let timer = 0;
  const tick = () => {
    if (!clock.isConnected) return clearInterval(timer);
    field.value = ((performance.now() - since) / 1000).toFixed(1);
    clock.querySelector("[data-fast-shows]").textContent = Math.floor(
      field.value,
    );
  };
  // At once: a field that is hidden and empty would hold back whoever presses in the first moment.
  tick();
  timer = setInterval(tick, 100);
});
