# Whether an average hides two groups instead of one middle.

# The scores are tested against one group of students, normal in what they can do, who
# answer items as many and as hard as these: what such a group's scores look like is
# worked out from the items, and drawn from (Efron & Tibshirani 1993, chapter 16). So a
# test of three items, or one too easy for most, is no evidence of two groups.
# items: see items_of_group().
humps_of <- function(share, count, items) {
  if (!bears_claims(sum(count), length(items$most))) return(no_humps())
  if (!is_two_groups(share * sum(items$most), count, items)) return(one_hump())
  two_humps(share, count)
}

humps_of_group <- function(tally, g) {
  bins <- tally$bins[tally$bins$group == g & tally$bins$open > 1e-9, ]
  humps_of(
    bins$earned / bins$open,
    bins$n,
    items_of_group(tally, g)
  )
}

# Of so many groups nothing is said of each.
most_hump_groups <- 40

no_humps <- function() {
  list(
    humps = NA_integer_,
    lower_n = NA_real_,
    lower_mean = NA_real_,
    upper_mean = NA_real_,
    between_n = NA_real_
  )
}

one_hump <- function() utils::modifyList(no_humps(), list(humps = 1L))

# What each group is called by: the cut of the sorted scores where the sides differ
# most, and how many are in the middle third of the way between the two means.
two_humps <- function(share, count) {
  cut <- widest_cut(share, count)
  way <- (share - cut$means[1]) / diff(cut$means)
  list(
    humps = 2L,
    lower_n = cut$n[1],
    lower_mean = cut$means[1],
    upper_mean = cut$means[2],
    between_n = sum(count[way > 1 / 3 & way < 2 / 3])
  )
}

# Of all cuts of the sorted scores, the one with most of the sum of squares between its
# sides: the size and mean of both.
widest_cut <- function(share, count) {
  sorted <- order(share)
  share <- share[sorted]
  count <- count[sorted]
  n <- sum(count)
  below <- cumsum(count)[-length(count)]
  sum_below <- cumsum(count * share)[-length(count)]
  whole <- sum(count * share)
  between <- sum_below^2 / below +
    (whole - sum_below)^2 / (n - below) -
    whole^2 / n
  at <- which.max(between)
  sizes <- c(below[at], n - below[at])
  list(n = sizes, means = c(sum_below[at], whole - sum_below[at]) / sizes)
}

# ---- the test ------------------------------------------------------------------------

# Two groups whose scores are this many of their standard deviations apart, the lower with
# these shares of the students, and how much each counts. The likelihood ratio of just
# these against one group is the best test of them (Neyman & Pearson 1933); those of
# uneven groups count little, so that they cost the even ones next to nothing and large
# uneven groups are seen all the same.
groups_apart <- 2.5
lower_shares <- c(0.5, 0.35, 0.65)
share_weights <- c(0.9, 0.05, 0.05)

# A little under .05, for items that differ in how steep they are (vignette "accuracy").
hump_level <- 0.04
hump_draws <- 1999
hump_seed <- 1

# items: of one group, see items_of_group(). The spread of the one group is estimated, and
# so it is anew in each sample that is drawn from it: of a few spreads around the one that
# was found, the ratios are worked out, and a sample's lie between them.
is_two_groups <- function(score, count, items) {
  spread <- spread_of_one_group(items, score, count)
  if (is.na(spread) || spread < least_spread) return(FALSE)
  one <- scores_of_one_group(items, spread)
  seen <- counts_of_scores(one, score, count)
  # Less likely than one group is no evidence of two, however rare.
  found <- weighted_ratio(ratios_of_groups(items, one), seen)
  if (found < log(least_ratio)) return(FALSE)
  drawn <- with_seed(
    hump_seed,
    stats::rmultinom(hump_draws, sum(count), one$chance)
  )
  around <- lapply(spread * spreads_around, scores_of_one_group, items = items)
  as_large <- sum(ratios_of_samples(items, around, drawn) >= found - 1e-9)
  (1 + as_large) / (1 + hump_draws) <= hump_level
}

