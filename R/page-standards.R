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
  rows <- paste0(
    "<tr><td style=\"padding-left:", 0.4 + 1.2 * depth, "em\"><b>", escape(standards$code), "</b> ",
      escape(standards$title), "</td><td class=\"n\">",
    standards$items, "</td><td class=\"n\">", standards$n, "</td><td>", share_bar(standards$share), " ",
      percent(standards$share), "<small>",
    between(standards$share_low, standards$share_high), "</small></td><td>", level_strip(standards, levels),
      "</td></tr>"
  )
  paste0("<table class=\"plain\"><thead><tr><th>Standard</th><th class=\"n\">Items</th><th class=\"n\">Students</th>",
    "<th>Mean score</th>",
    "<th>Students in each level</th></tr></thead><tbody>", paste(rows, collapse = ""), "</tbody></table>")
}

# One strip a standard, as long as there are students, cut by level.
level_strip <- function(standards, levels) {
  colour <- level_colours(length(levels))
  sign <- level_signs(length(levels))
  pieces <- vapply(seq_along(levels), function(k) {
    share <- standards[[levels[k]]]
    dark <- k == 1 || k > length(levels) / 2
    ifelse(is.na(share) | share == 0, "",
      paste0("<span style=\"width:", round(100 * share, 1), "%;background:", colour[k], ";color:",
        if (dark) "#fff" else ink[["ink"]],
      "\" title=\"", escape(paste0(levels[k], ": ", percent(share))), "\">", ifelse(share >= 0.05, sign[k], ""),
        ifelse(share >= 0.12, paste0(" ", percent(share)), ""), "</span>"))
  }, character(nrow(standards)))
  paste0("<span class=\"strip\">", apply(matrix(pieces, nrow(standards)), 1, paste, collapse = ""), "</span>")
}

level_legend <- function(settings) {
  levels <- names(settings$levels)
  htmltools::tags$p(class = "help",
    htmltools::HTML(paste0(level_chip(levels, levels), " from ", percent(unlist(settings$levels)),
      collapse = " &nbsp; ")))
}
