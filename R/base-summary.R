# A summary is a data frame that knows what it is about: its kind, the settings
# its figures rest on, the columns of its groups, and other facts that no column
# holds. It carries the table that it was made as. Rows of that may be left out
# or put in another order and columns may come; where a column goes or a figure
# changes, what is left is a plain data frame, since nobody can say any more what
# it means.

# table: the columns; kind: what it summarises, also the last part of the class;
# settings: of the sitting, or NULL where no setting plays a part; by: the columns
# that name the groups, or "student", "item"; ...: further facts by name; free:
# columns for people to type into. Facts that are NULL are not there.
new_summary <- function(table, kind, settings, by, ..., free = character()) {
  sound <- is.list(table) &&
    is.character(kind) &&
    length(kind) == 1 &&
    (is.null(by) || is.character(by))
  facts <- list(
    settings = settings,
    by = by,
    small = attr(table, "small"),
    ...
  )
  facts <- facts[!vapply(facts, is.null, TRUE)]
  sound <- sound && all(nzchar(names(facts))) && !anyDuplicated(names(facts))
  if (!sound) stop("new_summary(", kind, ")")
  table <- plain_rows(table)
  summary <- table
  for (name in names(facts)) attr(summary, name) <- facts[[name]]
  attr(summary, "made") <- list(
    kind = kind,
    facts = names(facts),
    free = intersect(free, names(table)),
    table = table[setdiff(names(table), free)]
  )
  class(summary) <- c(
    paste0("pregunta_", kind), "pregunta_summary", "data.frame"
  )
  summary
}

# The same facts about another table; those that are named here are new.
remake_summary <- function(summary, table, ...) {
  made <- attr(summary, "made")
  facts <- stats::setNames(
    lapply(made$facts, function(name) attr(summary, name)),
    made$facts
  )
  facts$small <- NULL
  changed <- list(...)
  facts[names(changed)] <- changed
  others <- facts[setdiff(names(facts), c("settings", "by"))]
  about <- list(
    table,
    made$kind,
    facts[["settings"]],
    facts[["by"]],
    free = made$free
  )
  do.call(new_summary, c(about, others))
}

# Whether what the table says of itself still holds.
is_summary <- function(x, kind = NULL) {
  made <- attr(x, "made")
  class <- if (is.null(kind)) "pregunta_summary" else paste0("pregunta_", kind)
  inherits(x, class) &&
    is.list(made) &&
    all(made$facts %in% names(attributes(x))) &&
    all(made$free %in% names(x)) &&
    rows_are_among(x, made$table)
}

# For whoever needs a summary and was given a table.
check_summary <- function(x, kind = NULL) {
  if (is_summary(x, kind)) return(invisible(x))
  abort_pregunta(
    "call",
    say("base-summary.this_table_is_no"),
    say(
      "base-summary.given_a_summary_with",
      class = class(x)[1],
      changed = inherits(x, "pregunta_summary")
    ),
    say("base-summary.take_rows_from_a")
  )
}

# The settings that the figures rest on. They are never guessed.
settings_of <- function(summary) {
  settings <- attr(summary, "settings")
  if (!is.null(settings)) return(settings)
  abort_pregunta(
    "call",
    say("base-summary.this_table_does_not"),
    say("base-summary.given", summary = class(summary)[1]),
    say("base-summary.give_the_summary_itself")
  )
}

# Whether all rows that it was made with are still there.
is_whole <- function(summary) {
  made <- attr(summary, "made")$table
  if (nrow(summary) < nrow(made)) return(FALSE)
  rows <- numbered_rows(plain_rows(summary)[names(made)], made)
  all(rows$made %in% rows$now)
}

rows_are_among <- function(table, made) {
  columns <- names(made)
  if (!all(columns %in% names(table))) return(FALSE)
  now <- plain_rows(table)[columns]
  if (identical(now, made)) return(TRUE)
  if (nrow(now) > nrow(made)) return(FALSE)
  rows <- numbered_rows(now, made)
  all(rows$now %in% rows$made)
}

# The rows of two tables as numbers: rows that are the same in every column have the
# same one, and a row that stands there twice is two.
numbered_rows <- function(now, made) {
  at_now <- rep(1L, nrow(now))
  at_made <- rep(1L, nrow(made))
  for (column in names(made)) {
    values <- unique(made[[column]])
    at_now <- (at_now - 1) * length(values) + match(now[[column]], values)
    at_made <- (at_made - 1) * length(values) + match(made[[column]], values)
    known <- unique(at_made)
    at_now <- match(at_now, known)
    at_made <- match(at_made, known)
  }
  if (!anyDuplicated(at_now) && !anyDuplicated(at_made)) {
    return(list(now = at_now, made = at_made))
  }
  list(
    now = paste(at_now, place_among(at_now)),
    made = paste(at_made, place_among(at_made))
  )
}

# The table with what the other says of itself, where that still holds of it.
# changed: whether a figure may be another one now.
as_summary_of <- function(table, from, changed = TRUE) {
  made <- attr(from, "made")
  table <- plain_table(table)
  if (!all(c(names(made$table), made$free) %in% names(table))) return(table)
  kept <- attributes(from)
  kept <- kept[setdiff(names(kept), c("names", "row.names"))]
  attributes(table)[names(kept)] <- kept
  if (!changed || is_summary(table)) table else plain_table(table)
}

#' @export
`[.pregunta_summary` <- function(x, ...) {
  taken <- NextMethod()
  if (is.data.frame(taken)) {
    as_summary_of(taken, x, changed = FALSE)
  } else {
    taken
  }
}

#' @export
`[<-.pregunta_summary` <- function(x, ..., value) as_summary_of(NextMethod(), x)

#' @export
`[[<-.pregunta_summary` <- function(x, ..., value) {
  as_summary_of(NextMethod(), x)
}

#' @export
`$<-.pregunta_summary` <- function(x, name, value) {
  as_summary_of(NextMethod(), x)
}

#' @export
`names<-.pregunta_summary` <- function(x, value) as_summary_of(NextMethod(), x)

#' @export
merge.pregunta_summary <- function(x, y, ...) {
  as_summary_of(merge(plain_table(x), plain_table(y), ...), x)
}

#' @export
as.data.frame.pregunta_summary <- function(x, ...) plain_table(x)

# dplyr's verbs put their results together by this.
#' @exportS3Method dplyr::dplyr_reconstruct
dplyr_reconstruct.pregunta_summary <- function(data, template) {
  as_summary_of(data, template)
}
