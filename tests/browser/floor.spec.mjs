// The floor: keys, what differs from the plan, a dropped link, a second device, a killed server.
import { expect, test } from "@playwright/test";
import { startServer } from "./server.mjs";
import { clean, phone } from "./steps.mjs";

let server;
test.beforeEach(async () => {
  server = await startServer();
});
test.afterEach(() => server.stop());

const bar = (page) => page.locator(".bar > *").first();

async function doneWithoutLink(page, context) {
  await page.goto(`${server.url}/jobs/J-0148/floor`);
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
  await page.goto(`${server.url}/jobs/J-0148/floor`);
  await expect(bar(page)).toHaveText(/step 4 of 9/);
  await page.keyboard.press("Enter");
  await expect(bar(page)).toHaveText(/step 5 of 9/);
  await page.keyboard.press("Backspace");
  await expect(bar(page)).toHaveText(/step 4 of 9/);
  await page.keyboard.press("/");
  await page.getByLabel("Words of the step").fill("belt");
  await expect(page.locator("[data-row]:visible")).toHaveCount(1);
  await page.keyboard.press("Escape");
  await page.keyboard.press("q");
  await expect(page).toHaveURL(/\/strip$/);
});

test("rebuilding asks for every check; digits tick them and Enter records", async ({
  page,
}) => {
  await page.goto(`${server.url}/jobs/J-0148/find`);
  await page.goto(`${server.url}/jobs/J-0149/floor`);
  for (let n = 0; n < 12; n++) {
    const boxes = await page.locator("#done input[type=checkbox]").count();
    const before = await bar(page).textContent();
    if (boxes > 0 && n < 3) {
      await page.keyboard.press("Enter");
      await expect(page.getByRole("alert")).toContainText("Not yet seen");
    }
    for (let k = 1; k <= boxes; k++) await page.keyboard.press(String(k));
    await page.keyboard.press("Enter");
    await expect(bar(page)).not.toHaveText(before);
  }
  await clean(page);
});

test("an extra screw, a note, a reading, a timer and a photo are kept at the step", async ({
  browser,
}) => {
  const page = await (await browser.newContext({ viewport: phone })).newPage();
  await page.goto(`${server.url}/jobs/J-0148/floor`);
  for (let n = 0; n < 3; n++) {
    const before = await bar(page).textContent();
    await page.locator("button[form=done]").click();
    await expect(bar(page)).not.toHaveText(before);
  }
  await expect(page.locator("h1")).toContainText("Take one side screw");
  await page.getByRole("button", { name: "Not so", exact: true }).click();
  await page.getByLabel("What is different").selectOption("extra-screw");
  await page.getByRole("button", { name: "Record it" }).click();
  await expect(page.locator("button[form=done]")).toHaveText(/3 screws in B/);
  await clean(page);
  await page.locator("summary", { hasText: "Reading, timer, photo" }).click();
  await page.getByLabel("Reading of").fill("Gap at the top");
  await page.getByLabel("Value and unit").fill("4,5");
  await page.getByRole("button", { name: "Record the reading" }).click();
  await expect(page.getByLabel("Reading of")).toHaveValue("");
  await page.locator("summary", { hasText: "Reading, timer, photo" }).click();
  await page.getByLabel("Timer for").fill("Glue");
  await page.getByRole("button", { name: "Start the timer" }).click();
  await expect(page.locator("[data-ends]")).toHaveText(/^9:5\d|^10:00/);
  await page.locator("summary", { hasText: "Reading, timer, photo" }).click();
  await page.getByLabel("Photo", { exact: true }).setInputFiles({
    name: "plug.png",
    mimeType: "image/png",
    buffer: Buffer.from(
      "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
      "base64",
    ),
  });
  const context = page.context();
  await context.setOffline(true);
  await page.getByRole("button", { name: "Keep the photo" }).click();
  await expect(page.locator("#waiting")).toContainText("still chosen here");
  await context.setOffline(false);
  await page.getByRole("button", { name: "Keep the photo" }).click();
  await expect(
    page.getByRole("link", { name: "1 photo of this step" }),
  ).toBeVisible();
  await expect(page.getByText("Extra screw")).toBeVisible();
  // What was recorded is no draft any more.
  await page.reload();
  await expect(page.getByLabel("Reading of")).toHaveValue("");
  await page.goto(`${server.url}/jobs/J-0148/report`);
  await expect(page.getByText("Gap at the top: 4.5 mm")).toBeVisible();
  await expect(page.locator("figure img")).toHaveCount(1);
  await clean(page);
});