least_ratio <- 0.5
least_spread <- 0.05
spreads_around <- c(0.5, 0.7, 0.85, 1, 1.15, 1.35, 1.7)

# How many students have each of the possible scores.
counts_of_scores <- function(one, score, count) {
  at <- 1 + round(score * one$steps)
  at <- pmin(length(one$score), pmax(1, at))
  cbind(as.vector(tapply(count, factor(at, seq_along(one$score)), sum, default = 0)))
}

# A column for each of lower_shares: see beyond_mean_and_spread().
ratios_of_groups <- function(items, one) {
  vapply(lower_shares, function(share) {
    beyond_mean_and_spread(
      one,
      scores_of_two_groups(items, one, share)
    )
  }, one$chance)
}

# The ratio of each sample (a column of drawn) by the spread that it has itself, between
# the nearest two of those that were worked out.
ratios_of_samples <- function(items, around, drawn) {
  variance <- vapply(around, function(one) one$variance, 0)
  score <- around[[1]]$score
  n <- sum(drawn[, 1])
  mean <- as.vector(crossprod(drawn, score)) / n
  seen <- (as.vector(crossprod(drawn, score^2)) / n - mean^2) * n / (n - 1)
  place <- stats::approx(variance, seq_along(around), seen, rule = 2, ties = "ordered")$y
  below <- pmin(floor(place), length(around) - 1)
  each <- lapply(around, function(one) {
    crossprod(drawn, ratios_of_groups(items, one))
  })
  logs <- matrix(0, ncol(drawn), length(lower_shares))
  for (k in seq_along(each)) {
    weight <- (below == k) * (k + 1 - place) + (below == k - 1) * (place - k + 1)
    logs <- logs + weight * each[[k]]
  }
  log_of_weighted(logs)
}

# counts: a column a sample.
weighted_ratio <- function(ratios, counts) {
  log_of_weighted(crossprod(counts, ratios))
}

# each: the log ratio of each of lower_shares, a row a sample.
log_of_weighted <- function(each) {
  largest <- do.call(pmax, lapply(seq_along(share_weights), function(k) each[, k]))
  largest + log(as.vector(exp(each - largest) %*% share_weights))
}

# The log of the likelihood ratio of each score, less what the mean and spread of the
# scores have to do with it, which one group is given as they were seen: the residual of
# its regression on score and squared score among one group.
beyond_mean_and_spread <- function(one, two) {
  ratio <- log(pmax(two, 1e-300) / pmax(one$chance, 1e-300))
  ratio <- pmax(-most_log_ratio, pmin(most_log_ratio, ratio))
  centre <- sum(one$chance * one$score)
  away <- one$score - centre
  design <- cbind(away, away^2 - sum(one$chance * away^2))
  weighted <- one$chance * design
  slopes <- qr.coef(qr(crossprod(design, weighted)), crossprod(weighted, ratio))
  slopes[is.na(slopes)] <- 0
  as.vector(ratio - design %*% slopes)
}

most_log_ratio <- 20

# ---- one group -----------------------------------------------------------------------

# The items that count in a group: the most each gives, in how many equal parts that can
# be earned, the share of it that was, and how steep it is.
items_of_group <- function(tally, g) {
  counted <- which(tally$counted[, g])
  sums <- tally$sums
  mine <- which(sums$group == g & sums$valued)
  of_items <- split(mine, factor(sums$item[mine], counted))
  items <- Map(function(at, most) {
    item_as_parts(sums$x[at], sums$count[at], most)
  }, of_items, tally$items$points[counted])
  items <- rows_as_table(items)
  if (is.null(items)) return(NULL)
  mine <- mine[sums$n_rest[mine] > 0]
  moments <- moments_of_sums(
    sums$x[mine],
    sums$n_rest[mine],
    sums$rest[mine],
    sums$rest_squares[mine],
    match(sums$item[mine], counted),
    length(counted)
  )
  bins <- tally$bins[tally$bins$group == g & tally$bins$open > 1e-9, ]
  score <- bins$earned / bins$open * sum(items$most)
  items$steep <- steepness(items, moments, variance_of_counts(score, bins$n))
  items
}

