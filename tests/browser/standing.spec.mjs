// Where a job stands on a device without a link: glue that is coated, joined, slips. No browser is needed for it.
import { expect, test } from "@playwright/test";
import { standing } from "../../src/Idrum.Web/Assets/js/standing.js";

const began = "2026-11-26T08:00:00.000Z";
const after = (minutes) =>
  new Date(Date.parse(began) + minutes * 60_000).toISOString();
const pack = {
  stage: "fit",
  way: {
    out: [],
    fit: [
      "fit:front-felt:coat",
      "fit:front-felt:join",
      "fit:front-felt:done",
      "fit:belt:done",
    ],
    back: [],
    end: "closed",
  },
  counts: {},
  trays: {},
  odd: [],
  timers: [],
  glue: {},
  done: 3,
  steps: {
    "fit:front-felt:coat": { kind: "glue-coated" },
    "fit:front-felt:join": { kind: "glue-joined" },
    "fit:front-felt:done": { kind: "part-fitted" },
    "fit:belt:done": { kind: "part-fitted" },
  },
};
const act = (kind, minutes, more = {}) => ({
  id: `${kind}-${minutes}`,
  madeAt: after(minutes),
  fields: Object.entries({ kind, partId: "front-felt", ...more }),
});
const coat = act("glue-coated", 0, {
  joinMinutes: "12",
  latestMinutes: "30",
  handlingMinutes: "15",
  cureMinutes: "240",
});
const ends = (at) =>
  Object.fromEntries(at.timers.map((t) => [t.id.split(":")[0], t.ends]));

test("a coat opens a window, a join starts the cure, and what slipped is joined again", () => {
  const open = standing(pack, [coat]);
  expect(ends(open)).toEqual({ join: after(12), close: after(30) });
  expect(open.key).toBe("fit:front-felt:join");
  const joined = standing(pack, [coat, act("glue-joined", 20)]);
  expect(ends(joined)).toEqual({ cure: after(260) });
  expect(joined.glue["front-felt"].load).toBe(after(35));
  expect(joined.key).toBe("fit:front-felt:done");
  const acts = [
    coat,
    act("glue-joined", 20),
    act("part-fitted", 21),
    act("glue-slipped", 25, {
      joinMinutes: "4",
      latestMinutes: "22",
      handlingMinutes: "15",
      cureMinutes: "240",
    }),
  ];
  const slipped = standing(pack, acts);
  expect(ends(slipped)).toEqual({ join: after(29), close: after(47) });
  expect(slipped.key).toBe("fit:front-felt:join");
  const again = standing(pack, [
    ...acts,
    act("glue-joined", 30),
    act("part-fitted", 31),
  ]);
  expect(again.key).toBe("fit:belt:done");
  expect(ends(again)).toEqual({ cure: after(270) });
});

test("glue that was coated before the job was taken along is joined by its own clock, and its timers end with it", () => {
  const at = standing(
    {
      ...pack,
      way: { ...pack.way, fit: pack.way.fit.slice(1) },
      glue: {
        "front-felt": {
          from: after(12),
          until: after(30),
          cure: 240,
          handling: 15,
        },
      },
      timers: [
        { id: "join:1", label: "", ends: after(12), part: "front-felt" },
        { id: "close:1", label: "", ends: after(30), part: "front-felt" },
        { id: "join:2", label: "", ends: after(50), part: "rear-felt" },
      ],
    },
    [act("glue-joined", 15)],
  );
  expect(ends(at)).toEqual({ join: after(50), cure: after(255) });
});

test("what was joined before the job was taken along slips and is joined and called done again", () => {
  const taken = {
    ...pack,
    stage: "back",
    way: { ...pack.way, fit: [], back: ["in:front-on/back"] },
    again: pack.way.fit.slice(0, 3),
  };
  const slip = act("glue-slipped", 25, {
    joinMinutes: "4",
    latestMinutes: "22",
    handlingMinutes: "15",
    cureMinutes: "240",
  });
  const slipped = standing(taken, [slip]);
  expect(slipped.key).toBe("fit:front-felt:join");
  const set = standing(taken, [slip, act("glue-joined", 30)]);
  expect(set.key).toBe("fit:front-felt:done");
  const done = [slip, act("glue-joined", 30), act("part-fitted", 31)];
  expect(standing(taken, done).key).toBe("in:front-on/back");
});

test("a window that was missed is coated once more and joined by the new one", () => {
  const missed = standing(pack, [
    coat,
    { ...coat, id: "again", madeAt: after(45) },
  ]);
  expect(missed.lost).toBeFalsy();
  expect(missed.key).toBe("fit:front-felt:join");
  expect(ends(missed)).toEqual({ join: after(57), close: after(75) });
});
