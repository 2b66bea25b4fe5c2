# What pages share: one file with everything in it, nothing fetched, and what
# students typed as text. own: the page's own style and script in inst/page.

# more: makes HTML that comes last; it is called when all else is rendered, so that a
# process which was begun for it can run as long.
page_document <- function(title, body, own = "report", style = NULL,
                          more = function() NULL) {
  widgets <- htmltools::renderTags(body)
  dependencies <- htmltools::resolveDependencies(widgets$dependencies)
  dependencies <- Filter(function(one) one$name != "core-js", dependencies)
  c(
    "<!DOCTYPE html>",
    paste0("<html", html_language(), ">"),
    "<head>",
    "<meta charset=\"utf-8\">",
    "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">",
    paste0(
      "<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; ",
      "style-src 'unsafe-inline'; ",
      "script-src 'unsafe-inline'; img-src data:\">"
    ),
    paste0("<title>", escape(title), "</title>"),
    unlist(lapply(dependencies, inline_styles)),
    inline_file("paper.css", "style"),
    inline_file(paste0(own, ".css"), "style"),
    html_cell(
      paste0(style, if (own != "slips") printed_heading(title)),
      tag = "style"
    ),
    unlist(lapply(dependencies, inline_scripts)),
    "</head>",
    "<body>",
    shielded(as.character(widgets$html)),
    more(),
    script_words(own),
    inline_file(paste0(own, ".js"), "script"),
    "</body>",
    "</html>"
  )
}

# What the page's script says.
script_words <- function(own) {
  if (!own %in% c("report", "walkthrough")) return(NULL)
  words <- section_of(paste0("script_", own))
  if (own == "report") {
    words <- c(words, answers = list(section_of("answer_kinds")))
    words <- c(words, severities = list(section_of("severities")))
  }
  about <- list(
    language = html_code(language_now()), locale = language_fact("locale"),
    decimal = language_fact("decimal"), percent = language_fact("percent")
  )
  words <- c(about, words)
  as.character(page_data("words", words))
}

# A sentence in HTML: what stands between two pairs of stars is bold, and so it is
# whatever a student typed.
rich <- function(.entry, ...) {
  values <- lapply(list(...), function(value) {
    if (inherits(value, "html")) return(as.character(value))
    gsub("*", "&#42;", escape(as.character(value)), fixed = TRUE)
  })
  said <- paste(say_with(.entry, values), collapse = "")
  htmltools::HTML(gsub("[*]{2}(.+?)[*]{2}", "<b>\\1</b>", said, perl = TRUE))
}

# Of tags that need no script or style of their own; several times as quick as
# as.character(), which looks for these.
html_of <- function(tags) as.character(htmltools::doRenderTags(tags))

# Data of the widgets: "<!--<script" in a student's answer would keep the element
# from ending, so that no "<" stands in it as itself.
shielded <- function(html) {
  pieces <- strsplit(
    html,
    "<script type=\"application/json\" data-for=",
    fixed = TRUE
  )[[
    1
  ]]
  if (length(pieces) < 2) return(html)
  data <- pieces[-1]
  end <- regexpr("</script>", data, fixed = TRUE)
  json <- gsub(
    "<",
    "\\u003c",
    substr(data, 1, end - 1),
    fixed = TRUE
  )
  paste0(
    pieces[1],
    paste0(
      "<script type=\"application/json\" data-for=",
      json,
      substring(data, end),
      collapse = ""
    )
  )
}

# On paper every page bears the title and its number; a slip is a student's own.
printed_heading <- function(title) {
  letters <- utf8ToInt(substr(printable(title), 1, 90))
  # as numbers: nothing in it can end the text
  said <- paste0("\\", sprintf("%x", letters), " ", collapse = "")
  paste0(
    "@page{@top-left{content:\"",
    said,
    "\";font:8pt sans-serif;color:#555}@top-right{content:counter(page);",
    "font:8pt sans-serif;color:#555}}"
  )
}

