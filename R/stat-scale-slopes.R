# Items with slopes of their own: the two-parameter and the generalised partial credit
# model, by marginal likelihood over a normal population (Bock & Aitkin 1981; Muraki
# 1992).

quadrature <- seq(-5, 5, by = 0.25)
quadrature_logs <- {
  weights <- stats::dnorm(quadrature)
  log(weights / sum(weights))
}

# As fit_scale() gives it, with the slopes beside; cov: of each item's slope and
# easiness, items one after the other. category: of the students who count, by placed
# item.
fit_slopes <- function(data) {
  number <- which(is.na(data$reason))
  if (length(number) < 3) {
    data$reason[number] <- "few_items"
    number <- integer()
  }
  most <- data$most[number]
  own <- data$category[data$present, number, drop = FALSE]
  counted <- rowSums(own >= 0) >= 2
  category <- own[counted, , drop = FALSE]
  scale <- list(
    reason = data$reason, number = number, most = most, rows = data$present[counted],
    category = category
  )
  if (!length(number)) return(scale)
  found <- maximise_marginal(category, most)
  c(scale, found)
}

most_rounds <- 500

# The EM algorithm, every third step a longer one in the direction of two, where it brings
# the likelihood up (Varadhan & Roland 2008).
maximise_marginal <- function(category, most) {
  of_item <- rep(seq_along(most), most + 1)
  split_up <- function(flat) unname(split(flat, of_item))
  # slope first, then easiness, item after item
  flat <- unlist(lapply(seq_along(most), function(j) {
    seen <- tabulate(category[, j] + 1, most[j] + 1)
    c(1, log((seen[-1] + 0.5) / (seen[1] + 0.5)))
  }))
  step <- function(flat) {
    parts <- split_up(flat)
    slope <- vapply(parts, `[`, 0, 1)
    easiness <- lapply(parts, `[`, -1)
    after <- marginal_step(category, easiness, slope, quadrature, quadrature_logs)
    flat <- unlist(Map(c, after$slope, after$easiness))
    list(flat = flat, loglik = after$loglik)
  }
  best <- -Inf
  for (round in seq_len(most_rounds)) {
    one <- step(flat)
    two <- step(one$flat)
    first <- one$flat - flat
    bend <- two$flat - one$flat - first
    if (max(abs(two$flat - one$flat)) < 1e-7) break
    longer <- -sqrt(sum(first^2) / max(sum(bend^2), 1e-30))
    tried <- flat - 2 * longer * first + longer^2 * bend
    leap <- step(tried)
    good <- is.finite(leap$loglik) && leap$loglik >= two$loglik
    flat <- if (good) leap$flat else two$flat
  }
  flat <- two$flat
  parts <- split_up(flat)
  slope <- vapply(parts, `[`, 0, 1)
  easiness <- lapply(parts, `[`, -1)
  information <- marginal_information(
    category, easiness, slope, quadrature, quadrature_logs
  )
  # The scale's direction is free: the strong are on the side of most items.
  if (sum(slope) < 0) slope <- -slope
  list(
    slope = slope, easiness = easiness, cov = inverse_of(information), first = of_item
  )
}

# Where two items say the very same their slopes have no bound: what is not known then has
# a variance beyond measure.
inverse_of <- function(information) {
  sound <- rcond(information) > 1e-12
  ridge <- if (sound) 0 else 1e-9 * max(diag(information))
  solve(information + diag(ridge, nrow(information)), tol = 0)
}

# ---- the table -----------------------------------------------------------------------

