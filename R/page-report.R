#' One page to open, print or pass on
#'
#' Writes a report of a sitting as one HTML file that needs no network.
#'
#' @param sitting A [sitting()].
#' @param path Of the file. It is written whole or not at all.
#' @param names Whether students are in the file at all. Without names nobody is shown
#'   alone either, and groups under the setting `smallest_group`, at least 5, are withheld
#'   as for a head. To hide the names for a moment there is a switch on the page.
#' @param audience Whom it is for:
#'   * `"teacher"`: how it went, what and who first; then the questions, every answer,
#'     the standards, misconceptions, groups and the plan. A switch shows one
#'     section alone: all its figures are computed for it. Another hides all names;
#'   * `"coordinator"`: sections, teachers or schools side by side, the quality of
#'     the test, what is to be settled before scores count, standards by section;
#'   * `"head"`: the same on one sheet.
#' @param by For a coordinator or head: the columns of the students to compare by, each
#'   for itself; by default those of school, teacher and section that are there,
#'   and other columns that split the students into a few groups.
#' @param plan An earlier plan (as read from `plan.csv`): what was typed into it
#'   stands in the teacher's report.
#' @param language The code of the language that it is written in, see [languages()]; that
#'   of the test where it is known, else the usual one.
#' @return The path, invisibly.
#' @details Tables sort by their headings and have a field to filter them. In the
#' teacher's report a question opens to its answers, an answer to who gave it, a student
#' to all their answers, a standard to its questions, a misconception to who holds it.
#' With more than 400 students each one's answers are left out.
#'
#'   For a coordinator or head wrong answers that fewer than 3 students wrote are left
#'   out, and groups under the setting `smallest_group`, at least 5, are withheld, and
#'   others with them from which they could be worked out.
#' @section Errors: `pregunta_error_output` when the file cannot be written; a
#'   file that was there stays as it was. `pregunta_error_call` for an unknown
#'   audience or column, and where fewer students sat it than may be shown to others.
#' @seealso [write_reports()] for many tests at once.
#' @export
#' @examples
#' path <- file.path(tempdir(), "report.html")
#' write_report(read_sitting(demo_path()), path)
#' file.size(path)
write_report <- function(sitting, path = "report.html", names = TRUE,
                         audience = "teacher", by = NULL, plan = NULL,
                         language = NULL) {
  interpret_here()
  check_is_sitting(sitting)
  speak_here(language_of_pages(sitting, language))
  sitting <- titles_for_reader(sitting)
  check_audience(audience)
  check_output(path)
  write_text(
    report_page(sitting, names, audience, by, plan),
    path
  )
}

report_page <- function(sitting, names, audience, by, plan = NULL) {
  switch(audience,
    teacher = teacher_page(sitting, names, plan),
    coordinator = coordinator_page(sitting, by),
    head = head_page(sitting, by)
  )
}

report_audiences <- c("teacher", "coordinator", "head")

check_audience <- function(audience) {
  if (length(audience) == 1 && audience %in% report_audiences) {
    return(invisible())
  }
  abort_pregunta(
    "call",
    say("page-report.there_is_no_report", audience = quoted(audience[1])),
    NULL,
    did_you_mean(audience[1], report_audiences)
  )
}

# The whole test stands in the page; where there are sections, the figures of each
# wait in it for the switch.
teacher_page <- function(sitting, names, plan = NULL) {
  # What leaves the class names nobody, and shows nobody alone.
  if (!names) {
    sitting <- for_sharing(sitting)
  }
  sitting <- with_unsettled(sitting)
  people <- page_people(sitting$students, names)
  is_class <- names && sum(was_present(sitting)) <= most_in_page
  views <- sections_shown(sitting, is_class)
  # Groups are made within sections, so that a section's are among the whole's.
  groups <- if (is_class && can_be_grouped(sitting)) group_students(sitting)
  view <- function(one) {
    mine <- groups[groups$student %in% one$students$student, ]
    report_view(
      one,
      people,
      view_report(one, is_class, plan, mine)
    )
  }
  sections <- function() NULL
  if (length(views) > 1) {
    sections <- begin(function() section_views(lapply(unname(views[-1]), view)))
  }
  whole <- view(views[[1]])
  parts <- list(
    items = report_items(whole),
    options = report_answers(whole, is_class),
    grid = report_grid(sitting, whole),
    standards = report_standards(sitting, whole),
    misconceptions = report_misconceptions(whole),
    groups = report_groups(whole, say_topics(sitting)),
    plan = report_plan(whole),
    trust = report_trust(whole),
    notes = report_notes(sitting, names)
  )
  parts <- Filter(Negate(is.null), parts)
  body <- report_body(
    report_head(sitting, base::names(views), names),
    slot("first", whole$texts$first),
    parts,
    shared_data(
      sitting,
      shared_items(sitting, people, is_class),
      people = if (is_class) shared_people(people),
      present = which(was_present(sitting)) - 1L,
      views = lapply(unname(views), function(one) {
        I(match(one$students$student, people$student) - 1L)
      })
    )
  )
  page <- page_document(
    sitting$settings$title,
    body,
    style = level_styles(base::names(sitting$settings$levels)),
    more = sections
  )
  structure(page, headline = whole$headline)
}