test("counts that come out uneven are stated at once and block closing until the screw is found", async ({
  page,
}) => {
  await page.goto(`${server.url}/jobs/J-0149/floor`);
  let lost = false;
  for (let n = 0; n < 20; n++) {
    const on = page.getByRole("button", { name: "Go on to Prove" });
    if (await on.isVisible()) break;
    const before = await bar(page).textContent();
    if (
      !lost &&
      (await page.locator("h1").textContent()).includes("Six skin screws")
    ) {
      await page.getByRole("button", { name: "Not so", exact: true }).click();
      await page.getByLabel(/Went in: .* upper edge of the skin/).fill("4");
      await expect(page.locator("button[form=done]")).toHaveText(
        /In, 6 screws/,
      );
      lost = true;
    }
    for (const box of await page.locator("#done input[type=checkbox]").all())
      await box.check();
    await page.locator("button[form=done]").click();
    await expect(bar(page)).not.toHaveText(before);
  }
  expect(lost).toBe(true);
  await expect(
    page.getByText(/Missing: 1 × star T20, 16 mm long, zinc of tray/),
  ).toBeVisible();
  await page.goto(`${server.url}/jobs/J-0149/close`);
  await expect(page.getByText(/Missing: 1 ×/).first()).toBeVisible();
  await page.getByRole("button", { name: "Close the job" }).click();
  await expect(page.getByRole("alert")).toContainText(
    "Write why it is closed all the same",
  );
  await page.goto(`${server.url}/jobs/J-0149/rebuild`);
  await page.getByRole("button", { name: /Found one of tray/ }).click();
  await expect(
    page.getByText("Every screw and plug is accounted for."),
  ).toBeVisible();
});

test("a dropped request is kept, sent again by itself and stored once", async ({
  page,
  context,
}) => {
  await doneWithoutLink(page, context);
  await page.locator("button[form=done]").click();
  await expect(page.locator("#waiting")).toContainText("1 act is kept here");
  await context.setOffline(false);
  await expect(bar(page)).toHaveText(/step 5 of 9/, { timeout: 60_000 });
  await expect(page.locator("#waiting")).toBeHidden();
  const log = await (
    await page.request.get(`${server.url}/api/v1/jobs/J-0148/export`)
  ).json();
  expect(
    log.events.filter(
      (e) => e.kind === "operation-done" && e.operationId === "top-up",
    ),
  ).toHaveLength(1);
});

test("an act that is refused when the link is back is kept with its reason until it is dropped", async ({
  page,
  browser,
  context,
}) => {
  await doneWithoutLink(page, context);
  // Meanwhile a second device does the same step.
  const second = await (await browser.newContext()).newPage();
  await second.goto(`${server.url}/jobs/J-0148/floor`);
  await second.locator("button[form=done]").click();
  await expect(bar(second)).toHaveText(/step 5 of 9/);
  await context.setOffline(false);
  await expect(page.locator("#waiting")).toContainText("is already done", {
    timeout: 60_000,
  });
  await expect(page.locator("#waiting")).toContainText("Not stored: “");
  await expect(bar(page)).toHaveText(/step 5 of 9/);
  await page.reload();
  await expect(page.locator("#waiting")).toContainText("is already done");
  await clean(page);
  await page.getByRole("button", { name: "Drop it" }).click();
  await expect(page.locator("#waiting")).toBeHidden();
});

test("what is typed survives a reload, Back and a refused form", async ({
  page,
}) => {
  await page.goto(`${server.url}/jobs/J-0151/complaint`);
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

test("a job is resumed on a second device, and the first one is told that the step is done", async ({
  browser,
}) => {
  const first = await (await browser.newContext({ viewport: phone })).newPage();
  const second = await (
    await browser.newContext({ viewport: phone })
  ).newPage();
  await first.goto(`${server.url}/jobs/J-0148/floor`);
  await second.goto(server.url);
  await second.getByRole("link", { name: "J-0148", exact: true }).click();
  await expect(second).toHaveURL(/\/strip$/);
  await second.getByRole("link", { name: "Step by step" }).click();
  await second.locator("button[form=done]").click();
  await expect(bar(second)).toHaveText(/step 5 of 9/);
  await first.locator("button[form=done]").click();
  await expect(first.getByRole("alert")).toContainText("is already done");
  await first.reload();
  await expect(bar(first)).toHaveText(/step 5 of 9/);
  await first.locator("button[form=done]").click();
  await expect(bar(first)).toHaveText(/step 6 of 9/);
  await second.reload();
  await expect(bar(second)).toHaveText(/step 6 of 9/);
});

test("after the server is killed the job goes on where it was", async ({
  page,
}) => {
  await page.goto(`${server.url}/jobs/J-0148/floor`);
  await page.locator("button[form=done]").click();
  await expect(bar(page)).toHaveText(/step 5 of 9/);
  await server.kill();
  await page.locator("button[form=done]").click();
  await expect(page.locator("#waiting")).toBeVisible();
  const again = await startServer({
    data: server.folder,
    port: Number(new URL(server.url).port),
  });
  await expect(bar(page)).toHaveText(/step 6 of 9/, { timeout: 60_000 });
  await again.kill();
});
