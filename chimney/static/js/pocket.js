// The pocket sheet: it travels inside its file, runs without a network, and looks up what the core made.

const pack = JSON.parse(document.getElementById("pack").textContent);
const KEY = `pocket ${pack.token}`;
let kept = { events: [], running: [] };
try {
  kept = JSON.parse(localStorage.getItem(KEY)) || kept;
} catch {
  /* a phone that keeps nothing still counts */
}
const keep = () => {
  try {
    localStorage.setItem(KEY, JSON.stringify(kept));
  } catch {
    /* as above */
  }
  give();
};
const name = () => {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = (bytes[6] & 15) | 64;
  bytes[8] = (bytes[8] & 63) | 128;
  const hex = [...bytes].map((b) => b.toString(16).padStart(2, "0")).join("");
  return [
    hex.slice(0, 8),
    hex.slice(8, 12),
    hex.slice(12, 16),
    hex.slice(16, 20),
    hex.slice(20),
  ].join("-");
};
const two = (n) => String(n).padStart(2, "0");
const clock = (s) => {
  const w = Math.floor(s);
  const h = Math.floor(w / 3600);
  return `${h ? `${h}:${two(Math.floor(w / 60) % 60)}` : Math.floor(w / 60)}:${two(w % 60)}`;
};
const digits = (left) => (left > 0 ? clock(left + 0.999) : `+${clock(-left)}`);
// A shot added on the spot is like one that was packed, under its own name.
const shotOf = (pk) => {
  const added = kept.added?.find((one) => one.id === pk);
  const packed = pack.shots.find((s) => s.pk === (added ? added.like : pk));
  return added && packed
    ? { ...packed, pk: added.id, like: added.like, subject: added.subject }
    : packed;
};
const shots = () => [
  ...pack.shots,
  ...(kept.added ?? []).map((one) => shotOf(one.id)).filter(Boolean),
];
const sideOf = (key) => pack.sides.find((s) => s.key === key);
// Which side takes a sheet for this shot: its paper, its size, and no other camera's own back.
const fits = (side, shot) =>
  side.paper === shot.paper_pk &&
  side.size === shot.size &&
  (side.body === null || side.body === shot.body);
const exposed = () => [...kept.events, ...kept.running].filter((e) => !e.slip);
const used = () => new Set(exposed().map((e) => e.side));
const row = (shot, kind, index) => shot.tables[kind][index];
const kindOf = (key) => pack.kinds.find((kind) => kind.key === key);
// What a reading asks of a sheet of a shot: [seconds to give, exact ones, stops of effect, pulls of a strip], or
// nothing beyond a day, or where a strip's bands would be too close to be pulled.
const asked = (shot, kind, index, step) => row(shot, kind, index)[2][step] ?? null;

// A table of the core's, looked up between two of its points.
const lookUp = (curve, values, at) => {
  const place = Math.min(Math.max((at - curve.from) / curve.step, 0), values.length - 1.001);
  const below = Math.floor(place);
  return values[below] + (place - below) * (values[below + 1] - values[below]);
};

// When the light of an exposure is known: [moment, log2 of what it meters as], read at opening and read again.
const known = (e, shot) => {
  const effect = asked(shot, e.kind, e.index, e.step)[2];
  const readings = [[e.opened, e.kind, e.index], ...e.rereads];
  return readings.map(([at, kind, index]) => [at, row(shot, kind, index)[1] + effect]);
};

// The stretches of free hole until now.
const free = (e, now) => {
  const edges = [e.opened, ...e.covers.flat(), ...(e.covers.at(-1)?.length === 1 ? [] : [now])];
  const spans = [];
  for (let n = 0; n + 1 < edges.length; n += 2) spans.push([edges[n], edges[n + 1]]);
  return spans;
};

