#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_standards)
autoplot.pregunta_standards <- function(object, names = TRUE, ...) {
  check_summary(object)
  by <- attr(object, "by")
  if (!nrow(object)) {
    return(empty_picture(say("plot-standards.no_standard_has_a")))
  }
  if (identical(by, "student")) return(draw_student_standards(object, names))
  groups <- if (is.null(by)) 1 else length(unique(group_paths(object, by)))
  if (length(by) > 1 || groups > most_dodged) {
    draw_group_grid(object, by, groups)
  } else {
    draw_scores(object, by)
  }
}

# Beyond these, groups cannot be told apart by shape, or read at all.
most_dodged <- 6
most_in_grid <- 60

# Standards down, the mean score of each group with its interval.
draw_scores <- function(object, by) {
  tree <- attr(object, "tree")
  codes <- unique(object$code)
  label <- standard_labels(object, codes)
  table <- data.frame(
    code = factor(object$code, rev(codes)),
    share = object$share,
    low = object$share_low,
    high = object$share_high,
    group = if (is.null(by)) {
      factor("all")
    } else {
      factor(object[[by]], rev(unique(object[[by]])))
    }
  )
  settings <- settings_of(object)
  levels <- settings$levels
  groups <- nlevels(table$group)
  direct <- groups > 1 && groups * length(codes) <= most_labelled
  beside <- ggplot2::position_dodge(width = if (groups > 1) 0.6 else 0)
  ggplot2::ggplot(
    table,
    ggplot2::aes(
      .data$share,
      .data$code,
      colour = .data$group,
      shape = .data$group
    )
  ) +
    cut_lines(codes, settings, tree) +
    ggplot2::geom_linerange(
      ggplot2::aes(xmin = pmax(0, .data$low), xmax = pmin(1, .data$high)),
      position = beside,
      linewidth = 0.7,
      na.rm = TRUE
    ) +
    ggplot2::geom_point(
      position = beside,
      size = 2.6,
      na.rm = TRUE
    ) +
    (if (direct) group_labels(table)) +
    ggplot2::scale_colour_manual(
      values = rev(group_colours(groups)),
      name = by,
      guide = ggplot2::guide_legend(reverse = TRUE)
    ) +
    ggplot2::scale_shape_manual(
      values = rev(rep_len(c(19, 17, 15, 18, 8, 3), groups)),
      name = by,
      guide = ggplot2::guide_legend(reverse = TRUE)
    ) +
    ggplot2::scale_y_discrete(
      labels = stats::setNames(label, codes),
      limits = rev(codes)
    ) +
    share_scale(
      "x",
      limits = c(0, 1),
      breaks = seq(0, 1, 0.1),
      sec.axis = ggplot2::sec_axis(
        ~.,
        breaks = unlist(levels)[-1],
        labels = level_words(names(levels)[-1])
      )
    ) +
    titles(
      say_standards(object, tree),
      say(
        "plot-standards.mean_score_on_each",
        by = column_words(by),
        no_by = is.null(by)
      )
    ) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    legend_below(groups > 1 && !direct) +
    ggplot2::theme(
      axis.text.y = ggplot2::element_text(hjust = 0),
      panel.grid.major.y = ggplot2::element_blank()
    )
}

most_labelled <- 24 # rows, of which a letter is no higher than one

# The names of the groups beside their intervals on the first standard, one under the
# other in the order of these.
group_labels <- function(table) {
  first <- table[
    table$code == levels(table$code)[nlevels(table$code)] & !is.na(table$low),
  ]
  if (!nrow(first)) return(NULL)
  first$said <- shorten(printable(as.character(first$group)), 24)
  high <- min(1, max(first$high))
  # the panel beside long labels is narrow
  right <- 1 - high > (max(nchar(first$said)) + 2) * letter_width * 1.3
  first$at <- if (right) high + 0.02 else max(0, min(first$low)) - 0.02
  first$line <- nlevels(table$code) +
    (as.numeric(first$group) - (nlevels(first$group) + 1) / 2) * 0.3
  ggplot2::geom_text(
    ggplot2::aes(.data$at, .data$line, label = .data$said),
    first,
    hjust = if (right) 0 else 1,
    size = 3.1
  )
}

standard_labels <- function(object, codes, width = 46) {
  depth <- lengths(lapply(codes, ancestors, standards = attr(object, "tree")))
  first <- object[match(codes, object$code), ]
  title <- or_blank(first$title, paste0("  ", first$title))
  label <- shorten(
    paste0(strrep("    ", depth), codes, title),
    width
  )
  say("plot-standards.items", label = label, items = first$items)
}

