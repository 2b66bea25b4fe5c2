# Tests that share questions stand on one scale (Kolen & Brennan 2014): the shift of each
# by mean/mean over the questions it shares, those that moved left out; and what share
# its students would have earned on a test of reference.

least_shared <- 5 # questions that must stay
least_named <- 10 # where they have no wording, and only names say that they are the same
most_moved <- 2.7 # robust z, above which a question has moved against the others

# A test with its questions' places on a scale of its own. items: item, mark: what makes a
# question the same elsewhere, named: whether that is a name without a wording; rule: how
# it is marked; points.
new_placed_test <- function(data, items) {
  scale <- fit_scale(data)
  at <- scale$number
  places <- spread <- rep(NA_real_, nrow(items))
  if (length(at)) places[at] <- as.vector(scale$centre %*% unlist(scale$easiness))
  list(data = data, items = items, scale = scale, places = places)
}

# What makes an item the same in another test, and how it is marked.
item_marks <- function(items, fingerprints) {
  named <- is.na(items$prompt)
  by_name <- paste("name", items$item, sep = "\r")
  mark <- ifelse(named, by_name, fingerprints)
  # Two of one wording cannot be told apart.
  mark[duplicated(mark) | duplicated(mark, fromLast = TRUE)] <- NA
  mark[named & is.na(items$key)] <- NA
  scoring <- or_blank(items$scoring)
  rule <- paste(items$type, or_blank(items$key), items$points, scoring, sep = "\r")
  data.frame(
    item = items$item, mark = mark, named = named, rule = rule, points = items$points
  )
}

# The questions of two tests that are the same: their numbers in the one and in the other,
# and whether they are marked by the same rule. Names without wordings count only where
# they are many and all of them agree: two tests can both have a Q1.
same_questions <- function(one, other) {
  at <- match(one$mark, other$mark, incomparables = NA)
  found <- which(!is.na(at))
  shared <- data.frame(
    one = found, other = at[found], same = one$rule[found] == other$rule[at[found]]
  )
  named <- one$named[shared$one]
  sure <- sum(named) >= least_named && all(shared$same[named])
  shared[!named | sure, ]
}

# Each test in turn is set on the scale of the first by the questions that it shares with
# those placed before it. tests: placed tests, that of reference first; pairs: questions
# said to be the same, in place of their marks, as same_questions() gives them of the
# first two. shift: what is added to a place on a test's own scale, cov: its covariances,
# df: of each; anchors: a row a question shared.
link_tests <- function(tests, pairs = NULL) {
  k <- length(tests)
  shift <- rep(NA_real_, k)
  weights <- matrix(0, k, k)
  error <- numeric(k)
  df <- rep(Inf, k)
  reason <- rep("no_shared_items", k)
  anchors <- list()
  shift[1] <- 0
  unplaced <- vapply(tests, function(test) !length(test$scale$number), TRUE)
  if (unplaced[1]) unplaced[] <- TRUE
  repeat {
    before <- shift
    for (t in which(is.na(shift) & !unplaced)) {
      anchor <- anchors_of(tests, t, shift, pairs)
      if (nrow(anchor)) reason[t] <- "few_shared_items"
      kept <- anchor$anchor == "kept"
      if (sum(kept) < least_shared) next
      found <- shift_of(tests, t, anchor)
      shift[t] <- found$shift
      weights[t, ] <- found$weights
      error[t] <- found$error
      df[t] <- sum(kept) - 1
      anchors[[t]] <- anchor
    }
    if (identical(before, shift)) break
  }
  for (t in which(is.na(shift) & !unplaced)) {
    anchors[[t]] <- anchors_of(tests, t, shift, pairs)
  }
  anchors <- lapply(anchors, function(anchor) with_drift(tests, anchor))
  through <- solve(diag(k) - weights)
  reason[unplaced] <- "few_students"
  reason[!is.na(shift) & !unplaced] <- NA
  list(
    shift = ifelse(unplaced, NA, shift), cov = through %*% (error * t(through)), df = df,
    reason = reason, anchors = do.call(rbind, anchors)
  )
}

