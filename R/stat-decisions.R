#' How sure is a pass decision?
#'
#' The share of students who would get the same decision on a parallel test,
#' for the cut of each level and for all levels at once, or for cuts of one's
#' own.
#'
#' @inheritParams summarise_items
#' @param cut Cuts as shares of the points, between 0 and 1; by default those of
#'   the setting `levels`.
#' @param bootstrap The number of replicates for the intervals, 0 for none.
#' @param seed Of the replicates: the same seed gives the same intervals.
#' @return A data frame, a row a cut (and group): `decision`: the level's name,
#'   `all_levels` or `pass`; `cut`, a share, and `cut_points`; `n`: students
#'   given every counted item; `passed` and `pass_share`: who reached it, with the
#'   95% Wilson score interval `pass_low`, `pass_high`;
#'   * `agreement`: share of students with the same decision on a parallel test,
#'     and `kappa`, what is left of it beyond chance: by the beta-binomial
#'     method on the effective test length (Livingston & Lewis 1995). The true
#'     scores follow a beta distribution whose range is estimated too, or, where
#'     that gives a range outside 0..1, a beta distribution on 0..1;
#'   * `reliability` that the method is given: (1 - Σ s²\[j\] / s²\[T\]) / (1 - Σ (s\[jT\]
#'     / s²\[T\])²), s\[jT\] the covariance of item j with the total, which unlike
#'     alpha is not too low where items give different points (Feldt & Brennan
#'     1989); `effective_length`: (M(P - M) - r s²) / (s² (1 - r)), for mean M,
#'     points P and variance s² of the totals and reliability r;
#'   * `dependability`: Φ(λ) = 1 - (M(1-M) - S²) / ((J-1) ((M-λ)² + S²)), M and
#'     S² (with n) of the shares, for a cut λ and J items of 0 or 1 (Brennan &
#'     Kane 1977); `NA` for other items and for `all_levels`;
#'   * `reason`: why `agreement` is `NA`: `few_students` (under 10), why alpha
#'     is, or `no_reliability` (it is not above 0);
#'   * with `bootstrap`, 95% percentile intervals over students:
#'     `agreement_low`, `agreement_high`, and so on for `kappa` and
#'     `dependability`.
#'
#'   A student passes who reaches the cut; between two scores that are possible
#'   the cut lies half way.
#' @references Brennan, R. L. & Kane, M. T. (1977). An index of dependability for mastery
#' tests. *Journal of Educational Measurement* 14, 277-289.
#'
#' Feldt, L. S. & Brennan, R. L. (1989). Reliability. In Linn (ed.), *Educational
#' Measurement*, 3rd edition, 105-146. Macmillan.
#'
#' Livingston, S. A. & Lewis, C. (1995). Estimating the consistency and accuracy
#' of classifications based on test scores. *Journal of Educational Measurement*
#' 32, 179-197.
#'
#' Takahasi, H. & Mori, M. (1974). Double exponential formulas for numerical
#' integration. *Publications of the Research Institute for Mathematical Sciences* 9,
#' 721-741.
#'
#' Lord, F. M. (1965). A strong true-score theory, with applications.
#' *Psychometrika* 30, 239-270.
#' @section Errors: `pregunta_error_call` when a cut is not between 0 and 1, `by`
#'   is no column of the students, or a tally is given with `bootstrap`.
#' @export
#' @examples
#' summarise_decisions(read_sitting(demo_path()))
#' summarise_decisions(read_sitting(demo_path()), cut = 0.6)
summarise_decisions <- function(sitting, cut = NULL, by = NULL, bootstrap = 0,
                                seed = 1) {
  check_bootstrap(sitting, bootstrap, seed)
  tally <- as_tally(sitting, single_column(by))
  settings <- tally$about$settings
  decisions <- decisions_for(cut, settings)
  alpha <- test_reliability(tally)
  most <- most_of_groups(tally)
  parts <- points_unit(
    unlist(lapply(tally$cells, function(cell) c(cell$points, cell$most)))
  )
  zero_one <- all_zero_one(tally)
  complete <- complete_bins(tally)
  pieces <- lapply(seq_along(tally$groups), function(g) {
    bins <- tally$bins[tally$bins$group == g & complete, ]
    had <- tally$scores[
      tally$scores$group == g & with_all_items(tally, tally$scores),
    ]
    decide(
      bins$earned / most[g],
      bins$n,
      vapply(single_cuts(decisions), function(cut) {
        sum(had$n[reaches(had$earned / most[g], cut)])
      }, 0),
      alpha[g, ],
      decisions,
      most[g],
      1 / (parts * most[g]),
      if (zero_one) sum(tally$counted[, g]) else NA
    )
  })
  table <- do.call(rbind, pieces)
  if (bootstrap > 0) {
    bounds <- decision_bounds(
      sitting,
      by,
      decisions,
      parts,
      zero_one,
      bootstrap,
      seed
    )
    bounds[is.na(table$agreement), ] <- NA
    table <- cbind(table, bounds)
  }
  table <- with_group(table, tally, length(decisions))
  table$missed <- table$n - table$passed
  table <- withhold_small(
    table,
    "n",
    c("decision", "cut", "cut_points", tally$by),
    settings,
    tally$by,
    "decision",
    list(counts_of_students(
      c("passed", "missed"),
      with = list(passed = pass_shares)
    ))
  )
  table$missed <- NULL
  new_summary(table, "decisions", settings, tally$by)
}

