// Taps on a noise and a beat to match: times and sound only. Which part it is, the shop reckons.
import { onShow } from "./page.js";

const FEWEST = 6;
let audio = null;
let beating = null;

function area() {
  return document.querySelector("[data-listen]");
}

function live(hz) {
  const ruler = document.querySelector("svg.rates");
  const line = ruler?.querySelector(".live");
  if (!line) return;
  const [low, high] = [+ruler.dataset.low, +ruler.dataset.high];
  const at = Math.log(hz / low) / Math.log(high / low);
  const x = 4 + 352 * Math.min(1, Math.max(0, at));
  line.setAttribute("visibility", hz > 0 ? "visible" : "hidden");
  line.setAttribute("transform", `translate(${x} 0)`);
}

function show(form, taps) {
  form.querySelector("[data-tapped]").textContent = taps.length;
  form.querySelector("[data-keep]").disabled = taps.length < FEWEST;
  const gaps = taps.slice(1).map((t, i) => t - taps[i]);
  gaps.sort((a, b) => a - b);
  const gap = gaps[gaps.length >> 1];
  form.querySelector("[data-rate]").textContent =
    gaps.length >= 2
      ? `some ${(1000 / gap).toFixed(1)} a second`
      : "Tap here, or the space bar, with each noise";
  if (gaps.length >= 2) live(1000 / gap);
}

function taps(form) {
  return form.querySelector("[data-taps]").value.split(" ").filter(Boolean);
}

function tap(form, at) {
  const field = form.querySelector("[data-taps]");
  const all = taps(form);
  if (all.length >= 500) return;
  if (!form.dataset.began) {
    form.dataset.began = at;
    // What is tapped to a slowed playback is quicker by as much.
    const slowed = [...form.querySelectorAll("audio")].find((a) => !a.paused);
    form.querySelector("[data-slowed]").value = slowed
      ? 1 / slowed.playbackRate
      : 1;
  }
  all.push(Math.round((at - form.dataset.began) * 10) / 10);
  field.value = all.join(" ");
  show(form, all.map(Number));
}

function again(form) {
  form.querySelector("[data-taps]").value = "";
  delete form.dataset.began;
  show(form, []);
}

// The hand is on the glass before the finger is lifted: the moment counts, not the click.
document.addEventListener("pointerdown", (event) => {
  const pad = event.target.closest?.("[data-pad]");
  if (!pad) return;
  event.preventDefault();
  pad.focus();
  tap(pad.form, event.timeStamp);
});
document.addEventListener("keydown", (event) => {
  if (event.code !== "Space" && event.key !== "Enter") return;
  const pad = event.target.closest?.("[data-pad]");
  const free =
    event.code === "Space" &&
    !event.target.closest?.("input,button,textarea,select,summary,a");
  const form =
    pad?.form ?? (free && area()?.querySelector("[data-way=taps][open] form"));
  if (!form) return;
  event.preventDefault();
  if (!event.repeat) tap(form, event.timeStamp);
});

function rate() {
  const field = area()?.querySelector("[data-beat]");
  const hz = Number(field?.value.replace(",", "."));
  return hz >= 0.2 && hz <= 40 ? hz : 0;
}

function click(at) {
  const [tone, gain] = [audio.createOscillator(), audio.createGain()];
  tone.frequency.value = 1800;
  gain.gain.setValueAtTime(0.5, at);
  gain.gain.exponentialRampToValueAtTime(0.001, at + 0.03);
  tone.connect(gain).connect(audio.destination);
  tone.start(at);
  tone.stop(at + 0.04);
}

function beat() {
  if (!beating) return;
  if (!area()?.querySelector("[data-ring]")) return stop();
  const hz = rate();
  const now = audio.currentTime;
  // Clicks are laid a little ahead by the sound's own clock, so that they are even.
  while (hz > 0 && beating.next < now + 0.15) {
    click(Math.max(beating.next, now));
    beating.last = beating.next;
    beating.next = Math.max(beating.next, now) + 1 / hz;
  }
  const share = hz > 0 ? ((now - beating.last) * hz) % 1 : 0;
  area()
    .querySelector("[data-ring]")
    .style.setProperty("stroke-dashoffset", 100 - 100 * Math.max(0, share));
  beating.frame = requestAnimationFrame(beat);
}

