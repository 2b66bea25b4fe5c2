# What each verb does: read, sum up, show.

run_check <- function(call) {
  sitting <- read_sitting(call$folder)
  sitting$findings <- c(sitting$findings, check_aside(call$folder))
  findings <- check_sitting(sitting)
  put_out(call, findings, show_findings)
  if (any(findings$severity == "error")) 1L else 0L
}

run_test <- function(call) {
  sitting <- read_for_counts(call)
  target <- if (!is.null(call$target)) check_target(call$target)
  test <- view_test(
    sitting,
    call$by,
    call$bootstrap,
    target,
    call$sort
  )
  put_out(call, test, show_test)
}

check_target <- function(target) {
  if (target > 0 && target < 1) return(target)
  abort_pregunta(
    "call",
    say("cli-verbs.target_is_a_reliability"),
    say("cli-verbs.given", target = target),
    say("cli-verbs.for_example_0_8")
  )
}

run_items <- function(call) {
  sitting <- if (call$keys) read_for_figures(call) else read_for_counts(call)
  if (call$keys) return(run_keys(call, sitting))
  if (call$review || !is.null(call$before)) return(run_review(call, sitting))
  view <- view_asked(
    view_items,
    call,
    sitting,
    by = call$by,
    bootstrap = call$bootstrap,
    told = call$format == "text"
  )
  put_out(
    call,
    view$items,
    function(items) show_items(items, view$look)
  )
}

run_students <- function(call) {
  check_choice(
    "--answers",
    call$answers,
    c("all", "wrong", "right", "none")
  )
  large <- open_in_parts(call)
  if (!is.null(large)) return(put_parts(call, large, summarise_students))
  sitting <- read_for_figures(call)
  view <- view_asked(
    view_students,
    call,
    sitting,
    by = call$by,
    which_answers = call$answers
  )
  put_out(
    call,
    view$students,
    function(students) {
      c(show_students(students, view$chosen), show_student(view$alone))
    },
    nothing_below(call$below)
  )
}

# What is said where no row is left.
nothing_below <- function(below) {
  if (is.null(below)) return(say("cli-verbs.nothing_to_show"))
  say("cli-verbs.nobody_is_below", below = below)
}

run_export <- function(call) {
  names <- c(
    qti = "qti.zip",
    case = "standards.json",
    long = "responses-long.csv",
    oneroster = "oneroster.zip",
    xapi = "xapi.jsonl"
  )
  if (!call$as %in% names(names)) {
    abort_pregunta(
      "call",
      say("cli-verbs.there_is_no_form", as = quoted(call$as)),
      NULL,
      did_you_mean(call$as, names(names))
    )
  }
  # A part of the package is a word, a part of the students a condition.
  said <- split_repeated(call$only)
  is_part <- said %in% parts_of_package
  only <- if (any(is_part)) said[is_part]
  call$only <- if (!all(is_part)) paste(said[!is_part], collapse = between_repeated)
  sitting <- read_for_figures(call)
  path <- if (is.null(call$out)) {
    file.path(call$folder, names[[call$as]])
  } else {
    call$out
  }
  export_sitting(sitting, path, call$as, version = call$version, only = only)
  tell_user(say("cli-verbs.written", path = path))
  for (note in notes_of_export(sitting, call$as, only)) tell_user(note)
  0L
}

run_demo <- function(call) {
  if (call$class) return(run_class(call))
  folder <- if (length(call$folder)) call$folder else "pregunta-demo"
  written <- write_demo(folder)
  sitting <- read_sitting(folder)
  lacking <- packages_of_demo[!has_package(packages_of_demo)]
  put_lines(
    say(
      "cli-verbs.a_made_up_test",
      title = sitting$settings$title,
      folder = folder
    ),
    "",
    wrap_lines(say_test(summarise_test(sitting))),
    "",
    show_look(
      look_first(summarise_items(sitting), options_to_judge(sitting)),
      most = 3
    ),
    say("cli-verbs.ask_more_of_it", folder = folder),
    say("cli-verbs.misconceptions_groups_decisions_check"),
    say("cli-verbs.what_to_do_on", folder = folder),
    say(
      "cli-verbs.whether_it_worked_pregunta",
      folder = folder,
      follow_up = file.path(folder, "follow-up")
    ),
    if (length(written)) {
      c(
        say(
          "cli-verbs.written_to",
          folder = dirname(written[1]),
          files = say_files(written)
        ),
        say("cli-verbs.open_in_a_browser", written = written[1])
      )
    } else {
      say("cli-verbs.outputs_need_packages", call = install_call(lacking))
    }
  )
  0L
}

