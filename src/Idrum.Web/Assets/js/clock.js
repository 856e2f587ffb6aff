// Each act says when it was made and when it is sent, by this device's clock; and a clock that is off is told of.
import { onShow } from "./page.js";

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

onShow(() => {
  const said = document.getElementById("page")?.dataset.now;
  const word = document.getElementById("clock-off");
  // A page that stood in is of another day: only a fresh answer tells of the clock.
  if (!said || !word || document.getElementById("page").dataset.away === "yes")
    return;
  const off = Math.round((Date.now() - Date.parse(said)) / 60000);
  const fresh =
    performance.now() < 20_000 || event?.type === "htmx:afterSettle";
  word.hidden = !fresh || Math.abs(off) < 2;
  if (!word.hidden)
    word.textContent = `This device's clock is ${Math.abs(off)} min ${off > 0 ? "ahead of" : "behind"} the shop's. Acts keep their distances in time; set the clock when you can.`;
});
