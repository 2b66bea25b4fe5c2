# A summary as CSV or JSON, unrounded, in a form that programs read.

table_text <- function(table, format) {
  table <- plain_table(table)
  if (format == "json") return(json_text(table))
  connection <- tempfile(fileext = ".csv")
  on.exit(unlink(connection))
  data.table::fwrite(
    defuse(table),
    connection,
    na = "",
    logical01 = FALSE
  )
  check_room(dirname(connection))
  readLines(connection, encoding = "UTF-8", warn = FALSE)
}

json_text <- function(table) {
  as.character(jsonlite::toJSON(
    table,
    dataframe = "rows",
    na = "null",
    digits = NA,
    pretty = TRUE
  ))
}

# A spreadsheet takes a cell that begins like a formula for one, a heading too; an
# apostrophe before it makes it text. Numbers stay numbers. One that could be taken for
# such an apostrophe gets another, so that reading gives back what was written.
defuse <- function(table) {
  is_text <- vapply(table, is.character, TRUE)
  table[is_text] <- lapply(table[is_text], defuse_text)
  names(table) <- defuse_text(names(table))
  table
}

defuse_text <- function(x) {
  distinct <- unique(x)
  risky <- grep("^'*[=+@\t\r-]", distinct, value = TRUE)
  risky <- risky[is.na(read_number(risky))]
  if (!length(risky)) return(x)
  at <- which(x %in% risky)
  x[at] <- paste0("'", x[at])
  x
}
