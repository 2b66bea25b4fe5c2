# Wrong answers that are one step from right: which right answer, and which step.

no_slips <- function(answers) {
  list(
    like = rep(NA_character_, length(answers)),
    slip = rep(NA_character_, length(answers))
  )
}

# A slip is a word, with the parts of the answer that it is about: missing:C,
# swapped:A;B.
slip_code <- function(slip, parts) paste0(slip, ":", paste(parts, collapse = ";"))

parts_of_slip <- function(slip) {
  parts <- strsplit(sub("^[^:]*:?", "", slip), ";", fixed = TRUE)
  vapply(parts, function(one) paste(join_words(one), collapse = ""), "")
}

# A slip that a type of one's own looks for is in its own words.
say_slip <- function(slip) {
  kind <- sub(":.*", "", slip)
  said <- slip
  for (known in intersect(kind, names(all_words("slips")))) {
    here <- which(kind == known)
    said[here] <- say_with(
      paste0("slips.", known),
      list(parts = parts_of_slip(slip[here]))
    )
  }
  said
}

# wrong: which of the answers to look at; key: as read by the type.
slips_of <- function(type, answers, wrong, key) {
  found <- no_slips(answers)
  if (is.null(type$near)) return(found)
  for (k in which(wrong)) {
    one <- type$near(answers[k], key)
    if (is.null(one)) next
    found$like[k] <- one[1]
    found$slip[k] <- one[2]
  }
  found
}