function stop() {
  if (beating) cancelAnimationFrame(beating.frame);
  beating = null;
  const button = area()?.querySelector("[data-start]");
  if (button) {
    button.textContent = "Start the beat";
    button.setAttribute("aria-pressed", "false");
  }
}

function start(button) {
  audio ??= new AudioContext();
  audio.resume();
  beating = { next: audio.currentTime + 0.05, last: audio.currentTime };
  button.textContent = "Stop the beat";
  button.setAttribute("aria-pressed", "true");
  beat();
}

document.addEventListener("click", (event) => {
  const at = (what) => event.target.closest?.(what);
  const nudge = at("[data-nudge]");
  if (nudge) {
    const field = nudge.form.elements.beat;
    field.value = ((rate() || 1) * Number(nudge.dataset.nudge)).toFixed(2);
    live(rate());
  } else if (at("[data-start]")) {
    if (beating) stop();
    else start(at("[data-start]"));
  } else if (at("[data-again]")) {
    again(at("[data-again]").form);
  }
});
document.addEventListener("input", (event) => {
  if (event.target.matches?.("[data-beat]")) live(rate());
});
document.addEventListener("change", (event) => {
  if (!event.target.matches?.("[data-hear]")) return;
  for (const field of area().querySelectorAll("[data-sound]"))
    field.value = event.target.value;
});
document.addEventListener("submit", stop);
document.addEventListener("visibilitychange", () => document.hidden && stop());

// Noises marked in the picture of a recording, over as many pieces of it as one likes.
const EDGE = 4;
const WIDE = 352;
const keptAs = (box) => `idrum.marks.${box.dataset.marks}`;
const marksOf = (box) =>
  JSON.parse(sessionStorage.getItem(keptAs(box)) ?? "[]");

function showMarks() {
  const box = document.querySelector("[data-marks]");
  if (!box) return;
  const all = marksOf(box).sort((a, b) => a - b);
  const [from, to] = [+box.dataset.from, +box.dataset.to];
  const picture = box.querySelector("svg");
  for (const old of picture.querySelectorAll(".mark")) old.remove();
  for (const at of all.filter((a) => a >= from && a <= to)) {
    const line = document.createElementNS("http://www.w3.org/2000/svg", "path");
    const x = EDGE + (WIDE * (at - from)) / (to - from);
    line.setAttribute("class", "line hot mark");
    line.setAttribute("d", `M${x} 2V98`);
    picture.append(line);
  }
  const form = box.querySelector("form");
  form.elements.taps.value = all.map((a) => Math.round(a * 1000)).join(" ");
  form.querySelector("[data-keep]").disabled = all.length < FEWEST;
  box.querySelector("[data-marked]").textContent =
    all.length === 1 ? "1 mark" : `${all.length} marks`;
}

function keepMarks(box, all) {
  sessionStorage.setItem(keptAs(box), JSON.stringify(all));
  showMarks();
}

document.addEventListener("click", ({ target, clientX }) => {
  const box = target.closest?.("[data-marks]");
  if (!box) return;
  if (target.closest("[data-unmark]")) return keepMarks(box, []);
  const picture = target.closest("svg");
  if (!picture) return;
  const { left, width } = picture.getBoundingClientRect();
  const [from, to] = [+box.dataset.from, +box.dataset.to];
  const each = ((to - from) * (WIDE + 2 * EDGE)) / WIDE / width;
  const at = from + (clientX - left) * each - (EDGE / WIDE) * (to - from);
  if (at < from || at > to) return;
  // Ten points beside a mark are that mark.
  const near = marksOf(box).filter((a) => Math.abs(a - at) <= 10 * each);
  const rest = marksOf(box).filter((a) => !near.includes(a));
  keepMarks(box, near.length > 0 ? rest : [...rest, at]);
});
document.addEventListener("submit", ({ target }) => {
  const box = target.closest?.("[data-marks]");
  if (box) sessionStorage.removeItem(keptAs(box));
});
onShow(showMarks);
