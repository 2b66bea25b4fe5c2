# What a comparison of two sittings comes to, in sentences.

say_change_of <- function(change) {
  whole <- change[change$code == whole_code & !is.na(change$change), , drop = FALSE]
  if (!nrow(whole)) return("Nobody has a score in both yet.")
  c(say_whole_change(whole[1, ]), say_best_and_least(change))
}

say_whole_change <- function(whole) {
  sure <- !is.na(whole$change_low) && (whole$change_low > 0 || whole$change_high < 0)
  way <- if (whole$change > 0) "more" else "fewer"
  paste0(
    count_of(whole$n, "student"),
    " sat both and earned ",
    percent(whole$share_before),
    " before, ",
    percent(whole$share_after),
    " after",
    if (abs(whole$change) >= 0.005) {
      paste0(
        ": ", points_apart(whole$change), " ", way, if (!sure) ", which may be chance"
      )
    },
    ". ",
    whole$up,
    " moved up a level, ",
    whole$stayed,
    " stayed, ",
    whole$down,
    " moved down; ",
    whole$reached,
    " of ",
    whole$below_before,
    " who were below ",
    percent(settings_of(whole)$mastery_cut),
    " got there, ",
    whole$below,
    if (whole$below == 1) " is" else " are",
    " below it now."
  )
}

points_apart <- function(change) {
  points <- round_half_up(100 * abs(change))
  paste0(points, if (points == 1) " point" else " points", " of 100")
}

# The lowest standards with the largest and the smallest change.
say_best_and_least <- function(change) {
  tree <- attr(change, "tree")
  leaf <- change[
    change$code != whole_code & !is.na(change$change) & !change$code %in% tree$parent, ,
    drop = FALSE
  ]
  if (nrow(leaf) < 2) return(NULL)
  named <- function(row) {
    paste0(
      row$code, if (!is.na(row$title)) paste0(" (", row$title, ")"), ", ",
      percent(row$share_before), " to ", percent(row$share_after)
    )
  }
  best <- leaf[which.max(leaf$change), ]
  least <- leaf[which.min(leaf$change), ]
  paste0("Most was gained on ", named(best), "; least on ", named(least), ".")
}

# Low scores come back up by themselves in part: said wherever students were
# picked by them.
say_regression <- function(change) {
  whole <- change[change$code == whole_code, , drop = FALSE][1, ]
  if (whole$chosen_low %in% TRUE) {
    lower <- "Those who sat both had scored lower than the others"
    if (!is.na(whole$expected)) {
      return(say_by_itself(paste0(lower, ". They"), whole$change, whole$expected))
    }
    return(paste0(
      lower,
      ": part of any gain would have come without teaching, since low scores are partly ",
      "bad luck."
    ))
  }
  if (whole$below_before %in% c(NA, 0) || is.na(whole$expected_below)) return(NULL)
  say_by_itself("Those below the cut before", whole$gain_below, whole$expected_below)
}

say_by_itself <- function(who, gain, expected) {
  because <- "since low scores are partly bad luck."
  if (gain > expected) {
    return(paste0(
      who, " gained ", signed_points(gain), "; about ", signed_points(expected),
      " of that would have come without teaching, ", because
    ))
  }
  paste0(
    who, " changed by ", signed_points(gain), ", no more than the about ",
    signed_points(expected), " that would have come without teaching, ", because
  )
}

signed_points <- function(share) {
  points <- round_half_up(100 * share)
  paste0(ifelse(points > 0, "+", ifelse(points < 0, "\u2212", "\u00b1")), abs(points))
}
