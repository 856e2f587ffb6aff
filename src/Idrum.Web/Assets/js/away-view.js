// Puts a view of the package on the page and fills in what only this device knows: counts, trays, clocks, what is kept here.
import { gauge } from "./away-gauge.js";
import { effectOf } from "./standing.js";
import { shopNow } from "./time.js";

const make = (tag, words, className) => {
  const made = document.createElement(tag);
  if (words) made.textContent = words;
  if (className) made.className = className;
  return made;
};

const hidden = (name, value) => {
  const field = make("input");
  Object.assign(field, { type: "hidden", name, value });
  return field;
};

const form = (kind, fields, url) => {
  const made = make("form");
  made.method = "post";
  made.action = url;
  made.dataset.kind = kind;
  made.append(hidden("kind", kind), ...fields.map(([n, v]) => hidden(n, v)));
  return made;
};

// The package is read once; each view is a copy of a part of it. What to do stands there first: the picture, what belongs to it and the
// sheets below are kept apart and put in once that is seen.
let open = { html: "", views: new Map(), slots: new Map(), token: null };
const later = [];
let rest = null;

function plainClock({ label, ends }) {
  const words = make("p", `${label} `, "timer");
  const clock = make("b", "", "num");
  clock.dataset.ends = ends;
  words.append(clock);
  return words;
}

/** A piece of the package with what is in braces filled in. */
function slot(name, values) {
  const known = open.slots.get(name);
  // A package of an older Idrum has none: its clocks are told in plain words.
  if (!known) return plainClock(values);
  const piece = document.importNode(known, true);
  const filled = (text) =>
    text.replace(/\{(\w+)\}/g, (_, field) => values[field] ?? "");
  for (const element of piece.querySelectorAll("*")) {
    for (const { name, value } of [...element.attributes])
      if (value.includes("{")) element.setAttribute(name, filled(value));
    for (const text of element.childNodes)
      if (text.nodeType === Node.TEXT_NODE && text.data.includes("{"))
        text.data = filled(text.data);
  }
  return piece;
}

/** Takes out of a view what is not the sentence that says what to do, and leaves its room. */
function split(view) {
  for (const picture of view.querySelectorAll("svg.machine")) {
    const room = make("div", "", "machine");
    const [, , wide, high] = picture.getAttribute("viewBox").split(" ");
    room.dataset.later = later.push(picture) - 1;
    room.dataset.shape = "";
    room.style.aspectRatio = `${wide} / ${high}`;
    picture.replaceWith(room);
  }
  for (const below of view.querySelectorAll(".more, .pic, .sheets")) {
    const apart = document.createDocumentFragment();
    apart.append(...below.childNodes);
    below.dataset.later = later.push(apart) - 1;
  }
  return view;
}

/** Puts in what was kept apart, at once. */
export function finish() {
  const act = rest;
  rest = null;
  act?.();
}

/** Changes the page without being watched for every node of it. */
const quietly = (act) => (window.Alpine ? window.Alpine.mutateDom(act) : act());

function views(html) {
  if (open.html === html) return open;
  const read = new DOMParser().parseFromString(html, "text/html");
  later.length = 0;
  open = {
    html,
    views: new Map(
      [...read.querySelectorAll("template[data-key]")].map((t) => [
        t.dataset.key,
        split(t.content),
      ]),
    ),
    slots: new Map(
      [...read.querySelectorAll("template[data-slots]")].map((t) => [
        t.dataset.slots,
        t.content,
      ]),
    ),
    token: read.getElementById("token").content.querySelector("input"),
  };
  return open;
}

