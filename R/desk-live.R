# The class at work: the place that follows what comes in, at the desk's own address or
# into the folder.

# One follower of a test for all who look.
live_of <- function(desk, id) {
  if (is.null(desk$lives[[id]])) {
    assign(id, open_live(path_of_test(desk, id)), desk$lives)
  }
  desk$lives[[id]]
}

# Looked at every 1.4 seconds while somebody is there; drawn again when something is new,
# and now and then for the times in it.
follow_class <- function(visit) {
  tick <- ticks(visit, 1.4)
  shiny::observe({
    if (!identical(visit$at$room, "live") || is.null(visit$at$test)) return()
    tick()
    live <- spoken_to(visit, live_of(visit$desk, visit$at$test))
    now <- as.numeric(Sys.time())
    if (is.na(live$now) || now - live$now > 0.5) {
      if (look_live(live)) live$version <- c(live$version, 0)[1] + 1
    }
    visit$now$live <- paste(c(live$version, 0)[1], now %/% 10)
  })
}

live_room <- function(visit) {
  live <- shiny::isolate(live_of(visit$desk, visit$at$test))
  if (is.na(live$now)) look_live(live)
  large <- identical(visit$at$rest, "large")
  title <- or_else(c(live$frame$settings$title, NA)[1], visit$at$test)
  htmltools::tagList(
    page_heading(say("desk-live.while_they_work", title = printable(title))),
    # There at once; what changes takes its place.
    htmltools::tags$div(
      id = "class",
      class = "shiny-html-output",
      shiny::isolate(class_now(visit))
    ),
    htmltools::tags$p(
      class = "buttons",
      if (large) {
        place_button(visit, say("desk-live.with_names"), "live")
      } else {
        place_button(visit, say("desk-live.large"), "live", "large")
      }
    ),
    htmltools::tags$p(class = "help", legend_of_live()),
    if (!large) live_ways(visit)
  )
}

# What changes: it is drawn by itself, so that what was opened around it stays open.
class_now <- function(visit) {
  visit$now$live
  tags <- htmltools::tags
  if (!identical(visit$at$room, "live")) return(NULL)
  live <- live_of(visit$desk, visit$at$test)
  large <- identical(visit$at$rest, "large")
  view <- view_live(live, people = !large, of = students_of_visit(visit, live))
  htmltools::tagList(
    tags$p(class = "told", printable(view$head)),
    if (!is.null(view$trouble)) tags$p(class = "trouble", printable(view$trouble)),
    if (!is.null(view$table)) live_html(view, large)
  )
}

students_of_visit <- function(visit, live) {
  sections <- visit$person$sections
  if (is.null(sections)) return(NULL)
  people <- live$frame$students
  as.character(people$student[people$section %in% sections])
}

live_html <- function(view, large) {
  tags <- htmltools::tags
  said <- lapply(say_live_signs(view$table), function(line) tags$li(printable(line)))
  said <- c(said, stuck_html(view$stuck))
  columns <- if (large) large_columns else live_columns
  head <- desk_headings(
    columns,
    figures = setdiff(columns, c("question", "so_far")),
    roomy = c("partly", "waiting_short", "fresh", "here_now")
  )
  table <- tags$table(
    class = classes("live", if (large) "large"),
    tags$thead(tags$tr(head)),
    tags$tbody(htmltools::HTML(live_rows(view$table, columns)))
  )
  htmltools::tagList(
    if (length(said) && !large) tags$ul(class = "signs", said),
    tags$div(class = "wide", table)
  )
}

# Named, and beside it without the name for who hides names.
stuck_html <- function(stuck) {
  tags <- htmltools::tags
  nobody <- stuck
  nobody$label <- rep(NA_character_, nrow(stuck))
  Map(function(named, unnamed) {
    tags$li(
      tags$span(class = "who", printable(named)),
      tags$span(class = "alias", printable(unnamed))
    )
  }, say_stuck(stuck), say_stuck(nobody), USE.NAMES = FALSE)
}

live_columns <- c(
  "question", "so_far", "right", "partly", "wrong", "waiting_short", "not_yet", "fresh",
  "here_now", "share_so_far"
)
large_columns <- c("question", "so_far", "not_yet", "share_so_far")

live_parts <- c("right", "partly", "wrong", "waiting", "not_yet")

# Drawn once a second: as text, all rows at once.
live_rows <- function(table, columns) {
  figure <- function(value, class = "n") {
    sprintf("<td class=\"%s\">%s</td>", class, value)
  }
  some <- function(n, mark = "") ifelse(n > 0, paste0(mark, n), "")
  roomy <- classes("n", "roomy")
  interval <- between(table$share_low, table$share_high)
  cells <- list(
    question = sprintf(
      "<th scope=\"row\">%s</th>",
      htmltools::htmlEscape(printable(table$item))
    ),
    so_far = figure(live_bars_html(table), "barred"),
    right = figure(table$right),
    partly = figure(table$partly, roomy),
    wrong = figure(table$wrong),
    waiting_short = figure(table$waiting, roomy),
    not_yet = figure(table$not_yet),
    fresh = figure(some(table$fresh, "+"), roomy),
    here_now = figure(some(table$at), roomy),
    share_so_far = figure(ifelse(
      is.na(table$share),
      "",
      sprintf("%s<small>%s</small>", percent(table$share), interval)
    ))
  )
  rows <- do.call(paste0, unname(cells[columns]))
  paste(paste0("<tr>", rows, "</tr>"), collapse = "")
}

