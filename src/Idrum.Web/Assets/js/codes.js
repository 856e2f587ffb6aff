// Reading of square codes, loaded where a label may be read.
import jsQR from "jsqr";

window.idrumReadCode = ({ data, width, height }) =>
  jsQR(data, width, height, { inversionAttempts: "dontInvert" })?.data;
