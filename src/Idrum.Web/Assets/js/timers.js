// Clocks that run down, and ring: sound, vibration, the page's title, and a notice of the device where it was allowed.
import { onShow } from "./page.js";
import { shopNow } from "./time.js";

const rung = new Set();
const title = () => document.title.replace(/^⏰ /, "");

function ring(ends, words) {
  if (rung.has(ends)) return;
  rung.add(ends);
  notice(ends, words);
  if (navigator.userActivation?.hasBeenActive)
    navigator.vibrate?.([300, 150, 300, 150, 600]);
  try {
    // Without a touch first there is no sound, only a warning on the console.
    if (navigator.userActivation?.hasBeenActive === false) return;
    const sound = new AudioContext();
    for (const at of [0, 0.35, 0.7]) {
      const [tone, loud] = [sound.createOscillator(), sound.createGain()];
      tone.frequency.value = 880;
      loud.gain.setValueAtTime(0.4, sound.currentTime + at);
      loud.gain.exponentialRampToValueAtTime(
        0.001,
        sound.currentTime + at + 0.3,
      );
      tone.connect(loud).connect(sound.destination);
      tone.start(sound.currentTime + at);
      tone.stop(sound.currentTime + at + 0.3);
    }
  } catch {
    // No sound without a touch first: the title and the shaking must do.
  }
}

/** A notice of the device itself: it is seen with the screen turned to another page. */
async function notice(ends, words) {
  if (globalThis.Notification?.permission !== "granted") return;
  const about = { body: words, tag: ends };
  const worker = await navigator.serviceWorker?.getRegistration();
  if (worker) await worker.showNotification("Idrum", about);
  else new Notification("Idrum", about);
}

// Asked when something is started that is waited for, and at no other time.
document.addEventListener(
  "submit",
  ({ target }) => {
    if (
      target.querySelector("[data-begins]") &&
      globalThis.Notification?.permission === "default"
    )
      Notification.requestPermission().catch(() => {});
  },
  true,
);

function clocks() {
  let over = false;
  for (const clock of document.querySelectorAll("[data-ends]")) {
    const left = Math.round(
      (Date.parse(clock.dataset.ends) - shopNow()) / 1000,
    );
    const [a, s] = [Math.abs(left), left < 0];
    const [h, m] = [Math.floor(a / 3600), Math.floor(a / 60) % 60];
    clock.textContent =
      (s ? "over by " : "") +
      (h ? `${h} h ${m} min` : `${m}:${String(a % 60).padStart(2, "0")}`);
    clock.closest("[data-timer]")?.classList.toggle("rings", s);
    over ||= s;
    const words = clock.closest("[data-timer]")?.querySelector("p, span");
    if (s && a < 3600) ring(clock.dataset.ends, words?.textContent);
    // A window is told before it opens and before it closes.
    const ahead = Number(clock.dataset.ahead ?? 0);
    if (!s && left > 0 && left <= ahead)
      ring(`${clock.dataset.ends} ahead`, words?.textContent);
  }
  // What waits for a time may be done from then on.
  for (const held of document.querySelectorAll("button[data-until]"))
    held.disabled = Date.parse(held.dataset.until) > shopNow();
  document.title = (over ? "⏰ " : "") + title();
}
setInterval(clocks, 1000);
onShow(clocks);
