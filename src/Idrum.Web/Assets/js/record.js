// The microphone, and files that only the browser can open: one channel of 16 bits at 16 kHz is sent.
import { inTime } from "./lost.js";

const RATE = 16_000;
const LONGEST = 5 * 60;
let running = null;

/** A WAV file of one channel. */
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
  samples.forEach((s, i) =>
    bytes.setInt16(44 + 2 * i, Math.max(-1, Math.min(1, s)) * 32767, true),
  );
  return new File([bytes], "recording.wav", { type: "audio/wav" });
}

/** What the shop does not read is opened here; what cannot be opened it looks at itself. */
export async function asWav(file) {
  const head = new Uint8Array(await file.slice(0, 12).arrayBuffer());
  const riff = String.fromCharCode(...head.slice(0, 4), ...head.slice(8, 12));
  if (riff === "RIFFWAVE" && file.size < 8 << 20) return file;
  try {
    const context = new OfflineAudioContext(1, 1, RATE);
    const sound = await context.decodeAudioData(await file.arrayBuffer());
    const mix = new Float32Array(Math.min(sound.length, LONGEST * RATE));
    for (let c = 0; c < sound.numberOfChannels; c++)
      sound
        .getChannelData(c)
        .subarray(0, mix.length)
        .forEach((s, i) => (mix[i] += s / sound.numberOfChannels));
    return wav(mix, RATE);
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
    running = { form, stream, context, chunks: [], count: 0 };
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

function take(samples) {
  if (!running) return;
  running.chunks.push({ samples, at: performance.now() / 1000 });
  running.count += samples.length;
  const { form } = running;
  const seconds = running.count / running.context.sampleRate;
  form.querySelector("[data-seconds]").textContent = `${Math.floor(seconds)} s`;
  form.querySelector("[data-level]").value = Math.min(
    1,
    4 * Math.sqrt(samples.reduce((a, s) => a + s * s, 0) / samples.length),
  );
  if (seconds >= LONGEST) finish();
}

function finish() {
  if (!running) return;
  const { form, stream, context, chunks, count } = running;
  running = null;
  stream.getTracks().forEach((track) => track.stop());
  const { samples, lost } = inTime(chunks, context.sampleRate);
  const held = new DataTransfer();
  held.items.add(wav(samples, context.sampleRate));
  context.close();
  const button = form.querySelector("[data-record-start]");
  button.textContent = button.dataset.words ?? "Record";
  form.querySelector("[data-recording]").hidden = true;
  if (count === 0) return wrong(form, "Nothing was recorded.");
  const told = form.querySelector("[data-lost]");
  if (told) told.value = lost;
  form.querySelector("input[type=file]").files = held.files;
  form.requestSubmit();
}

document.addEventListener("click", (event) => {
  const button = event.target.closest?.("[data-record-start]");
  if (!button) return;
  if (running) finish();
  else start(button.form);
});
// A file that is chosen has lost nothing here.
document.addEventListener("change", ({ target }) => {
  const told =
    target.matches("[data-record] input[type=file]") &&
    target.form.querySelector("[data-lost]");
  if (told) told.value = 0;
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
document.addEventListener("htmx:afterSettle", offer);
offer();
