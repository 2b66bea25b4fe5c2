# Whether the scores can be trusted, in sentences: what a decision, a part or a
# single score can bear. Bands of kappa after Landis & Koch 1977.

say_decisions <- function(decisions) {
  by <- attr(decisions, "by")
  if (!is.null(by)) return(say_decisions_by(decisions, by))
  known <- decisions[!is.na(decisions$agreement), ]
  if (!nrow(known)) {
    return(say(
      "judge-trust.how_sure_a_decision",
      reason = say_reason(decisions$reason[1])
    ))
  }
  single <- known[!is.na(known$cut), ]
  least <- single[which.min(single$agreement), ]
  wrong <- round_half_up(10 * (1 - least$agreement))
  near <- round_half_up(nearness(decisions), 1)
  c(
    say(
      "judge-trust.least_sure_is_the",
      decision = words_for(level_words(least$decision), "decisions"),
      is_pass = least$decision == "pass",
      cut = percent(least$cut),
      wrong = wrong,
      few = wrong < 1
    ),
    say("judge-trust.before_a_student_within", decisions = plain_points(near)),
    if (decisions$n[1] < 30) say("judge-trust.with_so_few_students")
  )
}

# One standard error of measurement, from the effective length: how near to a
# cut is too near to be sure.
nearness <- function(decisions) {
  row <- decisions[which(!is.na(decisions$cut)), ][1, ]
  most <- row$cut_points / row$cut
  most * sqrt(row$cut * (1 - row$cut) / row$effective_length)
}

say_decisions_by <- function(decisions, by) {
  known <- decisions[!is.na(decisions$agreement) & !is.na(decisions$cut), ]
  if (!nrow(known)) return(say("judge-trust.how_sure_a_decision_is"))
  low <- known[which.min(known$agreement), ]
  say(
    "judge-trust.least_sure_is_in",
    decision = words_for(level_words(low$decision), "decisions"),
    low = low[[by]],
    agreement = percent(low$agreement)
  )
}

say_parts_of_test <- function(parts) {
  own <- parts$part[parts$worth %in% "yes"]
  unsure <- parts$part[parts$worth %in% "unsure"]
  total <- parts$part[parts$worth %in% "no"]
  by <- attr(parts, "by")
  if (!is.null(by)) return(NULL)
  c(
    if (length(own)) {
      say(
        "judge-trust.worth_a_score_of",
        n = length(own),
        own = join_some(own, 8)
      )
    },
    if (length(total)) {
      say(
        "judge-trust.the_score_on_the",
        total = join_some(total, 8),
        n = length(total)
      )
    },
    if (length(unsure)) {
      say("judge-trust.it_cannot_be_told", unsure = join_some(unsure, 8))
    },
    if (!is.na(parts$stratified_alpha[1])) {
      say(
        "judge-trust.alpha_with_the_parts",
        stratified_alpha = with_words(
          parts$stratified_alpha[1],
          parts$stratified_low[1],
          parts$stratified_high[1]
        )
      )
    }
  )
}

with_words <- function(value, low, high) {
  say(
    "judge-trust.95_from_to",
    number = number(value),
    low = number(low),
    high = number(high),
    known = length(low) && !is.na(low)
  )
}

say_precision <- function(precision) {
  if (!is.na(precision$reason[1])) {
    return(say(
      "judge-trust.how_far_a_score",
      reason = say_reason(precision$reason[1])
    ))
  }
  seen <- precision[precision$students > 0, ]
  middle <- seen[which.max(seen$sem), ]
  best <- seen[which.min(seen$sem), ]
  c(
    say(
      "judge-trust.a_score_wavers_most",
      score = plain_points(middle$score),
      sem = number(middle$sem, 1),
      best_score = plain_points(best$score),
      best_sem = number(best$sem, 1)
    ),
    say(
      "judge-trust.somebody_with_could_as",
      score = plain_points(middle$score),
      low = number(middle$low, 1),
      high = number(middle$high, 1)
    )
  )
}

say_lengths <- function(lengths) {
  row <- lengths[which.max(lengths$target), ]
  if (is.na(row$needed)) {
    return(say("judge-trust.no_length_can_be", reason = say_reason(row$reason)))
  }
  say_needed(
    row$target,
    row$needed,
    c(row$needed_low, row$needed_high),
    row$items
  )
}

say_fairness <- function(fairness) {
  known <- fairness[!is.na(fairness$class), ]
  if (!nrow(known)) {
    return(say(
      "judge-trust.nothing_can_be_said",
      reason = say_reason(fairness$reason[1])
    ))
  }
  # What is named is beyond chance over all items and groups (Holm 1979).
  named <- known$class != "negligible" & stats::p.adjust(known$p, "holm") < 0.05
  found <- known[named %in% TRUE, ]
  if (!nrow(found)) {
    return(say("judge-trust.none_can_be_named", n = nrow(known)))
  }
  away <- say(
    "judge-trust.easier_for",
    item = found$item,
    is_focal = found$favours == "focal",
    focal = found$focal,
    class = words_for(found$class, "classes")
  )
  say("judge-trust.look_at_read_the", away = join_some(away, 6))
}
