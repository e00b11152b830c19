(() => {
  const drawn = (name, given) => {
    const one = document.createElementNS("http://www.w3.org/2000/svg", name);
    for (const [key, value] of Object.entries(given)) one.setAttribute(key, value);
    return one;
  };

  // What is written in the language of the page.
  const language = JSON.parse(document.getElementById("words").textContent);
  const plural = new Intl.PluralRules(language.plurals);
  const said = (message, given = {}) => {
    const forms = language[message];
    const text = typeof forms === "string" ? forms : forms[plural.select(given[forms.by])] || forms.other;
    return text.replace(/\{(\w+)\}/g, (_, name) => typeof given[name] === "number" ? whole(given[name]) : given[name]);
  };
  const whole = (number) => String(number).replace(/\B(?=(\d{3})+$)/g, language[","]);
  const listed = (names) => {
    if (names.length > 8) return said("and more", { names: names.slice(0, 8).join(", "), count: names.length - 8 });
    return names.length < 2 ? names.join("") : said("and", { one: names.slice(0, -1).join(", "), other: names[names.length - 1] });
  };
  const inPercent = (text) => {
    const number = text.replace(".", language["."]), sign = language["#"];
    return sign.includes("#") ? sign.replace("#", number) : number + sign;
  };

  // Tables are sorted by a column: up, down, and back as they came.
  const value = (row, at) => {
    const cell = row.cells[at];
    if (cell.dataset.v !== undefined) return Number(cell.dataset.v);
    if (!cell.classList.contains("n")) return cell.textContent;
    const plain = cell.textContent.replaceAll("−", "-").replace(/[,\s%+]/g, "");
    return plain === "" || Number.isNaN(Number(plain)) ? null : Number(plain);
  };
  const before = (one, other) => {
    if (one === null || other === null) return (one === null) - (other === null);
    if (typeof one === "string" && typeof other === "string") return one.localeCompare(other, undefined, { numeric: true });
    return one < other ? -1 : one > other ? 1 : 0;
  };
  const sortable = (table) => {
    const body = table.tBodies[0], given = [...body.rows], heads = every("thead th", table);
    heads.forEach((head, at) => {
      const press = made("button", head.textContent, { type: "button" });
      head.textContent = "";
      head.append(press);
      head.setAttribute("aria-sort", "none");
      press.addEventListener("click", () => {
        const first = head.classList.contains("n") ? "descending" : "ascending";
        const second = first === "ascending" ? "descending" : "ascending";
        const now = head.getAttribute("aria-sort");
        const next = now === "none" ? first : now === first ? second : "none";
        for (const one of heads) one.setAttribute("aria-sort", "none");
        head.setAttribute("aria-sort", next);
        const way = next === "descending" ? -1 : 1;
        const known = (row) => (value(row, at) === null ? 1 : 0);
        const rows = next === "none" ? given : [...given].sort(
          (one, other) => known(one) - known(other) || way * before(value(one, at), value(other, at)));
        body.append(...rows);
      });
    });
  };

  // Values, percents or intervals.
  const switched = (section, controls) => {
    const views = every(".view", section);
    if (views.length < 2) return;
    const set = made("fieldset"), name = `${section.id}-view`;
    set.append(made("legend", said("show")));
    views.forEach((view, at) => {
      const label = made("label"), input = made("input", "", { type: "radio", name, value: view.dataset.view });
      input.checked = at === 0;
      input.addEventListener("change", () => {
        for (const one of views) one.hidden = one !== view;
        section.classList.toggle("show-intervals", view.dataset.view === "intervals");
        hide();
      });
      label.append(input, said(view.dataset.view));
      set.append(label);
    });
    controls.append(set);
  };

  // The vital few, cut elsewhere. Frequencies are integers of one unit, a percent is the decimal that was typed.
  const decimal = (text) => {
    const found = /^(\d+)(?:\.(\d+))?$/.exec(text.trim());
    if (!found) return null;
    const parts = found[2] || "";
    return { number: BigInt(found[1] + parts), unit: 10n ** BigInt(parts.length) };
  };
  const counted = (data, percent) => {
    const { number, unit } = percent, reach = data.rule === "reach";
    const nano = 1000000000n;
    const enough = (sum) => {
      if (!data.slack) return reach ? sum * 100n * unit >= number * data.total : sum * 100n * unit <= number * data.total;
      const left = sum * 100n * unit * nano, right = number * data.total * nano, slack = 100n * unit * data.total;
      return reach ? left >= right - slack : left <= right + slack;
    };
    let sum = 0n, count = 0;
    for (const units of data.units) {
      if (!reach && !enough(sum + units)) break;
      sum += units;
      count += 1;
      if (reach && enough(sum)) break;
    }
    const tied = data.tied[count];
    if (data.include) {
      for (const units of data.units.slice(count, count + tied)) sum += units;
      count += tied;
    }
    return { count, sum, tied };
  };
  const shown = (sum, total, percent) => {
    for (let places = 1; places <= 6; places += 1) {
      const power = 10n ** BigInt(places), twice = (2n * sum * 100n * power) / total;
      const rounded = (twice + 1n) / 2n;
      const claims = [0n, 100n * power].concat(power % percent.unit ? [] : [percent.number * (power / percent.unit)]);
      const exact = rounded * total === sum * 100n * power;
      if (exact || !claims.includes(rounded)) {
        const digits = String(rounded).padStart(places + 1, "0");
        return inPercent(`${digits.slice(0, -places)}.${digits.slice(-places)}`);
      }
    }
    return inPercent(`${Number(sum) / Number(total) * 100}`);
  };
  const recut = (data, percent, text, found) => {
    const cutoff = inPercent(text), labels = data.labels.slice(0, found.count).map((label) => said("quoted", { label }));
    if (!found.count) return said("recut, none", { cutoff });
    const given = { count: found.count, all: data.labels.length, labels: listed(labels), share: shown(found.sum, data.total, percent), cutoff };
    const tied = found.tied && !data.include ? ` ${said("recut, tied", { count: found.tied })}` : "";
    return `${said(`recut, ${data.rule}`, given)}${tied}`;
  };
  const redrawn = (svg, percent, text, back) => {
    svg.classList.toggle("recut", !back);
    for (const text of every(".cut-text text", svg)) text.classList.toggle("level", /^[\d.,\s%]+$/.test(text.textContent));
    every(".recut-mark", svg).forEach((one) => one.remove());
    const targets = svg.querySelector(".targets[data-ends]");
    if (back || !targets) return;
    const [zero, whole] = targets.dataset.ends.split(" ").map(Number);
    const [one, other] = targets.dataset.across.split(" ").map(Number);
    const at = zero + (whole - zero) * Number(percent.number) / Number(percent.unit) / 100;
    const upright = targets.dataset.way === "vertical";
    const mark = drawn("g", { class: "recut-mark" });
    mark.append(drawn("path", { class: "recut-line", d: upright ? `M${one} ${at}H${other}` : `M${at} ${one}V${other}` }));
    const label = drawn("text", { class: "recut-text", x: upright ? other - 6 : at + 6, y: upright ? at - 6 : other - 8, "text-anchor": upright ? "end" : "start" });
    label.textContent = inPercent(text);
    mark.append(label);
    targets.before(mark);
  };
  // The bars of each category that a cut colors anew, with what is written on them.
  const inked = (section) => {
    const found = new Map();
    const at = (one, name) => Number(one.getAttribute(name));
    for (const svg of every(".chart", section)) {
      const written = every(".on-strong text, .on-quiet text", svg);
      for (const bar of every("rect.strong, rect.quiet, rect.other", svg)) {
        bar.dataset.own = bar.getAttribute("class");
        const [left, top] = [at(bar, "x"), at(bar, "y")], [wide, high] = [at(bar, "width"), at(bar, "height")];
        const on = written.filter((one) => left <= at(one, "x") && at(one, "x") <= left + wide && top <= at(one, "y") && at(one, "y") <= top + high);
        const key = bar.dataset.category;
        found.set(key, [...(found.get(key) || []), [bar, on]]);
      }
    }
    return found;
  };
  const cut = (section, controls, data) => {
    data.units = data.units.map(BigInt);
    data.total = BigInt(data.total);
    const label = made("label", said("cutoff")), range = made("input", "", { type: "range", min: "1", max: "99", step: "1", value: data.percent, "aria-label": said("cutoff in percent") });
    const typed = made("input", "", { type: "number", min: "1", max: "99.99", step: "any", value: data.percent, "aria-label": said("cutoff in percent, typed") });
    const back = made("button", said("reset"), { type: "button" }), told = made("p", "", { class: "said", lang: language.plurals, "aria-live": "polite" });
    label.append(range);
    controls.append(label, typed, "%", back, told);
    const rows = every("tr[data-category]", section.querySelector("table")).slice();
    const order = new Map(rows.map((row, at) => [row, data.places[at]]));
    const inks = inked(section);
    const again = (text) => {
      const percent = decimal(text);
      const hundred = percent && 100n * percent.unit;
      if (!percent || percent.number < percent.unit || percent.number >= hundred) {
        told.textContent = said("recut, wrong");
        return;
      }
      const found = counted(data, percent), same = text === data.percent;
      told.textContent = same ? "" : recut(data, percent, text, found);
      for (const row of rows) {
        const vital = order.get(row) !== undefined && order.get(row) < found.count;
        row.classList.toggle("vital", vital);
        const letter = row.querySelector(".abc");
        if (letter && letter.textContent) letter.textContent = vital ? "A" : "B";
        for (const [bar, texts] of inks.get(row.dataset.category) || []) {
          bar.setAttribute("class", same ? bar.dataset.own : vital ? "strong" : "quiet");
          for (const one of texts) one.setAttribute("class", vital ? "ink-strong" : "ink-quiet");
        }
      }
      for (const svg of every(".chart", section)) redrawn(svg, percent, text, same);
    };
    range.addEventListener("input", () => { typed.value = range.value; again(range.value); });
    typed.addEventListener("input", () => { range.value = typed.value; again(typed.value); });
    back.addEventListener("click", () => { range.value = typed.value = data.percent; again(data.percent); });
  };

  document.documentElement.classList.add("js");
  const hide = pointing(document.body);
  every("table").forEach((table) => { if (table.closest(".scroll")) sortable(table); });
  const data = JSON.parse(document.getElementById("data").textContent);
  for (const section of every("section")) {
    const controls = section.querySelector(".controls");
    if (!controls) continue;
    switched(section, controls);
    if (data[section.id]) cut(section, controls, data[section.id]);
  }
})();
