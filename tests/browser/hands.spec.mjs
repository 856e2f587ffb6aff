// What the hands need: a step read aloud, what is stuck, what broke, a leaving time, a name on the glass, the same look
// again at the end.
import { expect, test } from "@playwright/test";
import { sharedServer } from "./server.mjs";
import {
  clean,
  desktop,
  doneStep,
  openSigned,
  phone,
  quick,
  watch,
} from "./steps.mjs";

// A picture of one colour.
const PICTURE = {
  name: "x.png",
  mimeType: "image/png",
  buffer: Buffer.from(
    "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==",
    "base64",
  ),
};

let server;
test.beforeEach(async ({ page }) => {
  server = await sharedServer();
  await quick(page);
});

test("a step is read aloud by button and key, again, and each new one where that is ticked", async ({
  browser,
}) => {
  const context = await browser.newContext({ viewport: phone, hasTouch: true });
  // The voice is a stand-in that writes down what it says.
  await context.addInitScript(() => {
    window.said = [];
    window.SpeechSynthesisUtterance = class {
      constructor(words) {
        this.words = words;
      }
    };
    Object.defineProperty(window, "speechSynthesis", {
      value: {
        speak: (said) => window.said.push(said.words),
        cancel: () => {},
      },
    });
  });
  const page = await context.newPage();
  await quick(page);
  const complaints = watch(page);
  const number = await server.own("J-0148");
  await page.goto(`${server.url}/jobs/${number}/floor`);
  const said = () => page.evaluate(() => window.said);
  expect(await said()).toEqual([]);
  await page.getByRole("button", { name: "Read", exact: true }).click();
  const title = (await page.locator("h1").textContent()).trim();
  expect((await said())[0]).toContain(title);
  expect((await said())[0]).toContain("Caution.");
  await page.keyboard.press("r");
  expect(await said()).toHaveLength(2);
  expect((await said())[1]).toBe((await said())[0]);
  // The next step is silent until it is asked for.
  await page.locator("button[form=done]").click();
  await expect(page.locator("h1")).not.toHaveText(title);
  expect(await said()).toHaveLength(2);
  await page.getByText("Read each new step aloud").click();
  await expect.poll(async () => (await said()).length).toBe(3);
  const second = (await page.locator("h1").textContent()).trim();
  await expect(page.locator("body[data-pausing]")).toHaveCount(0);
  await page.locator("button[form=done]").click();
  await expect(page.locator("h1")).not.toHaveText(second);
  await expect.poll(async () => (await said()).length).toBe(4);
  expect((await said())[3]).toContain(
    (await page.locator("h1").textContent()).trim(),
  );
  expect((await said())[3]).not.toContain("×");
  await clean(page);
  expect(complaints).toEqual([]);
  await context.close();
});

test("what is stuck is helped gentlest first; what broke and a cut tie are owed until they are made good", async ({
  page,
}) => {
  await page.setViewportSize(phone);
  const number = await server.own("J-0148");
  await page.goto(`${server.url}/jobs/${number}/floor`);
  await page.getByRole("button", { name: "Not so", exact: true }).click();
  await page.getByText("Stuck: what helps").click();
  await expect(page.locator(".gentle li").first()).toBeVisible();
  await page.getByLabel("In words").fill("left clip");
  await page.getByRole("button", { name: "Broken", exact: true }).click();
  await expect(
    page.locator("p.extra", { hasText: "When it goes back:" }),
  ).toContainText("left clip");
  await page.getByRole("button", { name: "Not so", exact: true }).click();
  await page.getByRole("button", { name: "Cable tie cut" }).click();
  await expect(
    page.locator("p.extra", { hasText: "When it goes back:" }),
  ).toContainText("Cable tie renewed");
  await page.goto(`${server.url}/jobs/${number}/close`);
  const owed = page.locator("form[data-kind=owed-settled]");
  await expect(owed).toContainText("Mended or renewed");
  // Left without a word it is not.
  await page.getByText("Not done, or declined").first().click();
  await page
    .getByRole("button", { name: "What is ticked is left" })
    .first()
    .click();
  await expect(page.getByRole("alert")).toContainText("Write why");
  await page
    .getByLabel("Why it is left, or who declined it")
    .fill("C. Tenant: as it is.");
  await page.getByRole("button", { name: "What is ticked is left" }).click();
  await expect(owed).toHaveCount(0);
  await page.goto(`${server.url}/jobs/${number}/report`);
  await expect(page.locator("main")).toContainText(
    "left undone: C. Tenant: as it is.",
  );
});

