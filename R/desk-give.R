# What is given out: reports, pages to take home, the workbook; made in a process of its
# own, so that the desk stays alive meanwhile and the making can be stopped.

# What can be made: under which name, by which words of the command line, and how; given:
# what was chosen for it.
to_make <- function() {
  report <- function(audience) {
    function(sitting, path, given) {
      plan <- read_plan(given$plan)
      names <- is.null(given$without_names)
      write_report(sitting, path, names, audience, plan = plan)
    }
  }
  slips <- function(sitting, path, given) {
    write_slips(sitting, path, parts_chosen(given))
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
    workbook = list("workbook.xlsx", "workbook", function(sitting, path, given) {
      write_workbook(sitting, path, names = is.null(given$without_names))
    }),
    walkthrough = list(
      "walkthrough.html", "walkthrough",
      function(sitting, path, given) write_walkthrough(sitting, path)
    ),
    plan = list("plan.docx", "plan", function(sitting, path, given) {
      earlier <- read_plan(given$plan)
      plan <- view_plan(sitting, earlier = earlier)
      settings <- sitting$settings
      write_plan(plan, path, settings$title, settings$date)
    }),
    slips = list("slips.html", "slips", slips),
    slips_pdf = list("slips.pdf", c("slips", "--as", "pdf"), slips),
    mail = list("mail", c("slips", "--mail"), give_drafts)
  )
}

give_drafts <- function(sitting, path, given) {
  from <- trimws(paste0("", given$from))
  write_mail(sitting, path, from, parts = parts_chosen(given))
}

# The parts of a page to take home that are ticked; all that are usual where nothing is.
parts_chosen <- function(given) {
  ticked <- strsplit(paste0("", given$parts), "\n", fixed = TRUE)[[1]]
  if (!length(ticked)) return(usual_parts())
  intersect(slip_parts, ticked)
}

usual_parts <- function() setdiff(slip_parts, "place")

for_colleagues <- c(
  "report", "coordinator", "head", "workbook", "walkthrough", "plan"
)

give_room <- function(visit) {
  tags <- htmltools::tags
  buttons <- lapply(for_colleagues, function(kind) {
    tags$li(
      act_button(words_for(kind, "desk_makes"), "make", kind = kind),
      tags$span(class = "help", words_for(kind, "desk_makes_about")),
      if (kind %in% c("report", "workbook")) {
        act_button(
          say("desk-give.without_names"), "make",
          kind = kind, without_names = "yes", class = "plainer"
        )
      }
    )
  })
  htmltools::tagList(
    page_heading(words_for("give", "desk_places")),
    job_panel(visit),
    tags$section(
      tags$h2(say("desk-give.for_colleagues")),
      tags$ul(class = "makes", buttons)
    ),
    kept_html(visit, "slips", function(known) slips_section(known$sitting)),
    made_section(visit)
  )
}

# What is being made, how far it is where that can be told, and a way to stop it.
job_panel <- function(visit) {
  tags <- htmltools::tags
  job <- visit$now$job
  if (is.null(job)) return(NULL)
  share <- visit$now$share
  tags$p(
    class = "job", role = "status",
    tags$progress(`aria-label` = say("desk-give.being_made"), value = share, max = 1),
    say("desk-give.is_being_made", what = words_for(job$kind, "desk_makes")),
    if (!is.null(share)) percent(share),
    act_button(say("desk-give.stop"), "stop")
  )
}

# Pages to take home: what is on them, one to look at first, then all.
slips_section <- function(sitting) {
  tags <- htmltools::tags
  there <- sitting$students[was_present(sitting), ]
  if (!nrow(there)) return(NULL)
  ticks <- lapply(slip_parts, function(part) {
    tags$label(
      class = "tick",
      tags$input(
        type = "checkbox", name = "parts", value = part,
        checked = if (part %in% usual_parts()) NA
      ),
      words_for(part, "slip_parts")
    )
  })
  whose <- lapply(seq_len(nrow(there)), function(k) {
    tags$option(
      value = there$student[k], printable(or_else(there$name[k], there$student[k]))
    )
  })
  makes <- function(kind, main = FALSE) {
    tags$button(
      type = "submit", name = "kind", value = kind, class = if (main) "main",
      words_for(kind, "desk_makes")
    )
  }
  tags$section(
    tags$h2(say("desk-give.to_take_home")),
    act_form(
      "slips",
      tags$fieldset(
        class = "ticks", tags$legend(say("desk-give.what_is_on_them")), ticks
      ),
      choice_field("student", say("desk-give.whose"), whose, "who"),
      tags$button(
        type = "submit", name = "kind", value = "preview", say("desk-give.show_one")
      ),
      tags$div(
        class = "buttons", makes("slips", main = TRUE), makes("slips_pdf"),
        text_field(
          "from", say("desk-give.your_address"),
          keep = "from", inputmode = "email"
        ),
        makes("mail")
      )
    )
  )
}

