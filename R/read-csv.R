# Any CSV file as a data frame of text that knows its file and lines, so that a
# mistake can be pointed at. coded: columns of few values are factors, a column at a time
# and in place, since the text of a large file takes most of the memory it ever needs.
read_table_file <- function(path, coded = FALSE) {
  text <- open_text(path)
  check_sizes(text, path)
  if (text$bytes > 4e6) see_to_room(min(9 * text$bytes, 3e8))
  table <- plain_cells(read_cells(text), text)
  lines <- file_lines(
    table,
    first = 2L,
    quoted = text$quoted && max(text$breaks, text$returns) != nrow(table) + 1
  )
  table <- tidy_table(table, basename(path), lines)
  if (coded) table <- code_table(table)
  attr(table, "encoding") <- text$encoding
  table
}

# Without room R looks through millions of cells again and again for what it could throw
# away. What was asked for counts as used until R has looked once more, which takes least
# before there is anything to look through.
see_to_room <- function(bytes) {
  vectors <- gc(full = FALSE)["Vcells", ]
  # of 8 bytes each: at how many R looks next, how many there are
  if (8 * (vectors[[3]] - vectors[[1]]) >= bytes) return(invisible())
  make_room(bytes)
  gc(full = FALSE)
  invisible()
}

# In pieces it is enough once: R's heap stays as large as it was while nothing is freed.
make_room_once <- function(bytes) {
  if (isTRUE(room_made$done)) return(invisible())
  room_made$done <- TRUE
  see_to_room(bytes)
}

room_made <- new.env(parent = emptyenv())

# As they were typed, without what a writer of CSV put around them.
plain_cells <- function(table, text) {
  if (text$doubled) {
    table[] <- lapply(table, halve_quotes)
    names(table) <- halve_quotes(names(table))
  }
  if (text$apostrophe) {
    table[] <- lapply(table, drop_defusing)
    names(table) <- drop_defusing(names(table))
  }
  table
}

# Some columns at a time: the text of those that are done can go.
code_table <- function(table) {
  for (columns in split(seq_along(table), (seq_along(table) - 1) %/% 8)) {
    found <- code_columns(as.list(table)[columns], nrow(table) / 4)
    few <- lengths(found) > 0
    table[columns[few]] <- found[few]
  }
  table
}

# A line of a million letters is no row of a table of results, unless it has thousands of
# cells; one cell of that length is none.
check_sizes <- function(text, path) {
  if (nrow(text$separators)) {
    check_limit("columns", max(text$separators[1, ]) + 1, path)
  }
  check_limit("letters", text$longest / mean_columns(text), path)
}

mean_columns <- function(text) {
  if (!nrow(text$separators)) return(1)
  max(1, text$separators[1, ] + 1)
}

# Column names without outer blanks, each once; nothing that is only padding.
tidy_table <- function(table, origin, lines) {
  names(table) <- trimws(names(table))
  # As fread() calls a column without a heading.
  bare <- which(!nzchar(names(table)))
  names(table)[bare] <- paste0("V", bare)
  twice <- names(table)[duplicated(names(table)) & nzchar(names(table))]
  if (length(twice)) {
    abort_pregunta(
      "input",
      say("read-csv.two_columns_of_have", origin = origin),
      say(
        "read-csv.line_1",
        origin = origin,
        twice = quoted(twice[1])
      ),
      say("read-csv.give_each_column_its")
    )
  }
  table <- table[!is_trailing_column(table)]
  attr(table, "origin") <- origin
  attr(table, "line") <- lines
  table
}

# A column without a heading and without a cell; fread() calls it V and its number.
is_trailing_column <- function(table) {
  unnamed <- names(table) == paste0("V", seq_along(table))
  unnamed[unnamed] <- vapply(
    table[unnamed],
    function(x) all(is_blank(x)),
    TRUE
  )
  unnamed
}

