# What pages share: one file with everything in it, nothing fetched, and what
# students typed as text. own: the page's own style and script in inst/page.

page_document <- function(title, body, own = "report") {
  widgets <- htmltools::renderTags(body)
  dependencies <- htmltools::resolveDependencies(widgets$dependencies)
  dependencies <- Filter(function(one) one$name != "core-js", dependencies)
  c(
    "<!DOCTYPE html>", "<html lang=\"en\">", "<head>", "<meta charset=\"utf-8\">",
    "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">",
    paste0("<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; style-src 'unsafe-inline'; ",
      "script-src 'unsafe-inline'; img-src data:\">"),
    paste0("<title>", escape(title), "</title>"),
    unlist(lapply(dependencies, inline_styles)), inline_file(paste0(own, ".css"), "style"),
    unlist(lapply(dependencies, inline_scripts)),
    "</head>", "<body>", as.character(widgets$html), inline_file(paste0(own, ".js"), "script"), "</body>", "</html>"
  )
}

dependency_text <- function(dependency, file) {
  root <- dependency$src$file
  if (!is.null(dependency$package)) root <- system.file(root, package = dependency$package)
  read_text(file.path(root, file))
}

inline_styles <- function(dependency) {
  files <- unlist(dependency$stylesheet)
  vapply(files, function(file) paste0("<style>", dependency_text(dependency, file), "</style>"), "")
}

inline_scripts <- function(dependency) {
  files <- unlist(lapply(dependency$script, function(script) if (is.list(script)) script$src else script))
  vapply(files, function(file) {
    paste0("<script>", gsub("</script", "<\\/script", dependency_text(dependency, file), fixed = TRUE), "</script>")
  }, "")
}

inline_file <- function(name, tag) {
  paste0("<", tag, ">", read_text(system.file("page", name, package = "pregunta")), "</", tag, ">")
}

read_text <- function(path) paste(readLines(path, warn = FALSE, encoding = "UTF-8"), collapse = "\n")

escape <- function(x) htmltools::htmlEscape(printable(ifelse(is.na(x), "", x)), attribute = TRUE)

# A picture as SVG inside the page; its titles are text of the page, so that
# they wrap on a phone and are read aloud.
page_picture <- function(plot, width = 11, height = 5) {
  finding <- flat(plot$labels$title)
  shows <- flat(paste(c(plot$labels$subtitle, plot$labels$caption), collapse = " "))
  plot <- plot + ggplot2::labs(title = NULL, subtitle = NULL, caption = NULL) +
    ggplot2::theme(plot.background = ggplot2::element_blank())
  drawn <- svglite::svgstring(width = width, height = height, bg = "transparent", standalone = FALSE)
  tryCatch(print(plot), finally = grDevices::dev.off())
  text <- sub("<svg ", paste0("<svg role=\"img\" aria-label=\"", escape(finding), "\" "), as.character(drawn()),
    fixed = TRUE)
  htmltools::tags$figure(
    htmltools::tags$p(class = "finding", finding), htmltools::tags$p(class = "help", shows),
    htmltools::HTML(sub("<\\?xml[^>]*>", "", text))
  )
}

flat <- function(text) gsub("\n", " ", text, fixed = TRUE)

# A student's name that one switch hides: an alias stands beside it. Without
# names the alias alone is in the file.
who <- function(students, names) {
  alias <- paste("student", seq_len(nrow(students)))
  if (!names) return(alias)
  shown <- ifelse(is.na(students$name), students$student, students$name)
  paste0("<span class=\"who\">", escape(shown), "</span><span class=\"alias\">", alias, "</span>")
}

share_bar <- function(share, class = "") {
  paste0("<span class=\"bar ", class, "\"><span style=\"width:",
    round(100 * pmin(1, ifelse(is.na(share), 0, share)), 1), "%\"></span></span>")
}

# Tables of HTML, made a column at a time; their text is escaped by the caller.
html_cell <- function(x, class = "", tag = "td") {
  paste0("<", tag, ifelse(nzchar(class), paste0(" class=\"", class, "\""), ""), ">", x, "</", tag, ">")
}

html_row <- function(..., class = "") html_cell(paste0(...), class, "tr")

# headings: cells of a head row; rows: as html_row() makes them.
html_table <- function(headings, rows, class = "") {
  head <- html_cell(html_row(paste(headings, collapse = "")), tag = "thead")
  html_cell(paste0(head, html_cell(paste(rows, collapse = ""), tag = "tbody")), class, "table")
}

heading <- function(text, class = "") html_cell(text, class, "th")
