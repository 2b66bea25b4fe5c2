# Responses in three PostgreSQL servers, students x items in all (120000 x 60), against
# all of them in one; then every student's row, written as it is read, with R's memory.
# Rscript bench/shards.R [STUDENTS]
suppressMessages({
  library(pregunta)
  library(testthat)
})
Sys.setenv(NOT_CRAN = "true")
source("tests/testthat/helper.R")
source("tests/testthat/helper-postgres.R")
n <- as.integer(c(commandArgs(TRUE), "120000")[1])
k <- 60
options(pregunta.cores = "all")

# A server with the students from one number to another.
server_of <- function(from, to) {
  server <- start_postgres()
  database <- connect_postgres(server)
  on.exit(DBI::dbDisconnect(database))
  DBI::dbExecute(database, paste0(
    "CREATE TABLE answers AS SELECT 's' || s AS student, 'Q' || j AS item, ",
    "substr('ABCD', 1 + least(3, floor(random() * 2 + random() * 2 + j / 40.0)::int), ",
    "1) AS response FROM generate_series(", from, ", ", to, ") s, ",
    "generate_series(1, ", k, ") j"
  ))
  DBI::dbExecute(database, "ANALYZE answers")
  server$address <- paste0(
    "postgresql://teacher@", utils::URLencode(server$room, reserved = TRUE), ":",
    server$port, "/postgres"
  )
  server
}

folder_at <- function(servers) {
  folder <- tempfile()
  dir.create(folder)
  items <- data.frame(item = paste0("Q", seq_len(k)), key = "B")
  utils::write.csv(items, file.path(folder, "items.csv"), row.names = FALSE)
  addresses <- vapply(servers, `[[`, "", "address")
  writeLines(c(
    "responses:",
    paste0("  connection: [", paste0('"', addresses, '"', collapse = ", "), "]"),
    "  table: answers"
  ), file.path(folder, "test.yml"))
  folder
}

third <- n %/% 3
one <- list(server_of(1, 3 * third))
three <- lapply(0:2, function(part) server_of(part * third + 1, (part + 1) * third))
figures <- function(folder) {
  stored <- open_sitting(folder)
  summarise_test(stored)
  summarise_items(stored)
  summarise_options(stored)
}
seconds <- function(code) system.time(code)[["elapsed"]]
folders <- list(one = folder_at(one), three = folder_at(three))
times <- vapply(1:3, function(run) {
  vapply(folders, function(folder) seconds(figures(folder)), 0)
}, c(one = 0, three = 0))
medians <- apply(times, 1, stats::median)
cat(sprintf(
  "%d x %d: one server %.1f s, three at once %.1f s (%.2f times as fast, %d cores)\n",
  n, k, medians["one"], medians["three"], medians["one"] / medians["three"],
  parallel::detectCores()
))

exec <- normalizePath("exec/pregunta")
out <- tempfile(fileext = ".csv")
script <- sprintf(
  "exec /usr/bin/time -f %%M Rscript %s students %s --format csv --out %s",
  exec, shQuote(folders$one), out
)
took <- seconds(said <- system(paste(script, "2>&1"), intern = TRUE))
kilobytes <- as.numeric(utils::tail(grep("^[0-9]+$", said, value = TRUE), 1))
cat(sprintf(
  "every student's row: %d rows in %.0f s, %.0f MB\n",
  length(readLines(out)) - 1, took, kilobytes / 1024
))
for (server in c(one, three)) stop_postgres(server, "immediate")
