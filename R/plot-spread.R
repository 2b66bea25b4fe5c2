#' Pictures of a sitting and its summaries
#'
#' `ggplot2::autoplot()` draws each summary, with what it shows as a sentence
#' above it.
#'
#' * of [summarise_students()]: the spread of scores, coloured by level;
#' * of [summarise_items()]: difficulty against discrimination, with the items
#'   named and the zones to look at;
#' * of [summarise_options()]: an item's answers in the low, middle and high
#'   third of the students;
#' * of a [sitting()]: students by items, the strongest on top, the hardest
#'   item on the left;
#' * of [summarise_precision()]: the standard error of measurement along the
#'   scores; of [summarise_lengths()]: reliability against the number of items;
#'   of [summarise_fairness()]: each item's difference between groups;
#' * of [summarise_misconceptions()]: how many hold each idea, by group if the summary
#'   is; by student, who chose which how often;
#' * of [summarise_standards()]: scores with their intervals, by group if the summary is;
#'   of more than 6 groups, or of groups one inside the other, groups by standards; by
#'   student, students by standards, coloured by level;
#' * of [summarise_test()]: how many students of each group are in each level.
#'
#' @param object The summary or the sitting.
#' @param item For options: names of the items to draw; the first by default.
#' @param items,options The other summary of the same sitting: with it the
#'   sentence can say which items to look at.
#' @param names Where students are shown: whether by name.
#' @param ... Not used.
#' @return A ggplot object.
#' @name autoplot
#' @examples
#' quiz <- read_sitting(demo_path())
#' ggplot2::autoplot(summarise_students(quiz))
#' ggplot2::autoplot(summarise_options(quiz), item = "Q9")
#' ggplot2::autoplot(summarise_precision(quiz))
NULL

#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_students)
autoplot.pregunta_students <- function(object, ...) {
  check_summary(object)
  settings <- settings_of(object)
  levels <- names(settings$levels)
  cuts <- unlist(settings$levels)
  scored <- object[!is.na(object$share), ]
  # Bins open to the left of a cut, so that no bar mixes two levels.
  scored$bin <- floor(scored$share / 0.05 + 1e-9) * 0.05 + 0.025
  scored$bin <- pmin(scored$bin, 0.975)
  scored$level <- factor(scored$level, rev(levels))
  bars <- as.data.frame(
    table(bin = scored$bin, level = scored$level),
    stringsAsFactors = FALSE
  )
  bars$bin <- as.numeric(bars$bin)
  bars$level <- factor(bars$level, rev(levels))
  n <- table(factor(scored$level, levels))
  top <- max(tapply(bars$Freq, bars$bin, sum), 1)
  counted <- n
  if (nrow(scored)) {
    counted <- paste(n, in_parentheses(percent(n / nrow(scored))))
  }
  labels <- data.frame(
    x = (cuts + c(cuts[-1], 1)) / 2,
    y = top * 1.13,
    label = paste0(level_words(levels), "\n", counted)
  )
  ggplot2::ggplot(
    bars,
    ggplot2::aes(.data$bin, .data$Freq, fill = .data$level)
  ) +
    ggplot2::geom_vline(
      xintercept = cuts[-1],
      colour = ink[["grey"]],
      linetype = "22",
      linewidth = 0.4
    ) +
    ggplot2::geom_col(width = 0.044) +
    ggplot2::geom_text(
      ggplot2::aes(.data$x, .data$y, label = .data$label),
      labels,
      inherit.aes = FALSE,
      size = 3.6,
      lineheight = 1,
      colour = ink[["ink"]]
    ) +
    ggplot2::scale_fill_manual(
      values = stats::setNames(level_colours(length(levels)), levels),
      drop = FALSE
    ) +
    share_scale("x", breaks = seq(0, 1, 0.1), limits = c(0, 1)) +
    ggplot2::scale_y_continuous(
      breaks = whole_breaks,
      expand = ggplot2::expansion(c(0, 0.06))
    ) +
    titles(
      say_spread(object),
      say("plot-spread.students_by_share_of")
    ) +
    ggplot2::labs(x = say("headings.score"), y = say("headings.students")) +
    theme_paper() +
    ggplot2::theme(panel.grid.major.x = ggplot2::element_blank())
}

whole_breaks <- function(limits) {
  breaks <- pretty(limits)
  round(breaks[abs(breaks - round(breaks)) < 1e-9])
}
