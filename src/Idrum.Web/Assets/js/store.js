// What this device keeps: acts that wait, and jobs taken along with the run of acts done since. The shapes have versions: a newer Idrum
// takes what an older one left here.
import { openDB } from "idb";
import { leftInHand, same } from "./hand.js";

const store = openDB("idrum", 3, {
  upgrade(db, from) {
    if (from < 1)
      db.createObjectStore("waiting", { keyPath: "key", autoIncrement: true });
    if (from < 2) {
      db.createObjectStore("along", { keyPath: "number" });
      db.createObjectStore("packages", { keyPath: "number" });
    }
    if (from < 3) {
      db.createObjectStore("sent", { keyPath: "id" });
      db.createObjectStore("pieces", { keyPath: ["run", "n"] });
    }
  },
  // A page of an older Idrum that is still open holds the store as it was.
  blocked() {
    const word = document.getElementById("patience");
    if (!word) return;
    word.textContent =
      "Idrum was updated. Close its other pages on this device: until then nothing can be kept here.";
    word.hidden = false;
  },
  // This page is the older one: it lets go and shows itself anew; what was typed is a draft.
  blocking(_now, _next, event) {
    event.target.close();
    location.reload();
  },
});
// Whatever is read of it is read with what was in the hand when the page before went.
const database = store.then(async (opened) => {
  await takeUp(opened).catch(() => {});
  return opened;
});
database.then(() => {
  const word = document.getElementById("patience");
  if (word?.textContent.startsWith("Idrum was updated.")) word.hidden = true;
});

export const waiting = async () => (await database).getAll("waiting");
export const putWaiting = async (act) => (await database).put("waiting", act);

/** The run of this device, for acts of jobs that were not taken along. */
function ownRun() {
  const run = localStorage.getItem("idrum.run") ?? crypto.randomUUID();
  localStorage.setItem("idrum.run", run);
  return run;
}

/** Keeps what a page that is gone held and had not kept. */
async function takeUp(opened) {
  for (const { key, act, done } of leftInHand()) {
    const held = await opened.getAll("waiting");
    const twin = held.find(({ id }) => id === act.id);
    // Another act of the same form has an id of its own, as at the tap.
    if (twin && !same(twin, act)) act.id = crypto.randomUUID();
    if (!twin || !same(twin, act)) await keepIn(opened, act, done);
    localStorage.removeItem(key);
  }
}

/** Keeps a new act, and with it that it was done in the run of its job; all of it or nothing. */
export const keepAct = async (act, done) => keepIn(await database, act, done);

async function keepIn(opened, act, done) {
  const change = opened.transaction(["waiting", "along"], "readwrite");
  const job = act.job && (await change.objectStore("along").get(act.job));
  if (job) {
    act.run ??= job.run;
    act.knew ??= job.known;
    if (done && !job.acts.some(({ id }) => id === act.id)) {
      job.acts.push(lineOf(act));
      change.objectStore("along").put(job);
    }
  }
  // What was done here before is known here, though the page is older than that.
  act.run ??= ownRun();
  act.key = await change.objectStore("waiting").add(act);
  await change.done;
  return job;
}

/** What is noted of an act in the run of its job. */
export const lineOf = ({ id, fields, madeAt, words }) => ({
  id,
  fields,
  madeAt,
  words,
});

export const dropWaiting = async (act) =>
  (await database).delete("waiting", act.key);

// A recording that is being made, a piece every few seconds: what is there when the browser is closed is not lost.
export const keepPiece = async (piece) => (await database).put("pieces", piece);

/** Pieces of recordings of a job that were not finished, by run, each in order. */
export async function piecesOf(job) {
  const runs = new Map();
  for (const piece of await (await database).getAll("pieces"))
    if (piece.job === job)
      runs.set(piece.run, [...(runs.get(piece.run) ?? []), piece]);
  return runs;
}

export const dropPieces = async (run) =>
  (await database).delete("pieces", IDBKeyRange.bound([run, -1], [run, 1e9]));

// What was sent is kept a while: a shop that lost it asks for it.
const KEPT_DAYS = 30;
const MOST_SENT = 600;
const MOST_BYTES = 60 << 20;

const bytesOf = (act) =>
  act.fields.reduce((sum, [, value]) => sum + (value?.size ?? 200), 0);

/** Keeps an act that the shop has stored; the oldest make room. */
export async function keepSent({ key: _, refused: _refused, ...act }) {
  const change = (await database).transaction("sent", "readwrite");
  const sent = change.objectStore("sent");
  await sent.put({ ...act, sentAt: new Date().toISOString() });
  // To look at all of them is work: once in ten is enough.
  if (Math.random() > 0.1) return change.done;
  const all = (await sent.getAll()).sort((a, b) =>
    b.sentAt.localeCompare(a.sentAt),
  );
  const oldest = new Date(Date.now() - KEPT_DAYS * 86_400_000).toISOString();
  let room = MOST_BYTES;
  all.forEach((one, n) => {
    const size = bytesOf(one);
    // Half an hour of sound does not push out a month of steps.
    const kept =
      n < MOST_SENT &&
      size <= Math.min(room, MOST_BYTES / 4) &&
      one.sentAt >= oldest;
    if (kept) room -= size;
    else sent.delete(one.id);
  });
  await change.done;
}

/** Forgets what was sent of a job: its customer asked for it. */
export async function forgetSent(jobId) {
  const change = (await database).transaction("sent", "readwrite");
  const sent = change.objectStore("sent");
  for (const act of await sent.getAll())
    if (act.jobId === jobId) sent.delete(act.id);
  await change.done;
}

/** Puts what was sent since a moment among what waits again, in the order it was made. */
export async function askedFor(since) {
  const change = (await database).transaction(["sent", "waiting"], "readwrite");
  const held = new Set(
    (await change.objectStore("waiting").getAll()).map(({ id }) => id),
  );
  const again = (await change.objectStore("sent").getAll())
    .filter((act) => act.sentAt >= since && !held.has(act.id))
    .sort((a, b) => a.madeAt.localeCompare(b.madeAt));
  for (const { sentAt: _, ...act } of again)
    await change.objectStore("waiting").add(act);
  await change.done;
  return again.length;
}

/** Runs of acts of the jobs taken along; small, read and written with every act. */
export const jobsAlong = async () => (await database).getAll("along");
export const jobAlong = async (number) =>
  number ? (await database).get("along", number) : undefined;
export const putAlong = async (job) => (await database).put("along", job);

// The packages themselves are large and stay in memory once they were read.
const packages = new Map();

/** Keeps a job with its package. */
export async function putPackage(job, package_) {
  const change = (await database).transaction(
    ["along", "packages"],
    "readwrite",
  );
  await Promise.all([
    change.objectStore("along").put(job),
    change
      .objectStore("packages")
      .put({ number: job.number, run: job.run, ...package_ }),
    change.done,
  ]);
  packages.delete(job.number);
}

/** The package of a job taken along. */
export async function packageOf(job) {
  const known = packages.get(job.number);
  if (known?.run === job.run) return known;
  const read = await (await database).get("packages", job.number);
  if (read) packages.set(job.number, read);
  return read;
}
