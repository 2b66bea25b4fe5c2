#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_misconceptions)
autoplot.pregunta_misconceptions <- function(object, names = TRUE, ...) {
  check_summary(object)
  if (!nrow(object)) {
    abort_pregunta(
      "call",
      say("plot-misconceptions.no_option_of_this"),
      NULL,
      NULL
    )
  }
  if (identical(attr(object, "by"), "student")) {
    draw_held(object, names)
  } else {
    draw_ideas(object)
  }
}

# What can be read on the colour of each.
text_on <- function(kind) ifelse(kind == "likely", ink[["paper"]], ink[["ink"]])

held_colours <- c(
  likely = "#B4700F",
  now_and_then = "#D9A44E",
  once = "#F3E7CC",
  never = "#E7EDE9"
)

# A bar an idea (and group), from those who likely hold it to those who never
# chose it.
draw_ideas <- function(object) {
  by <- attr(object, "by")
  group <- if (is.null(by)) rep("", nrow(object)) else group_names(object, by)
  kinds <- held_codes
  bars <- data.frame(
    idea = rep(idea_label(object), length(kinds)),
    group = rep(group, length(kinds)),
    kind = rep(kinds, each = nrow(object)),
    count = unlist(object[kinds]),
    n = rep(object$n, length(kinds))
  )
  bars$share <- bars$count / bars$n
  bars <- bars[!is.na(bars$share), ]
  bars$kind <- factor(bars$kind, rev(kinds))
  word <- words_for(as.character(bars$kind), "held")
  named <- named_once(
    bars$kind,
    nchar(word) + 1 + nchar(bars$count),
    bars$share
  )
  name <- ifelse(named, paste0(word, " "), "")
  bars$label <- ifelse(
    bars$share < 0.03,
    "",
    paste0(name, bars$count)
  )
  bars$idea <- factor(bars$idea, unique(idea_label(object)))
  bars$group <- factor(bars$group, rev(unique(group)))
  ggplot2::ggplot(
    bars,
    ggplot2::aes(.data$share, .data$group, fill = .data$kind)
  ) +
    ggplot2::geom_col(
      width = 0.72,
      colour = ink[["paper"]],
      linewidth = 0.3
    ) +
    ggplot2::geom_text(
      ggplot2::aes(
        label = .data$label,
        group = .data$kind,
        colour = text_on(.data$kind)
      ),
      size = 3.4,
      position = ggplot2::position_stack(vjust = 0.5)
    ) +
    ggplot2::scale_colour_identity() +
    ggplot2::facet_wrap(ggplot2::vars(.data$idea), ncol = 1) +
    ggplot2::scale_fill_manual(
      values = held_colours,
      breaks = kinds,
      labels = words_for(held_codes, "held"),
      name = NULL
    ) +
    share_scale("x", expand = c(0, 0)) +
    titles(
      say_misconceptions(object, described = FALSE),
      say("plot-misconceptions.students_by_how_often")
    ) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    legend_below(!any(named)) +
    ggplot2::theme(panel.grid.major.y = ggplot2::element_blank())
}

idea_label <- function(object) {
  ifelse(
    is.na(object$description),
    object$code,
    paste0(
      object$code, "  ", shorten(printable(object$description), 70)
    )
  )
}

# Students by ideas: those who chose the answers of one idea twice.
draw_held <- function(object, names) {
  twice <- unique(
    object$student[object$status %in% c("likely", "now_and_then")]
  )
  if (!length(twice)) {
    abort_pregunta(
      "call",
      say("judge-misconceptions.nobody_twice"),
      NULL,
      NULL
    )
  }
  shown <- object[object$student %in% twice & !is.na(object$status), ]
  strength <- tapply(
    ifelse(shown$status %in% "likely", 10, 1) * shown$chosen,
    shown$student,
    sum
  )
  order <- names(sort(strength))
  label <- shown[match(order, shown$student), ]
  shown$kind <- factor(shown$status, held_codes)
  shown$student <- factor(shown$student, order)
  shown$code <- factor(shown$code, unique(object$code))
  likely <- length(unique(object$student[object$status %in% "likely"]))
  ggplot2::ggplot(
    shown,
    ggplot2::aes(.data$code, .data$student, fill = .data$kind)
  ) +
    ggplot2::geom_tile(colour = ink[["paper"]], linewidth = 0.8) +
    ggplot2::geom_text(
      ggplot2::aes(
        label = say(
          "plot-misconceptions.of",
          chosen = .data$chosen,
          chances = .data$chances
        ),
        colour = text_on(.data$kind),
        fontface = ifelse(.data$kind == "likely", "bold", "plain")
      ),
      size = 3.1
    ) +
    ggplot2::scale_colour_identity() +
    ggplot2::scale_fill_manual(
      values = held_colours,
      labels = words_for(held_codes, "held"),
      drop = FALSE,
      name = NULL
    ) +
    ggplot2::scale_x_discrete(position = "top") +
    ggplot2::scale_y_discrete(
      labels = stats::setNames(student_label(label, names), order)
    ) +
    titles(
      say(
        "plot-misconceptions.students_likely_hold_a",
        likely = likely,
        n = length(order) - likely
      ),
      say("plot-misconceptions.times_chosen_of_answered")
    ) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    legend_below() +
    ggplot2::theme(
      panel.grid = ggplot2::element_blank(),
      axis.text.y = ggplot2::element_text(size = 8.5)
    )
}
