#' Is a part of the test worth a score of its own?
#'
#' The reliability of the test in strata, and for each part (a standard, a type,
#' a tag) whether its own score says more about a student on that part than the
#' score on the whole test does.
#'
#' @inheritParams summarise_decisions
#' @param strata "standards", or the name of a column of the items such as
#'   "type" or a tag.
#' @return A data frame, a row a part (and group):
#'   * `part`; `title` of a standard; `items`, `points` and `n` (students given
#'     every counted item);
#'   * `share`: mean share of its points; `alpha` of the part, with the interval
#'     `alpha_low`, `alpha_high` after Feldt, as in [summarise_test()];
#'   * `by_part`: share of the variance of true scores on the part that its own score
#'     predicts (its alpha); `by_total`: that the total predicts, (cov(S, X) - s²\[S\](1 -
#'     alpha\[S\]))² / (alpha\[S\] s²\[S\] s²\[X\]) for part S and total X, at most 1
#'     (Haberman 2008: proportional reduction in mean squared error);
#'   * `worth`: "yes" when `by_part` is the larger, "no" when it is not;
#'     with `bootstrap` "unsure" when the interval of their difference,
#'     `gain_low`, `gain_high`, holds 0;
#'   * `stratified_alpha`: of the whole test, 1 - Σ s²\[g\](1 - alpha\[g\]) / s²\[T\] over
#'     strata g, the same in every row (Cronbach, Schönemann & McKie 1965); an
#'     item with several standards is in the stratum of the first, a stratum of
#'     one item has alpha 0; with `bootstrap` with `stratified_low`, `stratified_high`;
#'   * `reason`: why `worth` is `NA`: `few_items`, `no_reliability`, or why alpha of
#'     the test is.
#' @references Cronbach, L. J., Schönemann, P. & McKie, D. (1965). Alpha coefficients for
#' stratified-parallel tests. *Educational and Psychological Measurement* 25, 291-312.
#'
#' Haberman, S. J. (2008). When can subscores have value? *Journal of Educational
#' and Behavioral Statistics* 33, 204-229.
#' @section Errors: `pregunta_error_call` when `strata` is no column of the
#'   items or they have nothing in it, or `by` none of the students.
#' @export
#' @examples
#' summarise_parts(read_sitting(demo_path()))
#' summarise_parts(read_sitting(demo_path()), strata = "type")
summarise_parts <- function(sitting, strata = "standards", by = NULL,
                            bootstrap = 0, seed = 1) {
  check_is_sitting(sitting)
  check_bootstrap(sitting, bootstrap, seed)
  single_column(by)
  parts <- parts_of_test(sitting, strata)
  points <- cell_points(sitting)
  counted <- seq_len(ncol(points)) %in% counted_columns(
    points[was_present(sitting), , drop = FALSE]
  )
  pieces <- lapply(rows_by_group(sitting, by), function(rows) {
    part_figures(
      points[rows, , drop = FALSE],
      counted & colSums(!is.na(points[rows, , drop = FALSE])) > 0,
      sitting$items$points,
      parts,
      bootstrap,
      seed
    )
  })
  row <- rep(seq_len(nrow(parts$table)), length(pieces))
  table <- cbind(parts$table[row, ], do.call(rbind, unname(pieces)))
  groups <- list(by = by, groups = student_groups(sitting, by)$labels)
  table <- with_group(table, groups, nrow(parts$table))
  table <- withhold_small(
    table,
    "n",
    c("part", "title", "items", "points", by),
    sitting$settings,
    by,
    "part"
  )
  new_summary(
    table,
    "parts",
    sitting$settings,
    by,
    strata = strata
  )
}

# items: the numbers of each part's items; stratum: each item's only stratum.
parts_of_test <- function(sitting, strata) {
  by_standard <- identical(strata, "standards")
  tree <- if (by_standard) {
    standards_in_use(sitting)
  } else {
    tags_in_use(sitting, strata)
  }
  if (!length(tree$items)) abort_no_parts(sitting, strata)
  tags <- split_codes(as.character(sitting$items[[strata]]))
  list(
    items = tree$items,
    stratum = vapply(tags, function(codes) c(codes, NA)[1], ""),
    table = data.frame(part = tree$table$code, title = tree$table$title)
  )
}

part_figures <- function(points, counted, most, parts, bootstrap, seed) {
  complete <- points[
    rowSums(is.na(points[, counted, drop = FALSE])) == 0,
    counted,
    drop = FALSE
  ]
  members <- lapply(parts$items, function(items) {
    which(which(counted) %in% items)
  })
  stratum <- parts$stratum[counted]
  n <- nrow(complete)
  why <- why_no_reliability(points[, counted, drop = FALSE])
  figures <- if (n > 1) {
    parts_from(stats::cov(complete), members, stratum)
  } else {
    parts_from(NULL, members, stratum)
  }
  feldt <- feldt_interval(
    figures$alpha,
    max(n, 2),
    pmax(lengths(members), 2)
  )
  part_most <- vapply(parts$items, function(items) {
    sum(most[items[counted[items]]])
  }, 0)
  # A tie, but for the last digits, is no gain.
  worth <- ifelse(
    figures$by_part > figures$by_total + 1e-9,
    "yes",
    "no"
  )
  table <- data.frame(
    items = lengths(members),
    points = part_most,
    n = n,
    share = vapply(seq_along(members), function(s) {
      if (n && part_most[s] > 0) {
        mean(rowSums(complete[, members[[s]], drop = FALSE])) / part_most[s]
      } else {
        NA_real_
      }
    }, 0),
    alpha = figures$alpha,
    alpha_low = feldt$low,
    alpha_high = feldt$high,
    by_part = figures$by_part,
    by_total = figures$by_total,
    worth = worth,
    stratified_alpha = figures$stratified,
    reason = data.table::fcase(
      !is.na(worth), NA_character_,
      lengths(members) < 2, "few_items",
      default = if (is.na(why)) "no_reliability" else why
    )
  )
  if (bootstrap > 0) {
    table <- with_part_bounds(
      table,
      complete,
      members,
      stratum,
      bootstrap,
      seed
    )
  }
  table
}

