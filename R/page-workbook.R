#' The results as a workbook
#'
#' Writes one `.xlsx` with a sheet each for the students, the questions, their answers,
#' the standards, students by standards, every answer's points, the notes on the data and
#' what the columns mean. Rows are frozen and filtered at the head, levels keep their
#' colours when you sort, numbers are numbers, and each sheet prints across one page's
#' width.
#'
#' @inheritParams write_report
#' @param names Whether students are in the file at all. Without names the sheets with a
#'   row a student are left out, and groups under the setting `smallest_group`, at least
#'   5, are withheld.
#' @param path Of the file. It is written whole or not at all.
#' @param language The code of the language that it is written in, see [languages()]; that
#'   of the test where it is known, else the usual one.
#' @return The path, invisibly.
#' @details What students typed is text in it, never a formula. Colours of levels are
#' rules on the values, so that they follow a mark that you change.
#' @section Errors: `pregunta_error_output` when the file cannot be written, as when it is
#'   open elsewhere.
#' @export
#' @examples
#' path <- file.path(tempdir(), "workbook.xlsx")
#' write_workbook(read_sitting(demo_path()), path)
#' openxlsx::getSheetNames(path)
write_workbook <- function(sitting, path = "workbook.xlsx", names = TRUE,
                           language = NULL) {
  interpret_here()
  check_is_sitting(sitting)
  speak_here(language_of_pages(sitting, language))
  sitting <- titles_for_reader(sitting)
  check_output(path)
  book <- openxlsx::createWorkbook(title = printable(sitting$settings$title))
  sheets <- workbook_sheets(sitting, names)
  levels <- sitting$settings$levels
  for (sheet in base::names(sheets)) {
    add_sheet(
      book,
      words_for(sheet, "sheets"),
      sheets[[sheet]],
      levels
    )
  }
  colour_scores(book, sheets$by_standard, sitting)
  colour_points(book, sheets$grid, sitting)
  write_book(book, path)
  invisible(path)
}

# The tables in the order of the sheets, each with few columns and those that matter.
workbook_sheets <- function(sitting, names) {
  if (!names) {
    sitting <- for_sharing(sitting)
  }
  questions <- judged_questions(sitting)
  students <- summarise_students(sitting)
  standards <- summarise_standards(sitting)
  findings <- check_sitting(sitting)
  if (!names) {
    findings <- without_people(findings)
  }
  by_standard <- if (names && nrow(standards)) {
    grid <- standards_grid(sitting, summarise_standards(sitting, "student"))
    grid[order(match(grid$student, students$student)), ]
  }
  sheets <- list(
    students = if (names) student_sheet(students),
    items = item_sheet(sitting, questions),
    options = option_sheet(questions$options),
    standards = if (nrow(standards)) {
      as.data.frame(standards)[setdiff(base::names(standards), "points")]
    },
    by_standard = if (!is.null(by_standard)) said_levels(plain_rows(by_standard)),
    grid = if (names) said_levels(points_by_item(sitting, students)),
    notes = note_sheet(findings)
  )
  sheets <- Filter(Negate(is.null), sheets)
  c(sheets, list(columns = column_meanings(sheets, sitting)))
}

student_sheet <- function(students) {
  table <- said_levels(plain_rows(students))
  table$status <- words_for(table$status, "statuses")
  table
}

said_levels <- function(table) {
  if (!is.null(table$level)) table$level <- level_words(table$level)
  table
}

note_sheet <- function(findings) {
  table <- as.data.frame(findings)
  table$severity <- words_for(table$severity, "severities")
  table[c("severity", "file", "line", "column", "value", "finding", "action")]
}

item_sheet <- function(sitting, questions) {
  items <- as.data.frame(questions$items)
  review <- questions$review
  review <- review[match(items$item, review$item), ]
  figures <- c(
    "n", "omitted", "not_reached", "points", "difficulty", "difficulty_low",
    "difficulty_high", "discrimination", "discrimination_low",
    "discrimination_high"
  )
  data.frame(
    item = items$item,
    prompt = cell_words(sitting$items$prompt),
    type = type_words(sitting$items$type),
    items[figures],
    reason = cell_words(say_reason(items$reason)),
    verdict = words_for(review$verdict, "verdicts"),
    what = review$what,
    do = review$do
  )
}

option_sheet <- function(options) {
  options <- as.data.frame(options)
  options$pattern <- words_for(options$pattern, "patterns")
  options$option <- shown_answer(options$option, options$state)
  options[
    c(
      "item", "option", "text", "key", "count", "share", "low", "middle",
      "high", "option_rest", "pattern", "misconception", "idea"
    )
  ]
}

