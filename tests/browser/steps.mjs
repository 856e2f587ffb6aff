// What a repairer does, in words, so that the tests read like a job.
import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { expect } from "@playwright/test";

export const desktop = { width: 1280, height: 800 };
export const phone = { width: 390, height: 844 };

const axe = readFileSync(
  createRequire(import.meta.url).resolve("axe-core/axe.min.js"),
  "utf8",
);

// What is measured by where each word and button lies: most of the work of looking.
const seen = ["color-contrast", "target-size"];

/** Accessibility faults of the page as it stands: the rule and the places. Colours and sizes only where asked for. */
async function accessibilityFaults(page, closer) {
  if (!(await page.evaluate(() => "axe" in window))) await page.evaluate(axe);
  const runOnly = dark.has(page)
    ? { type: "rule", values: ["color-contrast", "link-in-text-block"] }
    : ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"];
  const rules = {
    // What is called by its name is found by what is read on it.
    ...(!dark.has(page) && {
      "label-content-name-mismatch": { enabled: true },
    }),
    ...(!dark.has(page) &&
      !closer &&
      Object.fromEntries(seen.map((rule) => [rule, { enabled: false }]))),
  };
  return page.evaluate(
    async ([runOnly, rules]) => {
      // The bar of acts stands over what can be scrolled from under it; at the end of the page it covers nothing.
      const at = scrollY;
      scrollTo(0, document.documentElement.scrollHeight);
      const { violations } = await window.axe.run(document, {
        runOnly,
        rules,
        resultTypes: ["violations"],
      });
      scrollTo(0, at);
      return violations.map(
        ({ id, nodes }) =>
          `${id}: ${nodes.map(({ target }) => target.join(" ")).join(", ")}`,
      );
    },
    [runOnly, rules],
  );
}

const light = new WeakSet();
const dark = new WeakSet();

/** The colours differ between light and dark, not the pages: only they are looked at in the dark. */
export const inTheDark = (page) => dark.add(page);

/** From here on pages that other tests look at closely are not looked at again in this one. */
export const lightly = (page) => light.add(page);

/** Looked at closely again. */
export const closely = (page) => light.delete(page);

/** What a page is made of, words left out: each element by its tag, class, role and state within the two it stands in, and,
 *  for what is only seen, by its class within the one it stands in. */
const madeOf = (page) =>
  page.evaluate(() => {
    const told = ["role", "type", "aria-hidden", "hidden", "disabled", "open"];
    const made = new Set();
    const look = (element) =>
      [
        element.localName,
        element.getAttribute("class") ?? "",
        element.disabled ?? "",
        element.getAttribute("aria-pressed") ?? "",
        element.getAttribute("aria-current") ?? "",
      ].join(".");
    const walk = (element, within) => {
      const own = [
        element.localName,
        element.getAttribute("class") ?? "",
        ...told.map((a) => element.getAttribute(a) ?? ""),
        ["aria-label", "aria-labelledby", "alt", "title", "href"]
          .map((a) => (element.getAttribute(a) ? 1 : 0))
          .join(""),
        [...element.childNodes].some((n) => n.nodeType === 3 && n.data.trim())
          ? "t"
          : "",
      ].join(".");
      made.add(`${within.join(">")}>${own}`);
      made.add(`seen ${look(element.parentElement)}>${look(element)}`);
      if (element.localName === "svg") return;
      for (const child of element.children) walk(child, [within.at(-1), own]);
    };
    walk(document.body, ["", ""]);
    const screen = `${innerWidth} ${document.documentElement.dataset.theme ?? ""} `;
    return [...made].map((m) =>
      m.startsWith("seen ") ? `seen ${screen}${m.slice(5)}` : screen + m,
    );
  });
const looked = { light: new Set(), dark: new Set() };

/** No accessibility faults and nothing wider than the screen. */
export async function clean(page) {
  if (light.has(page)) return;
  await expect(page.locator(".htmx-request")).toHaveCount(0);
  const look = async () => {
    // A page on which nothing is new is not looked at again by this worker.
    const made = await madeOf(page);
    const shown = looked[dark.has(page) ? "dark" : "light"];
    const unknown = made.filter((m) => !shown.has(m));
    if (unknown.length === 0) return;
    const closer = unknown.some((m) => m.startsWith("seen "));
    expect(await accessibilityFaults(page, closer), page.url()).toEqual([]);
    for (const m of made) shown.add(m);
  };
  await look().catch(async (fault) => {
    // The page was left while it was looked at: the one that came is looked at instead.
    if (!/context was destroyed/.test(fault.message)) throw fault;
    await page.waitForLoadState();
    return look();
  });
  const overflow = await page.evaluate(
    () =>
      document.documentElement.scrollWidth -
      document.documentElement.clientWidth,
  );
  expect(
    overflow,
    `${page.url()} is wider than the screen`,
  ).toBeLessThanOrEqual(0);
}

