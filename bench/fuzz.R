# Broken files of every kind: make fuzz CASES=2000 SEED=1. A case that must not be comes
# back by its seed: Rscript bench/fuzz.R 1 SEED.
suppressMessages({
  library(pregunta)
  library(testthat)
})
given <- as.integer(commandArgs(TRUE))
cases <- if (length(given) > 0) given[1] else 2000
first <- if (length(given) > 1) given[2] else 1
internal <- function(name) getFromNamespace(name, "pregunta")
for (file in c("helper.R", "helper-mutations.R", "helper-fuzz.R")) {
  source(file.path("tests", "testthat", file))
}
targets <- fuzz_targets()
found <- parallel::mclapply(
  seq(first, length.out = cases),
  fuzz_case,
  targets = targets,
  mc.cores = max(1, parallel::detectCores()),
  mc.preschedule = FALSE
)
broken <- !vapply(found, is.character, TRUE)
if (any(broken)) print(found[broken][1:min(3, sum(broken))])
found <- do.call(rbind, found[!broken])
kind <- sub(":.*", "", found[, "outcome"])
cat("Cases from seed ", first, ":\n", sep = "")
print(table(kind))
bad <- !kind %in% c("done", "told")
for (row in which(bad)) {
  cat(found[row, c("seed", "target", "outcome")], "\n")
}
quit(status = as.integer(any(bad) || any(broken)))
