# Takes statements in and puts them into the test, until it is ended.

run_receive <- function(call) {
  need_package(c("curl", "httpuv"))
  folder <- call$folder
  host <- checked_interface(call$interface)
  port <- checked_port(call$port)
  if (!dir.exists(folder)) dir.create(folder, recursive = TRUE)
  receiver <- new_receiver(folder)
  on.exit(close_receiver(receiver))
  # What is wrong with a folder is said now and not to the first who answers.
  for (name in names(folders_of(receiver))) test_of_receiver(receiver, name)
  server <- start_receiving(receiver, host, port)
  on.exit(httpuv::stopServer(server), add = TRUE, after = FALSE)
  user <- user_of(receiver$root)
  key <- key_of_folder(receiver$root)
  writeLines(sprintf("http://%s:%s@%s:%d/xapi", encoded_user(user), key, host, port))
  flush(stdout())
  tell_user(say("cli-receive.takes_statements", folder = folder))
  keep_receiving(receiver)
  0L
}

encoded_user <- function(user) utils::URLencode(user, reserved = TRUE)

start_receiving <- function(receiver, host, port) {
  tryCatch(
    httpuv::startServer(host, port, list(
      call = function(request) answer_xapi(receiver, request_of(request))
    ), quiet = TRUE),
    error = function(e) abort_port(port)
  )
}

# Folded once a second, and once more at the end.
keep_receiving <- function(receiver) {
  on.exit(fold_all(receiver))
  last <- Sys.time()
  repeat {
    httpuv::service(200)
    if (Sys.time() - last < 1) next
    fold_all(receiver)
    last <- Sys.time()
  }
}

# What cannot be written now is tried again; the statements themselves are on the disk.
fold_all <- function(receiver) {
  for (name in ls(receiver$tests)) {
    tryCatch(
      fold(receiver$tests[[name]]),
      error = function(e) tell_user(conditionMessage(e))
    )
  }
}
