// What lives and dies on the screen: keys, timers, drafts, acts that wait for the link, the screen kept awake.
// No rule of the job stands here.

const page = () => document.getElementById("page");

// --- light -----------------------------------------------------------------
document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-light-switch]");
  if (!button) return;
  const dark = matchMedia("(prefers-color-scheme: dark)").matches;
  const now =
    document.documentElement.dataset.light ?? (dark ? "cellar" : "day");
  const next = now === "day" ? "cellar" : "day";
  document.documentElement.dataset.light = next;
  localStorage.setItem("idrum.light", next);
});

// --- drafts: nothing typed is lost by a reload, Back or a dropped link -------
const draftKeyOf = (kind, name) =>
  `idrum.draft:${location.pathname}:${kind}:${name}`;
const draftKey = (field) =>
  draftKeyOf(field.form?.dataset.kind ?? "", field.name);
const isDraft = (field) =>
  field.form?.dataset.kind &&
  field.name &&
  field.matches("textarea, input[type=text], input[type=number]");

document.addEventListener("input", (event) => {
  if (isDraft(event.target))
    sessionStorage.setItem(draftKey(event.target), event.target.value);
});

function restoreDrafts() {
  for (const field of page()?.querySelectorAll(
    "form[data-kind] textarea, form[data-kind] input",
  ) ?? []) {
    if (!isDraft(field)) continue;
    const kept = sessionStorage.getItem(draftKey(field));
    if (kept !== null && field.value === field.defaultValue) field.value = kept;
  }
}

// The keys are taken when the form is sent: when the answer is there, the form is gone and the address may be another.
const draftsSent = new WeakMap();
document.addEventListener("htmx:beforeRequest", (event) => {
  const { elt, requestConfig, xhr } = event.detail;
  if (requestConfig.verb !== "post") return;
  draftsSent.set(
    xhr,
    [...requestConfig.formData.keys()].map((name) =>
      draftKeyOf(elt.dataset.kind ?? "", name),
    ),
  );
});

function dropDrafts(keys = []) {
  for (const key of keys) sessionStorage.removeItem(key);
}

// --- acts that wait for the link ---------------------------------------------
// Each act carries its own id, so sending it again changes nothing. One that the shop refuses when the link is back is
// kept with the reason until it is dropped by hand.
const waiting = {
  read: () => JSON.parse(localStorage.getItem("idrum.waiting") ?? "[]"),
  write(list) {
    localStorage.setItem("idrum.waiting", JSON.stringify(list));
    this.show();
  },
  unsent() {
    return this.read().filter((act) => !act.refused);
  },
  add(act) {
    const list = this.read();
    if (!list.some((known) => known.body === act.body))
      this.write([...list, act]);
  },
  drop(body) {
    const list = this.read();
    dropDrafts(list.find((act) => act.body === body)?.drafts);
    this.write(list.filter((act) => act.body !== body));
  },
  show() {
    const bar = document.getElementById("waiting");
    if (!bar) return;
    const list = this.read();
    const count = this.unsent().length;
    bar.hidden = list.length === 0 && !this.photo;
    bar.querySelector("[data-photo]").hidden = !this.photo;
    bar.querySelector("[data-unsent]").hidden = count === 0;
    bar.querySelector("[data-count]").textContent =
      count === 1
        ? "1 act is kept here and not yet stored."
        : `${count} acts are kept here and not yet stored.`;
    bar.querySelector("[data-refused]").replaceChildren(
      ...list
        .filter((act) => act.refused)
        .map((act) => {
          const [line, words, drop] = ["li", "span", "button"].map((tag) =>
            document.createElement(tag),
          );
          words.textContent = `Not stored: “${act.words}”. ${act.refused}`;
          drop.textContent = "Drop it";
          drop.className = "button small";
          drop.addEventListener("click", () => this.drop(act.body));
          line.append(words, drop);
          return line;
        }),
    );
  },
  photo: false,
  busy: false,
  async send() {
    if (this.busy || this.unsent().length === 0) return;
    this.busy = true;
    try {
      while (this.unsent().length > 0) {
        const [act] = this.unsent();
        const answer = await fetch(act.url, {
          method: "POST",
          body: new URLSearchParams(act.body),
          redirect: "manual",
          credentials: "same-origin",
        });
        if (answer.status >= 500) break;
        if (answer.status >= 400) {
          const refused = await reasonIn(answer);
          this.write(
            this.read().map((known) =>
              known.body === act.body ? { ...known, refused } : known,
            ),
          );
        } else {
          this.drop(act.body);
        }
      }
      // A photo that is chosen but not sent would be lost by a reload.
      if (this.unsent().length === 0 && !this.photo) location.reload();
    } catch {
      // Still no link; tried again below.
    } finally {
      this.busy = false;
    }
  },
};

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
  if (elt.enctype === "multipart/form-data") {
    waiting.photo = true;
    waiting.show();
    return;
  }
  const body = new URLSearchParams();
  for (const [name, value] of requestConfig.formData.entries())
    body.append(name, value);
  const button =
    requestConfig.triggeringEvent?.submitter ?? elt.querySelector("button");
  waiting.add({
    url: requestConfig.path || location.href,
    body: body.toString(),
    words: button?.textContent.trim() ?? "an act",
    drafts: draftsSent.get(xhr),
  });
});
setInterval(() => waiting.send(), 4000);
addEventListener("online", () => waiting.send());

