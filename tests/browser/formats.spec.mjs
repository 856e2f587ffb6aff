// Open formats held against other people's readers: the description of the API, layouts, pages, calendars.
import { createConfig, lintFromString } from "@redocly/openapi-core";
import { expect, test } from "@playwright/test";
import Ajv from "ajv";
import Ajv2020 from "ajv/dist/2020.js";
import addFormats from "ajv-formats";
import { HtmlValidate } from "html-validate";
import ICAL from "ical.js";
import { startServer } from "./server.mjs";

let server;
test.beforeAll(async () => {
  server = await startServer();
});
test.afterAll(async () => {
  await server.stop();
});

const text = async (path) => (await fetch(server.url + path)).text();
const json = async (path) => JSON.parse(await text(path));
const post = (path, body) =>
  fetch(server.url + path, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(body),
  });

test("the description of the API is sound, and the answers are as it says", async () => {
  const source = await text("/openapi/v1.json");
  const problems = await lintFromString({
    source,
    config: await createConfig({
      extends: ["recommended"],
      rules: { "security-defined": "error", "operation-operationId": "error" },
    }),
  });
  expect(
    problems.map((p) => `${p.ruleId}: ${p.message} ${p.location[0]?.pointer}`),
  ).toEqual([]);
  const api = JSON.parse(source);
  const ajv = new Ajv2020({ strict: false, allErrors: true });
  addFormats(ajv);
  ajv.addSchema(api, "api");
  const schemaOf = (path, method, status, kind) =>
    `api#/paths/${path.replaceAll("~", "~0").replaceAll("/", "~1").replaceAll("{", "%7B").replaceAll("}", "%7D")}/${method}/responses/${status}/content/${kind.replaceAll("/", "~1")}/schema`;
  const asSaid = async (path, method, answer) => {
    const kind = answer.headers.get("content-type").split(";")[0];
    const validate = ajv.getSchema(schemaOf(path, method, answer.status, kind));
    expect(
      validate,
      `${method} ${path} says ${answer.status} ${kind}`,
    ).toBeTruthy();
    const body = await answer.json();
    expect(validate(body) ? [] : validate.errors.slice(0, 3), path).toEqual([]);
    return body;
  };
  const layoutId = "ostrel-ot50";
  const get = (path) => fetch(server.url + path);
  await asSaid("/api/v1/layouts", "get", await get("/api/v1/layouts"));
  await asSaid(
    "/api/v1/layouts/{id}/rates",
    "get",
    await get(`/api/v1/layouts/${layoutId}/rates`),
  );
  await asSaid(
    "/api/v1/layouts/{id}",
    "get",
    await get("/api/v1/layouts/ghost"),
  );
  await asSaid("/api/v1/jobs", "get", await get("/api/v1/jobs"));
  await asSaid(
    "/api/v1/jobs/{number}",
    "get",
    await get("/api/v1/jobs/J-0147"),
  );
  for (const [path, good, bad] of [
    [
      "/api/v1/teardown",
      { layoutId, targets: ["belt", "motor"] },
      { layoutId, targets: ["ghost"] },
    ],
    [
      "/api/v1/diagnosis",
      { layoutId, findings: { squeal: "yes" } },
      { layoutId, findings: { squeal: "perhaps" } },
    ],
    [
      "/api/v1/listening/taps",
      { layoutId, tapSeconds: [0, 0.5, 1, 1.5, 2, 2.5, 3, 3.5, 4] },
      { layoutId, tapSeconds: [0] },
    ],
    ["/api/v1/drive", { layoutId }, { layoutId: "ghost" }],
  ]) {
    expect(
      await asSaid(path, "post", await post(path, good)),
    ).not.toHaveProperty("errors");
    const refused = await post(path, bad);
    expect(refused.status).toBe(422);
    expect(await asSaid(path, "post", refused)).toHaveProperty("errors");
  }
});

