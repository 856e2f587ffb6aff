// "?": what this screen is for, its keys, and what the parts of its machine are, in front of the screen.
import { page } from "./page.js";

/** What an element says, without the key that stands on it. */
const said = (element) => {
  const copy = element?.cloneNode(true);
  copy?.querySelectorAll("kbd").forEach((key) => key.remove());
  return copy?.textContent;
};

const words = (control) =>
  (
    control.getAttribute("aria-label") ||
    said(control.querySelector("summary")) ||
    said(control.labels?.[0] ?? control) ||
    ""
  )
    .replace(/\s+/g, " ")
    .trim()
    .slice(0, 60);

const keysOf = () => {
  const keys = new Map();
  for (const control of page()?.querySelectorAll("[data-key]") ?? [])
    if (control.dataset.key && control.offsetParent !== null && words(control))
      keys.set(control.dataset.key, words(control));
  return keys;
};

async function help() {
  if (document.querySelector("dialog.help")) return;
  const keys = keysOf();
  const dialog = document.createElement("dialog");
  dialog.className = "help";
  dialog.setAttribute("aria-label", "Help");
  const close = document.createElement("button");
  close.type = "button";
  close.className = "button small";
  close.textContent = "Close";
  close.addEventListener("click", () => dialog.close());
  dialog.addEventListener("close", () => dialog.remove());
  const told = document.createElement("div");
  told.textContent = "…";
  dialog.append(told, close);
  document.body.append(dialog);
  dialog.showModal();
  try {
    const answer = await fetch(
      `/help?of=${encodeURIComponent(location.pathname)}`,
    );
    const got = new DOMParser()
      .parseFromString(await answer.text(), "text/html")
      .querySelector("[data-help]");
    if (!answer.ok || !got) throw new Error();
    told.replaceChildren(...got.childNodes);
  } catch {
    told.textContent = "Without a link there are only the keys.";
    told.append(
      Object.assign(document.createElement("div"), { id: "help-keys" }),
    );
  }
  const place = told.querySelector("[data-keys], #help-keys");
  if (place && keys.size > 0) {
    const list = document.createElement("dl");
    list.className = "terms keys";
    for (const [key, does] of keys) {
      const name = document.createElement("dt");
      name.textContent = key;
      const what = document.createElement("dd");
      what.textContent = does;
      list.append(name, what);
    }
    const title = document.createElement("h2");
    title.textContent = "Keys";
    place.append(title, list);
  }
  dialog.scrollTop = 0;
}

document.addEventListener("keydown", (event) => {
  if (event.key !== "?" || event.ctrlKey || event.metaKey || event.altKey)
    return;
  if (event.target.matches("input, textarea, select")) return;
  event.preventDefault();
  help();
});
document.addEventListener("click", (event) => {
  if (event.target.closest("[data-help-button]")) help();
});
