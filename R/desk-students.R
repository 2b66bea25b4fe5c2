# Students down, questions across; one student opened, or one answer with its points.

students_room <- function(visit) {
  known <- test_of_visit(visit)
  sitting <- known$sitting
  tags <- htmltools::tags
  if (!any(was_present(sitting))) {
    return(htmltools::tagList(
      page_heading(say("page-grid.every_answer")),
      tags$p(say("page-first.nobody_has_points_yet"))
    ))
  }
  grid <- once(known, "grid", grid_html)
  htmltools::tagList(
    levels_style(sitting),
    page_heading(say("page-grid.every_answer")),
    help_line(htmltools::HTML(grid_legend())),
    help_line(say("desk-students.press_a_student_or_an_answer")),
    tags$div(
      class = classes("wide", "sorts"), id = "grid",
      `data-place` = place(visit, "students"),
      htmltools::HTML(grid)
    ),
    absent_line(visit, sitting)
  )
}

absent_line <- function(visit, sitting) {
  absent <- sitting$students$student[!was_present(sitting)]
  if (!length(absent)) return(NULL)
  htmltools::tags$p(
    say("desk-students.absent", n = length(absent)), " ",
    names_of(visit, sitting$students, absent)
  )
}

# Rows after these come as text, which is made rows a little later, so that the first are
# there at once.
rows_at_first <- 60

rows_as_text <- function(rows) {
  if (!length(rows)) return(NULL)
  rows <- gsub("\n", " ", rows, fixed = TRUE)
  paste0(
    "<script type=\"text/plain\" id=\"rows-that-wait\">", paste(rows, collapse = "\n"),
    "</script>"
  )
}

# The table as text, made once for all who look: thousands of cells.
grid_html <- function(sitting) {
  present <- which(was_present(sitting))
  students <- summarise_students(sitting)[present, ]
  order <- order(-students$share, students$student, method = "radix")
  kinds <- answer_kinds(sitting)[present, , drop = FALSE][order, , drop = FALSE]
  answers <- shown_cells(sitting)[present, , drop = FALSE][order, , drop = FALSE]
  students <- students[order, ]
  items <- sitting$items$item
  hardest <- order(colMeans(cell_points(sitting), na.rm = TRUE) / sitting$items$points)
  short <- matrix(kinds == "wrong" & nchar(answers) %in% 1:2, nrow(kinds))
  sign <- matrix(grid_signs[kinds], nrow(kinds))
  sign[short] <- escape(answers[short])
  cells <- matrix(html_cell(sign, grid_class(kinds)), nrow(kinds))
  at <- match(students$student, sitting$students$student)
  label <- escape(or_else(students$name, students$student))
  who <- paste0(
    "<span class=\"who\">", label, "</span><span class=\"alias\">",
    say("page.student", n = at), "</span>"
  )
  levels <- names(sitting$settings$levels)
  score <- paste0(
    "<td class=\"n score\" data-sort=\"", students$share, "\">", percent(students$share),
    "</td>"
  )
  rows <- paste0(
    "<tr data-student=\"", escape(students$student),
    "\"><th scope=\"row\"><a href=\"#\">", who, "</a></th>", score,
    "<td class=\"level\">", level_chip(students$level, levels, FALSE), "</td>",
    apply(cells[, hardest, drop = FALSE], 1, paste, collapse = ""), "</tr>"
  )
  about <- capital(vapply(c("student", "score", "level"), heading_for, ""))
  item <- escape(items[hardest])
  head <- c(
    paste0("<th scope=\"col\">", escape(about), "</th>"),
    paste0("<th scope=\"col\" data-item=\"", item, "\"><span>", item, "</span></th>")
  )
  paste0(
    "<table class=\"grid\"><caption class=\"unseen\">",
    escape(say("page-grid.every_answer")), "</caption><thead><tr>",
    paste(head, collapse = ""), "</tr></thead><tbody>",
    paste(utils::head(rows, rows_at_first), collapse = ""), "</tbody></table>",
    rows_as_text(utils::tail(rows, -rows_at_first))
  )
}

# ---- one student, or one answer --------------------------------------------------

student_beside <- function(visit) {
  id <- visit$at$rest[1]
  if (is.na(id)) return(NULL)
  known <- test_of_visit(visit)
  if (!id %in% known$sitting$students$student) return(lost_room(visit))
  item <- visit$at$rest[2]
  if (is.na(item)) return(whole_student(visit, known, id))
  if (!item %in% known$sitting$items$item) return(lost_room(visit))
  one_answer(visit, known, id, item)
}

