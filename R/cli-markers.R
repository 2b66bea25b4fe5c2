# Two markers in the terminal.

run_markers <- function(call) {
  sitting <- read_for_figures(call[names(call) != "by"])
  by <- if (is.null(call[["by"]])) "item" else call[["by"]]
  sheets <- split_commas(call$sheets)
  marks <- if (length(sheets)) read_marks_of_sheets(sitting, sheets)
  table <- summarise_markers(sitting, by, marks)
  said <- if (call$format == "text" && by == "item") say_markers(sitting, marks)
  nothing <- say("cli-markers.nothing_apart")
  put_out(call, rows_sorted(table, call$sort), function(table) {
    c(show_markers(table), if (length(said)) c("", wrap_lines(said)))
  }, nothing)
}

#' @export
print.pregunta_markers <- function(x, ...) print_lines(x, show_markers)

show_markers <- function(table) {
  shows <- list(
    item = show_agreement, marker = show_severity, answer = show_marks_apart,
    number = show_numbers
  )
  shows[[attr(table, "about")]](table)
}

show_agreement <- function(table) {
  lines <- format_table(
    text_column("item", table$item),
    text_column("n", table$n, "right"),
    text_column("markers", table$markers, "right"),
    share_column("equal", table$equal),
    share_column("adjacent", table$adjacent),
    text_column(
      "kappa", with_bounds(table$kappa, table$kappa_low, table$kappa_high, two_digits),
      "right"
    ),
    text_column(
      "icc", with_bounds(table$icc, table$icc_low, table$icc_high, two_digits), "right"
    ),
    number_column("icc_mean", table$icc_mean),
    text_column("", say_reason(table$reason))
  )
  c(lines, "", wrap_lines(say("legends.markers")))
}

two_digits <- function(x) number(x, 2)

show_severity <- function(table) {
  between <- with_bounds(
    table$stricter, table$stricter_low, table$stricter_high, two_digits
  )
  lines <- format_table(
    text_column("marker", table$marker),
    text_column("item", table$item),
    text_column("n", table$n, "right"),
    number_column("mean_points", table$mean_points),
    text_column("stricter_by", between, "right")
  )
  c(lines, "", wrap_lines(say("legends.severity")))
}

show_marks_apart <- function(table) {
  if (!nrow(table)) return(say("cli-markers.nothing_apart"))
  format_table(
    text_column("student", name_or_id(table), shrink = TRUE),
    text_column("item", table$item),
    text_column("marks", gsub(";", ",", table$marks)),
    text_column("apart", format_plain(table$apart), "right"),
    text_column("counts", format_plain(table$counts), "right"),
    text_column("answer", or_blank(table$answer), shrink = TRUE)
  )
}

show_numbers <- function(table) {
  lines <- format_table(
    text_column("markers", table$markers, "right"),
    text_column("n", table$n, "right"),
    text_column("items", table$items, "right"),
    number_column("relative", table$relative),
    number_column("absolute", table$absolute),
    text_column("", say_reason(table$reason))
  )
  c(lines, "", wrap_lines(say("legends.numbers_of_markers")))
}
