# Answers that the model does not expect, of one student and of two.

# Choice answers of the model; the first wrong option draws most.
choices <- function(n, k) {
  ability <- stats::rnorm(n)
  right <- stats::runif(n * k) <
    stats::plogis(outer(ability, seq(-1.8, 1.8, length.out = k), `-`))
  answers <- matrix(sample(c("B", "C", "D"), n * k, TRUE, c(3, 2, 1)), n)
  answers[right] <- "A"
  answers
}

choice_sitting <- function(answers, section = NA) {
  colnames(answers) <- paste0("Q", seq_len(ncol(answers)))
  students <- sprintf("s%03d", seq_len(nrow(answers)))
  sitting(
    data.frame(student = students, answers),
    data.frame(item = colnames(answers), type = "choice", key = "A", points = 1),
    students = data.frame(student = students, section = section)
  )
}

test_that("the chance of a pattern is that among all patterns of its score", {
  set.seed(1)
  steps <- list(c(0.8), c(-0.3), c(0.1), c(-1, -1.4), c(0.5, 0.2))
  cells <- as.matrix(expand.grid(lapply(steps, function(one) c(0, seq_along(one)))))
  logs <- rowSums(vapply(seq_along(steps), function(j) {
    c(0, steps[[j]])[cells[, j] + 1]
  }, numeric(nrow(cells))))
  score <- as.integer(rowSums(cells))
  exact <- vapply(seq_along(logs), function(i) {
    same <- score == score[i]
    sum(exp(logs[same & logs <= logs[i] + 1e-9])) / sum(exp(logs[same]))
  }, 0)
  expect_equal(pattern_p(steps, score, logs, 1e-4), exact, tolerance = 1e-3)
})

test_that("in tests without a cause hardly anybody is named, and a cause is found", {
  set.seed(2)
  runs <- thinned(1:60, 20)
  named <- vapply(runs, function(run) {
    quiz <- choice_sitting(choices(60, 22))
    c(
      any(summarise_patterns(quiz)$pattern %in% "unlikely"),
      nrow(summarise_alike(quiz)) > 0
    )
  }, logical(2))
  # More would come in 1 of 100 at 1 in 20.
  most <- stats::qbinom(0.99, length(runs), 1 / 20)
  expect_lte(sum(named[1, ]), most)
  expect_lte(sum(named[2, ]), most)
  answers <- choices(80, 40)
  answers[2, 1:36] <- answers[1, 1:36]
  # Easy and hard ones the other way round.
  answers[3, ] <- rep(c("B", "A"), each = 20)
  quiz <- choice_sitting(answers)
  patterns <- summarise_patterns(quiz)
  expect_equal(patterns$pattern[3], "unlikely")
  expect_match(patterns$right_though_hard[3], "^Q(3|40)")
  expect_lt(patterns$lz[3], -4)
  alike <- summarise_alike(quiz)
  expect_equal(c(alike$student[1], alike$other[1]), c("s001", "s002"))
  expect_gte(alike$same[1], 36)
  expect_equal(attr(alike, "pairs"), choose(80, 2))
  expect_lt(abs(mean(patterns$lz[-3], na.rm = TRUE)), 0.4)
  expect_lt(abs(stats::sd(patterns$lz[-3], na.rm = TRUE) - 1), 0.25)
  # Pairs are those of a section.
  apart <- choice_sitting(answers, c("x", "y", rep(c("x", "y"), 39)))
  expect_equal(nrow(summarise_alike(apart)), 0)
  expect_equal(attr(summarise_alike(apart), "pairs"), 2 * choose(40, 2))
})

test_that("of few students, few items and those at the ends nothing is said, with the reason", {
  set.seed(3)
  few <- summarise_patterns(choice_sitting(choices(40, 22)))
  expect_equal(unique(few$reason), "few_students")
  short <- summarise_patterns(choice_sitting(choices(60, 12)))
  expect_equal(unique(short$reason), "few_items")
  expect_equal(attr(summarise_alike(choice_sitting(choices(60, 12))), "reason"), "few_items")
  answers <- choices(60, 22)
  answers[1, ] <- "A"
  answers[2, ] <- "B"
  ends <- summarise_patterns(choice_sitting(answers))
  expect_equal(ends$reason[1:2], c("all_right", "none_right"))
  expect_true(all(is.na(ends$pattern[1:2])))
  said <- run_here("patterns", demo_path())$out
  expect_match(paste(said, collapse = " "), "nobody's answers are unlikely")
  said <- run_here("patterns", demo_path(), "--pairs")$out
  expect_match(paste(said, collapse = " "), "Fewer than 20 choice questions")
})
