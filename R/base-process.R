# How many cores this machine has; asked once: the answer takes a process of its own.
cores_here <- function() {
  if (is.null(machine$cores)) {
    machine$cores <- max(1L, parallel::detectCores(), na.rm = TRUE)
  }
  machine$cores
}

machine <- new.env(parent = emptyenv())

# The process that loaded this; one that was forked from it has another number.
.onLoad <- function(...) machine$process <- Sys.getpid()

is_fork <- function() !identical(machine$process, Sys.getpid())

# How many processes may work at once; counting the cores of the machine takes a
# while, so it is done where they are wanted.
cores_allowed <- function() {
  cores <- getOption("pregunta.cores", 1)
  if (identical(cores, "all")) cores_here() else cores
}

# Forks are Unix's own; where they are forbidden there is another way too, as on Windows.
can_fork <- function() {
  .Platform$OS.type == "unix" && !identical(Sys.getenv("PREGUNTA_FORKS"), "no")
}

# Work in a process of its own that is begun anew. A fork would take along the threads and
# locks of a server that this process may be; a new one takes along nothing.

# work: a function without arguments, and with nothing around it that has to stay here.
# Gives the process and where its result will stand.
begin_anew <- function(work) {
  need_package("processx")
  folder <- tempfile("work-")
  dir.create(folder, mode = "0700")
  saveRDS(spoken_along(work), file.path(folder, "work.rds"), compress = FALSE)
  process <- processx::process$new(
    file.path(R.home("bin"), "Rscript"),
    c("--no-save", "--no-restore", "-e", "pregunta:::work_anew()"),
    wd = folder,
    env = c("current", R_LIBS = paste(.libPaths(), collapse = .Platform$path.sep)),
    cleanup_tree = TRUE
  )
  list(process = process, folder = folder)
}

# What the work gave, or the error that ended it; NULL as long as it goes on.
result_of <- function(begun) {
  if (begun$process$is_alive()) return(NULL)
  on.exit(unlink(begun$folder, recursive = TRUE))
  path <- file.path(begun$folder, "result.rds")
  if (!file.exists(path)) return(list(error = simpleError("")))
  readRDS(path)
}

stop_work <- function(begun) {
  begun$process$kill_tree()
  begun$process$wait(2000)
  unlink(begun$folder, recursive = TRUE)
}

# In that process.
work_anew <- function() {
  end_with_parent()
  interpret_here()
  work <- readRDS("work.rds")
  options(pregunta.cores = "all", pregunta.process = TRUE)
  result <- tryCatch(list(value = work()), error = function(e) list(error = e))
  saveRDS(result, "result.rds.part", compress = FALSE)
  file.rename("result.rds.part", "result.rds")
}