# Data that the page's script reads: text there is text, and cannot end the element.
page_data <- function(id, data) {
  json <- as.character(jsonlite::toJSON(
    data,
    dataframe = "columns",
    auto_unbox = TRUE,
    na = "string",
    digits = 6
  ))
  htmltools::HTML(paste0(
    "<script type=\"application/json\" id=\"",
    id,
    "\">",
    gsub("<", "\\u003c", json, fixed = TRUE),
    "</script>"
  ))
}

dependency_text <- function(dependency, file) {
  root <- dependency$src$file
  if (!is.null(dependency$package)) {
    root <- system.file(root, package = dependency$package)
  }
  read_text(file.path(root, file))
}

inline_styles <- function(dependency) {
  files <- unlist(dependency$stylesheet)
  vapply(files, function(file) {
    paste0(
      "<style>", dependency_text(dependency, file), "</style>"
    )
  }, "")
}

inline_scripts <- function(dependency) {
  files <- unlist(lapply(dependency$script, function(script) {
    if (is.list(script)) script$src else script
  }))
  vapply(files, function(file) {
    paste0(
      "<script>",
      gsub(
        "</script",
        "<\\/script",
        dependency_text(dependency, file),
        fixed = TRUE
      ),
      "</script>"
    )
  }, "")
}

# The page's own style or script; a page that has none goes without.
inline_file <- function(name, tag) {
  if (!nzchar(system.file("page", name, package = "pregunta"))) return(NULL)
  paste0(
    "<",
    tag,
    ">",
    read_text(system.file("page", name, package = "pregunta")),
    "</",
    tag,
    ">"
  )
}

read_text <- function(path) {
  paste(
    readLines(path, warn = FALSE, encoding = "UTF-8"),
    collapse = "\n"
  )
}

escape <- function(x) {
  htmltools::htmlEscape(printable(or_blank(x)), attribute = TRUE)
}

# The attributes of an element in these languages.
html_language <- function(language = language_now()) {
  direction <- vapply(language, language_fact, "", fact = "direction")
  paste0(" lang=\"", html_code(language), "\" dir=\"", direction, "\"", recycle0 = TRUE)
}

html_code <- function(language) {
  vapply(language, language_fact, "", fact = "code", USE.NAMES = FALSE)
}

# What somebody typed, escaped, within words of the language spoken: marked with the
# language that it is in, for who hears it and for the order of its letters.
typed <- function(text, language) {
  said <- escape(text)
  main <- function(code) sub("-.*$", "", code)
  other <- !is.na(language) & main(language) != main(language_now())
  other <- rep_len(other, length(said)) & nzchar(said)
  language <- rep_len(language, length(said))
  said[other] <- paste0(
    "<bdi lang=\"", html_code(language[other]), "\">", said[other], "</bdi>",
    recycle0 = TRUE
  )
  said
}

# A name or an id: of no language, in an order of its own.
as_it_is <- function(text) {
  said <- escape(text)
  ifelse(nzchar(said), paste0("<bdi>", said, "</bdi>"), "")
}

# A picture as SVG inside the page; its titles are text of the page, so that
# they wrap on a phone and are read aloud.
page_picture <- function(plot, width = 11, height = 5) {
  finding <- flat(plot$labels$title)
  shows <- flat(
    paste(c(plot$labels$subtitle, plot$labels$caption), collapse = " ")
  )
  plot <- plot +
    ggplot2::labs(title = NULL, subtitle = NULL, caption = NULL) +
    ggplot2::theme(plot.background = ggplot2::element_blank())
  drawn <- svglite::svgstring(
    width = width,
    height = height,
    bg = "transparent",
    standalone = FALSE
  )
  tryCatch(print(plot), finally = grDevices::dev.off())
  text <- sub(
    "<svg ",
    paste0(
      "<svg role=\"img\" aria-label=\"", escape(finding), "\" "
    ),
    as.character(drawn()),
    fixed = TRUE
  )
  htmltools::tags$figure(
    htmltools::tags$p(class = "finding", finding),
    htmltools::tags$p(class = "help", shows),
    htmltools::HTML(sub("<\\?xml[^>]*>", "", text))
  )
}

