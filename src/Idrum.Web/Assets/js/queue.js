// Every act goes through one queue on the device, link or no link, in the order it was made: first it is kept here, then it is sent. Each
// carries its own id, so that sending it again changes nothing. What the shop refuses is kept with its reason until it is decided by hand.
import { onShow, page } from "./page.js";
import { dropDrafts, keysOf } from "./drafts.js";
import {
  askedFor,
  dropWaiting,
  forgetSent,
  jobsAlong,
  keepAct,
  keepSent,
  putWaiting,
  waiting,
} from "./store.js";
import { finish } from "./away-view.js";
import {
  advance,
  follow,
  forget,
  leave,
  lookAfter,
  mount,
  mounted,
} from "./along.js";
import { renew } from "./live.js";
import { hold, same } from "./hand.js";

// The next step is shown before the sending is tried.
const SOON = 300;
let list = [];
let busy = false;
// Acts that the page itself is sending; the queue waits for them.
const underWay = new Map();

// Acts that were answered and are on their way out of the store. Whoever goes to another page at once finds them there still: this tab
// remembers them, so that they are neither sent again nor waited for.
const ANSWERED = "idrum.answered";
const answered = new Set(JSON.parse(sessionStorage.getItem(ANSWERED) ?? "[]"));
function answeredNow(id, yes = true) {
  if (yes) answered.add(id);
  else if (!answered.delete(id)) return;
  sessionStorage.setItem(ANSWERED, JSON.stringify([...answered].slice(-40)));
}

const unsent = () =>
  list.filter((act) => !act.refused && !answered.has(act.id));
const acts = "form[data-kind]";

async function read() {
  list = await waiting();
  show();
  for (const act of list.filter(({ id }) => answered.has(id)))
    await dropWaiting(act);
}

/** An act as it is kept: where it goes, what it says, when it was made and in which run. */
function actOf(form, submitter) {
  const data = new FormData(form, submitter);
  const id = data.get("id") || crypto.randomUUID();
  const fields = [...data.entries()].filter(
    ([name]) => !["id", "knew", "run"].includes(name),
  );
  if (fields.some(([name, value]) => name === "timerId" && !value))
    fields.find(([name]) => name === "timerId")[1] = crypto.randomUUID();
  return {
    version: 2,
    id,
    job: page()?.dataset.job,
    jobId: page()?.dataset.jobId,
    url: form.getAttribute("action") || location.pathname,
    fields,
    knew: data.get("knew") || undefined,
    file: form.enctype === "multipart/form-data",
    madeAt: new Date().toISOString(),
    words:
      form.dataset.file ??
      (submitter ?? form.querySelector("button"))?.textContent.trim() ??
      "an act",
    drafts: keysOf(form),
  };
}

/** Whether an act carries a file; an older Idrum kept photos only. */
const carries = (act) => act.file ?? act.photo;

/** Keeps an act; done says that the page goes on as if it were stored. */
async function keep(act, done) {
  const job = await keepAct(act, done);
  list.push(act);
  return job;
}

async function drop(act) {
  dropDrafts(act.drafts);
  await dropWaiting(act);
  await read();
}

const line = (act) => {
  const [item, words, drop_, note] = ["li", "span", "button", "button"].map(
    (tag) => document.createElement(tag),
  );
  words.textContent = `Not stored: “${act.words}”. ${act.refused}`;
  drop_.textContent = "Drop it";
  note.textContent = "Keep it as a note";
  for (const button of [drop_, note]) button.className = "button small";
  drop_.addEventListener("click", () => drop(act));
  note.addEventListener("click", () => asNote(act));
  item.append(words, note, drop_);
  return item;
};

