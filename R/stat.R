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
  small = "group too small to show",
  zero_one = "only for items of 0 or 1 point",
  no_true = "reliability is not above 0",
  few_group = "fewer than 20 students in a group"
)

# The counts of a tally side by side with what they mean: a row a bin, item and
# code that occur. key is a number for the pair of group and item.
count_table <- function(tally) {
  counts <- tally$counts
  points <- lapply(tally$cells, `[[`, "points")
  cell <- cumsum(c(0, lengths(points)))[counts$item] + counts$code
  x <- unlist(points)[cell]
  state <- match(unlist(lapply(tally$cells, `[[`, "state")), cell_state_names)[cell]
  most <- tally$items$points[counts$item]
  valued <- !is.na(x)
  own <- x
  own[!valued] <- 0
  rest_open <- tally$bins$open[counts$bin] - most * valued
  rest <- (tally$bins$earned[counts$bin] - own) / rest_open
  rest[rest_open <= 1e-9] <- NA
  list(
    bin = counts$bin, item = counts$item, code = counts$code, cell = cell, count = counts$count,
    key = (tally$bins$group[counts$bin] - 1L) * nrow(tally$items) + counts$item,
    x = x, most = most, state = state, valued = valued, rest = rest
  )
}

# A frame of columns as they are, where data.frame() would look into each.
quick_frame <- function(columns) list2DF(lapply(columns, unname))

# Sums of columns by a key of 1..n, all keys there, zero where nothing is.
sum_by <- function(columns, key, n) {
  sums <- if (length(key)) sum_columns(columns, key, n) else matrix(0, n, length(columns))
  colnames(sums) <- names(columns)
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
  quick_frame(list(n = first[, "n"], mean_x = mean_x, mean_y = mean_y, xx = second[, "xx"], yy = second[, "yy"],
    xy = second[, "xy"]))
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
