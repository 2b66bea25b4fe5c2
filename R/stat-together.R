#' Which wrong answers go together?
#'
#' Pairs of wrong answers on different items that the same students chose more
#' often than chance, among students of like scores: perhaps one idea behind
#' both, for a person to name. Pairs whose answers both carry a misconception code have
#' a name already and are left out.
#'
#' @inheritParams review_key
#' @return A data frame, a row a pair, the surest first: `item`, `option`, `text` and
#'   `with_item`, `with_option`, `with_text`: the two answers; `n`: students who were
#'   given both items; `misconception`: the code of the one that has one; `both`: how many
#'   chose both; `expected`: how many would by chance; `odds_ratio`: how many times the
#'   odds of the one are greater among those who chose the other (Mantel & Haenszel 1959;
#'   `Inf` when nobody chose one alone); `p`, `p_adjusted`. The attribute `tested` is the
#'   number of pairs looked at.
#'
#'   Tested one-sided against independence within thirds by total score, with the
#'   continuity correction (Cochran 1954; Mantel & Haenszel 1959); p is adjusted
#'   for the number of pairs (Benjamini & Hochberg 1995), and pairs below .05 that
#'   at least 3 students chose are given. A student belongs to the third that
#'   most of those with the same total are in. Answers that fewer than 3 gave are
#'   not looked at; with under 20 students there is no row.
#' @references Benjamini, Y. & Hochberg, Y. (1995). Controlling the false discovery rate:
#' a practical and powerful approach to multiple testing. *Journal of the Royal
#' Statistical Society B* 57, 289-300.
#'
#' Cochran, W. G. (1954). Some methods for strengthening the common chi-squared
#' tests. *Biometrics* 10, 417-451.
#'
#' Mantel, N. & Haenszel, W. (1959). Statistical aspects of the analysis of data
#' from retrospective studies of disease. *Journal of the National Cancer
#' Institute* 22, 719-748.
#' @export
#' @examples
#' suggest_misconceptions(read_sitting(demo_path()))
suggest_misconceptions <- function(sitting) {
  check_is_sitting(sitting)
  answers <- wrong_answers_given(sitting)
  if (nrow(answers$table) < 2 ||
    nrow(answers$chose) < sitting$settings$thresholds$few_students) {
    return(pairs_table(answers$table, matrix(0L, 0, 2), list(), sitting))
  }
  found <- stratified_pairs(
    answers$chose,
    answers$given[, answers$item],
    score_thirds(sitting)
  )
  table <- answers$table
  # What is coded on both sides has a name already, be it one idea or two.
  coded <- !is.na(table$misconception)
  both_coded <- outer(coded, coded, `&`)
  tested <- which(
    outer(table$item, table$item, `!=`) &
      !both_coded &
      upper.tri(found$both) &
      found$variance > 1e-12,
    arr.ind = TRUE
  )
  pairs_table(table, tested, found, sitting)
}

least_together <- 3

# table: the wrong answers that enough students gave; chose: a row a student
# present, a column each; given: which items each was given.
wrong_answers_given <- function(sitting) {
  tally <- tally_responses(sitting)
  parts <- answer_parts(tally)
  options <- summarise_options(tally, near_misses = FALSE)
  here <- which(
    is_wrong(options) &
      options$count >= least_together &
      !options$item %in% dropped_items(sitting) &
      !is.na(sitting$items$key[match(options$item, sitting$items$item)])
  )
  present <- which(was_present(sitting))
  offset <- cell_offsets(sitting$cells)
  item <- match(options$item[here], sitting$items$item)
  chose <- vapply(seq_along(here), function(k) {
    cells <- parts$member$cell[parts$member$part == here[k]]
    as.numeric((offset[item[k]] + sitting$codes[present, item[k]]) %in% cells)
  }, numeric(length(present)))
  states <- cell_states(sitting)[present, , drop = FALSE]
  never <- match(c("not_given", "excused"), cell_state_names)
  list(
    table = as.data.frame(options)[
      here,
      c("item", "option", "text", "misconception")
    ],
    item = item,
    chose = matrix(chose, length(present)),
    given = matrix(as.numeric(!states %in% never), length(present))
  )
}

# The third of each student present: the one that holds most of the students with
# the same total.
score_thirds <- function(sitting) {
  scores <- row_scores(sitting$codes, sitting$cells)
  present <- was_present(sitting)
  share <- ifelse(
    scores$open > 0,
    round(scores$earned / scores$open, 12),
    NA
  )[
    present
  ]
  totals <- sort(unique(share))
  bins <- data.frame(
    group = 1L,
    earned = totals,
    open = 1,
    n = tabulate(match(share, totals), length(totals))
  )
  third <- max.col(do.call(cbind, third_weights(bins)), ties.method = "first")
  third[match(share, totals)]
}

# For every pair of columns, over the strata: how many chose both, the number
# expected, its variance, and the odds ratio's two sums.
stratified_pairs <- function(chose, given, stratum) {
  zero <- matrix(0, ncol(chose), ncol(chose))
  sums <- list(
    n = zero,
    both = zero,
    expected = zero,
    variance = zero,
    with = zero,
    against = zero
  )
  for (k in unique(stratum[!is.na(stratum)])) {
    x <- chose[which(stratum == k), , drop = FALSE]
    g <- given[which(stratum == k), , drop = FALSE]
    n <- crossprod(g)
    both <- crossprod(x)
    one <- crossprod(x, g) # chose the row's answer, given the column's item
    other <- t(one)
    part <- function(top, bottom) ifelse(bottom > 0, top / bottom, 0)
    sums <- Map(
      `+`,
      sums,
      list(
        n = n,
        both = both,
        expected = part(one * other, n),
        variance = part(one * other * (n - one) * (n - other), n^2 * (n - 1)),
        with = part(both * (n - one - other + both), n),
        against = part((one - both) * (other - both), n)
      )
    )
  }
  sums
}

pairs_table <- function(table, tested, found, sitting) {
  pick <- function(field) {
    if (nrow(tested)) found[[field]][tested] else numeric()
  }
  both <- pick("both")
  expected <- pick("expected")
  p <- stats::pnorm(
    (both - expected - 0.5) / sqrt(pick("variance")),
    lower.tail = FALSE
  )
  adjusted <- stats::p.adjust(p, "BH")
  columns <- c("item", "option", "text")
  first <- table[tested[, 1], columns]
  second <- table[tested[, 2], columns]
  names(second) <- paste0("with_", columns)
  pairs <- cbind(
    first,
    second,
    data.frame(
      misconception = or_else(
        table$misconception[tested[, 1]],
        table$misconception[tested[, 2]]
      ),
      n = pick("n"),
      both = both,
      expected = expected,
      odds_ratio = pick("with") / pick("against"),
      p = p,
      p_adjusted = adjusted
    )
  )
  pairs <- pairs[which(adjusted < 0.05 & both >= least_together), ]
  pairs <- pairs[order(pairs$p), ]
  new_summary(
    pairs,
    "together",
    sitting$settings,
    NULL,
    tested = nrow(tested)
  )
}
