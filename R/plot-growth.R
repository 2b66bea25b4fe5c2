#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_growth)
autoplot.pregunta_growth <- function(object, names = TRUE, ...) {
  check_summary(object)
  by <- attr(object, "by")
  if (!nrow(object)) {
    return(empty_picture(say("plot-growth.there_are_no_results")))
  }
  if (!identical(by, "student")) return(draw_class_growth(object, by))
  one <- length(unique(object$student)) == 1
  rows <- if (one) {
    own_growth_rows(object)
  } else {
    students_growth_rows(object, names)
  }
  if (length(unique(rows$row)) > most_in_grid) {
    abort_pregunta(
      "call",
      say("plot-growth.a_picture_of_students", n = length(unique(rows$row))),
      NULL,
      say("plot-growth.draw_a_section_growth")
    )
  }
  who <- if (!names || is.na(object$name[1])) {
    object$student[1]
  } else {
    object$name[1]
  }
  finding <- if (one) {
    say_own_growth(object, who)
  } else {
    say_students_growth(object[object$code == object$code[1], ])
  }
  draw_growth_grid(rows, object, finding)
}

# Windows across, a line a group; a panel for each lowest standard.
draw_class_growth <- function(object, by) {
  tree <- attr(object, "tree")
  windows <- intersect(attr(object, "windows"), object$window)
  if (length(by) > 1) {
    # A line for each of the outermost groups.
    object <- object[group_depths(object, by) == 1, ]
    by <- by[1]
  }
  shown <- object[
    object$n > 0 & !is.na(object$share) & !object$code %in% tree$parent,
  ]
  leaf <- shown[shown$code != whole_code, ]
  if (nrow(leaf)) {
    shown <- leaf
  }
  if (!nrow(shown)) {
    return(empty_picture(say("plot-growth.there_are_no_results")))
  }
  shown <- shown[shown$code %in% utils::head(unique(shown$code), 12), ]
  label <- paste0(
    shown_codes(shown$code),
    or_blank(shown$title, paste0("  ", shown$title))
  )
  on <- unique(shown$scale)
  one_scale <- length(on) == 1 && !is.na(on)
  columns <- if (one_scale) {
    c("linked_share", "linked_low", "linked_high")
  } else {
    c("share", "share_low", "share_high")
  }
  data <- data.frame(
    window = factor(shown$window, windows),
    share = shown[[columns[1]]],
    low = pmax(0, shown[[columns[2]]]),
    high = pmin(1, shown[[columns[3]]]),
    panel = panel_names(label),
    group = factor(if (is.null(by)) say("plot-growth.all") else shown[[by]])
  )
  groups <- nlevels(data$group)
  beside <- ggplot2::position_dodge(width = if (groups > 1) 0.25 else 0)
  ggplot2::ggplot(
    data,
    ggplot2::aes(
      .data$window,
      .data$share,
      colour = .data$group,
      group = .data$group,
      shape = .data$group
    )
  ) +
    ggplot2::geom_hline(
      yintercept = attr(object, "cut"),
      colour = ink[["grey"]],
      linetype = "22",
      linewidth = 0.4
    ) +
    ggplot2::geom_line(position = beside, linewidth = 0.8) +
    ggplot2::geom_linerange(
      ggplot2::aes(ymin = .data$low, ymax = .data$high),
      position = beside,
      linewidth = 0.5,
      na.rm = TRUE
    ) +
    ggplot2::geom_point(position = beside, size = 2.6) +
    ggplot2::facet_wrap(~panel) +
    ggplot2::scale_colour_manual(values = group_colours(groups), name = by) +
    ggplot2::scale_shape_manual(
      values = rep_len(c(19, 17, 15, 18, 8, 3), groups),
      name = by
    ) +
    share_scale("y", limits = c(0, 1), breaks = seq(0, 1, 0.25)) +
    titles(
      c(say_growth(object), "")[1],
      if (one_scale) {
        say("plot-growth.mean_share_on", on = on)
      } else {
        say("plot-growth.mean_score_of_those")
      }
    ) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    legend_below(groups > 1) +
    ggplot2::theme(
      axis.text.x = ggplot2::element_text(
        size = if (nlevels(data$panel) > 4) 8 else 10
      ),
      panel.grid.major.x = ggplot2::element_blank(),
      panel.spacing = ggplot2::unit(14, "pt")
    )
}

# As wide as the panels are, side by side.
panel_names <- function(label) {
  beside <- ceiling(sqrt(length(unique(label))))
  short <- shorten(printable(label), max(10, 80 %/% beside))
  in_order(short)
}

own_growth_rows <- function(object) {
  depth <- lengths(
    lapply(
      object$code,
      ancestors,
      standards = attr(object, "tree")
    )
  )
  label <- paste0(
    strrep("    ", depth),
    shown_codes(object$code),
    or_blank(object$title, paste0("  ", object$title))
  )
  data.frame(
    row = object$code,
    label = shorten(printable(label), 46),
    object[c("window", "share", "level", "carried")]
  )
}

