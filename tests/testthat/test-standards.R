test_that(
  paste0(
    "tags of the items are counted by the same code as standards, several of one item ",
    "in each"
  ),
  {
    quiz <- sitting(
      data.frame(
        student = c("a", "b", "c"),
        Q1 = c("A", "A", "B"),
        Q2 = c("A", "B", "B"),
        Q3 = c("A", "A", "A")
      ),
      data.frame(
        item = c("Q1", "Q2", "Q3"),
        key = "A",
        points = c(1, 2, 1),
        topic = c("moon; wind", "wind", NA)
      )
    )
    tags <- summarise_standards(quiz, tag = "topic")
    expect_equal(tags$code, c("moon", "wind"))
    expect_equal(tags$items, c(1, 2))
    expect_equal(tags$points, c(1, 3))
    expect_equal(tags$share, c(2 / 3, (1 + 1 / 3 + 0) / 3))
    by_student <- summarise_standards(quiz, by = "student", tag = "topic")
    expect_equal(by_student$earned[by_student$code == "wind"], c(3, 1, 0))
    types <- summarise_standards(read_sitting(demo_path()), tag = "type")
    expect_equal(sum(types$items), 24)
    expect_refused(
      summarise_standards(quiz, tag = "topik"),
      "call",
      "no tag \"topik\"",
      "Did you mean \"topic\"?"
    )
    expect_refused(summarise_standards(quiz, tag = "key"), "call", "Tags: type, topic")
    expect_output(print(tags), "^topic")
  }
)

test_that(
  paste0(
    "priority standards are marked, and the weakest of them is named beside the weakest ",
    "of all"
  ),
  {
    shown <- capture.output(print(summarise_standards(read_sitting(demo_path()))))
    expect_match(shown[3], "  TC.1.a !", fixed = TRUE)
    expect_match(
      paste(shown, collapse = " "),
      "Of the priority standards the weakest is TC.1.a",
      fixed = TRUE
    )
  }
)

test_that("counts per band are said, with the score that rounding lifts over the edge", {
  quiz <- random_sitting(
    n = 30,
    k = 10,
    settings = list(bands = list(C = 0, B = 0.5, A = 0.9), rounding = 0.01)
  )
  students <- summarise_students(quiz)
  shown <- paste(capture.output(print(students)), collapse = " ")
  counts <- table(factor(students$band, c("A", "B", "C")))
  expect_match(
    shown,
    sprintf("Bands: A %d, B %d and C %d.", counts[1], counts[2], counts[3]),
    fixed = TRUE
  )
  expect_match(shown, "89.5% counts as A", fixed = TRUE)
  edge <- internal("step_of")(c(0.895, 0.8949), quiz$settings$bands, 0.01)
  expect_equal(edge, c("A", "B"))
  plain <- random_sitting(n = 30, k = 10, settings = list(bands = list(C = 0, A = 0.9)))
  expect_no_match(
    paste(capture.output(print(summarise_students(plain))), collapse = " "),
    "rounded"
  )
})

# ---- trees, codes, cuts -------------------------------------------------------------

tree_quiz <- function(codes, standards, settings = list(), n = 30, ...) {
  set.seed(5)
  answers <- matrix(sample(c("A", "B"), n * length(codes), TRUE, c(6, 4)), n)
  colnames(answers) <- paste0("Q", seq_along(codes))
  sitting(
    data.frame(student = sprintf("s%02d", seq_len(n)), answers),
    data.frame(
      item = colnames(answers),
      key = "A",
      points = rep_len(c(1, 2), length(codes)),
      standards = codes
    ),
    standards = standards,
    settings = settings,
    ...
  )
}

test_that(
  paste0(
    "a standard's points are those of the union of its items and of its parts', at any ",
    "depth"
  ),
  {
    set.seed(8)
    for (round in 1:10) {
      code <- paste0("S", 1:12)
      parent <- c(
        NA,
        vapply(2:12, function(k) sample(c(NA, code[seq_len(k - 1)]), 1), "")
      )
      tags <- replicate(15, paste(sample(code, sample(0:3, 1)), collapse = ";"))
      quiz <- tree_quiz(ifelse(nzchar(tags), tags, NA), data.frame(code, parent))
      figures <- summarise_standards(quiz)
      below <- function(one) c(one, unlist(lapply(code[which(parent == one)], below)))
      own <- strsplit(tags, ";")
      for (one in code) {
        items <- which(vapply(own, function(tag) any(tag %in% below(one)), TRUE))
        row <- figures[figures$code == one, ]
        expect_equal(nrow(row), as.integer(length(items) > 0))
        if (!length(items)) next
        expect_equal(row$points, sum(quiz$items$points[items]))
        expect_setequal(strsplit(row$shown_by, ";")[[1]], quiz$items$item[items])
        earned <- summarise_students(narrow_sitting(quiz, standards = one))
        expect_equal(row$share, mean(earned$points / earned$open))
      }
      above <- match(parent[match(figures$code, code)], figures$code)
      # a parent stands before its parts
      expect_true(all(above < seq_along(above), na.rm = TRUE))
    }
  }
)

