import { chromium } from "@playwright/test";
import { startServer } from "./server.mjs";
import config from "./playwright.config.mjs";
const server = await startServer();
const browser = await chromium.launch(config.use.launchOptions);
const context = await browser.newContext({
  viewport: { width: 390, height: 844 },
});
const page = await context.newPage();
page.on("console", (m) => console.log("console", m.text()));
page.on("pageerror", (m) => console.log("pageerror", m));
await page.goto(server.url + "/jobs/J-0148/floor");
await page.waitForTimeout(5000);
console.log(
  "sw",
  await page.evaluate(() => navigator.serviceWorker.controller?.scriptURL),
  await page.evaluate(async () => (await indexedDB.databases()).length),
);
await context.setOffline(true);
await page.reload();
await page.waitForTimeout(1500);
console.log(
  "offline:",
  (await page.locator("#page").innerText()).slice(0, 200),
);
await page.screenshot({ path: "/tmp/peek/away.png" });
await context.setOffline(false);
await page.waitForTimeout(1000);
await page.goto(server.url + "/machines");
console.log("online:", (await page.locator("#page").innerText()).slice(0, 80));
await page.waitForTimeout(3000);
await page.goto(server.url + "/machines");
console.log(
  "online:",
  (await page.locator("#page").innerText()).slice(0, 80),
  await page.evaluate(() =>
    fetch("/api/v1/work").then(
      (r) => r.status,
      (e) => String(e),
    ),
  ),
);
await browser.close();
await server.stop();