/** What was refused goes into the job's notes instead, what carries a file as the same without its step: what happened is not lost. The original goes only when
what stands in its place is stored. */
async function asNote(act) {
  if (list.some((other) => other.insteadOf === act.id && !other.refused))
    return;
  const { key: _, refused, knew: _knew, run: _run, ...rest } = act;
  const text = `Not taken as an act: ${act.words}. ${refused}`;
  await keep({
    ...rest,
    id: crypto.randomUUID(),
    insteadOf: act.id,
    fields: carries(act)
      ? act.fields.map(([name, value]) => [
          name,
          name === "operationId" ? "" : value,
        ])
      : [
          ["kind", "note-added"],
          ["operationId", ""],
          ["text", text],
        ],
    words: carries(act) ? `${act.words}, without its step` : "a note",
  });
  show();
  send();
}

function show() {
  const bar = document.getElementById("waiting");
  if (!bar) return;
  const count = unsent().filter((act) => !underWay.has(act.id)).length;
  const refused = list.filter((act) => act.refused);
  bar.hidden = count === 0 && refused.length === 0 && !mounted();
  const away = bar.querySelector("[data-away-word]");
  if (takenOff()) {
    bar.hidden = away.hidden = false;
    away.textContent =
      "This device was taken off the shop. What it had kept is with whoever keeps the shop; nothing of the shop is left here.";
    bar.querySelector("[data-unsent]").hidden = true;
    return;
  }
  away.hidden = count > 0 || !mounted();
  away.textContent =
    "No link to the shop: this comes from what is on this device. Nothing waits to be sent.";
  bar.querySelector("[data-unsent]").hidden = count === 0;
  bar.querySelector("[data-count]").textContent =
    (count === 1
      ? "1 act is kept here and not yet stored."
      : `${count} acts are kept here and not yet stored.`) +
    (stranger
      ? " This device is not paired any more: pair it again, and they are sent."
      : "");
  bar.querySelector("[data-refused]").replaceChildren(...refused.map(line));
}

function bodyOf(act) {
  const form = carries(act) ? new FormData() : new URLSearchParams();
  // The token of a page may be of a session that has ended: one is asked for at sending.
  for (const [name, value] of act.fields)
    if (name !== TOKEN) form.append(name, value);
  // What an older Idrum kept has these among its fields.
  if (act.version >= 2) {
    form.append("id", act.id);
    if (act.knew) form.append("knew", act.knew);
    if (act.run) form.append("run", act.run);
  }
  // Of which job it is, whatever number that has by now.
  if (act.jobId && !form.has("jobId")) form.append("jobId", act.jobId);
  form.append("madeAt", act.madeAt);
  form.append("sentAt", new Date().toISOString());
  return form;
}

const TOKEN = "__RequestVerificationToken";

// The page is older than what was sent from here.
let behind = false;

// The shop does not know this device any more: what is kept stays kept until it is paired again.
let stranger = false;

// Acts that were answered "not understood" once: asked again with a new token before they count as refused.
const doubted = new Set();

/** A token of the session as it is now; null where the shop cannot be reached or does not know this device. */
async function freshToken() {
  const answer = await fetch("/token", { cache: "no-store" });
  stranger = answer.status === 401;
  if (answer.ok) sessionStorage.removeItem(TAKEN_OFF);
  return answer.ok ? (await answer.json()).token : null;
}

// Whether the shop has taken this device off and has what it kept; until it is paired anew.
const TAKEN_OFF = "idrum.takenOff";
const takenOff = () => sessionStorage.getItem(TAKEN_OFF) !== null;

// This device was not taken off: it is not known, and pairing it anew loads the page anew.
let neverKnown = false;

// What is there already: a long queue is taken a part at a time.
const leftThere = new Set();

/** A device that was taken off the shop leaves there what it had kept, and forgets the shop. One that is only not known keeps all. */
async function leaveBehind() {
  if (neverKnown) return;
  const say = async (body) => {
    const answer = await fetch("/left", { method: "POST", body });
    neverKnown = answer.status === 401;
    return answer.ok;
  };
  // Asked first with nothing in hand: a stranger's photos are not carried there to be refused.
  if (!(await say(new URLSearchParams({ ask: "yes" })))) return;
  for (const act of list) {
    if (leftThere.has(act.id)) continue;
    const body = bodyOf(act);
    body.append("leftJob", act.job ?? "");
    body.append("leftWords", act.words);
    if (!(await say(body))) return;
    leftThere.add(act.id);
  }
  // The answer clears what this device has of the shop.
  if (!(await say(new URLSearchParams({ done: "yes" })))) return;
  list = [];
  sessionStorage.setItem(TAKEN_OFF, "yes");
  // The form of pairing was cleared of its session too.
  if (location.pathname === "/pair") location.reload();
  else show();
}

