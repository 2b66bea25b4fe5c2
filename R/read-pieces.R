# A test folder whose responses.csv is too large to be read at once: its pieces, a table
# each, for counts that add up (see tally-pieces.R). Whatever is odd about a piece (a line
# of another length, a blank line, quotation marks that do not close) has the file read as
# any other, which then says what it is.

# What a piece is at most, in bytes: larger ones are hardly quicker.
piece_bytes <- 1.6e7
# Of the first where several processes wait for it.
first_bytes <- 2e6

# NULL where it cannot be read so.
open_pieces <- function(folder, bytes) {
  path <- file.path(folder, "responses.csv")
  text <- open_text(path)
  check_sizes(text, path)
  if (text$encoding != "UTF-8" || !text$breaks) return(NULL)
  start <- skip_records(text$path, 0, 1, text$quoted)
  header <- mark_utf8(readChar(text$path, start, useBytes = TRUE))
  text$header <- sub("^\ufeff", "", header)
  text$start <- start
  first_line <- cells_as_text(text$header, sep = first_separator(text))
  check_first_line(text, first_line)
  known <- without_responses(tables_beside(folder), settings_in(folder))
  session <- known$session
  session$tell <- function(findings) NULL
  pieces <- c(known, list(
    name = basename(path),
    columns = stats::setNames(nm = trimws(names(first_line))),
    most_apart = most_apart,
    guard = identity,
    count = count_pieces,
    run = run_pieces,
    found = function(findings) session$tell(findings),
    each = function(take, range = c(text$start, Inf)) {
      each_piece(text, bytes, take, range)
    },
    some = function(take) each_piece(text, bytes, take, c(text$start, Inf)),
    several = function() session$several,
    ranges = function() ranges_of(text, bytes),
    read = function(ids = NULL) read_sitting(folder)
  ))
  structure(pieces, class = c("pregunta_pieces", "pregunta_stored"))
}

# Where the student of the last row of a piece goes on in the next one, these rows go
# there.
each_piece <- function(text, bytes, take, range) {
  at <- range[1]
  end <- min(range[2], file.size(text$path))
  # Within the file nobody counts the lines before.
  line <- if (at == text$start) 2 else NA
  open <- FALSE
  make_room_once(2e8)
  while (at < range[2]) {
    bytes <- min(bytes, range[2] - at)
    piece <- next_piece(text$path, at, bytes, text$header, text$quoted)
    if (!piece$records) break
    # Blank lines are nothing at the end of a file, and odd before it.
    if (piece$gap || open) stop_pieces()
    open <- piece$open
    table <- read_piece(piece, text, line)
    n <- nrow(table)
    may_go_on <- piece$after < end && goes_on(piece, table$student[n])
    kept <- if (may_go_on) rows_to_keep(table$student) else n
    if (kept < n) {
      table <- pick_rows(table, seq_len(kept))
      at <- skip_records(text$path, at, kept, text$quoted)
    } else {
      at <- piece$after
    }
    line <- line + kept
    take(code_table(table))
  }
}

# The record after it begins with the student, in most files; it is enough that it may,
# and it may where no more of it is known than a few letters. A student who is missed so
# is met again in the next piece, and counted as whoever is in two.
goes_on <- function(piece, student) {
  record <- sub("\n.*", "", piece$rest, useBytes = TRUE)
  known <- nchar(record, "bytes") < nchar(piece$rest, "bytes") ||
    nchar(record, "bytes") >= nchar(student, "bytes") + 8
  !known || grepl(student, record, fixed = TRUE, useBytes = TRUE)
}

rows_to_keep <- function(student) {
  n <- length(student)
  others <- which(student != student[n])
  if (length(others)) max(others) else n
}

read_piece <- function(piece, text, line) {
  table <- withCallingHandlers(
    tryCatch(
      cells_as_text(piece$text, sep = first_separator(text)),
      error = function(e) stop_pieces()
    ),
    warning = function(w) stop_pieces()
  )
  if (nrow(table) != piece$records || !"student" %in% trimws(names(table))) stop_pieces()
  table <- plain_cells(table, text)
  tidy_table(table, text$origin, as.integer(line - 1 + seq_len(nrow(table))))
}

# A first piece, which is read before any other can be, and the rest in ranges of bytes,
# for as many processes as may work at once; one range where that is one. Each begins with
# another student than the one before it ends with.
ranges_of <- function(text, bytes) {
  workers <- workers_at_once()
  size <- file.size(text$path)
  if (workers < 2 || size < 4 * bytes) return(list(c(text$start, Inf)))
  rest <- text$start + min(bytes, first_bytes)
  places <- rest + (size - rest) * (0:(2 * workers - 1)) / (2 * workers)
  begins <- records_from(text$path, text$start, places, text$quoted)
  begins <- vapply(begins, function(begin) next_student(text, begin), 0)
  edges <- unique(c(text$start, begins[begins < size], size))
  Map(c, edges[-length(edges)], edges[-1])
}

# Where the rows of another student begin after some record of the file.
next_student <- function(text, at) {
  piece <- next_piece(text$path, at, 1e5, text$header, text$quoted)
  if (piece$records < 2) return(piece$after)
  table <- read_piece(piece, text, 1L)
  same <- which(table$student != table$student[1])
  rows <- if (length(same)) same[1] - 1 else nrow(table)
  skip_records(text$path, at, rows, text$quoted)
}
