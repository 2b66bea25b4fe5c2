# What people hold in their hands: reports, slips, the workbook, pictures.

run_report <- function(call) {
  check_audience(call[["for"]])
  of_many <- !is_test_folder(call$folder) &&
    dir.exists(call$folder) &&
    length(test_folders(call$folder)) > 0
  if (!is.null(call$plan)) {
    if (!of_many && is.null(call$each)) abort_lone_plan(call$plan)
    set_back <- use_plan(call$plan)
    on.exit(set_back())
  }
  if (of_many) return(run_reports(call))
  if (!is.null(call$each)) return(run_part_reports(call))
  if (isTRUE(call$anew)) {
    abort_no_effect("--anew", say("cli-pages.one_report_is_always_anew"))
  }
  sitting <- read_for_figures(call, with_unsettled)
  path <- if (is.null(call$out)) {
    file.path(call$folder, report_names[[call[["for"]]]])
  } else {
    call$out
  }
  plan <- plan_path(call$folder, only_conditions(call, sitting))
  write_report(
    sitting,
    path,
    !isTRUE(call$`no-names`),
    call[["for"]],
    call[["by"]],
    read_plan(plan)
  )
  note_output(call$folder, path, plan)
  tell_user(say("cli-pages.report_written", path = path))
  0L
}

# What was made from a test folder before it changed.
tell_stale <- function(folder) {
  stale <- stale_files(folder)
  if (!length(stale)) return(invisible())
  tell_user(say("cli-pages.stale", files = some_of(stale, 6), n = length(stale)))
}

# Of one report there is nothing to share out.
abort_lone_plan <- function(plan) {
  abort_pregunta(
    "call",
    say("cli-pages.one_report_has_no_plan"),
    say("cli.given", given = plan),
    say("cli-pages.for_many_folders_or_each")
  )
}

# Of every value of a column of one test's students.
run_part_reports <- function(call) {
  if (!is.null(call$only)) {
    abort_pregunta(
      "call",
      say("cli-pages.each_or_only"),
      NULL,
      say("cli-pages.take_one_of_them")
    )
  }
  table <- write_part_reports(
    call$folder,
    call$each,
    call$out,
    !isTRUE(call$`no-names`),
    call[["for"]],
    call[["by"]],
    anew = isTRUE(call$anew)
  )
  without <- attr(table, "without")
  if (without) {
    each <- column_words(call$each)
    tell_user(say("cli-pages.in_no_part", n = without, each = each))
  }
  told_reports(table, table$part)
}

# Of every test folder in this folder.
run_reports <- function(call) {
  if (!is.null(call$each)) {
    abort_pregunta(
      "call",
      say("cli-pages.each_is_of_one_test"),
      say("cli-pages.is_no_test_folder", folder = quoted(call$folder)),
      say("cli-pages.name_a_test_folder")
    )
  }
  table <- write_reports(
    call$folder,
    call$out,
    !isTRUE(call$`no-names`),
    call[["for"]],
    call[["by"]],
    anew = isTRUE(call$anew)
  )
  tell_pooled(attr(table, "pooled"))
  told_reports(table, table$folder)
}

# What no test shows by itself, and all together do.
tell_pooled <- function(pooled) {
  for (k in seq_len(nrow(pooled))) {
    row <- pooled[k, ]
    tell_user(say_pooled_item(row, attr(pooled, "pools") > 1), " ", printable(row$what))
  }
}

# What could not be made, by name; and where the rest is.
told_reports <- function(table, name) {
  failed <- which(!is.na(table$problem))
  for (k in failed) tell_failed(name[k], table$problem[k], attr(table, "facts")[[k]])
  made <- attr(table, "made")
  tell_user(
    say(
      "cli-pages.reports_written_open",
      n = made,
      kept = sum(!is.na(table$file)) - made,
      any_kept = sum(!is.na(table$file)) > made,
      table = attr(table, "index")
    )
  )
  if (length(failed)) 1L else 0L
}

run_slips <- function(call) {
  sitting <- read_for_figures(call)
  parts <- if (is.null(call$parts)) slip_parts[-8] else split_commas(call$parts)
  student <- student_ids(call$student, sitting)
  if (any(c("answers", "why") %in% parts)) {
    tell_doubtful(call, sitting, NULL, "home")
  }
  if (isTRUE(call$mail) || !is.null(call[["send"]])) {
    if (!is.null(call$each)) abort_no_effect("--each", say("cli-pages.mail_is_one_each"))
    return(run_mail(call, sitting, parts, student))
  }
  check_choice("--as", call[["as"]], c("html", "pdf"))
  check_choice("--paper", call$paper, c("A4", "letter"))
  each <- slips_each(call, sitting, student)
  path <- if (is.null(call$out)) {
    file.path(call$folder, if (is.null(each)) {
      paste0("slips.", call[["as"]])
    } else {
      paste0("slips-", column_word(each))
    })
  } else {
    call$out
  }
  written <- write_slips(
    sitting,
    path,
    parts,
    call$paper,
    student,
    each
  )
  tell_languages(written)
  say_without(attr(written, "without"))
  if (is.null(each)) {
    note_output(call$folder, path)
    tell_user(say("cli-pages.slips_written", path = path))
  } else {
    files <- length(attr(written, "files"))
    tell_user(say("cli-pages.slips_of_parts", n = files, index = as.vector(written)))
  }
  0L
}

