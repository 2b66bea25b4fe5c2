#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_standards)
autoplot.pregunta_standards <- function(object, ...) {
  by <- attr(object, "by")
  if (identical(by, "student")) {
    abort_pregunta("call", "A summary by student is not drawn here.", NULL,
      "Draw summarise_standards() of the class or by a column.")
  }
  tree <- attr(object, "tree")
  codes <- unique(object$code)
  depth <- vapply(codes, function(code) length(ancestors(code, tree)), 0L)
  first <- object[match(codes, object$code), ]
  label <- shorten(paste0(strrep("    ", depth), codes, ifelse(is.na(first$title), "", paste0("  ", first$title))), 46)
  label <- paste0(label, "  (", first$items, ifelse(first$items == 1, " item)", " items)"))
  table <- data.frame(
    code = factor(object$code, rev(codes)), share = object$share, low = object$share_low, high = object$share_high,
    group = if (is.null(by)) factor("all") else factor(object[[by]], rev(unique(object[[by]])))
  )
  levels <- settings_of(object)$levels
  groups <- nlevels(table$group)
  beside <- ggplot2::position_dodge(width = if (groups > 1) 0.6 else 0)
  ggplot2::ggplot(table, ggplot2::aes(.data$share, .data$code, colour = .data$group, shape = .data$group)) +
    ggplot2::geom_vline(xintercept = unlist(levels)[-1], colour = ink[["grey"]], linetype = "22", linewidth = 0.4) +
    ggplot2::geom_linerange(ggplot2::aes(xmin = pmax(0, .data$low), xmax = pmin(1, .data$high)), position = beside,
      linewidth = 0.7, na.rm = TRUE) +
    ggplot2::geom_point(position = beside, size = 2.6, na.rm = TRUE) +
    ggplot2::scale_colour_manual(values = rev(group_colours(groups)), name = by,
      guide = ggplot2::guide_legend(reverse = TRUE)) +
    ggplot2::scale_shape_manual(values = rev(rep_len(c(19, 17, 15, 18, 8, 3), groups)), name = by,
      guide = ggplot2::guide_legend(reverse = TRUE)) +
    ggplot2::scale_y_discrete(labels = stats::setNames(label, codes)) +
    share_scale("x", limits = c(0, 1), breaks = seq(0, 1, 0.1), sec.axis = ggplot2::sec_axis(~ .,
      breaks = unlist(levels)[-1], labels = names(levels)[-1])) +
    titles(say_standards(object, tree), paste0("Mean score on each standard", if (!is.null(by)) paste0(" by ", by),
      ", with its 95% interval; dashed lines are the cuts between levels.")) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    ggplot2::theme(legend.position = if (groups > 1) "bottom" else "none", legend.justification = "left",
      axis.text.y = ggplot2::element_text(hjust = 0), panel.grid.major.y = ggplot2::element_blank())
}

group_colours <- function(n) {
  if (n <= 1) return(ink[["teal"]])
  rep_len(c("#0B5A5A", "#B4700F", "#4A4A45", "#4A9D94", "#A8672A", "#7A7A72"), n)
}