/** The pause against double taps is tested with gloves in floor.spec; elsewhere it would only be waited for. */
export const quick = (page) =>
  page.addInitScript(() => localStorage.setItem("idrum.pause", "60"));

/** Collects everything the page complains about and everything it asks of elsewhere. */
export function watch(page) {
  const complaints = [];
  page.on("pageerror", (error) => complaints.push(String(error)));
  page.on("console", (message) => {
    if (
      message.type() === "error" &&
      !/status of (409|422)/.test(message.text())
    )
      complaints.push(message.text());
  });
  page.on("request", (request) => {
    const { hostname } = new URL(request.url());
    if (hostname !== "127.0.0.1" && !request.url().startsWith("blob:"))
      complaints.push(`asked ${request.url()}`);
  });
  return complaints;
}

export async function openJob(
  page,
  url,
  { layout, place, complaint, facts = [] },
) {
  await page.goto(url);
  await page.getByRole("link", { name: "Open a job" }).click();
  await clean(page);
  await page.getByRole("link", { name: layout }).first().click();
  await expect(page.getByLabel("Customer and place")).toBeVisible();
  await clean(page);
  await page.getByLabel("Customer and place").fill(place);
  await page.getByLabel("Age, years").fill("9");
  await page.getByLabel("Loads a week").fill("6");
  for (const fact of facts)
    await page.getByRole("checkbox", { name: fact }).check();
  await page.getByRole("checkbox", { name: complaint, exact: true }).check();
  await page.getByLabel("In the user's words").fill("It began on Sunday.");
  await page.getByRole("button", { name: "Open the job" }).click();
  await expect(page).toHaveURL(/\/find$/);
}

/** Answers whatever check is advised, until the advice is to open and look, or to decide; then does so. Says which it was. */
export async function findCause(page, answers) {
  for (let n = 0; n < 16; n++) {
    await clean(page);
    const act = page.locator(".now button.main[data-key=Enter]");
    if (await act.isVisible()) {
      const words = await act.textContent();
      await act.click();
      await expect(page).toHaveURL(/\/strip$/);
      return words.includes("Open up") ? "open" : "decide";
    }
    const heading = (await page.locator("#now-title").textContent()).trim();
    const eyebrow = await page.locator(".now .eyebrow").first().textContent();
    const known = answers.find(([question]) => heading.includes(question));
    await page
      .locator("form[data-kind=finding-answered]")
      .first()
      .getByRole("button", { name: known ? known[1] : "Can't tell" })
      .click();
    // The picture changes without a full reload.
    await expect(page.locator(".now .eyebrow").first()).not.toHaveText(eyebrow);
  }
  throw new Error("Sixteen checks and still no decision");
}

/** Runs down what lies open: [part, look, answer] each; then decides what was found. */
export async function walkRound(page, looks, decisions) {
  await page
    .getByRole("link", { name: "Run down what lies open" })
    .first()
    .click();
  await expect(
    page.getByRole("heading", { name: "Run down what lies open" }),
  ).toBeVisible();
  await clean(page);
  for (const [part, look, answer] of looks) {
    const button = page
      .getByRole("region", { name: part, exact: true })
      .getByRole("group", { name: look, exact: true })
      .getByRole("button", { name: answer, exact: true });
    await button.click();
    await expect(button).toHaveAttribute("aria-pressed", "true");
  }
  for (const [cause, decision] of decisions) {
    const found = page.getByRole("region", { name: `Found: ${cause}` });
    await found.getByRole("button", { name: decision }).click();
    await expect(found).toHaveCount(0);
  }
  await clean(page);
}

export async function sign(page) {
  await expect(
    page.getByRole("heading", { name: "Make it safe" }),
  ).toBeVisible();
  await clean(page);
  // Nothing ticked: refused, with the reason at the page.
  await page.getByLabel("Signed by").fill("A. Hand");
  await page.getByRole("button", { name: "Sign and start" }).click();
  await expect(page.getByRole("alert")).toContainText("Not confirmed");
  await expect(page.getByLabel("Signed by")).toHaveValue("A. Hand");
  for (const box of await page.locator("input[name=items]").all())
    await box.check();
  await page.getByRole("button", { name: "Sign and start" }).click();
  await expect(page).toHaveURL(/\/floor$/);
}

