# One change at a time: whoever reads a test folder, changes it and writes it holds its
# lock meanwhile, some milliseconds as a rule. The system takes the lock back when the
# process that holds it dies.

# Two hidden files: the one that is locked, and who holds it. They are two, since closing
# the first would give the lock up.
lock_files <- function(place) {
  stem <- if (dir.exists(place)) {
    file.path(place, ".pregunta")
  } else {
    file.path(dirname(place), paste0(".", basename(place)))
  }
  list(lock = paste0(stem, "-lock"), holder = paste0(stem, "-holder"))
}

# So long is waited for others, in seconds.
lock_patience <- 60

# Locks of this process: what is done under one may take it again.
locks_held <- new.env(parent = emptyenv())

# The lock of a folder or of a database's file, to be given back by release_lock(); NULL
# where there is none to be had: held already further up, no such folder, one that cannot
# be written to, or a disk that knows no locks (what follows says so itself, or is as safe
# as it was without).
take_lock <- function(place, patience = lock_patience) {
  check_is_path(place)
  if (!dir.exists(place) && !dir.exists(dirname(place))) return(NULL)
  place <- file.path(normalizePath(dirname(place)), basename(place))
  if (exists(place, locks_held, inherits = FALSE)) return(NULL)
  files <- lock_files(place)
  lock <- tryCatch(
    filelock::lock(files$lock, exclusive = TRUE, timeout = patience * 1000),
    error = function(e) NA
  )
  if (is.null(lock)) abort_locked(place, files$holder)
  if (!inherits(lock, "filelock_lock")) return(NULL)
  assign(place, lock, locks_held)
  # Who still stands there did not give the lock back, and has it no more.
  died <- holder_of(files$holder)[1]
  write_holder(files$holder)
  if (dir.exists(place)) clear_dead(place, again = TRUE, dead = as.integer(died))
  list(place = place, lock = lock)
}

release_lock <- function(held) {
  if (is.null(held)) return(invisible())
  unlink(lock_files(held$place)$holder)
  rm(list = held$place, envir = locks_held)
  filelock::unlock(held$lock)
  invisible()
}

write_holder <- function(path) {
  about <- c(Sys.getpid(), Sys.info()[["nodename"]], format(Sys.time(), "%H:%M:%S"))
  try(suppressWarnings(writeLines(as.character(about), path)), silent = TRUE)
}

holder_of <- function(path) {
  tryCatch(
    suppressWarnings(readLines(path, 3)),
    error = function(e) character()
  )
}

say_holder <- function(path) {
  holder <- holder_of(path)
  if (length(holder) != 3) return(NULL)
  say(
    "write-lock.by_process",
    process = holder[1],
    machine = holder[2],
    time = holder[3]
  )
}

abort_locked <- function(place, path) {
  abort_pregunta(
    "output",
    say("write-lock.is_being_changed", place = quoted(place)),
    say_holder(path),
    say("write-lock.try_again")
  )
}
