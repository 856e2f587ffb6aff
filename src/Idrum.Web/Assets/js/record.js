// The microphone, and files that only the browser can open: one channel of 16 bits at 16 kHz is sent.
import { inTime } from "./lost.js";
import { onShow, page } from "./page.js";
import { dropPieces, keepPiece, piecesOf } from "./store.js";

const RATE = 16_000;
const LONGEST = 5 * 60;
const HALF_AN_HOUR = 30 * 60;
const longestOf = (form) =>
  form.querySelector("[data-how-long]")?.value === "long"
    ? HALF_AN_HOUR
    : LONGEST;
// So often what was recorded since is laid down on the device, s.
const EACH = 5;
let running = null;
let ends = null;
const lockOf = (run) => `idrum.recording.${run}`;

/** Numbers of 16 bits: half an hour is 58 MB so, and twice that as it comes. */
const sixteen = (samples) =>
  Int16Array.from(samples, (s) => Math.max(-1, Math.min(1, s)) * 32767);

/** A WAV file of one channel. samples: of 16 bits. */
export function wav(samples, rate) {
  const bytes = new DataView(new ArrayBuffer(44 + samples.length * 2));
  const text = (at, s) =>
    [...s].forEach((c, i) => bytes.setUint8(at + i, c.charCodeAt(0)));
  text(0, "RIFF");
  bytes.setUint32(4, 36 + samples.length * 2, true);
  text(8, "WAVEfmt ");
  bytes.setUint32(16, 16, true);
  bytes.setUint16(20, 1, true);
  bytes.setUint16(22, 1, true);
  bytes.setUint32(24, rate, true);
  bytes.setUint32(28, rate * 2, true);
  bytes.setUint16(32, 2, true);
  bytes.setUint16(34, 16, true);
  text(36, "data");
  bytes.setUint32(40, samples.length * 2, true);
  new Int16Array(bytes.buffer, 44).set(samples);
  return new File([bytes], "recording.wav", { type: "audio/wav" });
}

/** What the shop does not read is opened here; what cannot be opened it looks at itself. */
export async function asWav(file, form) {
  const head = new Uint8Array(await file.slice(0, 12).arrayBuffer());
  const riff = String.fromCharCode(...head.slice(0, 4), ...head.slice(8, 12));
  if (riff === "RIFFWAVE" && file.size < 8 << 20) return file;
  try {
    const context = new OfflineAudioContext(1, 1, RATE);
    const sound = await context.decodeAudioData(await file.arrayBuffer());
    const most = form.querySelector("[data-how-long]") ? HALF_AN_HOUR : LONGEST;
    const mix = new Float32Array(Math.min(sound.length, most * RATE));
    for (let c = 0; c < sound.numberOfChannels; c++)
      sound
        .getChannelData(c)
        .subarray(0, mix.length)
        .forEach((s, i) => (mix[i] += s / sound.numberOfChannels));
    return wav(sixteen(mix), RATE);
  } catch {
    return file;
  }
}

function wrong(form, words) {
  const field = form.querySelector("[data-record-wrong]");
  field.textContent = words;
  field.hidden = !words;
}

async function start(form) {
  wrong(form, "");
  const button = form.querySelector("[data-record-start]");
  try {
    const stream = await navigator.mediaDevices.getUserMedia({
      audio: {
        echoCancellation: false,
        noiseSuppression: false,
        autoGainControl: false,
        channelCount: 1,
      },
    });
    const context = new AudioContext({ sampleRate: RATE });
    await context.audioWorklet.addModule("/recorder.js");
    const node = new AudioWorkletNode(context, "recorder", {
      numberOfOutputs: 0,
    });
    context.createMediaStreamSource(stream).connect(node);
    running = {
      form,
      stream,
      context,
      chunks: [],
      count: 0,
      run: crypto.randomUUID(),
      laid: 0,
      pieces: 0,
      longest: longestOf(form),
    };
    const call = form.querySelector("[data-call]");
    if (call) call.hidden = running.longest === LONGEST;
    called(form, "");
    awake(true);
    // As long as this page lives, no other offers what it records as broken off.
    const { run } = running;
    navigator.locks?.request(
      lockOf(run),
      () => new Promise((done) => (ends = done)),
    );
    node.port.onmessage = ({ data }) => take(data);
    // A call or a plug pulled ends it: what is there is kept.
    stream.getAudioTracks()[0].addEventListener("ended", finish);
    button.textContent = "Stop and keep";
    form.querySelector("[data-recording]").hidden = false;
  } catch (error) {
    wrong(
      form,
      error.name === "NotAllowedError"
        ? "The microphone is not allowed here: allow it in the browser, or choose a file."
        : error.name === "NotFoundError"
          ? "There is no microphone: choose a file, or tap the rhythm."
          : "The microphone could not be opened: choose a file, or tap the rhythm.",
    );
  }
}

