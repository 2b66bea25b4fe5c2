# What one item's fairness comes to, from its strata of like scores.

# n, x, xx: strata by (reference, focal): students, sums and sums of squares of
# shares of the item's points.
item_fairness <- function(n, x, xx, n_values, top, too_few) {
  n <- matrix(n, ncol = 2)
  x <- matrix(x, ncol = 2)
  xx <- matrix(xx, ncol = 2)
  difficulty <- ifelse(
    colSums(n) > 0,
    colSums(x) / colSums(n),
    NA_real_
  )
  shared <- n[, 1] > 0 & n[, 2] > 0
  reason <- fairness_reason(
    colSums(n),
    shared,
    n_values,
    top,
    too_few
  )
  met <- function(sums) sums[shared, , drop = FALSE]
  found <- list()
  if (is.na(reason)) {
    found <- if (n_values == 2) {
      mantel_haenszel(met(n), met(x) / top)
    } else {
      mantel(met(n), met(x), met(xx))
    }
    found <- with_mean_difference(found, n, x, xx, shared)
  }
  had <- function(name) if (is.null(found[[name]])) NA_real_ else found[[name]]
  class <- if (is.na(reason)) fairness_class(found) else NA_character_
  if (is.na(reason) && is.na(class)) {
    reason <- "no_rest"
  }
  data.frame(
    n_reference = sum(n[, 1]),
    n_focal = sum(n[, 2]),
    difficulty_reference = difficulty[1],
    difficulty_focal = difficulty[2],
    odds_ratio = had("odds_ratio"),
    delta = had("delta"),
    delta_low = had("delta_low"),
    delta_high = had("delta_high"),
    smd = had("smd"),
    smd_low = had("smd_low"),
    smd_high = had("smd_high"),
    statistic = had("statistic"),
    p = had("p"),
    class = class,
    favours = if (!class %in% c("moderate", "large")) {
      NA_character_
    } else if (had("smd") < 0) {
      "reference"
    } else {
      "focal"
    },
    reason = reason
  )
}

fairness_reason <- function(sizes, shared, n_values, top, too_few) {
  if (too_few || min(sizes) < least_compared) return("few_in_group")
  if (n_values < 2) {
    if (top > 1 - 1e-9) return("all_right")
    return(if (top < 1e-9) "none_right" else "same_points")
  }
  if (any(shared)) NA_character_ else "no_rest"
}

# Strata by (reference, focal): students and those who earned the points.
mantel_haenszel <- function(n, right) {
  all <- rowSums(n)
  a <- right[, 1]
  b <- n[, 1] - a
  c <- right[, 2]
  d <- n[, 2] - c
  up <- a * d / all
  down <- b * c / all
  ratio <- sum(up) / sum(down)
  p <- (a + d) / all
  q <- (b + c) / all
  variance <- sum(p * up) / (2 * sum(up)^2) +
    sum(p * down + q * up) / (2 * sum(up) * sum(down)) +
    sum(q * down) / (2 * sum(down)^2)
  expected <- n[, 1] * (a + c) / all
  spread <- n[, 1] * n[, 2] * (a + c) * (b + d) / (all^2 * pmax(all - 1, 1))
  statistic <- if (sum(spread) > 1e-12) {
    max(0, abs(sum(a - expected)) - 0.5)^2 / sum(spread)
  } else {
    NA_real_
  }
  delta <- -2.35 * log(ratio)
  error <- 2.35 * sqrt(variance)
  estimable <- is.finite(delta) && is.finite(error)
  z <- stats::qnorm(upper_tail)
  list(
    odds_ratio = if (is.nan(ratio)) NA_real_ else ratio,
    delta = if (estimable) delta else NA_real_,
    delta_low = if (estimable) delta - z * error else NA_real_,
    delta_high = if (estimable) delta + z * error else NA_real_,
    error = error,
    statistic = statistic,
    p = stats::pchisq(statistic, 1, lower.tail = FALSE)
  )
}

# Mantel 1963: the focal group's sum of points against its expectation.
mantel <- function(n, x, xx) {
  all <- rowSums(n)
  sum <- rowSums(x)
  expected <- n[, 2] * sum / all
  spread <- n[, 1] *
    n[, 2] *
    (all * rowSums(xx) - sum^2) /
    (all^2 * pmax(all - 1, 1))
  statistic <- if (sum(spread) > 1e-12) {
    sum(x[, 2] - expected)^2 / sum(spread)
  } else {
    NA_real_
  }
  list(
    statistic = statistic,
    p = stats::pchisq(statistic, 1, lower.tail = FALSE)
  )
}

# Weighted by the focal group; its error from the variance within strata, which
# all of them share.
with_mean_difference <- function(found, n, x, xx, shared) {
  weight <- n[shared, 2] / sum(n[shared, 2])
  means <- x[shared, , drop = FALSE] / n[shared, , drop = FALSE]
  found$smd <- sum(weight * (means[, 2] - means[, 1]))
  within <- sum(xx - ifelse(n > 0, x^2 / pmax(n, 1), 0)) /
    max(1, sum(n) - sum(n > 0))
  error <- if (within > 1e-12) {
    sqrt(sum(weight^2 * within * rowSums(1 / n[shared, , drop = FALSE])))
  } else {
    NA_real_
  }
  z <- stats::qnorm(upper_tail)
  found$smd_low <- found$smd - z * error
  found$smd_high <- found$smd + z * error
  total <- sum(n)
  found$sd <- sqrt(max(0, sum(xx) - sum(x)^2 / total) / (total - 1))
  found
}

fairness_cuts <- list(delta = c(1, 1.5), smd = c(0.17, 0.25))

fairness_class <- function(found) {
  if (is.na(found$p)) return(NA_character_)
  if (found$p >= 0.05) return("negligible")
  if (is.null(found$delta)) {
    size <- abs(found$smd) / found$sd
    return(
      c("negligible", "moderate", "large")[1 + sum(size >= fairness_cuts$smd)]
    )
  }
  # In no stratum did the one group miss it or the other earn it: no odds, and how far
  # above 1 cannot be told.
  if (is.na(found$delta)) return("moderate")
  if (abs(found$delta) < fairness_cuts$delta[1]) return("negligible")
  surely <- (abs(found$delta) - 1) / found$error > stats::qnorm(0.95)
  if (abs(found$delta) >= fairness_cuts$delta[2] && surely) {
    "large"
  } else {
    "moderate"
  }
}
