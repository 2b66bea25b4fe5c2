#' Where along the scores does the test measure well?
#'
#' The standard error of measurement at each score: how far the score of such a
#' student would waver, were the test sat again.
#'
#' @param sitting A [sitting()].
#' @return A data frame, a row a possible score (at most 200; more are taken in
#'   larger steps): `score` in points, `share` of the points of the test;
#'   `students` with it; `sem`, in points; `low`, `high`: score ± 1.96 `sem`,
#'   cut to the points there are; `level`: of the score; `method`; `reason`: why
#'   they are `NA`, as for alpha in [summarise_test()]. It rests on the students
#'   who were given every counted item.
#'   * "binomial", when every item gives 0 or 1: √(T(J-T)/(J-1)) for score T of J
#'     items (Lord 1955), times √((1 - alpha) / (1 - KR-21)) for items of unequal
#'     difficulty (Keats 1957); at 0 and J that of the nearest score between. Its mean
#'     square over students who are not at the ends is the squared `sem` of
#'     [summarise_test()]. Where alpha is 1, Lord's alone;
#'   * "within students", for others: J times the variance of a student's points
#'     around the items' means, n / (n - 1) of it, smoothed over the scores by a
#'     parabola (Brennan 1998). Its mean over the students, before smoothing and
#'     after, is the squared `sem` of [summarise_test()].
#' @references Brennan, R. L. (1998). Raw-score conditional standard errors of measurement
#' in generalizability theory. *Applied Psychological Measurement* 22, 307-331.
#'
#' Keats, J. A. (1957). Estimation of error variances of test scores. *Psychometrika*
#' 22, 29-41.
#'
#' Lord, F. M. (1955). Estimating test reliability. *Educational and
#' Psychological Measurement* 15, 325-336.
#' @export
#' @examples
#' summarise_precision(read_sitting(demo_path())) |> tail()
summarise_precision <- function(sitting) {
  check_is_sitting(sitting)
  points <- cell_points(sitting)[was_present(sitting), , drop = FALSE]
  counted <- counted_columns(points)
  most <- sitting$items$points[counted]
  points <- points[, counted, drop = FALSE]
  why <- why_no_reliability(points)
  points <- points[rowSums(is.na(points)) == 0, , drop = FALSE]
  scores <- possible_scores(most, points)
  total <- rowSums(points)
  zero_one <- all(most == 1) && all(points %in% c(0, 1))
  variance <- if (!is.na(why)) {
    rep(NA_real_, length(scores))
  } else if (zero_one) {
    binomial_variance(scores, total, points)
  } else {
    smooth_variance(scores, total, error_variance(points))
  }
  sem <- sqrt(variance)
  counts <- tabulate(nearest(total, scores), length(scores))
  half <- stats::qnorm(upper_tail) * sem
  table <- data.frame(
    score = scores,
    share = scores / sum(most),
    students = counts,
    sem = sem,
    low = pmax(0, scores - half),
    high = pmin(sum(most), scores + half),
    level = level_of(scores / max(1e-9, sum(most)), sitting$settings),
    method = if (zero_one) "binomial" else "within_students",
    reason = why
  )
  new_summary(table, "precision", sitting$settings, NULL)
}

# points: of the students and items that count.
why_no_reliability <- function(points) {
  complete <- points[rowSums(is.na(points)) == 0, , drop = FALSE]
  if (sum(rowSums(!is.na(points)) > 0) < 2) return("few_students")
  if (ncol(points) < 2) return("few_items")
  if (nrow(complete) < 2) return("few_complete")
  if (stats::var(rowSums(complete)) < 1e-12) return("no_spread")
  NA_character_
}

# Lord's error variance is that of items drawn anew for each student, whose difficulty
# then varies too; Keats takes that part away, in the proportion that the mean needs.
# Nobody's error is 0: all right or all wrong is as uncertain as one item short of it.
binomial_variance <- function(scores, total, points) {
  k <- ncol(points)
  inner <- pmin(pmax(scores, 1), k - 1)
  lord <- inner * (k - inner) / (k - 1)
  spread <- stats::var(total)
  alpha <- alpha_of(k, sum(apply(points, 2, stats::var)), spread)
  error <- 1 - c(alpha, kr21_of(k, mean(total), spread))
  if (error[1] > 1e-9) lord * error[1] / error[2] else lord
}

most_scores <- 200

possible_scores <- function(most, points) {
  given <- unique(as.vector(points))
  parts <- points_unit(c(most, given))
  steps <- round(sum(most) * parts)
  if (steps > most_scores) {
    seq(0, sum(most), length.out = most_scores + 1)
  } else {
    seq(0, steps) / parts
  }
}

nearest <- function(total, scores) {
  if (length(scores) < 2) return(rep(1L, length(total)))
  pmin(
    length(scores),
    1L + round((total - scores[1]) / (scores[2] - scores[1]))
  )
}

# Each student's own error variance.
error_variance <- function(points) {
  n <- nrow(points)
  from_item <- points - rep(colMeans(points), each = n)
  own <- from_item - rowMeans(from_item)
  ncol(points) * rowSums(own^2) / (ncol(points) - 1) * n / (n - 1)
}

# A parabola where the totals allow one; never below a tenth of the mean.
smooth_variance <- function(scores, total, variance) {
  centre <- mean(total)
  terms <- min(2, length(unique(total)) - 1)
  design <- outer(total - centre, 0:terms, `^`)
  fit <- qr.coef(qr(design), variance)
  pmax(
    as.vector(outer(scores - centre, 0:terms, `^`) %*% fit),
    mean(variance) / 10
  )
}
