// The shop round the job: bench, machines, find, export and import, weight of a page, plain forms.
import { readFileSync } from "node:fs";
import { expect, test } from "@playwright/test";
import { sharedServer, startServer } from "./server.mjs";
import { clean, desktop, inTheDark, phone, watch } from "./steps.mjs";

let server;
test.beforeAll(async () => {
  server = await sharedServer();
});

const stations = [
  "complaint",
  "find",
  "strip",
  "fit",
  "rebuild",
  "prove",
  "close",
  "floor",
  "report",
  "photos",
];
const views = [
  "/jobs/J-0145/left",
  "/jobs/J-0150/listen",
  "/jobs/J-0149/fit?part=motor&motorPrice=118&unitPrice=150&ratePerHour=60",
  "/",
  "/jobs/new",
  "/jobs/import",
  "/machines",
  "/machines/learned",
  "/machines/new",
  "/machines/file",
  "/machines/compare?a=quenby-qc30&b=quenby-qc36",
  "/machines/marlune-mf20",
  "/identify",
  "/welcome",
  "/week",
  "/week/day",
  "/week/appointment?job=J-0150",
  "/shop",
  "/pair",
  "/trust",
  "/away",
  "/jobs/new?machine=marlune-mf20",
  "/appointment?complaint=squeal&age=9",
  "/machines/quenby-qd62?part=idler",
  "/machines/quenby-qd62/tour?part=idler",
];
const viewsOf = (...jobs) => [
  ...views,
  ...stations.flatMap((s) => jobs.map((job) => `/jobs/${job}/${s}`)),
];

for (const [device, viewport] of [
  ["desktop", desktop],
  ["phone", phone],
]) {
  // Colours are the same at both sizes: in the dark the phone is looked at in a long run only.
  const dark = device === "desktop" || process.env.IDRUM_LONG === "1";
  for (const colorScheme of dark ? ["light", "dark"] : ["light"]) {
    test(`every view is accessible, ${device}, ${colorScheme}`, async ({
      browser,
    }) => {
      const page = await (
        await browser.newContext({ viewport, colorScheme })
      ).newPage();
      const complaints = watch(page);
      if (colorScheme === "dark") inTheDark(page);
      for (const view of colorScheme === "light"
        ? device === "desktop"
          ? viewsOf("J-0144", "J-0149")
          : viewsOf("J-0149")
        : viewsOf("J-0148")) {
        await page.goto(server.url + view);
        await clean(page);
      }
      expect(complaints).toEqual([]);
    });
  }
}

test("? says what the screen is for, its keys, and what the parts are", async ({
  page,
}) => {
  const complaints = watch(page);
  await page.goto(`${server.url}/jobs/J-0147/find`);
  await page.locator("h1, #now-title").first().focus();
  await page.keyboard.press("?");
  const help = page.getByRole("dialog", { name: "Help" });
  await expect(help).toContainText("One thing to do next");
  await expect(help.getByRole("heading", { name: "Keys" })).toBeVisible();
  await expect(help).toContainText("Presses on the belt's flat back");
  await clean(page);
  await page.keyboard.press("Escape");
  await expect(help).toHaveCount(0);
  await page.setViewportSize(phone);
  await page.getByRole("button", { name: "? Help" }).click();
  await expect(help).toContainText("One thing to do next");
  await clean(page);
  await help.getByRole("button", { name: "Close" }).click();
  await expect(help).toHaveCount(0);
  expect(complaints).toEqual([]);
});

test("an answer changes the picture at once, without a full reload, and can be taken back", async ({
  page,
}) => {
  const number = await server.own("J-0147");
  await page.goto(`${server.url}/jobs/${number}/find`);
  await page.evaluate(() => (window.stayed = true));
  const shares = await page.locator(".cause .num").allTextContents();
  const eyebrow = await page.locator(".now .eyebrow").first().textContent();
  await page
    .locator(".now form[data-kind=finding-answered] button")
    .first()
    .click();
  await expect(page.locator(".now .eyebrow").first()).not.toHaveText(eyebrow);
  expect(await page.locator(".cause .num").allTextContents()).not.toEqual(
    shares,
  );
  await page
    .getByRole("button", { name: /^Take back: / })
    .last()
    .click();
  await expect
    .poll(() => page.locator(".cause .num").allTextContents())
    .toEqual(shares);
  expect(await page.evaluate(() => window.stayed)).toBe(true);
});

