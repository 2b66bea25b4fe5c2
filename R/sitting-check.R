#' What was read, and what does not add up
#'
#' @param sitting A [sitting()].
#' @return A data frame of class `pregunta_findings`, a row a finding, the
#'   gravest first: `severity` (`error`: something could not be counted;
#'   `warning`: probably a mistake; `note`: done for you, or good to know),
#'   `file`, `line` (of the file, `NA` where it is about more than one),
#'   `column`, `value`, `finding`, `action`. No rows when all adds up.
#' @section What is looked for: Answers that are no option, no number or no mark, with the
#' nearest that is; keys that are missing or no option; ids twice, and ids that differ
#' only by blanks, case or leading zeros; students not on the list, and listed ones
#' without a row; items without a standard, standards without an item, codes that are not
#' listed, a loop in the tree of standards; points above the most, and given points that
#' differ from the scored ones; items on which everybody earned the same; answers that a
#' spreadsheet made a date; letters of a wrong encoding; columns that look like questions
#' and are not in the items, and columns whose name is a slip away from one that is read;
#' and what was left out, joined or settled on the way.
#' @export
#' @examples
#' check_sitting(read_sitting(demo_path()))
check_sitting <- function(sitting) {
  check_is_sitting(sitting)
  findings <- c(
    sitting$findings,
    check_changes(sitting),
    check_times(sitting),
    check_ids(sitting),
    check_given(sitting),
    check_spread(sitting),
    check_strays(sitting),
    check_reasons(sitting),
    check_dates(sitting),
    check_spelling(sitting)
  )
  findings_table(keys_lacking_together(findings), describe_sitting(sitting))
}

# How many errors check_sitting() makes of these. Of a file that was read piece by piece,
# the same of several pieces is one.
count_errors <- function(findings, in_pieces = FALSE) {
  errors <- Filter(function(one) one$severity == "error", findings)
  if (in_pieces) {
    errors <- errors[!duplicated(lapply(errors, `[`, c("column", "value")))]
  }
  length(keys_lacking_together(errors))
}

# Several keys that are missing are one thing to see to, told at the first of them.
keys_lacking_together <- function(findings) {
  said <- say("sitting-check-tables.is_an_item_without_a")
  is_lacking <- function(one) isTRUE(one$column == "key") && identical(one$finding, said)
  lacking <- which(vapply(findings, is_lacking, TRUE))
  if (length(lacking) < 2) return(findings)
  items <- vapply(findings[lacking], `[[`, "", "value")
  first <- findings[[lacking[1]]]
  first$value <- some_of(items, 8)
  first$finding <- say("sitting-check.are_items_without_a_key", n = length(items))
  first$action <- say("sitting-check.fill_in_the_keys", action = first$action)
  findings[[lacking[1]]] <- first
  findings[-lacking[-1]]
}

# Something that does not add up. severity: error, warning or note; file, line,
# column, value: where it is, NA where that is nowhere; finding: what it is, in words
# that go on from the value; action: what to do about it; item or student: what it is
# about, so that it is settled once that is changed.
new_finding <- function(severity, file, column, value, finding, action,
                        line = NA_integer_, item = NULL, student = NULL) {
  one <- list(
    severity = severity,
    file = file,
    line = as.integer(line),
    column = as.character(column),
    value = as.character(value),
    finding = finding,
    action = action
  )
  is_single <- lengths(one) == 1
  if (!all(is_single) ||
    !severity %in% severities ||
    is.na(finding) ||
    is.na(action)) {
    wrong <- paste(names(one)[!is_single], collapse = ", ")
    stop(say("sitting-check.this_is_no_finding", one = wrong), call. = FALSE)
  }
  about <- list(item = item, student = student)
  c(one, about[!vapply(about, is.null, TRUE)])
}

# The findings with one more; what it takes is what new_finding() takes.
with_finding <- function(findings, ...) c(findings, list(new_finding(...)))

severities <- c("error", "warning", "note")

# The gravest first.
findings_table <- function(findings, about) {
  pick <- function(field, type) vapply(findings, function(f) f[[field]], type)
  table <- data.frame(
    severity = pick("severity", ""),
    file = pick("file", ""),
    line = pick("line", 0L),
    column = pick("column", ""),
    value = pick("value", ""),
    finding = pick("finding", ""),
    action = pick("action", "")
  )
  new_summary(
    table[order(match(table$severity, severities)), ],
    "findings",
    NULL,
    NULL,
    about = about
  )
}

# A few lines of what the sitting holds.
describe_sitting <- function(sitting) {
  status <- sitting$students$status
  count_status <- function(which_status) sum(status == which_status)
  known <- names(item_types())
  kinds <- table(factor(sitting$items$type, known))
  kinds <- kinds[kinds > 0]
  settings <- sitting$settings
  title <- c(settings$title, if (!is.na(settings$date)) settings$date)
  most <- sum(sitting$items$points)
  untagged <- sum(is.na(sitting$items$standards))
  c(
    paste(title, collapse = ", "),
    say_narrowed(sitting),
    say(
      "sitting-check.items_for_points",
      n = nrow(sitting$items),
      n_sitting = format_plain(most),
      kinds = in_a_row(paste(kinds, type_words(names(kinds))))
    ),
    say(
      "sitting-check.students_sat_it_absent",
      n = length(status),
      sat = sum(was_present(sitting)),
      absent = count_status("absent"),
      excused = count_status("excused"),
      any_excused = count_status("excused"),
      waiting = count_status("waiting"),
      any_waiting = count_status("waiting"),
      unfinished = count_status("unfinished"),
      any_unfinished = count_status("unfinished"),
      late = count_status("late"),
      any_late = count_status("late")
    ),
    if (nrow(sitting$standards)) {
      say(
        "sitting-check.standards",
        n = nrow(sitting$standards),
        n_sitting = say_untagged(untagged)
      )
    }
  )
}

say_untagged <- function(n) {
  if (n == 0) {
    say("sitting-check.every_item_has_one")
  } else {
    say("sitting-check.items_without_one", n = n)
  }
}
