// Logbook and practice: a job found by what was said, a machine's life by its label (with the link and without), what the log says;
// an exercise on the phone and one stopped as unsafe at the desk, five drills; one put together by hand.
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium, expect, test } from "@playwright/test";
import { sharedServer, startServer } from "./server.mjs";
import { clean, desktop, phone, quick, watch } from "./steps.mjs";

let server;
test.beforeEach(async ({ page }) => {
  server = await sharedServer();
  await quick(page);
});

const rested = (page) =>
  expect(page.locator("body[data-pausing]")).toHaveCount(0);

/** The belt drawn once round all wheels with a finger; drawn anew where it was not taken. */
const layRound = (page) =>
  expect(async () => {
    const wheels = page.locator("svg[data-rehearse]");
    await wheels.scrollIntoViewIfNeeded();
    const box = await wheels.boundingBox();
    await page.mouse.move(box.x + 5, box.y + 5);
    await page.mouse.down();
    for (const [x, y] of [
      [0.98, 0.01],
      [0.98, 0.98],
      [0.02, 0.98],
      [0.02, 0.01],
    ])
      await page.mouse.move(box.x + box.width * x, box.y + box.height * y, {
        steps: 8,
      });
    await page.mouse.up();
    await expect(page.getByLabel("How it lies")).toHaveValue(/^(in,)?in$/, {
      timeout: 2000,
    });
  }).toPass();

/** A label as the printer would lay it down, as a picture. */
async function label(page, tag) {
  await page.goto(`${server.url}/log/labels?tag=${tag}`);
  const code = page.locator(".qrlabel svg.qr");
  await expect(code).toHaveCount(1);
  const picture = await page.locator(".qrlabel").screenshot();
  return { name: "label.png", mimeType: "image/png", buffer: picture };
}

test("desk: a job is found by what was said, narrowed down, and its machine's life read", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(desktop);
  await page.goto(`${server.url}/log`);
  await page.keyboard.press("/");
  await page.keyboard.type("screams weekend");
  await page.keyboard.press("Enter");
  await expect(page.locator("table.jobs tbody tr")).toHaveCount(1);
  await expect(page).toHaveURL(/q=screams/);
  await clean(page);
  await page.goto(`${server.url}/log?part=belt&machine=quenby-qd62`);
  await expect(page.locator("details.more")).toHaveJSProperty("open", true);
  await expect(
    page.getByRole("link", { name: "J-0138", exact: true }),
  ).toBeVisible();
  const [csv] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "As CSV" }).click(),
  ]);
  expect(csv.suggestedFilename()).toBe("logbook.csv");
  await page.goto(`${server.url}/log/machine?tag=QD62-4471`);
  await expect(
    page.getByText("All four rollers dry", { exact: false }),
  ).toBeVisible();
  await clean(page);
  await page.goto(`${server.url}/log/says`);
  await expect(
    page.getByRole("heading", { name: "How long parts live" }),
  ).toBeVisible();
  await clean(page);
  await page.setViewportSize(phone);
  await clean(page);
  expect(wrong).toEqual([]);
});

test("phone: a label is scanned from a picture and opens the machine; a torn one says so", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(phone);
  const picture = await label(page, "QD62-4471");
  await clean(page);
  await page.goto(`${server.url}/log/scan`);
  await clean(page);
  const blank = Buffer.from(
    "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
    "base64",
  );
  await page
    .locator("[data-scanner] input[type=file]")
    .setInputFiles({ name: "torn.png", mimeType: "image/png", buffer: blank });
  await expect(page.locator("[data-said]")).toHaveText(
    /No label of Idrum's is in that picture/,
  );
  await page.locator("[data-scanner] input[type=file]").setInputFiles(picture);
  await expect(page).toHaveURL(/\/log\/machine\?tag=QD62-4471/);
  await expect(page.getByRole("link", { name: "It came back" })).toBeVisible();
  expect(wrong).toEqual([]);
});

