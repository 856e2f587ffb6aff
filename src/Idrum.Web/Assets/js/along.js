// A job taken along: its package is fetched while there is a link and shown where there is none.
import { onShow, page } from "./page.js";
import {
  jobAlong,
  jobsAlong,
  lineOf,
  packageOf,
  putAlong,
  putPackage,
  waiting,
} from "./store.js";
import { standing } from "./standing.js";
import { atShop } from "./time.js";
import { fill, finish } from "./away-view.js";
import { gaugeKey } from "./away-gauge.js";

const SETTLE = 1500;
const AGAIN = 9000;
// A stranger is given nothing to keep: the page of pairing asks for no service worker.
const registered =
  "serviceWorker" in navigator &&
  window.isSecureContext &&
  location.pathname !== "/pair"
    ? register(4)
    : Promise.resolve(null);

/** The service worker at work; null where it does not come, as when a file could not be had. */
async function register(tries) {
  try {
    const registration = await navigator.serviceWorker.register(
      `/sw.js${document.documentElement.dataset.stamp}`,
      { scope: "/" },
    );
    const coming = registration.installing;
    if (!coming) return registration;
    await new Promise((done) =>
      coming.addEventListener("statechange", () => {
        if (["activated", "redundant"].includes(coming.state)) done();
      }),
    );
    if (coming.state === "activated") return registration;
  } catch {
    // Tried again below.
  }
  if (tries <= 1) return null;
  await new Promise((done) => setTimeout(done, 3000));
  return register(tries - 1);
}

let shown = null;
// The job that is shown from its package: so that the next step is there at the tap, before the disk has answered.
let current = null;
let timer = 0;

/** Whether a view of the package is shown. */
export const mounted = () => shown !== null;

/** Notes that an act was done. */
export async function follow(act) {
  const job = await jobAlong(act.job);
  if (!job || job.acts.some((a) => a.id === act.id)) return;
  job.acts.push(lineOf(act));
  await putAlong(job);
}

/** Notes that an act was refused: the job stands as if it had not been done. */
export async function forget(act) {
  const job = await jobAlong(act.job);
  if (!job) return;
  job.acts = job.acts.filter((a) => a.id !== act.id);
  await putAlong(job);
}

/** Shows where the job stands, from what is on this device. */
export async function mount(number, look = null, known = {}) {
  const job = known.job ?? (await jobAlong(number));
  const package_ = job && (await packageOf(job));
  if (!package_) return false;
  current = { job, package_, list: known.list ?? (await waiting()) };
  // What an older package does not hold is not shown from it.
  draw(look?.startsWith("gauge") && !holds(look) ? null : look);
  return true;
}

const holds = (key) => current.package_.html.includes(`data-key="${key}"`);

/** The view an act leaves him in: who measures goes on measuring. */
export const lookAfter = (act) => {
  const fields = Object.fromEntries(act.fields);
  const back = current?.job.acts.find((a) => a.id === fields.eventId);
  const said = back ? Object.fromEntries(back.fields) : fields;
  return said.kind === "gauge-read" ? gaugeKey("/gauge", said) : null;
};

/** Shows the job with one more act, at once; false where it is not shown from its package. */
export function advance(act, list) {
  if (!mounted() || current?.job.number !== act.job) return false;
  const job = { ...current.job, acts: [...current.job.acts, lineOf(act)] };
  current = { ...current, job, list };
  const look = lookAfter(act);
  draw(look && holds(look) ? look : null);
  return true;
}

function draw(look) {
  const { job, package_, list } = current;
  const { pack, html } = package_;
  // Clocks run by the shop's time, whatever this device's own says.
  const acts = job.acts.map((act) => ({
    ...act,
    madeAt: act.madeAt && atShop(act.madeAt),
  }));
  const at = standing(pack, acts);
  shown = job.number;
  const kept = list.filter((a) => a.job === job.number && !a.refused);
  fill(page(), { job, html, pack, at, look, kept, mount });
  document.dispatchEvent(new CustomEvent("htmx:afterSwap", { detail: {} }));
  requestAnimationFrame(() =>
    setTimeout(() => {
      finish();
      document.dispatchEvent(
        new CustomEvent("htmx:afterSettle", { detail: {} }),
      );
    }),
  );
}

