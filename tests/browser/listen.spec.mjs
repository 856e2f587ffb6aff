// Listening: a rhythm tapped on the pad, a beat matched, a recording of the noise bench through the microphone, and
// what Find makes of it.
import { chromium, expect, test } from "@playwright/test";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { inTime } from "../../src/Idrum.Web/Assets/js/lost.js";
import config from "./playwright.config.mjs";
import { sharedServer } from "./server.mjs";
import { clean, desktop, phone, quick, watch } from "./steps.mjs";

let server;
test.beforeEach(async ({ page }) => {
  server = await sharedServer();
  await quick(page);
});

const rate = async (mechanism, layout) => {
  const answer = await fetch(`${server.url}/api/v1/layouts/${layout}/rates`);
  const { sources } = await answer.json();
  return sources.find((s) => s.mechanism === mechanism).hz;
};

test("phone: a thump is tapped, its rate and part stand there, and it is taken back", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(phone);
  const job = await server.own("J-0150");
  const hz = await rate("drum", "ostrel-ot50");
  await page.goto(`${server.url}/jobs/${job}/listen`);
  await page.getByLabel("Thump").check();
  await expect(
    page.getByRole("button", { name: "Keep the rhythm" }),
  ).toBeDisabled();
  // The finger is a stand-in with a clock of its own: twelve beats, one of them missed.
  await page.evaluate((gap) => {
    const pad = document.querySelector("[data-pad]");
    for (let beat = 0; beat < 13; beat++) {
      if (beat === 6) continue;
      const down = new PointerEvent("pointerdown", { bubbles: true });
      Object.defineProperty(down, "timeStamp", { value: 500 + beat * gap });
      pad.dispatchEvent(down);
    }
  }, 1000 / hz);
  await expect(page.locator("[data-tapped]")).toHaveText("12");
  await page.getByRole("button", { name: "Keep the rhythm" }).click();
  await expect(page.locator(".heardnow")).toContainText(hz.toFixed(2));
  await expect(page.locator(".heardnow")).toContainText(/drum/i);
  await clean(page);
  await page.getByRole("link", { name: "Go on with Find" }).click();
  await expect(
    page
      .getByText(`Thump, ${hz.toFixed(2)} a second`, { exact: false })
      .first(),
  ).toBeAttached();
  await page.goto(`${server.url}/jobs/${job}/listen`);
  await page.locator("summary", { hasText: "Ledger" }).click();
  await page.getByRole("button", { name: /Take back: thump/ }).click();
  await expect(page.locator(".heardnow")).toHaveCount(0);
  expect(wrong).toEqual([]);
});

test("space taps, too few are not kept, and a beat is nudged until it goes along", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(desktop);
  const job = await server.own("J-0150");
  const hz = await rate("idler", "ostrel-ot50");
  await page.goto(`${server.url}/jobs/${job}/listen`);
  await page.locator("h1").focus();
  for (let k = 0; k < 4; k++) await page.keyboard.press("Space");
  await expect(page.locator("[data-tapped]")).toHaveText("4");
  await page.getByRole("button", { name: "Start again" }).click();
  await expect(page.locator("[data-tapped]")).toHaveText("0");
  await page.locator("summary", { hasText: "Match the beat" }).click();
  const beat = page.getByLabel("Beats a second");
  await beat.fill("many");
  await page.getByRole("button", { name: "It goes along: keep" }).click();
  await expect(
    page.getByText("A number is needed here.").first(),
  ).toBeVisible();
  await beat.fill((hz * 0.97).toFixed(2));
  await page.getByRole("button", { name: "Start the beat" }).click();
  for (let k = 0; k < 3; k++)
    await page.getByRole("button", { name: "Quicker", exact: true }).click();
  await expect(page.locator(".rates .live")).toHaveAttribute(
    "visibility",
    "visible",
  );
  await page.getByRole("button", { name: "Stop the beat" }).click();
  await page.getByRole("button", { name: "It goes along: keep" }).click();
  await expect(page.locator(".heardnow")).toContainText(/idler/i);
  await expect(page.locator(".rates .named")).toHaveCount(1);
  await clean(page);
  expect(wrong).toEqual([]);
});

