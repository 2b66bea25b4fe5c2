# What the scale of questions says, in sentences.

say_scale <- function(scale) {
  placed <- as.data.frame(scale)[!is.na(scale$place), ]
  if (!nrow(placed)) return(say("judge-scale.no_scale", least = attr(scale, "least")))
  ends <- placed$item[c(which.max(placed$place), which.min(placed$place))]
  wrong <- placed$item[placed$fit %in% "misfits"]
  c(
    say(
      "judge-scale.hardest_and_easiest",
      hardest = ends[1],
      easiest = ends[2],
      n = nrow(placed),
      students = attr(scale, "n")
    ),
    if (length(wrong)) {
      say("judge-scale.do_not_go", items = join_words(wrong), n = length(wrong))
    } else {
      say("judge-scale.all_go")
    }
  )
}
