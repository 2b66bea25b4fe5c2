# The record of the year on the command line.

run_record <- function(call) {
  what <- if (length(call$words)) call$words[1] else ""
  runs <- list(
    add = record_add,
    list = record_list,
    remove = record_remove,
    growth = record_growth,
    drift = record_drift,
    skills = record_skills,
    tests = record_tests,
    pending = record_pending,
    items = record_items
  )
  if (!what %in% names(runs)) {
    abort_pregunta(
      "call",
      if (nzchar(what)) {
        say(
          "cli-record.there_is_no",
          what = quoted(say("cli-record.record", what = what))
        )
      } else {
        say("cli-record.what_shall_the_record")
      },
      NULL,
      if (nzchar(what)) {
        did_you_mean(what, names(runs))
      } else {
        say("cli-record.record_add_folder_puts")
      }
    )
  }
  refuse_idle(call, "record", what, record_options)
  wants <- c(add = TRUE, remove = TRUE)[what]
  if (is.na(wants) && length(call$words) > 1) {
    abort_pregunta(
      "call",
      say("cli-record.pregunta_record_takes_no", what = what),
      say("cli-record.given", words = some_of(call$words[-1])),
      say("cli-record.see_pregunta_record_help")
    )
  }
  if (what == "add") {
    call$sittings <- read_to_add(call)
  } # before a record is made for them
  settings <- read_record_settings(record_settings_path(call$record))
  run <- function() {
    record <- open_record(record_place(call$record), make = what == "add")
    on.exit(close_record(record))
    runs[[what]](call, record, settings)
  }
  # A record that was to be made, and into which nothing could be put, does not stay.
  without_empty(call$record, run(), function() holds_no_sitting(call$record))
}

# What each of them looks at; whatever else is given would do nothing.
record_options <- local({
  table <- c("sort", "format", "out")
  which <- c("section", "student", "since", "until", "kind")
  list(
    add = "name",
    list = c("history", table),
    remove = character(),
    growth = c("by", "standard", "skills", "only", "scale", which, table),
    drift = c("scale", "since", "until", "kind", table),
    skills = c("by", "ladder", "window", "only", which, table),
    tests = c(which, table),
    pending = c("by", "window", "section", "kind", table),
    items = table
  )
})

# verb: whose own option, called like it, every kind of it takes.
refuse_idle <- function(call, verb, what, options) {
  taken <- c(verb, options[[what]])
  flags <- vapply(command_options[taken], `[[`, "", 1)
  for (option in setdiff(call$given, taken)) {
    abort_no_effect(
      command_options[[option]][[1]],
      say("cli-record.it_takes", verb = verb, what = what, options = join_words(flags))
    )
  }
}

holds_no_sitting <- function(path) {
  if (file.size(path) == 0) return(TRUE)
  record <- tryCatch(open_record(path, make = FALSE), error = function(e) NULL)
  if (is.null(record)) return(FALSE)
  on.exit(close_record(record))
  nrow(recorded_sittings(record)) == 0
}

# A file, or a server by its address.
record_place <- function(given) {
  if (is_server_address(given)) connect_server(given) else given
}

record_settings_path <- function(given) {
  if (is_server_address(given)) {
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
        say("cli-record.name_is_for_one")
      } else {
        say("cli-record.pregunta_record_add_needs")
      },
      NULL,
      say("cli-record.for_example_pregunta_record")
    )
  }
  sittings <- lapply(stats::setNames(nm = folders), function(folder) {
    read_for_figures(list(folder = folder))
  })
  lapply(sittings, sitting_date)
  sittings
}

