# The standards of the report: a table with the share of students in each
# level, and where there are sections a picture of them side by side.

report_standards <- function(figures) {
  tags <- htmltools::tags
  standards <- figures$standards
  if (!nrow(standards)) return(NULL)
  tree <- attr(standards, "tree")
  finding <- say_standards(standards, tree)
  tags$section(id = "standards", tags$h2("The standards"), tags$p(class = "finding", finding),
    tags$div(class = "wide", htmltools::HTML(standards_table(standards, tree))), level_legend(settings_of(standards)),
    if (length(say_thin(standards))) tags$p(class = "help", say_thin(standards)),
    if (!is.null(figures$by_section)) page_picture(ggplot2::autoplot(figures$by_section),
      height = 1.6 + 0.38 * nrow(standards)))
}

standards_table <- function(standards, tree) {
  levels <- names(settings_of(standards)$levels)
  depth <- vapply(standards$code, function(code) length(ancestors(code, tree)), 0L)
  name <- paste0("<span style=\"padding-left:", 1.2 * depth, "em\"><b>", escape(standards$code), "</b> ",
    escape(standards$title), "</span>")
  interval <- html_cell(between(standards$share_low, standards$share_high), tag = "small")
  rows <- html_row(
    html_cell(name), html_cell(standards$items, "n"), html_cell(standards$n, "n"),
    html_cell(paste0(share_bar(standards$share), " ", percent(standards$share), interval)),
    html_cell(level_strip(standards, levels))
  )
  headings <- c(
    heading("Standard"), heading(c("Items", "Students"), "n"), heading(c("Mean score", "Students in each level"))
  )
  html_table(headings, rows, "plain")
}

# One strip a standard, as long as there are students, cut by level. Narrow
# pieces have no room for their mark or their figure; holding over tells them.
level_strip <- function(standards, levels) {
  pieces <- vapply(seq_along(levels), function(k) {
    share <- standards[[levels[k]]]
    ground <- level_colours(length(levels))[k]
    style <- paste0("width:", round(100 * share, 1), "%;background:", ground, ";color:", ink_on(ground))
    mark <- ifelse(share >= 0.05, level_signs(length(levels))[k], "")
    figure <- ifelse(share >= 0.12, paste0(" ", percent(share)), "")
    piece <- paste0("<span style=\"", style, "\" title=\"", escape(paste0(levels[k], ": ", percent(share))), "\">",
      mark, figure, "</span>")
    ifelse(is.na(share) | share == 0, "", piece)
  }, character(nrow(standards)))
  html_cell(apply(matrix(pieces, nrow(standards)), 1, paste, collapse = ""), "strip", "span")
}

level_legend <- function(settings) {
  levels <- names(settings$levels)
  steps <- paste(level_chip(levels, levels), "from", percent(unlist(settings$levels)), collapse = " &nbsp; ")
  htmltools::tags$p(class = "help", htmltools::HTML(steps))
}
