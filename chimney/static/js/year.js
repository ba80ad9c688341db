// The year of light says a moment under the pointer, and a tap moves the cross there.
(() => {
  const form = document.getElementById("year");
  const line = document.getElementById("year-hover");
  if (!form || !line) return;
  const PAUSE_MS = 120;
  let [asked, waiting] = [0, null];
  const glassOf = (event) => event.target.closest?.("#year-glass .handles");
  const place = (glass, event) => {
    const point = new DOMPoint(event.clientX, event.clientY);
    const { x, y } = point.matrixTransform(glass.getScreenCTM().inverse());
    const name = glass.querySelector("[data-handle]").dataset.handle;
    return `${name} ${x.toFixed(1)} ${y.toFixed(1)}`;
  };
  const ask = async (where) => {
    const query = new URLSearchParams(new FormData(form));
    query.set("hovered", where);
    const answer = await fetch(`${form.action}?${query}`);
    if (answer.ok) line.textContent = await answer.text();
  };
  document.addEventListener("pointermove", (event) => {
    const glass = glassOf(event);
    if (!glass || event.pointerType !== "mouse" || event.buttons) return;
    const where = place(glass, event);
    clearTimeout(waiting);
    waiting = setTimeout(
      () => {
        asked = performance.now();
        ask(where).catch(() => {});
      },
      Math.max(0, PAUSE_MS - (performance.now() - asked)),
    );
  });
  document.addEventListener("click", (event) => {
    const glass = glassOf(event);
    if (!glass || event.target.closest("[data-handle]")) return;
    form.elements.dragged.value = place(glass, event);
    form.elements.dragged.dispatchEvent(new Event("change", { bubbles: true }));
  });
})();
