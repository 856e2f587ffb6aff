// node .peek.mjs name|d or p|path[|f] ...
import { chromium } from "@playwright/test";
import { startServer } from "./server.mjs";
import config from "./playwright.config.mjs";
import { mkdirSync } from "node:fs";
mkdirSync("/tmp/peek", { recursive: true });
const server = await startServer();
const browser = await chromium.launch({
  ...config.use.launchOptions,
  headless: true,
});
for (const arg of process.argv.slice(2)) {
  const [name, size, path, full] = arg.split("|");
  const page = await (
    await browser.newContext({
      viewport:
        size === "p"
          ? { width: 390, height: 844 }
          : { width: 1280, height: 800 },
      hasTouch: size === "p",
    })
  ).newPage();
  await page.goto(server.url + path);
  await page.waitForTimeout(400);
  await page.screenshot({ path: `/tmp/peek/${name}.png`, fullPage: !!full });
  await page.close();
}
await browser.close();
await server.stop();
