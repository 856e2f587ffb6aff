import { page } from "./page.js";

/** Whether something is being typed or chosen that a new page would take away. */
export function typing() {
  const field = document.activeElement;
  return (
    field?.matches("input[type=text], input[type=number], textarea") ||
    document.querySelector("details[data-sheet][open]") ||
    [
      ...(page()?.querySelectorAll(
        "form[data-kind] input, form[data-kind] textarea",
      ) ?? []),
    ].some((f) =>
      f.type === "checkbox" || f.type === "radio"
        ? f.checked !== f.defaultChecked
        : f.type !== "hidden" && f.value !== f.defaultValue,
    )
  );
}
