// Where a job stands after a run of acts, by the order Core foresaw. No rule of the job and no kind of act stands here: the package says by
// which changes each kind acts (Core's ActEffect), and these are applied.
import before from "./effects-1.js";

/** What acts of a kind do; a package from before it said so is taken to its end by what held then. */
export const effectOf = (pack, kind) => (pack.effects ?? before)[kind] ?? {};

/** The acts that count: without those taken back. */
export function counting(pack, acts) {
  const list = [];
  const back = [];
  for (const act of acts) {
    const said = Object.fromEntries(act.fields);
    const { turns } = effectOf(pack, said.kind);
    const from = turns === "takes-back" ? list : back;
    const to = turns === "takes-back" ? back : list;
    const at = turns ? from.findIndex((a) => a.id === said.eventId) : -1;
    if (at >= 0) to.push(...from.splice(at, 1));
    else if (turns !== "brings-again") list.push({ ...act, said });
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
  for (const act of counting(pack, acts)) {
    if (at.lost) continue;
    step(pack, at, act);
    at.last = act;
  }
  // A package from before the last step led on to the parts has a view between.
  const fitting =
    at.fit.find((key) => !key.startsWith("open")) ?? at.back[0] ?? at.end;
  const next = {
    out: at.out[0] ?? fitting,
    fit: fitting,
    back: at.back[0] ?? at.end,
    end: null,
  };
  at.key = next[at.stage];
  return at;
}

function step(pack, at, act) {
  const effect = effectOf(pack, act.said.kind);
  if (!effect.does || effect.needsShop || effect.turns)
    return lose(at, "an act that needs a new plan from the shop");
  run(pack, at, act, effect.does);
}

function run(pack, at, act, changes) {
  for (const change of changes) {
    const holds = Object.entries(change.when ?? {}).every(([field, values]) =>
      values.includes(act.said[field]),
    );
    if (holds && !at.lost) verbs[change.do](pack, at, act, change);
  }
}

const partOf = (key) => key.split(":")[1];
const stepOf = (pack, key) =>
  pack.steps[key]?.step ?? key.replace(/~.*/, "").split("/").at(-1);

/** What of a step is compared with a field of the act. */
const traits = {
  operation: (pack, key) => pack.steps[key]?.operation,
  step: stepOf,
  part: (_, key) => partOf(key),
};

const verbs = {
  stage(_, at, { said }, { to, by, words }) {
    at.stage = to ?? words[said[by.stage]] ?? at.stage;
  },
  take(pack, at, act, change) {
    if (!change.each) return takeOne(pack, at, act, change);
    const all = (name) =>
      act.fields.filter(([n]) => n === name).map(([, v]) => v);
    all(change.each).forEach((_, i) => {
      const said = { ...act.said };
      for (const field of Object.values(change.by)) said[field] = all(field)[i];
      takeOne(pack, at, { ...act, said }, change);
    });
  },
  trays(_, at, act) {
    Object.assign(at.trays, map(act, "trays"));
  },
  count(pack, at, act, { way }) {
    for (const [group, n] of Object.entries(map(act, "counts"))) {
      const out = way === "out";
      const wanted = out
        ? (pack.steps[at.taken].counts[group] ?? 0) + (at.shift[group] ?? 0)
        : (at.counts[group] ?? 0);
      if (out) at.counts[group] = (at.counts[group] ?? 0) + Number(n);
      if (Number(n) !== wanted)
        at.asks.push({ group, way, counted: Number(n), wanted });
    }
  },
  settle(_, at, { said }) {
    at.asks = at.asks.filter(
      (a) => a.group !== said.fastenerId || a.way !== said.way,
    );
  },
  add(_, at, { said }) {
    at.counts[said.fastenerId] = (at.counts[said.fastenerId] ?? 0) + 1;
  },
  shift(_, at, { said }, { sign }) {
    at.shift[said.fastenerId] =
      (at.shift[said.fastenerId] ?? 0) + sign * Number(said.count);
  },
  choose(pack, at, { said }, { by }) {
    choose(pack, at, said[by.operation], said[by.choice]);
  },
  window(_, at, act, { label }) {
    openWindow(at, act.said.partId, act.madeAt, act.said, label);
  },
  cure(_, at, { said, madeAt }) {
    const part = said.partId;
    const glue = at.glue[part];
    const ends = later(madeAt, glue?.cure ?? 0);
    at.glue[part] = {
      ...glue,
      load: later(madeAt, glue?.handling ?? 0),
      run: ends,
    };
    closeWindow(at, part);
    at.timers.push({ id: `cure:${part}`, label: "Glue cures", ends });
  },
  again(pack, at, { said }, { kinds }) {
    at.fit = [
      ...[...pack.way.fit, ...(pack.again ?? [])].filter(
        (k) => partOf(k) === said.partId && kinds.includes(pack.steps[k]?.kind),
      ),
      ...at.fit,
    ];
  },
  start(_, at, { said, madeAt }) {
    at.timers.push({
      id: said.timerId,
      label: said.label,
      ends: later(madeAt, said.minutes.replace(",", ".")),
    });
  },
  stop(_, at, { said }) {
    at.timers = at.timers.filter((t) => t.id !== said.timerId);
  },
};

/** One step leaves its list. What was said several times in an act is passed over where it is not there. */
function takeOne(pack, at, act, { from, by, through, orElse, each }) {
  const { said } = act;
  const fits = (key) =>
    (!through || pack.steps[key]?.kind === said.kind) &&
    Object.entries(by).every(
      ([trait, field]) =>
        said[field] === undefined ||
        said[field] === "" ||
        traits[trait](pack, key) === said[field],
    );
  const place = at[from].findIndex(fits);
  const part = said[by.part];
  if (place < 0) {
    if (each) return;
    if (orElse && at.glue[part]) return run(pack, at, act, orElse);
    return lose(
      at,
      through ? "an act that was not foreseen" : "a step that was not foreseen",
    );
  }
  const key = at[from][place];
  if (through) {
    // Of other parts, what stands before stays.
    at[from] = at[from].filter(
      (k, i) => i > place || (part && partOf(k) !== part),
    );
    return;
  }
  at[from] = at[from].filter((k) => k !== key);
  at.behind.push(key);
  at.taken = key;
  if (from === "out") at.done++;
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

function choose(pack, at, operation, what) {
  const key = at.out.find((k) => pack.steps[k].operation === operation);
  const choice = key && pack.steps[key].choices[what];
  if (!choice?.foreseen)
    return lose(
      at,
      choice?.why ?? "what you found needs a new plan from the shop",
    );
  if (choice.wasDone) {
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
  if (choice.staysOut) gone.delete(operation);
  at.back = at.back.filter((k) => !gone.has(pack.steps[k].operation));
}

function lose(at, why) {
  at.lost = why;
}
