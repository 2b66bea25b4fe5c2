(function () {
  "use strict";
  var root = document.documentElement;
  function all(selector, within) { return Array.from((within || document).querySelectorAll(selector)); }
  function one(selector, within) { return (within || document).querySelector(selector); }
  function part(text) { return encodeURIComponent(text); }
  // What was told and what was answered are counted: they are equal when all is done.
  function tell(name, value) {
    Shiny.setInputValue(name, value, { priority: "event" });
    var sent = Number(root.dataset.sent || 0) + 1;
    root.dataset.sent = sent;
    Shiny.setInputValue("turn", sent, { priority: "event" });
  }

  // ---- where: the address behind "#" is the place -----------------------------------
  function place() { return location.hash.slice(1); }
  function moved() {
    tell("place", place());
    wanted = true;
    mark();
  }
  var wanted = false;
  addEventListener("hashchange", moved);
  // The row of what is opened beside; the last part of the address may be a cell of it.
  function mark() {
    all("#main tr.open").forEach(function (row) { row.classList.remove("open"); });
    all("#main tbody th[scope='row'] a[href^='#']").forEach(function (link) {
      var here = link.hash === location.hash || location.hash.indexOf(link.hash + "/") === 0;
      if (here && link.hash.split("/").length > 2) link.closest("tr").classList.add("open");
    });
  }

  // ---- what is typed stays until it is kept, also when the page is drawn anew --------
  var store = window.localStorage;
  function draft(field) { return "pregunta " + place().split("/")[0] + " " + field.dataset.keep; }
  function fields(form) {
    var given = {};
    all("input[name], select[name], textarea[name]", form).forEach(function (field) {
      if (field.type !== "checkbox") given[field.name] = field.value;
      else if (field.checked) given[field.name] = (given[field.name] ? given[field.name] + "\n" : "") + field.value;
    });
    return given;
  }
  // It is forgotten when it was done, not when it was sent.
  var going = [];
  function forget(form) {
    all("[data-keep]", form).forEach(function (field) {
      // What another page typed meanwhile is its own.
      if (store.getItem(draft(field)) === field.value) going.push(draft(field));
    });
  }
  function settled(done) {
    if (done) going.forEach(function (key) { store.removeItem(key); });
    going = [];
  }
  document.addEventListener("input", function (event) {
    var field = event.target;
    if (field.dataset && field.dataset.keep) store.setItem(draft(field), field.value);
  });
  function restore(within) {
    all("[data-keep]", within).forEach(function (field) {
      var typed = store.getItem(draft(field));
      if (typed !== null && typed !== field.value) field.value = typed;
    });
  }

  // ---- what is done -----------------------------------------------------------------
  function act(from, more) {
    var given = Object.assign({}, from.dataset, more || {});
    delete given.focus;
    tell("act", given);
  }
  document.addEventListener("click", function (event) {
    var button = event.target.closest("button[data-act]");
    if (button) {
      var about = button.dataset;
      act(button, about.act === "mark" ? { points: String(half ? Math.min(Number(about.points) + 0.5, most()) : about.points), comment: comment() } : {});
      if (about.act === "mark") setHalf(false);
      return;
    }
    if (event.target.closest("#keep-typed")) return keepTyped();
    if (event.target.closest("#reveal")) return event.target.closest(".large").classList.toggle("no-key");
    if (event.target.closest("[data-skip]")) {
      event.preventDefault();
      one("#page").focus();
      return;
    }
    var sort = event.target.closest(".sorts thead th");
    if (sort && !event.target.closest("button, a")) return sortBy(sort);
    var report = event.target.closest("[data-ids] a");
    if (report) { event.preventDefault(); fromReport(report); return; }
    var grid = event.target.closest("#grid tbody td:not(.score):not(.level), #grid tbody a");
    if (grid) { event.preventDefault(); openCell(grid); }
  });
  document.addEventListener("submit", function (event) {
    event.preventDefault();
    var form = event.target;
    if (!form.dataset.act) return;
    if (form.dataset.live) return;
    var given = fields(form), by = event.submitter;
    if (by && by.name) given[by.name] = by.value;
    if (form.dataset.act !== "try" && form.dataset.act !== "slips") forget(form);
    act(form, given);
  });
  // A choice and a field of the plan are done when they are left.
  document.addEventListener("change", function (event) {
    var field = event.target, form = field.closest("form[data-live]");
    if (form) { forget(form); act(form, fields(form)); }
    if (field.matches("select[data-act]")) act(field, { role: field.value });
  });

  // The parts of the report point to its own sections; here they are places.
  function fromReport(link) {
    var home = link.closest("[data-ids]"), test = part(home.dataset.test);
    if (link.dataset.open !== undefined) location.hash = test + "/questions/" + part(link.dataset.open);
    else if (link.dataset.student !== undefined) location.hash = test + "/students/" + part(JSON.parse(home.dataset.ids)[Number(link.dataset.student)]);
    else location.hash = test + (link.hash === "#standards" ? "/standards" : "/next");
  }

  // ---- the grid: a cell is a place, the arrows go from one to the next ----------------
  function openCell(cell) {
    var row = cell.closest("tr"), at = place().split("/")[0], home = one("#grid").dataset.place.slice(1);
    var address = home + "/" + part(row.dataset.student);
    if (cell.tagName === "TD") address += "/" + part(all("thead th", row.closest("table"))[cell.cellIndex].dataset.item);
    location.hash = address;
  }
  function walk(cell, event) {
    var row = cell.closest("tr"), rows = row.parentNode.rows, to = null;
    var x = cell.cellIndex, y = Array.from(rows).indexOf(row);
    if (event.key === "ArrowLeft") to = row.cells[x - 1];
    if (event.key === "ArrowRight") to = row.cells[x + 1];
    if (event.key === "ArrowUp" && rows[y - 1]) to = rows[y - 1].cells[x];
    if (event.key === "ArrowDown" && rows[y + 1]) to = rows[y + 1].cells[x];
    if (!to) return;
    event.preventDefault();
    cell.tabIndex = -1;
    to.tabIndex = 0;
    to.focus();
  }
  function sortBy(head) {
    var table = head.closest("table"), body = table.tBodies[0], k = head.cellIndex;
    var down = head.getAttribute("aria-sort") === "ascending";
    all("th", table.tHead).forEach(function (th) { th.removeAttribute("aria-sort"); });
    head.setAttribute("aria-sort", down ? "descending" : "ascending");
    function value(row) {
      var cell = row.cells[k], given = cell.dataset.sort !== undefined ? cell.dataset.sort : cell.textContent.trim();
      var number = parseFloat(given);
      return isNaN(number) ? (given === "NA" ? Infinity : given) : number;
    }
    if (table.classList.contains("grid")) reveal(Infinity);
    Array.from(body.rows).sort(function (a, b) {
      var x = value(a), y = value(b);
      var order = typeof x === "number" && typeof y === "number" ? x - y : String(x).localeCompare(String(y), root.lang || undefined, { numeric: true });
      return down ? -order : order;
    }).forEach(function (row) { body.append(row); });
  }

  // Rows that wait as text become rows in steps, when nothing else is to be done.
  function reveal(most) {
    var text = one("#rows-that-wait");
    if (!text) return;
    var rows = text.rows || (text.rows = text.textContent.split("\n"));
    one("#grid tbody").insertAdjacentHTML("beforeend", rows.splice(0, most).join(""));
    if (rows.length) later(); else text.remove();
  }
  // Not every browser says when it is idle.
  function later() {
    if (window.requestIdleCallback) requestIdleCallback(function () { reveal(20); }, { timeout: 400 });
    else setTimeout(function () { reveal(20); }, 60);
  }
  window.addEventListener("beforeprint", function () { reveal(Infinity); });

  // ---- keys ---------------------------------------------------------------------------
  var half = false;
  function most() { return Number(one(".marking").dataset.most); }
  function comment() { var field = one(".marking [name='comment']"); return field ? field.value : ""; }
  function setHalf(on) {
    half = on;
    var sign = one("#half");
    if (sign) sign.textContent = on ? "+ \u00bd" : "";
  }
  document.addEventListener("keydown", function (event) {
    var target = event.target, typing = target.matches("input, select, textarea");
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (target.matches("#grid td")) {
      if (event.key === "Enter") { openCell(target); return; }
      walk(target, event);
      return;
    }
    if (target.closest(".typing") && target.matches("input")) return typeKey(target, event);
    if (event.key === "Enter" && target.matches(".sorts thead th")) return sortBy(target);
    if (typing) return;
    var turn = one("[data-key='" + event.key + "']");
    if (turn) { location.hash = turn.hash.slice(1); return; }
    if (event.key === "Escape") { var close = one("#ask [data-act='close'], #done [data-act='close']"); if (close) close.click(); return; }
    var marking = one(".marking");
    if (!marking) return;
    if (/^[0-9]$/.test(event.key)) {
      var button = all(".point", marking).find(function (b) { return b.dataset.points === event.key; });
      if (button) { event.preventDefault(); button.click(); }
    }
    if (event.key === "," || event.key === ".") setHalf(!half);
    if (event.key === "ArrowRight" && marking.dataset.on) location.hash = marking.dataset.on.slice(1);
    if (event.key === "ArrowLeft" && marking.dataset.back) location.hash = marking.dataset.back.slice(1);
  });

  // ---- typing in a paper test ------------------------------------------------------------
  function next(input) { var cell = input.closest("td").nextElementSibling; return cell ? one("input", cell) : nextRow(input, 1); }
  function nextRow(input, by) {
    var row = input.closest("tr"), to = by > 0 ? row.nextElementSibling : row.previousElementSibling;
    if (!to) return null;
    return one("input", by > 1 || by < 0 ? to.cells[input.closest("td").cellIndex] : to);
  }
  function typeKey(input, event) {
    var to = null;
    if (event.key === "Enter") to = next(input);
    if (event.key === "ArrowDown") to = nextRow(input, 2);
    if (event.key === "ArrowUp") to = nextRow(input, -1);
    if (event.key === "ArrowRight" && input.selectionStart === input.value.length) to = next(input);
    if (event.key === "ArrowLeft" && input.selectionStart === 0) { var cell = input.closest("td").previousElementSibling; to = cell && one("input", cell); }
    if (!to) return;
    event.preventDefault();
    to.focus();
    to.select();
  }
  document.addEventListener("input", function (event) {
    var input = event.target;
    if (!input.closest || !input.closest(".typing")) return;
    // One letter or figure is an answer; who has more to write goes on with Enter.
    if (event.inputType === "insertText" && input.value.length === 1 && /^[A-Za-z0-9-]$/.test(input.value) && input.dataset.jumps !== undefined) {
      var to = next(input);
      if (to) { to.focus(); to.select(); }
    }
    differences();
  });
  function differs(input) {
    return input.value.trim() !== "" && input.value.trim().toLowerCase() !== input.dataset.old.trim().toLowerCase();
  }
  function differences() {
    var box = one("#differs");
    if (!box || !one(".twice")) return;
    var found = all(".typing input").filter(function (input) {
      var other = differs(input) && input.dataset.old !== "";
      input.classList.toggle("other", other);
      input.title = other ? input.dataset.old : "";
      return other;
    });
    box.textContent = found.length ? box.dataset.words.replace("#", found.length) : "";
  }
  function keepTyped() {
    var rows = [];
    all(".typing tbody tr").forEach(function (row) {
      var changed = all("input", row).filter(differs);
      if (!changed.length) return;
      var given = { student: row.dataset.student };
      all("input", row).forEach(function (input) { given[input.name] = differs(input) ? input.value.trim() : ""; });
      rows.push(given);
    });
    forget(one(".typing"));
    tell("act", { act: "type", rows: JSON.stringify(rows) });
  }

  // ---- a name is dragged to another group of its class -----------------------------------
  var dragged = null;
  function target(event) {
    var group = event.target.closest && event.target.closest(".group[data-to]");
    var from = dragged && dragged.closest(".group");
    return group && from && group !== from && group.dataset.class === from.dataset.class ? group : null;
  }
  function unmark() { all(".group.over").forEach(function (group) { group.classList.remove("over"); }); }
  document.addEventListener("dragstart", function (event) {
    dragged = event.target.closest && event.target.closest(".group li[data-student]");
    if (dragged) { event.dataTransfer.setData("text/plain", ""); event.dataTransfer.effectAllowed = "move"; }
  });
  document.addEventListener("dragover", function (event) {
    var group = target(event);
    unmark();
    if (group) { event.preventDefault(); group.classList.add("over"); }
  });
  document.addEventListener("drop", function (event) {
    var group = target(event);
    unmark();
    if (!group) return;
    event.preventDefault();
    tell("act", { act: "change", action: "group", student: dragged.dataset.student, value: group.dataset.to });
    one("ul", group).append(dragged);
  });
  document.addEventListener("dragend", function () { dragged = null; unmark(); });

  // ---- names, and a dark room ---------------------------------------------------------
  function toggle(button, change) {
    var now = change(), text = button.textContent;
    button.setAttribute("aria-pressed", String(now));
    button.textContent = button.dataset.other;
    button.dataset.other = text;
  }
  function isDark() { return root.dataset.room ? root.dataset.room === "dark" : matchMedia("(prefers-color-scheme: dark)").matches; }
  document.addEventListener("click", function (event) {
    if (event.target.id === "names") toggle(event.target, function () { return root.classList.toggle("no-names"); });
    if (event.target.id === "dark") toggle(event.target, function () { root.dataset.room = isDark() ? "light" : "dark"; return isDark(); });
  });

  // ---- the language: kept by the browser, and read by the desk with every request --------
  document.addEventListener("change", function (event) {
    if (event.target.id !== "language") return;
    document.cookie = "pregunta-language=" + part(event.target.value) + "; path=/; SameSite=Strict; max-age=31536000";
    location.reload();
  });

  // ---- when a part was drawn anew -------------------------------------------------------
  var held = null;
  function drawn(box) {
    restore(box);
    differences();
    if (one("#rows-that-wait", box)) setTimeout(later, 120);
    var cells = one("#grid tbody td:not(.score):not(.level)", box);
    if (cells) cells.tabIndex = 0;
    all(".sorts thead th", box).forEach(function (th) { if (!one("button", th)) th.tabIndex = 0; });
    ["names", "dark"].forEach(function (id) {
      var button = one("#" + id, box), on = id === "names" ? root.classList.contains("no-names") : isDark();
      if (button && on && button.getAttribute("aria-pressed") === "false") {
        button.setAttribute("aria-pressed", "true");
        var text = button.textContent;
        button.textContent = button.dataset.other;
        button.dataset.other = text;
      }
    });
    var focus = one("[data-focus]", box);
    if (focus) focus.focus();
    else if (wanted && box.id === "beside") { var head = one("h2", box); if (head) { head.focus({ preventScroll: innerWidth > 900 }); wanted = false; } }
    else if (held && !document.activeElement.closest("#" + box.id)) {
      var same = held.id ? document.getElementById(held.id) : held.name ? all("[name]", box).find(function (f) { return f.name === held.name && f.dataset.keep === held.keep; }) : null;
      if (same && box.contains(same)) same.focus();
    }
    if (box.id === "main") mark();
    if (box.id === "main") document.title = (one("h1", box) || document.body).textContent.slice(0, 80) + " \u00b7 Pregunta";
    held = null;
    root.dataset.drawn = String(Number(root.dataset.drawn || 0) + 1);
  }
  function start() {
    var $ = window.jQuery;
    $(document).on("shiny:value", function (event) {
      var active = document.activeElement, box = event.target;
      if (box.contains && box.contains(active)) held = { id: active.id, name: active.name, keep: active.dataset ? active.dataset.keep : undefined };
      setTimeout(function () { drawn(box); }, 0);
    });
    $(document).on("shiny:connected", function () {
      Shiny.addCustomMessageHandler("go", function (to) { if (location.hash === to) moved(); else location.hash = to; });
      Shiny.addCustomMessageHandler("acted", settled);
      Shiny.addCustomMessageHandler("turned", function (n) { root.dataset.turned = n; });
      moved();
    });
    $(document).on("shiny:disconnected", function () { one("#gone").hidden = false; });
  }
  start();
})();
