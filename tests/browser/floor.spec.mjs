// The floor: keys, what differs from the plan, a dropped link, a second device, a killed server.
import { expect, test } from "@playwright/test";
import { sharedServer, startServer } from "./server.mjs";
import { clean, doneStep, phone, quick } from "./steps.mjs";

/** A picture of one pixel. */
const PIXEL =
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==";

let server;
test.beforeEach(async ({ page }) => {
  server = await sharedServer();
  await quick(page);
});

const bar = (page) => page.locator(".bar .where");

async function doneWithoutLink(page, context, number) {
  await page.goto(`${server.url}/jobs/${number}/floor`);
  await context.setOffline(true);
  await page.locator("button[form=done]").click();
  await expect(page.locator("#waiting")).toContainText("1 act is kept here");
  // The word about it covers none of the acts, wherever the page is scrolled to.
  const [word, acts] = await Promise.all(
    ["#waiting", ".acts"].map((part) => page.locator(part).boundingBox()),
  );
  expect(word.y + word.height).toBeLessThanOrEqual(acts.y);
}

test("single keys drive the floor: done, back, checks, find, leave", async ({
  page,
}) => {
  const number = await server.own("J-0148");
  await page.goto(`${server.url}/jobs/${number}/floor`);
  await expect(bar(page)).toHaveText(/step 4 of 10/);
  await page.keyboard.press("Enter");
  await expect(bar(page)).toHaveText(/step 5 of 10/);
  await page.waitForTimeout(800);
  // Looking back changes nothing; taking back says what it takes back, and it can be brought again.
  await page.keyboard.press("Backspace");
  await expect(bar(page)).toHaveText(/looking back/);
  await expect(page.locator("h1")).toContainText("Raise the top");
  await expect(page.locator("button[form=done]")).toHaveCount(0);
  await page.waitForTimeout(800);
  await page.keyboard.press("Backspace");
  await expect(page.locator("h1")).toContainText("unclip the strap");
  await page.waitForTimeout(800);
  await page.keyboard.press("Enter");
  await expect(bar(page)).toHaveText(/step 5 of 10/);
  await page.waitForTimeout(800);
  await expect(
    page.getByRole("button", { name: "Take back: Out: Raise the top" }),
  ).toBeVisible();
  await page.keyboard.press("z");
  await expect(bar(page)).toHaveText(/step 4 of 10/);
  await page.waitForTimeout(800);
  await page.getByRole("button", { name: /Bring again: Out: Raise/ }).click();
  await expect(bar(page)).toHaveText(/step 5 of 10/);
  await page.waitForTimeout(800);
  await page.keyboard.press("z");
  await expect(bar(page)).toHaveText(/step 4 of 10/);
  await page.keyboard.press("/");
  await page.getByLabel("Words of the step").fill("motor pulley");
  await expect(page.locator("[data-row]:visible")).toHaveCount(1);
  await page.keyboard.press("Escape");
  await page.keyboard.press("q");
  await expect(page).toHaveURL(/\/strip$/);
});

test("rebuilding says every check on the green button and records it; Enter records", async ({
  page,
}) => {
  const number = await server.own("J-0149");
  await page.goto(`${server.url}/jobs/J-0148/find`);
  await page.goto(`${server.url}/jobs/${number}/floor`);
  let seen = 0;
  for (let n = 0; n < 12; n++) {
    const boxes = await page.locator("#done input[type=checkbox]").count();
    const before = await bar(page).textContent();
    await expect(page.locator("body[data-pausing]")).toHaveCount(0);
    const looks = await page.locator(".floor .seen").count();
    const green = page.locator("button[form=done] small");
    if (looks === 1)
      await expect(page.locator(".floor .seen")).toContainText(
        (await green.textContent()).replace(/^joined: /, ""),
      );
    else if (looks > 1) await expect(green).toHaveText(`all ${looks} seen`);
    else await expect(green).toHaveCount(0);
    seen += looks;
    for (let k = 1; k <= boxes; k++) await page.keyboard.press(String(k));
    await expect(page.locator("body[data-pausing]")).toHaveCount(0);
    await page.keyboard.press("Enter");
    await expect(bar(page)).not.toHaveText(before);
  }
  expect(seen).toBeGreaterThan(5);
  await clean(page);
});