record_add <- function(call, record, settings) {
  words <- c(
    new = say("cli-record.added"),
    replaced = say("cli-record.replaced_by_the_corrected"),
    unchanged = say("cli-record.there_already_unchanged")
  )
  for (folder in names(call$sittings)) {
    sitting <- call$sittings[[folder]]
    name <- if (is.null(call$name)) {
      basename(normalizePath(folder))
    } else {
      call$name
    }
    came <- add_sitting(
      record,
      sitting,
      name,
      read_plan(file.path(folder, "plan.csv"))
    )
    said <- say(
      "cli-record.students",
      name = name,
      words = words[[came]],
      title = sitting$settings$title,
      date = sitting_date(sitting),
      n = sum(was_present(sitting))
    )
    put_lines(printable(said))
  }
  0L
}

record_remove <- function(call, record, settings) {
  if (length(call$words) != 2) {
    abort_pregunta(
      "call",
      say("cli-record.pregunta_record_remove_needs"),
      NULL,
      say("cli-record.pregunta_record_list_shows")
    )
  }
  name <- call$words[2]
  earlier <- remove_sitting(record, name) - 1
  said <- say(
    "cli-record.taken_out_with_earlier",
    words = name,
    earlier = earlier
  )
  put_lines(printable(said))
  0L
}

record_list <- function(call, record, settings) {
  sittings <- recorded_sittings(record, call$history)
  put_out(call, rows_sorted(sittings, call$sort), show_recorded)
}

record_items <- function(call, record, settings) {
  put_out(
    call,
    rows_sorted(recorded_items(record), call$sort),
    show_recorded_items
  )
}

record_growth <- function(call, record, settings) {
  check_choice("--skills", call$skills, c("last", "all"))
  by <- if (!is.null(call$student)) "student" else call[["by"]]
  table <- growth_asked(call, record, settings, by, call$skills)
  put_out(call, view_asked(view_rows, call, table), show_growth)
}

growth_asked <- function(call, record, settings, by, skills) {
  growth(
    record,
    by,
    settings$windows,
    skills,
    sections_asked(call, record),
    student_ids(call[["student"]], recorded_people(record)),
    call$since,
    call$until,
    split_commas(call$kind),
    settings$renamed,
    call$scale,
    only_conditions(call)
  )
}

sections_asked <- function(call, record) {
  ids_asked(call$section, recorded_people(record)$section)
}

record_drift <- function(call, record, settings) {
  drift <- item_drift(
    record, call$since, call$until, split_commas(call$kind), call$scale
  )
  put_out(call, rows_sorted(drift, call$sort), show_drift, say("cli-record.no_drift"))
}

record_pending <- function(call, record, settings) {
  late <- pending_students(
    record,
    settings$windows,
    call$window,
    sections_asked(call, record),
    split_commas(call$kind),
    call[["by"]]
  )
  nobody <- say(
    "cli-record.all_are_tested_in",
    n = attr(late, "expected"),
    window = attr(late, "window")
  )
  put_out(
    call,
    rows_sorted(late, call$sort),
    show_pending,
    nobody
  )
}

record_tests <- function(call, record, settings) {
  table <- test_overview(
    record,
    sections_asked(call, record),
    student_ids(call[["student"]], recorded_people(record)),
    call$since,
    call$until,
    split_commas(call$kind)
  )
  put_out(call, rows_sorted(table, call$sort), show_overview)
}

record_skills <- function(call, record, settings) {
  ladders <- settings$ladders
  if (!is.null(call$ladder)) {
    ladders <- list(ladder = split_commas(call$ladder))
  }
  if (!length(ladders)) {
    abort_pregunta(
      "call",
      say("cli-record.there_is_no_ladder"),
      NULL,
      say("cli-record.name_one_ladder_kn")
    )
  }
  by <- call[["by"]]
  if (!is.null(call$window)) {
    call$until <- window_end(record, settings$windows, call$window)
  }
  scores <- growth_asked(call, record, settings, "student", "all")
  table <- view_skills(
    scores,
    ladders,
    settings$pass,
    by,
    call$sort
  )
  people <- !is.null(call$student) || identical(by, "student")
  put_out(
    call,
    table,
    function(table) show_ladders(table, people)
  )
}

# ---- shown -----------------------------------------------------------------------

