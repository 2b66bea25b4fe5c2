# Any CSV file as a data frame of text that knows its file and lines, so that a
# mistake can be pointed at.
read_table_file <- function(path) {
  check_readable(path)
  table <- read_cells(path)
  names(table) <- trimws(names(table))
  twice <- names(table)[duplicated(names(table)) & nzchar(names(table))]
  if (length(twice)) {
    abort_pregunta("input", paste0("Two columns of ", basename(path), " have the same name."),
      paste0(basename(path), ", line 1: ", quoted(twice[1])), "Give each column its own name.")
  }
  table <- table[!is_trailing_column(table)]
  table[] <- lapply(table, halve_quotes)
  attr(table, "origin") <- basename(path)
  attr(table, "line") <- file_lines(table)
  table
}

check_readable <- function(path) {
  size <- file.info(path)
  if (isTRUE(size$isdir)) {
    abort_pregunta("input", paste0(basename(path), " is a folder, not a file."), path, "Put a CSV file in its place.")
  }
  if (size$size == 0) {
    abort_pregunta("input", paste0(basename(path), " is empty."), path,
      "Its first line names the columns; see the help page of read_sitting().")
  }
  check_encoding(path)
}

# A column without a heading and without a cell; fread() calls it V and its number.
is_trailing_column <- function(table) {
  unnamed <- names(table) == paste0("V", seq_along(table)) | !nzchar(names(table))
  unnamed & vapply(table, function(x) all(is_blank(x)), TRUE)
}

# Every cell as the text that it is; a line of another length is a mistake.
read_cells <- function(path) {
  problem <- NULL
  table <- withCallingHandlers(
    tryCatch(
      data.table::fread(path, colClasses = "character", na.strings = NULL, header = TRUE, sep = csv_separator(path),
        fill = FALSE, encoding = "UTF-8", strip.white = FALSE, data.table = FALSE, showProgress = FALSE),
      error = function(e) {
        abort_pregunta("input", paste0(basename(path), " could not be read as a table."),
          paste0(path, ": ", conditionMessage(e)), "Save it as CSV (UTF-8) with one line of column names.")
      }
    ),
    warning = function(w) {
      problem <<- conditionMessage(w)
      invokeRestart("muffleWarning")
    }
  )
  if (!is.null(problem)) stop_ragged(path, basename(path), problem)
  table
}

# fread() leaves the doubled quotes of a quoted cell as they stand.
halve_quotes <- function(x) {
  doubled <- grep("\"\"", x, fixed = TRUE)
  x[doubled] <- gsub("\"\"", "\"", x[doubled], fixed = TRUE)
  x
}

# Comma, semicolon or tab: whichever the first line has most of.
csv_separator <- function(path) {
  first <- readLines(path, n = 1, warn = FALSE, encoding = "UTF-8")
  marks <- c(",", ";", "\t")
  found <- vapply(marks, function(mark) lengths(regmatches(first, gregexpr(mark, first, fixed = TRUE))), 0L)
  if (all(found == 0)) "," else marks[which.max(found)]
}

check_encoding <- function(path) {
  bytes <- readBin(path, "raw", n = min(file.size(path), 5e7))
  zero <- which(bytes == as.raw(0))
  if (length(zero)) {
    abort_pregunta("input", paste0(basename(path), " holds a byte that no text has."),
      paste0(path, ", byte ", zero[1]), "Save it again as CSV (UTF-8).")
  }
  if (validUTF8(rawToChar(bytes))) return(invisible())
  lines <- readLines(path, warn = FALSE)
  bad <- which(!validUTF8(lines))[1]
  abort_pregunta("input", paste0(basename(path), " is not written in UTF-8."),
    paste0(path, ", line ", bad, ": \"", iconv(lines[bad], "latin1", "UTF-8"), "\""),
    "Save it again as CSV UTF-8.")
}

stop_ragged <- function(path, name, problem) {
  line <- regmatches(problem, regexpr("line [0-9]+", problem))
  abort_pregunta("input", paste0(name, " has a line with too few or too many cells."),
    paste0(path, if (length(line)) paste0(", ", line), ": ", sub("[.] .*", "", problem)),
    "See that every line has as many cells as the first, and that text with a comma stands in quotes.")
}

# Line of the file on which each row begins: a quoted cell may hold line ends.
file_lines <- function(table) {
  if (!nrow(table)) return(integer())
  breaks <- numeric(nrow(table))
  for (column in table) {
    broken <- grep("\n", column, fixed = TRUE)
    breaks[broken] <- breaks[broken] + lengths(regmatches(column[broken], gregexpr("\n", column[broken], fixed = TRUE)))
  }
  as.integer(seq_len(nrow(table)) + 1L + cumsum(c(0, breaks[-length(breaks)])))
}
