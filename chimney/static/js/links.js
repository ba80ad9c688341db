const typedIn = (form) => {
  const typed = new URLSearchParams();
  for (const [name, value] of new FormData(form))
    if (typeof value === "string" && value && !/^(csrf|dragged|frame|_)/.test(name))
      typed.append(name, value);
  return typed;
};
// "Take it" beside what a sensor says: its value in the place of what was typed, and all else as it stands.
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[data-takes]");
  const form = link?.closest("form");
  if (!form) return;
  const typed = typedIn(form);
  for (const [name, value] of new URL(link.href).searchParams) typed.set(name, value);
  link.href = `${location.pathname}?${typed}`;
});
// "Add one" beside a choice: what was typed goes along in the address, and comes back with the new thing chosen.
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[data-add]");
  const form = link?.closest("form");
  if (!form) return;
  const typed = typedIn(form);
  const there = new URL(link.href);
  there.searchParams.set("then", `${location.pathname}?${typed}`);
  link.href = there;
});
// A tile says where its number is from: a mouse hovers; a thumb taps once to read and once more to go there.
document.addEventListener("click", (event) => {
  const face = event.target.closest?.("a.tile-face");
  const tile = face?.closest(".tile");
  if (!tile || event.pointerType !== "touch" || tile.matches(".tile-open")) return;
  event.preventDefault();
  for (const open of document.querySelectorAll(".tile-open")) open.classList.remove("tile-open");
  tile.classList.add("tile-open");
});
// A bar of the day wider than the screen begins at now, or at the first shot that is still to come.
document.addEventListener("DOMContentLoaded", () => {
  const glass = document.querySelector(".day-glass");
  const first = glass?.querySelector(".now, [data-handle]");
  if (first)
    glass.scrollLeft +=
      first.getBoundingClientRect().left - glass.getBoundingClientRect().left - 40;
});
// An answer that comes in the meantime leaves it open.
let opened = null;
let unfolded = [];
document.addEventListener("htmx:beforeSwap", () => {
  opened = document.querySelector(".tile-open .tile-source")?.id;
  unfolded = [...document.querySelectorAll("details[id][open]")].map((one) => one.id);
});
document.addEventListener("htmx:afterSwap", () => {
  for (const id of unfolded) document.getElementById(id)?.setAttribute("open", "");
  if (opened) document.getElementById(opened)?.closest(".tile")?.classList.add("tile-open");
});
// What a page fetches by itself, and a dead network kept from it, comes when the network is back.
(() => {
  const missed = new Set();
  const fetchMissed = () => {
    for (const part of missed) {
      missed.delete(part);
      // One that fails once more is missed once more.
      if (part.isConnected)
        htmx.ajax("GET", part.getAttribute("hx-get"), { source: part })?.catch(() => {});
    }
  };
  document.addEventListener("htmx:sendError", (event) => {
    if (event.target.matches('[hx-trigger^="load"]')) missed.add(event.target);
  });
  addEventListener("online", fetchMissed);
  // A server that was started again is no event of the browser's.
  document.addEventListener("htmx:afterOnLoad", fetchMissed);
})();
