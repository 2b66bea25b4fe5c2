# Growth over the windows of a year, from scores that are already there: a row a
# student, sitting and code.

# scores: sitting (row of sittings), person (row of people), code, earned, open.
# sittings: name, title, date, window, period, in order of date.
# link: see link_of_record().
student_growth <- function(scores, sittings, people, windows, codes, settings,
                           standards, link) {
  order <- windows_sat(sittings, windows)
  scores$window <- match(sittings$period, order)[scores$sitting]
  shown <- which(!is.na(scores$window) & scores$code %in% codes)
  scores <- rows_of(scores, shown[order(scores$sitting[shown])])
  code <- match(scores$code, codes)
  key <- (scores$person - 1) * length(codes) + code
  pairs <- sort(unique(key))
  stand <- stand_in_windows(
    match(key, pairs),
    scores$window,
    length(pairs),
    length(order)
  )
  there <- which(!is.na(t(stand$at)))
  pair <- (there - 1) %/% length(order) + 1
  window <- (there - 1) %% length(order) + 1
  row <- t(stand$at)[there]
  share <- scores$earned / scores$open
  person <- (pairs[pair] - 1) %/% length(codes) + 1
  which_code <- (pairs[pair] - 1) %% length(codes) + 1
  first <- !duplicated(pair)
  baseline <- share[row[first]][cumsum(first)]
  reached <- level_codes(share, code, codes, settings, standards)
  of_pair <- match(key, pairs)
  there_first <- first_there(
    scores,
    of_pair,
    share,
    settings,
    sittings,
    length(pairs)
  )
  since <- level_since(
    of_pair,
    reached,
    length(pairs),
    length(settings$levels)
  )
  linked <- linked_rows(link, person, scores$sitting[row], which_code)
  # The first result on the same scale.
  scale <- paste(pair, linked$reference)
  scale[!linked$linked] <- NA
  own_first <- match(scale, scale, incomparables = NA)
  table <- list(
    student = people$student[person],
    name = people$name[person],
    section = people$section[person],
    code = codes[which_code],
    title = titles_of(codes, standards)[which_code],
    window = order[window],
    sitting = sittings$name[scores$sitting[row]],
    date = sittings$date[scores$sitting[row]],
    earned = scores$earned[row],
    open = scores$open[row],
    share = share[row],
    level = names(settings$levels)[reached[row]],
    level_since = sittings$date[
      scores$sitting[since[cbind(pair, reached[row])]]
    ],
    carried = t(stand$carried)[there],
    baseline = baseline,
    gain = share[row] - baseline,
    first_there = there_first[pair],
    linked = linked$linked,
    linked_share = linked$linked_share,
    linked_low = linked$linked_low,
    linked_high = linked$linked_high,
    linked_gain = linked$linked_share - linked$linked_share[own_first],
    scale = sittings$name[linked$reference],
    reason = linked$reason,
    slope = linked$slope,
    first_slope = linked$slope[own_first],
    from = scores$sitting[row],
    first_from = scores$sitting[row][own_first],
    # Nothing has been gained on it yet.
    begins = own_first == seq_along(own_first)
  )
  frame_of(table, length(there))
}

# Of rows of growth: person, sitting and code by number.
linked_rows <- function(link, person, sitting, code) {
  n <- length(person)
  out <- list(
    linked_share = rep(NA_real_, n), linked_low = rep(NA_real_, n),
    linked_high = rep(NA_real_, n), slope = numeric(n), reason = link$reason[sitting],
    reference = link$reference[sitting]
  )
  cell <- (sitting - 1) * (max(code, 1)) + code
  for (rows in split(seq_len(n), cell)) {
    found <- link$figures[[sitting[rows[1]]]][[code[rows[1]]]]
    if (is.null(found)) next
    who <- person[rows]
    out$linked_share[rows] <- found$share[who]
    out$linked_low[rows] <- found$low[who]
    out$linked_high[rows] <- found$high[who]
    out$slope[rows] <- found$slope[who]
  }
  out$reason[is.na(out$linked_share) & is.na(out$reason)] <- "no_place"
  out$linked <- !is.na(out$linked_share)
  out
}

# The step of the levels that each share reaches, with the cuts of its code.
level_codes <- function(share, code, codes, settings, standards) {
  reached <- integer(length(share))
  for (k in seq_along(codes)) {
    mine <- which(code == k)
    reached[mine] <- match(
      level_of(
        share[mine],
        settings,
        levels_for(codes[k], settings, standards)
      ),
      names(settings$levels)
    )
  }
  reached
}

titles_of <- function(codes, standards) {
  ifelse(
    codes == whole_code,
    say("stat-growth.the_whole_test"),
    standards$title[match(codes, standards$code)]
  )
}

# For each pair and level the row of the first score at that level or above.
level_since <- function(pair, reached, n, k) {
  since <- matrix(NA_integer_, n, k)
  for (level in seq_len(k)) {
    good <- which(reached >= level)
    good <- good[!duplicated(pair[good])]
    since[pair[good], level] <- good
  }
  since
}

# The date of the first score at or above the cut.
first_there <- function(scores, pair, share, settings, sittings, n) {
  date <- rep(NA_character_, n)
  good <- which(share >= settings$mastery_cut - 1e-9)
  good <- good[!duplicated(pair[good])]
  date[pair[good]] <- sittings$date[scores$sitting[good]]
  date
}