test("what a busy device loses is silence at its own time, what is only late is not", () => {
  const rate = 1000;
  let [now, n] = [5, 0];
  const all = [];
  const chunks = [];
  for (let k = 0; k < 80; k++) {
    // Half a second is lost before the thirtieth, a tenth before the sixtieth.
    if (k === 30) [now, n] = [now + 0.5, n + 500];
    if (k === 60) [now, n] = [now + 0.1, n + 100];
    now += 0.1;
    const samples = Float32Array.from({ length: 100 }, () => ++n);
    // Every seventh message is late by up to 0.4 s.
    const late = k % 7 === 3 ? ((k * 37) % 40) / 100 : 0.004;
    chunks.push({ samples, at: now + late });
    all.push(...samples);
  }
  const { samples, lost } = inTime(chunks, rate);
  expect(lost).toBeCloseTo(0.6, 1);
  expect([...samples].filter((s) => s > 0)).toEqual(all);
  // Each stands within two hundredths of a second of its own time; a piece that was late just before a loss may stand after it.
  const off = [...samples].map((s, at) => (s > 0 ? Math.abs(s - 1 - at) : 0));
  expect(off.filter((o) => o >= 20).length).toBeLessThanOrEqual(100);
  expect(Math.max(...off)).toBeLessThanOrEqual(101);
  expect(inTime([], rate).samples).toHaveLength(0);
});

const noise = async (order) => {
  const made = await fetch(`${server.url}/api/v1/noise-bench`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ layoutId: "ostrel-ot50", ...order }),
  });
  expect(made.status).toBe(200);
  return Buffer.from(await made.arrayBuffer());
};

/** Sounds of the noise bench one after the other, as one file of half the rate. */
function joined(files) {
  const pieces = files.map((file) => {
    const whole = new Int16Array(file.length / 2 - 22);
    whole.forEach((_, i) => (whole[i] = file.readInt16LE(44 + 2 * i)));
    // Two samples into one: 32 kHz to 16.
    return Int16Array.from({ length: whole.length >> 1 }, (_, i) =>
      Math.round((whole[2 * i] + whole[2 * i + 1]) / 2),
    );
  });
  const count = pieces.reduce((sum, piece) => sum + piece.length, 0);
  const head = Buffer.from(files[0].subarray(0, 44));
  head.writeUInt32LE(36 + 2 * count, 4);
  head.writeUInt32LE(16_000, 24);
  head.writeUInt32LE(32_000, 28);
  head.writeUInt32LE(2 * count, 40);
  return Buffer.concat([
    head,
    ...pieces.map((piece) => Buffer.from(piece.buffer)),
  ]);
}

test("phone: what comes only when warm is found in a long recording, with the minute it began, and Find is told", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(phone);
  const still = await noise({ seconds: 60, seed: 21 });
  const dry = await noise({
    faults: ["roller-dry"],
    seconds: 60,
    seed: 21,
    backgroundDb: 3,
  });
  const job = await server.own("J-0150");
  await page.goto(`${server.url}/jobs/${job}/listen`);
  await page.getByLabel("Chirp").check();
  await page.locator("summary", { hasText: "Record it" }).click();
  await page.locator("#sr-file").setInputFiles({
    name: "warm.wav",
    mimeType: "audio/wav",
    buffer: joined([still, still, still, still, dry, dry, dry]),
  });
  await expect(page.locator(".heardnow")).toContainText(/roller/i);
  await expect(page.locator(".heardnow")).toContainText(
    "In 7 minutes: from minute 4 on",
  );
  await expect(page.locator("svg.course .bar.hot")).toHaveCount(6);
  await expect(page.locator("svg.course .bar:not(.hot)")).toHaveCount(8);
  await clean(page);
  await page
    .getByRole("button", { name: "Tell Find: it squeals when warm" })
    .click();
  await expect(page).toHaveURL(/\/find$/);
  const told = await (
    await fetch(`${server.url}/api/v1/jobs/${job}/export`)
  ).json();
  expect(told.events.at(-1)).toMatchObject({
    findingId: "squeal-warm",
    outcome: "yes",
  });
  // Five minutes of the seven are kept, from one before it began.
  const sound = told.events.findLast((e) => e.kind === "sound-recorded");
  expect(sound.heard.course).toMatchObject({ beginsAt: 240, keptFrom: 120 });
  await page.goto(`${server.url}/jobs/${job}/listen`);
  await expect(
    page.getByRole("button", { name: /Tell Find: it squeals/ }),
  ).toHaveCount(0);
  expect(wrong).toEqual([]);
});

