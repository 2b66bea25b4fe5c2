#' @rdname write_form
#' @export
read_form <- function(folder, path, replace = FALSE) {
  settle <- if (replace) every_typed_cell
  invisible(put_form(folder, path, settle)$counts)
}

# settle: says of the cells in which form and file differ which the form replaces; without
# it there may be none. own: the students whose rows may be written. Gives the counts, and
# the cells that stayed as they were.
put_form <- function(folder, path, settle = NULL, own = NULL) {
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  stop_if_stored(folder)
  test <- read_form_folder(folder)
  check_file(path)
  sheet <- if (is_workbook(path)) {
    read_table_sheet(path, "responses")
  } else {
    read_table_file(path)
  }
  require_columns(sheet, "student")
  item <- test$items$item
  asked <- intersect(c(rbind(item, paste(item, "points"))), names(sheet))
  if (!length(asked)) abort_no_item(sheet, test$items)
  typed <- text_columns(sheet[c("student", asked)])
  typed <- drop_form_rows(typed, sheet)
  students <- test$students
  if (!is.null(own)) students <- students[students$student %in% own, ]
  check_form_students(typed, students)
  merged <- merge_typed(
    typed,
    test$responses,
    asked,
    settle
  )
  if (merged$new) {
    write_csv_table(merged$table, file.path(folder, "responses.csv"))
  }
  filled <- !is.na(typed[asked])
  what <- c(
    say("write-form-back.cells_filled_in"),
    say("write-form-back.cells_left_blank"),
    say("write-form-back.cells_that_were_not"),
    if (!is.null(settle)) say("write-form-back.cells_replaced")
  )
  fresh <- merged$new - merged$replaced
  n <- c(sum(filled), sum(!filled), fresh, if (!is.null(settle)) merged$replaced)
  list(counts = data.frame(what = what, n = n), differ = merged$differ)
}

every_typed_cell <- function(differ) rep(TRUE, nrow(differ))

# Without the row of wordings; a row with answers needs a student.
drop_form_rows <- function(typed, sheet) {
  nameless <- which(is.na(typed$student) & rowSums(!is.na(typed)) > 0)
  if (length(nameless)) {
    abort_cell(
      sheet,
      nameless[1],
      "student",
      say("write-form-back.a_row_of_the"),
      say("write-form-back.fill_in_the_students")
    )
  }
  keep <- !is.na(typed$student) & typed$student != wording_word
  out <- keep_origin(typed[keep, ], sheet)
  attr(out, "line") <- line_of(sheet)[keep]
  out
}

check_form_students <- function(typed, students) {
  twice <- which(duplicated(typed$student))
  if (length(twice)) {
    abort_cell(
      typed,
      twice[1],
      "student",
      say("write-form-back.a_student_stands_in"),
      say("write-form-back.put_what_was_typed")
    )
  }
  unknown <- which(!typed$student %in% students$student)
  if (length(unknown)) {
    abort_cell(
      typed,
      unknown[1],
      "student",
      say("write-form-back.a_student_of_the"),
      did_you_mean(typed$student[unknown[1]], students$student)
    )
  }
}

# What is there stays; a cell that says something else is refused, or settled.
merge_typed <- function(typed, old, asked, settle = NULL) {
  if (is.null(old)) {
    filled <- rowSums(!is.na(typed[asked])) > 0
    table <- typed[filled, c("student", asked)]
    return(list(table = table, new = sum(!is.na(table[asked])), replaced = 0))
  }
  if (is_long_table(old)) {
    abort_pregunta(
      "input",
      say("write-form-back.the_folders_responses_csv"),
      NULL,
      say("write-form-back.a_form_goes_into")
    )
  }
  before <- plain_table(old)
  before$student <- trim_text(before$student)
  for (column in setdiff(asked, names(before))) {
    before[[column]] <- NA_character_
  }
  added <- setdiff(
    typed$student[rowSums(!is.na(typed[asked])) > 0],
    before$student
  )
  before[nrow(before) + seq_along(added), "student"] <- added
  at <- match(typed$student, before$student)
  cells <- do.call(rbind, lapply(asked, function(column) {
    data.frame(
      row = seq_along(at),
      column = rep(column, length(at)),
      student = typed$student,
      there = trim_text(before[[column]])[at],
      typed = typed[[column]]
    )
  }))
  cells <- cells[!is.na(cells$typed), ]
  cells <- cells[is.na(cells$there) | cells$there != cells$typed, ]
  differ <- cells[!is.na(cells$there), ]
  if (nrow(differ) && is.null(settle)) abort_form_differs(typed, differ)
  taken <- if (nrow(differ)) settle(differ) else logical()
  put <- rbind(cells[is.na(cells$there), ], differ[taken, ])
  for (column in unique(put$column)) {
    mine <- put[put$column == column, ]
    before[[column]][at[mine$row]] <- mine$typed
  }
  list(
    table = before, new = nrow(put), replaced = sum(taken), differ = differ[!taken, ]
  )
}

abort_form_differs <- function(typed, differ) {
  abort_cell(
    typed,
    differ$row[1],
    differ$column[1],
    say("write-form-back.the_form_says_something"),
    say("write-form-back.there_it_is_put", was = quoted(differ$there[1]))
  )
}
