#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_test)
autoplot.pregunta_test <- function(object, ...) {
  check_summary(object)
  by <- attr(object, "by")
  levels <- names(settings_of(object)$levels)
  shown <- object[!is.na(object$n) & object$n > 0, ]
  if (!nrow(shown)) {
    return(empty_picture(say("plot-levels.nobody_has_points_yet")))
  }
  path <- if (is.null(by)) "all" else group_paths(shown, by)
  if (length(path) > most_in_grid) {
    abort_pregunta(
      "call",
      say("plot-levels.a_picture_of_groups", n = length(path)),
      NULL,
      say("plot-levels.draw_fewer_narrow_sitting")
    )
  }
  bars <- data.frame(
    group = factor(rep(path, length(levels)), rev(path)),
    level = factor(rep(levels, each = nrow(shown)), rev(levels)),
    share = unlist(shown[levels], use.names = FALSE),
    n = rep(shown$n, length(levels))
  )
  colours <- stats::setNames(level_colours(length(levels)), levels)
  sign <- level_signs(length(levels))[match(bars$level, levels)]
  # a line of its own while bars are high
  apart <- if (length(path) <= 8) "\n" else " "
  count <- paste(sign, round(bars$share * bars$n))
  named <- named_once(
    bars$level,
    nchar(level_words(as.character(bars$level))) + (apart == " ") * nchar(count),
    bars$share
  )
  name <- ifelse(named, paste0(level_words(as.character(bars$level)), apart), "")
  bars$label <- ifelse(bars$share < 0.04, "", paste0(name, count))
  ggplot2::ggplot(
    bars,
    ggplot2::aes(.data$share, .data$group, fill = .data$level)
  ) +
    ggplot2::geom_col(
      width = 0.74,
      colour = ink[["paper"]],
      linewidth = 0.4
    ) +
    ggplot2::geom_text(
      ggplot2::aes(
        label = .data$label,
        group = .data$level,
        colour = vapply(
          colours[as.character(.data$level)],
          ink_on,
          ""
        )
      ),
      position = ggplot2::position_stack(vjust = 0.5),
      size = if (length(path) > 25) 2.2 else 3.6
    ) +
    ggplot2::scale_colour_identity() +
    ggplot2::scale_fill_manual(
      values = colours,
      breaks = levels,
      labels = level_words(levels),
      name = NULL
    ) +
    ggplot2::scale_y_discrete(
      labels = stats::setNames(level_row_labels(shown, by), path)
    ) +
    share_scale("x", expand = c(0, 0)) +
    titles(
      if (is.null(by)) say_test(shown)[1] else say_groups(object),
      say("plot-levels.students_in_each_level")
    ) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    legend_below(!any(named)) +
    ggplot2::theme(
      panel.grid.major.y = ggplot2::element_blank(),
      axis.text.y = ggplot2::element_text(hjust = 0)
    )
}

# "  Harbour B  60%": groups inside others stand further in.
level_row_labels <- function(shown, by) {
  if (is.null(by)) {
    return(say("plot-levels.all", mean_share = percent(shown$mean_share)))
  }
  parts <- strsplit(
    group_paths(shown, by),
    path_separator,
    fixed = TRUE
  )
  name <- vapply(parts, function(part) part[length(part)], "")
  paste0(
    strrep("    ", lengths(parts) - 1),
    shorten(printable(name), 26),
    "  ",
    percent(shown$mean_share)
  )
}
