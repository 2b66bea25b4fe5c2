# Sums and moments by a key, in passes that lose nothing to rounding.

# Sums of the columns of a matrix, or of a list of them, by a key of 1..n: all
# keys are there, zero where nothing is.
sum_by <- function(columns, key, n) {
  if (is.list(columns)) {
    columns <- do.call(cbind, columns)
  }
  sums <- sum_columns(columns, key, n)
  colnames(sums) <- colnames(columns)
  sums
}

# Counts, means and sums of squares of x by key, in two passes so that nothing
# is lost to rounding.
moments_by <- function(x, count, key, n) {
  first <- sum_by(list(n = count, x = count * x), key, n)
  mean_x <- first[, "x"] / first[, "n"]
  apart <- x - mean_x[key]
  list(
    n = first[, "n"],
    mean_x = mean_x,
    xx = sum_by(list(xx = count * apart * apart), key, n)[, "xx"]
  )
}

# Moments of x by key, with the sums of squares and products of what the sums
# are of (y).
moments_of_sums <- function(x, count, y, y_squares, key, n) {
  moments <- moments_by(x, count, key, n)
  sums <- sum_by(
    list(
      y = y,
      yy = y_squares,
      xy = y * (x - moments$mean_x[key])
    ),
    key,
    n
  )
  moments$yy <- sums[, "yy"] -
    ifelse(moments$n > 0, sums[, "y"]^2 / moments$n, 0)
  moments$xy <- sums[, "xy"]
  moments
}

correlation <- function(moments) {
  spread <- moments$xx > 1e-12 & moments$yy > 1e-12
  r <- ifelse(
    spread,
    moments$xy / sqrt(moments$xx * moments$yy),
    NA_real_
  )
  pmax(-1, pmin(1, r))
}
