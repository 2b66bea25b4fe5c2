# What people hold in their hands: reports, slips, the workbook, pictures.

run_report <- function(call) {
  check_audience(call[["for"]])
  if (!is_test_folder(call$folder) &&
    dir.exists(call$folder) &&
    length(test_folders(call$folder))) {
    return(run_reports(call))
  }
  quiz <- read_for_figures(call)
  path <- if (is.null(call$out)) {
    file.path(call$folder, report_names[[call[["for"]]]])
  } else {
    call$out
  }
  write_report(
    quiz,
    path,
    !isTRUE(call$`no-names`),
    call[["for"]],
    call[["by"]],
    read_plan(file.path(call$folder, "plan.csv"))
  )
  message("Report written: ", path)
  0L
}

# Of every test folder in this folder.
run_reports <- function(call) {
  table <- write_reports(
    call$folder,
    call$out,
    !isTRUE(call$`no-names`),
    call[["for"]],
    call[["by"]]
  )
  failed <- table[!is.na(table$problem), ]
  for (k in seq_len(nrow(failed))) message(failed$folder[k], ": ", failed$problem[k])
  message(
    count_of(sum(!is.na(table$file)), "report"),
    " written. Open ",
    attr(table, "index")
  )
  if (nrow(failed)) 1L else 0L
}

run_slips <- function(call) {
  quiz <- read_for_figures(call)
  parts <- if (is.null(call$parts)) slip_parts[-8] else split_commas(call$parts)
  student <- if (!is.null(call$student)) split_commas(call$student)
  if (isTRUE(call$mail) || !is.null(call$send)) {
    return(run_mail(call, quiz, parts, student))
  }
  check_choice("--as", call[["as"]], c("html", "pdf"))
  check_choice("--paper", call$paper, c("A4", "letter"))
  path <- if (is.null(call$out)) {
    file.path(call$folder, paste0("slips.", call[["as"]]))
  } else {
    call$out
  }
  written <- write_slips(quiz, path, parts, call$paper, student)
  say_without(attr(written, "without"))
  message("Slips written: ", path)
  0L
}

run_mail <- function(call, quiz, parts, student) {
  if (is.null(call$from)) {
    abort_pregunta(
      "call",
      "Mail needs your own address.",
      NULL,
      "For example --from teacher@school.example"
    )
  }
  folder <- if (is.null(call$out)) file.path(call$folder, "mail") else call$out
  made <- write_mail(quiz, folder, call$from, NULL, parts, student, call$send)
  failed <- made[!is.na(made$problem), ]
  for (problem in unique(failed$problem)) {
    message(problem, ": ", some_of(failed$student[failed$problem == problem], 6))
  }
  message(
    if (is.null(call$send)) {
      paste0(
        count_of(sum(!is.na(made$file)), "draft"), " in ", folder, "; nothing was sent."
      )
    } else {
      paste0(count_of(sum(made$sent), "message"), " sent.")
    }
  )
  if (any(
    !made$sent & is.na(made$file) & !is.na(made$problem) & made$problem != "no address"
  )) {
    1L
  } else {
    0L
  }
}

say_without <- function(without) {
  if (length(without)) {
    message("No slip for ", some_of(without, 6), ": absent or excused.")
  }
}

run_workbook <- function(call) {
  quiz <- read_for_figures(call)
  path <- if (is.null(call$out)) file.path(call$folder, "workbook.xlsx") else call$out
  write_workbook(quiz, path, !isTRUE(call$`no-names`))
  message("Workbook written: ", path)
  0L
}

# --of all: each picture under its name, in the folder --out.
run_plot <- function(call) {
  check_choice("--as", call$as, c("svg", "png", "pdf"))
  quiz <- read_for_figures(call)
  pictures <- sitting_pictures(
    quiz,
    item = call$item,
    names = !isTRUE(call$`no-names`),
    only = if (call$of != "all") call$of
  )
  if (!length(pictures)) {
    abort_pregunta(
      "call",
      paste0("There is nothing to draw for ", quoted(call$of), "."),
      NULL,
      "See what the test has: pregunta check."
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
        "A picture is an SVG, PNG or PDF.",
        paste0("Given: ", path),
        "For example --out spread.png"
      )
    }
    write_picture(pictures[[name]], path)
    message("Picture written: ", path)
  }
  0L
}
