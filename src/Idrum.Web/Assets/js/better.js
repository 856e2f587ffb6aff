// What comes of thinking the job through is asked for once the page stands, and left when an answer comes first.
const WAIT = 250;
let asked = null;

function leave() {
  asked?.abort();
  asked = null;
}

async function ask(place) {
  const own = (asked = new AbortController());
  await new Promise((go) => setTimeout(go, WAIT));
  if (own.signal.aborted) return;
  const answer = await fetch(place.dataset.from, { signal: own.signal }).catch(
    () => null,
  );
  const text = answer?.ok ? await answer.text().catch(() => "") : "";
  if (!text || own.signal.aborted || !place.isConnected) return;
  place.outerHTML = text;
  window.htmx.process(document.getElementById("better"));
}

function look() {
  leave();
  const place = document.querySelector("#better[data-from]");
  if (place) ask(place);
}

document.addEventListener("htmx:beforeRequest", leave);
document.addEventListener("htmx:afterSettle", look);
look();
