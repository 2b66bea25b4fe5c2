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
  title <- say("page-grid.every_answer")
  if (is.null(data)) {
    # Without names nobody is shown alone.
    if (sitting$settings$smallest_group > 1) return(NULL)
    n <- sum(was_present(sitting))
    too_many <- say("page-grid.with_students_this_page", n = n)
    return(page_section("grid", title, htmltools::tags$p(too_many)))
  }
  if (!nrow(data)) return(NULL)
  table <- page_table(
    "grid-table",
    data,
    grid_columns(sitting, view),
    "students",
    "student",
    filter = TRUE,
    class = "grid"
  )
  page_section(
    "grid",
    title,
    slot("grid", view$texts$grid),
    help_line(
      htmltools::HTML(grid_legend()),
      paste(" \u00b7", say("page-grid.a_letter_is_the")),
      on_screen(paste(" \u00b7", say("page-grid.press_a_student_for")))
    ),
    wide(title, class = "folding", table)
  )
}

# Students strongest first, with the points on each item to sort by. An item may be
# called "student": the table's columns of items go by number.
grid_data <- function(sitting, figures, people) {
  table <- points_by_item(sitting, figures$students)
  table <- table[
    order(-table$share, table$student, method = "radix"),
  ]
  points <- unname(as.list(table))[-seq_along(about_people)]
  names(points) <- paste0("item", seq_along(points))
  cbind(
    data.frame(
      student = placed(who_plain(people, table$student)),
      share = table$share,
      level = cell_words(level_words(table$level)),
      person = match(table$student, people$student) - 1L
    ),
    frame_of(points)
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
      student = page_column(
        "student",
        "person",
        width = 158,
        rowHeader = TRUE
      ),
      share = figure_column(
        "score",
        "percent",
        width = 58,
        rooms = NULL
      ),
      level = page_column(
        "level",
        "level",
        rooms = "level",
        width = 122
      )
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
  kinds <- names(grid_signs)
  chips <- html_cell(
    grid_signs,
    paste(grid_class(kinds), "chip"),
    "i"
  )
  paste(
    chips, words_for(kinds, "answer_kinds"), collapse = " &nbsp; "
  )
}
