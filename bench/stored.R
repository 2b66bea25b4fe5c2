# Responses in PostgreSQL, students x items (200000 x 60), counted where they lie, against
# the same counts in SQL by hand, with the memory of R.
# Rscript bench/stored.R [STUDENTS]
suppressMessages({
  library(pregunta)
  library(testthat)
})
Sys.setenv(NOT_CRAN = "true")
source("tests/testthat/helper.R")
source("tests/testthat/helper-postgres.R")
n <- as.integer(c(commandArgs(TRUE), "200000")[1])
k <- 60
server <- start_postgres()
database <- connect_postgres(server)
ask <- function(...) invisible(DBI::dbExecute(database, paste0(...)))
ask("SET synchronous_commit = off")
ask(
  "CREATE TABLE answers AS SELECT 's' || s AS student, 'Q' || j AS item, ",
  "substr('ABCD', 1 + least(3, floor(random() * 2 + random() * 2 + j / 40.0)::int), ",
  "1) AS response FROM generate_series(1, ", n, ") s, generate_series(1, ", k, ") j"
)
ask("ANALYZE answers")
items <- data.frame(item = paste0("Q", seq_len(k)), key = "B")
seconds <- function(code) system.time(code)[["elapsed"]]

# What the counts are at least: each student's score, and of each score, item and answer
# how many.
by_hand <- function() {
  ask(
    "CREATE TEMP TABLE scores AS SELECT student, sum((response = 'B')::int) AS score ",
    "FROM answers GROUP BY student"
  )
  ask("ANALYZE scores")
  DBI::dbGetQuery(database, paste0(
    "SELECT score, item, response, count(*) AS n FROM answers ",
    "JOIN scores USING (student) GROUP BY score, item, response"
  ))
  DBI::dbGetQuery(database, paste0(
    "SELECT student, string_agg(item || response, ' ') AS cells FROM answers ",
    "GROUP BY student"
  ))
  ask("DROP TABLE scores")
}
ours <- function() {
  stored <- sitting_in_database(database, "answers", items)
  summarise_test(stored)
  summarise_items(stored)
  summarise_options(stored)
}
times <- vapply(1:3, function(run) {
  c(hand = seconds(by_hand()), ours = seconds(ours()))
}, c(0, 0))
memory <- function() {
  said <- grep("VmHWM", readLines("/proc/self/status"), value = TRUE)
  as.numeric(gsub("[^0-9]", "", said)) / 1024
}
hand <- stats::median(times["hand", ])
mine <- stats::median(times["ours", ])
cat(sprintf(
  "%d x %d in PostgreSQL: by hand %.1f s, all figures %.1f s (%.2f times), R %.0f MB\n",
  n, k, hand, mine, mine / hand, memory()
))
DBI::dbDisconnect(database)
stop_postgres(server)