// --- after each answer ---------------------------------------------------------
let shownPath = location.pathname;
document.addEventListener("htmx:afterRequest", (event) => {
  const { requestConfig, xhr } = event.detail;
  if (requestConfig.verb === "post" && xhr.status >= 200 && xhr.status < 400)
    dropDrafts(draftsSent.get(xhr));
  waiting.photo &&= xhr.status === 0;
});
document.addEventListener("htmx:afterSettle", () => {
  restoreDrafts();
  waiting.show();
  const wrong = page()?.querySelector("[data-wrong]");
  if (wrong) {
    wrong.scrollIntoView({ block: "center" });
    wrong.focus();
  } else if (
    shownPath !== location.pathname ||
    page()?.dataset.floor !== undefined
  ) {
    scrollTo(0, 0);
    page()?.querySelector("h1")?.focus({ preventScroll: true });
  }
  shownPath = location.pathname;
});

// --- the screen does not sleep in floor mode -------------------------------------
let lock = null;
async function keepAwake() {
  const wanted =
    page()?.dataset.floor !== undefined &&
    document.visibilityState === "visible";
  try {
    if (wanted && !lock) {
      lock = await navigator.wakeLock?.request("screen");
      lock?.addEventListener("release", () => (lock = null));
    } else if (!wanted && lock) {
      await lock.release();
    }
  } catch {
    // Refused (battery, no secure address): the phone's own setting rules.
  }
}
document.addEventListener("visibilitychange", keepAwake);
document.addEventListener("htmx:afterSettle", keepAwake);

// --- single keys ---------------------------------------------------------------
// A control says its key in data-key; keys are off while something is typed.
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const typing = event.target.matches(
    "input:not([type=checkbox]):not([type=radio]), textarea, select",
  );
  if (event.key === "Escape") {
    if (typing) event.target.blur();
    for (const open of document.querySelectorAll("details[data-sheet][open]"))
      open.open = false;
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
  if (control.matches("details")) {
    control.scrollIntoView({ block: "start" });
    control.open = true;
    control
      .querySelector("input:not([type=hidden]), textarea, select")
      ?.focus();
  } else if (
    control.matches("input[type=text], input[type=search], textarea")
  ) {
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
  sheet.open = true;
  sheet.scrollIntoView({ block: "start" });
  sheet
    .querySelector("input:not([type=hidden]), select, button")
    ?.focus({ preventScroll: true });
});

// --- counts that differ show at once on the button that records them --------------
document.addEventListener("input", (event) => {
  const sum = page()?.querySelector("[data-sum]");
  if (!sum || !event.target.matches("[data-count]")) return;
  sum.textContent = [...page().querySelectorAll("[data-count]")].reduce(
    (total, field) => total + (Number(field.value) || 0),
    0,
  );
});

// --- clocks -----------------------------------------------------------------------
function clocks() {
  for (const clock of document.querySelectorAll("[data-ends]")) {
    const left = Math.round(
      (Date.parse(clock.dataset.ends) - Date.now()) / 1000,
    );
    const [a, s] = [Math.abs(left), left < 0];
    const [h, m] = [Math.floor(a / 3600), Math.floor(a / 60) % 60];
    clock.textContent =
      (s ? "over by " : "") +
      (h ? `${h} h ${m} min` : `${m}:${String(a % 60).padStart(2, "0")}`);
    clock.closest("[data-timer]")?.classList.toggle("rings", s);
  }
}
setInterval(clocks, 1000);
document.addEventListener("htmx:afterSettle", clocks);

// --- small things of single screens -------------------------------------------------
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

restoreDrafts();
waiting.show();
waiting.send();
keepAwake();
clocks();
