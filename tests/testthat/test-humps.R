two_groups_seen <- function(draw, runs = 400) {
  mean(
    replicate(runs, {
      x <- draw()
      internal("two_humps")(x, rep(1, length(x)))$humps == 2
    })
  )
}

test_that("one normal population of any size is hardly ever said to be two groups", {
  set.seed(8)
  for (n in c(10, 30, 100, 1000)) {
    expect_lte(
      two_groups_seen(function() rnorm(n)),
      0.05 + 2 * sqrt(0.05 * 0.95 / 400),
      label = paste(n, "students")
    )
  }
  expect_lte(two_groups_seen(function() rbinom(30, 20, 0.6)), 0.07)
  expect_lte(two_groups_seen(function() rbeta(100, 3, 2)), 0.07) # wide, one hump
})

test_that("two groups far apart are seen, and described", {
  set.seed(9)
  expect_gte(two_groups_seen(function() c(rnorm(15), rnorm(15, 4.5))), 0.8)
  expect_gte(two_groups_seen(function() c(rnorm(100), rnorm(100, 4))), 0.8)
  found <- internal("two_humps")(c(0.2, 0.25, 0.3, 0.8, 0.9), c(4, 6, 4, 5, 5))
  expect_equal(
    found,
    list(humps = 2L, lower_n = 14, lower_mean = 0.25, upper_mean = 0.85, between_n = 0)
  )
})

test_that("an even spread, one far student and a few students are no two groups", {
  expect_equal(internal("two_humps")(1:60 / 60, rep(1, 60))$humps, 1L)
  expect_equal(internal("two_humps")(c(0.1, 0.8, 0.85, 0.9), c(1, 10, 10, 10))$humps, 1L)
  expect_true(is.na(internal("two_humps")(c(0, 1), c(4, 5))$humps))
  expect_equal(internal("two_humps")(0.5, 20)$humps, 1L)
})

test_that("the threshold is what 5 in 100 samples of a normal population reach", {
  set.seed(10)
  between <- function(x) {
    k <- which.max(
      vapply(seq_len(length(x) - 1), function(k) {
        side <- seq_along(x) <= k
        k * mean(sort(x)[side])^2 + (length(x) - k) * mean(sort(x)[!side])^2
      }, 0)
    )
    side <- seq_along(x) <= k
    1 -
      sum(
        c(sort(x)[side] - mean(sort(x)[side]), sort(x)[!side] - mean(sort(x)[!side]))^2
      ) /
        sum((x - mean(x))^2)
  }
  drawn <- matrix(rnorm(25 * 2000), 25)
  found <- apply(drawn, 2, function(x) internal("widest_cut")(x, rep(1, 25))$between)
  expect_equal(found[1:20], apply(drawn[, 1:20], 2, between))
  expect_equal(mean(found > internal("most_between")(25)), 0.05, tolerance = 0.25)
})

test_that(
  "the summary, the sentence and the picture say it, in points and whatever the scale",
  {
    low <- matrix(rep(c("A", "B", "B", "B", "B", "B", "B", "B"), 16), 16, byrow = TRUE)
    high <- matrix(rep(c("A", "A", "A", "A", "A", "A", "A", "B"), 16), 16, byrow = TRUE)
    low[1:5, 3] <- "A"
    high[1:6, 5] <- "B"
    quiz <- choice_sitting(rbind(low, high))
    test <- summarise_test(quiz)
    expect_equal(test$humps, 2)
    expect_equal(
      c(test$lower_n, test$lower_mean, test$upper_mean),
      c(16, 1 + 5 / 16, 7 - 6 / 16)
    )
    expect_output(
      print(test),
      paste0(
        "The average hides two groups: 16 students around 1.3 points and 16 around 6.6, ",
        "nobody halfway"
      )
    )
    expect_match(
      ggplot2::autoplot(summarise_students(quiz))$labels$title,
      "hides two groups: 16 students around 16%"
    )
  }
)
