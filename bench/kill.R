# Every verb that writes, killed at a moment, and, where strace is there, at a call of the
# system that changes files: make kill KILLS=240 SEED=1. Afterwards the files are as they
# were or as they should be, the next run works, and nothing is left.
suppressMessages(library(pregunta))
given <- as.integer(commandArgs(TRUE))
kills <- if (length(given) > 0) given[1] else 240
seed <- if (length(given) > 1) given[2] else 1
script <- normalizePath("exec/pregunta")
demo <- demo_path()
exports <- system.file("extdata", "exports", package = "pregunta")

# Each: the words of the call in a folder that holds a test `t`; `then`, the words of the
# next run, which has to work and to clear up.
calls <- list(
  new = list(c("new", "made", "--from", file.path(exports, "wide-marks.tsv"))),
  add = list(
    c("add", "t", "--from", "late.csv"),
    then = c("adjust", "t", "--student", "h001", "--extra", "1", "--reason", "after")
  ),
  adjust = list(c("adjust", "t", "--student", "h001", "--extra", "1", "--reason", "why")),
  plan = list(c("plan", "t")),
  report = list(c("report", "t")),
  workbook = list(c("workbook", "t")),
  slips = list(c("slips", "t")),
  form = list(c("form", "t")),
  mark = list(c("mark", "t")),
  export = list(c("export", "t")),
  record = list(c("record", "add", "t", "--record", "r.sqlite")),
  bank = list(c("bank", "add", "t", "--items", "Q3,Q7", "--bank", "b.sqlite")),
  demo = list(c("demo", "d"))
)

prepare <- function() {
  place <- tempfile("kill-")
  dir.create(file.path(place, "t"), recursive = TRUE)
  files <- list.files(demo, "[.](csv|yml)$", full.names = TRUE)
  file.copy(files, file.path(place, "t"))
  lines <- readLines(file.path(demo, "responses.csv"))
  writeLines(c(lines[1], sub("^[^,]*", "z999", lines[3])), file.path(place, "late.csv"))
  place
}

start <- function(words, place) {
  command <- paste(
    "cd", shQuote(place), "&& exec", shQuote(script),
    paste(shQuote(words), collapse = " "), "> out 2> err & echo $!"
  )
  as.integer(system(command, intern = TRUE))
}

changing_calls <- c("rename", "unlink", "mkdir", "write", "openat", "ftruncate", "chmod")
has_strace <- nzchar(Sys.which("strace"))

# Ends the process when it makes such a call for the nth time; whether it came to that.
kill_at_call <- function(words, place) {
  name <- sample(changing_calls, 1)
  at <- sample(switch(name, write = 400, openat = 900, 12), 1)
  status <- system(paste(
    "cd", shQuote(place), "&& strace -f -qq -o trace",
    paste0("-e trace=", name), paste0("-e inject=", name, ":signal=SIGKILL:when=", at),
    shQuote(script), paste(shQuote(words), collapse = " "), "> out 2> err"
  ))
  unlink(file.path(place, "trace"))
  status > 2
}

kill_at_moment <- function(words, place, time) {
  pid <- start(words, place)
  Sys.sleep(stats::runif(1, 0.3, 1.02) * time)
  hit <- is_running(pid)
  tools::pskill(pid, tools::SIGKILL)
  hit
}

is_running <- function(pid) {
  stat <- file.path("/proc", pid, "stat")
  file.exists(stat) && !any(grepl("[)] Z", suppressWarnings(readLines(stat))))
}

run_to_end <- function(words, place) {
  system(paste(
    "cd", shQuote(place), "&&", shQuote(script), paste(shQuote(words), collapse = " "),
    "> out 2> err"
  ))
}

# What stands in a folder: every file by its sum, but what differs from run to run.
state <- function(place) {
  files <- list.files(place, recursive = TRUE, all.files = TRUE)
  files <- files[!basename(files) %in% c("out", "err", "trace", ".pregunta-lock")]
  tools::md5sum(file.path(place, files)) |> stats::setNames(files)
}

times <- vapply(calls, function(call) {
  place <- prepare()
  on.exit(unlink(place, recursive = TRUE))
  system.time(run_to_end(call[[1]], place))[["elapsed"]]
}, 0)

one_kill <- function(k) {
  set.seed(seed + k)
  name <- names(calls)[(k - 1) %% length(calls) + 1]
  call <- calls[[name]]
  place <- prepare()
  on.exit(unlink(place, recursive = TRUE))
  before <- state(place)
  at_call <- has_strace && k %% 2 == 0
  hit <- if (at_call) {
    kill_at_call(call[[1]], place)
  } else {
    kill_at_moment(call[[1]], place, times[[name]])
  }
  Sys.sleep(0.3)
  # Files of before that are no longer as they were, but whole: the next run reads them.
  status <- run_to_end(if (is.null(call$then)) call[[1]] else call$then, place)
  again <- if (name == "new" && status != 0) {
    !any(grepl("holds a test already", readLines(file.path(place, "err"))))
  } else {
    status > 1
  }
  left <- list.files(place, "^[.]", recursive = TRUE, all.files = TRUE)
  left <- c(left, list.files(place, "-journal$|^[.].*-m[0-9a-f]{5}-", recursive = TRUE,
    all.files = TRUE, include.dirs = TRUE))
  left <- setdiff(basename(left), c(".pregunta-lock", ".b.sqlite-lock", ".r.sqlite-lock"))
  gone <- setdiff(names(before), names(state(place)))
  c(
    verb = name,
    hit = hit,
    fails = again,
    lost = length(gone) > 0,
    left = paste(unique(left), collapse = " ")
  )
}

found <- parallel::mclapply(
  seq_len(kills), one_kill,
  mc.cores = max(1, parallel::detectCores()), mc.preschedule = FALSE
)
found <- as.data.frame(do.call(rbind, found))
cat(kills, " kills from seed ", seed, "\n", sep = "")
by_verb <- split(found, found$verb)
print(do.call(rbind, lapply(by_verb, function(one) {
  data.frame(
    kills = nrow(one), while_running = sum(one$hit == "TRUE"),
    next_fails = sum(one$fails == "TRUE"), lost = sum(one$lost == "TRUE"),
    left_behind = sum(one$left != "")
  )
})))
bad <- found$fails == "TRUE" | found$lost == "TRUE" | found$left != ""
if (any(bad)) print(found[bad, ])
quit(status = as.integer(any(bad)))