# One page as it will be, beside; or all of them made.
slips_asked <- function(visit, given) {
  if (!identical(given$kind, "preview")) return(make_file(visit, given))
  sitting <- test_of_visit(visit)$sitting
  slips <- make_slips(sitting, parts_chosen(given), paste0("", given$student))
  page <- paste(slips_page(sitting, slips, "A4"), collapse = "\n")
  visit$now$ask <- list(kind = "slip", page = page, student = given$student)
}

# A document of its own in the page, in which nothing runs.
slip_panel <- function(visit, ask) {
  tags <- htmltools::tags
  students <- test_of_visit(visit)$sitting$students
  tags$section(
    class = classes("ask", "preview"),
    tags$h2(tabindex = "-1", `data-focus` = NA, name_of(students, ask$student)),
    tags$iframe(sandbox = "", srcdoc = ask$page, title = say("desk-give.show_one")),
    act_button(say("desk-change.close"), "close", what = "ask")
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

made_address <- function(visit, name, test = visit$at$test) {
  paste(c("made", encoded(test), encoded(name)), collapse = "/")
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
  shiny::req(!is.null(made))
  folder <- folder_of_visit(visit)
  path <- file.path(folder, own_file_name(visit$person, made[[1]]))
  # Somebody may have written into a plan that was made before.
  if (identical(given$kind, "plan")) path <- free_path(path)
  sitting <- test_of_visit(visit)$sitting
  if (!dir.exists(path)) check_output(path)
  given$plan <- plan_of_visit(visit)
  start_job(
    visit, given$kind, path,
    c(made[[2]][1], folder, made[[2]][-1], words_chosen(given)),
    writing(made[[3]], sitting, path, given, folder)
  )
}

# Holds what it needs and nothing of the visit: it goes to another process.
writing <- function(write, sitting, path, given, folder) {
  force(list(write, sitting, path, given, folder))
  function() {
    write(sitting, path, given)
    note_output(folder, path, given$plan)
    NULL
  }
}

writing_all <- function(root) {
  force(root)
  function() {
    write_reports(root)
    NULL
  }
}

words_chosen <- function(given) {
  parts <- parts_chosen(given)
  c(
    if (!is.null(given$without_names)) "--no-names",
    if (!is.null(given$parts) && !identical(parts, usual_parts())) {
      c("--parts", paste(parts, collapse = ","))
    },
    if (identical(given$kind, "mail")) c("--sender", paste0("", given$from))
  )
}

# The report of every test on the shelf, and a page that lists them.
make_all_reports <- function(visit, given) {
  root <- visit$desk$root
  files <- file.path(test_folders(root), report_names[["teacher"]])
  begun <- Sys.time() - 1
  start_job(
    visit, "all_reports", file.path(root, "index.html"), c("report", root),
    writing_all(root),
    function() mean((file.mtime(files) >= begun) %in% TRUE)
  )
}

# In a process of its own; share: asked now and then how much of it is done.
start_job <- function(visit, kind, path, words, work, share = NULL) {
  shiny::req(is.null(visit$now$job))
  visit$now$done <- NULL
  visit$now$share <- NULL
  job <- list(
    begun = begin_anew(work), kind = kind, path = path, words = words, share = share
  )
  visit$now$job <- job
  watch_job(visit, job)
}

watch_job <- function(visit, job) {
  is_wanted <- function() {
    identical(shiny::isolate(visit$now$job)$begun$folder, job$begun$folder)
  }
  watch <- shiny::observe({
    shiny::invalidateLater(250)
    if (!is_wanted()) return(watch$destroy())
    found <- result_of(job$begun)
    if (is.null(found)) {
      if (!is.null(job$share)) visit$now$share <- spoken_to(visit, job$share())
      return(invisible())
    }
    watch$destroy()
    visit$now$job <- NULL
    spoken_to(visit, made_now(visit, found$error, job$path, job$words))
  })
}

made_now <- function(visit, problem, path, words) {
  if (inherits(problem, "pregunta_error")) {
    visit$now$done <- list(trouble = trouble(problem))
  } else if (!is.null(problem)) {
    said <- say("desk-give.was_not_made", why = conditionMessage(problem))
    visit$now$done <- list(trouble = htmltools::tags$p(class = "trouble", said))
  } else {
    folder <- shiny::isolate(folder_of_visit(visit))
    link <- if (identical(dirname(path), folder) && !dir.exists(path)) {
      htmltools::tags$a(
        href = shiny::isolate(made_address(visit, basename(path))),
        target = "_blank", rel = "noopener", say("desk-give.open_it")
      )
    }
    tell_done(visit, said_made(path), words = words, more = link)
  }
}

said_made <- function(path) {
  if (!dir.exists(path)) return(say("desk-give.made", path = path))
  say("desk-give.drafts_made", path = path, n = length(list.files(path)))
}

# With all that it started, so that nothing half made goes on being made.
stop_making <- function(visit, given) {
  job <- visit$now$job
  if (is.null(job)) return(invisible())
  stop_work(job$begun)
  visit$now$job <- NULL
  tell_done(visit, say("desk-give.stopped"))
}
