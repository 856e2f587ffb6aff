// The part of the document that answers replace.
export const page = () => document.getElementById("page");

/** Runs now and after every swap. */
export function onShow(act) {
  document.addEventListener("htmx:afterSettle", act);
  act();
}

export const isFloor = () => page()?.dataset.floor !== undefined;
