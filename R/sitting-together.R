# What groups of several columns tell together: who sees a teacher's mean and the mean of
# all but one of his sections knows that of the last. Whatever is asked for, it is
# withheld as if all columns that can group had been asked for as well.

# Columns that say who somebody is, or what one did, group nobody.
own_columns <- c(
  "student", "name", "email", "guardian_email", "status", "late", "submitted",
  "attempt", "seconds"
)
usual_columns <- c("district", "school", "teacher", "section")

# More sets of students than these are not told apart: the columns with most groups are
# left out of what is looked at together.
most_cells <- 1500

# The groups to hide of a table by these columns, as paths (see group_paths()). settings
# carries the students, and which of them are left (see remember_others()).
told_together <- function(settings, by) {
  around <- attr(settings, "around")
  least <- settings$smallest_group
  if (least <= 1 || is.null(around) || !nrow(around)) return(character())
  if (!all(by %in% names(around))) return(character())
  state <- rlang::hash(list(around, least, by))
  if (is.null(told_before[[state]])) {
    told_before[[state]] <- told_at_depths(around, least, by)
  }
  told_before[[state]]
}

told_before <- new.env(parent = emptyenv())

told_at_depths <- function(around, least, by) {
  known <- columns_told(around, least)
  hidden <- groups_to_hide_together(known, least)
  if (!all(around$left)) {
    known$left <- ifelse(around$left, "left", NA)
    hidden$left <- character()
  }
  found <- list()
  for (depth in seq_along(by)) {
    if (depth == 1 && by[1] %in% names(known) && all(around$left)) {
      found[[depth]] <- hidden[[by[1]]]
      next
    }
    path <- do.call(paste, c(
      lapply(by[seq_len(depth)], function(column) labels_told(around[[column]])),
      sep = path_separator
    ))
    path[!around$left] <- NA
    name <- paste("depth", depth)
    known[[name]] <- path
    hidden <- groups_to_hide_together(known, least, hidden)
    found[[depth]] <- hidden[[name]]
  }
  unlist(found)
}

labels_told <- function(column) or_else(as.character(column), "(none)")

# The columns that can group, those that the trade groups by first.
columns_told <- function(around, least) {
  columns <- setdiff(names(around), c(own_columns, "left"))
  groups <- vapply(columns, function(column) length(unique(around[[column]])), 0L)
  columns <- columns[groups > 1 & groups <= nrow(around) / 2]
  columns <- columns[order(!columns %in% usual_columns, groups[columns])]
  of_students <- lapply(
    stats::setNames(nm = columns),
    function(column) labels_told(around[[column]])
  )
  too_many <- function(some) length(unique(cells_told(some))) > most_cells
  while (length(of_students) > 1 && too_many(of_students)) {
    of_students <- of_students[-length(of_students)]
  }
  of_students
}

cells_told <- function(of_students) {
  do.call(paste, c(unname(of_students), sep = path_separator))
}

# of_students: for each column the group of each student, NA for none. Of each column the
# groups to hide, so that no sum and difference of those that are shown, and of the whole,
# is of fewer students than least: none of the smallest sets that the columns tell apart,
# and no hidden group. settled: of columns of which it is known what is hidden.
groups_to_hide_together <- function(of_students, least, settled = list()) {
  none <- lapply(of_students, function(groups) character())
  if (least <= 1 || !length(of_students) || !length(of_students[[1]])) {
    return(none)
  }
  sets <- sets_told(of_students, settled, least)
  hidden <- sets$hidden | sets$size < least
  repeat {
    shown <- which(!hidden)
    made_of <- sums_that_make(few_of(sets, hidden), with_whole(sets, shown))
    before <- hidden
    # Of the shown groups that a few can be made of, the smallest.
    for (parts in made_of) {
      parts <- shown[setdiff(parts, 1) - 1]
      free <- parts[sets$free[parts]]
      if (!any(hidden[parts]) && length(free)) {
        hidden[free[which.min(sets$size[free])]] <- TRUE
      }
    }
    if (identical(before, hidden)) break
  }
  found <- split(
    sets$group[hidden],
    factor(sets$column[hidden], names(of_students))
  )
  lapply(found, as.character)
}

# The groups (column, group, size, hidden, free to be hidden), and `within`: a row a
# group, a column a cell, whether the cell is in it; `n`: students in each cell; `few`:
# as `within`, of the cells and crossings of fewer students than least.
sets_told <- function(of_students, settled, least) {
  cell <- cells_told(of_students)
  first <- which(!duplicated(cell))
  n <- tabulate(match(cell, cell[first]), length(first))
  groups <- do.call(rbind, lapply(names(of_students), function(column) {
    group <- unique(of_students[[column]])
    group <- group[!is.na(group)]
    if (!length(group)) return(NULL)
    data.frame(
      column = column,
      group = group,
      hidden = group %in% settled[[column]],
      free = !column %in% names(settled)
    )
  }))
  within <- do.call(rbind, Map(function(column, group) {
    as.numeric(of_students[[column]][first] %in% group)
  }, groups$column, groups$group))
  few <- few_crossings(lapply(of_students, `[`, first), n, least)
  c(
    as.list(groups),
    list(
      within = unname(within),
      n = n,
      size = as.vector(within %*% n),
      few = few
    )
  )
}

# Who is in a group of one column and in one of another, or of two others, where these are
# few: a row each, as in `within`. of_cells: for each column the group of each cell.
few_crossings <- function(of_cells, n, least) {
  columns <- names(of_cells)
  most <- if (length(columns) > 5) 2 else 3
  sizes <- seq_len(min(most, length(columns) - 1))[-1]
  chosen <- unlist(lapply(sizes, function(size) {
    utils::combn(columns, size, simplify = FALSE)
  }), recursive = FALSE)
  rows <- lapply(chosen, function(some) {
    crossing <- cells_told(of_cells[some])
    size <- tapply(n, crossing, sum)
    outer(names(size)[size < least], crossing, `==`) + 0
  })
  cells <- diag(length(n))[n < least, , drop = FALSE]
  unique(do.call(rbind, c(list(cells), rows)))
}

# What nobody is to work out: cells and crossings of few students, and what is hidden.
few_of <- function(sets, hidden) rbind(sets$few, sets$within[hidden, , drop = FALSE])

with_whole <- function(sets, shown) rbind(1, sets$within[shown, , drop = FALSE])

# Of each row of x that is a sum and difference of rows of y: of which.
sums_that_make <- function(x, y) {
  if (!nrow(x)) return(list())
  basis <- qr(t(y))
  factors <- qr.coef(basis, t(x))
  factors[is.na(factors)] <- 0
  off <- colSums((t(y) %*% factors - t(x))^2)
  lapply(which(off < 1e-9), function(k) which(abs(factors[, k]) > 1e-6))
}

# Whether these students, shown as one, tell of a few together with the groups that are
# shown elsewhere.
part_tells <- function(around, least) {
  known <- columns_told(around, least)
  hidden <- groups_to_hide_together(known, least)
  known$left <- ifelse(around$left, "left", NA)
  hidden$left <- character()
  sets <- sets_told(known, hidden, least)
  shown <- which(!sets$hidden)
  length(sums_that_make(few_of(sets, sets$hidden), with_whole(sets, shown))) > 0
}
