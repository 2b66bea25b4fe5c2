# Wrong answers that are one step from right: which right answer, and which step.

no_near_misses <- function(answers) {
  list(
    like = rep(NA_character_, length(answers)),
    near_miss = rep(NA_character_, length(answers))
  )
}

# How a right answer was missed is a word, with the parts of the answer that it is about:
# missing:C,
# swapped:A;B.
near_miss_code <- function(near_miss, parts) {
  paste0(near_miss, ":", paste(parts, collapse = ";"))
}

parts_of_near_miss <- function(near_miss) {
  parts <- strsplit(
    sub("^[^:]*:?", "", near_miss),
    ";",
    fixed = TRUE
  )
  vapply(
    parts,
    function(one) paste(join_words(one), collapse = ""),
    ""
  )
}

# What a type of one's own calls it is in its own words.
say_near_miss <- function(near_miss) {
  kind <- sub(":.*", "", near_miss)
  said <- near_miss
  for (known in intersect(kind, names(all_words("near_misses")))) {
    here <- which(kind == known)
    said[here] <- say_with(
      paste0("near_misses.", known),
      list(parts = parts_of_near_miss(near_miss[here]))
    )
  }
  said
}

# wrong: which of the answers to look at; key: as read by the type.
near_misses_of <- function(type, answers, wrong, key) {
  found <- no_near_misses(answers)
  if (is.null(type$near)) return(found)
  for (k in which(wrong)) {
    one <- type$near(answers[k], key)
    if (is.null(one)) next
    found$like[k] <- one[1]
    found$near_miss[k] <- one[2]
  }
  found
}
