# Tables of a page that sort, filter and open. R gives the figures and the columns;
# how a cell is drawn and what a row opens to are functions of the page's script,
# named here. Text stays text all the way: no column takes HTML.

# draw: of the script's `cells`; opens: of its `opened`. Columns of the data that
# are not named in columns go along unseen, for the script.
page_table <- function(id, data, columns, about, opens = NULL, sorted = NULL,
                       filter = nrow(data) > 5, class = NULL, at_once = NULL) {
  hidden <- setdiff(names(data), names(columns))
  data <- data[c(names(columns), hidden)]
  columns[hidden] <- rep(
    list(reactable::colDef(show = FALSE, searchable = FALSE)),
    length(hidden)
  )
  details <- if (!is.null(opens)) {
    reactable::colDef(
      details = reactable::JS(paste0("opened.", opens)),
      width = 34,
      name = "",
      class = "opener",
      headerClass = "opener",
      header = htmltools::tags$span(class = "unseen", say("page-tables.open"))
    )
  }
  # A long one grows as it is read down; see report.js.
  grows <- is.null(at_once) && nrow(data) > most_drawn
  if (grows) class <- c(class, "growing")
  at_first <- if (grows) drawn_at_first else if (is.null(at_once)) 10 else at_once
  reactable::reactable(
    data,
    columns = columns,
    details = details,
    defaultSorted = sorted,
    searchable = filter,
    pagination = grows || !is.null(at_once),
    defaultPageSize = at_first,
    showPageSizeOptions = grows,
    pageSizeOptions = if (grows) c(drawn_at_first, nrow(data)) else 10,
    defaultColDef = reactable::colDef(
      sortNALast = TRUE,
      align = if (is_rtl()) "right",
      vAlign = "center",
      headerVAlign = "bottom"
    ),
    highlight = TRUE,
    rowStyle = if (!is.null(details)) list(cursor = "pointer"),
    onClick = if (!is.null(details)) "expand",
    wrap = TRUE,
    elementId = id,
    class = class,
    theme = table_theme(),
    language = reactable::reactableLang(
      searchPlaceholder = say(
        "page-tables.filter",
        about = words_for(about, "filters")
      ),
      searchLabel = say(
        "page-tables.filter",
        about = words_for(about, "filters")
      ),
      noData = say("page-tables.nothing_of_that_kind"),
      detailsExpandLabel = say("page-tables.open"),
      sortLabel = say("page-tables.sort", name = "{name}"),
      pageNext = say("page-tables.next"),
      pagePrevious = say("page-tables.previous"),
      pageNumbers = say("page-tables.page_of", page = "{page}", pages = "{pages}"),
      pageInfo = say(
        "page-tables.rows_of",
        from = "{rowStart}",
        to = "{rowEnd}",
        rows = "{rows}"
      ),
      pageSizeOptions = say("page-tables.show_rows", rows = "{rows}"),
      pageNextLabel = say("page-tables.next"),
      pagePreviousLabel = say("page-tables.previous"),
      pageNumberLabel = say("page-tables.page", page = "{page}"),
      pageJumpLabel = say("page-tables.go_to_page"),
      pageSizeOptionsLabel = say("page-tables.rows_at_once"),
      groupExpandLabel = say("page-tables.open"),
      selectAllRowsLabel = say("page-tables.select_all"),
      selectRowLabel = say("page-tables.select_row")
    )
  )
}

# Tables of more rows are not drawn whole: how many of one are at the start.
most_drawn <- 100
drawn_at_first <- 40

table_theme <- function() {
  reactable::reactableTheme(
    color = "inherit",
    backgroundColor = "transparent",
    borderColor = "var(--line)",
    highlightColor = "var(--wash)",
    searchInputStyle = list(
      backgroundColor = "var(--paper)",
      color = "inherit",
      borderColor = "var(--grey)",
      width = "220px"
    )
  )
}

# term: of the glossary, for whoever holds the pointer over the heading. rooms:
# "roomy" columns go on a phone, "brief" ones are narrow there.
page_column <- function(name, draw = NULL, term = NULL, rooms = NULL, width = NULL,
                        minWidth = 100, ...) {
  name <- capital(heading_for(name))
  room <- room_for(name)
  reactable::colDef(
    width = if (!is.null(width)) max(width, room),
    minWidth = max(minWidth, room),
    name = name,
    header = if (!is.null(term)) hover(name, term),
    class = rooms,
    headerClass = rooms,
    cell = if (!is.null(draw)) reactable::JS(paste0("cells.", draw)),
    ...
  )
}

# Names as the language sorts them, where the table sorts letters by their number: two
# letters that nobody uses go before each and say its place. What draws the cell leaves
# them out; a search finds the name behind them.
placed <- function(names) {
  place <- match(names, names[order_names(names)]) - 1L
  first <- utf8ToInt("\ue000")
  unseen <- function(k) intToUtf8(first + k, multiple = TRUE)
  paste0(unseen(place %/% 6400L), unseen(place %% 6400L), names)
}

# What the longest word of a heading takes; between words it can go on below.
room_for <- function(name) {
  words <- unlist(strsplit(name, "[ \u00a0]"))
  ceiling(8.2 * max(0, nchar(words, "width")) + 18)
}

# Figures stand at the end of their column, on whichever side that is.
at_end <- function() if (is_rtl()) "left" else "right"
at_start <- function() if (is_rtl()) "right" else "left"

# A figure that a filter does not look at.
figure_column <- function(name, draw = NULL, term = NULL, width = 62,
                          rooms = "roomy", align = at_end(), ...) {
  page_column(
    name,
    draw,
    term,
    rooms,
    width = width,
    align = align,
    searchable = FALSE,
    ...
  )
}

# A share with its bar; the interval stands in small print beside it.
bar_column <- function(name, draw = "bar", term = NULL, width = 190) {
  figure_column(name, draw, term, width, "earned", at_start())
}

# A word with its meaning for whoever holds the pointer over it.
hover <- function(text, term) htmltools::tags$abbr(title = gloss(term), text)

page_section <- function(id, title, ...) headed(title, ..., id = id)

# A section under its heading.
headed <- function(title, ..., id = NULL, class = NULL) {
  tags <- htmltools::tags
  tags$section(id = id, class = class, tags$h2(title), ...)
}

# The head of a page: its title, and facts about it in one line.
page_titles <- function(title, about) {
  tags <- htmltools::tags
  about <- printable(paste(about, collapse = " \u00b7 "))
  tags$div(
    class = "titles",
    tags$h1(printable(title)),
    tags$p(about)
  )
}

# What differs from section to section and is no table: the script puts another's in.
slot <- function(name, html) {
  htmltools::tags$div(
    `data-slot` = name,
    if (length(html)) htmltools::HTML(as.character(html))
  )
}

finding_line <- function(...) html_cell(escape(paste0(...)), "finding", "p")

help_line <- function(...) htmltools::tags$p(class = "help", ...)

# What can be pressed is not said on paper.
on_screen <- function(...) {
  htmltools::tags$span(
    class = "on-screen",
    ...,
    .noWS = "outside"
  )
}

# What is too wide for the page scrolls by itself, by keyboard too.
wide <- function(label, ..., class = NULL) {
  htmltools::tags$div(
    class = paste(c("wide", class), collapse = " "),
    tabindex = "0",
    role = "region",
    `aria-label` = label,
    ...
  )
}

# Text of a table: nothing there is an empty word.
cell_words <- function(x) printable(or_blank(x))