# The questions that the t-th test shares with those placed before, a row each: number in
# the test; place_before, on the scale of reference, the mean over those; place: on its
# own; z: how far its difference lies from the others', in robust standard deviations.
anchors_of <- function(tests, t, shift, pairs) {
  test <- tests[[t]]
  pieces <- lapply(setdiff(which(!is.na(shift)), t), function(s) {
    shared <- if (is.null(pairs)) same_questions(tests[[s]]$items, test$items) else pairs
    data.frame(
      test = rep(t, nrow(shared)), from = rep(s, nrow(shared)), number_from = shared$one,
      number = shared$other, same = shared$same,
      place_from = tests[[s]]$places[shared$one] + shift[s]
    )
  })
  table <- do.call(rbind, pieces)
  table$place <- test$places[table$number]
  table$anchor <- data.table::fcase(
    !table$same, "other_rule",
    is.na(table$place) | is.na(table$place_from), "not_placed",
    default = "kept"
  )
  usable <- table$anchor == "kept"
  numbers <- table$number[usable]
  mean_before <- tapply(table$place_from[usable], numbers, mean)
  table$place_before <- rep(NA_real_, nrow(table))
  table$place_before[usable] <- mean_before[as.character(numbers)]
  moved <- table$place - table$place_before
  once <- usable & !duplicated(table$number)
  judged <- robust_z(moved[once])
  table$z <- rep(NA_real_, nrow(table))
  table$z[usable] <- judged$z[match(numbers, table$number[once])]
  out <- table$number[once][judged$out]
  table$anchor[usable & table$number %in% out] <- "drifted"
  table
}

no_anchors <- function() {
  data.frame(
    sitting = integer(), from = integer(), number = integer(), number_from = integer(),
    drift = numeric(), drift_se = numeric(), drift_p = numeric(), anchor = character()
  )
}

# drift: how much harder each question has become than those kept (easier: below 0), with
# its standard error from those of the places, and p that it has not, corrected for the
# number of questions (Holm 1979).
with_drift <- function(tests, anchor) {
  if (is.null(anchor)) return(NULL)
  anchor$drift <- anchor$drift_se <- anchor$drift_p <- rep(NA_real_, nrow(anchor))
  usable <- which(anchor$anchor %in% c("kept", "drifted"))
  once <- usable[!duplicated(anchor$number[usable])]
  m <- length(once)
  kept <- anchor$anchor[once] == "kept"
  if (m < 2 || !any(kept)) return(anchor)
  row <- match(anchor$number[usable], anchor$number[once])
  spread <- covariances_of(tests[[anchor$test[1]]], anchor$number[once], seq_len(m), m)
  times <- tabulate(row, m)
  for (s in unique(anchor$from[usable])) {
    mine <- usable[anchor$from[usable] == s]
    at <- match(anchor$number[mine], anchor$number[once])
    spread <- spread +
      covariances_of(tests[[s]], anchor$number_from[mine], at, m, 1 / times[at])
  }
  moved <- anchor$place[once] - anchor$place_before[once]
  from_kept <- diag(m) - matrix(kept / sum(kept), m, m, byrow = TRUE)
  drift <- as.vector(from_kept %*% moved)
  se <- sqrt(pmax(0, diag(from_kept %*% spread %*% t(from_kept))))
  p <- stats::p.adjust(2 * stats::pnorm(-abs(drift) / se), "holm")
  anchor$drift[usable] <- drift[row]
  anchor$drift_se[usable] <- se[row]
  anchor$drift_p[usable] <- p[row]
  anchor
}

# The covariances of some of a test's places, each at a row of m.
covariances_of <- function(test, numbers, at, m, weights = 1) {
  scale <- test$scale
  along <- matrix(0, m, length(scale$number))
  along[cbind(at, match(numbers, scale$number))] <- weights
  along <- along %*% scale$centre
  along %*% scale$cov %*% t(along)
}

# Distance from the median over 0.74 times the quartiles' distance; the farthest are out,
# as long as enough stay.
robust_z <- function(x) {
  n <- length(x)
  if (n < 2) return(list(z = rep(NA_real_, n), out = integer()))
  spread <- 0.74 * stats::IQR(x)
  z <- if (spread < 1e-9) rep(NA_real_, n) else (x - stats::median(x)) / spread
  far <- order(-abs(z))
  far <- far[abs(z[far]) > most_moved & !is.na(z[far])]
  list(z = z, out = utils::head(far, max(0, n - least_shared)))
}