test_that(
  paste0(
    "codes that differ in case and dots alone are read as the one that is meant, and it ",
    "is said"
  ),
  {
    listed <- data.frame(
      code = c("TC.1", "TC.1.a", "TC.11", "TC.1.1"),
      parent = c(NA, "tc1", NA, "TC.1")
    )
    quiz <- tree_quiz(c("tc1a", "TC.1.A;TC.1.a", "TC11", "TC.1"), listed)
    expect_equal(quiz$items$standards[c(1, 2)], c("TC.1.a", "TC.1.a"))
    expect_equal(quiz$standards$parent[2], "TC.1")
    found <- check_sitting(quiz)
    expect_equal(found$finding[found$value %in% "tc1a"], "is read as TC.1.a")
    expect_equal(found$severity[found$value %in% "tc1a"], "note")
    expect_equal(quiz$items$standards[3], "TC11")
    expect_match(
      found$action[found$value %in% "TC11"],
      "could be TC.11 or TC.1.1",
      fixed = TRUE
    )
    coded <- choice_sitting(
      cbind(c("B", "A", "B")),
      options = data.frame(
        item = "Q1",
        option = c("A", "B"),
        misconception = c(NA, "moon.near")
      ),
      misconceptions = data.frame(code = "MOON.NEAR", description = "x")
    )
    expect_equal(summarise_misconceptions(coded)$code, "MOON.NEAR")
  }
)

test_that(
  "a standard can have cuts of its own, its parts have them too, the nearest counts",
  {
    listed <- data.frame(code = c("A", "A.1", "A.2", "B"), parent = c(NA, "A", "A", NA))
    quiz <- tree_quiz(
      rep(c("A.1", "A.2", "B"), each = 6),
      listed,
      settings = list(
        cuts = list(a = list(secure = 0.5, developing = 0.2), A.2 = list(deep = 0.75))
      )
    )
    by_student <- summarise_standards(quiz, by = "student")
    cuts <- list(
      A = c(0, 0.2, 0.5, 0.9),
      A.1 = c(0, 0.2, 0.5, 0.9),
      A.2 = c(0, 0.5, 0.7, 0.75),
      B = c(0, 0.5, 0.7, 0.9)
    )
    names <- names(quiz$settings$levels)
    for (code in names(cuts)) {
      rows <- by_student[by_student$code == code, ]
      level <- function(share) names[findInterval(share + 1e-9, cuts[[code]])]
      expect_equal(rows$level, level(rows$share), label = code)
      expect_equal(
        rows$unsure,
        level(rows$share_low) != level(rows$share_high),
        label = code
      )
      class <- summarise_standards(quiz)
      expect_equal(
        unlist(class[class$code == code, names]),
        c(table(factor(rows$level, names))) / nrow(rows)
      )
    }
    expect_output(
      print(summarise_standards(quiz)),
      "Cuts of its own: A, developing from 20%, secure from 50%; A.2, deep"
    )
    lost <- tree_quiz(
      "A",
      data.frame(code = "A"),
      settings = list(cuts = list(C = list(deep = 0.8)))
    )
    expect_match(
      check_sitting(lost)$finding,
      "its cuts are not used",
      fixed = TRUE,
      all = FALSE
    )
  }
)

test_that("levels and cuts that cannot be are refused with where and what to do", {
  refuse <- function(yaml, ...) {
    expect_refused(read_sitting(plain_folder(test.yml = yaml)), "input", "test.yml", ...)
  }
  refuse("levels: {low: 0, high: 0.7, mid: 0.5}", "rising from 0")
  refuse("levels: {low: 0, Low: 0.5}", "each step once")
  refuse("levels: {low: 0, low: 0.5}", "says \"low\" twice", "line 1: levels")
  refuse("levels: {low: 0.2, high: 0.5}", "rising from 0")
  refuse(c("title: x", "levels: {low: 0, high: 1.5}"), "line 2", "at most 1")
  refuse("cuts: {S: {secure: 0.95}}", "do not rise", "secure 0.95, deep 0.9")
  refuse("cuts: {S: {sekure: 0.8}}", "names no level", "Did you mean \"secure\"?")
  refuse("cuts: 0.8", "must name each standard once")
  refuse("bands: {C: 0, B: 0.5, A: 0.5}", "rising")
})

