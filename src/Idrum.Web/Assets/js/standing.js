// Where a job stands after a run of acts, by the order Core foresaw. No rule of the job stands here: acts are put in order, counts added.

/** The acts that count: without those taken back. */
function counting(acts) {
  const list = [];
  const back = [];
  for (const act of acts) {
    const said = Object.fromEntries(act.fields);
    if (said.kind === "undone") {
      const at = list.findIndex((a) => a.id === said.eventId);
      if (at >= 0) back.push(...list.splice(at, 1));
      else list.push({ ...act, said });
    } else if (said.kind === "restored") {
      const at = back.findIndex((a) => a.id === said.eventId);
      if (at >= 0) list.push(...back.splice(at, 1));
    } else {
      list.push({ ...act, said });
    }
  }
  return list;
}

/** Counts, trays of an act: fields of the form name[group]. */
const map = (act, name) =>
  Object.fromEntries(
    act.fields
      .filter(([n]) => n.startsWith(`${name}[`))
      .map(([n, v]) => [n.slice(name.length + 1, -1), v]),
  );

const later = (at, minutes) =>
  new Date(Date.parse(at) + Number(minutes) * 60_000).toISOString();

const plain = ["absent", "already-done", "left-out", "stuck"];
const still = [
  "note-added",
  "reading-taken",
  "photo-added",
  "step-note-ticked",
  "part-ordered",
];

/** Where the job stands: the view to show, what is asked, counts, trays, clocks. */
export function standing(pack, acts) {
  const at = {
    stage: pack.stage,
    out: [...pack.way.out],
    fit: [...pack.way.fit],
    back: [...pack.way.back],
    end: pack.way.end,
    counts: { ...pack.counts },
    trays: { ...pack.trays },
    shift: {},
    asks: [...pack.odd],
    timers: [...pack.timers],
    glue: { ...pack.glue },
    behind: [],
    done: pack.done,
    lost: null,
    last: null,
  };
  for (const act of counting(acts)) {
    if (at.lost) continue;
    step(pack, at, act);
    at.last = act;
  }
  const next = {
    out: at.out[0] ?? (at.fit[0]?.startsWith("open") ? at.fit[0] : at.end),
    fit: at.fit.find((key) => !key.startsWith("open")) ?? at.back[0] ?? at.end,
    back: at.back[0] ?? at.end,
    end: null,
  };
  at.key = next[at.stage];
  return at;
}

