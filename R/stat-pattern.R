# How the wrong answers to a choice item fall: piled up on one option, which
# points to a misconception, or spread evenly, which points to guessing.

least_wrong <- 8

option_patterns <- function(table, items, group) {
  item <- match(table$item, items$item)
  set <- (group - 1L) * nrow(items) + item
  choice <- is_answered(items$type, "chosen")[item]
  wrong <- which(choice & is_wrong(table))
  pattern <- wrong_patterns(
    table$count[wrong],
    set[wrong],
    max(set, 0L)
  )
  ifelse(choice, pattern[set], NA_character_)
}

# How the counts of each set, a number of 1..n, fall.
wrong_patterns <- function(count, set, n) {
  ones <- rep(1, length(count))
  sums <- sum_by(list(k = ones, total = count), set, n)
  k <- unname(sums[, "k"])
  total <- unname(sums[, "total"])
  q <- count / total[set]
  surprise <- ifelse(q > 0, q * log(q), 0)
  entropy <- -sum_by(list(surprise), set, n)[, 1]
  piled <- piling_up(count, set, n)
  data.table::fcase(
    k < 2 | total < least_wrong, "too_few",
    piled$p < 0.05 & piled$most, "shared",
    entropy / log(k) >= 0.9, "spread",
    default = "mixed"
  )
}

# Of each set: p, an exact binomial test of its largest count against equal chances,
# corrected by the number of options (Bonferroni); most: whether it is more than half of
# all.
piling_up <- function(count, set, n) {
  ones <- rep(1, length(count))
  sums <- sum_by(list(k = ones, total = count), set, n)
  k <- unname(sums[, "k"])
  total <- unname(sums[, "total"])
  largest <- numeric(n)
  rising <- order(count)
  largest[set[rising]] <- count[rising]
  p <- stats::pbinom(
    largest - 1,
    total,
    1 / pmax(k, 1),
    lower.tail = FALSE
  )
  p <- ifelse(
    k < 2 | total < least_wrong,
    NA_real_,
    pmin(1, p * k)
  )
  list(p = p, most = largest > total / 2)
}
