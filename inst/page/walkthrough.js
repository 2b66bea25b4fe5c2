(function () {
  "use strict";
  var slides = Array.from(document.querySelectorAll(".slide"));
  var links = Array.from(document.querySelectorAll("nav a"));
  var show = document.getElementById("show");
  var words = JSON.parse(document.getElementById("words").textContent);
  var at = 0;
  if (!slides.length) return;
  document.documentElement.classList.add("leafing");

  function go(place) {
    at = Math.max(0, Math.min(slides.length - 1, place));
    slides.forEach(function (slide, k) { slide.classList.toggle("current", k === at); });
    links.forEach(function (link, k) { link.classList.toggle("current", k === at); });
    links[at].scrollIntoView({ block: "nearest", inline: "nearest" });
    label();
    window.scrollTo(0, 0);
  }
  function label() {
    var told = slides[at].classList.contains("told");
    show.textContent = !told ? words.show_the_answer : at < slides.length - 1 ? words.next_question : words.hide_the_answer;
  }
  function tell() {
    slides[at].classList.add("told");
    links[at].classList.add("seen");
    label();
  }
  function hide() {
    slides[at].classList.remove("told");
    label();
  }
  function step() {
    if (!slides[at].classList.contains("told")) tell();
    else if (at < slides.length - 1) go(at + 1);
    else hide();
  }

  show.addEventListener("click", step);
  document.getElementById("back").addEventListener("click", function () { go(at - 1); });
  document.getElementById("on").addEventListener("click", function () { go(at + 1); });
  links.forEach(function (link, k) {
    link.addEventListener("click", function (event) { event.preventDefault(); go(k); });
  });
  document.addEventListener("keydown", function (event) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    var onButton = event.target.closest && event.target.closest("button, a");
    if (event.key === " " || event.key === "Enter") { if (onButton) return; step(); }
    else if (event.key === "ArrowRight" || event.key === "PageDown") go(at + 1);
    else if (event.key === "ArrowLeft" || event.key === "PageUp") go(at - 1);
    else if (event.key === "Home") go(0);
    else if (event.key === "End") go(slides.length - 1);
    else if (event.key === "Escape") hide();
    else return;
    event.preventDefault();
  });
  // Once pressed, a button gives the keys back to the page.
  [show, document.getElementById("back"), document.getElementById("on")].forEach(function (button) {
    button.addEventListener("click", function (event) { if (event.detail) button.blur(); });
  });
  go(0);
})();
