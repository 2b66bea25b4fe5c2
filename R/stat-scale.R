#' How hard is each question on one scale with the students?
#'
#' The Rasch model for items of 0 or 1 point and the partial credit model for items of
#' several (Rasch 1960; Masters 1982): a student's chance of a point rests on nothing but
#' the distance between the student's place and the question's. Places of questions do not
#' depend on who sat the test, as long as the model fits; `fit_p`, `infit` and `outfit`
#' say whether it does.
#'
#' @param sitting A [sitting()].
#' @param slopes Whether each item has a slope of its own: the two-parameter model, or for
#'   several points the generalised partial credit model.
#' @param least The number of students from which an item is placed: by default 30, and
#'   with slopes 250.
#' @return A data frame, a row an item, in the order of the test: `item`, `type`, `n`:
#'   students who have points on it; `categories`: how many different
#'   numbers of points were earned; `place`: where on the scale, in logits, the highest
#'   and the lowest of them are equally likely, 0 being the mean of the items; `se`, and
#'   with it the 95% interval `place_low`, `place_high`; `steps`: where each number of
#'   points becomes as likely as the one below it, from the lowest up, `;` between;
#'   `slope`: how fast the chances change along the scale, 1 for all without `slopes`,
#'   else with its 95% interval `slope_low`, `slope_high`;
#'   `infit`, `outfit`: mean squares of what the model does not explain, weighted by
#'   information and not, with 1 expected, and `infit_low`, `infit_high`, `outfit_low`,
#'   `outfit_high`, in which 95 of 100 items lie that fit; `fit_p`: of S-X² over the
#'   scores or of infit, twice the smaller, corrected for the number of items (Holm
#'   1979); `fit`: `misfits` where that is below .05 and infit 1.1 or more (an item that
#'   follows the rest more closely than the model has it harms nobody, and of many
#'   thousands of students every trifle shows), else `none_seen`, and `NA` where fewer
#'   than 5 items are placed, or the item is not; `reason`: why the
#'   place is `NA`: `dropped`, `few_students`, `all_right`, `none_right`, `many_values`
#'   (more than 10 different numbers of points), `few_items` (there is no other item),
#'   `not_linked` (nobody's answers set it beside the others), `reversed` (with `slopes`:
#'   the stronger do no better on it, so that it has no place).
#'
#'   The students' places are in [summarise_places()].
#' @details Estimated by conditional maximum likelihood given each student's total over
#'   the items, the elementary symmetric functions and all but one or two of their items
#'   by sums and products of positive numbers (Verhelst, Glas & van der Sluis 1984), and
#'   Newton's method; `se` from the inverse information (Andersen 1972). What counts is
#'   which of its numbers of points was earned, not how many points each is worth. A
#'   number of points that nobody earned is no category. Students whose items differ (not
#'   given, excused, waiting for a mark) are taken together by the items they have; who
#'   was absent is not counted, an omitted answer is the lowest category.
#'
#'   With slopes the estimates are by marginal maximum likelihood, the students taken for
#'   a sample of a normal population whose mean is 0 and whose standard deviation is 1,
#'   which makes the scale (Bock & Aitkin 1981; Muraki 1992): the EM algorithm over 41
#'   places from -5 to 5; standard errors from the students' own shares in the
#'   likelihood's slope. Forms that share nothing are then on one scale only as far as
#'   those who sat them are alike.
#'
#'   S-X² sets the categories at each score beside what the model expects there,
#'   neighbouring scores taken together until at least one student is expected, with as
#'   many degrees of freedom as cells that can vary less the item's steps.
#' @references Rasch, G. (1960). *Probabilistic models for some intelligence and
#' attainment tests*. Danish Institute for Educational Research.
#'
#' Andersen, E. B. (1972). The numerical solution of a set of conditional estimation
#' equations. *Journal of the Royal Statistical Society B* 34, 42-54.
#'
#' Masters, G. N. (1982). A Rasch model for partial credit scoring. *Psychometrika* 47,
#' 149-174.
#'
#' Wright, B. D. & Masters, G. N. (1982). *Rating scale analysis*. MESA Press.
#'
#' Bock, R. D. & Aitkin, M. (1981). Marginal maximum likelihood estimation of item
#' parameters: application of an EM algorithm. *Psychometrika* 46, 443-459.
#'
#' Muraki, E. (1992). A generalized partial credit model: application of an EM algorithm.
#' *Applied Psychological Measurement* 16, 159-176.
#'
#' Verhelst, N. D., Glas, C. A. W. & van der Sluis, A. (1984). Estimation problems in the
#' Rasch model: the basic symmetric functions. *Computational Statistics Quarterly* 1,
#' 245-262.
#'
#' Orlando, M. & Thissen, D. (2000). Likelihood-based item-fit indices for dichotomous
#' item response theory models. *Applied Psychological Measurement* 24, 50-64.
#' @section Errors: `pregunta_error_call` when `least` is no number from 2 on.
#' @export
#' @examples
#' summarise_scale(read_sitting(demo_path()))
summarise_scale <- function(sitting, slopes = FALSE, least = if (slopes) 250 else 30) {
  check_is_sitting(sitting)
  check_least(least)
  data <- scale_data(sitting, least)
  scale <- if (slopes) fit_slopes(data) else fit_scale(data)
  table <- if (slopes) slopes_table(sitting, scale) else scale_table(sitting, scale)
  new_summary(
    table, "scale", sitting$settings, NULL,
    places = if (slopes) places_counted(scale) else scale_places(scale),
    slopes = slopes,
    n = length(scale$rows),
    least = least
  )
}

