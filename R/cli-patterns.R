# Answers that the model does not expect, in the terminal: for a person to look into.

run_patterns <- function(call) {
  sitting <- read_for_figures(call)
  if (isTRUE(call$pairs)) {
    alike <- rows_sorted(summarise_alike(sitting), call$sort)
    put_out(call, alike, show_alike, say_alike(alike))
  } else {
    rows <- view_asked(view_rows, call, summarise_patterns(sitting))
    put_out(call, rows, show_patterns)
  }
}

#' @export
print.pregunta_patterns <- function(x, ...) print_lines(x, show_patterns)

#' @export
print.pregunta_alike <- function(x, ...) print_lines(x, show_alike, says = TRUE)

# Those that are unlikely; of students asked for, all.
show_patterns <- function(patterns) {
  some <- nrow(patterns) < 5
  unlikely <- patterns[patterns$pattern %in% "unlikely" | some, , drop = FALSE]
  lines <- if (nrow(unlikely)) {
    said <- ifelse(
      is.na(unlikely$reason),
      words_for(unlikely$pattern, "fitting"), say_reason(unlikely$reason)
    )
    c(
      format_table(
        text_column("student", name_or_id(unlikely), shrink = TRUE),
        text_column("section", unlikely$section),
        text_column("items", unlikely$items, "right"),
        share_column("share", unlikely$share),
        number_column("lz", unlikely$lz, 1),
        text_column("", said),
        text_column("right_though_hard", listed(unlikely$right_though_hard)),
        text_column("wrong_though_easy", listed(unlikely$wrong_though_easy))
      ),
      ""
    )
  }
  c(lines, wrap_lines(say_patterns(patterns)))
}

listed <- function(codes) or_blank(codes, gsub(";", ", ", codes))

show_alike <- function(alike) {
  lines <- if (nrow(alike)) {
    first <- or_else(alike$name, alike$student)
    second <- or_else(alike$other_name, alike$other)
    c(
      format_table(
        text_column("student", paste(first, second, sep = ", "), shrink = TRUE),
        text_column("section", alike$section),
        text_column("items", alike$items, "right"),
        text_column("same", alike$same, "right"),
        text_column("same_wrong", alike$same_wrong, "right"),
        number_column("expected", alike$expected, 1)
      ),
      ""
    )
  }
  c(lines, wrap_lines(say_alike(alike)))
}
