# What the class's misconceptions come to, in a sentence or two.

most_ideas_said <- 3

# described: with what each idea is, and which are offered once; a picture says so itself.
say_misconceptions <- function(found, described = TRUE) {
  known <- ideas_of_all(found)
  if (!described) {
    known$description <- NA_character_
  }
  # Where a few are withheld it is not said that nobody is there.
  if (any(is.na(known$likely))) {
    known <- known[!is.na(known$likely), ]
    if (all(known$likely == 0)) return(NULL)
  }
  if (!any(known$n > 0)) {
    return(say("judge-misconceptions.nobody_has_answered_a"))
  }
  single <- known$code[!grepl(";", known$items, fixed = TRUE)]
  c(
    say_held_ideas(known[known$likely > 0, ]),
    if (described && length(single)) {
      say(
        "judge-misconceptions.are_offered_by_one",
        single = join_words(single),
        n = length(single)
      )
    }
  ) |>
    paste(collapse = " ")
}

# A row an idea, over all groups: where one of them has a student or two more than another
# there is nothing to say of it.
ideas_of_all <- function(found) {
  by <- attr(found, "by")
  table <- as.data.frame(found)
  if (!is.null(by)) {
    table <- table[group_depths(table, by) == 1, ]
  }
  first <- !duplicated(table$code)
  all <- table[first, c("code", "description", "items")]
  sums <- rowsum(
    table[c("n", "likely")],
    table$code,
    reorder = FALSE
  )
  cbind(all, sums)
}

say_held_ideas <- function(held) {
  if (!nrow(held)) return(say("judge-misconceptions.nobody_chose_the_answers"))
  held <- held[order(-held$likely, held$code), ]
  shown <- utils::head(held, most_ideas_said)
  described <- paste0(" (\"", shown$description, "\")")
  ideas <- say(
    "judge-misconceptions.idea_held",
    idea = paste0(
      shown$code,
      ifelse(is.na(shown$description), "", described)
    ),
    likely = shown$likely,
    n = shown$n
  )
  say("judge-misconceptions.likely_held", ideas = join_words(ideas))
}
