# Tests on one scale, in sentences: what is left of a change when the test is taken out of
# it, or that it cannot be.

say_link <- function(change) {
  link <- attr(change, "link")
  whole <- change[change$code == whole_code & !is.na(change$change), , drop = FALSE]
  if (is.null(link) || link$alike || !nrow(whole)) return(NULL)
  whole <- whole[1, ]
  if (!whole$linked %in% TRUE) {
    return(say_not_linked(or_else(link$reason, "few_shared_items"), link$kept))
  }
  c(
    say_linked_change(whole, link$kept),
    say_easier_test(whole, link),
    say_left_out(link)
  )
}

# kept: questions in both that could be used.
say_not_linked <- function(reason, kept) {
  switch(reason,
    few_students = say("judge-link.not_linked_few_students"),
    few_shared_items = say(
      "judge-link.not_linked_few_shared_items",
      kept = kept, least = least_shared
    ),
    no_shared_items = say("judge-link.not_linked_no_shared_items")
  )
}

say_linked_change <- function(whole, kept) {
  sure <- whole$linked_change_low > 0 | whole$linked_change_high < 0
  say(
    "judge-link.on_one_scale",
    kept = kept,
    n = whole$n,
    share = percent(whole$linked_share),
    share_before = percent(whole$share_before),
    change = signed_points(whole$linked_change),
    low = signed_points(whole$linked_change_low),
    high = signed_points(whole$linked_change_high),
    sure = sure %in% TRUE
  )
}

say_easier_test <- function(whole, link) {
  if (!test_was_easier(whole, link)) return(NULL)
  given <- whole$share_after - whole$linked_share
  say("judge-link.easier", easier = given > 0, points = points_apart(given))
}

# What the later test gave away or took, where it is beyond the link's error.
test_was_easier <- function(whole, link) {
  if (is.null(link) || link$alike || !whole$linked %in% TRUE) return(FALSE)
  given <- abs(whole$share_after - whole$linked_share)
  given > stats::qt(upper_tail, link$df) * link$error && round_half_up(100 * given) >= 1
}

say_left_out <- function(link) {
  said <- c(
    lapply(split(link$drifted, link$became), function(items) {
      say(
        "judge-link.drifted",
        items = join_words(items),
        n = length(items),
        easier = identical(link$became[link$drifted == items[1]], "easier")
      )
    }),
    if (length(link$other_rule)) {
      say(
        "judge-link.other_rule",
        items = join_words(link$other_rule), n = length(link$other_rule)
      )
    }
  )
  unname(unlist(said))
}

# Of the questions asked again, those that moved against the others.
say_drift <- function(drift) {
  judged <- drift[!is.na(drift$became), , drop = FALSE]
  if (!nrow(judged)) return(NULL)
  moved <- judged[judged$became != "none_seen", ]
  if (!nrow(moved)) return(say("judge-link.none_moved", n = nrow(judged)))
  named <- paste(moved$sitting, moved$item)
  easier <- named[moved$became == "easier"]
  harder <- named[moved$became == "harder"]
  c(
    if (length(easier)) {
      say("judge-link.became_easier", items = join_some(easier, 8), n = length(easier))
    },
    if (length(harder)) {
      say("judge-link.became_harder", items = join_some(harder, 8), n = length(harder))
    }
  )
}
