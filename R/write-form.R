#' A blank sheet for a test on paper, and its way back
#'
#' `write_form()` lays out a sheet to type the answers of a paper test, a check
#' of skills or a rating into: a row a student, a column a question, as CSV and
#' as a workbook in which a cell offers the answers that are allowed.
#' `read_form()` takes what was typed over into `responses.csv`.
#'
#' @param folder Path of a test folder with `items.csv` and `students.csv`;
#'   `responses.csv` need not be there.
#' @param path Path of the filled-in sheet, CSV or `.xlsx`.
#' @param replace Where the sheet says something else than `responses.csv`: `FALSE`
#'   refuses the sheet, `TRUE` takes what the sheet says.
#' @return `write_form()`: the paths of the two files. `read_form()`: a data
#'   frame with `what` and `n`: cells filled in, left blank, new, and with `replace` those
#'   replaced. Both invisibly.
#' @details A sheet may be half filled in, and read back again when there is
#' more in it. What `responses.csv` holds already stays, also where the sheet is blank; a
#' cell that says something else is refused, and nothing is written, unless `replace`
#' says otherwise. `mark` items offer yes
#' and no when they give one point, the steps of the setting `scale` when there
#' is one, and the whole points otherwise.
#' @section Errors: `pregunta_error_folder` when the folder lacks items or
#'   students; `pregunta_error_input` when the sheet has no column of the test
#'   or contradicts what is there; `pregunta_error_output` when a form of that
#'   name with answers in it would be overwritten.
#' @export
#' @examples
#' folder <- file.path(tempdir(), "knots")
#' dir.create(folder)
#' file.copy(list.files(demo_path("knots"), full.names = TRUE), folder)
#' write_form(folder)
write_form <- function(folder) {
  test <- read_form_folder(folder)
  sheet <- form_sheet(test)
  paths <- file.path(folder, c("form.csv", "form.xlsx"))
  for (path in paths[file.exists(paths)]) stop_if_filled(path, test$items$item)
  write_csv_table(sheet, paths[1])
  write_form_book(sheet, test, paths[2])
  invisible(paths)
}

# Items and students of a folder that may have no responses yet.
read_form_folder <- function(folder) {
  check_is_path(folder)
  if (!dir.exists(folder)) {
    abort_pregunta(
      "folder",
      say("write-form.there_is_no_folder", folder = quoted(folder)),
      NULL,
      say("write-form.give_the_path_of")
    )
  }
  items <- read_part(folder, "items")
  students <- read_part(folder, "students")
  for (name in c("items", "students")) {
    if (is.null(list(items = items, students = students)[[name]])) {
      files <- some_of(list.files(folder), 8)
      abort_pregunta(
        "folder",
        say("write-form.the_folder_has_no", name = name),
        say("write-form.holds", folder = folder, files = files),
        say("write-form.a_form_needs_the")
      )
    }
  }
  options <- read_part(folder, "options")
  items <- complete_items(items)
  list(
    items = items,
    students = complete_students(students),
    options = complete_options(options, items, NULL),
    settings = complete_settings(folder_settings(folder)),
    responses = read_part(folder, "responses")
  )
}

# The row below the names that shows what each question asks.
wording_word <- "(question)"

# Student, name, section and an empty column a question; points of an open
# question beside it.
form_sheet <- function(test) {
  sheet <- test$students[c("student", "name", "section")]
  sheet <- sheet[vapply(sheet, function(x) !all(is.na(x)), TRUE)]
  for (j in seq_len(nrow(test$items))) {
    sheet[[test$items$item[j]]] <- ""
    if (has_points_beside(test$items$type[j])) {
      sheet[[paste(test$items$item[j], "points")]] <- ""
    }
  }
  prompt <- test$items$prompt[
    match(sub(" points$", "", names(sheet)), test$items$item)
  ]
  if (all(is.na(prompt))) return(sheet)
  prompt[is.na(prompt)] <- ""
  prompt[names(sheet) == "student"] <- wording_word
  names(prompt) <- names(sheet)
  rbind(as.list(prompt), sheet)
}

