# Bringing results in: files are read, the reading is shown and can be corrected, and
# nothing is written until it is kept.

arrival_room <- function(visit) {
  tags <- htmltools::tags
  arrival <- visit$now$arrival
  htmltools::tagList(
    page_heading(say("desk-went.a_new_test")),
    if (is.null(arrival$files)) help_line(say("desk-arrive.what_can_come")),
    tags$div(
      class = "drops",
      file_field("arriving", say("desk-arrive.results"), TRUE),
      file_field("arriving_key", say("desk-arrive.key")),
      file_field("arriving_students", say("desk-arrive.students"))
    ),
    if (length(arrival$files)) arrival_panel(arrival)
  )
}

arrival_panel <- function(arrival) {
  tags <- htmltools::tags
  files <- basename(unlist(c(arrival$files, arrival$key, arrival$students)))
  htmltools::tagList(
    tags$p(tags$b(printable(join_words(files))), act_button(
      say("desk-arrive.other_files"), "forget"
    )),
    if (inherits(arrival$problem, "pregunta_error_undecided")) {
      question_panel(arrival$problem)
    } else if (!is.null(arrival$problem)) {
      trouble(arrival$problem)
    },
    if (!is.null(arrival$account)) read_panel(arrival)
  )
}

# What cannot be told from the files is asked, one thing at a time.
question_panel <- function(problem) {
  tags <- htmltools::tags
  htmltools::tagList(
    tags$section(
      class = "asked-here", role = "alert",
      tags$h2(printable(problem$what)),
      if (length(problem$where)) {
        tags$pre(gsub("\u00a0", " ", problem$where, fixed = TRUE))
      },
      tags$p(class = "buttons", answers_to(problem)),
      help_line(printable(paste(problem$fix, collapse = " ")))
    )
  )
}

# A button for each answer that there is: readings to take, what to do with rows of
# students who have answers already, or that the key comes later.
answers_to <- function(problem) {
  choices <- problem$choices
  if (is.data.frame(choices)) {
    return(lapply(seq_len(nrow(choices)), function(k) {
      act_button(
        say("desk-arrive.take", k = k), "read",
        take = k, file = paste0("", problem$value)
      )
    }))
  }
  if (identical(choices, ways_again)) {
    return(lapply(choices, function(again) {
      act_button(words_for(again, "again"), "read", again = again)
    }))
  }
  act_button(say("desk-arrive.the_key_comes_later"), "read", key = "later")
}

# What was taken for what, with a choice of what it could be else; and the first rows.
read_panel <- function(arrival) {
  tags <- htmltools::tags
  account <- arrival$account
  # What speaks for the reading comes first.
  told <- as.data.frame(account)[c("what", "taken")]
  told <- told[order(told$what != "checked"), ]
  lines <- each_row(told, function(k) {
    tags$tr(
      tags$th(scope = "row", capital(words_for(told$what[k], "account"))),
      tags$td(printable(told$taken[k]))
    )
  })
  columns <- attr(account, "columns")
  htmltools::tagList(
    keep_form(arrival),
    if (NROW(columns)) {
      tags$section(
        tags$h2(say("desk-arrive.what_the_columns_are")),
        help_line(say("desk-arrive.choose_what_else")),
        lapply(split_in_order(seq_len(nrow(columns)), columns$file), function(mine) {
          columns_table(columns[mine, ])
        })
      )
    },
    tags$section(
      tags$h2(say("desk-arrive.this_was_read")),
      desk_table(NULL, lines, say("desk-arrive.this_was_read"))
    ),
    rows_read(attr(account, "responses"))
  )
}

# Roles that a person can give to a column.
roles_to_choose <- c(
  "student", "name", "first_name", "last_name", "section", "teacher", "email", "attempt",
  "submitted", "seconds", "status", "question", "leave_out"
)

