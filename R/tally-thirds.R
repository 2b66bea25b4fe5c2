# Outer groups of a share f of the students by total score. Students at the
# boundary total share the places that are left, so that no figure depends on
# the order of rows (Kelley 1939 for f = .27; statistics page, Groups with ties).

# Weights of a student of each bin in the upper or lower group. Bins without
# open points have no total and weight 0.
outer_weights <- function(bins, fraction, upper) {
  weight <- numeric(nrow(bins))
  share <- round(bins$earned / bins$open, 12)
  for (group in unique(bins$group)) {
    at <- which(bins$group == group & bins$open > 0)
    at <- at[order(share[at], decreasing = upper)]
    weight[at] <- fill_places(share[at], bins$n[at], fraction)
  }
  weight
}

# Of shares in order, the places each has among the first.
fill_places <- function(share, n, fraction) {
  places <- fraction * sum(n)
  last <- which(c(share[-1] != share[-length(share)], length(share) > 0))
  upto <- cumsum(n)[last]
  tied <- diff(c(0, upto))
  weight <- pmax(0, pmin(1, (places - upto + tied) / tied))
  rep(weight, diff(c(0, last)))
}

third_weights <- function(bins) {
  low <- outer_weights(bins, 1 / 3, upper = FALSE)
  high <- outer_weights(bins, 1 / 3, upper = TRUE)
  list(
    low = low,
    middle = ifelse(bins$open > 0, 1 - low - high, 0),
    high = high
  )
}
