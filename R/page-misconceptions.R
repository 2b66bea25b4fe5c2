# The ideas behind wrong answers: how many hold each, opened to the answers that
# stand for it and to who holds it.

report_misconceptions <- function(view) {
  data <- view$tables[["idea-table"]]
  if (is.null(data) || !nrow(data)) return(NULL)
  page_section(
    "misconceptions",
    "The ideas behind wrong answers",
    slot("misconceptions", view$texts$misconceptions),
    help_line(
      paste0(
        "Likely held: chosen at least twice and in at least half of the chances. Once ",
        "may be a slip."
      )
    ),
    wide(
      "The ideas behind wrong answers",
      page_table(
        "idea-table",
        data,
        list(
          idea = page_column("Idea", "idea", minWidth = 220),
          likely = figure_column("Likely", width = 76),
          share = bar_column("of those who could show it", width = 214),
          now_and_then = figure_column("Now and then", width = 130),
          once = figure_column("Once", width = 66),
          n = figure_column("Students", width = 94)
        ),
        "ideas",
        "idea"
      )
    )
  )
}

# `likely_by`, `now_and_then_by`, `once_by`: who; `..._answers`: with which answers.
idea_data <- function(figures, people) {
  found <- as.data.frame(figures$misconceptions)
  data <- data.frame(
    idea = cell_words(
      paste(found$code, ifelse(is.na(found$description), "", found$description))
    ),
    code = cell_words(found$code),
    description = cell_words(found$description),
    likely = found$likely,
    share = found$share,
    low = found$share_low,
    high = found$share_high,
    now_and_then = found$now_and_then,
    once = found$once,
    n = found$n,
    ochre = rep(TRUE, nrow(found))
  )
  held <- as.data.frame(figures$held)
  for (word in setdiff(names(held_words), "never")) {
    rows <- lapply(found$code, function(code) {
      which(held$code == code & held$status %in% held_words[word])
    })
    data[[paste0(word, "_by")]] <- lapply(rows, function(rows) {
      match(held$student[rows], people$student) - 1L
    })
    data[[paste0(word, "_answers")]] <- lapply(rows, function(rows) {
      cell_words(held$answers[rows])
    })
  }
  data
}
