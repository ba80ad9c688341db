// Pictures side by side: a closer look at the same place of all, flicker, and a wipe between the first two.
(() => {
  const place = document.querySelector("[data-compared]");
  const pictures = [...place.querySelectorAll(".lens img")];
  if (pictures.length < 2) return;
  document.querySelector("[data-tools]").hidden = false;
  let close = false;
  for (const picture of pictures) {
    picture.addEventListener("click", (event) => {
      const box = picture.getBoundingClientRect();
      const across = (100 * (event.clientX - box.left)) / box.width;
      const down = (100 * (event.clientY - box.top)) / box.height;
      close = !close;
      for (const one of pictures) {
        one.style.transformOrigin = `${across}% ${down}%`;
        one.style.transform = close ? "scale(3)" : "";
      }
    });
  }
  let beat = null;
  const flicker = document.querySelector("[data-flicker]");
  flicker.addEventListener("click", () => {
    place.classList.toggle("stacked");
    clearInterval(beat);
    for (const one of pictures) one.closest("figure").hidden = false;
    beat = null;
    if (!place.classList.contains("stacked")) return;
    let shown = 0;
    const next = () => {
      pictures.forEach((one, n) => {
        one.closest("figure").hidden = n !== shown;
      });
      shown = (shown + 1) % pictures.length;
    };
    next();
    beat = setInterval(next, 700);
  });
  document.querySelector("[data-wipe]").addEventListener("input", (event) => {
    const [first, second] = pictures;
    const share = Number(event.target.value);
    second.style.clipPath = share ? `inset(0 0 0 ${share}%)` : "";
    second.closest("figure").classList.toggle("over", share > 0);
    const gap =
      first.getBoundingClientRect().left - second.closest("figure").getBoundingClientRect().left;
    second.style.translate = share ? `${gap}px 0` : "";
  });
})();
