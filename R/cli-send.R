# A test's answers as statements to a server of the standard, or its marks to a grade
# book: which one the user names.

run_send <- function(call) {
  if (is.null(call$to)) {
    abort_pregunta(
      "call",
      say("cli-send.needs_an_address"),
      NULL,
      say("cli-send.for_example")
    )
  }
  ways <- c("xapi", "oneroster")
  if (!call$as %in% ways) {
    abort_pregunta(
      "call",
      say("cli-verbs.there_is_no_form", as = quoted(call$as)),
      NULL,
      did_you_mean(call$as, ways)
    )
  }
  if (call$as == "xapi") send_answers(call) else send_scores(call)
}

send_answers <- function(call) {
  to <- checked_server(call$to)
  user <- Sys.getenv("PREGUNTA_XAPI_USER")
  key <- Sys.getenv("PREGUNTA_XAPI_KEY")
  if (!nzchar(user) || !nzchar(key)) {
    abort_pregunta("call", say("cli-send.needs_a_key"), NULL, say("cli-send.set_them"))
  }
  sitting <- read_for_figures(call)
  statements <- statements_of_sitting(sitting, names = FALSE)
  sent <- send_statements(statements, to, user, key)
  tell_user(say("cli-send.were_taken", n = sent, to = to))
  0L
}

send_scores <- function(call) {
  token <- needed_token(call)
  sitting <- read_for_figures(call)
  sent <- send_marks(sitting, call$to, token)
  tell_user(say("cli-send.marks_were_taken", n = sent, to = call$to))
  0L
}

# Where tokens are given is said beside the address of the services.
needed_token <- function(call) {
  if (!is.null(call$token)) return(call$token)
  abort_pregunta(
    "call",
    say("cli-send.needs_a_token"),
    NULL,
    say("cli-send.token_for_example")
  )
}

# Who is in which class, from the school's server into a folder of its own.
run_roster <- function(call) {
  if (is.null(call$from)) {
    abort_pregunta(
      "call",
      say("cli-send.roster_needs_an_address"),
      NULL,
      say("cli-send.roster_for_example")
    )
  }
  paths <- fetch_roster(
    call$from, call$folder, needed_token(call),
    classes = split_commas(call$classes)
  )
  counts <- vapply(paths[1:3], function(path) nrow(read_table_file(path)), 0L)
  tell_user(say(
    "cli-send.roster_written",
    folder = call$folder, classes = counts[[1]], students = counts[[3]]
  ))
  tell_user(say("cli-send.roster_next", folder = call$folder))
  0L
}
