# The groups that figures are apart for: a column of the students, or several
# columns one inside the other (school, teacher, section). A group inside others
# is named by its path.

# The number of the group that each lies in; of the outermost, the whole.
parents_of <- function(labels) {
  if (length(labels) == 1) return(1L)
  outer <- ifelse(
    grepl(path_separator, labels, fixed = TRUE),
    sub(
      paste0(path_separator, "[^", path_separator, "]*$"),
      "",
      labels
    ),
    ""
  )
  match(outer, unique(outer))
}

# The columns that name the groups go before the figures.
with_group <- function(table, tally, n_things) {
  if (is.null(tally$by)) return(table)
  path <- rep(
    strsplit(tally$groups, path_separator, fixed = TRUE),
    each = n_things
  )
  columns <- lapply(
    seq_along(tally$by),
    function(k) vapply(path, `[`, "", k)
  )
  names(columns) <- tally$by
  cbind(frame_of(columns, length(path)), table[setdiff(names(table), tally$by)])
}

# A summary for one column of groups, or for every depth of several, each group
# before those in it. What is too small is then withheld over all depths at once.
by_depth <- function(sitting, by, summarise) {
  if (length(by) <= 1) return(summarise(sitting, by))
  if (!inherits(sitting, c("pregunta_sitting", "pregunta_stored"))) {
    abort_pregunta(
      "call",
      say("stat-groups.groups_one_inside_the"),
      say("stat-groups.given", sitting = class(sitting)[1]),
      say("stat-groups.give_the_sitting_not")
    )
  }
  # A column that is not there is said at once.
  if (!is.null(sitting$students)) student_groups(sitting, by)
  open <- sitting
  open$settings$smallest_group <- 1
  pieces <- lapply(seq_along(by), function(depth) {
    summarise(open, by[seq_len(depth)])
  })
  table <- stack_depths(pieces, by)
  first <- pieces[[1]]
  small <- attr(first, "small")
  table <- withhold_small(
    table,
    small$n,
    c(small$keep, by),
    sitting$settings,
    by,
    small$within,
    small$cells
  )
  remake_summary(
    first,
    table,
    settings = sitting$settings,
    by = by
  )
}

stack_depths <- function(pieces, by) {
  filled <- lapply(pieces, function(piece) {
    piece <- plain_rows(piece)
    for (column in setdiff(by, names(piece))) {
      piece[[column]] <- rep(NA_character_, nrow(piece))
    }
    piece[c(by, setdiff(names(piece), by))]
  })
  table <- do.call(rbind, filled)
  table <- table[order(group_paths(table, by), method = "radix"), ]
  rownames(table) <- NULL
  table
}

# The path of each row's group; of an outer group the path ends early.
group_paths <- function(table, by) {
  path <- as.character(table[[by[1]]])
  for (column in by[-1]) {
    inner <- table[[column]]
    path <- ifelse(
      is.na(inner),
      path,
      paste(path, inner, sep = path_separator)
    )
  }
  path
}

# The name of each row's group, as it is said.
group_names <- function(table, by) {
  gsub(path_separator, ", ", group_paths(table, by), fixed = TRUE)
}

# How deep each row's group lies, from 1.
group_depths <- function(table, by) rowSums(!is.na(as.data.frame(table)[by]))
