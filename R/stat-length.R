#' How many questions would the test need?
#'
#' Reliability at other lengths, if the added questions were like those there.
#'
#' @inheritParams summarise_items
#' @param target Reliabilities to reach, between 0 and 1; by default .70, .80,
#'   .90 and the setting `target_reliability`.
#' @return A data frame, a row a target (and group): `target`; `items` there now, `n`
#'   students given all of them, and their `alpha`; `needed`: J ρ*(1 - alpha) / (alpha (1
#'   - ρ*)) for J items and target ρ*, rounded up (Spearman 1910; Brown 1910);
#'   `needed_low`, `needed_high`: the same at the ends of alpha's 95% interval (Feldt
#'   1965); `more`: `needed - items`, below 0 where fewer would do; `reason`: why they are
#'   `NA`: `no_reliability`, or why alpha is. `needed_high` is `NA` where alpha may be 0:
#'   then no length is surely enough.
#' @references Brown, W. (1910). Some experimental results in the correlation of mental
#' abilities. *British Journal of Psychology* 3, 296-322.
#'
#' Spearman, C. (1910). Correlation calculated from faulty data. *British
#' Journal of Psychology* 3, 271-295.
#' @section Errors: `pregunta_error_call` when a target is not between 0 and 1,
#'   or `by` is no column of the students.
#' @export
#' @examples
#' summarise_lengths(read_sitting(demo_path()), target = 0.9)
summarise_lengths <- function(sitting, target = NULL, by = NULL) {
  tally <- as_tally(sitting, single_column(by))
  settings <- tally$about$settings
  if (is.null(target)) {
    target <- sort(unique(c(0.7, 0.8, 0.9, settings$target_reliability)))
  }
  if (!is.numeric(target) || anyNA(target) || any(target <= 0 | target >= 1)) {
    abort_pregunta(
      "call",
      say("stat-length.a_target_reliability_lies"),
      say("stat-length.given", target = some_of(target)),
      say("stat-length.for_example_0_8")
    )
  }
  test <- test_reliability(tally)
  row <- rep(seq_along(tally$groups), each = length(target))
  items <- colSums(tally$counted)[row]
  wanted <- rep(target, length(tally$groups))
  table <- data.frame(
    target = wanted,
    items = items,
    n = test$n_complete[row],
    alpha = test$alpha[row],
    needed = length_for(wanted, test$alpha[row], items),
    needed_low = length_for(wanted, test$alpha_high[row], items),
    needed_high = length_for(wanted, test$alpha_low[row], items)
  )
  table$more <- table$needed - items
  table$reason <- data.table::fcase(
    is.na(table$alpha), test$reason[row],
    is.na(table$needed), "no_reliability"
  )
  table <- with_group(table, tally, length(target))
  table <- withhold_small(
    table,
    "n",
    c("target", "items", tally$by),
    settings,
    tally$by,
    "target"
  )
  new_summary(table, "lengths", settings, tally$by)
}

# A hair of rounding must not ask for one more item.
length_for <- function(target, alpha, items) {
  defined <- !is.na(alpha) & alpha > 1e-9 & alpha < 1 - 1e-12
  needed <- ceiling(
    items * target * (1 - alpha) / (alpha * (1 - target)) - 1e-9
  )
  data.table::fcase(defined, pmax(1, needed), alpha %in% 1, 1)
}

# Reliability of a test of other length (Spearman 1910; Brown 1910).
stepped_up <- function(alpha, times) times * alpha / (1 + (times - 1) * alpha)
