"use strict";
const every = (query, within = document) => [...within.querySelectorAll(query)];
const made = (name, text, given = {}) => {
  const one = document.createElement(name);
  if (text) one.textContent = text;
  for (const [key, value] of Object.entries(given)) one.setAttribute(key, value);
  return one;
};

// What is said of a category, beside it; the category is pointed out in every chart and row of the root.
const pointing = (root) => {
  const tip = made("div", "", { class: "tip", role: "tooltip", hidden: "" });
  const tips = new Map();

  const point = (key) => {
    for (const one of every(".on", root)) one.classList.remove("on");
    for (const chart of every(".chart", root)) chart.classList.remove("pointed");
    if (!key) return;
    for (const one of every(`[data-category="${key}"]`, root)) {
      one.classList.add("on");
      const chart = one.closest(".chart");
      if (chart) chart.classList.add("pointed");
    }
  };
  const show = (target) => {
    tip.textContent = tips.get(target);
    tip.hidden = false;
    const box = target.getBoundingClientRect();
    const beside = box.right + 8 + tip.offsetWidth < innerWidth ? box.right + 8 : box.left - tip.offsetWidth - 8;
    const left = Math.min(Math.max(4, beside), Math.max(4, innerWidth - tip.offsetWidth - 4));
    const top = Math.min(Math.max(box.top + 8, 4), Math.max(4, innerHeight - tip.offsetHeight - 4));
    const base = root === document.body ? { left: -scrollX, top: -scrollY } : root.getBoundingClientRect();
    tip.style.left = `${left - base.left}px`;
    tip.style.top = `${top - base.top}px`;
    point(target.dataset.category);
  };
  const hide = () => { tip.hidden = true; point(null); };

  // What is said of a category is in the first view of its chart; the others have targets in the same places.
  const aim = (figure) => {
    const [first, ...others] = every(".chart", figure).map((svg) => every(".target", svg));
    const said = (first || []).map((target) => target.querySelector("title").textContent);
    for (const targets of [first || [], ...others]) {
      targets.forEach((target, at) => {
        const title = target.querySelector("title"), text = title ? title.textContent : said[at];
        if (title) title.remove();
        tips.set(target, text);
        target.setAttribute("aria-label", text.replaceAll("\n", "; "));
        target.setAttribute("tabindex", "0");
      });
    }
  };
  const step = (event, target) => {
    const all = every(".target", target.closest("svg"));
    const at = all.indexOf(target);
    const next = { ArrowRight: at + 1, ArrowDown: at + 1, ArrowLeft: at - 1, ArrowUp: at - 1, Home: 0, End: all.length - 1 }[event.key];
    if (next === undefined) return;
    event.preventDefault();
    if (all[next]) all[next].focus();
  };
  every("figure", root).forEach(aim);
  const target = (event) => (event.target.closest ? event.target.closest(".target") : null);
  root.addEventListener("pointerover", (event) => {
    const one = target(event);
    const row = event.target.closest && event.target.closest("tr[data-category]");
    if (one) show(one);
    else if (row) point(row.dataset.category);
    else if (event.pointerType !== "touch") hide();
  });
  root.addEventListener("pointerdown", (event) => (target(event) ? show(target(event)) : hide()));
  root.addEventListener("pointerleave", (event) => { if (event.pointerType !== "touch") hide(); });
  root.addEventListener("focusin", (event) => (target(event) ? show(target(event)) : hide()));
  root.addEventListener("focusout", hide);
  root.addEventListener("keydown", (event) => {
    if (event.key === "Escape") hide();
    else if (target(event)) step(event, target(event));
  });
  root.append(tip);
  return hide;
};
