// Repairs as a new user tried them: glue at the desk, a change of mind, the keyboard alone, a part on order on the phone.
import { expect, test } from "@playwright/test";
import { sharedServer } from "./server.mjs";
import {
  bearsAfter,
  clean,
  desktop,
  doneStep,
  floor,
  phone,
  quick,
  sign,
  watch,
} from "./steps.mjs";

let server;
test.beforeEach(async ({ page }) => {
  server = await sharedServer();
  await quick(page);
});

async function newJob(page, { layout, place, complaint }) {
  await page.goto(`${server.url}/jobs/new`);
  await page.getByRole("link", { name: layout }).first().click();
  await page.getByLabel("Customer and place").fill(place);
  await page.getByRole("checkbox", { name: complaint, exact: true }).check();
  await page.getByRole("button", { name: "Open the job" }).click();
  await expect(page).toHaveURL(/\/find$/);
}

async function pick(page, part) {
  await page.goto(page.url().replace(/\/[a-z]+(\?.*)?$/, `/find?part=${part}`));
  await page.locator("#reason").fill("Seen.");
  await page.getByRole("button", { name: /^Strip to/ }).click();
  await expect(page).toHaveURL(/\/strip$/);
}

test("desk: a felt is glued, waited for, and not run while it cures", async ({
  browser,
}) => {
  const page = await (
    await browser.newContext({ viewport: desktop })
  ).newPage();
  await quick(page);
  const complaints = watch(page);
  await newJob(page, {
    layout: "Ostrel OT-50",
    place: "Flat 3",
    complaint: "Brown or black streaks on laundry",
  });
  await pick(page, "front-felt");
  await sign(page);
  await floor(page, "fit");
  await expect(page).toHaveURL(/\/fit$/);
  await page.getByRole("button", { name: "Replaced", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("record the coat");
  // Another way or another warmth, another window; the label wins.
  const from = page.getByLabel("Join from, minutes");
  await expect(from).toHaveValue("12");
  const seal = page.getByRole("link", { name: /^Heat-resistant seal/ });
  await seal.click();
  await expect(seal).toHaveAttribute("aria-current", "true");
  await expect(from).toHaveValue("1");
  await page.getByLabel("How warm it is here").selectOption("10");
  await expect(from).toHaveValue("2");
  // The other way in the same warmth, and asked for at one place only.
  await page.getByRole("link", { name: /^Contact cement/ }).click();
  await expect(from).toHaveValue("24");
  await expect(page.getByLabel("How warm it is here")).toHaveValue("10");
  await expect(page.locator("select[name=school]")).toHaveCount(0);
  await from.fill("0.1");
  await page.getByLabel("Join before, minutes").fill("0.05");
  await page.getByRole("button", { name: "Coated now" }).click();
  await expect(
    page.getByText(/lies before the earliest/).first(),
  ).toBeVisible();
  await page.getByLabel("Join before, minutes").fill("0.13");
  await page.getByRole("button", { name: "Coated now" }).click();
  await expect(page.locator("[data-ends]").first()).toBeVisible();
  await page.getByRole("button", { name: "Joined and pressed" }).click();
  await expect(page.getByRole("alert")).toContainText("Too early");
  // The timer rings: the title says so. Then its window is over.
  await expect(page).toHaveTitle(/^⏰/);
  await page.waitForTimeout(2500);
  await page.getByRole("button", { name: "Joined and pressed" }).click();
  await expect(page.getByRole("alert")).toContainText("Too late");
  await page
    .getByRole("link", { name: "Missed: clean and coat again" })
    .click();
  await from.fill("0.02");
  await bearsAfter(page, 0.02);
  await page.getByRole("button", { name: "Coated now" }).click();
  await expect(page.getByText(/^Join between/)).toBeVisible();
  await page.waitForTimeout(1500);
  await page.getByRole("button", { name: "Joined and pressed" }).click();
  await expect(page.getByText(/No heat run before/).first()).toBeVisible();
  await clean(page);
  await page.getByRole("button", { name: "Replaced", exact: true }).click();
  await page.getByRole("button", { name: "Rebuild, step by step" }).click();
  await floor(page, "rebuild");
  await page.goto(page.url().replace(/\/[a-z]+$/, "/prove?proof=run"));
  await page.getByRole("button", { name: "Runs and keeps its rate" }).click();
  await expect(page.getByRole("alert")).toContainText("Glue cures for another");
  await clean(page);
  expect(complaints).toEqual([]);
});

test("change of mind: a second cause joins, the first is left with its reason, the job is reopened", async ({
  page,
}) => {
  await newJob(page, {
    layout: "Quenby QD-62",
    place: "Hostel",
    complaint: "Squeals all the time",
  });
  await pick(page, "idler");
  await pick(page, "rear-roller-left");
  await expect(page.locator(".picture .eyebrow").first()).toContainText(
    "Idler pulley, Rear left roller",
  );
  await page.locator(".found").first().getByText("Decide otherwise").click();
  await page
    .locator(".found")
    .first()
    .getByRole("button", { name: "Leave as it is" })
    .click();
  await expect(page.getByRole("alert")).toContainText("Fill this in");
  await page
    .locator(".found")
    .first()
    .getByLabel("Why")
    .fill("Spins free after all.");
  await page
    .locator(".found")
    .first()
    .getByRole("button", { name: "Leave as it is" })
    .click();
  await expect(page.locator(".picture .eyebrow").first()).not.toContainText(
    "Idler",
  );
  await page.goto(page.url().replace(/\/strip.*$/, "/close"));
  await page
    .getByLabel("Why it is closed with something open")
    .fill("Customer sells it.");
  await page.getByRole("button", { name: "Close the job" }).click();
  await page.getByLabel("Open again because").fill("Kept it after all.");
  await page.getByRole("button", { name: "Open again" }).click();
  await expect(page.getByText("Kept it after all.").first()).toBeVisible();
  await expect(
    page.getByRole("heading", { name: "Ready to close" }),
  ).toHaveCount(0);
  await page.goto(page.url().replace(/\/close.*$/, "/report"));
  await expect(page.getByText("Spins free after all.")).toBeVisible();
  await clean(page);
});

test("keyboard only: the heading has the focus, the first action is within three tabs", async ({
  page,
}) => {
  for (const view of ["find", "strip", "fit", "rebuild", "prove"]) {
    await page.goto(`${server.url}/jobs/J-0149/${view}`);
    expect(await page.evaluate(() => document.activeElement.tagName)).toBe(
      "H1",
    );
    let reached = false;
    for (let n = 0; n < 3 && !reached; n++) {
      await page.keyboard.press("Tab");
      reached = await page.evaluate(() =>
        document.activeElement.matches(
          ".now a, .now button, .now input, .now select, .now textarea",
        ),
      );
    }
    expect(reached, view).toBe(true);
  }
  // After an answer by key the focus is on the new heading, not on the body.
  await page.goto(`${server.url}/jobs/${await server.own("J-0147")}/find`);
  const heading = await page.locator("#now-title").textContent();
  await page.keyboard.press("1");
  await expect(page.locator("#now-title")).not.toHaveText(heading);
  expect(await page.evaluate(() => document.activeElement.tagName)).toBe("H1");
});

test("phone: what is next and its button on the first screen; a missing part is ordered and shown on the bench", async ({
  browser,
}) => {
  const page = await (
    await browser.newContext({ viewport: phone, hasTouch: true })
  ).newPage();
  await quick(page);
  for (const view of [
    "J-0147/find",
    "J-0148/strip",
    "J-0149/rebuild",
    "J-0150/prove",
    "J-0148/floor",
  ]) {
    await page.goto(`${server.url}/jobs/${view}`);
    const button = await page
      .locator(".now .button, .acts .button.go")
      .first()
      .boundingBox();
    expect(button.y + button.height, view).toBeLessThanOrEqual(phone.height);
    const small = await page
      .locator("main a.button, main button:visible")
      .evaluateAll((all) =>
        all
          .filter(
            (b) =>
              b.checkVisibility() && b.getBoundingClientRect().height < 43.5,
          )
          .map((b) => b.textContent.trim()),
      );
    expect(small, view).toEqual([]);
  }
  await page.goto(`${server.url}/jobs/${await server.own("J-0145")}/fit`);
  await page
    .getByRole("link", { name: "Parts: van, order, what came" })
    .click();
  await expect(page.locator("h1")).toContainText("On order, due");
  await page.goto(server.url);
  await expect(page.locator(".needs")).toContainText("Part due");
  // A row opens by a tap anywhere on it.
  await page
    .locator("tr[data-opens-row]", { hasText: "Gamsblick" })
    .locator("td")
    .nth(1)
    .tap();
  await expect(page).toHaveURL(/J-0151\/complaint$/);
  await doneStepOnFloor(page);
});

async function doneStepOnFloor(page) {
  await page.goto(`${server.url}/jobs/${await server.own("J-0148")}/floor`);
  await doneStep(page);
}

test("print: report and plan keep their headings, on A4 and on Letter", async ({
  page,
}) => {
  for (const [view, words] of [
    ["J-0138/report", "Fasteners out"],
    ["J-0148/strip", "Raise the top"],
  ]) {
    await page.goto(`${server.url}/jobs/${view}`);
    await page.emulateMedia({ media: "print" });
    for (const width of [680, 700]) {
      await page.setViewportSize({ width, height: 1000 });
      await expect(
        page.getByText(words, { exact: false }).first(),
      ).toBeVisible();
      await expect(page.locator(".top nav")).toBeHidden();
    }
    if (view.endsWith("report")) {
      const headings = await page
        .locator("table.steps thead")
        .evaluateAll((all) => all.map((t) => getComputedStyle(t).display));
      expect(headings.length).toBeGreaterThan(0);
      expect(new Set(headings)).toEqual(new Set(["table-header-group"]));
      await expect(page.getByText("Minutes taken")).toBeVisible();
      await expect(page.getByText("Signed safe by")).toBeVisible();
    }
    await page.emulateMedia({ media: "screen" });
  }
});