test("phone: noises are marked in the waveform over two pieces, one is taken off, and the rhythm names the part", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(phone);
  const job = await server.own("J-0150");
  await page.goto(`${server.url}/jobs/${job}/listen`);
  await page.getByLabel("Thump").check();
  await page.locator("summary", { hasText: "Record it" }).click();
  // The four spots are a plan of the machine: the next one waits to be recorded.
  await page.getByLabel("Door left").first().check();
  await page.locator("#sr-file").setInputFiles({
    name: "lip.wav",
    mimeType: "audio/wav",
    buffer: await noise({ faults: ["drum-lip"], seconds: 30, seed: 4 }),
  });
  await expect(page.locator(".heardnow")).toContainText(/drum/i);
  await expect(page.getByLabel("Door left").first()).not.toBeChecked();
  await expect(page.locator(".spots .cabinet :checked")).toHaveCount(1);
  const hz = await rate("drum", "ostrel-ot50");
  await page.getByRole("link", { name: "Mark the noises" }).click();
  await page.getByRole("link", { name: "More of it: 8 s" }).click();
  await expect(page.locator("[data-marks]")).toHaveAttribute("data-to", "8");
  const mark = async (at) => {
    const box = page.locator("[data-marks]");
    const from = Number(await box.getAttribute("data-from"));
    const picture = box.locator("svg");
    await picture.scrollIntoViewIfNeeded();
    const { x, y, width, height } = await picture.boundingBox();
    await page.mouse.click(
      x + (width * (4 + (352 * (at - from)) / 8)) / 360,
      y + height / 3,
    );
  };
  const marks = page.locator("[data-marked]");
  for (let n = 0; n < 5; n++) await mark(0.6 + n / hz);
  await mark(2.5);
  await expect(marks).toHaveText("6 marks");
  await mark(2.5);
  await expect(marks).toHaveText("5 marks");
  await expect(
    page.getByRole("button", { name: "Keep the marks" }),
  ).toBeDisabled();
  await page.getByRole("link", { name: "Later", exact: true }).click();
  await expect(page.locator("[data-marks]")).toHaveAttribute("data-from", "8");
  await expect(marks).toHaveText("5 marks");
  for (let n = 6; n < 11; n++) await mark(0.6 + n / hz);
  await expect(marks).toHaveText("10 marks");
  await clean(page);
  await page.getByRole("button", { name: "Keep the marks" }).click();
  await expect(page.locator(".heardnow")).toContainText(
    "Marked in the waveform",
  );
  await expect(page.locator(".heardnow")).toContainText(/drum/i);
  expect(wrong).toEqual([]);
});

