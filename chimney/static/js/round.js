// The round of the cans on the phone: it travels inside its file and runs without a network.

const pack = JSON.parse(document.getElementById("pack").textContent);
const KEY = "round of the cans";
let seen = [];
try {
  seen = JSON.parse(localStorage.getItem(KEY)) ?? [];
} catch {
  /* a phone that keeps nothing still shows the round */
}
const element = (tag, more = {}, ...children) => {
  const node = Object.assign(document.createElement(tag), more);
  node.append(...children);
  return node;
};
const give = () => {
  document.getElementById("text").value = JSON.stringify({ chimney: "round", seen });
};
const keep = () => {
  try {
    localStorage.setItem(KEY, JSON.stringify(seen));
  } catch {
    /* as above */
  }
  give();
};
const named = Object.fromEntries(pack.kinds);
const clock = (ms) => new Date(ms).toTimeString().slice(0, 5);

const card = (can) => {
  const said = element("p", { className: "aside" });
  said.setAttribute("aria-live", "polite");
  const note = element("input", { id: `note-${can.pk}`, maxLength: 200 });
  const of = () => seen.filter((one) => one.can === can.pk);
  const say = () => {
    said.textContent = of()
      .map((one) => `${clock(one.at_ms)} ${named[one.kind]}${one.words ? `: ${one.words}` : ""}`)
      .join("; ");
  };
  const tap = (kind) => () => {
    const row = { can: can.pk, name: can.name, kind, words: note.value, at_ms: Date.now() };
    seen.push(row);
    note.value = "";
    keep();
    say();
  };
  const undo = () => {
    const last = of().at(-1);
    seen = seen.filter((one) => one !== last);
    keep();
    say();
  };
  const [first, ...others] = pack.kinds;
  const button = ([kind, words], className = "") =>
    element("button", { type: "button", className, textContent: words, onclick: tap(kind) });
  const back = element("button", { type: "button", textContent: "not so: undo", onclick: undo });
  const way = element("a", { href: `geo:${can.at}`, textContent: can.at });
  const box = element(
    "section",
    { className: "card" },
    element("h2", { textContent: can.name }),
    element("p", {}, `${can.spot}, `, way),
    element("p", { className: "aside", textContent: `${can.stands}; ${can.due}; ${can.look}` }),
    element("label", { htmlFor: note.id, textContent: "In your words, before the tap" }),
    note,
    button(first, "act"),
    element("div", { className: "pair" }, ...others.map((kind) => button(kind)), back),
    said,
  );
  say();
  return box;
};

document.getElementById("forget").addEventListener("click", () => {
  seen = [];
  keep();
  location.reload();
});
let place = "";
for (const can of pack.cans) {
  if (can.place !== place) {
    place = can.place;
    document.getElementById("round").append(element("h2", { textContent: place }));
  }
  document.getElementById("round").append(card(can));
}
if (!pack.cans.length)
  document
    .getElementById("round")
    .append(element("p", { className: "aside", textContent: "No can is out." }));
give();