# A row a group, code and window: means of the new results, and beside them those
# with what is carried.
group_growth <- function(growth, group, order, settings, standards, link) {
  codes <- unique(growth$code)
  labels <- sort(unique(group), method = "radix")
  key <- (match(group, labels) - 1) * length(codes) * length(order) +
    (match(growth$code, codes) - 1) * length(order) +
    match(growth$window, order)
  n_cells <- length(labels) * length(codes) * length(order)
  new <- !growth$carried
  moments <- moments_by(
    growth$share[new],
    rep(1, sum(new)),
    key[new],
    n_cells
  )
  every <- moments_by(
    growth$share,
    rep(1, nrow(growth)),
    key,
    n_cells
  )
  n <- moments$n
  mean <- ifelse(n > 0, moments$mean_x, NA_real_)
  around <- t_interval_within(mean, spread_of(moments), n, 0, 1)
  # Of those who had a result before, the same students then and now.
  again <- new & growth$window != first_windows(growth)
  gains <- moments_by(
    growth$gain[again],
    rep(1, sum(again)),
    key[again],
    n_cells
  )
  gain <- ifelse(gains$n > 0, gains$mean_x, NA_real_)
  around_gain <- t_interval_within(
    gain,
    spread_of(gains),
    gains$n,
    -1,
    1
  )
  linked <- linked_groups(growth, which(new), key, n_cells, link)
  levels <- names(settings$levels)
  level <- match(growth$level[new], levels)
  counts <- matrix(
    tabulate((level - 1) * n_cells + key[new], n_cells * length(levels)),
    n_cells,
    length(levels)
  )
  cell <- seq_len(n_cells) - 1
  table <- data.frame(
    group = labels[cell %/% (length(codes) * length(order)) + 1],
    code = codes[cell %/% length(order) %% length(codes) + 1],
    title = titles_of(codes, standards)[
      cell %/% length(order) %% length(codes) + 1
    ],
    window = order[cell %% length(order) + 1],
    n = n,
    share = mean,
    share_low = around$low,
    share_high = around$high,
    matrix(
      counts / ifelse(n > 0, n, NA_real_),
      n_cells,
      length(levels),
      dimnames = list(NULL, levels)
    ),
    gain = gain,
    gain_low = around_gain$low,
    gain_high = around_gain$high,
    gain_n = gains$n,
    carried = every$n - n,
    share_carried = ifelse(every$n > 0, every$mean_x, NA_real_),
    linked,
    check.names = FALSE
  )
  table[every$n > 0, , drop = FALSE]
}

# What the new results are on the test of reference, and the gains there of those who had
# one before.
linked_groups <- function(growth, new, key, n_cells, link) {
  known <- new[!is.na(growth$linked_share[new])]
  share <- linked_means(
    growth$linked_share[known], key[known], n_cells, link,
    growth$from[known], growth$slope[known], 0
  )
  both <- known[!growth$begins[known]]
  gain <- linked_means(
    growth$linked_gain[both], key[both], n_cells, link,
    c(growth$from[both], growth$first_from[both]),
    c(growth$slope[both], -growth$first_slope[both]), -1
  )
  first <- match(seq_len(n_cells), key[new])
  reason <- growth$reason[new][first]
  # Results that are read on the questions of different tests are no mean.
  mixed <- unique(data.frame(key = key[known], on = growth$scale[known]))
  mixed <- unique(mixed$key[duplicated(mixed$key)])
  share[c("mean", "low", "high")] <- lapply(share[c("mean", "low", "high")], function(x) {
    replace(x, mixed, NA)
  })
  share$n[mixed] <- 0
  reason[mixed] <- "other_scale"
  reason[is.na(first)] <- "few_students"
  on <- match(seq_len(n_cells), key[known])
  data.frame(
    linked = share$n > 0,
    linked_share = share$mean,
    linked_low = share$low,
    linked_high = share$high,
    linked_gain = gain$mean,
    linked_gain_low = gain$low,
    linked_gain_high = gain$high,
    scale = ifelse(share$n > 0, growth$scale[known][on], NA),
    reason = ifelse(share$n > 0, NA, reason)
  )
}

# Means by cell, with t intervals over students and the errors of the links beside them.
# from, slope: for each value the sitting whose shift moves it, and by how much; of gains
# once more for the sitting before.
linked_means <- function(values, key, n_cells, link, from, slope, lowest) {
  moments <- moments_by(values, rep(1, length(values)), key, n_cells)
  n <- moments$n
  tests <- length(link$shift)
  at <- (from - 1) * n_cells + rep_len(key, length(from))
  sums <- numeric(n_cells * tests)
  summed <- rowsum(slope, at)
  sums[as.numeric(rownames(summed))] <- summed
  moved <- matrix(sums, n_cells, tests) / pmax(n, 1)
  error <- sqrt(pmax(0, rowSums(moved %*% link$cov * moved)))
  df <- rep(Inf, n_cells)
  for (s in seq_len(tests)) {
    touched <- abs(moved[, s]) > 1e-12
    df[touched] <- pmin(df[touched], link$df[s])
  }
  t <- stats::qt(0.975, pmax(n - 1, 1))
  own <- t * spread_of(moments) / sqrt(pmax(n, 1))
  half <- sqrt(own^2 + (stats::qt(0.975, df) * error)^2)
  mean <- ifelse(n > 0, moments$mean_x, NA_real_)
  list(
    n = n, mean = mean, low = pmax(lowest, mean - half), high = pmin(1, mean + half)
  )
}

spread_of <- function(moments) {
  ifelse(
    moments$n > 1,
    sqrt(moments$xx / (moments$n - 1)),
    NA_real_
  )
}

# The window of each student's first result on each code; the rows are in order of time.
first_windows <- function(growth) {
  pair <- paste(growth$student, growth$code, sep = "\r")
  growth$window[match(pair, pair)]
}
