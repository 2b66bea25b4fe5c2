# What is shown of the test as a whole, and of whether its scores can be trusted.

# target: the reliability that the length of the test is to be reckoned for.
view_test <- function(sitting, by = NULL, bootstrap = NULL, target = NULL,
                      sort = NULL) {
  if (!is.null(target)) {
    sitting$settings$target_reliability <- target
  }
  replicates <- replicates_for(sitting, by, bootstrap)
  rows_sorted(summarise_test(sitting, by, replicates), sort)
}

view_decisions <- function(sitting, cuts = NULL, by = NULL, bootstrap = NULL,
                           sort = NULL) {
  replicates <- replicates_for(sitting, by, bootstrap)
  rows_sorted(
    summarise_decisions(sitting, cuts, by, replicates),
    sort
  )
}

view_parts <- function(sitting, strata = NULL, by = NULL, bootstrap = NULL,
                       sort = NULL) {
  if (is.null(strata)) {
    strata <- "standards"
  }
  replicates <- replicates_for(sitting, by, bootstrap)
  rows_sorted(
    summarise_parts(sitting, strata, by, replicates),
    sort
  )
}

# Resampling is quick for a class; for many groups or a district it is done when it is
# asked for.
most_resampled <- 1e6

replicates_for <- function(sitting, by = NULL, asked = NULL) {
  if (!is.null(asked)) return(asked)
  if (inherits(sitting, "pregunta_stored")) return(0)
  if (is.null(by) && length(sitting$codes) <= most_resampled) 1000 else 0
}

# The scores that students have, and the ends of the scale.
scores_shown <- function(precision) {
  ends <- range(precision$score)
  precision[precision$students > 0 | precision$score %in% ends, ]
}

most_fairness_rows <- 12

# The largest differences first; of the negligible ones no more than fill the table.
# An order that was asked for stays, with all rows.
fairness_shown <- function(fairness) {
  if (!is.null(attr(fairness, "sorted"))) return(fairness)
  rank <- match(fairness$class, c("large", "moderate", "negligible"))
  telling <- sum(rank < 3, na.rm = TRUE)
  ordered <- fairness[order(rank, fairness$p, na.last = TRUE), ]
  utils::head(ordered, max(most_fairness_rows, telling))
}
