// A ruler in the chosen picture: two taps mark a length on it, and the field takes the pixels between the marks.
(() => {
  const ruler = document.querySelector("[data-ruler]");
  const form = ruler.closest("form");
  const field = form.elements[ruler.dataset.ruler];
  const canvas = ruler.querySelector("canvas");
  const glass = ruler.querySelector("svg");
  const marks = [...glass.querySelectorAll("[data-mark]")];
  const line = glass.querySelector("line");
  const SHOWN_PX = 900;
  let perPixel = 1;
  let next = 0;
  let held = null;

  const at = (mark) => [Number(mark.dataset.x), Number(mark.dataset.y)];
  const put = (mark, x, y) => {
    const { width, height } = glass.viewBox.baseVal;
    const place = [Math.min(width, Math.max(0, x)), Math.min(height, Math.max(0, y))];
    [mark.dataset.x, mark.dataset.y] = place;
    mark.setAttribute("transform", `translate(${place})`);
    const [[x1, y1], [x2, y2]] = marks.map(at);
    for (const [name, value] of Object.entries({ x1, y1, x2, y2 })) line.setAttribute(name, value);
  };
  const tell = () => {
    const [[x1, y1], [x2, y2]] = marks.map(at);
    field.value = (Math.hypot(x2 - x1, y2 - y1) * perPixel).toFixed(1);
  };
  const here = (event) => {
    const point = new DOMPoint(event.clientX, event.clientY);
    const { x, y } = point.matrixTransform(glass.getScreenCTM().inverse());
    return [x, y];
  };
  const far = (mark, [x, y]) => Math.hypot(at(mark)[0] - x, at(mark)[1] - y);

  const show = async (file) => {
    ruler.hidden = true;
    const picture = await createImageBitmap(file).catch(() => null);
    // A browser that cannot show the picture leaves the field to be typed.
    if (!picture) return;
    perPixel = Math.max(1, Math.max(picture.width, picture.height) / SHOWN_PX);
    canvas.width = Math.round(picture.width / perPixel);
    canvas.height = Math.round(picture.height / perPixel);
    canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
    glass.setAttribute("viewBox", `0 0 ${canvas.width} ${canvas.height}`);
    marks.forEach((mark, n) => {
      put(mark, canvas.width * (n ? 0.7 : 0.3), canvas.height / 2);
    });
    next = 0;
    ruler.hidden = false;
  };

  form.elements.picture.addEventListener("change", (event) => {
    if (event.target.files[0]) show(event.target.files[0]);
  });
  glass.addEventListener("pointerdown", (event) => {
    const place = here(event);
    const onMark = event.target.closest("[data-mark]");
    // The first two taps set the two marks; later ones move the nearer.
    held = onMark ?? marks[next] ?? marks.toSorted((a, b) => far(a, place) - far(b, place))[0];
    if (!onMark) put(held, ...place);
    next = Math.max(next, marks.indexOf(held) + 1);
    glass.setPointerCapture(event.pointerId);
    tell();
  });
  glass.addEventListener("pointermove", (event) => {
    if (!held) return;
    put(held, ...here(event));
    tell();
  });
  for (const over of ["pointerup", "pointercancel"])
    glass.addEventListener(over, () => {
      held = null;
    });
  const STEPS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  glass.addEventListener("keydown", (event) => {
    const mark = event.target.closest("[data-mark]");
    const step = STEPS[event.key];
    if (!mark || !step) return;
    event.preventDefault();
    const [x, y] = at(mark);
    put(mark, x + step[0], y + step[1]);
    tell();
  });
})();