export function fill(page, { job, html, pack, at, look, kept, mount }) {
  rest = null;
  const package_ = views(html);
  const viewOf = (key) => package_.views.get(key);
  const url = `/jobs/${encodeURIComponent(pack.number)}/floor`;
  const key = look ?? (at.asks.length || at.lost ? null : at.key);
  const view = document.importNode(
    (key && viewOf(key)) ?? plainView(pack, at, url),
    true,
  );
  page.dataset.job = pack.number;
  // A package of an older Idrum does not say it.
  if (pack.jobId) page.dataset.jobId = pack.jobId;
  else delete page.dataset.jobId;
  page.dataset.known = job.known;
  page.dataset.floor = "";
  delete page.dataset.away;
  const before = [...page.querySelectorAll("[x-data]")];
  quietly(() => page.replaceChildren(view));
  const floor = page.querySelector(".floor");
  if (floor) fillBar(floor, pack, at, look);
  const sheets = later[page.querySelector(".sheets")?.dataset.later];
  if (sheets) fillFields(page, at, sheets);
  clocks(page, pack, at, url);
  bears(page, pack, at, key);
  sign(page, package_.token, key, url);
  rest = () => {
    for (const gone of before) window.Alpine?.destroyTree(gone);
    for (let room; (room = page.querySelector("[data-later]"));) {
      const copy = document.importNode(later[room.dataset.later], true);
      delete room.dataset.later;
      if (room.dataset.shape) room.replaceWith(copy);
      else room.replaceChildren(copy);
    }
    if (floor) fillFloor(floor, pack, at, look, mount);
    fillFields(page, at);
    clocks(page, pack, at, url);
    bears(page, pack, at, key);
    if (!look?.startsWith("gauge")) kepts(page, pack, kept);
    trays(page, pack, at);
    coatAgain(page, pack, key, viewOf, mount);
    if (!look || look.startsWith("gauge:")) takeBack(page, pack, at, job, url);
    gauge(page, pack, job, mount);
    sign(page, package_.token, key, url);
  };
  if (look || !floor) finish();
}

/** What must bear the step first, by the times of this device's own join. */
function bears(page, pack, at, key) {
  const waits = (pack.steps[key]?.waits ?? [])
    .map((part) => at.glue[part]?.load)
    .filter((load) => load && Date.parse(load) > shopNow())
    .sort();
  const done = page.querySelector("button[form=done]");
  if (!done || waits.length === 0) return;
  const until = waits.at(-1);
  done.dataset.until = until;
  done.disabled = true;
  if (page.querySelector("[data-bears]")) return;
  const word = make(
    "p",
    "Not yet: the glue under it does not bear a load. ",
    "wrong",
  );
  word.dataset.bears = "";
  const clock = make("b", "", "num");
  clock.dataset.ends = until;
  word.append(clock);
  page.querySelector(".say")?.prepend(word);
}

/** A window that was missed: the view of the coat is shown once more. */
function coatAgain(page, pack, key, viewOf, mount) {
  const coat = key?.replace(/:join(?=~|$)/, ":coat");
  if (!coat || coat === key || !viewOf(coat)) return;
  const button = make("button", "Missed: clean and coat again", "button mt-3");
  button.type = "button";
  button.addEventListener("click", () => mount(pack.number, coat));
  page.querySelector(".glue")?.append(button);
}

/** Where forms go, and the sign that they come from here. */
function sign(page, token, key, url) {
  for (const act of page.querySelectorAll(
    "form[data-kind]:not([data-signed])",
  )) {
    act.dataset.signed = "";
    if (!act.getAttribute("action"))
      act.action =
        key?.startsWith("fit:") || key?.startsWith("fitted")
          ? url.replace(/floor$/, "fit")
          : url;
    act.append(document.importNode(token, true));
  }
}

/** How far it is. */
function fillBar(floor, pack, at, look) {
  const minutes = (keys) =>
    keys.reduce((sum, k) => sum + (pack.steps[k]?.minutes ?? 0), 0);
  const back = at.stage === "back";
  const left = back ? at.back : at.out;
  const behind = at.behind.filter((k) => k.startsWith("in:") === back);
  const done = back ? behind.length : at.done;
  const bar = floor.querySelector(".bar .where");
  if (bar)
    bar.textContent = look
      ? `${back ? "Rebuild" : "Strip"} · looking back`
      : `${back ? "Rebuild" : "Strip"} · step ${done + 1} of ${done + left.length}`;
  const soft = floor.querySelector(".bar .soft");
  if (soft) soft.textContent = `${Math.round(minutes(left))} min`;
}

