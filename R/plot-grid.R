#' @rdname autoplot
#' @rawNamespace S3method(ggplot2::autoplot, pregunta_sitting)
autoplot.pregunta_sitting <- function(object, names = TRUE, ...) {
  grid <- answer_grid(object)
  students <- summarise_students(object)
  students <- students[match(grid$student, students$student), ]
  items <- summarise_items(object)
  label <- student_label(students, names)
  cells <- data.frame(
    item = factor(rep(grid$item, each = length(grid$student)), grid$item),
    student = factor(rep(grid$student, length(grid$item)), rev(grid$student)),
    kind = as.vector(grid$kind)
  )
  many <- length(grid$student) > 60
  # letters that fit side by side
  turned <- sum(nchar(short_items(grid$item))) > 110
  ggplot2::ggplot(
    cells,
    ggplot2::aes(.data$item, .data$student, fill = .data$kind)
  ) +
    ggplot2::geom_tile(
      colour = ink[["paper"]],
      linewidth = if (many) 0.15 else 0.4
    ) +
    ggplot2::geom_point(
      data = cells[cells$kind == "wrong", ],
      shape = 4,
      show.legend = FALSE,
      size = if (many) 0.6 else 1.2,
      colour = ink[["ink"]]
    ) +
    ggplot2::scale_fill_manual(
      values = grid_colours,
      breaks = names(grid_colours),
      labels = words_for(names(grid_colours), "answer_kinds"),
      drop = FALSE,
      name = NULL
    ) +
    ggplot2::scale_y_discrete(
      labels = stats::setNames(
        paste0(label, "  ", percent(students$share)),
        students$student
      )
    ) +
    ggplot2::scale_x_discrete(position = "top", labels = short_items) +
    titles(
      say_grid(students, items),
      say("plot-grid.students_by_items_absent")
    ) +
    ggplot2::labs(x = NULL, y = NULL) +
    theme_paper() +
    legend_below() +
    ggplot2::theme(
      panel.grid = ggplot2::element_blank(),
      axis.text.y = ggplot2::element_text(size = if (many) 4.6 else 8),
      axis.text.x.top = ggplot2::element_text(
        size = if (length(grid$item) > 60) 6 else 8,
        angle = if (turned) 90 else 0,
        hjust = if (turned) 0 else 0.5,
        vjust = if (turned) 0.5 else 0
      )
    )
}

grid_colours <- c(
  right = "#0B5A5A",
  partly = "#7DB5AC",
  wrong = "#EAD9AE",
  blank = "#FFFFFF",
  waiting = "#C9C4B8",
  "not_given" = "#FBF8F1"
)

# Students (strongest first) by items (hardest first): what each cell is, the
# answer and the points.
answer_grid <- function(sitting) {
  students <- summarise_students(sitting)
  rows <- which(was_present(sitting))
  rows <- rows[
    order(
      -students$share[rows],
      students$student[rows],
      method = "radix"
    )
  ]
  columns <- order(
    summarise_items(sitting)$difficulty,
    seq_len(nrow(sitting$items)),
    method = "radix"
  )
  list(
    student = students$student[rows],
    item = sitting$items$item[columns],
    kind = answer_kinds(sitting)[rows, columns, drop = FALSE],
    answers = shown_cells(sitting)[rows, columns, drop = FALSE],
    points = cell_points(sitting)[rows, columns, drop = FALSE]
  )
}

# What each cell is, in the words of the legend.
answer_kinds <- function(sitting) {
  points <- cell_points(sitting)
  most <- rep(sitting$items$points, each = nrow(points))
  kind <- array("wrong", dim(points))
  kind[which(points > 1e-9)] <- "partly"
  kind[which(points > most - 1e-9)] <- "right"
  state <- cell_state_names[cell_states(sitting)]
  kind[state %in% c("omitted", "not_reached")] <- "blank"
  kind[state == "pending"] <- "waiting"
  kind[state %in% c("not_given", "excused")] <- "not_given"
  kind
}

student_label <- function(students, names) {
  if (!names) return(say("plot-grid.student", n = seq_len(nrow(students))))
  shorten(printable(or_else(students$name, students$student)), 28)
}
