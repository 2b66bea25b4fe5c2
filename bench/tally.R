# All item, option and test figures from one tally, against plain vectorised R
# that computes the same figures, in one run. Prints ratios, ns a cell and memory.
library(pregunta)

# A sitting of n students and k four-option items, coded and in memory.
made_up_sitting <- function(n, k, seed = 1) {
  set.seed(seed)
  ability <- rnorm(n)
  codes <- matrix(0L, n, k, dimnames = list(NULL, paste0("Q", seq_len(k))))
  for (j in seq_len(k)) {
    right <- runif(n) < plogis(1.2 * (ability - rnorm(1)))
    codes[, j] <- ifelse(right, 5L, sample(c(6L, 7L, 8L, 2L), n, TRUE, c(4, 3, 2, 0.5)))
  }
  cells <- list(
    answer = c(NA, "(blank)", "(blank)", NA, "A", "B", "C", "D"),
    points = c(NA, 0, 0, NA, 1, 0, 0, 0),
    state = c("not given", "omitted", "not reached", "excused", rep("answered", 4)),
    most = 1
  )
  quiz <- sitting(
    data.frame(student = "s1", matrix("A", 1, k, dimnames = list(NULL, colnames(codes)))),
    data.frame(item = colnames(codes), type = "choice", key = "A"),
    data.frame(item = rep(colnames(codes), each = 4), option = c("A", "B", "C", "D"))
  )
  quiz$codes <- codes
  quiz$cells <- rep(list(cells), k)
  quiz$students <- data.frame(
    student = as.character(seq_len(n)),
    name = NA,
    section = NA,
    status = "sat"
  )
  quiz
}

# The same figures the plain way: a matrix of answers, a matrix of points.
plain_figures <- function(answers, key) {
  x <- (answers == key) + 0
  total <- rowSums(x)
  n <- nrow(x)
  k <- ncol(x)
  covariance <- cov(x)
  alpha <- k / (k - 1) * (1 - sum(diag(covariance)) / var(total))
  between <- covariance[row(covariance) != col(covariance)]
  rank <- rank(total)
  third <- cut(rank, c(0, n / 3, 2 * n / 3, n))
  upper <- total > quantile(total, 0.73)
  lower <- total < quantile(total, 0.27)
  items <- lapply(seq_len(k), function(j) {
    rest <- total - x[, j]
    options <- table(answers[, j], third)
    list(
      difficulty = mean(x[, j]),
      discrimination = cor(x[, j], rest),
      upper_lower = mean(x[upper, j]) - mean(x[lower, j]),
      without = (k - 1) /
        (k - 2) *
        (1 - (sum(diag(covariance)) - covariance[j, j]) / var(rest)),
      options = options,
      mean_rest = tapply(rest, answers[, j], mean),
      option_rest = vapply(unique(answers[, j]), function(option) {
        cor(answers[, j] == option, rest)
      }, 0)
    )
  })
  list(
    items = items,
    alpha = alpha,
    mean = mean(total),
    sd = sd(total),
    quantiles = quantile(total),
    lambda2 = (sum(between) + sqrt(k / (k - 1) * sum(between^2))) / sum(covariance),
    split_half = cor(rowSums(x[, seq(1, k, 2)]), rowSums(x[, seq(2, k, 2)]))
  )
}

our_figures <- function(quiz) {
  tally <- tally_responses(quiz, products = TRUE)
  list(
    items = summarise_items(tally),
    options = summarise_options(tally),
    test = summarise_test(tally)
  )
}

seconds <- function(code, times = 5) {
  min(vapply(seq_len(times), function(i) system.time(code())[["elapsed"]], 0))
}

# Runs code once: its value, seconds, and the most memory it added in MB.
measured <- function(code) {
  before <- sum(gc(reset = TRUE, full = TRUE)[, 2])
  time <- system.time(value <- code())[["elapsed"]]
  list(value = value, time = time, memory = sum(gc()[, 6]) - before)
}

report <- function(n, k) {
  quiz <- made_up_sitting(n, k)
  cells <- n * k
  tally <- seconds(function() tally_responses(quiz))
  ours <- seconds(function() our_figures(quiz))
  cat(sprintf(
    "%s students x %d items, coded responses in memory\n",
    format(n, big.mark = ","),
    k
  ))
  cat(sprintf("  one tally      %6.3f s  %5.2f ns a cell\n", tally, tally / cells * 1e9))
  cat(sprintf(
    paste0(
      "  all figures    %6.3f s  %5.2f ns a cell, %.1f times the tally, at most %.0f MB ",
      "more memory\n"
    ),
    ours,
    ours / cells * 1e9,
    ours / tally,
    measured(function() our_figures(quiz))$memory
  ))
  answers <- matrix(c(NA, "(blank)", NA, NA, "A", "B", "C", "D")[quiz$codes], n)
  theirs <- measured(function() plain_figures(answers, "A"))
  cat(sprintf(
    "  plain R        %6.3f s, at most %.0f MB more memory\n",
    theirs$time,
    theirs$memory
  ))
  cat(sprintf("  plain R takes %.1f times as long\n", theirs$time / ours))
  test <- summarise_test(quiz)
  for (figure in c("alpha", "mean", "sd", "lambda2")) {
    stopifnot(all.equal(theirs$value[[figure]], test[[figure]]))
  }
}

report(1e5, 60)
report(2e5, 60)
if (!"--quick" %in% commandArgs(TRUE)) report(1e6, 100)