#' @export
print.pregunta_recorded <- function(x, ...) print_lines(x, show_recorded)

show_recorded <- function(sittings) {
  empty <- function(x) all(is.na(x))
  state <- ifelse(
    sittings$current,
    "",
    say("cli-record.replaced")
  )
  format_table(
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
      text_column("", state, colour = "ochre")
    }
  )
}

#' @export
print.pregunta_recorded_items <- function(x, ...) {
  print_lines(x, show_recorded_items)
}

show_recorded_items <- function(items) {
  first <- ifelse(
    items$uses > 1,
    percent(items$first_difficulty),
    ""
  )
  format_table(
    text_column("last_in", items$sitting, shrink = TRUE),
    text_column("item", items$item),
    text_column("question", items$prompt, shrink = TRUE),
    text_column("standards", items$standards, shrink = TRUE),
    text_column("uses", items$uses, "right"),
    text_column("first_earned", first, "right"),
    gauge_column(
      "last_earned",
      items$difficulty,
      width = 6,
      colour = "teal"
    ),
    number_column("discrimination", items$discrimination)
  )
}

#' @export
print.pregunta_pending <- function(x, ...) print_lines(x, show_pending)

show_pending <- function(late) {
  if (!is.null(attr(late, "by"))) return(show_pending_groups(late))
  heading <- say(
    "cli-record.of_are_not_tested",
    n = nrow(late),
    of = attr(late, "expected"),
    window = attr(late, "window")
  )
  lines <- format_table(
    text_column("student", late$student),
    text_column("name", late$name, shrink = TRUE),
    text_column("section", late$section),
    text_column(
      "status",
      words_for(late$status, "statuses"),
      colour = "ochre"
    ),
    text_column("last_tested", or_else(late$last_date, say("cli-record.never")))
  )
  c(bold_line(heading), "", lines)
}

show_pending_groups <- function(late) {
  heading <- say(
    "cli-record.of_are_not_tested",
    n = attr(late, "expected") - tested_in_all(late),
    of = attr(late, "expected"),
    window = attr(late, "window")
  )
  lines <- format_table(
    group_columns(late),
    text_column("expected", late$expected, "right"),
    text_column("tested", late$tested, "right"),
    text_column("pending", late$pending, "right", colour = "ochre")
  )
  c(bold_line(heading), "", lines)
}

tested_in_all <- function(late) {
  by <- attr(late, "by")
  sum(late$tested[group_depths(late, by) == 1])
}

#' @export
print.pregunta_overview <- function(x, ...) print_lines(x, show_overview)

# The last tests that fit.
show_overview <- function(table) {
  tests <- attr(table, "sittings")
  table <- lowest_mean_first(table)
  who <- list(
    text_column("student", shorten(name_or_id(table), 20)),
    text_column("section", shorten(or_blank(table$section), 12)),
    text_column(
      "done",
      say("cli-record.of", done = table$done, of = table$of),
      "right"
    ),
    gauge_column(
      "mean",
      table$mean_share,
      width = 6,
      colour = "teal"
    )
  )
  head <- shorten(printable(tests$name), 14)
  kept <- columns_that_fit(
    pmax(nchar(head, "width"), 4),
    rev(seq_along(head)),
    who
  )
  cells <- lapply(kept, function(k) {
    share <- table[[tests$name[k]]]
    text_column(
      I(head[k]),
      or_blank(share, percent(share)),
      "right"
    )
  })
  shares <- as.data.frame(table)[tests$name]
  means <- percent(colMeans(shares, na.rm = TRUE))
  dates <- in_parentheses(tests$date)
  said <- say(
    "cli-record.mean_of_each_test",
    name = paste(tests$name, dates, means, collapse = ", ")
  )
  left <- if (length(kept) < nrow(tests)) {
    say(
      "cli-record.the_last_of_tests",
      n = length(kept),
      n_tests = nrow(tests)
    )
  }
  c(
    format_table(who, cells), "", wrap_lines(said), wrap_lines(left)
  )
}
