# The desk from the command line: the one line on standard output is its address.

run_desk <- function(call) {
  folder <- if (length(call$folder)) call$folder
  port <- call$port
  if (!call$`no-browser`) tell_user(say("cli-desk.the_desk_opens"))
  open_desk(folder, port, browser = !call$`no-browser`)
  0L
}
