# Going over the test, in a browser, as the class sees it.

walkthrough_of <- function(quiz, ...) {
  path <- tempfile(fileext = ".html")
  write_walkthrough(quiz, path, ...)
  path
}

test_that("a question at a time, hardest first; the answer and why only on a key press", {
  quiz <- read_sitting(demo_path())
  page <- page_after(
    walkthrough_of(quiz),
    "
    function key(k){document.dispatchEvent(new KeyboardEvent('keydown',{key:k,bubbles:true,cancelable:true}))}
    function now(){var s=document.querySelectorAll('.slide.current');var right=s[0].querySelector('.right-is');
      return [s.length,s[0].dataset.item,getComputedStyle(right).visibility,
        getComputedStyle(s[0].querySelector('li.key .label'),'::before').visibility].join(' ')}
    said.order=[].map.call(document.querySelectorAll('.slide'),function(e){return e.dataset.item});
    said.begin=now();key(' ');said.told=now();key('Enter');said.next=now();key('ArrowLeft');said.back=now();
    key('End');said.last=document.querySelector('.slide.current').dataset.item;
    document.querySelectorAll('nav a')[2].click();document.getElementById('show').click();said.third=now();
    said.button=document.getElementById('show').textContent;
    said.why=document.querySelector('.slide.current .why').textContent;
    said.bars=[].map.call(document.querySelectorAll('.slide.current .share'),function(e){return e.textContent});"
  )
  expect_equal(page$faults, list())
  items <- summarise_items(quiz)
  expect_equal(page$order, items$item[order(items$difficulty)])
  expect_equal(page$begin, "1 Q7 hidden hidden")
  expect_equal(page$told, "1 Q7 visible visible")
  expect_equal(page$`next`, "1 Q14 hidden hidden")
  expect_equal(page$back, "1 Q7 visible visible")
  expect_equal(page$last, "Q1")
  expect_equal(page$third, "1 Q9 visible visible")
  expect_equal(page$button, "Next question")
  expect_equal(page$why, "Tides do not need wind.")
  options <- summarise_options(quiz)
  expect_equal(page$bars, internal("percent")(options$share[options$item == "Q9"]))
})

test_that(
  "no name, no rare answer of one student, nothing fetched, and what was typed is text",
  {
    quiz <- read_sitting(demo_path())
    html <- paste(readLines(walkthrough_of(quiz), encoding = "UTF-8"), collapse = "\n")
    for (name in c(quiz$students$name[1:80], "h047")) {
      expect_no_match(html, name, fixed = TRUE)
    }
    expect_no_match(html, "A>D>B>C|A \u2192 D \u2192 B \u2192 C") # two students
    expect_match(html, "C \u2192 B \u2192 D \u2192 A", fixed = TRUE) # 21
    expect_false(grepl("(src|href)=[\"']?(https?:)?//", html))
    hostile <- sitting(
      data.frame(student = 1:4, Q1 = "<b>ebb</b>"),
      data.frame(
        item = "Q1",
        type = "text",
        key = "ebb",
        prompt = "<script>alert(1)</script>",
        rationale = "a < b & c"
      )
    )
    html <- paste(readLines(walkthrough_of(hostile)), collapse = "\n")
    expect_no_match(html, "<script>alert", fixed = TRUE)
    expect_match(html, "&lt;b&gt;ebb&lt;/b&gt;", fixed = TRUE)
    expect_match(html, "a &lt; b &amp; c", fixed = TRUE)
  }
)

test_that(
  paste0(
    "items can be chosen; an unknown one is refused; a doubtful key is said before it ",
    "is shown"
  ),
  {
    folder <- demo_copy()
    call <- run_here("walkthrough", folder, "--most", "3")
    expect_equal(call$status, 0)
    expect_match(call$err, "Before you show it: check the key of Q7")
    html <- paste(readLines(file.path(folder, "walkthrough.html")), collapse = "\n")
    expect_equal(lengths(regmatches(html, gregexpr("class=\"slide\"", html))), 3)
    quiet <- run_here(
      "walkthrough",
      folder,
      "--item",
      "Q9,Q24",
      "--out",
      tempfile(fileext = ".html")
    )
    expect_no_match(quiet$err, "Before you show it")
    wrong <- run_here("walkthrough", folder, "--item", "Q99")
    expect_equal(wrong$status, 2)
    expect_match(wrong$err, "no item \"Q99\"")
  }
)