test("phone: an exercise is played to its reckoning and counts for nothing", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(phone);
  await page.goto(`${server.url}/practice`);
  await clean(page);
  await page.getByLabel("Machine", { exact: true }).selectOption("quenby-qd62");
  await page.getByRole("button", { name: "A customer calls" }).click();
  await expect(
    page.getByRole("heading", { name: "What do you do next?" }),
  ).toBeVisible();
  await clean(page);
  await rested(page);
  await page
    .locator(".practicerow", { hasText: "Drum turned by hand" })
    .getByRole("button", { name: /^\d/ })
    .click();
  await expect(page.getByText(/^Drum turned by hand: /)).toBeVisible();
  await rested(page);
  await page.getByRole("button", { name: "Supply off and secured" }).click();
  await expect(page.getByRole("button", { name: "Supply on" })).toBeVisible();
  await rested(page);
  await page.getByRole("button", { name: "Nothing found: end it" }).click();
  await expect(page.getByText(/of 100 marks/)).toBeVisible();
  await expect(
    page.getByRole("heading", { name: "What it had" }),
  ).toBeVisible();
  await clean(page);
  const jobs = await (await fetch(`${server.url}/api/v1/jobs`)).json();
  expect(JSON.stringify(jobs)).not.toContain("practice");
  expect(wrong).toEqual([]);
});

test("phone: put together by hand: measured, the belt laid by finger, a screw left over, the earth forgotten", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(phone);
  await page.goto(`${server.url}/practice`);
  await page.getByLabel("Machine", { exact: true }).selectOption("ostrel-ot50");
  await page.getByRole("radio", { name: /by your own hand/ }).check();
  await page.getByRole("button", { name: "A customer calls" }).click();
  const again = page.getByRole("heading", { name: "Put it together again" });
  const now = page.getByRole("heading", { name: "What do you do next?" });
  await expect(now).toBeVisible();
  await rested(page);
  await page
    .locator(".practicerow", { hasText: "Drum turned by hand" })
    .getByRole("button", { name: /^Measure/ })
    .click();
  await expect(page.getByText(/^Drum turned by hand, measured:/)).toBeVisible();
  await clean(page);
  // An act is done once the page counts it: what is pressed on an older page is not taken.
  const made = page.locator("input[name=made]").first();
  const act = async (name) => {
    await rested(page);
    const before = await made.getAttribute("value");
    await page.getByRole("button", { name, exact: true }).click();
    await expect(
      page.locator(`input[name=made][value="${before}"]`),
    ).toHaveCount(0);
  };
  await act("Supply off and secured");
  await expect(page.getByRole("button", { name: "Supply on" })).toBeVisible();
  // The felt: a second is a minute, and pressed at once it slides off.
  await page.locator("#pfix").selectOption("front-felt-worn");
  await act("Put it right, close and prove");
  await expect(again).toBeVisible();
  await expect(page.getByText(/a second here is a minute/)).toBeVisible();
  await expect(page.getByLabel("Joined after, minutes")).toBeHidden();
  await clean(page);
  await act("Press it on now");
  await expect(page.getByText("Out of the trays")).toBeVisible();
  await clean(page);
  // One tray stays full.
  await page
    .locator("select[name^='place.']")
    .first()
    .selectOption({ index: 1 });
  await act("They are in");
  await page.getByRole("checkbox", { name: /Door switch/ }).check();
  await clean(page);
  await page.getByRole("checkbox", { name: /Earth strap/ }).check();
  await act("These are joined; power on");
  await expect(again).toHaveCount(0);
  // Whatever came of it, the next one is laid with the finger and ends with the earth left off.
  await expect(
    now.or(page.getByRole("heading", { name: "What it had" })),
  ).toBeVisible();
  if (await now.isVisible()) {
    await act("Supply off and secured");
    await page.locator("#pfix").selectOption("belt-broken");
    await act("Put it right, close and prove");
    await expect(page.getByText(/^Lay the belt, seen from/)).toBeVisible();
    await layRound(page);
    await expect(page.locator("[data-rehearsed]")).toContainText(
      "round the idler from inside, round the motor pulley",
    );
    await expect(page.getByLabel("How it lies")).toHaveValue("in,in");
    await clean(page);
    await act("It lies so");
    await act("They are in");
    await act("These are joined; power on");
    await expect(page.getByRole("alert")).toContainText("Earth strap");
    await expect(page.getByText(/of 100 marks/)).toHaveCount(0);
  }
  await expect(page.getByText(/slides off/).first()).toBeVisible();
  await clean(page);
  expect(wrong).toEqual([]);
});

