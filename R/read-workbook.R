# Workbooks: each cell as the text that a person sees in it, so that numbers
# stored as text and text that looks like numbers come out alike.

is_workbook <- function(path) {
  start <- readBin(path, "raw", n = 8)
  if (length(start) >= 8 &&
    all(start[1:4] == as.raw(c(0xD0, 0xCF, 0x11, 0xE0)))) {
    abort_old_workbook(path)
  }
  is_zip(path) && any(grepl("^xl/workbook", zip_names(path)))
}

is_zip <- function(path) {
  start <- readBin(path, "raw", n = 4)
  length(start) == 4 && all(start == as.raw(c(0x50, 0x4B, 0x03, 0x04)))
}

# A workbook with a password lies in the same wrapping as the old .xls.
abort_old_workbook <- function(path) {
  bytes <- readBin(path, "raw", n = min(file.size(path), 1e6))
  name <- iconv(
    "EncryptedPackage",
    "UTF-8",
    "UTF-16LE",
    toRaw = TRUE
  )[[
    1
  ]]
  locked <- length(grepRaw(name, bytes, fixed = TRUE)) > 0
  abort_pregunta(
    "input",
    say(
      "read-workbook.is_a_workbook_with",
      path = basename(path),
      locked = locked
    ),
    path,
    if (locked) {
      say("read-workbook.open_it_save_it")
    } else {
      say("read-workbook.open_it_and_save")
    }
  )
}

# Asked once for each state of a file, since each table of a test asks.
sheet_names <- function(path) {
  note_read(path)
  check_parts(path)
  state <- paste("sheets", state_of_file(path), sep = ": ")
  if (!exists(state, parts_checked, inherits = FALSE)) {
    names <- tryCatch(
      apart(function() readxl::excel_sheets(path)),
      error = function(e) abort_workbook(path, e)
    )
    assign(state, names, parts_checked)
  }
  parts_checked[[state]]
}

state_of_file <- function(path) {
  about <- file.info(path, extra_cols = FALSE)
  paste(full_path(path), about$size, about$mtime)
}

# What the parser of workbooks is given was looked at before: a cell that stands at no
# place, or XML without an end, is not for it. Once for each state of a file.
check_parts <- function(path) {
  state <- state_of_file(path)
  if (exists(state, parts_checked, inherits = FALSE)) return(invisible())
  entries <- check_zip(path)
  parts <- entries$Name[grepl("[.](xml|rels)$", entries$Name, ignore.case = TRUE)]
  elements <- 0
  for (part in parts) {
    bytes <- read_zip_entry(path, part, 1e6 * limit_of("megabytes"))
    look <- check_xml(bytes, path, part)
    if (look$bad_place) {
      abort_workbook(path, simpleError(say("read-workbook.a_cell_nowhere", part = part)))
    }
    check_limit("cells", look$row * look$column, path, part)
    elements <- elements + look$elements
    check_limit("elements", elements, path, part)
  }
  assign(state, TRUE, parts_checked)
}

parts_checked <- new.env(parent = emptyenv())

abort_workbook <- function(path, e) {
  abort_pregunta(
    "input",
    say("read-workbook.could_not_be_read", path = basename(path)),
    paste0(path, ": ", conditionMessage(e)),
    say("read-workbook.open_it_in_a")
  )
}

# The cells of a sheet as text in a data frame; NULL when the sheet is empty.
read_sheet_cells <- function(path, sheet) {
  read <- function() {
    readxl::read_excel(
      path,
      sheet,
      range = readxl::cell_limits(c(1, 1), c(NA, NA)),
      col_names = FALSE,
      col_types = "list",
      trim_ws = FALSE,
      .name_repair = "minimal",
      progress = FALSE
    )
  }
  check_parts(path)
  cells <- tryCatch(
    suppressMessages(apart(read)),
    error = function(e) abort_workbook(path, e)
  )
  if (!length(cells) || !nrow(cells)) return(NULL)
  shown <- lapply(cells, show_cells)
  table <- as.data.frame(
    lapply(shown, `[[`, "text"),
    col.names = paste0("V", seq_along(shown))
  )
  attr(table, "dates") <- vapply(
    shown,
    function(column) sum(column$date),
    0L
  )
  table
}

# In a process of its own, where this one may fork or says how, or has to: a parser that
# dies takes nothing along.
apart <- function(read, must = FALSE) {
  way <- getOption("pregunta.apart", isTRUE(getOption("pregunta.process")))
  if (identical(way, "anew")) return(read_anew(read))
  if (!(way || must)) return(read())
  if (!can_fork()) return(if (has_package("processx")) read_anew(read) else read())
  job <- parallel::mcparallel(
    {
      end_with_parent()
      tryCatch(read(), error = identity)
    },
    silent = TRUE
  )
  found <- suppressWarnings(parallel::mccollect(job))[[1]]
  if (inherits(found, "error")) stop(found)
  if (is.null(found)) stop(say("read-workbook.broke_the_parser"))
  found
}

