# Strength borrowed: few items with the help of the rest, small groups with that of others.

# Students whose truths on four standards of m items go together by r.
parts_of <- function(n, m, r) {
  k <- 4
  common <- stats::rnorm(n)
  own <- vapply(seq_len(k), function(one) {
    r * common + sqrt(1 - r^2) * stats::rnorm(n)
  }, numeric(n))
  code <- rep(seq_len(k), each = m)
  p <- stats::plogis(sweep(own[, code], 2, seq(-1, 1, length.out = k * m)))
  x <- (stats::runif(n * k * m) < p) + 0
  colnames(x) <- paste0("Q", seq_len(k * m))
  quiz <- sitting(
    data.frame(student = sprintf("s%03d", seq_len(n)), x),
    data.frame(item = colnames(x), type = "mark", points = 1, standards = paste0("S.", code))
  )
  truth <- vapply(seq_len(k), function(one) {
    rowMeans(p[, code == one, drop = FALSE])
  }, numeric(n))
  list(quiz = quiz, truth = truth)
}

test_that("with the help of the rest the estimate is nearer the truth, its interval holds it", {
  set.seed(1)
  for (r in c(0.6, 0.9)) {
    found <- replicate(8, {
      made <- parts_of(100, 3, r)
      table <- as.data.frame(summarise_standards(made$quiz, "student", helped = TRUE))
      at <- cbind(
        match(table$student, sprintf("s%03d", 1:100)),
        match(table$code, paste0("S.", 1:4))
      )
      truth <- made$truth[at]
      c(
        raw = mean((table$share - truth)^2), helped = mean((table$estimate - truth)^2),
        holds = mean(table$estimate_low <= truth & truth <= table$estimate_high),
        width = mean(table$estimate_high - table$estimate_low),
        plain_width = mean(table$share_high - table$share_low)
      )
    })
    rates <- rowMeans(found)
    expect_lt(rates[["helped"]], 0.6 * rates[["raw"]])
    expect_gt(rates[["holds"]], 0.88)
    expect_lt(rates[["width"]], rates[["plain_width"]])
  }
})

test_that("the raw figures stay, and the better ones are beside them only when asked for", {
  quiz <- read_sitting(demo_path())
  plain <- as.data.frame(summarise_standards(quiz, "student"))
  helped <- as.data.frame(summarise_standards(quiz, "student", helped = TRUE))
  expect_equal(helped[names(plain)], plain)
  beside <- c(
    "estimate", "estimate_low", "estimate_high", "estimate_level", "still_unsure"
  )
  expect_equal(setdiff(names(helped), names(plain)), beside)
  # Of the same two scores the same; the more of the one, the more of the estimate.
  own <- helped[helped$code == "TC.2.a", ]
  expect_gt(stats::cor(own$share, own$estimate), 0.6)
  expect_lt(mean(helped$still_unsure), mean(plain$unsure))
  few <- summarise_standards(narrow_sitting(quiz, section = "Harbour A"), "student",
    helped = TRUE
  )
  expect_true(all(is.na(few$estimate)))
  csv <- run_here("standards", demo_path(), "--by", "student", "--helped", "--format", "csv")
  expect_equal(
    utils::read.csv(text = csv$out)$estimate, helped$estimate
  )
})

test_that("the estimate is the best linear predictor, where all is known", {
  set.seed(2)
  n <- 4000
  true <- stats::rnorm(n, 0.6, 0.1)
  other <- 0.6 + 0.8 * (true - 0.6) + stats::rnorm(n, 0, 0.06)
  share <- true + stats::rnorm(n, 0, 0.1)
  rest <- other + stats::rnorm(n, 0, 0.05)
  found <- helped_by_rest(share, rest, rep(TRUE, n), 0.5, 0.8, 0.8)
  best <- stats::lm(true ~ share + rest)
  expect_equal(found$estimate, unname(stats::fitted(best)), tolerance = 0.02)
  expect_equal(found$variance[1], stats::var(stats::resid(best)), tolerance = 0.1)
})

test_that("small groups are drawn to the mean of all, and are nearer the truth", {
  set.seed(3)
  n <- c(5, 6, 7, 8, 10, 12, 20, 25, 28, 30)
  found <- replicate(200, {
    truth <- 0.6 + stats::rnorm(10, 0, 0.06)
    drawn <- vapply(seq_along(n), function(k) {
      x <- truth[k] + stats::rnorm(n[k], 0, 0.2)
      c(mean(x), stats::sd(x))
    }, numeric(2))
    helped <- helped_means(n, drawn[1, ], drawn[2, ])
    c(
      raw = mean((drawn[1, ] - truth)^2), helped = mean((helped$estimate - truth)^2),
      holds = mean(helped$estimate_low <= truth & truth <= helped$estimate_high),
      inward = mean(abs(helped$estimate - 0.6) <= abs(drawn[1, ] - 0.6) + 0.05)
    )
  })
  rates <- rowMeans(found)
  expect_lt(rates[["helped"]], 0.75 * rates[["raw"]])
  expect_gt(rates[["holds"]], 0.88)
  expect_gt(rates[["inward"]], 0.95)
  # Where all are as far apart as their errors make them, all are the same.
  same <- helped_means(rep(10, 6), rep(0.5, 6) + c(-1, 1) * 0.001, rep(0.2, 6))
  expect_equal(same$estimate, rep(0.5, 6), tolerance = 1e-3)
  expect_true(all(is.na(helped_means(rep(10, 4), 1:4 / 10, rep(0.2, 4))$estimate)))
  quiz <- read_sitting(demo_path())
  by <- summarise_standards(quiz, "boat", helped = TRUE)
  expect_true(all(is.na(by$estimate)))
})

test_that("groups by need go by the better of two scores", {
  set.seed(4)
  made <- parts_of(120, 2, 0.9)
  quiz <- made$quiz
  quiz$students$section <- "x"
  present <- which(was_present(quiz))
  needs <- student_needs(quiz, present)
  truth <- made$truth[present, ]
  real <- pmax(0, quiz$settings$mastery_cut - truth)
  alone <- expected_shortfall(
    jeffreys_shape(needs$earned / needs$open, needs$trials), quiz$settings$mastery_cut
  )
  low <- needs$need > 0
  # Of those who missed something, who really needs it most.
  expect_gt(stats::cor(needs$need[low], real[low]), stats::cor(alone[low], real[low]) + 0.1)
})