#' Where does each student stand on the scale of the questions?
#'
#' @inheritParams summarise_scale
#' @return A data frame, a row a student, in the order of the sitting: `student`, `name`,
#'   `section`; `items`: how many of the placed items the student has; `share` of their
#'   points; `place` in logits, by weighted likelihood (Warm 1989), which is finite for
#'   all right and for nothing right as well, and its standard error `se`; `reason`: why
#'   it is `NA`: `absent`, or `no_place`, where fewer than two placed items were given.
#' @details Of all students with the same items and the same number of steps done the
#'   place is the same. The standard error is the inverse square root of the information
#'   at the place: it is of one student on a test like this one, the error of the items'
#'   places not being in it.
#' @references Warm, T. A. (1989). Weighted likelihood estimation of ability in item
#' response theory. *Psychometrika* 54, 427-450.
#' @inheritSection summarise_scale Errors
#' @export
#' @examples
#' summarise_places(read_sitting(demo_path())) |> head()
summarise_places <- function(sitting, slopes = FALSE, least = if (slopes) 250 else 30) {
  check_is_sitting(sitting)
  check_least(least)
  data <- scale_data(sitting, least)
  scale <- if (slopes) fit_slopes(data) else fit_scale(data)
  n <- nrow(sitting$students)
  table <- data.frame(
    sitting$students[c("student", "name", "section")],
    items = NA_integer_,
    share = NA_real_,
    place = NA_real_,
    se = NA_real_,
    reason = ifelse(was_present(sitting), "no_place", "absent")
  )
  placed <- if (slopes) slopes_places(scale) else places_of_all(scale)
  rows <- placed$rows
  if (length(rows)) {
    given <- data$category[rows, scale$number, drop = FALSE] >= 0
    table$items[rows] <- as.integer(rowSums(given))
    table$place[rows] <- placed$place
    table$se[rows] <- placed$se
    table$share[rows] <- row_scores(
      sitting$codes[rows, , drop = FALSE], sitting$cells, scale$number
    )$share
    table$reason[rows] <- NA_character_
  }
  new_summary(table, "places", sitting$settings, NULL)
}

