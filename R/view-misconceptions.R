# What is shown of the ideas behind wrong answers. `...`: what view_rows() takes.

# student: of these; chosen: whether they were asked for.
view_misconceptions <- function(sitting, by = NULL, ..., student = NULL) {
  chosen <- !is.null(student)
  if (chosen) {
    by <- "student"
  }
  found <- summarise_misconceptions(sitting, by)
  rows <- view_rows(found, ..., student = student)
  list(found = rows, chosen = chosen, none = !nrow(found))
}

view_together <- function(sitting, sort = NULL) {
  rows_sorted(suggest_misconceptions(sitting), sort)
}

view_guessing <- function(sitting, ...) {
  view_rows(summarise_guessing(sitting), ...)
}

# Of one student all ideas; else only where something was seen, idea after idea.
ideas_shown <- function(found, chosen) {
  seen <- found$status %in% c("likely", "now_and_then")
  shown <- if (chosen) found else found[seen, ]
  if (!is.null(attr(found, "sorted"))) return(shown)
  code <- match(shown$code, unique(found$code))
  status <- match(shown$status, held_codes)
  shown[order(code, status, -shown$chosen), ]
}

guessing_codes <- c(
  "one_direction", "could_be_guessing", "better_than_guessing", "too_few"
)

# shown: who may have guessed, the likeliest first; rest: how many of the others.
guessing_shown <- function(guessing) {
  reading <- match(guessing$reads_as, guessing_codes)
  if (is.null(attr(guessing, "sorted"))) {
    right <- guessing$right / pmax(guessing$n, 1)
    order <- order(reading, right)
    guessing <- guessing[order, ]
    reading <- reading[order]
  }
  rest <- tabulate(reading, length(guessing_codes))[3:4]
  names(rest) <- guessing_codes[3:4]
  list(shown = guessing[reading %in% 1:2, ], rest = rest[rest > 0])
}