# One line a cut through all standards, or a piece for each where cuts differ.
cut_lines <- function(codes, settings, tree) {
  if (is.null(settings$cuts)) {
    return(ggplot2::geom_vline(
      xintercept = unlist(settings$levels)[-1],
      colour = ink[["grey"]],
      linetype = "22",
      linewidth = 0.4
    ))
  }
  cuts <- lapply(codes, function(code) {
    unlist(levels_for(code, settings, tree))[-1]
  })
  at <- length(codes) + 1 - rep(seq_along(codes), lengths(cuts))
  ggplot2::annotate(
    "segment",
    x = unlist(cuts),
    xend = unlist(cuts),
    y = at - 0.5,
    yend = at + 0.5,
    colour = ink[["grey"]],
    linetype = "22",
    linewidth = 0.4
  )
}

# Groups down, standards across, coloured by the mean score.
draw_group_grid <- function(object, by, groups) {
  if (groups > most_in_grid) {
    abort_pregunta(
      "call",
      say("plot-standards.a_picture_of_groups", groups = groups),
      NULL,
      say("plot-standards.draw_fewer_narrow_sitting")
    )
  }
  path <- group_paths(object, by)
  depth <- group_depths(object, by)
  name <- vapply(strsplit(path, path_separator, fixed = TRUE), function(parts) {
    parts[length(parts)]
  }, "")
  label <- paste0(strrep("    ", depth - 1), shorten(printable(name), 26))
  names(label) <- path
  code <- shorten(printable(object$code), 12)
  cells <- data.frame(
    group = factor(path, rev(unique(path))),
    code = in_order(code),
    share = object$share,
    label = paste0(percent(object$share), apart_sign(object))
  )
  cells <- cells[!is.na(cells$share), ]
  ground <- step_ramp(101)[round(100 * cells$share) + 1]
  ggplot2::ggplot(cells, ggplot2::aes(.data$code, .data$group)) +
    ggplot2::geom_tile(
      fill = ground,
      colour = ink[["paper"]],
      linewidth = 0.8
    ) +
    ggplot2::geom_text(
      ggplot2::aes(label = .data$label),
      colour = vapply(ground, ink_on, ""),
      size = if (groups > 25) 2.4 else 3.2
    ) +
    ggplot2::scale_x_discrete(position = "top") +
    ggplot2::scale_y_discrete(labels = label) +
    titles(
      say_standards(object, attr(object, "tree")),
      say(
        "plot-standards.mean_score_on_each_standard",
        by = paste(column_words(by), collapse = say("plot-standards.and_within_it"))
      )
    ) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    ggplot2::theme(
      panel.grid = ggplot2::element_blank(),
      axis.text.y = ggplot2::element_text(
        hjust = 0,
        size = if (groups > 25) 6.5 else 9
      ),
      axis.text.x = if (length(unique(code)) > 9) {
        ggplot2::element_text(angle = 40, hjust = 0)
      }
    )
}

# Students down, standards across, coloured by level; the strongest on top.
draw_student_standards <- function(object, names) {
  shown <- object[!is.na(object$share), ]
  levels <- names(settings_of(object)$levels)
  overall <- tapply(shown$earned, shown$student, sum) /
    tapply(shown$open, shown$student, sum)
  order <- names(sort(overall))
  label <- shown[match(order, shown$student), ]
  many <- length(order) > 40 # then there is room for the mark alone
  code <- shorten(printable(shown$code), 12)
  cells <- data.frame(
    code = in_order(code),
    student = factor(shown$student, order),
    level = factor(shown$level, levels),
    mark = level_signs(length(levels))[match(shown$level, levels)]
  )
  if (!many) {
    cells$mark <- paste0(
      cells$mark,
      " ",
      percent(shown$share),
      ifelse(shown$unsure, "?", "")
    )
  }
  colours <- stats::setNames(level_colours(length(levels)), levels)
  ggplot2::ggplot(
    cells,
    ggplot2::aes(.data$code, .data$student, fill = .data$level)
  ) +
    ggplot2::geom_tile(
      colour = ink[["paper"]],
      linewidth = if (many) 0.2 else 0.6
    ) +
    ggplot2::geom_text(
      ggplot2::aes(label = .data$mark),
      size = if (many) 2 else 2.9,
      colour = vapply(
        colours[as.character(cells$level)],
        ink_on,
        ""
      )
    ) +
    ggplot2::scale_fill_manual(
      values = colours,
      labels = level_words(levels),
      drop = FALSE,
      name = NULL
    ) +
    ggplot2::scale_x_discrete(position = "top") +
    ggplot2::scale_y_discrete(
      labels = stats::setNames(student_label(label, names), order)
    ) +
    titles(
      say_lowest(shown, levels[1]),
      say("plot-standards.students_by_standards_coloured", many = many)
    ) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    legend_below() +
    ggplot2::theme(
      panel.grid = ggplot2::element_blank(),
      axis.text.y = ggplot2::element_text(size = if (many) 4.6 else 8)
    )
}

group_colours <- function(n) {
  if (n <= 1) return(ink[["teal"]])
  rep_len(
    c("#0B5A5A", "#B4700F", "#4A4A45", "#4A9D94", "#A8672A", "#7A7A72"),
    n
  )
}
