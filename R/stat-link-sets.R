# Questions of a pool on the scale of a test, where they were placed in tests that share
# questions with it: how much each would tell of these students.

# A set: items (as item_marks() makes them), places on one scale, and easiness, a list
# with NULL where there is no place.
set_of_test <- function(test) {
  easiness <- vector("list", nrow(test$items))
  easiness[test$scale$number] <- test$scale$easiness
  list(items = test$items, places = test$places, easiness = easiness)
}

# What is added to the places of each set to have them on the scale of the first, by
# mean/mean over the questions shared, those that moved left out; NA where too few are.
shifts_of_sets <- function(sets) {
  shift <- c(0, rep(NA_real_, length(sets) - 1))
  repeat {
    before <- shift
    for (t in which(is.na(shift))) {
      moved <- lapply(which(!is.na(shift)), function(s) {
        shared <- same_questions(sets[[s]]$items, sets[[t]]$items)
        shared <- shared[shared$same, ]
        sets[[s]]$places[shared$one] + shift[s] - sets[[t]]$places[shared$other]
      })
      moved <- unlist(moved)
      moved <- moved[!is.na(moved)]
      out <- robust_z(moved)$out
      if (length(out)) moved <- moved[-out]
      if (length(moved) >= least_shared) shift[t] <- mean(moved)
    }
    if (identical(shift, before)) return(shift)
  }
}

# Of each of some items (as marks) the information at the students' places, and the share
# of its points that they are expected to earn; NA where it has no place on the scale.
information_there <- function(marks, sets, places) {
  shift <- shifts_of_sets(sets)
  n <- nrow(marks)
  found <- data.frame(information = rep(NA_real_, n), expected = rep(NA_real_, n))
  places <- places[!is.na(places)]
  if (!length(places)) return(found)
  for (t in which(!is.na(shift))) {
    shared <- same_questions(sets[[t]]$items, marks)
    known <- shared$same & is.na(found$information[shared$other])
    for (k in which(known)) {
      easiness <- sets[[t]]$easiness[[shared$one[k]]]
      if (is.null(easiness)) next
      chances <- category_chances(easiness, places - shift[t])
      step <- seq_len(nrow(chances)) - 1
      mean <- colSums(chances * step)
      item <- shared$other[k]
      found$information[item] <- mean(colSums(chances * step^2) - mean^2)
      found$expected[item] <- mean(mean) / length(easiness)
    }
  }
  found
}
