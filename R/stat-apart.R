# Whether groups differ by more than chance would make them.

# Each group's mean against that of the other students of the group around it:
# the difference with its 95% interval after Welch (1947), and whether it is
# beyond chance, with at most 5 in 100 of what is so called due to chance (Benjamini &
# Hochberg 1995) over all comparisons within the group around. NA below two
# students on a side, and where the students of a side are all alike, since a
# handful of equal scores is no evidence.
#   n, mean, sd: of each group and thing, groups within things; around: a number
#   for the group around each; thing: of what the means are.
against_the_rest <- function(n, mean, sd, around, thing = rep(1L, length(n))) {
  n[is.na(n)] <- 0
  set <- paste(around, thing)
  key <- match(set, unique(set))
  use <- n > 0
  whole <- function(x) {
    sum_by(list(x = ifelse(use, x, 0)), key, max(key, 0))[
      key,
      "x"
    ]
  }
  squares <- ifelse(n > 1, (n - 1) * sd^2, 0)
  n_all <- whole(n)
  mean_all <- whole(n * mean) / n_all
  squares_all <- whole(squares + n * (mean - mean_all)^2)
  n_rest <- n_all - n
  mean_rest <- (n_all * mean_all - n * mean) / n_rest
  squares_rest <- pmax(
    0,
    squares_all - squares - n * n_rest / n_all * (mean - mean_rest)^2
  )
  sd_rest <- sqrt(squares_rest / (n_rest - 1))
  known <- which(
    use & n > 1 & n_rest > 1 & squares > 1e-12 & squares_rest > 1e-12
  )
  test <- welch(
    mean[known] - mean_rest[known],
    sd[known],
    n[known],
    sd_rest[known],
    n_rest[known]
  )
  none <- rep(NA_real_, length(n))
  out <- data.frame(
    difference = none,
    difference_low = none,
    difference_high = none,
    beyond_chance = as.logical(none)
  )
  both <- which(use & n_rest > 0)
  out$difference[both] <- (mean - mean_rest)[both]
  out$difference_low[known] <- test$low
  out$difference_high[known] <- test$high
  out$beyond_chance[known] <- stats::ave(
    test$p,
    around[known],
    FUN = function(p) {
      stats::p.adjust(p, "BH")
    }
  ) < 0.05
  out
}

# Welch 1947: two means whose spreads may differ.
welch <- function(difference, sd_a, n_a, sd_b, n_b) {
  a <- sd_a^2 / n_a
  b <- sd_b^2 / n_b
  error <- sqrt(a + b)
  df <- (a + b)^2 / (a^2 / (n_a - 1) + b^2 / (n_b - 1))
  half <- stats::qt(upper_tail, df) * error
  list(
    low = difference - half,
    high = difference + half,
    p = 2 * stats::pt(-abs(difference) / error, df)
  )
}
