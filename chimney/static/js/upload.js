// How much of what is being sent has gone.
document.addEventListener("htmx:xhr:progress", (event) => {
  const form = event.target.closest?.("[data-upload]");
  if (!form || !event.detail.lengthComputable) return;
  const bar = form.querySelector("progress");
  bar.hidden = false;
  bar.value = (100 * event.detail.loaded) / event.detail.total;
});