test("the noise bench is recorded through the microphone, and Find hears of it", async () => {
  const made = await fetch(`${server.url}/api/v1/noise-bench`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({
      layoutId: "ostrel-ot50",
      faults: ["roller-flat"],
      seconds: 12,
      seed: 5,
      backgroundDb: 6,
    }),
  });
  const file = join(mkdtempSync(join(tmpdir(), "idrum-sound-")), "noise.wav");
  writeFileSync(file, Buffer.from(await made.arrayBuffer()));
  const { launchOptions } = config.use;
  const browser = await chromium.launch({
    ...launchOptions,
    args: [
      ...launchOptions.args,
      "--use-fake-ui-for-media-stream",
      "--use-fake-device-for-media-stream",
      `--use-file-for-fake-audio-capture=${file}`,
    ],
  });
  const context = await browser.newContext({
    viewport: phone,
    permissions: ["microphone"],
  });
  const page = await context.newPage();
  const wrong = watch(page);
  await quick(page);
  const job = await server.own("J-0150");
  await page.goto(`${server.url}/jobs/${job}/listen`);
  await page.getByLabel("Thump").check();
  await page.locator("summary", { hasText: "Record it" }).click();
  // A machine that is busy loses sound, is told so, and records again.
  for (let n = 0; n < 5; n++) {
    await page.getByRole("button", { name: "Record", exact: true }).click();
    await expect(page.locator("[data-seconds]")).toHaveText("11 s");
    await page.getByRole("button", { name: "Stop and keep" }).click();
    await expect(page.locator(".heardnow")).toBeVisible();
    await expect(page.locator("[data-seconds]")).toHaveText("0 s");
    if (/roller/.test(await page.locator(".heardnow").innerText())) break;
  }
  // One that never keeps up says so each time, or hears too little: then the same noise comes as a file.
  if (!/roller/.test(await page.locator(".heardnow").innerText()))
    await page.locator("#sr-file").setInputFiles(file);
  await expect(page.locator(".heardnow")).toContainText(/roller/);
  await expect(
    page.getByText(/each turn of the roller/).first(),
  ).toBeAttached();
  await clean(page);
  await page.locator("summary", { hasText: "Ledger" }).click();
  await page.getByRole("button", { name: "Play", exact: true }).first().click();
  await expect(
    page.getByRole("button", { name: "Stop", exact: true }),
  ).toBeVisible();
  // A line goes along in the picture.
  await expect(page.locator("[data-cursor]")).toHaveAttribute(
    "transform",
    /^translate\([1-9]/,
  );
  // Tapped to the recording at a quarter of its speed, the rate is that of the noise.
  await page.locator("summary", { hasText: "Tap along" }).click();
  await page.getByRole("button", { name: "A quarter" }).click();
  await expect(
    page.locator(".slowly").getByRole("button", { name: "Stop" }),
  ).toBeVisible();
  await page.evaluate(() => {
    const pad = document.querySelector("[data-pad]");
    for (let beat = 0; beat < 12; beat++) {
      const down = new PointerEvent("pointerdown", { bubbles: true });
      Object.defineProperty(down, "timeStamp", { value: 500 + beat * 640 });
      pad.dispatchEvent(down);
    }
  });
  await page.getByRole("button", { name: "Keep the rhythm" }).click();
  await expect(page.locator(".heardnow")).toContainText("6.25");
  await page.locator("summary", { hasText: "Ledger" }).click();
  const back = page.getByRole("button", { name: /Take back: thump/ });
  await back.click();
  await expect(back).toHaveCount(0);
  await page.goto(`${server.url}/jobs/${job}/find`);
  await expect(
    page.getByText(/Recorded: one of the .* rollers/).first(),
  ).toBeAttached();
  // What is no sound is said in the form, and nothing is stored.
  await page.goto(`${server.url}/jobs/${job}/listen`);
  await page.locator("#sr-file").setInputFiles({
    name: "x.wav",
    mimeType: "audio/wav",
    buffer: Buffer.from("this is no sound"),
  });
  await expect(page.getByText("This is no WAV file.").first()).toBeVisible();
  expect(wrong.filter((w) => !w.includes("422"))).toEqual([]);
  await browser.close();
});

