# Questions and students on one scale, in the terminal.

run_scale <- function(call) {
  sitting <- read_for_figures(call[names(call) != "by"])
  by <- if (!is.null(call$student)) "student" else call[["by"]]
  if (!is.null(by) && !isTRUE(by %in% c("student", "score"))) {
    abort_pregunta(
      "call",
      say("cli-scale.by_student_or_score"),
      say("cli-scale.given", by = some_of(by, 3)),
      NULL
    )
  }
  slopes <- isTRUE(call$slopes)
  kinds <- list(
    scale = list(summarise_scale, show_scale),
    student = list(summarise_places, show_places),
    score = list(summarise_information, show_information)
  )
  kind <- kinds[[if (is.null(by)) "scale" else by]]
  rows <- view_asked(view_rows, call[names(call) != "by"], kind[[1]](sitting, slopes))
  nothing <- if (identical(by, "score")) {
    say("cli-scale.nothing_placed")
  } else {
    say("cli-verbs.nothing_to_show")
  }
  put_out(call, rows, kind[[2]], nothing)
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
    text_column("type", type_words(ordered$type)),
    text_column("n", ordered$n, "right"),
    text_column("place", between_places, "right"),
    if (isTRUE(attr(scale, "slopes"))) number_column("slope", ordered$slope, 1),
    number_column("infit", ordered$infit),
    number_column("outfit", ordered$outfit),
    text_column("fit", said, shrink = "wrap")
  )
  placed <- any(!is.na(scale$place))
  slopes <- isTRUE(attr(scale, "slopes"))
  legend <- if (placed) {
    c("", wrap_lines(if (slopes) say("legends.slopes") else say("legends.scale")))
  }
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

#' @export
print.pregunta_information <- function(x, ...) {
  print_lines(x, show_information, says = TRUE)
}

show_information <- function(table) {
  if (!nrow(table)) return(wrap_lines(say("cli-scale.nothing_placed")))
  slopes <- isTRUE(attr(table, "slopes"))
  between <- with_bounds(table$share, table$share_low, table$share_high, percent)
  lines <- format_table(
    text_column("score", number(table$score, if (slopes) 1 else 0), "right"),
    text_column("n", table$n, "right"),
    text_column("share", between, "right"),
    number_column("place", table$place, 1),
    number_column("information", table$information, 1),
    number_column("se", table$se, 2),
    text_column("", bar(table$information / max(table$information)), colour = "teal")
  )
  c(lines, "", wrap_lines(say("legends.information", items = attr(table, "items"))))
}
