# What is given out: reports, pages to take home, the workbook; made in a process of its
# own, so that the desk stays alive meanwhile and the making can be stopped.

# What can be made, under which name, and by which words of the command line.
to_make <- function() {
  report <- function(audience, names = TRUE) {
    function(sitting, path) {
      plan <- read_plan(file.path(dirname(path), "plan.csv"))
      write_report(sitting, path, names, audience, plan = plan)
    }
  }
  list(
    report = list("report.html", "report", report("teacher")),
    coordinator = list(
      report_names[["coordinator"]], c("report", "--for", "coordinator"),
      report("coordinator")
    ),
    head = list(
      report_names[["head"]], c("report", "--for", "head"), report("head")
    ),
    slips = list("slips.html", "slips", function(sitting, path) {
      write_slips(sitting, path)
    }),
    workbook = list("workbook.xlsx", "workbook", function(sitting, path) {
      write_workbook(sitting, path)
    }),
    walkthrough = list("walkthrough.html", "walkthrough", function(sitting, path) {
      write_walkthrough(sitting, path)
    })
  )
}

give_room <- function(visit) {
  tags <- htmltools::tags
  known <- test_of_visit(visit)
  job <- visit$now$job
  buttons <- lapply(names(to_make()), function(kind) {
    tags$li(
      act_button(words_for(kind, "desk_makes"), "make", kind = kind),
      tags$span(class = "help", words_for(kind, "desk_makes_about"))
    )
  })
  htmltools::tagList(
    page_heading(words_for("give", "desk_places")),
    if (!is.null(job)) {
      tags$p(
        class = "job", role = "status",
        tags$progress(`aria-label` = say("desk-give.being_made")),
        say("desk-give.is_being_made", what = words_for(job$kind, "desk_makes")),
        act_button(say("desk-give.stop"), "stop")
      )
    },
    tags$ul(class = "makes", buttons),
    made_section(visit)
  )
}

made_section <- function(visit) {
  tags <- htmltools::tags
  made <- files_for(visit$person, folder_of_visit(visit))
  if (!nrow(made)) return(NULL)
  rows <- each_row(made, function(k) {
    tags$tr(
      tags$th(scope = "row", tags$a(
        href = made_address(visit, made$name[k]), target = "_blank",
        rel = "noopener", printable(made$name[k])
      )),
      tags$td(format(made$when[k], "%Y-%m-%d %H:%M")),
      tags$td(class = "n", say("desk-give.kilobytes", n = ceiling(made$size[k] / 1000)))
    )
  })
  tags$section(
    tags$h2(say("desk-give.made_so_far")),
    help_line(printable(say("desk-give.they_are_in", folder = folder_of_visit(visit)))),
    desk_table(
      desk_headings(c("file", "when", "size"), figures = "size"), rows,
      say("desk-give.made_so_far")
    )
  )
}

made_address <- function(visit, name) {
  paste(c("made", encoded(visit$at$test), encoded(name)), collapse = "/")
}

# Files that were made from a test, not what it is made of.
files_made <- function(folder) {
  pattern <- "^(report|slips|workbook|walkthrough|plan|qti)[A-Za-z0-9-]*[.]"
  name <- list.files(folder, pattern)
  name <- name[tools::file_ext(name) %in% names(made_kinds)]
  about <- file.info(file.path(folder, name), extra_cols = FALSE)
  data.frame(name = name, when = about$mtime, size = about$size)
}

# ---- making ----------------------------------------------------------------------

make_file <- function(visit, given) {
  made <- to_make()[[paste0("", given$kind)]]
  shiny::req(!is.null(made), is.null(visit$now$job))
  folder <- folder_of_visit(visit)
  path <- file.path(folder, own_file_name(visit$person, made[[1]]))
  sitting <- test_of_visit(visit)$sitting
  check_output(path)
  write <- made[[3]]
  work <- function() {
    end_with_parent()
    tryCatch({
      write(sitting, path)
      "done"
    }, error = function(e) e)
  }
  visit$now$done <- NULL
  words <- c(made[[2]][1], folder, made[[2]][-1])
  if (.Platform$OS.type != "unix") return(made_now(visit, work(), path, words))
  job <- list(
    process = parallel::mcparallel(work(), silent = TRUE),
    kind = given$kind, path = path, words = words
  )
  visit$now$job <- job
  watch_job(visit, job)
}

watch_job <- function(visit, job) {
  watch <- shiny::observe({
    shiny::invalidateLater(250)
    found <- suppressWarnings(parallel::mccollect(job$process, wait = FALSE))
    if (is.null(found)) return(invisible())
    watch$destroy()
    if (identical(shiny::isolate(visit$now$job)$kind, job$kind)) {
      visit$now$job <- NULL
      made_now(visit, found[[1]], job$path, job$words)
    }
  })
}

made_now <- function(visit, found, path, words) {
  if (inherits(found, "pregunta_error")) {
    visit$now$done <- list(trouble = trouble(found))
  } else if (!identical(found, "done")) {
    why <- if (inherits(found, "error")) conditionMessage(found) else ""
    said <- say("desk-give.was_not_made", why = why)
    visit$now$done <- list(trouble = htmltools::tags$p(class = "trouble", said))
  } else {
    link <- htmltools::tags$a(
      href = shiny::isolate(made_address(visit, basename(path))),
      target = "_blank", rel = "noopener", say("desk-give.open_it")
    )
    tell_done(visit, say("desk-give.made", path = path), words = words, more = link)
  }
}

stop_making <- function(visit, given) {
  job <- visit$now$job
  if (is.null(job)) return(invisible())
  tools::pskill(job$process$pid, tools::SIGKILL)
  visit$now$job <- NULL
  tell_done(visit, say("desk-give.stopped"))
}
