#' A sitting: one test given to some students at one time
#'
#' Puts the responses to a test together with what is known of its items and
#' its students, scores them, and settles who sat it. Everything else in the
#' package starts from a sitting. [read_sitting()] makes one from a folder.
#'
#' @param responses A data frame. *Wide*: a row a student, a column `student`
#'   and a column an item. *Long*: a row a student and item, columns `student`,
#'   `item`, `response`, and any of `points` (given by hand), `attempt`,
#'   `status`, `seconds`, `submitted` (when), `explanation` (the student's
#'   reason), `comment`, `marker` (who gave the points: then a row a marker, and the
#'   setting `markers` says which mark counts; see [summarise_markers()]). A wide table
#'   can hold `attempt`, `seconds` and `submitted` too, and for a single item `<item>
#'   points`, `<item> seconds`, `<item> explanation` and `<item> comment`. A blank cell is
#'   an answer left out; a cell `(not given)` or `(excused)` takes the item out for that
#'   student.
#' @param items A data frame, a row an item in printed order, with `item` and
#'   any of `type`, `key`, `points`, `scoring`, `standards` (codes with `;`
#'   between), `prompt`, `rationale`; other columns are kept as tags. Without
#'   `type`, an item with a key is a choice item and one without is a `mark`.
#' @param options,students,standards,misconceptions Data frames as in the
#'   files of a test folder, or `NULL`; see [read_sitting()].
#' @param settings A list as in `test.yml`; see [default_settings()].
#' @param adjustments A data frame of recorded changes of marks and keys as in
#'   `adjustments.csv`, or `NULL`; see [adjust()].
#'
#' @section Item types and keys: `choice`: the option, or `B|D` when each is right.
#' `multiple`: the set, `A;C`. `text`: accepted answers, `ebb|ebb tide`; case, accents,
#' outer and repeated blanks do not matter. `number`: `12.4`, `12.4±0.2` (or `+/-`), or
#' `12..13`. `order`: `C>A>B`. `match`: `1=B;2=A`. `mark`: no key, the cell is points
#' already. `open`: no key, points come by hand and until then the cell is pending.
#' `scoring` is `all` (default), or `each` for `multiple` (right chosen minus wrong
#' chosen, divided by the number right, not below 0), `order` (share of positions) and
#' `match` (share of pairs).
#'
#' @section States of a cell: `answered`; `omitted` (blank, and a later item in printed
#' order was answered); `not reached` (blank, and nothing after it was answered); `not
#' given`; `pending` (waits for marking by hand); `excused`. Omitted and not reached earn
#' 0 points, or none at all (`NA`) with the setting `blanks: missing`. A student with no
#' answer and no points was absent.
#'
#' @return An object of class `pregunta_sitting`: a list with `settings`, `students` (a
#'   row a student, with `status`; see below), `items`, `options`, `standards`,
#'   `misconceptions`, `codes` (an integer matrix, students by items), `cells` (for each
#'   item the meaning of its codes: `answer`, `points`, `state`), `source` (where the rows
#'   came from), `findings` (see [check_sitting()]), `adjustments` (the list of changes),
#'   `changes` (those that stand), `before` (`codes` and `cells` before the changes of
#'   single students) and `handed_in` (everything as it came, with all attempts, before
#'   any change).
#' @section Status of a student: The first that holds: `excused` (from every item),
#' `absent` (no answer and no points), `waiting` (an answer waits for a mark),
#' `unfinished` (others have handed in and this student has not, or the last quarter of
#' the items, the threshold `unfinished`, and at least 3 were not reached), `late` (handed
#' in after the setting `due`), `sat`. Absent and excused students are in no figure.
#' @section Errors: `pregunta_error_input` when a table lacks a required column, names an
#' item or a student twice, or holds a key, a type or a number that cannot be read; the
#' message says where, with the value, and what to do.
#' @export
#' @examples
#' responses <- data.frame(
#'   student = c("ada", "ben", "cy"),
#'   Q1 = c("A", "B", "A"),
#'   Q2 = c("ebb", "Ebb tide", "flood")
#' )
#' items <- data.frame(
#'   item = c("Q1", "Q2"), type = c("choice", "text"), key = c("A", "ebb|ebb tide")
#' )
#' quiz <- sitting(responses, items)
#' summarise_items(quiz)
sitting <- function(responses, items, options = NULL, students = NULL,
                    standards = NULL, misconceptions = NULL, settings = list(),
                    adjustments = NULL) {
  settings <- complete_settings(settings)
  typed <- if (is.data.frame(items)) items[["item"]][!is_blank(items[["type"]])]
  items <- complete_items(items)
  items <- with_listed_codes(
    items,
    "standards",
    standards[["code"]]
  )
  options <- complete_options(options, items, misconceptions)
  options <- with_listed_codes(
    options,
    "misconception",
    misconceptions[["code"]]
  )
  items <- with_option_keys(items, options)
  misconceptions <- complete_misconceptions(misconceptions)
  listed <- standards
  standards <- complete_standards(standards, items)
  settings <- with_listed_cuts(settings, standards)
  students <- complete_students(students)
  tables <- list(
    items,
    options,
    students,
    standards,
    misconceptions
  )
  put_right <- lapply(tables, attr, "put_right")
  findings <- c(
    unlist(put_right, recursive = FALSE),
    check_codes_listed(items, listed),
    check_cut_codes(settings, standards),
    check_codes_known(items, options, standards, misconceptions),
    check_keys_there(items),
    check_keys_offered(items, options),
    check_languages(students)
  )

  marked <- apart_markers(responses, items, settings)
  rows <- arrange_responses(marked$responses, items, settings)
  rows <- exclude_rows(rows, settings, students)
  rows <- join_rows(rows)
  coded <- code_cells(rows, items, options, settings, typed)
  settle_sitting(
    list(
      settings = settings,
      students = students,
      items = items,
      options = options,
      standards = standards,
      misconceptions = misconceptions,
      rows = rows,
      codes = coded$codes,
      cells = coded$cells,
      marks = marked$marks,
      findings = c(findings, rows$findings, coded$findings)
    ),
    complete_adjustments(adjustments)
  )
}

