# Over the year: the tests of the shelf by date, each student across them; growth over the
# windows, ladders, and who is not tested yet. What the record of the year would say, of
# the tests that are on the shelf, kept in memory and nowhere else.

year_room <- function(visit) {
  tags <- htmltools::tags
  tests <- tests_by_date(visit)
  if (!length(tests)) return(tags$p(say("desk-went.no_test_here_yet")))
  dated <- has_date(tests)
  year <- if (any(dated)) record_of_shelf(visit, tests[dated])
  htmltools::tagList(
    page_heading(words_for("year", "desk_places")),
    if (!is.null(year)) pending_section(visit, year),
    tags$section(
      tags$h2(say("desk-year.all_tests")),
      help_line(say("desk-year.what_stands_here")),
      year_table(visit, tests)
    ),
    if (is.null(year)) help_line(say("desk-year.no_dates")),
    if (!all(dated)) help_line(say("desk-year.some_without_date", n = sum(!dated))),
    if (!is.null(year)) htmltools::tagList(
      classes_section(year), ladders_section(visit, year)
    )
  )
}

# Tests that can be read, the earliest first; those without a date stand before them.
tests_by_date <- function(visit) {
  visit$at$stamp
  tests <- lapply(tests_of_visit(visit), function(id) {
    tryCatch(
      list(id = id, known = read_known(visit, id)),
      pregunta_error = function(e) NULL
    )
  })
  tests <- Filter(Negate(is.null), tests)
  date <- vapply(tests, function(one) or_blank(one$known$sitting$settings$date), "")
  tests[order(date, method = "radix")]
}

has_date <- function(tests) {
  !vapply(tests, function(one) is.na(one$known$sitting$settings$date), TRUE)
}

