# 95% intervals, one function each, with its source.

interval_level <- 0.95
upper_tail <- 1 - (1 - interval_level) / 2

# Wilson 1927: a share of n trials.
wilson_interval <- function(share, n, z = stats::qnorm(upper_tail)) {
  centre <- (share + z^2 / (2 * n)) / (1 + z^2 / n)
  half <- z / (1 + z^2 / n) * sqrt(share * (1 - share) / n + z^2 / (4 * n^2))
  list(low = pmax(0, centre - half), high = pmin(1, centre + half))
}

# Newcombe 1998, method 10: the difference a - b of two shares, from the
# intervals of both.
share_difference <- function(a, around_a, b, around_b) {
  list(
    low = a - b - sqrt((a - around_a$low)^2 + (around_b$high - b)^2),
    high = a - b + sqrt((around_a$high - a)^2 + (b - around_b$low)^2)
  )
}

# Student's t around a mean; NA below two values.
t_interval <- function(mean, sd, n) {
  half <- ifelse(
    n >= 2,
    stats::qt(upper_tail, pmax(n - 1, 1)) * sd / sqrt(n),
    NA_real_
  )
  list(low = mean - half, high = mean + half)
}

# The same of values that lie between two ends, as their mean does.
t_interval_within <- function(mean, sd, n, lowest, highest) {
  around <- t_interval(mean, sd, n)
  list(low = pmax(lowest, around$low), high = pmin(highest, around$high))
}

# Fisher 1921: a correlation, by its inverse hyperbolic tangent; NA below four.
fisher_interval <- function(r, n) {
  half <- ifelse(
    n >= 4,
    stats::qnorm(upper_tail) / sqrt(pmax(n - 3, 1)),
    NA_real_
  )
  list(low = tanh(atanh(r) - half), high = tanh(atanh(r) + half))
}

# Feldt 1965: coefficient alpha of n students and k items.
feldt_interval <- function(alpha, n, k) {
  list(
    low = 1 -
      (1 - alpha) *
        stats::qf(upper_tail, n - 1, (n - 1) * (k - 1)),
    high = 1 -
      (1 - alpha) *
        stats::qf(1 - upper_tail, n - 1, (n - 1) * (k - 1))
  )
}

# Jeffreys' prior: a share earned in so many trials (not necessarily a whole number).
jeffreys_interval <- function(share, trials) {
  shape <- jeffreys_shape(share, trials)
  list(
    low = stats::qbeta(1 - upper_tail, shape$a, shape$b),
    high = stats::qbeta(upper_tail, shape$a, shape$b)
  )
}

jeffreys_shape <- function(share, trials) {
  share <- pmin(1, pmax(0, share))
  list(a = share * trials + 0.5, b = (1 - share) * trials + 0.5)
}
