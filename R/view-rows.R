# Which rows of a table are shown, and in what order: the same for the terminal, a
# page and a workbook. What is not asked for is NULL.

# item, student: names to keep; standard: codes, each with its parts; status: words of
# the column status, or "missing"; below: the level that was not reached; sort: a
# column, with - before it from the highest down.
view_rows <- function(table, item = NULL, student = NULL, standard = NULL,
                      status = NULL, below = NULL, sort = NULL) {
  if ("student" %in% names(table)) {
    table <- rows_named(table, "student", student)
  }
  table <- rows_of_standards(table, standard)
  table <- rows_of_status(table, status)
  table <- rows_below(table, below)
  table <- rows_named(table, "item", item)
  rows_sorted(table, sort)
}

rows_named <- function(table, column, wanted) {
  if (is.null(wanted) || !nrow(table)) return(table)
  unknown <- setdiff(wanted, table[[column]])
  if (length(unknown)) {
    abort_pregunta(
      "call",
      say(
        "view-rows.there_is_no",
        column = column,
        unknown = quoted(unknown[1])
      ),
      NULL,
      did_you_mean(unknown[1], unique(table[[column]]))
    )
  }
  table[table[[column]] %in% wanted, ]
}

# Those of a status; late is said beside the status, and missing stands for all
# that are still to come.
rows_of_status <- function(students, wanted) {
  if (is.null(wanted)) return(students)
  known <- c(status_words, "missing")
  unknown <- setdiff(wanted, known)
  if (length(unknown)) {
    abort_pregunta(
      "call",
      say("view-rows.there_is_no_status", unknown = quoted(unknown[1])),
      NULL,
      did_you_mean(unknown[1], known)
    )
  }
  if ("missing" %in% wanted) {
    wanted <- c(wanted, missing_statuses)
  }
  kept <- students$status %in% wanted
  knows_late <- !is.null(students$late)
  if ("late" %in% wanted && knows_late) {
    kept <- kept | students$late %in% TRUE
  }
  students[kept, ]
}

# These standards and their parts.
rows_of_standards <- function(table, wanted) {
  if (is.null(wanted)) return(table)
  known <- unique(table$code)
  codes <- vapply(wanted, function(code) {
    like <- if (code %in% known) code else only_one(codes_like(code, known))
    if (!is.na(like)) return(like)
    abort_pregunta(
      "call",
      say(
        "view-rows.there_is_no_with",
        table = tag_header(table),
        code = quoted(code)
      ),
      NULL,
      hint_for_code(code, known)
    )
  }, "")
  tree <- attr(table, "tree")
  is_under <- vapply(table$code, function(code) {
    any(c(code, ancestors(code, tree)) %in% codes)
  }, TRUE)
  table[is_under, ]
}

# What the codes of a table of standards are: standards, or a tag of the items.
tag_header <- function(standards) {
  tag <- attr(standards, "tag")
  if (is.null(tag)) heading_for("code") else tag
}

# What has not reached a level.
rows_below <- function(table, below) {
  if (is.null(below)) return(table)
  levels <- names(settings_of(table)$levels)
  # By its name in the folder, or as it is read.
  at <- match(tolower(below), tolower(c(levels, level_words(levels))))
  at <- (at - 1) %% length(levels) + 1
  if (is.na(at)) {
    abort_pregunta(
      "call",
      say("view-rows.there_is_no_level", below = quoted(below)),
      NULL,
      did_you_mean(below, levels)
    )
  }
  table[which(match(table$level, levels) < at), ]
}

# The order that was asked for goes with the table, so that no face sorts it again.
rows_sorted <- function(table, sort) {
  if (is.null(sort)) return(table)
  from_highest <- startsWith(sort, "-")
  column <- sub("^-", "", sort)
  if (!column %in% names(table)) {
    abort_pregunta(
      "call",
      say("view-rows.there_is_no_column", column = quoted(column)),
      say("view-rows.columns", table = some_of(names(table), 30)),
      did_you_mean(column, names(table))
    )
  }
  values <- table[[column]]
  order <- if (is.character(values)) {
    order_names(values, from_highest)
  } else {
    order(values, decreasing = from_highest, na.last = TRUE, method = "radix")
  }
  table <- table[order, ]
  attr(table, "sorted") <- sort
  table
}