test("phone: a note is spoken at its step, one without a link too, and both are in the report", async () => {
  const { launchOptions } = config.use;
  const browser = await chromium.launch({
    ...launchOptions,
    args: [
      ...launchOptions.args,
      "--use-fake-ui-for-media-stream",
      "--use-fake-device-for-media-stream",
    ],
  });
  const context = await browser.newContext({
    viewport: phone,
    permissions: ["microphone"],
  });
  const page = await context.newPage();
  const wrong = watch(page);
  await quick(page);
  const job = await server.own("J-0148");
  await page.goto(`${server.url}/jobs/${job}/floor`);
  const more = page.locator("summary", { hasText: "Note, reading" });
  const speak = page.getByRole("button", { name: "Speak a note" });
  await more.click();
  await speak.click();
  await expect(page.locator("#more [data-seconds]")).toHaveText("2 s");
  await clean(page);
  await page.getByRole("button", { name: "Stop and keep" }).click();
  const spoken = page.locator(".spoken");
  await expect(spoken).toHaveCount(1);
  await expect(spoken).toHaveText(/^Spoken note, [2-9] s/);
  await expect(page.locator("h1")).toBeVisible();
  // In the cellar it waits on the phone.
  await more.click();
  await speak.click();
  await expect(page.locator("#more [data-seconds]")).toHaveText("1 s");
  await context.setOffline(true);
  await page.getByRole("button", { name: "Stop and keep" }).click();
  await expect(page.locator("#waiting")).toContainText("1 act is kept here");
  await context.setOffline(false);
  await expect(page.locator("#waiting")).toBeHidden();
  await expect(spoken).toHaveCount(2);
  await page.goto(`${server.url}/jobs/${job}/report`);
  await expect(page.getByText(/^Spoken note, \d s at /)).toHaveCount(2);
  await page
    .getByRole("button", { name: "Play the spoken note" })
    .first()
    .click();
  await expect(
    page.getByRole("button", { name: "Stop the spoken note" }),
  ).toBeVisible();
  expect(
    wrong.filter((w) => !/ERR_INTERNET|Failed to fetch|htmx:/.test(w)),
  ).toEqual([]);
  await browser.close();
});

test("phone: a recording that the browser was closed in is offered when it is opened again", async () => {
  const { launchOptions } = config.use;
  const browser = await chromium.launch({
    ...launchOptions,
    args: [
      ...launchOptions.args,
      "--use-fake-ui-for-media-stream",
      "--use-fake-device-for-media-stream",
    ],
  });
  const context = await browser.newContext({
    viewport: phone,
    permissions: ["microphone"],
  });
  const job = await server.own("J-0150");
  const address = `${server.url}/jobs/${job}/listen`;
  const begin = async () => {
    const page = await context.newPage();
    await quick(page);
    await page.goto(address);
    return page;
  };
  const page = await begin();
  await page.getByLabel("Double knock").check();
  await page.locator("summary", { hasText: "Record it" }).click();
  await page.getByLabel("Rear right").first().check();
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(page.locator("[data-seconds]").first()).toHaveText("7 s");
  await page.close({ runBeforeUnload: false });
  const again = await begin();
  const offer = again.locator("[data-broken-off]");
  await expect(offer).toContainText(
    /A recording of [5-9] s was broken off here/,
  );
  await clean(again);
  await offer.getByRole("button", { name: "Keep it" }).click();
  await expect(again.locator(".heardnow")).toBeVisible();
  const { events } = await (
    await fetch(`${server.url}/api/v1/jobs/${job}/export`)
  ).json();
  const kept = events.filter((e) => e.kind === "sound-recorded").at(-1);
  expect([kept.sound, kept.spot]).toEqual(["double", "rear-right"]);
  await expect(offer).toHaveCount(0);
  await again.reload();
  await expect(again.locator("h1")).toBeVisible();
  await expect(offer).toHaveCount(0);
  await browser.close();
});

