# What is done at the desk: tried first, then done with a reason, then said with a way
# back. Each is the same function as on the command line, and says which words those are.

# By the name that a button or form bears; each takes the visit and what was typed.
desk_acts <- function() {
  list(
    explain = explain_term,
    close = close_asked,
    `ask-move` = ask_move,
    try = try_change,
    change = do_change,
    undo = undo_lines,
    `undo-add` = undo_last_addition,
    mark = give_mark,
    type = keep_typed,
    `type-over` = replace_typed,
    plan = keep_plan,
    draw = draw_questions,
    followup = make_followup,
    compare = compare_tests,
    `close-plan` = close_plan_here,
    `put-back` = put_file_back,
    unmake = unmake_folder,
    `make-demo` = make_demo,
    read = read_arrival,
    keep = keep_arrival,
    forget = forget_arrival,
    make = make_file,
    `make-all` = make_all_reports,
    slips = slips_asked,
    stop = stop_making
  )
}

take_up <- function(visit, given) {
  given <- lapply(given, function(one) if (is.character(one)) one[1] else one)
  act <- desk_acts()[[paste0("", given$act)]]
  if (is.null(act)) return(invisible())
  done <- FALSE
  on.exit(visit$session$sendCustomMessage("acted", done))
  tryCatch(
    shiny::isolate({
      check_may_act(visit, given)
      act(visit, given)
      done <- TRUE
    }),
    pregunta_error = function(e) visit$now$done <- list(trouble = trouble(e)),
    error = function(e) {
      if (inherits(e, "shiny.silent.error")) stop(e)
      said <- say("desk-server.something_went_wrong", problem = conditionMessage(e))
      visit$now$done <- list(trouble = htmltools::tags$p(class = "trouble", said))
    }
  )
  look_again(visit)
}

# ---- what was done, and back -----------------------------------------------------

# said: in words; back: a button; words: of the command line.
tell_done <- function(visit, said, back = NULL, words = NULL, more = NULL) {
  visit$now$done <- list(said = said, back = back, words = words, more = more)
}

done_bar <- function(visit) {
  done <- visit$now$done
  if (is.null(done)) return(NULL)
  close <- act_button(say("desk-change.close"), "close", what = "done")
  if (!is.null(done$trouble)) {
    return(htmltools::tags$div(class = "done", done$trouble, close))
  }
  htmltools::tags$div(
    class = "done",
    htmltools::tags$p(if (is_tag(done$said)) done$said else printable(done$said)),
    done$more,
    done$back,
    close,
    if (length(done$words)) in_terminal(done$words)
  )
}

is_tag <- function(x) inherits(x, c("html", "shiny.tag", "shiny.tag.list"))

close_asked <- function(visit, given) {
  if (identical(given$what, "done")) visit$now$done <- NULL else visit$now$ask <- NULL
}

explain_term <- function(visit, given) {
  visit$now$ask <- list(kind = "term", entry = glossary(given$term))
}

# ---- trying ----------------------------------------------------------------------

# A change as a row of the list of changes.
change_row <- function(given) {
  blank <- function(x) if (is.null(x) || is_blank(trimws(x))) NA_character_ else trimws(x)
  data.frame(
    student = blank(given$student),
    item = blank(given$item),
    action = blank(given$action),
    value = blank(given$value),
    reason = blank(given$reason)
  )
}

change_words <- function(visit, row) {
  item <- row$item
  what <- switch(row$action,
    key = ,
    accept = c(paste0("--", row$action), paste0(item, "=", row$value)),
    drop = ,
    credit = c(paste0("--", row$action), item),
    c(
      if (!is.na(row$student)) c("--student", row$student),
      if (!is.na(item)) c("--item", item),
      paste0("--", row$action),
      if (!is.na(row$value)) row$value
    )
  )
  reason <- if (!is.na(row$reason)) c("--reason", row$reason)
  c("adjust", folder_of_visit(visit), what, reason)
}

try_change <- function(visit, given) {
  row <- change_row(given)
  tried <- tried_now(visit, row)
  visit$now$done <- NULL
  visit$now$ask <- list(kind = "change", row = row, tried = tried)
}

# What a change would do to the test as its files are, and their state then.
tried_now <- function(visit, row) {
  known <- test_of_visit(visit)
  list(effect = view_tried(known$sitting, row), stamp = known$stamp)
}

asked_panel <- function(visit) {
  ask <- visit$now$ask
  if (is.null(ask)) return(NULL)
  if (ask$kind == "term") return(term_panel(ask$entry))
  if (ask$kind == "move") return(move_panel(visit, ask))
  if (ask$kind == "slip") return(slip_panel(visit, ask))
  change_panel(visit, ask)
}

term_panel <- function(entry) {
  tags <- htmltools::tags
  tags$section(
    class = "ask",
    tags$h2(entry$term, tabindex = "-1", `data-focus` = NA),
    tags$p(entry$short),
    tags$p(entry$meaning),
    act_button(say("desk-change.close"), "close", what = "ask")
  )
}

