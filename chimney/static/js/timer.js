// Counts clocks between answers of the server, which alone knows how long a hole has been open.
(() => {
  const seen = new WeakMap();
  const [taps, counting] = [window.chimneyTaps, window.chimneyCounting];
  const standing = document.documentElement.hasAttribute("data-clock-stands");
  // Tones are on by themselves on the device that opened the hole or began the run; once chosen they stay as chosen.
  const came = document.referrer && new URL(document.referrer);
  const mine = `began-${location.pathname}`;
  if (came && came.origin === location.origin && /^\/(plan|begin|develop)\//.test(came.pathname))
    sessionStorage.setItem(mine, "1");
  const wants = (cue) => {
    const chosen = localStorage.getItem(`cue-${cue}`);
    const began = cue !== "voice" && sessionStorage.getItem(mine) === "1";
    return chosen === "1" || (chosen === null && began);
  };
  window.chimneyWants = wants;

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
  // What the time came to is said aloud by a reader of screens.
  const HEARD = {
    open: "The hole is free: the time runs.",
    due: "Time. Shut the hole.",
    covered: "Covered: the clock stands.",
    closed: "The hole is shut.",
  };
  const announce = (moment) => {
    const line = document.getElementById("said");
    if (line && HEARD[moment]) line.textContent = HEARD[moment];
  };

  // What the server said of a timer, and when that was on the clocks of this device.
  const said = (timer) => {
    if (!seen.has(timer)) {
      const { openS, plannedS, handS, state } = timer.dataset;
      seen.set(timer, {
        moment: taps.moment(),
        open: Number(openS),
        planned: Number(plannedS),
        hand: Number(handS || 0),
        state,
      });
    }
    return seen.get(timer);
  };
  // The server's word, carried on through the taps that still wait here, until now.
  const stands = (timer) => {
    const base = said(timer);
    const mine = taps
      .waiting(timer.dataset.exposure)
      .map((tap) => [taps.elapsed(base.moment, tap), tap.word]);
    const until = standing ? 0 : taps.elapsed(base.moment);
    const now = { ...counting.hole(base, mine, until), tapped: mine.length > 0 };
    return { ...now, left: base.planned - now.open, planned: base.planned, from: base.open };
  };

  const show = (timer) => {
    const face = timer.querySelector("[data-digits]");
    if (!face) return;
    const now = stands(timer);
    const up = timer.hasAttribute("data-counts-up");
    const words =
      now.state === "hand" ? digits(now.hand) : up ? digits(-now.open).slice(1) : digits(now.left);
    if (face.textContent !== words) face.textContent = words;
    const bar = timer.querySelector("[data-bar]");
    const from = Number(bar.getAttribute("x"));
    bar.dataset.start ??= bar.getAttribute("width");
    const grown = Number(bar.dataset.start);
    const rest = now.planned - now.from;
    const share = rest > 0 ? Math.min(1, (now.open - now.from) / rest) : 1;
    bar.setAttribute("width", Math.max(grown, grown + (1000 - from - grown) * share));
    if (timer.id !== "timer") return;
    if (!standing && !up && ["open", "hand"].includes(now.state))
      cue(timer, now.state === "hand" ? now.hand : now.left);
    tell(timer, now, up);
    if (now.tapped || timer.dataset.offered) offer(timer, now.state);
  };

  // Text, digits and bar change together: what stands under the clock is chosen here, not waited for.
  const STEP = { hand: 2, open: 3, due: 3, covered: 3 };
  const tell = (timer, now, up) => {
    const moment = now.state === "open" && !up && now.left <= 0 ? "due" : now.state;
    if (timer.dataset.now === moment || !(moment in STEP)) return;
    timer.dataset.now = moment;
    announce(moment);
    // The hour of closing that the server told does not hold after a tap that it does not know.
    timer.toggleAttribute("data-tapped", now.tapped);
    timer.querySelectorAll(".order li").forEach((line, n) => {
      line.classList.toggle("order-done", n < STEP[moment]);
      line.classList.toggle("order-now", n === STEP[moment]);
    });
  };

  // Buttons follow what was tapped without a network: what was covered can be uncovered, what was shut can be undone.
  const WORDS = {
    open: { main: ["close", "Close the hole"], second: ["cover", "Cover for a moment"] },
    covered: { main: ["close", "Close the hole"], second: ["uncover", "Uncover"] },
    closed: {
      // What one does after shutting is told by the camera.
      main: ["slide-back", ""],
      second: ["reopen", "Not closed after all: undo"],
    },
  };
  const offer = (timer, state) => {
    if (!WORDS[state] || timer.dataset.offered === state) return;
    timer.dataset.offered = state;
    const forms = [...timer.querySelectorAll("form[data-tap]")];
    ["main", "second"].forEach((place, n) => {
      const form = forms[n];
      if (!form) return;
      const [word, words] = WORDS[state][place];
      const said = words || timer.dataset.shutWords;
      form.action = form.action.replace(/[a-z-]+\/$/, `${word}/`);
      form.dataset.tap = word;
      form.querySelector("button").firstChild.textContent = `${said} `;
    });
  };

  // A poll or a tap brings the timer anew: who stood in it stands in it still.
  let inside = false;
  document.addEventListener("htmx:beforeSwap", (event) => {
    inside =
      event.detail.target?.id === "timer" && event.detail.target.contains(document.activeElement);
  });
  let heard = document.getElementById("timer")?.dataset.state;
  document.addEventListener("htmx:afterSettle", () => {
    const state = document.getElementById("timer")?.dataset.state;
    if (state !== heard) announce(state);
    heard = state;
    if (inside && document.activeElement === document.body)
      document.querySelector("#timer .act-big, #timer button")?.focus({ preventScroll: true });
    inside = false;
  });

  // A test strip: which pull comes next and when, with a cue of its own each.
  const pull = () => {
    const line = document.querySelector("[data-pulls]");
    const timer = document.getElementById("timer");
    if (!line || !timer?.querySelector("[data-digits]")) return;
    const pulls = line.dataset.pulls.trim().split(/\s+/).map(Number);
    const now = stands(timer);
    const next = pulls.findIndex((at) => at > now.open);
    const left = pulls[next] - now.open;
    const words =
      next < 0
        ? "Every band has its time."
        : next === pulls.length - 1
          ? `The last band: shut the hole in ${digits(left)}`
          : `Push the slide in over band ${next + 1} of ${pulls.length} in ${digits(left)}`;
    if (line.textContent !== words) line.textContent = words;
    if (next < 0 || standing || now.state !== "open") return;
    const mark = `${next} ${Math.ceil(left)}`;
    if (Math.ceil(left) > 3 || line.dataset.cued === mark) return;
    line.dataset.cued = mark;
    beep(Math.ceil(left) <= 1);
  };

  const title = document.title;
  const tick = () => {
    document.querySelectorAll("[data-timer]").forEach(show);
    pull();
    const main = document.querySelector("#timer [data-digits]");
    document.title = main ? `${main.textContent} ${title}` : title;
  };
  tick();
  setInterval(tick, 200);

  // What this browser refuses over plain http is named, not broken.
  let lock = null;
  const keepAwake = async () => {
    if (!wants("wake") || !navigator.wakeLock || document.hidden) return;
    try {
      lock = await navigator.wakeLock.request("screen");
    } catch {
      lock = null;
    }
  };
  const missing = document.querySelector("[data-missing]");
  document.querySelectorAll("[data-cue]").forEach((box) => {
    const name = box.dataset.cue;
    box.checked = wants(name);
    if (name === "wake" && !navigator.wakeLock) {
      box.disabled = true;
      box.checked = false;
      missing.hidden = false;
      missing.textContent =
        "This browser keeps the screen on only over https or on this machine itself: set the phone's own screen time longer.";
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
