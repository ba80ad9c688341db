// A tap on a timer is kept in this browser from the moment it is made until the server has acknowledged it: through a
// dead network, an error, a closed tab. Each has an identity, so that one that arrives twice is taken in once.
window.chimneyTaps = (() => {
  const KEY = "taps";
  const TOLD = "taps-told";
  const memory = {};
  const read = (key) => {
    try {
      return JSON.parse(localStorage.getItem(key)) ?? [];
    } catch {
      return memory[key] ?? [];
    }
  };
  const write = (key, list) => {
    memory[key] = list;
    try {
      localStorage.setItem(key, JSON.stringify(list));
    } catch {
      /* a browser that keeps nothing still counts */
    }
  };

  // Two clocks: that of the day goes on while a phone sleeps, the other does not jump when somebody sets the first.
  const moment = () => ({ day: Date.now(), life: performance.now(), page: LIFE });
  const LIFE = String(Math.random());
  const between = (from, to) => {
    const day = to.day - from.day;
    return Math.max(0, from.page === to.page ? Math.max(day, to.life - from.life) : day) / 1000;
  };
  const elapsed = (from, to = moment()) => between(from, to);
  // When the server made the form that is tapped, on its clock and on both of ours.
  let born = null;
  const bear = () => {
    const made = document.getElementById("timer")?.dataset.made;
    if (made && made !== born?.made) born = { made, ...moment() };
  };

  // What the server has said nothing of on this page yet: also a tap that it took in, until the page shows it.
  const waiting = (exposure) =>
    read(KEY).filter((tap) => exposure === undefined || tap.exposure === exposure);
  const unsent = () => read(KEY).filter((tap) => !tap.taken);
  const identity = () =>
    [...crypto.getRandomValues(new Uint8Array(16))]
      .map((byte) => byte.toString(16).padStart(2, "0"))
      .join("");

  const note = () => document.getElementById("taps");
  const say = (trouble = "") => {
    const place = note();
    if (!place) return;
    // What is under way answers within a moment and is no news.
    const late = unsent().filter((tap) => tap.late);
    const told = read(TOLD);
    place.hidden = !late.length && !told.length;
    place.replaceChildren();
    const line = (words) =>
      place.append(Object.assign(document.createElement("p"), { textContent: words }));
    if (late.length) {
      const list = late
        .map((tap) => `${tap.words} (${tap.what}, ${new Date(tap.day).toTimeString().slice(0, 8)})`)
        .join("; ");
      line(
        `${late.length === 1 ? "1 tap waits" : `${late.length} taps wait`} here and will be handed over: ${list}.`,
      );
      if (trouble) line(trouble);
    }
    told.forEach(line);
    if (told.length) {
      const seen = Object.assign(document.createElement("button"), {
        textContent: "I have seen that",
        className: "quiet",
      });
      seen.addEventListener("click", () => {
        write(TOLD, []);
        say();
      });
      place.append(seen);
    }
  };

  // An answer that a dying network never brings must not hold up the next try.
  const ANSWER_WITHIN_MS = 10000;
  const ask = (url, more) =>
    fetch(url, { redirect: "manual", signal: AbortSignal.timeout(ANSWER_WITHIN_MS), ...more });
  const token = async () => {
    const answer = await ask(note().dataset.token);
    return answer.ok ? (await answer.json()).token : "";
  };
  const send = (tap, csrf) => {
    // On both clocks, how long ago and how long after the form was made: the server finds out which is right.
    const now = moment();
    const told = { ago_ms: now.day - tap.day };
    if (tap.page === LIFE) told.ago_life_ms = now.life - tap.life;
    if (tap.born)
      Object.assign(told, {
        made_ms: Number(tap.born.made),
        after_ms: tap.day - tap.born.day,
        after_life_ms: tap.life - tap.born.life,
      });
    const body = new URLSearchParams({ csrfmiddlewaretoken: csrf, tap: tap.id });
    for (const [name, span] of Object.entries(told))
      body.set(name, String(Math.max(0, Math.round(span))));
    return ask(tap.url, {
      method: "POST",
      body,
      headers: { "X-Requested-With": "tap" },
    });
  };
  // What an answer means: "done", "refused" with its words, or "later" with what is wrong.
  const meaning = async (answer) => {
    const told = answer.headers.get("content-type")?.includes("json") ? await answer.json() : {};
    if (told.done) return ["done"];
    if (told.refused) return ["refused", told.refused];
    if (answer.type === "opaqueredirect")
      return ["later", "Sign in again, and they are handed over."];
    if (answer.status === 404) return ["refused", "It was taken back or dropped meanwhile."];
    return ["later", `The server answered with an error (${answer.status}); they are tried again.`];
  };
  const drop = (id) =>
    write(
      KEY,
      read(KEY).filter((tap) => tap.id !== id),
    );

  // A page is drawn anew by an answer; only one that was asked for after a tap was taken in is sure to show it.
  const takenAt = new Map();
  const askedAt = new WeakMap();
  const shown = new WeakSet();
  const take = (id) => {
    takenAt.set(id, performance.now());
    write(
      KEY,
      read(KEY).map((tap) => (tap.id === id ? { ...tap, taken: true } : tap)),
    );
  };
  const forget = (asked = Number.POSITIVE_INFINITY) =>
    write(
      KEY,
      read(KEY).filter((tap) => !tap.taken || (takenAt.get(tap.id) ?? 0) > asked),
    );
  document.addEventListener("htmx:beforeSend", (event) => {
    askedAt.set(event.detail.xhr, performance.now());
  });
  document.addEventListener("htmx:afterSwap", (event) => {
    bear();
    const { xhr, target } = event.detail;
    if (target?.id !== "timer") return;
    shown.add(xhr);
    forget(askedAt.get(xhr));
  });

  // The page's own request of a tap is under way: a second one beside it would only race it.
  const sentAt = new Map();
  const next = () => {
    const [tap] = unsent();
    const busy = tap && performance.now() - sentAt.get(tap.id) < ANSWER_WITHIN_MS;
    return busy ? undefined : tap;
  };

  let settling = false;
  const settle = async () => {
    if (settling || !next()) return;
    settling = true;
    try {
      let handed = 0;
      for (let tap = next(); tap; tap = next()) {
        let answer = await send(tap, tap.token);
        if (answer.status === 403) answer = await send(tap, await token());
        const [what, words] = await meaning(answer);
        if (what === "later") {
          lateAll();
          say(words);
          return;
        }
        if (what === "refused") {
          write(TOLD, [...read(TOLD), `Not taken in: ${tap.words}, ${tap.what}. ${words}`]);
          drop(tap.id);
        } else take(tap.id);
        handed += 1;
      }
      say();
      if (handed) refresh();
    } catch {
      lateAll();
      say("There is no network now.");
    } finally {
      settling = false;
    }
  };
  const lateAll = () =>
    write(
      KEY,
      read(KEY).map((tap) => ({ ...tap, late: true })),
    );
  const refresh = () => {
    if (document.getElementById("timer"))
      // Where no answer comes, the poll brings it.
      htmx.ajax("GET", location.pathname, { target: "#timer", swap: "outerHTML" })?.catch(() => {});
    else forget();
  };

  // Nothing is changed under a finger that is down: what it pressed must still be there when it is lifted.
  // A finger whose lifting nobody saw is no reason to stand still.
  const LONGEST_PRESS_MS = 10000;
  let pressed = Number.NEGATIVE_INFINITY;
  addEventListener("pointerdown", () => {
    pressed = performance.now();
  });
  for (const lifted of ["pointerup", "pointercancel"])
    addEventListener(lifted, () => {
      pressed = Number.NEGATIVE_INFINITY;
    });
  document.addEventListener("htmx:beforeSwap", (event) => {
    if (performance.now() - pressed > LONGEST_PRESS_MS || event.detail.target?.id !== "timer")
      return;
    event.detail.shouldSwap = false;
    setTimeout(refresh, 400);
  });

  // Every tap goes into the store first; the page's own request is only its first try.
  document.addEventListener("htmx:configRequest", (event) => {
    const form = event.target.closest?.("form[data-tap]");
    if (!form) return;
    const before = unsent().length;
    const timer = document.getElementById("timer");
    const tap = {
      ...moment(),
      born,
      id: identity(),
      url: form.action,
      word: form.dataset.tap,
      words: form.querySelector("button").firstChild.textContent.trim(),
      what: document.querySelector("h1")?.textContent.trim() ?? "",
      exposure: timer?.dataset.exposure ?? "",
      token: form.querySelector("[name=csrfmiddlewaretoken]").value,
      late: before > 0,
    };
    write(KEY, [...read(KEY), tap]);
    event.detail.parameters.tap = tap.id;
    // A form may have been led on by taps that were handed over since the page came.
    event.detail.path = new URL(tap.url).pathname;
    if (before) {
      event.preventDefault();
      say();
      settle();
    } else sentAt.set(tap.id, performance.now());
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    // Of this very request: its form may have been tapped again since.
    const sent = event.detail.requestConfig?.parameters?.tap;
    if (!sent) return;
    const { xhr } = event.detail;
    sentAt.delete(sent);
    if (shown.has(xhr) || xhr.status === 409) drop(sent);
    else if (xhr.status >= 200 && xhr.status < 300) {
      take(sent);
      // It had been taken in before, so this answer drew nothing.
      if (xhr.status === 204) refresh();
    } else {
      lateAll();
      say(
        xhr.status
          ? `The server answered with an error (${xhr.status}); they are tried again.`
          : "There is no network now.",
      );
      settle();
    }
  });
  setInterval(settle, 3000);
  addEventListener("online", settle);
  addEventListener("DOMContentLoaded", () => {
    bear();
    forget();
    lateAll();
    say();
    settle();
  });
  return { waiting, moment, elapsed };
})();
