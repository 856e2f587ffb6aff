// The screen does not sleep in floor mode, nor while something is recorded.
import { isFloor, onShow } from "./page.js";

let lock = null;
async function keepAwake() {
  const wanted =
    (isFloor() || document.body.dataset.recording === "yes") &&
    document.visibilityState === "visible";
  try {
    if (wanted && !lock) {
      lock = await navigator.wakeLock?.request("screen");
      lock?.addEventListener("release", () => (lock = null));
    } else if (!wanted && lock) {
      await lock.release();
    }
  } catch {
    // Refused (battery, no secure address): the phone's own setting rules.
  }
}
document.addEventListener("visibilitychange", keepAwake);
document.addEventListener("idrum:recording", keepAwake);
onShow(keepAwake);
