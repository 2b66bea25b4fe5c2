# `pregunta test` on a file of N students x 60 items as a process, counted in pieces,
# against data.table::fread() of the same file in a process of its own, taking turns, with
# the most memory of each. The targets: for 1,000,000 students 1.3 times and 600 MB, for
# 10,000,000 less than 1 GB (of which fread has no chance on most machines: --alone).
# Rscript bench/pieces.R [STUDENTS] [--alone]
arguments <- commandArgs(TRUE)
n <- as.numeric(c(setdiff(arguments, "--alone"), "1e6")[1])
alone <- "--alone" %in% arguments
k <- 60
folder <- tempfile("many")
dir.create(folder)
file <- file.path(folder, "responses.csv")
set.seed(1)
items <- data.frame(item = paste0("Q", seq_len(k)), type = "choice", key = "A")
data.table::fwrite(items, file.path(folder, "items.csv"))
hard <- rnorm(k)
for (from in seq(1, n, 2e5)) {
  some <- seq(from, min(n, from + 2e5 - 1))
  ability <- rnorm(length(some))
  answers <- lapply(hard, function(hard) {
    wrong <- sample(c("B", "C", "D", ""), length(some), TRUE, c(4, 3, 2, 0.5))
    ifelse(runif(length(some)) < plogis(ability - hard), "A", wrong)
  })
  names(answers) <- items$item
  table <- c(list(student = sprintf("s%08.0f", some)), answers)
  data.table::fwrite(table, file, append = from > 1)
}
script <- normalizePath("exec/pregunta")
rscript <- file.path(R.home("bin"), "Rscript")
# Seconds and the most memory in MB of a process, as the system has it.
run <- function(...) {
  said <- tempfile()
  seconds <- system.time(system2(
    "/usr/bin/env",
    c("python3", "-c", shQuote(paste(
      "import sys,subprocess,resource;",
      "subprocess.call(sys.argv[1:],stdout=subprocess.DEVNULL);",
      "print(resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss)"
    )), rscript, shQuote(c(...))),
    stdout = said
  ))[["elapsed"]]
  c(seconds, as.numeric(readLines(said)) / 1024)
}
runs <- replicate(if (alone) 1 else 5, c(
  if (!alone) run("-e", sprintf("x <- data.table::fread('%s')", file)) else c(NA, NA),
  run(script, "test", folder)
))
middle <- apply(runs, 1, stats::median)
cat(sprintf("%.0f students, %.0f MB: ", n, file.size(file) / 1e6))
cat(sprintf("fread %.2f s, %.0f MB; ", middle[1], middle[2]))
cat(sprintf("pregunta test %.2f s, %.0f MB; ", middle[3], middle[4]))
cat(sprintf("%.2f times\n", middle[3] / middle[1]))
