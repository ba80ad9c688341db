// A picture to click on fits its column; where it was clicked is told as of its full size, which the server knows.
(() => {
  for (const place of document.querySelectorAll("[data-click-on]")) {
    place.classList.add("fits");
    const picture = place.querySelector("input[type=image]");
    picture.addEventListener("click", (event) => {
      const box = picture.getBoundingClientRect();
      // By the keyboard there is no place.
      if (!event.detail) return;
      event.preventDefault();
      const scale = picture.getAttribute("width") / box.width;
      const form = picture.form;
      for (const [name, value] of [
        ["at.x", (event.clientX - box.left) * scale],
        ["at.y", (event.clientY - box.top) * scale],
      ]) {
        const field = document.createElement("input");
        field.type = "hidden";
        field.name = name;
        field.value = Math.round(Math.max(0, value));
        form.append(field);
      }
      form.submit();
    });
  }
})();
