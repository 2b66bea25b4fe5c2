# Growth over the windows in a sentence or two.

say_growth <- function(growth) {
  by <- attr(growth, "by")
  new <- growth[
    growth$n %in% seq_len(max(c(growth$n, 0), na.rm = TRUE)) & !is.na(growth$share),
    ,
    drop = FALSE
  ]
  tree <- attr(growth, "tree")
  leaf <- new[!new$code %in% c(tree$parent, whole_code), , drop = FALSE]
  if (!nrow(leaf)) leaf <- new
  if (!nrow(leaf)) return(say("judge-growth.there_are_no_results"))
  row <- paste(if (is.null(by)) "" else leaf[[by]], leaf$code, sep = "\r")
  first <- leaf[!duplicated(row), ]
  last <- leaf[!duplicated(row, fromLast = TRUE), ]
  last <- last[match(unique(row), row[!duplicated(row, fromLast = TRUE)]), ]
  apart <- first$window != last$window
  if (!any(apart)) {
    return(
      say("judge-growth.there_is_only_one")
    )
  }
  first <- first[apart, ]
  last <- last[apart, ]
  gain <- last$share - first$share
  named <- function(k) {
    say(
      "judge-growth.in_to",
      code = first$code[k],
      first = first[[by]][k],
      no_by = is.null(by),
      share = percent(first$share[k]),
      last_share = percent(last$share[k])
    )
  }
  best <- which.max(gain)
  least <- which.min(gain)
  if (best == least) {
    return(say(
      "judge-growth.from_to",
      window = first$window[best],
      last_window = last$window[best],
      best = named(best)
    ))
  }
  say("judge-growth.most_was_gained_on", best = named(best), least = named(least))
}

say_own_growth <- function(growth, who) {
  last <- growth[
    !duplicated(growth$code, fromLast = TRUE) & growth$code != whole_code,
    ,
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
    gain = signed_points(max(leaf$gain))
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
