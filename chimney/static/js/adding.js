// "Add one" beside a choice: what was typed goes along in the address, and comes back with the new thing chosen.
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[data-add]");
  const form = link?.closest("form");
  if (!form) return;
  const typed = new URLSearchParams();
  for (const [name, value] of new FormData(form))
    if (typeof value === "string" && value && !/^(csrf|dragged|frame|_)/.test(name))
      typed.append(name, value);
  const there = new URL(link.href);
  there.searchParams.set("then", `${location.pathname}?${typed}`);
  link.href = there;
});
