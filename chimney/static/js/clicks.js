// A picture to click on fits its column; where it was clicked is told as of its full size, which the server knows.
(() => {
  // A glass over what lies under the pointer, or beside the finger that drags a mark.
  const TIMES = 3;
  const REACH = 70;
  const putGlass = (place, picture) => {
    const glass = Object.assign(document.createElement("div"), {
      className: "loupe",
      hidden: true,
    });
    glass.setAttribute("aria-hidden", "true");
    place.append(glass);
    const hide = () => {
      glass.hidden = true;
    };
    place.addEventListener("pointermove", (event) => {
      const box = picture.getBoundingClientRect();
      const [x, y] = [event.clientX - box.left, event.clientY - box.top];
      const dragged = event.buttons && event.target.closest?.("[data-handle]");
      glass.hidden = !(dragged || event.pointerType === "mouse");
      if (glass.hidden) return;
      // Above what it shows, and below where there is no room.
      const above = y > 2 * REACH + 30;
      glass.style.left = `${Math.min(Math.max(x - REACH, 0), Math.max(0, box.width - 2 * REACH))}px`;
      glass.style.top = `${above ? y - 2 * REACH - 30 : y + 30}px`;
      glass.style.backgroundImage = `url("${picture.src}")`;
      glass.style.backgroundSize = `${box.width * TIMES}px ${box.height * TIMES}px`;
      glass.style.backgroundPosition = `${REACH - x * TIMES}px ${REACH - y * TIMES}px`;
    });
    for (const gone of ["pointerleave", "pointerup", "pointercancel"])
      place.addEventListener(gone, hide);
  };
  // Larger in a frame that scrolls, for a thumb.
  for (const button of document.querySelectorAll("[data-larger]")) {
    button.hidden = false;
    button.addEventListener("click", () => {
      const frame = button.closest("[data-frame]");
      const larger = frame.classList.toggle("larger");
      frame.scrollTo((frame.scrollWidth - frame.clientWidth) / 2, frame.scrollHeight / 4);
      button.setAttribute("aria-pressed", String(larger));
    });
  }
  for (const place of document.querySelectorAll("[data-click-on]")) {
    place.classList.add("fits");
    const picture = place.querySelector("input[type=image]");
    if (place.closest("[data-frame]")) putGlass(place, picture);
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