# What a report is made of, whoever it is for; parts: by their names; more: headings
# of parts that only this report has.
report_body <- function(head, first, parts, shared, more = NULL) {
  tags <- htmltools::tags
  skip <- tags$a(
    class = "skip",
    href = "#first",
    say("page-report.to_the_first_things")
  )
  main <- tags$main(
    head,
    tags$div(id = "first", first),
    report_contents(base::names(parts), more),
    unname(parts),
    report_glossary()
  )
  htmltools::tagList(skip, main, page_data("shared", shared))
}

# What the script of the page needs of all sections.
shared_data <- function(sitting, items, people = NULL, present = integer(),
                        views = list(list())) {
  levels <- names(sitting$settings$levels)
  list(
    people = if (is.null(people)) list() else people,
    present = I(present),
    levels = I(level_words(levels)),
    signs = I(level_signs(length(levels))),
    cut = percent(sitting$settings$mastery_cut),
    items = items,
    views = views
  )
}

report_head <- function(sitting, views, names) {
  tags <- htmltools::tags
  settings <- sitting$settings
  about <- c(
    if (!is.na(settings$date)) say_day(settings$date),
    say("page-report.questions", n = nrow(sitting$items)),
    say_narrowed(sitting)
  )
  tags$header(
    page_titles(settings$title, about),
    tags$div(
      class = "controls",
      if (length(views) > 1) section_switch(views),
      if (names) switch_button("names", say("page-report.hide_names")),
      switch_button("dark", say("page-report.dark"))
    )
  )
}

switch_button <- function(id, text) {
  htmltools::tags$button(
    id = id,
    type = "button",
    `aria-pressed` = "false",
    text
  )
}

section_switch <- function(views) {
  tags <- htmltools::tags
  options <- lapply(seq_along(views), function(k) {
    tags$option(value = k - 1, printable(views[k]))
  })
  tags$label(
    say("page-report.show"),
    " ",
    tags$select(id = "section", options)
  )
}

# All of one section, or of the whole: the data of its tables, and its texts.
report_view <- function(sitting, people, figures) {
  is_class <- figures$is_class
  list(
    tables = list(
      `item-table` = item_data(sitting, figures, people),
      `option-table` = option_data(figures),
      `grid-table` = if (is_class) grid_data(sitting, figures, people),
      `standard-table` = if (nrow(figures$standards)) {
        standard_data(
          figures,
          people,
          sitting$settings$mastery_cut
        )
      },
      `idea-table` = if (!is.null(figures$misconceptions)) {
        idea_data(figures, people)
      },
      `group-table` = if (!is.null(figures$groups)) {
        group_data(figures$groups, people)
      },
      `decision-table` = decision_data(figures$decisions)
    ),
    texts = list(
      first = html_of(report_first(sitting, figures, people)),
      grid = finding_line(say_grid(figures$students, figures$items)),
      standards = standard_texts(figures),
      misconceptions = if (!is.null(figures$misconceptions)) {
        finding_line(say_misconceptions(figures$misconceptions))
      },
      plan = if (!is.null(figures$plan)) html_of(plan_texts(figures, people)),
      trust = trust_texts(figures)
    ),
    sections = if (!is.null(figures$by_section)) {
      unique(figures$by_section$section)
    },
    headline = headline_of(figures)
  )
}

# Their texts as templates, their figures as data.
section_views <- function(made) {
  templates <- lapply(seq_along(made), function(k) {
    texts <- Filter(Negate(is.null), made[[k]]$texts)
    htmltools::tags$template(
      id = paste0("view-", k),
      unname(Map(slot, names(texts), texts))
    )
  })
  tables <- lapply(made, `[[`, "tables")
  html_of(htmltools::tagList(templates, page_data("views", tables)))
}

report_contents <- function(parts, more = NULL) {
  tags <- htmltools::tags
  headings <- c(all_words("report_parts"), more)
  tags$nav(
    class = "contents",
    `aria-label` = say("page-report.parts_of_this_report"),
    lapply(parts, function(part) {
      tags$a(href = paste0("#", part), headings[[part]])
    })
  )
}
