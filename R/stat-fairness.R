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
#'   * items with two point values: `odds_ratio`: Mantel-Haenszel's common odds of earning
#'     the points, reference to focal, over strata of equal total score, the item's own
#'     points included (Mantel & Haenszel 1959; Holland & Thayer 1988). Neighbouring
#'     scores are joined until a stratum holds 3 students of each group (Donoghue & Allen
#'     1993); `delta`: -2.35 ln(odds ratio), below 0 when the item is harder for the focal
#'     group, with its 95% interval `delta_low`, `delta_high` (variance of Robins, Breslow
#'     & Greenland 1986);
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
#'   * `reason`: why the figures are `NA`: `few_in_group` (fewer than 20; below the
#'     setting `smallest_group` nothing of it is shown), `no_rest` (no score was reached
#'     by both groups), or the item's own reason.
#'
#'   Of many items some reach p < .05 by chance: 1 in 20 where nothing is there.
#' @references Donoghue, J. R. & Allen, N. L. (1993). Thin versus thick matching in the
#' Mantel-Haenszel procedure for detecting DIF. *Journal of Educational Statistics* 18,
#' 131-154.
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
  sizes <- tapply(
    tally$bins$n,
    factor(tally$bins$group, seq_along(tally$groups)),
    sum
  )
  sizes[is.na(sizes)] <- 0
  pair <- groups_to_compare(
    tally$groups,
    sizes,
    by,
    reference,
    focal
  )
  counts <- counts_with_shares(tally)
  pieces <- lapply(pair$focal, function(group) {
    both <- match(c(pair$reference, group), tally$groups)
    table <- compare_groups(
      tally,
      counts,
      both,
      min(sizes[both]) < least_compared
    )
    too_small <- min(sizes[both]) < settings$smallest_group
    table[too_small, setdiff(names(table), "reason")] <- NA
    data.frame(
      reference = pair$reference,
      focal = group,
      item = tally$items$item,
      type = tally$about$items$type,
      table
    )
  })
  new_summary(
    do.call(rbind, pieces),
    "fairness",
    settings,
    NULL,
    column = by
  )
}

least_compared <- 20

groups_to_compare <- function(groups, sizes, by, reference, focal) {
  known <- setdiff(groups, "(none)")
  unknown <- setdiff(c(reference, focal), known)
  if (length(unknown)) {
    abort_pregunta(
      "call",
      say(
        "stat-fairness.there_is_no_group",
        unknown = quoted(unknown[1]),
        by = by
      ),
      say("stat-fairness.groups", known = some_of(known, 12)),
      did_you_mean(unknown[1], known)
    )
  }
  if (length(known) < 2) {
    abort_pregunta(
      "call",
      say("stat-fairness.there_are_no_two", by = by),
      say("stat-fairness.groups", known = some_of(known)),
      say("stat-fairness.give_a_column_of")
    )
  }
  if (is.null(reference)) {
    left <- setdiff(known, focal)
    reference <- left[which.max(sizes[match(left, groups)])]
  }
  if (is.null(focal)) {
    focal <- setdiff(known, reference)
  }
  if (length(reference) != 1 || reference %in% focal) {
    given <- some_of(c(reference, focal))
    abort_pregunta(
      "call",
      say("stat-fairness.the_reference_group_cannot"),
      say("stat-fairness.given", reference = given),
      say("stat-fairness.name_two_different_groups")
    )
  }
  list(reference = reference, focal = focal)
}

# The counts, and the share of its item's points that each stands for.
counts_with_shares <- function(tally) {
  counts <- tally$counts
  points <- unlist(lapply(tally$cells, `[[`, "points"))
  x <- points[cell_offsets(tally$cells)[counts$item] + counts$code]
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
  key <- ((side[use] - 1L) * n_items + counts$item[use] - 1L) * n_strata +
    stratum
  sums <- sum_by(
    list(
      n = counts$count[use],
      x = counts$count[use] * share,
      xx = counts$count[use] * share^2
    ),
    key,
    2L * n_items * n_strata
  )
  at <- function(column) array(sums[, column], c(n_strata, n_items, 2))
  n <- at("n")
  x <- at("x")
  xx <- at("xx")
  figures <- lapply(seq_len(n_items), function(j) {
    mine <- counts$item[use] == j
    values <- unique(share[mine])
    item_fairness(
      n[, j, ],
      x[, j, ],
      xx[, j, ],
      length(values),
      max(values, 0),
      too_few
    )
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
  n <- sum_by(
    list(
      a = bins$n[here] * (side[here] == 1),
      b = bins$n[here] * (side[here] == 2)
    ),
    at,
    length(scores)
  )
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
  if (any(held > 0)) {
    joined[joined == stratum] <- max(1L, stratum - 1L)
  }
  strata <- rep(NA_integer_, nrow(bins))
  strata[here] <- joined[at]
  strata
}