test("an extra screw, a note, a reading, a timer and a photo are kept at the step", async ({
  browser,
}) => {
  const number = await server.own("J-0148");
  const page = await (await browser.newContext({ viewport: phone })).newPage();
  await page.goto(`${server.url}/jobs/${number}/floor`);
  for (let n = 0; n < 3; n++) await doneStep(page);
  await expect(page.locator("body[data-pausing]")).toHaveCount(0);
  await expect(page.locator("h1")).toContainText("Take the left side screw");
  await page.getByRole("button", { name: "Not so", exact: true }).click();
  await page.getByRole("button", { name: "One more here" }).click();
  await expect(page.locator("button[form=done]")).toHaveText(/2 screws in B/);
  await clean(page);
  await page
    .locator("summary", { hasText: "Note, reading, timer, photo" })
    .click();
  await page.getByLabel("Reading of").fill("Gap at the top");
  await page.getByLabel("Value and unit").fill("4,5");
  await page.getByRole("button", { name: "Record the reading" }).click();
  await expect(page.getByLabel("Reading of")).toHaveValue("");
  await page
    .locator("summary", { hasText: "Note, reading, timer, photo" })
    .click();
  await page.getByLabel("Timer for").fill("Glue");
  await page.getByRole("button", { name: "Start the timer" }).click();
  await expect(page.locator("[data-ends]")).toHaveText(/^9:5\d|^10:00/);
  await page
    .locator("summary", { hasText: "Note, reading, timer, photo" })
    .click();
  // A photo is kept as soon as it is taken; without a link it waits here, a reload included.
  const context = page.context();
  await context.setOffline(true);
  await page.getByLabel(/^Photo, kept as soon/).setInputFiles({
    name: "plug.png",
    mimeType: "image/png",
    buffer: Buffer.from(PIXEL, "base64"),
  });
  await expect(page.locator("#waiting")).toContainText("1 act is kept here");
  await context.setOffline(false);
  await expect(page.locator(".stepphotos img")).toHaveCount(1, {
    timeout: 60_000,
  });
  await expect(page.getByText("Extra screw")).toBeVisible();
  // What was recorded is no draft any more.
  await page.reload();
  await expect(page.getByLabel("Reading of")).toHaveValue("");
  await page.goto(`${server.url}/jobs/${number}/report`);
  await expect(page.getByText("Gap at the top: 4.5 mm")).toBeVisible();
  await expect(page.locator("figure img")).toHaveCount(1);
  await clean(page);
});

test("an odd count is asked about at once and must be settled before a panel hides it", async ({
  page,
}) => {
  const number = await server.own("J-0149");
  await page.goto(`${server.url}/jobs/${number}/floor`);
  const floor = page.locator(".floor");
  let lost = 0;
  for (let n = 0; n < 20; n++) {
    if ((await floor.count()) === 0) break;
    const before = await floor.getAttribute("data-step");
    const gone = page.locator(`.floor[data-step="${before}"]`);
    await expect(page.locator("body[data-pausing]")).toHaveCount(0);
    for (const box of await page.locator("#done input[type=checkbox]").all())
      await box.check();
    const counts = page.getByLabel(/^Went in: square/);
    if (lost === 0 && (await counts.count()) > 0) {
      await page.getByRole("button", { name: "Not so", exact: true }).click();
      const wanted = Number(await counts.first().inputValue());
      await counts.first().fill(String(wanted - 1));
      await page.locator("button[form=done]").click();
      await expect(page.locator("h1")).toContainText(
        `${wanted - 1} went in, ${wanted} came out`,
      );
      await clean(page);
      await page.waitForTimeout(800);
      await page.getByRole("button", { name: "Still to be found" }).click();
      await expect(page.locator("h1")).not.toContainText("went in");
      lost = 1;
      continue;
    }
    await page.locator("button[form=done]").click();
    if (lost === 1) {
      await Promise.race([
        page.getByRole("alert").waitFor(),
        expect(gone).toHaveCount(0),
      ]);
      if (await page.getByRole("alert").isVisible()) {
        await expect(page.getByRole("alert")).toContainText(
          "Before this closes: Missing: 1 × square",
        );
        await page.getByRole("button", { name: /Found one of/ }).click();
        await expect(
          page.getByRole("button", { name: /Found one of/ }),
        ).toHaveCount(0);
        lost = 2;
        continue;
      }
    }
    await expect(gone).toHaveCount(0);
  }
  expect(lost).toBe(2);
  await expect(page).toHaveURL(/\/prove$/);
  await page.goto(`${server.url}/jobs/${number}/rebuild`);
  await expect(
    page.getByText("Every screw and plug is accounted for."),
  ).toBeVisible();
});

