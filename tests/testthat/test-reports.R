# For whom a report is, and many of them at once.

test_that(
  "a coordinator sees groups side by side as the summaries have them, and no student",
  {
    only_in_all()
    quiz <- read_sitting(demo_path())
    expect_true(
      any(
        grepl(
          "\"low tide\"",
          readLines(write_report(quiz, tempfile(), audience = "coordinator"))
        )
      )
    )
    quiz$students$club <- rep(c("chess", "choir"), c(3, 81)) # too few in one
    path <- write_report(quiz, tempfile(fileext = ".html"), audience = "coordinator")
    html <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
    for (name in c(quiz$students$name, quiz$students$student)) {
      expect_false(grepl(name, html, fixed = TRUE))
    }
    page <- page_after(
      path,
      "
    function col(t,k){return [].map.call(document.querySelectorAll('#'+t+' .rt-tbody .rt-tr'),
      function(r){return r.children[k].textContent.trim()})}
    said.group=col('by-section-table',0);said.n=col('by-section-table',1);said.share=col('by-section-table',3);
    said.club=col('by-club-table',3);said.standing=col('standing-table',7);
    said.look=[].map.call(document.querySelectorAll('.look li a'),function(e){return e.textContent});
    said.names=document.getElementById('names')!==null;"
    )
    expect_equal(page$faults, list())
    test <- summarise_test(quiz, by = "section")
    percent <- internal("percent")
    expect_equal(page$group, test$section)
    expect_equal(as.integer(page$n), test$n)
    expect_equal(sub("%.*", "%", page$share), percent(test$mean_share))
    expect_true(all(startsWith(page$club, "\u2013")))
    standards <- summarise_standards(quiz, "section")
    expect_equal(
      sub(".* ", "", page$standing),
      percent(standards$share[standards$code == "TC.2.b"])
    )
    expect_equal(page$look[1:2], c("Q7", "Q9"))
    expect_false(page$names)
  }
)

test_that("what only one student wrote is not in a coordinator's report", {
  quiz <- sitting(
    data.frame(
      student = letters[1:12],
      Q1 = rep(c("ebb", "flow", "call me Zed"), c(5, 6, 1)),
      Q2 = "B"
    ),
    data.frame(item = c("Q1", "Q2"), type = c("text", "choice"), key = c("ebb", "B"))
  )
  html <- readLines(
    write_report(quiz, tempfile(), audience = "coordinator"),
    encoding = "UTF-8"
  )
  expect_true(any(grepl("\"flow\"", html, fixed = TRUE)))
  expect_false(any(grepl("call me zed", html, ignore.case = TRUE)))
  demo <- read_sitting(demo_path())
  near <- readLines(
    write_report(demo, tempfile(), audience = "coordinator"),
    encoding = "UTF-8"
  )
  expect_true(any(grepl("Nearly right: eb (11) and ebbe (6)", near, fixed = TRUE)))
  few <- complete_settings_for(
    narrow_sitting(demo, student = sprintf("h%03d", 12:40)),
    smallest_group = 5
  )
  rare <- summarise_answers(few)
  rare <- rare[rare$item == "Q17" & !rare$key & rare$count < 3 & !is.na(rare$near_miss), ]
  expect_gt(nrow(rare), 0)
  near <- readLines(
    write_report(few, tempfile(), audience = "coordinator"),
    encoding = "UTF-8"
  )
  for (answer in rare$answer) {
    expect_false(any(grepl(paste0("\\b", answer, " \\("), near)))
  }
})

test_that("a head's sheet prints on one page, without script or names", {
  quiz <- read_sitting(demo_path())
  path <- write_report(quiz, tempfile(fileext = ".html"), audience = "head")
  html <- readLines(path, encoding = "UTF-8")
  expect_false(any(grepl("<script", html, fixed = TRUE)))
  for (name in quiz$students$name) expect_false(any(grepl(name, html, fixed = TRUE)))
  skip_if(is.na(browser()), "no browser on this machine")
  pdf <- tempfile(fileext = ".pdf")
  internal("print_page")(html, pdf)
  bytes <- readBin(pdf, "raw", 2e6)
  expect_length(
    gregexpr("/Type /Page[^s]", rawToChar(bytes[bytes != 0]), useBytes = TRUE)[[1]],
    1
  )
  expect_refused(write_report(quiz, audience = "parent"), "call", "no report for")
})

test_that(
  paste0(
    "a folder of tests gives a report each and an index; what is broken is listed, the ",
    "rest is done"
  ),
  {
    home <- tempfile("tests-")
    dir.create(home)
    for (name in c("knots", "follow-up")) {
      file.copy(demo_path(name), home, recursive = TRUE)
    }
    dir.create(file.path(home, "broken"))
    writeLines("nothing", file.path(home, "broken", "responses.csv"))
    writeLines("item,key", file.path(home, "broken", "items.csv"))
    said <- run_here("report", home, "--no-names")
    expect_equal(said$status, 1)
    expect_match(said$err, "2 reports written", fixed = TRUE)
    expect_match(said$err, "broken: ", fixed = TRUE)
    expect_true(all(file.exists(file.path(home, c("knots", "follow-up"), "report.html"))))
    expect_false(file.exists(file.path(home, "broken", "report.html")))
    page <- page_after(
      file.path(home, "index.html"),
      "
    said.links=[].map.call(document.querySelectorAll('#index-table a'),function(a){return a.getAttribute('href')});
    said.rows=document.querySelectorAll('#index-table .rt-tbody .rt-tr').length;"
    )
    expect_equal(page$faults, list())
    expect_setequal(page$links, c("knots/report.html", "follow-up/report.html"))
    expect_equal(page$rows, 3)
    expect_refused(
      write_reports(tempdir(check = TRUE) |> file.path("none")),
      "folder",
      "is a test folder"
    )
  }
)

