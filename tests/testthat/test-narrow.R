# The same figures for a part of the students or of the questions.

test_that("figures of a narrowed sitting are those of its group in the whole", {
  quiz <- read_sitting(demo_path()) |>
    adjust("points", student = "h003", item = "Q23", value = 2) |>
    adjust("extra", student = "h030", value = 1) |>
    adjust("drop", item = "Q11")
  part <- narrow_sitting(quiz, section = "Harbour B")
  summaries <- list(
    summarise_test = summarise_test,
    summarise_items = summarise_items,
    summarise_options = summarise_options,
    summarise_standards = summarise_standards,
    summarise_misconceptions = summarise_misconceptions,
    summarise_parts = summarise_parts,
    summarise_decisions = summarise_decisions
  )
  for (name in names(summaries)) {
    whole <- as.data.frame(summaries[[name]](quiz, by = "section"))
    whole <- whole[whole$section == "Harbour B", ]
    own <- as.data.frame(summaries[[name]](part))
    # the order of items is the whole's
    shared <- setdiff(intersect(names(whole), names(own)), c("shown_by", "out_of_reach"))
    # Who likely holds an idea is told by how often those choose it who are left.
    by_rates <- c("likely", "now_and_then", "share", "share_low", "share_high")
    if (name == "summarise_misconceptions") shared <- setdiff(shared, by_rates)
    if (name == "summarise_options") { # with answers that nobody there gave
      id <- function(table) paste(table$item, table$option)
      whole <- whole[match(id(own), id(whole)), ]
    }
    expect_equal(
      own[shared],
      whole[shared],
      ignore_attr = TRUE,
      label = name,
      tolerance = 1e-12
    )
  }
  everyone <- summarise_students(quiz)
  expect_equal(
    as.data.frame(summarise_students(part)),
    as.data.frame(everyone[everyone$section == "Harbour B", ]),
    ignore_attr = TRUE
  )
  expect_equal(part$adjustments$action, c("extra", "drop"))
  moved <- what_if(part, key = c(Q7 = "C"))
  expect_equal(attr(moved, "n"), summarise_test(part)$n)
})

test_that(
  paste0(
    "kinds of questions share out the points, and a standard's test is the standard's ",
    "score"
  ),
  {
    quiz <- read_sitting(demo_path())
    choice <- summarise_students(narrow_sitting(quiz, type = "choice"))
    types <- setdiff(unique(quiz$items$type), "choice")
    others <- summarise_students(narrow_sitting(quiz, type = types))
    expect_equal(choice$points + others$points, summarise_students(quiz)$points)
    expect_equal(choice$status, quiz$students$status)
    first <- narrow_sitting(quiz, standards = "TC.1")
    standards <- summarise_standards(quiz)
    expect_equal(nrow(first$items), standards$items[standards$code == "TC.1"])
    expect_equal(
      summarise_test(first)$mean_share,
      standards$share[standards$code == "TC.1"]
    )
    both <- narrow_sitting(
      quiz,
      thinking = "recall",
      section = "Harbour A",
      boat = "rows"
    )
    expect_setequal(unique(both$items$thinking), "recall")
    expect_setequal(unique(both$students$boat), "rows")
    again <- narrow_sitting(
      narrow_sitting(quiz, section = "Harbour A"),
      thinking = "recall",
      boat = "rows"
    )
    expect_equal(summarise_test(again), summarise_test(both), ignore_attr = TRUE)
    expect_equal(narrow_sitting(quiz)$codes, quiz$codes)
  }
)

