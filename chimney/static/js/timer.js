// Counts clocks between answers of the server, which alone knows how long a hole has been open.
(() => {
  const seen = new WeakMap();
  const standing = document.documentElement.hasAttribute("data-clock-stands");
  const wants = (cue) => localStorage.getItem(`cue-${cue}`) === "1";

  const digits = (left) => {
    const whole = Math.floor(Math.abs(left) + (left > 0 ? 0.999 : 0));
    const two = (n) => String(n).padStart(2, "0");
    const [h, m, s] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
    const words = h ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
    return left > 0 ? words : `+${words}`;
  };

  let sound = null;
  const beep = (high) => {
    if (!wants("sound")) return;
    sound ??= new AudioContext();
    const tone = sound.createOscillator();
    const gain = sound.createGain();
    tone.frequency.value = high ? 1320 : 880;
    gain.gain.value = 0.2;
    tone.connect(gain).connect(sound.destination);
    tone.start();
    tone.stop(sound.currentTime + (high ? 0.7 : 0.12));
  };
  const cue = (timer, left) => {
    const mark = Math.ceil(left);
    if (mark > 3 || mark < 0 || timer.dataset.cued === String(mark) || left < -3) return;
    timer.dataset.cued = String(mark);
    beep(mark === 0);
    if (mark === 0) navigator.vibrate?.([300, 150, 300]);
  };

  // performance.now() does not jump when somebody sets the clock of the device.
  const show = (timer) => {
    if (!seen.has(timer)) seen.set(timer, performance.now());
    const { openS, plannedS, handS, state } = timer.dataset;
    const since = standing ? 0 : (performance.now() - seen.get(timer)) / 1000;
    const hand = state === "hand" ? Number(handS) - since : 0;
    const counting = state === "open" || (state === "hand" && hand <= 0);
    const open = Number(openS) + (counting ? since - (state === "hand" ? Number(handS) : 0) : 0);
    const left = Number(plannedS) - open;
    const face = timer.querySelector("[data-digits]");
    if (!face) return;
    const words = digits(hand > 0 ? hand : left);
    if (face.textContent !== words) face.textContent = words;
    const bar = timer.querySelector("[data-bar]");
    const from = Number(bar.getAttribute("x"));
    bar.dataset.start ??= bar.getAttribute("width");
    const grown = Number(bar.dataset.start);
    const rest = Number(plannedS) - Number(openS);
    const share = rest > 0 ? Math.min(1, (open - Number(openS)) / rest) : 1;
    bar.setAttribute("width", Math.max(grown, grown + (1000 - from - grown) * share));
    if (!standing && (counting || hand > 0) && timer.id === "timer") cue(timer, hand > 0 ? hand : left);
  };

  const title = document.title;
  const tick = () => {
    document.querySelectorAll("[data-timer]").forEach(show);
    const main = document.querySelector("#timer [data-digits]");
    document.title = main ? `${main.textContent} ${title}` : title;
  };
  tick();
  setInterval(tick, 200);

  // Taps that could not be sent wait here and say how long ago they were made.
  const waiting = [];
  const flag = () => {
    const note = document.querySelector("[data-waits]");
    if (note) note.hidden = !waiting.length;
  };
  const pretend = (word) => {
    const timer = document.getElementById("timer");
    if (!timer || !timer.dataset.openS) return;
    const since = (performance.now() - (seen.get(timer) ?? performance.now())) / 1000;
    if (timer.dataset.state === "open") timer.dataset.openS = String(Number(timer.dataset.openS) + since);
    seen.set(timer, performance.now());
    timer.dataset.state = { close: "closed", cover: "covered", uncover: "open" }[word] ?? timer.dataset.state;
  };
  document.addEventListener("htmx:sendError", (event) => {
    const form = event.target.closest?.("form[data-tap]");
    if (!form) return;
    waiting.push({ url: form.action, at: performance.now(), token: form.querySelector("[name=csrfmiddlewaretoken]").value });
    pretend(form.dataset.tap);
    form.querySelector("button").disabled = true;
    flag();
  });
  const settle = async () => {
    while (waiting.length) {
      const { url, at, token } = waiting[0];
      const body = new URLSearchParams({ csrfmiddlewaretoken: token, ago_ms: String(Math.round(performance.now() - at)) });
      try {
        await fetch(url, { method: "POST", body, redirect: "manual", headers: { "X-Requested-With": "tap" } });
      } catch {
        return;
      }
      waiting.shift();
      if (!waiting.length) location.reload();
    }
  };
  setInterval(() => { if (waiting.length) settle(); }, 3000);
  addEventListener("online", settle);
  addEventListener("beforeunload", (event) => { if (waiting.length) event.preventDefault(); });

  // What this browser refuses over plain http is named, not broken.
  let lock = null;
  const keepAwake = async () => {
    if (!wants("wake") || !navigator.wakeLock || document.hidden) return;
    try { lock = await navigator.wakeLock.request("screen"); } catch { lock = null; }
  };
  const missing = document.querySelector("[data-missing]");
  document.querySelectorAll("[data-cue]").forEach((box) => {
    const name = box.dataset.cue;
    box.checked = wants(name);
    if (name === "wake" && !navigator.wakeLock) {
      box.disabled = true;
      box.checked = false;
      missing.hidden = false;
      missing.textContent = "This browser keeps the screen on only over https or on this machine itself: set the phone's own screen time longer.";
    }
    box.addEventListener("change", () => {
      localStorage.setItem(`cue-${name}`, box.checked ? "1" : "0");
      if (name === "sound") beep(false);
      if (name === "wake") box.checked ? keepAwake() : lock?.release();
    });
  });
  document.addEventListener("visibilitychange", keepAwake);
  keepAwake();
})();
