// The day's list as it was seen last, where there is no link: it says of which hour it is, and what would only be lost cannot be pressed.
import { onShow, page } from "./page.js";

onShow(() => {
  const shown = page();
  const note = shown?.querySelector(".kept-note");
  if (!note || shown.dataset.kept !== "yes") return;
  const seen = new Date(shown.dataset.now);
  note.querySelector("b").textContent = seen.toLocaleString([], {
    weekday: "short",
    hour: "2-digit",
    minute: "2-digit",
  });
  note.hidden = false;
  for (const form of shown.querySelectorAll("form")) form.hidden = true;
});

// What is seen in the morning is there in the cellar: the list is fetched once an hour while somebody works in the week.
const HOUR = 3_600_000;
onShow(() => {
  if (!navigator.serviceWorker?.controller || !navigator.onLine) return;
  const last = Number(localStorage.getItem("idrum.day") ?? 0);
  if (Date.now() - last < HOUR && Date.now() >= last) return;
  localStorage.setItem("idrum.day", String(Date.now()));
  fetchList();
});

// What is still being worked out is asked for again: what is kept is whole.
async function fetchList(tries = 10) {
  const text = await fetch("/week/day", { headers: { "HX-Request": "true" } })
    .then((answer) => answer.text())
    .catch(() => "");
  if (text.includes('data-coming="yes"') && tries > 0)
    setTimeout(() => fetchList(tries - 1), 2000);
}
