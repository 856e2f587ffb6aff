// A machine turned by keys, by mouse and by fingers, taken apart along each part's own motion; the same without a canvas.
import { expect, test } from "@playwright/test";
import config from "./playwright.config.mjs";
import { sharedServer } from "./server.mjs";
import { clean, desktop, phone, watch } from "./steps.mjs";

// Debian's Chromium draws in space without a graphics card only where it is told to.
const launchOptions = {
  ...config.use.launchOptions,
  args: [
    ...config.use.launchOptions.args,
    "--enable-unsafe-swiftshader",
    "--use-angle=swiftshader",
  ],
};

let server;
test.beforeEach(async () => {
  server = await sharedServer();
});

const seen = (page) =>
  page
    .locator("[data-tour]")
    .evaluate((box) => [box.dataset.seen, box.dataset.zoom].join(" "));

const apart = (page) => page.locator("[data-tour]").getAttribute("data-drawn");

/** How many points of the canvas carry the copper of what is chosen. */
const copper = (page) =>
  page.locator("[data-tour] canvas").evaluate(
    (canvas) =>
      new Promise((done) => {
        requestAnimationFrame(() => {
          const sheet = document.createElement("canvas");
          [sheet.width, sheet.height] = [canvas.width, canvas.height];
          const pen = sheet.getContext("2d");
          pen.drawImage(canvas, 0, 0);
          const { data } = pen.getImageData(0, 0, sheet.width, sheet.height);
          let n = 0;
          for (let i = 0; i < data.length; i += 4)
            if (
              data[i + 3] > 200 &&
              data[i] > data[i + 2] + 60 &&
              data[i] > 140
            )
              n++;
          done(n);
        });
      }),
  );

test.use({ launchOptions });

