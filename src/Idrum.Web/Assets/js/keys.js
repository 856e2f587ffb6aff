// Single keys. A control says its key in data-key; keys are off while something is typed.
import { page } from "./page.js";
import { pausing } from "./gloves.js";

function open(sheet) {
  sheet.open = true;
  sheet.scrollIntoView({ block: "start" });
}

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const typing = event.target.matches(
    "input:not([type=checkbox]):not([type=radio]):not([type=file]), textarea, select",
  );
  if (event.key === "Escape") {
    if (typing) event.target.blur();
    for (const sheet of document.querySelectorAll("details[data-sheet][open]"))
      sheet.open = false;
    return;
  }
  if (typing) return;
  const onControl = event.target.matches("a, button, summary, input");
  if (event.key === "Enter" && onControl) return;
  const control = [...(page()?.querySelectorAll("[data-key]") ?? [])].find(
    (c) => c.dataset.key === event.key,
  );
  if (!control) return;
  event.preventDefault();
  if (pausing() && (event.key === "Enter" || event.repeat)) return;
  const sheet = control.closest("details[data-sheet]");
  if (sheet) open(sheet);
  if (control.matches("details")) {
    control
      .querySelector("input:not([type=hidden]), textarea, select")
      ?.focus();
  } else if (control.matches("input[type=text], textarea")) {
    control.focus();
  } else {
    control.click();
  }
});

document.addEventListener("click", (event) => {
  const opener = event.target.closest("[data-opens]");
  if (!opener) return;
  event.preventDefault();
  const sheet = document.getElementById(opener.dataset.opens);
  open(sheet);
  sheet
    .querySelector("input:not([type=hidden]), select, button")
    ?.focus({ preventScroll: true });
});

// A row of a list opens by a tap anywhere on it.
document.addEventListener("click", (event) => {
  const row = event.target.closest("[data-opens-row]");
  if (row && !event.target.closest("a, button")) row.querySelector("a").click();
});