check_least <- function(least) {
  sound <- is.numeric(least) && length(least) == 1 && !is.na(least) && least >= 2
  if (sound) return(invisible())
  abort_pregunta(
    "call",
    say("stat-scale.least_is_a_number"),
    say("stat-scale.given", least = some_of(as.character(least), 3)),
    NULL
  )
}

# ---- what is known of each answer ----------------------------------------------------

most_categories <- 10

# The answers as categories from 0 on, a row a student and a column an item, -1 where
# there are no points; most: the highest category of each item, values: the points of
# each; present: the rows that count. Items that cannot be placed have a reason.
scale_data <- function(sitting, least) {
  present <- which(was_present(sitting))
  seen <- points_seen(sitting)
  dropped <- sitting$items$item %in% dropped_items(sitting)
  reason <- ifelse(dropped, "dropped", NA_character_)
  k <- length(seen)
  category <- matrix(-1L, nrow(sitting$codes), k)
  values <- rep(list(numeric()), k)
  for (j in which(!dropped)) {
    values[[j]] <- sort(unique(round(as.numeric(seen[[j]]$points), 9)))
    of_code <- match(round(sitting$cells[[j]]$points, 9), values[[j]], 0L) - 1L
    category[present, j] <- of_code[sitting$codes[present, j]]
    n <- sum(seen[[j]]$count)
    reason[j] <- reason_for(values[[j]], n, sitting$items$points[j], least)
  }
  list(
    category = category, most = pmax(0L, lengths(values) - 1L), values = values,
    reason = reason, present = present
  )
}

reason_for <- function(values, n, most, least) {
  data.table::fcase(
    n < least, "few_students",
    length(values) == 1 && values[1] >= most - 1e-9, "all_right",
    length(values) == 1, "none_right",
    length(values) > most_categories, "many_values",
    default = NA_character_
  )
}

# Students with the same items, of which they have at least two.
scale_patterns <- function(data) {
  placed <- which(is.na(data$reason))
  if (length(placed) < 2) return(list())
  has <- data$category[data$present, placed, drop = FALSE] >= 0
  key <- do.call(paste0, as.data.frame(has + 0L))
  alike <- split(seq_along(data$present), match(key, unique(key)))
  patterns <- lapply(alike, function(rows) {
    items <- placed[has[rows[1], ]]
    if (length(items) < 2) return(NULL)
    rows <- data$present[rows]
    counts <- category_counts(data$category, rows, items, data$most)
    c(list(items = items, rows = rows), counts)
  })
  unname(Filter(Negate(is.null), patterns))
}

# ---- estimation ------------------------------------------------------------------------

# easiness: of each placed item, for each category above the lowest; cov: their
# covariances where the items' mean place is 0.
fit_scale <- function(data) {
  repeat {
    patterns <- scale_patterns(data)
    met <- linked_items(data, patterns)
    apart <- setdiff(which(is.na(data$reason)), met)
    if (!length(apart)) break
    alone <- length(apart) == sum(is.na(data$reason))
    data$reason[apart] <- if (alone && length(apart) < 2) "few_items" else "not_linked"
  }
  number <- which(is.na(data$reason))
  scale <- list(
    reason = data$reason, number = number, most = data$most[number],
    rows = sort(unlist(lapply(patterns, `[[`, "rows"))),
    patterns = lapply(patterns, function(one) {
      one$items <- match(one$items, number)
      one
    })
  )
  if (!length(number)) return(scale)
  c(scale, maximise_conditional(scale$patterns, scale$most))
}

