// Day or cellar: the device's setting rules until the switch is used.
document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-light-switch]");
  if (!button) return;
  const dark = matchMedia("(prefers-color-scheme: dark)").matches;
  const now =
    document.documentElement.dataset.light ?? (dark ? "cellar" : "day");
  const next = now === "day" ? "cellar" : "day";
  document.documentElement.dataset.light = next;
  localStorage.setItem("idrum.light", next);
});
