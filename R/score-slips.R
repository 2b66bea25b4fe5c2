# Wrong answers that are one step from right: which right answer, and which step.

no_slips <- function(answers) {
  list(
    like = rep(NA_character_, length(answers)),
    slip = rep(NA_character_, length(answers))
  )
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
