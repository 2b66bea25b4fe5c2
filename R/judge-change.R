# What a comparison of two sittings comes to, in sentences.

say_change_of <- function(change) {
  whole <- change[
    change$code == whole_code & !is.na(change$change), ,
    drop = FALSE
  ]
  if (!nrow(whole)) return(say("judge-change.nobody_has_a_score"))
  c(
    say_whole_change(whole[1, ]),
    say_surest_changes(change),
    say_link(change)
  )
}

say_whole_change <- function(whole) {
  sure <- !is.na(whole$change_low) &&
    (whole$change_low > 0 || whole$change_high < 0)
  say(
    "judge-change.students_sat_both_and",
    n = whole$n,
    share_before = percent(whole$share_before),
    share_after = percent(whole$share_after),
    change = points_apart(whole$change),
    more = whole$change > 0,
    sure = sure,
    changed = abs(whole$change) >= 0.005,
    up = whole$up,
    stayed = whole$stayed,
    down = whole$down,
    reached = whole$reached,
    below_before = whole$below_before,
    cut = percent(settings_of(whole)$mastery_cut),
    below = whole$below
  )
}

points_apart <- function(change) {
  points <- round_half_up(100 * abs(change))
  say("judge-change.points_of_100", points = points)
}

# The lowest standards with the largest gain and loss among those that are beyond chance
# (Holm 1979 over the standards). Where none is, there is nothing to say: a gain that may
# be chance is not one, and not none either.
say_surest_changes <- function(change) {
  tree <- attr(change, "tree")
  leaf <- change[
    change$code != whole_code &
      !is.na(change$change) &
      !change$code %in% tree$parent, ,
    drop = FALSE
  ]
  if (nrow(leaf) < 2 || !bears_claims(max(leaf$n))) return(NULL)
  leaf <- on_one_scale(leaf, attr(change, "link"))
  named <- function(row) {
    say(
      "judge-change.to",
      code = row$code,
      title = if (!is.na(row$title)) paste0(" (", row$title, ")"),
      share_before = percent(row$share_before),
      share_after = percent(row$share_after),
      on = row$on_one
    )
  }
  surely <- change_is_sure(
    leaf$change,
    leaf$change_low,
    leaf$change_high,
    leaf$n
  )
  gained <- leaf[surely & leaf$change > 0, , drop = FALSE]
  lost <- leaf[surely & leaf$change < 0, , drop = FALSE]
  best <- gained[which.max(gained$change), ]
  least <- lost[which.min(lost$change), ]
  c(
    if (nrow(best)) say("judge-change.largest_gain", best = named(best)),
    if (nrow(least)) say("judge-change.largest_loss", least = named(least))
  )
}

# The changes on one scale where there is one: what an easier test gives is no gain.
on_one_scale <- function(rows, link) {
  told <- attributes(rows)[c("tree", "settings", "link", "titles", "by")]
  rows$on_one <- rows$linked %in% TRUE & !link$alike
  linked <- c(
    share_after = "linked_share", change = "linked_change",
    change_low = "linked_change_low", change_high = "linked_change_high"
  )
  for (column in names(linked)) {
    rows[[column]] <- ifelse(rows$on_one, rows[[linked[column]]], rows[[column]])
  }
  attributes(rows)[names(told)] <- told
  rows
}

# Whether each mean change is beyond chance, over all of them (Holm 1979), from its t
# interval. Where everybody changed alike there is no interval to go by.
change_is_sure <- function(change, low, high, n) {
  half <- pmax(change - low, high - change)
  error <- half / stats::qt(upper_tail, pmax(n - 1, 1))
  p <- 2 * stats::pt(-abs(change) / error, pmax(n - 1, 1))
  p[is.na(p) | n < 2 | half < 1e-9] <- 1
  stats::p.adjust(p, "holm") < 0.05
}

# Low scores come back up by themselves in part: said wherever students were
# picked by them.
say_regression <- function(change) {
  whole <- change[change$code == whole_code, , drop = FALSE][1, ]
  # What they gained on an easier test is not theirs to speak of.
  if (test_was_easier(whole, attr(change, "link"))) return(NULL)
  if (whole$chosen_low %in% TRUE) {
    lower <- say("judge-change.those_who_sat_both")
    if (!is.na(whole$expected)) {
      return(say_by_itself(
        say("judge-change.they", lower = lower),
        whole$change,
        whole$expected,
        whole$n
      ))
    }
    return(say("judge-change.part_of_any_gain", lower = lower))
  }
  if (whole$below_before %in% c(NA, 0) || is.na(whole$expected_below)) {
    return(NULL)
  }
  say_by_itself(
    say("judge-change.those_below_the_cut"),
    whole$gain_below,
    whole$expected_below,
    whole$below_before
  )
}

# n: of how many. Of a handful, or where next to nothing is to be expected, no word.
say_by_itself <- function(who, gain, expected, n) {
  if (n < least_students || round_half_up(100 * expected) < 1) return(NULL)
  because <- say("judge-change.since_low_scores_are")
  if (gain > expected) {
    return(say(
      "judge-change.gained_about_of_that",
      who = who,
      gain = signed_points(gain),
      expected = signed_points(expected),
      because = because
    ))
  }
  say(
    "judge-change.changed_by_no_more",
    who = who,
    gain = signed_points(gain),
    expected = signed_points(expected),
    because = because
  )
}

signed_points <- function(share) {
  points <- round_half_up(100 * share)
  paste0(c("\u2212", "\u00b1", "+")[sign(points) + 2], abs(points))
}
