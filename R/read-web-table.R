# Tables of a web page: a results page that was saved from the browser, or what some
# programs write under the name of a workbook. Cells are taken as a person sees them:
# hidden ones are left out, a merged cell says what it says in each of its rows.

read_web_grids <- function(path, sheet = NULL) {
  page <- read_html_safely(path)
  tables <- xml2::xml_find_all(page, "//table[not(.//table)]")
  tables <- tables[!is_hidden_node(tables)]
  cells <- lapply(tables, table_cells)
  is_table <- vapply(cells, holds_a_table, TRUE)
  if (!any(is_table)) {
    abort_pregunta(
      "input",
      say("read-web-table.holds_no_table", path = basename(path)),
      path,
      say("read-web-table.save_the_page_or")
    )
  }
  names(cells)[is_table] <- table_names(tables[is_table])
  cells <- cells[is_table]
  if (!is.null(sheet)) {
    cells <- cells[chosen_sheet(path, sheet, names(cells))]
  }
  Map(web_grid, cells, names(cells), basename(path))
}

# Nothing is fetched; the text is UTF-8 by now, whatever the page says of itself.
read_html_safely <- function(path) {
  text <- enc2utf8(whole_text(path))
  text <- gsub("<meta[^>]*charset[^>]*>", "", text, ignore.case = TRUE)
  tryCatch(
    xml2::read_html(
      charToRaw(text),
      encoding = "UTF-8",
      options = c("RECOVER", "NOERROR", "NOWARNING", "NONET")
    ),
    error = function(e) {
      abort_pregunta(
        "input",
        say("read-web-table.holds_no_table", path = basename(path)),
        paste0(path, ": ", conditionMessage(e)),
        say("read-web-table.save_the_page_or")
      )
    }
  )
}

# By the caption, else by number.
table_names <- function(tables) {
  caption <- or_blank(as_text(
    xml2::xml_text(xml2::xml_find_first(tables, "./caption"))
  ))
  number <- seq_along(tables)
  clear <- nzchar(caption) & !duplicated(caption)
  ifelse(clear, caption, say("read-web-table.table", number = number))
}

is_hidden_node <- function(nodes) {
  style <- gsub(" ", "", tolower(or_blank(xml2::xml_attr(nodes, "style"))))
  !is.na(xml2::xml_attr(nodes, "hidden")) |
    grepl("display:none|visibility:(hidden|collapse)", style)
}

# A character matrix; what a cell covers to the right is blank, downwards it is said
# again.
table_cells <- function(table) {
  rows <- xml2::xml_find_all(table, ".//tr")
  rows <- rows[!is_hidden_node(rows)]
  most <- max_columns(rows)
  cells <- matrix("", length(rows), most)
  taken <- matrix(FALSE, length(rows), most)
  for (i in seq_along(rows)) {
    found <- xml2::xml_find_all(rows[[i]], "./td | ./th")
    found <- found[!is_hidden_node(found)]
    text <- cell_texts(found)
    right <- cell_span(found, "colspan", most)
    down <- cell_span(found, "rowspan", length(rows) - i + 1)
    for (k in seq_along(found)) {
      free <- which(!taken[i, ])
      if (!length(free)) break
      over <- seq(free[1], min(most, free[1] + right[k] - 1))
      below <- seq(i, i + down[k] - 1)
      cells[below, over[1]] <- text[k]
      taken[below, over] <- TRUE
    }
  }
  cells
}

# The widest row; one of more columns than a spreadsheet has is no table of results.
max_columns <- function(rows) {
  wide <- vapply(rows, function(row) {
    found <- xml2::xml_find_all(row, "./td | ./th")
    sum(cell_span(found, "colspan", 16384))
  }, 0)
  covered <- sum(
    !is.na(xml2::xml_attr(xml2::xml_find_all(rows, "./td | ./th"), "rowspan"))
  )
  min(16384, max(0, wide) + min(covered, 100))
}

cell_span <- function(cells, name, most) {
  said <- suppressWarnings(as.integer(xml2::xml_attr(cells, name)))
  pmax(1, pmin(most, or_else(said, 1)))
}

# What is seen of a cell: the text without scripts and hidden parts; a box that was
# typed into says what stands in it.
cell_texts <- function(cells) {
  vapply(cells, function(cell) {
    xml2::xml_remove(xml2::xml_find_all(cell, ".//script | .//style"))
    inner <- xml2::xml_find_all(cell, ".//*")
    xml2::xml_remove(inner[is_hidden_node(inner)])
    breaks <- xml2::xml_find_all(cell, ".//br")
    xml2::xml_text(breaks) <- " "
    text <- gsub("[ \t\r\n\u00a0]+", " ", xml2::xml_text(cell), perl = TRUE)
    if (nzchar(trim_text(text))) return(text)
    typed <- xml2::xml_find_first(cell, ".//input")
    written_in <- xml2::xml_attr(typed, "type") %in% input_kinds
    if (written_in) or_blank(xml2::xml_attr(typed, "value")) else ""
  }, "")
}

# Boxes that somebody writes in; one without a word on it is such.
input_kinds <- c(NA, "text", "number")

holds_a_table <- function(cells) {
  full <- nzchar(trim_text(cells))
  dim(full) <- dim(cells)
  sum(rowSums(full) > 0) >= 2 && sum(colSums(full) > 0) >= 2
}

web_grid <- function(cells, name, origin) {
  grid <- make_grid(as.data.frame(cells), origin, seq_len(nrow(cells)))
  attr(grid, "about") <- say("read-web-table.of_a_web_page", name = quoted(name))
  attr(grid, "separated") <- TRUE
  grid
}
