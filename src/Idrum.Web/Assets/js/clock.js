// Each act says when it was made and when it is sent, by this device's clock; and a clock that is off is told of.
import { onShow } from "./page.js";
import { deviceAhead, heard } from "./time.js";

document.addEventListener("htmx:configRequest", (event) => {
  const { verb, parameters } = event.detail;
  if (verb !== "post") return;
  const now = new Date().toISOString();
  parameters.madeAt = now;
  parameters.sentAt = now;
});

onShow(() => {
  const { offset } = document.getElementById("page")?.dataset ?? {};
  const elsewhere = document.getElementById("zone-off");
  if (!offset || !elsewhere) return;
  const hours = (-new Date().getTimezoneOffset() - Number(offset)) / 60;
  elsewhere.hidden = hours === 0;
  elsewhere.textContent = `Times are the shop's: this device is ${Math.abs(hours)} h ${hours > 0 ? "ahead" : "behind"}.`;
});

onShow((event) => {
  const said = document.getElementById("page")?.dataset.now;
  const word = document.getElementById("clock-off");
  // A page that stood in is of another day: only a fresh answer tells of the clock.
  const { away, kept } = document.getElementById("page")?.dataset ?? {};
  if (!said || !word || away === "yes" || kept === "yes") return;
  // Nor does one that was put together on this device.
  const fresh = event ? event.detail.xhr : performance.now() < 20_000;
  if (fresh) heard(said);
  const off = Math.round(deviceAhead() / 60000);
  word.hidden = !fresh || Math.abs(off) < 2;
  if (!word.hidden)
    word.textContent = `This device's clock is ${Math.abs(off)} min ${off > 0 ? "ahead of" : "behind"} the shop's. Acts keep their distances in time; set the clock when you can.`;
});
