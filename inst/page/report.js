(function () {
  "use strict";
  var root = document.documentElement;
  function data(id) {
    var box = document.getElementById(id);
    return box ? JSON.parse(box.textContent) : null;
  }
  var shared = data("shared"), others = data("views") || [], current = 0;

  // ---- words and figures ------------------------------------------------------
  // A sentence of the words, its slots filled by name; {n|one: ...|other: ...} chooses
  // by the plural form of the number.
  var words = data("words"), plural = new Intl.PluralRules(words.language);
  function say(name, values) {
    return words[name].replace(/\{(\w+)\|((?:[^{}]|\{\w+\})*)\}/g, function (_, slot, cases) {
      var found = {};
      cases.split("|").forEach(function (one) { found[one.slice(0, one.indexOf(":"))] = one.slice(one.indexOf(":") + 2); });
      var form = found[plural.select(values[slot])];
      return form === undefined ? found.other : form;
    }).replace(/\{(\w+)\}/g, function (_, slot) { return values[slot]; });
  }
  function none(x) { return x === null || x === undefined || x === "NA"; }
  function list(x) { return none(x) ? [] : [].concat(x); }
  function hundredths(x) { return Math.floor(100 * Math.max(0, Math.min(1, x)) + 0.5 + 1e-7); }
  function percent(x) { return none(x) ? "\u2013" : words.percent.replace("{n}", hundredths(x)); }
  function digits(text) { return text.replace(".", words.decimal); }
  function number(x) {
    if (none(x)) return "\u2013";
    return digits((Math.sign(x) * Math.floor(Math.abs(x) * 100 + 0.5 + 1e-7) / 100).toFixed(2).replace("-", "\u2212"));
  }
  function points(x) { return none(x) ? "\u2013" : digits(String(Math.floor(x * 100 + 0.5 + 1e-7) / 100)); }
  // What a student answered to an item, with its points and what it is.
  function givenBy(item, person) {
    var k = item.by[shared.present.indexOf(person)], answer = item.given.answer[k];
    return { answer: none(answer) ? "" : answer, points: item.given.points[k], kind: item.given.kind[k] };
  }
  function between(low, high) {
    return none(low) || none(high) ? "" : hundredths(low) + "\u2013" + hundredths(high);
  }
  function capital(text) { return text.charAt(0).toUpperCase() + text.slice(1); }

  // The least share of a strip of levels in which a figure of so many signs has room.
  function room(text) { return 0.13 + 0.04 * text.length; }

  // ---- cells of the tables (React's elements: text stays text) --------------------
  function h() { return React.createElement.apply(React, arguments); }
  function bar(share, ochre) {
    return h("span", { className: "bar" + (ochre ? " ochre" : "") },
      h("span", { style: { width: hundredths(none(share) ? 0 : share) + "%" } }));
  }
  function person(k) {
    var labels = shared.people[k];
    if (labels.length === 1) return labels[0];
    return [h("span", { className: "who", key: "w" }, labels[0]), h("span", { className: "alias", key: "a" }, labels[1])];
  }
  function small(text) { return text ? h("small", null, text) : null; }
  function flag(title) { return h("span", { className: "asks", title: title }, " \u25b2"); }
  function chip(k, title) { return h("span", { className: "lv lv" + (k + 1), title: title }, shared.signs[k]); }

  var cells = {
    item: function (cell) {
      return h("b", { "data-item": cell.value }, cell.value, cell.row.asks ? flag(cell.row.verdict) : null);
    },
    placed: function (cell) { return cell.value.slice(2); },
    strong: function (cell) { return h("b", null, cell.value); },
    percent: function (cell) { return percent(cell.value); },
    number: function (cell) { return number(cell.value); },
    of: function (cell) { return none(cell.value) ? "\u2013" : say("of", { n: cell.value, of: cell.row.of }); },
    bar: function (cell) {
      return h("span", null, bar(cell.value, cell.row.ochre), " " + percent(cell.value),
        small(between(cell.row.low, cell.row.high)));
    },
    right: function (cell) { return (cell.value === "right" ? "\u2713 " : "") + (words.answers[cell.value] || cell.value); },
    discrimination: function (cell) { return h("span", null, number(cell.value), small(cell.row.band)); },
    person: function (cell) { return h("span", { "data-row-of": cell.row.person }, person(cell.row.person)); },
    level: function (cell) {
      var k = shared.levels.indexOf(cell.value);
      return k < 0 ? "" : h("span", null, chip(k), " " + cell.value);
    },
    severity: function (cell) { return h("b", { className: cell.value }, words.severities[cell.value]); },
    // A letter or a short answer says itself; a longer one under the pointer.
    answer: function (cell) {
      var item = shared.items[Number(cell.column.id.slice(4)) - 1];
      var given = givenBy(item, cell.row.person), answer = given.answer, kind = given.kind;
      var short = kind === "wrong" && answer && answer.length <= 2;
      var sign = { right: "\u25cf", partly: "\u25d1", wrong: "\u00d7", waiting: "?", not_given: "\u2013" }[kind] || "";
      return h("i", { className: kind.replace(" ", "-"), title: short || kind === "right" ? undefined : answer || words.answers[kind] },
        short ? answer : sign, kind === "blank" ? h("span", { className: "unseen" }, words.answers.blank) : null);
    },
    standard: function (cell) {
      return h("span", { style: { paddingInlineStart: 1.2 * cell.row.depth + "em" } }, h("b", null, cell.row.code),
        " " + cell.row.title, cell.row.priority ? h("span", { className: "asks" }, " " + words.priority) : null);
    },
    section: function (cell) {
      var beyond = cell.row["beyond" + cell.column.id.slice(7)];
      return h("span", null, percent(cell.value), beyond ? flag(words.differs) : null);
    },
    // As long as there are students, cut by level; narrow pieces have no room for a figure.
    levels: function (cell) {
      return h("span", { className: "strip" }, list(cell.row.in_levels).map(function (share, k) {
        if (none(share) || share === 0) return null;
        return h("span", { key: k, className: "lv" + (k + 1), style: { width: 100 * share + "%" },
          title: shared.levels[k] + ": " + percent(share) },
          share >= 0.08 ? shared.signs[k] : "", share >= room(percent(share)) ? h("i", null, " " + percent(share)) : null);
      }));
    },
    // The level of a group on a standard, in its colour.
    standing: function (cell) {
      var k = cell.row["level" + cell.column.id.slice(8)];
      if (none(cell.value)) return percent(cell.value);
      return h("span", { className: "standing lv" + (k + 1), title: shared.levels[k] }, shared.signs[k] + " " + percent(cell.value));
    },
    apart: function (cell) {
      if (none(cell.value)) return "\u2013";
      var by = Math.floor(Math.abs(100 * cell.value) + 0.5 + 1e-7);
      return h("span", null, say("points_in_100", { n: (by === 0 ? "" : cell.value < 0 ? "\u2212" : "+") + by }),
        cell.row.beyond ? flag(words.more_than_chance) : null);
    },
    link: function (cell) {
      return cell.row.link ? h("a", { href: cell.row.link }, cell.value) : h("b", null, cell.value);
    },
    idea: function (cell) { return h("span", null, h("b", null, cell.row.code), " " + cell.row.description); },
    members: function (cell) {
      var role = list(cell.row.role);
      return h("span", null, list(cell.row.member).map(function (k, at) {
        var helps = role[at] === "helps" && cell.row.about ? small(words.could_explain) : null;
        return h("span", { key: at }, at ? ", " : "", person(k), helps);
      }));
    }
  };

  // ---- what a row opens to: filled in once, when it opens --------------------------
  function element(tag, text, name) {
    var made = document.createElement(tag);
    if (text !== undefined && text !== null) made.append(text);
    if (name) made.className = name;
    return made;
  }
  function line(head, text) {
    var made = element("p");
    if (head) made.append(element("b", head), " ");
    if (text) made.append(text);
    return made;
  }
  function named(k) {
    var labels = shared.people[k], made = document.createDocumentFragment();
    if (labels.length === 1) made.append(labels[0]);
    else made.append(element("span", labels[0], "who"), element("span", labels[1], "alias"));
    return made;
  }
  // Names with commas between; beside: what stands in small print after each.
  function people(numbers, beside) {
    var made = document.createDocumentFragment();
    list(numbers).forEach(function (k, at) {
      if (at) made.append(", ");
      made.append(named(k));
      if (beside) made.append(" ", element("small", beside[at]));
    });
    return made;
  }
  function choosers(item, option) {
    var about = shared.items.find(function (one) { return one.item === item; });
    var here = new Set(shared.views[current]);
    var chosen = about && about.chosen, at = chosen ? chosen.option.indexOf(option) : -1;
    if (at < 0) return [];
    var from = chosen.n.slice(0, at).reduce(function (sum, n) { return sum + n; }, 0);
    return chosen.who.slice(from, from + chosen.n[at]).filter(function (k) { return here.has(k); });
  }
  var figures = ["low", "mid", "high", "points"];
  // headings: names of the words.
  function table(headings, rows, keyed, name) {
    var made = element("table"), head = element("tr"), top = element("thead"), body = element("tbody");
    function kind(name) { return figures.indexOf(name) < 0 ? "" : "n"; }
    headings.forEach(function (name) { head.append(element("th", words.headings[name], kind(name))); });
    rows.forEach(function (row, at) {
      var tr = element("tr", null, keyed && keyed[at] ? name || "key" : "");
      row.forEach(function (cell, k) { tr.append(element("td", cell, kind(headings[k]))); });
      body.append(tr);
    });
    top.append(head);
    made.append(top, body);
    return made;
  }
  function share(x, ochre) {
    var made = document.createDocumentFragment(), track = element("span", null, ochre ? "bar ochre" : "bar");
    var fill = element("span");
    fill.style.width = percent(none(x) ? 0 : x);
    track.append(fill);
    made.append(track, " " + percent(x));
    return made;
  }
  function link(item) {
    var made = element("a", item);
    made.href = "#items";
    made.dataset.open = item;
    return made;
  }
  function answer(row) {
    var made = document.createDocumentFragment();
    made.append(element("b", row.option), " " + row.text);
    if (row.idea) made.append(" ", element("em", row.idea));
    return made;
  }

  var opening = {
    item: function (box, row) {
      var about = shared.items.find(function (one) { return one.item === row.item; });
      box.append(line(capital(row.verdict) + ":", row.say));
      list(row.more).forEach(function (text) { box.append(line("", text)); });
      if (about.why) box.append(element("p", say("why", { why: about.why }), "help"));
      var options = rows("option-table").filter(function (one) { return one.item === row.item; });
      options.sort(function (a, b) { return (b.right === "right") - (a.right === "right"); });
      box.append(table(["answer", "chosen_by", "low", "mid", "high"].concat(about.chosen ? ["who"] : []),
        options.map(function (one) {
          var who = element("details");
          who.append(element("summary", String(one.count)), people(choosers(one.item, one.option)));
          return [mark(one), share(one.share, one.ochre), percent(one.low_third), percent(one.middle),
            percent(one.high_third)].concat(about.chosen ? [one.count ? who : ""] : []);
        }), options.map(function (one) { return one.right === "right"; })));
      reasons(box, list(row.reasons));
    },
    option: function (box, row) {
      box.append(line(say("given_by", { item: row.item, option: row.option, n: row.count }), people(choosers(row.item, row.option))));
    },
    student: function (box, row) {
      var right = [];
      box.append(table(["question", "it_asks", "answer", "right", "points"], shared.items.map(function (item) {
        var given = givenBy(item, row.person), full = given.kind === "right";
        right.push(full);
        return [item.item, item.asks, (full ? "\u2713 " : "") + (given.answer || "(" + words.answers[given.kind] + ")"),
          full ? "" : item.right, say("of", { n: points(given.points), of: points(item.most) })];
      }), right, "done"));
    },
    standard: function (box, row) {
      var items = rows("item-table"), options = rows("option-table");
      box.append(table(["question", "it_asks", "points_earned", "most_chosen_wrong"], list(row.shown_by).map(function (name) {
        var item = items.find(function (one) { return one.item === name; });
        var wrong = options.find(function (one) { return one.item === name && one.right === "wrong" && one.count; });
        return [link(name), item ? item.prompt : "", item ? share(item.difficulty) : "",
          wrong ? wrong.option + " " + wrong.text + " (" + percent(wrong.share) + ")" : ""];
      })));
      if (!shared.items[0].chosen) return;
      var below = list(row.below), scores = list(row.below_share).map(percent);
      box.append(line(say("below", { n: below.length, cut: shared.cut }) +
        (below.length ? ":" : ""), people(below, scores)));
    },
    idea: function (box, row) {
      var options = rows("option-table").filter(function (one) { return one.misconception === row.code; });
      box.append(table(["question", "answer_for_it", "chosen_by"], options.map(function (one) {
        return [link(one.item), answer({ option: one.option, text: one.text }), share(one.share, true)];
      })));
      ["likely", "now_and_then", "once"].forEach(function (kind) {
        var who = list(row[kind + "_by"]);
        if (who.length) box.append(line(capital(words.held[kind]) + ":", people(who, list(row[kind + "_answers"]))));
      });
    },
    group: function (box, row) {
      var part = list(row.part), because = list(row.because);
      box.append(table(["student", "part", "because"], list(row.member).map(function (k, at) {
        return [named(k), part[at], because[at]];
      })));
    }
  };
  function mark(row) {
    var made = document.createDocumentFragment();
    made.append(row.right === "right" ? "\u2713 " : "", answer(row));
    return made;
  }
  function reasons(box, given) {
    if (!given.length) return;
    var made = element("details"), items = element("ul", null, "reasons"), count = 0;
    given.forEach(function (one) {
      var item = element("li"), who = list(one.who);
      count += who.length;
      item.append(element("b", one.option), " " + one.words + " ", element("small", shared.people[0].length > 1
        ? people(who) : say("students", { n: who.length })));
      items.append(item);
    });
    made.append(element("summary", say("their_reasons", { n: count })), items);
    box.append(made);
  }
  var opened = {};
  Object.keys(opening).forEach(function (name) {
    opened[name] = function (row) {
      return h("div", { className: "opened", ref: function (box) {
        if (!box || box.firstChild) return;
        opening[name](box, row.values);
        // To a screen reader it is a row of the table with one cell.
        box.parentNode.setAttribute("role", "row");
        box.setAttribute("role", "cell");
      } });
    };
  });

  // ---- the tables: functions by name instead of code in the data -------------------
  var registry = { cells: cells, opened: opened };
  // The first picture comes before the tables, which take long where rows are many.
  if (window.HTMLWidgets) {
    var drawTables = HTMLWidgets.staticRender;
    HTMLWidgets.staticRender = function () {
      HTMLWidgets.staticRender = drawTables;
      var drawn = false;
      var draw = function () {
        if (drawn) return;
        drawn = true;
        drawTables();
        var there = location.hash.length > 1 && document.getElementById(location.hash.slice(1));
        if (there) there.scrollIntoView();
      };
      requestAnimationFrame(function () { setTimeout(draw, 0); });
      setTimeout(draw, 250); // where nothing is shown
      addEventListener("beforeprint", draw);
    };
  }

  if (window.HTMLWidgets) {
    HTMLWidgets.evaluateStringMember = function (object, member) {
      var parts = String(member).split("."), last = parts.pop();
      parts.forEach(function (part) { object = object && object[part]; });
      if (!object || typeof object[last] !== "string") return;
      var name = object[last].split(".");
      object[last] = registry[name[0]][name[1]];
    };
  }
  // The place for "nothing found" may not speak up within a table: it is no row.
  new MutationObserver(function () {
    document.querySelectorAll(".rt-table [aria-live]").forEach(function (one) { one.removeAttribute("aria-live"); });
  }).observe(document.querySelector("main"), { childList: true, subtree: true });
  // The whole's data are in the tables themselves, the sections' beside them.
  var whole = {};
  document.querySelectorAll("script[data-for]").forEach(function (script) {
    whole[script.dataset.for] = JSON.parse(script.textContent).x.tag.attribs.data;
  });
  // Beside a section's own figures the columns of all sections stay.
  others.forEach(function (view) {
    var own = view["standard-table"], all = whole["standard-table"];
    if (own && all && own.code.length === all.code.length) view["standard-table"] = Object.assign({}, all, own);
  });
  function tables() { return current === 0 ? whole : others[current - 1]; }
  function rows(id) {
    var columns = tables()[id], names = Object.keys(columns || {});
    return names.length ? columns[names[0]].map(function (_, at) {
      var row = {};
      names.forEach(function (name) { row[name] = columns[name][at]; });
      return row;
    }) : [];
  }

  // ---- one section alone -------------------------------------------------------------
  var texts = {};
  document.querySelectorAll("main [data-slot]").forEach(function (slot) {
    texts[slot.dataset.slot] = Array.from(slot.childNodes);
  });
  function show(k) {
    current = k;
    document.querySelectorAll("main [data-slot]").forEach(function (slot) {
      var name = slot.dataset.slot, template = document.getElementById("view-" + k);
      var other = k && template.content.querySelector("[data-slot='" + name + "']");
      slot.replaceChildren.apply(slot, k ? (other ? Array.from(other.cloneNode(true).childNodes) : []) : texts[name]);
    });
    Object.keys(whole).forEach(function (id) {
      if (k === 0 || others[k - 1][id]) Reactable.setData(id, tables()[id], { resetExpanded: true });
    });
  }
  var sections = document.getElementById("section");
  if (sections) {
    // A browser that goes back remembers what was chosen, and not what was shown.
    sections.value = "0";
    sections.addEventListener("change", function () { show(Number(sections.value)); });
  }

  // ---- long tables grow as they are read down -------------------------------------------
  // They stand in the page before this, and are drawn after it.
  function growing() { return Array.from(document.querySelectorAll(".growing")); }
  function draw(table, size) {
    var choice = table.querySelector(".rt-page-size-select");
    if (!choice || Number(choice.value) === size) return;
    if (!Array.from(choice.options).some(function (one) { return Number(one.value) === size; })) {
      choice.add(new Option(String(size), String(size)));
    }
    choice.value = String(size);
    choice.dispatchEvent(new Event("change", { bubbles: true }));
  }
  function lines(table) { return Array.from(table.querySelectorAll(".rt-tbody > .rt-tr-group")); }
  function drawn(table) { return lines(table).length; }
  function all(table) {
    var choice = table.querySelector(".rt-page-size-select");
    return Math.max.apply(null, Array.from(choice.options).map(function (one) { return Number(one.value); }));
  }
  function grow() {
    growing().forEach(function (table) {
      var choice = table.querySelector(".rt-page-size-select"), rows = drawn(table);
      if (!choice || rows < Number(choice.value)) return; // nothing more of what is looked for
      var last = lines(table).pop().getBoundingClientRect();
      var end = Math.min(innerHeight, table.getBoundingClientRect().bottom + 1);
      // Not one that was passed by: what is read now would move.
      if (table.offsetParent && last.bottom > -100 && last.bottom < end + 600) draw(table, Math.min(rows + 60, all(table)));
    });
  }
  var waits = false;
  function look() {
    if (waits) return;
    waits = true;
    setTimeout(function () { waits = false; grow(); }, 30);
  }
  document.addEventListener("scroll", look, { capture: true, passive: true });
  document.addEventListener("toggle", look, true);
  document.addEventListener("input", look);
  addEventListener("resize", look);
  // Another order begins at the top again.
  document.addEventListener("click", function (event) {
    var table = event.target.closest(".growing");
    if (table && event.target.closest(".rt-th") && drawn(table) > 100) draw(table, 40);
  }, true);
  addEventListener("beforeprint", function () { growing().forEach(function (table) { draw(table, all(table)); }); });
  addEventListener("afterprint", function () { growing().forEach(function (table) { draw(table, 40); }); });

  // ---- names, and a dark room ---------------------------------------------------------
  function toggle(button, on, off, change) {
    if (!button) return;
    button.addEventListener("click", function () {
      var now = change();
      button.setAttribute("aria-pressed", String(now));
      button.textContent = now ? on : off;
    });
  }
  toggle(document.getElementById("names"), words.show_names, words.hide_names, function () {
    return root.classList.toggle("no-names");
  });
  var dark = document.getElementById("dark");
  function isDark() {
    return root.dataset.room ? root.dataset.room === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  }
  if (dark && isDark()) { dark.setAttribute("aria-pressed", "true"); dark.textContent = words.light; }
  toggle(dark, words.light, words.dark, function () {
    root.dataset.room = isDark() ? "light" : "dark";
    return isDark();
  });

  // ---- a link to a question or a student opens its row ----------------------------------
  function openRow(cell) {
    var group = cell.closest(".rt-tr-group");
    if (!group.querySelector(".opened")) cell.closest(".rt-tr").querySelector(".rt-expander-button").click();
    group.scrollIntoView({ block: "center" });
  }
  document.addEventListener("click", function (event) {
    var from = event.target.closest("a[data-open], a[data-student]");
    if (!from) return;
    var wanted = from.dataset.open !== undefined ? ["#item-table [data-item]", "item", from.dataset.open]
      : ["#grid-table [data-row-of]", "rowOf", from.dataset.student];
    var cell = Array.from(document.querySelectorAll(wanted[0])).find(function (one) {
      return one.dataset[wanted[1]] === wanted[2];
    });
    if (!cell) return;
    event.preventDefault();
    openRow(cell);
  });
})();
