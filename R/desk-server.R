# A visit: one page in one browser. What it looks at stands in its address; what is done
# goes through desk-change.R; all else is read from the folder.

desk_server <- function(desk) {
  function(input, output, session) {
    person <- if (is_from_here(desk, session$request)) {
      person_asking(desk, session$request)
    }
    if (is.null(person)) {
      session$close()
      return(invisible())
    }
    language <- language_asking(desk, session$request)
    visit <- new_visit(desk, session, person, language)
    shiny::observeEvent(input$place, spoken_to(visit, go_to(visit, input$place)))
    shiny::observeEvent(input$act, spoken_to(visit, take_up(visit, input$act)))
    shiny::observeEvent(
      input$turn,
      session$sendCustomMessage("turned", input$turn),
      priority = -1
    )
    watch_folder(visit)
    prepare_rooms(visit)
    follow_class(visit)
    output$places <- part(visit, desk_places)
    output$main <- part(visit, function(visit) shown_at(visit, "main"))
    output$beside <- part(visit, function(visit) shown_at(visit, "beside"))
    output$class <- part(visit, class_now)
    output$ask <- part(visit, asked_panel)
    output$done <- part(visit, done_bar)
    receive_files(visit, input)
  }
}

# In the language of who looks.
spoken_to <- function(visit, code) in_language(visit$language, code)

# person: whose visit it is; language: that they read; at: where it is, and the state of
# the folder there; now: what is being done.
new_visit <- function(desk, session, person, language = desk$language) {
  list(
    desk = desk,
    session = session,
    person = person,
    language = language,
    at = shiny::reactiveValues(
      test = NULL,
      room = "shelf",
      rest = character(),
      stamp = ""
    ),
    now = shiny::reactiveValues(
      ask = NULL,
      done = NULL,
      arrival = NULL,
      job = NULL,
      share = NULL,
      drawn = NULL,
      live = NULL,
      compared = NULL,
      before = NULL,
      made = NULL
    )
  )
}

# What a person did is answered in words, also where it cannot be done.
part <- function(visit, make) {
  shiny::renderUI(spoken_to(visit, tryCatch(
    make(visit),
    shiny.silent.error = function(e) stop(e),
    pregunta_error = trouble,
    error = function(e) {
      htmltools::tags$p(
        class = "trouble",
        say("desk-server.something_went_wrong", problem = conditionMessage(e))
      )
    }
  )))
}

# An error as it is said everywhere: what, where, and what to do.
trouble <- function(e) {
  htmltools::tags$div(
    class = "trouble",
    role = "alert",
    htmltools::tags$p(htmltools::tags$b(e$what)),
    lapply(strsplit(paste0("", e$where), "\n")[[1]], htmltools::tags$p),
    if (length(e$fix)) htmltools::tags$p(paste(e$fix, collapse = " "))
  )
}

# ---- where -----------------------------------------------------------------------

# "#test/room/what/more": each part written as in any address.
go_to <- function(visit, place) {
  parts <- vapply(strsplit(paste0("", place), "/")[[1]], decoded, "", USE.NAMES = FALSE)
  tests <- c(tests_of_visit(visit), tests_to_sit_of(visit))
  if (!length(parts) || !nzchar(parts[1])) {
    parts <- if (identical(tests, ".")) "." else "shelf"
  }
  is_test <- parts[1] %in% tests
  # What was asked about one test is not asked about another.
  if (!identical(visit$at$test, if (is_test) parts[1])) visit$now$ask <- NULL
  visit$at$test <- if (is_test) parts[1]
  visit$at$room <- if (!is_test) {
    if (parts[1] %in% c("shelf", "new", "year")) parts[1] else "lost"
  } else if (length(parts) == 1) {
    if (has_been_sat(visit, parts[1])) "went" else "live"
  } else if (parts[2] %in% names(desk_rooms())) {
    parts[2]
  } else {
    "lost"
  }
  if (!sees_all(visit) && !visit$at$room %in% rooms_of_a_part) visit$at$room <- "lost"
  visit$at$rest <- if (is_test) parts[-(1:2)] else parts[-1]
  look_again(visit)
}

has_been_sat <- function(visit, id) is_test_folder(path_of_test(visit$desk, id))

place <- function(visit, ..., test = visit$at$test) {
  parts <- vapply(c(test, ...), encoded, "", USE.NAMES = FALSE)
  paste0("#", paste(parts, collapse = "/"))
}

# Each room: what it shows and what opens beside it; kept: which of the two is made of the
# test's files alone.
desk_rooms <- function() {
  both <- c("main", "beside")
  list(
    shelf = list(main = shelf_room, beside = nothing),
    new = list(main = arrival_room, beside = nothing),
    year = list(main = year_room, beside = year_beside),
    came = list(main = came_room, beside = nothing),
    live = list(main = live_room, beside = nothing),
    mark = list(main = mark_room, beside = nothing),
    type = list(main = type_room, beside = nothing),
    went = list(main = went_room, beside = nothing, kept = "main"),
    questions = list(main = questions_room, beside = question_beside, kept = both),
    students = list(main = students_room, beside = student_beside, kept = both),
    standards = list(main = standards_room, beside = standard_beside, kept = both),
    `next` = list(main = next_room, beside = nothing),
    give = list(main = give_room, beside = nothing),
    show = list(main = show_room, beside = nothing),
    lost = list(main = lost_room, beside = nothing)
  )
}

room_of <- function(visit) desk_rooms()[[visit$at$room]]

