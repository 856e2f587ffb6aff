// While a recording is played a line goes along in its picture.
function along(sound) {
  const drawn = document.querySelector("[data-drawn]");
  const line = drawn?.querySelector("[data-cursor]");
  if (!line || !sound.src.endsWith(drawn.dataset.drawn)) return;
  const share = Math.min(1, sound.currentTime / line.dataset.length);
  line.setAttribute("visibility", sound.paused ? "hidden" : "visible");
  line.setAttribute("transform", `translate(${4 + 352 * share} 0)`);
  if (!sound.paused) requestAnimationFrame(() => along(sound));
}

document.addEventListener("click", ({ target }) => {
  const button = target.closest?.("[data-play]");
  if (!button) return;
  const row = button.parentElement;
  const sound = row.querySelector("audio");
  const rate = Number(button.dataset.rate ?? 1);
  const stopped = sound.paused || sound.playbackRate !== rate;
  button.dataset.words ??= button.textContent;
  const show = () => {
    for (const other of row.querySelectorAll("[data-play]")) {
      const on =
        !sound.paused && Number(other.dataset.rate ?? 1) === sound.playbackRate;
      other.dataset.words ??= other.textContent;
      other.textContent = on ? "Stop" : other.dataset.words;
      other.setAttribute("aria-pressed", String(on));
      const label = other.getAttribute("aria-label");
      if (label)
        other.setAttribute(
          "aria-label",
          label.replace(/^\w+/, other.textContent),
        );
    }
  };
  sound.onplay = sound.onpause = sound.onended = sound.onratechange = show;
  if (stopped) {
    sound.preservesPitch = true;
    sound.playbackRate = rate;
    sound.play();
    along(sound);
  } else {
    sound.pause();
    sound.currentTime = 0;
  }
});
