# The desk from the command line: what stands on standard output are its addresses.

run_desk <- function(call) {
  folder <- if (length(call$folder)) call$folder
  port <- call$port
  browser <- !call$`no-browser` && is.null(call$people)
  if (browser) tell_user(say("cli-desk.the_desk_opens"))
  open <- !is.null(call$interface) || startsWith(paste0("", call$address), "http:")
  if (open) tell_user(say("cli-desk.others_can_reach_it"))
  open_desk(folder, port, browser, call$people, call$interface, call$address)
  0L
}
