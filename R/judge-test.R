# The figures of a test in words. Bands of alpha after Nunnally 1978 (.70 for
# modest uses, .80 for comparing groups, .90 for decisions about one person).

alpha_bands <- c("low", "modest", "fair", "good", "high")

alpha_band <- function(alpha) alpha_bands[findInterval(alpha, c(0.5, 0.7, 0.8, 0.9)) + 1]

say_test <- function(test) {
  if (is.na(test$mean)) return(say("judge-test.nobody_has_points_yet"))
  c(
    say(
      "judge-test.students_earned_of_points",
      n = test$n,
      mean = number(test$mean, 1),
      points = plain_points(test$points),
      mean_share = percent(test$mean_share),
      lowest = plain_points(test$lowest),
      highest = plain_points(test$highest)
    ),
    if (test$humps %in% 2) {
      say_humps(
        test$lower_n,
        test$n - test$lower_n,
        say("judge-test.points", lower_mean = number(test$lower_mean, 1)),
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
  say(
    "judge-test.the_average_hides_two",
    lower = lower,
    around_lower = around_lower,
    upper = upper,
    around_upper = around_upper,
    between = between
  )
}

alpha_word <- function(alpha) words_for(alpha_band(alpha), "alpha_bands")

say_reliability <- function(test) {
  if (is.na(test$alpha)) {
    return(say("judge-test.how_far_the_scores", reason = say_reason(test$reason)))
  }
  say(
    "judge-test.reliability_is_alpha_a",
    band = alpha_word(test$alpha),
    alpha = number(test$alpha),
    use = words_for(alpha_band(test$alpha), "alpha_uses"),
    sem = number(test$sem, 1)
  )
}

# How many questions the aim would take.
say_length <- function(test) {
  target <- settings_of(test)$target_reliability
  if (is.na(test$length_for_target)) return(NULL)
  if (test$length_for_target <= test$items) {
    return(say(
      "judge-test.for_an_alpha_of",
      target = number(target),
      length_for_target = test$length_for_target,
      items = test$items
    ))
  }
  say(
    "judge-test.for_an_alpha_of_it",
    target = number(target),
    length_for_target = test$length_for_target,
    items = test$items
  )
}

say_time <- function(seconds) {
  if (seconds < 120) return(paste(round_half_up(seconds), "s"))
  say("judge-test.min", seconds = round_half_up(seconds / 60))
}
