# The glossary in the terminal.

run_explain <- function(call) {
  term <- if (length(call$words)) paste(call$words, collapse = " ")
  put_out(call, glossary(term), function(entries) {
    if (is.null(term)) {
      c(
        show_terms(entries), "", say("cli-explain.one_of_them_whole")
      )
    } else {
      show_entry(entries)
    }
  })
}

show_terms <- function(entries) {
  width <- max(nchar(entries$term)) + 2
  unlist(each_row(entries, function(row) {
    term <- entries$term[row]
    wrap_lines(
      entries$short[row],
      width,
      initial = paste0(term, strrep(" ", width - nchar(term)))
    )
  }))
}

show_entry <- function(entry) {
  said <- unlist(entry[c("good", "poor", "small")])
  said <- said[nzchar(said)]
  c(
    bold_line(entry$term),
    wrap_lines(paste(entry$short, entry$meaning)),
    "",
    unlist(lapply(names(said), function(name) {
      wrap_lines(
        paste0(
          words_for(name, "glossary_parts"), ": ", said[[name]]
        ),
        0,
        4
      )
    })),
    "",
    wrap_lines(say("cli-explain.columns", column = entry$column))
  )
}