whole_student <- function(visit, known, id) {
  sitting <- known$sitting
  tags <- htmltools::tags
  view <- once(known, paste0("student-", id), function(sitting) view_student(sitting, id))
  htmltools::tagList(
    tags$h2(tabindex = "-1", name_of(sitting$students, id)),
    lapply(view$standing, function(line) tags$p(printable(line))),
    own_levels(sitting, view$standards$own),
    lapply(view$ideas, function(line) tags$p(printable(line))),
    own_answer_table(visit, view$answers, id),
    change_form(visit, id, NA, "extra", say("desk-students.extra_points"), "0.5"),
    change_form(visit, id, NA, "comment", say("desk-students.comment_for_the_student"))
  )
}

own_levels <- function(sitting, own) {
  if (is.null(own)) return(NULL)
  tags <- htmltools::tags
  own <- as.data.frame(own)
  levels <- names(sitting$settings$levels)
  rows <- each_row(own, function(k) {
    tags$tr(
      tags$th(scope = "row", printable(paste(own$code[k], or_blank(own$title[k])))),
      tags$td(htmltools::HTML(level_chip(own$level[k], levels))),
      tags$td(class = "n", percent(own$share[k]))
    )
  })
  desk_table(
    desk_headings(c("standard", "level", "share"), figures = "share"),
    rows,
    say("page-standards.the_standards")
  )
}

own_answer_table <- function(visit, answers, id) {
  if (is.null(answers)) return(NULL)
  tags <- htmltools::tags
  table <- as.data.frame(answers$rows)
  rows <- each_row(table, function(k) {
    row <- table[k, ]
    tags$tr(
      class = if (answers$full[k]) "done",
      tags$th(
        scope = "row",
        tags$a(href = place(visit, "students", id, row$item), printable(row$item))
      ),
      tags$td(if (answers$full[k]) "\u2713 ", printable(or_blank(row$answer))),
      tags$td(if (!answers$full[k]) printable(or_blank(row$right))),
      tags$td(class = "n", paste(plain_points(row$points), "/", plain_points(row$most)))
    )
  })
  desk_table(
    desk_headings(c("item", "answer", "right", "points"), figures = "points"),
    rows,
    say("desk-students.all_answers")
  )
}

one_answer <- function(visit, known, id, item) {
  sitting <- known$sitting
  tags <- htmltools::tags
  answers <- as.data.frame(student_answers(sitting, id))
  row <- answers[answers$item == item, ]
  about <- sitting$items[sitting$items$item == item, ]
  said <- once(known, "said", summarise_explanations)
  wrote <- said$explanation[said$student == id & said$item == item]
  line <- function(head, text) {
    if (length(text) && nzchar(or_blank(text))) {
      tags$p(tags$b(head), " ", printable(text))
    }
  }
  htmltools::tagList(
    tags$h2(
      tabindex = "-1",
      tags$a(
        href = place(visit, "students", id), name_of(sitting$students, id),
        .noWS = "after"
      ),
      ", ",
      tags$a(href = place(visit, "questions", item), printable(item))
    ),
    line("", about$prompt),
    line(say("desk-students.answer"), or_else(row$answer, "\u2013")),
    line(say("desk-students.right"), row$right),
    line(say("desk-students.reason_given"), wrote),
    line(
      say("desk-students.points"),
      paste(plain_points(row$points), "/", plain_points(row$most))
    ),
    change_form(
      visit, id, item, "points",
      say("desk-students.set_points", most = plain_points(row$most)),
      format_plain(or_else(row$points, 0))
    ),
    tags$p(class = "buttons", act_button(
      say("desk-students.excuse"), "try", action = "excuse", student = id, item = item
    )),
    change_form(visit, id, item, "comment", say("desk-students.comment_for_the_student"))
  )
}

# One field and what becomes of it. A comment moves no points and is done at once.
change_form <- function(visit, id, item, action, label, value = "") {
  facts <- list(action = action, student = id, item = item)
  facts <- facts[!vapply(facts, is.na, TRUE)]
  moves <- action != "comment"
  keep <- paste(c(action, id, or_blank(item)), collapse = "-")
  act_form(
    if (moves) "try" else "change",
    facts = facts,
    text_field("value", label, value, keep = keep),
    htmltools::tags$button(
      type = "submit",
      if (moves) say("desk-questions.try_it") else say("desk-students.keep")
    )
  )
}