/** Records the step of floor mode that is shown: after a step has changed, taps within 0.7 s are not taken. */
export async function doneStep(page) {
  const before = await page.locator(".floor").getAttribute("data-step");
  await expect(page.locator("body[data-pausing]")).toHaveCount(0);
  await page.locator("button[form=done]").click();
  // After the last step there is no floor any more.
  await expect(page.locator(`.floor[data-step="${before}"]`)).toHaveCount(0);
}

/** Goes through floor mode until its last step has led on to the page named; every tenth view is checked for
 * accessibility. */
export async function floor(page, to, { each } = {}) {
  // The page that led here may still be shown: nothing is read from it.
  await expect(page.locator(".floor")).toBeVisible();
  for (let n = 0; n < 70; n++) {
    if ((await page.locator(".floor").count()) === 0) {
      await expect(page).toHaveURL(new RegExp(`/${to}$`));
      await expect(page.locator("body[data-pausing]")).toHaveCount(0);
      return n;
    }
    if (n % 10 === 0) await clean(page);
    // What was asked between two steps may have been the last thing on the floor.
    if ((await each?.(page, n)) === "asked") continue;
    for (const box of await page.locator("#done input[type=checkbox]").all())
      await box.check();
    await doneStep(page);
  }
  throw new Error("The floor has no end");
}

/** A glue that bears a load sooner than any does: the wait itself is tested, not sat out. */
export const bearsAfter = (page, minutes) =>
  page
    .locator("input[name=handlingMinutes]")
    .evaluate((field, words) => (field.value = words), String(minutes));

export async function fitAll(page) {
  for (let n = 0; n < 8; n++) {
    await clean(page);
    const owed = page.locator("form[data-kind=owed-settled] button.go");
    const on = page.getByRole("button", { name: "Rebuild, step by step" });
    if (await owed.isVisible()) {
      await owed.click();
      await expect(page).toHaveURL(/\/floor$/);
      return;
    }
    if (await on.isVisible()) {
      await on.click();
      await expect(page).toHaveURL(/\/floor$/);
      return;
    }
    const why = page.getByRole("button", { name: "Looked: nothing else" });
    const part = page.locator(
      "form[data-kind=part-fitted]:not([hidden]) button[data-key=Enter]",
    );
    // Whatever this part asks for first is there before it is looked at.
    await expect(on.or(why).or(part).first()).toBeVisible();
    if (await on.isVisible()) continue;
    if (await why.isVisible()) {
      await why.click();
      await expect(why).toHaveCount(0);
    }
    const title = await page.locator("#now-title").textContent();
    await page
      .locator("form[data-kind=part-fitted] button[data-key=Enter]")
      .click();
    await expect(page.locator("#now-title")).not.toHaveText(title);
  }
  throw new Error("Fitting has no end");
}

export async function proveAll(page) {
  for (let n = 0; n < 8; n++) {
    await clean(page);
    if (/\/close$/.test(page.url())) return;
    const on = page.getByRole("button", { name: "Go on to Close" });
    if (await on.isVisible()) {
      await on.click();
      await expect(page).toHaveURL(/\/close$/);
      return;
    }
    const again = page.getByRole("button", { name: "All of it so" });
    if (await again.isVisible()) {
      await again.click();
      await expect(again).toHaveCount(0);
      continue;
    }
    const value = page.getByLabel(/^Reading/);
    if (await value.isVisible()) await value.fill("6,5");
    const title = await page.locator("#now-title").textContent();
    await page.locator("form[data-kind=proof-recorded] button.go").click();
    await expect(page.locator("#now-title")).not.toHaveText(title);
  }
  throw new Error("Proving has no end");
}

/** Opens a job up to its signature, for the parts named. */
export async function openSigned(browser, url, number, layoutId, targets) {
  const jobId = crypto.randomUUID();
  const post = async (event) => {
    const answer = await fetch(`${url}/api/v1/jobs/${jobId}/events`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ id: crypto.randomUUID(), ...event }),
    });
    if (!answer.ok) throw new Error(await answer.text());
  };
  const card = { layoutId, place: "Cellar 3", ageYears: 9, usesPerWeek: 6 };
  await post({ kind: "opened", number, machine: card });
  await post({
    kind: "targets-chosen",
    targets,
    faultId: "",
    waysIn: {},
    reason: "What it came for",
  });
  const desk = await (await browser.newContext()).newPage();
  await desk.goto(`${url}/jobs/${number}/strip`);
  for (const box of await desk.locator("input[name=items]").all())
    await box.check();
  await desk.getByLabel("Signed by").fill("Berta");
  await desk.getByRole("button", { name: "Sign and start" }).click();
  await expect(desk).toHaveURL(/floor$/);
  await desk.context().close();
}
