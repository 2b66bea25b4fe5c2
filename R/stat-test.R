#' How did the test go, and can its scores be trusted?
#'
#' What needs more than the responses stands apart: [summarise_decisions()] for
#' a cut, [summarise_parts()] for strata, [summarise_fairness()] for two groups,
#' [summarise_precision()] for each score, [summarise_lengths()] for a target.
#'
#' @inheritParams summarise_items
#' @return A data frame of one row (or a row a group):
#'   * `n`: students who sat it; `absent`; `items`, `points`: those that count
#'     (an item nobody has points on yet does not);
#'   * `mean`, `median`, `sd` (n - 1), `lowest`, `highest` (`NA` with the setting
#'     `smallest_group`): of the totals, in points, as students have them, with the extra
#'     points of [adjust()]. Where cells are `NA`, a total is the share of the student's
#'     open points times `points`. What is said of items and of reliability rests on what
#'     the items gave;
#'   * `alpha`: coefficient alpha, J/(J-1) (1 - Σ s²\[j\] / s²\[T\]) for J items with
#'     variances s²\[j\] and totals with s²\[T\]; the same figure as KR-20 for 0/1 items
#'     (Cronbach 1951; Kuder & Richardson 1937), with its 95% interval
#'     `alpha_low`, `alpha_high`: 1 - (1 - alpha) F, F the .975 and .025
#'     quantiles with n-1 and (n-1)(J-1) degrees of freedom (Feldt 1965);
#'   * `kr21`: J/(J-1) (1 - M(J-M) / (J s²\[T\])), M the mean total, only when
#'     every item gives 0 or 1 (Kuder & Richardson 1937);
#'   * `lambda2`: the sum of the covariances of items plus the root of J/(J-1)
#'     times the sum of their squares, divided by s²\[T\] (Guttman 1945);
#'     `split_half`: 2r/(1+r), r the correlation of odd with even items in
#'     printed order (Spearman 1910; Brown 1910);
#'   * `sem`: standard error of measurement, sd · √(1 - alpha), in points
#'     (Lord & Novick 1968). `lambda2` and `split_half` are `NA` for a tally
#'     made without products;
#'   * `n_complete`: students given every counted item, on whom reliability
#'     rests; `reason`: why it is `NA`: `few_items` (under 2), `few_students`
#'     (under 2), `few_complete` (fewer than 2 were given every item) or `no_spread`
#'     (all have the same total). With `by` the counted items are those that anybody of
#'     the group has points on. `by = "form"` gives the figures of each form: of the
#'     students' column `form`, or, where there is none, of those who were given the same
#'     items;
#'   * `lower_quartile`, `upper_quartile` (the default quantile of R),
#'     `skewness` (third moment over the 1.5th power of the second, with n),
#'     `mean_share`; `hard`, `middling`, `easy`: number of items in each
#'     difficulty band; `mean_seconds`: mean time of the students whose time is
#'     known (a column `seconds` of the responses);
#'   * `humps`: 2 where the average hides two groups, else 1; `NA` under 15 students or 5
#'     items and, with more than 40 groups, for each of them; `lower_n`, `lower_mean`,
#'     `upper_mean`: how many are in the lower group, and the means of both in points, on
#'     both sides of the cut that leaves most of the sum of squares between them;
#'     `between_n`: how many are in the middle third of the way between the means. Two
#'     groups are said where the scores' likelihood under two normal groups 2.5 of their
#'     standard deviations apart, beside that under one, is at least .5 and among the 2%
#'     largest of 999 samples of one group (Neyman & Pearson 1933; Efron & Tibshirani
#'     1993): students whose ability is normal, on items as many and as hard as these
#'     (Lord & Wingersky 1984). `vignette("accuracy")` says how far apart two groups must
#'     be to be seen;
#'   * `mean_low`, `mean_high`: the 95% t interval of the mean, cut to 0..`points`;
#'     `length_for_target`: how many items like these would reach the setting
#'     `target_reliability`; see [summarise_lengths()];
#'   * a column for each of the setting `levels`: the share of students in it;
#'   * with `by`, `difference`: the group's mean share of the points minus that of
#'     the other students (of the group around it), its 95% interval
#'     `difference_low`, `difference_high` (Welch 1947), and `beyond_chance`:
#'     whether that is more than chance would bring, among all groups beside it
#'     (Benjamini & Hochberg 1995, at .05); `NA` below two students on a side,
#'     and where all scores on a side are equal;
#'   * with `bootstrap`, 95% percentile intervals of the figures without a
#'     formula for one (Efron & Tibshirani 1993): `median_low`, `median_high`, and
#'     so on for `sd`, `kr21`, `lambda2`, `split_half` and `sem`. `NA` where the
#'     figure could not be had in 90% of the replicates.
#'
#'   Reliability is `NA` with fewer than two items ("fewer than 2 items"), with
#'   fewer than two complete students ("too few students") or when all their
#'   totals are equal ("no spread in the totals").
#' @references Benjamini, Y. & Hochberg, Y. (1995). Controlling the false discovery rate.
#' *Journal of the Royal Statistical Society, Series B* 57, 289-300.
#'
#' Brown, W. (1910). Some experimental results in the correlation of mental
#' abilities. *British Journal of Psychology* 3, 296-322.
#'
#' Cronbach, L. J. (1951). Coefficient alpha and the internal structure of
#' tests. *Psychometrika* 16, 297-334.
#'
#' Efron, B. & Tibshirani, R. J. (1993). *An Introduction to the Bootstrap*.
#' Chapman & Hall.
#'
#' Feldt, L. S. (1965). The approximate sampling distribution of
#' Kuder-Richardson reliability coefficient twenty. *Psychometrika* 30, 357-370.
#'
#' Guttman, L. (1945). A basis for analyzing test-retest reliability.
#' *Psychometrika* 10, 255-282.
#'
#' Kuder, G. F. & Richardson, M. W. (1937). The theory of the estimation of test
#' reliability. *Psychometrika* 2, 151-160.
#'
#' Lord, F. M. & Novick, M. R. (1968). *Statistical Theories of Mental Test
#' Scores*. Addison-Wesley.
#'
#' Lord, F. M. & Wingersky, M. S. (1984). Comparison of IRT true-score and equipercentile
#' observed-score "equatings". *Applied Psychological Measurement* 8, 453-461.
#'
#' Neyman, J. & Pearson, E. S. (1933). On the problem of the most efficient tests of
#' statistical hypotheses. *Philosophical Transactions of the Royal Society A* 231,
#' 289-337.
#'
#' Spearman, C. (1910). Correlation calculated from faulty data. *British
#' Journal of Psychology* 3, 271-295.
#'
#' Welch, B. L. (1947). The generalization of "Student's" problem when several
#' different population variances are involved. *Biometrika* 34, 28-35.
#' @inheritSection summarise_items Errors
#' @export
#' @examples
#' summarise_test(read_sitting(demo_path()))
#' summarise_test(read_sitting(demo_path()), bootstrap = 1000)$lambda2_low
summarise_test <- function(sitting, by = NULL, bootstrap = 0, seed = 1) {
  check_bootstrap(sitting, bootstrap, seed)
  by_depth(sitting, by, function(sitting, by) {
    group_tests(
      sitting,
      as_tally(sitting, by, products = TRUE),
      bootstrap,
      seed
    )
  })
}