# What was handed in, and the list of changes, become the sitting. Everything
# handed in stays beside it, so that a change more or less starts from there.
settle_sitting <- function(handed_in, adjustments) {
  changes <- standing_changes(adjustments, handed_in)
  items <- change_items(handed_in$items, changes)
  cells <- change_cells(handed_in, items, changes)
  settled <- settle_attempts(
    handed_in$rows,
    handed_in$codes,
    cells,
    handed_in$settings
  )
  people <- student_table(
    handed_in$students,
    handed_in$rows,
    settled$row
  )
  before <- list(
    codes = student_codes(settled$codes, nrow(people)),
    cells = settled$cells
  )
  changed <- change_answers(
    before,
    people$student,
    items,
    changes
  )
  rows <- handed_in$rows
  source <- list(
    origin = rows$origin,
    line = rows$line[settled$row],
    given = given_apart(rows, settled$row),
    row = settled$row
  )
  findings <- c(
    without_settled(handed_in$findings, changes),
    settled$findings,
    check_students(handed_in$students, rows, settled$row)
  )
  sitting <- structure(
    list(
      settings = handed_in$settings,
      students = people,
      items = items,
      options = handed_in$options,
      standards = handed_in$standards,
      misconceptions = handed_in$misconceptions,
      codes = changed$codes,
      cells = changed$cells,
      before = before,
      source = source,
      findings = findings,
      adjustments = adjustments,
      changes = changes,
      marks = handed_in$marks,
      handed_in = handed_in
    ),
    class = "pregunta_sitting"
  )
  sitting <- settle_status(sitting, before)
  sitting$settings <- with_everybody(sitting$settings, sitting$students)
  sitting
}

# The students who sat the test, as a logical vector along sitting$students.
was_present <- function(sitting) {
  sitting$students$status != "absent" & sitting$students$status != "excused"
}

check_is_sitting <- function(sitting) {
  if (inherits(sitting, "pregunta_sitting")) return(invisible())
  counted <- inherits(sitting, "pregunta_tally")
  abort_pregunta(
    "call",
    if (counted) {
      say("sitting.counts_are_not_enough")
    } else {
      say("sitting.this_needs_the_sitting")
    },
    say(
      "sitting.given_a_tally",
      sitting = class(sitting)[1],
      counted = counted
    ),
    say("sitting.read_one_with_read")
  )
}
