# Whether an average hides two groups with few students in between.

# The scores are cut in two where the sides differ most: of all cuts, the one
# with the largest share of the sum of squares between the sides (Engelman &
# Hartigan 1969, Percentage points of a test for clusters, Journal of the
# American Statistical Association 64, 1647-1648). One normal population reaches
# most_between() in 5 of 100 samples. A wide or lopsided population reaches it
# too; so two humps also want a valley: in the middle third of the way between the
# two means at most two thirds as many students as in either third beside it, and
# a tenth of the students on either side.
two_humps <- function(share, count) {
  found <- list(
    humps = NA_integer_,
    lower_n = NA_real_,
    lower_mean = NA_real_,
    upper_mean = NA_real_,
    between_n = NA_real_
  )
  n <- sum(count)
  if (n < least_humps) return(found)
  found$humps <- 1L
  if (length(unique(share)) < 3) return(found)
  cut <- widest_cut(share, count)
  way <- (share - cut$means[1]) / diff(cut$means)
  third <- vapply(1:3, function(k) sum(count[way > (k - 1) / 3 & way < k / 3]), 0)
  if (cut$between > most_between(n) &&
      third[2] <= min(third[c(1, 3)]) * 2 / 3 &&
      min(cut$n) >= n / 10) {
    found <- list(
      humps = 2L,
      lower_n = cut$n[1],
      lower_mean = cut$means[1],
      upper_mean = cut$means[2],
      between_n = third[2]
    )
  }
  found
}

# Of all cuts of the sorted scores, the one with most of the sum of squares
# between its sides: that share of it, and the size and mean of both sides.
widest_cut <- function(share, count) {
  sorted <- order(share)
  share <- share[sorted]
  count <- count[sorted]
  n <- sum(count)
  below <- cumsum(count)[-length(count)]
  sum_below <- cumsum(count * share)[-length(count)]
  whole <- sum(count * share)
  between <- sum_below^2 / below + (whole - sum_below)^2 / (n - below) - whole^2 / n
  at <- which.max(between)
  sizes <- c(below[at], n - below[at])
  list(
    between = between[at] / sum(count * (share - whole / n)^2),
    n = sizes,
    means = c(sum_below[at], whole - sum_below[at]) / sizes
  )
}

least_humps <- 10

# What one normal population of n reaches in 5 of 100 samples; 2 / pi is the share
# of endless ones. The rest is fitted to simulated samples of 10 to 3000 (within
# .003), which bench/accuracy.R checks.
most_between <- function(n) 2 / pi + 0.606 / sqrt(n) + 0.373 / n
