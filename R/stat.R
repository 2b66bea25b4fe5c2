# What the figures share: the counts as one long table, sums by group, and the
# fixed set of reasons why a figure is not there.

reasons <- c(
  few = "too few students",
  all_right = "everyone got it right",
  none_right = "nobody got it right",
  same = "everyone earned the same points",
  no_rest = "no spread in the rest of the test",
  no_spread = "no spread in the totals",
  few_items = "fewer than 2 items",
  dropped = "dropped from the test",
  small = "group too small to show"
)

# The counts of a tally side by side with what they mean: a row a bin, item and
# code that occur. key is a number for the pair of group and item.
count_table <- function(tally) {
  counts <- tally$counts
  bins <- tally$bins
  width <- lengths(lapply(tally$cells, function(cell) cell$points))
  cell <- cumsum(c(0, width))[counts$item] + counts$code
  x <- unlist(lapply(tally$cells, function(cell) cell$points))[cell]
  state <- match(unlist(lapply(tally$cells, function(cell) cell$state)), cell_state_names)[cell]
  most <- tally$items$points[counts$item]
  valued <- !is.na(x)
  rest_open <- bins$open[counts$bin] - ifelse(valued, most, 0)
  rest_earned <- bins$earned[counts$bin] - ifelse(valued, x, 0)
  list(
    bin = counts$bin, item = counts$item, code = counts$code, cell = cell, count = counts$count,
    key = (bins$group[counts$bin] - 1L) * nrow(tally$items) + counts$item,
    x = x, most = most, state = state, valued = valued,
    rest = ifelse(rest_open > 1e-9, rest_earned / rest_open, NA_real_)
  )
}

# Sums of columns by a key of 1..n, all keys there, zero where nothing is.
sum_by <- function(columns, key, n) {
  sums <- matrix(0, n, length(columns), dimnames = list(NULL, names(columns)))
  if (!length(key)) return(sums)
  part <- rowsum(do.call(cbind, columns), key, reorder = FALSE)
  sums[as.integer(rownames(part)), ] <- part
  sums
}

# Counts, means and sums of squares of x and y by key, in two passes so that
# nothing is lost to rounding.
moments_by <- function(x, y, count, key, n) {
  first <- sum_by(list(n = count, x = count * x, y = count * y), key, n)
  mean_x <- first[, "x"] / first[, "n"]
  mean_y <- first[, "y"] / first[, "n"]
  dx <- x - mean_x[key]
  dy <- y - mean_y[key]
  second <- sum_by(list(xx = count * dx * dx, yy = count * dy * dy, xy = count * dx * dy), key, n)
  data.frame(n = first[, "n"], mean_x = mean_x, mean_y = mean_y, second)
}

correlation <- function(moments) {
  spread <- moments$xx > 1e-12 & moments$yy > 1e-12
  r <- ifelse(spread, moments$xy / sqrt(moments$xx * moments$yy), NA_real_)
  pmax(-1, pmin(1, r))
}

# A summary is a data frame that knows how it was made.
new_summary <- function(table, kind, settings, by) {
  rownames(table) <- NULL
  structure(table,
    class = c(paste0("pregunta_", kind), "pregunta_summary", "data.frame"),
    settings = settings, by = by
  )
}

with_group <- function(table, tally, n_things) {
  if (is.null(tally$by)) return(table)
  group <- data.frame(rep(tally$groups, each = n_things))
  names(group) <- tally$by
  cbind(group, table[setdiff(names(table), tally$by)])
}