function step(pack, at, act) {
  const { said } = act;
  const of = (key) => pack.steps[key] ?? {};
  switch (said.kind) {
    case "operation-done": {
      const key = at.out.find((k) => of(k).operation === said.operationId);
      if (!key) return lose(at, "a step that was not foreseen");
      at.out = at.out.filter((k) => k !== key);
      at.behind.push(key);
      at.done++;
      Object.assign(at.trays, map(act, "trays"));
      for (const [group, n] of Object.entries(map(act, "counts"))) {
        const wanted = (of(key).counts[group] ?? 0) + (at.shift[group] ?? 0);
        at.counts[group] = (at.counts[group] ?? 0) + Number(n);
        if (Number(n) !== wanted)
          at.asks.push({ group, way: "out", counted: Number(n), wanted });
      }
      return;
    }
    case "step-refitted": {
      const key = at.back.find(
        (k) =>
          of(k).operation === said.operationId &&
          k.replace(/~.*/, "").endsWith(`/${said.stepId}`),
      );
      if (!key) return lose(at, "a step that was not foreseen");
      at.stage = "back";
      at.back = at.back.filter((k) => k !== key);
      at.behind.push(key);
      for (const [group, n] of Object.entries(map(act, "counts"))) {
        const wanted = at.counts[group] ?? 0;
        if (Number(n) !== wanted)
          at.asks.push({ group, way: "in", counted: Number(n), wanted });
      }
      return;
    }
    case "problem-noted":
      if (!plain.includes(said.what)) {
        if (said.what === "extra-screw" || said.what === "missing-screw")
          at.shift[said.fastenerId] =
            (at.shift[said.fastenerId] ?? 0) +
            (said.what === "extra-screw" ? 1 : -1) * Number(said.count);
        return;
      }
      return choose(pack, at, said);
    case "count-settled":
      at.asks = at.asks.filter(
        (a) => a.group !== said.fastenerId || a.way !== said.way,
      );
      if (said.why === "found" && said.way === "out")
        at.counts[said.fastenerId] = (at.counts[said.fastenerId] ?? 0) + 1;
      return;
    case "station-entered":
      at.stage =
        { fit: "fit", rebuild: "back", prove: "end" }[said.station] ?? at.stage;
      return;
    case "why-answered":
    case "glue-coated":
    case "glue-joined":
    case "part-fitted": {
      at.stage = "fit";
      const part = said.partId;
      const to = at.fit.findIndex(
        (k) => of(k).kind === said.kind && (!part || k.split(":")[1] === part),
      );
      if (to < 0 && said.kind === "glue-coated" && at.glue[part]) {
        // Its window was missed: cleaned and coated once more, it is joined as before.
        openWindow(at, part, act.madeAt, said, "Glue open: join");
        return;
      }
      if (to < 0) return lose(at, "an act that was not foreseen");
      const kept = (k, i) => i > to || (part && k.split(":")[1] !== part);
      at.fit = at.fit.filter(kept);
      if (said.kind === "glue-coated") {
        openWindow(at, part, act.madeAt, said, "Glue open: join");
      }
      if (said.kind === "glue-joined") {
        const glue = at.glue[part];
        const run = later(act.madeAt, glue?.cure ?? 0);
        at.glue[part] = {
          ...glue,
          load: later(act.madeAt, glue?.handling ?? 0),
          run,
        };
        closeWindow(at, part);
        at.timers.push({ id: `cure:${part}`, label: "Glue cures", ends: run });
      }
      return;
    }
    case "glue-slipped": {
      // Lifted, it is joined and called done once more.
      const part = said.partId;
      at.stage = "fit";
      at.fit = [
        ...[...pack.way.fit, ...(pack.again ?? [])].filter(
          (k) =>
            k.split(":")[1] === part &&
            ["glue-joined", "part-fitted"].includes(of(k).kind),
        ),
        ...at.fit,
      ];
      openWindow(at, part, act.madeAt, said, "Glue tackier: set it again");
      return;
    }
    case "timer-started":
      at.timers.push({
        id: said.timerId,
        label: said.label,
        ends: later(act.madeAt, said.minutes.replace(",", ".")),
      });
      return;
    case "timer-stopped":
      at.timers = at.timers.filter((t) => t.id !== said.timerId);
      return;
    default:
      if (!still.includes(said.kind))
        lose(at, "an act that needs a new plan from the shop");
  }
}

/** The window of a coat; its minutes come with the act. */
function openWindow(at, part, since, said, label) {
  closeWindow(at, part);
  const from = later(since, said.joinMinutes);
  const until = said.latestMinutes && later(since, said.latestMinutes);
  at.glue[part] = {
    from,
    until,
    cure: said.cureMinutes,
    handling: said.handlingMinutes,
  };
  at.timers.push({ id: `join:${part}`, label, ends: from });
  if (until)
    at.timers.push({ id: `close:${part}`, label: "Join before", ends: until });
}

function closeWindow(at, part) {
  at.timers = at.timers.filter(
    (t) =>
      !(
        /^(join|close|cure):/.test(t.id) &&
        (t.part ?? t.id.split(":")[1]) === part
      ),
  );
}

function choose(pack, at, said) {
  const key = at.out.find((k) => pack.steps[k].operation === said.operationId);
  const choice = key && pack.steps[key].choices[said.what];
  if (!choice?.foreseen)
    return lose(
      at,
      said.what === "stuck"
        ? "this step is stuck and there is no other way in"
        : "what you found needs a new plan from the shop",
    );
  if (said.what === "already-done") {
    at.done++;
    at.behind.push(key);
    for (const [group, wanted] of Object.entries(pack.steps[key].counts))
      if (wanted > 0) at.asks.push({ group, way: "out", counted: 0, wanted });
  }
  if (choice.way) {
    at.out = [...choice.way.out];
    at.fit = [...choice.way.fit];
    at.back = [...choice.way.back];
    at.end = choice.way.end;
    return;
  }
  const gone = new Set(choice.drops.map((k) => pack.steps[k]?.operation));
  at.out = at.out.filter((k) => !choice.drops.includes(k));
  if (choice.staysOut) gone.delete(said.operationId);
  at.back = at.back.filter((k) => !gone.has(pack.steps[k].operation));
}

function lose(at, why) {
  at.lost = why;
}
