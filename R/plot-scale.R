# Questions and students on one scale.

#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_scale)
autoplot.pregunta_scale <- function(object, ...) {
  check_summary(object)
  placed <- as.data.frame(object)[!is.na(object$place), ]
  if (!nrow(placed)) return(empty_picture(say_scale(object)[1]))
  people <- attr(object, "places")
  placed <- placed[order(placed$place), ]
  placed$row <- seq_len(nrow(placed))
  # Students above, a column as wide as a score; questions below, each with its interval.
  tall <- nrow(placed) * 0.45
  people$height <- people$n / max(people$n) * tall
  floor <- nrow(placed) + 1
  ggplot2::ggplot(placed) +
    ggplot2::geom_segment(
      ggplot2::aes(.data$place, floor, xend = .data$place, yend = floor + .data$height),
      people,
      colour = ink[["teal"]],
      linewidth = 2
    ) +
    ggplot2::geom_hline(yintercept = floor, colour = ink[["line"]]) +
    ggplot2::geom_segment(
      ggplot2::aes(
        .data$place_low, .data$row,
        xend = .data$place_high, yend = .data$row
      ),
      colour = ink[["grey"]],
      linewidth = 0.5
    ) +
    ggplot2::geom_point(
      ggplot2::aes(
        .data$place, .data$row,
        colour = .data$fit %in% "misfits", shape = .data$fit %in% "misfits"
      ),
      size = 2.4
    ) +
    ggplot2::scale_colour_manual(
      values = c(`FALSE` = ink[["ink"]], `TRUE` = ink[["ochre"]]), guide = "none"
    ) +
    ggplot2::scale_shape_manual(values = c(`FALSE` = 19, `TRUE` = 17), guide = "none") +
    ggplot2::scale_y_continuous(
      breaks = c(placed$row, floor + tall / 2),
      labels = c(placed$item, say("plot-scale.students")),
      expand = ggplot2::expansion(add = 0.8)
    ) +
    titles(
      paste(say_scale(object)[1]),
      say("plot-scale.questions_and_students", wrong = any(placed$fit %in% "misfits"))
    ) +
    ggplot2::labs(x = say("headings.place"), y = NULL) +
    theme_paper()
}
