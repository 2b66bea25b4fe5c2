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
    columns = item_columns(items, figures$review), defaultSorted = list(difficulty = "asc"), pagination = FALSE,
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
    tags$div(class = "wide", widget),
    if (any(!is.na(items$discrimination))) page_picture(ggplot2::autoplot(items, options = figures$options)))
}

# What each cell shows is made for the whole column at once; the value under it
# is what the column sorts by.
item_columns <- function(items, review) {
  column <- function(name, shown, term = NULL, ...) {
    reactable::colDef(name = name, html = TRUE, header = if (is.null(term)) name else hover(name, term),
      cell = function(value, index) shown[index], ...)
  }
  share <- function(name, values) {
    column(name, percent(values), "thirds", align = "right", width = 62, class = "roomy", headerClass = "roomy")
  }
  verdict <- review$verdict[match(items$item, review$item)]
  flag <- ifelse(verdict %in% asking_verdicts, paste0(" <span class=\"look\" title=\"", verdict, "\">\u25b2</span>"),
    "")
  band <- ifelse(is.na(items$reason), items$discrimination_band, items$reason)
  list(
    item = column("Item", width = 78,
      paste0("<b data-item=\"", escape(items$item), "\">", escape(items$item), "</b>", flag)),
    prompt = reactable::colDef(name = "Question", minWidth = 220, class = "asked", headerClass = "asked"),
    difficulty = column("Points earned", term = "difficulty", width = 196, class = "earned", headerClass = "earned",
      shown = paste0(share_bar(items$difficulty, ifelse(items$difficulty_band %in% "hard", "ochre", "")), " ",
        percent(items$difficulty), "<small>", between(items$difficulty_low, items$difficulty_high), "</small>")),
    low = share("Low", items$low), middle = share("Mid", items$middle), high = share("High", items$high),
    discrimination = column("Discrimination", term = "discrimination", align = "right", width = 158, class = "roomy",
      headerClass = "roomy", shown = paste0(number(items$discrimination), "<small>", escape(band), "</small>")),
    blank = reactable::colDef(name = "Blank", html = TRUE, header = hover("Blank", "blank"), align = "right",
      width = 68,
      class = "roomy", headerClass = "roomy")
  )
}

# The opened row of each item, as HTML.
item_details <- function(sitting, figures, names) {
  people <- people_by_option(sitting, figures, names)
  whole <- summarise_answers(sitting)
  reasons <- page_reasons(sitting, figures, names)
  options <- split(seq_len(nrow(figures$options)), factor(figures$options$item, figures$items$item))
  headings <- c(
    heading(c("", "Answer", "Chosen by")), heading(c("Low", "Mid", "High"), "n"), heading("Who")
  )
  vapply(seq_along(options), function(j) {
    table <- figures$options[options[[j]], ]
    item <- sitting$items[j, ]
    review <- figures$review[figures$review$item == item$item, ]
    told <- c(paste(review$what, review$do), say_answers(whole[whole$item == item$item, ], item, figures$look))
    said <- paste(c(html_cell(paste0(html_cell(escape(review$verdict), "verdict", "b"), " ", escape(told[1])),
      tag = "p"),
      html_cell(escape(told[-1]), tag = "p")), collapse = "")
    why <- if (!is.na(item$rationale)) html_cell(paste("Why:", escape(item$rationale)), "help", "p")
    answers <- html_table(headings, option_rows(table, people[options[[j]]]))
    html_cell(paste0(said, why, answers, reasons_block(reasons[reasons$item == item$item, ])), "opened", "div")
  }, "")
}

# What students wrote as their reason, the right answers first; the same words once.
page_reasons <- function(sitting, figures, names) {
  reasons <- summarise_explanations(sitting)
  if (!figures$is_class) return(reasons[0, ])
  label <- who(figures$students, names)[match(reasons$student, figures$students$student)]
  reasons$who <- if (names) label else rep("", nrow(reasons))
  reasons
}

reasons_block <- function(reasons) {
  if (!nrow(reasons)) return("")
  sets <- split(seq_len(nrow(reasons)), factor(paste(reasons$option, reasons$explanation, sep = "\r"),
    unique(paste(reasons$option, reasons$explanation, sep = "\r"))))
  lines <- vapply(sets, function(rows) {
    one <- reasons[rows[1], ]
    people <- if (nzchar(one$who)) join_some(reasons$who[rows], 4) else count_of(length(rows), "student")
    html_cell(paste0(html_cell(paste0(if (one$key %in% TRUE) "\u2713 ", escape(one$option)), tag = "b"), " ",
      escape(one$explanation), " ", html_cell(people, tag = "small")), tag = "li")
  }, "")
  html_cell(paste0(html_cell(paste("What they wrote as their reason:", count_of(nrow(reasons), "answer")),
    tag = "summary"),
    html_cell(paste(lines, collapse = ""), "reasons", "ul")), tag = "details")
}

# For each row of the options the names of who gave that answer, with commas.
people_by_option <- function(sitting, figures, names) {
  key <- function(table) paste(table$item, table$option, sep = "\r")
  if (!figures$is_class) return(rep("", nrow(figures$options)))
  chosen <- who_chose(sitting)
  label <- who(figures$students, names)[match(chosen$student, figures$students$student)]
  people <- split(label, factor(key(chosen), unique(key(figures$options))))
  vapply(people, paste, "", collapse = ", ")
}

option_rows <- function(table, people) {
  text <- paste0(html_cell(escape(table$option), tag = "b"), " ", escape(table$text))
  text <- ifelse(is.na(table$idea), text, paste(text, html_cell(escape(table$idea), tag = "em")))
  opened <- paste0("<details><summary>", table$count, "</summary>", people, "</details>")
  html_row(
    html_cell(ifelse(table$key, "\u2713", "")), html_cell(text),
    html_cell(paste(share_bar(table$share, ifelse(table$key, "", "ochre")), percent(table$share))),
    html_cell(percent(table$low), "n"), html_cell(percent(table$middle), "n"), html_cell(percent(table$high), "n"),
    html_cell(ifelse(nzchar(people), opened, "")),
    class = ifelse(table$key, "key", "")
  )
}
