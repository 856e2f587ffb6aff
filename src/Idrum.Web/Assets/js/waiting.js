// Acts and photos that wait for the link. Each carries its own id, so sending it again changes nothing. One that the shop
// refuses when the link is back is kept with the reason until it is dropped by hand.
import { openDB } from "idb";
import { onShow } from "./page.js";
import { draftsOf, dropDrafts } from "./drafts.js";

const database = openDB("idrum", 1, {
  upgrade(db) {
    db.createObjectStore("waiting", { keyPath: "key", autoIncrement: true });
  },
});
let list = [];
let busy = false;

const unsent = () => list.filter((act) => !act.refused);

async function read() {
  list = await (await database).getAll("waiting");
  show();
}

/** Keeps an act: its address, its fields (a photo among them) and its words. */
export async function keep(act) {
  if (act.id && list.some((known) => known.id === act.id)) return;
  await (await database).add("waiting", act);
  await read();
}

async function drop(act) {
  dropDrafts(act.drafts);
  await (await database).delete("waiting", act.key);
  await read();
}

function show() {
  const bar = document.getElementById("waiting");
  if (!bar) return;
  const count = unsent().length;
  bar.hidden = list.length === 0;
  bar.querySelector("[data-unsent]").hidden = count === 0;
  bar.querySelector("[data-count]").textContent =
    count === 1
      ? "1 act is kept here and not yet stored."
      : `${count} acts are kept here and not yet stored.`;
  bar.querySelector("[data-refused]").replaceChildren(
    ...list
      .filter((act) => act.refused)
      .map((act) => {
        const [line, words, button] = ["li", "span", "button"].map((tag) =>
          document.createElement(tag),
        );
        words.textContent = `Not stored: “${act.words}”. ${act.refused}`;
        button.textContent = "Drop it";
        button.className = "button small";
        button.addEventListener("click", () => drop(act));
        line.append(words, button);
        return line;
      }),
  );
}

function bodyOf(act) {
  const form = act.photo ? new FormData() : new URLSearchParams();
  for (const [name, value] of act.fields) form.append(name, value);
  form.append("madeAt", act.madeAt);
  form.append("sentAt", new Date().toISOString());
  return form;
}

async function send() {
  if (busy || unsent().length === 0) return;
  busy = true;
  try {
    while (unsent().length > 0) {
      const [act] = unsent();
      const answer = await fetch(act.url, {
        method: "POST",
        body: bodyOf(act),
        redirect: "manual",
        credentials: "same-origin",
      });
      if (answer.status >= 500) break;
      if (answer.status >= 400) {
        await (
          await database
        ).put("waiting", { ...act, refused: await reasonIn(answer) });
        await read();
      } else {
        await drop(act);
      }
    }
    if (unsent().length === 0) location.reload();
  } catch {
    // Still no link; tried again below.
  } finally {
    busy = false;
  }
}

/** Why an act was refused, as the page that came back says it. */
async function reasonIn(answer) {
  const told = new DOMParser().parseFromString(
    await answer.text(),
    "text/html",
  );
  const lines = told.querySelectorAll("[data-wrong] p, #page > p");
  return (
    [...lines].map((line) => line.textContent).join(" ") ||
    "The shop did not take it."
  );
}

document.addEventListener("htmx:sendError", (event) => {
  const { elt, requestConfig, xhr } = event.detail;
  if (requestConfig.verb !== "post") return;
  const fields = [...requestConfig.formData.entries()];
  const button =
    requestConfig.triggeringEvent?.submitter ?? elt.querySelector("button");
  keep({
    id: requestConfig.formData.get("id"),
    url: requestConfig.path || location.href,
    fields,
    photo: elt.enctype === "multipart/form-data",
    madeAt: new Date().toISOString(),
    words:
      elt.dataset.photo !== undefined
        ? "a photo"
        : (button?.textContent.trim() ?? "an act"),
    drafts: draftsOf(xhr),
  });
});
setInterval(send, 4000);
addEventListener("online", send);
onShow(show);
read().then(send);