test_that("what cannot be written leaves the old file whole", {
  quiz <- choice_sitting(matrix(c("A", "B", "A", "A"), 6, 2))
  writers <- list(write_report, write_slips, write_workbook, function(quiz, path) {
    write_report(quiz, path, audience = "head")
  })
  folder <- tempfile()
  dir.create(folder)
  for (write in writers) {
    expect_refused(
      write(quiz, file.path(folder, "none", "x.html")),
      "output",
      "no folder"
    )
    expect_refused(write(quiz, folder), "output", "is a folder")
  }
  expect_length(list.files(folder, all.files = TRUE, no.. = TRUE), 0)
})

# A process that may write no file above a few blocks stands for a full disk: each
# writer finds out in its own way, some only when a file is closed or not at all.
test_that("where there is no room nothing is half written, whoever writes it", {
  only_in_all()
  skip_on_os(c("windows", "mac"))
  folder <- tempfile()
  dir.create(folder)
  asked <- c(
    "report.html" = "report",
    "head.html" = "report --for head",
    "slips.html" = "slips",
    "slips.pdf" = "slips --as pdf",
    "book.xlsx" = "workbook",
    "items.png" = "plot --of items",
    "items.svg" = "plot --of items",
    "items.pdf" = "plot --of items",
    "qti.zip" = "export --as qti",
    "results.zip" = "export --as oneroster",
    "plan.docx" = "plan",
    "options.json" = "options --format json",
    "long.csv" = "export --as long"
  )
  if (is.na(browser())) asked <- asked[names(asked) != "slips.pdf"]
  for (name in names(asked)) writeLines("old", file.path(folder, name))
  calls <- paste(
    sub(" |$", paste0(" ", demo_copy(), " "), asked), "--out",
    file.path(folder, names(asked))
  )
  script <- folder_of(
    calls = calls,
    script.R = paste0(
      "for (call in readLines('calls')) cat('status', ",
      "pregunta::run_command(strsplit(call, ' +')[[1]]), '\\n')"
    )
  )
  said <- system2(
    "sh",
    c(
      "-c",
      shQuote(
        paste(
          "trap '' XFSZ; ulimit -f 8; cd", shQuote(script), ";",
          shQuote(file.path(R.home("bin"), "Rscript")), "script.R"
        )
      )
    ),
    stdout = TRUE,
    stderr = TRUE,
    env = "R_TESTS="
  )
  expect_equal(sum(trimws(said) == "status 1"), length(asked))
  expect_equal(sum(grepl("could not be written", said)), length(asked))
  for (name in names(asked)) {
    expect_equal(readLines(file.path(folder, name), warn = FALSE), "old")
  }
  expect_setequal(list.files(folder, all.files = TRUE, no.. = TRUE), names(asked))
})

test_that("the template for one's own report renders, with standards or without", {
  only_in_all()
  skip_if_not(rmarkdown::pandoc_available(), "no pandoc on this machine")
  template <- system.file(
    "rmarkdown",
    "templates",
    "class_report",
    "skeleton",
    "skeleton.Rmd",
    package = "pregunta"
  )
  render <- function(folder) {
    copy <- tempfile(fileext = ".Rmd")
    file.copy(template, copy)
    made <- rmarkdown::render(
      copy,
      params = list(folder = folder),
      quiet = TRUE,
      envir = new.env()
    )
    said <- xml2::xml_text(xml2::xml_find_all(xml2::read_html(made), "//h2 | //td"))
    paste(gsub("\\s+", " ", said), collapse = " ")
  }
  expect_match(
    render(demo_path()),
    "Q7.*52 of 80 chose C.*C may be the right answer.*The standards"
  )
  expect_match(render(plain_folder()), "How it went.*What I will do")
})

test_that("the head's sheet goes on one page, of however many groups", {
  skip_on_cran()
  skip_if(is.na(browser()), "no browser on this machine")
  set.seed(2)
  n <- 480
  ability <- rnorm(n)
  items <- read_sitting(demo_path())$items[1:12, ]
  answers <- vapply(1:12, function(j) ifelse(runif(n) < plogis(ability), "A", "B"), character(n))
  colnames(answers) <- items$item
  students <- data.frame(
    student = sprintf("s%03d", 1:n), teacher = sprintf("Teacher %02d", rep(1:60, each = 8)),
    school = sprintf("School %02d", rep(1:30, each = 16))
  )
  items$type <- "choice"
  items$key <- "A"
  quiz <- sitting(
    data.frame(student = students$student, answers),
    items[c("item", "type", "key", "standards")],
    students = students, standards = read_sitting(demo_path())$standards
  )
  path <- tempfile(fileext = ".html")
  write_report(quiz, path, audience = "head", by = c("school", "teacher"))
  text <- paste(readLines(path, warn = FALSE), collapse = "\n")
  # The highest and the lowest of each, and how many are not shown.
  expect_match(text, "24 more between or withheld", fixed = TRUE)
  expect_match(text, "54 more between or withheld", fixed = TRUE)
  best <- tapply(rowSums(answers == "A"), students$teacher, mean)
  for (one in names(best)[c(which.max(best), which.min(best))]) expect_match(text, one, fixed = TRUE)
  printed <- tempfile(fileext = ".pdf")
  internal("print_page")(readLines(path, warn = FALSE, encoding = "UTF-8"), printed)
  bytes <- readBin(printed, "raw", file.size(printed))
  bytes <- bytes[bytes != 0]
  pages <- gregexpr("/Type */Page[^s]", rawToChar(bytes), useBytes = TRUE)[[1]]
  expect_length(pages[pages > 0], 1)
})