// How much of the sheet is filled, and how many seconds of free hole are left in the light read last. Between two
// readings the light goes straight in stops: the core's table says what that gives.
const progress = (e, now) => {
  const shot = shotOf(e.shot),
    curve = pack.curves[shot.schools[e.step]],
    lights = known(e, shot);
  const [planned, exact] = asked(shot, e.kind, e.index, e.step);
  const perSecond = (at) => (2 ** -lookUp(curve, curve.asks, at) * exact) / planned;
  let share = 0;
  lights.forEach(([from, light], n) => {
    const [until, then] = lights[n + 1] ?? [Infinity, light];
    for (const [start, end] of free(e, now)) {
      const a = Math.max(start, from),
        b = Math.min(end, until);
      if (b <= a) continue;
      const at = (moment) =>
        until === Infinity ? light : light + ((then - light) * (moment - from)) / (until - from);
      const seconds = (b - a) / 1000,
        moved = at(b) - at(a);
      const gives = () =>
        ((lookUp(curve, curve.gives, at(a)) - lookUp(curve, curve.gives, at(b))) * exact) / planned;
      share += Math.abs(moved) < 1e-6 ? seconds * perSecond(light) : (seconds * gives()) / moved;
    }
  });
  return { share, left: (1 - share) / perSecond(lights.at(-1)[1]) };
};

const el = (tag, more = {}, ...inside) => {
  const one = Object.assign(document.createElement(tag), more);
  one.append(...inside);
  return one;
};
const options = (list, chosen) =>
  list.map(([value, words]) =>
    el("option", { value, textContent: words, selected: String(value) === String(chosen) }),
  );
const draft = {};

const readingFields = (shot, d, id) => {
  const kind = el(
    "select",
    {
      id: `${id}k`,
      onchange: () => {
        d.kind = kind.value;
        d.index = undefined;
        draw();
      },
    },
    ...options(
      pack.kinds.map((one) => [one.key, one.words]),
      d.kind,
    ),
  );
  d.kind = d.kind || pack.kinds[0].key;
  const list = shot.tables[d.kind].map((r, i) => [i, r[0]]);
  // Nothing was metered yet: a reading that nobody made is none.
  if (d.index === undefined) list.unshift(["", "choose"]);
  const value = el(
    "select",
    {
      id: `${id}v`,
      onchange: () => {
        d.index = value.value === "" ? undefined : Number(value.value);
        draw();
      },
    },
    ...options(list, d.index ?? ""),
  );
  return [
    el("label", { htmlFor: `${id}k`, textContent: "The meter shows" }),
    kind,
    el("label", { htmlFor: `${id}v`, textContent: "It reads" }),
    value,
  ];
};

