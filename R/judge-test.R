# The figures of a test in words. Bands of alpha after Nunnally 1978 (.70 for
# modest uses, .80 for comparing groups, .90 for decisions about one person).

alpha_bands <- c("low", "modest", "fair", "good", "high")

alpha_band <- function(alpha) {
  alpha_bands[findInterval(alpha, c(0.5, 0.7, 0.8, 0.9)) + 1]
}

say_test <- function(test) {
  if (is.na(test$mean)) return(say("judge-test.nobody_has_points_yet"))
  c(
    say(
      "judge-test.students_earned_of_points",
      n = test$n,
      mean = number(test$mean, 1),
      points = plain_points(test$points),
      mean_share = percent(test$mean_share),
      ends = !is.na(test$lowest),
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
    between = between,
    untold = is.na(between)
  )
}

# The band of alpha, or those of the ends of its interval.
alpha_words <- function(test) {
  ends <- unique(alpha_band(c(test$alpha_low, test$alpha_high)))
  words <- words_for(ends, "alpha_bands")
  if (length(words) == 1) return(words)
  say("joining.to", first = words[1], last = words[2])
}

say_reliability <- function(test) {
  if (is.na(test$alpha)) {
    forms <- attr(test, "forms")
    if (!is.null(forms) && any(!is.na(forms$alpha))) {
      return(say("judge-test.by_form"))
    }
    return(say(
      "judge-test.how_far_the_scores",
      reason = say_reason(test$reason)
    ))
  }
  if (!bears_claims(test$n_complete, test$items)) {
    return(say(
      "judge-test.reliability_is_unknown",
      n = test$n_complete,
      items = test$items,
      alpha = number(test$alpha),
      low = number(test$alpha_low),
      below_zero = test$alpha_low < 0,
      high = number(test$alpha_high)
    ))
  }
  c(
    say(
      "judge-test.reliability_is",
      band = alpha_words(test),
      alpha = number(test$alpha),
      low = number(test$alpha_low),
      high = number(test$alpha_high),
      use = words_for(alpha_band(test$alpha_low), "alpha_uses")
    ),
    say_error(test)
  )
}

# What reliability is of each form, a line each.
say_forms <- function(test) {
  forms <- attr(test, "forms")
  if (is.null(forms)) return(NULL)
  forms <- utils::head(forms, most_forms_said)
  say(
    "judge-test.form",
    form = forms$form,
    items = forms$items,
    n = forms$n,
    known = !is.na(forms$alpha),
    alpha = number(forms$alpha),
    low = number(forms$alpha_low),
    high = number(forms$alpha_high),
    sem = number(forms$sem, 1),
    reason = say_reason(forms$reason)
  )
}

most_forms_said <- 6

# A normal error: within one of its standard deviations in 68 of 100.
say_error <- function(test) {
  say(
    "judge-test.a_score_is_within",
    sem = number(test$sem, 1),
    wide = number(stats::qnorm(upper_tail) * test$sem, 1)
  )
}

# How many questions the aim would take, and with the alphas at the ends of its interval.
say_length <- function(test) {
  if (is.na(test$length_for_target) ||
    !bears_claims(test$n_complete, test$items)) {
    return(NULL)
  }
  target <- settings_of(test)$target_reliability
  ends <- length_for(
    target,
    c(test$alpha_high, test$alpha_low),
    test$items
  )
  say_needed(target, test$length_for_target, ends, test$items)
}

say_needed <- function(target, needed, ends, items) {
  say(
    "judge-test.for_an_alpha_of",
    target = number(target),
    needed = needed,
    low = ends[1],
    high = ends[2],
    open = is.na(ends[2]),
    items = items,
    enough = needed <= items
  )
}

say_time <- function(seconds) {
  if (seconds < 120) return(paste(round_half_up(seconds), "s"))
  say("judge-test.min", seconds = round_half_up(seconds / 60))
}
