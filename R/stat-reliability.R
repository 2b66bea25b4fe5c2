# Reliability from a tally: over the students who were given every counted item.

# test: a row a group; without: alpha without each item and its interval, group
# after group.
alpha_figures <- function(tally, counts) {
  n_items <- nrow(tally$items)
  n_groups <- length(tally$groups)
  k <- sum(tally$items$counted)
  full <- sum(tally$items$points[tally$items$counted])
  complete <- tally$bins$open > full - 1e-9 & full > 0
  bins <- tally$bins[complete, ]
  total <- moments_by(bins$earned, bins$earned, bins$n, bins$group, n_groups)
  use <- which(complete[counts$bin] & counts$valued)
  without_item <- tally$bins$earned[counts$bin[use]] - counts$x[use]
  item <- moments_by(counts$x[use], without_item, counts$count[use], counts$key[use],
    n_groups * n_items)
  item_squares <- matrix(item$xx, n_items)
  rest_squares <- matrix(item$yy, n_items)
  sum_squares <- colSums(item_squares)

  alpha <- alpha_of(k, sum_squares, total$xx)
  without <- vapply(seq_len(n_groups), function(g) {
    alpha_of(k - 1, sum_squares[g] - item_squares[, g], rest_squares[, g])
  }, numeric(n_items))
  without <- as.vector(without)
  without[rep(!tally$items$counted, n_groups)] <- NA

  feldt <- feldt_interval(alpha, pmax(total$n, 2), max(k, 2))
  without_feldt <- feldt_interval(without, rep(pmax(total$n, 2), each = n_items), max(k - 1, 2))
  list(
    test = data.frame(
      alpha = alpha, alpha_low = feldt$low, alpha_high = feldt$high,
      congeneric = congeneric_of(sum_squares, total$xx, colSums((item_squares + matrix(item$xy, n_items))^2)),
      kr21 = kr21(tally, counts, k, total), products_figures(tally, counts, total),
      n_complete = total$n,
      reason = ifelse(!is.na(alpha), NA_character_,
        ifelse(rep(k < 2, n_groups), reasons[["few_items"]],
          ifelse(total$n < 2, reasons[["few"]], reasons[["no_spread"]])))
    ),
    without = list(alpha_without = without, alpha_without_low = without_feldt$low,
      alpha_without_high = without_feldt$high)
  )
}

# Cronbach 1951, from sums of squares: their divisor n - 1 cancels.
alpha_of <- function(k, item_squares, total_squares) {
  defined <- k >= 2 & !is.na(total_squares) & total_squares > 1e-12
  ifelse(defined, k / (k - 1) * (1 - item_squares / total_squares), NA_real_)
}

# Feldt & Brennan 1989: for items that share in the total to different degrees,
# as items of different points do. with_total: the sum over the items of their
# squared sums of products with the total.
congeneric_of <- function(item_squares, total_squares, with_total) {
  shared <- 1 - with_total / total_squares^2
  ifelse(!is.na(total_squares) & total_squares > 1e-12 & shared > 1e-9, (1 - item_squares / total_squares) / shared,
    NA_real_)
}

# Kuder & Richardson 1937, formula 21: items that give 0 or 1 only.
kr21 <- function(tally, counts, k, total) {
  if (!all_zero_one(tally, counts) || k < 2) return(rep(NA_real_, nrow(total)))
  kr21_of(k, total$mean_x, total$xx / (total$n - 1))
}

all_zero_one <- function(tally, counts) {
  x <- counts$x[counts$valued]
  all(x == 0 | x == 1) && all(tally$items$points[tally$items$counted] == 1)
}

kr21_of <- function(k, mean, variance) {
  ifelse(!is.na(variance) & variance > 1e-12, k / (k - 1) * (1 - mean * (k - mean) / (k * variance)), NA_real_)
}

products_figures <- function(tally, counts, total) {
  empty <- data.frame(lambda2 = rep(NA_real_, nrow(total)), split_half = NA_real_)
  if (is.null(tally$products) || sum(tally$items$counted) < 2) return(empty)
  sums <- counted_sums(tally, counts)
  for (g in seq_len(nrow(total))) {
    n <- total$n[g]
    if (n < 2 || total$xx[g] < 1e-12) next
    covariance <- (tally$products[[g]] - outer(sums[[g]], sums[[g]]) / n) / (n - 1)
    empty$lambda2[g] <- lambda2_of(covariance)
    empty$split_half[g] <- split_half_of(covariance)
  }
  empty
}

# The sum of points of each counted item over the complete students.
counted_sums <- function(tally, counts) {
  full <- sum(tally$items$points[tally$items$counted])
  use <- which(tally$bins$open[counts$bin] > full - 1e-9 & counts$valued)
  sums <- sum_by(list(x = counts$count[use] * counts$x[use]), counts$key[use],
    length(tally$groups) * nrow(tally$items))
  by_group <- matrix(sums, nrow(tally$items))
  lapply(seq_len(ncol(by_group)), function(g) by_group[tally$items$counted, g])
}

# Guttman 1945.
lambda2_of <- function(covariance) {
  k <- nrow(covariance)
  apart <- covariance[row(covariance) != col(covariance)]
  (sum(apart) + sqrt(k / (k - 1) * sum(apart^2))) / sum(covariance)
}

# Spearman 1910, Brown 1910: odd against even items, stepped up to full length.
split_half_of <- function(covariance) {
  odd <- seq_len(nrow(covariance)) %% 2 == 1
  spread <- sum(covariance[odd, odd]) * sum(covariance[!odd, !odd])
  if (spread <= 1e-12) return(NA_real_)
  r <- sum(covariance[odd, !odd]) / sqrt(spread)
  if (r <= -1) NA_real_ else 2 * r / (1 + r)
}
