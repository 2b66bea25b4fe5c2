# A test's answers as statements to a server of the standard, which the user names.

run_send <- function(call) {
  if (is.null(call$to)) {
    abort_pregunta(
      "call",
      say("cli-send.needs_an_address"),
      NULL,
      say("cli-send.for_example")
    )
  }
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

# Over a network it is encrypted; a name and key within the address stand in lists of
# processes.
checked_server <- function(to) {
  host <- sub("^https?://([^/:]*).*$", "\\1", to)
  here <- host %in% c("127.0.0.1", "localhost")
  sound <- grepl("^https?://[^/@?#]+(/[^@?#]*)?$", to)
  if (sound && (here || startsWith(to, "https://"))) return(to)
  abort_pregunta(
    "call",
    say("cli-send.no_such_address", to = quoted(sub("//[^/@]*@", "//", to))),
    NULL,
    say("cli-send.for_example")
  )
}
