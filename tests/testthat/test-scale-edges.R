# The edges of what rests on the model: each a figure, or NA with its reason, never a crash.

edge_points <- function(n = 40, k = 6) {
  set.seed(n + k)
  x <- (matrix(stats::runif(n * k), n) <
    stats::plogis(outer(stats::rnorm(n), seq(-1, 1, length.out = k), `-`))) + 0
  colnames(x) <- paste0("Q", seq_len(k))
  x
}

edge_sitting <- function(x, points = 1, settings = list(), ...) {
  students <- sprintf("s%03d", seq_len(nrow(x)))
  sitting(
    data.frame(student = students, x),
    data.frame(
      item = colnames(x), type = "mark", points = points,
      standards = rep_len(c("A", "B"), ncol(x)), prompt = paste("What is", colnames(x))
    ),
    students = data.frame(student = students, section = rep_len(letters[1:6], nrow(x))),
    settings = c(list(date = "2026-09-01"), settings), ...
  )
}

edges <- local({
  x <- edge_points()
  right <- x
  right[, 2] <- 1
  right[, 3] <- 0
  words <- x
  words[] <- as.character(x)
  excused <- words
  excused[1:20, 4] <- "(excused)"
  apart <- words
  apart[1:20, 1:3] <- "(not given)"
  apart[21:40, 4:6] <- "(not given)"
  gap <- x
  gap[, 1] <- c(0, 3)[x[, 1] + 1]
  tries <- data.frame(
    student = rep(sprintf("s%03d", 1:40), 2), attempt = rep(1:2, each = 40),
    rbind(x, edge_points(40, 6)[, 6:1])
  )
  names(tries)[-(1:2)] <- colnames(x)
  list(
    `three students` = edge_sitting(x[1:3, ]),
    `one question` = edge_sitting(x[, 1, drop = FALSE]),
    `two questions` = edge_sitting(x[, 1:2]),
    `all right, none right` = edge_sitting(right),
    `everybody the same` = edge_sitting(x * 0 + 1),
    `nobody sat it` = edge_sitting(replace(words, TRUE, "")),
    `excused` = edge_sitting(excused),
    `forms that share nothing` = edge_sitting(apart),
    `a number of points never given` = edge_sitting(gap, c(3, rep(1, 5))),
    `points below nothing` = edge_sitting(x * 2 - 1),
    `means of attempts` = sitting(
      tries, data.frame(item = colnames(x), type = "mark", points = 1, standards = "A"),
      settings = list(attempts = "mean", date = "2026-09-01")
    ),
    `marks that wait` = sitting(
      data.frame(student = letters[1:20], Q1 = "because", Q2 = rep(0:1, 10)),
      data.frame(item = c("Q1", "Q2"), type = c("open", "mark"), points = 1),
      settings = list(date = "2026-09-01")
    ),
    `as it should be` = edge_sitting(x)
  )
})

views <- list(
  scale = function(quiz) summarise_scale(quiz),
  slopes = function(quiz) summarise_scale(quiz, slopes = TRUE, least = 20),
  places = function(quiz) summarise_places(quiz),
  own_places = function(quiz) summarise_places(quiz, slopes = TRUE, least = 20),
  information = function(quiz) summarise_information(quiz),
  curve = function(quiz) summarise_information(quiz, slopes = TRUE, least = 20),
  patterns = function(quiz) summarise_patterns(quiz),
  alike = function(quiz) summarise_alike(quiz),
  cuts = function(quiz) summarise_cuts(quiz, cut = 0.5),
  helped = function(quiz) summarise_standards(quiz, "student", helped = TRUE),
  sections = function(quiz) summarise_standards(quiz, "section", helped = TRUE),
  change = function(quiz) compare_sittings(quiz, quiz),
  change_of_students = function(quiz) compare_sittings(quiz, quiz, "student"),
  change_of_items = function(quiz) compare_sittings(quiz, quiz, "item")
)

test_that("whatever the test is like, what cannot be estimated is NA and says why", {
  for (edge in names(edges)) {
    quiz <- edges[[edge]]
    if (is.null(quiz$students$section)) next
    for (view in names(views)) {
      label <- paste(edge, view)
      found <- tryCatch(views[[view]](quiz), pregunta_error = function(e) NULL)
      if (is.null(found)) {
        expect_true(edge %in% c("nobody sat it", "marks that wait"), label = label)
        next
      }
      table <- as.data.frame(found)
      numbers <- unlist(table[vapply(table, is.numeric, TRUE)])
      expect_false(any(is.nan(numbers) | is.infinite(numbers)), label = label)
      for (figure in intersect(c("place", "cut", "linked_share"), names(table))) {
        if (is.null(table$reason)) next
        expect_true(all(!is.na(table$reason[is.na(table[[figure]])])), label = label)
      }
      said <- paste(capture.output(print(found)), collapse = " ")
      expect_no_match(said, "NaN|Inf\\b", label = label)
    }
  }
})

test_that("a record of such tests grows without a crash", {
  record <- open_record(tempfile(fileext = ".sqlite"))
  on.exit(close_record(record))
  dated <- edges[c("as it should be", "all right, none right", "three students", "excused")]
  for (k in seq_along(dated)) {
    quiz <- dated[[k]]
    quiz$settings$date <- sprintf("2026-10-%02d", k)
    add_sitting(record, quiz, names(dated)[k])
  }
  for (by in list(NULL, "section", "student")) {
    table <- as.data.frame(growth(record, by, skills = "all"))
    known <- table$linked %in% TRUE
    expect_true(all(!is.na(table$linked_share[known])))
    expect_true(all(!is.na(table$reason[!known])))
    # The same questions again: what was earned is what is earned there.
    again <- known & table$window != "as it should be" & !is.na(table$share)
    expect_true(any(again))
  }
  expect_s3_class(item_drift(record), "pregunta_drift")
})

test_that("where nothing can be said that is said, whoever sat it", {
  said_of <- function(view) paste(capture.output(print(view)), collapse = " ")
  for (edge in c("three students", "nobody sat it")) {
    quiz <- edges[[edge]]
    expect_match(said_of(summarise_information(quiz)), "Too few students")
    expect_match(said_of(summarise_alike(quiz)), "Fewer than 50 students")
    expect_match(said_of(summarise_patterns(quiz)), "Fewer than 50 students")
    record <- open_record(tempfile(fileext = ".sqlite"))
    add_sitting(record, quiz, "once")
    expect_match(said_of(item_drift(record)), "No question was asked again")
    expect_equal(nrow(growth(record, NULL)), if (edge == "nobody sat it") 0 else 3)
    close_record(record)
  }
  expect_no_match(said_of(summarise_cuts(edges[["nobody sat it"]], cut = 0.5)), "would pass")
  # All of a large class right: the students are no reason.
  right <- edge_sitting(edge_points(60, 24) * 0 + 1)
  expect_match(said_of(summarise_patterns(right)), "Fewer than 20 questions")
  expect_equal(attr(summarise_alike(right), "reason"), "few_items")
})

test_that("the same students four times over are in the same places, twice as sure", {
  x <- edge_points(3000, 12)
  whole <- edge_sitting(x[rep(1:3000, 4), ])
  once <- edge_sitting(x)
  expect_equal(
    summarise_scale(whole)$place, summarise_scale(once)$place, tolerance = 1e-6
  )
  expect_equal(
    summarise_scale(whole)$se, summarise_scale(once)$se / 2, tolerance = 1e-6
  )
})