# No name and no id; a reason may name somebody.
# Whose rows they are, which line that is, and what one student answered.
without_people <- function(findings) {
  about_students <- findings$column %in% c("student", "exclude") |
    findings$file %in% tables_of_students
  findings$value[about_students & !is.na(findings$value)] <- say("page-workbook.hidden")
  findings$line[about_students] <- NA
  findings$action <- sub("^Reason: .*", "", findings$action)
  findings
}

tables_of_students <- c("responses.csv", "students.csv", "adjustments.csv")

# ---- sheets --------------------------------------------------------------------------

share_columns <- c(
  "share", "difficulty", "difficulty_low", "difficulty_high", "share_low",
  "share_high", "low", "middle", "high"
)
wide_columns <- c(
  prompt = 40,
  what = 60,
  do = 44,
  text = 34,
  idea = 34,
  finding = 44,
  action = 44,
  title = 40,
  name = 22,
  means = 90,
  value = 24,
  reason = 24,
  shown_by = 24,
  item = 9,
  option = 16
)

add_sheet <- function(book, name, table, levels) {
  openxlsx::addWorksheet(book, name)
  table[vapply(table, is.character, TRUE)] <- lapply(
    table[vapply(table, is.character, TRUE)],
    printable
  )
  openxlsx::writeData(
    book,
    name,
    table,
    withFilter = nrow(table) > 0,
    headerStyle = openxlsx::createStyle(
      fontName = "Calibri",
      textDecoration = "bold",
      fgFill = "#F3E7CC",
      border = "bottom",
      wrapText = TRUE,
      valign = "top"
    )
  )
  people <- match(
    "section",
    names(table),
    nomatch = match("item", names(table), nomatch = 1)
  )
  openxlsx::freezePane(
    book,
    name,
    firstActiveRow = 2,
    firstActiveCol = min(people, 3) + 1
  )
  narrow <- names(table) %in% c(names(table)[vapply(table, is.numeric, TRUE)]) &
    !names(table) %in% names(wide_columns)
  wide <- names(table) %in% names(wide_columns)
  width <- ifelse(narrow, 11, 15)
  width[wide] <- wide_columns[names(table)[wide]]
  openxlsx::setColWidths(book, name, seq_along(table), width)
  rows <- seq_len(nrow(table)) + 1
  number_cells(book, name, table, rows, levels)
  long <- which(
    names(table) %in% c(
      "prompt", "what", "do", "text", "idea", "finding", "action", "title",
      "means"
    )
  )
  if (length(long) && length(rows)) {
    openxlsx::addStyle(
      book,
      name,
      openxlsx::createStyle(wrapText = TRUE, valign = "top"),
      rows,
      long,
      gridExpand = TRUE,
      stack = TRUE
    )
    lines <- do.call(
      pmax,
      lapply(long, function(k) {
        ceiling(nchar(or_blank(table[[k]])) / (width[k] - 4))
      })
    )
    openxlsx::setRowHeights(
      book,
      name,
      rows,
      15 * pmin(pmax(lines, 1), 20)
    )
  }
  openxlsx::pageSetup(
    book,
    name,
    orientation = "landscape",
    fitToWidth = TRUE,
    fitToHeight = FALSE,
    paperSize = 9,
    printTitleRows = 1
  )
  openxlsx::setHeaderFooter(
    book,
    name,
    header = c(NA, name, NA),
    footer = c(NA, "&[Page] / &[Pages]", NA)
  )
  colour_levels(book, name, table, rows, levels)
}

number_cells <- function(book, name, table, rows, levels) {
  if (!length(rows)) return(invisible())
  style <- function(columns, format) {
    if (length(columns)) {
      openxlsx::addStyle(
        book,
        name,
        openxlsx::createStyle(numFmt = format, valign = "top"),
        rows,
        columns,
        gridExpand = TRUE,
        stack = TRUE
      )
    }
  }
  numeric <- vapply(table, is.numeric, TRUE)
  shares <- numeric &
    names(table) %in% c(
      share_columns,
      if (name == words_for("standards", "sheets")) names(levels)
    )
  if (name == words_for("by_standard", "sheets")) {
    shares <- numeric
  }
  style(which(shares), "0%")
  style(
    which(numeric & grepl("^discrimination|option_rest", names(table))),
    "0.00"
  )
  # A word after a number would touch it.
  after <- which(!numeric & c(FALSE, numeric[-length(numeric)]))
  if (length(after)) {
    openxlsx::addStyle(
      book,
      name,
      openxlsx::createStyle(halign = "left", indent = 1),
      rows,
      after,
      gridExpand = TRUE,
      stack = TRUE
    )
  }
}