# Items that students set beside each other, directly or by way of others: the largest
# such set. Two items are, when somebody did better on the one than on the other and
# somebody did not; items whose categories nobody has both below and above another's
# cannot be placed (Fischer 1981).
linked_items <- function(data, patterns) {
  placed <- which(is.na(data$reason))
  if (!length(patterns)) return(integer())
  k <- length(data$reason)
  better <- matrix(FALSE, k, k)
  for (pattern in patterns) {
    inner <- pattern$score > 0 & pattern$score < length(pattern$n) - 1
    rows <- pattern$rows[inner]
    some <- data$category[rows, pattern$items, drop = FALSE]
    above <- some > 0
    below <- sweep(some, 2, data$most[pattern$items], `<`)
    better[pattern$items, pattern$items] <- better[pattern$items, pattern$items] |
      crossprod(above, below) > 0
  }
  diag(better) <- TRUE
  reach <- better[placed, placed, drop = FALSE]
  repeat {
    further <- reach %*% reach > 0
    if (identical(further, reach)) break
    reach <- further
  }
  both <- reach & t(reach)
  sets <- unique(lapply(seq_along(placed), function(j) which(both[j, ])))
  largest <- sets[[which.max(lengths(sets))]]
  if (length(largest) > 1) placed[largest]
}

# Newton's method; the likelihood does not know where 0 is, so that direction is taken
# out. Half a step where a whole one would go too far.
maximise_conditional <- function(patterns, most) {
  first <- cumsum(c(0, most))
  steps <- sequence(most)
  of_item <- rep(seq_along(most), most)
  seen <- numeric(sum(most))
  lowest <- numeric(length(most))
  for (pattern in patterns) {
    for (j in seq_along(pattern$items)) {
      item <- pattern$items[j]
      at <- first[item] + seq_len(most[item])
      students <- rowSums(pattern$counts[[j]])
      seen[at] <- seen[at] + students[-1]
      lowest[item] <- lowest[item] + students[1]
    }
  }
  direction <- steps / sqrt(sum(steps^2))
  easiness <- log((seen + 0.5) / (lowest[of_item] + 0.5))
  easiness <- easiness - direction * sum(direction * easiness)
  now <- conditional_sums(easiness, patterns, most, first)
  value <- sum(seen * easiness) - now$loss
  for (round in seq_len(100)) {
    gradient <- seen - now$expected
    move <- solve(now$information + tcrossprod(direction), gradient)
    size <- 1
    repeat {
      tried <- conditional_sums(easiness + size * move, patterns, most, first)
      reached <- sum(seen * (easiness + size * move)) - tried$loss
      if (is.finite(reached) && reached >= value - 1e-9 * abs(value) || size < 1e-6) break
      size <- size / 2
    }
    easiness <- easiness + size * move
    now <- tried
    value <- reached
    if (max(abs(size * move)) < 1e-10) break
  }
  inverse <- solve(now$information + tcrossprod(direction)) - tcrossprod(direction)
  # The mean of the items' places is 0.
  centre <- matrix(0, length(most), length(easiness))
  centre[cbind(seq_along(most), first[-1])] <- -1 / most
  middle <- colMeans(centre)
  shift <- diag(length(easiness)) - outer(steps, -middle)
  easiness <- as.vector(shift %*% easiness)
  list(
    easiness = unname(split(easiness, of_item)),
    centre = centre,
    cov = shift %*% inverse %*% t(shift)
  )
}

conditional_sums <- function(easiness, patterns, most, first) {
  p <- length(easiness)
  of_item <- rep(seq_along(most), most)
  by_item <- unname(split(easiness, of_item))
  sums <- list(loss = 0, expected = numeric(p), information = matrix(0, p, p))
  for (pattern in patterns) {
    found <- conditional_counts(by_item[pattern$items], pattern$n)
    at <- unlist(lapply(pattern$items, function(j) first[j] + seq_len(most[j])))
    sums$loss <- sums$loss + found$loss
    sums$expected[at] <- sums$expected[at] + found$expected
    sums$information[at, at] <- sums$information[at, at] + found$information
  }
  sums
}

# ---- places of students ----------------------------------------------------------------

