# One student beside the class, in sentences.

say_standing <- function(students, student) {
  scored <- students[!is.na(students$share), ]
  own <- scored[scored$student == student, ]
  others <- scored[scored$student != student, ]
  if (!nrow(own)) return(say("slip.none_yet"))
  if (!nrow(others)) return(say("slip.nobody_else"))
  below <- sum(others$share < own$share - 1e-9)
  same <- sum(abs(others$share - own$share) <= 1e-9)
  say(
    "slip.place",
    n = nrow(others),
    below = below,
    above = nrow(others) - below - same,
    same = same,
    low = percent(stats::quantile(scored$share, 0.25, names = FALSE)),
    high = percent(stats::quantile(scored$share, 0.75, names = FALSE))
  )
}

# Where the student is furthest below the class and above it, on the lowest standards.
say_ends <- function(own, class) {
  away <- own$share - class$share[match(own$code, class$code)]
  leaf <- !own$code %in% attr(class, "tree")$parent & !is.na(away)
  if (sum(leaf) < 2) return(NULL)
  own <- own[leaf, ]
  away <- away[leaf]
  name <- function(row) {
    paste0(
      own$code[row],
      if (!is.na(own$title[row])) paste0(" (", own$title[row], ")")
    )
  }
  low <- which.min(away)
  high <- which.max(away)
  said <- c(
    if (away[low] < -1e-9) {
      say("judge-student.furthest_below_the_class", low = name(low))
    },
    if (away[high] > 1e-9) {
      say("judge-student.furthest_above_it", high = name(high))
    }
  )
  paste(said, collapse = " ")
}

# The ideas that the wrong answers stand for, the surest first.
say_own_ideas <- function(held) {
  seen <- held[held$status %in% c("likely", "now_and_then", "once"), ]
  seen <- seen[order(match(seen$status, held_codes), -seen$chosen), ]
  if (!nrow(seen)) return(NULL)
  say(
    "judge-student.of_times",
    status = capital(words_for(seen$status, "held")),
    code = seen$code,
    description = or_blank(
      seen$description,
      paste0(" (\"", seen$description, "\")")
    ),
    chosen = seen$chosen,
    chances = seen$chances,
    answers = seen$answers
  )
}
