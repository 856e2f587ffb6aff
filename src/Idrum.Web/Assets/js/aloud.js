// A step read aloud by the device's own voice, so that both hands stay in the machine: by button and key, again as
// often as wanted, and each new step by itself where that is ticked.
import { page } from "./page.js";

const EACH = "idrum.read-each";
const voice = () => window.speechSynthesis;

/** What the step says: the thing to do, why, what comes out or goes in, what to look at. */
const sentence = () =>
  [...(page()?.querySelectorAll(".floor [data-say]") ?? [])]
    .filter((part) => part.checkVisibility())
    .map((part) =>
      part.innerText
        .replace(/\s*×\s*/g, " ")
        .replace(/\s+/g, " ")
        .trim(),
    )
    .filter(Boolean)
    .map((words) => (/[.!?]$/.test(words) ? words : `${words}.`))
    .join(" ");

function read() {
  voice().cancel();
  const said = new SpeechSynthesisUtterance(sentence());
  said.lang = document.documentElement.lang || "en";
  voice().speak(said);
}

let step = null;
function look() {
  const floor = document.querySelector(".floor[data-step]");
  const here = voice() && floor?.querySelector("[data-read]");
  if (here) here.hidden = false;
  const each = floor?.querySelector("[data-read-each]");
  if (each && voice()) {
    each.closest("[data-reads]").hidden = false;
    each.checked = localStorage.getItem(EACH) === "yes";
  }
  const now = floor?.dataset.step ?? null;
  // Nothing is said on a page that is only opened: a voice begins by a tap.
  if (here && step !== null && now !== step && each?.checked) read();
  else if (now !== step) voice()?.cancel();
  step = now;
}

document.addEventListener("click", (event) => {
  if (voice() && event.target.closest("[data-read]")) read();
});
document.addEventListener("change", (event) => {
  if (!event.target.matches("[data-read-each]")) return;
  localStorage.setItem(EACH, event.target.checked ? "yes" : "no");
  if (event.target.checked) read();
  else voice().cancel();
});
document.addEventListener("htmx:afterSwap", look);
look();