year_table <- function(visit, tests) {
  tags <- htmltools::tags
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
  shares <- vapply(
    students,
    function(one) one$share[match(ids, one$student)],
    numeric(length(ids))
  )
  shares <- matrix(shares, length(ids))
  everybody <- do.call(rbind, lapply(students, `[`, c("student", "name")))
  everybody <- everybody[!duplicated(everybody$student), ]
  rows <- lapply(seq_along(ids), function(k) {
    tags$tr(
      tags$th(scope = "row", class = "whole-name", year_link(visit, everybody, ids[k])),
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
  desk_table(head, rows, words_for("year", "desk_places"), "sorts", tags$tfoot(sat))
}

year_link <- function(visit, students, id) {
  htmltools::tags$a(
    class = "plain",
    href = place(visit, "year", id, test = NULL),
    name_of(students, id)
  )
}

# ---- the record of the shelf -----------------------------------------------------

# The tests of the shelf in a record, brought up to date where one of them changed; what
# windows and ladders there are stands in record.yml of the shelf or of a test.
record_of_shelf <- function(visit, tests) {
  desk <- visit$desk
  name <- paste(c("\nrecord", visit$person$sections), collapse = "\n")
  kept <- desk$known[[name]]
  if (is.null(kept)) {
    kept <- new.env(parent = emptyenv())
    kept$record <- open_record(DBI::dbConnect(RSQLite::SQLite(), ":memory:"))
    assign(name, kept, desk$known)
  }
  stamps <- vapply(tests, function(one) one$known$stamp, "")
  names(stamps) <- vapply(tests, `[[`, "", "id")
  bring_record_up(kept, tests, stamps)
  paths <- c(desk$root, vapply(names(stamps), path_of_test, "", desk = desk))
  settings <- file.path(paths, "record.yml")
  list(
    record = kept$record,
    settings = read_record_settings(c(settings[file.exists(settings)], settings[1])[1]),
    figures = kept$figures
  )
}

bring_record_up <- function(kept, tests, stamps) {
  if (identical(kept$stamps, stamps)) return(invisible())
  for (gone in setdiff(names(kept$stamps), names(stamps))) {
    remove_sitting(kept$record, gone)
  }
  for (one in tests) {
    if (!identical(kept$stamps[one$id], stamps[one$id])) {
      add_sitting(kept$record, one$known$sitting, one$id)
    }
  }
  kept$stamps <- stamps
  kept$figures <- new.env(parent = emptyenv())
}

# What was asked of the record, once for each state of it.
asked_once <- function(year, name, ask) {
  name <- paste(language_now(), name)
  if (is.null(year$figures[[name]])) assign(name, ask(), year$figures)
  year$figures[[name]]
}

year_growth <- function(year, by, skills = "last", student = NULL) {
  asked_once(year, paste(c("growth", by, skills, student), collapse = " "), function() {
    called_by_title(growth(
      year$record, by, year$settings$windows, skills,
      student = student, renamed = year$settings$renamed
    ))
  })
}

# On the desk tests go by their titles, where these tell them apart.
called_by_title <- function(growth) {
  link <- attr(growth, "link")
  titles <- link$titles
  if (anyDuplicated(titles)) return(growth)
  known <- function(names) unname(titles[names])
  told <- attributes(growth)
  growth <- unclass(growth)
  growth$scale <- known(growth$scale)
  attributes(growth) <- told
  link$sets <- stats::setNames(lapply(link$sets, known), known(names(link$sets)))
  attr(growth, "link") <- link
  growth
}

# ---- who is not tested yet -------------------------------------------------------

pending_section <- function(visit, year) {
  tags <- htmltools::tags
  late <- asked_once(year, "pending", function() {
    pending_students(year$record, year$settings$windows)
  })
  said <- if (nrow(late)) {
    say(
      "cli-record.of_are_not_tested",
      n = nrow(late), of = attr(late, "expected"), window = attr(late, "window")
    )
  } else {
    say(
      "cli-record.all_are_tested_in",
      n = attr(late, "expected"), window = attr(late, "window")
    )
  }
  tags$section(
    tags$h2(say("desk-year.not_tested_yet")),
    tags$p(printable(said)),
    if (nrow(late)) tags$ul(each_row(late, function(k) {
      about <- c(
        if (!is.na(late$section[k])) late$section[k],
        words_for(late$status[k], "statuses")
      )
      tags$li(
        year_link(visit, late, late$student[k]), " ",
        tags$small(printable(in_a_row(about)))
      )
    }))
  )
}

# ---- growth ----------------------------------------------------------------------

# Sections down within each standard, windows across; what is carried in brackets.
classes_section <- function(year) {
  tags <- htmltools::tags
  everybody <- year_growth(year, "student")
  several <- length(unique(everybody$section[!is.na(everybody$section)])) > 1
  table <- year_growth(year, if (several) "section")
  if (length(unique(table$window)) < 2) return(NULL)
  across <- growth_across(table)
  shown <- across$growth
  share <- ifelse(shown$n > 0, percent(shown$share), bracketed(shown$share_carried))
  tags$section(
    tags$h2(say("desk-year.over_the_windows")),
    lapply(say_growth(table), function(line) tags$p(printable(line))),
    growth_table(across, share, if (several) named_or_dash(across$first$section)),
    help_line(say("cli-growth.in_brackets_no_new")),
    help_line(say("cli-growth.the_last_test_of", whole_code = shown_codes(whole_code))),
    one_scale_tables(table, "section", several)
  )
}

# The same on one scale, one table a scale: what an easier test gives is out of it.
one_scale_tables <- function(growth, group = NULL, several = FALSE) {
  tags <- htmltools::tags
  sets <- linked_across(growth)
  lapply(names(sets), function(on) {
    across <- sets[[on]]
    gain <- signed_points(across$last$linked_gain)
    low <- across$last$linked_gain_low
    if (!is.null(low)) {
      between <- say(
        "desk-year.between",
        low = signed_points(low), high = signed_points(across$last$linked_gain_high)
      )
      gain <- paste0(gain, or_blank(low, between))
    }
    tags$div(
      tags$h3(printable(say("cli-growth.on_one_scale", on = on))),
      growth_table(
        across,
        percent(across$growth$linked_share),
        if (several) named_or_dash(across$first[[group]]),
        ifelse(is.na(across$last$linked_gain), "", say("desk-year.gain", gain = gain))
      )
    )
  })
}

bracketed <- function(share) ifelse(is.na(share), "", paste0("(", percent(share), ")"))

named_or_dash <- function(names) or_else(names, "\u2013")

# A row each standard (of a group), a column a window. about: said below the standard.
growth_table <- function(across, share, group = NULL, about = NULL) {
  tags <- htmltools::tags
  first <- across$first
  rows <- each_row(first, function(k) {
    tags$tr(
      tags$th(
        scope = "row",
        printable(shown_codes(first$code[k])), " ",
        tags$span(class = "text", printable(or_blank(first$title[k]))),
        if (!is.null(about)) tags$div(tags$small(printable(about[k])))
      ),
      if (!is.null(group)) tags$td(printable(group[k])),
      lapply(across$at[k, ], function(at) {
        tags$td(class = "n", if (!is.na(at)) or_blank(share[at]))
      })
    )
  })
  windows <- lapply(across$windows, function(name) {
    tags$th(scope = "col", class = "n", printable(name))
  })
  head <- c(
    desk_headings("standard"),
    if (!is.null(group)) desk_headings("section"),
    windows
  )
  desk_table(head, rows, say("desk-year.over_the_windows"))
}

# One student's year, beside the table.
year_beside <- function(visit) {
  id <- visit$at$rest[1]
  if (is.na(id)) return(NULL)
  tests <- tests_by_date(visit)
  dated <- has_date(tests)
  if (!any(dated)) return(NULL)
  year <- record_of_shelf(visit, tests[dated])
  own <- year_growth(year, "student", "all", id)
  if (!nrow(own)) return(htmltools::tags$p(say("desk-year.nothing_of_this_student")))
  across <- growth_across(own)
  share <- ifelse(own$carried, bracketed(own$share), percent(own$share))
  last <- across$last
  level <- or_else(level_words(last$level), "\u2013")
  about <- say(
    "desk-year.gain_and_level",
    grew = rep(length(across$windows) > 1, nrow(last)),
    gain = signed_points(last$gain),
    level = level,
    there = !is.na(last$first_there),
    day = or_blank(last$first_there)
  )
  htmltools::tagList(
    htmltools::tags$h2(tabindex = "-1", name_of(own, id)),
    help_line(printable(or_blank(own$section[1]))),
    growth_table(across, share, about = about),
    if (any(own$carried)) help_line(say("cli-growth.in_brackets_no_new")),
    one_scale_tables(own),
    help_line(say(
      "cli-growth.gain_since_the_first", growth = percent(attr(own, "cut"))
    ))
  )
}

# ---- ladders ---------------------------------------------------------------------

# How many stand on each step, and who.
ladders_section <- function(visit, year) {
  ladders <- year$settings$ladders
  if (!length(ladders)) return(NULL)
  tags <- htmltools::tags
  climbed <- asked_once(year, "ladders", function() {
    view_skills(year_growth(year, "student", "all"), ladders, year$settings$pass)
  })
  tags$section(
    tags$h2(say("desk-year.ladders")),
    lapply(names(ladders), function(name) {
      mine <- climbed[climbed$ladder == name, ]
      ladder_table(visit, name, ladders[[name]], mine, attr(climbed, "tree"))
    })
  )
}

ladder_table <- function(visit, name, ladder, mine, tree) {
  tags <- htmltools::tags
  counts <- counts_on_steps(mine, ladder)
  steps <- c(
    say("cli-growth.working_on", ladder = ladder), say("cli-growth.passed_all")
  )
  titles <- c(
    if (is.null(tree)) rep(NA, length(ladder)) else titles_of(ladder, tree), NA
  )
  rows <- lapply(seq_along(steps), function(k) {
    there <- mine$student[mine$passed == k - 1]
    tags$tr(
      tags$th(scope = "row", printable(steps[k])),
      tags$td(class = "roomy", printable(or_blank(titles[k]))),
      lapply(colnames(counts), function(section) {
        tags$td(class = "n", counts[k, section])
      }),
      tags$td(if (length(there)) tags$details(
        tags$summary(say("desk-year.who", n = length(there))),
        lapply(there, function(id) tags$div(year_link(visit, mine, id)))
      ))
    )
  })
  sections <- lapply(colnames(counts), function(section) {
    tags$th(scope = "col", class = "n", printable(named_or_dash(section)))
  })
  head <- c(
    desk_headings(c("step", "title"), roomy = "title"), sections, desk_headings("who")
  )
  forgotten <- mine[nzchar(mine$forgotten), ]
  htmltools::tagList(
    tags$h3(printable(name)),
    desk_table(head, rows, name),
    if (nrow(forgotten)) tags$details(
      tags$summary(say("desk-year.earlier_step_open", n = nrow(forgotten))),
      tags$ul(each_row(forgotten, function(k) {
        tags$li(
          year_link(visit, forgotten, forgotten$student[k]), " ",
          printable(gsub(";", ", ", forgotten$forgotten[k]))
        )
      }))
    )
  )
}
