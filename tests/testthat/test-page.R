# The report, in a browser, as the person who opens it.

report_of <- function(quiz, ...) {
  path <- tempfile(fileext = ".html")
  write_report(quiz, path, ...)
  path
}

test_that("the page needs no network and holds what the summaries say", {
  path <- report_of(read_sitting(demo_path()))
  html <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  expect_lt(file.size(path), 1.5e6)
  expect_match(html, "Content-Security-Policy\" content=\"default-src 'none'", fixed = TRUE)
  expect_false(grepl("<(script|img|iframe|link)[^>]+(src|href)=[\"']?(https?:)?//", html, perl = TRUE))
  page <- page_after(path, "
    said.tiles=[].map.call(document.querySelectorAll('.tile b'),function(e){return e.textContent});
    said.first=[].map.call(document.querySelectorAll('.first li a'),function(e){return e.textContent});
    said.rows=document.querySelectorAll('#item-table [data-item]').length;
    said.grid=[document.querySelectorAll('table.grid tbody tr').length,
      document.querySelectorAll('table.grid tbody td').length];
    said.figures=document.querySelectorAll('figure svg[role=img][aria-label]').length;
    said.standards=document.querySelectorAll('#standards tbody tr').length;")
  expect_equal(page$faults, list())
  expect_equal(page$tiles, c("60%", "80", "33", "good"))
  expect_equal(page$first, c("Q7", "Q11", "Q9", "Q10", "Q14"))
  expect_equal(page$rows, 24)
  expect_equal(page$grid, c(80, 80 * 26))
  expect_equal(page$figures, 3)
  expect_equal(page$standards, 8)
})

test_that("the questions stand hardest first and sort by any heading", {
  path <- report_of(read_sitting(demo_path()))
  order <- "function now(){return [].map.call(document.querySelectorAll('#item-table [data-item]'),
      function(e){return e.dataset.item})}
    function press(k){document.querySelectorAll('#item-table .rt-th')[k].click()}"
  page <- page_after(path, paste0(order, "said.begin=now();press(7);window.later=function(s){s.end=now()};"))
  items <- summarise_items(read_sitting(demo_path()))
  expect_equal(page$begin[1:3], items$item[order(items$difficulty)][1:3])
  expect_equal(page$end[c(1, 2)], c("Q7", "Q11"))
})

test_that("a question opens to its answers with who gave them, from its row or from the first look", {
  quiz <- read_sitting(demo_path())
  page <- page_after(report_of(quiz), "
    document.querySelector('a[data-open=Q9]').click();
    window.later=function(s){var o=document.querySelector('.opened');s.text=o.textContent;
      var row=o.querySelectorAll('tbody tr')[1];s.who=row.querySelectorAll('.who').length;
      s.count=row.querySelector('summary').textContent;
      s.key=o.querySelector('tr.key b').textContent;
      s.expanded=document.querySelectorAll('.rt-expander-button[aria-expanded=true]').length};")
  expect_match(page$text, "They get much smaller", fixed = TRUE)
  expect_match(page$text, "Why: Tides do not need wind.", fixed = TRUE)
  expect_equal(page$key, "C")
  expect_equal(c(page$who, as.integer(page$count)), c(37, 37))
  expect_equal(page$expanded, 1)
})

test_that("one switch hides all names, by keyboard too, and without names they are not in the file", {
  quiz <- read_sitting(demo_path())
  shown <- "function shown(q){return [].filter.call(document.querySelectorAll(q),
    function(e){return e.offsetParent!==null}).length}"
  page <- page_after(report_of(quiz), paste0(shown, "
    var b=document.getElementById('names');said.before=[shown('.who'),shown('.alias')];b.focus();
    said.focused=document.activeElement===b;b.click();
    said.after=[shown('.who'),shown('.alias')];said.pressed=b.getAttribute('aria-pressed');
    said.text=document.body.innerText;"))
  expect_equal(page$before, c(80, 0))
  expect_equal(page$after, c(0, 80))
  expect_true(page$focused)
  expect_equal(page$pressed, "true")
  expect_no_match(page$text, "Dario Driftwood", fixed = TRUE)

  html <- paste(readLines(report_of(quiz, names = FALSE), encoding = "UTF-8"), collapse = "\n")
  for (name in c(quiz$students$name, quiz$students$student)) expect_no_match(html, name, fixed = TRUE)
})

test_that("hostile text in every field is text on the page", {
  evil <- "<img src=x onerror=faults.push('ran')></script><script>faults.push('ran')</script>"
  cell <- paste0("\"", evil, "\"")
  folder <- plain_folder(
    c("student,Q1,Q2", paste0("\"", evil, "\",", cell, ",B"), "b,B,B", "c,A,C", "d,A,B"),
    items = c("item,type,key,prompt,rationale,standards", paste0("Q1,text,A,", cell, ",", cell, ",", cell),
      "Q2,choice,B,x,y,S"),
    options.csv = c("item,option,text,misconception", paste0("Q2,B,", cell, ","), paste0("Q2,C,", cell, ",M")),
    misconceptions.csv = c("code,description", paste0("M,", cell)),
    standards.csv = c("code,title", paste0("S,", cell)),
    students.csv = c("student,name,section", paste0(cell, ",", cell, ",", cell), "b,Bo,1", "c,Cy,1", "d,Di,1"),
    test.yml = paste0("title: '", gsub("'", "''", evil), "'"))
  page <- page_after(report_of(read_sitting(folder)), "
    document.querySelectorAll('.rt-expander-button').forEach(function(b){b.click()});
    window.later=function(s){s.images=document.querySelectorAll('img').length;
      s.title=document.querySelector('h1').textContent;
      s.opened=document.querySelectorAll('.opened').length};")
  expect_equal(page$faults, list())
  expect_equal(page$images, 0)
  expect_equal(page$title, evil)
  expect_equal(page$opened, 2)
})

test_that("the page is made for a class of one, for no standards and for nobody at all", {
  for (quiz in list(choice_sitting(matrix("A", 1, 1)), choice_sitting(matrix(c("A", NA), 2, 3)),
    choice_sitting(matrix(NA_character_, 2, 2)))) {
    page <- page_after(report_of(quiz), "said.title=document.querySelector('h1').textContent;")
    expect_equal(page$faults, list())
    expect_equal(page$title, "Untitled test")
  }
})

test_that("the page of a whole school leaves out each one's answers, and says so", {
  many <- random_sitting(n = 401, k = 3)
  html <- paste(readLines(report_of(many), encoding = "UTF-8"), collapse = "\n")
  expect_match(html, "With 401 students this page leaves out each one", fixed = TRUE)
  expect_no_match(html, "s017", fixed = TRUE)
  expect_match(html, "Look at this first", fixed = TRUE)
})

test_that("text on the steps of a level contrasts by at least 4 to 1", {
  luminance <- function(colour) {
    x <- grDevices::col2rgb(colour)[, 1] / 255
    sum(ifelse(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055)^2.4) * c(0.2126, 0.7152, 0.0722))
  }
  for (ground in unique(unlist(lapply(1:6, internal("level_colours"))))) {
    pair <- sort(c(luminance(ground), luminance(internal("ink_on")(ground))))
    expect_gt((pair[2] + 0.05) / (pair[1] + 0.05), 4)
  }
})