test.describe("in space", () => {
  test("desk: turned by keys, a step off and on, a part is named by list and by tap", async ({
    page,
  }) => {
    const wrong = watch(page);
    await page.setViewportSize(desktop);
    await page.goto(`${server.url}/machines/ostrel-ot50`);
    await page.getByRole("link", { name: "Turn it and take it apart" }).click();
    const canvas = page.locator("[data-tour] canvas");
    await expect(canvas).toBeVisible();
    await expect.poll(() => apart(page)).toBe("0.00");
    const before = await seen(page);
    await canvas.focus();
    await page.keyboard.press("ArrowRight");
    await expect.poll(() => seen(page)).not.toBe(before);
    const turned = await seen(page);
    await page.keyboard.press("+");
    await expect.poll(() => seen(page)).not.toBe(turned);
    // The first step goes off by itself and comes back.
    const first = await page.evaluate(
      () =>
        JSON.parse(document.querySelector("[data-scene]").textContent).steps[0]
          .name,
    );
    await page.keyboard.press(".");
    await expect.poll(() => apart(page)).toBe("1.00");
    await expect(page.locator("[data-tour-said]")).toHaveText(
      new RegExp(`^1 of \\d+: ${first}`),
    );
    await page.getByRole("button", { name: "Put back" }).click();
    await expect.poll(() => apart(page)).toBe("0.00");
    await expect(page.locator("[data-tour-said]")).toHaveText("Whole");
    // The motor is behind closed panels: in question it is dashed, taken out it stands there in full.
    await page.keyboard.press("Home");
    const motor = page.locator('details[data-part="motor"]');
    await motor.locator("summary").click();
    await expect(motor.getByText("Turns blower and belt")).toBeVisible();
    await expect.poll(() => copper(page)).toBeGreaterThan(20);
    const dashed = await copper(page);
    const off = await page.evaluate(() => {
      const { steps } = JSON.parse(
        document.querySelector("[data-scene]").textContent,
      );
      return steps.findIndex((s) => s.off.includes("motor"));
    });
    await page.locator("#tour-at").evaluate((range, at) => {
      range.value = at;
      range.dispatchEvent(new Event("input", { bubbles: true }));
    }, off + 1);
    await expect.poll(() => apart(page)).toBe(`${off + 1}.00`);
    await expect.poll(() => copper(page)).toBeGreaterThan(4 * dashed);
    // A tap in the picture names a part.
    await page.getByRole("link", { name: "Above" }).click();
    await motor.locator("summary").click();
    await expect(motor).not.toHaveAttribute("open");
    await canvas.scrollIntoViewIfNeeded();
    const box = await canvas.boundingBox();
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
    await expect(page.locator("details[data-part][open]")).toHaveCount(1);
    await clean(page);
    expect(wrong).toEqual([]);
  });

  test.describe("phone", () => {
    test.use({ hasTouch: true, viewport: phone });

    test("phone: one finger turns, two bring it nearer, a tap names what is under it", async ({
      page,
    }) => {
      const wrong = watch(page);
      await page.goto(`${server.url}/machines/quenby-qd62/tour?part=idler`);
      const canvas = page.locator("[data-tour] canvas");
      await expect(canvas).toBeVisible();
      await expect(page.locator('details[data-part="idler"]')).toHaveAttribute(
        "open",
      );
      await expect.poll(() => copper(page)).toBeGreaterThan(10);
      await canvas.scrollIntoViewIfNeeded();
      const { x, y, width, height } = await canvas.boundingBox();
      const [cx, cy] = [x + width / 2, y + height / 2];
      const cdp = await page.context().newCDPSession(page);
      const touch = (type, ...points) =>
        cdp.send("Input.dispatchTouchEvent", {
          type,
          touchPoints: points.map(([px, py], id) => ({ x: px, y: py, id })),
        });
      const start = await seen(page);
      await touch("touchStart", [cx, cy]);
      for (let i = 1; i <= 6; i++)
        await touch("touchMove", [cx + 15 * i, cy + 4 * i]);
      await touch("touchEnd");
      await expect.poll(() => seen(page)).not.toBe(start);
      const turned = (await seen(page)).split(" ");
      await touch("touchStart", [cx - 30, cy], [cx + 30, cy]);
      for (let i = 1; i <= 6; i++)
        await touch("touchMove", [cx - 30 - 8 * i, cy], [cx + 30 + 8 * i, cy]);
      await touch("touchEnd");
      await expect
        .poll(async () => Number((await seen(page)).split(" ")[1]))
        .toBeGreaterThan(Number(turned[1]) * 1.3);
      await page.getByRole("link", { name: "Door", exact: true }).tap();
      await expect.poll(() => seen(page)).toMatch(/^-?0\.000 /);
      await page.locator("#tour-at").evaluate((range) => {
        range.value = 0;
        range.dispatchEvent(new Event("input", { bubbles: true }));
      });
      await expect.poll(() => apart(page)).toBe("0.00");
      await page.touchscreen.tap(cx, cy);
      await expect(
        page.locator('details[data-part="idler"]'),
      ).not.toHaveAttribute("open");
      await expect(page.locator("details[data-part][open]")).toHaveCount(1);
      await clean(page);
      expect(wrong).toEqual([]);
    });
  });
});

test("where nothing draws in space the pictures take its place, step by step", async ({
  page,
}) => {
  await page.addInitScript(() => {
    const all = HTMLCanvasElement.prototype.getContext;
    HTMLCanvasElement.prototype.getContext = function (kind, ...rest) {
      return kind.startsWith("webgl") ? null : all.call(this, kind, ...rest);
    };
  });
  await page.setViewportSize(phone);
  await page.goto(`${server.url}/machines/marlune-mf20/tour`);
  await expect(
    page.getByText("This device does not draw in space"),
  ).toBeVisible();
  const flat = page.locator("[data-flat] svg.machine");
  const whole = await flat.getAttribute("aria-label");
  await page.locator("#tour-at").focus();
  await page.keyboard.press("ArrowRight");
  await expect(page.locator("[data-tour-said]")).toHaveText(/^1 of \d+: /);
  // The machine is drawn out first; then things come off.
  await page.locator("#tour-at").evaluate((range) => {
    range.value = 6;
    range.dispatchEvent(new Event("change", { bubbles: true }));
  });
  await expect(page.locator("[data-tour-said]")).toHaveText(/^6 of \d+: /);
  expect(await flat.getAttribute("aria-label")).not.toBe(whole);
  await page.getByRole("link", { name: "Behind" }).click();
  await expect(flat).toHaveAttribute("aria-label", /from behind/);
  await expect(page.locator("[data-tour-said]")).toHaveText(/^6 of \d+: /);
  await clean(page);
});
