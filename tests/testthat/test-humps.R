# Two groups instead of one middle. How often one group is called two is in test-claims.R.

# Items of 0 or 1 with these shares earned.
binary_items <- function(share) data.frame(most = 1, parts = 1, share = share)

one_group_like <- function(items, score, count) {
  spread <- internal("spread_of_one_group")(items, score, count)
  internal("scores_of_one_group")(items, spread)
}

test_that("the scores of one group are those of its items, whatever their points", {
  items <- data.frame(most = c(1, 1, 2, 3), parts = c(1, 1, 2, 3), share = c(0.3, 0.8, 0.5, 0.6))
  one <- one_group_like(items, 0:7, c(1, 2, 4, 6, 6, 5, 3, 1))
  expect_equal(sum(one$chance), 1)
  expect_equal(sum(one$score * one$chance), sum(items$most * items$share), tolerance = 1e-4)
  score <- rep(0:7, c(1, 2, 4, 6, 6, 5, 3, 1))
  spread <- sum((one$score - sum(one$score * one$chance))^2 * one$chance)
  expect_equal(spread, stats::var(score), tolerance = 0.01)
  # Without differences in ability it is a sum of independent items.
  alike <- one_group_like(binary_items(rep(0.4, 6)), 2:3, c(10, 10))
  expect_equal(alike$spread, 0)
  expect_equal(alike$chance, stats::dbinom(0:6, 6, 0.4), tolerance = 1e-4)
})

test_that("how steep an item is comes from its correlation with the rest, as far as it can", {
  set.seed(11)
  of_steep <- function(n, slope) {
    ability <- stats::rnorm(n)
    easy <- seq(-1, 1, length.out = length(slope))
    answers <- data.frame(student = paste0("s", seq_len(n)))
    for (j in seq_along(slope)) {
      answers[[paste0("Q", j)]] <- stats::rbinom(n, 1, stats::plogis(slope[j] * ability + easy[j]))
    }
    items <- data.frame(item = names(answers)[-1], type = "mark", points = 1)
    tally <- tally_responses(sitting(answers, items))
    internal("items_of_group")(tally, 1)$steep
  }
  slope <- c(0.5, 1, 2, 1, 0.5, 2, 1, 1)
  expect_equal(of_steep(20000, slope), slope / exp(mean(log(slope))), tolerance = 0.1)
  few <- of_steep(20, slope)
  expect_equal(prod(few), 1)
  expect_lt(diff(range(log(few))), diff(range(log(slope))) / 2)
  expect_equal(of_steep(20, 1), 1)
})

test_that("two groups have the mean of one, and nearly its spread; the ratio is free of both", {
  items <- binary_items(seq(0.3, 0.8, length.out = 15))
  one <- one_group_like(items, 0:15, stats::dbinom(0:15, 15, 0.55) * 100 + 1)
  two <- internal("scores_of_two_groups")(items, one, 0.5)
  mean_of <- function(chance) sum(one$score * chance)
  expect_equal(mean_of(two), mean_of(one$chance), tolerance = 1e-3)
  ratio <- internal("beyond_mean_and_spread")(one, two)
  away <- one$score - mean_of(one$chance)
  weighted <- one$chance * (ratio - sum(one$chance * ratio))
  expect_equal(sum(weighted * away), 0, tolerance = 1e-8)
  expect_equal(sum(weighted * away^2), 0, tolerance = 1e-8)
  # Two groups have fewer in the middle and more on both sides of it.
  expect_lt(ratio[9], max(ratio[1:8]))
  expect_lt(ratio[9], max(ratio[10:16]))
})

test_that("scores that draws cannot change are the same each time, and R's own draws go on", {
  set.seed(4)
  before <- .Random.seed
  items <- binary_items(rep(0.5, 10))
  count <- c(0, 1, 8, 9, 4, 2, 4, 9, 8, 1, 0)
  said <- internal("is_two_groups")(0:10, count, items)
  expect_identical(.Random.seed, before)
  expect_true(said)
  expect_false(internal("is_two_groups")(0:10, stats::dbinom(0:10, 10, 0.5) * 60, items))
  expect_false(internal("is_two_groups")(5, 40, items))
})

test_that("few students or items, and an even score, are never two groups", {
  quiz <- function(n, k) {
    answers <- matrix(rep(c("A", "B"), each = n / 2), n, k)
    summarise_test(choice_sitting(answers))$humps
  }
  expect_true(is.na(quiz(14, 10)))
  expect_true(is.na(quiz(40, 4)))
  expect_true(is.na(summarise_test(choice_sitting(matrix("A", 3, 10)))$humps))
  expect_equal(summarise_test(choice_sitting(matrix("A", 30, 10)))$humps, 1)
})

test_that("the groups are described by the cut that leaves most between its sides", {
  found <- internal("two_humps")(c(0.2, 0.25, 0.3, 0.8, 0.9), c(4, 6, 4, 5, 5))
  expect_equal(
    found,
    list(humps = 2L, lower_n = 14, lower_mean = 0.25, upper_mean = 0.85, between_n = 0)
  )
  set.seed(10)
  x <- sort(rnorm(25))
  between <- vapply(1:24, function(k) {
    k * mean(x[1:k])^2 + (25 - k) * mean(x[-(1:k)])^2
  }, 0)
  expect_equal(internal("widest_cut")(x, rep(1, 25))$n[1], which.max(between))
})

test_that("the summary, the sentence and the picture say it, in points and whatever the scale", {
  set.seed(12)
  side <- function(n, right) {
    matrix(ifelse(runif(n * 8) < right, "A", sample(c("B", "C"), n * 8, TRUE)), n)
  }
  quiz <- choice_sitting(rbind(side(40, 0.15), side(40, 0.9)))
  test <- summarise_test(quiz)
  expect_equal(test$humps, 2)
  expect_equal(test$lower_n, 40)
  expect_equal(test$lower_mean, mean(sort(summarise_students(quiz)$points)[1:40]))
  expect_output(
    print(test),
    paste0("The average hides two groups: 40 students around ", round(test$lower_mean, 1))
  )
  expect_match(
    ggplot2::autoplot(summarise_students(quiz))$labels$title,
    "hides two groups: 40 students around"
  )
  # Of a part of the students it is not asked.
  part <- summarise_students(quiz)[1:60, ]
  expect_false(grepl("two groups", internal("say_spread")(part)))
})