pass_shares <- c("pass_share", "pass_low", "pass_high")

# Named cuts; the last of several stands for all of them.
decisions_for <- function(cut, settings) {
  if (is.null(cut)) {
    cuts <- unlist(settings$levels)[-1]
    if (!length(cuts)) {
      cuts <- c(pass = settings$mastery_cut)
    }
    decisions <- as.list(cuts)
    return(c(decisions, if (length(cuts) > 1) list(all_levels = unname(cuts))))
  }
  if (!is.numeric(cut) || anyNA(cut) || any(cut <= 0 | cut > 1)) {
    abort_pregunta(
      "call",
      say("stat-decisions.a_cut_is_a"),
      say("stat-decisions.given", cut = some_of(cut)),
      say("stat-decisions.for_example_0_7")
    )
  }
  stats::setNames(as.list(cut), rep("pass", length(cut)))
}

# The cut of each decision, NA where several stand together.
single_cuts <- function(decisions) {
  vapply(decisions, function(cuts) {
    if (length(cuts) == 1) unname(cuts) else NA_real_
  }, 0)
}

# Of fewer students no distribution of scores can be told.
least_decided <- 10

# share, n: what the items gave the complete students, and how many have each; passed:
# how many reached each cut, extra points and all; step: the smallest difference of two
# shares.
decide <- function(share, n, passed, alpha, decisions, most, step, k) {
  cut <- single_cuts(decisions)
  total <- sum(n)
  pass_share <- if (total > 0) passed / total else rep(NA_real_, length(passed))
  around <- wilson_interval(pass_share, total)
  model <- if (total >= least_decided) true_scores(share, n, alpha$congeneric)
  found <- vapply(
    decisions,
    function(cuts) agreement_at(model, passing_share(cuts, step)),
    c(0, 0)
  )
  why <- if (total < least_decided) {
    "few_students"
  } else if (is.na(alpha$alpha)) {
    alpha$reason
  } else {
    "no_reliability"
  }
  reason <- ifelse(is.na(found[1, ]), why, NA_character_)
  data.frame(
    decision = names(decisions),
    cut = cut,
    cut_points = cut * most,
    n = total,
    passed = passed,
    pass_share = pass_share,
    pass_low = around$low,
    pass_high = around$high,
    agreement = found[1, ],
    kappa = found[2, ],
    reliability = alpha$congeneric,
    effective_length = if (is.null(model)) NA_real_ else model$length,
    dependability = dependability(share, n, cut, k),
    reason = reason
  )
}

# Half a step below the lowest score that passes.
passing_share <- function(cuts, step) {
  ceiling(cuts / step - 1e-6) * step - step / 2
}

# The distribution of true scores as points with weights, and the effective
# length; NULL where there is none. With 401 points agreement and kappa are those of
# the integral to 1e-8, with 151 nearly always to 1e-5, wherever the cut is.
true_scores <- function(share, n, reliability, nodes = 401) {
  if (is.na(reliability) || reliability < 1e-9 || reliability > 1 - 1e-9) {
    return(NULL)
  }
  mean <- sum(n * share) / sum(n)
  variance <- sum(n * (share - mean)^2) / (sum(n) - 1)
  length <- (mean * (1 - mean) - reliability * variance) /
    (variance * (1 - reliability))
  if (length < 1) return(NULL)
  shape <- beta_shape(
    true_moments(share, n, round(length)),
    mean,
    reliability * variance
  )
  if (is.null(shape)) return(NULL)
  quantiles <- beta_points(shape$a, shape$b, nodes)
  list(
    length = length,
    at = shape$low + (shape$high - shape$low) * quantiles$at,
    weight = quantiles$weight
  )
}

# Quantiles of a beta distribution and their weights in a mean over it, by the
# double exponential rule (Takahasi & Mori 1974): the points crowd towards both
# tails, where equally likely ones leave out what a cut in the tail is about.
beta_points <- function(a, b, nodes) {
  at <- seq(-3.3, 3.3, length.out = nodes)
  tail <- stats::plogis(-abs(pi * sinh(at)))
  weight <- cosh(at) * tail * (1 - tail)
  # Where a shape is all but a point at an end, R warns of a last digit that does not
  # matter here.
  quantile <- suppressWarnings(ifelse(
    at < 0,
    stats::qbeta(tail, a, b),
    stats::qbeta(tail, a, b, lower.tail = FALSE)
  ))
  list(at = quantile, weight = weight / sum(weight))
}

