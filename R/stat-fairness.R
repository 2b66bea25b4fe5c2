#' Does a question treat a group unfairly?
#'
#' Compares students of two groups with the same score: does the item give one
#' of them less? A difference in how well the groups did on the whole is not
#' what is asked here.
#'
#' @inheritParams summarise_items
#' @param by The name of a column of the students that names the groups.
#' @param reference The group to compare with; by default the largest.
#' @param focal The groups to look at; by default all others.
#' @return A data frame, a row an item and focal group:
#'   * the groups, `reference` and `focal`; `item`, `type`; `n_reference`,
#'     `n_focal`; `difficulty_reference`, `difficulty_focal`;
#'   * items with two point values: `odds_ratio`: Mantel-Haenszel's common odds
#'     of earning the points, reference to focal, over strata of equal total
#'     score, the item's own points included (Mantel & Haenszel 1959; Holland &
#'     Thayer 1988). Neighbouring scores are joined until a stratum holds 3
#'     students of each group (Donoghue & Allen 1993); `delta`: -2.35 ln(odds ratio), below 0 when the item is
#'     harder for the focal group, with its 95% interval `delta_low`,
#'     `delta_high` (variance of Robins, Breslow & Greenland 1986);
#'   * others: `delta` and `odds_ratio` are `NA`;
#'   * `smd`: standardised mean difference: mean over the focal group's scores of
#'     the difference (focal - reference) of mean shares of the item's points,
#'     with `smd_low`, `smd_high` (Dorans & Schmitt 1993);
#'   * `statistic`, `p`: Mantel-Haenszel's chi-square with continuity correction,
#'     for other items Mantel's (1963), 1 degree of freedom;
#'   * `class`: "negligible": |delta| < 1 or p ≥ .05; "large": |delta| ≥ 1.5 and
#'     significantly above 1; "moderate": between (Zwick & Ercikan 1989). For
#'     other items |smd| as a share of the item's standard deviation stands in
#'     for |delta|, with .17 and .25 for 1 and 1.5, without a second test;
#'   * `favours`: the group that it gives more, when the class is not negligible;
#'   * `reason`: why the figures are `NA`: "fewer than 20 students in a group" (below
#'     the setting `smallest_group` nothing of it is shown),
#'     "no spread in the rest of the test" (no score was reached by both groups),
#'     or the item's own reason.
#'
#'   Of many items some reach p < .05 by chance: 1 in 20 where nothing is there.
#' @references
#' Donoghue, J. R. & Allen, N. L. (1993). Thin versus thick matching in the
#' Mantel-Haenszel procedure for detecting DIF. *Journal of Educational
#' Statistics* 18, 131-154.
#'
#' Dorans, N. J. & Schmitt, A. P. (1993). Constructed response and differential
#' item functioning: a pragmatic approach. In Bennett & Ward (eds),
#' *Construction versus Choice in Cognitive Measurement*. Erlbaum.
#'
#' Holland, P. W. & Thayer, D. T. (1988). Differential item performance and the
#' Mantel-Haenszel procedure. In Wainer & Braun (eds), *Test Validity*. Erlbaum.
#'
#' Mantel, N. (1963). Chi-square tests with one degree of freedom: extensions of
#' the Mantel-Haenszel procedure. *Journal of the American Statistical
#' Association* 58, 690-700.
#'
#' Mantel, N. & Haenszel, W. (1959). Statistical aspects of the analysis of data
#' from retrospective studies of disease. *Journal of the National Cancer
#' Institute* 22, 719-748.
#'
#' Robins, J., Breslow, N. & Greenland, S. (1986). Estimators of the
#' Mantel-Haenszel variance consistent in both sparse data and large-strata
#' limiting models. *Biometrics* 42, 311-323.
#'
#' Zwick, R. & Ercikan, K. (1989). Analysis of differential item functioning in
#' the NAEP history assessment. *Journal of Educational Measurement* 26, 55-66.
#' @section Errors: `pregunta_error_call` when `by` is no column of the students,
#'   a group is not in it, or there is one group only.
#' @export
#' @examples
#' summarise_fairness(read_sitting(demo_path()), by = "boat") |> head(3)
summarise_fairness <- function(sitting, by, reference = NULL, focal = NULL) {
  tally <- as_tally(sitting, by)
  settings <- tally$about$settings
  sizes <- tapply(tally$bins$n, factor(tally$bins$group, seq_along(tally$groups)), sum)
  sizes[is.na(sizes)] <- 0
  pair <- groups_to_compare(tally$groups, sizes, by, reference, focal)
  counts <- counts_with_shares(tally)
  pieces <- lapply(pair$focal, function(group) {
    both <- match(c(pair$reference, group), tally$groups)
    table <- compare_groups(tally, counts, both, min(sizes[both]) < least_compared)
    table[min(sizes[both]) < settings$smallest_group, setdiff(names(table), "reason")] <- NA
    data.frame(reference = pair$reference, focal = group, item = tally$items$item, type = tally$about$items$type, table)
  })
  new_summary(do.call(rbind, pieces), "fairness", settings, NULL) |> structure(column = by)
}

