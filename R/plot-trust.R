# Pictures of how far the scores can be trusted.

#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_precision)
autoplot.pregunta_precision <- function(object, ...) {
  check_summary(object)
  table <- object[!is.na(object$sem), ]
  if (!nrow(table)) return(empty_picture(say_precision(object)[1]))
  cuts <- unlist(settings_of(object)$levels)[-1] * max(object$score)
  seen <- table[table$students > 0, ]
  named <- data.frame(x = cuts, label = level_words(names(cuts)))
  ggplot2::ggplot(table, ggplot2::aes(.data$score, .data$sem)) +
    ggplot2::geom_vline(
      xintercept = cuts,
      colour = ink[["grey"]],
      linetype = "22",
      linewidth = 0.4
    ) +
    ggplot2::geom_line(colour = ink[["teal"]], linewidth = 1) +
    ggplot2::geom_point(
      ggplot2::aes(size = .data$students),
      seen,
      colour = ink[["teal"]]
    ) +
    ggplot2::geom_text(
      ggplot2::aes(
        .data$x,
        max(table$sem) * 1.12,
        label = .data$label
      ),
      named,
      hjust = 1.08,
      size = 3.5,
      colour = ink[["grey"]],
      inherit.aes = FALSE
    ) +
    ggplot2::scale_size_area(max_size = 5) +
    ggplot2::scale_y_continuous(
      limits = c(0, max(table$sem) * 1.15),
      expand = ggplot2::expansion(c(0, 0.02))
    ) +
    titles(
      paste(say_precision(object)[1]),
      say("plot-trust.standard_error_of_measurement")
    ) +
    ggplot2::labs(x = say("headings.score"), y = say("plot-trust.sem_points")) +
    theme_paper()
}

#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_lengths)
autoplot.pregunta_lengths <- function(object, ...) {
  check_summary(object)
  row <- object[1, ]
  if (is.na(row$needed)) return(empty_picture(say_lengths(object)))
  most <- max(2 * row$items, object$needed, na.rm = TRUE) * 1.05
  along <- seq(1, most, length.out = 200)
  around <- feldt_interval(row$alpha, row$n, row$items)
  step <- function(alpha) stepped_up(alpha, along / row$items)
  curve <- data.frame(
    items = along,
    alpha = step(row$alpha),
    low = step(max(0, around$low)),
    high = step(around$high)
  )
  marks <- object[!is.na(object$needed), ]
  ggplot2::ggplot(curve, ggplot2::aes(.data$items, .data$alpha)) +
    ggplot2::geom_ribbon(
      ggplot2::aes(ymin = .data$low, ymax = .data$high),
      fill = ink[["wash"]]
    ) +
    ggplot2::geom_line(colour = ink[["teal"]], linewidth = 1) +
    ggplot2::geom_segment(
      ggplot2::aes(
        x = 0,
        xend = .data$needed,
        y = .data$target,
        yend = .data$target
      ),
      marks,
      colour = ink[["grey"]],
      linetype = "22",
      linewidth = 0.4
    ) +
    ggplot2::geom_text(
      ggplot2::aes(
        .data$needed,
        .data$target,
        label = say(
          "plot-trust.items_for",
          needed = .data$needed,
          target = sprintf("%.2f", .data$target)
        )
      ),
      marks,
      hjust = ifelse(marks$needed > 0.75 * most, 1.05, -0.12),
      vjust = 1.3,
      size = 3.6,
      colour = ink[["ink"]]
    ) +
    ggplot2::annotate(
      "point",
      x = row$items,
      y = row$alpha,
      colour = ink[["ochre"]],
      shape = 17,
      size = 3.4
    ) +
    ggplot2::annotate(
      "text",
      x = row$items,
      y = row$alpha,
      label = say("plot-trust.now", items = row$items),
      hjust = if (row$items < 0.15 * most) -0.3 else 1.2,
      vjust = -0.8,
      size = 3.6,
      colour = ink[["ochre"]]
    ) +
    ggplot2::scale_x_continuous(
      limits = c(0, most * 1.12),
      expand = ggplot2::expansion(0)
    ) +
    ggplot2::scale_y_continuous(
      limits = c(0, 1),
      breaks = seq(0, 1, 0.2),
      expand = ggplot2::expansion(0)
    ) +
    titles(
      say_lengths(object),
      say("plot-trust.reliability_alpha_of_tests")
    ) +
    ggplot2::labs(x = say("plot-trust.questions"), y = say("headings.alpha")) +
    theme_paper()
}

#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_fairness)
autoplot.pregunta_fairness <- function(object, ...) {
  check_summary(object)
  table <- object[!is.na(object$smd), ]
  if (!nrow(table)) return(empty_picture(say_fairness(object)[1]))
  table$item <- factor(table$item, rev(unique(object$item)))
  table$look <- table$class %in% c("moderate", "large")
  several <- length(unique(table$focal)) > 1
  ggplot2::ggplot(
    table,
    ggplot2::aes(
      .data$smd,
      .data$item,
      colour = .data$look,
      shape = .data$look
    )
  ) +
    ggplot2::geom_vline(
      xintercept = 0,
      colour = ink[["grey"]],
      linewidth = 0.4
    ) +
    ggplot2::geom_segment(
      ggplot2::aes(
        x = .data$smd_low,
        xend = .data$smd_high,
        yend = .data$item
      ),
      linewidth = 0.5,
      na.rm = TRUE
    ) +
    ggplot2::geom_point(size = 2.4) +
    ggplot2::scale_colour_manual(
      values = c("FALSE" = ink[["teal"]], "TRUE" = ink[["ochre"]]),
      limits = c("FALSE", "TRUE")
    ) +
    ggplot2::scale_shape_manual(
      values = c("FALSE" = 19, "TRUE" = 17),
      limits = c("FALSE", "TRUE")
    ) +
    (if (several) ggplot2::facet_wrap(~ .data$focal)) +
    share_scale("x") +
    titles(
      say_fairness(object)[1],
      say(
        "plot-trust.how_much_more_right",
        focal = table$focal[1],
        several = several,
        reference = table$reference[1]
      )
    ) +
    ggplot2::labs(
      x = say("plot-trust.difference_at_the_same"),
      y = NULL
    ) +
    theme_paper()
}

# Where nothing can be drawn the picture says why.
empty_picture <- function(why) {
  ggplot2::ggplot() + titles(why, "") + theme_paper()
}
