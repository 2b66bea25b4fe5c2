# What came in: what was read, what does not add up, who is missing, what waits for a
# mark, and what was changed; more files; marking and typing.

came_room <- function(visit) {
  htmltools::tagList(
    kept_html(visit, "came", function(known) as_it_came(visit, known$sitting)),
    if (sees_all(visit)) more_files_section(),
    added_panel(visit),
    kept_html(visit, "changes", function(known) changes_section(visit, known$sitting))
  )
}

as_it_came <- function(visit, sitting) {
  tags <- htmltools::tags
  findings <- check_sitting(sitting)
  about <- attr(findings, "about")
  waiting <- waiting_cells(sitting)
  htmltools::tagList(
    page_heading(words_for("came", "desk_places")),
    lapply(about, function(line) tags$p(printable(line))),
    tags$p(
      class = "buttons",
      if (nrow(waiting)) {
        place_button(
          visit, say("desk-came.mark_what_waits", n = nrow(waiting)), "mark",
          main = TRUE
        )
      },
      if (sees_all(visit)) {
        place_button(visit, say("desk-came.type_in_a_paper_test"), "type")
      }
    ),
    findings_section(findings)
  )
}

more_files_section <- function() {
  tags <- htmltools::tags
  tags$section(
    tags$h2(say("desk-came.more_files")),
    help_line(say("desk-came.what_can_be_added")),
    tags$div(
      class = "drops",
      shiny::fileInput("late", say("desk-came.drop_files"), multiple = TRUE),
      shiny::fileInput("late_key", say("desk-arrive.key")),
      shiny::fileInput("late_students", say("desk-arrive.students"))
    )
  )
}

findings_section <- function(findings) {
  tags <- htmltools::tags
  if (!nrow(findings)) return(tags$p(say("desk-came.all_adds_up")))
  rows <- each_row(findings, function(k) {
    one <- findings[k, ]
    where <- c(
      one$file,
      if (!is.na(one$line)) say("desk-came.line", line = one$line),
      if (!is.na(one$column)) one$column
    )
    what <- paste(or_blank(one$value, quoted(one$value)), one$finding)
    severity <- words_for(one$severity, "severities")
    tags$tr(
      tags$th(scope = "row", class = one$severity, severity),
      tags$td(printable(paste(where, collapse = ", "))),
      tags$td(printable(what)),
      tags$td(printable(one$action))
    )
  })
  tags$section(
    tags$h2(say("desk-came.what_does_not_add_up")),
    desk_table(
      desk_headings(c("severity", "where", "finding", "what_to_do")),
      rows,
      say("desk-came.what_does_not_add_up")
    )
  )
}

# The list of changes, each with its way back.
changes_section <- function(visit, sitting) {
  changes <- view_changes(sitting)
  if (!nrow(changes)) return(NULL)
  tags <- htmltools::tags
  told <- "who" %in% names(changes)
  may_undo <- if (sees_all(visit)) changes$line else own_lines(visit)
  rows <- each_row(changes, function(k) {
    one <- changes[k, ]
    said <- say_change(one)
    tags$tr(
      class = if (!one$stands) "done",
      tags$td(class = "n", one$line),
      tags$td(printable(said)),
      tags$td(printable(or_blank(one$reason))),
      if (told) tags$td(printable(or_blank(one$who)), tags$br(), or_blank(one$when)),
      tags$td(if (one$stands && one$line %in% may_undo) {
        act_button(say("desk-change.take_back"), "undo", lines = one$line)
      })
    )
  })
  tags$section(
    tags$h2(say("desk-came.changes")),
    desk_table(
      desk_headings(c("line", "change", "reason", if (told) "changed_by", "")),
      rows,
      say("desk-came.changes")
    )
  )
}

back_to_came <- function(visit) {
  htmltools::tags$a(href = place(visit, "came"), say("desk-came.back"))
}

# ---- marking by keyboard ---------------------------------------------------------

