#' @rdname write_form
#' @export
read_form <- function(folder, path) {
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
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
  check_form_students(typed, test$students)
  merged <- merge_typed(
    typed,
    test$responses,
    asked,
    test$items$item
  )
  if (merged$new) {
    write_csv_table(merged$table, file.path(folder, "responses.csv"))
  }
  unlinked <- c(
    say("write-form-back.cells_filled_in"),
    say("write-form-back.cells_left_blank"),
    say("write-form-back.cells_that_were_not")
  )
  filled <- !is.na(typed[asked])
  counts <- c(sum(filled), sum(!filled), merged$new)
  invisible(data.frame(what = unlinked, n = counts))
}

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

# What is there stays; a cell that says something else is refused.
merge_typed <- function(typed, old, asked, items) {
  if (is.null(old)) {
    filled <- rowSums(!is.na(typed[asked])) > 0
    table <- typed[filled, c("student", asked)]
    return(list(table = table, new = sum(!is.na(table[asked]))))
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
  new <- 0
  for (column in asked) {
    at <- match(typed$student, before$student)
    was <- trim_text(before[[column]])[at]
    clash <- which(
      !is.na(typed[[column]]) & !is.na(was) & was != typed[[column]]
    )
    if (length(clash)) {
      abort_cell(
        typed,
        clash[1],
        column,
        say("write-form-back.the_form_says_something"),
        say("write-form-back.there_it_is_put", was = quoted(was[clash[1]]))
      )
    }
    fresh <- which(!is.na(typed[[column]]) & is.na(was))
    before[[column]][at[fresh]] <- typed[[column]][fresh]
    new <- new + length(fresh)
  }
  list(table = before, new = new)
}