# Chances of the categories of an item at some places, a row a category.
category_chances <- function(easiness, places) {
  steps <- seq_along(easiness)
  logs <- rbind(0, outer(steps, places) + easiness)
  logs <- sweep(logs, 2, apply(logs, 2, max))
  sweep(exp(logs), 2, colSums(exp(logs)), `/`)
}

# Of each item the mean, the variance and the third and fourth moments around the mean.
item_moments <- function(easiness, places) {
  lapply(easiness, function(one) {
    chances <- category_chances(one, places)
    value <- seq_along(one)
    value <- c(0, value)
    mean <- colSums(chances * value)
    away <- outer(value, mean, `-`)
    list(
      mean = mean, var = colSums(chances * away^2), third = colSums(chances * away^3),
      fourth = colSums(chances * away^4)
    )
  })
}

# By weighted likelihood, for each score from 0 on.
places_of_scores <- function(easiness) {
  found <- weighted_places(easiness)
  list(place = found[1, ], se = 1 / sqrt(found[2, ]))
}

# A row a student who counts.
places_of_all <- function(scale) {
  rows <- lapply(scale$patterns, function(pattern) {
    found <- places_of_scores(scale$easiness[pattern$items])
    at <- pattern$score + 1
    data.frame(rows = pattern$rows, place = found$place[at], se = found$se[at])
  })
  as.list(do.call(rbind, rows))
}

# Of the students with the same items each score's place, its error, and how many there
# are.
scale_places <- function(scale) {
  none <- data.frame(
    pattern = integer(), score = integer(), n = numeric(), place = numeric(),
    se = numeric()
  )
  places <- lapply(seq_along(scale$patterns), function(k) {
    pattern <- scale$patterns[[k]]
    found <- places_of_scores(scale$easiness[pattern$items])
    some <- which(pattern$n > 0)
    data.frame(
      pattern = rep(k, length(some)), score = some - 1L, n = pattern$n[some],
      place = found$place[some], se = found$se[some]
    )
  })
  do.call(rbind, c(list(none), places))
}

# ---- the table -------------------------------------------------------------------------

empty_scale_table <- function(sitting, scale) {
  blank <- rep(NA_real_, nrow(sitting$items))
  table <- data.frame(
    item = sitting$items$item, type = sitting$items$type, n = 0L,
    categories = NA_integer_,
    place = blank, se = blank, place_low = blank, place_high = blank,
    steps = NA_character_, slope = blank, slope_low = blank, slope_high = blank,
    infit = blank, infit_low = blank, infit_high = blank,
    outfit = blank, outfit_low = blank, outfit_high = blank, fit_p = blank,
    fit = NA_character_, reason = scale$reason
  )
  table$n <- as.integer(vapply(points_seen(sitting), function(one) sum(one$count), 0))
  table
}

scale_table <- function(sitting, scale) {
  table <- empty_scale_table(sitting, scale)
  at <- scale$number
  if (!length(at)) return(table)
  place <- as.vector(scale$centre %*% unlist(scale$easiness))
  se <- sqrt(diag(scale$centre %*% scale$cov %*% t(scale$centre)))
  table$categories[at] <- scale$most + 1L
  table$place[at] <- place
  table$se[at] <- se
  table$place_low[at] <- place - stats::qnorm(0.975) * se
  table$place_high[at] <- place + stats::qnorm(0.975) * se
  table$steps[at] <- vapply(scale$easiness, function(one) {
    written_steps(-diff(c(0, one)))
  }, "")
  table$slope[at] <- 1
  put_fit(table, at, scale_fit(scale))
}

written_steps <- function(steps) paste(format_plain(round(steps, 3)), collapse = ";")

put_fit <- function(table, at, fit) {
  columns <- c(
    "infit", "infit_low", "infit_high", "outfit", "outfit_low", "outfit_high", "fit_p"
  )
  table[at, columns] <- fit[columns]
  wrong <- table$fit_p < 0.05 & table$infit >= least_misfit
  if (length(at) >= least_items) table$fit <- c("none_seen", "misfits")[1 + wrong]
  table
}

