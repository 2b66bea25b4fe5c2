test_that("a blank is omitted before the last answer, not reached after it", {
  quiz <- choice_sitting(
    rbind(c("A", NA, "A", NA), c(NA, "A", "", "  "), c(NA, NA, NA, NA))
  )
  items <- summarise_items(quiz)
  expect_equal(items$omitted, c(1, 1, 0, 0))
  expect_equal(items$not_reached, c(0, 0, 1, 2))
  students <- summarise_students(quiz)
  expect_equal(students$omitted, c(1, 1, NA))
  expect_equal(students$status, c("sat", "sat", "absent"))
  expect_equal(summarise_test(quiz)$n, 2)
  expect_equal(summarise_test(quiz)$absent, 1)
})

test_that("blanks earn nothing, or do not count at all, as the setting says", {
  answers <- rbind(c("A", NA, "A"), c("A", "A", "B"), c("B", "A", "A"))
  zero <- summarise_students(choice_sitting(answers))
  missing <- summarise_students(
    choice_sitting(answers, settings = list(blanks = "missing"))
  )
  expect_equal(zero$share, c(2, 2, 2) / 3)
  expect_equal(missing$share, c(1, 2 / 3, 2 / 3))
  expect_equal(
    summarise_items(choice_sitting(answers, settings = list(blanks = "missing")))$n,
    c(3, 2, 3)
  )
})

test_that("an item not given or excused is out for that student alone", {
  quiz <- choice_sitting(
    rbind(c("A", "(not given)"), c("A", "B"), c("(excused)", "A"), c("B", "(pending)"))
  )
  expect_equal(summarise_students(quiz)$open, c(1, 2, 1, 1))
  expect_equal(summarise_items(quiz)$n, c(3, 2))
  expect_equal(summarise_students(quiz)$status[4], "waiting")
})

test_that("long and wide responses are the same sitting", {
  wide <- random_sitting(n = 20, k = 5)
  answers <- internal("shown_cells")(wide)
  long <- data.frame(
    student = rep(wide$students$student, ncol(answers)),
    item = rep(colnames(answers), each = nrow(answers)),
    response = ifelse(answers == "(blank)", "", answers) |> as.vector()
  )
  items <- wide$items[c("item", "type", "key")]
  same <- sitting(long[order(runif(nrow(long))), ], items)
  expect_equal(summarise_items(same)[, 1:12], summarise_items(wide)[, 1:12])
  fewer <- long[nzchar(long$response), ]
  expect_equal(summarise_test(sitting(fewer, items)), summarise_test(wide))
  formed <- sitting(fewer, items, settings = list(missing_rows = "not given"))
  expect_equal(summarise_items(formed)$omitted, rep(0, 5))
  expect_lt(sum(summarise_students(formed)$open), sum(summarise_students(wide)$open))
})

test_that("a long file says what it holds twice, or of no item", {
  long <- data.frame(
    student = c("a", "a", "a", "b"),
    item = c("Q1", "Q1", "QX", "Q1"),
    response = c("A", "B", "A", "A")
  )
  findings <- check_sitting(sitting(long, data.frame(item = "Q1", key = "A")))
  expect_match(findings$finding, "stands twice", all = FALSE)
  expect_match(findings$finding, "is not an item of the test", all = FALSE)
})

test_that("rows that complete each other are one; rows that contradict are attempts", {
  responses <- data.frame(
    student = c("a", "b", "a", "b"),
    Q1 = c("A", "A", "", "B"),
    Q2 = c("", "B", "A", "B")
  )
  items <- data.frame(item = c("Q1", "Q2"), key = c("A", "A"))
  expect_equal(summarise_students(sitting(responses, items))$points, c(2, 1))
  expect_equal(
    summarise_students(
      sitting(responses, items, settings = list(attempts = "last"))
    )$points,
    c(2, 0)
  )
  findings <- check_sitting(sitting(responses, items))
  expect_match(findings$finding, "complete each other", all = FALSE)
  expect_match(findings$finding, "with different answers", all = FALSE)
})

test_that(
  "of several attempts the best, the first or the last counts, in order of their numbers",
  {
    responses <- data.frame(
      student = "a",
      attempt = c("10", "2", "9"),
      Q1 = c("B", "A", "A"),
      Q2 = c("B", "B", "A")
    )
    items <- data.frame(item = c("Q1", "Q2"), key = c("A", "A"))
    points <- function(attempts) {
      summarise_students(
        sitting(responses, items, settings = list(attempts = attempts))
      )$points
    }
    expect_equal(points("best"), 2)
    expect_equal(points("first"), 1)
    expect_equal(points("last"), 0)
  }
)

test_that("trial runs are left out by id or pattern, and it is said", {
  quiz <- choice_sitting(
    matrix("A", 4, 2),
    settings = list(exclude = c("s00[12]", "s001", "nobody"))
  )
  expect_equal(nrow(quiz$students), 3)
  findings <- check_sitting(quiz)
  expect_equal(findings$severity[findings$value %in% "nobody"], "warning")
  expect_refused(
    choice_sitting(matrix("A", 2, 2), settings = list(exclude = "*")),
    "input",
    "leaves out every student"
  )
})

test_that(
  "who is listed without a row is absent, who has a row without being listed is found",
  {
    students <- data.frame(
      student = c("s002", "s009"),
      name = c("Bo", "Cy"),
      section = "1"
    )
    quiz <- choice_sitting(matrix("A", 2, 2), students = students)
    people <- summarise_students(quiz)
    expect_equal(people$student, c("s001", "s002", "s009"))
    expect_equal(people$status, c("sat", "sat", "absent"))
    expect_match(
      subset(check_sitting(quiz), severity == "warning")$finding,
      "not in the list"
    )
  }
)

