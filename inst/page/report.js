(function () {
  "use strict";
  var names = document.getElementById("names");
  if (names) {
    names.addEventListener("click", function () {
      var hidden = document.documentElement.classList.toggle("no-names");
      names.setAttribute("aria-pressed", String(hidden));
      names.textContent = hidden ? "Show names" : "Hide names";
    });
  }
  // A link to an item opens its row in the table of questions.
  document.querySelectorAll("a[data-open]").forEach(function (link) {
    link.addEventListener("click", function (event) {
      var cells = Array.from(document.querySelectorAll("#item-table [data-item]"));
      var cell = cells.find(function (one) { return one.dataset.item === link.dataset.open; });
      if (!cell) return;
      event.preventDefault();
      var group = cell.closest(".rt-tr-group");
      if (!group.querySelector(".opened")) cell.closest(".rt-tr").querySelector(".rt-expander-button").click();
      group.scrollIntoView({ block: "start" });
    });
  });
})();