group_tests <- function(sitting, tally, bootstrap, seed) {
  settings <- tally$about$settings
  n_groups <- length(tally$groups)
  most <- most_of_groups(tally)
  totals <- lapply(seq_len(n_groups), function(g) {
    scores <- tally$scores
    use <- which(scores$group == g & scores$open > 1e-9)
    total_figures(
      scores$earned[use] / scores$open[use],
      scores$n[use],
      most[g]
    )
  })
  totals <- do.call(Map, c(list(c), totals))
  reliability <- test_reliability(tally)
  timed <- tally$seconds[, "n"]
  mean_seconds <- ifelse(
    timed > 0,
    tally$seconds[, "sum"] / timed,
    NA_real_
  )
  table <- c(
    list(
      n = totals$n,
      absent = tally$absent,
      items = colSums(tally$counted),
      points = most
    ),
    totals[c("mean", "median", "sd", "lowest", "highest")],
    reliability[
      c("alpha", "alpha_low", "alpha_high", "kr21", "lambda2", "split_half")
    ],
    list(sem = reliability$sd_complete * sqrt(pmax(0, 1 - reliability$alpha))),
    reliability[c("n_complete", "reason")],
    totals[c("lower_quartile", "upper_quartile", "skewness", "mean_share")],
    items_in_bands(tally, settings),
    list(mean_seconds = mean_seconds),
    humps_of_groups(tally, most)
  )
  most_there <- pmax(table$points, table$highest, na.rm = TRUE)
  around <- t_interval_within(
    table$mean,
    table$sd,
    table$n,
    0,
    most_there
  )
  table[c("mean_low", "mean_high")] <- around[c("low", "high")]
  table$length_for_target <- length_for(
    settings$target_reliability,
    table$alpha,
    table$items
  )
  if (!is.null(tally$by)) {
    apart <- against_the_rest(
      table$n,
      table$mean_share,
      table$sd / most,
      parents_of(tally$groups)
    )
    table <- c(table, apart)
  }
  table <- quick_frame(c(table, students_in_levels(tally, settings)))
  if (bootstrap > 0) {
    table <- cbind(
      table,
      test_bounds(sitting, tally$by, bootstrap, seed)
    )
  }
  table <- with_group(table, tally, 1)
  table <- withhold_small(
    table,
    "n",
    c("items", "points", tally$by),
    settings,
    tally$by,
    NULL,
    list(
      counts_of_students(names(settings$levels), shares = TRUE),
      "one_student"
    )
  )
  new_summary(
    table,
    "test",
    settings,
    tally$by,
    forms = forms_of_test(sitting, tally)
  )
}