test("every layout that is given out is one by the schema that is given out", async () => {
  const ajv = new Ajv({ strict: false, allErrors: true });
  const validate = ajv.compile(await json("/api/v1/layouts/schema"));
  const layouts = await json("/api/v1/layouts");
  expect(layouts).toHaveLength(12);
  for (const { id } of layouts) {
    const file = await json(`/api/v1/layouts/${id}`);
    expect(validate(file) ? [] : validate.errors, id).toEqual([]);
    expect(validate({ ...file, surprise: 1 })).toBe(false);
  }
});

test("every page is built of elements that stand where they may", async () => {
  test.slow();
  const html = new HtmlValidate({
    extends: ["html-validate:standard"],
    rules: {
      // Style of the source, not structure.
      "no-trailing-whitespace": "off",
      "void-style": "off",
      "attribute-boolean-style": "off",
      "attribute-empty-style": "off",
      "attr-quotes": "off",
      "no-inline-style": "off",
      "long-title": "off",
      "doctype-style": "off",
      "no-raw-characters": "off",
      // Words and marks of a library.
      "no-unknown-elements": "off",
      "attribute-allowed-values": "off",
      "valid-autocomplete": "off",
      // Axe looks at these in the rendered page.
      "wcag/h30": "off",
      "wcag/h32": "off",
      "text-content": "off",
      "prefer-native-element": "off",
      "no-redundant-role": "off",
      "tel-non-breaking": "off",
    },
  });
  const job = "/jobs/J-0147";
  const found = [];
  for (const path of [
    "/",
    "/jobs/new",
    "/identify",
    "/machines",
    "/machines/quenby-qd62",
    "/machines/quenby-qd62/edit",
    "/machines/compare",
    "/machines/new",
    "/stock",
    "/shop",
    "/week",
    "/week/day",
    "/week/appointment",
    "/log",
    "/log/says",
    "/log/labels",
    "/log/scan",
    "/practice",
    "/practice/drill/rates",
    "/guide",
    "/welcome",
    "/appointment",
    "/pair",
    ...[
      "complaint",
      "find",
      "strip",
      "fit",
      "parts",
      "rebuild",
      "prove",
      "close",
      "report",
      "estimate",
      "floor",
      "gauge",
      "gauge?protocol=capacitor&part=capacitor",
      "belt",
      "listen",
      "round",
      "machine",
      "customer",
      "photos",
    ].map((page) => `${job}/${page}`),
  ]) {
    const answer = await fetch(server.url + path);
    if (answer.status === 404) continue;
    expect(answer.status, path).toBe(200);
    const report = await html.validateString(await answer.text());
    for (const { messages } of report.results)
      found.push(
        ...messages
          .filter((m) => m.severity === 2)
          .map(
            (m) => `${path} ${m.line}:${m.column} ${m.ruleId}: ${m.message}`,
          ),
      );
  }
  expect(found).toEqual([]);
});

test("calendars are read by another reader, line by line as the format wants them", async () => {
  const calendars = ["/week.ics"];
  for (const { number } of await json("/api/v1/jobs"))
    calendars.push(
      ...["heat-run", "returns", "still-quiet"].map(
        (kind) => `/jobs/${number}/${kind}.ics`,
      ),
    );
  let entries = 0;
  for (const path of calendars) {
    const answer = await fetch(server.url + path);
    if (answer.status === 404) continue;
    const written = await answer.text();
    expect(written.replaceAll("\r\n", "")).not.toMatch(/[\r\n]/);
    for (const line of written.split("\r\n"))
      expect(Buffer.byteLength(line), path).toBeLessThanOrEqual(75);
    const calendar = new ICAL.Component(ICAL.parse(written));
    expect(calendar.getFirstPropertyValue("version")).toBe("2.0");
    for (const event of calendar.getAllSubcomponents("vevent")) {
      entries++;
      for (const name of ["uid", "dtstamp", "dtstart", "summary"])
        expect(
          event.getFirstPropertyValue(name),
          `${path} ${name}`,
        ).toBeTruthy();
      const { startDate, endDate } = new ICAL.Event(event);
      expect(endDate.compare(startDate)).toBe(1);
      const sequence = event.getFirstPropertyValue("sequence");
      if (path !== "/week.ics") expect(sequence).toBeGreaterThan(0);
    }
  }
  expect(entries).toBeGreaterThan(3);
});
