# Strength borrowed: a student's score on a few items with the help of the rest of the
# test (Wainer et al. 2001), a small group's mean with the help of the others.

least_for_help <- 30 # students, below which covariances are no help
least_rest <- 5 # items

# For each set of items the expected true share of each student and its variance, given
# the score on them and on the rest of the test: matrices, NA where there is no help.
helped_shares <- function(sitting, sets) {
  present <- was_present(sitting)
  counted <- which(!sitting$items$item %in% dropped_items(sitting))
  points <- cell_points(sitting)
  points[!present, ] <- NA
  n <- nrow(points)
  whole_alpha <- alpha_of_points(points[, counted, drop = FALSE])
  estimate <- variance <- matrix(NA_real_, n, length(sets))
  for (k in seq_along(sets)) {
    own <- intersect(sets[[k]], counted)
    rest <- setdiff(counted, own)
    # How reliable one item is nobody can tell.
    if (length(rest) < least_rest || length(own) < 2 || is.na(whole_alpha)) next
    found <- helped_by_rest(
      row_scores(sitting$codes, sitting$cells, own)$share,
      row_scores(sitting$codes, sitting$cells, rest)$share,
      present,
      reliability_of_part(points[, own, drop = FALSE], whole_alpha, length(counted)),
      reliability_of_part(points[, rest, drop = FALSE], whole_alpha, length(counted)),
      length(rest) / length(counted)
    )
    estimate[, k] <- found$estimate
    variance[, k] <- found$variance
  }
  list(estimate = estimate, variance = variance)
}

# Alpha of a few items wavers, and what the whole test's comes to for as many knows
# nothing of what is their own (Spearman 1910; Brown 1910): the larger of the two draws a
# score less to the others.
reliability_of_part <- function(points, whole_alpha, k) {
  n <- ncol(points)
  one <- max(0.01, whole_alpha / (k - (k - 1) * whole_alpha))
  stepped <- n * one / (1 + (n - 1) * one)
  min(0.95, max(0.02, stepped, alpha_of_points(points), na.rm = TRUE))
}

# The best linear predictor of the true share from the two scores; errors of the two are
# of different items, so they have nothing in common.
helped_by_rest <- function(share, rest, present, reliability, rest_reliability,
                           rest_weight) {
  both <- present & !is.na(share) & !is.na(rest)
  none <- list(
    estimate = rep(NA_real_, length(share)), variance = rep(NA_real_, length(share))
  )
  if (sum(both) < least_for_help) return(none)
  seen <- stats::cov(cbind(share, rest)[both, ])
  if (any(diag(seen) < 1e-9)) return(none)
  together <- seen[1, 2]^2 / (seen[1, 1] * seen[2, 2])
  if (together > 1 - 1e-9) return(none)
  # True scores on the two go together by .95 at most: where the reliabilities ask for
  # more, both of them are too low, as alpha can be, that of fewer items the more.
  asked <- together / (reliability * rest_reliability * 0.95^2)
  reliability <- min(0.95, reliability * max(1, asked)^rest_weight)
  # What the true share has in common with each.
  with <- c(seen[1, 1] * reliability, seen[1, 2])
  slope <- solve(seen, with)
  left <- max(1e-4, seen[1, 1] * reliability - sum(slope * with))
  means <- colMeans(cbind(share, rest)[both, ])
  estimate <- means[1] + slope[1] * (share - means[1]) + slope[2] * (rest - means[2])
  estimate[!both] <- NA
  list(
    estimate = pmin(0.99, pmax(0.01, estimate)), variance = ifelse(both, left, NA)
  )
}

# A Beta with this mean and variance.
beta_of <- function(mean, variance) {
  trials <- pmax(1, mean * (1 - mean) / variance - 1)
  list(a = mean * trials, b = (1 - mean) * trials)
}

# The columns beside a student's score on each standard. levels: of each set.
helped_columns <- function(sitting, sets, rows, levels) {
  helped <- helped_shares(sitting, sets)
  mean <- as.vector(helped$estimate[rows, , drop = FALSE])
  shape <- beta_of(mean, as.vector(helped$variance[rows, , drop = FALSE]))
  low <- stats::qbeta(1 - upper_tail, shape$a, shape$b)
  high <- stats::qbeta(upper_tail, shape$a, shape$b)
  code <- rep(seq_along(sets), each = length(rows))
  level <- function(share) {
    unlist(lapply(seq_along(sets), function(k) {
      as.character(level_of(share[code == k], sitting$settings, levels[[k]]))
    }))
  }
  data.frame(
    estimate = mean, estimate_low = low, estimate_high = high,
    estimate_level = level(mean), still_unsure = level(low) != level(high)
  )
}

# Means of groups drawn to the mean of all, the more the fewer their students (Kelley
# 1947; Morris 1983); how far the groups truly differ by moments (DerSimonian & Laird
# 1986). n, mean, sd: of the groups, at least 5 with two students each.
helped_means <- function(n, mean, sd) {
  known <- n >= 2 & !is.na(sd)
  out <- data.frame(
    estimate = rep(NA_real_, length(n)), estimate_low = NA_real_, estimate_high = NA_real_
  )
  k <- sum(known)
  if (k < 5) return(out)
  # The spread within is taken together: of a few students it wavers.
  within <- sum((n[known] - 1) * sd[known]^2) / sum(n[known] - 1)
  if (within < 1e-12) return(out)
  error <- within / n[known]
  weight <- 1 / error
  all <- sum(weight * mean[known]) / sum(weight)
  q <- sum(weight * (mean[known] - all)^2)
  between <- max(
    0, (q - (k - 1)) / (sum(weight) - sum(weight^2) / sum(weight))
  )
  sure <- between / (between + error)
  centre <- sum(mean[known] / (between + error)) / sum(1 / (between + error))
  estimate <- centre + sure * (mean[known] - centre)
  # Morris's variance knows that `between` is an estimate as well.
  left <- error * (1 - (k - 1) / k * (1 - sure)) +
    2 / (k - 3) * (1 - sure)^2 * (mean[known] - centre)^2
  half <- stats::qnorm(upper_tail) * sqrt(left)
  out$estimate[known] <- estimate
  out$estimate_low[known] <- pmax(0, estimate - half)
  out$estimate_high[known] <- pmin(1, estimate + half)
  out
}

# Of the groups of each standard, and within the group around.
helped_groups <- function(figures, around, code) {
  out <- data.frame(estimate = rep(NA_real_, nrow(figures)))
  out$estimate_high <- out$estimate_low <- out$estimate
  for (rows in split(seq_len(nrow(figures)), paste(around, code, sep = "\r"))) {
    out[rows, ] <- helped_means(
      figures$n[rows], figures$share[rows], figures$sd[rows]
    )[names(out)]
  }
  as.list(out)
}
