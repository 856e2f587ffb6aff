// After every swap the new heading has the focus, never the body; what was refused is shown first.
import { page, isFloor } from "./page.js";

let shown = location.pathname;

function settle(event) {
  const open = page();
  if (!open) return;
  const wrong = open.querySelector("[data-wrong]");
  if (wrong) {
    // Eyes are in the machine: a refusal is felt.
    if (event) navigator.vibrate?.(200);
    const field = wrong.querySelector("[data-field]")?.dataset.field;
    const named =
      field &&
      open.querySelector(`[name="${CSS.escape(field)}"][aria-invalid]`);
    (named ?? wrong).scrollIntoView({ block: "center" });
    (named ?? wrong).focus();
    return;
  }
  const heading = open.querySelector("h1");
  const moved = shown !== location.pathname;
  shown = location.pathname;
  if (
    event &&
    (moved || isFloor() || document.activeElement === document.body)
  ) {
    // The heading of what to do now is where the eye goes; the page does not stay scrolled at its end.
    if (moved || isFloor() || scrollY > innerHeight / 2) scrollTo(0, 0);
    heading?.focus({ preventScroll: true });
  }
}
document.addEventListener("htmx:afterSettle", settle);
if (!location.hash && document.activeElement === document.body)
  page()?.querySelector("h1")?.focus({ preventScroll: true });
settle();
