# Whether the scores can be trusted, in sentences: what a decision, a part or a
# single score can bear. Bands of kappa after Landis & Koch 1977.

say_decisions <- function(decisions) {
  by <- attr(decisions, "by")
  if (!is.null(by)) return(say_decisions_by(decisions, by))
  known <- decisions[!is.na(decisions$agreement), ]
  if (!nrow(known)) {
    return(paste0("How sure a decision is cannot be told: ", decisions$reason[1], "."))
  }
  single <- known[!is.na(known$cut), ]
  least <- single[which.min(single$agreement), ]
  wrong <- round_half_up(10 * (1 - least$agreement))
  c(
    paste0(
      "Least sure is ", if (least$decision == "pass") "the cut" else least$decision,
      " from ", percent(least$cut), ": ",
      if (wrong < 1) "fewer than 1" else paste("about", wrong),
      " in 10 students would land on the other side of it on another test like this one."
    ),
    paste0(
      "Before a student within ", plain_points(round_half_up(nearness(decisions), 1)),
      " points of a cut is refused anything, look at more than this test."
    ),
    if (decisions$n[1] < 30) "With so few students these figures are rough."
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
  if (!nrow(known)) return("How sure a decision is cannot be told in any group.")
  low <- known[which.min(known$agreement), ]
  paste0(
    "Least sure is ", low$decision, " in ", low[[by]], ": ", percent(low$agreement),
    " would get the same decision again."
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
      paste0(
        "Worth a score of ", if (length(own) == 1) "its" else "their", " own: ",
        join_some(own, 8), "."
      )
    },
    if (length(total)) {
      paste0(
        "The score on the whole test says more about ", join_some(total, 8), " than ",
        if (length(total) == 1) "its own score does." else "their own scores do.",
        " Use them to see what to teach, not to rank students on them."
      )
    },
    if (length(unsure)) paste0("It cannot be told for ", join_some(unsure, 8), "."),
    if (!is.na(parts$stratified_alpha[1])) {
      paste0(
        "Alpha with the parts as strata is ",
        with_words(
          parts$stratified_alpha[1],
          parts$stratified_low[1],
          parts$stratified_high[1]
        ),
        "."
      )
    }
  )
}

with_words <- function(value, low, high) {
  paste0(
    number(value),
    if (length(low) && !is.na(low)) {
      paste0(" (95% from ", number(low), " to ", number(high), ")")
    }
  )
}

say_precision <- function(precision) {
  if (!is.na(precision$reason[1])) {
    return(paste0("How far a score wavers cannot be told: ", precision$reason[1], "."))
  }
  seen <- precision[precision$students > 0, ]
  middle <- seen[which.max(seen$sem), ]
  best <- seen[which.min(seen$sem), ]
  c(
    paste0(
      "A score wavers most at ", plain_points(middle$score), " points (SEM ",
      number(middle$sem, 1), ") and least at ", plain_points(best$score), " (",
      number(best$sem, 1), "), among the scores that students have."
    ),
    paste0(
      "Somebody with ", plain_points(middle$score), " could as well have ",
      number(middle$low, 1), " to ", number(middle$high, 1),
      " on another test like this one (95%)."
    )
  )
}

say_lengths <- function(lengths) {
  row <- lengths[which.max(lengths$target), ]
  if (is.na(row$needed)) return(paste0("No length can be told: ", row$reason, "."))
  paste0(
    "For an alpha of ", number(row$target), " it would take ", row$needed,
    " questions like these; there are ", row$items, "."
  )
}

say_fairness <- function(fairness) {
  known <- fairness[!is.na(fairness$class), ]
  if (!nrow(known)) return(paste0("Nothing can be said: ", fairness$reason[1], "."))
  found <- known[known$class != "negligible", ]
  chance <- round_half_up(0.05 * nrow(known), 1)
  if (!nrow(found)) {
    return(
      paste0(
        "No question gives students of one group more than students of the other with ",
        "the same score."
      )
    )
  }
  away <- paste0(
    found$item, " (", ifelse(found$favours == "focal", "easier", "harder"), " for ",
    found$focal, ", ", found$class, ")"
  )
  by_chance <- paste0(
    "about ", chance, " of ", nrow(known), " comparisons reach p < .05 where nothing is"
  )
  if (nrow(found) <= 0.05 * nrow(known)) {
    return(paste0(
      nrow(found), " of ", nrow(known), " comparisons differ: ", join_some(away, 6),
      ". That is no more than chance brings (", by_chance,
      "); read them once with that group in mind."
    ))
  }
  c(
    paste0(
      "Look at ", join_some(away, 6),
      ": read the wording and the setting with that group in mind."
    ),
    paste0("By chance alone ", by_chance, ".")
  )
}