least_compared <- 20

groups_to_compare <- function(groups, sizes, by, reference, focal) {
  known <- setdiff(groups, "(none)")
  unknown <- setdiff(c(reference, focal), known)
  if (length(unknown)) {
    abort_pregunta("call", paste0("There is no group ", quoted(unknown[1]), " in ", by, "."),
      paste0("Groups: ", some_of(known, 12), "."), did_you_mean(unknown[1], known))
  }
  if (length(known) < 2) {
    abort_pregunta("call", paste0("There are no two groups in ", by, " to compare."),
      paste0("Groups: ", some_of(known), "."), "Give a column of students.csv with two values or more.")
  }
  if (is.null(reference)) {
    left <- setdiff(known, focal)
    reference <- left[which.max(sizes[match(left, groups)])]
  }
  if (is.null(focal)) focal <- setdiff(known, reference)
  if (length(reference) != 1 || reference %in% focal) {
    abort_pregunta("call", "The reference group cannot be a focal group too.",
      paste0("Given: ", some_of(c(reference, focal)), "."), "Name two different groups.")
  }
  list(reference = reference, focal = focal)
}

# The counts, and the share of its item's points that each stands for.
counts_with_shares <- function(tally) {
  counts <- tally$counts
  points <- lapply(tally$cells, `[[`, "points")
  x <- unlist(points)[cumsum(c(0, lengths(points)))[counts$item] + counts$code]
  c(counts, list(share = x / tally$items$points[counts$item]))
}

# Mean shares by item, side (1 reference, 2 focal) and stratum of equal scores.
compare_groups <- function(tally, counts, both, too_few) {
  side <- match(tally$bins$group, both)[counts$bin]
  use <- which(!is.na(side) & !is.na(counts$share))
  strata <- score_strata(tally$bins, match(tally$bins$group, both))
  stratum <- strata[counts$bin[use]]
  n_strata <- max(0L, strata, na.rm = TRUE)
  n_items <- nrow(tally$items)
  share <- counts$share[use]
  key <- ((side[use] - 1L) * n_items + counts$item[use] - 1L) * n_strata + stratum
  sums <- sum_by(list(n = counts$count[use], x = counts$count[use] * share, xx = counts$count[use] * share^2), key,
    2L * n_items * n_strata)
  at <- function(column) array(sums[, column], c(n_strata, n_items, 2))
  n <- at("n")
  x <- at("x")
  xx <- at("xx")
  figures <- lapply(seq_len(n_items), function(j) {
    mine <- counts$item[use] == j
    values <- unique(share[mine])
    item_fairness(n[, j, ], x[, j, ], xx[, j, ], length(values), max(values, 0), too_few)
  })
  do.call(rbind, figures)
}

# Students of one stratum have the same score. Where few of a group have it,
# neighbouring scores are joined until it holds enough of both.
least_in_stratum <- 3

score_strata <- function(bins, side) {
  here <- which(!is.na(side) & bins$open > 0)
  share <- round(bins$earned[here] / bins$open[here], 12)
  scores <- sort(unique(share))
  at <- match(share, scores)
  n <- sum_by(list(a = bins$n[here] * (side[here] == 1), b = bins$n[here] * (side[here] == 2)), at, length(scores))
  joined <- integer(length(scores))
  held <- c(0, 0)
  stratum <- 1L
  for (k in seq_along(scores)) {
    joined[k] <- stratum
    held <- held + n[k, ]
    if (all(held >= least_in_stratum)) {
      stratum <- stratum + 1L
      held <- c(0, 0)
    }
  }
  # What is left at the top is too little for a stratum of its own.
  if (any(held > 0)) joined[joined == stratum] <- max(1L, stratum - 1L)
  strata <- rep(NA_integer_, nrow(bins))
  strata[here] <- joined[at]
  strata
}

