// Gloves tap twice. After a step has changed, taps and keys that record are not taken for 0.7 s.
// (The tests of whole jobs shorten the pause on their own device; it is tested with the real one.)
const PAUSE = Number(localStorage.getItem("idrum.pause") ?? 700);
let step = null;
let until = 0;

function look() {
  const now = document.querySelector("[data-step].floor")?.dataset.step ?? null;
  // From the floor to the next page too: where the step was tapped, another button may come to stand.
  if (step !== null && now !== step) {
    until = performance.now() + PAUSE;
    document.body.dataset.pausing = "";
    setTimeout(() => delete document.body.dataset.pausing, PAUSE);
  }
  step = now;
}
// At the swap itself: the next step must not be there for a moment without the pause.
document.addEventListener("htmx:afterSwap", look);
look();

export const pausing = () => performance.now() < until;

document.addEventListener(
  "click",
  (event) => {
    if (pausing() && event.target.closest(".acts, form[data-kind] button")) {
      event.preventDefault();
      event.stopImmediatePropagation();
    }
  },
  true,
);