say_files <- function(paths) {
  kinds <- c("html", "csv", "svg", "docx", "xlsx")
  kind <- sub("md", "docx", tools::file_ext(paths))
  counts <- table(factor(kind, kinds))
  join_words(say_counts(counts))
}

# Errors in the data are said on the way, not passed over. first: what is done to it
# before it is narrowed.
read_for_figures <- function(call, first = identity) {
  sitting <- read_sitting(call$folder)
  tell_mistakes(count_errors(sitting$findings), call$folder)
  sitting <- only_wanted(call, first(sitting))
  note_tiny_groups(call$by, sitting)
  if (any(call[["format"]] %in% c("csv", "json"))) sitting else titles_for_reader(sitting)
}

# What rests on counts alone is counted where the responses lie when these are in a
# database, and piece by piece when they are in a file, if there are too many to be read.
read_for_counts <- function(call) {
  if (length(call$only) || length(call$bootstrap)) return(read_for_figures(call))
  check_folder(call$folder)
  if (!has_stored_responses(call$folder)) return(read_in_pieces(call))
  stored <- open_sitting(call$folder)
  if (stored$size() <= most_read()) read_for_figures(call) else stored
}

read_in_pieces <- function(call) {
  bytes <- file.size(file.path(call$folder, "responses.csv"))
  if (is.na(bytes) || bytes < most_bytes()) return(read_for_figures(call))
  opened <- open_sitting(call$folder, most_bytes() / 1e6)
  if (is_in_pieces(opened)) {
    opened$session$tell <- function(findings) {
      tell_mistakes(count_errors(findings, in_pieces = TRUE), call$folder)
    }
  }
  opened
}

# A table of students is written part by part where the responses are too many to be read,
# and the order of its rows is not asked for; NULL otherwise.
open_in_parts <- function(call) {
  ordered <- c(
    "by", "only", "sort", "below", "status", "student", "standard", "grid", "who"
  )
  asked <- vapply(call[intersect(ordered, names(call))], function(one) {
    length(one) > 0 && !isFALSE(one)
  }, TRUE)
  if (any(asked) || call$format == "text") return(NULL)
  check_folder(call$folder)
  large <- if (has_stored_responses(call$folder)) {
    open_sitting(call$folder)$size() > most_read()
  } else {
    isTRUE(file.size(file.path(call$folder, "responses.csv")) >= most_bytes())
  }
  if (!large) return(NULL)
  opened <- open_sitting(call$folder, most_bytes() / 1e6)
  if (inherits(opened, "pregunta_stored")) opened
}

# summarise: the table of some students.
put_parts <- function(call, opened, summarise) {
  findings <- list()
  write <- function(put) {
    text <- text_of_parts(call$format, put)
    over_students(opened, function(part) {
      wrong <- Filter(function(one) one$severity == "error", part$findings)
      findings <<- c(findings, wrong)
      text$add(table_text(summarise(part), call$format))
    })
    text$end()
  }
  if (is.null(call$out)) write(put_data) else write_parts(write, call$out)
  tell_mistakes(count_errors(findings, in_pieces = TRUE), call$folder)
  if (!is.null(call$out)) tell_user(say("cli-verbs.written_2", out = call$out))
  0L
}

tell_mistakes <- function(errors, folder) {
  if (!errors) return(invisible())
  tell_user(say("cli-verbs.mistakes_in_the_data", errors = errors, folder = folder))
}

# Up to here reading all of it is quicker than asking. Tests have less read at once.
most_read <- function() 4e6 * read_at_once()

# Of a file as open_sitting() has it.
most_bytes <- function() 3e7 * read_at_once()