variance_of_counts <- function(x, count) {
  n <- sum(count)
  mean <- sum(x * count) / n
  sum(count * (x - mean)^2) / (n - 1)
}

# How steep each item is against the others, from its correlation with the rest: with one
# factor behind the items (Lord & Novick 1968, chapter 16) the covariance of an item and
# the rest is the product of what each has of it. Slopes that so few students cannot tell
# apart are drawn together (DerSimonian & Laird 1986). moments: of points and rest.
steepness <- function(items, moments, variance) {
  even <- rep(1, nrow(items))
  r <- correlation(moments)
  use <- which(!is.na(r) & moments$n > 3)
  if (length(use) < 3 || is.na(variance)) return(even)
  n <- moments$n[use]
  r <- pmax(least_r, r[use])
  own <- moments$xx[use] / (n - 1)
  with_rest <- sqrt((r^2 * own)^2 + r^2 * own * pmax(0, variance - own)) -
    r^2 * own
  behind <- factor_parts(with_rest) /
    (items$most[use] * stats::dnorm(stats::qnorm(items$share[use])))
  behind <- pmin(0.95, pmax(0.05, behind))
  slope <- log(behind / sqrt(1 - behind^2))
  error <- (1 - r^2) / (sqrt(n - 3) * r * (1 - behind^2))
  replace(even, use, exp(drawn_together(slope, error)))
}

least_r <- 0.05

# What each item has of the factor, given its covariance with the rest of them.
factor_parts <- function(with_rest) {
  parts <- with_rest / sqrt(sum(with_rest))
  for (step in 1:50) {
    others <- pmax(sum(parts) - parts, 1e-9)
    parts <- (parts + with_rest / others) / 2
  }
  parts
}

# As far from their mean, which is 0 then, as their errors let them be: together they
# spread as the true ones do (Louis 1984).
drawn_together <- function(x, error) {
  weight <- 1 / error^2
  away <- x - sum(weight * x) / sum(weight)
  spare <- sum(weight) - sum(weight^2) / sum(weight)
  apart <- max(0, (sum(weight * away^2) - (length(x) - 1)) / spare)
  drawn <- away * sqrt(apart / (apart + error^2))
  drawn - mean(drawn)
}

# One list a row.
rows_as_table <- function(rows) {
  if (!length(rows)) return(NULL)
  frame_of(do.call(Map, c(list(c), unname(rows))))
}

# points: that were seen, and how often.
item_as_parts <- function(points, count, most) {
  n <- sum(count)
  share <- sum(points * count) / n / most
  whole <- all(points < 1e-9 | points > most - 1e-9)
  list(
    most = most,
    parts = if (whole) {
      1
    } else {
      min(most_item_parts, points_unit(round(points / most, 6)))
    },
    # Nobody's item is beyond doubt: half a student at the ends.
    share = min(max(share, 0.5 / n), 1 - 0.5 / n)
  )
}

most_item_parts <- 6
ability_nodes <- seq(-4, 4, length.out = 31)
ability_weights <- stats::dnorm(ability_nodes) /
  sum(stats::dnorm(ability_nodes))
most_steps <- 160

# The spread of what one normal group can do that goes with the spread of the scores that
# were seen; NA where they have none.
spread_of_one_group <- function(items, score, count) {
  n <- sum(count)
  mean <- sum(count * score) / n
  seen <- sum(count * (score - mean)^2) / (n - 1)
  if (is.na(seen) || seen < 1e-9) return(NA_real_)
  off <- function(spread) {
    group <- one_group(spread)
    chance <- chances_at(items, group, spread)
    variance_of_scores(items, chance, group$weight)[1] - seen
  }
  if (off(0) >= 0) return(0)
  if (off(widest_ability) <= 0) return(widest_ability)
  stats::uniroot(off, c(0, widest_ability), tol = 0.01)$root
}

