// An act stored by another device shows here within two seconds; what is being typed is not taken away.
import { onShow, page } from "./page.js";
import { mounted } from "./along.js";

let source = null;
let following = "";

function typing() {
  const field = document.activeElement;
  return (
    field?.matches("input[type=text], input[type=number], textarea") ||
    document.querySelector("details[data-sheet][open]") ||
    [
      ...(page()?.querySelectorAll(
        "form[data-kind] input, form[data-kind] textarea",
      ) ?? []),
    ].some((f) =>
      f.type === "checkbox" || f.type === "radio"
        ? f.checked !== f.defaultChecked
        : f.type !== "hidden" && f.value !== f.defaultValue,
    )
  );
}

function told(version) {
  if (mounted() || !page()?.dataset.version) return;
  if (Number(version) <= Number(page().dataset.version)) return;
  if (!renew()) setTimeout(told, 400, version);
}

// A word that is being typed at this moment is not taken from under the fingers.
const STILL = 3000;
let typed = -STILL;
document.addEventListener("input", () => (typed = performance.now()));

/** The page as the shop has it now. It takes the place of what stands here without leaving: whoever is on the way to another page gets there. What another did
does not take away what is typed: a word says so. What was done here does, for its own form is full of it; what else was typed comes again by itself. False
while another answer or an act is under way, or a key was just struck. */
export function renew(own = false) {
  if (
    document.querySelector(".htmx-request") ||
    "taking" in document.body.dataset ||
    (own && performance.now() - typed < STILL)
  )
    return false;
  if (!own && typing()) {
    const word = document.getElementById("meanwhile");
    word.querySelector("a").href = location.href;
    word.hidden = false;
    return true;
  }
  window.htmx.ajax("GET", location.pathname + location.search, {
    target: "#page",
    select: "#page",
    swap: "outerHTML",
  });
  return true;
}

function stop() {
  source?.close();
  source = null;
  following = "";
}

function look() {
  const number = page()?.dataset.job ?? "";
  document.getElementById("meanwhile").hidden = true;
  if (document.hidden || mounted() || !number) return stop();
  if (following === number) return;
  stop();
  following = number;
  source = new EventSource(`/jobs/${encodeURIComponent(number)}/live`);
  source.addEventListener("message", (event) => told(event.data));
}

onShow(look);
document.addEventListener("visibilitychange", look);
// A browser opens few lines to one address; a page that is left gives its own back.
addEventListener("pagehide", stop);
