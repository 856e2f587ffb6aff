// Buttons that print the page.
document.addEventListener("click", ({ target }) => {
  if (target.closest?.("[data-print]")) window.print();
});

// Where the device hands files on, a sheet goes straight to whom it is for; elsewhere it is downloaded.
const shares = () =>
  navigator.canShare?.({
    files: [new File(["%PDF"], "sheet.pdf", { type: "application/pdf" })],
  });

document.addEventListener("click", async (event) => {
  const link = event.target.closest?.("[data-sheet]");
  if (!link || !shares()) return;
  event.preventDefault();
  try {
    const answer = await fetch(link.href);
    if (!answer.ok) throw new Error(answer.statusText);
    const name = link.href.split("/").slice(-2).join("-");
    await navigator.share({
      files: [
        new File([await answer.blob()], name, { type: "application/pdf" }),
      ],
    });
  } catch (wrong) {
    if (wrong.name !== "AbortError") location.assign(link.href);
  }
});
