# What is shown of the standards. `...`: what view_rows() takes.

# rows: the standards, of all, of groups, or of single students; grid: whether the
# rows are students and the columns standards; evidence: of the one standard that was
# opened, the questions that show it. grid: whether it is wanted where there are
# several students.
view_standards <- function(sitting, by = NULL, tag = NULL, grid = FALSE, helped = FALSE,
                           ...,
                           student = NULL, standard = NULL, below = NULL,
                           sort = NULL) {
  of_students <- !is.null(student) ||
    !is.null(below) ||
    identical(by, "student")
  if (of_students) {
    by <- "student"
  }
  as_grid <- grid && of_students && length(student) != 1
  whole <- summarise_standards(sitting, by, tag, helped)
  rows <- view_rows(
    whole,
    ...,
    student = student,
    standard = standard,
    below = below,
    # The order of a grid is that of its rows, not of the scores behind them.
    sort = if (!as_grid) sort
  )
  if (as_grid) {
    rows <- rows_sorted(standards_grid(sitting, rows), sort)
  }
  opened <- !is.null(standard)
  evidence <- if (opened && is.null(by) && nrow(rows)) {
    evidence_for(sitting, rows$code[1], tag)
  }
  list(
    rows = rows,
    as_grid = as_grid,
    opened = opened,
    evidence = evidence,
    none = is.null(tag) && all(is.na(sitting$items$standards))
  )
}

# Even with the help of the rest of the test, where that was asked.
is_unsure <- function(standards) {
  if (is.null(standards$still_unsure)) return(standards$unsure %in% TRUE)
  or_else(standards$still_unsure, standards$unsure) %in% TRUE
}

# Students by standards: shares, with the level and whether it is unsure beside them
# as facts; the weakest student first. Students and standards without a result are
# not in it.
standards_grid <- function(sitting, standards) {
  standards <- standards[!is.na(standards$share), ]
  codes <- intersect(
    c(tree_order(attr(standards, "tree")), unique(standards$code)),
    standards$code
  )
  people <- summarise_students(sitting)
  people <- people[
    people$student %in% standards$student,
    c("student", "name", "section", "share", "level")
  ]
  people <- plain_rows(people[order(people$share, people$student), ])
  at <- cbind(
    match(standards$student, people$student),
    match(standards$code, codes)
  )
  wide <- function(value, empty) {
    cells <- matrix(
      empty,
      nrow(people),
      length(codes),
      dimnames = list(people$student, codes)
    )
    cells[at] <- value
    cells
  }
  shares <- wide(standards$share, NA_real_)
  new_summary(
    cbind(people, as.data.frame(shares, check.names = FALSE)),
    "standards_grid",
    sitting$settings,
    "student",
    codes = codes,
    level = wide(standards$level, NA_character_),
    unsure = wide(is_unsure(standards), FALSE),
    priority = priority_sign(standards)[match(codes, standards$code)],
    levels = names(sitting$settings$levels)
  )
}

# How deep each code stands in the tree of standards.
depth_in_tree <- function(codes, tree) {
  lengths(lapply(codes, ancestors, standards = tree))
}

# Of each standard its groups stand together, to be compared.
groups_together <- function(table) {
  if (is.null(attr(table, "by"))) return(table)
  table[order(match(table$code, unique(table$code))), ]
}

# Groups side by side. codes, groups: what stands down and across; at: the row of the
# table for each pair of them, NA where a group has none; first: of each code a row,
# for what is said of it; about: of each group.
standards_beside <- function(standards) {
  path <- group_paths(standards, attr(standards, "by"))
  groups <- unique(path)
  codes <- unique(standards$code)
  at <- matrix(NA_integer_, length(codes), length(groups))
  at[cbind(match(standards$code, codes), match(path, groups))] <- seq_along(
    path
  )
  list(
    codes = codes,
    groups = groups,
    at = at,
    first = standards[match(codes, standards$code), ],
    about = standards[match(groups, path), ]
  )
}

# Sections stand side by side while there are few enough to tell apart.
section_to_compare <- function(sitting, most = 6) {
  sections <- length(unique(sitting$students$section))
  if (sections > 1 && sections <= most) "section"
}

# Of each code the students below a cut, the lowest first.
below_on_each <- function(own, cut) {
  low <- !is.na(own$share) & !reaches(own$share, cut)
  own <- as.data.frame(own)[low, c("code", "student", "share")]
  own <- own[order(own$share), ]
  split(own, own$code)
}

# The standards that have no parts, from the lowest.
lowest_standards <- function(standards, most) {
  tree <- attr(standards, "tree")
  has_score <- !is.na(standards$share)
  leaves <- as.data.frame(standards)[
    has_score & !standards$code %in% tree$parent,
  ]
  utils::head(leaves[order(leaves$share), ], most)
}
