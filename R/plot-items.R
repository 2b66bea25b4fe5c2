#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_items)
autoplot.pregunta_items <- function(object, options = NULL, ...) {
  check_summary(object)
  thresholds <- settings_of(object)$thresholds
  look <- if (is.null(options)) NULL else look_first(object, options)
  table <- object[!is.na(object$discrimination), ]
  table$look <- table$item %in% look$item
  table$label <- ifelse(
    worth_naming(table, look$item),
    short_items(table$item, 12),
    ""
  )
  missing <- object[is.na(object$discrimination), ]
  low <- min(-0.25, table$discrimination - 0.05)
  zones <- data.frame(
    x = c(0.015, 0.985),
    y = 0.97,
    hjust = c(0, 1),
    label = words_for(c("hard", "easy"), "difficulty_bands")
  )
  zones <- rbind(
    zones,
    cbind(
      free_corner(table, low),
      label = say("plot-items.the_strong_do_worse")
    )
  )
  ggplot2::ggplot(table, ggplot2::aes(.data$difficulty, .data$discrimination)) +
    ggplot2::annotate(
      "rect",
      xmin = 0,
      xmax = 1,
      ymin = low,
      ymax = 0,
      fill = ink[["wash"]]
    ) +
    ggplot2::geom_vline(
      xintercept = c(thresholds$hard, thresholds$easy),
      colour = ink[["grey"]],
      linetype = "22",
      linewidth = 0.4
    ) +
    ggplot2::geom_hline(
      yintercept = 0,
      colour = ink[["grey"]],
      linewidth = 0.4
    ) +
    ggplot2::geom_text(
      ggplot2::aes(
        .data$x,
        .data$y,
        label = .data$label,
        hjust = .data$hjust
      ),
      zones,
      inherit.aes = FALSE,
      size = 3.3,
      colour = ink[["grey"]],
      fontface = "italic"
    ) +
    ggplot2::geom_point(
      ggplot2::aes(colour = .data$look, shape = .data$look),
      size = 2.6
    ) +
    ggrepel::geom_text_repel(
      ggplot2::aes(label = .data$label, colour = .data$look),
      size = 3.5,
      seed = 1,
      box.padding = 0.3,
      min.segment.length = 0.2,
      max.overlaps = Inf,
      max.iter = 2000,
      segment.colour = ink[["grey"]],
      segment.size = 0.3
    ) +
    ggplot2::scale_colour_manual(
      values = c("FALSE" = ink[["teal"]], "TRUE" = ink[["ochre"]]),
      limits = c("FALSE", "TRUE")
    ) +
    ggplot2::scale_shape_manual(
      values = c("FALSE" = 19, "TRUE" = 17),
      limits = c("FALSE", "TRUE")
    ) +
    share_scale(
      "x",
      breaks = seq(0, 1, 0.1),
      limits = c(0, 1),
      expand = ggplot2::expansion(0)
    ) +
    ggplot2::scale_y_continuous(
      breaks = seq(-1, 1, 0.2),
      limits = c(low, 1),
      expand = ggplot2::expansion(0)
    ) +
    titles(
      if (is.null(look)) {
        say("plot-items.the_hardest_item_is", object = hardest(object))
      } else {
        say_items(object, look)
      },
      say("plot-items.each_item_by_the", any_look = any(table$look)),
      if (nrow(missing)) {
        say(
          "plot-items.not_shown",
          item = some_of(
            paste0(
              missing$item, " (", say_reason(missing$reason), ")"
            ),
            4
          )
        )
      }
    ) +
    ggplot2::labs(
      x = say("plot-items.difficulty_share_of_points"),
      y = say("headings.discrimination")
    ) +
    theme_paper()
}

# Where the words about the zone below 0 stand furthest from the items.
free_corner <- function(table, low) {
  corners <- data.frame(
    x = c(0.985, 0.015),
    y = rep(c(low + 0.03, -0.04), each = 2),
    hjust = c(1, 0)
  )
  middle <- abs(corners$x - 0.12)
  nearest <- vapply(seq_len(4), function(k) {
    min(
      sqrt(
        (table$difficulty - middle[k])^2 +
          (table$discrimination - corners$y[k])^2
      )
    )
  }, 0)
  corners[which.max(nearest), ]
}

most_named <- 40
most_looked_at <- 12
few_named <- 3

# Of many items the first of those to look at, the hardest, and those that tell least.
worth_naming <- function(table, look) {
  if (nrow(table) <= most_named) return(rep(TRUE, nrow(table)))
  ends <- c(
    utils::head(order(table$difficulty), few_named),
    utils::head(order(table$discrimination), few_named)
  )
  table$item %in% utils::head(unique(look), most_looked_at) |
    seq_len(nrow(table)) %in% ends
}