# Before it is done: who moves, and what the figures become.
change_panel <- function(visit, ask) {
  tags <- htmltools::tags
  row <- ask$row
  # Somebody may have changed the files since it was tried.
  same <- identical(ask$tried$stamp, test_of_visit(visit)$stamp)
  tried <- if (same) ask$tried$effect else tried_now(visit, row)$effect
  facts <- as.list(row[c("student", "item", "action", "value")])
  facts <- facts[!vapply(facts, is.na, TRUE)]
  tags$section(
    class = "ask",
    tags$h2(
      tabindex = "-1", `data-focus` = NA,
      printable(say("desk-change.if", change = say_change(row)))
    ),
    tags$p(printable(say_effect(tried))),
    act_form(
      "change",
      facts = facts,
      text_field("reason", say("desk-change.reason"), keep = "reason"),
      tags$p(
        class = "buttons",
        tags$button(type = "submit", class = "main", say("desk-change.do_it")),
        act_button(say("desk-change.leave_it"), "close", what = "ask")
      )
    ),
    moved_table(visit, tried),
    figures_table(tried),
    in_terminal(c("what-if", change_words(visit, row)[-1]))
  )
}

moved_table <- function(visit, tried, most = 8) {
  if (!nrow(tried)) return(NULL)
  tags <- htmltools::tags
  shown <- utils::head(as.data.frame(tried), most)
  students <- test_of_visit(visit)$sitting$students
  from_to <- function(before, after) {
    changed <- or_else(before, "") != or_else(after, "")
    or_blank(after, ifelse(changed, paste(before, "\u2192", after), after))
  }
  level <- from_to(level_words(shown$level_before), level_words(shown$level_after))
  points <- paste(
    plain_points(shown$points_before), "\u2192", plain_points(shown$points_after)
  )
  rows <- each_row(shown, function(k) {
    tags$tr(
      tags$th(scope = "row", name_of(students, shown$student[k])),
      tags$td(class = "n", points[k]),
      tags$td(printable(level[k]))
    )
  })
  left <- nrow(tried) - nrow(shown)
  htmltools::tagList(
    desk_table(
      desk_headings(c("student", "points", "level"), figures = "points"),
      rows,
      say("desk-change.who_moves")
    ),
    if (left > 0) help_line(say("desk-change.and_more", n = left))
  )
}

figures_table <- function(tried) {
  tags <- htmltools::tags
  moved <- figures_moved(tried)
  share <- moved$figure %in% c("mean_share", "difficulty")
  shown <- function(x) ifelse(share, percent(x), number(x))
  rows <- each_row(moved, function(k) {
    tags$tr(
      tags$td(printable(moved$item[k])),
      tags$th(scope = "row", words_for(moved$figure[k], "figures")),
      tags$td(class = "n", shown(moved$before)[k]),
      tags$td(class = "n", shown(moved$after)[k])
    )
  })
  named <- c("about", "figure", "before", "after")
  tags$details(
    tags$summary(say("desk-change.figures_before_and_after")),
    desk_table(
      desk_headings(named, figures = c("before", "after")),
      rows,
      say("desk-change.figures_before_and_after")
    )
  )
}

# ---- doing -----------------------------------------------------------------------

do_change <- function(visit, given) {
  row <- change_row(given)
  folder <- folder_of_visit(visit)
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  write_changes(folder, row, visit$person$name)
  sitting <- read_sitting(folder)
  line <- utils::tail(line_of(sitting$adjustments), 1)
  row <- utils::tail(sitting$adjustments, 1)
  visit$now$ask <- NULL
  tell_done(
    visit,
    done_change(sitting, row),
    act_button(say("desk-change.take_back"), "undo", lines = line),
    change_words(visit, row)
  )
}

# The change that was done, with the name of the student, which can be hidden.
done_change <- function(sitting, row) {
  id <- row$student
  if (!is.na(id)) row$student <- person_mark
  said <- escape(printable(say("desk-change.done", change = say_change(row))))
  if (is.na(id)) return(htmltools::HTML(said))
  name <- as.character(name_of(sitting$students, id))
  htmltools::HTML(sub(person_mark, name, said, fixed = TRUE))
}

# Stands for somebody until the sentence is made safe; it is no letter that anybody types.
person_mark <- "\ufffc"

# Lines of the list of changes, each taken back by a line of its own.
undo_lines <- function(visit, given) {
  folder <- folder_of_visit(visit)
  lines <- lines_named(given$lines)
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  for (line in lines) {
    write_changes(folder, undoing(read_sitting(folder), line), visit$person$name)
  }
  tell_done(
    visit,
    say("desk-change.taken_back"),
    words = c("adjust", folder, "--undo", as.character(lines[1]))
  )
}

undo_last_addition <- function(visit, given) {
  folder <- folder_of_visit(visit)
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  # Who sees a part takes back what they added themselves.
  if (!sees_all(visit) && !identical(visit$now$added, last_step(folder))) {
    abort_changed_since(folder)
  }
  files <- undo_addition(folder)
  tell_done(
    visit,
    say("cli-new.undone", files = join_words(files)),
    words = c("add", folder, "--undo")
  )
}
