# The figures of a test in words. Bands of alpha after Nunnally 1978 (.70 for
# modest uses, .80 for comparing groups, .90 for decisions about one person).

alpha_words <- data.frame(
  from = c(-Inf, 0.5, 0.7, 0.8, 0.9),
  word = c("low", "modest", "fair", "good", "high"),
  use = c(
    "Talk about the questions, not about the order of the students.",
    paste(
      "It tells strong from weak roughly; two students near each other may as well",
      "be equal."
    ),
    "It does for a class test; for a decision about one student get more evidence.",
    "It does for comparing students and groups.",
    "It does for decisions about one student."
  )
)

say_test <- function(test) {
  if (is.na(test$mean)) return("Nobody has points yet.")
  c(
    paste0(
      test$n, " students earned ", number(test$mean, 1), " of ",
      plain_points(test$points), " points on average (", percent(test$mean_share),
      "), from ", plain_points(test$lowest), " to ", plain_points(test$highest), "."
    ),
    if (test$humps %in% 2) {
      say_humps(
        test$lower_n,
        test$n - test$lower_n,
        paste(number(test$lower_mean, 1), "points"),
        number(test$upper_mean, 1),
        test$between_n
      )
    },
    say_reliability(test),
    say_length(test)
  )
}

# An average in the middle of two groups describes nobody.
say_humps <- function(lower, upper, around_lower, around_upper, between) {
  paste0(
    "The average hides two groups: ", lower, " students around ", around_lower, " and ",
    upper, " around ", around_upper, ", ",
    if (between) paste("only", between) else "nobody", " halfway between."
  )
}

alpha_word <- function(alpha) alpha_words$word[findInterval(alpha, alpha_words$from)]

say_reliability <- function(test) {
  if (is.na(test$alpha)) {
    return(paste0("How far the scores can be trusted cannot be told: ", test$reason, "."))
  }
  row <- alpha_words[findInterval(test$alpha, alpha_words$from), ]
  paste0(
    "Reliability is ", row$word, " (alpha ", number(test$alpha), "). ", row$use,
    " A score is good to about \u00b1", number(test$sem, 1), " points."
  )
}

# How many questions the aim would take.
say_length <- function(test) {
  target <- settings_of(test)$target_reliability
  if (is.na(test$length_for_target)) return(NULL)
  if (test$length_for_target <= test$items) {
    return(paste0(
      "For an alpha of ", number(target), ", ", test$length_for_target, " of its ",
      test$items, " questions would be enough."
    ))
  }
  paste0(
    "For an alpha of ", number(target), " it would take ", test$length_for_target,
    " questions like these; there are ", test$items, "."
  )
}

say_time <- function(seconds) {
  if (seconds < 120) return(paste(round_half_up(seconds), "s"))
  paste(round_half_up(seconds / 60), "min")
}
