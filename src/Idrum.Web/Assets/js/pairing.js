// The code of an invitation stands behind the # of its address, which no server is told; it is only put into the field.
import { onShow } from "./page.js";

onShow(() => {
  const field = document.querySelector("[data-from-address]");
  if (field && !field.value && location.hash.length > 1)
    field.value = decodeURIComponent(location.hash.slice(1));
});
