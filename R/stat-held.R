# Whether a student chose the answers of one idea more often than those do who hold
# nothing and know as much.

# Columns chose and answered: students by items that offer the idea; rest: each
# student's share of the points on the other items, NA where there are too few. One-sided
# p of the number chosen: independent choices at each item's own rate among students with
# such a score.
#
# The log-odds of choosing an item's answer rise or fall with the rest score, alike for
# all items of the idea. Where more students chose several of the answers than chance
# lets them (at .05), some hold the idea, and the rates are those of the others, by the
# EM algorithm (Dempster, Laird & Rubin 1977) for two kinds of students.
held_by_chance <- function(chose, answered, rest) {
  z <- standardised(rest)
  chosen <- rowSums(chose & answered)
  if (!any(chosen >= 2)) return(rep(1, length(chosen)))
  some <- unique(round(
    seq(1, length(z), length.out = min(length(z), most_fitted))
  ))
  seen <- list(
    chose = chose[some, , drop = FALSE] & answered[some, , drop = FALSE],
    answered = answered[some, , drop = FALSE],
    z = z[some]
  )
  rates <- chance_rates(seen)
  if (too_many_several(seen, rates)) {
    rates <- rates_of_others(seen, rates)
  }
  at_least(chosen, rates_at(rates, z, answered))
}

# Of more students the rates are those of so many of them.
most_fitted <- 5000

standardised <- function(x) {
  spread <- stats::sd(x, na.rm = TRUE)
  if (is.na(spread) || spread < 1e-9) return(numeric(length(x)))
  or_else((x - mean(x, na.rm = TRUE)) / spread, 0)
}

# The intercept of each item and, last, the slope over the rest score, by Newton's
# method. A weak prior (one in four, within 2 on the log-odds; no slope, within 1) keeps
# them finite where nobody or everybody chose.
chance_rates <- function(seen, weight = rep(1, length(seen$z)), start = NULL) {
  k <- ncol(seen$chose)
  prior <- c(rep(stats::qlogis(0.25), k), 0)
  precision <- 1 / c(rep(2, k), 1)^2
  rates <- if (is.null(start)) prior else start
  for (step in 1:30) {
    p <- rates_at(rates, seen$z, seen$answered)
    off <- weight * (seen$chose - p)
    certain <- weight * p * (1 - p)
    slope <- c(colSums(off), sum(seen$z * off)) - (rates - prior) * precision
    curve <- diag(c(colSums(certain), sum(seen$z^2 * certain)) + precision)
    curve[k + 1, seq_len(k)] <- curve[seq_len(k), k + 1] <- colSums(
      seen$z * certain
    )
    change <- solve(curve, slope)
    rates <- rates + pmax(-2, pmin(2, change))
    if (max(abs(change)) < 1e-6) break
  }
  rates
}

# The chance of each student to choose each answer; 0 where the item was not answered.
rates_at <- function(rates, z, answered) {
  k <- ncol(answered)
  odds <- rep(rates[seq_len(k)], each = length(z)) + rates[k + 1] * z
  stats::plogis(matrix(odds, length(z))) * answered
}

# The distribution of the number of independent events with these chances: a row a
# student, a column for 0, 1, 2 ...
number_of_events <- function(chance) {
  n <- matrix(0, nrow(chance), ncol(chance) + 1)
  n[, 1] <- 1
  for (j in seq_len(ncol(chance))) {
    p <- chance[, j]
    n <- n * (1 - p) + cbind(0, n[, -ncol(n), drop = FALSE] * p)
  }
  n
}

at_least <- function(number, chance) {
  n <- number_of_events(chance)
  below <- col(n) <= number # columns stand for one less than their place
  pmax(0, 1 - rowSums(n * below))
}

# Whether the pairs of answers that one student chose are more than chance brings.
too_many_several <- function(seen, rates) {
  n <- number_of_events(rates_at(rates, seen$z, seen$answered))
  pairs <- choose(seq_len(ncol(n)) - 1, 2)
  expected <- as.vector(n %*% pairs)
  variance <- as.vector(n %*% pairs^2) - expected^2
  found <- sum(choose(rowSums(seen$chose), 2))
  spread <- sqrt(sum(variance))
  spread > 1e-9 && (found - sum(expected)) / spread > stats::qnorm(0.95)
}

# Two kinds of students: those who hold the idea choose each of its answers at one rate,
# the others as chance_rates() says.
rates_of_others <- function(seen, rates) {
  chosen <- rowSums(seen$chose)
  chances <- rowSums(seen$answered)
  holds <- ifelse(chosen >= 2 & chosen >= chances / 2, 0.8, 0.05)
  for (turn in 1:20) {
    rates <- chance_rates(seen, 1 - holds, rates)
    rate <- sum(holds * chosen) / max(1e-9, sum(holds * chances))
    rate <- min(0.97, max(0.5, rate))
    p <- rates_at(rates, seen$z, seen$answered)
    log_held <- chosen * log(rate) + (chances - chosen) * log(1 - rate)
    each <- ifelse(seen$chose, log(pmax(p, 1e-12)), log(1 - p))
    log_other <- rowSums(each * seen$answered)
    share <- mean(holds)
    odds <- log(share) - log(1 - share) + log_held - log_other
    before <- holds
    holds <- pmin(0.99, stats::plogis(odds))
    if (max(abs(holds - before)) < 1e-4) break
  }
  rates
}
