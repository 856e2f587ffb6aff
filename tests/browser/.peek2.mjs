import { chromium } from "@playwright/test";
import { startServer } from "./server.mjs";
import config from "./playwright.config.mjs";
import { openJob } from "./steps.mjs";
import { mkdirSync } from "node:fs";
mkdirSync("/tmp/peek", { recursive: true });
const server = await startServer();
const browser = await chromium.launch({ ...config.use.launchOptions, headless: true });
const ctx = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
await ctx.addInitScript(() => localStorage.setItem("idrum.pause", "60"));
const page = await ctx.newPage();
let shot = 0;
for (const [layout, complaint] of [["Quenby QD-62", "Squeals all the time"], ["Quenby QD-62", "Thumps regularly"], ["Ostrel OT-50", "Rattles or tinkles"], ["Quenby QD-62", "Dries too long"], ["Ostrel OT-50", "Nothing runs at all"]]) {
  try {
    await openJob(page, server.url, { layout, place: "Cellar", complaint });
  } catch (e) { console.log("no", complaint, String(e).slice(0, 400)); continue; }
  for (let i = 0; i < 9; i++) {
    await page.waitForTimeout(1500);
    const better = page.locator("#better");
    if ((await better.count()) && (await better.isVisible()) && shot < 2) {
      shot++;
      console.log("better", complaint, i, await better.textContent());
      await page.screenshot({ path: `/tmp/peek/better${shot}.png`, fullPage: true });
    }
    const title = await page.locator("#now-title").textContent();
    if (title.includes("unknown")) { await page.screenshot({ path: "/tmp/peek/nothing.png", fullPage: true }); break; }
    const answers = page.locator(".now button[data-key='1']");
    if (!(await answers.count())) { console.log(complaint, i, title); break; }
    await answers.first().click();
    await page.waitForTimeout(600);
  }
}
await browser.close();
await server.stop();
