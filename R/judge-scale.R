# What the scale of questions says, in sentences.

say_scale <- function(scale) {
  placed <- as.data.frame(scale)[!is.na(scale$place), ]
  if (!nrow(placed)) return(say("judge-scale.no_scale", least = attr(scale, "least")))
  wrong <- c(placed$item[placed$fit %in% "misfits"], surely_reversed(scale))
  c(
    say_ends_of_scale(placed, attr(scale, "n")),
    if (length(wrong)) {
      say("judge-scale.do_not_go", items = join_words(wrong), n = length(wrong))
    } else if (!all(is.na(placed$fit))) {
      say("judge-scale.all_go")
    }
  )
}

# Items on which the stronger do worse beyond chance, over all items (Holm 1979).
surely_reversed <- function(scale) {
  if (!isTRUE(attr(scale, "slopes"))) return(character())
  error <- (scale$slope_high - scale$slope_low) / (2 * stats::qnorm(upper_tail))
  p <- stats::p.adjust(stats::pnorm(scale$slope / error), "holm")
  scale$item[p %in% p[p < 0.05] & !is.na(p)]
}

# Which stands highest and which lowest, where the range of that many places is more than
# chance (Tukey 1953).
say_ends_of_scale <- function(placed, students) {
  ends <- placed[c(which.max(placed$place), which.min(placed$place)), ]
  range <- (ends$place[1] - ends$place[2]) / sqrt(mean(ends$se^2))
  n <- nrow(placed)
  if (stats::ptukey(range, n, Inf, lower.tail = FALSE) >= 0.05) {
    return(say("judge-scale.none_apart", n = n, students = students))
  }
  say(
    "judge-scale.hardest_and_easiest",
    hardest = ends$item[1],
    easiest = ends$item[2],
    n = n,
    students = students
  )
}

# Of answers that the model does not expect: where to look, and of nobody that he did
# anything.
say_patterns <- function(patterns) {
  judged <- sum(!is.na(patterns$pattern))
  reason <- stats::na.omit(patterns$reason)
  if (!judged) {
    enough <- !"few_students" %in% reason && any(reason != "absent")
    return(say("judge-scale.no_patterns", items = enough))
  }
  n <- sum(patterns$pattern %in% "unlikely")
  if (!n) return(say("judge-scale.no_unlikely", n = judged))
  c(say("judge-scale.unlikely", n = n, judged = judged), say("judge-scale.look_only"))
}

say_alike <- function(alike) {
  if (!is.na(attr(alike, "reason"))) {
    return(say("judge-scale.no_pairs", items = attr(alike, "reason") == "few_items"))
  }
  if (!nrow(alike)) return(say("judge-scale.none_alike", n = attr(alike, "pairs")))
  c(
    say("judge-scale.alike", n = nrow(alike), pairs = attr(alike, "pairs")),
    say("judge-scale.look_only")
  )
}
