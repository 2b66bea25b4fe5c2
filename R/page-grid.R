# Students by items; each cell says what was answered, each student opens to all
# their answers.

grid_signs <- c(
  right = "\u25cf",
  partly = "\u25d1",
  wrong = "\u00d7",
  blank = "",
  waiting = "?",
  "not_given" = "\u2013"
)

report_grid <- function(sitting, view) {
  data <- view$tables[["grid-table"]]
  if (is.null(data)) {
    return(page_section(
      "grid",
      say("page-grid.every_answer"),
      htmltools::tags$p(
        say("page-grid.with_students_this_page", n = sum(was_present(sitting)))
      )
    ))
  }
  if (!nrow(data)) return(NULL)
  page_section(
    "grid",
    say("page-grid.every_answer"),
    slot("grid", view$texts$grid),
    help_line(
      htmltools::HTML(grid_legend()),
      paste(" \u00b7", say("page-grid.a_letter_is_the")),
      on_screen(paste(" \u00b7", say("page-grid.press_a_student_for")))
    ),
    wide(
      say("page-grid.every_answer"),
      class = "folding",
      page_table(
        "grid-table",
        data,
        grid_columns(sitting, view),
        "students",
        "student",
        filter = TRUE,
        class = "grid"
      )
    )
  )
}

# Students strongest first, with the points on each item to sort by. An item may be
# called "student": the table's columns of items go by number.
grid_data <- function(sitting, figures, people) {
  rows <- which(was_present(sitting))
  rows <- rows[
    order(-figures$students$share[rows], sitting$students$student[rows], method = "radix")
  ]
  students <- figures$students[rows, ]
  points <- as.data.frame(cell_points(sitting)[rows, , drop = FALSE])
  names(points) <- paste0("item", seq_along(points))
  cbind(
    data.frame(
      student = who_plain(people, students$student),
      share = students$share,
      level = cell_words(students$level),
      person = match(students$student, people$student) - 1L
    ),
    points
  )
}

# The hardest item on the left.
grid_columns <- function(sitting, view) {
  hardest <- order(
    view$tables[["item-table"]]$difficulty,
    seq_len(nrow(sitting$items)),
    method = "radix"
  )
  item <- printable(sitting$items$item)
  short <- short_items(item)
  columns <- lapply(hardest, function(j) {
    reactable::colDef(
      name = item[j],
      header = grid_heading(item[j], short[j]),
      width = 31,
      cell = reactable::JS("cells.answer"),
      class = "answer",
      headerClass = "answer",
      searchable = FALSE
    )
  })
  names(columns) <- paste0("item", hardest)
  c(
    list(
      student = page_column("student", "person", width = 158, rowHeader = TRUE),
      share = figure_column("score", "percent", width = 58, rooms = NULL),
      level = page_column("level", "level", rooms = "level", width = 122)
    ),
    columns
  )
}

# A name too long to stand over its narrow column is turned.
grid_heading <- function(item, short) {
  if (nchar(item, "width") <= 4) return(item)
  htmltools::tags$span(class = "turned", title = item, short)
}

grid_class <- function(kind) gsub(" ", "-", kind)

grid_legend <- function() {
  chips <- html_cell(grid_signs, paste(grid_class(names(grid_signs)), "chip"), "i")
  paste(chips, words_for(names(grid_signs), "answer_kinds"), collapse = " &nbsp; ")
}
