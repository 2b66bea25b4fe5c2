#' Write a follow-up test as a folder
#'
#' A test folder to fill in and read with [read_sitting()], a paper for each form
#' with its answer key, and the questions as QTI.
#'
#' @param followup What [draw_followup()] drew.
#' @param folder Path of the folder to make.
#' @param title,date Of the new test; without a title it is called a follow-up.
#' @return The path, invisibly. In the folder: `items.csv`, `options.csv`,
#'   `standards.csv`, `misconceptions.csv`, `students.csv` (those it is for, with `form`),
#'   `responses.csv` (a row a student, to fill in; what is not on a student's form says
#'   so), `test.yml`, `paper.docx` (or `paper-FORM.docx`), `key.docx`, `items-qti.zip`.
#' @section Errors: `pregunta_error_output` when the folder holds a test already or
#'   cannot be written; nothing is then left of it.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' drawn <- draw_followup(quiz, read_pool(demo_path("pool")), length = 6)
#' folder <- file.path(tempdir(), "second-look")
#' write_followup(drawn, folder, "Second look")
#' list.files(folder)
write_followup <- function(followup, folder, title = NULL, date = NA) {
  if (is.null(title)) title <- say("write-followup.follow_up")
  stop_if_test(folder)
  tables <- followup_tables(followup)
  settings <- Filter(
    function(x) length(x) && !all(is.na(x)),
    c(
      list(title = title, date = date),
      attr(followup, "settings")[
        c(
          "levels", "cuts", "mastery_cut", "smallest_group", "bands", "rounding",
          "language"
        )
      ]
    )
  )
  write_folder_whole(folder, function(draft) {
    for (name in names(tables)) {
      if (nrow(tables[[name]])) {
        write_csv_table(tables[[name]], file.path(draft, paste0(name, ".csv")))
      }
    }
    write_text(
      strsplit(yaml::as.yaml(settings, indent.mapping.sequence = TRUE), "\n")[[
        1
      ]],
      file.path(draft, "test.yml")
    )
    write_papers(followup, draft, title)
    made <- do.call(sitting, c(tables, list(settings = settings)))
    write_qti(made, file.path(draft, "items-qti.zip"), "2.2")
  })
}

followup_tables <- function(followup) {
  people <- attr(followup, "people")
  # Rows may have been taken away.
  chosen <- function(table) {
    if (NROW(table)) table[table$item %in% followup$item, , drop = FALSE] else table
  }
  items <- chosen(attr(followup, "items"))
  listed <- attr(followup, "listed")
  listed <- listed[
    match(people$student, listed$student),
    setdiff(names(listed), c("status", "seconds", "submitted", "late")),
    drop = FALSE
  ]
  students <- cbind(listed, form = people$form)
  pair <- paste(
    rep(people$form, nrow(items)),
    rep(items$item, each = nrow(people))
  )
  on <- pair %in% paste(
    followup$form,
    followup$item
  )
  cells <- matrix(
    ifelse(on, "", blank_words[["not_given"]]),
    nrow(people),
    dimnames = list(NULL, items$item)
  )
  list(
    responses = data.frame(student = people$student, cells),
    students = students,
    items = items[
      vapply(items, function(x) !all(is_blank(x)), TRUE)
    ],
    options = chosen(attr(followup, "options")),
    standards = attr(followup, "standards"),
    misconceptions = attr(followup, "misconceptions")
  )
}

# ---- on paper --------------------------------------------------------------------

write_papers <- function(followup, folder, title) {
  forms <- unique(followup$form)
  key <- unlist(
    lapply(
      forms,
      function(form) key_parts(followup, form, length(forms) > 1)
    ),
    recursive = FALSE
  )
  heading <- say("write-followup.answer_key", title = title)
  key <- c(list(list(kind = "title", content = heading)), key)
  write_docx(key, file.path(folder, "key.docx"))
  for (form in forms) {
    name <- if (length(forms) == 1) {
      "paper.docx"
    } else {
      paste0("paper-", gsub("[^A-Za-z0-9]+", "-", form), ".docx")
    }
    write_docx(
      paper_parts(followup, form, title, length(forms) > 1),
      file.path(folder, name)
    )
  }
}

paper_parts <- function(followup, form, title, several) {
  items <- items_of_form(followup, form)
  options <- attr(followup, "options")
  points <- sum(items$points)
  to_fill_in <- say(
    "write-followup.name_date_points_of",
    name_line = strrep("_", 30),
    date_line = strrep("_", 14),
    points = plain_points(points),
    form = form,
    several = several
  )
  questions <- each_row(items, function(k) {
    paper_question(
      items[k, ],
      k,
      options[options$item == items$item[k], ]
    )
  })
  head <- list(
    list(kind = "title", content = title),
    list(kind = "text", content = to_fill_in)
  )
  c(head, unlist(questions, recursive = FALSE))
}

items_of_form <- function(followup, form) {
  items <- attr(followup, "items")
  items[match(followup$item[followup$form == form], items$item), ]
}

paper_question <- function(item, k, options) {
  asked <- if (is.na(item$prompt)) item$item else item$prompt
  paper <- item_type(item$type)$paper
  hint <- paste(
    c(
      paper$hint,
      if (item$points != 1) {
        say("write-followup.points", points = plain_points(item$points))
      }
    ),
    collapse = " "
  )
  body <- c(
    if (nzchar(trimws(hint))) trimws(hint),
    if (nrow(options)) {
      paste0(
        "\u25a1  ",
        options$option,
        "   ",
        or_blank(options$text)
      )
    },
    paper$lines
  )
  list(
    list(kind = "subheading", content = paste0(k, ".  ", asked)),
    list(kind = "lines", content = body)
  )
}

key_parts <- function(followup, form, several) {
  items <- items_of_form(followup, form)
  table <- data.frame(
    number = seq_len(nrow(items)),
    item = items$item,
    right = or_else(items$key, say("write-followup.by_hand")),
    points = plain_points(items$points),
    standard = or_blank(items$standards),
    why = or_blank(items$rationale)
  )
  names(table) <- capital(vapply(names(table), heading_for, ""))
  heading <- list(
    kind = "heading",
    content = say("write-followup.form", form = form)
  )
  rows <- list(
    kind = "table",
    content = table,
    widths = c(7, 8, 20, 11, 14, 40)
  )
  c(if (several) list(heading), list(rows))
}
