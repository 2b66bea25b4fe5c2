#' One page to open, print or pass on
#'
#' Writes the report of a sitting as one HTML file that needs no network: the
#' headline figures, what to look at first, the items (each opens to its
#' answers and who gave them), the grid of students by items, the standards,
#' and notes on the data. One switch on the page hides all names.
#'
#' @param sitting A [sitting()].
#' @param path Of the file. It is written whole or not at all.
#' @param names Whether students' names (or ids) are in the file at all.
#' @return The path, invisibly.
#' @section Errors: `pregunta_error_output` when the file cannot be written; a
#'   file that was there stays as it was.
#' @export
#' @examples
#' path <- file.path(tempdir(), "report.html")
#' write_report(read_sitting(demo_path()), path)
#' file.size(path)
write_report <- function(sitting, path = "report.html", names = TRUE) {
  figures <- report_figures(sitting)
  body <- htmltools::tags$main(
    report_head(sitting, figures, names), report_spread(figures), report_trust(figures),
      report_items(sitting, figures, names),
    report_grid(sitting, figures, names), report_standards(figures), report_glossary(), report_notes(sitting, names)
  )
  write_text(page_document(sitting$settings$title, body), path)
}

# Above this many students a page is no place for each one's answers.
most_in_page <- 400

# Every summary that the page shows, once.
report_figures <- function(sitting) {
  tally <- tally_responses(sitting, products = TRUE)
  items <- summarise_items(tally)
  options <- summarise_options(tally)
  review <- review_figures(items, options)
  by <- section_to_compare(sitting)
  list(
    test = summarise_test(tally), items = items, options = options, review = review, look = look_of(review),
    decisions = summarise_decisions(tally),
    students = summarise_students(sitting), standards = summarise_standards(sitting),
    by_section = if (!is.null(by)) summarise_standards(sitting, by),
    is_class = sum(was_present(sitting)) <= most_in_page
  )
}

report_head <- function(sitting, figures, names) {
  tags <- htmltools::tags
  settings <- sitting$settings
  about <- c(if (!is.na(settings$date)) settings$date, count_of(figures$test$items, "item"),
    paste(plain_points(figures$test$points), "points"), say_narrowed(sitting))
  tags$header(
    tags$div(class = "titles", tags$h1(printable(settings$title)),
      tags$p(printable(paste(about, collapse = " \u00b7 ")))),
    if (names) tags$button(id = "names", type = "button", `aria-pressed` = "false", "Hide names"),
    report_tiles(figures, names(settings$levels)),
    tags$section(class = "first", tags$h2("Look at this first"), look_list(figures$look))
  )
}

report_tiles <- function(figures, levels) {
  test <- figures$test
  top <- levels[max(1, length(levels) - 1)]
  reached <- sum(match(figures$students$level, levels) >= match(top, levels), na.rm = TRUE)
  htmltools::tags$div(
    class = "tiles",
    tile(percent(test$mean_share), "of the points on average",
      paste0(number(test$mean, 1), " of ", plain_points(test$points))),
    tile(test$n, "students sat it", if (test$absent) paste(test$absent, "absent")),
    tile(reached, paste("reached", top, if (top != levels[length(levels)]) "or above"),
      if (test$n) paste(percent(reached / test$n), "of them")),
    tile(if (is.na(test$alpha)) "\u2013" else alpha_word(test$alpha), "reliability",
      if (is.na(test$alpha)) test$reason
      else paste0("alpha ", number(test$alpha), ", scores good to \u00b1", number(test$sem, 1)))
  )
}

tile <- function(value, label, note = NULL) {
  htmltools::tags$div(class = "tile", htmltools::tags$b(value), htmltools::tags$span(label),
    if (length(note)) htmltools::tags$small(note))
}

