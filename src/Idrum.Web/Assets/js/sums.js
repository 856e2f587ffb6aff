// An estimate: its running total while lines are typed, and a signature written on the glass.
const number = (text) => Number(text.trim().replace(",", "."));

/** Sum, tax and total of the lines as they are typed; what is no number counts nothing. */
function total(form) {
  const shown = form?.querySelector("[data-running]");
  if (!shown) return;
  let net = 0;
  for (const row of form.querySelectorAll("tbody tr")) {
    const [many, each] = ["quantity", "each"].map((of) =>
      number(row.querySelector(`input[name$=".${of}"]`)?.value ?? ""),
    );
    if (many * each > 0) net += Math.round(many * each * 100) / 100;
  }
  const tax = Math.round(net * Number(shown.dataset.tax)) / 100;
  shown.hidden = false;
  shown.textContent = `${net.toFixed(2)} and ${tax.toFixed(2)} tax: ${shown.dataset.currency} ${(net + tax).toFixed(2)}`;
}

function glass(form) {
  if (form.dataset.ready) return;
  form.dataset.ready = "yes";
  form.hidden = false;
  const field = form.querySelector("canvas");
  const sheet = field.getContext("2d");
  let points = 0;
  const wipe = () => {
    sheet.fillStyle = "#fff";
    sheet.fillRect(0, 0, field.width, field.height);
    points = 0;
  };
  wipe();
  const at = (event) => {
    const box = field.getBoundingClientRect();
    return [
      ((event.clientX - box.left) / box.width) * field.width,
      ((event.clientY - box.top) / box.height) * field.height,
    ];
  };
  field.addEventListener("pointerdown", (event) => {
    field.setPointerCapture(event.pointerId);
    sheet.lineWidth = 5;
    sheet.lineCap = sheet.lineJoin = "round";
    sheet.strokeStyle = "#20262b";
    sheet.beginPath();
    sheet.moveTo(...at(event));
  });
  field.addEventListener("pointermove", (event) => {
    if (!field.hasPointerCapture(event.pointerId)) return;
    sheet.lineTo(...at(event));
    sheet.stroke();
    points++;
  });
  form.querySelector("[data-wipe]").addEventListener("click", wipe);
  form.querySelector("[data-sign]").addEventListener("click", () => {
    form.querySelector("[data-empty]").hidden = points > 3;
    if (points <= 3 || !form.reportValidity()) return;
    field.toBlob((png) => {
      const held = new DataTransfer();
      held.items.add(new File([png], "signature.png", { type: "image/png" }));
      form.querySelector("input[type=file]").files = held.files;
      form.requestSubmit();
    }, "image/png");
  });
}

function look() {
  for (const form of document.querySelectorAll("form[data-signs]")) glass(form);
  total(document.querySelector("table.sumform")?.closest("form"));
}
document.addEventListener("input", (event) => {
  if (event.target.closest("table.sumform")) total(event.target.form);
});
document.addEventListener("htmx:afterSettle", look);
look();