const inWords = (seconds) =>
  seconds < 120
    ? `${Math.floor(seconds)} s`
    : `${Math.floor(seconds / 60)} min ${String(Math.floor(seconds % 60)).padStart(2, "0")} s`;

/** When who stands by hears it, kept with the recording. */
function called(form, seconds) {
  const field = form.querySelector("[data-called]");
  if (!field) return;
  field.value = seconds === "" ? "" : seconds.toFixed(1);
  form.querySelector("[data-call]").textContent =
    seconds === ""
      ? "I hear it now"
      : `Heard at ${inWords(seconds)}. Only now? Tap again`;
}

/** The screen does not sleep while it is recorded: a page that is not seen ends it. */
function awake(wanted) {
  document.body.dataset.recording = wanted ? "yes" : "no";
  document.dispatchEvent(new Event("idrum:recording"));
}

function take(samples) {
  if (!running) return;
  running.chunks.push({
    samples: sixteen(samples),
    at: performance.now() / 1000,
  });
  running.count += samples.length;
  const { form } = running;
  const seconds = running.count / running.context.sampleRate;
  form.querySelector("[data-seconds]").textContent = inWords(seconds);
  form.querySelector("[data-level]").value = Math.min(
    1,
    4 * Math.sqrt(samples.reduce((a, s) => a + s * s, 0) / samples.length),
  );
  if (seconds >= running.longest) finish();
  else if (seconds - running.laid >= EACH) layDown(seconds);
}

/** What came since the last piece, to the device's store; that it has no room hinders nothing. */
function layDown(seconds) {
  const { form, context, chunks, run } = running;
  const fresh = chunks.slice(running.from ?? 0);
  running.from = chunks.length;
  running.laid = seconds;
  keepPiece({
    run,
    n: running.pieces++,
    job: page()?.dataset.job,
    kind: form.dataset.kind,
    // As the form stood: what is heard, where, by hand.
    fields: [...new FormData(form).entries()].filter(
      ([, value]) => typeof value === "string",
    ),
    rate: context.sampleRate,
    at: new Date().toISOString(),
    chunks: fresh.map(({ samples, at }) => ({ samples, at })),
  }).catch(() => {});
}

const ofPieces = (pieces) =>
  inTime(
    pieces
      .sort((a, b) => a.n - b.n)
      .flatMap(({ chunks }) => chunks)
      // One of an Idrum before this was laid down as it came.
      .map(({ samples, at }) => ({
        samples: samples instanceof Int16Array ? samples : sixteen(samples),
        at,
      })),
    pieces[0].rate,
  );

