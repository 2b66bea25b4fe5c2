#' What students wrote as their reason, answer by answer
#'
#' @inheritParams what_if
#' @return A data frame, a row an explanation beside an answer that counts:
#'   `item`; `option`, the answer it was given for, as in [summarise_options()]
#'   but whole; `key`: whether that answer earned all the points (`NA` while it
#'   waits for a mark); `student`, `name`, `explanation`. By item in printed
#'   order, the right answers first, then the most frequent.
#' @export
#' @examples
#' summarise_explanations(read_sitting(demo_path("follow-up"))) |> head(3)
summarise_explanations <- function(sitting) {
  check_is_sitting(sitting)
  said <- said_in_rows(sitting$handed_in$rows$said, sitting$source$row)
  said <- said[said$kind %in% "explanation", , drop = FALSE]
  at <- cbind(as.integer(said$row), as.integer(said$item))
  answer <- cell_answers(sitting)[at]
  most <- sitting$items$points[at[, 2]]
  table <- data.frame(
    item = sitting$items$item[at[, 2]],
    option = or_else(answer, state_labels[["blank"]]),
    state = ifelse(is.na(answer), "blank", "answered"),
    key = cell_points(sitting)[at] > most - 1e-9,
    sitting$students[at[, 1], c("student", "name")],
    explanation = as.character(said$text)
  )
  frequent <- stats::ave(
    rep(1, nrow(table)),
    table$item,
    table$option,
    FUN = length
  )
  table <- table[
    order(
      at[, 2],
      -(table$key %in% TRUE),
      -frequent,
      table$option,
      table$student
    ),
  ]
  new_summary(table, "explanations", sitting$settings, NULL)
}
