# Over the year: the tests of the shelf by date, and each student across them.

year_room <- function(visit) {
  tags <- htmltools::tags
  visit$at$stamp
  tests <- lapply(tests_of_visit(visit), function(id) {
    tryCatch(list(id = id, known = read_known(visit, id)),
      pregunta_error = function(e) NULL)
  })
  tests <- Filter(Negate(is.null), tests)
  if (!length(tests)) return(tags$p(say("desk-went.no_test_here_yet")))
  date <- vapply(tests, function(one) or_blank(one$known$sitting$settings$date), "")
  tests <- tests[order(date, method = "radix")]
  head <- c(
    list(tags$th(scope = "col", capital(heading_for("student")))),
    lapply(tests, function(one) {
      settings <- one$known$sitting$settings
      tags$th(
        scope = "col", class = "n",
        tags$a(href = place(visit, test = one$id), printable(settings$title)),
        tags$small(printable(or_blank(settings$date)))
      )
    })
  )
  students <- lapply(tests, function(one) {
    once(one$known, "people", function(sitting) {
      as.data.frame(summarise_students(sitting))
    })
  })
  ids <- unique(unlist(lapply(students, `[[`, "student")))
  shares <- vapply(students, function(one) one$share[match(ids, one$student)],
    numeric(length(ids)))
  shares <- matrix(shares, length(ids))
  everybody <- do.call(rbind, lapply(students, `[`, c("student", "name")))
  everybody <- everybody[!duplicated(everybody$student), ]
  rows <- lapply(seq_along(ids), function(k) {
    tags$tr(
      tags$th(scope = "row", name_of(everybody, ids[k])),
      lapply(seq_along(tests), function(t) {
        tags$td(class = "n", `data-sort` = shares[k, t], percent(shares[k, t]))
      })
    )
  })
  sat <- tags$tr(
    class = "whole",
    tags$th(scope = "row", say("desk-year.mean")),
    lapply(seq_along(tests), function(t) {
      share <- shares[, t]
      tags$td(class = "n", percent(mean(share[!is.na(share)])))
    })
  )
  htmltools::tagList(
    page_heading(words_for("year", "desk_places")),
    help_line(say("desk-year.what_stands_here")),
    desk_table(head, rows, words_for("year", "desk_places"), "sorts", tags$tfoot(sat))
  )
}
