# Answers while a class works: 60 statements a second for so many seconds (60), to a
# receiver of its own and to a desk whose page follows the class in a real browser. Said:
# how many were lost, how long an answer took (targets: none; 100 ms for 95 of 100), how
# old the page's picture was (2 s), and the memory of the process (300 MB with 500
# students x 40 questions).
# Rscript bench/live.R [SECONDS]
suppressMessages({
  library(pregunta)
  library(testthat)
})
Sys.setenv(PREGUNTA_EXEC = normalizePath("exec/pregunta"), NOT_CRAN = "true")
for (name in c("helper", "helper-desk", "helper-receive")) {
  source(file.path("tests/testthat", paste0(name, ".R")))
}
seconds <- c(as.numeric(commandArgs(TRUE)), 60)[1]
per_second <- 60

# 500 students x 40 questions, nobody's answers.
large_class <- function() {
  folder <- file.path(tempfile("shelf-"), "tides")
  dir.create(folder, recursive = TRUE)
  write <- function(table, name) data.table::fwrite(table, file.path(folder, name))
  write(data.frame(item = paste0("Q", 1:40), type = "choice", key = "A"), "items.csv")
  write(
    data.frame(student = sprintf("h%03d", 1:500), name = sprintf("Student %03d", 1:500)),
    "students.csv"
  )
  folder
}

# The k-th statement: question after question, 500 students each.
kth <- function(k) {
  a_statement(
    sprintf("h%03d", (k - 1) %% 500 + 1),
    paste0("Q", (k - 1) %/% 500 %% 40 + 1),
    sample(c("A", "A", "B"), 1),
    id = new_id()
  )
}

# Sends them when they are due, as many at a time as need be; each answer's time.
send_steadily <- function(receiver, bodies) {
  n <- length(bodies)
  state <- new.env()
  state$took <- rep(NA_real_, n)
  pool <- curl::new_pool(host_con = 30)
  begun <- Sys.time()
  sent <- 0
  add <- function(k) {
    handle <- internal("statement_handle")(bodies[k], receiver$user, receiver$key)
    curl::handle_setopt(handle, url = paste0(receiver$base, "/xapi/statements"))
    at <- Sys.time()
    curl::multi_add(handle, pool = pool, done = function(got) {
      if (got$status_code == 200) {
        state$took[k] <- as.numeric(Sys.time() - at, units = "secs")
      }
    })
  }
  while (sent < n || any(is.na(state$took))) {
    now <- as.numeric(Sys.time() - begun, units = "secs")
    due <- min(n, floor(now * per_second))
    while (sent < due) {
      sent <- sent + 1
      add(sent)
    }
    curl::multi_run(timeout = 0.01, pool = pool)
    Sys.sleep(0.004)
    if (now > 3 * n / per_second + 30) break
  }
  state$took
}

memory_of <- function(process) {
  status <- readLines(file.path("/proc", process$get_pid(), "status"))
  as.numeric(gsub("\\D", "", grep("^VmHWM", status, value = TRUE))) / 1024
}

tell <- function(what, took, folder, process) {
  kept <- length(readLines(file.path(folder, "statements.jsonl")))
  cat(sprintf(
    paste(
      "%s: %d sent, %d answered, %d kept; answer %.0f ms (half), %.0f ms (95 of 100),",
      "%.0f ms (longest); %.0f MB\n"
    ),
    what, length(took), sum(!is.na(took)), kept, 1000 * stats::median(took, na.rm = TRUE),
    1000 * stats::quantile(took, 0.95, na.rm = TRUE), 1000 * max(took, na.rm = TRUE),
    memory_of(process)
  ))
}

bodies <- vapply(seq_len(per_second * seconds), function(k) as_json(kth(k)), "")
run_receiver <- function() {
  folder <- large_class()
  receiver <- receive_here(folder)
  took <- send_steadily(receiver, bodies)
  tell("receive", took, folder, receiver$process)
}

run_desk <- function() {
  folder <- large_class()
  desk <- open_desk_here(folder = dirname(folder))
  page <- open_page(desk)
  go_place(page, "#tides/live")
  receiver <- list(
    base = sub("/[?].*", "", desk$address), user = "tides",
    key = internal("key_of_folder")(folder)
  )
  # How old the picture is: counted by the page itself, at each of its changes.
  run_js(page, paste0(
    "(window.seen = [], new MutationObserver(function () { var at = Date.now(); ",
    "var bars = Array.from(document.querySelectorAll('.live-bar')).map(function (bar) { ",
    "return bar.getAttribute('aria-label').match(/[0-9]+/g).slice(0, 3)",
    ".reduce(function (a, b) { return a + Number(b); }, 0); }); ",
    "window.seen.push([at, bars.reduce(function (a, b) { return a + b; }, 0)]); ",
    "}).observe(document.querySelector('#class'), ",
    "{childList: true, subtree: true}), true)"
  ))
  begun <- as.numeric(Sys.time()) * 1000
  took <- send_steadily(receiver, bodies)
  Sys.sleep(3)
  tell("desk", took, folder, desk$process)
  seen <- run_js(page, "window.seen")
  seen <- do.call(rbind, lapply(seen, unlist))
  seen <- seen[!duplicated(seen[, 2]), , drop = FALSE]
  # The k-th answer was sent at k/60 s; the picture with k of them stood until the next.
  sent_at <- function(k) begun + 1000 * k / per_second
  until <- c(seen[-1, 1], NA)
  age <- (until - sent_at(seen[, 2] + 1)) / 1000
  cat(sprintf(
    "desk: the picture was at most %.1f s old, 95 of 100 times %.1f s; %d pictures\n",
    max(age, na.rm = TRUE), stats::quantile(age, 0.95, na.rm = TRUE), nrow(seen)
  ))
}

invisible(run_receiver())
invisible(run_desk())
