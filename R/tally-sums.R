# What the counts come to for each group and answer: all that most figures need.

# Into the tally go which of the items that count each group has points on (`counted`,
# items by groups: of a form it is the items of that form) and its sums, a row a group
# and cell that occurs:
#   key: a number for the pair of group and item; x: points; count: students;
#   n_rest, rest, rest_squares: of the students with a score on the rest of the
#   test, how many, and the sums of its distances from mean_rest, the mean of
#   the group on the item, and of their squares; n_whole, without,
#   without_squares: the same of the points on the other items, for students
#   with a value on every counted item;
#   weighted: how many of the students are in each score group, in a column each.
with_sums <- function(tally) {
  counts <- tally$counts
  before <- cell_offsets(tally$cells)
  value <- as.double(unlist(lapply(tally$cells, `[[`, "points")))
  bins <- tally$bins
  valued <- !is.na(value)[before[counts$item] + counts$code]
  tally$counted <- counted_of_groups(tally, valued)
  weights <- do.call(cbind, score_groups(bins, tally$about$settings))
  sums <- sum_cells(
    counts$bin,
    counts$item,
    counts$code,
    counts$count,
    before,
    value,
    tally$items$points,
    bins$group,
    bins$earned,
    bins$open,
    complete_bins(tally),
    weights,
    length(tally$groups)
  )
  colnames(sums$weighted) <- colnames(weights)
  sums$key <- (sums$group - 1L) * nrow(tally$items) + sums$item
  sums$code <- sums$cell - before[sums$item]
  sums$x <- value[sums$cell]
  sums$valued <- !is.na(sums$x)
  sums$state <- unlist(lapply(tally$cells, `[[`, "state"))[
    sums$cell
  ]
  tally$sums <- sums
  tally
}

counted_of_groups <- function(tally, valued) {
  n_items <- nrow(tally$items)
  n_groups <- length(tally$groups)
  group <- tally$bins$group[tally$counts$bin]
  place <- (group - 1L) * n_items + tally$counts$item
  seen <- tabulate(place[valued], n_items * n_groups) > 0
  matrix(seen, n_items, n_groups) & tally$items$counted
}

# The points there are on the items that count, a value a group.
most_of_groups <- function(tally) colSums(tally$counted * tally$items$points)

# Bins of students who have a value on every item that counts in their group.
complete_bins <- function(tally) with_all_items(tally, tally$bins)

with_all_items <- function(tally, bins) {
  full <- most_of_groups(tally)[bins$group]
  bins$open > full - 1e-9 & full > 0
}

# The groups of students by their total: weights of the bins in each.
score_groups <- function(bins, settings) {
  outer <- settings$thresholds$outer_share
  total <- bins$earned / bins$open
  master <- as.numeric(!is.na(total) & reaches(total, settings$mastery_cut))
  c(
    list(
      upper = outer_weights(bins, outer, TRUE),
      lower = outer_weights(bins, outer, FALSE)
    ),
    third_weights(bins),
    list(master = master, rest = 1 - master)
  )
}
