// The sums that a page goes on with between answers of the server, apart from what is shown of them: a test holds each
// to the server's own.
window.chimneyCounting = (() => {
  // A hole as the server told it, {open, hand, state}, carried on through taps [[seconds since its word, word], ...]
  // until so many seconds after it.
  const hole = (from, taps, until) => {
    let { open, hand } = from;
    let [covered, shut, since, at] = [from.state === "covered", from.state === "closed", 0, 0];
    const pass = (to) => {
      const length = Math.max(0, to - at);
      at = Math.max(at, to);
      const wait = covered ? 0 : Math.min(length, hand);
      hand -= wait;
      if (covered) return;
      if (shut) since += length - wait;
      else open += length - wait;
    };
    for (const [moment, word] of taps) {
      pass(moment);
      if (word === "close") [shut, since] = [true, 0];
      // Not closed after all: it was open all the while.
      if (word === "reopen") [shut, open, since] = [false, open + since, 0];
      // A hand that is there already stays.
      if (word === "cover") [covered, hand] = [true, 0];
      if (word === "uncover") covered = false;
    }
    pass(until);
    const state = shut ? "closed" : covered ? "covered" : hand > 0 ? "hand" : "open";
    return { open, hand, state };
  };

  // A lane as the server told it, {place, elapsed, more, moves, over}, carried on likewise; steps: those of its run.
  const lane = (from, taps, until, steps) => {
    const now = { ...from };
    const wet = steps.findIndex((step) => !step.ready);
    let since = -from.elapsed;
    for (const [moment, word] of taps) {
      if (now.over) break;
      if (word === "longer") {
        now.more += steps[now.place].longer;
        continue;
      }
      // What is undone without a network is known again when the server has answered.
      if (word === "undo") continue;
      const waits = now.place === null;
      now.place = waits ? wet : now.place + (word === "again" ? -steps[now.place].again : 1);
      now.over = now.place >= steps.length;
      now.moves += 1;
      now.more = 0;
      since = moment;
    }
    now.elapsed = until - since;
    const step = now.over || now.place === null ? null : steps[now.place];
    const left = step?.most ? step.most + now.more - now.elapsed : 0;
    return { ...now, step, left: step ? left : Number.POSITIVE_INFINITY, wet };
  };

  // Whose hand is wanted first: a lane whose turn it is to go in counts as due, what goes on alone comes last.
  const turn = (lanes) => {
    const wants = lanes.flatMap((one, n) => {
      if (one.over) return [];
      if (one.step) return [[one.step.alone ? 1 : 0, one.left, n]];
      const before = lanes[n - 1];
      const may = !before || before.over || (before.place !== null && before.place > one.wet);
      return [[0, may ? 0 : Number.POSITIVE_INFINITY, n]];
    });
    const [first] = wants.sort((a, b) => a[0] - b[0] || (a[1] < b[1] ? -1 : a[1] > b[1] ? 1 : 0));
    return first ? first[2] : null;
  };

  return { hole, lane, turn };
})();