abort_no_parts <- function(sitting, strata) {
  others <- setdiff(tag_columns(sitting$items), strata)
  abort_pregunta(
    "call",
    say("stat-parts.no_item_names_one", strata = strata),
    say("stat-standards.tags", columns = some_of(others, 12)),
    say("stat-parts.name_another", other = others[1])
  )
}

# From the covariances of the counted items.
parts_from <- function(covariance, members, stratum) {
  none <- rep(NA_real_, length(members))
  if (is.null(covariance)) {
    return(list(
      alpha = none,
      by_part = none,
      by_total = none,
      stratified = NA_real_
    ))
  }
  whole <- sum(covariance)
  own <- diag(covariance)
  spread <- vapply(members, function(j) sum(covariance[j, j]), 0)
  alpha <- alpha_of(
    lengths(members),
    vapply(members, function(j) sum(own[j]), 0),
    spread
  )
  true <- alpha * spread
  shared <- vapply(members, function(j) sum(covariance[j, ]), 0) -
    (spread - true)
  defined <- !is.na(alpha) & alpha > 1e-9 & whole > 1e-12
  by_total <- ifelse(
    defined,
    pmin(1, shared^2 / (true * whole)),
    NA_real_
  )
  list(
    alpha = alpha,
    by_part = ifelse(defined, alpha, NA_real_),
    by_total = by_total,
    stratified = stratified_alpha(covariance, stratum)
  )
}

# Cronbach, Schönemann & McKie 1965. An item without a stratum is one of its own.
stratified_alpha <- function(covariance, stratum) {
  whole <- sum(covariance)
  if (nrow(covariance) < 2 || whole < 1e-12) return(NA_real_)
  alone <- is.na(stratum)
  stratum[alone] <- paste0("\r", which(alone))
  error <- vapply(split(seq_along(stratum), stratum), function(j) {
    spread <- sum(covariance[j, j])
    if (length(j) < 2 || spread < 1e-12) return(spread)
    spread *
      (1 - alpha_of(length(j), sum(diag(covariance)[j]), spread))
  }, 0)
  1 - sum(error) / whole
}

# The gain of each part and the stratified alpha of resampled students, a row a column of
# weights: as parts_from() has them, of the spread of scores instead of the covariances of
# all pairs of items.
drawn_parts <- function(points, weights, members, stratum) {
  n <- nrow(points)
  strata <- split(seq_along(stratum), stratum)
  score <- function(sets) {
    vapply(sets, function(j) rowSums(points[, j, drop = FALSE]), numeric(n))
  }
  scores <- list(item = points, part = score(members), stratum = score(strata))
  total <- rowSums(points)
  sums <- function(x) crossprod(weights, x)
  spread_of <- function(x) (sums(x^2) - sums(x)^2 / n) / max(1, n - 1)
  spread <- lapply(scores, spread_of)
  products <- sums(scores$part * total)
  apart <- sums(scores$part) * as.vector(sums(total)) / n
  with_total <- (products - apart) / max(1, n - 1)
  whole <- as.vector(spread_of(total))
  own <- function(sets) {
    vapply(sets, function(j) rowSums(spread$item[, j, drop = FALSE]), whole)
  }
  alpha <- function(sets, spread) {
    by_set <- rep(lengths(sets), each = length(whole))
    values <- alpha_of(by_set, as.vector(own(sets)), as.vector(spread))
    matrix(values, length(whole))
  }
  by_part <- alpha(members, spread$part)
  true <- by_part * spread$part
  shared <- with_total - (spread$part - true)
  by_total <- pmin(1, shared^2 / (true * whole))
  gain <- by_part - by_total
  gain[!(by_part > 1e-9 & whole > 1e-12)] <- NA
  # An item without a stratum is one of its own.
  error <- rowSums(spread$item[, is.na(stratum), drop = FALSE])
  if (length(strata)) {
    of_stratum <- spread$stratum * (1 - alpha(strata, spread$stratum))
    plain <- rep(lengths(strata) < 2, each = length(whole)) | spread$stratum < 1e-12
    of_stratum[plain] <- spread$stratum[plain]
    error <- error + rowSums(of_stratum)
  }
  stratified <- ifelse(whole < 1e-12, NA_real_, 1 - error / whole)
  if (ncol(points) < 2) stratified[] <- NA_real_
  cbind(gain, stratified)
}

with_part_bounds <- function(table, points, members, stratum, replicates,
                             seed) {
  draws <- bootstrap_draws(nrow(points), replicates, seed)
  batches <- split(seq_len(replicates), seq_len(replicates) %/% 100)
  drawn <- lapply(batches, function(some) {
    weights <- draws[, some, drop = FALSE] + 0
    drawn_parts(points, weights, members, stratum)
  })
  drawn <- do.call(rbind, drawn)
  bounds <- percentile_interval(drawn)
  last <- length(members) + 1
  table$gain_low <- bounds$low[-last]
  table$gain_high <- bounds$high[-last]
  table$stratified_low <- bounds$low[last]
  table$stratified_high <- bounds$high[last]
  unsure <- !is.na(table$worth) &
    (is.na(table$gain_low) | table$gain_low <= 0 & table$gain_high >= 0)
  table$worth[unsure] <- "unsure"
  table
}
