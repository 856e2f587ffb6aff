// The golden shop of a release: node packaging/golden.mjs VERSION, with that version published in .build/app. Its demo shop with a layout of
// its own, a job on it, a photo, a recording and a spoken note, backed up by itself; and what it said of its jobs.
import { execFileSync, spawn } from "node:child_process";
import { randomUUID } from "node:crypto";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

const [version] = process.argv.slice(2);
const app = ".build/app/Idrum.Web.dll";
const golden = (name) => join("tests/golden", name);
const data = mkdtempSync(join(tmpdir(), "idrum-golden-"));
const server = spawn(
  "dotnet",
  [app, "--demo", "--years", "0", "--port", "0", "--data", data],
  { stdio: ["ignore", "pipe", "inherit"] },
);
const url = await new Promise((resolve) => {
  let said = "";
  server.stdout.on("data", (chunk) => {
    said += chunk;
    const ready = said.match(/ready at (http:\/\/[^/]+)\//);
    if (ready) resolve(ready[1]);
  });
});

let cookie = "";
async function get(path) {
  const answer = await fetch(url + path, { headers: { cookie } });
  const set = answer.headers.getSetCookie().map((c) => c.split(";")[0]);
  if (set.length > 0) cookie = set.join("; ");
  if (!answer.ok) throw new Error(`${path}: ${answer.status}`);
  return answer;
}

/** Sends a form of a page as the page itself would. */
async function post(page, fields, action = page) {
  const html = await (await get(page)).text();
  const token = html.match(
    /name="__RequestVerificationToken"[^>]*value="([^"]+)"/,
  )[1];
  const form = new FormData();
  const hash = html.match(/name="hash" value="([^"]+)"/)?.[1];
  for (const [name, value] of Object.entries({
    ...fields,
    ...(hash && { hash }),
    __RequestVerificationToken: token,
  }))
    form.append(name, value, ...(value instanceof Blob ? ["file"] : []));
  const answer = await fetch(url + action, {
    method: "POST",
    body: form,
    headers: { cookie },
    redirect: "manual",
  });
  if (answer.status !== 303) {
    const told = (await answer.text()).match(
      /class="(field-)?wrong"[^]*?<\/p>/,
    );
    throw new Error(`${action} ${fields.kind}: ${answer.status} ${told?.[0]}`);
  }
}

const list = async () => (await get("/api/v1/jobs")).json();
// The demo's jobs are worked after the start.
for (let known = -1; known !== (await list()).length;) {
  known = (await list()).length;
  await new Promise((done) => setTimeout(done, 3000));
}

await post("/machines/new", {
  from: "marlune-mg61",
  title: "Of the fire station",
  id: "fire-station",
});
await post("/machines/fire-station/edit", {
  act: "facts",
  "fact.door-opening": "round",
});
const own = randomUUID();
const opened = await fetch(`${url}/api/v1/jobs/${own}/events`, {
  method: "POST",
  headers: { "Content-Type": "application/json" },
  body: JSON.stringify({
    kind: "opened",
    id: randomUUID(),
    at: new Date().toISOString(),
    number: "J-0900",
    machine: { layoutId: "fire-station", place: "Fire station" },
  }),
});
if (!opened.ok) throw new Error(await opened.text());

const { photos } = JSON.parse(readFileSync(golden("job-1.json"), "utf8"));
const jpeg = new Blob([Buffer.from(photos[0].jpeg, "base64")], {
  type: "image/jpeg",
});
async function noise(seed) {
  const answer = await fetch(`${url}/api/v1/noise-bench`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({
      layoutId: "quenby-qd62",
      faults: ["idler-seized"],
      seconds: 3,
      seed,
      kind: "sound",
    }),
  });
  if (!answer.ok) throw new Error(await answer.text());
  return new Blob([await answer.arrayBuffer()], { type: "audio/wav" });
}
const act = (kind) => ({ kind, id: randomUUID() });
await post("/jobs/J-0148/photos", {
  ...act("photo-added"),
  operationId: "",
  caption: "The tag",
  photo: jpeg,
});
await post("/jobs/J-0150/photos", {
  ...act("note-spoken"),
  operationId: "",
  recording: await noise(7),
});
await post("/jobs/J-0150/listen", {
  ...act("sound-recorded"),
  sound: "chirp",
  spot: "door-left",
  lostSeconds: "0",
  recording: await noise(8),
});

const facts = [];
for (const { number, station, stepsOut } of (await list()).sort((a, b) =>
  a.number.localeCompare(b.number),
)) {
  const file = await (await get(`/api/v1/jobs/${number}/export`)).json();
  facts.push({
    number,
    station,
    stepsOut,
    acts: file.events.length,
    lastHash: file.chain.hashes.at(-1),
    attachments: file.attachments?.length ?? 0,
  });
}
server.kill("SIGTERM");
await new Promise((done) => server.on("exit", done));
const file = golden(`shop-${version}.idrum`);
rmSync(file, { force: true });
execFileSync("dotnet", [app, "backup", file, "--data", data], {
  stdio: "inherit",
});
writeFileSync(
  golden(`shop-${version}.json`),
  `${JSON.stringify({ layouts: ["fire-station"], jobs: facts }, null, 2)}\n`,
);
rmSync(data, { recursive: true });
console.log(`${file}: ${facts.length} jobs, one layout of its own`);
