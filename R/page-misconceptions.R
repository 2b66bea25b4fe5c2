# The ideas behind wrong answers: how many hold each, opened to the answers that
# stand for it and to who holds it.

report_misconceptions <- function(view) {
  data <- view$tables[["idea-table"]]
  if (is.null(data) || !nrow(data)) return(NULL)
  title <- say("page-misconceptions.the_ideas_behind_wrong")
  columns <- list(
    idea = page_column("idea", "idea", minWidth = 220),
    likely = figure_column("likely", width = 76),
    share = bar_column("of_those_who_could", width = 214),
    now_and_then = figure_column("now_and_then", width = 130),
    once = figure_column("once", width = 66),
    n = figure_column("students", width = 94)
  )
  page_section(
    "misconceptions",
    title,
    slot("misconceptions", view$texts$misconceptions),
    help_line(say("page-misconceptions.likely_held_chosen_at")),
    wide(
      title,
      page_table("idea-table", data, columns, "ideas", "idea")
    )
  )
}

# `likely_by`, `now_and_then_by`, `once_by`: who; `..._answers`: with which answers.
idea_data <- function(figures, people) {
  found <- as.data.frame(figures$misconceptions)
  idea <- paste(found$code, or_blank(found$description))
  data <- data.frame(
    idea = cell_words(idea),
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
  for (word in setdiff(held_codes, "never")) {
    rows <- lapply(found$code, function(code) {
      which(held$code == code & held$status %in% word)
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