test_that(
  paste0(
    "no standards, all in one level, no section and hundreds of groups give a smaller ",
    "answer, not an error"
  ),
  {
    quiz <- choice_sitting(
      matrix("A", 30, 3),
      students = data.frame(student = sprintf("s%03d", 1:30))
    )
    expect_equal(nrow(summarise_standards(quiz)), 0)
    expect_equal(nrow(summarise_standards(quiz, by = "student")), 0)
    none <- summarise_standards(quiz, by = "section")
    expect_true(all(c("section", "share", "difference") %in% names(none)))
    folder <- plain_folder(students.csv = c("student,name", "a,A", "b,B", "c,C"))
    for (words in list(
      "standards",
      c("standards", "--by", "section"),
      c("standards", "--grid"),
      c("students", "--student", "a"),
      c("test", "--by", "section"),
      c("students", "--below", "deep")
    )) {
      expect_equal(
        run_here(words, folder)$status,
        0,
        label = paste(words, collapse = " ")
      )
    }
    expect_match(run_here("standards", folder)$err, "add a column standards to items.csv")
    test <- summarise_test(quiz)
    expect_equal(c(test$deep, test$emerging), c(1, 0))
    expect_equal(
      run_here("students", folder, "--below", "emerging")$out,
      "Nobody is below emerging."
    )
    big <- random_sitting(
      400,
      6,
      students = data.frame(student = sprintf("s%03d", 1:400), pet = rep(1:200, 2))
    )
    expect_equal(nrow(summarise_test(big, by = "pet")), 200)
    expect_refused(
      ggplot2::autoplot(summarise_test(big, by = "pet")),
      "call",
      "200 groups would be unreadable"
    )
    expect_match(
      run_here("test", demo_path(), "--by", "name")$err,
      "too few to say much of a group"
    )
  }
)

test_that(
  paste0(
    "the grid shows each student's share and level, only who is below, and sorts by any ",
    "column"
  ),
  {
    quiz <- read_sitting(demo_path())
    csv <- function(...) {
      text <- run_here("standards", demo_path(), "--grid", ..., "--format", "csv")$out
      utils::read.csv(text = text, check.names = FALSE)
    }
    long <- summarise_standards(quiz, by = "student")
    grid <- csv()
    expect_equal(nrow(grid), 80)
    at <- cbind(match(long$student, grid$student), match(long$code, names(grid)))
    expect_equal(
      mapply(function(row, column) grid[[column]][row], at[, 1], at[, 2]),
      long$share
    )
    low <- csv("--below", "developing", "--standard", "TC.2.b")
    few <- long[long$code == "TC.2.b" & long$level == "emerging", ]
    expect_setequal(low$student, few$student)
    expect_equal(names(low)[6], "TC.2.b")
    expect_false(is.unsorted(csv("--sort", "TC.1.a")$TC.1.a))
    shown <- run_here("standards", demo_path(), "--by", "student", "--sort=-TC.1.c")$out
    expect_match(shown[1], "^student +section +whole +TC.1 !")
    expect_match(shown[2], "\u25cf 100%", fixed = TRUE)
    many <- tree_quiz(paste0("S.", 1:40), NULL)
    view <- internal("view_standards")(many, by = "student", grid = TRUE)
    wide <- capture.output(print(view$rows))
    expect_lte(max(nchar(wide, "width")), 100)
    expect_match(paste(wide, collapse = " "), "of 40 standards fit here", fixed = TRUE)
  }
)

