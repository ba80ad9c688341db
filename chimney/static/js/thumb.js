// Keys of our own for a reading, on a phone: the system's would cover the time and the button, and are small in the cold.
(() => {
  const keys = document.getElementById("number-keys");
  if (!keys || !matchMedia("(max-width: 700px) and (pointer: coarse)").matches) return;
  const reading = keys.closest("section");
  const fields = [...reading.querySelectorAll(".kind input")];
  const shown = () => fields.filter((field) => field.offsetParent);
  let field = null;
  let isFresh = true;
  const choose = (one) => {
    field?.classList.remove("typed-into");
    field = one;
    field?.classList.add("typed-into");
    isFresh = true;
  };
  const suit = () => {
    const kind = reading.querySelector("[name=kind]:checked")?.value;
    keys.hidden = !shown().length;
    for (const key of keys.children)
      key.hidden = Boolean(key.dataset.kind) && key.dataset.kind !== kind;
    if (!field?.offsetParent) choose(shown()[0] ?? null);
  };
  for (const one of fields) {
    one.inputMode = "none";
    one.addEventListener("focus", () => choose(one));
  }
  reading.addEventListener("change", suit);
  // The focus stays in the field, so that a reader goes on hearing it.
  keys.addEventListener("pointerdown", (event) => event.preventDefault());
  keys.addEventListener("click", (event) => {
    const typed = event.target.closest("[data-types]")?.dataset.types;
    if (!typed || !field) return;
    const was = field.value;
    const isUnit = typed.startsWith(" ");
    // A unit goes as a whole, a figure alone.
    if (typed === "back") field.value = was.replace(/ ?[a-z]+$|.$/, "");
    else if (isUnit) field.value = was.replace(/ ?[a-z]+$/, "") + typed;
    else field.value = (isFresh ? "" : was.replace(/ [a-z]+$/, "")) + typed;
    isFresh = false;
    field.dispatchEvent(new Event("input", { bubbles: true }));
  });
  suit();
})();