# The first four moments of binomial true scores from factorial moments of the
# observed ones on the effective length (Lord 1965).
true_moments <- function(share, n, length) {
  score <- share * length
  product <- rep(1, length(score))
  vapply(1:4, function(k) {
    product <<- product * (score - k + 1) / (length - k + 1)
    sum(n * product) / sum(n)
  }, 0)
}

# Beta with a range of its own by four moments; where they do not fit into 0..1,
# beta on 0..1 by two.
beta_shape <- function(raw, mean, variance) {
  two <- function() {
    size <- mean * (1 - mean) / variance - 1
    if (size > 0) {
      list(
        a = mean * size,
        b = (1 - mean) * size,
        low = 0,
        high = 1
      )
    }
  }
  m2 <- raw[2] - raw[1]^2
  if (anyNA(raw) || !all(is.finite(raw)) || m2 < 1e-9) return(two())
  skew <- (raw[3] - 3 * raw[1] * raw[2] + 2 * raw[1]^3) / m2^1.5
  kurtosis <- (raw[4] -
    4 * raw[1] * raw[3] +
    6 * raw[1]^2 * raw[2] -
    3 * raw[1]^4) /
    m2^2
  size <- 6 * (kurtosis - skew^2 - 1) / (6 + 3 * skew^2 - 2 * kurtosis)
  if (!is.finite(size) || size <= 0) return(two())
  lean <- (size + 2) * skew / sqrt(skew^2 * (size + 2)^2 + 16 * (size + 1))
  a <- size / 2 * (1 - lean)
  b <- size / 2 * (1 + lean)
  if (a <= 0 || b <= 0) return(two())
  width <- sqrt(m2 * (size + 1) / (a * b)) * size
  low <- raw[1] - width * a / size
  if (low < 0 || low + width > 1) return(two())
  list(a = a, b = b, low = low, high = low + width)
}

# Agreement and kappa where a score of at least each cut's share is needed. The
# binomial tail as an incomplete beta function, so that the effective length
# and the cut on it need not be whole.
agreement_at <- function(model, cuts) {
  if (is.null(model)) return(c(NA_real_, NA_real_))
  reach <- vapply(cuts, function(cut) {
    wanted <- cut * model$length + 0.5
    stats::pbeta(
      model$at,
      wanted,
      pmax(model$length - wanted + 1, 1e-6)
    )
  }, model$at)
  in_each <- cbind(1, reach) - cbind(reach, 0)
  agreement <- sum(model$weight * rowSums(in_each^2))
  chance <- sum(colSums(model$weight * in_each)^2)
  c(
    agreement,
    if (chance < 1 - 1e-9) (agreement - chance) / (1 - chance) else NA_real_
  )
}

# Brennan & Kane 1977.
dependability <- function(share, n, cut, k) {
  if (is.na(k) || k < 2 || sum(n) < 2) return(rep(NA_real_, length(cut)))
  mean <- sum(n * share) / sum(n)
  spread <- sum(n * (share - mean)^2) / sum(n)
  1 - (mean * (1 - mean) - spread) / ((k - 1) * ((mean - cut)^2 + spread))
}

# parts: into how many a point is cut.
decision_bounds <- function(sitting, by, decisions, parts, zero_one, replicates,
                            seed) {
  points <- cell_points(sitting)
  cuts <- single_cuts(decisions)
  pieces <- lapply(rows_by_group(sitting, by), function(rows) {
    counted <- counted_columns(points[rows, , drop = FALSE])
    most <- sum(sitting$items$points[counted])
    step <- 1 / (parts * most)
    k <- if (zero_one) length(counted) else NA
    rows <- points[rows, counted, drop = FALSE]
    reliability <- spread_congeneric(
      resample_spread(rows, FALSE, replicates, seed)
    )
    complete <- rowSums(is.na(rows)) == 0
    share <- rowSums(rows[complete, , drop = FALSE]) / most
    draws <- bootstrap_draws(nrow(rows), replicates, seed)[
      complete, ,
      drop = FALSE
    ]
    values <- vapply(seq_len(replicates), function(b) {
      drawn <- draws[, b] > 0
      model <- true_scores(
        share[drawn],
        draws[drawn, b],
        reliability[b],
        nodes = 151
      )
      found <- vapply(decisions, function(cuts) {
        agreement_at(model, passing_share(cuts, step))
      }, c(0, 0))
      rbind(
        found,
        dependability(share[drawn], draws[drawn, b], cuts, k)
      )
    }, matrix(0, 3, length(decisions)))
    bounds <- lapply(1:3, function(figure) {
      drawn <- matrix(values[figure, , ], length(decisions))
      percentile_interval(t(drawn))
    })
    figures <- rep(c("agreement", "kappa", "dependability"), each = 2)
    named <- unlist(bounds, recursive = FALSE)
    names(named) <- paste0(figures, c("_low", "_high"))
    data.frame(named)
  })
  do.call(rbind, unname(pieces))
}
