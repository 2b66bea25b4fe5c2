#' How did each question go?
#'
#' Difficulty, discrimination and their uncertainty for every item, in printed
#' order.
#'
#' @param sitting A [sitting()], or a tally made of one by [tally_responses()].
#' @param by The name of a column of the students; the figures are then given
#'   for each of its values, in a first column of that name. Of several columns
#'   each is taken within the one before, as in `c("teacher", "section")`: first
#'   come the figures of the first teacher (`section` is `NA`), then those of each
#'   section of this teacher, and so on.
#' @param bootstrap The number of replicates, 0 or at least 100, for intervals of
#'   the figures that no formula gives one for: resampled students, percentiles.
#' @param seed Of the replicates: the same seed gives the same intervals.
#' @return A data frame, a row an item (and group):
#'   * `item`, `type`; `n`: students with points on it; `omitted`,
#'     `not_reached`: blanks with and without a later answer;
#'   * `points`: the most it gives; `mean_points`;
#'   * `difficulty`: `mean_points / points`, so high means easy (Crocker &
#'     Algina 1986), with `difficulty_low`, `difficulty_high`: the 95% Wilson
#'     score interval when all earned nothing or everything (Wilson 1927), else
#'     mean ± t s/√n, cut to 0..1;
#'   * `discrimination`: Pearson correlation of the points with those on the
#'     rest of the test (Henrysson 1963), with the Fisher z interval
#'     `discrimination_low`, `discrimination_high` (Fisher 1921);
#'   * `upper_lower`: difficulty in the upper 27% by total minus that in the
#'     lower 27%, ties shared (Kelley 1939; Ebel & Frisbie 1991);
#'   * `alpha_without`: coefficient alpha of the test without the item
#'     (Cronbach 1951);
#'   * `reason`: why a discrimination is `NA`: `all_right`, `none_right`,
#'     `same_points` (everyone earned the same), `no_rest` (no spread in the rest
#'     of the test), `few_items` (there is no other item) or `few_students` (under 3;
#'     the interval needs 4);
#'   * `low`, `middle`, `high`: difficulty within the thirds by total;
#'   * `mastery_index`: difficulty among students at or above the setting
#'     `mastery_cut` minus that of the rest (Brennan 1972), `NA` where one side
#'     is empty; `chance`: 1 / number of options of a one-answer choice item;
#'   * `difficulty_band` (hard, middling, easy) and `discrimination_band`
#'     (strong, good, marginal, weak, reversed, unknown), from the
#'     setting `thresholds`;
#'   * `alpha_without_low`, `alpha_without_high`: 95% interval of `alpha_without`
#'     (Feldt 1965);
#'   * `masters`, `others`: the two difficulties of the mastery index, and its 95%
#'     interval `mastery_index_low`, `mastery_index_high` from the Wilson intervals
#'     of both (Newcombe 1998, method 10; wider than need be where points are
#'     given in parts).
#'
#'   With `bootstrap`, also the 95% percentile interval `upper_lower_low`,
#'   `upper_lower_high`.
#'
#'   Where cells are `NA` (an item not given, pending or excused), scores are
#'   compared as shares of the points open to the student.
#' @references Brennan, R. L. (1972). A generalized upper-lower item discrimination index.
#' *Educational and Psychological Measurement* 32, 289-303.
#'
#' Crocker, L. & Algina, J. (1986). *Introduction to Classical and Modern Test
#' Theory*. Holt, Rinehart and Winston.
#'
#' Cronbach, L. J. (1951). Coefficient alpha and the internal structure of
#' tests. *Psychometrika* 16, 297-334.
#'
#' Ebel, R. L. & Frisbie, D. A. (1991). *Essentials of Educational Measurement*,
#' 5th edition. Prentice Hall.
#'
#' Fisher, R. A. (1921). On the "probable error" of a coefficient of correlation
#' deduced from a small sample. *Metron* 1, 3-32.
#'
#' Henrysson, S. (1963). Correction of item-total correlations in item analysis.
#' *Psychometrika* 28, 211-218.
#'
#' Kelley, T. L. (1939). The selection of upper and lower groups for the
#' validation of test items. *Journal of Educational Psychology* 30, 17-24.
#'
#' Newcombe, R. G. (1998). Interval estimation for the difference between
#' independent proportions. *Statistics in Medicine* 17, 873-890.
#'
#' Wilson, E. B. (1927). Probable inference, the law of succession, and
#' statistical inference. *Journal of the American Statistical Association* 22,
#' 209-212.
#' @section Errors: `pregunta_error_call` when `by` is no column of the students,
#'   or a tally is given where students are to be resampled.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' summarise_items(quiz)
#' summarise_items(quiz, by = "section") |> head(3)
summarise_items <- function(sitting, by = NULL, bootstrap = 0, seed = 1) {
  check_bootstrap(sitting, bootstrap, seed)
  by_depth(sitting, by, function(sitting, by) {
    group_items(sitting, as_tally(sitting, by), bootstrap, seed)
  })
}

