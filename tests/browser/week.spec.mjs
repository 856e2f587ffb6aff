// The week: somebody calls, it is reserved, driven to, and the job opened of it knows what was said; a calendar is read in and taken back.
import { expect, test } from "@playwright/test";
import { sharedServer } from "./server.mjs";
import { clean, desktop, phone, quick, watch } from "./steps.mjs";

let server;
test.beforeEach(async ({ page }) => {
  server = await sharedServer();
  await quick(page);
});

const day = (on) =>
  new Date(Date.now() + on * 86_400_000).toISOString().slice(0, 10);

test("phone: from the call over the day's list to the complaint of the job", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(phone);
  await page.goto(`${server.url}/week`);
  await clean(page);
  await page.getByRole("link", { name: "Somebody calls" }).click();
  await page
    .getByRole("checkbox", { name: "Thump", exact: false })
    .first()
    .check();
  await page.getByLabel("Which machine?").selectOption("ostrel-ot50");
  await page.getByLabel("Age, years").fill("9");
  await page.getByRole("button", { name: "How long?" }).click();
  await page.getByRole("button", { name: "Reserve it" }).click();
  await expect(
    page.getByRole("heading", { name: "New appointment" }),
  ).toBeVisible();
  await expect(page.getByLabel("Machine", { exact: true })).toHaveValue(
    "ostrel-ot50",
  );
  const usual = await page.getByLabel("Minutes of work, usual").inputValue();
  expect(Number(usual)).toBeGreaterThan(20);
  await page.getByLabel("Day", { exact: true }).fill(day(3));
  await page.getByLabel("Promised from").fill("09:30");
  await page.getByLabel("Promised by").fill("08:00");
  await page.getByLabel("Customer and place").fill("Dairy Hinterau");
  await page.getByLabel("Telephone").fill("0555 0199");
  await page.getByLabel("Address").fill("Hinterau 4");
  await page.getByLabel("In the customer’s words").fill("Since Sunday.");
  await page.getByRole("button", { name: "Keep the appointment" }).click();
  // Said at its field, and what was typed is there.
  await expect(page.getByRole("alert")).toContainText("end before it begins");
  await expect(page.getByLabel("Customer and place")).toHaveValue(
    "Dairy Hinterau",
  );
  await clean(page);
  await page.getByLabel("Promised by").fill("10:30");
  await page.getByRole("button", { name: "Keep the appointment" }).click();
  await expect(page).toHaveURL(/\/week\/day/);
  const stop = page.locator("ol.stops > li", { hasText: "Dairy Hinterau" });
  await expect(stop).toContainText("9:30");
  await expect(stop.getByRole("link", { name: "0555 0199" })).toHaveAttribute(
    "href",
    "tel:05550199",
  );
  await expect(stop.getByRole("list", { name: "What to load" })).toBeVisible();
  await clean(page);
  await stop.getByRole("link", { name: "Open the job" }).click();
  await expect(page.getByLabel("Customer and place")).toHaveValue(
    "Dairy Hinterau",
  );
  await clean(page);
  // What was said on the telephone stands there, to be looked at.
  await expect(
    page.getByRole("checkbox", { name: "Thump", exact: false }).first(),
  ).toBeChecked();
  await page.getByRole("button", { name: "Open the job" }).click();
  await expect(page).toHaveURL(/\/find$/);
  await page.goto(page.url().replace(/find$/, "complaint"));
  await expect(
    page.getByRole("checkbox", { name: "Thump", exact: false }).first(),
  ).toBeChecked();
  await expect(page.getByLabel(/^In the user's words/)).toHaveValue(
    "Since Sunday.",
  );
  await page.goto(`${server.url}/week/day?on=${day(3)}`);
  await expect(stop.getByRole("link", { name: /go on$/ })).toBeVisible();
  await stop.getByText("More").click();
  await stop.getByRole("button", { name: "Called off" }).click();
  await expect(stop).toHaveCount(0);
  await page.getByRole("button", { name: "It holds after all" }).click();
  await expect(stop).toHaveCount(1);
  expect(wrong).toEqual([]);
});

test("desk: a calendar is read in, what was not taken is named, and all of it is taken back", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(desktop);
  await page.goto(`${server.url}/week`);
  await page
    .locator("summary", { hasText: "Calendars, and when the day begins" })
    .click();
  await clean(page);
  const on = day(4).replaceAll("-", "");
  const entry = (uid, start) =>
    `BEGIN:VEVENT\r\nUID:${uid}\r\nDTSTART:${start}\r\nSUMMARY:Mill Obertal\r\nEND:VEVENT\r\n`;
  const read = async (text) => {
    await page.getByLabel(/^Read appointments in/).setInputFiles({
      name: "a.ics",
      mimeType: "text/calendar",
      buffer: Buffer.from(text),
    });
    await page.getByRole("button", { name: "Read in" }).click();
  };
  await read("hello");
  await expect(page.getByRole("alert")).toContainText("no calendar file");
  await read(
    `BEGIN:VCALENDAR\r\nVERSION:2.0\r\n${entry("m1", `${on}T100000`)}${entry("m2", "20010101T100000")}END:VCALENDAR\r\n`,
  );
  await expect(page.getByText("1 new, 0 changed, 0 called off.")).toBeVisible();
  await expect(page.getByText("too long ago")).toBeVisible();
  await expect(page.locator(".week")).toContainText("Mill Obertal");
  await clean(page);
  await page.getByRole("button", { name: "Take all of it back" }).click();
  await expect(
    page.getByText("Taken back: 1 appointment is as before."),
  ).toBeVisible();
  await expect(page.locator(".week")).not.toContainText("Mill Obertal");
  const due = page.getByRole("button", { name: /^Seen to: J-0138/ });
  await due.click();
  await expect(due).toHaveCount(0);
  await page.getByRole("link", { name: "A week on" }).click();
  await expect(page.getByRole("link", { name: "From today" })).toBeVisible();
  expect(wrong).toEqual([]);
});
