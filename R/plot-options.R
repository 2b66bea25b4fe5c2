#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_options)
autoplot.pregunta_options <- function(object, item = NULL, items = NULL, ...) {
  check_summary(object)
  item <- if (is.null(item)) object$item[1] else item
  unknown <- setdiff(item, object$item)
  if (length(unknown)) {
    abort_pregunta(
      "call",
      say("plot-options.there_is_no_item", unknown = quoted(unknown[1])),
      NULL,
      did_you_mean(unknown[1], unique(object$item))
    )
  }
  table <- object[object$item %in% item & object$count > 0, ]
  table$item <- factor(table$item, item)
  table$role <- option_roles(table)
  thirds <- c("low", "middle", "high")
  long <- data.frame(
    item = rep(table$item, 3),
    option = rep(table$option, 3),
    role = rep(table$role, 3),
    third = factor(rep(thirds, each = nrow(table)), thirds),
    share = c(table$low, table$middle, table$high)
  )
  ends <- long[long$third == "high", ]
  words <- ifelse(
    is.na(table$text),
    shown_answer(table$option, table$state),
    paste0(table$option, "  ", table$text)
  )
  ends$label <- shorten(
    say("plot-options.key", words = words, key = table$key),
    26
  )
  look <- if (is.null(items)) NULL else look_first(items, object)
  finding <- if (length(item) > 1) {
    say("plot-options.how_the_weak_the")
  } else {
    say_options(
      object,
      item,
      if (is.null(look)) data.frame(item = character()) else look
    )
  }
  ggplot2::ggplot(
    long,
    ggplot2::aes(
      .data$third,
      .data$share,
      group = .data$option,
      colour = .data$role,
      linewidth = .data$role
    )
  ) +
    ggplot2::geom_line() +
    ggplot2::geom_point(ggplot2::aes(shape = .data$role), size = 2.6) +
    ggrepel::geom_text_repel(
      ggplot2::aes(label = .data$label),
      ends,
      hjust = 0,
      nudge_x = 0.08,
      direction = "y",
      size = 3.6,
      seed = 1,
      segment.colour = ink[["line"]],
      min.segment.length = 0.3,
      xlim = c(3.05, NA)
    ) +
    ggplot2::scale_colour_manual(
      values = c(
        key = ink[["teal"]],
        look = ink[["ochre"]],
        other = ink[["grey"]]
      )
    ) +
    ggplot2::scale_linewidth_manual(
      values = c(key = 1.3, look = 0.9, other = 0.4)
    ) +
    ggplot2::scale_shape_manual(values = c(key = 19, look = 17, other = 1)) +
    ggplot2::scale_x_discrete(
      expand = ggplot2::expansion(add = c(0.2, 1.3)),
      labels = c(
        low = say("plot-options.weakest_third"),
        middle = say("plot-options.middle_third"),
        high = say("plot-options.strongest_third")
      )
    ) +
    share_scale("y", limits = c(0, 1), breaks = seq(0, 1, 0.25)) +
    (if (length(item) > 1) ggplot2::facet_wrap(~ .data$item)) +
    titles(
      finding,
      say("plot-options.share_of_each_third")
    ) +
    ggplot2::labs(x = NULL, y = say("plot-options.chosen_by")) +
    theme_paper()
}

# The key, the most chosen of the other answers, and the rest.
option_roles <- function(table) {
  role <- ifelse(table$key, "key", "other")
  for (item in unique(table$item)) {
    wrong <- which(table$item == item & is_wrong(table))
    role[wrong[which.max(table$count[wrong])]] <- "look"
  }
  role
}