read_anew <- function(read) {
  begun <- begin_anew(read)
  begun$process$wait()
  found <- result_of(begun)
  if (is.null(found$error)) return(found$value)
  if (!nzchar(conditionMessage(found$error))) stop(say("read-workbook.broke_the_parser"))
  stop(found$error)
}

show_cells <- function(cells) {
  kind <- vapply(cells, function(cell) class(cell)[1], "")
  text <- rep("", length(cells))
  is_text <- kind == "character"
  text[is_text] <- unlist(cells[is_text])
  is_number <- kind == "numeric"
  text[is_number] <- format_plain(unlist(cells[is_number]))
  is_truth <- kind == "logical" & !is.na(lapply(cells, `[`, 1))
  text[is_truth] <- toupper(unlist(cells[is_truth]))
  is_date <- kind == "POSIXct"
  text[is_date] <- show_dates(do.call(c, cells[is_date]))
  list(text = text, date = is_date)
}

show_dates <- function(times) {
  midnight <- as.numeric(times) %% 86400 == 0
  out <- format(times, "%Y-%m-%d %H:%M:%S", tz = "UTC")
  out[midnight] <- substr(out[midnight], 1, 10)
  of_day <- times < as.POSIXct("1900-01-02", tz = "UTC") # a time without a day
  out[of_day] <- format(times[of_day], "%H:%M:%S", tz = "UTC")
  out
}

read_sheet_grids <- function(path, sheet) {
  names <- sheet_names(path)
  if (!is.null(sheet)) {
    names <- chosen_sheet(path, sheet, names)
  }
  grids <- lapply(names, function(name) sheet_grid(path, name))
  filled <- !vapply(grids, is.null, TRUE)
  if (!any(filled)) {
    abort_pregunta(
      "input",
      say("read-workbook.holds_nothing", path = basename(path)),
      path,
      say("read-workbook.see_that_it_is")
    )
  }
  stats::setNames(grids[filled], names[filled])
}

# One sheet or several: by name, by number, with commas between.
chosen_sheet <- function(path, sheet, names) {
  wanted <- tolower(as.character(sheet))
  if (length(wanted) == 1 && !wanted %in% tolower(names)) {
    wanted <- trimws(strsplit(wanted, ",", fixed = TRUE)[[1]])
  }
  at <- or_else(match(wanted, tolower(names)), match(wanted, seq_along(names)))
  if (anyNA(at)) {
    missing <- wanted[is.na(at)][1]
    if (length(wanted) == 1) {
      missing <- as.character(sheet)
    }
    abort_pregunta(
      "call",
      say(
        "read-workbook.has_no_sheet",
        path = basename(path),
        sheet = quoted(missing)
      ),
      say("read-workbook.its_sheets_are", names = some_of(names, 12)),
      did_you_mean(missing, names)
    )
  }
  names[at]
}

sheet_grid <- function(path, name) {
  cells <- read_sheet_cells(path, name)
  if (is.null(cells) ||
    all(vapply(cells, function(x) all(!nzchar(trimws(x))), TRUE))) {
    return(NULL)
  }
  looks <- sheet_looks(path, name)
  cells <- cells_as_seen(cells, looks, path, name)
  columns <- intersect(looks$hidden_columns, seq_along(cells))
  rows <- intersect(looks$hidden_rows, seq_len(nrow(cells)))
  line <- setdiff(seq_len(nrow(cells)), rows)
  seen <- cells[line, setdiff(seq_along(cells), columns), drop = FALSE]
  grid <- make_grid(seen, basename(path), line)
  attr(grid, "about") <- say(
    "read-workbook.sheet",
    name = quoted(name),
    hidden = length(columns) + length(rows) > 0,
    what = join_words(
      c(
        if (length(columns)) {
          say("read-workbook.hidden_columns", n = length(columns))
        },
        if (length(rows)) say("read-workbook.hidden_rows", n = length(rows))
      )
    )
  )
  attr(grid, "separated") <- TRUE
  grid
}

# A sheet of test.xlsx in the place of a CSV file of a test folder.
read_table_sheet <- function(path, sheet) {
  cells <- read_sheet_cells(path, sheet)
  origin <- say(
    "read-workbook.sheet_2",
    path = basename(path),
    sheet = sheet
  )
  if (is.null(cells)) {
    abort_pregunta(
      "input",
      say(
        "read-workbook.the_sheet_of_is",
        sheet = quoted(sheet),
        path = basename(path)
      ),
      path,
      say("read-workbook.its_first_line_names")
    )
  }
  full <- which(!is_empty_row(cells))
  table <- cells[full[-1], , drop = FALSE]
  names(table) <- unlist(cells[full[1], ])
  rownames(table) <- NULL
  named <- !is_blank(trimws(names(table)))
  beside <- sum(!is_blank(trimws(unlist(table[!named]))))
  table <- tidy_table(table[named], origin, full[-1])
  attr(table, "beside") <- beside
  table
}