# What would do nothing is refused.
abort_no_effect <- function(option, why) {
  abort_pregunta("call", say("cli-pages.would_do_nothing", option = option), NULL, why)
}

# More slips than a browser opens are written by section, unless a file is named.
slips_each <- function(call, sitting, student) {
  if (!is.null(call$each)) {
    if (call[["as"]] == "html") return(call$each)
    abort_pregunta(
      "call",
      say("cli-pages.each_writes_pages"),
      NULL,
      say("cli-pages.print_them_from_there")
    )
  }
  sections <- unique(sitting$students$section)
  many <- nrow(sitting$students) > most_slips && length(sections) > 1
  if (many && is.null(student) && is.null(call$out) && call[["as"]] == "html") "section"
}

most_slips <- 500

run_mail <- function(call, sitting, parts, student) {
  if (is.null(call$sender)) {
    abort_pregunta(
      "call",
      say("cli-pages.mail_needs_your_own"),
      NULL,
      say("cli-pages.for_example_from_teacher")
    )
  }
  folder <- if (is.null(call$out)) file.path(call$folder, "mail") else call$out
  made <- write_mail(
    sitting,
    folder,
    call$sender,
    NULL,
    parts,
    student,
    call[["send"]],
    !isTRUE(call$unencrypted)
  )
  tell_languages(made)
  failed <- made[!is.na(made$problem), ]
  for (problem in unique(failed$problem)) {
    mine <- failed[failed$problem == problem, ]
    who <- mine$student
    if (problem == "bad_address") {
      who <- paste0(who, " (", printable(mine$address), ")")
    }
    tell_failed(words_for(problem, "mail_problems"), some_of(who, 6))
  }
  tell_user(
    if (is.null(call[["send"]])) {
      say(
        "cli-pages.drafts_in_nothing_was",
        n = sum(!is.na(made$file)),
        folder = folder
      )
    } else {
      say("cli-pages.messages_sent", n = sum(made$sent))
    }
  )
  if (any(
    !made$sent &
      is.na(made$file) &
      !is.na(made$problem) &
      made$problem != "no_address"
  )) {
    1L
  } else {
    0L
  }
}

# Languages that families read and slips cannot be in, and those that no font here has
# letters for.
tell_languages <- function(written) {
  unknown <- attr(written, "unknown")
  if (length(unknown)) {
    count <- sort(table(unknown), decreasing = TRUE)
    tell_user(say(
      "cli-pages.no_words_for",
      n = length(unknown),
      languages = some_of(quoted(names(count)))
    ))
  }
  lacking <- attr(written, "no_font")
  if (length(lacking)) {
    names <- vapply(lacking, language_fact, "", fact = "name")
    tell_user(say("cli-pages.no_font_for", languages = some_of(names)))
  }
}

say_without <- function(without) {
  if (length(without)) {
    tell_user(say("cli-pages.no_slip_for_absent", without = some_of(without, 6)))
  }
}

run_workbook <- function(call) {
  sitting <- read_for_figures(call)
  path <- if (is.null(call$out)) {
    file.path(call$folder, "workbook.xlsx")
  } else {
    call$out
  }
  write_workbook(sitting, path, !isTRUE(call$`no-names`))
  note_output(call$folder, path)
  tell_user(say("cli-pages.workbook_written", path = path))
  0L
}

# --of all: each picture under its name, in the folder --out.
run_plot <- function(call) {
  check_choice("--as", call$as, c("svg", "png", "pdf"))
  sitting <- read_for_figures(call)
  items <- item_ids(call$item, sitting)
  if (length(items) > 1) {
    abort_pregunta(
      "call",
      say("cli-pages.a_picture_is_of_one"),
      say("cli-pages.given", path = some_of(items)),
      say("cli-pages.draw_one_after_the_other")
    )
  }
  pictures <- sitting_pictures(
    sitting,
    item = items,
    names = !isTRUE(call$`no-names`),
    only = if (call$of != "all") call$of
  )
  if (!length(pictures)) {
    abort_pregunta(
      "call",
      say("cli-pages.there_is_nothing_to", of = quoted(call$of)),
      NULL,
      say("cli-pages.see_what_the_test")
    )
  }
  folder <- if (is.null(call$out)) call$folder else call$out
  if (call$of == "all" && !dir.exists(folder)) {
    dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  }
  for (name in names(pictures)) {
    path <- if (call$of == "all" || is.null(call$out)) {
      file.path(folder, paste0(name, ".", call$as))
    } else {
      call$out
    }
    if (!tolower(tools::file_ext(path)) %in% c("svg", "png", "pdf")) {
      abort_pregunta(
        "call",
        say("cli-pages.a_picture_is_an"),
        say("cli-pages.given", path = path),
        say("cli-pages.for_example_out_spread")
      )
    }
    write_picture(pictures[[name]], path)
    tell_user(say("cli-pages.picture_written", path = path))
  }
  0L
}