const shotCard = (shot) => {
  draft[shot.pk] ??= {};
  const d = draft[shot.pk];
  const made = exposed().filter((e) => e.shot === shot.pk).length;
  const card = el(
    "section",
    { className: `card${made >= shot.steps.length ? " done" : ""}` },
    el("h2", { textContent: shot.subject }),
  );
  card.append(
    el("p", {
      className: "aside",
      textContent: `${shot.camera}, f/${shot.f}; ${shot.paper}, EI ${shot.ei}${made ? `; ${made} of ${shot.steps.length} made` : ""}${shot.strip ? "; a test strip" : ""}`,
    }),
  );
  const busy = kept.running.some((e) => shotOf(e.shot).body === shot.body);
  const free = pack.sides.filter((s) => fits(s, shot) && !used().has(s.key));
  if (busy) {
    card.append(el("p", { className: "aside", textContent: "This camera is open now." }));
    return card;
  }
  if (!free.length) {
    card.append(
      el("p", {
        className: "aside",
        textContent: "No loaded side with this paper fits this camera.",
      }),
    );
    return card;
  }
  const done = new Set(
    exposed()
      .filter((e) => e.shot === shot.pk)
      .map((e) => e.step),
  );
  const step =
    shot.steps.findIndex((_, n) => !done.has(n)) < 0
      ? shot.steps.length - 1
      : shot.steps.findIndex((_, n) => !done.has(n));
  const side = el(
    "select",
    {
      id: `side${shot.pk}`,
      onchange: () => {
        d.side = side.value;
      },
    },
    ...options(
      free.map((s) => [s.key, `${s.sheet}, ${s.words}`]),
      d.side,
    ),
  );
  card.append(
    ...readingFields(shot, d, `r${shot.pk}`),
    el("label", { htmlFor: side.id, textContent: "Sheet" }),
    side,
  );
  if (d.index === undefined) return card;
  const time = asked(shot, d.kind, d.index, step)?.[0];
  if (time === undefined) {
    card.append(
      el("p", {
        className: "aside",
        textContent: shot.strip
          ? "In this light the bands would be too close to be pulled, or take more than a day."
          : "That takes more than a day: that is for a solargraph. Another spot, a wider hole or a faster paper.",
      }),
    );
    return card;
  }
  const words = shot.steps[step] ? ` (${shot.steps[step]})` : "";
  const straightIn = sideOf(side.value).body !== null;
  card.append(
    el("p", { className: "aside", textContent: `Times: ${row(shot, d.kind, d.index)[3]}.` }),
    el("p", { className: "before", textContent: pack.before[straightIn ? "back" : "slide"] }),
    el("button", {
      className: "act",
      textContent: `Open for ${clock(time)}${words}`,
      onclick: () => {
        const now = Date.now();
        kept.running.push({
          id: name(),
          shot: shot.pk,
          side: side.value,
          code: sideOf(side.value).sheet,
          kind: d.kind,
          index: d.index,
          step,
          opened: now,
          // A hand before the hole while the flap goes up is its first cover.
          covers: shot.hand_s ? [[now, now + 1000 * shot.hand_s]] : [],
          rereads: [],
          note: "",
        });
        keep();
        draw();
      },
    }),
  );
  return card;
};

// A shot of which nothing is left to do, folded away.
const madeCard = (shot) =>
  el(
    "details",
    { className: "card done" },
    el("summary", { textContent: `${shot.subject}: made` }),
    shotCard(shot),
  );

// Another shot like one of the day, wanted on the spot.
const addCard = () => {
  const like = el(
    "select",
    { id: "like" },
    ...options(
      pack.shots.map((s) => [s.pk, `${s.subject}: ${s.camera}, ${s.paper}`]),
      "",
    ),
  );
  const subject = el("input", { id: "subject", maxLength: 120 });
  return el(
    "details",
    { className: "card" },
    el("summary", { textContent: "Another shot" }),
    el("label", { htmlFor: "subject", textContent: "Subject" }),
    subject,
    el("label", { htmlFor: "like", textContent: "Made like" }),
    like,
    el("button", {
      textContent: "Add it",
      onclick: () => {
        const added = { id: name(), like: Number(like.value), subject: subject.value.trim() };
        added.subject ||= shotOf(added.like).subject;
        kept.added = [...(kept.added ?? []), added];
        keep();
        draw();
      },
    }),
  );
};

// The next pull of a test strip: [which, of how many, how full the sheet is then], or nothing.
const nextPull = (e, share) => {
  const [planned, , , pulls] = asked(shotOf(e.shot), e.kind, e.index, e.step);
  const n = (pulls ?? []).findIndex((at, m) => m < pulls.length - 1 && at / planned > share);
  return n < 0 ? null : [n + 1, pulls.length, pulls[n] / planned];
};

// How long the hand stays before the hole yet [s].
const hand = (e, now = Date.now()) => {
  const last = e.covers.at(-1);
  return last?.length === 2 && last[1] > now ? (last[1] - now) / 1000 : 0;
};
// How long the hole was free in all [s].
const freeFor = (e, now) =>
  free(e, now).reduce((sum, [a, b]) => sum + Math.max(0, b - a), 0) / 1000;

