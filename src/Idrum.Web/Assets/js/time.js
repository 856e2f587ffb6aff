// The shop's time on this device, whatever its own clock says. How far apart the two are is asked of the shop, and kept for when there is no
// link: what rings then rings by the shop's clock too.
const BEHIND = "idrum.behind";
let behind = Number(localStorage.getItem(BEHIND) ?? 0) || 0;

/** The shop's time now, ms. */
export const shopNow = () => Date.now() + behind;

/** When something happened by the shop's clock that this device's own wrote down. */
export const atShop = (iso) => new Date(Date.parse(iso) + behind).toISOString();

/** What this device's clock is off by, ms; ahead is above zero. */
export const deviceAhead = () => -behind;

/** The shop has just said what time it is. */
export function heard(said) {
  const off = Date.parse(said) - Date.now();
  if (!Number.isFinite(off)) return;
  behind = off;
  localStorage.setItem(BEHIND, String(off));
}

// A clock that is set while a page is open, or a device that slept: which of both it was only the shop can tell.
const LOOK = 1000;
let last = [Date.now(), performance.now()];
setInterval(async () => {
  const now = [Date.now(), performance.now()];
  const jump = now[0] - last[0] - (now[1] - last[1]);
  last = now;
  if (Math.abs(jump) < 3000) return;
  const answer = await fetch("/pulse", { cache: "no-store" }).catch(() => null);
  const said = answer?.headers.get("date");
  if (said) heard(said);
}, LOOK);
