# Two sittings on the scale of the first.

placed_sitting <- function(sitting, least = 30) {
  items <- item_marks(sitting$items, item_fingerprints(sitting))
  new_placed_test(scale_data(sitting, least), items)
}

# Of each of the people and standards what they would have earned the first time by what
# they did the second: share, low, high, slope; reason: of each standard why not; told:
# what is said of the link.
link_of_pair <- function(before, after, pair) {
  tests <- lapply(list(before, after), placed_sitting)
  pairs <- said_or_shared(before, after, tests)
  found <- link_tests(tests, pairs)
  codes <- nrow(pair$tree)
  empty <- matrix(NA_real_, nrow(pair$people), codes)
  link <- list(
    share = empty, low = empty, high = empty, slope = empty,
    shift = found$shift[2],
    error = if (is.na(found$shift[2])) 0 else sqrt(max(0, found$cov[2, 2])),
    df = found$df[2],
    reason = or_else(rep(found$reason[2], codes), "no_place"), anchors = found$anchors
  )
  at <- match(pair$people$student, after$students$student)
  for (k in seq_len(codes)) {
    shares <- shares_on(
      tests[[1]], pair$items$before[[k]], tests[[2]], pair$items$after[[k]], pairs,
      link$shift, link$error
    )
    if (is.null(shares)) next
    link$reason[k] <- NA
    for (figure in names(shares)) link[[figure]][, k] <- shares[[figure]][at]
  }
  link$told <- told_of_link(link, pairs, before, after)
  link
}

# Where the later test says which items were used before, that goes for these.
said_or_shared <- function(before, after, tests) {
  marks <- lapply(tests, `[[`, "items")
  shared <- same_questions(marks[[1]], marks[[2]])
  said <- after$items[["used_before"]]
  if (is.null(said)) return(shared)
  named <- which(!is.na(said) & said %in% before$items$item)
  at <- match(said[named], before$items$item)
  told <- data.frame(
    one = at, other = named, same = marks[[1]]$rule[at] == marks[[2]]$rule[named]
  )
  rest <- shared[!shared$other %in% which(!is.na(said)) & !shared$one %in% at, ]
  rbind(told, rest)
}

told_of_link <- function(link, pairs, before, after) {
  anchors <- if (is.null(link$anchors)) no_anchors() else link$anchors
  named_as <- function(kind) after$items$item[anchors$number[anchors$anchor == kind]]
  list(
    reason = link$reason[1],
    shared = nrow(pairs),
    kept = sum(anchors$anchor == "kept"),
    drifted = named_as("drifted"),
    became = ifelse(anchors$drift[anchors$anchor == "drifted"] > 0, "harder", "easier"),
    other_rule = named_as("other_rule"),
    alike = nrow(pairs) == nrow(after$items) && nrow(pairs) == nrow(before$items),
    error = link$error * abs(mean(link$slope[, 1], na.rm = TRUE)),
    df = link$df
  )
}
