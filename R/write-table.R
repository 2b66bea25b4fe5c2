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

# A spreadsheet takes a cell that begins like a formula for one; an apostrophe
# before it makes it text. Numbers stay numbers.
defuse <- function(table) {
  is_text <- vapply(table, is.character, TRUE)
  table[is_text] <- lapply(table[is_text], function(x) {
    risky <- grepl("^[=+@\t\r-]", x) & is.na(read_number(x))
    ifelse(risky, paste0("'", x), x)
  })
  table
}
