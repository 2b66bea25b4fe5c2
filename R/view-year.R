# What is shown of the year.

# Of a table of growth, windows across. first, last: of each row what is said of it,
# from its first and its last window; windows: those across; at: the row of the table
# for each row and window, NA where there is none.
growth_across <- function(growth) {
  by <- attr(growth, "by")
  if (!identical(by, "student")) {
    growth <- groups_together(growth)
  }
  who <- if (is.null(by)) "" else group_paths(growth, by)
  row <- paste(who, growth$code, sep = "\r")
  rows <- unique(row)
  windows <- intersect(attr(growth, "windows"), growth$window)
  at <- matrix(NA_integer_, length(rows), length(windows))
  at[cbind(match(row, rows), match(growth$window, windows))] <- seq_along(row)
  last <- growth[!duplicated(row, fromLast = TRUE), ]
  last_row <- row[!duplicated(row, fromLast = TRUE)]
  list(
    growth = growth,
    first = growth[!duplicated(row), ],
    last = last[match(rows, last_row), ],
    windows = windows,
    at = at
  )
}

# What stands on one scale in two windows or more, where anything else was asked than the
# same test again: windows across, named by the sitting that it is read on.
linked_across <- function(growth) {
  by <- attr(growth, "by")
  new <- if (is.logical(growth$carried)) !growth$carried else TRUE
  rows <- growth[growth$linked %in% TRUE & new, , drop = FALSE]
  sets <- lapply(split(seq_len(nrow(rows)), in_order(rows$scale)), function(at) {
    set <- rows[at, , drop = FALSE]
    who <- if (is.null(by)) "" else group_paths(set, by)
    about <- paste(who, set$code, sep = "\r")
    set <- set[table(about)[about] > 1, , drop = FALSE]
    if (any(abs(set$linked_share - set$share) > 1e-9)) growth_across(set)
  })
  Filter(Negate(is.null), sets)
}

# The same of one standard, a row a student: the lowest of now first, unless another
# order was asked for.
growth_of_students <- function(growth) {
  across <- growth_across(growth)
  if (!is.null(attr(growth, "sorted"))) return(across)
  order <- order(across$last$share)
  across$first <- across$first[order, ]
  across$last <- across$last[order, ]
  across$at <- across$at[order, , drop = FALSE]
  across
}

# New results in each window.
results_in_windows <- function(growth) {
  whole <- growth[growth$code == growth$code[1], ]
  by <- attr(growth, "by")
  # Of the outermost groups: those within are in them.
  if (length(by) > 1) whole <- whole[group_depths(whole, by) == 1, ]
  windows <- intersect(attr(growth, "windows"), whole$window)
  tapply(
    whole$n,
    factor(whole$window, windows),
    sum,
    na.rm = TRUE
  )
}

# The ladders of a record climbed: scores are the growth of its students in all skills.
view_skills <- function(scores, ladders, pass = NULL, by = NULL, sort = NULL) {
  if (is.null(pass)) {
    pass <- attr(scores, "cut")
  }
  pieces <- lapply(names(ladders), function(name) {
    climbed <- climb_ladder(scores, ladders[[name]], pass)
    cbind(data.frame(ladder = rep(name, nrow(climbed))), plain_rows(climbed))
  })
  table <- new_summary(
    do.call(rbind, pieces),
    "ladder",
    settings_of(scores),
    by,
    ladders = ladders,
    tree = attr(scores, "tree"),
    pass = pass
  )
  rows_sorted(table, sort)
}

# How many stand on each step of a ladder, a column a section; the last step is to
# have passed all.
counts_on_steps <- function(climbed, ladder) {
  section <- if (is.null(climbed$section)) "" else or_blank(climbed$section)
  section <- rep_len(section, nrow(climbed))
  sections <- sort(unique(section))
  vapply(stats::setNames(nm = sections), function(one) {
    tabulate(climbed$passed[section == one] + 1, length(ladder) + 1)
  }, integer(length(ladder) + 1))
}

# The lowest mean first, unless another order was asked for.
lowest_mean_first <- function(table) {
  if (!is.null(attr(table, "sorted"))) return(table)
  table[order(table$mean_share), ]
}