function fillFloor(floor, pack, at, look, mount) {
  for (const tray of floor.querySelectorAll("[data-tray-of]"))
    if (at.trays[tray.dataset.trayOf])
      tray.textContent = at.trays[tray.dataset.trayOf];
  for (const link of floor.querySelectorAll("a[href*='look=']")) {
    const place = look ? at.behind.indexOf(look) : at.behind.length;
    const to = at.behind[place + (link.dataset.look === "later" ? 1 : -1)];
    if (!to) link.remove();
    else
      link.addEventListener("click", (event) => {
        event.preventDefault();
        mount(pack.number, to);
      });
  }
  if (look) lookBack(floor, pack, mount, at, look);
}

function lookBack(floor, pack, mount, at, look) {
  for (const part of floor.querySelectorAll(".sheets, .beside, #done, form"))
    part.remove();
  const acts = floor.querySelector(".acts");
  const place = at.behind.indexOf(look);
  const button = (words, to, go) => {
    const made = make("button", words, go ? "button go" : "button");
    made.type = "button";
    made.addEventListener("click", () => mount(pack.number, to));
    return made;
  };
  acts.replaceChildren(
    ...(place > 0 ? [button("Earlier", at.behind[place - 1])] : []),
    ...(place + 1 < at.behind.length
      ? [button("Later", at.behind[place + 1])]
      : []),
    button("To the step in work", null, true),
  );
  floor.dataset.step += "-look";
}

/** Fields of counts start at what is to be expected now; what was counted out is what must go in. */
function fillFields(page, at, apart) {
  let sum = 0;
  const back = at.stage === "back";
  for (const field of (apart ?? page).querySelectorAll("[data-count]")) {
    const group = field.name.slice("counts[".length, -1);
    const now = Math.max(
      0,
      back
        ? (at.counts[group] ?? 0)
        : Number(field.getAttribute("value")) + (at.shift[group] ?? 0),
    );
    if (!apart) field.value = field.defaultValue = now;
    sum += now;
    for (const shown of page.querySelectorAll(
      `[data-count-of="${CSS.escape(group)}"]`,
    ))
      shown.textContent = now;
  }
  const words = page.querySelector("[data-sum]");
  if (words) words.textContent = sum;
  if (apart) return;
  for (const button of page.querySelectorAll("[data-needs]")) {
    const field = button.form?.elements[button.dataset.needs];
    const says = () => field.setCustomValidity("");
    field?.addEventListener("input", says);
    button.addEventListener("click", () =>
      field?.setCustomValidity(field.value.trim() ? "" : "Say it in words."),
    );
    for (const other of button.form?.querySelectorAll(
      "button:not([data-needs])",
    ) ?? [])
      other.addEventListener("click", says);
  }
}

/** A time of day by the shop's wall: what the server would have written. */
const onTheWall = (at, page) =>
  new Date(Date.parse(at) + Number(page.dataset.offset ?? 0) * 60_000)
    .toISOString()
    .slice(11, 16);

function clocks(page, pack, at, url) {
  const part = page.querySelector("input[name=partId]")?.value;
  const glue = at.glue[part];
  if (glue) {
    for (const clock of page.querySelectorAll(".glue [data-ends]"))
      clock.dataset.ends = glue.from;
    for (const clock of page.querySelectorAll("[data-clock-of]"))
      if (glue[clock.dataset.clockOf])
        clock.textContent = onTheWall(glue[clock.dataset.clockOf], page);
    const outside = page.querySelector("[data-required-until]");
    if (outside)
      outside.required =
        Date.parse(glue.from) > shopNow() || Date.parse(glue.until) < shopNow();
  }
  const work = page.querySelector("main") ?? page;
  for (const old of page.querySelectorAll("form[data-kind=timer-stopped]"))
    old.remove();
  work.before(
    ...at.timers.map((timer) =>
      slot(`timer-${timer.id.match(/^(join|close|cure):/)?.[0] ?? ""}`, timer),
    ),
  );
}