test("desk: opening with the supply on ends it; five drills are answered", async ({
  page,
}) => {
  const wrong = watch(page);
  await page.setViewportSize(desktop);
  await page.goto(`${server.url}/practice`);
  await page.getByRole("button", { name: "A customer calls" }).click();
  await page.locator("summary", { hasText: "Open up to a part" }).click();
  await rested(page);
  await page.getByRole("button", { name: "Open", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText(
    "opened with the supply on",
  );
  await expect(page.getByText(/of 100 marks/)).toHaveCount(0);
  await clean(page);
  // By touch: idler and pulley are not seen, the belt is drawn all the same.
  await page.goto(`${server.url}/practice/drill/touch`);
  await clean(page);
  await expect(page.locator(".bytouch .wheel").nth(1)).toHaveCSS(
    "opacity",
    "0",
  );
  await layRound(page);
  await page.getByRole("button", { name: "It lies so" }).click();
  await expect(
    page.locator("p[role=status]", { hasText: /Right\.|Not so\./ }),
  ).toBeVisible();
  await expect(page.locator("svg[data-rehearse] .wheel").nth(1)).toHaveCSS(
    "opacity",
    "1",
  );
  for (const kind of ["screw", "last", "turn", "gap"]) {
    await page.goto(`${server.url}/practice/drill/${kind}`);
    await clean(page);
    await rested(page);
    await page.locator("form.stack .button").first().click();
    await expect(
      page.locator("p[role=status]", { hasText: /Right\.|Not so\./ }),
    ).toBeVisible();
    await clean(page);
  }
  expect(wrong).toEqual([]);
});

test("phone: a drawer's label leads to its count, a wrong count is said, the right one is kept", async ({
  page,
}) => {
  // Its own shop: what the van holds is other tests' matter too.
  const own = await startServer();
  const wrong = watch(page);
  await page.setViewportSize(phone);
  await page.goto(`${own.url}/stock?labels=1`);
  await clean(page);
  const label = page.locator(".qrlabel").first();
  const number = await label.locator("b").textContent();
  const picture = await label.screenshot();
  await page.goto(`${own.url}/stock?in=van-1`);
  await clean(page);
  await page.locator("[data-scanner] input[type=file]").setInputFiles({
    name: "drawer.png",
    mimeType: "image/png",
    buffer: picture,
  });
  const field = page.locator(`[data-count-of="${number}"]`);
  await expect(field).toBeFocused();
  await rested(page);
  await field.fill("two");
  await page.getByRole("button", { name: "Keep what was counted" }).click();
  await expect(page.getByRole("alert")).toContainText(
    "a number from 0 to 9999",
  );
  await expect(field).toHaveValue("two");
  await clean(page);
  const before = await field.getAttribute("aria-label");
  await rested(page);
  await field.fill("3");
  await page.getByRole("button", { name: "Keep what was counted" }).click();
  await expect(page.getByText("Counted and kept.")).toBeVisible();
  await expect(page.locator(`[data-count-of="${number}"]`)).toHaveValue("3");
  expect(before).toContain("here");
  expect(wrong).toEqual([]);
  await own.stop();
});

test("desk: what a van lacks and the other can spare is moved over, and each van is counted by itself", async ({
  page,
}) => {
  const own = await startServer();
  const wrong = watch(page);
  await page.goto(`${own.url}/week`);
  const lacking = page.locator("#lacking");
  await expect(
    lacking.getByRole("heading", { name: "What Van 2 lacks" }),
  ).toBeVisible({ timeout: 20_000 });
  const roller = lacking.locator("li", { hasText: "QD62-ROLLER" });
  await expect(roller).toContainText("2 here, 4 wanted");
  await expect(roller).toContainText("Van 1 has 2 to spare.");
  await expect(lacking).not.toContainText("still being worked out");
  await clean(page);
  await roller.getByRole("button", { name: "Moved over" }).click();
  await expect(
    lacking.getByRole("heading", { name: "What Van 1 lacks" }),
  ).toBeVisible({ timeout: 20_000 });
  await expect(lacking.getByText("QD62-ROLLER")).toHaveCount(0);
  await page.goto(`${own.url}/stock`);
  const row = page.getByRole("row", { name: /QD62-ROLLER/ });
  await expect(row.locator("[data-is='Van 1']")).toHaveText("1");
  await expect(row.locator("[data-is='Van 2']")).toHaveText("4");
  await clean(page);
  await page.getByRole("link", { name: "Count Van 2" }).click();
  await expect(page.locator("h1")).toHaveText("Stock in Van 2");
  await expect(page.getByRole("link", { name: "Count Van 2" })).toHaveAttribute(
    "aria-current",
    "page",
  );
  await expect(page.locator('[data-count-of="QD62-ROLLER"]')).toHaveValue("4");
  await clean(page);
  // Another van is named where the shop is kept, and one that holds something does not go.
  await page.goto(`${own.url}/shop#vans`);
  const vans = page.locator("#vans");
  await vans.getByLabel("What it is called").fill("Shelf");
  await vans.getByRole("button", { name: "Keep" }).click();
  await expect(
    vans.getByRole("group", { name: "Shelf", exact: true }),
  ).toBeVisible();
  await vans.getByLabel("Called").first().fill("");
  await vans.getByRole("button", { name: "Keep" }).click();
  await expect(vans.locator(".field-wrong")).toContainText("Van 1 still holds");
  await clean(page);
  expect(wrong).toEqual([]);
  await own.stop();
});

/** A film of one picture, as a simulated camera shows it. */
async function film(page, picture, file) {
  const [width, height] = [640, 480];
  const gray = await page.evaluate(
    async ([png, width, height]) => {
      const bytes = Uint8Array.from(atob(png), (c) => c.charCodeAt(0));
      const image = await createImageBitmap(new Blob([bytes]));
      const canvas = new OffscreenCanvas(width, height);
      const ink = canvas.getContext("2d");
      ink.fillStyle = "#d8d4c8";
      ink.fillRect(0, 0, width, height);
      // Held somewhat askew, as a hand holds it.
      ink.translate(width / 2, height / 2);
      ink.rotate(0.12);
      const scale = Math.min(
        (0.8 * width) / image.width,
        (0.8 * height) / image.height,
      );
      ink.drawImage(
        image,
        (-image.width * scale) / 2,
        (-image.height * scale) / 2,
        image.width * scale,
        image.height * scale,
      );
      const { data } = ink.getImageData(0, 0, width, height);
      return Array.from({ length: width * height }, (_, i) =>
        Math.round(
          16 + (0.857 * (data[4 * i] + data[4 * i + 1] + data[4 * i + 2])) / 3,
        ),
      );
    },
    [picture.toString("base64"), width, height],
  );
  const frame = Buffer.concat([
    Buffer.from("FRAME\n"),
    Buffer.from(gray),
    Buffer.alloc((width * height) / 2, 128),
  ]);
  writeFileSync(
    file,
    Buffer.concat([
      Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420jpeg\n`),
      ...Array.from({ length: 5 }, () => frame),
    ]),
  );
}

test("phone: the camera reads a drawer's label, and stops by itself", async ({
  page,
}) => {
  await page.setViewportSize(phone);
  await page.goto(`${server.url}/stock?labels=1`);
  const label = page.locator(".qrlabel", { hasText: "GL-CC" });
  const folder = mkdtempSync(join(tmpdir(), "idrum-camera-"));
  const file = join(folder, "label.y4m");
  await film(page, await label.screenshot(), file);
  const browser = await chromium.launch({
    executablePath: test.info().project.use.launchOptions.executablePath,
    args: [
      ...test.info().project.use.launchOptions.args,
      "--use-fake-ui-for-media-stream",
      "--use-fake-device-for-media-stream",
      `--use-file-for-fake-video-capture=${file}`,
    ],
  });
  const seen = await (
    await browser.newContext({ viewport: phone, permissions: ["camera"] })
  ).newPage();
  const wrong = watch(seen);
  await seen.goto(`${server.url}/stock?in=van-2`);
  await seen.getByRole("button", { name: "Use the camera" }).click();
  await expect(seen.locator('[data-count-of="GL-CC"]')).toBeFocused();
  await expect(seen.locator("[data-said]")).toContainText(
    "how many are there?",
  );
  await expect(seen.locator("[data-scanner] video")).toBeHidden();
  await expect(
    seen.getByRole("button", { name: "Use the camera" }),
  ).toBeVisible();
  await clean(seen);
  expect(wrong).toEqual([]);
  await browser.close();
  rmSync(folder, { recursive: true });
});
