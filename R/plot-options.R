#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_options)
autoplot.pregunta_options <- function(object, item = NULL, items = NULL, ...) {
  item <- if (is.null(item)) object$item[1] else item
  unknown <- setdiff(item, object$item)
  if (length(unknown)) {
    abort_pregunta("call", paste0("There is no item ", quoted(unknown[1]), "."), NULL,
      did_you_mean(unknown[1], unique(object$item)))
  }
  table <- object[object$item %in% item & object$count > 0, ]
  table$item <- factor(table$item, item)
  thirds <- c("low", "middle", "high")
  long <- data.frame(
    item = rep(table$item, 3), option = rep(table$option, 3), key = rep(table$key, 3),
    third = factor(rep(thirds, each = nrow(table)), thirds), share = c(table$low, table$middle, table$high)
  )
  ends <- long[long$third == "high", ]
  words <- ifelse(is.na(table$text), table$option, paste0(table$option, "  ", table$text))
  ends$label <- shorten(paste0(words, ifelse(table$key, " (key)", "")), 26)
  look <- if (is.null(items)) NULL else look_first(items, object)
  finding <- if (length(item) > 1) "How the weak, the middle and the strong answered."
  else say_options(object, item, if (is.null(look)) data.frame(item = character()) else look)
  ggplot2::ggplot(long, ggplot2::aes(.data$third, .data$share, group = .data$option, colour = .data$key,
    linewidth = .data$key)) +
    ggplot2::geom_line() +
    ggplot2::geom_point(ggplot2::aes(shape = .data$key), size = 2.6) +
    ggrepel::geom_text_repel(ggplot2::aes(label = .data$label), ends, hjust = 0, nudge_x = 0.08, direction = "y",
      size = 3.6,
      seed = 1, segment.colour = ink[["line"]], min.segment.length = 0.3, xlim = c(3.05, NA)) +
    ggplot2::scale_colour_manual(values = c("FALSE" = ink[["ochre"]], "TRUE" = ink[["teal"]])) +
    ggplot2::scale_linewidth_manual(values = c("FALSE" = 0.5, "TRUE" = 1.3)) +
    ggplot2::scale_shape_manual(values = c("FALSE" = 17, "TRUE" = 19)) +
    ggplot2::scale_x_discrete(expand = ggplot2::expansion(add = c(0.2, 1.3)),
      labels = c(low = "weakest third", middle = "middle third", high = "strongest third")) +
    share_scale("y", limits = c(0, 1), breaks = seq(0, 1, 0.25)) +
    (if (length(item) > 1) ggplot2::facet_wrap(~ .data$item)) +
    titles(finding, "Share of each third of the students, by total score, that gave each answer. The key is teal.") +
    ggplot2::labs(x = NULL, y = "chosen by") +
    theme_paper()
}
