# The record of the year on the command line.

run_record <- function(call) {
  what <- if (length(call$words)) call$words[1] else ""
  runs <- list(
    add = record_add,
    list = record_list,
    remove = record_remove,
    growth = record_growth,
    skills = record_skills,
    tests = record_tests,
    pending = record_pending,
    items = record_items
  )
  if (!what %in% names(runs)) {
    abort_pregunta(
      "call",
      if (nzchar(what)) {
        paste0("There is no ", quoted(paste("record", what)), ".")
      } else {
        "What shall the record do?"
      },
      NULL,
      if (nzchar(what)) {
        did_you_mean(what, names(runs))
      } else {
        "record add FOLDER puts a test in, record growth shows the year."
      }
    )
  }
  wants <- c(add = TRUE, remove = TRUE)[what]
  if (is.na(wants) && length(call$words) > 1) {
    abort_pregunta(
      "call",
      paste0("pregunta record ", what, " takes no more words."),
      paste0("Given: ", some_of(call$words[-1]), "."),
      "See pregunta record --help."
    )
  }
  if (what == "add") call$quizzes <- read_to_add(call) # before a record is made for them
  record <- open_record(record_place(call$record), make = what == "add")
  on.exit(close_record(record))
  runs[[what]](call, record, read_record_settings(record_settings_path(call$record)))
}

# A file, or a server by its address; the password stays out of the call.
record_place <- function(given) {
  if (!grepl("^postgres(ql)?://", given)) return(given)
  if (!requireNamespace("RPostgres", quietly = TRUE)) {
    abort_pregunta(
      "record",
      "A record on a server needs the package RPostgres.",
      NULL,
      "Install it in R: install.packages(\"RPostgres\")."
    )
  }
  tryCatch(DBI::dbConnect(RPostgres::Postgres(), dbname = given), error = function(e) {
    abort_record_trouble(
      sub("://[^@/]*@", "://", given),
      paste("connection:", conditionMessage(e))
    )
  })
}

record_settings_path <- function(given) {
  if (grepl("^postgres(ql)?://", given)) {
    "record.yml"
  } else {
    file.path(dirname(given), "record.yml")
  }
}

read_to_add <- function(call) {
  folders <- call$words[-1]
  if (!length(folders) || (length(folders) > 1 && !is.null(call$name))) {
    abort_pregunta(
      "call",
      if (length(folders)) {
        "--name is for one folder."
      } else {
        "pregunta record add needs a folder."
      },
      NULL,
      "For example: pregunta record add my-test"
    )
  }
  quizzes <- lapply(stats::setNames(nm = folders), function(folder) {
    read_for_figures(list(folder = folder))
  })
  lapply(quizzes, sitting_date)
  quizzes
}

record_add <- function(call, record, settings) {
  words <- c(
    new = "added",
    replaced = "replaced by the corrected one",
    unchanged = "there already, unchanged"
  )
  for (folder in names(call$quizzes)) {
    quiz <- call$quizzes[[folder]]
    name <- if (is.null(call$name)) basename(normalizePath(folder)) else call$name
    came <- add_sitting(record, quiz, name, read_plan(file.path(folder, "plan.csv")))
    cat(
      printable(
        paste0(
          name, ": ", words[[came]], " (", quiz$settings$title, ", ", sitting_date(quiz),
          ", ", count_of(sum(was_present(quiz)), "student"), ")."
        )
      ),
      sep = "\n"
    )
  }
  0L
}

record_remove <- function(call, record, settings) {
  if (length(call$words) != 2) {
    abort_pregunta(
      "call",
      "pregunta record remove needs the name of one sitting.",
      NULL,
      "pregunta record list shows the names."
    )
  }
  revisions <- remove_sitting(record, call$words[2])
  cat(
    printable(
      paste0(
        call$words[2],
        ": taken out",
        if (revisions > 1) {
          paste0(", with ", revisions - 1, " earlier revision", if (revisions > 2) "s")
        },
        ". The folder of the test is untouched."
      )
    ),
    sep = "\n"
  )
  0L
}

record_list <- function(call, record, settings) {
  sittings <- recorded_sittings(record, call$history)
  put_out(call, view_sorted(sittings, call$sort), show_recorded)
}

record_items <- function(call, record, settings) {
  put_out(call, view_sorted(recorded_items(record), call$sort), show_recorded_items)
}

record_growth <- function(call, record, settings) {
  check_choice("--skills", call$skills, c("last", "all"))
  by <- if (!is.null(call$student)) "student" else single_column(call[["by"]])
  table <- growth(
    record,
    by,
    settings$windows,
    call$skills,
    split_commas(call$section),
    split_commas(call$student),
    call$since,
    call$until,
    split_commas(call$kind),
    settings$renamed
  )
  put_out(call, shown_rows(call, table), show_growth)
}

record_pending <- function(call, record, settings) {
  late <- pending_students(
    record,
    settings$windows,
    call$window,
    split_commas(call$section),
    split_commas(call$kind)
  )
  put_out(
    call,
    view_sorted(late, call$sort),
    show_pending,
    paste0("All ", attr(late, "expected"), " are tested in ", attr(late, "window"), ".")
  )
}

record_tests <- function(call, record, settings) {
  table <- test_overview(
    record,
    split_commas(call$section),
    split_commas(call$student),
    call$since,
    call$until,
    split_commas(call$kind)
  )
  put_out(call, view_sorted(table, call$sort), show_overview)
}

