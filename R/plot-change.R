#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_change)
autoplot.pregunta_change <- function(object, names = TRUE, ...) {
  check_summary(object)
  by <- attr(object, "by")
  rows <- if (identical(by, "student")) {
    student_arrows(object, names)
  } else if (identical(by, "item")) {
    item_arrows(object)
  } else {
    object <- on_one_scale(object, attr(object, "link"))
    standard_arrows(object, by)
  }
  rows <- rows[!is.na(rows$before) & !is.na(rows$after), ]
  if (!nrow(rows)) return(empty_picture(say("plot-change.nobody_has_a_score")))
  if (nrow(rows) > most_arrows) {
    abort_pregunta(
      "call",
      say("plot-change.a_picture_of_rows", n = nrow(rows)),
      NULL,
      say("plot-change.draw_fewer_compare_narrowed")
    )
  }
  draw_arrows(rows, object)
}

most_arrows <- 90

standard_arrows <- function(object, by) {
  depth <- lengths(
    lapply(
      object$code,
      ancestors,
      standards = attr(object, "tree")
    )
  )
  title <- or_blank(object$title, paste0("  ", object$title))
  label <- paste0(strrep("    ", depth), shown_codes(object$code), title)
  label <- shorten(printable(label), 46)
  if (!is.null(by)) {
    object <- object[order(match(object$code, unique(object$code))), ]
    label <- paste0(shown_codes(object$code), "  ", group_names(object, by))
    label <- shorten(printable(label), 46)
  }
  data.frame(
    label = label,
    before = object$share_before,
    after = object$share_after,
    sure = object$change_low > 0 | object$change_high < 0
  )
}

student_arrows <- function(object, names) {
  whole <- object[object$code == whole_code, ]
  whole <- whole[order(-whole$share_before, -whole$share_after), ]
  data.frame(
    label = student_label(whole, names),
    before = whole$share_before,
    after = whole$share_after,
    sure = whole$moved != "stayed"
  )
}

item_arrows <- function(object) {
  object <- object[order(-object$difficulty_after), ]
  label <- paste0(
    object$item_before,
    " \u2192 ",
    object$item,
    or_blank(object$prompt, paste0("  ", object$prompt))
  )
  data.frame(
    label = shorten(printable(label), 46),
    before = object$difficulty_before,
    after = object$difficulty_after,
    sure = object$change_low > 0 | object$change_high < 0
  )
}

# From the hollow point before to the full one after.
draw_arrows <- function(rows, object) {
  by <- attr(object, "by")
  many <- nrow(rows) > 30
  rows$at <- factor(seq_len(nrow(rows)), rev(seq_len(nrow(rows))))
  rows$colour <- data.table::fcase(
    !rows$sure %in% TRUE, ink[["grey"]],
    rows$after >= rows$before, ink[["teal"]],
    default = ink[["ochre"]]
  )
  rows$said <- signed_points(rows$after - rows$before)
  ggplot2::ggplot(rows, ggplot2::aes(y = .data$at, colour = .data$colour)) +
    ggplot2::geom_vline(
      xintercept = settings_of(object)$mastery_cut,
      colour = ink[["grey"]],
      linetype = "22",
      linewidth = 0.4
    ) +
    ggplot2::geom_segment(
      ggplot2::aes(
        x = .data$before,
        xend = .data$after,
        yend = .data$at
      ),
      linewidth = if (many) 0.5 else 1.1
    ) +
    ggplot2::geom_point(
      ggplot2::aes(x = .data$before),
      shape = 21,
      fill = ink[["paper"]],
      size = if (many) 1.3 else 2.8,
      stroke = 0.9
    ) +
    ggplot2::geom_point(
      ggplot2::aes(x = .data$after),
      size = if (many) 1.5 else 3.2
    ) +
    ggplot2::geom_text(
      ggplot2::aes(x = pmax(.data$before, .data$after), label = .data$said),
      hjust = 0,
      nudge_x = 0.02,
      size = if (many) 2 else 3.4,
      fontface = "bold"
    ) +
    ggplot2::scale_colour_identity() +
    ggplot2::scale_y_discrete(
      labels = stats::setNames(rows$label, as.character(rows$at))
    ) +
    share_scale(
      "x",
      limits = c(0, 1.06),
      breaks = seq(0, 1, 0.2)
    ) +
    titles(
      change_title(object),
      say(
        "plot-change.mean_share_of_the",
        by_student = identical(by, "student"),
        on_one = any(object$on_one)
      )
    ) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    ggplot2::theme(
      axis.text.y = ggplot2::element_text(
        hjust = 0,
        size = if (many) 5.5 else 10
      ),
      panel.grid.major.y = ggplot2::element_blank()
    )
}

change_title <- function(object) {
  by <- attr(object, "by")
  if (identical(by, "student")) {
    counts <- table(
      factor(
        object$outcome[object$code == whole_code],
        c("got_there", "was_there", "still_to_come", "fell_back")
      )
    )
    return(say(
      "plot-change.got_there_were_there",
      got = counts[[1]],
      were = counts[[2]],
      still = counts[[3]],
      fell = counts[[4]],
      any_fell = counts[[4]]
    ))
  }
  if (identical(by, "item")) {
    surely <- change_is_sure(
      object$change,
      object$change_low,
      object$change_high,
      object$n
    )
    up <- sum(surely & object$change > 0)
    return(say("plot-change.of_items_used_in", up = up, n = nrow(object)))
  }
  if (is.null(by) && any(object$on_one)) {
    whole <- object[object$code == whole_code, ][1, ]
    return(say_linked_change(whole, attr(object, "link")$kept))
  }
  if (is.null(by)) return(sub("[.:] .*", ".", say_change_of(object)[1]))
  whole <- object[object$code == whole_code & !is.na(object$change), ]
  name <- group_names(whole, by)
  if (nrow(whole) < 2) return(say("plot-change.there_is_one_group"))
  end <- function(row) {
    paste0(name[row], " (", signed_points(whole$change[row]), ")")
  }
  say(
    "plot-change.from_least_to_most",
    most = end(which.max(whole$change)),
    least = end(which.min(whole$change))
  )
}