# A rule on the level's name, so that colours go along when rows are sorted.
colour_levels <- function(book, name, table, rows, levels) {
  ground <- level_colours(length(levels))
  column <- match("level", names(table))
  if (!is.na(column) && length(rows)) {
    for (k in seq_along(levels)) {
      rule <- paste0(
        "$",
        openxlsx::int2col(column),
        "2=\"",
        gsub("\"", "\"\"", level_words(names(levels)[k])),
        "\""
      )
      openxlsx::conditionalFormatting(
        book,
        name,
        column,
        rows,
        rule = rule,
        style = level_style(ground[k])
      )
    }
  }
  verdict <- match("verdict", names(table))
  if (!is.na(verdict) && length(rows)) {
    for (word in words_for(asking_verdicts, "verdicts")) {
      openxlsx::conditionalFormatting(
        book,
        name,
        verdict,
        rows,
        rule = paste0(
          "$", openxlsx::int2col(verdict), "2=\"", word, "\""
        ),
        style = openxlsx::createStyle(
          bgFill = "#F3E7CC",
          fontColour = "#7A4800"
        )
      )
    }
  }
}

level_style <- function(ground) {
  openxlsx::createStyle(bgFill = ground, fontColour = toupper(ink_on(ground)))
}

# Scores on standards by the cuts of each standard.
colour_scores <- function(book, table, sitting) {
  if (is.null(table) || !nrow(table)) return(invisible())
  for (column in which(names(table) %in% sitting$standards$code)) {
    cuts <- unlist(levels_for(
      names(table)[column],
      sitting$settings,
      sitting$standards
    ))
    colour_between(
      book,
      words_for("by_standard", "sheets"),
      column,
      nrow(table),
      cuts,
      level_colours(length(cuts))
    )
  }
}

colour_points <- function(book, table, sitting) {
  if (is.null(table) || !nrow(table)) return(invisible())
  for (j in seq_len(nrow(sitting$items))) {
    column <- ncol(table) - nrow(sitting$items) + j
    most <- sitting$items$points[j]
    colour_between(
      book,
      words_for("grid", "sheets"),
      column,
      nrow(table),
      c(0, 1e-9, most - 1e-9),
      c("#EAD9AE", "#7DB5AC", "#0B5A5A")
    )
  }
  first <- ncol(table) - nrow(sitting$items) + 1
  openxlsx::setColWidths(
    book,
    words_for("grid", "sheets"),
    first:ncol(table),
    6
  )
}

# From each cut the colour that belongs to it; an empty cell has none.
colour_between <- function(book, sheet, column, n, cuts, ground) {
  cell <- paste0(openxlsx::int2col(column), 2)
  upper <- c(cuts[-1], Inf)
  for (k in seq_along(cuts)) {
    rule <- paste0(
      "AND(ISNUMBER(",
      cell,
      "),",
      cell,
      ">=",
      format(cuts[k] - 1e-9, scientific = FALSE, digits = 12),
      if (is.finite(upper[k])) {
        paste0(
          ",", cell, "<",
          format(upper[k] - 1e-9, scientific = FALSE, digits = 12)
        )
      },
      ")"
    )
    openxlsx::conditionalFormatting(
      book,
      sheet,
      column,
      seq_len(n) + 1,
      rule = rule,
      style = level_style(ground[k])
    )
  }
}

# A row a column of the sheets: what it means.
column_meanings <- function(sheets, sitting) {
  rows <- lapply(names(sheets), function(sheet) {
    columns <- names(sheets[[sheet]])
    columns <- setdiff(
      columns,
      if (sheet %in% c("grid", "by_standard")) {
        c(sitting$items$item, sitting$standards$code)
      }
    )
    data.frame(
      sheet = rep(words_for(sheet, "sheets"), length(columns)),
      column = columns,
      means = meaning_of(columns, names(sitting$settings$levels))
    )
  })
  more <- data.frame(
    sheet = words_for(c("grid", "by_standard"), "sheets"),
    column = c(
      say("page-workbook.each_question"),
      say("page-workbook.each_standard")
    ),
    means = c(
      say("page-workbook.points_earned_on_it"),
      say("page-workbook.share_of_the_points")
    )
  )
  do.call(rbind, c(rows, list(more[more$sheet %in% names(sheets), ])))
}
