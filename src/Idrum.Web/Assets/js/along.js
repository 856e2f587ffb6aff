// A job taken along: its package is fetched while there is a link and shown where there is none.
import { onShow, page } from "./page.js";
import { jobAlong, jobsAlong, putAlong, waiting } from "./store.js";
import { standing } from "./standing.js";
import { fill } from "./away-view.js";

const SETTLE = 1500;
let shown = null;
let timer = 0;

/** Whether a view of the package is shown. */
export const mounted = () => shown !== null;

/** The run a new act of this job belongs to, and the last act of the shop it knows. */
export async function runOf(number) {
  const job = await jobAlong(number);
  return job && { run: job.run, known: job.known };
}

/** Notes that an act was done. */
export async function follow(act) {
  const job = await jobAlong(act.job);
  if (!job || job.acts.some((a) => a.id === act.id)) return;
  job.acts.push({
    id: act.id,
    fields: act.fields,
    madeAt: act.madeAt,
    words: act.words,
  });
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
export async function mount(number, look = null) {
  const job = await jobAlong(number);
  if (!job) return false;
  const pack = job.pack;
  const at = standing(pack, job.acts);
  shown = number;
  const kept = (await waiting()).filter((a) => a.job === number && !a.refused);
  fill(page(), { job, pack, at, look, kept, mount });
  document.dispatchEvent(new CustomEvent("htmx:afterSwap", { detail: {} }));
  document.dispatchEvent(new CustomEvent("htmx:afterSettle", { detail: {} }));
  window.htmx?.process(page());
  return true;
}

/** The link is back and everything is sent: the shop's own page again, unless something is being typed. */
export function leave() {
  if (!mounted() && page()?.dataset.away !== "yes") return location.reload();
  const field = document.activeElement;
  if (field?.matches("input[type=text], textarea") && field.value) return;
  location.reload();
}

async function take() {
  const { job: number, version, known, along } = page()?.dataset ?? {};
  if (along !== "yes" || mounted() || !("indexedDB" in window)) return;
  const have = await jobAlong(number);
  if (have) {
    if (have.known !== known) await putAlong({ ...have, known });
    const at = standing(have.pack, have.acts);
    const fresh = have.pack.version + have.acts.length === Number(version);
    if (fresh && !at.lost && have.pack.format === 1) return;
  }
  const answer = await fetch(
    `/jobs/${encodeURIComponent(number)}/package`,
  ).catch(() => null);
  if (!answer?.ok) return;
  const html = await answer.text();
  const read = new DOMParser().parseFromString(html, "text/html");
  const pack = JSON.parse(read.getElementById("order").textContent);
  const unsent = (await waiting()).filter(
    (a) => a.job === number && !a.refused,
  );
  await putAlong({
    number,
    pack,
    html,
    known: pack.known,
    run: crypto.randomUUID(),
    acts: unsent.map(({ id, fields, madeAt, words }) => ({
      id,
      fields,
      madeAt,
      words,
    })),
    takenAt: new Date().toISOString(),
  });
  for (const photo of read.querySelectorAll("img[src*='/photos/']"))
    fetch(photo.getAttribute("src")).catch(() => {});
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
  if (number && (await mount(decodeURIComponent(number)))) return;
  page()
    .querySelector("[data-jobs]")
    ?.replaceChildren(
      ...(await jobsAlong()).map(({ number, pack }) => {
        const row = document.createElement("a");
        row.className = "row choose";
        row.href = `/jobs/${encodeURIComponent(number)}/floor`;
        row.textContent = `${number} · ${pack.title} · ${pack.place}`;
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
    await mount(decodeURIComponent(number));
});

if ("serviceWorker" in navigator && window.isSecureContext)
  navigator.serviceWorker
    .register(`/sw.js${document.documentElement.dataset.stamp}`, { scope: "/" })
    .catch(() => {});
