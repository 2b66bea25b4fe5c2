# A file as it lies there: cells of text without a notion of what is a header.
# Recognising (read-layout-) starts from here.
#
# A grid is a data frame of character columns, blanks as "", with the attributes
# `origin`, `line` (of the file, for each row), `about` (how it was read) and
# `dates` (cells that the workbook holds as dates).

read_grids <- function(path, sheet = NULL) {
  check_file(path)
  if (is_workbook(path)) return(read_sheet_grids(path, sheet))
  if (document_kind(path) == "page") return(read_web_grids(path, sheet))
  if (!is.null(sheet)) {
    abort_pregunta(
      "call",
      say("read-grid.is_no_workbook_so", path = basename(path)),
      NULL,
      say("read-grid.leave_sheet_out")
    )
  }
  list(read_text_grid(path))
}

read_text_grid <- function(path) {
  text <- open_text(path, whole = TRUE)
  if (!is.na(text$unclosed)) {
    abort_pregunta(
      "input",
      say("read-grid.a_quote_in_is", origin = text$origin),
      say(
        "read-grid.line",
        path = path,
        unclosed = text$unclosed
      ),
      say("read-grid.close_it_or_take")
    )
  }
  separator <- likely_separator(text)
  cells <- if (is.na(separator)) {
    lines_as_cells(text$path)
  } else {
    split_cells(text, separator)
  }
  grid <- make_grid(cells$table, text$origin, cells$line)
  attr(grid, "about") <- say(
    "read-grid.lines_of_text",
    separator = words_for(separator, "separators"),
    no_separator = is.na(separator),
    encoding = text$encoding
  )
  attr(grid, "separated") <- !is.na(separator)
  grid
}

# The mark that divides most lines into the same number of cells, preferring
# more cells; none when hardly any line has one.
likely_separator <- function(text) {
  counts <- text$separators
  if (!nrow(counts)) return(NA)
  worth <- vapply(seq_along(known_separators), function(k) {
    there <- counts[, k] > 0
    if (mean(there) < 0.5) return(0)
    usual <- max(table(counts[there, k]))
    usual / nrow(counts) * log2(1 + stats::median(counts[there, k]))
  }, 0)
  if (all(worth == 0)) NA else known_separators[which.max(worth)]
}

# A line in front with a cell for every column makes fread() read every line,
# whatever its length.
split_cells <- function(text, separator) {
  columns <- text$most[match(separator, known_separators)] + 1
  check_limit("columns", columns, text$origin)
  check_limit("letters", text$longest / columns, text$origin)
  box <- columns * (max(text$breaks, text$returns) + 1)
  if (box > 2 * text$bytes) check_limit("cells", box, text$origin)
  copy <- tempfile(fileext = ".csv")
  on.exit(unlink(copy))
  header <- paste(seq_len(columns), collapse = separator)
  quotes <- copy_text(text$path, copy, header)
  if (quotes < 0) {
    abort_pregunta(
      "output",
      say("read-grid.no_room_to_read", origin = text$origin),
      dirname(copy),
      say("read-grid.make_room_there")
    )
  }
  read <- function() {
    suppressWarnings(data.table::fread(
      file = copy,
      sep = separator,
      header = TRUE,
      skip = 0L,
      fill = TRUE,
      blank.lines.skip = FALSE,
      colClasses = "character",
      na.strings = NULL,
      encoding = "UTF-8",
      strip.white = FALSE,
      data.table = FALSE,
      check.names = FALSE,
      showProgress = FALSE
    ))
  }
  # On a quotation mark without its other one fread() may die; it does so apart.
  open <- quotes %% 2 == 1
  table <- tryCatch(
    if (open) apart(read, TRUE) else read(),
    error = function(e) {
      why <- if (open) say("read-grid.a_quotation_mark_is") else conditionMessage(e)
      abort_pregunta(
        "input",
        say("read-grid.could_not_be_read", origin = text$origin),
        paste0(text$origin, ": ", why),
        say("read-grid.save_it_again_as")
      )
    }
  )
  if (text$doubled) {
    table[] <- lapply(table, halve_quotes)
  }
  list(
    table = table,
    line = file_lines(table, first = 1L, quoted = text$quoted)
  )
}

lines_as_cells <- function(path) {
  lines <- text_lines(path)
  list(table = data.frame(V1 = lines), line = seq_along(lines))
}

trimmed_cells <- function(cells) {
  found <- distinct_strings(as.character(cells))
  trimmed <- or_blank(as_text(found$distinct))
  if (identical(trimmed, found$distinct)) cells else trimmed[found$at]
}

# Cells without outer blanks; rows and columns with nothing in them are gone.
make_grid <- function(table, origin, line) {
  raw <- table
  table[] <- lapply(table, trimmed_cells)
  full <- !is_empty_row(table)
  kept <- vapply(table, function(x) any(nzchar(x)), TRUE)
  table <- take_rows(table[kept], full)
  if (!nrow(table) || !ncol(table)) {
    abort_pregunta(
      "input",
      say("read-grid.holds_nothing_but_blanks", origin = origin),
      NULL,
      say("read-grid.see_that_it_is")
    )
  }
  names(table) <- paste0("V", seq_along(table))
  rownames(table) <- NULL
  # Of few columns, what the cells were before: blanks can be marks (read-layout-scan.R).
  if (ncol(table) <= 6) {
    raw <- take_rows(raw[kept], full)
    raw[] <- lapply(raw, function(x) if (anyNA(x)) or_blank(x) else x)
  }
  structure(
    table,
    origin = origin,
    line = line[full],
    raw = if (ncol(table) <= 6) unname(as.list(raw))
  )
}
