// A tap on a photo says where the mark goes: how far from its left and upper edge.
document.addEventListener("click", (event) => {
  const picture = event.target.closest("[data-photo] img");
  const photo = picture?.closest("[data-photo]");
  const form =
    photo &&
    document.querySelector(`form[data-marks="${photo.dataset.photo}"]`);
  if (!form) return;
  const box = picture.getBoundingClientRect();
  const share = (at, from, size) =>
    String(Math.round(((at - from) / size) * 1000) / 10);
  form.elements.x.value = share(event.clientX, box.left, box.width);
  form.elements.y.value = share(event.clientY, box.top, box.height);
  form.closest("details").open = true;
  form.elements.word.focus();
});
