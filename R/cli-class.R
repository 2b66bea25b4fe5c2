# A made-up class that answers the demo while one looks on: through the real protocol, to
# a receiver of its own or to one that is named.

run_class <- function(call) {
  need_package(c("curl", "httpuv", "processx"))
  folder <- if (length(call$folder)) call$folder else "pregunta-class"
  minutes <- check_minutes(call$minutes)
  write_class_folder(folder)
  # One who receives for a folder has told it its key.
  receiver <- if (is.null(call$to)) own_receiver(folder)
  on.exit(if (!is.null(receiver)) end_receiver(receiver))
  to <- if (is.null(call$to)) receiver_address(receiver) else call$to
  tell_user(say("cli-class.a_made_up_class", folder = folder, to = to, minutes = minutes))
  events <- class_events(read_sitting(demo_path()), 60 * minutes)
  told <- play_class(events, folder, to)
  tell_user(say("cli-class.has_answered", n = told$taken, folder = folder))
  if (told$refused) tell_user(say("cli-class.were_refused", n = told$refused))
  if (told$refused) 1L else 0L
}

check_minutes <- function(minutes) {
  if (is.null(minutes)) return(2)
  number <- suppressWarnings(as.numeric(minutes))
  if (!is.na(number) && number > 0 && number <= 120) return(number)
  abort_pregunta(
    "call",
    say("cli-class.minutes_are_a_number"),
    say("cli-verbs.given", target = minutes),
    say("cli-class.for_example")
  )
}

# The demo's test before anybody has answered.
write_class_folder <- function(folder) {
  names <- c(
    "items.csv", "options.csv", "students.csv", "standards.csv", "misconceptions.csv"
  )
  ours <- c(names, "test.yml", statements_file, "responses.csv")
  other <- setdiff(list.files(folder), ours)
  if (length(other)) {
    abort_pregunta(
      "output",
      say("cli-class.holds_other_files", folder = quoted(folder)),
      file.path(folder, other[1]),
      say("cli-class.name_a_new_folder")
    )
  }
  if (dir.exists(folder)) {
    unlink(file.path(folder, c(statements_file, "responses.csv")))
  }
  dir.create(folder, FALSE, TRUE)
  for (name in names) copy_whole(file.path(demo_path(), name), file.path(folder, name))
  settings <- list(
    title = read_settings(file.path(demo_path(), "test.yml"))$title,
    attempts = "last"
  )
  write_text(strsplit(yaml::as.yaml(settings), "\n")[[1]], file.path(folder, "test.yml"))
}

own_receiver <- function(folder) {
  processx::process$new(
    file.path(R.home("bin"), "Rscript"),
    c("-e", "pregunta::run_command(commandArgs(TRUE))", "receive", normalizePath(folder)),
    stdout = "|",
    cleanup_tree = TRUE,
    env = c("current", R_LIBS = paste(.libPaths(), collapse = .Platform$path.sep))
  )
}

# It folds what came last.
end_receiver <- function(receiver) {
  receiver$interrupt()
  receiver$wait(10000)
}

receiver_address <- function(receiver) {
  for (try in 1:100) {
    receiver$poll_io(200)
    line <- receiver$read_output_lines()
    if (length(line)) return(sub("//[^@]*@", "//", line[1]))
    if (!receiver$is_alive()) break
  }
  abort_pregunta("output", say("cli-class.nobody_receives"))
}

# Tells each when its time has come, several at a time as a class does; on a terminal the
# view is drawn meanwhile.
play_class <- function(events, folder, to) {
  live <- open_live(folder)
  drawn <- isatty(stdout()) && sink.number() == 0
  state <- new.env(parent = emptyenv())
  state$taken <- state$refused <- 0
  state$pool <- curl::new_pool(host_con = 12)
  user <- user_of(normalizePath(folder))
  key <- key_of_folder(folder)
  begun <- Sys.time()
  next_one <- 1
  seen <- 0
  while (next_one <= nrow(events) || state$taken + state$refused < nrow(events)) {
    now <- as.numeric(difftime(Sys.time(), begun, units = "secs"))
    due <- sum(events$time <= now)
    while (next_one <= due) {
      tell_one(state, events$statement[[next_one]], to, user, key)
      next_one <- next_one + 1
    }
    curl::multi_run(timeout = 0.1, pool = state$pool)
    if (due < nrow(events)) Sys.sleep(0.02)
    if (drawn && now - seen > 1) {
      draw_live(live, TRUE)
      seen <- now
    }
  }
  if (drawn) draw_live(live, TRUE)
  list(taken = state$taken, refused = state$refused)
}

tell_one <- function(state, statement, to, user, key, tries = 5) {
  again <- function(said) {
    if (tries > 1) {
      tell_one(state, statement, to, user, key, tries - 1)
    } else {
      state$refused <- state$refused + 1
    }
  }
  handle <- statement_handle(json_line(statement), user, key)
  curl::handle_setopt(handle, url = statements_at(to))
  curl::multi_add(
    handle,
    done = function(got) {
      if (got$status_code != 200) return(again(got$status_code))
      state$taken <- state$taken + 1
    },
    fail = again,
    pool = state$pool
  )
}
