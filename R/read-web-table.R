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
  bytes <- charToRaw(text)
  look <- look_at_xml(bytes)
  check_limit("elements", look$elements, path)
  tryCatch(
    xml2::read_html(
      bytes,
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
  found <- cells_of_rows(rows)
  most <- max_columns(found)
  if (is_plain(found)) place_in_turn(found, length(rows), most)
  else place_around(found, length(rows), most)
}

# The cells that are seen, in reading order, with what each says and covers.
cells_of_rows <- function(rows) {
  leave_out_unseen(rows)
  row <- rep(seq_along(rows), xml2::xml_find_num(rows, "count(./td | ./th)"))
  cells <- xml2::xml_find_all(rows, "./td | ./th")
  seen <- !is_hidden_node(cells)
  cells <- cells[seen]
  data.frame(
    row = row[seen],
    text = cell_texts(cells),
    right = cell_span(cells, "colspan", max_sheet_columns),
    down = pmin(
      cell_span(cells, "rowspan", length(rows)),
      length(rows) - row[seen] + 1
    )
  )
}

# Scripts and hidden parts within cells go, a new line is a blank.
leave_out_unseen <- function(rows) {
  xml2::xml_remove(xml2::xml_find_all(rows, ".//script | .//style"))
  marked <- xml2::xml_find_all(
    rows,
    "./td//*[@hidden or @style] | ./th//*[@hidden or @style]"
  )
  xml2::xml_remove(marked[is_hidden_node(marked)])
  breaks <- xml2::xml_find_all(rows, ".//br")
  xml2::xml_text(breaks) <- " "
}

# The widest row; one of more columns than a spreadsheet has is no table of results.
max_columns <- function(found) {
  wide <- tapply(found$right, found$row, sum)
  covered <- sum(found$down > 1)
  min(max_sheet_columns, max(0, wide) + min(covered, 100))
}

max_sheet_columns <- 16384L

cell_span <- function(cells, name, most) {
  said <- suppressWarnings(as.integer(xml2::xml_attr(cells, name)))
  pmax(1, pmin(most, or_else(said, 1)))
}

is_plain <- function(found) all(found$right == 1 & found$down == 1)

place_in_turn <- function(found, rows, columns) {
  cells <- matrix("", rows, columns)
  column <- sequence(rle(found$row)$lengths)
  cells[cbind(found$row, column)] <- found$text
  cells
}

# A cell goes to the first place of its row that none above reaches down to.
place_around <- function(found, rows, columns) {
  cells <- matrix("", rows, columns)
  taken <- matrix(FALSE, rows, columns)
  for (k in seq_len(nrow(found))) {
    i <- found$row[k]
    free <- match(FALSE, taken[i, ])
    if (is.na(free)) next
    over <- seq(free, min(columns, free + found$right[k] - 1))
    below <- seq(i, i + found$down[k] - 1)
    cells[below, free] <- found$text[k]
    taken[below, over] <- TRUE
  }
  cells
}

# What is seen of a cell; a box that was typed into says what stands in it.
cell_texts <- function(cells) {
  text <- gsub("[ \t\r\n\u00a0]+", " ", xml2::xml_text(cells), perl = TRUE)
  silent <- which(!nzchar(trim_text(text)))
  text[silent] <- ""
  typed <- xml2::xml_find_first(cells[silent], ".//input")
  written_in <- xml2::xml_attr(typed, "type") %in% input_kinds
  text[silent[written_in]] <- or_blank(xml2::xml_attr(typed[written_in], "value"))
  text
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