test("a device whose clock is off is told so", async ({ page }) => {
  await page.clock.setFixedTime(Date.now() + 2 * 3_600_000);
  await page.goto(`${server.url}/jobs/J-0148/strip`);
  await expect(page.locator("#clock-off")).toContainText("120 min ahead");
  await clean(page);
});

test("a double tap with gloves records one step", async ({ browser }) => {
  const number = await server.own("J-0148");
  const page = await (
    await browser.newContext({ viewport: phone, hasTouch: true })
  ).newPage();
  await page.goto(`${server.url}/jobs/${number}/floor`);
  await page.locator("button[form=done]").tap();
  await page.waitForTimeout(90);
  await page.locator("button[form=done]").tap();
  await expect(bar(page)).toHaveText(/step 5 of 10/);
  await page.waitForTimeout(1500);
  await expect(bar(page)).toHaveText(/step 5 of 10/);
  await doneStep(page);
  await expect(bar(page)).toHaveText(/step 6 of 10/);
});

test("a dropped request is kept, sent again by itself and stored once", async ({
  page,
  context,
}) => {
  const number = await server.own("J-0148");
  await doneWithoutLink(page, context, number);
  await page.locator("button[form=done]").click();
  await expect(page.locator("#waiting")).toContainText("1 act is kept here");
  await context.setOffline(false);
  await expect(bar(page)).toHaveText(/step 5 of 10/, { timeout: 60_000 });
  await expect(page.locator("#waiting")).toBeHidden();
  const log = await (
    await page.request.get(`${server.url}/api/v1/jobs/${number}/export`)
  ).json();
  expect(
    log.events.filter(
      (e) => e.kind === "operation-done" && e.operationId === "top-up",
    ),
  ).toHaveLength(1);
});

test("a browser that was closed without a link sends what it kept: the token of its page has ended", async ({
  page,
  context,
}) => {
  const number = await server.own("J-0148");
  await doneWithoutLink(page, context, number);
  await page.locator("button[form=done]").click();
  await expect(page.locator("#waiting")).toContainText("1 act is kept here");
  // What a browser forgets when it is closed.
  await context.clearCookies();
  await context.setOffline(false);
  await expect(bar(page)).toHaveText(/step 5 of 10/, { timeout: 60_000 });
  await expect(page.locator("#waiting")).toBeHidden();
  const log = await (
    await page.request.get(`${server.url}/api/v1/jobs/${number}/export`)
  ).json();
  expect(log.events.filter((e) => e.operationId === "top-up")).toHaveLength(1);
  // And one that the page itself sends after the same is kept and sent, not lost.
  await context.clearCookies();
  // A tap right after a step has changed is a glove's second one and is passed over.
  await expect(page.locator("body[data-pausing]")).toHaveCount(0);
  await page.locator("button[form=done]").click();
  await expect(bar(page)).toHaveText(/step 6 of 10/, { timeout: 60_000 });
});

test("a page of an older Idrum that is still open is told of, and holds nothing up once it is closed", async ({
  context,
  page,
}) => {
  const number = await server.own("J-0148");
  const older = await context.newPage();
  await older.goto(`${server.url}/licences.txt`);
  await older.evaluate(
    () =>
      new Promise((done) => {
        const open = indexedDB.open("idrum", 2);
        open.onupgradeneeded = () => {
          open.result.createObjectStore("waiting", {
            keyPath: "key",
            autoIncrement: true,
          });
          open.result.createObjectStore("along", { keyPath: "number" });
          open.result.createObjectStore("packages", { keyPath: "number" });
        };
        open.onsuccess = () => {
          window.held = open.result;
          done();
        };
      }),
  );
  await page.goto(`${server.url}/jobs/${number}/floor`);
  await expect(page.locator("#patience")).toContainText(
    "Close its other pages on this device",
  );
  await older.close();
  await expect(page.locator("#patience")).toBeHidden();
  const before = await bar(page).textContent();
  await doneStep(page);
  await expect(bar(page)).not.toHaveText(before);
});