test_that("an opened standard shows its parts, its questions and their wrong answers", {
  shown <- run_here("standards", demo_path(), "--standard", "tc1")
  expect_match(shown$out, "^TC.1 ! ", all = FALSE)
  expect_no_match(shown$out, "TC.2", fixed = TRUE)
  quiz <- read_sitting(demo_path())
  evidence <- internal("evidence_for")(quiz, "TC.1.b")
  items <- summarise_items(quiz)
  expect_equal(evidence$difficulty, items$difficulty[match(evidence$item, items$item)])
  expect_false(is.unsorted(evidence$difficulty))
  q3 <- summarise_options(quiz)
  q3 <- q3[q3$item == "Q3" & !q3$key, ]
  expect_equal(evidence$wrong[evidence$item == "Q3"], q3$option[which.max(q3$count)])
  wrong <- run_here("standards", demo_path(), "--standard", "TC.9")
  expect_equal(wrong$status, 2)
  tagged <- run_here(
    "standards",
    demo_path(),
    "--tag",
    "thinking",
    "--standard",
    "recall"
  )
  expect_match(tagged$out, "^What shows recall", all = FALSE)
})

test_that(
  "a student's page says where they stand, and shows the answers that are asked for",
  {
    page <- function(...) run_here("students", demo_path(), "--student", "h011", ...)$out
    students <- summarise_students(read_sitting(demo_path()))
    own <- students$share[students$student == "h011"]
    expect_match(
      page(),
      sprintf(
        "%d scored less and %d more",
        sum(students$share < own - 1e-9, na.rm = TRUE),
        sum(students$share > own + 1e-9, na.rm = TRUE)
      ),
      all = FALSE
    )
    right <- sum(grepl("^\u2713", page("--answers", "right")))
    wrong <- sum(grepl("^   Q[0-9]+ ", page("--answers", "wrong")))
    expect_equal(c(right, wrong), c(7, 17))
    expect_equal(sum(grepl("Q24", page("--answers", "none"))), 0)
    expect_match(page("--answers", "none"), "^Seen once: SEASON", all = FALSE)
    expect_equal(
      run_here("students", demo_path(), "--student", "h011", "--answers", "most")$status,
      2
    )
  }
)

test_that("a student's score is of as many trials as its items are worth, not its points", {
  students <- sprintf("s%02d", 1:40)
  set.seed(40)
  marks <- function(most, parts) most * rbinom(40, parts, 0.6) / parts
  most <- c(1, 1, 1, 10, 10, 25, 3)
  parts <- c(1, 1, 1, 1, 1, 1, 3)
  points <- as.data.frame(Map(marks, most, parts), col.names = paste0("Q", 1:7))
  points[1, "Q6"] <- "(not given)"
  quiz <- sitting(
    data.frame(student = students, points),
    data.frame(
      item = paste0("Q", 1:7),
      type = "mark",
      points = most,
      standards = c("S", "S", "S", "T", "T", "T", "U")
    )
  )
  trials <- internal("trials_of_items")(quiz, list(1:3, 4:6, 7))
  expect_equal(trials[, 1], rep(3, 40))
  expect_equal(trials[2, 2], (10 + 10 + 25)^2 / (10^2 + 10^2 + 25^2))
  expect_equal(trials[1, 2], 20^2 / 200)
  # An item in parts wavers less than one that is earned or not.
  share <- as.numeric(points$Q7) / 3
  waver <- (mean(share^2) - mean(share)^2) / (mean(share) * (1 - mean(share)))
  expect_equal(trials[5, 3], 1 / waver)
  scores <- summarise_standards(quiz, by = "student")
  mine <- scores[scores$student == "s02" & scores$code == "T", ]
  shape <- mine$share * trials[2, 2] + 0.5
  other <- (1 - mine$share) * trials[2, 2] + 0.5
  expect_equal(mine$share_low, stats::qbeta(0.025, shape, other))
  expect_equal(mine$share_high, stats::qbeta(0.975, shape, other))
  # Four items of 10 points hold the true share as often as four of one point.
  true <- runif(20000)
  earned <- rbinom(20000, 4, true) / 4
  around <- internal("jeffreys_interval")(earned, 40^2 / 400)
  expect_gt(mean(around$low <= true & true <= around$high), 0.93)
})

test_that("levels that no number of points falls into are named", {
  quiz <- choice_sitting(
    matrix(c("A", "B", "A", "A", "B"), 10, 5),
    settings = list(levels = list(red = 0, amber = 0.45, green = 0.6))
  )
  quiz$items$standards <- "S"
  quiz$standards <- data.frame(code = "S", parent = NA, title = NA, emphasis = NA)
  table <- summarise_standards(quiz)
  expect_equal(table$out_of_reach, "amber")
  expect_output(print(table), "Nobody could be amber on S")
  expect_true(is.na(summarise_standards(read_sitting(demo_path()))$out_of_reach[1]))
})
