// The screen does not sleep in floor mode.
import { isFloor, onShow } from "./page.js";

let lock = null;
async function keepAwake() {
  const wanted = isFloor() && document.visibilityState === "visible";
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
onShow(keepAwake);
