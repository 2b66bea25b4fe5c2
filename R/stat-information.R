#' How exact is the test at each score?
#'
#' A test tells students apart where its questions stand: near the places of most
#' questions a score is surer than at the ends.
#'
#' @inheritParams summarise_scale
#' @return A data frame, a row a score from 0 on of those who were given every question
#'   that has a place (with `slopes` a row a place, from -4 to 4 by 0.5): `score`: steps
#'   done, of 0/1 questions the number right, with `slopes` what is expected there; `n`:
#'   students with it; `share`: the share of the points expected there; `place` in logits,
#'   by weighted likelihood (Warm 1989); `information`: of the test at that place; `se`:
#'   the error of a place there; `share_low`, `share_high`: the shares expected at the
#'   ends of the place's 95% interval. No rows where no questions could be placed.
#' @details The information is the sum of the questions' (the variance of their steps,
#'   times the square of the slope), the error its inverse square root (Lord 1980).
#' @references Lord, F. M. (1980). *Applications of item response theory to practical
#' testing problems*. Erlbaum.
#' @inheritSection summarise_scale Errors
#' @export
#' @examples
#' summarise_information(read_sitting(demo_path("weather")))
summarise_information <- function(sitting, slopes = FALSE,
                                  least = if (slopes) 250 else 30) {
  check_is_sitting(sitting)
  check_least(least)
  data <- scale_data(sitting, least)
  scale <- if (slopes) fit_slopes(data) else fit_scale(data)
  table <- information_table(scale, data, sitting$items$points)
  new_summary(
    table, "information", sitting$settings, NULL,
    slopes = slopes, items = length(scale$number)
  )
}

information_table <- function(scale, data, points) {
  number <- scale$number
  if (!length(number)) {
    return(data.frame(
      score = numeric(), n = integer(), share = numeric(), share_low = numeric(),
      share_high = numeric(), place = numeric(), information = numeric(), se = numeric()
    ))
  }
  slope <- if (is.null(scale$slope)) rep(1, length(number)) else scale$slope
  own <- data$category[data$present, number, drop = FALSE]
  whole <- own[rowSums(own < 0) == 0, , drop = FALSE]
  # At some places: the steps and the share expected, and the information.
  at_places <- function(places) {
    parts <- Map(function(easiness, a, values) {
      chances <- category_chances(easiness, a * places)
      step <- seq_len(nrow(chances)) - 1
      mean <- colSums(chances * step)
      list(
        steps = mean, earned = colSums(chances * values),
        information = a^2 * (colSums(chances * step^2) - mean^2)
      )
    }, scale$easiness, slope, data$values[number])
    sum_of <- function(what) Reduce(`+`, lapply(parts, `[[`, what))
    list(
      steps = sum_of("steps"), information = sum_of("information"),
      share = sum_of("earned") / sum(points[number])
    )
  }
  if (is.null(scale$slope)) {
    places <- places_of_scores(scale$easiness)$place
    score <- seq_along(places) - 1
    n <- tabulate(rowSums(whole) + 1, length(places))
  } else {
    places <- seq(-4, 4, by = 0.5)
    theirs <- weighted_places_each(whole, scale$easiness, slope)[, 1]
    score <- at_places(places)$steps
    n <- tabulate(match(round(2 * pmin(4, pmax(-4, theirs))) / 2, places), length(places))
  }
  found <- at_places(places)
  se <- 1 / sqrt(found$information)
  around <- stats::qnorm(0.975) * se
  data.frame(
    score = score, n = n, share = found$share,
    share_low = at_places(places - around)$share,
    share_high = at_places(places + around)$share,
    place = places, information = found$information, se = se
  )
}
