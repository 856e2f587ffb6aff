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
  ["complaint", "/jobs/J-0151/complaint", desktop],
  ["find", "/jobs/J-0147/find", desktop],
  ["strip", "/jobs/J-0148/strip", desktop],
  ["fit", "/jobs/J-0144/fit", desktop],
  ["rebuild", "/jobs/J-0149/rebuild", desktop],
  ["prove", "/jobs/J-0150/prove", desktop],
  ["close", "/jobs/J-0145/close", desktop],
  ["report", "/jobs/J-0138/report", desktop],
  ["machine", "/machines/quenby-qd62?part=idler", desktop],
  ["floor", "/jobs/J-0149/floor", desktop],
  ["floor-behind", "/jobs/J-0153/floor", desktop],
  ["variant", "/jobs/J-0149/variant", desktop],
  ["find-why", "/jobs/J-0147/find", desktop, "light", "Why this"],
  ["find-phone", "/jobs/J-0147/find", phone],
  ["round-phone", "/jobs/J-0144/round", phone],
  ["floor-phone", "/jobs/J-0148/floor", phone],
  ["rebuild-phone", "/jobs/J-0149/floor", phone],
  ["floor-dark", "/jobs/J-0148/floor", phone, "dark"],
];

mkdirSync(out, { recursive: true });
const server = await startServer();
const browser = await chromium.launch(config.use.launchOptions);
try {
  for (const [name, path, viewport, colorScheme = "light", unfold] of shots) {
    const page = await (
      await browser.newContext({ viewport, colorScheme })
    ).newPage();
    await page.goto(server.url + path, { waitUntil: "networkidle" });
    await page.evaluate(() => document.fonts.ready);
    if (unfold) await page.locator("summary", { hasText: unfold }).click();
    await page.screenshot({ path: `${out}${name}.png` });
    await page.context().close();
    console.log(`docs/screenshots/${name}.png`);
  }
} finally {
  await browser.close();
  await server.stop();
}
