# The page around the places: what is loaded once, the column of places, what was done.

# Written out here, not left to shiny: its answer could then not carry our headers.
desk_page <- function() {
  tags <- htmltools::tags
  output <- function(id, ...) tags$div(id = id, class = "shiny-html-output", ...)
  head <- htmltools::tagList(
    tags$meta(charset = "utf-8"),
    tags$title(say("desk-frame.pregunta")),
    tags$meta(name = "viewport", content = "width=device-width, initial-scale=1"),
    lapply(c("shared/shiny.min.css", "paper.css", "desk.css"), function(file) {
      tags$link(rel = "stylesheet", href = file)
    }),
    tags$link(rel = "icon", href = "data:,"),
    lapply(c("shared/jquery.min.js", "shared/shiny.min.js", "desk.js"), function(file) {
      tags$script(src = file)
    })
  )
  body <- htmltools::tagList(
    tags$a(
      class = "skip", href = "#main", `data-skip` = NA, say("desk-frame.to_the_page")
    ),
    tags$div(
      class = "desk",
      tags$nav(`aria-label` = say("desk-frame.places"), output("places")),
      tags$main(
        id = "page",
        tabindex = "-1",
        output("done", role = "status"),
        tags$div(class = "work", output("main"), tags$aside(
          `aria-label` = say("desk-frame.opened"), output("ask"), output("beside")
        ))
      )
    ),
    tags$p(id = "gone", role = "alert", hidden = NA, say("desk-frame.the_desk_is_closed"))
  )
  paste0(
    "<!DOCTYPE html>\n<html", html_language(), "><head>", html_of(head),
    "</head><body>", html_of(body), "</body></html>"
  )
}

# ---- the column of places --------------------------------------------------------

desk_places <- function(visit) {
  tags <- htmltools::tags
  id <- visit$at$test
  shelf <- place_link(visit, "shelf", "#shelf")
  year <- place_link(visit, "year", "#year")
  name <- visit$person$name
  whose <- if (!is.null(name)) tags$p(class = "test", printable(name))
  if (is.null(id)) {
    choice <- tags$div(class = "switches", language_choice())
    return(tags$div(class = "places", whose, shelf, year, choice))
  }
  rooms <- c("came", "live", "went", "questions", "students", "standards", "next", "give")
  title <- tryCatch(
    test_of_visit(visit)$sitting$settings$title,
    pregunta_error = function(e) title_in(path_of_test(visit$desk, id))
  )
  tags$div(
    class = "places",
    whose,
    shelf,
    tags$p(class = "test", printable(title)),
    lapply(rooms, function(room) place_link(visit, room, place(visit, room))),
    year,
    tags$div(
      class = "switches",
      tags$button(
        id = "names", type = "button", `aria-pressed` = "false",
        `data-other` = say("desk-frame.show_names"), say("desk-frame.hide_names")
      ),
      tags$button(
        id = "dark", type = "button", `aria-pressed` = "false",
        `data-other` = say("desk-frame.light"), say("desk-frame.dark")
      ),
      language_choice()
    )
  )
}

# Each language under its own name.
language_choice <- function() {
  tags <- htmltools::tags
  choices <- lapply(languages_that_cover("everything"), function(code) {
    tags$option(
      value = code,
      lang = html_code(code),
      selected = if (code == language_now()) NA,
      language_fact("name", code)
    )
  })
  tags$select(id = "language", `aria-label` = say("desk-frame.language"), choices)
}

# Where nobody has answered yet.
title_in <- function(folder) {
  settings <- tryCatch(settings_in(folder), pregunta_error = function(e) NULL)
  c(as.character(settings$title), basename(folder))[1]
}

# Marking, typing and showing are part of the place that they are reached from.
room_within <- c(mark = "came", type = "came", show = "questions")

place_link <- function(visit, room, address) {
  here <- visit$at$room
  if (here %in% names(room_within)) here <- room_within[[here]]
  htmltools::tags$a(
    href = address,
    `aria-current` = if (here == room) "page",
    words_for(room, "desk_places")
  )
}

# ---- small parts that all places use ---------------------------------------------