test_that("answers that are no option, and keys that are none, are found", {
  offered <- data.frame(item = "Q1", option = c("A", "B"))
  quiz <- choice_sitting(matrix(c("A", "X", "B", "X"), 4), options = offered)
  finding <- check_sitting(quiz)
  expect_equal(
    finding[c("line", "column", "value")],
    data.frame(line = 2L, column = "Q1", value = "X"),
    ignore_attr = TRUE
  )
  expect_match(finding$finding, "2 times")
  expect_equal(
    subset(
      check_sitting(choice_sitting(matrix("A", 2, 1), key = "C", options = offered)),
      column == "key"
    )$severity,
    "error"
  )
})

test_that(
  "a table that lacks what it needs, or has a thing twice, is refused with its place",
  {
    one <- data.frame(student = "a", Q1 = "A")
    expect_refused(
      sitting(data.frame(id = "a", Q1 = "A"), data.frame(item = "Q1", key = "A")),
      "input",
      "no column \"student\"",
      "id, Q1"
    )
    expect_refused(
      sitting(one, data.frame(item = c("Q1", NA), key = "A")),
      "input",
      "has no item"
    )
    expect_refused(
      sitting(one, data.frame(item = "Q1", type = "chioce", key = "A")),
      "input",
      "chioce",
      "Did you mean \"choice\"?"
    )
    expect_refused(
      sitting(one, data.frame(item = "Q1", key = "A", points = "one")),
      "input",
      "points",
      "\"one\""
    )
    expect_refused(
      sitting(one, data.frame(item = "Q1", type = "text", key = "A", scoring = "each")),
      "input",
      "Possible here: all"
    )
    expect_refused(
      sitting(one, data.frame(item = "Q7", key = "A")),
      "input",
      "No column of the responses",
      "Q7"
    )
    expect_refused(
      sitting(data.frame(student = NA, Q1 = "A"), data.frame(item = "Q1", key = "A")),
      "input",
      "has no student"
    )
    expect_refused(
      sitting(one[0, ], data.frame(item = "Q1", key = "A")),
      "input",
      "holds no responses"
    )
  }
)

test_that("settings that are not known or not possible are refused with the nearest", {
  set <- function(...) choice_sitting(matrix("A", 2, 2), settings = list(...))
  expect_refused(set(levls = 1), "input", "Did you mean \"levels\"?")
  expect_refused(set(blanks = "missin"), "input", "Did you mean \"missing\"?")
  expect_refused(set(levels = list(low = 0.2, high = 0.1)), "input", "rising from 0")
  expect_refused(set(rounding = -1), "input", "a number from 0")
  expect_refused(set(thresholds = list(hrad = 1)), "input", "Did you mean \"hard\"?")
  expect_equal(
    set(levels = c(low = 0, high = 0.5))$settings$levels,
    list(low = 0, high = 0.5)
  )
})

test_that(
  paste0(
    "time is summed over a student's answers and averaged where it is known, group by ",
    "group"
  ),
  {
    long <- data.frame(
      student = c("a", "a", "b", "b", "c"),
      item = c("Q1", "Q2", "Q1", "Q2", "Q1"),
      response = "A",
      seconds = c("30", "12,5", "60", "", "")
    )
    students <- data.frame(student = c("a", "b", "c"), section = c("x", "y", "y"))
    quiz <- sitting(
      long,
      data.frame(item = c("Q1", "Q2"), key = "A"),
      students = students
    )
    expect_equal(summarise_test(quiz)$mean_seconds, (42.5 + 60) / 2)
    expect_equal(summarise_test(quiz, by = "section")$mean_seconds, c(42.5, 60))
    wide <- data.frame(student = c("a", "b"), seconds = c(100, NA), Q1 = "A", Q2 = "B")
    expect_equal(
      summarise_test(sitting(wide, data.frame(item = c("Q1", "Q2"), key = "A")))$mean_seconds,
      100
    )
    expect_output(print(summarise_test(quiz)), "mean time +51 s")
  }
)

test_that("grade bands are the school's own, beside the levels", {
  quiz <- choice_sitting(
    rbind(c("A", "A"), c("A", "B"), c(NA, NA)),
    settings = list(bands = list(F = 0, C = 0.5, A = 0.9))
  )
  expect_equal(summarise_students(quiz)$band, c("A", "C", NA))
  expect_null(summarise_students(choice_sitting(matrix("A", 2, 2)))$band)
  expect_equal(
    choice_sitting(matrix("A", 2, 2), settings = list("mastery cut" = 0.8))$settings$mastery_cut,
    0.8
  )
})

test_that("the sentence on rounding says from where a score counts as the top", {
  for (step in c(0.1, 0.05, 0.02)) {
    for (cut in c(0.85, 0.9, 0.83)) {
      quiz <- choice_sitting(
        matrix("A", 4, 5),
        settings = list(rounding = step, bands = list(B = 0, A = cut))
      )
      said <- paste(internal("say_bands")(summarise_students(quiz)), collapse = " ")
      edge <- as.numeric(sub(".*comparing|.*compared: ([0-9.]+)% counts as A.*", "\\1", said)) / 100
      band <- internal("step_of")
      expect_equal(band(edge, list(B = 0, A = cut), step), "A", label = said)
      expect_equal(band(edge - 0.002, list(B = 0, A = cut), step), "B", label = said)
    }
  }
})