test_that(
  "times, attempts, reasons and comments go along with their students and questions",
  {
    quiz <- read_sitting(demo_path("follow-up"))
    part <- narrow_sitting(quiz, section = "Harbour B", item = c("F1", "F3"))
    ids <- part$students$student
    expect_setequal(unique(part$students$section), "Harbour B")
    attempts <- summarise_attempts(narrow_sitting(quiz, section = "Harbour B"))
    whole <- summarise_attempts(quiz)
    expect_equal(
      as.data.frame(attempts),
      as.data.frame(whole[whole$student %in% ids, ]),
      ignore_attr = TRUE
    )
    said <- summarise_explanations(quiz)
    said <- said[said$student %in% ids & said$item %in% c("F1", "F3"), ]
    expect_gt(nrow(said), 0)
    own <- summarise_explanations(part)
    expect_equal(sort(own$explanation), sort(said$explanation))
    time <- summarise_time(quiz)
    expect_equal(
      summarise_time(narrow_sitting(quiz, item = "F3"))$median_seconds,
      time$median_seconds[time$item == "F3"]
    )
    expect_match(
      run_here(
        "students",
        demo_path("follow-up"),
        "--student",
        "h011",
        "--answers",
        "none"
      )$out,
      "2: 78%, 7 of 9 points, handed in 2026-10-05 10:12:39, counts",
      fixed = TRUE,
      all = FALSE
    )
  }
)

test_that("bounds hold together, a day alone is the whole day", {
  quiz <- sitting(
    data.frame(
      student = letters[1:5],
      Q1 = "A",
      submitted = c(
        "2026-10-05 09:00", "2026-10-05 23:10", "2026-10-06 08:00", "2026-10-07 12:00", NA
      ),
      seconds = c(50, 90, 60, 30, 20)
    ),
    data.frame(item = "Q1", key = "A")
  )
  left <- function(...) narrow_sitting(quiz, ...)$students$student
  expect_equal(left(submitted = "2026-10-05"), c("a", "b"))
  expect_equal(left(submitted = "<= 2026-10-05"), c("a", "b"))
  expect_equal(left(submitted = "> 2026-10-05"), c("c", "d"))
  expect_equal(left(submitted = c(">= 2026-10-05 12:00", "< 2026-10-07")), c("b", "c"))
  expect_equal(left(seconds = ">= 60"), c("b", "c"))
  expect_equal(left(student = c("a", "e")), c("a", "e"))
  expect_refused(
    left(student = "a", seconds = "> 60"),
    "call",
    "No student meets all the conditions"
  )
})

test_that(
  "--only is on every verb that shows figures, may be said again, and says what is left",
  {
    verbs <- internal("command_verbs")()
    with <- names(Filter(function(verb) "only" %in% verb$takes, verbs))
    expect_setequal(
      setdiff(names(verbs), with),
      c(
        "demo", "new", "add", "form", "check", "mark", "adjust", "explain", "completion",
        "desk", "roster", "watch", "receive"
      )
    )
    call <- run_here(
      "test",
      demo_path(),
      "--only",
      "section=Harbour A,Harbour B",
      "--only",
      "thinking=recall",
      "--format",
      "json"
    )
    row <- jsonlite::fromJSON(paste(call$out, collapse = "\n"))
    quiz <- narrow_sitting(
      read_sitting(demo_path()),
      section = paste("Harbour", c("A", "B")),
      thinking = "recall"
    )
    expect_equal(row$mean, summarise_test(quiz)$mean)
    expect_match(
      call$err,
      "Only section Harbour A or Harbour B, thinking recall: 56 of 84 students",
      fixed = TRUE
    )
    path <- tempfile(fileext = ".html")
    expect_equal(
      run_here("report", demo_path(), "--only", "section=Harbour C", "--out", path)$status,
      0
    )
    page <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
    expect_match(page, "only section Harbour C", fixed = TRUE)
    expect_no_match(page, "Kofi Reefknot", fixed = TRUE) # of Harbour A
    wrong <- list(
      "section" = "--only needs a column and a value",
      "section=Harbor A" = "Did you mean \"Harbour A\"?",
      "secton=x" = "Did you mean \"section\"?",
      "type=chioce" = "Did you mean \"choice\"?"
    )
    for (said in names(wrong)) {
      refused <- run_here("test", demo_path(), "--only", said)
      expect_equal(refused$status, 2, label = said)
      expect_match(gsub("\\s+", " ", refused$err), wrong[[said]], fixed = TRUE)
    }
  }
)
