// Counts the clocks of a run between answers of the server, through taps that wait here, and gives its cues.
(() => {
  const [taps, counting] = [window.chimneyTaps, window.chimneyCounting];
  const wants = window.chimneyWants;
  const standing = document.documentElement.hasAttribute("data-clock-stands");
  const told = new WeakMap();
  const two = (n) => String(n).padStart(2, "0");
  const digits = (seconds) => {
    const whole = Math.floor(Math.max(0, seconds));
    const [h, m, s] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
    return h ? `${h} h ${two(m)}` : `${m}:${two(s)}`;
  };

  const bench = () => document.querySelector("[data-run]");
  const steps = (run) =>
    [...run.querySelectorAll("[data-step]")].map((line) => ({
      line,
      name: line.dataset.name,
      say: line.dataset.say,
      times: line.dataset.times,
      caution: line.dataset.caution,
      remark: line.querySelector(".step-remark").textContent,
      least: Number(line.dataset.least),
      most: Number(line.dataset.most),
      beat: Number(line.dataset.beat),
      drip: Number(line.dataset.drip),
      longer: Number(line.dataset.longer),
      again: Number(line.dataset.again),
      alone: line.dataset.alone === "1",
      ready: line.dataset.purpose === "ready",
    }));

  const ADDRESS = /\/(\d+)\/([a-z]+)\/$/;
  const movesOf = (address) => Number(ADDRESS.exec(address)[1]);
  // What the server said of a sheet, and when that was on the clocks of this device.
  const base = (lane) => {
    if (!told.has(lane)) {
      const { place, elapsed, more, moves } = lane.dataset;
      told.set(lane, {
        at: taps.moment(),
        place: place === "" ? null : Number(place),
        elapsed: Number(elapsed),
        more: Number(more),
        moves: Number(moves),
        over: lane.hasAttribute("data-over"),
      });
    }
    return told.get(lane);
  };
  // The server's word carried on through the taps that wait here, until now.
  const stands = (run, lane, list) => {
    const from = base(lane);
    const mine = taps.waiting(run.dataset.exposure).flatMap((tap) => {
      const [number, word] = tap.word.split(" ");
      // Made for a state that the server has left: it has been taken in, or will be refused.
      const late = number !== lane.dataset.lane || movesOf(tap.url) < from.moves;
      return late ? [] : [[taps.elapsed(from.at, tap), word]];
    });
    const until = standing ? (mine.at(-1)?.[0] ?? 0) : taps.elapsed(from.at);
    return { ...counting.lane(from, mine, until, list), lane, tapped: mine.length > 0 };
  };

  const put = (node, words) => {
    if (node && node.textContent !== words) node.textContent = words;
  };
  const show = (now, list) => {
    const { lane, step } = now;
    put(lane.querySelector("[data-clock]"), step ? digits(now.elapsed) : "");
    lane.classList.toggle("lane-long", now.elapsed >= 3600);
    const most = step ? step.most + now.more : 0;
    lane
      .querySelector("[data-bar]")
      .setAttribute("width", most ? Math.min(1000, (1000 * now.elapsed) / most) : 0);
    const call = lane.querySelector("[data-call]");
    if (call.dataset.calls && !now.tapped) {
      const names = call.dataset.calls.split("|");
      const place = Math.floor(now.elapsed / Number(call.dataset.beat));
      put(call, names[Math.min(place, names.length - 1)]);
    }
    if (!now.tapped) return;
    put(call, "");
    put(lane.querySelector("[data-head-words]"), now.over ? "through" : (step?.name ?? "waits"));
    put(lane.querySelector("[data-times]"), step?.times ?? "");
    put(lane.querySelector("[data-remark]"), step?.remark ?? "");
    const caution = lane.querySelector("[data-caution]");
    put(caution, step?.caution ?? "");
    caution.hidden = !step?.caution;
    const mark = most && step.least < most ? (1000 * step.least) / most : 0;
    for (const end of ["x1", "x2"]) lane.querySelector("[data-mark]").setAttribute(end, mark);
    const next = list[now.place === null ? now.wet : now.place + 1];
    put(
      lane.querySelector("[data-does=next] [data-words]"),
      next ? `${next.name} now` : "Through: it waits to be read",
    );
    const again = lane.querySelector("[data-does=again]");
    if (again) {
      again.hidden = !step?.again;
      if (step?.again)
        put(again.querySelector("[data-words]"), `${list[now.place - step.again].name} again`);
    }
    const longer = lane.querySelector("[data-does=longer]");
    if (longer) longer.hidden = !step?.most;
    for (const form of lane.querySelectorAll("form[data-tap]")) {
      const address = form.action.replace(ADDRESS, `/${now.moves}/$2/`);
      form.action = address;
      form.setAttribute("hx-post", new URL(address).pathname);
      if (now.over && form.dataset.does !== "undo") form.hidden = true;
    }
    const back = lane.querySelector("a[id^=back]");
    if (back) back.hidden = true;
  };

  const point = (run, list, all) => {
    const now = all[counting.turn(all)];
    if (!now) return;
    for (const { lane } of all) {
      const here = lane === now.lane;
      lane.classList.toggle("lane-now", here);
      const button = lane.querySelector(".act-big");
      if (!button) continue;
      if (here) button.dataset.key = "d";
      else delete button.dataset.key;
    }
    list.forEach((step, n) => {
      step.line.classList.toggle("step-now", n === now.place);
      step.line.classList.toggle("step-done", now.place !== null && n < now.place);
    });
    const codes = now.lane.querySelector(".lane-codes").textContent;
    const words = now.lane.querySelector("[data-head-words]").textContent;
    put(run.querySelector("[data-head]"), `${codes}: ${words}`);
  };

  let sound = null;
  const tone = (high, long) => {
    if (!wants("sound")) return;
    sound ??= new AudioContext();
    const voice = sound.createOscillator();
    const gain = sound.createGain();
    voice.frequency.value = high;
    gain.gain.value = 0.2;
    voice.connect(gain).connect(sound.destination);
    voice.start();
    voice.stop(sound.currentTime + long);
  };
  const say = (words) => {
    document.getElementById("said").textContent = words;
    if (!wants("voice")) return;
    if (!window.speechSynthesis || !window.SpeechSynthesisUtterance) {
      tone(660, 0.3);
      return;
    }
    const line = new SpeechSynthesisUtterance(words);
    line.lang = "en";
    speechSynthesis.speak(line);
  };
  // A cue is given once, as the clock passes it.
  const cued = new Map();
  const cue = (now) => {
    const { lane, step } = now;
    const key = lane.dataset.lane;
    const codes = lane.querySelector(".lane-codes").textContent;
    const was = cued.get(key);
    cued.set(key, { moves: now.moves, elapsed: now.elapsed });
    if (!was || !step) return;
    if (was.moves !== now.moves) {
      say(`${codes}. ${step.say}`);
      return;
    }
    const passed = (moment) => moment > 0 && was.elapsed < moment && now.elapsed >= moment;
    const most = step.most + now.more;
    if (passed(most)) {
      tone(1320, 0.7);
      navigator.vibrate?.([300, 150, 300]);
      say(`${codes}: time`);
    } else if (step.least < most && passed(step.least)) {
      tone(1100, 0.3);
      say(`${codes}: look`);
    } else if (step.drip && passed(most - step.drip)) {
      tone(990, 0.3);
      say("drip");
    } else if (
      step.beat &&
      now.elapsed < most &&
      Math.floor(was.elapsed / step.beat) !== Math.floor(now.elapsed / step.beat)
    ) {
      tone(440, 0.06);
    }
  };

  const tick = () => {
    const run = bench();
    if (!run) return;
    const list = steps(run);
    const all = [...run.querySelectorAll("[data-lane]")].map((lane) => stands(run, lane, list));
    for (const now of all) show(now, list);
    point(run, list, all);
    if (!standing) for (const now of all) cue(now);
  };
  tick();
  setInterval(tick, 200);
  const box = document.querySelector("[data-cue='voice']");
  box?.addEventListener("change", () => say("A voice says each step."));
})();