/** Notes, photos and readings that are kept here are shown where they belong. */
function kepts(page, pack, kept) {
  const place =
    page.querySelector(".more") ??
    page.querySelector(".say") ??
    page.querySelector("main");
  const here = page.querySelector("#done input[name=operationId]")?.value;
  for (const act of kept) {
    const said = Object.fromEntries(act.fields);
    if (said.operationId && here && said.operationId !== here) continue;
    const words = effectOf(pack, said.kind).kept?.replace(
      /\{(\w+)\}/g,
      (_, field) => said[field] ?? "",
    );
    if (words) place?.append(make("p", words, "extra"));
    const file = act.fields.find(([, value]) => value instanceof Blob)?.[1];
    if (file?.type.startsWith("image/")) {
      const picture = make("img");
      picture.src = URL.createObjectURL(file);
      picture.alt = said.caption || "Photo kept here";
      picture.className = "keptphoto";
      place?.append(picture);
    }
  }
}

/** What lies in which tray, by what was counted. */
function trays(page, pack, at) {
  const full = Object.entries(at.counts).filter(([, n]) => n > 0);
  if (full.length === 0) return;
  const sheet = make("details", "", "sheetpop");
  sheet.dataset.sheet = "";
  const rows = make("div", "", "rows");
  for (const [group, n] of full.sort(([a], [b]) =>
    (at.trays[a] ?? "").localeCompare(at.trays[b] ?? ""),
  )) {
    const row = make("div", "", "row");
    const words = make("span", `${n} × ${pack.groups[group]?.kind ?? group}`);
    words.append(make("small", pack.groups[group]?.where ?? ""));
    row.append(words, make("b", at.trays[group] ?? "–", "tray"));
    rows.append(row);
  }
  sheet.append(make("summary", "Trays, counted out"), rows);
  (page.querySelector(".sheets") ?? page.querySelector("main")).append(sheet);
}

function takeBack(page, pack, at, job, url) {
  const last = job.acts.at(-1);
  if (!last || effectOf(pack, Object.fromEntries(last.fields).kind).turns)
    return;
  const back = form("undone", [["eventId", last.id]], url);
  back.className = "sheetpop py-3";
  const button = make("button", `Take back: ${last.words}`, "button");
  button.dataset.key = "z";
  back.append(button);
  (page.querySelector(".sheets") ?? page.querySelector("main")).append(back);
}

/** A question about a count, or a word that the rest needs the shop. */
function plainView(pack, at, url) {
  const view = document.createDocumentFragment();
  const floor = make("div", "", "floor");
  floor.dataset.step = at.asks.length ? `count-${at.asks[0].group}` : "lost";
  const bar = make("div", "", "bar");
  const link = make("a", "‹ Leave", "out");
  link.href = url;
  bar.append(
    link,
    make("span", at.asks.length ? "Count" : "Without the shop", "where"),
  );
  const main = make("main", "", "work");
  const say = make("div", "", "say");
  main.append(say);
  if (at.asks.length && open.slots.size) {
    const [ask] = at.asks;
    const { kind, where } = pack.groups[ask.group];
    const tray = at.trays[ask.group];
    say.append(
      slot(`odd-${ask.way}-${ask.counted > ask.wanted ? "more" : "fewer"}`, {
        ...ask,
        about: `${kind}, ${where}${tray ? `, tray ${tray}` : ""}`,
      }),
    );
  } else if (at.stage === "end") {
    say.append(
      make("h1", "Everything is back in"),
      make(
        "p",
        "What you did is kept here. Prove it with the shop's page as soon as the link is back.",
        "why",
      ),
    );
  } else {
    say.append(
      make("h1", "Wait for the link"),
      make(
        "p",
        `The rest cannot be told here: ${at.lost ?? "this job was taken along by an older Idrum"}. What you did is kept.`,
        "why",
      ),
      make(
        "p",
        "Meanwhile: note what you find, take photos, measure what lies free; leave the machine safe if you go.",
        "why",
      ),
    );
    const note = form("note-added", [["operationId", ""]], url);
    const label = make("label", "Note", "label");
    label.htmlFor = "note";
    const text = make("input");
    Object.assign(text, {
      id: "note",
      name: "text",
      type: "text",
      maxLength: 2000,
      required: true,
    });
    note.append(label, text, make("button", "Keep the note", "button mt-3"));
    say.append(note);
  }
  floor.append(bar, main, make("div", "", "sheets"));
  view.append(floor);
  return view;
}