test("a leaving time: what is not done by then, by which way it would be, and none that is past", async ({
  browser,
}) => {
  await openSigned(browser, server.url, "J-4101", "ostrel-ot50", [
    "front-felt",
  ]);
  const page = await (
    await browser.newContext({ viewport: desktop })
  ).newPage();
  await quick(page);
  await page.goto(`${server.url}/jobs/J-4101/fit`);
  await page.getByLabel("I must leave at").fill("soon");
  await page.getByRole("button", { name: "Hold against it" }).click();
  await expect(page.locator(".leave .field-wrong")).toHaveText(
    "A time of day, as 13:30.",
  );
  await expect(page.getByLabel("I must leave at")).toHaveValue("soon");
  // In a quarter of an hour nothing of it is done, whatever the way.
  const soon = await page.evaluate(() => {
    const wall = Number(
      document.querySelector("[data-offset]")?.dataset.offset ?? 0,
    );
    return new Date(Date.now() + (15 + wall) * 60_000)
      .toISOString()
      .slice(11, 16);
  });
  test.skip(soon < "00:16", "The day ends within the quarter of an hour.");
  await page.getByLabel("I must leave at").fill(soon);
  await page.getByRole("button", { name: "Hold against it" }).click();
  await expect(page.getByText(/are lacking/)).toBeVisible();
  await expect(page.locator(".visitbox [role=status]")).toContainText(
    "leave it open",
  );
  await clean(page);
  await page.context().close();
});

test("an estimate is signed on the glass; an empty field is no signature; a newer estimate makes it void", async ({
  browser,
}) => {
  const context = await browser.newContext({ viewport: phone, hasTouch: true });
  const page = await context.newPage();
  await quick(page);
  const complaints = watch(page);
  const number = await server.own("J-0145");
  await page.goto(`${server.url}/jobs/${number}/estimate`);
  const each = page.getByLabel(/^Line 1, price of one/);
  const running = page.locator("[data-running]");
  const before = await running.textContent();
  await each.fill("100");
  await expect(running).not.toHaveText(before);
  await page.getByRole("button", { name: "Give this estimate" }).click();
  await page.getByLabel("Who signs").fill("B. Tenant");
  await page.getByRole("button", { name: "Sign and agree" }).click();
  await expect(page.getByText("Nothing is written there")).toBeVisible();
  const glass = page.locator("canvas.glass");
  await glass.scrollIntoViewIfNeeded();
  const box = await glass.boundingBox();
  await page.mouse.move(box.x + 20, box.y + 50);
  await page.mouse.down();
  for (let n = 1; n < 20; n++)
    await page.mouse.move(box.x + 20 + n * 10, box.y + 50 + 20 * Math.sin(n));
  await page.mouse.up();
  await clean(page);
  await page.getByRole("button", { name: "Sign and agree" }).click();
  await expect(page.getByText(/^Agreed to by B\. Tenant/)).toBeVisible();
  await expect(
    page.getByRole("img", { name: "Signature of B. Tenant" }),
  ).toBeVisible();
  await page.getByText("A new estimate").click();
  await page.getByRole("button", { name: "Give this estimate" }).click();
  await expect(page.getByText("Void:")).toBeVisible();
  await clean(page);
  expect(complaints).toEqual([]);
  await context.close();
});

test("the camera is on the step that wants a photo, and the photo settles it; a ring and a word say which wire", async ({
  browser,
}) => {
  await openSigned(browser, server.url, "J-4102", "quenby-qd62", ["belt"]);
  const context = await browser.newContext({ viewport: phone, hasTouch: true });
  const page = await context.newPage();
  await quick(page);
  const complaints = watch(page);
  await page.goto(`${server.url}/jobs/J-4102/floor`);
  const camera = page.locator("form.camera input[type=file]");
  for (let n = 0; n < 12 && (await camera.count()) === 0; n++)
    await doneStep(page);
  await expect(page.getByText("Take it now")).toBeVisible();
  await clean(page);
  await camera.first().setInputFiles(PICTURE);
  await expect(page.locator(".noteline .tag.go").first()).toHaveText("noted");
  await expect(page.locator(".stepphotos img")).toHaveCount(1);

  await page.goto(`${server.url}/jobs/J-4102/photos`);
  await page.locator("summary", { hasText: "Picture" }).click();
  await page.locator("[data-photo] img").click({ position: { x: 60, y: 40 } });
  const x = page.getByLabel("From the left, %");
  await expect(x).not.toHaveValue("50");
  await x.fill("140");
  await page.getByLabel("What it is").fill("blue: to the switch");
  await page.getByRole("button", { name: "Mark it" }).click();
  await expect(page.getByRole("alert")).toContainText("outside the photo");
  await expect(page.getByLabel("What it is")).toHaveValue(
    "blue: to the switch",
  );
  await x.fill("30");
  await page.getByRole("button", { name: "Mark it" }).click();
  await expect(page.locator(".rings text")).toHaveText("blue: to the switch");
  await clean(page);
  // Asked again in practice, without its word; what it is follows from the job.
  await page.goto(`${server.url}/practice/drill/photo`);
  await expect(page.locator(".photo circle")).toHaveCount(2);
  await expect(page.locator(".photo text")).toHaveCount(0);
  await expect
    .poll(() => page.locator(".photo img").evaluate((i) => i.naturalWidth))
    .toBeGreaterThan(0);
  await clean(page);
  await page.getByRole("button", { name: "blue: to the switch" }).click();
  await expect(page.locator("main")).toContainText(
    "Right. So it was marked in J-4102.",
  );
  expect(complaints).toEqual([]);
  await context.close();
});