const runCard = (e) => {
  const shot = shotOf(e.shot),
    face = el("p", { className: "digits" });
  face.dataset.run = e.id;
  const covered = e.covers.at(-1)?.length === 1;
  const card = el(
    "section",
    { className: "card running" },
    el("h2", { textContent: `${shot.camera}: ${shot.subject}` }),
    face,
  );
  if (shot.strip) {
    const pull = el("p", { className: "pull" });
    pull.dataset.pull = e.id;
    card.append(pull);
  }
  card.append(
    el("p", {
      className: "aside",
      textContent: `${e.code}, ${sideOf(e.side).words}. ${covered ? "Covered: the clock stands." : hand(e) ? "The hand is before the hole: away at zero." : "The hole is free."}`,
    }),
  );
  card.append(
    el("button", {
      className: "act",
      textContent: "Close the hole",
      onclick: () => {
        const now = Date.now();
        if (covered) e.covers.at(-1).push(now);
        if (hand(e, now)) e.covers.at(-1)[1] = now;
        e.closed = now;
        kept.running = kept.running.filter((one) => one !== e);
        kept.events.push(e);
        keep();
        draw();
      },
    }),
  );
  const cover = el("button", {
    textContent: covered ? "Uncover" : "Cover for a moment",
    onclick: () => {
      const now = Date.now();
      if (covered) e.covers.at(-1).push(now);
      else if (hand(e, now)) e.covers.at(-1).pop();
      else e.covers.push([now]);
      keep();
      draw();
    },
  });
  const never = el("button", {
    textContent: "Never opened: undo",
    onclick: () => {
      kept.running = kept.running.filter((one) => one !== e);
      keep();
      draw();
    },
  });
  card.append(el("div", { className: "pair" }, cover, never));
  draft[e.id] ??= { kind: e.kind, index: e.index };
  const d = draft[e.id];
  const again = el(
    "details",
    {
      open: d.open,
      ontoggle: () => {
        d.open = again.open;
      },
    },
    el("summary", { textContent: "New reading" }),
    ...readingFields(shot, d, `a${e.id}`),
    el("button", {
      textContent: "Take it",
      onclick: () => {
        if (d.index === undefined || !asked(shot, d.kind, d.index, e.step)) return;
        e.rereads.push([Date.now(), d.kind, d.index]);
        d.open = false;
        keep();
        draw();
      },
    }),
  );
  card.append(again);
  return card;
};

const doneCard = (e) => {
  const shot = shotOf(e.shot);
  const note = el("input", {
    id: `n${e.id}`,
    value: e.note,
    maxLength: 300,
    onchange: () => {
      e.note = note.value;
      keep();
    },
  });
  const inSlide = sideOf(e.side)?.body === null;
  const turned = el("button", {
    className: e.turned ? "" : "act",
    textContent: e.turned ? "Slide is in, turned" : "Slide in, turned",
    onclick: () => {
      e.turned = !e.turned;
      keep();
      draw();
    },
  });
  const reopen = el("button", {
    textContent: "Not closed after all: undo",
    disabled: kept.running.some((one) => shotOf(one.shot).body === shot?.body),
    onclick: () => {
      kept.events = kept.events.filter((one) => one !== e);
      delete e.closed;
      kept.running.push(e);
      keep();
      draw();
    },
  });
  const slip = el("button", {
    textContent: e.slip ? "The slide was pulled" : "The slide was never pulled",
    onclick: () => {
      e.slip = !e.slip;
      keep();
      draw();
    },
  });
  // The slide comes first after closing; then the card folds away.
  const next = inSlide && !e.turned && !e.slip;
  return el(
    next ? "section" : "details",
    { className: "card done" },
    el(next ? "h2" : "summary", { textContent: `${e.code}: ${shot ? shot.subject : ""}` }),
    el("p", {
      className: "aside",
      textContent: `${e.slip ? "the slide was never pulled: nothing is on it; " : ""}free for ${clock(freeFor(e, e.closed))} on ${sideOf(e.side)?.words ?? ""}`,
    }),
    ...(inSlide ? [turned] : []),
    el("div", { className: "pair" }, reopen, ...(inSlide ? [slip] : [])),
    el("label", { htmlFor: note.id, textContent: "Note" }),
    note,
  );
};

