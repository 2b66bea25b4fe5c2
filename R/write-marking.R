#' Mark by hand what waits for a mark, and read it back
#'
#' `write_marking()` lays out all answers that wait for a mark, question by
#' question and equal answers together, as CSV and as a workbook.
#' `read_marking()` reads the points from a filled-in sheet and records them in
#' `adjustments.csv` (see [adjust()]).
#'
#' @param folder Path of a test folder.
#' @param names Whether the students' names are in the sheet. An answer that is
#'   not in the data (it stands on paper) always has the student's id.
#' @param path Path of the filled-in sheet, CSV or `.xlsx`.
#' @details The columns are `item`, `question`, `answer`, `times` (how many
#'   gave it), `points` (to fill in), `most`, `comment` (for the students who
#'   gave it, if you like), `student` (only where the answer is on paper) and
#'   `who`. A sheet may be half marked and read back again later. A mark that
#'   was changed in the sheet since then is changed in the list too (the old one
#'   is undone); a mark that was recorded by [adjust()] stays and the sheet is
#'   refused. Items of a type with a key, but without one, wait for the key and
#'   are not in the sheet.
#' @return `write_marking()`: the paths of the two files, or `NULL` when nothing
#'   waits. `read_marking()`: a data frame with `what` and `n`: marks recorded,
#'   marks changed, comments recorded, answers still without a mark. Both
#'   invisibly.
#' @section Errors: `pregunta_error_input` with file, line and value for points
#'   that the item cannot give and for an answer that is none of those that
#'   wait; then nothing is recorded. `pregunta_error_output` when a sheet with
#'   marks that were not read back would be overwritten.
#' @export
#' @examples
#' folder <- file.path(tempdir(), "marking")
#' dir.create(folder)
#' file.copy(list.files(demo_path(), full.names = TRUE), folder, recursive = TRUE)
#' sheet <- read.csv(write_marking(folder)[1])
#' sheet$points[1:2] <- c(2, 0)
#' write.csv(sheet, file.path(folder, "marking.csv"), row.names = FALSE, na = "")
#' print(read_marking(folder, file.path(folder, "marking.csv")))
write_marking <- function(folder, names = TRUE) {
  sitting <- read_sitting(folder)
  sheet <- marking_sheet(sitting, names)
  if (!nrow(sheet)) return(invisible(NULL))
  paths <- file.path(folder, c("marking.csv", "marking.xlsx"))
  for (path in paths[file.exists(paths)]) stop_if_marked(sitting, path)
  write_csv_table(sheet, paths[1])
  write_marking_book(sheet, paths[2])
  invisible(paths)
}

# The word for an answer that is not in the data.
paper_word <- "(on paper)"

# A row a student and item that can be marked by hand: those that wait now, or
# (all) those that waited before any change of single students.
waiting_cells <- function(sitting, all = FALSE) {
  part <- if (all) sitting$before else sitting
  keyless <- !is_marked(sitting$items$type) & is.na(sitting$items$key)
  found <- lapply(which(!keyless), function(j) {
    i <- which((part$cells[[j]]$state == "pending")[part$codes[, j]])
    answer <- part$cells[[j]]$answer[part$codes[i, j]]
    data.frame(
      item = rep(j, length(i)),
      row = i,
      answer = ifelse(is_blank(answer), paper_word, answer)
    )
  })
  none <- data.frame(
    item = integer(),
    row = integer(),
    answer = character()
  )
  cells <- do.call(rbind, c(list(none), found))
  cells$student <- sitting$students$student[cells$row]
  cells$key <- marking_key(
    sitting$items$item[cells$item],
    cells$answer,
    ifelse(cells$answer == paper_word, cells$student, NA)
  )
  cells
}

marking_key <- function(item, answer, student) {
  paste(
    item,
    gsub("[[:space:]]+", " ", answer),
    or_blank(student),
    sep = "\r"
  )
}