test("the phone is laid on the cabinet: refused, without a sensor, felt, out as a table, and a bad file is said", async ({
  page,
}) => {
  await page.setViewportSize(phone);
  const wrong = watch(page);
  await quick(page);
  const job = await server.own("J-0146");
  const series = await (
    await fetch(`${server.url}/api/v1/noise-bench`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({
        layoutId: "ostrel-ot50",
        faults: ["roller-flat"],
        seconds: 34,
        seed: 3,
        backgroundDb: 6,
        kind: "motion",
      }),
    })
  ).json();
  await page.goto(`${server.url}/jobs/${job}/listen`);
  await page.locator("summary", { hasText: "Feel it" }).click();
  const feel = page.getByRole("button", { name: "Feel it" });
  const said = page.locator("[data-feel-wrong]");
  await feel.click();
  await expect(said).toContainText("does not let the page feel");
  await clean(page);
  await page.context().grantPermissions(["accelerometer", "gyroscope"]);
  await feel.click();
  await expect(said).toContainText("no sensor");
  await feel.click();
  await expect(
    page.getByRole("button", { name: "Stop and keep" }),
  ).toBeVisible();
  await page.evaluate((felt) => {
    felt.seconds.forEach((s, k) => {
      const moved = new DeviceMotionEvent("devicemotion", {
        accelerationIncludingGravity: {
          x: felt.x[k],
          y: felt.y[k],
          z: felt.z[k],
        },
      });
      Object.defineProperty(moved, "timeStamp", { value: 1000 + 1000 * s });
      window.dispatchEvent(moved);
    });
  }, series);
  await expect(page.locator(".heardnow")).toContainText("Felt");
  await expect(page.locator(".heardnow")).toContainText(/roller/);
  await clean(page);
  await page.locator("summary", { hasText: "Ledger" }).click();
  const table = await page
    .getByRole("link", { name: "Its readings as a table" })
    .getAttribute("href");
  const lines = (await (await fetch(server.url + table)).text())
    .trim()
    .split("\r\n");
  expect(lines[0]).toBe("seconds,x,y,z");
  expect(lines.length).toBeGreaterThan(1500);
  // The same table is a file that is taken; what is none says why.
  const choose = (name, text) =>
    page.locator("#fe-file").setInputFiles({
      name,
      mimeType: "text/csv",
      buffer: Buffer.from(text),
    });
  await page.locator("summary", { hasText: "Feel it" }).click();
  await choose("felt.csv", "seconds,x,y\n0,1,2\n");
  await expect(
    page.locator("[data-feel] .field-wrong", { hasText: "four numbers" }),
  ).toBeVisible();
  await choose("large.csv", "0,1,2,3\n".repeat(600_000));
  await expect(page.locator("[data-too-large]")).toContainText(
    "4.0 MB is the most",
  );
  await choose("felt.csv", lines.join("\n"));
  await expect(page.locator(".heardnow")).toContainText(/roller/);
  await page.goto(`${server.url}/jobs/${job}/find`);
  await expect(page.getByText(/^Felt: /).first()).toBeAttached();
  expect(wrong.filter((w) => !/422/.test(w))).toEqual([]);
});

