# What a person sees of a sheet beyond its values: columns and rows that are hidden,
# cells that are merged, shares shown in per cent, and formulas that nobody has worked
# out yet.

# Beyond so many bytes nobody looks at a sheet cell by cell, and neither does this.
looks_limit <- 3e7

# hidden_columns, hidden_rows: numbers; merged: a matrix of top, left, bottom, right;
# percent, uncomputed: matrices of row and column. NULL where it cannot be told.
sheet_looks <- function(path, name) {
  part <- sheet_part(path, name)
  entries <- zip_entries(path)
  size <- entries$Length[match(part, entries$Name)]
  if (is.na(size) || size > looks_limit) return(NULL)
  sheet <- workbook_part(path, part)
  rows <- xml2::xml_find_all(
    sheet,
    "//sheetData/row[@hidden='1' or @hidden='true' or @ht='0']"
  )
  list(
    hidden_columns = hidden_columns(sheet),
    hidden_rows = as.integer(xml2::xml_attr(rows, "r")),
    merged = cell_ranges(
      xml2::xml_attr(xml2::xml_find_all(sheet, "//mergeCells/mergeCell"), "ref")
    ),
    percent = percent_cells(sheet, percent_styles(path)),
    uncomputed = cell_places(
      xml2::xml_attr(
        xml2::xml_find_all(sheet, "//c[f][not(v) and not(is)]"),
        "r"
      )
    )
  )
}

workbook_part <- function(path, part) {
  bytes <- read_zip_entry(path, part, 1e6 * limit_of("megabytes"))
  read <- function(e) {
    xml2::xml_ns_strip(xml2::read_xml(bytes, options = "NONET"))
  }
  tryCatch(read(), error = function(e) abort_workbook(path, e))
}

# Where in the file a sheet lies.
sheet_part <- function(path, name) {
  names <- zip_names(path)
  if (!all(c("xl/workbook.xml", "xl/_rels/workbook.xml.rels") %in% names)) {
    return(NA)
  }
  sheets <- xml2::xml_find_all(
    workbook_part(path, "xl/workbook.xml"),
    "//sheet"
  )
  links <- xml2::xml_children(workbook_part(path, "xl/_rels/workbook.xml.rels"))
  id <- xml2::xml_attr(sheets, "id")[
    match(name, xml2::xml_attr(sheets, "name"))
  ]
  target <- xml2::xml_attr(links, "Target")[
    match(id, xml2::xml_attr(links, "Id"))
  ]
  sub("^/?(xl/)?", "xl/", target)
}

hidden_columns <- function(sheet) {
  columns <- xml2::xml_find_all(
    sheet,
    "//cols/col[@hidden='1' or @hidden='true']"
  )
  first <- as.integer(xml2::xml_attr(columns, "min"))
  last <- pmin(as.integer(xml2::xml_attr(columns, "max")), max_sheet_columns)
  as.integer(unlist(Map(seq, first, last)))
}

# The styles that show a number in per cent: the two that every workbook has, and its own.
percent_styles <- function(path) {
  if (!"xl/styles.xml" %in% zip_names(path)) return(integer())
  styles <- workbook_part(path, "xl/styles.xml")
  own <- xml2::xml_find_all(styles, "//numFmts/numFmt")
  shares <- grepl(
    "%",
    xml2::xml_attr(own, "formatCode"),
    fixed = TRUE
  )
  used <- xml2::xml_attr(xml2::xml_find_all(styles, "//cellXfs/xf"), "numFmtId")
  which(used %in% c("9", "10", xml2::xml_attr(own, "numFmtId")[shares])) -
    1L
}

percent_cells <- function(sheet, styles) {
  if (!length(styles)) return(cell_places(character()))
  cells <- xml2::xml_find_all(sheet, "//c[@s][v][not(@t) or @t='n']")
  shown <- xml2::xml_attr(cells, "s") %in% as.character(styles)
  cell_places(xml2::xml_attr(cells[shown], "r"))
}

# "C7" as row 7 and column 3.
cell_places <- function(cells) {
  letters <- strsplit(gsub("[^A-Z]", "", cells), "")
  column <- vapply(letters, function(one) {
    sum(match(one, LETTERS) * 26^(rev(seq_along(one)) - 1))
  }, 0)
  cbind(
    row = as.integer(gsub("[^0-9]", "", cells)),
    column = as.integer(column)
  )
}

# "A1:C2" as the rows and columns of its corners.
cell_ranges <- function(ranges) {
  ends <- strsplit(ranges, ":", fixed = TRUE)
  first <- cell_places(vapply(ends, `[`, "", 1))
  last <- cell_places(vapply(ends, function(one) one[length(one)], ""))
  cbind(
    top = first[, "row"],
    left = first[, "column"],
    bottom = last[, "row"],
    right = last[, "column"]
  )
}

# The cells of a sheet as they are seen. A cell that is merged over several rows stands
# for each of them; what is merged to the side is read where it stands.
cells_as_seen <- function(cells, looks, path, name) {
  if (is.null(looks)) return(cells)
  inside <- function(places) {
    places[
      places[, 1] <= nrow(cells) & places[, 2] <= ncol(cells), ,
      drop = FALSE
    ]
  }
  open <- looks$uncomputed
  if (nrow(open)) abort_uncomputed(path, name, open)
  share <- inside(looks$percent)
  for (k in seq_len(nrow(share))) {
    at <- share[k, ]
    value <- as.numeric(cells[at[1], at[2]])
    cells[at[1], at[2]] <- paste0(format_plain(100 * value), "%")
  }
  down <- looks$merged[
    looks$merged[, "bottom"] > looks$merged[, "top"], ,
    drop = FALSE
  ]
  for (k in seq_len(nrow(down))) {
    one <- down[k, ]
    if (one["left"] > ncol(cells) || one["top"] > nrow(cells)) next
    rows <- one["top"]:min(one["bottom"], nrow(cells))
    cells[rows, one["left"]] <- cells[one["top"], one["left"]]
  }
  cells
}

abort_uncomputed <- function(path, name, open) {
  abort_pregunta(
    "input",
    say(
      "read-workbook-looks.holds_formulas",
      path = basename(path),
      n = nrow(open)
    ),
    say(
      "read-workbook-looks.at",
      name = quoted(name),
      line = open[1, "row"],
      column = open[1, "column"]
    ),
    say("read-workbook-looks.open_and_save")
  )
}
