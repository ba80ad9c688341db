// Handles in drawings: a drag says where to ("name x y" in the drawing's own units) and asks the server, which computes.
(() => {
  const place = (handle, x, y) => {
    const { width, height } = handle.ownerSVGElement.viewBox.baseVal;
    const keep = handle.dataset.axis;
    const at = { x: Number(handle.dataset.x), y: Number(handle.dataset.y) };
    if (keep !== "y") at.x = Math.min(width, Math.max(0, x));
    if (keep !== "x") at.y = Math.min(height, Math.max(0, y));
    handle.setAttribute("transform", `translate(${at.x.toFixed(1)} ${at.y.toFixed(1)})`);
    handle.dataset.x = at.x.toFixed(2);
    handle.dataset.y = at.y.toFixed(2);
    const along = keep === "y" ? at.y : at.x;
    handle.setAttribute("aria-valuenow", along.toFixed(1));
  };
  const tell = (handle, event) => {
    const form = document.getElementById(handle.ownerSVGElement.dataset.form);
    const field = form.elements.dragged;
    // While it moves nothing is kept: answers on the way may come late, and only the last place counts.
    field.value = `${handle.dataset.handle} ${handle.dataset.x} ${handle.dataset.y}${event === "dragged" ? " moving" : ""}`;
    field.dispatchEvent(new Event(event, { bubbles: true }));
  };
  // Where the page lay when the hand took hold: an answer above the drawing may push it up or down, and the hand
  // does not go with it.
  const ground = (handle) =>
    handle.ownerSVGElement.getScreenCTM().inverse().translate(-scrollX, -scrollY);
  const here = (from, event) => {
    const point = new DOMPoint(event.pageX, event.pageY).matrixTransform(from);
    return [point.x, point.y];
  };

  // A slow answer holds the next question back (the form's hx-sync); this spares a quick server.
  const PAUSE_MS = 50;
  let asked = 0;
  let held = null;
  document.addEventListener("pointerdown", (event) => {
    const handle = event.target.closest?.("[data-handle]");
    if (!handle || event.button) return;
    const from = ground(handle);
    const [x, y] = here(from, event);
    held = {
      handle,
      from,
      dx: Number(handle.dataset.x) - x,
      dy: Number(handle.dataset.y) - y,
      moved: false,
    };
    handle.setPointerCapture(event.pointerId);
    event.preventDefault();
    handle.focus({ preventScroll: true });
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    const [x, y] = here(held.from, event);
    place(held.handle, x + held.dx, y + held.dy);
    held.moved = true;
    // Not htmx's throttle, which would swallow the last word of the drag as well.
    if (performance.now() - asked < PAUSE_MS) return;
    asked = performance.now();
    tell(held.handle, "dragged");
  });
  const drop = () => {
    if (!held) return;
    const { handle, moved } = held;
    held = null;
    if (moved) tell(handle, "change");
  };
  document.addEventListener("pointerup", drop);
  document.addEventListener("pointercancel", drop);
  // What is typed or chosen makes the answer on the way an old one; a drag lets it come.
  for (const happened of ["input", "change"])
    document.addEventListener(
      happened,
      (event) => {
        const form = event.target.form;
        if (form?.matches("[hx-sync]") && event.target.name !== "dragged")
          htmx.trigger(form, "htmx:abort");
      },
      true,
    );
  // Said once: an answer on the way may neither take the last word away nor hear it again.
  let sent = null;
  document.addEventListener("htmx:beforeSend", (event) => {
    const field = event.target.elements?.dragged;
    if (!field) return;
    sent = new FormData(event.target);
    field.value = "";
  });
  // Held by a hand, or moved by a key whose word waits behind the answer that comes now.
  const holds = (drawing) =>
    held || document.getElementById(drawing.dataset.form)?.elements.dragged.value;
  // What comes back takes neither a held handle out of the hand nor what was typed since it was asked for.
  document.addEventListener("htmx:oobBeforeSwap", (event) => {
    const { target } = event.detail;
    const typed =
      sent && target.name && sent.has(target.name) && target.value !== sent.get(target.name);
    if ((holds(target) && target.hasAttribute("data-handles")) || typed)
      event.detail.shouldSwap = false;
  });

  const STEPS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  // What stood before each key, so that the key back leads to the very same, whatever the answers rounded: the fields
  // of the form, else the place.
  const BACK = {
    ArrowLeft: "ArrowRight",
    ArrowRight: "ArrowLeft",
    ArrowUp: "ArrowDown",
    ArrowDown: "ArrowUp",
  };
  let trail = [];
  const forget = (event) => {
    if (event.target.name !== "dragged") trail = [];
  };
  document.addEventListener("pointerdown", forget);
  document.addEventListener("input", forget);
  const fieldsOf = (form) =>
    [...new FormData(form)].filter(
      ([name, value]) => typeof value === "string" && !/^(csrf|dragged)/.test(name),
    );
  const restore = (form, fields) => {
    for (const [name, value] of fields)
      if (form.elements[name] && form.elements[name].value !== value)
        form.elements[name].value = value;
    form.elements.dragged.value = "";
    form.elements.dragged.dispatchEvent(new Event("change", { bubbles: true }));
  };
  document.addEventListener("keydown", (event) => {
    const handle = event.target.closest?.("[data-handle]");
    const step = STEPS[event.key];
    if (!handle || !step) return;
    event.preventDefault();
    const form = document.getElementById(handle.ownerSVGElement.dataset.form);
    const size = Number(handle.dataset.step || 2);
    const at = { x: Number(handle.dataset.x), y: Number(handle.dataset.y) };
    const name = handle.dataset.handle;
    const before = trail.at(-1);
    if (before?.name === name && before.key === BACK[event.key]) {
      trail.pop();
      place(handle, before.x, before.y);
      if (before.fields.length) restore(form, before.fields);
      else tell(handle, "change");
      return;
    }
    trail.push({ name, key: event.key, ...at, fields: fieldsOf(form) });
    place(handle, at.x + step[0] * size, at.y + step[1] * size);
    tell(handle, "change");
  });
  // A swapped-in handle of the same name takes the focus of the one that went.
  let last = null;
  document.addEventListener("htmx:beforeSwap", () => {
    last = document.activeElement?.dataset?.handle;
  });
  // At once: a key that comes before the page has settled is for that handle as well.
  for (const happened of ["htmx:oobAfterSwap", "htmx:afterSettle"])
    document.addEventListener(happened, () => {
      if (last && document.activeElement === document.body)
        document
          .querySelector(`[data-handle="${CSS.escape(last)}"]`)
          ?.focus({ preventScroll: true });
    });
})();