test("the repairer overrides the advice and picks a part, with a reason", async ({
  page,
}) => {
  const number = await server.own("J-0147");
  await page.goto(`${server.url}/jobs/${number}/find`);
  await page.getByLabel("Find a check or part").fill("tensioner arm");
  await page
    .locator("[data-row]:visible")
    .getByRole("link", { name: "Tensioner arm", exact: true })
    .click();
  await page.getByLabel("Why").fill("Saw it bent last year.");
  await page
    .getByRole("button", { name: /Strip to the tensioner arm/ })
    .click();
  await expect(page).toHaveURL(/\/strip$/);
  await expect(page.locator(".picture .eyebrow")).toContainText(
    "Tensioner arm",
  );
  await page
    .getByLabel("How to get at the belt")
    .selectOption({ label: "Belt off the pulley, from the front" });
  await page.getByRole("button", { name: "Plan it that way" }).click();
  await expect(page.locator(".plan")).toContainText("Front skin off");
});

test("a job is exported and imported into an empty shop with an identical state", async ({
  page,
}) => {
  await page.goto(`${server.url}/jobs/J-0138/close`);
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Export" }).click(),
  ]);
  const file = await download.path();
  const text = readFileSync(file, "utf8");
  const other = await startServer({ empty: true });
  try {
    await page.goto(`${other.url}/jobs/import`);
    const upload = (json) =>
      page.getByLabel("File").setInputFiles({
        name: "job.json",
        mimeType: "application/json",
        buffer: Buffer.from(json),
      });
    await upload(text.slice(0, text.length / 2));
    await page.getByRole("button", { name: "Import", exact: true }).click();
    await expect(page.getByRole("alert")).toContainText("cut off");
    const forged = JSON.parse(text);
    forged.events.splice(2, 1);
    await upload(JSON.stringify(forged));
    await page.getByRole("button", { name: "Import", exact: true }).click();
    await expect(page.getByRole("alert")).toContainText(
      "changed after it was written",
    );
    await upload(text);
    await page.getByRole("button", { name: "Import", exact: true }).click();
    await expect(
      page.getByRole("heading", { name: "This job is closed" }),
    ).toBeVisible();
    const state = async (url) =>
      (await (await page.request.get(`${url}/api/v1/jobs/J-0138`)).json())
        .state;
    expect(await state(other.url)).toEqual(await state(server.url));
  } finally {
    await other.stop();
  }
});

test("the first load of a job page weighs at most 150 kB on the wire", async ({
  browser,
}) => {
  const context = await browser.newContext({ viewport: desktop });
  const page = await context.newPage();
  const client = await context.newCDPSession(page);
  await client.send("Network.enable");
  let bytes = 0;
  client.on("Network.loadingFinished", (e) => (bytes += e.encodedDataLength));
  await page.goto(`${server.url}/jobs/J-0147/find`, {
    waitUntil: "networkidle",
  });
  console.log(`first load of the Find page: ${(bytes / 1000).toFixed(1)} kB`);
  expect(bytes).toBeGreaterThan(50_000);
  expect(bytes).toBeLessThanOrEqual(150_000);
});

test("pages work as plain forms where scripts do not run", async ({
  browser,
}) => {
  const number = await server.own("J-0151");
  const page = await (
    await browser.newContext({ javaScriptEnabled: false })
  ).newPage();
  await page.goto(`${server.url}/jobs/${number}/complaint`);
  await page.getByRole("checkbox", { name: "Rumbles" }).check();
  await page.getByRole("button", { name: "State the complaint" }).click();
  await expect(page).toHaveURL(/\/find$/);
  await page.locator("form[data-kind=finding-answered] button").first().click();
  await expect(page.locator(".now .eyebrow").first()).toContainText(
    /check 2|decide/,
  );
});

test("a page that takes long says so, and how many are ahead", async ({
  page,
}) => {
  await page.goto(`${server.url}/jobs/J-0147/find`);
  await page.route("**/jobs/J-0147/strip", async (route) => {
    await new Promise((go) => setTimeout(go, 2500));
    await route.continue();
  });
  await page.route("**/api/v1/work", (route) =>
    route.fulfill({ json: { present: 3, ahead: 2 } }),
  );
  await page.getByRole("link", { name: "Strip" }).first().click();
  await expect(page.locator("#patience")).toContainText(
    "2 others are in work or wait",
  );
  await expect(page).toHaveURL(/\/strip$/);
  await expect(page.locator("#patience")).toBeHidden();
});