one_group <- function(spread) {
  list(at = spread * ability_nodes, weight = ability_weights)
}

# Each possible score and its chance in one normal group of this spread.
scores_of_one_group <- function(items, spread) {
  group <- one_group(spread)
  chance <- chances_at(items, group, spread)
  variance <- variance_of_scores(items, chance, group$weight)
  made <- add_up_items(items, chance, group$weight)
  c(
    made,
    list(
      at = group$at,
      spread = spread,
      variance = variance[1],
      error = variance[2]
    )
  )
}

# The chance of each score in two groups of the same mean and spread together. What
# separates the scores of both is carried over to their abilities in proportion.
scores_of_two_groups <- function(items, one, share) {
  even <- share * (1 - share)
  within <- one$variance / (1 + even * groups_apart^2)
  gap <- one$spread *
    groups_apart *
    sqrt(within / max(one$variance - one$error, 1e-9))
  gap <- min(gap, one$spread / sqrt(even))
  within <- sqrt(max(0, one$spread^2 - even * gap^2))
  centres <- c(-(1 - share) * gap, share * gap)
  if (nrow(items) > many_items) {
    # On items that are as hard as for one group, and so without another sum over them.
    within <- max(within, narrowest_group * one$spread)
    weight <- share * stats::dnorm(one$at, centres[1], within) +
      (1 - share) * stats::dnorm(one$at, centres[2], within)
    return(as.vector(one$given %*% (weight / sum(weight))))
  }
  group <- list(
    at = c(outer(within * ability_nodes, centres, `+`)),
    weight = c(share * ability_weights, (1 - share) * ability_weights)
  )
  add_up_items(
    items,
    chances_at(items, group, one$spread),
    group$weight
  )$chance
}

# Of few items each one's easiness in two groups matters.
many_items <- 12
# Of the whole spread; the abilities that are reckoned with lie so close together.
narrowest_group <- 0.25

widest_ability <- 8

# The chance to earn a part of each item at each ability, so that its mean over the
# students is the share that was earned: items by abilities.
chances_at <- function(items, group, spread) {
  steep <- if (is.null(items$steep)) rep(1, nrow(items)) else items$steep
  by_ability <- outer(steep, group$at)
  easy <- stats::qlogis(items$share) * sqrt(1 + (steep * spread / 1.7)^2)
  for (step in 1:25) {
    chance <- stats::plogis(easy + by_ability)
    off <- as.vector(chance %*% group$weight) - items$share
    if (max(abs(off)) < 1e-5) break
    slope <- as.vector((chance * (1 - chance)) %*% group$weight)
    easy <- easy - pmax(-2, pmin(2, off / pmax(slope, 1e-9)))
  }
  chance
}

# Of all, and the part of it that is no difference of ability.
variance_of_scores <- function(items, chance, weight) {
  within <- sum(
    weight * colSums(items$most^2 / items$parts * chance * (1 - chance))
  )
  expected <- colSums(items$most * chance)
  c(within + sum(weight * (expected - sum(weight * expected))^2), within)
}

# The distribution of the sum of the items, item by item (Lord & Wingersky 1984), on a
# grid of points or, where that is fine, of most_steps steps.
add_up_items <- function(items, chance, weight) {
  most <- sum(items$most)
  unit <- points_unit(items$most / items$parts)
  steps <- if (most * unit > most_steps) most_steps / most else unit
  size <- round(items$most / items$parts * steps)
  size <- pmax(1, size)
  sums <- chances_of_sums(size, items$parts, chance)
  list(
    score = seq(0, nrow(sums) - 1) / steps,
    chance = as.vector(sums %*% weight),
    given = sums,
    steps = steps
  )
}
