# Growth over the windows in a sentence or two.

say_growth <- function(growth) {
  by <- attr(growth, "by")
  new <- growth[
    growth$n %in% seq_len(max(c(growth$n, 0), na.rm = TRUE)) &
      !is.na(growth$share), ,
    drop = FALSE
  ]
  tree <- attr(growth, "tree")
  leaf <- new[!new$code %in% c(tree$parent, whole_code), , drop = FALSE]
  if (!nrow(leaf)) {
    leaf <- new
  }
  if (!nrow(leaf)) return(say("judge-growth.there_are_no_results"))
  row <- paste(
    if (is.null(by)) "" else group_paths(leaf, by), leaf$code, sep = "\r"
  )
  first <- leaf[!duplicated(row), ]
  last <- leaf[!duplicated(row, fromLast = TRUE), ]
  last <- last[match(unique(row), row[!duplicated(row, fromLast = TRUE)]), ]
  apart <- first$window != last$window
  if (!any(apart)) {
    return(
      say("judge-growth.there_is_only_one")
    )
  }
  # Of those who were there both times: who comes anew and who stays away moves a mean.
  last <- last_gains(last[apart & !is.na(last$gain), ])
  surely <- change_is_sure(last$gain, last$gain_low, last$gain_high, last$gain_n)
  surely <- surely & bears_claims(last$gain_n)
  named <- function(row) {
    say(
      "judge-growth.of_the_same",
      code = row$code,
      group = if (!is.null(by)) group_names(row, by),
      no_by = is.null(by),
      gain = signed_points(row$gain),
      n = row$gain_n
    )
  }
  gained <- last[surely & last$gain > 0, ]
  lost <- last[surely & last$gain < 0, ]
  best <- gained[which.max(gained$gain), ]
  least <- lost[which.min(lost$gain), ]
  said <- c(
    if (nrow(best)) {
      say("judge-growth.largest_gain", best = named(best), on = best$otherwise)
    },
    if (nrow(least)) {
      say("judge-growth.largest_loss", least = named(least), on = least$otherwise)
    }
  )
  sets <- attr(growth, "link")$sets
  sets <- sets[names(sets) %in% growth$scale]
  c(said, if (length(said) || length(sets)) say_links(sets, last))
}

# On one scale where there is one: what an easier test gives is no gain.
last_gains <- function(last) {
  on_one <- !is.na(last$linked_gain)
  # The same test again is on one scale anyway.
  last$otherwise <- on_one & abs(last$linked_gain - last$gain) > 1e-9
  for (column in c("gain", "gain_low", "gain_high")) {
    linked <- last[[paste0("linked_", column)]]
    last[[column]] <- ifelse(on_one, linked, last[[column]])
  }
  last$on_one <- on_one
  last
}

# Which tests stand on one scale, and that the others may be easier or harder.
say_links <- function(sets, last) {
  pairs <- vapply(names(sets), function(first) {
    say("judge-growth.linked_with", others = join_some(sets[[first]], 6), first = first)
  }, "")
  c(
    if (length(sets)) say("judge-growth.linked", pairs = paste(pairs, collapse = "; ")),
    if (!all(last$on_one)) say("judge-growth.other_questions")
  )
}

say_own_growth <- function(growth, who) {
  last <- growth[
    !duplicated(growth$code, fromLast = TRUE) & growth$code != whole_code, ,
    drop = FALSE
  ]
  leaf <- last[!last$code %in% attr(growth, "tree")$parent, , drop = FALSE]
  if (!nrow(leaf)) {
    leaf <- growth[!duplicated(growth$code, fromLast = TRUE), , drop = FALSE]
  }
  there <- sum(!is.na(leaf$first_there))
  say(
    "judge-growth.has_been_at_or",
    who = who,
    growth = percent(attr(growth, "cut")),
    there = there,
    n = nrow(leaf),
    code = leaf$code[which.max(leaf$gain)],
    gain = signed_points(max(leaf$gain)),
    higher = round_half_up(100 * max(leaf$gain)) >= 1
  )
}

say_students_growth <- function(growth) {
  last <- growth[!duplicated(growth$student, fromLast = TRUE), , drop = FALSE]
  say(
    "judge-growth.students_stand_higher",
    whole = growth$code[1] == whole_code,
    code = growth$code[1],
    higher = sum(last$gain > 1e-9),
    n = nrow(last),
    lower = sum(last$gain < -1e-9),
    there = sum(!is.na(last$first_there)),
    cut = percent(attr(growth, "cut"))
  )
}