# Every cell as the text that it is; a line of another length is a mistake.
read_cells <- function(text) {
  problem <- NULL
  table <- withCallingHandlers(
    tryCatch(
      cells_as_text(file = text$path, sep = first_separator(text)),
      error = function(e) {
        abort_pregunta(
          "input",
          say("read-csv.could_not_be_read", origin = text$origin),
          paste0(text$origin, ": ", conditionMessage(e)),
          say("read-csv.save_it_as_csv")
        )
      }
    ),
    warning = function(w) {
      problem <<- conditionMessage(w)
      invokeRestart("muffleWarning")
    }
  )
  if (!is.null(problem)) stop_ragged(text$origin, problem)
  check_first_line(text, table)
  table
}

cells_as_text <- function(...) {
  data.table::fread(
    ...,
    colClasses = "character",
    na.strings = NULL,
    header = TRUE,
    fill = FALSE,
    encoding = "UTF-8",
    strip.white = FALSE,
    data.table = FALSE,
    showProgress = FALSE,
    nThread = reading_threads()
  )
}

# By itself fread() starts where rows get alike, and leaves out in silence what stands
# above: the names have to be those of the first line that is not blank.
check_first_line <- function(text, table) {
  lines <- readLines(
    text$path,
    n = 30,
    warn = FALSE,
    encoding = "UTF-8"
  )
  at <- which(grepl("[^ \t]", lines, useBytes = TRUE))[1]
  bare <- function(x) gsub("^\ufeff|[\" \t\r]", "", x)
  if (is.na(at) || startsWith(bare(lines[at]), bare(names(table)[1]))) {
    return(invisible())
  }
  stop_ragged(text$origin, paste("line", at + 1))
}

# All cores up to 8, unless data.table was told how many it may use. A fork of a process
# that had threads has none, and would wait for them.
reading_threads <- function() {
  if (is_fork()) return(1L)
  if (nzchar(Sys.getenv("R_DATATABLE_NUM_THREADS"))) {
    return(data.table::getDTthreads())
  }
  min(8L, cores_here())
}

# fread() leaves the doubled quotes of a quoted cell as they stand.
halve_quotes <- function(x) {
  doubled <- grep("\"\"", x, fixed = TRUE)
  x[doubled] <- gsub("\"\"", "\"", x[doubled], fixed = TRUE)
  x
}

# An apostrophe that was put before a cell to keep it from being a formula.
drop_defusing <- function(x) {
  defused <- startsWith(x, "'") & grepl("^'+[=+@\t\r-]", x)
  if (any(defused)) {
    x[defused] <- substring(x[defused], 2)
  }
  x
}

known_separators <- c(",", ";", "\t", "|")

# Comma, semicolon or tab: whichever the first line has most of.
first_separator <- function(text) {
  if (!nrow(text$separators)) return(",")
  found <- text$separators[1, 1:3]
  if (all(found == 0)) "," else known_separators[which.max(found)]
}

stop_ragged <- function(name, problem) {
  line <- regmatches(problem, regexpr("line [0-9]+", problem))
  abort_pregunta(
    "input",
    say("read-csv.has_a_line_with", name = name),
    paste0(name, if (length(line)) paste0(", ", line)),
    say("read-csv.see_that_every_line")
  )
}

# Line of the file on which each row begins: a quoted cell may hold line ends.
file_lines <- function(table, first, quoted = TRUE) {
  if (!nrow(table)) return(integer())
  if (!quoted) return(first:(first + nrow(table) - 1L))
  breaks <- numeric(nrow(table))
  for (column in table) {
    broken <- grep("\n", column, fixed = TRUE)
    breaks[broken] <- breaks[broken] +
      lengths(
        regmatches(
          column[broken],
          gregexpr("\n", column[broken], fixed = TRUE)
        )
      )
  }
  before <- cumsum(c(0, breaks[-length(breaks)]))
  as.integer(seq_len(nrow(table)) + first - 1L + before)
}
