# Small groups are not shown where results go to others: their figures are NA
# with the reason, and so are those of as many others as it takes that none of
# them can be worked out from what is shown. within: the columns that say what a
# row is about, apart from its group. `small` goes with the table, for where tables
# are put together.
withhold_small <- function(table, n_column, keep, settings, by, within) {
  least <- settings$smallest_group
  if (!is.null(by) && least > 1) {
    sets <- if (is.null(within)) {
      rep(1, nrow(table))
    } else {
      do.call(paste, c(unname(table[within]), sep = "\r"))
    }
    hidden <- logical(nrow(table))
    for (rows in split(seq_len(nrow(table)), sets)) {
      hidden[rows] <- groups_to_hide(
        table[[n_column]][rows],
        group_above(table[rows, , drop = FALSE], by),
        least
      )
    }
    table[hidden, setdiff(names(table), c(keep, "reason"))] <- NA
    if ("reason" %in% names(table)) table$reason[hidden] <- "small_group"
  }
  structure(table, small = list(n = n_column, keep = keep, within = within))
}

# The row of the group that each lies in; 0 for the outermost.
group_above <- function(table, by) {
  path <- group_paths(table, by)
  if (length(by) == 1) return(integer(length(path)))
  above <- match(sub(paste0(path_separator, "[^", path_separator, "]*$"), "", path), path)
  ifelse(grepl(path_separator, path, fixed = TRUE), above, 0L)
}

# A group is the sum of those in it, and the whole is known. Of such a group and
# its parts none is hidden, or at least two are: each hidden one can then be made
# up for by another, whichever way the sums are combined. What is hidden beside
# the small ones is as small as may be.
groups_to_hide <- function(n, above, least) {
  filled <- !is.na(n) & n > 0
  hidden <- filled & n < least
  if (!any(hidden)) return(hidden)
  repeat {
    before <- hidden
    for (whole in unique(above[filled])) {
      parts <- which(above == whole & filled)
      hidden_whole <- whole > 0 && hidden[whole]
      if (sum(hidden[parts]) + hidden_whole != 1) next
      shown <- parts[!hidden[parts]]
      if (length(shown)) {
        hidden[shown[which.min(n[shown])]] <- TRUE
      } else if (whole > 0) {
        hidden[whole] <- TRUE
      }
    }
    if (identical(before, hidden)) return(hidden)
  }
}