# The five parts as one bar, each as wide as its share; read out as counts.
live_bars_html <- function(table) {
  counts <- as.matrix(table[live_parts])
  width <- 100 * counts / pmax(1, rowSums(counts))
  class <- paste0("part-", sub("_", "-", live_parts, fixed = TRUE))
  vapply(seq_len(nrow(table)), function(k) {
    there <- counts[k, ] > 0
    parts <- sprintf(
      "<span class=\"%s\" style=\"width:%.2f%%\"></span>",
      class[there],
      width[k, there]
    )
    said <- say(
      "desk-live.bar_read_out",
      right = counts[k, "right"],
      partly = counts[k, "partly"],
      wrong = counts[k, "wrong"],
      not_yet = counts[k, "not_yet"]
    )
    sprintf(
      "<span class=\"live-bar\" role=\"img\" aria-label=\"%s\">%s</span>",
      htmltools::htmlEscape(said, attribute = TRUE),
      paste(parts, collapse = "")
    )
  }, "")
}

# Where statements are sent, for who may tell it to the screens of the class.
live_ways <- function(visit) {
  tags <- htmltools::tags
  folder <- path_of_test(visit$desk, visit$at$test)
  where <- if (sees_all(visit)) {
    tags$details(
      tags$summary(say("desk-live.where_answers_are_sent")),
      tags$p(say("desk-live.by_the_standard")),
      tags$dl(
        tags$dt(say("desk-live.address")), tags$dd(tags$code(xapi_address(visit$desk))),
        tags$dt(say("desk-live.user")),
        tags$dd(tags$code(user_at_desk(visit$at$test, visit$desk))),
        tags$dt(say("desk-live.key")), tags$dd(tags$code(key_of_folder(folder)))
      ),
      tags$p(say("desk-live.or_a_file"))
    )
  }
  htmltools::tagList(where, in_terminal(c("watch", folder)))
}

legend_of_live <- function() {
  tags <- htmltools::tags
  lapply(live_parts, function(part) {
    code <- sub("_", "-", part, fixed = TRUE)
    heading <- if (part == "waiting") "waiting_short" else part
    htmltools::tagList(
      tags$span(class = classes("swatch", paste0("part-", code))),
      heading_for(heading),
      " "
    )
  })
}

xapi_address <- function(desk) {
  here <- paste0("http://", called_here(desk), ":", desk$port)
  paste0(if (is.null(desk$address)) here else desk$address, "/xapi")
}

# ---- the desk as receiver ---------------------------------------------------------

# What is asked below /xapi/ needs the key of a test instead of a person's.
is_statements <- function(request) startsWith(paste0("", request$PATH_INFO), "/xapi/")

# All tests of the shelf, by the name with which statements are sent to them.
tests_to_answer <- function(desk) {
  ids <- unique(c(shelf_tests(desk), tests_to_sit(desk)))
  stats::setNames(path_of_test(desk, ids), vapply(ids, user_at_desk, "", desk))
}

user_at_desk <- function(id, desk) {
  if (id == ".") user_of(desk$root) else gsub("[/:]", "-", id)
}

receive_at_desk <- function(desk, request) {
  if (is.null(desk$lives$.receiver)) {
    find <- function() tests_to_answer(desk)
    assign(".receiver", new_receiver(desk$root, find), desk$lives)
  }
  receiver <- desk$lives$.receiver
  answer <- answer_xapi(receiver, request_of(request))
  show_at_once(desk, receiver)
  fold_later(desk, receiver)
  headers <- answer$headers
  kind <- headers$`Content-Type`
  headers$`Content-Type` <- NULL
  if (is.null(kind)) kind <- "text/plain"
  # A body of nothing, as HEAD gets it, is some bytes when it is compressed.
  headers$`Content-Encoding` <- "identity"
  shiny::httpResponse(answer$status, kind, answer$body, headers)
}

# Who follows a test takes each statement as it comes, so that no second has many at once.
show_at_once <- function(desk, receiver) {
  for (id in ls(desk$lives)) {
    live <- desk$lives[[id]]
    share_store(live, receiver)
    if (is.null(live$store)) next
    new <- tryCatch(look_at_statements(live), error = function(e) FALSE)
    if (new) live$version <- c(live$version, 0)[1] + 1
  }
}

# From the first statement that this desk takes in itself.
share_store <- function(live, receiver) {
  if (!is.null(live$shared)) return(invisible())
  for (name in ls(receiver$tests)) {
    test <- receiver$tests[[name]]
    if (identical(normalizePath(live$folder), test$folder)) {
      live$shared <- test$store
      live$store <- NULL
    }
  }
}

# Into the folder within some seconds, so that a class that answers does not make every
# open place be read anew all the time; what is to be reckoned before is reckoned in
# between, a little at a time.
fold_later <- function(desk, receiver, round = 1) {
  if (isTRUE(desk$lives$.folding) || !has_changed(receiver)) return(invisible())
  assign(".folding", TRUE, desk$lives)
  later::later(function() {
    assign(".folding", FALSE, desk$lives)
    tests <- lapply(ls(receiver$tests), function(name) receiver$tests[[name]])
    for (test in tests) {
      try(if (round < 10) take_waiting(test) else fold(test), silent = TRUE)
    }
    fold_later(desk, receiver, round %% 10 + 1)
  }, 0.4)
}

has_changed <- function(receiver) {
  any(vapply(ls(receiver$tests), function(name) {
    isTRUE(receiver$tests[[name]]$changed)
  }, TRUE))
}

close_receiving <- function(desk) {
  receiver <- desk$lives$.receiver
  if (is.null(receiver)) return(invisible())
  for (name in ls(receiver$tests)) try(fold(receiver$tests[[name]]), silent = TRUE)
  close_receiver(receiver)
}
