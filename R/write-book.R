# What the workbooks share: ruled cells in one typeface, and a file that is
# written whole.

ruled_style <- function(...) {
  openxlsx::createStyle(
    fontName = "Calibri",
    fontSize = 11,
    border = "TopBottomLeftRight",
    borderColour = "#C9C2B2",
    ...
  )
}

write_book <- function(book, path) {
  write_made(path, function(file) {
    openxlsx::saveWorkbook(with_dimensions(book), file, overwrite = TRUE)
  })
}

# Cells that take one of the values in a column of the sheet "allowed".
one_of_these <- function(book, sheet, columns, rows, letters, n) {
  values <- paste0(
    "'allowed'!$", letters, "$1:$", letters, "$", n
  )
  # openxlsx warns of a format string of its own.
  suppressWarnings(openxlsx::dataValidation(
    book,
    sheet,
    cols = columns,
    rows = rows,
    type = "list",
    value = values,
    allowBlank = TRUE
  ))
}

# The cells that each sheet has, as programs read it that do not look at all of them;
# openxlsx says A1 of every sheet.
with_dimensions <- function(book) {
  for (sheet in book$worksheets) {
    cells <- sheet$sheet_data
    if (!length(cells$rows)) next
    last <- paste0(openxlsx::int2col(max(cells$cols)), max(cells$rows))
    sheet$dimension <- paste0("<dimension ref=\"A1:", last, "\"/>")
  }
  book
}