test("phone: by hand, belt on and belt off, is recorded as a pair and told to Find", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(phone);
  const job = await server.own("J-0147");
  await page.goto(`${server.url}/jobs/${job}/listen`);
  const record = async (belt) => {
    await page.getByLabel("Chirp").check();
    const way = page.locator("details[data-way=record]");
    if ((await way.getAttribute("open")) === null)
      await way.locator("summary").click();
    await page.getByLabel("Drum turned by hand, supply off").check();
    await page.getByLabel("By hand: the belt was").selectOption(belt);
    await page.locator("#sr-file").setInputFiles({
      name: "hand.wav",
      mimeType: "audio/wav",
      buffer: await noise({
        layoutId: "quenby-qd62",
        faults: ["idler-dry"],
        seed: 4,
        mainsHz: 60,
        byHand: true,
        beltOff: belt === "off",
        seconds: 12,
        backgroundDb: 10,
      }),
    });
  };
  await record("on");
  await expect(page.locator("[data-pair]")).toContainText("now slip the belt");
  await record("off");
  await expect(page.locator("[data-pair]")).toContainText(
    "Gone with the belt off",
  );
  await page.getByRole("button", { name: /Tell Find: silent/ }).click();
  await expect(page).toHaveURL(/\/find$/);
  const { events } = await (
    await fetch(`${server.url}/api/v1/jobs/${job}/export`)
  ).json();
  expect(events.at(-1)).toMatchObject({
    findingId: "hand-belt-off",
    outcome: "silent",
  });
  expect(wrong).toEqual([]);
});

test("Prove sets the noise after the repair beside that before it, and plays both", async ({
  page,
}) => {
  const wrong = watch(page);
  const job = await server.own("J-0150");
  const { jobId } = await (
    await fetch(`${server.url}/api/v1/jobs/${job}/export`)
  ).json();
  const before = new FormData();
  before.append(
    "act",
    JSON.stringify({
      kind: "sound-recorded",
      id: crypto.randomUUID(),
      at: "2026-01-05T08:00:00Z",
      soundId: "",
      sound: "thump",
      spot: "",
      byHand: false,
    }),
  );
  before.append(
    "file",
    new Blob([
      await noise({ faults: ["roller-flat"], seed: 5, backgroundDb: 6 }),
    ]),
    "before.wav",
  );
  const sent = await fetch(`${server.url}/api/v1/jobs/${jobId}/events`, {
    method: "POST",
    body: before,
  });
  expect(sent.status).toBe(201);
  await page.goto(`${server.url}/jobs/${job}/listen`);
  await page
    .locator("summary", { hasText: "Record it" })
    .click()
    .catch(() => {});
  await page.locator("#sr-file").setInputFiles({
    name: "after.wav",
    mimeType: "audio/wav",
    buffer: await noise({ seconds: 10, seed: 6 }),
  });
  await expect(page.locator(".heardnow")).toContainText("No part comes round");
  await page.goto(`${server.url}/jobs/${job}/prove`);
  await expect(page.getByText(/^Gone: /)).toContainText(/roller/);
  for (const when of ["before", "after"])
    await expect(
      page.getByRole("button", { name: `Play: ${when}` }),
    ).toBeVisible();
  await page.getByRole("button", { name: "Play: before" }).click();
  await expect(
    page.getByRole("button", { name: "Stop: before" }),
  ).toBeVisible();
  expect(wrong).toEqual([]);
});

test("phone: a recording without a link waits on the phone and is heard when it is sent", async ({
  page,
}) => {
  await page.setViewportSize(phone);
  const job = await server.own("J-0147");
  const buffer = await noise({
    layoutId: "quenby-qd62",
    faults: ["roller-flat"],
    seed: 5,
    backgroundDb: 6,
  });
  const sounds = async () =>
    (
      await (await fetch(`${server.url}/api/v1/jobs/${job}/export`)).json()
    ).events.filter((e) => e.kind === "sound-recorded");
  await page.goto(`${server.url}/jobs/${job}/listen`);
  await page.getByLabel("Thump").check();
  await page.locator("summary", { hasText: "Record it" }).click();
  await page.context().setOffline(true);
  await page
    .locator("#sr-file")
    .setInputFiles({ name: "cellar.wav", mimeType: "audio/wav", buffer });
  await expect(page.locator("#waiting [data-count]")).toContainText("1 act");
  expect(await sounds()).toHaveLength(0);
  await page.context().setOffline(false);
  await expect.poll(async () => (await sounds()).length).toBe(1);
  expect((await sounds())[0].heard.sources[0].mechanism).toBe("roller");
});