look_list <- function(look, most = 5) {
  tags <- htmltools::tags
  if (!nrow(look)) return(tags$p("Nothing stands out. Go over the hardest questions with the class."))
  shown <- utils::head(look, most)
  htmltools::tagList(
    tags$ol(lapply(seq_len(nrow(shown)), function(row) {
      tags$li(tags$a(href = "#items", `data-open` = shown$item[row], shown$item[row]), " ", tags$b(shown$do[row]), " ",
        printable(shown$what[row]))
    })),
    if (nrow(look) > most) tags$p(paste0("Then: ", join_some(look$item[-seq_len(most)]), "."))
  )
}

report_spread <- function(figures) {
  if (!figures$test$n) return(NULL)
  htmltools::tags$section(id = "spread", page_picture(ggplot2::autoplot(figures$students), height = 3.9))
}

# Whether the scores bear what is to be done with them.
report_trust <- function(figures) {
  if (!figures$test$n) return(NULL)
  tags <- htmltools::tags
  lines <- c(say_reliability(figures$test), say_length(figures$test), say_decisions(figures$decisions))
  decisions <- figures$decisions[!is.na(figures$decisions$agreement) & !is.na(figures$decisions$cut), ]
  rows <- html_row(html_cell(escape(decisions$decision)), html_cell(percent(decisions$cut), "n"),
    html_cell(paste(decisions$passed, "of", decisions$n), "n"), html_cell(percent(decisions$agreement), "n"),
    html_cell(number(decisions$kappa), "n"))
  headings <- c(heading("Level"), heading(c("From", "Reached by", hover("Same again", "agreement"),
    hover("Kappa", "kappa")), "n"))
  tags$section(id = "trust", tags$h2("Can the scores be trusted?"),
    lapply(lines, function(line) tags$p(line)),
    if (figures$test$n_complete < figures$test$n) {
      tags$p(class = "help", paste0("From the ", figures$test$n_complete, " students with points on every item."))
    },
    if (nrow(decisions)) htmltools::HTML(html_table(headings, rows)))
}

# A word with its meaning for whoever holds the pointer over it.
hover <- function(text, term) paste0("<abbr title=\"", escape(gloss(term)), "\">", text, "</abbr>")

# The words of this page, for a finger or paper, where nothing hovers.
page_terms <- c("difficulty", "95% interval", "thirds", "discrimination", "blank", "pattern", "alpha", "SEM",
  "agreement", "kappa", "level")

report_glossary <- function() {
  tags <- htmltools::tags
  entries <- glossary(page_terms)
  tags$section(id = "glossary", tags$details(
    tags$summary("What the words mean"),
    tags$dl(lapply(seq_len(nrow(entries)), function(row) {
      htmltools::tagList(tags$dt(entries$term[row]), tags$dd(paste(entries$short[row], entries$meaning[row])))
    }))
  ))
}

report_notes <- function(sitting, names) {
  tags <- htmltools::tags
  findings <- check_sitting(sitting)
  if (!names) {
    findings$value[findings$column %in% c("student", "exclude")] <- "(hidden)"
    findings$action <- sub("^Reason: .*", "", findings$action) # may name somebody
  }
  where <- paste0(findings$file, ifelse(is.na(findings$line), "", paste0(", line ", findings$line)))
  what <- paste0(
    ifelse(is.na(findings$column), "", paste0(findings$column, " ")),
    ifelse(is.na(findings$value), "", paste0("\u201c", findings$value, "\u201d ")), findings$finding, "."
  )
  tags$section(id = "notes", tags$h2("Notes on the data"),
    lapply(describe_sitting(sitting)[-1], function(line) tags$p(printable(line))),
    if (nrow(findings)) tags$ul(lapply(seq_len(nrow(findings)), function(row) {
      tags$li(tags$b(class = findings$severity[row], findings$severity[row]), " ", printable(where[row]), ": ",
        printable(what[row]), " ",
        printable(findings$action[row]))
    })) else tags$p("Everything adds up.")
  )
}
