// A page that takes long says so, and whether others are ahead of it at the gate where plans and advice are worked out.
const SLOW = 600;
let timer = 0;

const bar = () => document.getElementById("patience");

async function say() {
  bar().textContent = "Being worked out…";
  bar().hidden = false;
  const answer = await fetch("/api/v1/work").catch(() => null);
  const { ahead } = (await answer?.json().catch(() => null)) ?? {};
  if (ahead > 0 && !bar().hidden)
    bar().textContent =
      ahead === 1
        ? "Being worked out… one other is in work. Nothing is lost."
        : `Being worked out… ${ahead} others are in work or wait. Nothing is lost.`;
}

function stop() {
  clearTimeout(timer);
  bar().hidden = true;
}

document.addEventListener("htmx:beforeRequest", () => {
  clearTimeout(timer);
  timer = setTimeout(say, SLOW);
});
for (const end of ["htmx:afterRequest", "htmx:sendError", "htmx:abort"])
  document.addEventListener(end, stop);
