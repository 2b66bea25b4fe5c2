# What came in: what was read, what does not add up, who is missing, what waits for a
# mark, and what was changed; more files; marking.

came_room <- function(visit) {
  htmltools::tagList(
    kept_html(visit, "came", function(known) as_it_came(visit, known$sitting)),
    more_files_section(visit),
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
      place_button(visit, say("desk-came.type_in_a_paper_test"), "type")
    ),
    findings_section(findings)
  )
}

# A key and the list of students are for who sees all.
more_files_section <- function(visit) {
  tags <- htmltools::tags
  all <- sees_all(visit)
  tags$section(
    tags$h2(say("desk-came.more_files")),
    help_line(say("desk-came.what_can_be_added", all = all)),
    tags$div(
      class = "drops",
      file_field("late", say("desk-came.drop_files"), TRUE),
      if (all) file_field("late_key", say("desk-arrive.key")),
      if (all) file_field("late_students", say("desk-arrive.students"))
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
      tags$td(printable(in_a_row(where))),
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