/** What was being recorded when the browser was closed is offered where it was made. */
async function brokenOff() {
  const job = page()?.dataset.job;
  const forms = [...document.querySelectorAll("form[data-record]")].filter(
    (form) => !form.querySelector("[data-broken-off]"),
  );
  if (!job || forms.length === 0) return;
  const { held = [] } = (await navigator.locks?.query()) ?? {};
  for (const [run, pieces] of await piecesOf(job)) {
    if (held.some(({ name }) => name === lockOf(run))) continue;
    const form = forms.find(({ dataset }) => dataset.kind === pieces[0].kind);
    if (!form?.isConnected || run === running?.run || handed.has(run)) continue;
    const { samples, lost } = ofPieces(pieces);
    const box = document.createElement("p");
    box.dataset.brokenOff = run;
    box.className = "why";
    box.setAttribute("role", "status");
    const seconds = Math.floor(samples.length / pieces[0].rate);
    const [keep, drop] = ["Keep it", "Drop it"].map((words) =>
      Object.assign(document.createElement("button"), {
        type: "button",
        className: "button small",
        textContent: words,
      }),
    );
    box.append(`A recording of ${seconds} s was broken off here. `, keep, drop);
    keep.addEventListener("click", async () => {
      putBack(form, pieces[0].fields);
      box.remove();
      hand(form, run, samples, pieces[0].rate, lost);
    });
    drop.addEventListener("click", async () => {
      await dropPieces(run);
      box.remove();
    });
    form.prepend(box);
    for (
      let d = form.closest("details");
      d;
      d = d.parentElement.closest("details")
    )
      d.open = true;
  }
}

/** The form as it stood when the recording began. */
function putBack(form, fields) {
  const told = new Map(fields);
  for (const field of form.elements) {
    if (!field.name || field.type === "file" || field.type === "hidden") {
      if (field.matches("[data-sound], [data-called]") && told.has(field.name))
        field.value = told.get(field.name);
      continue;
    }
    if (field.type === "checkbox") field.checked = told.has(field.name);
    else if (field.type === "radio")
      field.checked = told.get(field.name) === field.value;
    else if (told.has(field.name)) field.value = told.get(field.name);
  }
}

// Runs whose recording is on its way among the acts: not offered as broken off.
const handed = new Set();

/** Puts a recording into its form and sends that. Its pieces go only when it is among the acts: half an hour takes the disk a moment, and a page that is
closed in it must not lose them. */
function hand(form, run, samples, rate, lost) {
  handed.add(run);
  document.addEventListener("idrum:kept", function kept({ detail }) {
    if (detail.form !== form) return;
    document.removeEventListener("idrum:kept", kept);
    dropPieces(run).catch(() => {});
  });
  const held = new DataTransfer();
  held.items.add(wav(samples, rate));
  const told = form.querySelector("[data-lost]");
  if (told) told.value = lost;
  form.querySelector("input[type=file]").files = held.files;
  form.requestSubmit();
}

function finish() {
  if (!running) return;
  const { form, stream, context, chunks, count, run } = running;
  running = null;
  awake(false);
  const call = form.querySelector("[data-call]");
  if (call) call.hidden = true;
  ends?.();
  stream.getTracks().forEach((track) => track.stop());
  const { samples, lost } = inTime(chunks, context.sampleRate);
  const rate = context.sampleRate;
  context.close();
  const button = form.querySelector("[data-record-start]");
  button.textContent = button.dataset.words ?? "Record";
  form.querySelector("[data-recording]").hidden = true;
  if (count === 0) return wrong(form, "Nothing was recorded.");
  hand(form, run, samples, rate, lost);
}

document.addEventListener("click", (event) => {
  const button = event.target.closest?.("[data-record-start], [data-call]");
  if (!button) return;
  if (button.dataset.call !== undefined) {
    if (running)
      called(button.form, running.count / running.context.sampleRate);
    return;
  }
  if (running) finish();
  else start(button.form);
});
// A file that is chosen has lost nothing here.
document.addEventListener("change", ({ target }) => {
  const told =
    target.matches("[data-record] input[type=file]") &&
    target.form.querySelector("[data-lost]");
  if (!told) return;
  told.value = 0;
  called(target.form, "");
});
// Who looks elsewhere while it records keeps what was recorded so far.
document.addEventListener(
  "visibilitychange",
  () => document.hidden && finish(),
);

function offer() {
  const hears = Boolean(navigator.mediaDevices?.getUserMedia);
  for (const box of document.querySelectorAll("[data-recorder]"))
    box.hidden = !hears;
  for (const box of document.querySelectorAll("[data-without-recorder]"))
    box.hidden = hears;
}
onShow(offer);
onShow(() => brokenOff().catch(() => {}));
