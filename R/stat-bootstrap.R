# Percentile intervals over resampled students, for figures that no formula
# gives one for (Efron 1979; Efron & Tibshirani 1993, chapter 13). The draws
# depend on the seed alone, not on the state of R's own random numbers.

# With fewer replicates than this share in which a figure could be had, its
# interval is NA.
least_replicates <- 0.9

# values: a row a replicate, a column a figure.
percentile_interval <- function(values) {
  values <- as.matrix(values)
  bounds <- vapply(seq_len(ncol(values)), function(j) {
    had <- values[!is.na(values[, j]), j]
    if (length(had) < max(2, least_replicates * nrow(values))) {
      return(c(NA_real_, NA_real_))
    }
    stats::quantile(
      had,
      c(1 - upper_tail, upper_tail),
      names = FALSE
    )
  }, c(0, 0))
  list(low = bounds[1, ], high = bounds[2, ])
}

check_bootstrap <- function(sitting, replicates, seed) {
  whole <- function(x) {
    is.numeric(x) && length(x) == 1 && !is.na(x) && x >= 0 && x == floor(x)
  }
  if (!whole(replicates) ||
    !whole(seed) ||
    (replicates > 0 && replicates < 100)) {
    given <- some_of(c(replicates, seed))
    abort_pregunta(
      "call",
      say("stat-bootstrap.bootstrap_is_the_number"),
      say("stat-bootstrap.given", replicates = given),
      say("stat-bootstrap.for_example_bootstrap_2000")
    )
  }
  if (replicates > 0 && !inherits(sitting, "pregunta_sitting")) {
    abort_pregunta(
      "call",
      say("stat-bootstrap.resampling_students_needs_the"),
      say("stat-bootstrap.given_2", sitting = class(sitting)[1]),
      say("stat-bootstrap.give_the_sitting_not")
    )
  }
}

# The present students of each group, as rows of the sitting.
rows_by_group <- function(sitting, by) {
  groups <- student_groups(sitting, by)
  rows <- seq_along(groups$index)
  split(
    rows[was_present(sitting)],
    factor(groups$index[was_present(sitting)], seq_along(groups$labels))
  )
}

# Columns beside a summary of items: bounds of figures that have no formula.
item_bounds <- function(sitting, by, replicates, seed) {
  points <- cell_points(sitting)
  pieces <- lapply(rows_by_group(sitting, by), function(rows) {
    drawn <- resample_items(
      points[rows, , drop = FALSE],
      sitting,
      replicates,
      seed
    )
    intervals <- lapply(drawn["upper_lower"], percentile_interval)
    names <- paste0(rep(names(intervals), each = 2), c("_low", "_high"))
    stats::setNames(data.frame(unlist(intervals, recursive = FALSE)), names)
  })
  do.call(rbind, unname(pieces))
}

resample_items <- function(points, sitting, replicates, seed, groups = TRUE) {
  spread <- resample_spread(
    points[, counted_columns(points), drop = FALSE],
    FALSE,
    replicates,
    seed
  )
  drawn <- if (anyNA(points) || groups) {
    resample_groups(points, sitting, groups, replicates, seed)
  }
  if (!anyNA(points)) {
    rest <- spread$total - 2 * spread$with_total + spread$item
    both <- spread$item * rest
    drawn$discrimination <- ifelse(
      both > 1e-24,
      (spread$with_total - spread$item) / sqrt(abs(both)),
      NA_real_
    )
  }
  c(drawn, list(alpha = spread_alpha(spread)))
}

# What rests on each student's own total: the outer groups, masters, and
# correlations where students had different items.
resample_groups <- function(points, sitting, groups, replicates, seed) {
  most <- sitting$items$points
  valued <- !is.na(points)
  earned <- rowSums(points, na.rm = TRUE)
  open <- as.vector(valued %*% most)
  rest_open <- open - valued * rep(most, each = nrow(points))
  rest <- (earned - ifelse(valued, points, 0)) /
    ifelse(rest_open > 1e-9, rest_open, NA_real_)
  share <- round(ifelse(open > 0, earned / open, NA_real_), 12)
  order <- order(share, decreasing = TRUE, na.last = NA)
  bootstrap_items(
    points,
    rest,
    most,
    order - 1L,
    match(share, share),
    as.numeric(!is.na(share) & reaches(share, sitting$settings$mastery_cut)),
    sitting$settings$thresholds$outer_share,
    groups,
    replicates,
    seed
  )
}

