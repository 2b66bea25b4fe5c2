# Reliability from a tally: over the students who were given every counted item.

# A row a group.
test_reliability <- function(tally) {
  k <- colSums(tally$counted)
  total <- complete_totals(tally)
  item <- item_and_others(tally)
  item_squares <- matrix(item$xx, nrow(tally$items))
  with_total <- item_squares + matrix(item$xy, nrow(tally$items))
  alpha <- alpha_of(k, colSums(item_squares), total$xx)
  around <- feldt_interval(alpha, pmax(total$n, 2), pmax(k, 2))
  congeneric <- congeneric_of(
    colSums(item_squares),
    total$xx,
    colSums(with_total^2)
  )
  reason <- data.table::fcase(
    !is.na(alpha), NA_character_,
    present_of_groups(tally) < 2, "few_students",
    k < 2, "few_items",
    total$n < 2, "few_complete",
    default = "no_spread"
  )
  by_items <- list(
    alpha = alpha,
    alpha_low = around$low,
    alpha_high = around$high,
    congeneric = congeneric,
    kr21 = kr21(tally, k, total)
  )
  by_products <- products_figures(tally, item, total)
  complete <- list(
    n_complete = total$n,
    sd_complete = ifelse(
      total$n > 1,
      sqrt(total$xx / (total$n - 1)),
      NA_real_
    ),
    reason = reason
  )
  quick_frame(c(by_items, by_products, complete))
}

# How many students each group has, with all or some of the items.
present_of_groups <- function(tally) {
  with_points <- which(tally$bins$open > 1e-9)
  n <- list(n = tally$bins$n[with_points])
  as.vector(sum_by(n, tally$bins$group[with_points], length(tally$groups)))
}

# Alpha without each item and its interval, group after group.
alpha_without <- function(tally) {
  n_items <- nrow(tally$items)
  k <- rep(colSums(tally$counted), each = n_items)
  n <- rep(complete_totals(tally)$n, each = n_items)
  item <- item_and_others(tally)
  others <- rep(colSums(matrix(item$xx, n_items)), each = n_items) - item$xx
  without <- alpha_of(k - 1, others, item$yy)
  without[!tally$counted] <- NA
  around <- feldt_interval(without, pmax(n, 2), pmax(k - 1, 2))
  list(
    alpha_without = without,
    alpha_without_low = around$low,
    alpha_without_high = around$high
  )
}

# Moments of each item's points and of the points on the others, over the
# students with a value on every counted item.
item_and_others <- function(tally) {
  sums <- tally$sums
  use <- which(sums$n_whole > 0)
  moments_of_sums(
    sums$x[use],
    sums$n_whole[use],
    sums$without[use],
    sums$without_squares[use],
    sums$key[use],
    length(tally$groups) * nrow(tally$items)
  )
}

# Moments of those students' totals, a value a group.
complete_totals <- function(tally) {
  use <- which(complete_bins(tally))
  moments_by(
    tally$bins$earned[use],
    tally$bins$n[use],
    tally$bins$group[use],
    length(tally$groups)
  )
}

# Cronbach 1951, from sums of squares: their divisor n - 1 cancels.
alpha_of <- function(k, item_squares, total_squares) {
  defined <- k >= 2 & !is.na(total_squares) & total_squares > 1e-12
  ifelse(
    defined,
    k / (k - 1) * (1 - item_squares / total_squares),
    NA_real_
  )
}

# Feldt & Brennan 1989: for items that share in the total to different degrees,
# as items of different points do. with_total: the sum over the items of their
# squared sums of products with the total.
congeneric_of <- function(item_squares, total_squares, with_total) {
  shared <- 1 - with_total / total_squares^2
  ifelse(
    !is.na(total_squares) & total_squares > 1e-12 & shared > 1e-9,
    (1 - item_squares / total_squares) / shared,
    NA_real_
  )
}

# Kuder & Richardson 1937, formula 21: items that give 0 or 1 only.
kr21 <- function(tally, k, total) {
  if (!all_zero_one(tally)) return(rep(NA_real_, length(total$n)))
  kr21_of(k, total$mean_x, total$xx / (total$n - 1))
}

all_zero_one <- function(tally) {
  x <- tally$sums$x[tally$sums$valued]
  all(x == 0 | x == 1) && all(tally$items$points[tally$items$counted] == 1)
}

kr21_of <- function(k, mean, variance) {
  ifelse(
    k >= 2 & !is.na(variance) & variance > 1e-12,
    k / (k - 1) * (1 - mean * (k - mean) / (k * variance)),
    NA_real_
  )
}

products_figures <- function(tally, item, total) {
  figures <- list(
    lambda2 = rep(NA_real_, length(total$n)),
    split_half = rep(NA_real_, length(total$n))
  )
  if (is.null(tally$products)) return(figures)
  counted <- tally$counted
  mean <- matrix(item$mean_x, nrow(counted))
  for (g in which(colSums(counted) >= 2 & total$n >= 2 & total$xx >= 1e-12)) {
    n <- total$n[g]
    within <- counted[tally$items$counted, g]
    products <- tally$products[[g]][within, within, drop = FALSE]
    covariance <- (products - n * tcrossprod(mean[counted[, g], g])) / (n - 1)
    figures$lambda2[g] <- lambda2_of(covariance)
    figures$split_half[g] <- split_half_of(covariance)
  }
  figures
}

# Guttman 1945.
lambda2_of <- function(covariance) {
  k <- nrow(covariance)
  whole <- sum(covariance)
  diag(covariance) <- 0
  (sum(covariance) + sqrt(k / (k - 1) * sum(covariance^2))) / whole
}

# Spearman 1910, Brown 1910: odd against even items, stepped up to full length.
split_half_of <- function(covariance) {
  odd <- seq_len(nrow(covariance)) %% 2 == 1
  spread <- sum(covariance[odd, odd]) * sum(covariance[!odd, !odd])
  if (spread <= 1e-12) return(NA_real_)
  r <- sum(covariance[odd, !odd]) / sqrt(spread)
  # At -1 there is no such figure, and rounding may miss -1 by its last digit.
  if (1 + r < 1e-9) NA_real_ else 2 * r / (1 + r)
}
