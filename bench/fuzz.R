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
# A hundred at a time, each hundred's count at once: a run that is ended has said what
# it saw.
seeds <- seq(first, length.out = cases)
all_found <- list()
for (some in split(seeds, (seq_along(seeds) - 1) %/% 100)) {
  found <- parallel::mclapply(
    some,
    fuzz_case,
    targets = targets,
    mc.cores = max(1, parallel::detectCores()),
    mc.preschedule = FALSE
  )
  broken <- !vapply(found, is.character, TRUE)
  if (any(broken)) print(found[broken][1:min(3, sum(broken))])
  found[broken] <- lapply(some[broken], function(seed) {
    c(seed = seed, target = "", outcome = "none: the fuzzer itself failed")
  })
  found <- do.call(rbind, found)
  bad <- !sub(":.*", "", found[, "outcome"]) %in% c("done", "told")
  for (row in which(bad)) {
    cat(found[row, c("seed", "target", "outcome")], "\n")
  }
  all_found <- c(all_found, list(found))
  kind <- sub(":.*", "", do.call(rbind, all_found)[, "outcome"])
  counts <- paste(names(table(kind)), table(kind), collapse = ", ")
  cat("To seed ", max(some), ": ", counts, "\n", sep = "")
}
quit(status = as.integer(any(!kind %in% c("done", "told"))))
