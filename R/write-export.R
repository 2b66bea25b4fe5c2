#' Pass a sitting on in an open form
#'
#' @param sitting A [sitting()].
#' @param path Path of the file to write.
#' @param as `"qti"`: a zip of a QTI test with its items and of the results of each
#'   student; `"case"`: the standards as a CASE package (JSON); `"long"`: a CSV table
#'   with a row for each student and item; `"oneroster"`: the scores as OneRoster CSV
#'   (a zip of results, line items and categories): on the school's own scale where the
#'   names of the setting `bands` are numbers, else of 100 with the band as a comment;
#'   `"xapi"`: a statement a line for each answer, with the same id every time. What the
#'   test is called there says the setting `activity` (an address), else its title.
#' @param version Of QTI `"2.2"` or `"3.0"`, of OneRoster `"1.1"` or `"1.2"`; the first
#'   where nothing is said. The others have one version.
#' @param only Of QTI: `"items"` (the test without results) or `"results"`; `NULL` for
#'   both.
#' @return The path, invisibly.
#' @details Only the attempt that counts is passed on. What is not given or
#'   excused has no row; an answer that waits has no points. [new_test()] reads
#'   each of them back to the same sitting; names and sections of students are
#'   in none of them but OneRoster's.
#'
#'   QTI: identifiers are names as XML allows them (`3a` becomes `_3a`); what something is
#'   called otherwise stands in its label. A question of which not all options are listed
#'   in `options.csv` goes out as a line to write on. The rationale is feedback, standards
#'   are metadata in the manifest. A result has the time at which it was handed in, else
#'   the `date` of the test, else the time of the export; totals only where nothing waits.
#'
#'   CASE: identifiers that came with the standards (column `identifier`) are kept; others
#'   follow from the code and the setting `framework`, so that they are the same in every
#'   test of the same framework. Whether a standard has priority is an extension.
#'
#'   OneRoster: classes and students by the identifiers of their roster (columns
#'   `class_id` and `sourced_id` of the students, as [new_test()] keeps them), else by the
#'   names of the sections and students. Who was absent is `not submitted`, who was
#'   excused from all `exempt`, both without a score. The grading period says the setting
#'   `grading_period`.
#' @section Errors: `pregunta_error_output` when the file cannot be written,
#'   `pregunta_error_input` when there is nothing of that kind to write,
#'   `pregunta_error_call` for a version or part that the form does not have.
#' @references ADL Experience API 1.0.3; 1EdTech OneRoster 1.1 and 1.2, CSV binding;
#' 1EdTech Question and Test Interoperability (QTI) 2.2 and 3.0; 1EdTech Competencies and
#' Academic Standards Exchange (CASE) 1.0 and 1.1; RFC 9562 (UUIDs).
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' path <- tempfile(fileext = ".csv")
#' export_sitting(quiz, path, as = "long")
#' head(read.csv(path))
export_sitting <- function(sitting, path,
                           as = c("qti", "case", "long", "oneroster", "xapi"),
                           version = NULL, only = NULL) {
  as <- match.arg(as)
  version <- version_of_form(as, version)
  check_part(as, only)
  check_answered(sitting, as, only)
  check_output(path)
  switch(as,
    qti = write_qti(sitting, path, version, only),
    case = write_case(sitting, path),
    long = write_long(sitting, path),
    oneroster = write_oneroster(sitting, path, version),
    xapi = write_xapi(sitting, path)
  )
  invisible(path)
}

form_versions <- list(
  qti = c("2.2", "3.0"),
  oneroster = c("1.1", "1.2"),
  case = "1.1",
  xapi = "1.0.3",
  long = character()
)

version_of_form <- function(as, version) {
  known <- form_versions[[as]]
  if (is.null(version)) return(known[1])
  if (length(version) == 1 && version %in% known) return(version)
  abort_pregunta(
    "call",
    say("write-export.no_version", as = as, version = quoted(version[1])),
    NULL,
    if (length(known)) {
      say("write-export.versions_are", choices = join_words(known, "or"))
    } else {
      say("write-export.leave_version_out")
    }
  )
}

check_part <- function(as, only) {
  if (is.null(only)) return(invisible())
  if (as == "qti" && length(only) == 1 && only %in% parts_of_package) return(invisible())
  abort_pregunta(
    "call",
    say("write-export.no_part", as = as, only = quoted(only[1])),
    NULL,
    say("write-export.parts_are")
  )
}

# Answers of nobody are no file.
check_answered <- function(sitting, as, only) {
  needed <- as == "xapi" || identical(only, "results")
  if (!needed || any(was_present(sitting))) return(invisible())
  abort_pregunta(
    "input",
    say("write-export.nobody_has_answered"),
    NULL,
    say("write-export.questions_alone")
  )
}

# What somebody should know of what was written.
notes_of_export <- function(sitting, as, only = NULL) {
  undated <- is.na(sitting$settings$date) && all(is.na(sitting$students$submitted))
  switch(as,
    qti = c(
      if (!identical(only, "results")) note_unlisted_options(sitting),
      if (undated && !identical(only, "items")) say("write-export.day_unknown")
    ),
    oneroster = c(
      if (undated) say("write-export.day_unknown"),
      if (is.null(sitting$students$class_id)) say("write-export.classes_unknown"),
      if (is.na(sitting$settings$grading_period)) say("write-export.period_unknown")
    ),
    case = if (is.null(sitting$settings$framework)) say("write-export.framework_unknown")
  )
}

note_unlisted_options <- function(sitting) {
  items <- sitting$items
  written <- each_row(items, function(j) {
    listed <- sitting$options$option[sitting$options$item == items$item[j]]
    !identical(item_qti(items[j, ], listed), item_type(items$type[j])$qti)
  })
  without <- items$item[unlist(written)]
  if (!length(without)) return(NULL)
  say("write-export.options_unknown", n = length(without), items = some_of(without))
}

parts_of_package <- c("items", "results")

# A row for each student and item that was given.
long_responses <- function(sitting) {
  states <- cell_states(sitting)
  n <- nrow(states)
  state <- cell_state_names[as.vector(states)]
  answer <- as.vector(cell_answers(sitting))
  points <- as.vector(cell_points(sitting))
  table <- data.frame(
    student = rep(sitting$students$student, nrow(sitting$items)),
    item = rep(sitting$items$item, each = n),
    response = ifelse(
      state == "answered" | state == "pending",
      answer,
      NA
    ),
    points = ifelse(state == "answered", points, NA),
    state = state,
    order = rep(seq_len(n), nrow(sitting$items))
  )
  table <- table[rep(was_present(sitting), nrow(sitting$items)), ]
  table[!table$state %in% c("not_given", "excused"), ]
}

write_long <- function(sitting, path) {
  table <- long_responses(sitting)
  table <- table[order(table$order), ]
  type <- sitting$items$type[match(table$item, sitting$items$item)]
  table$response[is_points_cell(type)] <- NA
  table$status <- ifelse(
    table$state == "answered",
    "",
    table$state
  )
  write_csv_table(
    table[c("student", "item", "response", "points", "status")],
    path
  )
}
