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

# What somebody began and did not end, and may be at still: it is not touched.
check_aside <- function(folder) {
  left <- list.files(folder, aside_pattern, all.files = TRUE)
  left <- left[!is_left_behind(left, file.path(folder, left)) & !is_of_here(left)]
  lapply(left, function(name) {
    new_finding(
      "note",
      name,
      NA,
      NA,
      say("write-aside.is_being_written"),
      say("write-aside.leave_it_or_delete")
    )
  })
}

# By its maker: one of this machine that lives no more, or one of another machine when a
# day has gone.
is_left_behind <- function(names, paths) {
  here <- is_of_here(names)
  maker <- as.integer(sub(aside_pattern, "\\1", names))
  age <- difftime(Sys.time(), file.mtime(paths), units = "days")
  made <- file.mtime(paths)
  ifelse(here, !is_alive(maker) | has_started_since(maker, made), age > 1)
}

# Numbers of processes come round again: one that started after a file was made is not its
# maker. Ticks of a hundredth of a second since the machine started; Linux tells them.
has_started_since <- function(process, time) {
  began <- grep("^btime\\b", read_about("/proc/stat"), value = TRUE)
  mapply(function(one, time) {
    said <- read_about(file.path("/proc", one, "stat"))
    if (!length(said) || !length(began)) return(FALSE)
    ticks <- strsplit(sub("^.*[)] ", "", said[1]), " ", fixed = TRUE)[[1]][20]
    started <- as.numeric(sub("\\D+", "", began)) + as.numeric(ticks) / 100
    isTRUE(started > time + 1)
  }, process, as.numeric(time))
}

read_about <- function(path) {
  if (!file.exists(path)) return(character())
  tryCatch(suppressWarnings(readLines(path)), error = function(e) character())
}

is_of_here <- function(names) sub(aside_pattern, "\\2", names) == this_machine()

is_alive <- function(process) {
  vapply(process, function(one) {
    one == Sys.getpid() || isTRUE(is_running(one)) && !has_ended(one)
  }, TRUE)
}

# One that was killed has a number as long as nobody asked how it ended; Linux tells it.
has_ended <- function(process) {
  any(grepl("^.*[)] [ZX] ", read_about(file.path("/proc", process, "stat"))))
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