# The items that anybody has points on: those that count.
counted_columns <- function(points) which(colSums(!is.na(points)) > 0)

# Over the students who have points on every one of the items.
resample_spread <- function(points, pairs, replicates, seed) {
  complete <- which(rowSums(is.na(points)) == 0)
  drawn <- bootstrap_spread(
    points[complete, , drop = FALSE],
    complete,
    nrow(points),
    pairs,
    replicates,
    seed
  )
  c(drawn, list(k = ncol(points)))
}

spread_alpha <- function(spread) {
  alpha_of(spread$k, rowSums(spread$item), spread$total)
}

spread_congeneric <- function(spread) {
  congeneric_of(
    rowSums(spread$item),
    spread$total,
    rowSums(spread$with_total^2)
  )
}

# Columns beside a summary of the test.
test_bounds <- function(sitting, by, replicates, seed) {
  points <- cell_points(sitting)
  counted <- counted_columns(points[was_present(sitting), , drop = FALSE])
  pieces <- lapply(rows_by_group(sitting, by), function(rows) {
    mine <- intersect(counted, counted_columns(points[rows, , drop = FALSE]))
    drawn <- resample_test(
      points[rows, mine, drop = FALSE],
      sitting$items$points[mine],
      replicates,
      seed
    )
    intervals <- lapply(drawn, percentile_interval)
    bounds <- data.frame(unlist(intervals, recursive = FALSE))
    names(bounds) <- paste0(rep(names(drawn), each = 2), c("_low", "_high"))
    bounds
  })
  do.call(rbind, unname(pieces))
}

# points: of the items that count; most: what each gives.
resample_test <- function(points, most, replicates, seed) {
  points <- points[rowSums(!is.na(points)) > 0, , drop = FALSE]
  spread <- resample_spread(points, TRUE, replicates, seed)
  k <- ncol(points)
  alpha <- spread_alpha(spread)
  total <- rowSums(points, na.rm = TRUE) / as.vector((!is.na(points)) %*% most)
  totals <- resample_totals(total, sum(most), replicates, seed)
  mean <- spread$sum / spread$n
  zero_one <- all(points[!is.na(points)] %in% c(0, 1)) && all(most == 1)
  variance <- spread$total / (spread$n - 1)
  between <- spread$total - rowSums(spread$item)
  list(
    median = totals$median,
    sd = totals$sd,
    kr21 = if (zero_one) {
      kr21_of(k, mean, variance)
    } else {
      rep(NA_real_, replicates)
    },
    lambda2 = ifelse(
      is.na(alpha),
      NA_real_,
      (between + sqrt(k / (k - 1) * spread$apart)) / spread$total
    ),
    split_half = ifelse(
      spread$halves > -1 + 1e-9,
      2 * spread$halves / (1 + spread$halves),
      NA_real_
    ),
    sem = sqrt(pmax(0, variance)) * sqrt(pmax(0, 1 - alpha))
  )
}

# Median and standard deviation of resampled totals, in points.
resample_totals <- function(share, most, replicates, seed) {
  n <- length(share)
  if (n < 2) {
    return(list(
      median = rep(NA_real_, replicates),
      sd = rep(NA_real_, replicates)
    ))
  }
  sorted <- order(share)
  draws <- bootstrap_draws(n, replicates, seed)
  sum <- colSums(draws * share)
  squares <- colSums(draws * share^2) - sum^2 / n
  middle <- vapply(seq_len(replicates), function(b) {
    place <- rep.int(sorted, draws[sorted, b])[
      c(floor((n + 1) / 2), ceiling((n + 1) / 2))
    ]
    mean(share[place])
  }, 0)
  list(median = middle * most, sd = sqrt(pmax(0, squares) / (n - 1)) * most)
}
