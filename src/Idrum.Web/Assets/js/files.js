// A file is stored as soon as it is taken or chosen; with the link down it waits with the other acts.
document.addEventListener("change", (event) => {
  const form = event.target.closest("form[data-file]");
  if (form && event.target.type === "file" && event.target.files.length > 0)
    form.requestSubmit();
});