group_items <- function(sitting, tally, bootstrap, seed) {
  about <- tally$about
  size <- length(tally$groups) * nrow(tally$items)
  item <- rep(seq_len(nrow(tally$items)), length(tally$groups))
  figures <- item_points_figures(tally, size)
  counted <- tally$items$counted
  figures <- c(
    figures,
    item_discrimination(tally$sums, counted, size, figures)
  )
  figures$reason[about$items$item[item] %in% about$dropped] <- "dropped"
  groups <- item_group_shares(tally$sums, size, figures$points)
  without <- alpha_without(tally)
  n_options <- tabulate(
    match(about$options$item, about$items$item),
    nrow(about$items)
  )[
    item
  ]
  is_chosen <- is_answered(about$items$type, "chosen") & !is.na(about$items$key)
  one_right <- logical(nrow(about$items))
  one_right[is_chosen] <- lengths(right_options(about$items[is_chosen, ])) == 1
  one_answer <- one_right[item] & n_options > 1

  table <- quick_frame(
    c(
      list(item = tally$items$item[item], type = about$items$type[item]),
      figures[
        c(
          "n", "omitted", "not_reached", "points", "mean_points", "difficulty",
          "difficulty_low", "difficulty_high", "discrimination",
          "discrimination_low", "discrimination_high"
        )
      ],
      list(
        upper_lower = groups$upper - groups$lower,
        alpha_without = without$alpha_without,
        reason = figures$reason
      ),
      groups[c("low", "middle", "high", "mastery_index")],
      list(
        chance = ifelse(one_answer, 1 / n_options, NA_real_),
        difficulty_band = difficulty_band(
          figures$difficulty,
          about$settings$thresholds
        ),
        discrimination_band = discrimination_band(
          figures$discrimination,
          about$settings$thresholds
        )
      ),
      without[c("alpha_without_low", "alpha_without_high")],
      groups[c("masters", "others", "mastery_index_low", "mastery_index_high")]
    )
  )
  if (bootstrap > 0) {
    table <- cbind(
      table,
      item_bounds(sitting, tally$by, bootstrap, seed)
    )
  }
  table <- with_group(table, tally, nrow(tally$items))
  table <- withhold_small(
    table,
    "n",
    c("item", "type", "points", tally$by),
    about$settings,
    tally$by,
    "item",
    lapply(
      c("omitted", "not_reached"),
      counts_of_students,
      rows = FALSE
    )
  )
  new_summary(table, "items", about$settings, tally$by)
}

item_points_figures <- function(tally, size) {
  sums <- tally$sums
  points <- rep(tally$items$points, length(tally$groups))
  use <- which(sums$valued)
  x <- sums$x[use]
  key <- sums$key[use]
  moments <- moments_by(x, sums$count[use], key, size)
  blank <- function(state) sums$count * (sums$state == state)
  blanks <- sum_by(
    list(omitted = blank("omitted"), not_reached = blank("not_reached")),
    sums$key,
    size
  )
  partly <- tabulate(key[x > 1e-9 & x < points[key] - 1e-9], size) > 0
  n <- moments$n
  mean_points <- ifelse(n > 0, moments$mean_x, NA_real_)
  difficulty <- mean_points / points
  wilson <- wilson_interval(pmin(1, difficulty), n)
  around <- t_interval(mean_points, sqrt(moments$xx / (n - 1)), n)
  list(
    n = n,
    omitted = blanks[, "omitted"],
    not_reached = blanks[, "not_reached"],
    points = points,
    mean_points = mean_points,
    difficulty = difficulty,
    difficulty_low = ifelse(
      partly,
      pmax(0, around$low / points),
      wilson$low
    ),
    difficulty_high = ifelse(
      partly,
      pmin(1, around$high / points),
      wilson$high
    ),
    spread = moments$xx > 1e-12
  )
}

item_discrimination <- function(sums, counted, size, figures) {
  use <- which(sums$valued & sums$n_rest > 0)
  moments <- moments_of_sums(
    sums$x[use],
    sums$n_rest[use],
    sums$rest[use],
    sums$rest_squares[use],
    sums$key[use],
    size
  )
  r <- ifelse(moments$n >= 3, correlation(moments), NA_real_)
  interval <- fisher_interval(r, moments$n)
  share <- figures$difficulty
  reason <- data.table::fcase(
    !is.na(r), NA_character_,
    figures$n < 3, "few_students",
    figures$spread & sum(counted) < 2, "few_items",
    figures$spread & moments$n < 3, "few_students",
    figures$spread, "no_rest",
    share > 1 - 1e-9, "all_right",
    share < 1e-9, "none_right",
    default = "same_points"
  )
  list(
    discrimination = r,
    discrimination_low = interval$low,
    discrimination_high = interval$high,
    reason = reason
  )
}

# Difficulty within the groups of students by their total.
item_group_shares <- function(sums, size, points) {
  use <- which(sums$valued)
  weighted <- sums$weighted[use, , drop = FALSE]
  n <- sum_by(weighted, sums$key[use], size)
  difficulty <- sum_by(
    weighted * (sums$x[use] / points[sums$key[use]]),
    sums$key[use],
    size
  ) /
    n
  difficulty[n <= 0] <- NA
  masters <- difficulty[, "master"]
  others <- difficulty[, "rest"]
  apart <- share_difference(
    masters,
    wilson_interval(pmin(1, masters), n[, "master"]),
    others,
    wilson_interval(pmin(1, others), n[, "rest"])
  )
  list(
    upper = difficulty[, "upper"],
    lower = difficulty[, "lower"],
    low = difficulty[, "low"],
    middle = difficulty[, "middle"],
    high = difficulty[, "high"],
    masters = masters,
    others = others,
    mastery_index = masters - others,
    mastery_index_low = apart$low,
    mastery_index_high = apart$high
  )
}

difficulty_band <- function(difficulty, thresholds) {
  data.table::fcase(
    difficulty < thresholds$hard - 1e-12, "hard",
    difficulty < thresholds$easy - 1e-12, "middling",
    !is.na(difficulty), "easy"
  )
}

discrimination_band <- function(discrimination, thresholds) {
  cuts <- c(
    -Inf, 0, thresholds$marginal, thresholds$good, thresholds$strong, Inf
  )
  band <- cut(
    discrimination,
    cuts,
    c("reversed", "weak", "marginal", "good", "strong"),
    right = FALSE
  )
  ifelse(is.na(discrimination), "unknown", as.character(band))
}
