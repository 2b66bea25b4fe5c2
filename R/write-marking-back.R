#' @rdname write_marking
#' @export
read_marking <- function(folder, path) {
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  check_file(path)
  sheet <- read_marking_sheet(path)
  take_marks(folder, sheet)
}

# The marks of a sheet, of all students or of these; who: gave them, where that is told.
take_marks <- function(folder, sheet, students = NULL, who = NULL) {
  sitting <- read_sitting(folder)
  cells <- waiting_cells(sitting, all = TRUE)
  if (!is.null(students)) cells <- cells[cells$student %in% students, ]
  sheet$key <- marking_key(
    sheet$item,
    sheet$answer,
    sheet$student
  )
  said <- !is.na(sheet$points) | !is.na(sheet$comment)
  check_sheet_answers(sheet, said, cells)
  check_sheet_points(sheet, sitting$items)
  marks <- marks_to_write(sheet, cells, sitting)
  comments <- comments_to_write(sheet, cells, sitting)
  rows <- rbind(marks, comments)
  if (nrow(rows)) write_changes(folder, rows, who)
  undone <- sum(marks$action == "undo")
  waiting <- waiting_cells(read_sitting(folder))
  counts <- c(
    sum(marks$action == "points") - undone,
    undone,
    nrow(comments),
    nrow(waiting)
  )
  invisible(data.frame(
    what = c(
      say("write-marking-back.marks_written"),
      say("write-marking-back.marks_changed"),
      say("write-marking-back.comments_written"),
      say("write-marking-back.answers_still_without_a")
    ),
    n = counts
  ))
}

# The reason that stands beside marks from a sheet; these a later sheet may change.
marked_reason <- "marked by hand"

read_marking_sheet <- function(path) {
  sheet <- if (is_workbook(path)) {
    read_table_sheet(path, "marking")
  } else {
    read_table_file(path)
  }
  require_columns(sheet, c("item", "answer", "points"))
  kept <- keep_origin(
    add_missing(text_columns(sheet), c("comment", "student")),
    sheet
  )
  attr(kept, "line") <- line_of(sheet)
  kept
}

check_sheet_answers <- function(sheet, said, cells) {
  strange <- which(said & !sheet$key %in% cells$key)
  if (!length(strange)) return(invisible())
  row <- strange[1]
  known <- unique(
    cells$answer[
      cells$key %in% grep(
        paste0("^", sheet$item[row], "\r"),
        cells$key,
        value = TRUE
      )
    ]
  )
  abort_cell(
    sheet,
    row,
    "answer",
    say("write-marking-back.this_is_no_answer", item = sheet$item[row]),
    if (length(known)) {
      did_you_mean(sheet$answer[row], known)
    } else {
      say("write-marking-back.write_a_new_sheet")
    }
  )
}

check_sheet_points <- function(sheet, items) {
  points <- read_number(sheet$points)
  most <- items$points[match(sheet$item, items$item)]
  wrong <- which(
    !is.na(sheet$points) & (is.na(points) | points < 0 | points > most + 1e-9)
  )
  if (!length(wrong)) return(invisible())
  abort_cell(
    sheet,
    wrong[1],
    "points",
    say("write-marking-back.these_are_no_points"),
    say(
      "write-marking-back.give_a_number_from",
      most = shown_number(most[wrong[1]])
    )
  )
}

# The rows of the list: new marks, and those of an earlier sheet that changed.
marks_to_write <- function(sheet, cells, sitting) {
  marked <- which(!is.na(sheet$points))
  cells <- cells[cells$key %in% sheet$key[marked], ]
  points <- format_plain(read_number(sheet$points[match(cells$key, sheet$key)]))
  standing <- sitting$changes[sitting$changes$action == "points", ]
  at <- match(
    paste(cells$student, cells$item),
    paste(standing$student, match(standing$item, sitting$items$item))
  )
  before <- standing$value[at]
  changed <- !is.na(before) &
    abs(read_number(before) - read_number(points)) > 1e-9
  foreign <- which(changed & !standing$reason[at] %in% marked_reason)
  if (length(foreign)) {
    row <- match(cells$key[foreign[1]], sheet$key)
    abort_cell(
      sheet,
      row,
      "points",
      say(
        "write-marking-back.the_mark_of_was",
        student = cells$student[foreign[1]]
      ),
      say(
        "write-marking-back.there_it_is_of",
        before = before[foreign[1]],
        adjustments = say_place(
          sitting$adjustments,
          standing$row[at[foreign[1]]]
        )
      )
    )
  }
  item <- sitting$items$item[cells$item]
  change <- function(rows, action, value, reason) {
    data.frame(
      student = cells$student[rows],
      item = item[rows],
      action = rep(action, length(rows)),
      value = value,
      reason = rep(reason, length(rows))
    )
  }
  new <- which(is.na(before) | changed)
  undone <- paste0("points ", before[changed], recycle0 = TRUE)
  again <- say("write-marking-back.marked_again")
  rbind(
    change(which(changed), "undo", undone, again),
    change(new, "points", points[new], marked_reason)
  )
}

# A comment that is there already is not added again.
comments_to_write <- function(sheet, cells, sitting) {
  rows <- which(!is.na(sheet$comment))
  cells <- cells[cells$key %in% sheet$key[rows], ]
  comment <- sheet$comment[match(cells$key, sheet$key)]
  item <- sitting$items$item[cells$item]
  there <- sitting$changes[sitting$changes$action == "comment", ]
  new <- !paste(cells$student, item, comment) %in% paste(
    there$student,
    there$item,
    there$value
  )
  data.frame(
    student = cells$student[new],
    item = item[new],
    action = rep("comment", sum(new)),
    value = comment[new],
    reason = rep(NA_character_, sum(new))
  )
}

# Marking sheets of several markers, each named by its file: the marks, an answer for a
# student where a sheet goes by answers.
read_marks_of_sheets <- function(sitting, paths) {
  cells <- waiting_cells(sitting, all = TRUE)
  pieces <- lapply(paths, function(path) {
    check_file(path)
    sheet <- read_marking_sheet(path)
    sheet$key <- marking_key(sheet$item, sheet$answer, sheet$student)
    points <- read_number(sheet$points)
    marked <- which(!is.na(points))
    check_sheet_answers(sheet, seq_along(points) %in% marked, cells)
    check_sheet_points(sheet, sitting$items)
    at <- match(sheet$key[marked], cells$key)
    data.frame(
      student = cells$student[at], item = sheet$item[marked],
      marker = tools::file_path_sans_ext(basename(path)), points = points[marked]
    )
  })
  do.call(rbind, pieces)
}
