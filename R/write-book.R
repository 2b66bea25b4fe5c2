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
  write_made(path, function(file) openxlsx::saveWorkbook(book, file, overwrite = TRUE))
}
