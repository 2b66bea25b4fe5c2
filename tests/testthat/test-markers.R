# Two markers and more of the same answers.

# Shrout & Fleiss 1979, table 2: six targets, four judges.
printed <- matrix(
  c(9, 2, 5, 8, 6, 1, 3, 2, 8, 4, 6, 8, 7, 1, 2, 6, 10, 5, 6, 9, 6, 2, 4, 7),
  6,
  byrow = TRUE
)

long_marks <- function(ratings, item = "essay", who = paste0("J", seq_len(ncol(ratings)))) {
  data.frame(
    student = rep(letters[seq_len(nrow(ratings))], each = ncol(ratings)),
    item = item, marker = rep(who, nrow(ratings)), points = as.vector(t(ratings))
  )
}

marked <- function(marks, points = 10, ...) {
  items <- data.frame(item = unique(marks$item), type = "mark", points = points)
  sitting(marks, items, ...)
}

test_that("correlations are those printed in Shrout & Fleiss, and their 95% interval", {
  quiz <- marked(long_marks(printed))
  found <- summarise_markers(quiz)
  expect_equal(round(found$icc, 2), 0.29)
  expect_equal(round(found$icc_mean, 2), 0.62)
  # McGraw & Wong's limits of the same table.
  expect_equal(round(c(found$icc_low, found$icc_high), 3), c(0.019, 0.761))
  number <- summarise_markers(quiz, "number")
  # ICC(3,1) and ICC(2,1) of the same data.
  expect_equal(round(number$relative[1], 2), 0.71)
  expect_equal(number$absolute[1], found$icc)
})

test_that("weighted kappa is Cohen's from the table of counts", {
  set.seed(1)
  a <- sample(0:4, 20, TRUE)
  b <- pmin(4, pmax(0, a + sample(-1:1, 20, TRUE)))
  found <- summarise_markers(marked(long_marks(cbind(a, b)), 4))
  counts <- table(factor(a, 0:4), factor(b, 0:4)) / 20
  weight <- outer(0:4, 0:4, `-`)^2
  chance <- outer(rowSums(counts), colSums(counts))
  expect_equal(found$kappa, 1 - sum(weight * counts) / sum(weight * chance))
  expect_equal(found$equal, mean(a == b))
  expect_equal(found$adjacent, 1)
  expect_true(found$kappa_low < found$kappa && found$kappa < found$kappa_high)
  # Quadratic weights: near the correlation for agreement.
  expect_lt(abs(found$kappa - found$icc), 0.02)
})

test_that("variance components are those of R's own analysis of variance", {
  set.seed(2)
  students <- 12
  x <- expand.grid(student = letters[1:students], item = c("I1", "I2", "I3"),
    marker = c("Ames", "Bell"), stringsAsFactors = FALSE)
  own <- stats::rnorm(students)[match(x$student, letters)]
  x$points <- round(4 + own + stats::rnorm(nrow(x)) + (x$marker == "Ames"))
  quiz <- marked(x[c("student", "item", "marker", "points")])
  number <- summarise_markers(quiz, "number")
  parts <- attr(number, "components")
  fit <- stats::aov(points ~ student * item * marker, x)
  squares <- summary(fit)[[1]][["Mean Sq"]]
  names(squares) <- c("s", "i", "m", "si", "sm", "im", "rest")
  expect_equal(
    parts[["student"]],
    max(0, (squares[["s"]] - squares[["si"]] - squares[["sm"]] + squares[["rest"]]) / 6)
  )
  expect_equal(parts[["rest"]], squares[["rest"]])
  expect_equal(
    parts[["student:marker"]], max(0, (squares[["sm"]] - squares[["rest"]]) / 3)
  )
  expect_true(all(diff(number$relative) > 0) && all(number$absolute <= number$relative))
})

