# Students by items, both ordered; each cell says what was answered.

grid_signs <- c(
  right = "\u25cf", partly = "\u25d1", wrong = "\u00d7", blank = "", waiting = "?", "not given" = "\u2013"
)

report_grid <- function(sitting, figures, names) {
  tags <- htmltools::tags
  grid <- answer_grid(sitting)
  if (!length(grid$student)) return(NULL)
  if (!figures$is_class) {
    left_out <- paste0("With ", figures$test$n, " students this page leaves out each one's answers. ",
      "Make a report of each class for them.")
    return(tags$section(id = "grid", tags$h2("Every answer"), tags$p(left_out)))
  }
  tags$section(
    id = "grid", tags$h2("Every answer"), tags$p(class = "finding", say_grid(figures$students, figures$items)),
    tags$p(class = "help", htmltools::HTML(grid_legend()), " \u00b7 hold the pointer over a cell to read the answer."),
    tags$div(class = "wide", htmltools::HTML(grid_table(sitting, grid, figures, names)))
  )
}

grid_table <- function(sitting, grid, figures, names) {
  at <- match(grid$student, figures$students$student)
  students <- figures$students[at, ]
  cells <- matrix(grid_cell(grid), length(grid$student))
  rows <- html_row(
    "<th scope=\"row\">", who(figures$students, names)[at], "</th>", html_cell(percent(students$share), "n"),
    html_cell(level_chip(students$level, names(sitting$settings$levels)), "level"),
    apply(cells, 1, paste, collapse = "")
  )
  headings <- c(heading("Student"), heading("Score", "n"), heading("Level"), heading(escape(grid$item), "n"))
  html_table(headings, rows, "grid")
}

grid_cell <- function(grid) {
  answer <- ifelse(is.na(grid$answers), "\u2013", grid$answers)
  points <- ifelse(is.na(grid$points), "", paste0(" (", plain_points(grid$points), ")"))
  said <- paste0(rep(grid$item, each = length(grid$student)), ": ", answer, points)
  paste0("<td class=\"", grid_class(grid$kind), "\" title=\"", escape(said), "\">", grid_signs[grid$kind], "</td>")
}

grid_class <- function(kind) gsub(" ", "-", kind)

grid_legend <- function() {
  chips <- html_cell(grid_signs, paste(grid_class(names(grid_signs)), "chip"), "span")
  paste(chips, names(grid_signs), collapse = " &nbsp; ")
}

# The mark of a level in its colour, and its name.
level_chip <- function(level, levels) {
  at <- match(level, levels)
  colour <- level_colours(length(levels))[at]
  sign <- level_signs(length(levels))[at]
  ifelse(is.na(at), "", paste0("<span style=\"color:", colour, "\">", sign, "</span> ", escape(level)))
}