least_misfit <- 1.1

# How each item fits, from the counts of categories at each score.
scale_fit <- function(scale) {
  k <- length(scale$number)
  sums <- matrix(0, k, 8, dimnames = list(NULL, c(
    "n", "square", "z", "var", "in_var", "out_var", "chi", "df"
  )))
  for (pattern in scale$patterns) {
    easiness <- scale$easiness[pattern$items]
    place <- places_of_scores(easiness)$place
    moments <- item_moments(easiness, place)
    given <- conditional_counts(easiness, pattern$n)$given
    first <- cumsum(c(0, lengths(easiness)))
    for (j in seq_along(easiness)) {
      counts <- pattern$counts[[j]]
      n <- colSums(counts)
      m <- moments[[j]]
      away <- outer(seq_len(nrow(counts)) - 1, m$mean, `-`)
      used <- n > 0
      square <- colSums(counts * away^2)[used]
      row <- pattern$items[j]
      expected <- given[first[j] + seq_len(scale$most[row]), , drop = FALSE]
      chi <- score_fit(counts, rbind(1 - colSums(expected), expected), n)
      sums[row, ] <- sums[row, ] + c(
        sum(n), sum(square), sum(square / m$var[used]), sum((n * m$var)[used]),
        sum((n * (m$fourth - m$var^2))[used]),
        sum((n * (m$fourth / m$var^2 - 1))[used]), chi
      )
    }
  }
  fit_of_sums(as.data.frame(sums), scale$most)
}

# own: how many figures of each item were estimated.
fit_of_sums <- function(sums, own) {
  around <- function(ratio, var) {
    # Mean squares are skewed: their cube roots are nearly normal (Wilson & Hilferty
    # 1931).
    q <- sqrt(pmax(var, 0))
    bound <- function(z) pmax(0, 1 + q / 3 * (z - q / 3))^3
    list(ratio, bound(stats::qnorm(0.025)), bound(stats::qnorm(0.975)))
  }
  infit <- around(sums$square / sums$var, sums$in_var / sums$var^2)
  outfit <- around(sums$z / sums$n, sums$out_var / sums$n^2)
  df <- sums$df - own
  by_score <- ifelse(df >= 1, stats::pchisq(sums$chi, pmax(df, 1), lower.tail = FALSE), 1)
  q <- sqrt(sums$in_var) / sums$var
  by_infit <- 2 * stats::pnorm(-abs((infit[[1]]^(1 / 3) - 1) * 3 / q + q / 3))
  p <- pmin(1, 2 * pmin(by_score, by_infit))
  list(
    n = sums$n,
    infit = infit[[1]], infit_low = infit[[2]], infit_high = infit[[3]],
    outfit = outfit[[1]], outfit_low = outfit[[2]], outfit_high = outfit[[3]],
    fit_p = stats::p.adjust(p, "holm")
  )
}

# The sum of squares over cells and how many of them can vary. Scores next to each other
# are taken together until each category has somebody expected in it.
score_fit <- function(counts, chances, n) {
  inner <- which(n > 0 & seq_along(n) > 1 & seq_along(n) < length(n))
  chi <- df <- 0
  seen <- wanted <- numeric(nrow(counts))
  for (r in inner) {
    seen <- seen + counts[, r]
    wanted <- wanted + n[r] * chances[, r]
    if (any(wanted < 1) && r != inner[length(inner)]) next
    enough <- wanted >= 1
    if (sum(enough) >= 2) {
      if (any(!enough)) {
        seen <- c(seen[enough], sum(seen[!enough]))
        wanted <- c(wanted[enough], sum(wanted[!enough]))
      }
      used <- wanted > 0.5
      chi <- chi + sum((seen[used] - wanted[used])^2 / wanted[used])
      df <- df + sum(used) - 1
    }
    seen <- wanted <- numeric(nrow(counts))
  }
  c(chi, df)
}