test_that("a second marker is no second attempt, and the mark that counts is by rule", {
  marks <- long_marks(matrix(c(4, 2, 3, 3, 1, 0), 3, byrow = TRUE), who = c("Bell", "Ames"))
  rules <- list(
    mean = c(3, 3, 0.5), first = c(4, 3, 1), last = c(2, 3, 0), lowest = c(2, 3, 0),
    highest = c(4, 3, 1)
  )
  for (rule in names(rules)) {
    quiz <- marked(marks, 4, settings = list(markers = rule))
    expect_equal(summarise_students(quiz)$points, rules[[rule]])
    expect_equal(nrow(check_sitting(quiz)), 0)
    expect_equal(unique(summarise_attempts(quiz)$attempt), 1)
  }
  # With attempts beside: each attempt its own marks.
  again <- rbind(cbind(marks, attempt = 1), cbind(marks, attempt = 2))
  again$points[again$attempt == 2 & again$student == "c"] <- 4
  quiz <- marked(again, 4)
  expect_equal(summarise_students(quiz)$points, c(3, 3, 4))
  expect_equal(summarise_markers(quiz)$n, 6)
})

test_that("who is stricter and what lies apart is told, and nothing of a handful", {
  set.seed(3)
  truth <- sample(2:8, 26, TRUE)
  ratings <- cbind(truth, pmax(0, truth - 1 - (stats::runif(26) < 0.5)))
  ratings[1, 2] <- ratings[1, 1] - 4
  ratings <- pmax(ratings, 0)
  quiz <- marked(long_marks(ratings, who = c("Bell", "Ames")))
  by <- summarise_markers(quiz, "marker")
  expect_equal(by$stricter, c(1, -1) * mean(ratings[, 1] - ratings[, 2]))
  expect_match(
    paste(say_markers(quiz), collapse = " "), "Ames is stricter than the other by 1\\.[0-9]"
  )
  apart <- summarise_markers(quiz, "answer")
  expect_equal(apart$student[1], "a")
  expect_true(all(apart$apart > 1))
  expect_true(all(diff(apart$apart) <= 0))
  few <- marked(long_marks(ratings[1:4, ]))
  expect_equal(summarise_markers(few)$reason, "few_students")
  expect_true(is.na(summarise_markers(few)$kappa))
  expect_false(any(grepl("stricter", say_markers(few))))
  none <- marked(data.frame(student = "a", item = "x", points = 1), 2)
  expect_error(summarise_markers(none), class = "pregunta_error_call")
  # No difference: a name in at most 1 of 20.
  named <- replicate(100, {
    x <- matrix(stats::rnorm(60), 30)
    length(say_stricter(as.data.frame(markers_by_marker(
      transform(long_marks(x[1:26, ]), cell = student, most = 10)
    ))))
  })
  expect_lte(sum(named > 0), 11)
})

test_that("a folder's long file with a marker, and two marking sheets, on the command line", {
  folder <- tempfile()
  dir.create(folder)
  marks <- long_marks(printed, who = c("Ames", "Bell", "Cole", "Dunn"))
  write.csv(marks, file.path(folder, "responses.csv"), row.names = FALSE)
  writeLines("item,type,points\nessay,mark,10", file.path(folder, "items.csv"))
  run <- run_here("markers", folder, "--format", "json")
  found <- jsonlite::fromJSON(run$out)
  expect_equal(round(found$icc, 2), 0.29)
  expect_equal(run_here("markers", folder, "--by", "colour")$status, 2)
  for (by in c("item", "marker", "answer", "number")) {
    run <- run_here("markers", folder, "--by", by)
    expect_equal(run$status, 0)
    expect_gt(length(run$out), 3)
  }
  said <- paste(run_here("markers", folder)$out, collapse = " ")
  expect_match(said, "6 answers with two marks or more")
  # Open answers that wait: two people fill in the same sheet.
  writeLines(
    c("student,Q1", "a,because of the moon", "b,the wind", "c,the earth turns"),
    file.path(folder, "responses.csv")
  )
  writeLines("item,type,points\nQ1,open,4", file.path(folder, "items.csv"))
  sheets <- file.path(folder, c("ames.csv", "bell.csv"))
  run_here("mark", folder)
  file.rename(file.path(folder, "marking.csv"), sheets[1])
  sheet <- utils::read.csv(sheets[1])
  for (k in 1:2) {
    sheet$points <- c(4, 1, 3) - (k == 2) * c(0, 1, 2)
    utils::write.csv(sheet, sheets[k], row.names = FALSE, na = "")
  }
  both <- jsonlite::fromJSON(run_here(
    "markers", folder, "--sheets", paste(sheets, collapse = ","), "--by", "answer",
    "--format", "json"
  )$out)
  expect_equal(both$apart, 2)
  expect_match(both$marks, "ames: [0-9]; bell: [0-9]")
})
