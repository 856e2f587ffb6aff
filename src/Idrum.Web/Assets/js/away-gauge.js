import { counting } from "./standing.js";

// Measuring from the package: which reading comes next, what was read here, and whether one can be. The verdict over several is the shop's.

/** Under which key of a package an address or an act of gauging is found; null where it is none. */
export function gaugeKey(path, said) {
  if (!/\/gauge(\?|$)/.test(path)) return null;
  const of =
    said ?? Object.fromEntries(new URLSearchParams(path.split("?")[1]));
  return of.protocol
    ? `gauge:${of.protocol}/${of.partId ?? of.part ?? ""}`
    : "gauge";
}

/** The address of a view, so that whoever loads it anew, with or without a link, stands where he stood. */
function addressOf(number, key) {
  const job = `/jobs/${encodeURIComponent(number)}`;
  if (!key) return `${job}/floor`;
  const [protocol, part] = key.split(":")[1]?.split("/") ?? [];
  return protocol
    ? `${job}/gauge?${new URLSearchParams({ protocol, ...(part && { part }) })}`
    : `${job}/gauge`;
}

/** Buttons that lead from view to view of the package. */
function doors(page, pack, mount) {
  for (const door of page.querySelectorAll("[data-mount]:not([data-wired])")) {
    door.dataset.wired = "";
    door.addEventListener("click", () => {
      const key = door.dataset.mount || null;
      history.replaceState(history.state, "", addressOf(pack.number, key));
      mount(pack.number, key);
    });
  }
}

/** Fills in a view of gauging. */
export function gauge(page, pack, job, mount) {
  doors(page, pack, mount);
  const view = page.querySelector("main[data-gauge]");
  if (!view) return;
  const form = view.querySelector("form");
  const readings = counting(pack, job.acts)
    .map(({ said }) => said)
    .filter(
      (said) =>
        said.kind === "gauge-read" &&
        said.protocol === view.dataset.gauge &&
        (said.partId ?? "") === (view.dataset.part ?? ""),
    );
  const places = [...form.querySelectorAll("input[name=position]")];
  const drums = [...form.querySelectorAll("input[name=drumDeg]")];
  const times = (position, drum) =>
    readings.filter(
      (r) =>
        r.position === position &&
        (drum === undefined || (r.drumDeg ?? "0") === drum),
    ).length;
  // The one read least often, in their order; with the drum turned on once all are read as it stands.
  const asked = places.filter((p) => !p.dataset.optional);
  const drum = drums.find((d) => asked.some((p) => !times(p.value, d.value)));
  if (drums.length) (drum ?? drums[0]).checked = true;
  const at = drum?.value;
  const next = asked.reduce((a, b) =>
    times(b.value, at) < times(a.value, at) ? b : a,
  );
  if (next.type === "radio") next.checked = true;
  for (const count of view.querySelectorAll("[data-times]")) {
    const n = times(count.dataset.times, at);
    count.textContent = n === 0 ? "" : n === 1 ? "✓" : `✓ ${n}`;
  }
  view.querySelector("[data-told]").textContent = readings.length
    ? `Read, kept here: ${readings.map((r) => (r.open ? "open" : `${r.value} ${r.unit}`)).join(", ")}.`
    : "";
  const place = () => places.find((p) => p.checked) ?? places[0];
  const show = () => {
    const chosen = place();
    const pictures = [...view.querySelectorAll("div[data-at]")];
    for (const piece of view.querySelectorAll("[data-at]"))
      piece.hidden = piece.dataset.at !== chosen.value;
    if (pictures.every((p) => p.hidden) && pictures[0])
      pictures[0].hidden = false;
  };
  form.addEventListener("change", () => {
    show();
    judge();
  });
  show();
  const field = form.elements.value;
  const judge = () => {
    const { low, high, unit, is } = place().dataset;
    const n = Number(field.value.replace(",", ".").trim());
    const same = form.elements.unit.value === unit;
    field.setCustomValidity(
      !field.value.trim() || Number.isNaN(n)
        ? "A number, as the tool shows it."
        : same && (n < Number(low) || n > Number(high))
          ? `${is}: ${low} to ${high} ${unit} can be. Is it the right unit?`
          : "",
    );
  };
  form.addEventListener("input", judge);
  judge();
  for (const open of form.querySelectorAll("button[name=open]"))
    open.addEventListener("click", () => field.setCustomValidity(""));
}
