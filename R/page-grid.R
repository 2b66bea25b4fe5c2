# Students by items, both ordered; each cell says what was answered.

grid_signs <- c(right = "\u25cf", partly = "\u25d1", wrong = "\u00d7", blank = "", waiting = "?",
  "not given" = "\u2013")

report_grid <- function(sitting, figures, names) {
  tags <- htmltools::tags
  if (!figures$is_class) {
    return(tags$section(id = "grid", tags$h2("Every answer"), tags$p(paste0("With ", figures$test$n,
      " students this page leaves out each one's answers. Make a report of each class for them."))))
  }
  grid <- answer_grid(sitting)
  if (!length(grid$student)) return(NULL)
  row <- match(grid$student, figures$students$student)
  label <- who(figures$students, names)[row]
  level <- figures$students$level[row]
  levels <- names(sitting$settings$levels)
  head <- paste0("<thead><tr><th>Student</th><th class=\"n\">Score</th><th>Level</th>",
    paste0("<th class=\"n\">", escape(grid$item), "</th>", collapse = ""), "</tr></thead>")
  cells <- matrix(grid_cell(grid), length(grid$student))
  body <- paste0("<tr><th scope=\"row\">", label, "</th><td class=\"n\">", percent(figures$students$share[row]),
    "</td><td class=\"level\">",
    level_chip(level, levels), "</td>", apply(cells, 1, paste, collapse = ""), "</tr>", collapse = "")
  tags$section(id = "grid", tags$h2("Every answer"),
    tags$p(class = "finding", say_grid(figures$students, figures$items)),
    tags$p(class = "help", htmltools::HTML(paste0("<span class=\"", gsub(" ", "-", names(grid_signs)), " chip\">",
      grid_signs, "</span> ", names(grid_signs), collapse = " &nbsp; ")),
      " \u00b7 hold the pointer over a cell to read the answer."),
    tags$div(class = "wide", htmltools::HTML(paste0("<table class=\"grid\">", head, "<tbody>", body,
      "</tbody></table>"))))
}

grid_cell <- function(grid) {
  said <- paste0(rep(grid$item, each = length(grid$student)), ": ", ifelse(is.na(grid$answers), "\u2013", grid$answers),
    ifelse(is.na(grid$points), "", paste0(" (", plain_points(grid$points), ")")))
  paste0("<td class=\"", gsub(" ", "-", grid$kind), "\" title=\"", escape(said), "\">", grid_signs[grid$kind], "</td>")
}

level_chip <- function(level, levels) {
  at <- match(level, levels)
  ifelse(is.na(at), "", paste0("<span style=\"color:", level_colours(length(levels))[at], "\">",
    level_signs(length(levels))[at], "</span> ", escape(level)))
}
