#' Every attempt of every student, and which one counts
#'
#' @inheritParams what_if
#' @return A data frame, a row a student and attempt in which anything was
#'   answered, in order: `student`, `name`, `section`, `attempt` (1, 2, ... by
#'   the number, the time or the place in the file), `points`, `open`, `share`
#'   (by the keys as they stand; `NA` when nothing has points yet), `change`
#'   (of share since the first attempt), `seconds` and `submitted` where the data
#'   have them, `counts` (which one is counted: all of them with
#'   `attempts: mean`). Points of single students by [adjust()] belong to no
#'   attempt and are not in it.
#' @export
#' @examples
#' again <- read_sitting(demo_path("follow-up"))
#' summarise_attempts(again) |> head()
summarise_attempts <- function(sitting) {
  check_is_sitting(sitting)
  rows <- sitting$handed_in$rows
  scores <- row_scores(sitting$handed_in$codes, sitting$cells)
  sequence <- order(
    match(rows$student, sitting$students$student),
    attempt_rank(rows)
  )
  sequence <- sequence[scores$touched[sequence]]
  student <- rows$student[sequence]
  about <- match(student, sitting$students$student)
  share <- scores$share[sequence]
  table <- data.frame(
    sitting$students[about, c("student", "name", "section")],
    attempt = place_among(student),
    points = scores$earned[sequence],
    open = scores$open[sequence],
    share = share,
    change = share - share[match(student, student)]
  )
  if (!is.null(rows$seconds)) {
    table$seconds <- rows$seconds[sequence]
  }
  if (!is.null(rows$submitted)) {
    table$submitted <- rows$submitted[sequence]
  }
  table$counts <- sitting$settings$attempts == "mean" |
    sequence %in% sitting$source$row
  new_summary(table, "attempts", sitting$settings, NULL)
}

# For each item and student the number of tries, the first that was right, and
# whether the first try was. Matrices, students by items; NA where not tried.
tries_by_cell <- function(sitting) {
  rows <- sitting$handed_in$rows
  codes <- sitting$handed_in$codes
  ids <- sitting$students$student
  student <- match(rows$student, ids)
  sequence <- order(student, attempt_rank(rows))
  first_right <- tries <- matrix(
    NA_integer_,
    length(ids),
    ncol(codes)
  )
  for (j in seq_along(sitting$cells)) {
    cells <- sitting$cells[[j]]
    tried <- sequence[
      (cells$state %in% c("answered", "pending"))[codes[sequence, j]]
    ]
    if (!length(tried)) next
    place <- place_among(student[tried])
    tries[, j] <- tabulate(student[tried], length(ids))
    right <- which((cells$points > cells$most - 1e-9)[codes[tried, j]])
    right <- right[!duplicated(student[tried][right])]
    first_right[student[tried][right], j] <- place[right]
  }
  tries[tries %in% 0] <- NA
  list(tries = tries, first_right = first_right)
}
