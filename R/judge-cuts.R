# Where cuts lie and what they do, in sentences.

say_where_cuts_lie <- function(cuts) {
  if (!is.null(attr(cuts, "by"))) return(NULL)
  now <- cuts[cuts$way == "now", ][1, ]
  others <- cuts[cuts$way %in% c("judges", "borderline", "contrasting", "tried"), ]
  others <- others[!is.na(others$cut) & (others$n > 0) %in% TRUE, ]
  if (all(cuts$way == "now")) return(say("judge-cuts.nothing_said"))
  c(
    vapply(seq_len(nrow(others)), function(k) {
      one <- others[k, ]
      say(
        "judge-cuts.would_pass",
        way = words_for(one$way, "cut_ways"), cut = percent(one$cut),
        passed = one$passed, n = one$n,
        more = one$passed > now$passed, fewer = one$passed < now$passed,
        by = abs(one$passed - now$passed), now = percent(now$cut)
      )
    }, ""),
    say_far_apart(others)
  )
}

# Two ways whose intervals do not meet; said once, of the farthest.
say_far_apart <- function(others) {
  known <- others[!is.na(others$cut_low) & !is.na(others$cut_high), ]
  if (nrow(known) < 2) return(NULL)
  low <- known[which.min(known$cut_high), ]
  high <- known[which.max(known$cut_low), ]
  if (low$cut_high >= high$cut_low) return(NULL)
  say(
    "judge-cuts.far_apart",
    low = words_for(low$way, "cut_ways"), high = words_for(high$way, "cut_ways")
  )
}
