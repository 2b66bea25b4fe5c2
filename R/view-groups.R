# What is shown of groups to teach and of the plan.

view_groups <- function(sitting, by = NULL, basis = NULL, size = NULL,
                        least = NULL, groups = NULL, cut = NULL, tag = NULL, ...) {
  made <- group_students(
    sitting,
    if (is.null(basis)) "need" else basis,
    if (is.null(size)) 6 else size,
    if (is.null(least)) 2 else least,
    groups,
    cut,
    if (is.null(by)) "section" else by,
    tag = tag
  )
  view_rows(made, ...)
}

# A list of the groups in their order: class (the section they are made in, "" for
# none), group (its name, NA for a role such as "ready for more"), role, topic, title,
# and rows (of the table: its students).
groups_listed <- function(groups) {
  by <- attr(groups, "by")
  class <- if (is.null(by)) rep("", nrow(groups)) else groups[[by]]
  name <- or_else(groups$group, groups$role)
  sets <- split_in_order(
    seq_along(name),
    paste(class, name, sep = "\r")
  )
  lapply(unname(sets), function(rows) {
    first <- as.data.frame(groups)[rows[1], ]
    list(
      class = class[rows[1]],
      group = first$group,
      role = first$role,
      topic = first$topic,
      title = first$title,
      rows = rows
    )
  })
}

# by: the column within which groups are made; most: standards; size: of a group.
view_plan <- function(sitting, by = NULL, most = NULL, size = NULL,
                      earlier = NULL, tag = NULL) {
  plan_reteach(
    sitting,
    if (is.null(most)) standards_planned else most,
    if (is.null(size)) 6 else size,
    if (is.null(by)) "section" else by,
    earlier,
    tag
  )
}
