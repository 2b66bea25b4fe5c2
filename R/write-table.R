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
    logical01 = FALSE,
    scipen = 15L # 100000 is no 1e+05
  )
  check_room(dirname(connection))
  readLines(connection, encoding = "UTF-8", warn = FALSE)
}

# The text of a table of which some rows come at a time, as of the whole. put: takes
# lines.
text_of_parts <- function(format, put) {
  first <- TRUE
  open <- character() # the line that gets a comma when more comes
  add_csv <- function(lines) {
    put(if (first) lines else lines[-1])
    first <<- FALSE
  }
  add_json <- function(text) {
    lines <- strsplit(text, "\n", fixed = TRUE)[[1]]
    if (length(lines) < 3) return(invisible())
    rows <- lines[2:(length(lines) - 1)]
    put(c(if (first) "[" else paste0(open, ","), rows[-length(rows)]))
    open <<- rows[length(rows)]
    first <<- FALSE
  }
  end_json <- function() put(if (first) "[]" else c(open, "]"))
  if (format == "csv") return(list(add = add_csv, end = function() NULL))
  list(add = add_json, end = end_json)
}

json_text <- function(table) {
  escape_unseen(as.character(jsonlite::toJSON(
    table,
    dataframe = "rows",
    na = "null",
    digits = NA,
    pretty = TRUE
  )))
}

# What would turn or hide the text around it is written as its number, as JSON allows.
escape_unseen <- function(json) {
  found <- unique(regmatches(
    json,
    gregexpr(unsafe_within_lines, json, perl = TRUE)
  )[[1]])
  for (character in found) {
    units <- utf16_units(utf8ToInt(character))
    escaped <- paste(sprintf("\\u%04x", units), collapse = "")
    json <- gsub(character, escaped, json, fixed = TRUE)
  }
  json
}

utf16_units <- function(code) {
  if (code < 0x10000) return(code)
  over <- code - 0x10000
  c(0xd800 + over %/% 0x400, 0xdc00 + over %% 0x400)
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
