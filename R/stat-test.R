#' How did the test go, and can its scores be trusted?
#'
#' @inheritParams summarise_items
#' @return A data frame of one row (or a row a group):
#'   * `n`: students who sat it; `absent`; `items`, `points`: those that count
#'     (an item nobody has points on yet does not);
#'   * `mean`, `median`, `sd` (n - 1), `lowest`, `highest`: of the totals, in
#'     points. Where cells are `NA`, a total is the share of the student's open
#'     points times `points`;
#'   * `alpha`: coefficient alpha, the same figure as KR-20 for 0/1 items
#'     (Cronbach 1951; Kuder & Richardson 1937), with its 95% interval
#'     `alpha_low`, `alpha_high` (Feldt 1965);
#'   * `kr21`: only when every item gives 0 or 1 (Kuder & Richardson 1937);
#'   * `lambda2` (Guttman 1945); `split_half`: odd against even items in
#'     printed order, stepped up (Spearman 1910; Brown 1910);
#'   * `sem`: standard error of measurement, sd · √(1 - alpha), in points
#'     (Lord & Novick 1968). `lambda2` and `split_half` are `NA` for a tally
#'     made without products;
#'   * `n_complete`: students given every counted item, on whom reliability
#'     rests; `reason`: why it is `NA`;
#'   * `lower_quartile`, `upper_quartile` (the default quantile of R),
#'     `skewness` (third moment over the 1.5th power of the second, with n),
#'     `mean_share`; `hard`, `middling`, `easy`: number of items in each
#'     difficulty band; `mean_seconds`: mean time of the students whose time is
#'     known (a column `seconds` of the responses).
#'
#'   Reliability is `NA` with fewer than two items ("fewer than 2 items"), with
#'   fewer than two complete students ("too few students") or when all their
#'   totals are equal ("no spread in the totals").
#' @inheritSection summarise_items Errors
#' @export
#' @examples
#' summarise_test(read_sitting(demo_path()))
summarise_test <- function(sitting, by = NULL) {
  tally <- as_tally(sitting, by, products = TRUE)
  settings <- tally$about$settings
  counts <- count_table(tally)
  n_groups <- length(tally$groups)
  most <- sum(tally$items$points[tally$items$counted])
  totals <- lapply(seq_len(n_groups), function(g) {
    bins <- tally$bins[tally$bins$group == g & tally$bins$open > 1e-9, ]
    total_figures(bins$earned / bins$open, bins$n, most)
  })
  reliability <- alpha_figures(tally, counts)$test
  bands <- items_in_bands(tally, counts, settings)
  totals <- do.call(rbind, totals)
  table <- data.frame(
    n = totals$n, absent = tally$absent, items = sum(tally$items$counted), points = most,
    totals[c("mean", "median", "sd", "lowest", "highest")],
    reliability[c("alpha", "alpha_low", "alpha_high", "kr21", "lambda2", "split_half")],
    sem = totals$sd * sqrt(pmax(0, 1 - reliability$alpha)),
    reliability[c("n_complete", "reason")],
    totals[c("lower_quartile", "upper_quartile", "skewness", "mean_share")], bands,
    mean_seconds = ifelse(tally$seconds[, "n"] > 0, tally$seconds[, "sum"] / tally$seconds[, "n"], NA_real_)
  )
  table <- with_group(table, tally, 1)
  table <- withhold_small(table, "n", c("items", "points", tally$by), settings, tally$by, NULL)
  new_summary(table, "test", settings, tally$by)
}

# Figures of a distribution of shares with counts, in points of the whole test.
total_figures <- function(share, count, most) {
  n <- sum(count)
  if (n == 0) {
    return(data.frame(n = 0, mean = NA_real_, median = NA_real_, sd = NA_real_, lowest = NA_real_,
      highest = NA_real_, lower_quartile = NA_real_, upper_quartile = NA_real_,
      skewness = NA_real_, mean_share = NA_real_))
  }
  mean <- sum(count * share) / n
  squares <- sum(count * (share - mean)^2)
  cubes <- sum(count * (share - mean)^3)
  quartile <- count_quantile(share, count, c(0.25, 0.5, 0.75))
  data.frame(
    n = n, mean = mean * most, median = quartile[2] * most,
    sd = if (n > 1) sqrt(squares / (n - 1)) * most else NA_real_,
    lowest = min(share) * most, highest = max(share) * most,
    lower_quartile = quartile[1] * most, upper_quartile = quartile[3] * most,
    skewness = if (squares > 1e-12) (cubes / n) / (squares / n)^1.5 else NA_real_, mean_share = mean
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

items_in_bands <- function(tally, counts, settings) {
  size <- length(tally$groups) * nrow(tally$items)
  difficulty <- item_points_figures(tally, counts, size)$difficulty
  band <- matrix(difficulty_band(difficulty, settings$thresholds), nrow(tally$items))
  data.frame(hard = colSums(band == "hard", na.rm = TRUE),
    middling = colSums(band == "middling", na.rm = TRUE), easy = colSums(band == "easy", na.rm = TRUE))
}
