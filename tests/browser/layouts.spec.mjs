// Layouts of the shop's own: brought in, refused at the line, started anew, changed by two people, compared, deleted.
import { readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { startServer } from "./server.mjs";
import { clean, desktop, phone, watch } from "./steps.mjs";

let server;
test.beforeAll(async () => {
  server = await startServer();
});
test.afterAll(() => server.stop());

const shipped = () =>
  JSON.parse(
    readFileSync(
      new URL("../../content/layouts/quenby-qc30.json", import.meta.url),
    ),
  );

function file(name, layout) {
  const path = join(tmpdir(), name);
  writeFileSync(
    path,
    typeof layout === "string" ? layout : JSON.stringify(layout, null, 2),
  );
  return path;
}

for (const [device, viewport] of [
  ["desktop", desktop],
  ["phone", phone],
]) {
  test(`a broken file is refused at its line, a good one tried and taken, ${device}`, async ({
    browser,
  }) => {
    const page = await (await browser.newContext({ viewport })).newPage();
    const complaints = watch(page);
    await page.goto(`${server.url}/machines/file`);
    await clean(page);
    const broken = {
      ...shipped(),
      id: `own-${device}`,
      title: "Own <b>one</b>",
    };
    broken.operations[3].needs = [["nowhere"]];
    const text = JSON.stringify(broken, null, 2);
    const line = text
      .split("\n")
      .findIndex((words) => words.includes('"nowhere"'));
    await page
      .getByLabel("Layout file")
      .setInputFiles(file(`broken-${device}.json`, text));
    await page.getByRole("button", { name: "Check it" }).click();
    await expect(page.getByRole("alert")).toContainText(
      `Line ${line + 1}. There is no operation 'nowhere'.`,
    );
    await expect(page.getByLabel("Its text")).toHaveValue(/"nowhere"/);
    await clean(page);
    // Mended in the text itself; markup in a title is shown as text.
    await page.getByLabel("Its text").evaluate(
      (field, words) => {
        field.value = words;
        field.dispatchEvent(new Event("input", { bubbles: true }));
      },
      text.replace('"nowhere"', '"top-up"'),
    );
    await page.getByRole("button", { name: "Check the text" }).click();
    await expect(page.getByText("Sound: Own <b>one</b>")).toBeVisible();
    await clean(page);
    await page
      .getByRole("button", { name: "Take it among the shop's machines" })
      .click();
    await expect(page.locator("h1")).toHaveText("Own <b>one</b>");
    await page.getByRole("button", { name: "Delete this layout" }).click();
    await expect(page).toHaveURL(/\/machines\?deleted=1$/);
    await expect(page.getByText("Own <b>one</b>")).toHaveCount(0);
    expect(complaints).toEqual([]);
  });
}

test("what is no JSON says where it breaks off, and nothing is lost", async ({
  page,
}) => {
  await page.goto(`${server.url}/machines/file`);
  await page
    .getByLabel("Its text")
    .fill('{\n  "format": "idrum-layout",\n  oops');
  await page.getByRole("button", { name: "Check the text" }).click();
  await expect(page.getByRole("alert")).toContainText("Line 3. Not JSON");
  await expect(page.getByLabel("Its text")).toHaveValue(/oops/);
});

test("a new machine from the nearest, changed by two people, compared with where it came from", async ({
  browser,
}) => {
  const one = await (await browser.newContext({ viewport: phone })).newPage();
  const two = await (await browser.newContext({ viewport: desktop })).newPage();
  const complaints = [...watch(one)];
  await one.goto(`${server.url}/machines/new?from=marlune-mg61`);
  await clean(one);
  await one.getByLabel("Its name").fill("Of the fire station");
  await one.getByLabel("Its id").fill("Not An Id");
  await one.getByRole("button", { name: "Start it" }).click();
  await expect(one.getByRole("alert")).toContainText("Small letters");
  await expect(one.getByLabel("Its name")).toHaveValue("Of the fire station");
  await one.getByLabel("Its id").fill("fire-station");
  await one.getByRole("button", { name: "Start it" }).click();
  await expect(one).toHaveURL(/\/machines\/fire-station\/edit$/);
  await clean(one);
  const step = `${server.url}/machines/fire-station/edit?step=front-screws`;
  await one.goto(step);
  await two.goto(step);
  await clean(two);
  await one.getByLabel("How many").fill("4");
  await one.getByLabel("Minutes out").fill("3 2 1");
  await one.getByRole("button", { name: "Store", exact: true }).click();
  await expect(one.getByRole("alert")).toContainText("from low to high");
  await expect(one.getByLabel("How many")).toHaveValue("4");
  await one.getByLabel("Minutes out").fill("1 2 4");
  await one.getByRole("button", { name: "Store", exact: true }).click();
  await expect(one.getByRole("status")).toContainText("next version");
  // The second writes over nothing: he is told, and his words stand.
  await two.getByLabel("Why, or how").fill("Mine.");
  await two.getByRole("button", { name: "Store", exact: true }).click();
  await expect(two.getByRole("alert")).toContainText("meanwhile");
  await expect(two.getByLabel("Why, or how")).toHaveValue("Mine.");
  await clean(two);
  await two.getByRole("link", { name: "Compare" }).first().click();
  await clean(two);
  await two.goto(
    `${server.url}/machines/compare?a=marlune-mg61&b=fire-station`,
  );
  await expect(two.getByText("2 → 4")).toBeVisible();
  await clean(two);
  // A step that this machine does not have, and a fact.
  await one.goto(`${server.url}/machines/fire-station/edit?step=bumper-out`);
  await one.getByRole("button", { name: /take it out/ }).click();
  await expect(one.getByRole("status")).toContainText("next version");
  await one
    .getByLabel("Is the door round or angular?")
    .selectOption({ label: "Round" });
  await one.getByRole("button", { name: "Store", exact: true }).click();
  await expect(one.getByRole("status")).toContainText("next version");
  await expect(one.getByLabel("Is the door round or angular?")).toHaveValue(
    "round",
  );
  // What Idrum came with is read-only.
  await one.goto(`${server.url}/machines/marlune-mg61/edit`);
  await expect(one.getByText("it is read-only")).toBeVisible();
  await clean(one);
  expect(complaints).toEqual([]);
});

test("no complaint: everything that wears is ticked region by region and stripped for", async ({
  browser,
}) => {
  const page = await (await browser.newContext({ viewport: phone })).newPage();
  await page.goto(`${server.url}/jobs/new?machine=marlune-mf20`);
  await page.getByLabel("Customer and place").fill("Second-hand");
  await page.getByRole("button", { name: "Open the job" }).click();
  await page.getByRole("button", { name: /recondition the machine/ }).click();
  await expect(page.locator("h1")).toHaveText(/Everything that wears/);
  await clean(page);
  await expect(page.getByRole("group")).not.toHaveCount(0);
  // What it takes against what it brings, anew with each tick.
  const worth = page.locator("#worth");
  const before = await worth.locator(".costs").innerText();
  await page.getByLabel("What it will sell for").fill("1000");
  await page.getByLabel("What it will sell for").press("Tab");
  await expect(worth).toContainText(/are left of EUR 1000/);
  await page.getByRole("checkbox", { name: /^Belt/ }).uncheck();
  await expect(worth.locator(".costs")).not.toHaveText(before);
  await page.getByLabel("What it will sell for").fill("20");
  await page.getByLabel("What it will sell for").press("Tab");
  await expect(worth).toContainText(/more than it brings/);
  await page.getByRole("button", { name: /Strip for all/ }).click();
  await expect(page).toHaveURL(/\/strip$/);
  await clean(page);
});
