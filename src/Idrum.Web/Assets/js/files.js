// A file is stored as soon as it is taken or chosen; with the link down it waits with the other acts.

import { asWav } from "./record.js";

// A picture is made as small as the shop keeps it before it is sent: over a cellar's link that is a second, not a minute.
const LONGEST = 1600;
const SMALL = 600_000;

/** Whether a picture is there to its end: one that is cut off is sent as it is, so that the shop can say so. */
async function whole(file) {
  if (file.type !== "image/jpeg") return true;
  const end = new Uint8Array(await file.slice(-2).arrayBuffer());
  return end[0] === 0xff && end[1] === 0xd9;
}

async function reduced(file) {
  if (!file.type.startsWith("image/") || file.size < SMALL) return file;
  try {
    if (!(await whole(file))) return file;
    const picture = await createImageBitmap(file);
    const { width, height } = picture;
    const scale = Math.min(1, LONGEST / Math.max(width, height));
    const sheet = new OffscreenCanvas(
      Math.round(width * scale),
      Math.round(height * scale),
    );
    sheet.getContext("2d").drawImage(picture, 0, 0, sheet.width, sheet.height);
    picture.close();
    const jpeg = await sheet.convertToBlob({
      type: "image/jpeg",
      quality: 0.86,
    });
    const name = file.name.replace(/\.\w+$/, "") + ".jpg";
    return jpeg.size < file.size
      ? new File([jpeg], name, { type: "image/jpeg" })
      : file;
  } catch {
    // What the browser cannot open the shop looks at.
    return file;
  }
}

const megabytes = (bytes) => `${(bytes / 1048576).toFixed(1)} MB`;

/** Says at its field that a file is larger than the shop takes: it is not sent, and what stands beside it stays. */
function tooLarge(form, field, file) {
  const most = Number(form.dataset.most || Infinity);
  form.querySelector("[data-too-large]")?.remove();
  if (file.size <= most) return false;
  const said = document.createElement("p");
  said.className = "field-wrong";
  said.dataset.tooLarge = "";
  said.setAttribute("role", "alert");
  said.textContent = `${file.name} has ${megabytes(file.size)}; ${megabytes(most)} is the most. Nothing was sent.`;
  field.after(said);
  field.value = "";
  return true;
}

document.addEventListener("change", async ({ target: field }) => {
  const form = field.closest?.("form[data-file]");
  if (!form || field.type !== "file" || field.files.length === 0) return;
  const [file] = field.files;
  const small =
    form.dataset.record === undefined
      ? await reduced(file)
      : await asWav(file, form);
  if (tooLarge(form, field, small)) return;
  if (small !== file) {
    const held = new DataTransfer();
    held.items.add(small);
    field.files = held.files;
  }
  form.requestSubmit();
});
