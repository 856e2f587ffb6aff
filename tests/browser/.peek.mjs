import { chromium } from "@playwright/test";
import { startServer } from "./server.mjs";
import config from "./playwright.config.mjs";
import { mkdirSync } from "node:fs";
mkdirSync("/tmp/peek", { recursive: true });
const base = process.env.PEEK_URL;
const server = base ? null : await startServer();
const browser = await chromium.launch(config.use.launchOptions);
for (const arg of process.argv.slice(2)) {
  const [name, dev, path, full] = arg.split("|");
  const page = await (
    await browser.newContext({
      viewport:
        dev === "d"
          ? { width: 1280, height: 800 }
          : { width: 390, height: 844 },
      ignoreHTTPSErrors: true,
    })
  ).newPage();
  await page.goto((base ?? server.url) + path);
  await page.waitForTimeout(400);
  await page.screenshot({
    path: `/tmp/peek/${name}.png`,
    fullPage: full === "f",
  });
  const w = await page.evaluate(
    () =>
      document.documentElement.scrollWidth -
      document.documentElement.clientWidth,
  );
  if (w > 0) console.log(name, "overflow", w);
  await page.close();
}
await browser.close();
await server?.stop();
