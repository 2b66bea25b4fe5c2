# A document to edit (.docx) from a list of parts: officer makes the package and the
# paragraphs; the tables are written here, so that they have the look of the rest.

document_ink <- c(
  ink = "1F2421",
  teal = "0B5A5A",
  line = "DAD5C7",
  wash = "F3EEDF",
  grey = "6B6A63"
)
document_font <- "Calibri"
document_width <- 9350 # twentieths of a point between the margins of A4 and Letter alike

write_docx <- function(parts, path) {
  need_package("officer")
  write_made(path, function(file) {
    document <- officer::read_docx()
    for (xml in unlist(lapply(parts, part_xml))) {
      document <- officer::body_add_xml(document, xml)
    }
    print(document, target = file)
  })
}

part_xml <- function(part) {
  content <- part$content
  switch(part$kind,
    title = paragraph_xml(
      content,
      22,
      "teal",
      bold = TRUE,
      after = 120,
      outline = 0
    ),
    heading = paragraph_xml(
      content,
      15,
      "teal",
      bold = TRUE,
      before = 280,
      after = 60,
      outline = 1
    ),
    subheading = paragraph_xml(
      content,
      11,
      "ink",
      bold = TRUE,
      before = 140,
      after = 60,
      outline = 2
    ),
    text = paragraph_xml(content),
    lines = lines_xml(content),
    list = vapply(paste0("\u2013  ", content), paragraph_xml, ""),
    table = c(table_xml(content, part$widths), paragraph_xml("", 4)),
    fields = fields_xml(content)
  )
}

# Names with room beside them to write in.
fields_xml <- function(content) {
  rows <- data.frame(names(content), unname(content))
  c(
    table_xml(rows, c(20, 80), header = FALSE, height = 560),
    paragraph_xml("", 4)
  )
}

# Lines that stay together on a page.
lines_xml <- function(content) {
  last <- seq_along(content) == length(content)
  mapply(
    paragraph_xml,
    content,
    keep = !last,
    MoreArgs = list(before = 40, after = 40)
  )
}

word_space <- "xmlns:w=\"http://schemas.openxmlformats.org/wordprocessingml/2006/main\""

# outline: its depth as a heading, so that a document can be gone through by them.
paragraph_xml <- function(text, size = 10.5, colour = "ink", bold = FALSE,
                          before = 0, after = 60, outline = NULL,
                          keep = !is.null(outline), in_cell = FALSE) {
  said <- xml_characters(or_blank(text, gsub("[\t\r\n]+", " ", text)))
  font <- officer::fp_text(
    color = paste0("#", document_ink[[colour]]),
    font.size = size,
    bold = bold,
    font.family = document_font
  )
  spacing <- officer::fp_par(
    padding.top = before / 20,
    padding.bottom = after / 20,
    keep_with_next = keep
  )
  paragraph <- officer::fpar(officer::ftext(said, font), fp_p = spacing)
  xml <- officer::to_wml(paragraph, add_ns = !in_cell)
  if (is.null(outline)) return(xml)
  level <- paste0(
    "<w:outlineLvl w:val=\"", outline, "\"/></w:pPr>"
  )
  sub("</w:pPr>", level, xml, fixed = TRUE)
}

# widths: in hundredths of the page; height: the least of a row.
table_xml <- function(table, widths, header = TRUE, height = 0) {
  widths <- round(document_width * widths / sum(widths))
  cells <- as.matrix(table)
  rows <- vapply(seq_len(nrow(cells)), function(row) {
    row_xml(cells[row, ], widths, height, first_bold = !header)
  }, "")
  head <- if (header) row_xml(names(table), widths, 0, header = TRUE)
  paste0(
    "<w:tbl ",
    word_space,
    "><w:tblPr><w:tblW w:w=\"",
    document_width,
    "\" w:type=\"dxa\"/><w:tblBorders>",
    border_xml("top"),
    border_xml("bottom"),
    border_xml("insideH"),
    "</w:tblBorders><w:tblLayout w:type=\"fixed\"/>",
    "</w:tblPr><w:tblGrid>",
    paste0("<w:gridCol w:w=\"", widths, "\"/>", collapse = ""),
    "</w:tblGrid>",
    head,
    paste(rows, collapse = ""),
    "</w:tbl>"
  )
}

border_xml <- function(side) {
  paste0(
    "<w:",
    side,
    " w:val=\"single\" w:sz=\"4\" w:space=\"0\" w:color=\"",
    document_ink[["line"]],
    "\"/>"
  )
}

row_xml <- function(cells, widths, height, header = FALSE, first_bold = FALSE) {
  bold <- header | (first_bold & seq_along(cells) == 1)
  inside <- vapply(seq_along(cells), function(k) {
    paste0(
      "<w:tc><w:tcPr><w:tcW w:w=\"",
      widths[k],
      "\" w:type=\"dxa\"/>",
      if (bold[k]) {
        paste0(
          "<w:shd w:val=\"clear\" w:color=\"auto\" w:fill=\"",
          document_ink[["wash"]],
          "\"/>"
        )
      },
      "</w:tcPr>",
      paragraph_xml(
        cells[k],
        10,
        bold = bold[k],
        before = 30,
        after = 30,
        in_cell = TRUE
      ),
      "</w:tc>"
    )
  }, "")
  paste0(
    "<w:tr><w:trPr><w:cantSplit/>",
    if (height) paste0("<w:trHeight w:val=\"", height, "\"/>"),
    if (header) "<w:tblHeader/>",
    "</w:trPr>",
    paste(inside, collapse = ""),
    "</w:tr>"
  )
}
