// What the phone feels when it lies on the cabinet: acceleration at the times the device gives, which are not even.
const SETTLES = 2;
const LASTS = 30;
const ENOUGH = 8;
const WAITS = 1500;
let running = null;

function wrong(form, words) {
  const field = form.querySelector("[data-feel-wrong]");
  field.textContent = words;
  field.hidden = !words;
}

async function start(form) {
  wrong(form, "");
  // Some devices ask, and only on a touch.
  const asks = window.DeviceMotionEvent?.requestPermission;
  try {
    if (asks && (await asks.call(DeviceMotionEvent)) !== "granted")
      return wrong(
        form,
        "This phone does not let the page feel: allow motion in the browser's settings, or choose a file.",
      );
  } catch {
    return wrong(form, "This phone would not be asked: touch it once more.");
  }
  running = { form, began: null, seconds: [], x: [], y: [], z: [] };
  window.addEventListener("devicemotion", take);
  form.querySelector("[data-feel-start]").textContent = "Stop and keep";
  form.querySelector("[data-feeling]").hidden = false;
  setTimeout(() => {
    if (running?.form !== form || running.began !== null) return;
    stop();
    wrong(
      form,
      "Nothing is felt: this device has no sensor, or keeps it shut. Choose a file, or tap the rhythm.",
    );
  }, WAITS);
}

function take({ timeStamp, accelerationIncludingGravity: a }) {
  if (!running || a?.x == null || a.y == null || a.z == null) return;
  running.began ??= timeStamp;
  const since = (timeStamp - running.began) / 1000;
  const { form, seconds } = running;
  const said = form.querySelector("[data-felt-seconds]");
  if (since < SETTLES) {
    said.textContent = "Lay it down and let go";
    return;
  }
  if (seconds.length > 0 && since <= seconds.at(-1)) return;
  seconds.push(since);
  running.x.push(a.x);
  running.y.push(a.y);
  running.z.push(a.z);
  const felt = since - seconds[0];
  said.textContent = `${Math.floor(felt)} s of ${LASTS}`;
  if (felt >= LASTS) finish();
}

function stop() {
  const { form } = running;
  window.removeEventListener("devicemotion", take);
  form.querySelector("[data-feel-start]").textContent = "Feel it";
  form.querySelector("[data-feeling]").hidden = true;
  const felt = running;
  running = null;
  return felt;
}

function finish() {
  const { form, seconds, x, y, z } = stop();
  if (seconds.length < 2 || seconds.at(-1) - seconds[0] < ENOUGH)
    return wrong(
      form,
      `Too short: ${ENOUGH} s at least, half a minute tells more.`,
    );
  const held = new DataTransfer();
  held.items.add(
    new File([JSON.stringify({ seconds, x, y, z })], "felt.json", {
      type: "application/json",
    }),
  );
  form.querySelector("input[type=file]").files = held.files;
  form.requestSubmit();
}

document.addEventListener("click", (event) => {
  const button = event.target.closest?.("[data-feel-start]");
  if (!button) return;
  if (running) finish();
  else start(button.form);
});
// Who looks elsewhere meanwhile keeps what was felt so far.
document.addEventListener(
  "visibilitychange",
  () => document.hidden && running && finish(),
);

function offer() {
  const box = document.querySelector("[data-feeler]");
  if (box) box.hidden = !("DeviceMotionEvent" in window);
}
document.addEventListener("htmx:afterSettle", offer);
offer();