flat <- function(text) gsub("\n", " ", text, fixed = TRUE)

# Everybody in a page, once: the number that stands for each in its data, and the
# alias that one switch shows instead of the name. Without names the alias alone
# is in the file.
page_people <- function(students, names) {
  list(
    student = students$student,
    alias = say("page.student", n = seq_len(nrow(students))),
    names = names,
    label = if (names) or_else(students$name, students$student)
  )
}

who <- function(people, student) {
  at <- match(student, people$student)
  if (!people$names) return(people$alias[at])
  paste0(
    "<span class=\"who\">",
    escape(people$label[at]),
    "</span><span class=\"alias\">",
    people$alias[at],
    "</span>",
    recycle0 = TRUE
  )
}

# The same without markup, for a table to sort and filter by.
who_plain <- function(people, student) {
  at <- match(student, people$student)
  printable(if (people$names) people$label[at] else people$alias[at])
}

share_bar <- function(share, class = "") {
  width <- round(100 * pmin(1, or_else(share, 0)), 1)
  paste0(
    "<span class=\"bar ",
    class,
    "\"><span style=\"width:",
    width,
    "%\"></span></span>"
  )
}

# A share with its bar, and its interval in small print.
share_cells <- function(share, low = NULL, high = NULL, class = "") {
  interval <- if (!is.null(low)) html_cell(between(low, high), tag = "small")
  paste0(share_bar(share, class), " ", percent(share), interval)
}

# The mark of a level on its colour; beside it, where wanted, its name.
level_chip <- function(level, levels, name = TRUE) {
  at <- match(level, levels)
  chip <- paste0(
    "<span class=\"lv lv",
    at,
    "\"",
    if (!name) paste0(" title=\"", escape(level_words(level)), "\""),
    ">",
    level_signs(length(levels))[at],
    "</span>",
    if (name) paste0(" ", escape(level_words(level)))
  )
  or_blank(at, chip)
}

# The colours of this test's levels, as ground and as ink upon it.
level_styles <- function(levels) {
  ground <- level_colours(length(levels))
  k <- seq_along(ground)
  paste0(
    ".lv",
    k,
    "{background:",
    ground,
    ";color:",
    vapply(ground, ink_on, ""),
    "}.fill",
    k,
    "{fill:",
    ground,
    "}",
    collapse = ""
  )
}

# Tables of HTML, made a column at a time; their text is escaped by the caller.
html_cell <- function(x, class = "", tag = "td") {
  paste0(
    "<",
    tag,
    ifelse(nzchar(class), paste0(" class=\"", class, "\""), ""),
    ">",
    x,
    "</",
    tag,
    ">",
    recycle0 = TRUE
  )
}

html_row <- function(..., class = "") html_cell(paste0(...), class, "tr")

# headings: cells of a head row; rows: as html_row() makes them.
html_table <- function(headings, rows, class = "") {
  head <- html_cell(html_row(paste(headings, collapse = "")), tag = "thead")
  html_cell(
    paste0(head, html_cell(paste(rows, collapse = ""), tag = "tbody")),
    class,
    "table"
  )
}

heading <- function(text, class = "") html_cell(escape(text), class, "th")

# Begun in a process of its own, where the option pregunta.cores allows more than
# one and processes can fork, and collected later by calling what comes back. The
# command line sets that option for its own process; somebody's session of R, which
# may hold connections and threads, is not forked unasked.
begin <- function(make, cores = cores_allowed()) {
  if (!can_fork() || is.na(cores) || cores < 2) return(make)
  work <- function() {
    end_with_parent()
    make()
  }
  job <- parallel::mcparallel(work(), silent = TRUE)
  function() {
    made <- parallel::mccollect(job)[[1]]
    if (inherits(made, "try-error")) stop(attr(made, "condition"))
    made
  }
}
