#' Write the demo out
#'
#' Puts the demo into a folder as a test folder of plain files, and every
#' output there is (tables, pictures, the report, the page to go over the test) into
#' `output` below it.
#'
#' @param folder Path of the folder; it is made when it is not there.
#' @return The paths of the outputs, invisibly; `NULL` where a package that they take is
#'   not installed (officer, Rglpk, RSQLite): then only the test folder is written.
#' @section Errors: `pregunta_error_output` when the folder holds other files
#'   of the same names: nothing of yours is overwritten.
#' @export
#' @examples
#' \donttest{
#' folder <- file.path(tempdir(), "demo")
#' write_demo(folder)
#' list.files(folder)
#' }
write_demo <- function(folder = "pregunta-demo") {
  interpret_here()
  source <- normalizePath(demo_path())
  files <- list.files(source, recursive = TRUE)
  stop_if_changed(folder, source, files)
  fill <- function(place) {
    copy_demo(place)
    if (!all(has_package(packages_of_demo))) return(invisible())
    output <- file.path(place, "output")
    made <- c(write_all(read_sitting(place), output), write_story(place, output))
    written <<- file.path(folder, substring(made, nchar(place) + 2))
  }
  written <- NULL
  if (dir.exists(folder)) fill(folder) else write_folder_whole(folder, fill)
  invisible(written)
}

# What its outputs take that not everybody has.
packages_of_demo <- c("officer", "Rglpk", "RSQLite")

stop_if_changed <- function(folder, source, files) {
  there <- files[file.exists(file.path(folder, files))]
  same <- tools::md5sum(file.path(folder, there)) == tools::md5sum(
    file.path(source, there)
  )
  if (all(same)) return(invisible())
  abort_pregunta(
    "output",
    say("cli-demo.the_folder_holds_files", folder = quoted(folder)),
    file.path(folder, there[!same][1]),
    say("cli-demo.name_another_folder_or")
  )
}

# Every output of a sitting, into one folder.
write_all <- function(sitting, folder) {
  dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  path <- function(name) file.path(folder, name)
  tables <- list(
    test = summarise_test(sitting),
    items = summarise_items(sitting),
    options = summarise_options(sitting),
    students = summarise_students(sitting),
    standards = summarise_standards(sitting),
    misconceptions = summarise_misconceptions(sitting),
    groups = group_students(sitting),
    `standards-by-student` = summarise_standards(sitting, by = "student"),
    review = review_items(sitting),
    keys = review_key(sitting),
    decisions = summarise_decisions(sitting),
    parts = summarise_parts(sitting),
    precision = summarise_precision(sitting),
    check = check_sitting(sitting)
  )
  for (name in names(tables)) {
    write_text(table_text(tables[[name]], "csv"), path(paste0(name, ".csv")))
  }
  pictures <- sitting_pictures(sitting)
  for (name in names(pictures)) {
    write_picture(pictures[[name]], path(paste0(name, ".svg")))
  }
  pages <- c(
    write_report(sitting, path("report.html")),
    write_walkthrough(sitting, path("walkthrough.html")),
    write_report(
      sitting,
      path("report-coordinator.html"),
      audience = "coordinator"
    ),
    write_report(
      sitting,
      path("report-head.html"),
      audience = "head"
    ),
    write_slips(sitting, path("slips.html")),
    write_workbook(sitting, path("workbook.xlsx"))
  )
  c(
    pages, path(paste0(names(tables), ".csv")),
    path(paste0(names(pictures), ".svg"))
  )
}

# What comes after the test: the plan, the follow-up, whether it worked, the year.
write_story <- function(folder, output) {
  path <- function(name) file.path(output, name)
  first <- read_sitting(folder)
  second <- read_sitting(file.path(folder, "follow-up"))
  change <- compare_sittings(first, second)
  plan <- close_plan(
    plan_reteach(first),
    change,
    second$settings$date
  )
  for (name in c("plan.docx", "plan.md", "plan.csv")) {
    write_plan(
      plan,
      path(name),
      first$settings$title,
      first$settings$date
    )
  }
  drawn <- draw_followup(first, read_pool(file.path(folder, "pool")))
  if (!file.exists(path("second-look"))) {
    write_followup(
      drawn,
      path("second-look"),
      say("cli-demo.a_second_look")
    )
  }
  unlink(path("record.sqlite"))
  record <- open_record(path("record.sqlite"))
  on.exit(close_record(record))
  add_sitting(record, first, "unit-test", plan)
  for (name in c(
    "knots", "logbook", "follow-up", "knots-again", "weather", "weather-again"
  )) {
    add_sitting(
      record,
      read_sitting(file.path(folder, name)),
      name
    )
  }
  year <- read_record_settings(file.path(folder, "record.yml"))
  grown <- growth(record, "student", year$windows, "all")
  tables <- list(
    change = change,
    `change-by-student` = compare_sittings(
      first,
      second,
      "student"
    ),
    `change-by-item` = compare_sittings(first, second, "item"),
    followup = drawn,
    growth = growth(record, "section", year$windows, "all"),
    skills = climb_ladder(grown, year$ladders[[1]])
  )
  for (name in names(tables)) {
    write_text(table_text(tables[[name]], "csv"), path(paste0(name, ".csv")))
  }
  pictures <- list(
    change = tables$change,
    growth = growth(record, "section", year$windows, "all"),
    skills = tables$skills,
    `growth-of-one` = growth(
      record,
      "student",
      year$windows,
      "all",
      student = "h012"
    )
  )
  for (name in names(pictures)) {
    write_picture(
      ggplot2::autoplot(pictures[[name]]),
      path(paste0(name, ".svg"))
    )
  }
  tables <- paste0(names(tables), ".csv")
  pictures <- paste0(names(pictures), ".svg")
  path(c("plan.docx", "plan.md", "plan.csv", tables, pictures))
}
