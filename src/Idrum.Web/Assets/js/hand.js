// An act is in the hand from its tap until the disk has it. The page shows it at the tap; one that is closed or loaded anew in that moment must
// not lose it: it is written where writing does not wait, and taken up again by the next page. A file cannot be held so.
const HAND = "idrum.hand:";
const TAB = "idrum.tab";
// Another page may still be keeping what it holds; after this it is gone.
const GONE = 60_000;

/** The mark of this tab, the same after it is loaded anew. */
function tab() {
  const mark = sessionStorage.getItem(TAB) ?? crypto.randomUUID();
  sessionStorage.setItem(TAB, mark);
  return mark;
}

// This page keeps its own itself.
const HERE = Date.now().toString(36) + Math.random().toString(36).slice(2);
let taps = 0;

/** Holds an act; what is given back lets go of it. */
export function hold(act, done) {
  if (act.fields.some(([, value]) => value instanceof File)) return () => {};
  const key = `${HAND}${tab()}:${HERE}:${Date.now()}:${taps++}`;
  try {
    localStorage.setItem(key, JSON.stringify({ act, done }));
  } catch {
    // No room: it is kept a moment later, or said not to be.
  }
  return () => localStorage.removeItem(key);
}

/** What pages that are gone held, in the order of its taps. */
export function leftInHand() {
  const order = (key) => key.split(":").slice(3).map(Number);
  return Object.keys(localStorage)
    .filter((key) => key.startsWith(HAND) && !key.includes(`:${HERE}:`))
    .sort((a, b) => order(a)[0] - order(b)[0] || order(a)[1] - order(b)[1])
    .filter(
      (key) =>
        key.startsWith(`${HAND}${tab()}:`) || Date.now() - order(key)[0] > GONE,
    )
    .map((key) => ({ key, ...JSON.parse(localStorage.getItem(key)) }));
}

/** Whether two acts say the same; a timer's own id is drawn anew at each tap, and two files are not one. */
export function same(one, other) {
  const [a, b] = [one, other].map(({ fields }) =>
    JSON.stringify(
      fields
        .filter(([name]) => name !== "timerId")
        .map(([name, value]) =>
          value instanceof File
            ? [name, value.name, value.size, value.lastModified]
            : [name, value],
        ),
    ),
  );
  return a === b;
}