stop_if_filled <- function(path, items) {
  table <- if (grepl("xlsx$", path)) {
    read_table_sheet(path, "responses")
  } else {
    read_table_file(path)
  }
  filled <- table[
    !table$student %in% wording_word,
    intersect(names(table), c(items, paste(items, "points")))
  ]
  typed <- trimws(unlist(filled))
  if (all(is_blank(typed))) return(invisible())
  abort_pregunta(
    "output",
    say("write-form.the_form_has_answers", path = quoted(path)),
    NULL,
    say("write-form.read_it_back_first")
  )
}

# An answer that is marked by hand has its points beside it.
has_points_beside <- function(type) is_marked(type) & !is_points_cell(type)

# What may stand in a column of the form; NULL when anything may.
allowed_answers <- function(column, test) {
  item <- test$items[
    test$items$item == sub(" points$", "", column),
  ]
  if (column != item$item) return(whole_points(item$points))
  offered <- test$options$option[test$options$item == item$item]
  item_type(item$type)$allowed(item, offered, test$settings$scale)
}

# Every list of answers stands on a hidden sheet, so that its length does not
# matter and no answer is taken for a formula.
write_form_book <- function(sheet, test, path) {
  book <- openxlsx::createWorkbook()
  openxlsx::addWorksheet(book, "responses")
  openxlsx::addWorksheet(book, "allowed", visible = FALSE)
  openxlsx::writeData(
    book,
    "responses",
    sheet,
    headerStyle = ruled_style(
      textDecoration = "bold",
      fgFill = "#E7E1D3",
      wrapText = TRUE,
      valign = "top"
    )
  )
  rows <- which(!sheet$student %in% wording_word) + 1
  people <- sum(names(sheet) %in% c("student", "name", "section"))
  fill <- seq(people + 1, ncol(sheet))
  # Text, so that a spreadsheet makes no date of 3-5 and drops no zero.
  openxlsx::addStyle(
    book,
    "responses",
    ruled_style(numFmt = "TEXT", halign = "center"),
    rows,
    fill,
    gridExpand = TRUE
  )
  openxlsx::addStyle(
    book,
    "responses",
    ruled_style(numFmt = "TEXT"),
    rows,
    seq_len(people),
    gridExpand = TRUE
  )
  if (rows[1] > 2) {
    openxlsx::addStyle(
      book,
      "responses",
      ruled_style(
        wrapText = TRUE,
        valign = "top",
        textDecoration = "italic",
        fgFill = "#F4F0E6"
      ),
      2,
      seq_along(sheet),
      gridExpand = TRUE
    )
  }
  for (k in fill) {
    offer_answers(
      book,
      k,
      allowed_answers(names(sheet)[k], test),
      rows
    )
  }
  widths <- form_widths(sheet, people)
  openxlsx::setColWidths(
    book,
    "responses",
    seq_along(sheet),
    widths
  )
  if (rows[1] > 2) {
    lines <- ceiling(nchar(unlist(sheet[1, ])) / (widths - 2))
    openxlsx::setRowHeights(
      book,
      "responses",
      2,
      15 * max(1, lines)
    )
  }
  openxlsx::freezePane(
    book,
    "responses",
    firstActiveRow = rows[1],
    firstActiveCol = people + 1
  )
  openxlsx::pageSetup(
    book,
    "responses",
    orientation = "landscape",
    fitToHeight = FALSE,
    fitToWidth = sum(widths) < 140,
    scale = if (sum(widths) < 140) 100 else 60,
    printTitleRows = 1,
    printTitleCols = seq_len(people)
  )
  write_book(book, path)
}

# Wide enough for the name; a wording wraps.
form_widths <- function(sheet, people) {
  fill <- names(sheet)[-seq_len(people)]
  wording <- if (sheet$student[1] %in% wording_word) {
    unlist(sheet[1, -seq_len(people)])
  } else {
    rep("", length(fill))
  }
  of_person <- c(12, 24, 14)
  most <- if (length(fill) > 10) 12 else 16
  of_question <- pmin(most, nchar(wording) + 2)
  c(
    of_person[seq_len(people)],
    pmax(6, nchar(fill) + 2, of_question)
  )
}

offer_answers <- function(book, column, allowed, rows, sheet = "responses") {
  if (is.null(allowed)) return(invisible())
  letters <- openxlsx::int2col(column)
  openxlsx::writeData(
    book,
    "allowed",
    allowed,
    startCol = column,
    colNames = FALSE
  )
  one_of_these(
    book,
    sheet,
    column,
    rows,
    letters,
    length(allowed)
  )
}
