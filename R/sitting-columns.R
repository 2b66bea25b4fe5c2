# The columns of the tables in a test folder; what each holds stands under
# `columns_of_files` of the words. must: without them the table cannot be read, and none
# of them is blank; may: they are there when it was read, blank where the file has none;
# used: where they are there.
new_columns <- function(must, may = character(), used = character()) {
  stopifnot(length(must) > 0, !anyDuplicated(c(must, may, used)))
  list(must = must, may = may, used = used)
}

folder_columns <- list(
  responses = new_columns(
    "student",
    used = c(
      "item", "response", "points", "attempt", "status", "seconds", "submitted",
      "explanation", "comment", "marker"
    )
  ),
  items = new_columns(
    "item",
    c("type", "key", "points", "scoring", "standards", "prompt", "rationale")
  ),
  options = new_columns(c("item", "option"), c("text", "misconception")),
  misconceptions = new_columns("code", "description"),
  students = new_columns(
    "student",
    c("name", "section"),
    c("email", "guardian_email", "language")
  ),
  standards = new_columns("code", c("parent", "title", "emphasis")),
  adjustments = new_columns("action", setdiff(adjustment_columns, "action")),
  judges = new_columns(c("judge", "item", "estimate"), used = "round"),
  placements = new_columns(c("student", "placed"), used = "judge"),
  plan = new_columns("code", c("activity", "day", "check", "note"))
)

# A table of that name, as text, in which no two rows are of the same thing.
with_its_columns <- function(table, name) {
  keys <- folder_columns[[name]]$must
  table <- text_columns(named_origin(table, name))
  require_its_columns(table, name)
  for (column in keys) require_filled(table, column)
  known <- unlist(folder_columns[[name]], use.names = FALSE)
  table <- drop_twins(put_right(table, misspelt_columns(table, known)), keys)
  keep_origin(add_missing(table, folder_columns[[name]]$may), table)
}

# A table may have columns of one's own. One whose name is that of a column which is not
# there, but for its case, a letter too many or too few or two that changed places (in a
# long name for one that is wrong as well), is told.
misspelt_columns <- function(table, known, own = setdiff(names(table), known)) {
  missing <- setdiff(known, names(table))
  if (!length(missing) || !length(own)) return(list())
  costs <- c(d = 0.5, i = 0.5, s = 1, t = 0.5)
  # One thread: threads begun here would be missing in a process forked later.
  off <- stringdist::stringdistmatrix(
    tolower(own),
    missing,
    "osa",
    weight = costs,
    nthread = 1
  )
  near <- off <= ifelse(nchar(missing) < 6, 0.5, 1)[col(off)] &
    abs(outer(nchar(own), nchar(missing), "-")) < 2
  lapply(which(rowSums(near) > 0), function(k) {
    meant <- quoted(missing[near[k, ]][which.min(off[k, near[k, ]])])
    new_finding(
      "warning",
      origin_of(table),
      own[k],
      NA,
      say("sitting-columns.is_of_ones_own", meant = meant),
      say("sitting-columns.head_it_so", meant = meant),
      line = if (is.null(attr(table, "line"))) NA else 1
    )
  })
}

# Those that we know first, whatever else there is behind them.
in_their_order <- function(table, name) {
  known <- unlist(folder_columns[[name]][c("must", "may")], use.names = FALSE)
  keep_origin(table[union(known, names(table))], table)
}

require_its_columns <- function(table, name) {
  hold <- section_of("columns_of_files")[[name]]
  require_columns(table, folder_columns[[name]]$must, hold)
}
