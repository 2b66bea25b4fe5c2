# Attempts and times in words.

say_attempts <- function(attempts) {
  if (!nrow(attempts)) return("Nobody answered anything.")
  tries <- table(attempts$student)
  if (all(tries == 1)) return("Every student has one attempt.")
  again <- attempts[attempts$student %in% names(tries)[tries > 1], ]
  share <- ifelse(is.na(again$share), -Inf, again$share)
  best <- again[order(again$student, -share), ]
  best <- best[!duplicated(best$student), ]
  gain <- best$change[!is.na(best$change)]
  paste0(
    sum(tries > 1), " of ", count_of(length(tries), "student"),
    " tried more than once, up to ", max(tries),
    " times. From the first attempt to the best they gained ", percent(mean(gain)),
    " of the points on average; ", sum(gain > 1e-9), " did better, ", sum(gain <= 1e-9),
    " did not."
  )
}

say_times <- function(times, by_student, timed, again) {
  if (!timed && !again) {
    return(
      paste0(
        "The responses hold no seconds and no second attempts: a column seconds or ",
        "attempt would show them here."
      )
    )
  }
  fast <- sum(times$too_fast, na.rm = TRUE)
  c(
    if (timed && fast) {
      paste0(
        count_of(fast, "answer"),
        " came faster than anybody can read the question",
        if (!by_student) {
          paste0(
            " (under ", say_range(times$too_fast_below[times$too_fast > 0]),
            " s, by its words)"
          )
        },
        if (by_student) paste0(": ", say_fast_students(times)),
        ".",
        if (!by_student) " See --by student for whose."
      )
    },
    if (timed && !fast) "No answer came faster than the question can be read.",
    if (again) {
      paste0(
        if (!by_student) "tries: attempts at the question on average. ",
        "at once, never: right at the first try, at none. until right: the middle ",
        "number of tries where it was."
      )
    }
  )
}

say_range <- function(x) {
  ends <- unique(number(range(x, na.rm = TRUE), 1))
  paste(ends, collapse = " to ")
}

say_fast_students <- function(times) {
  fast <- times[!is.na(times$too_fast) & times$too_fast > 0, ]
  fast <- fast[order(-fast$too_fast), ]
  some_of(
    paste0(ifelse(is.na(fast$name), fast$student, fast$name), " ", fast$too_fast),
    5
  )
}