marking_sheet <- function(sitting, names) {
  cells <- waiting_cells(sitting)
  times <- table(cells$key)
  first <- cells[!duplicated(cells$key), ]
  first <- first[
    order(first$item, -times[first$key], tolower(first$answer)),
  ]
  people <- sitting$students[cells$row, ]
  label <- or_else(people$name, people$student)
  who <- vapply(
    split(label, factor(cells$key, first$key)),
    paste,
    "",
    collapse = "; "
  )
  sheet <- data.frame(
    item = sitting$items$item[first$item],
    question = sitting$items$prompt[first$item],
    answer = first$answer,
    times = as.integer(times[first$key]),
    points = rep(NA_character_, nrow(first)),
    most = sitting$items$points[first$item],
    comment = rep(NA_character_, nrow(first)),
    student = ifelse(
      first$answer == paper_word,
      first$student,
      NA
    ),
    who = unname(who)
  )
  if (!names) {
    sheet$who <- NULL
  }
  if (all(is.na(sheet$student))) {
    sheet$student <- NULL
  }
  sheet
}

# Marks in a sheet of that name that are not in the folder yet.
stop_if_marked <- function(sitting, path) {
  sheet <- read_marking_sheet(path)
  filled <- sheet[!is.na(sheet$points), ]
  marked <- marking_key(
    filled$item,
    filled$answer,
    filled$student
  )
  if (!any(marked %in% waiting_cells(sitting)$key)) return(invisible())
  abort_pregunta(
    "output",
    say("write-marking.the_sheet_has_marks", path = quoted(path)),
    NULL,
    say("write-marking.read_it_back_first")
  )
}

write_marking_book <- function(sheet, path) {
  book <- openxlsx::createWorkbook()
  openxlsx::addWorksheet(book, "marking")
  openxlsx::addWorksheet(book, "allowed", visible = FALSE)
  openxlsx::writeData(
    book,
    "marking",
    sheet,
    headerStyle = ruled_style(
      textDecoration = "bold",
      fgFill = "#E7E1D3",
      valign = "top"
    )
  )
  rows <- seq_len(nrow(sheet)) + 1
  fill <- match(c("points", "comment"), names(sheet))
  openxlsx::addStyle(
    book,
    "marking",
    ruled_style(numFmt = "TEXT", wrapText = TRUE, valign = "top"),
    rows,
    setdiff(seq_along(sheet), fill),
    gridExpand = TRUE
  )
  openxlsx::addStyle(
    book,
    "marking",
    ruled_style(
      numFmt = "TEXT",
      wrapText = TRUE,
      valign = "top",
      fgFill = "#F3E7CC"
    ),
    rows,
    fill,
    gridExpand = TRUE
  )
  for (most in unique(sheet$most)) offer_points(book, sheet, most, fill[1])
  widths <- c(
    item = 8,
    question = 30,
    answer = 50,
    times = 7,
    points = 8,
    most = 7,
    comment = 24,
    student = 10,
    who = 28
  )
  openxlsx::setColWidths(
    book,
    "marking",
    seq_along(sheet),
    widths[names(sheet)]
  )
  lines <- vapply(
    intersect(c("question", "answer", "who"), names(sheet)),
    function(column) {
      ceiling(
        nchar(or_blank(sheet[[column]])) * 1.15 / widths[[column]]
      )
    },
    numeric(nrow(sheet))
  )
  most_lines <- apply(rbind(lines), 1, max)
  openxlsx::setRowHeights(
    book,
    "marking",
    rows,
    15 * pmax(1, most_lines)
  )
  openxlsx::freezePane(book, "marking", firstRow = TRUE)
  openxlsx::pageSetup(
    book,
    "marking",
    orientation = "landscape",
    fitToWidth = TRUE,
    fitToHeight = FALSE,
    printTitleRows = 1
  )
  write_book(book, path)
}

# Whole and half points up to the most, as a list in the cell; others are read too.
offer_points <- function(book, sheet, most, column) {
  if (most > 30) return(invisible())
  allowed <- format_plain(seq(0, most, by = 0.5))
  place <- match(most, unique(sheet$most))
  openxlsx::writeData(
    book,
    "allowed",
    allowed,
    startCol = place,
    colNames = FALSE
  )
  for (row in which(sheet$most == most) + 1) {
    letters <- openxlsx::int2col(place)
    one_of_these(
      book,
      "marking",
      column,
      row,
      letters,
      length(allowed)
    )
  }
}