# One question, its waiting answers one after the other, the same answer once.
mark_room <- function(visit) {
  known <- test_of_visit(visit)
  sitting <- known$sitting
  tags <- htmltools::tags
  sheet <- marking_sheet(sitting, TRUE)
  if (!nrow(sheet)) {
    return(htmltools::tagList(
      page_heading(say("desk-came.nothing_waits")),
      tags$p(back_to_came(visit))
    ))
  }
  counts <- table(factor(sheet$item, unique(sheet$item)))
  item <- visit$at$rest[1]
  if (!item %in% names(counts)) item <- names(counts)[1]
  mine <- sheet[sheet$item == item, ]
  k <- suppressWarnings(as.integer(visit$at$rest[2]))
  k <- if (is.na(k)) 1 else min(max(k, 1), nrow(mine))
  tabs <- lapply(names(counts), function(one) {
    tags$a(
      class = "button", href = place(visit, "mark", one),
      `aria-current` = if (one == item) "true",
      printable(paste0(one, " (", counts[[one]], ")"))
    )
  })
  htmltools::tagList(
    page_heading(say("desk-came.marking")),
    tags$p(class = "buttons", tabs, back_to_came(visit)),
    marking_card(visit, mine[k, ], k, nrow(mine))
  )
}

marking_card <- function(visit, row, k, n) {
  tags <- htmltools::tags
  facts <- list(
    item = row$item, answer = row$answer, student = or_blank(c(row$student, NA)[1])
  )
  whole <- seq(0, floor(row$most))
  marks <- lapply(whole, function(points) {
    do.call(act_button, c(
      list(points, "mark", points = points, class = "point"),
      facts[nzchar(facts)]
    ))
  })
  tags$section(
    class = "marking",
    `data-most` = row$most,
    `data-back` = if (k > 1) place(visit, "mark", row$item, k - 1),
    `data-on` = if (k < n) place(visit, "mark", row$item, k + 1),
    tags$h2(printable(paste(row$item, or_blank(row$question)))),
    tags$p(class = "help", say("desk-came.answer_of", k = k, n = n)),
    tags$blockquote(class = "answer", printable(row$answer)),
    tags$p(class = "help", printable(row$who)),
    tags$p(class = "buttons", marks, tags$span(id = "half", role = "status")),
    act_form(
      "mark",
      facts = facts[nzchar(facts)],
      text_field(
        "points", say("desk-came.points_of", most = plain_points(row$most)),
        inputmode = "decimal"
      ),
      text_field(
        "comment", say("desk-students.comment_for_the_student"),
        keep = paste0("mark-", row$item, "-", row$answer)
      ),
      tags$button(type = "submit", say("desk-students.keep"))
    ),
    help_line(say("desk-came.marking_keys"))
  )
}

# The way back of the marking sheet, for one row of it.
give_mark <- function(visit, given) {
  folder <- folder_of_visit(visit)
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  before <- nrow(read_sitting(folder)$adjustments)
  typed <- function(field) {
    text <- trimws(paste0("", given[[field]]))
    if (nzchar(text)) text else NA_character_
  }
  row <- data.frame(
    item = paste0("", given$item),
    answer = paste0("", given$answer),
    points = typed("points"),
    comment = typed("comment"),
    student = typed("student")
  )
  own <- if (!sees_all(visit)) test_of_visit(visit)$sitting$students$student
  take_marks(folder, named_origin(row, "marking"), own, visit$person$name)
  sitting <- read_sitting(folder)
  lines <- line_of(sitting$adjustments)
  lines <- lines[seq_along(lines) > before]
  tell_done(
    visit,
    say(
      "desk-came.marked",
      item = row$item,
      left = nrow(waiting_cells(own_part(sitting, visit$person$sections)))
    ),
    if (length(lines)) {
      act_button(
        say("desk-change.take_back"), "undo", lines = paste(rev(lines), collapse = ",")
      )
    },
    c("mark", folder, "--back", "marking.csv")
  )
}

# ---- typing in a paper test ------------------------------------------------------

# Students down, questions across; a letter goes into its cell and on to the next.
type_room <- function(visit) {
  tags <- htmltools::tags
  visit$at$stamp
  form <- read_form_folder(folder_of_visit(visit))
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

# Rows that were typed go the way of a filled-in form.
keep_typed <- function(visit, given) {
  folder <- folder_of_visit(visit)
  typed <- jsonlite::fromJSON(given$rows, simplifyVector = FALSE)
  rows <- lapply(typed, function(row) {
    as.data.frame(lapply(row, as.character), check.names = FALSE)
  })
  if (!length(rows)) {
    return(tell_done(visit, say("cli-new.nothing_changed")))
  }
  sheet <- tempfile("form-", fileext = ".csv")
  on.exit(unlink(sheet))
  write_csv_table(do.call(rbind, rows), sheet)
  back <- back_to_file(visit, file.path(folder, "responses.csv"), function() {
    read_form(folder, sheet)
  })
  tell_done(
    visit,
    say("desk-came.typed", n = length(rows)),
    back$button,
    c("form", folder, "--back", "form.csv")
  )
}
