# One student beside the class, in sentences.

say_standing <- function(students, student) {
  scored <- students[!is.na(students$share), ]
  own <- scored[scored$student == student, ]
  others <- scored[scored$student != student, ]
  if (!nrow(own)) return("No score yet.")
  if (!nrow(others)) return("Nobody else has a score to compare with.")
  below <- sum(others$share < own$share - 1e-9)
  same <- sum(abs(others$share - own$share) <= 1e-9)
  paste0(
    "Of the ", count_of(nrow(others), "other student"), " ", below, " scored less and ",
    nrow(others) - below - same, " more", if (same) paste0(", ", same, " the same"),
    "; the middle half scored ",
    percent(stats::quantile(scored$share, 0.25, names = FALSE)), " to ",
    percent(stats::quantile(scored$share, 0.75, names = FALSE)), "."
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
    paste0(own$code[row], if (!is.na(own$title[row])) paste0(" (", own$title[row], ")"))
  }
  low <- which.min(away)
  high <- which.max(away)
  c(
    if (away[low] < -1e-9) paste0("Furthest below the class: ", name(low), "."),
    if (away[high] > 1e-9) paste0("Furthest above it: ", name(high), ".")
  ) |>
    paste(collapse = " ")
}

# The ideas that the wrong answers stand for, the surest first.
say_own_ideas <- function(held) {
  seen <- held[held$status %in% held_words[c("likely", "now_and_then", "once")], ]
  seen <- seen[order(match(seen$status, held_words), -seen$chosen), ]
  if (!nrow(seen)) return(NULL)
  paste0(
    capital(seen$status), ": ", seen$code,
    ifelse(is.na(seen$description), "", paste0(" (\"", seen$description, "\")")), ", ",
    seen$chosen, " of ", seen$chances, " times: ", seen$answers, "."
  )
}