shown_at <- function(visit, where) {
  room <- room_of(visit)
  make <- room[[where]]
  if (!where %in% room$kept) return(make(visit))
  rest <- if (where == "beside") visit$at$rest
  name <- paste(c(where, visit$at$room, rest), collapse = "\n")
  kept_html(visit, name, function(known) make(visit))
}

nothing <- function(visit) NULL

lost_room <- function(visit) {
  htmltools::tagList(
    htmltools::tags$h1(say("desk-server.there_is_no_such_place")),
    htmltools::tags$p(htmltools::tags$a(href = "#shelf", say("desk-server.to_the_shelf")))
  )
}

# ---- the folder ------------------------------------------------------------------

# Names, sizes and times of what is read: as long as they stay nothing is read again.
stamp_of <- function(folder) {
  files <- list.files(folder, "[.](csv|yml|xlsx)$", full.names = TRUE)
  about <- file.info(files, extra_cols = FALSE)
  paste(basename(files), about$size, as.numeric(about$mtime), collapse = "\n")
}

folder_of_visit <- function(visit) {
  if (!is.null(visit$at$test)) path_of_test(visit$desk, visit$at$test)
}

# While the class works the files change all the time: of them the place that follows it
# needs none.
look_again <- function(visit) {
  id <- shiny::isolate(visit$at$test)
  if (shiny::isolate(identical(visit$at$room, "live") && visit$at$stamp != "")) {
    return(invisible())
  }
  visit$at$stamp <- if (is.null(id)) {
    tests <- shelf_tests(visit$desk)
    paste(tests, vapply(path_of_test(visit$desk, tests), stamp_of, ""), collapse = "\n")
  } else {
    stamp_of(path_of_test(visit$desk, id))
  }
}

watch_folder <- function(visit) {
  tick <- ticks(visit, 0.7)
  shiny::observe({
    tick()
    look_again(visit)
  })
}

# Something to depend on that changes every so many seconds as long as the visit lasts.
# The timers of shiny are looked through at every request.
ticks <- function(visit, seconds) {
  count <- shiny::reactiveVal(0)
  go_on <- function() {
    if (visit$session$isClosed()) return(invisible())
    count(shiny::isolate(count()) + 1)
    later::later(go_on, seconds)
  }
  later::later(go_on, seconds)
  count
}

# While somebody reads how a test went, the rooms that they may press next are made, one
# at a time, so that a press in between waits for one of them at most.
prepare_rooms <- function(visit) {
  rooms <- c("questions", "next", "students", "standards", "came")
  prepare <- function(left, id, stamp) {
    # A visit that is over cannot be asked where it is.
    if (visit$session$isClosed()) return(invisible())
    shiny::isolate({
      same <- identical(visit$at$test, id) && identical(visit$at$stamp, stamp)
      if (!same) return(invisible())
      try(spoken_to(visit, prepared(visit, left[1])), silent = TRUE)
    })
    if (length(left) > 1) later::later(function() prepare(left[-1], id, stamp), 0.2)
  }
  shiny::observe({
    id <- visit$at$test
    stamp <- visit$at$stamp
    if (shiny::isolate(visit$at$room) != "live") {
      later::later(function() prepare(rooms, id, stamp), 1)
    }
  })
}

# What is kept of it is kept under the same name as when it is asked for.
prepared <- function(visit, room) {
  if (is.null(visit$at$test)) return(invisible())
  switch(room,
    `next` = groups_and_plan(visit),
    came = kept_html(visit, "came", function(known) as_it_came(visit, known$sitting)),
    kept_html(visit, paste("main", room, sep = "\n"), function(known) {
      desk_rooms()[[room]]$main(visit)
    })
  )
}

# The test that is looked at, read once for each state of its files, whoever looks.
test_of_visit <- function(visit) read_known(visit, visit$at$test, visit$at$stamp)

read_known <- function(visit, id, stamp = stamp_of(path_of_test(visit$desk, id))) {
  shiny::req(id)
  sections <- visit$person$sections
  if (is.null(sections)) return(read_whole(visit$desk, id, stamp))
  known_as(visit$desk, paste(c(id, sections), collapse = "\n"), stamp, function() {
    own_part(read_whole(visit$desk, id, stamp)$sitting, sections)
  })
}

read_whole <- function(desk, id, stamp = stamp_of(path_of_test(desk, id))) {
  known_as(desk, id, stamp, function() {
    titles_for_reader(suppressWarnings(read_sitting(path_of_test(desk, id))))
  })
}

known_as <- function(desk, name, stamp, read) {
  name <- paste0(language_now(), "\n", name)
  known <- desk$known[[name]]
  if (is.null(known) || known$stamp != stamp) {
    known <- list(stamp = stamp, sitting = read(), made = new.env(parent = emptyenv()))
    assign(name, known, desk$known)
  }
  known
}

# What was reckoned of a test, once for each state of its files.
once <- function(known, name, make) {
  if (!exists(name, known$made, inherits = FALSE)) {
    assign(name, make(known$sitting), known$made)
  }
  known$made[[name]]
}

# What a room makes of a test's files alone, as text, once for all who look.
kept_html <- function(visit, name, make) {
  known <- test_of_visit(visit)
  part <- if (sees_all(visit)) "all" else "part"
  htmltools::HTML(once(known, paste("html", part, name), function(sitting) {
    html_of(make(known))
  }))
}

figures_known <- function(known) {
  once(known, "figures", function(sitting) {
    is_class <- sum(was_present(sitting)) <= most_in_page
    groups <- if (is_class && can_be_grouped(sitting)) group_students(sitting)
    view_report(sitting, is_class, NULL, groups)
  })
}