// When a link was taken last: a page that is on its way is not called back.
const ON_THE_WAY = 5000;
let went = -ON_THE_WAY;
document.addEventListener("click", ({ target }) => {
  if (target.closest?.("a[href]")) went = performance.now();
});

/** The shop's own page again, unless a hand is on the package's or another page is on its way; says whether it comes. What was typed and left comes again by
itself. */
export function leave() {
  if (performance.now() - went < ON_THE_WAY) return false;
  const field = document.activeElement;
  const busy =
    (field?.matches("input[type=text], textarea") && field.value) ||
    document.querySelector("details[data-sheet][open]");
  if (mounted() && busy) return false;
  location.reload();
  return true;
}

async function take() {
  const { job: number, version, known, along } = page()?.dataset ?? {};
  if (along !== "yes" || mounted()) return;
  // Without a service worker a reload would lose the page: nothing is promised then.
  if (!(await registered) || mounted()) return;
  const have = await jobAlong(number);
  if (have) {
    if (have.known !== known) await putAlong({ ...have, known });
    const pack = (await packageOf(have))?.pack;
    const fresh = pack && pack.version + have.acts.length === Number(version);
    if (fresh && pack.format === 3 && !standing(pack, have.acts).lost) return;
  }
  const answer = await fetch(
    `/jobs/${encodeURIComponent(number)}/package`,
  ).catch(() => null);
  if (!answer?.ok) {
    // The shop was busy, or the link went: asked once more while the page stands.
    clearTimeout(timer);
    if (!answer || answer.status >= 500) timer = setTimeout(take, AGAIN);
    return;
  }
  const html = await answer.text();
  const read = new DOMParser().parseFromString(html, "text/html");
  const pack = JSON.parse(read.getElementById("order").textContent);
  const unsent = (await waiting()).filter(
    (a) => a.job === number && !a.refused,
  );
  const job = {
    number,
    title: pack.title,
    place: pack.place,
    tag: pack.tag,
    known: pack.known,
    run: crypto.randomUUID(),
    acts: unsent.map(lineOf),
    takenAt: new Date().toISOString(),
  };
  await putPackage(job, { pack, html });
  for (const file of read.querySelectorAll("img[src*='/files/']"))
    fetch(file.getAttribute("src")).catch(() => {});
  document.dispatchEvent(
    new CustomEvent("idrum:along", { detail: { number } }),
  );
}

onShow(() => {
  if (mounted()) return;
  clearTimeout(timer);
  timer = setTimeout(take, SETTLE);
});

// The page that stands in for one that could not be had.
onShow(async () => {
  if (page()?.dataset.away !== "yes" || mounted()) return;
  const number = location.pathname.match(/^\/jobs\/([^/]+)/)?.[1];
  const look = gaugeKey(location.pathname + location.search);
  if (number && (await mount(decodeURIComponent(number), look))) return;
  page()
    .querySelector("[data-jobs]")
    ?.replaceChildren(
      ...(await jobsAlong()).map(({ number, title, place }) => {
        const row = document.createElement("a");
        row.className = "row choose";
        row.href = `/jobs/${encodeURIComponent(number)}/floor`;
        row.textContent = `${number} · ${title} · ${place}`;
        return row;
      }),
    );
  page()
    .querySelector("[data-again]")
    ?.addEventListener("click", () => location.reload());
});

// With the link gone, a page that is asked for shows the package instead.
document.addEventListener("htmx:sendError", async (event) => {
  const { requestConfig } = event.detail;
  const number = requestConfig?.path?.match(/^\/jobs\/([^/?]+)\//)?.[1];
  if (requestConfig?.verb === "get" && number)
    await mount(decodeURIComponent(number), gaugeKey(requestConfig.path));
});
