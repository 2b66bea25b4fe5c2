#' How did each student do?
#'
#' @inheritParams summarise_items
#' @param by The name of a column of the students that comes first and orders the
#'   rows, or several, each within the one before.
#' @return A data frame, a row a student, in the order of the responses and then those on
#'   the list without a row: `student`, `name`, `section`; `points` earned, with extra
#'   points; `open`: points that were open to the student; `share`: their ratio; `level`:
#'   the highest level whose cut the share reaches, after rounding to the setting's step;
#'   `omitted`, `not_reached`: blanks with and without a later answer; `status`: "sat",
#'   "late", "unfinished", "waiting" (an answer waits for a mark, which is then in neither
#'   `points` nor `open`), "absent" or "excused" (the figures of both are `NA`); see
#'   [sitting()]. With the setting `due` a column `late` (handed in after it, whatever the
#'   status), with the setting `bands` a last column `band`, found as the level is. With
#'   `by`, that column comes first and orders the rows. Extra points (see [adjust()]) are
#'   in `points` and `share`, which can then be above 1, and in the mean and spread of the
#'   test; figures on items, standards and reliability leave them out.
#' @inheritSection summarise_items Errors
#' @export
#' @examples
#' summarise_students(read_sitting(demo_path())) |> head()
summarise_students <- function(sitting, by = NULL) {
  check_is_sitting(sitting)
  earned <- student_points(sitting)
  states <- cell_states(sitting)
  present <- was_present(sitting)
  blanks <- function(state) rowSums(states == match(state, cell_state_names))
  hide <- function(x) ifelse(present, x, NA)
  table <- data.frame(
    sitting$students[c("student", "name", "section")],
    points = hide(earned$points),
    open = hide(earned$open),
    share = hide(earned$share),
    level = level_of(hide(earned$share), sitting$settings),
    omitted = as.integer(hide(blanks("omitted"))),
    not_reached = as.integer(hide(blanks("not_reached"))),
    status = sitting$students$status
  )
  bands <- sitting$settings$bands
  if (!is.null(sitting$students$late)) {
    table$late <- sitting$students$late
  }
  if (!is.null(bands)) {
    table$band <- step_of(
      table$share,
      bands,
      sitting$settings$rounding
    )
  }
  if (!is.null(by)) {
    groups <- student_groups(sitting, by)
    labels <- list(by = by, groups = groups$labels[groups$index])
    table <- with_group(table, labels, 1)[order(groups$index), ]
  }
  new_summary(
    table,
    "students",
    sitting$settings,
    by,
    asked = list(
      n = sum(!is.na(table$share)),
      items = items_of_group(tally_responses(sitting), 1)
    )
  )
}

# Points of each student, extra credit with them, of those open to her, and their share;
# also of those who were absent.
student_points <- function(sitting) {
  scores <- row_scores(sitting$codes, sitting$cells)
  points <- tidy_sum(scores$earned + extra_points(sitting))
  share <- ifelse(scores$open > 0, points / tidy_sum(scores$open), NA_real_)
  list(points = points, open = scores$open, share = share)
}

# Whether the average of all of them hides two groups; of some of them it is not asked.
humps_of_students <- function(students, share) {
  asked <- attr(students, "asked")
  if (!identical(asked$n, length(share))) return(no_humps())
  humps_of(share, rep(1, length(share)), asked$items)
}

# The level of a share; NA for none.
level_of <- function(share, settings, levels = settings$levels) {
  step_of(share, levels, settings$rounding)
}

step_of <- function(share, steps, step) {
  cuts <- unlist(steps)
  rounded <- if (step > 0) floor(share / step + 0.5 + 1e-9) * step else share
  names(cuts)[findInterval(rounded + 1e-9, cuts)]
}