# A button that does something: name and facts go to the desk when it is pressed.
act_button <- function(text, act, ..., class = NULL) {
  facts <- list(...)
  if (length(facts)) names(facts) <- paste0("data-", names(facts))
  do.call(
    htmltools::tags$button,
    c(list(type = "button", `data-act` = act, class = class, text), facts)
  )
}

# What is typed in it goes along under the names of its fields.
act_form <- function(act, ..., facts = list()) {
  names(facts) <- if (length(facts)) paste0("data-", names(facts))
  do.call(htmltools::tags$form, c(list(`data-act` = act, ...), facts))
}

text_field <- function(name, label, value = "", keep = NULL, ...) {
  tags <- htmltools::tags
  tags$label(
    class = "field",
    tags$span(label),
    tags$input(name = name, value = value, `data-keep` = keep, ...)
  )
}

# A place for files, chosen or dropped.
file_field <- function(id, label, several = FALSE) {
  shiny::fileInput(
    id,
    label,
    multiple = several,
    buttonLabel = say("desk-frame.choose_files"),
    placeholder = say("desk-frame.no_file_yet")
  )
}

# One of several, under its label.
choice_field <- function(name, label, options, class = NULL) {
  tags <- htmltools::tags
  tags$label(
    class = classes("field", class),
    tags$span(label),
    tags$select(name = name, options)
  )
}

# A figure's name; pressed, it says what it means.
term_button <- function(text, term) {
  act_button(text, "explain", term = term, class = "term")
}

# Cells of a head row, of which some explain themselves. terms: by the names of columns;
# roomy: those that give way where there is no room.
desk_headings <- function(names, terms = character(), figures = character(),
                          roomy = character()) {
  lapply(names, function(name) {
    text <- capital(heading_for(name))
    htmltools::tags$th(
      scope = "col",
      class = classes(if (name %in% figures) "n", if (name %in% roomy) "roomy"),
      if (name %in% names(terms)) term_button(text, terms[[name]]) else text
    )
  })
}

classes <- function(...) paste(c(...), collapse = " ")

desk_table <- function(headings, rows, caption, class = NULL, ...) {
  tags <- htmltools::tags
  tags$div(
    class = classes("wide", class),
    # What is wider than the window is moved by the keys as well.
    tabindex = "0",
    role = "group",
    `aria-label` = caption,
    tags$table(
      tags$caption(class = "unseen", caption),
      tags$thead(tags$tr(headings)),
      tags$tbody(rows),
      ...
    )
  )
}

# Ways to other places.
item_link <- function(visit, item) {
  htmltools::tags$a(href = place(visit, "questions", item), printable(item))
}

place_button <- function(visit, text, ..., main = FALSE, test = visit$at$test) {
  htmltools::tags$a(
    class = classes("button", if (main) "main"),
    href = place(visit, ..., test = test),
    text
  )
}

# A share with its bar.
bar_of <- function(share, ochre = FALSE) {
  bar <- share_cells(share, class = if (ochre) "ochre" else "")
  htmltools::HTML(paste0("<span class=\"barred\">", bar, "</span>"))
}

name_of <- function(students, id) {
  at <- match(id, students$student)
  label <- escape(or_else(students$name[at], students$student[at]))
  alias <- say("page.student", n = at)
  htmltools::HTML(paste0(
    "<span class=\"who\">", label, "</span><span class=\"alias\">", alias, "</span>"
  ))
}

# Names with commas between, each a way to the student.
names_of <- function(visit, students, ids) {
  links <- vapply(ids, function(id) {
    address <- place(visit, "students", id)
    paste0("<a class=\"plain\" href=\"", address, "\">", name_of(students, id), "</a>")
  }, "")
  htmltools::HTML(in_a_row(links))
}

# The levels' colours are the test's own.
levels_style <- function(sitting) {
  htmltools::tags$style(htmltools::HTML(level_styles(names(sitting$settings$levels))))
}

page_heading <- function(title, ...) {
  htmltools::tags$header(htmltools::tags$h1(title), ...)
}

# The same in a terminal, for who wants it.
in_terminal <- function(words) {
  tags <- htmltools::tags
  line <- paste(c("pregunta", shell_word(words)), collapse = " ")
  tags$details(
    class = "terminal",
    tags$summary(say("desk-frame.the_same_in_a_terminal")),
    tags$code(printable(line))
  )
}
