# What the class's misconceptions come to, in a sentence or two.

say_misconceptions <- function(found) {
  by <- attr(found, "by")
  known <- found[!is.na(found$share) & found$n > 0, ]
  # Where a few are withheld it is not said that nobody is there.
  if (any(is.na(found$share) & found$n > 0) && all(known$likely == 0)) return(NULL)
  if (!nrow(known)) return(say("judge-misconceptions.nobody_has_answered_a"))
  top <- known[order(-known$likely, known$code), ][1, ]
  idea <- function(row) {
    paste0(row$code, if (!is.na(row$description)) paste0(" (\"", row$description, "\")"))
  }
  if (!is.null(by)) {
    top <- known[order(-known$share, -known$n), ][1, ]
    return(
      if (top$likely == 0) {
        say("judge-misconceptions.nobody_likely_holds_one")
      } else {
        say(
          "judge-misconceptions.most_held_in_by",
          top = idea(top),
          top_by = group_names(top, by),
          likely = top$likely,
          n = top$n
        )
      }
    )
  }
  single <- known$code[!grepl(";", known$items, fixed = TRUE)]
  c(
    if (top$likely == 0) {
      say("judge-misconceptions.nobody_chose_the_answers")
    } else {
      say(
        "judge-misconceptions.most_held_likely_by",
        top = idea(top),
        likely = top$likely,
        n = top$n,
        items = join_words(strsplit(top$items, ";")[[1]])
      )
    },
    if (length(single)) {
      say(
        "judge-misconceptions.are_offered_by_one",
        single = join_words(single),
        n = length(single)
      )
    }
  ) |>
    paste(collapse = " ")
}
