// A clock that goes through steps by itself and sounds: nothing of it is kept.
(() => {
  const place = document.querySelector("[data-clock-alone]");
  const list = [...place.querySelectorAll("[data-step]")].map((line) => ({
    line,
    name: line.dataset.name,
    most: Number(line.dataset.most),
    alone: line.dataset.alone === "1",
  }));
  const face = place.querySelector("[data-clock]");
  const head = place.querySelector("[data-head]");
  const said = head.textContent;
  let now = -1;
  let since = 0;
  let sound = null;
  const two = (n) => String(n).padStart(2, "0");
  const digits = (seconds) => {
    const whole = Math.max(0, Math.ceil(seconds));
    return `${Math.floor(whole / 60)}:${two(whole % 60)}`;
  };
  const tone = (high, after, long) => {
    sound ??= new AudioContext();
    const voice = sound.createOscillator();
    voice.frequency.value = high;
    voice.connect(sound.destination);
    voice.start(sound.currentTime + after);
    voice.stop(sound.currentTime + after + long);
  };
  const tell = (words) => {
    for (const after of [0, 0.3, 0.6]) tone(880, after, 0.15);
    if (window.speechSynthesis && window.SpeechSynthesisUtterance) {
      const line = new SpeechSynthesisUtterance(words);
      line.lang = "en";
      speechSynthesis.speak(line);
    }
  };
  const go = (to) => {
    now = to;
    since = performance.now();
    list.forEach((step, n) => {
      step.line.classList.toggle("step-now", n === now);
      step.line.classList.toggle("step-done", n < now);
    });
    head.textContent = list[now]?.name ?? (now < 0 ? said : place.dataset.end);
    if (now >= 0) tell(head.textContent);
    if (now < 0 || !list[now]) face.textContent = "0:00";
  };
  setInterval(() => {
    const step = list[now];
    if (!step) return;
    const passed = (performance.now() - since) / 1000;
    face.textContent = step.most ? digits(step.most - passed) : digits(passed);
    // What is ticked waits for a hand, what washes or dries by itself needs no clock outside a door.
    if (step.most && passed >= step.most) go(step.alone ? list.length : now + 1);
  }, 200);
  place.querySelector("[data-start]").addEventListener("click", () => {
    if (now < 0 || now >= list.length) go(0);
  });
  place.querySelector("[data-skip]").addEventListener("click", () => {
    if (now >= 0 && now < list.length) go(now + 1);
  });
  place.querySelector("[data-stop]").addEventListener("click", () => go(-1));
})();