slopes_table <- function(sitting, scale) {
  table <- empty_scale_table(sitting, scale)
  at <- scale$number
  if (!length(at)) return(table)
  easiness <- vapply(scale$easiness, function(one) one[length(one)], 0)
  place <- -easiness / (scale$most * scale$slope)
  se <- slope_se <- numeric(length(at))
  for (j in seq_along(at)) {
    mine <- which(scale$first == j)
    cov <- scale$cov[mine, mine]
    last <- length(mine)
    slope_se[j] <- sqrt(cov[1, 1])
    # By the delta method, of -e / (m a).
    along <- c(-place[j], -1 / scale$most[j]) / scale$slope[j]
    se[j] <- sqrt(max(0, along %*% cov[c(1, last), c(1, last)] %*% along))
  }
  fit <- slopes_fit(scale)
  reversed <- scale$slope <= 0
  z <- stats::qnorm(upper_tail)
  table$categories[at] <- scale$most + 1L
  table$slope[at] <- scale$slope
  table$slope_low[at] <- scale$slope - z * slope_se
  table$slope_high[at] <- scale$slope + z * slope_se
  table$place[at] <- ifelse(reversed, NA, place)
  table$se[at] <- ifelse(reversed, NA, se)
  table$place_low[at] <- table$place[at] - z * table$se[at]
  table$place_high[at] <- table$place[at] + z * table$se[at]
  table$steps[at] <- vapply(seq_along(at), function(j) {
    steps <- -diff(c(0, scale$easiness[[j]])) / scale$slope[j]
    if (reversed[j]) NA_character_ else written_steps(steps)
  }, "")
  table$reason[at][reversed] <- "reversed"
  put_fit(table, at, fit)
}

# ---- how the items fit --------------------------------------------------------------

# S-X² over the scores of those who have all items, by what the population makes of each
# score; infit and outfit at the students' own places.
slopes_fit <- function(scale) {
  places <- weighted_places_each(scale$category, scale$easiness, scale$slope)[, 1]
  whole <- rowSums(scale$category < 0) == 0
  score <- rowSums(scale$category[whole, , drop = FALSE])
  weights <- exp(quadrature_logs)
  easiness_at <- function(j, place) {
    steps <- seq_len(scale$most[j])
    scale$easiness[[j]] + steps * scale$slope[j] * place
  }
  # Of each place the chances of each score without each item.
  rest <- lapply(seq_along(scale$number), function(j) {
    others <- setdiff(seq_along(scale$number), j)
    t(vapply(quadrature, function(place) {
      score_chances(lapply(others, easiness_at, place), 0)[1, ]
    }, numeric(sum(scale$most[others]) + 1)))
  })
  rows <- lapply(seq_along(scale$number), function(j) {
    own <- vapply(quadrature, function(place) {
      exp(c(0, easiness_at(j, place)))
    }, numeric(scale$most[j] + 1))
    own <- sweep(own, 2, colSums(own), `/`)
    top <- sum(scale$most)
    counts <- joint <- matrix(0, scale$most[j] + 1, top + 1)
    for (k in 0:scale$most[j]) {
      counts[k + 1, ] <- tabulate(
        score[scale$category[whole, j] == k] + 1, top + 1
      )
      of_rest <- colSums(weights * own[k + 1, ] * rest[[j]])
      joint[k + 1, k + seq_along(of_rest)] <- of_rest
    }
    chances <- sweep(joint, 2, colSums(joint), `/`)
    chi <- score_fit(counts, chances, colSums(counts))
    given <- scale$category[, j] >= 0
    m <- item_moments(list(scale$easiness[[j]]), scale$slope[j] * places[given])[[1]]
    square <- (scale$category[given, j] - m$mean)^2
    sure <- m$var > 1e-9
    data.frame(
      n = sum(sure), square = sum(square), z = sum((square / m$var)[sure]),
      var = sum(m$var), in_var = sum(m$fourth - m$var^2),
      out_var = sum((m$fourth / m$var^2 - 1)[sure]), chi = chi[1], df = chi[2]
    )
  })
  fit_of_sums(do.call(rbind, rows), scale$most + 1)
}

# ---- places of students ----------------------------------------------------------------

slopes_places <- function(scale) {
  if (!length(scale$number)) return(list())
  found <- weighted_places_each(scale$category, scale$easiness, scale$slope)
  list(rows = scale$rows, place = found[, 1], se = 1 / sqrt(found[, 2]))
}

# How many stand where, in steps of 0.2, as scale_places() counts scores.
places_counted <- function(scale) {
  found <- slopes_places(scale)
  at <- round(as.numeric(found$place) * 5) / 5
  places <- sort(unique(at))
  data.frame(
    pattern = rep(1L, length(places)),
    score = NA_integer_[rep(1, length(places))],
    n = tabulate(match(at, places), length(places)),
    place = places,
    se = as.vector(tapply(as.numeric(found$se), match(at, places), mean))
  )
}
