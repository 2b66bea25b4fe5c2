# Attempts and times in words.

say_attempts <- function(attempts) {
  if (!nrow(attempts)) return(say("judge-attempts.nobody_answered_anything"))
  tries <- table(attempts$student)
  if (all(tries == 1)) return(say("judge-attempts.every_student_has_one"))
  again <- attempts[attempts$student %in% names(tries)[tries > 1], ]
  share <- or_else(again$share, -Inf)
  best <- again[order(again$student, -share), ]
  best <- best[!duplicated(best$student), ]
  gain <- best$change[!is.na(best$change)]
  say(
    "judge-attempts.of_students_tried_more",
    again = sum(tries > 1),
    n = length(tries),
    tries = max(tries),
    gain = percent(mean(gain)),
    better = sum(gain > 1e-9),
    not_better = sum(gain <= 1e-9)
  )
}

say_times <- function(times, by_student, timed, again) {
  if (!timed && !again) {
    return(
      say("judge-attempts.the_responses_hold_no")
    )
  }
  fast <- sum(times$too_fast, na.rm = TRUE)
  c(
    if (timed && fast) {
      say(
        "judge-attempts.answers_came_faster_than",
        fast = fast,
        too_fast_below = say_range(times$too_fast_below[times$too_fast > 0]),
        by_student = by_student,
        by_student_times = if (by_student) {
          paste0(": ", say_fast_students(times))
        }
      )
    },
    if (timed && !fast) say("judge-attempts.no_answer_came_faster"),
    if (again) {
      say("judge-attempts.tries_attempts_at_the", by_student = by_student)
    }
  )
}

say_range <- function(x) {
  ends <- unique(number(range(x, na.rm = TRUE), 1))
  if (length(ends) == 1) return(ends)
  say("joining.to", first = ends[1], last = ends[2])
}

say_fast_students <- function(times) {
  fast <- times[!is.na(times$too_fast) & times$too_fast > 0, ]
  fast <- fast[order(-fast$too_fast), ]
  some_of(
    paste0(or_else(fast$name, fast$student), " ", fast$too_fast),
    5
  )
}
