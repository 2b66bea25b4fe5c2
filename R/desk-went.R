# How it went, and the shelf on which the tests stand.

went_room <- function(visit) {
  known <- test_of_visit(visit)
  sitting <- known$sitting
  figures <- figures_known(known)
  people <- page_people(sitting$students, TRUE)
  tags <- htmltools::tags
  date <- sitting$settings$date
  about <- c(
    if (!is.na(date)) say_day(date),
    say("page-report.questions", n = nrow(sitting$items))
  )
  htmltools::tagList(
    levels_style(sitting),
    page_heading(
      printable(sitting$settings$title),
      tags$p(class = "help", paste(about, collapse = " \u00b7 "))
    ),
    tags$div(
      `data-test` = visit$at$test,
      `data-ids` = jsonlite::toJSON(people$student),
      report_first(sitting, figures, people)
    ),
    went_sections(visit, known),
    tags$section(
      tags$h2(say("page-trust.can_the_scores_be")),
      htmltools::HTML(paste0("", trust_texts(figures)))
    )
  )
}

# Sections side by side, where there are some.
went_sections <- function(visit, known) {
  tags <- htmltools::tags
  sections <- unique(known$sitting$students$section)
  if (length(sections[!is.na(sections)]) < 2) return(NULL)
  test <- once(known, "sections", function(sitting) summarise_test(sitting, "section"))
  rows <- each_row(test, function(k) {
    tags$tr(
      tags$th(scope = "row", printable(or_else(test$section[k], "\u2013"))),
      tags$td(class = "n", test$n[k]),
      tags$td(class = "n", test$absent[k]),
      tags$td(bar_of(test$mean_share[k])),
      tags$td(class = "n", number(test$sd[k], 1))
    )
  })
  tags$section(
    tags$h2(say("desk-went.section_by_section")),
    desk_table(
      desk_headings(
        c("section", "students", "absent", "mean_score", "spread"),
        figures = c("students", "absent", "spread")
      ),
      rows,
      say("desk-went.section_by_section")
    )
  )
}

# ---- the shelf -------------------------------------------------------------------

shelf_room <- function(visit) {
  tags <- htmltools::tags
  visit$at$stamp
  ids <- tests_of_visit(visit)
  waiting <- tests_to_sit_of(visit)
  new <- tags$a(
    class = classes("button", "main"), href = "#new", say("desk-went.a_new_test")
  )
  if (!length(ids) && !length(waiting) && !sees_all(visit)) {
    return(htmltools::tagList(
      page_heading(say("desk-went.the_shelf")),
      tags$p(say("desk-people.no_test_of_yours", sections = visit$person$sections)),
      tags$p(class = "buttons", new)
    ))
  }
  if (!length(ids) && !length(waiting)) {
    return(htmltools::tagList(
      page_heading(say("desk-went.no_test_here_yet")),
      tags$p(say("desk-went.what_a_test_is")),
      tags$p(
        class = "buttons", new,
        act_button(say("desk-went.open_the_demo"), "make-demo")
      )
    ))
  }
  rows <- lapply(ids, function(id) shelf_row(visit, id))
  htmltools::tagList(
    page_heading(say("desk-went.the_shelf")),
    if (length(ids)) {
      desk_table(
        desk_headings(
          c("test", "date", "students", "mean_score", "waiting", "report"),
          figures = c("students", "waiting")
        ),
        rows,
        say("desk-went.the_shelf")
      )
    },
    if (length(waiting)) unsat_tests(visit, waiting),
    job_panel(visit),
    tags$p(
      class = "buttons", new,
      if (length(ids) > 1 && sees_all(visit)) {
        act_button(say("desk-went.reports_of_all"), "make-all")
      }
    )
  )
}

# Their answers come while the class works, or are typed in.
unsat_tests <- function(visit, ids) {
  tags <- htmltools::tags
  tags$section(
    tags$h2(say("desk-went.wait_for_answers")),
    lapply(ids, function(id) {
      tags$p(
        class = "buttons",
        tags$b(printable(title_in(path_of_test(visit$desk, id)))),
        place_button(visit, words_for("live", "desk_places"), "live", test = id),
        if (can_be_typed(visit$desk, id)) {
          place_button(visit, say("desk-went.type_them_in"), "type", test = id)
        }
      )
    })
  )
}

shelf_row <- function(visit, id) {
  tags <- htmltools::tags
  address <- place(visit, test = id)
  tryCatch({
    known <- read_known(visit, id)
    sitting <- known$sitting
    test <- once(known, "test", summarise_test)
    waits <- nrow(waiting_cells(sitting))
    tags$tr(
      tags$th(scope = "row", tags$a(href = address, printable(sitting$settings$title))),
      tags$td(printable(or_blank(sitting$settings$date))),
      tags$td(class = "n", test$n),
      tags$td(if (test$n) bar_of(test$mean_share)),
      tags$td(class = "n", if (waits) waits),
      tags$td(report_link(visit, id))
    )
  }, pregunta_error = function(e) {
    tags$tr(
      tags$th(scope = "row", tags$a(href = address, printable(id))),
      tags$td(colspan = 5, class = "asks", printable(e$what))
    )
  })
}

# Where its report was made.
report_link <- function(visit, id) {
  name <- own_file_name(visit$person, report_names[["teacher"]])
  if (!file.exists(file.path(path_of_test(visit$desk, id), name))) return(NULL)
  htmltools::tags$a(
    href = made_address(visit, name, id), target = "_blank", rel = "noopener",
    say("desk-give.open_it")
  )
}

make_demo <- function(visit, given) {
  folder <- free_folder(visit$desk, "pregunta-demo")
  write_folder_whole(folder, copy_demo)
  visit$session$sendCustomMessage("go", paste0("#", encoded(basename(folder))))
}

# A name below the root that is not taken.
free_folder <- function(desk, name) {
  taken <- list.files(desk$root, all.files = TRUE)
  name <- trimws(gsub("[/\\\\:*?\"<>|[:cntrl:]]+", " ", name))
  if (!nzchar(name) || startsWith(name, ".")) name <- say("desk-went.test")
  tries <- c(name, paste(name, 2:999))
  file.path(desk$root, setdiff(tries, taken)[1])
}