record_skills <- function(call, record, settings) {
  ladders <- if (is.null(call$ladder)) {
    settings$ladders
  } else {
    list(ladder = split_commas(call$ladder))
  }
  if (!length(ladders)) {
    abort_pregunta(
      "call",
      "There is no ladder of skills.",
      NULL,
      paste0(
        "Name one: --ladder KN.1,KN.2,KN.3, or in record.yml: ladders: {Knots: [KN.1, ",
        "KN.2, KN.3]}."
      )
    )
  }
  scores <- growth(
    record,
    "student",
    settings$windows,
    "all",
    split_commas(call$section),
    split_commas(call$student),
    call$since,
    call$until,
    split_commas(call$kind),
    settings$renamed
  )
  pass <- if (is.null(settings$pass)) attr(scores, "cut") else settings$pass
  pieces <- lapply(names(ladders), function(name) {
    climbed <- climb_ladder(scores, ladders[[name]], pass)
    cbind(data.frame(ladder = rep(name, nrow(climbed))), plain_rows(climbed))
  })
  table <- new_summary(
    do.call(rbind, pieces),
    "ladder",
    settings_of(scores),
    call[["by"]],
    ladders = ladders,
    tree = attr(scores, "tree"),
    pass = pass
  )
  people <- !is.null(call$student) || identical(call[["by"]], "student")
  put_out(call, view_sorted(table, call$sort), function(table) {
    show_ladders(table, people)
  })
}

# ---- shown -----------------------------------------------------------------------

#' @export
print.pregunta_recorded <- function(x, ...) print_lines(x, show_recorded)

show_recorded <- function(sittings) {
  empty <- function(x) all(is.na(x))
  format_table(
    list(
      text_column("date", sittings$date),
      text_column("name", sittings$name, shrink = TRUE),
      text_column("title", sittings$title, shrink = TRUE),
      if (!empty(sittings$kind)) text_column("kind", sittings$kind),
      if (!empty(sittings$window)) text_column("window", sittings$window),
      text_column("students", sittings$students, "right"),
      text_column("items", sittings$items, "right"),
      text_column("revision", sittings$revision, "right"),
      text_column("added", sittings$added),
      if (!all(sittings$current)) {
        text_column("", ifelse(sittings$current, "", "replaced"), colour = "ochre")
      }
    )
  )
}

#' @export
print.pregunta_recorded_items <- function(x, ...) print_lines(x, show_recorded_items)

show_recorded_items <- function(items) {
  again <- items$uses > 1
  format_table(
    list(
      text_column("last in", items$sitting, shrink = TRUE),
      text_column("item", items$item),
      text_column("question", items$prompt, shrink = TRUE),
      text_column("standards", items$standards, shrink = TRUE),
      text_column("uses", items$uses, "right"),
      text_column(
        "first earned",
        ifelse(again, percent(items$first_difficulty), ""),
        "right"
      ),
      text_column(
        "last earned",
        paste(bar(items$difficulty, 6), pad(percent(items$difficulty), "right")),
        colour = "teal"
      ),
      text_column("discrimination", number(items$discrimination), "right")
    )
  )
}

#' @export
print.pregunta_pending <- function(x, ...) print_lines(x, show_pending)

show_pending <- function(late) {
  c(
    paint(
      printable(
        paste0(
          nrow(late), " of ", attr(late, "expected"), " are not tested yet in ",
          attr(late, "window"), "."
        )
      ),
      "bold"
    ),
    "",
    format_table(
      list(
        text_column("student", late$student),
        text_column("name", late$name, shrink = TRUE),
        text_column("section", late$section),
        text_column("status", late$status, colour = "ochre"),
        text_column("last tested", ifelse(is.na(late$last_date), "never", late$last_date))
      )
    )
  )
}

#' @export
print.pregunta_overview <- function(x, ...) print_lines(x, show_overview)

# The last tests that fit.
show_overview <- function(table) {
  tests <- attr(table, "sittings")
  if (is.null(attr(table, "sorted"))) table <- table[order(table$mean_share), ]
  who <- list(
    text_column(
      "student",
      shorten(ifelse(is.na(table$name), table$student, table$name), 20)
    ),
    text_column("section", shorten(ifelse(is.na(table$section), "", table$section), 12)),
    text_column("done", paste(table$done, "of", table$of), "right"),
    text_column(
      "mean",
      paste(bar(table$mean_share, 6), pad(percent(table$mean_share), "right")),
      colour = "teal"
    )
  )
  head <- shorten(printable(tests$name), 14)
  kept <- columns_that_fit(pmax(nchar(head, "width"), 4), rev(seq_along(head)), who)
  cells <- lapply(kept, function(k) {
    share <- table[[tests$name[k]]]
    text_column(head[k], ifelse(is.na(share), "", percent(share)), "right")
  })
  c(
    format_table(c(who, cells)),
    "",
    wrap_lines(
      printable(
        paste0(
          "Mean of each test: ",
          paste0(
            tests$name, " (", tests$date, ") ",
            percent(colMeans(as.data.frame(table)[tests$name], na.rm = TRUE)),
            collapse = ", "
          ),
          "."
        )
      )
    ),
    if (length(kept) < nrow(tests)) {
      wrap_lines(
        paste0(
          "The last ", length(kept), " of ", nrow(tests),
          " tests fit here; all of them with --format csv."
        )
      )
    }
  )
}