const back = () =>
  JSON.stringify({
    chimney: "pocket",
    version: pack.version,
    token: pack.token,
    events: kept.events.map((e) => {
      const shown = (key, index) => {
        const kind = key === "ev" ? "ev" : "seconds";
        const value = pack[`${kind}_of`][index];
        return { kind, value, meter_f: kindOf(key).f, meter_iso: kindOf(key).iso };
      };
      const rereads = e.rereads.map(([at, key, index]) => ({ at, ...shown(key, index) }));
      return {
        id: e.id,
        shot: shotOf(e.shot)?.like ?? e.shot,
        ...(typeof e.shot === "string" && { added: e.shot, subject: shotOf(e.shot)?.subject }),
        side: e.side,
        code: e.code,
        ...shown(e.kind, e.index),
        rereads,
        step: e.step,
        opened: e.opened,
        closed: e.closed,
        covers: e.covers,
        note: e.note,
        turned: Boolean(e.turned),
        slip: Boolean(e.slip),
      };
    }),
  });
const give = () => {
  document.getElementById("text").value = back();
};
document.getElementById("save").onclick = () => {
  const link = el("a", {
    href: URL.createObjectURL(new Blob([back()], { type: "application/json" })),
    download: `pocket-${pack.day}.json`,
  });
  link.click();
  URL.revokeObjectURL(link.href);
};
const draw = () => {
  const sheet = document.getElementById("sheet"),
    focus = document.activeElement?.id;
  // A side whose slide is still out goes before everything but what is open.
  const inHand = (e) => sideOf(e.side)?.body === null && !e.turned && !e.slip;
  const made = (shot) => exposed().filter((e) => e.shot === shot.pk).length >= shot.steps.length;
  sheet.replaceChildren(
    ...kept.running.map(runCard),
    ...kept.events.filter(inHand).map(doneCard),
    ...shots()
      .filter((shot) => !made(shot))
      .map(shotCard),
    ...(pack.shots.length ? [addCard()] : []),
    ...shots().filter(made).map(madeCard),
    ...kept.events.filter((e) => !inHand(e)).map(doneCard),
  );
  if (focus) document.getElementById(focus)?.focus();
  tick();
};
// Sound is asked for by a tap, as browsers want it.
let sound = null;
const beep = () => {
  if (!sound) return;
  const tone = sound.createOscillator();
  tone.frequency.value = 1320;
  tone.connect(sound.destination);
  tone.start();
  tone.stop(sound.currentTime + 0.7);
};
document.getElementById("sound").onchange = (event) => {
  sound = event.target.checked ? new AudioContext() : null;
  beep();
};
// The next pull in words, and a cue when it is there.
const sayPull = (e, share, left) => {
  const face = document.querySelector(`[data-pull="${e.id}"]`);
  if (!face) return;
  const pull = nextPull(e, share);
  const waits = pull && (left * (pull[2] - share)) / (1 - share);
  face.textContent = pull
    ? `Band ${pull[0]} of ${pull[1]} in ${clock(waits + 0.999)}: cover the hole, push the slide in over it, uncover.`
    : "The last band: close at zero.";
  const now = pull?.[0] ?? 0;
  if (e.pull !== undefined && now !== e.pull) {
    beep();
    navigator.vibrate?.([150, 100, 150]);
  }
  e.pull = now;
};
const tick = () =>
  document.querySelectorAll("[data-run]").forEach((face) => {
    const e = kept.running.find((one) => one.id === face.dataset.run),
      now = Date.now();
    if (!e) return;
    const waits = hand(e, now);
    const { left, share } = progress(e, now);
    sayPull(e, share, left);
    face.textContent = waits ? clock(waits + 0.999) : digits(left);
    // The words change with the digits.
    if (e.hand && !waits) setTimeout(draw);
    e.hand = waits > 0;
    if (left <= 0 && !e.told) {
      beep();
      e.told = true;
      navigator.vibrate?.([300, 150, 300]);
    }
  });
setInterval(tick, 200);
draw();
give();