async function send() {
  if (busy || underWay.size > 0 || !navigator.onLine) return;
  busy = true;
  try {
    if (unsent().length === 0 && away() && !behind)
      // Nothing to send tells whether the link is back: it is asked for.
      behind = (await fetch("/away", { method: "HEAD" })).ok;
    const token = unsent().length > 0 ? await freshToken() : null;
    if (stranger) {
      show();
      await leaveBehind();
    }
    while (token && unsent().length > 0) {
      const [act] = unsent();
      const answer = await fetch(act.url, {
        method: "POST",
        body: bodyOf(act),
        headers: { "X-Antiforgery": token },
        redirect: "manual",
        credentials: "same-origin",
      });
      // Not now: the shop's computer has no room, the way to it is broken, or it does not know who asks. That is no word about the act.
      if (answer.status >= 500 || [401, 403, 421, 429].includes(answer.status))
        break;
      if (answer.status === 400 && !doubted.has(act.id)) {
        doubted.add(act.id);
        break;
      }
      behind = true;
      if (answer.status >= 400) {
        await putWaiting({ ...act, refused: await reasonIn(answer) });
        await forget(act);
        await read();
      } else {
        await follow(act);
        await remember(act);
        await drop(act);
        // What this stood in for is stored now in its way.
        const original = list.find((other) => other.id === act.insteadOf);
        if (original) await drop(original);
      }
    }
  } catch {
    // Still no link; tried again below.
  } finally {
    busy = false;
  }
  if (behind && unsent().length === 0)
    behind = !(away() ? leave() : renew(true));
}

/** Whether the page shows what is on this device, not what the shop knows. */
const away = () =>
  mounted() ||
  (page()?.dataset.away === "yes" && location.pathname !== "/away");

/** Keeps what was stored for a while: that it cannot be kept hinders nothing. */
const remember = (act) => keepSent(act).catch(() => {});

// The question that was answered last by this device.
const ASKED = "idrum.asked";
let answering = false;

