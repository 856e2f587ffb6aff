// Takes one current picture of each main view from the demo data into docs/screenshots.
import { mkdirSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { chromium } from "@playwright/test";
import config from "./playwright.config.mjs";
import { startServer } from "./server.mjs";
import { desktop, phone } from "./steps.mjs";

const out = fileURLToPath(new URL("../../docs/screenshots/", import.meta.url));
const shots = [
  ["bench", "/", desktop],
  ["find", "/jobs/J-0147/find", desktop],
  ["strip", "/jobs/J-0148/strip", desktop],
  ["fit", "/jobs/J-0144/fit", desktop],
  ["parts", "/jobs/J-0148/parts", desktop],
  ["log", "/log/says", desktop],
  ["estimate", "/jobs/J-0153/estimate", desktop],
  ["listen", "/jobs/J-0151/listen", desktop],
  ["prove", "/jobs/J-0150/prove", desktop],
  ["report", "/jobs/J-0138/report", desktop],
  ["tour", "/machines/quenby-qd62/tour?part=rear-roller-left&at=18", desktop],
  ["floor", "/jobs/J-0149/floor", desktop],
  [
    "gauge",
    "/jobs/J-0147/gauge?protocol=roller&part=rear-roller-left",
    desktop,
  ],
  ["belt", "/jobs/J-0147/belt?course=under-for-over", desktop],
  ["week", "/week", desktop],
  ["find-phone", "/jobs/J-0147/find", phone],
  ["day-phone", "/week/day", phone],
  ["floor-phone", "/jobs/J-0148/floor", phone],
  ["floor-dark", "/jobs/J-0148/floor", phone, "dark"],
];

mkdirSync(out, { recursive: true });
const server = await startServer({ years: 2 });
// Its past is made beside the work; what is drawn from it waits for it.
for (let jobs = -1; ;) {
  const { jobs: now } = await (await fetch(`${server.url}/log.json`)).json();
  if (now.length === jobs) break;
  jobs = now.length;
  await new Promise((done) => setTimeout(done, 3000));
}
const browser = await chromium.launch({
  ...config.use.launchOptions,
  // Drawing in space without a graphics card.
  args: [
    ...config.use.launchOptions.args,
    "--enable-unsafe-swiftshader",
    "--use-angle=swiftshader",
  ],
});
try {
  const maker = await browser.newPage();
  // A roller read through the jaws.
  for (const value of ["75.9", "75.1"]) {
    await maker.goto(
      `${server.url}/jobs/J-0147/gauge?protocol=roller&part=rear-roller-left`,
    );
    await maker.locator("#gr-value").fill(value);
    await maker.getByRole("button", { name: "Keep the reading" }).click();
    await maker.getByText(`${value} mm`).first().waitFor();
  }
  // An estimate that was agreed to.
  await maker.goto(`${server.url}/jobs/J-0153/estimate`);
  await maker.getByRole("button", { name: "Give this estimate" }).click();
  await maker.getByLabel("Who agrees to it").fill("Herr Seeblick");
  await maker.getByRole("button", { name: "Agreed" }).click();
  await maker.getByText(/^Agreed to by/).waitFor();
  // A recording of the noise bench.
  const made = await fetch(`${server.url}/api/v1/noise-bench`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({
      layoutId: "quenby-qd62",
      faults: ["roller-flat"],
      seconds: 12,
      seed: 5,
    }),
  });
  await maker.goto(`${server.url}/jobs/J-0151/listen`);
  await maker.getByLabel("Thump").check();
  await maker.locator("summary", { hasText: "Record it" }).click();
  await maker.locator("#sr-file").setInputFiles({
    name: "noise.wav",
    mimeType: "audio/wav",
    buffer: Buffer.from(await made.arrayBuffer()),
  });
  await maker.locator(".heardnow").waitFor();
  await maker.close();
  for (const [name, path, viewport, colorScheme = "light", unfold] of shots) {
    const page = await (
      await browser.newContext({ viewport, colorScheme })
    ).newPage();
    await page.goto(server.url + path);
    // A page of a job keeps a line open for what other devices do: the network is never idle.
    await page.evaluate(() => document.fonts.ready);
    await page.waitForTimeout(400);
    if (unfold) await page.locator("summary", { hasText: unfold }).click();
    await page.screenshot({ path: `${out}${name}.png` });
    await page.context().close();
    console.log(`docs/screenshots/${name}.png`);
  }
} finally {
  await browser.close();
  await server.stop();
}
