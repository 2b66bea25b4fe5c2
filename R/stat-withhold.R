# Small groups are not shown where results go to others: their figures are NA
# with the reason, and where one group alone is withheld so is the next
# smallest, or the first could be worked out from the whole.
withhold_small <- function(table, n_column, keep, settings, by, within) {
  least <- settings$smallest_group
  if (is.null(by) || least <= 1) return(table)
  sets <- if (is.null(within)) rep(1, nrow(table)) else table[[within]]
  for (set in unique(sets)) {
    rows <- which(sets == set)
    n <- table[[n_column]][rows]
    hidden <- n < least & n > 0
    if (sum(hidden) == 1 && any(!hidden & n > 0)) {
      next_smallest <- which(!hidden & n > 0)
      hidden[next_smallest[which.min(n[next_smallest])]] <- TRUE
    }
    table[rows[hidden], setdiff(names(table), c(keep, "reason"))] <- NA
    if ("reason" %in% names(table)) table$reason[rows[hidden]] <- reasons[["small"]]
  }
  table
}