# Mean/mean: the mean difference of the questions kept. Its error is the larger of what
# the errors of the places make (delta method) and what the differences spread: the first
# does not know that questions move, the second is a guess where they are few. Where
# some were left out the spread is that of a trimmed mean (Yuen 1974).
shift_of <- function(tests, t, anchor) {
  moved <- anchor$place_before - anchor$place
  far <- moved[anchor$anchor == "drifted" & !duplicated(anchor$number)]
  kept <- anchor[anchor$anchor == "kept", ]
  once <- !duplicated(kept$number)
  differences <- moved[anchor$anchor == "kept"][once]
  m <- length(differences)
  every <- c(differences, pmin(max(differences), pmax(min(differences), far)))
  spread <- sum((every - mean(every))^2) / (m * (m - 1))
  times <- table(kept$number)[as.character(kept$number)]
  own <- numeric(length(tests[[t]]$places))
  own[kept$number[once]] <- 1 / m
  error <- variance_of_mean(tests[[t]], own)
  weights <- numeric(length(tests))
  for (s in unique(kept$from)) {
    rows <- kept$from == s
    share <- as.vector(1 / times[rows]) / m
    weights[s] <- sum(share)
    other <- numeric(length(tests[[s]]$places))
    other[kept$number_from[rows]] <- share
    error <- error + variance_of_mean(tests[[s]], other)
  }
  list(
    shift = mean(differences), weights = weights,
    error = max(error, spread)
  )
}

# The variance of a weighted sum of a test's places.
variance_of_mean <- function(test, weights) {
  scale <- test$scale
  along <- weights[scale$number] %*% scale$centre
  as.vector(along %*% scale$cov %*% t(along))
}

# ---- the share on the test of reference
# --------------------------------------------------

# The share expected on some items of a test, at places on its scale. An item that
# everybody or nobody got right is as it was; the others that have no place do not count.
reference_share <- function(test, items) {
  scale <- test$scale
  at <- which(scale$number %in% items)
  fixed <- items[test$data$reason[items] %in% c("all_right", "none_right")]
  if (!length(at)) return(NULL)
  points <- test$items$points
  all <- sum(points[scale$number[at]], points[fixed])
  constant <- sum(unlist(test$data$values[fixed]))
  easiness <- scale$easiness[at]
  values <- test$data$values[scale$number[at]]
  function(places) (constant + expected_points(easiness, values, places)) / all
}

# The items of a test that count, of some.
counted_items <- function(test, items = seq_len(nrow(test$items))) {
  items[lengths(test$data$values[items]) > 0]
}

# Whether a test asks all that the one of reference asks, by the questions they share.
asks_all_of <- function(first, shared, items = seq_len(nrow(first$items))) {
  counted <- counted_items(first, items)
  length(counted) > 0 && all(counted %in% shared$one[shared$same])
}

# What the students of a test by `mine`, its items, earn on `asked`, those of the test of
# reference: list as in linked_shares(), NULL where that cannot be said. Who answered all
# of these questions earned there what he earned.
shares_on <- function(first, asked, test, mine, shared, shift, error) {
  placed <- length(asked) && length(first$scale$number)
  share_at <- if (placed) reference_share(first, asked)
  direct <- asks_all_of(first, shared, asked)
  modelled <- !is.null(share_at) && length(mine) && !is.na(shift)
  if (!direct && !modelled) return(NULL)
  found <- if (modelled) {
    linked_shares(test, mine, shift, error, share_at)
  } else {
    empty <- rep(NA_real_, nrow(test$data$category))
    list(share = empty, low = empty, high = empty, slope = empty)
  }
  if (!direct) return(found)
  items <- shared$other[match(counted_items(first, asked), shared$one)]
  with_own_share(found, test, items)
}

with_own_share <- function(found, test, items) {
  category <- test$data$category[, items, drop = FALSE]
  whole <- rowSums(category < 0) == 0
  earned <- vapply(seq_along(items), function(k) {
    c(NA, test$data$values[[items[k]]])[category[, k] + 2L]
  }, numeric(nrow(category)))
  dim(earned) <- dim(category)
  most <- test$items$points[items]
  own <- rowSums(earned) / sum(most)
  bounds <- jeffreys_interval(own, sum(most)^2 / sum(most^2))
  found$share[whole] <- own[whole]
  found$low[whole] <- bounds$low[whole]
  found$high[whole] <- bounds$high[whole]
  found$slope[whole] <- 0
  found
}

place_grid <- seq(-6, 6, by = 0.2)