# Of groups of one or two students most figures are NA: it is said why.
note_tiny_groups <- function(by, sitting) {
  if (!length(by) || "student" %in% by) return(invisible())
  groups <- student_groups(sitting, by)
  sizes <- tabulate(groups$index[was_present(sitting)], length(groups$labels))
  if (stats::median(sizes) >= 3) return(invisible())
  tell_user(
    say(
      "cli-verbs.groups_by_half_of",
      n = length(sizes),
      by = in_a_row(by),
      sizes = stats::median(sizes)
    )
  )
}

# --only COLUMN=VALUE, and it is said how much is left.
only_wanted <- function(call, sitting) {
  conditions <- only_conditions(call, sitting)
  if (!length(conditions)) return(sitting)
  left <- do.call(narrow_sitting, c(list(sitting), conditions))
  counts <- function(table) {
    say(
      "cli-verbs.of",
      n = nrow(left[[table]]),
      n_quiz = nrow(sitting[[table]]),
      table = table
    )
  }
  tell_user(
    say(
      "cli-verbs.only",
      what = printable(in_a_row(left$narrowed)),
      students = counts("students"),
      items = counts("items")
    )
  )
  left
}

# The values of each column that is named; NULL where nothing is narrowed. sitting: whose
# columns tell which values hold a comma.
only_conditions <- function(call, sitting = NULL) {
  said <- split_repeated(call$only)
  if (!length(said)) return(NULL)
  parts <- regmatches(
    said,
    regexec("^ *([^<>=]*[^<>= ]) *(<=|>=|=|<|>) *(.*[^ ]) *$", said)
  )
  for (wrong in said[!lengths(parts)]) {
    abort_pregunta(
      "call",
      say("cli-verbs.only_needs_a_column"),
      say("cli-verbs.given_2", wrong = wrong),
      paste0(
        "For example: --only section=\"Harbour A\", --only type=choice,text or --only ",
        "\"submitted>=2026-09-14\""
      )
    )
  }
  conditions <- lapply(parts, function(part) {
    if (part[3] != "=") return(paste(part[3], part[4]))
    ids_asked(part[4], values_of_column(sitting, part[2]))
  })
  names(conditions) <- vapply(parts, `[[`, "", 2)
  conditions
}

# What a call asks for: rows, and their order. An option that a verb does not take is
# not in its call, and what is not asked for is not passed on.
# about: the sitting or table that is asked; people: whom it is about, where that is not
# all of them.
rows_asked <- function(call, about, people) {
  asked <- list(
    item = item_ids(call[["item"]], about),
    student = student_ids(call[["student"]], people),
    standard = standard_codes(call[["standard"]], about, call[["tag"]]),
    status = split_commas(call[["status"]])
  )
  Filter(Negate(is.null), c(asked, call[c("below", "sort")]))
}

view_asked <- function(view, call, about, ..., people = about) {
  do.call(view, c(list(about, ...), rows_asked(call, about, people)))
}

put_out <- function(call, table, show,
                    empty = say("cli-verbs.nothing_to_show")) {
  if (!is.null(call$out)) {
    check_output(call$out)
    old <- options(pregunta.colour = FALSE)
    on.exit(options(old))
  }
  lines <- if (call$format != "text") {
    table_text(table, call$format)
  } else if (nrow(table) || inherits(table, "pregunta_findings")) {
    show(table)
  } else {
    empty
  }
  if (is.null(call$out)) {
    if (call$format == "text") put_lines(lines) else put_data(lines)
  } else {
    write_text(if (call$format == "text") printable(lines, TRUE) else lines, call$out)
    tell_user(say("cli-verbs.written_2", out = call$out))
  }
  0L
}

#' @export
print.pregunta_stored <- function(x, ...) {
  put_lines(say(
    "read-stored.a_sitting_not_read",
    place = say(paste0("stored_in.", if (is_in_pieces(x)) "file" else "database")),
    table = x$name, items = nrow(x$items), title = x$settings$title
  ))
  invisible(x)
}

is_in_pieces <- function(opened) inherits(opened, "pregunta_pieces")