test("a correction made without a link is an act of its own; the same pressed twice is one", async ({
  page,
  context,
}) => {
  const number = await server.own("J-0148");
  await page.goto(`${server.url}/jobs/${number}/complaint`);
  await context.setOffline(true);
  const state = page.getByRole("button", { name: /^State the complaint/ });
  for (const words of ["It began on Sunday.", "It began on Monday."]) {
    await page.getByLabel(/^In the user's words/).fill(words);
    await state.click();
    await expect(page.locator("#waiting")).toBeVisible();
    await state.click();
  }
  await expect(page.locator("#waiting")).toContainText("2 acts are kept here");
  await context.setOffline(false);
  await expect
    .poll(
      async () => {
        const log = await page.request.get(
          `${server.url}/api/v1/jobs/${number}/export`,
        );
        return (await log.json()).events
          .filter((e) => e.kind === "complaint-stated")
          .slice(-2)
          .map((e) => e.words);
      },
      { timeout: 60_000 },
    )
    .toEqual(["It began on Sunday.", "It began on Monday."]);
  await expect(page.locator("#waiting")).toBeHidden();
});

test("who goes on while an act is being sent gets where he goes, and one who stays sees what was stored", async ({
  page,
}) => {
  const number = await server.own("J-0151");
  const here = `${server.url}/jobs/${number}/complaint`;
  const there = `${server.url}/jobs/${number}/find`;
  const state = page.getByRole("button", { name: /^State the complaint/ });
  const later = (ms) => async (route) => {
    await new Promise((go) => setTimeout(go, ms));
    await route.continue();
  };
  const cut = async (words) => {
    await page.route(here, (route) =>
      route.request().method() === "POST" ? route.abort() : route.continue(),
    );
    await page.goto(here);
    await page.getByLabel("Thump").first().check();
    await page.getByLabel(/^In the user's words/).fill(words);
    await state.click();
    await expect(page.locator("#waiting")).toContainText("1 act is kept here");
    await page.locator("h1").click();
    await page.unroute(here);
  };
  // The queue's own try is answered while the next page is still coming.
  await cut("Since Sunday.");
  await page.route(here, later(1000));
  await page.route(there, later(3000));
  await page.waitForRequest((r) => r.method() === "POST" && r.url() === here);
  await page.goto(there);
  expect(page.url()).toBe(there);
  await expect(page.locator("#waiting")).toBeHidden();
  await page.unroute(here);
  await page.unroute(there);
  await cut("Since Monday.");
  await expect(page.locator("#waiting")).toBeHidden({ timeout: 60_000 });
  const log = await page.request.get(
    `${server.url}/api/v1/jobs/${number}/export`,
  );
  const { events } = await log.json();
  expect(
    events.filter((e) => e.kind === "complaint-stated").map((e) => e.words),
  ).toEqual(expect.arrayContaining(["Since Sunday.", "Since Monday."]));
  await expect(page.locator("#page")).toHaveAttribute(
    "data-version",
    String(events.length),
  );
});

test("an act that is refused when the link is back is kept with its reason until it is dropped", async ({
  page,
  browser,
  context,
}) => {
  const number = await server.own("J-0148");
  await doneWithoutLink(page, context, number);
  // Meanwhile a second device does the same step.
  const second = await (await browser.newContext()).newPage();
  await second.goto(`${server.url}/jobs/${number}/floor`);
  await doneStep(second);
  await expect(bar(second)).toHaveText(/step 5 of 10/);
  await context.setOffline(false);
  await expect(page.locator("#waiting")).toContainText("is already done", {
    timeout: 60_000,
  });
  await expect(page.locator("#waiting")).toContainText("Not stored: “");
  await expect(bar(page)).toHaveText(/step 5 of 10/);
  await page.reload();
  await expect(page.locator("#waiting")).toContainText("is already done");
  await clean(page);
  await page.getByRole("button", { name: "Drop it" }).click();
  await expect(page.locator("#waiting")).toBeHidden();
});

test("a photo that is refused is kept as a photo of the job, and goes only when that is stored", async ({
  page,
  context,
}) => {
  const number = await server.own("J-0148");
  await page.goto(`${server.url}/jobs/${number}/floor`);
  await page
    .locator("summary", { hasText: "Note, reading, timer, photo" })
    .click();
  // The step it was taken at is not there any more when the link is back.
  await page
    .locator("form[data-kind=photo-added] input[name=operationId]")
    .evaluate((field) => (field.value = "a-step-that-went"));
  await context.setOffline(true);
  await page.getByLabel(/^Photo, kept as soon/).setInputFiles({
    name: "plug.png",
    mimeType: "image/png",
    buffer: Buffer.from(PIXEL, "base64"),
  });
  await expect(page.locator("#waiting")).toContainText("1 act is kept here");
  await context.setOffline(false);
  await expect(page.locator("#waiting")).toContainText(
    "Not stored: “a photo”",
    {
      timeout: 60_000,
    },
  );
  await context.setOffline(true);
  await page.getByRole("button", { name: "Keep it as a note" }).click();
  await expect(page.locator("#waiting")).toContainText("1 act is kept here");
  // What stands in its place is not stored yet: the original is still there.
  await expect(page.locator("#waiting")).toContainText("Not stored: “a photo”");
  await context.setOffline(false);
  await expect(page.locator("#waiting")).toBeHidden({ timeout: 60_000 });
  // This page goes back to the shop's by itself now: another one is opened.
  const report = await context.newPage();
  await report.goto(`${server.url}/jobs/${number}/report`);
  await expect(report.locator("figure img")).toHaveCount(1);
});

test("what is typed survives a reload, Back and a refused form", async ({
  page,
}) => {
  const number = await server.own("J-0151");
  await page.goto(`${server.url}/jobs/${number}/complaint`);
  await page.getByLabel("In the user's words").fill("Half a sentence");
  await page.reload();
  await expect(page.getByLabel("In the user's words")).toHaveValue(
    "Half a sentence",
  );
  await page.goto(`${server.url}/machines`);
  await page.goBack();
  await expect(page.getByLabel("In the user's words")).toHaveValue(
    "Half a sentence",
  );
  await page.getByLabel("In the user's words").fill("");
  await page.getByRole("button", { name: "State the complaint" }).click();
  await expect(page.getByRole("alert")).toContainText("Tick what holds");
});

test("a job is resumed on a second device; the first follows within two seconds and keeps what is typed", async ({
  browser,
}) => {
  const number = await server.own("J-0148");
  const first = await (await browser.newContext({ viewport: phone })).newPage();
  const second = await (
    await browser.newContext({ viewport: phone })
  ).newPage();
  await first.goto(`${server.url}/jobs/${number}/floor`);
  await second.goto(server.url);
  await second.getByRole("link", { name: number, exact: true }).click();
  await expect(second).toHaveURL(/\/strip$/);
  await second.getByRole("link", { name: "Step by step" }).click();
  await second.locator("button[form=done]").click();
  await expect(bar(second)).toHaveText(/step 5 of 10/);
  await expect(bar(first)).toHaveText(/step 5 of 10/, { timeout: 2000 });
  // Something is being typed on the second: it is told, not taken away.
  await second
    .locator("summary", { hasText: "Note, reading, timer, photo" })
    .click();
  await second.getByLabel("Note", { exact: true }).fill("Half a sen");
  await doneStep(first);
  await expect(bar(first)).toHaveText(/step 6 of 10/);
  await expect(second.locator("#meanwhile")).toBeVisible({ timeout: 2000 });
  await expect(second.getByLabel("Note", { exact: true })).toHaveValue(
    "Half a sen",
  );
  await clean(second);
  // The step that is done meanwhile is not done twice.
  await second.locator("button[form=done]").click();
  await expect(second.getByRole("alert")).toContainText("is already done");
  await second.reload();
  await expect(bar(second)).toHaveText(/step 6 of 10/);
});

test("after the server is killed the job goes on where it was", async ({
  page,
}) => {
  const server = await startServer();
  await page.goto(`${server.url}/jobs/J-0148/floor`);
  await doneStep(page);
  await expect(bar(page)).toHaveText(/step 5 of 10/);
  await expect(page.locator("body[data-pausing]")).toHaveCount(0);
  await server.kill();
  await page.locator("button[form=done]").click();
  await expect(page.locator("#waiting")).toBeVisible();
  const again = await startServer({
    data: server.folder,
    port: Number(new URL(server.url).port),
  });
  await expect(bar(page)).toHaveText(/step 6 of 10/, { timeout: 60_000 });
  await again.stop();
});

test("a timer rings by the shop's clock on a phone that is ten minutes behind", async ({
  browser,
}) => {
  const number = await server.own("J-0148");
  const context = await browser.newContext({ viewport: phone });
  const page = await context.newPage();
  const about = await (
    await fetch(`${server.url}/api/v1/jobs/${number}/export`)
  ).json();
  const answer = await fetch(
    `${server.url}/api/v1/jobs/${about.jobId}/events`,
    {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({
        id: crypto.randomUUID(),
        kind: "timer-started",
        timerId: "oil",
        label: "Oil works",
        minutes: 1,
      }),
    },
  );
  expect(answer.ok, await answer.text()).toBe(true);
  await page.clock.install({ time: Date.now() - 600_000 });
  await page.goto(`${server.url}/jobs/${number}/strip`);
  await page.clock.runFor(1500);
  const clock = page.locator("form[data-timer] [data-ends]");
  await expect(page.locator("#clock-off")).toContainText("10 min behind");
  await page.clock.runFor(65_000);
  await expect(clock).toContainText("over by");
  await expect(page).toHaveTitle(/^⏰/);
});

test("what a swap brings is whole at once: folded, focused and taken up, so that no tap falls between", async ({
  browser,
}) => {
  const number = await server.own("J-0151");
  const context = await browser.newContext({ viewport: phone });
  const page = await context.newPage();
  await page.goto(`${server.url}/jobs/${number}/find`);
  await page.evaluate(() => {
    document.addEventListener("htmx:afterSwap", () =>
      // Before anything can be painted or tapped.
      queueMicrotask(() => {
        const shown = document.getElementById("page");
        window.found = {
          focused: document.activeElement === shown.querySelector("h1"),
          open: shown.querySelectorAll("details[data-fold][open]").length,
          taken: [...shown.querySelectorAll("form")].every(
            (form) =>
              form["htmx-internal-data"]?.boosted ||
              form.closest("[hx-boost=false]"),
          ),
        };
      }),
    );
  });
  await page.getByRole("link", { name: "Fit", exact: true }).first().click();
  await expect(page).toHaveURL(/\/fit$/);
  expect(await page.evaluate(() => window.found)).toMatchObject({
    focused: true,
    open: 0,
  });
});

test("a large picture is made small on the phone before it is sent", async ({
  browser,
}) => {
  const number = await server.own("J-0148");
  const context = await browser.newContext({ viewport: phone });
  const page = await context.newPage();
  await page.goto(`${server.url}/jobs/${number}/photos`);
  const large = await page.evaluate(async () => {
    const sheet = new OffscreenCanvas(3000, 2000);
    const brush = sheet.getContext("2d");
    // Noise does not compress: some megabytes, as a phone's own camera makes them.
    const dots = brush.createImageData(3000, 2000);
    let seed = 7;
    for (let i = 0; i < dots.data.length; i++) {
      seed = (seed * 1103515245 + 12345) & 0x7fffffff;
      dots.data[i] = i % 4 === 3 ? 255 : seed >> 16;
    }
    brush.putImageData(dots, 0, 0);
    const file = await sheet.convertToBlob({ type: "image/jpeg", quality: 1 });
    const bytes = new Uint8Array(await file.arrayBuffer());
    let text = "";
    for (let i = 0; i < bytes.length; i += 0x8000)
      text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
    return btoa(text);
  });
  const bytes = Buffer.from(large, "base64");
  expect(bytes.length).toBeGreaterThan(4_000_000);
  const sent = page.waitForRequest((r) => r.method() === "POST");
  await page.getByLabel(/^Photo/).setInputFiles({
    name: "machine.jpeg",
    mimeType: "image/jpeg",
    buffer: bytes,
  });
  const size = Number((await (await sent).allHeaders())["content-length"]);
  expect(size).toBeLessThan(bytes.length / 2);
  const stored = page.locator("main img");
  await expect(stored).toHaveCount(1);
  expect(
    await stored.evaluate(async (img) => {
      img.loading = "eager";
      await img.decode();
      return Math.max(img.naturalWidth, img.naturalHeight);
    }),
  ).toBe(1600);
});
