# Two markers, in sentences: how often they agree, who is stricter beyond chance.

say_markers <- function(sitting, marks = NULL) {
  items <- as.data.frame(summarise_markers(sitting, "item", marks))
  whole <- items[1, ]
  c(
    say(
      "judge-markers.agree",
      n = whole$n,
      equal = percent(whole$equal),
      adjacent = percent(whole$adjacent)
    ),
    say_stricter(as.data.frame(summarise_markers(sitting, "marker", marks))),
    say_marks_apart(nrow(summarise_markers(sitting, "answer", marks)))
  )
}

# Who stands below the others by more than chance, over all markers (Holm 1979).
say_stricter <- function(markers) {
  whole <- markers[!duplicated(markers$marker), ]
  surely <- change_is_sure(
    whole$stricter, whole$stricter_low, whole$stricter_high, whole$n
  )
  surely <- surely & whole$n >= least_students & whole$stricter > 0
  vapply(which(surely), function(k) {
    say(
      "judge-markers.stricter",
      marker = whole$marker[k],
      by = number(whole$stricter[k], 1),
      low = number(whole$stricter_low[k], 1),
      high = number(whole$stricter_high[k], 1),
      two = nrow(whole) == 2
    )
  }, "")
}

say_marks_apart <- function(n) if (n) say("judge-markers.apart", n = n)
