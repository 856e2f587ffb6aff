// A shop is brought back from a backup: the phone that worked on since is asked for what it sent, and everything is there once.
import { createServer } from "node:net";
import { expect, test } from "@playwright/test";
import { startServer } from "./server.mjs";
import { doneStep, openJob, phone, quick, watch } from "./steps.mjs";

const freePort = () =>
  new Promise((done) => {
    const probe = createServer().listen(0, "127.0.0.1", () => {
      const { port } = probe.address();
      probe.close(() => done(port));
    });
  });

const PIXEL =
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==";

test("after a restore the phone brings back what it sent since: steps, a photo, a job that was opened", async ({
  browser,
}) => {
  // After a restore it begins anew where it was: on the same port.
  const server = await startServer({ port: await freePort() });
  try {
    const exported = async (number) =>
      (await fetch(`${server.url}/api/v1/jobs/${number}/export`)).json();
    const desk = await (await browser.newContext()).newPage();
    await desk.goto(`${server.url}/shop`);
    const [backup] = await Promise.all([
      desk.waitForEvent("download"),
      desk.getByRole("button", { name: "Back up into a file" }).click(),
    ]);
    const file = await backup.path();

    // The day goes on: two steps and a photo in one job, and a new one.
    const page = await (
      await browser.newContext({ viewport: phone })
    ).newPage();
    const wrong = watch(page);
    await quick(page);
    await page.goto(`${server.url}/jobs/J-0148/floor`);
    for (let n = 0; n < 2; n++) await doneStep(page);
    await expect(page.locator("body[data-pausing]")).toHaveCount(0);
    await page
      .locator("summary", { hasText: "Note, reading, timer, photo" })
      .click();
    await page.getByLabel(/^Photo, kept as soon/).setInputFiles({
      name: "plug.png",
      mimeType: "image/png",
      buffer: Buffer.from(PIXEL, "base64"),
    });
    await expect(page.locator(".stepphotos img")).toHaveCount(1);
    await openJob(page, server.url, {
      layout: "Ostrel OT-50",
      place: "Dairy Hinterau",
      complaint: "Motor runs, drum stands",
    });
    const opened = page.url().split("/").at(-2);
    const before = await exported("J-0148");
    const beforeNew = await exported(opened);

    // The desk brings the backup of before back.
    await desk.goto(`${server.url}/shop`);
    await desk.locator("summary", { hasText: "Bring a backup back" }).click();
    await desk.locator("#backup").setInputFiles(file);
    await desk.getByRole("button", { name: "Bring it back" }).click();
    await expect
      .poll(
        async () => {
          try {
            return (await exported("J-0148")).events.length;
          } catch {
            return 0;
          }
        },
        { timeout: 60_000 },
      )
      .toBe(before.events.length - 3);
    expect((await fetch(`${server.url}/jobs/${opened}/find`)).status).toBe(404);

    // The phone shows any page of the shop, and all of it is there again, once.
    const sent = [];
    page.on("request", (request) => {
      if (request.method() === "POST") sent.push(request.url());
    });
    await page.goto(`${server.url}/`);
    await expect
      .poll(async () => (await exported("J-0148")).events.length, {
        timeout: 60_000,
      })
      .toBe(before.events.length);
    await expect
      .poll(
        async () =>
          (await fetch(`${server.url}/api/v1/jobs/${opened}/export`)).status,
      )
      .toBe(200);
    await expect
      .poll(async () => (await exported(opened)).events.length)
      .toBe(beforeNew.events.length);
    const after = await exported("J-0148");
    expect(after.events.map((e) => e.id)).toEqual(
      before.events.map((e) => e.id),
    );
    expect(after.attachments.map((a) => a.name)).toEqual(
      before.attachments.map((a) => a.name),
    );
    expect((await exported(opened)).jobId).toBe(beforeNew.jobId);
    await expect(page.locator("#waiting")).toBeHidden();
    // Asked once: another page sends nothing more.
    const times = sent.length;
    // Two steps, a photo, and a job that was opened with its complaint.
    expect(times).toBeGreaterThanOrEqual(4);
    await page.goto(`${server.url}/jobs/J-0148/floor`);
    await expect(page.locator("h1")).toBeVisible();
    await page.waitForLoadState("networkidle");
    expect(sent.length).toBe(times);
    // While the shop was away, and the job was not there yet, the live line could not be drawn.
    expect(wrong.filter((w) => !/ERR_CONNECTION|404/.test(w))).toEqual([]);
  } finally {
    await server.stop();
  }
});
