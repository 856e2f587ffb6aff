// Drafts: nothing typed is lost by a reload, Back or a dropped link.
import { page, onShow } from "./page.js";

const keyOf = (kind, name) =>
  `idrum.draft:${location.pathname}:${kind}:${name}`;
// Where several forms of a kind stand on a page, each says what it is of.
const kindOf = (form) =>
  [form?.dataset.kind ?? "", form?.dataset.of ?? ""].filter(Boolean).join(" ");
const key = (field) => keyOf(kindOf(field.form), field.name);
const isDraft = (field) =>
  field.form?.dataset.kind &&
  field.name &&
  // A number that is kept at once, in a form that then asks for the next.
  !("now" in field.dataset) &&
  field.matches("textarea, input[type=text], input[type=number]");

document.addEventListener("input", (event) => {
  if (isDraft(event.target))
    sessionStorage.setItem(key(event.target), event.target.value);
});

onShow(() => {
  for (const field of page()?.querySelectorAll(
    "form[data-kind] textarea, form[data-kind] input",
  ) ?? []) {
    if (!isDraft(field)) continue;
    const kept = sessionStorage.getItem(key(field));
    if (kept !== null && field.value === field.defaultValue) field.value = kept;
  }
});

// The keys are taken when the form is sent: when the answer is there, the form is gone and the address may be another.
const sent = new WeakMap();
document.addEventListener("htmx:beforeRequest", (event) => {
  const { elt, requestConfig, xhr } = event.detail;
  if (requestConfig.verb !== "post") return;
  sent.set(
    xhr,
    [...requestConfig.formData.keys()].map((name) => keyOf(kindOf(elt), name)),
  );
});

// Before the answer is shown: the new page asks what is kept of its fields.
document.addEventListener("htmx:beforeOnLoad", (event) => {
  const { requestConfig, xhr } = event.detail;
  if (requestConfig.verb === "post" && xhr.status >= 200 && xhr.status < 400)
    dropDrafts(sent.get(xhr));
});

/** Keys of what is kept of a form while it is typed. */
export const keysOf = (form) =>
  [...form.elements].map((field) => keyOf(kindOf(form), field.name));

export function dropDrafts(keys = []) {
  for (const key of keys) sessionStorage.removeItem(key);
}
