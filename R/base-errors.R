# What is said of a mistake: what, where, what to do.

abort_pregunta <- function(class, what, where = NULL, fix = NULL) {
  what <- printable(what)
  where <- printable(where)
  fix <- printable(fix)
  cli::cli_abort(
    c("{what}", if (length(where)) c("x" = "{where}"), if (length(fix)) c("i" = "{fix}")),
    class = c(paste0("pregunta_error_", class), "pregunta_error"), call = NULL
  )
}

# One cell of a table is wrong. Tables that were read from a file carry its
# name and the line of each row, so the message can point into the file.
abort_cell <- function(table, row, column, what, fix) {
  value <- if (column %in% names(table)) table[[column]][row] else NA
  abort_pregunta("input", what, where_is(table, row, column, value), fix)
}

where_is <- function(table, row, column, value = NA) {
  line <- attr(table, "line")
  place <- if (is.null(line)) paste("row", row) else if (is.na(line[row])) "the new one" else paste("line", line[row])
  paste0(
    origin_of(table), ", ", place, ", column ", column,
    if (is.na(value)) ": blank" else paste0(": \"", value, "\"")
  )
}
