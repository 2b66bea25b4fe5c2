# The desk in a real browser: what a press takes until its answer is drawn, and what the
# same verb takes on the command line, in one run. The targets (demo; 400 students x 80
# questions): first picture 2 s and 3 s, any press 0.3 s and 0.5 s, a key tried 0.5 s.
suppressMessages({
  library(pregunta)
  library(testthat)
})
Sys.setenv(PREGUNTA_EXEC = normalizePath("exec/pregunta"), NOT_CRAN = "true")
for (name in c("helper", "helper-desk")) source(sprintf("tests/testthat/%s.R", name))

# 400 students x 80 questions of four options, some of them of a standard.
large_test <- function() {
  set.seed(1)
  folder <- file.path(tempfile("shelf-"), "tides")
  dir.create(folder, recursive = TRUE)
  n <- 400
  k <- 80
  able <- stats::rnorm(n)
  answers <- vapply(seq_len(k), function(j) {
    right <- stats::runif(n) < stats::plogis(able - stats::qnorm(j / (k + 1)))
    ifelse(right, "A", sample(c("B", "C", "D"), n, TRUE))
  }, character(n))
  colnames(answers) <- paste0("Q", seq_len(k))
  student <- sprintf("h%03d", seq_len(n))
  write <- function(table, name) data.table::fwrite(table, file.path(folder, name))
  write(data.frame(student, answers), "responses.csv")
  write(
    data.frame(
      item = colnames(answers), type = "choice", key = "A",
      standards = paste0("S.", 1 + seq_len(k) %% 8)
    ),
    "items.csv"
  )
  write(
    data.frame(student, name = student, section = rep(paste0("C", 1:16), 25)),
    "students.csv"
  )
  dirname(folder)
}

press_times <- function(what, folder) {
  desk <- open_desk_here(folder = folder)
  time <- function(label, code) {
    cat(sprintf("%s, %-28s %.2f s\n", what, label, system.time(code)[["elapsed"]]))
  }
  page <- open_page(desk)
  time("first picture of a test", go_place(page, "#tides"))
  places <- c("questions", "questions/Q7", "students", "students/h012/Q9", "standards",
    "next", "came", "give")
  for (place in places) {
    time(place, go_place(page, paste0("#tides/", place)))
    go_place(page, "#tides/came")
    time(paste(place, "again"), go_place(page, paste0("#tides/", place)))
  }
  go_place(page, "#tides/questions/Q7")
  button <- "#beside button[data-action='key']"
  time("a key tried", press(page, button))
  time("a key tried again", press(page, button))
  words <- c("what-if", file.path(desk$folder, "tides"), "--key", "Q7=C")
  call <- paste(shQuote(c("exec/pregunta", words)), collapse = " ")
  time("the same in a terminal", system(paste(call, "> /dev/null 2>&1")))
}

# Ten people at ten places of the same shelf, all pressing at once, round after round: how
# long each waited for the answer of the desk. Their browsers are their own machines', so
# that here they are only their sockets.
ten_at_once <- function(what, folder, rounds = 6) {
  desk <- open_desk_here(folder = folder)
  people <- lapply(1:10, function(k) open_socket(desk))
  places <- c("questions", "questions/Q7", "students", "students/h012/Q9", "standards",
    "next", "came", "give", "students/h020", "questions/Q3")
  waited <- unlist(lapply(seq_len(rounds), function(round) {
    begun <- Sys.time()
    for (k in 1:10) {
      place <- paste0("#tides/", places[(k + round) %% 10 + 1])
      people[[k]]$press(substring(place, 2), round)
    }
    vapply(people, function(one) {
      wait_for(function() {
        later::run_now(0.01)
        one$answered(round)
      })
      as.numeric(one$answered(round) - begun, units = "secs")
    }, 0)
  }))
  cat(sprintf(
    "%s, ten at once: first %.2f s, then middle %.2f s, longest %.2f s of %d presses\n",
    what, max(waited[1:10]), stats::median(waited[-(1:10)]), max(waited[-(1:10)]),
    length(waited) - 10
  ))
}

press_times("demo", NULL)
ten_at_once("demo", NULL)
press_times("400 x 80", large_test())
ten_at_once("400 x 80", large_test())
