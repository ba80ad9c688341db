// The positive follows what is typed; the server makes it.
(() => {
  const form = document.querySelector(".tone-form");
  const picture = document.getElementById("positive");
  if (!form || !picture) return;
  let waits = null;
  form.addEventListener("input", () => {
    clearTimeout(waits);
    waits = setTimeout(() => {
      const typed = new URLSearchParams(new FormData(form));
      typed.delete("csrfmiddlewaretoken");
      picture.src = `${picture.dataset.from}?${typed}`;
    }, 150);
  });
})();
