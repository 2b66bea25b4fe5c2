# Wide or long responses become the same thing: rows (a student's attempt) and,
# for each item, the answer and the points given by hand along these rows.

blank_words <- c(
  not_given = "(not given)",
  excused = "(excused)",
  pending = "(pending)"
)

# Several marks where one was wanted: an answer, and a wrong one.
several_word <- "(several)"

# In a check of skills a cell says yes or no; the item's points or none.
yes_words <- c(
  "yes", "y", "true", "\u2713", "\u2714", "\u2611", "passed", "pass"
)
no_words <- c(
  "no", "n", "false", "x", "\u2717", "\u2718", "\u2610", "not yet", "failed",
  "fail"
)

arrange_responses <- function(responses, items, settings) {
  responses <- named_origin(responses, "responses")
  require_its_columns(responses, "responses")
  long <- all(c("student", "item") %in% names(responses)) &&
    any(c("response", "points") %in% names(responses)) &&
    !"item" %in% items$item
  rows <- if (long) {
    arrange_long(responses, items, settings)
  } else {
    arrange_wide(responses, items)
  }
  if (!length(rows$student)) {
    abort_pregunta(
      "input",
      say(
        "sitting-responses.holds_no_responses",
        responses = origin_of(responses)
      ),
      NULL,
      say("sitting-responses.give_it_a_row")
    )
  }
  rows$origin <- origin_of(responses)
  rows
}

# What may be said beside an answer: the student's reason, somebody's comment.
said_kinds <- c("explanation", "comment")

require_students <- function(responses, student) {
  nameless <- which(is.na(student))
  if (!length(nameless)) return(invisible())
  abort_cell(
    responses,
    nameless[1],
    "student",
    say("sitting-responses.a_row_of_responses"),
    say("sitting-responses.fill_in_the_students")
  )
}
