# One student's answers beside the right ones, with what was said of them: a row
# an item, in printed order.
student_answers <- function(sitting, student) {
  row <- match(student, sitting$students$student)
  points <- cell_points(sitting)[row, ]
  said <- said_in_rows(sitting$handed_in$rows$said, sitting$source$row[row])
  reason <- said$text[said$kind == "explanation"][
    match(seq_along(points), said$item[said$kind == "explanation"])
  ]
  comments <- comments_of(sitting)
  comments <- comments[comments$student == student, ]
  data.frame(
    item = sitting$items$item,
    answer = shown_cells(sitting)[row, ],
    state = cell_state_names[cell_states(sitting)[row, ]],
    right = right_in_words(sitting),
    points = points,
    most = sitting$items$points,
    explanation = if (length(reason)) reason else NA_character_,
    comment = vapply(sitting$items$item, function(item) {
      paste(comments$comment[comments$item %in% item], collapse = " / ")
    }, ""),
    row.names = NULL
  ) |>
    structure(comment = comments$comment[is.na(comments$item)])
}

# The key as a student reads it; blank where points come by hand.
right_in_words <- function(sitting) {
  keys <- split_parts(sitting$items$key, "|")
  vapply(
    keys,
    function(key) paste(join_words(key, "or"), collapse = ""),
    ""
  )
}
