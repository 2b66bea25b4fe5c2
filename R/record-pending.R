#' Who is not tested yet, and who did how many tests how well
#'
#' @inheritParams growth
#' @param window The window to look at; by default the last with a sitting.
#' @param by Names of columns of the students, one inside the other: how many are tested
#'   in each group instead of who is not.
#' @return `pending_students()`: a data frame, a row a student who is expected and has no
#'   result in the window: `student`, `name`, `section`, `window`, `last_date` of a
#'   result, `status` in the window ("absent", "excused" or "not_listed"). Expected is who
#'   is on the list of a sitting in the window, or of the last one before it; who left is
#'   then on neither. With `by` a row a group: the group, `window`, `expected`, `tested`,
#'   `pending` (students of each kind).
#'
#'   `test_overview()`: a row a student: `student`, `name`, `section`, `done` (tests sat),
#'   `of` (tests whose list the student is on), `mean_share` (mean of the shares on them),
#'   then a column for each sitting, by name, with the share.
#' @export
#' @examples
#' record <- open_record(tempfile(fileext = ".sqlite"))
#' add_sitting(record, read_sitting(demo_path()), "tides")
#' add_sitting(record, read_sitting(demo_path("follow-up")), "tides again")
#' pending_students(record)
#' test_overview(record, section = "Harbour A") |> head(3)
#' close_record(record)
pending_students <- function(record, windows = NULL, window = NULL,
                             section = NULL, kind = NULL, by = NULL) {
  windows <- check_windows(windows, function(what, fix) {
    abort_pregunta("input", what, NULL, fix)
  })
  sittings <- sittings_between(record, NULL, NULL, kind)
  sittings$period <- windows_of(sittings, windows)
  order <- window_order(sittings, windows)
  wanted <- window_wanted(window, order, sittings)
  people <- recorded_people(record, section)
  presence <- ask_record(
    record,
    "SELECT sitting, person, status FROM pregunta_presence"
  )
  presence$at <- match(presence$sitting, sittings$id)
  presence <- presence[!is.na(presence$at), ]
  inside <- which(sittings$period %in% wanted)
  first_day <- if (length(inside)) {
    min(sittings$date[inside])
  } else {
    as.character(windows$from[windows$window == wanted])
  }
  before <- utils::tail(which(sittings$date < first_day), 1)
  sat <- presence$status %in% sat_statuses
  expected <- people$id %in% presence$person[presence$at %in% c(inside, before)]
  tested <- people$id %in% presence$person[sat & presence$at %in% inside]
  if (!is.null(by)) {
    return(pending_groups(record, sittings, people, expected, tested, wanted, by))
  }
  waits <- which(expected & !tested)
  last <- tapply(
    sittings$date[presence$at[sat]],
    factor(presence$person[sat], people$id[waits]),
    max
  )
  listed <- presence[presence$at %in% inside, ]
  status <- listed$status[match(people$id[waits], listed$person)]
  table <- data.frame(
    people[waits, c("student", "name", "section")],
    window = rep(wanted, length(waits)),
    last_date = as.vector(last),
    status = or_else(status, "not_listed")
  )
  new_summary(
    table,
    "pending",
    settings_recorded(sittings),
    NULL,
    expected = sum(expected),
    window = wanted
  )
}

pending_groups <- function(record, sittings, people, expected, tested, window, by) {
  pieces <- lapply(seq_along(by), function(depth) {
    columns <- utils::head(by, depth)
    group <- group_of_people(record, people, columns)[expected]
    labels <- sort(unique(group), method = "radix")
    at <- match(group, labels)
    there <- tabulate(at[tested[expected]], length(labels))
    table <- data.frame(
      group = labels,
      window = rep(window, length(labels)),
      expected = tabulate(at, length(labels)),
      tested = there,
      pending = tabulate(at, length(labels)) - there
    )
    with_group_columns(table, columns)
  })
  new_summary(
    if (length(by) > 1) stack_depths(pieces, by) else pieces[[1]],
    "pending",
    settings_recorded(sittings),
    by,
    expected = sum(expected),
    window = window
  )
}

# The day of a window's last sitting.
window_end <- function(record, windows, window) {
  windows <- check_windows(windows, function(what, fix) {
    abort_pregunta("input", what, NULL, fix)
  })
  sittings <- sittings_between(record, NULL, NULL, NULL)
  sittings$period <- windows_of(sittings, windows)
  window <- window_wanted(window, unique(stats::na.omit(sittings$period)), sittings)
  max(sittings$date[sittings$period %in% window])
}

window_wanted <- function(window, order, sittings) {
  if (is.null(window)) return(utils::tail(order[order %in% sittings$period], 1))
  if (window %in% order) return(window)
  abort_pregunta(
    "call",
    say("record-pending.there_is_no_window", window = quoted(window)),
    NULL,
    did_you_mean(window, order)
  )
}

#' @rdname pending_students
#' @export
test_overview <- function(record, section = NULL, student = NULL, from = NULL,
                          to = NULL, kind = NULL) {
  sittings <- sittings_between(record, from, to, kind)
  people <- recorded_people(record, section, student)
  presence <- ask_record(
    record,
    "SELECT sitting, person FROM pregunta_presence"
  )
  scores <- recorded_scores(
    record,
    sittings,
    people,
    is.null(section) && is.null(student)
  )
  scores <- scores[scores$code == whole_code, ]
  shares <- matrix(
    NA_real_,
    nrow(people),
    nrow(sittings),
    dimnames = list(NULL, sittings$name)
  )
  shares[cbind(scores$person, scores$sitting)] <- scores$earned / scores$open
  presence <- presence[presence$sitting %in% sittings$id, ]
  listed <- tabulate(match(presence$person, people$id), nrow(people))
  done <- rowSums(!is.na(shares))
  table <- data.frame(
    people[c("student", "name", "section")],
    done = as.integer(done),
    of = listed,
    mean_share = ifelse(
      done > 0,
      rowMeans(shares, na.rm = TRUE),
      NA_real_
    ),
    shares,
    check.names = FALSE
  )
  table <- table[table$of > 0 | table$done > 0, , drop = FALSE]
  new_summary(
    table,
    "overview",
    settings_recorded(sittings),
    NULL,
    sittings = sittings[c("name", "title", "date", "kind")]
  )
}
