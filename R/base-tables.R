# Tables of text: where a row came from, what they must have, rows and columns.

origin_of <- function(table) {
  origin <- attr(table, "origin")
  if (is.null(origin)) say("base-tables.the_table") else origin
}

named_origin <- function(table, name) {
  if (!is.null(table) && is.null(attr(table, "origin"))) {
    attr(table, "origin") <- name
  }
  table
}

line_of <- function(table) {
  line <- attr(table, "line")
  if (is.null(line)) seq_len(nrow(table)) else line
}

# hold: by the name of a column, what it holds.
require_columns <- function(table, columns, hold = NULL) {
  missing <- setdiff(columns, names(table))
  if (!length(missing)) return(invisible(table))
  first <- quoted(missing[1])
  columns <- some_of(names(table), 8)
  abort_pregunta(
    "input",
    say(
      "base-tables.has_no_column",
      table = origin_of(table),
      missing = first
    ),
    say("base-tables.its_columns_are", table = columns),
    if (is.null(hold)) {
      say("base-tables.name_the_column_that", missing = first)
    } else {
      say("base-tables.name_the_column_with", missing = first, what = hold[[missing[1]]])
    }
  )
}

require_filled <- function(table, column) {
  blank <- which(is_blank(table[[column]]))
  if (!length(blank)) return(invisible(table))
  abort_cell(
    table,
    blank[1],
    column,
    say(
      "base-tables.a_row_of_has",
      table = origin_of(table),
      column = column
    ),
    say("base-tables.fill_it_in_or")
  )
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

# A frame of columns as they are, where data.frame() would look into each.
quick_frame <- function(columns) frame_of(lapply(columns, unname))

# A list of columns of the same length as the frame that it is.
frame_of <- function(columns, n = length(columns[[1]])) {
  row_names <- .set_row_names(n)
  attributes(columns) <- list(
    names = names(columns),
    row.names = row_names,
    class = "data.frame"
  )
  columns
}

# Rows of a frame, where data.frame() would name each.
rows_of <- function(table, rows) {
  frame_of(lapply(as.list(table), `[`, rows), length(rows))
}

# Rows of a table that knows its lines.
pick_rows <- function(table, keep) {
  kept <- keep_origin(table[keep, , drop = FALSE], table)
  if (!is.null(attr(table, "line"))) {
    attr(kept, "line") <- attr(table, "line")[keep]
  }
  rownames(kept) <- NULL
  kept
}

plain_table <- function(table) {
  attributes(table) <- attributes(table)[c("names", "row.names")]
  class(table) <- "data.frame"
  table
}

# Without the marks of the summary that the rows were taken from.
plain_rows <- function(table) {
  frame_of(unclass(table)[names(table)], nrow(table))
}

# A factor whose levels are in the order in which they come.
in_order <- function(x) factor(x, unique(x))

# The pieces of x that are alike, in the order in which they come.
split_in_order <- function(x, alike) split(x, in_order(alike))

# What is made of each row, given its number.
# What a function of text gives, asked once for each distinct value.
by_value <- function(x, make) {
  found <- distinct_strings(x)
  make(found$distinct)[found$at]
}

# Rows of columns of text as numbers: the same where all their cells are, else different.
# Pasted together, the pairs of a long table would take more memory than the table.
row_numbers <- function(columns) {
  number <- 1
  kinds <- 1
  for (column in columns) {
    found <- distinct_strings(column)
    kinds <- kinds * length(found$distinct)
    if (kinds > 2^53) {
      number <- as.numeric(match(number, unique(number)))
      kinds <- max(number) * length(found$distinct)
    }
    number <- (number - 1) * length(found$distinct) + found$at
  }
  number
}

each_row <- function(table, make) lapply(seq_len(nrow(table)), make)

# 1, 2, 3 along the things that are the same.
place_among <- function(things) {
  as.integer(stats::ave(seq_along(things), things, FUN = seq_along))
}

# The fields of a list that are given anew, each as a whole; the others stay.
replace_fields <- function(old, new) {
  new <- new[!vapply(new, is.null, TRUE)]
  old[names(new)] <- new
  old
}

# Rows of a wide table, without a copy where all of them stay.
take_rows <- function(table, rows) {
  if (is.logical(rows)) {
    rows <- which(rows)
  }
  if (identical(rows, seq_len(nrow(table)))) return(table)
  frame_of(lapply(unclass(table)[names(table)], `[`, rows), length(rows))
}