# n, x, xx: strata by (reference, focal): students, sums and sums of squares of
# shares of the item's points.
item_fairness <- function(n, x, xx, n_values, top, too_few) {
  n <- matrix(n, ncol = 2)
  x <- matrix(x, ncol = 2)
  xx <- matrix(xx, ncol = 2)
  difficulty <- ifelse(colSums(n) > 0, colSums(x) / colSums(n), NA_real_)
  shared <- n[, 1] > 0 & n[, 2] > 0
  reason <- fairness_reason(colSums(n), shared, n_values, top, too_few)
  met <- function(sums) sums[shared, , drop = FALSE]
  found <- list()
  if (is.na(reason)) {
    found <- if (n_values == 2) mantel_haenszel(met(n), met(x) / top) else mantel(met(n), met(x), met(xx))
    found <- with_mean_difference(found, n, x, xx, shared)
  }
  had <- function(name) if (is.null(found[[name]])) NA_real_ else found[[name]]
  class <- if (is.na(reason)) fairness_class(found) else NA_character_
  if (is.na(reason) && is.na(class)) reason <- reasons[["no_rest"]]
  data.frame(
    n_reference = sum(n[, 1]), n_focal = sum(n[, 2]), difficulty_reference = difficulty[1],
    difficulty_focal = difficulty[2], odds_ratio = had("odds_ratio"), delta = had("delta"),
    delta_low = had("delta_low"), delta_high = had("delta_high"), smd = had("smd"), smd_low = had("smd_low"),
    smd_high = had("smd_high"), statistic = had("statistic"), p = had("p"), class = class,
    favours = if (!class %in% c("moderate", "large")) NA_character_ else if (had("smd") < 0) "reference" else "focal",
    reason = reason
  )
}

fairness_reason <- function(sizes, shared, n_values, top, too_few) {
  if (too_few || min(sizes) < least_compared) return(reasons[["few_group"]])
  if (n_values < 2) {
    return(reasons[[if (top > 1 - 1e-9) "all_right" else if (top < 1e-9) "none_right" else "same"]])
  }
  if (any(shared)) NA_character_ else reasons[["no_rest"]]
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
  variance <- sum(p * up) / (2 * sum(up)^2) + sum(p * down + q * up) / (2 * sum(up) * sum(down)) +
    sum(q * down) / (2 * sum(down)^2)
  expected <- n[, 1] * (a + c) / all
  spread <- n[, 1] * n[, 2] * (a + c) * (b + d) / (all^2 * pmax(all - 1, 1))
  statistic <- if (sum(spread) > 1e-12) max(0, abs(sum(a - expected)) - 0.5)^2 / sum(spread) else NA_real_
  delta <- -2.35 * log(ratio)
  error <- 2.35 * sqrt(variance)
  estimable <- is.finite(delta) && is.finite(error)
  z <- stats::qnorm(upper_tail)
  list(
    odds_ratio = if (is.nan(ratio)) NA_real_ else ratio, delta = if (estimable) delta else NA_real_,
    delta_low = if (estimable) delta - z * error else NA_real_,
    delta_high = if (estimable) delta + z * error else NA_real_, error = error,
    statistic = statistic, p = stats::pchisq(statistic, 1, lower.tail = FALSE)
  )
}

# Mantel 1963: the focal group's sum of points against its expectation.
mantel <- function(n, x, xx) {
  all <- rowSums(n)
  sum <- rowSums(x)
  expected <- n[, 2] * sum / all
  spread <- n[, 1] * n[, 2] * (all * rowSums(xx) - sum^2) / (all^2 * pmax(all - 1, 1))
  statistic <- if (sum(spread) > 1e-12) sum(x[, 2] - expected)^2 / sum(spread) else NA_real_
  list(statistic = statistic, p = stats::pchisq(statistic, 1, lower.tail = FALSE))
}

# Weighted by the focal group; its error from the variance within strata, which
# all of them share.
with_mean_difference <- function(found, n, x, xx, shared) {
  weight <- n[shared, 2] / sum(n[shared, 2])
  means <- x[shared, , drop = FALSE] / n[shared, , drop = FALSE]
  found$smd <- sum(weight * (means[, 2] - means[, 1]))
  within <- sum(xx - ifelse(n > 0, x^2 / pmax(n, 1), 0)) / max(1, sum(n) - sum(n > 0))
  error <- if (within > 1e-12) sqrt(sum(weight^2 * within * rowSums(1 / n[shared, , drop = FALSE]))) else NA_real_
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
    return(c("negligible", "moderate", "large")[1 + sum(size >= fairness_cuts$smd)])
  }
  # In no stratum did the one group miss it or the other earn it: no odds, and how far above 1 cannot be told.
  if (is.na(found$delta)) return("moderate")
  if (abs(found$delta) < fairness_cuts$delta[1]) return("negligible")
  surely <- (abs(found$delta) - 1) / found$error > stats::qnorm(0.95)
  if (abs(found$delta) >= fairness_cuts$delta[2] && surely) "large" else "moderate"
}
