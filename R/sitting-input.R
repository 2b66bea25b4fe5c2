# What is said of a mistake in what came in: what, where, what to do.

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

origin_of <- function(table) {
  origin <- attr(table, "origin")
  if (is.null(origin)) "the table" else origin
}

named_origin <- function(table, name) {
  if (!is.null(table) && is.null(attr(table, "origin"))) attr(table, "origin") <- name
  table
}

require_columns <- function(table, columns) {
  missing <- setdiff(columns, names(table))
  if (!length(missing)) return(invisible(table))
  abort_pregunta("input",
    paste0(origin_of(table), " has no column ", quoted(missing[1]), "."),
    paste0("Its columns are: ", some_of(names(table), 8), "."),
    paste0("Name the column that holds it ", quoted(missing[1]), " in the first line.")
  )
}

require_filled <- function(table, column) {
  blank <- which(is_blank(table[[column]]))
  if (!length(blank)) return(invisible(table))
  abort_cell(table, blank[1], column,
    paste0("A row of ", origin_of(table), " has no ", column, "."),
    "Fill it in, or take the row out."
  )
}

# Text columns as plain character, outer blanks gone, so that a factor, a
# number and a padded string all mean what they show.
as_text <- function(x) {
  x <- trim_blanks(if (is.numeric(x)) format_plain(x) else as.character(x))
  x[is_blank(x)] <- NA_character_
  x
}

# trimws(), but only where there is something to trim: most cells have nothing.
trim_blanks <- function(x) {
  padded <- padded_strings(x)
  if (length(padded)) x[padded] <- trimws(enc2utf8(x[padded]), whitespace = "[ \t\r\n\u00a0\u000b\u000c]")
  x
}

text_columns <- function(table) {
  plain <- as.data.frame(table)
  plain[] <- lapply(plain, as_text)
  keep_origin(plain, table)
}

# Where a table came from, kept when its columns are moved about.
keep_origin <- function(table, from) {
  attr(table, "origin") <- attr(from, "origin")
  attr(table, "line") <- attr(from, "line")
  attr(table, "put_right") <- attr(from, "put_right")
  table
}

add_missing <- function(table, columns) {
  for (column in setdiff(columns, names(table))) {
    table[[column]] <- rep(NA_character_, nrow(table))
  }
  table
}

is_blank <- function(x) is.na(x) | !nzchar(x)

format_plain <- function(x) {
  ifelse(is.na(x), NA_character_, format_number(x))
}

format_number <- function(x) {
  vapply(x, function(v) format(v, digits = 15, scientific = FALSE), "")
}

quoted <- function(x) paste0("\"", x, "\"")

some_of <- function(x, most = 5) {
  if (length(x) <= most) return(paste(x, collapse = ", "))
  paste0(paste(x[seq_len(most)], collapse = ", "), " and ", length(x) - most, " more")
}

count_of <- function(n, thing) paste0(n, " ", thing, if (n != 1) "s")

# Control characters cannot reach a terminal or a message.
printable <- function(x) {
  if (is.null(x)) return(NULL)
  gsub("[\u0001-\u001f\u007f-\u009f]", "\u00b7", x, perl = TRUE)
}

nearest_word <- function(word, known) {
  if (!length(known)) return(NA_character_)
  distance <- utils::adist(word, known, ignore.case = TRUE)[1, ]
  slips <- if (nchar(word) < 3) 0 else max(2, nchar(word) / 3)
  if (min(distance) > min(slips, nchar(word) - 2)) return(NA_character_)
  known[which.min(distance)]
}

did_you_mean <- function(word, known) {
  near <- nearest_word(word, known)
  if (is.na(near)) paste0("Known are: ", some_of(known, 12), ".")
  else paste0("Did you mean ", quoted(near), "?")
}
