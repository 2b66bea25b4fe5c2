# How often a made-up export is read right, asked about, or misread, by form and by
# language; and how long the reading of a large one takes against fread().
#   Rscript bench/exports.R [how many, 1000] [first seed, 5001]
suppressMessages({
  library(pregunta)
  library(testthat)
})
source("tests/testthat/helper-exports.R")
given <- as.integer(commandArgs(TRUE))
n <- if (length(given)) given[1] else 1000
first <- if (length(given) > 1) given[2] else 5001
seeds <- first + seq_len(n) - 1
found <- parallel::mclapply(seeds, function(seed) {
  made <- made_up_export(seed)
  outcome <- advised_outcome(function() made_up_export(seed))
  data.frame(seed, form = made$kind, language = made$language, outcome)
}, mc.cores = max(1, parallel::detectCores()))
found <- do.call(rbind, found)
found$outcome <- factor(found$outcome, c("right", "advised", "lost", "wrong"))
print(table(form = found$form, found$outcome))
print(table(language = found$language, found$outcome))
cat(sprintf(
  "of %d: right %.1f%%, asked and then right %.1f%%, lost %.1f%%, wrong %d\n",
  n, 100 * mean(found$outcome == "right"), 100 * mean(found$outcome == "advised"),
  100 * mean(found$outcome == "lost"), sum(found$outcome == "wrong")
))
if (any(found$outcome == "wrong")) print(found[found$outcome == "wrong", ])

large <- function(students, items) {
  set.seed(1)
  table <- data.frame(
    ID = sprintf("s%06d", seq_len(students)),
    matrix(sample(c("A", "B", "C", "D"), students * items, TRUE), students)
  )
  names(table)[-1] <- paste0("Q", seq_len(items))
  path <- tempfile(fileext = ".csv")
  data.table::fwrite(table, path)
  plain <- system.time(data.table::fread(path, colClasses = "character"))[["elapsed"]]
  ours <- system.time(read_account(path, key = "later"))[["elapsed"]]
  cat(sprintf(
    "%d students x %d questions: read and recognised in %.2f s, fread() %.2f s\n",
    students, items, ours, plain
  ))
}
large(300, 60)
large(100000, 60)
