# Questions and students on one scale, in the terminal.

run_scale <- function(call) {
  sitting <- read_for_figures(call)
  if (!is.null(call$by) && !identical(call$by, "student")) {
    abort_pregunta(
      "call",
      say("cli-scale.by_student_only"),
      say("cli-scale.given", by = some_of(call$by, 3)),
      NULL
    )
  }
  of_students <- identical(call$by, "student") || !is.null(call$student)
  table <- if (of_students) summarise_places(sitting) else summarise_scale(sitting)
  rows <- view_asked(view_rows, call[names(call) != "by"], table)
  put_out(call, rows, if (of_students) show_places else show_scale)
}

#' @export
print.pregunta_scale <- function(x, ...) print_lines(x, show_scale)

#' @export
print.pregunta_places <- function(x, ...) print_lines(x, show_places)

show_scale <- function(scale) {
  ordered <- scale
  if (is.null(attr(scale, "sorted"))) {
    ordered <- scale[order(-scale$place, seq_len(nrow(scale))), ]
  }
  said <- ifelse(
    is.na(ordered$reason),
    or_blank(ordered$fit, words_for(ordered$fit, "fits")),
    say_reason(ordered$reason)
  )
  between_places <- with_bounds(
    ordered$place, ordered$place_low, ordered$place_high, function(x) number(x, 1)
  )
  lines <- format_table(
    text_column("item", ordered$item),
    text_column("type", ordered$type),
    text_column("n", ordered$n, "right"),
    text_column("place", between_places, "right"),
    number_column("infit", ordered$infit),
    number_column("outfit", ordered$outfit),
    text_column("fit", said, shrink = TRUE)
  )
  placed <- any(!is.na(scale$place))
  legend <- if (placed) c("", wrap_lines(say("legends.scale")))
  c(lines, "", wrap_lines(say_scale(scale)), legend)
}

show_places <- function(places) {
  ordered <- places
  if (is.null(attr(places, "sorted"))) ordered <- places[order(-places$place), ]
  format_table(
    text_column("student", ordered$student),
    text_column("name", ordered$name),
    text_column("section", ordered$section),
    share_column("share", ordered$share),
    number_column("place", ordered$place, 1),
    number_column("se", ordered$se, 1),
    text_column("", say_reason(ordered$reason))
  )
}
