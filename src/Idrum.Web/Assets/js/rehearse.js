// The belt drawn round the wheels with a finger. Which wheels the loop holds is seen here; what it would do stands in a
// table that came from the shop.
const area = () => document.querySelector("svg[data-rehearse]");
let drawn = null;

function at(svg, event) {
  const point = new DOMPoint(event.clientX, event.clientY);
  const { x, y } = point.matrixTransform(svg.getScreenCTM().inverse());
  return [x, y];
}

function inside(loop, x, y) {
  let is = false;
  for (let i = 0, j = loop.length - 1; i < loop.length; j = i++) {
    const [ax, ay] = loop[i];
    const [bx, by] = loop[j];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax)
      is = !is;
  }
  return is;
}

function away(loop, x, y) {
  let least = Infinity;
  for (let i = 0; i < loop.length; i++) {
    const [ax, ay] = loop[i];
    const [bx, by] = loop[(i + 1) % loop.length];
    const long = (bx - ax) ** 2 + (by - ay) ** 2;
    const s =
      long > 0
        ? Math.min(
            1,
            Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / long),
          )
        : 0;
    least = Math.min(
      least,
      Math.hypot(ax + s * (bx - ax) - x, ay + s * (by - ay) - y),
    );
  }
  return least;
}

// A finger is some millimetres wide: so near counts as along it.
const NEAR = 16;

function judge(svg) {
  const { wheels, ways } = JSON.parse(svg.dataset.rehearse);
  const say = document.querySelector("[data-rehearsed]");
  const [drum, ...others] = wheels;
  if (drawn.length < 8 || !inside(drawn, drum.x, drum.y)) {
    say.textContent = "Begin anew: once round the drum, in one go.";
    return;
  }
  const key = others
    .map((w) =>
      inside(drawn, w.x, w.y)
        ? "in"
        : away(drawn, w.x, w.y) < w.r + NEAR
          ? "out"
          : "clear",
    )
    .join(",");
  // In an exercise it lies as it was laid: what it does is seen when it runs.
  const laid = document.querySelector("[data-laid]");
  if (laid) {
    laid.value = key;
    say.textContent = `Laid: ${laid.selectedOptions[0].textContent}. Or draw it anew.`;
    return;
  }
  const way = ways[key];
  say.textContent = (way.right ? "Right. " : "Wrong. ") + way.say;
}

document.addEventListener("pointerdown", (event) => {
  const svg = event.target.closest?.("svg[data-rehearse]");
  if (!svg) return;
  event.preventDefault();
  svg.setPointerCapture(event.pointerId);
  drawn = [at(svg, event)];
});
document.addEventListener("pointermove", (event) => {
  const svg = drawn && area();
  if (!svg) return;
  drawn.push(at(svg, event));
  svg
    .querySelector("[data-drawn]")
    .setAttribute("points", drawn.map((p) => p.join(" ")).join(" "));
});
for (const end of ["pointerup", "pointercancel"])
  document.addEventListener(end, () => {
    const svg = drawn && area();
    if (svg) judge(svg);
    drawn = null;
  });