# Where students were given different questions, what reliability rests on is each form.
forms_of_test <- function(sitting, tally) {
  alike <- !is.null(tally$by) || !any(tally$sums$state == "not_given")
  if (alike || !inherits(sitting, "pregunta_sitting")) return(NULL)
  if (!"form" %in% names(with_forms(sitting, "form"))) return(NULL)
  forms <- as.data.frame(summarise_test(sitting, "form"))
  figures <- c(
    "form", "n", "items", "points", "alpha", "alpha_low", "alpha_high", "sem",
    "reason"
  )
  plain_rows(forms[forms$n > 0, figures])
}

# In points of the test.
humps_of_groups <- function(tally, most) {
  n_groups <- length(tally$groups)
  each <- lapply(seq_len(n_groups), function(g) {
    if (n_groups > most_hump_groups) return(no_humps())
    humps <- humps_of_group(tally, g)
    means <- c("lower_mean", "upper_mean")
    humps[means] <- lapply(humps[means], `*`, most[g])
    humps
  })
  do.call(Map, c(list(c), each))
}

# What a row of the test says of them, with means as shares.
humps_of_test <- function(test) {
  humps <- as.list(test)[names(no_humps())]
  means <- c("lower_mean", "upper_mean")
  humps[means] <- lapply(humps[means], `/`, test$points)
  humps
}

# For each level the share of students in it.
students_in_levels <- function(tally, settings) {
  levels <- names(settings$levels)
  scores <- tally$scores[tally$scores$open > 1e-9, ]
  level <- match(level_of(scores$earned / scores$open, settings), levels)
  size <- length(tally$groups) * length(levels)
  place <- (level - 1) * length(tally$groups) + scores$group
  n <- sum_by(list(n = scores$n), place, size)
  n <- matrix(n, length(tally$groups))
  total <- rowSums(n)
  shares <- n / ifelse(total > 0, total, NA)
  columns <- lapply(asplit(shares, 2), as.vector)
  stats::setNames(columns, levels)
}

# Figures of a distribution of shares with counts, in points of the whole test.
total_figures <- function(share, count, most) {
  n <- sum(count)
  mean <- if (n) sum(count * share) / n else NA_real_
  squares <- sum(count * (share - mean)^2)
  cubes <- sum(count * (share - mean)^3)
  quartile <- if (n) {
    count_quantile(share, count, c(0.25, 0.5, 0.75))
  } else {
    rep(NA_real_, 3)
  }
  ends <- if (n) range(share) else c(NA_real_, NA_real_)
  list(
    n = n,
    mean = mean * most,
    median = quartile[2] * most,
    sd = if (n > 1) sqrt(squares / (n - 1)) * most else NA_real_,
    lowest = ends[1] * most,
    highest = ends[2] * most,
    lower_quartile = quartile[1] * most,
    upper_quartile = quartile[3] * most,
    skewness = if (n && squares > 1e-12) {
      (cubes / n) / (squares / n)^1.5
    } else {
      NA_real_
    },
    mean_share = mean
  )
}

# Quantiles of counted values, as R's default (type 7) gives on the values.
count_quantile <- function(value, count, probability) {
  sorted <- order(value)
  upto <- cumsum(count[sorted])
  position <- 1 + (sum(count) - 1) * probability
  at <- function(k) value[sorted][findInterval(k - 1, upto) + 1]
  below <- at(floor(position))
  below + (position - floor(position)) * (at(ceiling(position)) - below)
}

items_in_bands <- function(tally, settings) {
  size <- length(tally$groups) * nrow(tally$items)
  use <- which(tally$sums$valued)
  difficulty <- moments_by(
    tally$sums$x[use],
    tally$sums$count[use],
    tally$sums$key[use],
    size
  )$mean_x /
    tally$items$points
  band <- matrix(
    difficulty_band(difficulty, settings$thresholds),
    nrow(tally$items)
  )
  list(
    hard = colSums(band == "hard", na.rm = TRUE),
    middling = colSums(band == "middling", na.rm = TRUE),
    easy = colSums(band == "easy", na.rm = TRUE)
  )
}