# Of the students of a test by some of its items: the share on the reference and its
# interval, and by how much the share grows with the shift (slope); NA for who has none of
# them. Of one place the share is that expected at the weighted likelihood estimate,
# stretched by a line so that over the scores of students of any place it is right on
# average: the expected share is curved, and estimates scatter.
linked_shares <- function(test, items, shift, error, share_at) {
  n <- nrow(test$data$category)
  table <- list(share = rep(NA_real_, n), low = rep(NA_real_, n), high = rep(NA_real_, n))
  table$slope <- table$share
  placed <- intersect(items, test$scale$number)
  patterns <- patterns_of_items(test$data, placed)
  if (!length(patterns)) return(table)
  easiness <- test$scale$easiness[match(placed, test$scale$number)]
  chances <- lapply(patterns, function(one) {
    score_chances(easiness[one$items], place_grid)
  })
  weight <- population(patterns, chances)
  wanted <- share_at(place_grid + shift)
  for (k in seq_along(patterns)) {
    pattern <- patterns[[k]]
    found <- places_of_scores(easiness[pattern$items])
    plain <- share_at(found$place + shift)
    line <- stretched(as.vector(chances[[k]] %*% plain), wanted, weight)
    at_place <- function(place) {
      pmin(1, pmax(0, line[1] + line[2] * share_at(place + shift)))
    }
    around <- stats::qnorm(0.975) * sqrt(found$se^2 + error^2)
    step <- 0.01
    rows <- pattern$rows
    score <- pattern$score + 1
    here <- function(x) x[score]
    table$share[rows] <- here(at_place(found$place))
    table$low[rows] <- here(at_place(found$place - around))
    table$high[rows] <- here(at_place(found$place + around))
    steep <- share_at(found$place + step + shift) - share_at(found$place - step + shift)
    table$slope[rows] <- here(line[2] * steep / (2 * step))
  }
  table
}

# Students with the same of these items, of which they have at least one.
patterns_of_items <- function(data, items) {
  if (!length(items)) return(list())
  has <- data$category[data$present, items, drop = FALSE] >= 0
  key <- do.call(paste0, as.data.frame(has + 0L))
  alike <- split(seq_along(data$present), match(key, unique(key)))
  patterns <- lapply(alike, function(rows) {
    mine <- which(has[rows[1], ])
    if (!length(mine)) return(NULL)
    rows <- data$present[rows]
    score <- as.integer(rowSums(data$category[rows, items[mine], drop = FALSE]))
    list(items = mine, rows = rows, score = score)
  })
  Filter(Negate(is.null), patterns)
}

# How many stand where, by maximum likelihood over a grid, some steps from a normal curve
# (Laird 1978).
population <- function(patterns, chances) {
  weight <- stats::dnorm(place_grid, 0, 1.5)
  weight <- weight / sum(weight)
  for (round in seq_len(30)) {
    sums <- 0
    for (k in seq_along(patterns)) {
      n <- tabulate(patterns[[k]]$score + 1, ncol(chances[[k]]))
      sums <- sums + as.vector(chances[[k]] %*% (n / as.vector(weight %*% chances[[k]])))
    }
    weight <- weight * sums
    weight <- weight / sum(weight)
  }
  weight
}

# The line from what is expected of the estimates to what is wanted, by weighted squares.
stretched <- function(found, wanted, weight) {
  mean_found <- sum(weight * found)
  mean_wanted <- sum(weight * wanted)
  varies <- sum(weight * (found - mean_found)^2)
  if (varies < 1e-9) return(c(mean_wanted - mean_found, 1))
  slope <- sum(weight * (found - mean_found) * (wanted - mean_wanted)) / varies
  c(mean_wanted - slope * mean_found, slope)
}

# ---- of a group
# --------------------------------------------------------------------------

# The mean of some students' shares, or of their gains, with a t interval over students
# and the error of the link beside it. slope: of each the sum of the tests' slopes.
linked_mean <- function(share, error, df, lowest = 0) {
  n <- length(share)
  mean <- if (n) mean(share) else NA_real_
  if (n < 2) return(list(mean = mean, low = NA_real_, high = NA_real_))
  own <- stats::qt(0.975, n - 1) * stats::sd(share) / sqrt(n)
  half <- sqrt(own^2 + (stats::qt(0.975, df) * error)^2)
  list(mean = mean, low = max(lowest, mean - half), high = min(1, mean + half))
}
