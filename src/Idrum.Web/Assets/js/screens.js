// Small things of single screens.
import { page, onShow } from "./page.js";

// Counts that differ show at once on the button that records them.
document.addEventListener("input", (event) => {
  const sum = page()?.querySelector("[data-sum]");
  if (!sum || !event.target.matches("[data-count]")) return;
  sum.textContent = [...page().querySelectorAll("[data-count]")].reduce(
    (total, field) => total + (Number(field.value) || 0),
    0,
  );
});

// On a phone the one next thing comes first and the rest is folded, but for what was refused or just asked there.
onShow(() => {
  if (!matchMedia("(max-width: 860px)").matches) return;
  for (const fold of document.querySelectorAll("details[data-fold]"))
    fold.open =
      fold.querySelector(
        ".field-wrong:not([hidden]), [aria-invalid=true], [data-answers]",
      ) !== null;
});

addEventListener("beforeprint", () => {
  for (const fold of document.querySelectorAll("details[data-fold]"))
    fold.open = true;
});

document.addEventListener("alpine:init", () => {
  Alpine.data("counter", () => ({
    add(event) {
      const field = event.currentTarget.parentElement.querySelector("input");
      const step = Number(event.currentTarget.dataset.step);
      field.value = Math.max(0, Math.min(99, Number(field.value || 0) + step));
      field.dispatchEvent(new Event("input", { bubbles: true }));
    },
  }));
  Alpine.data("filter", () => ({
    run(event) {
      const words = event.target.value.trim().toLowerCase();
      for (const row of this.$root.querySelectorAll("[data-row]")) {
        row.hidden = !row.textContent.toLowerCase().includes(words);
      }
      for (const list of this.$root.querySelectorAll("details"))
        list.open = words !== "";
    },
  }));
});
