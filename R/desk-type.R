# Typing in a paper test: once, a second time, and what differs.

# Students down, questions across; a letter goes into its cell and on to the next.
type_room <- function(visit) {
  tags <- htmltools::tags
  visit$at$stamp
  form <- read_form_folder(folder_of_visit(visit))
  form$students <- own_rows(visit, form$students)
  sheet <- typing_sheet(form)
  columns <- setdiff(names(sheet), c("student", "name", "section"))
  twice <- identical(visit$at$rest[1], "again")
  items <- form$items
  jumps <- items$item[items$type %in% types_of_one_letter(items)]
  named <- if (twice) "again" else "once"
  cells <- vapply(columns, function(column) {
    old <- escape(or_blank(as.character(sheet[[column]])))
    label <- escape(paste(sheet$student, column))
    paste0(
      "<td><input name=\"", escape(column), "\" aria-label=\"", label, "\" value=\"",
      if (twice) "" else old, "\" data-old=\"", old, "\" data-keep=\"type ", named, " ",
      label, "\"", if (column %in% jumps) " data-jumps=\"\"", "></td>"
    )
  }, character(nrow(sheet)))
  cells <- matrix(cells, nrow(sheet))
  who <- vapply(sheet$student, function(id) name_of(form$students, id), "")
  rows <- htmltools::HTML(paste0(
    "<tr data-student=\"", escape(sheet$student), "\"><th scope=\"row\">", who, "</th>",
    apply(cells, 1, paste, collapse = ""), "</tr>",
    collapse = ""
  ))
  asked <- lapply(columns, function(one) tags$th(scope = "col", printable(one)))
  head <- c(desk_headings("student"), asked)
  htmltools::tagList(
    page_heading(say("desk-came.typing")),
    help_line(say("desk-came.how_to_type", twice = twice)),
    tags$p(
      class = "buttons",
      tags$button(
        type = "button", id = "keep-typed", class = "main", say("desk-students.keep")
      ),
      if (twice) {
        place_button(visit, say("desk-came.once_more_end"), "type")
      } else {
        place_button(visit, say("desk-came.type_it_again"), "type", "again")
      },
      back_to_came(visit),
      tags$span(
        id = "differs", role = "status", `data-words` = say("desk-came.differ", n = "#")
      )
    ),
    desk_table(
      head,
      rows,
      say("desk-came.typing"),
      classes("typing", if (twice) "twice")
    )
  )
}

# Where one letter or figure is all of an answer.
types_of_one_letter <- function(items) {
  types <- unique(items$type)
  one <- is_answered(types, "chosen") | is_points_cell(types)
  types[one & !is_answered(types, "parts")]
}

# The form with what is there already, where the answers stand a row a student.
typing_sheet <- function(form) {
  sheet <- form_sheet(form)
  sheet <- sheet[!sheet$student %in% wording_word, ]
  old <- form$responses
  columns <- intersect(setdiff(names(sheet), c("student", "name", "section")), names(old))
  at <- match(sheet$student, trimws(old$student))
  for (column in columns) sheet[[column]] <- or_blank(as.character(old[[column]])[at])
  sheet
}

# Rows that were typed go the way of a filled-in form. Where something else stands by
# now, typed by another person or the first time, that stays, and the two are shown.
keep_typed <- function(visit, given) {
  rows <- lapply(jsonlite::fromJSON(given$rows, simplifyVector = FALSE), function(row) {
    as.data.frame(lapply(row, as.character), check.names = FALSE)
  })
  if (!length(rows)) {
    return(tell_done(visit, say("cli-new.nothing_changed")))
  }
  take_typed(visit, bind_filled(rows, NA_character_), no_typed_cell, "form")
}

no_typed_cell <- function(differ) rep(FALSE, nrow(differ))

# What was shown to differ is replaced, as long as it is still what was shown.
replace_typed <- function(visit, given) {
  shown <- jsonlite::fromJSON(given$cells)
  columns <- unique(shown$column)
  sheet <- data.frame(student = unique(shown$student))
  for (column in columns) {
    mine <- shown[shown$column == column, ]
    sheet[[column]] <- or_blank(mine$typed[match(sheet$student, mine$student)])
  }
  still <- paste(shown$student, shown$column, shown$there, sep = "\r")
  as_shown <- function(differ) {
    paste(differ$student, differ$column, differ$there, sep = "\r") %in% still
  }
  take_typed(visit, sheet, as_shown, c("form", "--replace"))
}

take_typed <- function(visit, table, settle, call) {
  folder <- folder_of_visit(visit)
  sheet <- tempfile("form-", fileext = ".csv")
  on.exit(unlink(sheet))
  write_csv_table(table, sheet)
  own <- if (!sees_all(visit)) own_students_here(visit)
  back <- back_to_file(visit, file.path(folder, "responses.csv"), function() {
    put_form(folder, sheet, settle, own)
  })
  result <- back$result
  differ <- result$differ
  taken <- sum(result$counts$n[-(1:2)])
  tell_done(
    visit,
    say("desk-came.typed", n = taken, differ = NROW(differ)),
    if (taken > 0) back$button,
    c(call[1], folder, "--back", "form.csv", call[-1]),
    more = if (NROW(differ)) differ_table(visit, differ)
  )
}

differ_table <- function(visit, differ, most = 12) {
  tags <- htmltools::tags
  students <- read_form_folder(folder_of_visit(visit))$students
  differ <- differ[order(differ$row), ]
  shown <- utils::head(differ, most)
  rows <- each_row(shown, function(k) {
    one <- shown[k, ]
    tags$tr(
      tags$th(scope = "row", name_of(students, one$student)),
      tags$td(printable(one$column)),
      tags$td(printable(paste(one$there, "\u2192", one$typed))),
      tags$td(take_these(say("desk-came.take_it"), one))
    )
  })
  left <- nrow(differ) - nrow(shown)
  htmltools::tagList(
    desk_table(
      desk_headings(c("student", "question", "there_and_typed", "")),
      rows,
      say("desk-came.differ", n = nrow(differ))
    ),
    if (left > 0) help_line(say("desk-came.differ_more", n = left)),
    if (nrow(differ) > 1) take_these(say("desk-came.take_all"), differ)
  )
}

take_these <- function(text, cells) {
  cells <- cells[c("student", "column", "there", "typed")]
  act_button(text, "type-over", cells = as.character(jsonlite::toJSON(cells)))
}
