// Single keys press what is on the screen: the element with that data-key. Off where somebody types or has focus.
(() => {
  const kept = "keys-off";
  const off = () => localStorage.getItem(kept) === "1";
  const busy = (e) =>
    e.target.closest?.("input, select, textarea, button, summary, [contenteditable]");

  // What opens, closes or ends a step is pressed by its letter only while that stands on the screen.
  const seen = (one) => {
    const { top, bottom } = one.getBoundingClientRect();
    return !one.matches(".act-big") || (bottom > 0 && top < window.innerHeight);
  };
  document.addEventListener("keydown", (event) => {
    if (off() || event.ctrlKey || event.metaKey || event.altKey || event.repeat || busy(event))
      return;
    if (event.key === "m") {
      document.getElementById("door-reading")?.click();
      const shown = [...document.querySelectorAll(".kind input")].find(
        (input) => input.offsetParent,
      );
      if (shown) {
        event.preventDefault();
        shown.focus();
        shown.select();
        return;
      }
    }
    const wanted = [...document.querySelectorAll("[data-key]")].find(
      (one) => one.dataset.key === event.key && !one.disabled && seen(one),
    );
    if (wanted) {
      event.preventDefault();
      wanted.click();
    }
  });

  // Where the first button of a form does nothing, the return key in a field for a date or an hour
  // does nothing either: browsers pass over that button there.
  document.addEventListener("keydown", (event) => {
    if (event.key !== "Enter" || !event.target.matches?.("input")) return;
    if (event.target.form?.querySelector("button, [type=submit]")?.disabled) event.preventDefault();
  });

  // What was refused is seen, and stands ready to be put right.
  const wrong = document.querySelector(
    "[aria-invalid='true'], .field-wrong :is(input, select, textarea)",
  );
  if (wrong?.offsetParent) wrong.focus();

  const box = document.getElementById("keys-on");
  if (box) {
    box.checked = !off();
    box.addEventListener("change", () => localStorage.setItem(kept, box.checked ? "0" : "1"));
  }
  if (location.hash === "#find") document.getElementById("find")?.focus();
  const reading = document.querySelector(".kind input");
  if (reading && !reading.value) reading.focus({ preventScroll: true });
})();
