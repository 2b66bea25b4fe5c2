# After teaching: a second test from new questions for those who need it, and whether it
# worked.

# Where questions are kept near a test: folders of questions without answers, and banks.
pools_near <- function(visit) {
  folders <- unique(c(folder_of_visit(visit), visit$desk$root))
  inside <- list.dirs(folders, recursive = FALSE)
  has <- function(file) file.exists(file.path(inside, file))
  without <- has("items.csv") & !has("responses.csv") & !has("students.csv")
  c(inside[without], list.files(folders, "[.]sqlite$", full.names = TRUE))
}

followup_section <- function(visit) {
  tags <- htmltools::tags
  pools <- pools_near(visit)
  drawn <- visit$now$drawn
  tags$section(
    tags$h2(say("desk-followup.a_second_test")),
    if (!length(pools)) {
      help_line(say("desk-followup.where_questions_come_from"))
    } else {
      act_form(
        "draw",
        choice_field(
          "pool", say("desk-followup.questions_from"),
          lapply(pools, function(pool) {
            tags$option(value = pool, printable(basename(pool)))
          })
        ),
        text_field("length", say("desk-followup.how_many"), "8", inputmode = "numeric"),
        tags$button(type = "submit", say("desk-followup.choose_questions"))
      )
    },
    if (identical(drawn$test, visit$at$test)) drawn_form(drawn$drawn)
  )
}

draw_questions <- function(visit, given) {
  shiny::req(given$pool %in% pools_near(visit))
  sitting <- test_of_visit(visit)$sitting
  length <- suppressWarnings(as.integer(given$length))
  if (is.na(length)) length <- 8
  drawn <- draw_followup(
    sitting,
    read_pool(given$pool),
    length = length,
    used = list(sitting)
  )
  visit$now$drawn <- list(
    test = visit$at$test,
    pool = given$pool,
    length = length,
    drawn = drawn
  )
}

# The questions that were chosen, each to be left out; what each standard gets.
drawn_form <- function(drawn) {
  tags <- htmltools::tags
  rows <- each_row(drawn, function(k) {
    box <- tags$input(
      type = "checkbox", name = "ticked", value = drawn$item[k], checked = NA,
      `aria-label` = drawn$item[k]
    )
    tags$tr(
      tags$td(box),
      tags$th(scope = "row", printable(drawn$item[k])),
      tags$td(printable(or_blank(drawn$prompt[k]))),
      tags$td(printable(or_blank(drawn$standards[k]))),
      tags$td(class = "n", plain_points(drawn$points[k]))
    )
  })
  found <- attr(drawn, "found")
  short <- found[nzchar(found$why), ]
  people <- attr(drawn, "people")
  htmltools::tagList(
    tags$p(say("desk-followup.for_how_many", n = nrow(people))),
    act_form(
      "followup",
      desk_table(
        desk_headings(
          c("", "item", "question", "standards", "points"),
          figures = "points"
        ),
        rows,
        say("desk-followup.a_second_test")
      ),
      tags$button(
        type = "submit", class = "main", say("desk-followup.make_paper_and_key")
      )
    ),
    if (nrow(short)) {
      help_line(printable(say(
        "desk-followup.missing",
        codes = join_words(paste0(short$code, " (", short$found, "/", short$wanted, ")"))
      )))
    }
  )
}

make_followup <- function(visit, given) {
  drawn <- visit$now$drawn
  shiny::req(identical(drawn$test, visit$at$test))
  ticked <- strsplit(paste0("", given$ticked), "\n", fixed = TRUE)[[1]]
  chosen <- drawn$drawn[drawn$drawn$item %in% ticked, ]
  if (!nrow(chosen)) {
    abort_pregunta("call", say("desk-followup.tick_a_question"))
  }
  settings <- test_of_visit(visit)$sitting$settings
  title <- say("cli-followup.follow_up", title = settings$title)
  folder <- free_folder(visit$desk, title)
  write_followup(chosen, folder, title)
  visit$now$drawn <- NULL
  tell_done(
    visit,
    say("desk-followup.made", folder = folder, files = join_words(list.files(folder))),
    back_from_made(visit, folder),
    c("followup", folder_of_visit(visit), "--from", drawn$pool, "--length",
      as.character(drawn$length), "--out", folder)
  )
}

# ---- whether it worked -----------------------------------------------------------

worked_section <- function(visit) {
  tags <- htmltools::tags
  others <- setdiff(tests_of_visit(visit), visit$at$test)
  if (!length(others)) return(NULL)
  compared <- visit$now$compared
  tags$section(
    tags$h2(say("desk-followup.did_it_work")),
    act_form(
      "compare",
      choice_field(
        "other", say("desk-followup.held_against"),
        lapply(others, function(id) {
          tags$option(
            value = id, selected = if (identical(id, compared$other)) NA,
            printable(title_of(visit, id))
          )
        })
      ),
      tags$button(type = "submit", say("desk-followup.compare"))
    ),
    if (identical(compared$test, visit$at$test)) compared_panel(visit, compared$other)
  )
}

title_of <- function(visit, id) {
  tryCatch(
    read_known(visit, id)$sitting$settings$title,
    pregunta_error = function(e) id
  )
}

compare_tests <- function(visit, given) {
  shiny::req(given$other %in% tests_of_visit(visit))
  visit$now$compared <- list(test = visit$at$test, other = given$other)
}

compared_panel <- function(visit, other) {
  tags <- htmltools::tags
  before <- test_of_visit(visit)$sitting
  after <- read_known(visit, other)$sitting
  view <- view_compared(before, after)
  change <- as.data.frame(view$change)
  score <- paste(percent(change$share_before), "\u2192", percent(change$share_after))
  rows <- each_row(change, function(k) {
    row <- change[k, ]
    tags$tr(
      tags$th(
        scope = "row",
        printable(paste(shown_codes(row$code), or_blank(row$title)))
      ),
      tags$td(class = "n", row$n),
      tags$td(class = "n", score[k]),
      tags$td(class = "n", signed_points(row$change)),
      tags$td(class = "n", say(
        "cli-compare.of", reached = row$reached, below_before = row$below_before
      ))
    )
  })
  still <- view$who$below
  closes <- file.exists(plan_of_visit(visit))
  htmltools::tagList(
    lapply(c(say_change_of(view$change), say_regression(view$change)), function(line) {
      tags$p(printable(line))
    }),
    desk_table(
      desk_headings(
        c("standard", "students", "score", "change", "got_there"),
        figures = c("students", "score", "change", "got_there")
      ),
      rows,
      say("desk-followup.did_it_work")
    ),
    lapply(names(still), function(code) {
      who <- still[[code]]
      if (!length(who)) return(NULL)
      tags$details(
        tags$summary(say("desk-followup.still_to_come", code = code, n = length(who))),
        tags$p(printable(in_a_row(who)))
      )
    }),
    if (closes) {
      act_button(say("desk-followup.close_the_plan"), "close-plan", other = other)
    }
  )
}

close_plan_here <- function(visit, given) {
  folder <- folder_of_visit(visit)
  shiny::req(given$other %in% tests_of_visit(visit))
  before <- test_of_visit(visit)$sitting
  after <- read_known(visit, given$other)$sitting
  path <- plan_of_visit(visit)
  back <- back_to_file(visit, path, function() {
    close_plan_file(folder, view_compared(before, after)$change, after, path)
  })
  closed <- back$result
  tell_done(
    visit,
    say("cli-compare.closed", path = closed$path, done = closed$done, n = closed$n),
    back$button,
    c(
      "compare", folder, path_of_test(visit$desk, given$other), "--close",
      only_of_visit(visit)
    )
  )
}