/** A shop that came back without its last acts asks each device once for what it sent since. */
async function answerAsked() {
  const [question, since] = (page()?.dataset.ask ?? "").split(" ");
  if (!since || answering || localStorage.getItem(ASKED) === question) return;
  answering = true;
  try {
    // A device's clock may be wrong by hours; what is stored already is not stored again.
    const from = new Date(Date.parse(since) - 86_400_000).toISOString();
    const count = await askedFor(from);
    answered.clear();
    sessionStorage.removeItem(ANSWERED);
    localStorage.setItem(ASKED, question);
    if (count === 0) return;
    await read();
    send();
  } finally {
    answering = false;
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

// With a link the page sends its act itself, so that the answer is shown at once; but it is kept here before.
document.addEventListener("htmx:confirm", (event) => {
  const { elt, verb, triggeringEvent, issueRequest } = event.detail;
  if (verb !== "post" || !elt.matches?.(acts)) return;
  event.preventDefault();
  take(elt, triggeringEvent?.submitter, issueRequest);
});

// A page from the package, or one that no script of htmx has taken up yet.
document.addEventListener(
  "submit",
  (event) => {
    if (!mounted() || !event.target.matches(acts)) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    take(event.target, event.submitter);
  },
  true,
);

// Acts whose page has really begun to send them.
const started = new Set();
const STARTS = 400;
document.addEventListener("htmx:beforeSend", ({ detail }) => {
  const act = underWayOf(detail);
  if (act) started.add(act.id);
});

// One act is kept at a time, in the order they were made: a tap that falls while the disk still writes the one before waits its turn.
let turn = Promise.resolve();
let taking = 0;
const inHand = new Map();
function take(form, submitter, issue) {
  // What it says is read now: when its turn comes its form may be gone.
  const act = actOf(form, submitter);
  // A second tap on what is in hand already.
  if (inHand.has(form) && same(inHand.get(form), act)) return;
  inHand.set(form, act);
  const letGo = hold(act, mounted());
  taking += 1;
  // Until it is on its way nothing may take its form from under it.
  document.body.dataset.taking = "";
  finish();
  turn = turn
    .then(() => takeNow(act, form, issue, letGo))
    .finally(() => {
      letGo();
      taking -= 1;
      if (inHand.get(form) === act) inHand.delete(form);
      if (taking === 0) delete document.body.dataset.taking;
    });
}

async function takeNow(act, form, issue, letGo) {
  try {
    const kept = list.find(({ id }) => id === act.id && !answered.has(id));
    if (kept) {
      // The same once more is a second tap; anything else is an act of its own, after the first.
      if (same(kept, act)) return;
      act.id = crypto.randomUUID();
      const own = form.querySelector("input[name=id]");
      if (own) own.value = act.id;
    }
    // The same form again after a refusal: this is not answered yet.
    answeredNow(act.id, false);
    // A form that the act before has taken off the page is sent by the queue.
    const byPage = issue && form.isConnected && unsent().length === 0;
    if (byPage) underWay.set(act.id, act);
    const early = !byPage && advance(act, [...list, act]);
    const job = await keep(act, !byPage);
    letGo();
    document.dispatchEvent(new CustomEvent("idrum:kept", { detail: { form } }));
    if (byPage) {
      issue();
      // A form that was swapped away meanwhile is not sent by its page: the queue does it, and nothing waits for ever.
      setTimeout(() => {
        if (!underWay.has(act.id) || started.has(act.id)) return;
        underWay.delete(act.id);
        show();
        send();
      }, STARTS);
      return;
    }
    if (act.job && !early) await mount(act.job, lookAfter(act), { job, list });
    show();
    setTimeout(send, SOON);
  } catch (fault) {
    underWay.clear();
    // Nothing is called kept that is not: back to what is.
    notKept(fault);
    if (mounted()) await mount(page().dataset.job);
  }
}

function notKept(fault) {
  const word = document.getElementById("patience");
  word.textContent = `Not kept: this device has no room or does not let Idrum store (${fault.name}). Free some room, then do it again.`;
  word.hidden = false;
}

const underWayOf = (detail) =>
  detail.requestConfig?.verb === "post"
    ? underWay.get(detail.requestConfig.formData?.get("id"))
    : undefined;

document.addEventListener("htmx:afterRequest", async (event) => {
  const act = underWayOf(event.detail);
  const { xhr } = event.detail;
  if (!act || xhr.status === 0) return;
  // Stored, or refused on the page that shows why, with what was typed. From this moment it is not sent again.
  // A page of a session that has ended, or a stranger, says nothing about the act: the queue sends it with a new token.
  const done = xhr.status < 500 && ![400, 401, 403, 421].includes(xhr.status);
  if (done) answeredNow(act.id);
  underWay.delete(act.id);
  if (done) {
    if (xhr.status < 400) {
      await follow(act);
      await remember(act);
    }
    await dropWaiting(act);
  }
  await read();
});

for (const broken of ["htmx:sendError", "htmx:sendAbort", "htmx:timeout"])
  document.addEventListener(broken, async (event) => {
    const act = underWayOf(event.detail);
    if (!act) return;
    underWay.delete(act.id);
    await follow(act);
    show();
    if (act.job) await mount(act.job);
  });

setInterval(send, 4000);
addEventListener("online", send);
onShow(show);
onShow(answerAsked);
onShow(() => {
  if (page()?.dataset.removed) forgetSent(page().dataset.jobId);
});
read()
  .then(send)
  .then(async () => {
    // Whoever comes to be paired with a shop's jobs in hand was let in before.
    if (location.pathname === "/pair" && (await jobsAlong()).length > 0)
      await leaveBehind();
  })
  .catch(() => {
    // No link: whoever stays is asked again by the queue.
  });