# The first rows of a file as they stand, each column headed by what it is taken for, with
# a choice of what it could be else.
columns_table <- function(columns) {
  tags <- htmltools::tags
  choices <- each_row(columns, function(k) {
    tags$th(scope = "col", role_choice(columns$column[k], columns$role[k]))
  })
  named <- lapply(columns$column, function(name) tags$th(scope = "col", printable(name)))
  most <- max(0, lengths(columns$first))
  rows <- lapply(seq_len(most), function(k) {
    tags$tr(lapply(columns$first, function(cells) {
      tags$td(printable(or_blank(as.character(cells[k]))))
    }))
  })
  tags$div(
    class = classes("wide", "reading"),
    tags$table(
      tags$caption(class = "unseen", say("desk-arrive.what_the_columns_are")),
      tags$thead(tags$tr(class = "taken", choices), tags$tr(named)),
      tags$tbody(rows)
    )
  )
}

role_choice <- function(column, role) {
  tags <- htmltools::tags
  offered <- unique(c(role, roles_to_choose))
  tags$select(
    `data-act` = "read", `data-column` = column, name = "role",
    `aria-label` = say("desk-arrive.what_is", column = column),
    lapply(offered, function(one) {
      tags$option(
        value = one,
        selected = if (one == role) NA,
        capital(words_for(one, "column_roles"))
      )
    })
  )
}

rows_read <- function(responses, most = 6) {
  if (!NROW(responses)) return(NULL)
  tags <- htmltools::tags
  shown <- utils::head(plain_table(responses), most)
  cells <- lapply(shown, function(column) printable(or_blank(as.character(column))))
  head <- lapply(names(shown), function(name) tags$th(scope = "col", printable(name)))
  rows <- each_row(shown, function(k) {
    tags$tr(lapply(unname(cells), function(column) tags$td(column[k])))
  })
  said <- say("desk-arrive.first_rows", n = nrow(responses), shown = nrow(shown))
  tags$section(tags$h2(said), desk_table(head, rows, said, "reading"))
}

keep_form <- function(arrival) {
  tags <- htmltools::tags
  if (!is.null(arrival$test)) {
    return(tags$p(class = "buttons", act_button(
      say("desk-arrive.add_to_the_test"), "keep", class = "main"
    )))
  }
  name <- tools::file_path_sans_ext(basename(arrival$files[1]))
  act_form(
    "keep",
    text_field("name", say("desk-arrive.name_of_the_test"), name, keep = "arrival-name"),
    tags$button(type = "submit", class = "main", say("desk-arrive.keep_as_a_test"))
  )
}

# ---- files that come -------------------------------------------------------------

receive_files <- function(visit, input) {
  take <- function(id, field, test = FALSE) {
    shiny::observeEvent(input[[id]], {
      shiny::req(sees_all(visit) || !test || field == "files")
      arrival <- visit$now$arrival
      here <- if (test) visit$at$test
      if (!identical(arrival$test, here)) arrival <- NULL
      arrival$test <- here
      arrival[[field]] <- spoken_to(visit, kept_uploads(visit, input[[id]]))
      visit$now$arrival <- arrival
      spoken_to(visit, read_arrival(visit, list()))
    })
  }
  take("arriving", "files")
  take("arriving_key", "key")
  take("arriving_students", "students")
  take("late", "files", TRUE)
  take("late_key", "key", TRUE)
  take("late_students", "students", TRUE)
}

# Under the name that they have at home; of a path in it only the last part.
kept_uploads <- function(visit, files) {
  folder <- tempfile("came-")
  dir.create(folder)
  name <- gsub("[/\\\\[:cntrl:]]", "_", basename(valid_text(files$name)))
  name <- make.unique(ifelse(startsWith(name, "."), paste0("_", name), name))
  paths <- file.path(folder, name)
  Map(copy_whole, files$datapath, paths)
  paths
}

# Reads again with what was said: a role for a column, a reading to take, or that the key
# comes later.
read_arrival <- function(visit, given) {
  arrival <- visit$now$arrival
  if (!is.null(given$role)) {
    arrival$layout <- layout_with(arrival, given$column, given$role)
  }
  if (!is.null(given$take)) {
    taken <- as.integer(given$take)
    names(taken) <- if (nzchar(paste0("", given$file))) given$file
    arrival$take <- c(arrival$take[setdiff(names(arrival$take), given$file)], taken)
  }
  if (identical(given$key, "later")) arrival$key <- "later"
  if (!is.null(given$again)) arrival$again <- given$again
  arrival$problem <- NULL
  arrival$account <- NULL
  if (length(arrival$files) || !is.null(arrival$test)) {
    read <- tryCatch(
      reading_of(visit, arrival, write = FALSE),
      pregunta_error = identity
    )
    is_problem <- inherits(read, "pregunta_error")
    arrival[[if (is_problem) "problem" else "account"]] <- read
  }
  visit$now$arrival <- arrival
}