# The weakest at the bottom, by the last result.
students_growth_rows <- function(object, names) {
  mine <- object[object$code == object$code[1], ]
  last <- mine[!duplicated(mine$student, fromLast = TRUE), ]
  order <- last$student[order(-last$share)]
  mine <- mine[order(match(mine$student, order)), ]
  data.frame(
    row = mine$student,
    label = student_label(mine, names),
    mine[c("window", "share", "level", "carried")]
  )
}

# Cells coloured by level; what is carried has a frame only.
draw_growth_grid <- function(rows, object, finding) {
  levels <- names(settings_of(object)$levels)
  colours <- stats::setNames(level_colours(length(levels)), levels)
  windows <- intersect(attr(object, "windows"), rows$window)
  cells <- data.frame(
    row = factor(rows$row, rev(unique(rows$row))),
    window = factor(rows$window, windows),
    fill = ifelse(
      rows$carried,
      ink[["paper"]],
      colours[rows$level]
    ),
    frame = colours[rows$level],
    said = paste0(
      level_signs(length(levels))[match(rows$level, levels)],
      " ",
      percent(rows$share)
    )
  )
  cells$ink <- ifelse(
    rows$carried,
    ink[["grey"]],
    vapply(colours[rows$level], ink_on, "")
  )
  many <- length(unique(rows$row)) > 25
  key <- paste0(
    level_signs(length(levels)), " ", levels, collapse = "   "
  )
  ggplot2::ggplot(cells, ggplot2::aes(.data$window, .data$row)) +
    ggplot2::geom_tile(
      ggplot2::aes(fill = .data$fill, colour = .data$frame),
      width = 0.92,
      height = 0.84,
      linewidth = 0.7
    ) +
    ggplot2::geom_text(
      ggplot2::aes(label = .data$said, colour = .data$ink),
      size = if (many) 2.4 else 3.4
    ) +
    ggplot2::scale_fill_identity() +
    ggplot2::scale_colour_identity() +
    ggplot2::scale_x_discrete(position = "top", drop = FALSE) +
    ggplot2::scale_y_discrete(labels = stats::setNames(rows$label, rows$row)) +
    titles(
      finding,
      say("plot-growth.a_frame_alone_no", key = key)
    ) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    ggplot2::theme(
      panel.grid = ggplot2::element_blank(),
      axis.text.y = ggplot2::element_text(
        hjust = 0,
        size = if (many) 6.5 else 10
      )
    )
}

#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_ladder)
autoplot.pregunta_ladder <- function(object, names = TRUE, ...) {
  check_summary(object)
  ladder <- if (is.null(attr(object, "ladder"))) {
    attr(object, "ladders")[[1]]
  } else {
    attr(object, "ladder")
  }
  if (!is.null(object$ladder)) {
    object <- object[object$ladder == object$ladder[1], ]
  }
  step <- c(ladder, say("plot-growth.passed_all"))
  at <- factor(step[object$passed + 1], step)
  group <- factor(
    if (all(is.na(object$section))) {
      rep(say("plot-growth.all"), nrow(object))
    } else {
      or_else(object$section, "(none)")
    }
  )
  cells <- as.data.frame(
    table(step = at, group = group),
    stringsAsFactors = TRUE
  )
  who <- student_label(object, names)
  cells$names <- vapply(seq_len(nrow(cells)), function(k) {
    mine <- who[at == cells$step[k] & group == cells$group[k]]
    broken(in_a_row(mine), max(20, 126 %/% nlevels(group)))
  }, "")
  few <- max(lengths(strsplit(cells$names, "\n", fixed = TRUE))) <= most_lines
  highest <- sum(object$top)
  ggplot2::ggplot(cells, ggplot2::aes(.data$group, .data$step)) +
    ggplot2::geom_tile(
      ggplot2::aes(alpha = .data$Freq),
      fill = ink[["teal"]],
      width = 0.96,
      height = 0.92
    ) +
    ggplot2::geom_text(
      ggplot2::aes(label = ifelse(.data$Freq > 0, .data$Freq, "")),
      colour = ink[["ink"]],
      fontface = "bold",
      size = 4.4,
      nudge_y = if (few) 0.34 else 0
    ) +
    (if (few) {
      ggplot2::geom_text(
        ggplot2::aes(label = .data$names),
        colour = ink[["ink"]],
        size = 2.4,
        nudge_y = -0.1,
        lineheight = 0.95
      )
    }) +
    ggplot2::scale_alpha(range = c(0.04, 0.4)) +
    ggplot2::scale_x_discrete(position = "top") +
    ggplot2::scale_y_discrete(
      drop = FALSE,
      labels = c(
        say("plot-growth.working_on", ladder = ladder),
        say("plot-growth.passed_all")
      )
    ) +
    titles(
      say(
        "plot-growth.of_students_passed_all",
        highest = highest,
        n = nrow(object),
        n_ladder = length(ladder),
        at = names(which.max(table(at[!object$top])))
      ),
      say("plot-growth.students_by_the_step")
    ) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    ggplot2::theme(
      panel.grid = ggplot2::element_blank(),
      axis.text.y = ggplot2::element_text(hjust = 0)
    )
}

most_lines <- 6 # of names in a cell
