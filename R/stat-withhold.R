# Small groups are not shown where results go to others: their figures are NA
# with the reason, and so are those of as many others as it takes that none of
# them can be worked out from what is shown. within: the columns that say what a
# row is about, apart from its group; cells: see counts_of_students(). `small` goes with
# the table, for where tables are put together.
withhold_small <- function(table, n_column, keep, settings, by, within,
                           cells = list()) {
  least <- settings$smallest_group
  for (one in cells) {
    table <- withhold_cells(
      table,
      one,
      settings,
      by,
      within,
      table[[n_column]]
    )
  }
  if (!is.null(by) && least > 1 && nrow(table)) {
    hidden <- leaves_few(table, by, settings) |
      group_paths(table, by) %in% told_together(settings, by)
    for (rows in sets_of_rows(table, within)) {
      hidden[rows] <- groups_to_hide(
        table[[n_column]][rows],
        group_above(table[rows, , drop = FALSE], by),
        least,
        hidden[rows]
      )
    }
    table[hidden, setdiff(names(table), c(keep, "reason"))] <- NA
    if ("reason" %in% names(table)) {
      table$reason[hidden] <- "small_group"
    }
  }
  small <- list(
    n = n_column,
    keep = keep,
    within = within,
    cells = cells
  )
  structure(table, small = small)
}

# The row of the group that each lies in; 0 for the outermost.
group_above <- function(table, by) {
  path <- group_paths(table, by)
  if (length(by) == 1) return(integer(length(path)))
  above <- match(
    sub(
      paste0(path_separator, "[^", path_separator, "]*$"),
      "",
      path
    ),
    path
  )
  ifelse(grepl(path_separator, path, fixed = TRUE), above, 0L)
}

# A group is the sum of those in it, and the whole is known. Of such a group and
# its parts none is hidden, or at least two are: each hidden one can then be made
# up for by another, whichever way the sums are combined. What is hidden beside
# the small ones is as small as may be.
groups_to_hide <- function(n, above, least, hidden = logical(length(n))) {
  filled <- !is.na(n) & n > 0
  hidden <- filled & (hidden | n < least)
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

# ---- a part of the students ----------------------------------------------------------

# Groups of which so few were left out by narrowing that the whole group, if it is seen
# elsewhere, would tell of those.
leaves_few <- function(table, by, settings) {
  around <- attr(settings, "around")
  if (is.null(around) || !all(by %in% names(around))) {
    return(logical(nrow(table)))
  }
  inside <- lapply(by, function(column) {
    or_else(as.character(around[[column]]), "(none)")
  })
  depth <- group_depths(table, by)
  path <- group_paths(table, by)
  others <- integer(nrow(table))
  for (k in unique(depth)) {
    of_students <- do.call(paste, c(inside[seq_len(k)], sep = path_separator))
    rest <- table(of_students[!around$left])
    here <- which(depth == k)
    others[here] <- or_else(as.vector(rest[path[here]]), 0)
  }
  others > 0 & others < settings$smallest_group
}

# ---- few students within a group ------------------------------------------------------

# Counts of students in cells: a row a group, a column a kind. Below the setting they
# are hidden, and as many others as it takes that no hidden cell, and no sum of hidden
# cells below the setting, is what is left of a row or column whose sum is known. above:
# the row of the group around each, 0 where that is the whole; rows: whether a row's sum
# is known, as where its kinds are all there are.
cells_to_hide <- function(counts, above, least, rows = TRUE) {
  hidden <- !is.na(counts) & counts > 0 & counts < least
  if (!any(hidden)) return(hidden)
  repeat {
    before <- hidden
    if (rows) {
      for (row in seq_len(nrow(counts))) {
        hidden[row, ] <- hide_in_line(
          counts[row, ],
          hidden[row, ],
          least
        )
      }
    }
    for (whole in unique(above)) {
      parts <- c(
        which(above == whole),
        if (whole > 0 && any(hidden[whole, ])) whole
      )
      for (column in seq_len(ncol(counts))) {
        if (whole == 0 && nrow(counts) == 1) next
        hidden[parts, column] <- hide_in_line(
          counts[parts, column],
          hidden[parts, column],
          least
        )
      }
    }
    if (identical(before, hidden)) return(hidden)
  }
}

hide_in_line <- function(counts, hidden, least) {
  if (!any(hidden)) return(hidden)
  repeat {
    enough <- sum(hidden) > 1 && sum(counts[hidden], na.rm = TRUE) >= least
    open <- which(!hidden & !is.na(counts))
    if (enough || !length(open)) return(hidden)
    # The smallest that somebody is in; an empty one only to make two.
    filled <- open[counts[open] > 0]
    if (!length(filled) && sum(hidden) > 1) return(hidden)
    if (length(filled)) {
      open <- filled
    }
    hidden[open[which.min(counts[open])]] <- TRUE
  }
}

# Columns that count students within a group, as counts or as shares of them; rows:
# whether together they are all of the group; with: the columns that tell what these do.
counts_of_students <- function(columns, shares = FALSE, rows = TRUE,
                               with = list()) {
  list(
    columns = columns,
    shares = shares,
    rows = rows,
    with = with
  )
}

# Figures of some students of each group only, whose number stands in a column.
figures_of_some <- function(number, figures) {
  list(number = number, figures = figures)
}

withhold_cells <- function(table, cells, settings, by, within, n) {
  least <- settings$smallest_group
  if (least <= 1 || !nrow(table)) return(table)
  if (identical(cells, "one_student")) return(withhold_scores(table, least))
  if (identical(cells, "answers")) return(withhold_answers(table, settings, by))
  if (!is.null(cells$number)) return(withhold_some(table, cells, least, by, within))
  columns <- cells$columns
  counts <- as.matrix(as.data.frame(table)[columns])
  if (cells$shares) {
    counts <- round(counts * n)
  }
  for (here in sets_of_rows(table, within)) {
    above <- above_of(table[here, , drop = FALSE], by)
    hidden <- cells_to_hide(
      counts[here, , drop = FALSE],
      above,
      least,
      cells$rows
    )
    for (k in seq_along(columns)) {
      table[here[hidden[, k]], c(columns[k], cells$with[[columns[k]]])] <- NA
    }
  }
  table
}

sets_of_rows <- function(table, within) {
  sets <- if (is.null(within)) {
    rep(1, nrow(table))
  } else {
    do.call(paste, c(unname(as.list(table[within])), sep = "\r"))
  }
  split(seq_len(nrow(table)), sets)
}

above_of <- function(table, by) {
  if (is.null(by)) rep(0L, nrow(table)) else group_above(table, by)
}

withhold_some <- function(table, cells, least, by, within) {
  for (here in sets_of_rows(table, within)) {
    number <- table[[cells$number]][here]
    above <- above_of(table[here, , drop = FALSE], by)
    hidden <- groups_to_hide(number, above, least)
    table[here[hidden], c(cells$number, cells$figures)] <- NA
  }
  table
}

# The scores of single students, and a few between two groups.
withhold_scores <- function(table, least) {
  table[c("lowest", "highest")] <- NA_real_
  small <- which(pmin(table$lower_n, table$n - table$lower_n) < least)
  table[small, c("humps", "lower_n", "lower_mean", "upper_mean", "between_n")] <- NA
  table$between_n[which(table$between_n > 0 & table$between_n < least)] <- NA
  table
}
