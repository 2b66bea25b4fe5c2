# The questions of the report: a table that sorts, and opens to the answers.

report_items <- function(sitting, figures, names) {
  tags <- htmltools::tags
  items <- figures$items
  shown <- data.frame(
    item = items$item, prompt = printable(ifelse(is.na(sitting$items$prompt), items$type, sitting$items$prompt)),
    difficulty = items$difficulty, low = items$low, middle = items$middle, high = items$high,
    discrimination = items$discrimination, blank = items$omitted + items$not_reached
  )
  details <- item_details(sitting, figures, names)
  widget <- reactable::reactable(
    shown,
    columns = item_columns(items, figures$look), defaultSorted = list(difficulty = "asc"), pagination = FALSE,
    details = reactable::colDef(html = TRUE, details = function(index) details[index], width = 34),
    defaultColDef = reactable::colDef(sortNALast = TRUE, vAlign = "center", headerVAlign = "bottom"), highlight = TRUE,
      wrap = TRUE,
    rowStyle = list(cursor = "pointer"), onClick = "expand", elementId = "item-table",
    theme = reactable::reactableTheme(backgroundColor = "transparent", borderColor = ink[["line"]],
      highlightColor = ink[["wash"]]),
    language = reactable::reactableLang(detailsExpandLabel = "Show the answers")
  )
  tags$section(id = "items", tags$h2("The questions"),
    tags$p(class = "help", "Hardest first; press a heading to sort, a row to see its answers. ",
      "Low, mid and high: what the weakest,",
      " middle and strongest third earned. Discrimination: how well it tells strong from weak, from \u22121 to 1."),
    tags$div(class = "wide", widget), page_picture(ggplot2::autoplot(items, options = figures$options)))
}

item_columns <- function(items, look) {
  share <- function(name) {
    reactable::colDef(name = name, align = "right", width = 62, cell = function(value) percent(value))
  }
  list(
    item = reactable::colDef(name = "Item", width = 78, html = TRUE, cell = function(value) {
      paste0("<b data-item=\"", escape(value), "\">", escape(value), "</b>",
        if (value %in% look$item) " <span class=\"look\" title=\"look at it\">\u25b2</span>")
    }),
    prompt = reactable::colDef(name = "Question", minWidth = 220),
    difficulty = reactable::colDef(name = "Points earned", width = 196, html = TRUE, cell = function(value, index) {
      paste0(share_bar(value, if (items$difficulty_band[index] %in% "hard") "ochre"), " ", percent(value), "<small>",
        escape(between(items$difficulty_low[index], items$difficulty_high[index])), "</small>")
    }),
    low = share("Low"), middle = share("Mid"), high = share("High"),
    discrimination = reactable::colDef(name = "Discrimination", align = "right", width = 158, html = TRUE,
      cell = function(value, index) {
      paste0(number(value), "<small>",
        escape(if (is.na(items$reason[index])) items$discrimination_band[index] else items$reason[index]), "</small>")
    }),
    blank = reactable::colDef(name = "Blank", align = "right", width = 68)
  )
}

# The opened row of each item, as HTML.
item_details <- function(sitting, figures, names) {
  label <- who(figures$students, names)
  chosen <- who_chose(sitting)
  people <- split(label[match(chosen$student, figures$students$student)],
    factor(paste(chosen$item, chosen$option, sep = "\r"),
      unique(paste(figures$options$item, figures$options$option, sep = "\r"))))
  options <- split(seq_len(nrow(figures$options)), factor(figures$options$item, figures$items$item))
  vapply(seq_along(options), function(j) {
    table <- figures$options[options[[j]], ]
    item <- sitting$items[j, ]
    paste0(
      "<div class=\"opened\"><p>", escape(printable(say_options(table, item$item, figures$look))), "</p>",
      if (!is.na(item$rationale)) paste0("<p class=\"help\">Why: ", escape(item$rationale), "</p>"),
      "<table><thead><tr><th></th><th>Answer</th><th>Chosen by</th><th class=\"n\">Low</th><th class=\"n\">Mid</th>",
      "<th class=\"n\">High</th><th>Who</th></tr></thead><tbody>",
      paste(option_rows(table, people[options[[j]]]), collapse = ""), "</tbody></table></div>"
    )
  }, "")
}

option_rows <- function(table, people) {
  text <- paste0("<b>", escape(table$option), "</b> ", escape(table$text))
  text <- ifelse(is.na(table$idea), text, paste0(text, " <em>", escape(table$idea), "</em>"))
  listed <- vapply(people, paste, "", collapse = ", ")
  paste0(
    "<tr", ifelse(table$key, " class=\"key\"", ""), "><td>", ifelse(table$key, "\u2713", ""), "</td><td>", text,
      "</td><td>",
    share_bar(table$share, ifelse(table$key, "", "ochre")), " ", percent(table$share), "</td><td class=\"n\">",
      percent(table$low),
    "</td><td class=\"n\">", percent(table$middle), "</td><td class=\"n\">", percent(table$high), "</td><td>",
    ifelse(table$count > 0, paste0("<details><summary>", table$count, "</summary>", listed, "</details>"), ""),
      "</td></tr>"
  )
}
