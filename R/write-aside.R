# What is not yet there: files and folders under a name that says who makes them, so
# that what a process left that died is known and cleared by the next.

# A name beside the path: hidden, with the number of this process and its machine.
aside <- function(path) {
  stem <- paste0(".", basename(path), "-", Sys.getpid(), this_machine(), "-")
  tempfile(stem, dirname(path))
}

# Another machine may write into the same folder: its processes are not seen here.
this_machine <- function() {
  letters <- utf8ToInt(enc2utf8(Sys.info()[["nodename"]]))
  weights <- seq_along(letters)
  sprintf("m%05x", sum(letters * weights^2) %% 16^5)
}

aside_pattern <- "^[.].+-([0-9]+)(m[0-9a-f]{5})-[0-9a-f]+([.][a-z]+)?$"

# Clears from a folder what dead processes left aside in it; looked for once in a process
# and folder, unless it is to be looked for again. dead: a process of which it is known.
clear_dead <- function(folder, again = FALSE, dead = NULL) {
  folder <- normalizePath(folder, mustWork = FALSE)
  if (!again && exists(folder, cleared_folders, inherits = FALSE)) return(invisible())
  assign(folder, TRUE, cleared_folders)
  left <- list.files(folder, aside_pattern, all.files = TRUE)
  behind <- is_left_behind(left, file.path(folder, left)) |
    as.integer(sub(aside_pattern, "\\1", left)) %in% dead
  unlink(file.path(folder, left[behind]), recursive = TRUE)
}

cleared_folders <- new.env(parent = emptyenv())

# By its maker: one of this machine that lives no more, or one of another machine when a
# day has gone.
is_left_behind <- function(names, paths) {
  here <- sub(aside_pattern, "\\2", names) == this_machine()
  maker <- as.integer(sub(aside_pattern, "\\1", names))
  age <- difftime(Sys.time(), file.mtime(paths), units = "days")
  ifelse(here, !is_alive(maker), age > 1)
}

is_alive <- function(process) {
  vapply(process, function(one) {
    one == Sys.getpid() || isTRUE(tools::pskill(one, 0)) && !has_ended(one)
  }, TRUE)
}

# One that was killed has a number as long as nobody asked how it ended; Linux tells it.
has_ended <- function(process) {
  about <- file.path("/proc", process, "stat")
  if (!file.exists(about)) return(FALSE)
  said <- tryCatch(suppressWarnings(readLines(about, 1)), error = function(e) "")
  any(grepl("^.*[)] [ZX] ", said))
}

# R's own folder for what is made on the way stays for ever when R is killed. It is marked
# as ours, and marked ones of the dead are cleared.
mark_session <- function() {
  if (length(list.files(tempdir(), session_mark))) return(invisible())
  file.create(file.path(tempdir(), paste0(session_mark, Sys.getpid(), this_machine())))
  marks <- Sys.glob(file.path(dirname(tempdir()), "Rtmp*", paste0(session_mark, "*")))
  said <- sub(session_mark, "", basename(marks), fixed = TRUE)
  maker <- as.integer(sub("m.*", "", said))
  dead <- endsWith(said, this_machine()) & !is_alive(maker)
  unlink(setdiff(dirname(marks[dead]), tempdir()), recursive = TRUE)
}

session_mark <- "pregunta-"
