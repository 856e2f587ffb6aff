// Labels of machines and drawers: read by the camera, opened in the shop, or from what this device has where there is no link.
import { onShow } from "./page.js";
import { jobsAlong } from "./store.js";

const FORMS = [
  [/^IDRUM-TAG:(.{1,60})$/, "tag"],
  [/^IDRUM-PART:(.{1,60})$/, "part"],
];
const EVERY = 180;
const WIDE = 640;

/** What a label says: its kind and what stands on it; null where it is no label of Idrum's. */
export function labelOf(text) {
  for (const [form, kind] of FORMS) {
    const met = form.exec((text ?? "").trim());
    if (met) return { kind, id: met[1] };
  }
  return null;
}

async function open({ kind, id }, said) {
  if (kind === "part") {
    const field = [...document.querySelectorAll("[data-count-of]")].find(
      (f) => f.dataset.countOf === id,
    );
    if (field) {
      field.focus();
      field.select();
      said(`${field.dataset.name}: how many are there?`);
    } else location.assign(`/stock?part=${encodeURIComponent(id)}#counting`);
    return;
  }
  if (document.querySelector("[data-jobs]") || !navigator.onLine) {
    const here = (await jobsAlong()).filter((job) => job.tag === id);
    if (here.length > 0)
      location.assign(`/jobs/${encodeURIComponent(here[0].number)}`);
    else
      said(
        `${id}: no job of this machine is on this device. Its life opens once there is a link.`,
      );
    return;
  }
  location.assign(`/log/machine?tag=${encodeURIComponent(id)}`);
}

/** Reads what the camera sees until a label is met; gives back what ends it. */
async function look(box, said, ended) {
  const video = box.querySelector("video");
  const stream = await navigator.mediaDevices.getUserMedia({
    video: { facingMode: "environment", width: { ideal: 1280 } },
  });
  video.srcObject = stream;
  video.hidden = false;
  await video.play();
  const canvas = document.createElement("canvas");
  const ink = canvas.getContext("2d", { willReadFrequently: true });
  let timer = 0;
  const end = () => {
    clearInterval(timer);
    for (const track of stream.getTracks()) track.stop();
    video.hidden = true;
    ended();
  };
  timer = setInterval(() => {
    if (!video.isConnected) return end();
    if (!video.videoWidth) return;
    const scale = Math.min(1, WIDE / video.videoWidth);
    canvas.width = Math.round(video.videoWidth * scale);
    canvas.height = Math.round(video.videoHeight * scale);
    ink.drawImage(video, 0, 0, canvas.width, canvas.height);
    const read = window.idrumReadCode?.(
      ink.getImageData(0, 0, canvas.width, canvas.height),
    );
    if (!read) return;
    const label = labelOf(read);
    if (!label) return said("That is no label of Idrum's.");
    end();
    navigator.vibrate?.(60);
    open(label, said);
  }, EVERY);
  return end;
}

onShow(() => {
  const box = document.querySelector("[data-scanner]");
  if (!box || box.dataset.ready) return;
  box.dataset.ready = "yes";
  const word = box.querySelector("[data-said]");
  const said = (text) => (word.textContent = text);
  const button = box.querySelector("[data-camera]");
  let end = null;
  button.hidden = !navigator.mediaDevices?.getUserMedia;
  button.addEventListener("click", async () => {
    if (end) return end();
    try {
      said("Hold the label into the picture.");
      end = await look(box, said, () => {
        end = null;
        button.textContent = "Use the camera";
      });
      button.textContent = "Stop the camera";
    } catch (fault) {
      said(
        fault.name === "NotAllowedError"
          ? "The camera is not allowed here. Allow it in the browser, or type what stands on the label."
          : "There is no camera to be had. Type what stands on the label.",
      );
    }
  });
  box.querySelector("form")?.addEventListener("submit", (event) => {
    event.preventDefault();
    event.stopPropagation();
    const text = box.querySelector("input[name=label]").value.trim();
    if (text) open(labelOf(text) ?? { kind: "tag", id: text }, said);
  });
  box
    .querySelector("input[type=file]")
    ?.addEventListener("change", async ({ target }) => {
      const [file] = target.files;
      if (!file) return;
      try {
        const picture = await createImageBitmap(file);
        const scale = Math.min(1, 1200 / picture.width);
        const canvas = document.createElement("canvas");
        canvas.width = Math.round(picture.width * scale);
        canvas.height = Math.round(picture.height * scale);
        const ink = canvas.getContext("2d");
        ink.drawImage(picture, 0, 0, canvas.width, canvas.height);
        const label = labelOf(
          window.idrumReadCode?.(
            ink.getImageData(0, 0, canvas.width, canvas.height),
          ),
        );
        if (label) open(label, said);
        else said("No label of Idrum's is in that picture.");
      } catch {
        said("That is no picture this browser can read.");
      }
      target.value = "";
    });
});
