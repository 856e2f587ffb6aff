// Runs before the first paint, so that a dark cellar does not flash white.
{
  document.documentElement.classList.add("scripts");
  const kept = localStorage.getItem("idrum.light");
  if (kept) document.documentElement.dataset.light = kept;
}