# The layout in which a column is what was said, all else being as it was read.
layout_with <- function(arrival, column, role) {
  columns <- attr(arrival$account, "columns")
  layout <- as.list(arrival$layout)
  asked <- columns$column[columns$role == "question"]
  layout$leave_out <- setdiff(layout$leave_out, column)
  people <- setdiff(roles_to_choose, c("question", "leave_out"))
  layout[people] <- lapply(layout[people], setdiff, column)
  layout <- layout[lengths(layout) > 0]
  if (role == "leave_out") {
    layout$leave_out <- c(layout$leave_out, column)
  } else if (role == "question") {
    layout$questions <- columns$column[columns$column %in% c(asked, column)]
  } else {
    layout[[role]] <- column
  }
  if (role != "question" && column %in% asked) {
    layout$questions <- setdiff(asked, column)
  }
  layout
}

reading_of <- function(visit, arrival, write, folder = NULL) {
  key <- arrival$key
  layout <- as.list(arrival$layout)
  if (!is.null(arrival$test)) {
    return(add_files(
      path_of_test(visit$desk, arrival$test), arrival$files,
      key = if (!identical(key, "later")) key,
      students = arrival$students, layout = layout, take = arrival$take,
      again = arrival$again, write = write, own = own_in_test(visit, arrival$test)
    ))
  }
  students <- arrival$students
  if (!write || !sees_all(visit)) {
    account <- read_account(
      arrival$files,
      key = key, students = students, layout = layout, take = arrival$take
    )
    if (!sees_all(visit)) students <- list_of_own_class(visit, arrival, account)
    if (!write) return(account)
  }
  new_test(
    folder, arrival$files,
    key = key, students = students, layout = layout, take = arrival$take
  )
}

forget_arrival <- function(visit, given) {
  visit$now$arrival <- NULL
}

keep_arrival <- function(visit, given) {
  arrival <- visit$now$arrival
  shiny::req(arrival$account)
  folder <- if (is.null(arrival$test)) {
    free_folder(visit$desk, paste0("", given$name))
  } else {
    path_of_test(visit$desk, arrival$test)
  }
  asked <- tryCatch({
    reading_of(visit, arrival, TRUE, folder)
    NULL
  }, pregunta_error_undecided = identity)
  if (!is.null(asked)) {
    visit$now$arrival$problem <- asked
    return(invisible())
  }
  visit$now$arrival <- NULL
  if (!is.null(arrival$test)) visit$now$added <- last_step(folder)
  id <- if (is.null(arrival$test)) basename(folder) else arrival$test
  verb <- if (is.null(arrival$test)) "new" else "add"
  tell_done(
    visit,
    say("desk-arrive.kept", folder = folder),
    if (verb == "add") {
      act_button(say("desk-change.take_back"), "undo-add")
    } else {
      back_from_made(visit, folder)
    },
    arrival_words(verb, folder, arrival)
  )
  visit$session$sendCustomMessage("go", paste0("#", encoded(id), "/came"))
}

arrival_words <- function(verb, folder, arrival) {
  set <- unlist(lapply(names(arrival$layout), function(role) {
    value <- paste(arrival$layout[[role]], collapse = ",")
    c("--set", paste0(role, "=", value))
  }))
  c(
    verb, folder,
    if (length(arrival$files)) c("--from", basename(arrival$files)),
    if (length(arrival$key)) c("--key", basename(arrival$key)),
    if (length(arrival$students)) c("--students", basename(arrival$students)),
    set,
    if (length(arrival$again)) c("--again", arrival$again),
    if (length(arrival$take)) c("--take", paste(arrival$take, collapse = ","))
  )
}

# More files for a test that is there, before they are added.
added_panel <- function(visit) {
  arrival <- visit$now$arrival
  if (is.null(arrival) || !identical(arrival$test, visit$at$test)) return(NULL)
  arrival_panel(arrival)
}
