// Counts clocks between answers of the server, which alone knows how long a hole has been open.
(() => {
  const seen = new WeakMap();
  const standing = document.documentElement.hasAttribute("data-clock-stands");

  const digits = (left) => {
    const whole = Math.floor(Math.abs(left) + (left > 0 ? 0.999 : 0));
    const two = (n) => String(n).padStart(2, "0");
    const [h, m, s] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
    const words = h ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
    return left > 0 ? words : `+${words}`;
  };

  const show = (timer) => {
    if (!seen.has(timer)) seen.set(timer, Date.now());
    const { openS, plannedS, state } = timer.dataset;
    const counting = state === "open" && !standing;
    const open = Number(openS) + (counting ? (Date.now() - seen.get(timer)) / 1000 : 0);
    const left = Number(plannedS) - open;
    const face = timer.querySelector("[data-digits]");
    if (!face) return null;
    const words = digits(left);
    if (face.textContent !== words) face.textContent = words;
    timer.querySelector("[data-bar]").setAttribute("width", Math.min(1000, (1000 * open) / plannedS));
    if (counting && left <= 0 && timer.dataset.over === undefined) {
      timer.dataset.over = "";
      if (open - plannedS < 5) navigator.vibrate?.([300, 150, 300]);
    }
    return words;
  };

  const title = document.title;
  const tick = () => {
    document.querySelectorAll("[data-timer]").forEach(show);
    const main = document.querySelector("#timer [data-digits]");
    document.title = main ? `${main.textContent} ${title}` : title;
  };
  tick();
  setInterval(tick, 200);
})();
