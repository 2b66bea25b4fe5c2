# Runs the tests against the installed package, a file to a process, on all
# cores; ends with one line of counts.
# Another checkout may have installed its own build since.
built <- utils::packageDescription("pregunta", fields = "Built")
if (!identical(built, readLines(".check/installed"))) source("tools/install.R")
Sys.setenv(
  NOT_CRAN = "true",
  PREGUNTA_EXEC = normalizePath("exec/pregunta"),
  PREGUNTA_AXE = normalizePath(
    ".check/node_modules/axe-core/axe.min.js",
    mustWork = FALSE
  )
)

run_file <- function(path) {
  out <- utils::capture.output(
    results <- testthat::test_file(
      path,
      package = "pregunta",
      load_package = "installed",
      reporter = testthat::CheckReporter$new(),
      stop_on_failure = FALSE
    )
  )
  about <- as.data.frame(results)
  table <- about[c("failed", "error", "skipped", "nb", "warning", "real")]
  list(
    file = basename(path),
    out = out,
    counts = colSums(table),
    tests = about[c("file", "test", "real")]
  )
}

# The longest first, so that no core waits for them at the end.
files <- list.files("tests/testthat", "^test-.*[.]R$", full.names = TRUE)
longest <- c(
  "test-desk.R", "test-vignettes.R", "test-exports.R", "test-receive.R", "test-stored.R",
  "test-live.R",
  "test-page.R", "test-pieces.R", "test-shards.R", "test-made.R", "test-cli.R",
  "test-words.R", "test-lock.R", "test-workers.R", "test-desk-people.R", "test-record.R",
  "test-newcomer.R", "test-portable.R", "test-install.R", "test-reports.R", "test-demo.R",
  "test-summary.R", "test-item-type.R", "test-fuzz.R"
)
files <- files[order(!basename(files) %in% longest, match(basename(files), longest))]
done <- parallel::mclapply(
  files,
  run_file,
  mc.cores = 1 + parallel::detectCores(),
  mc.preschedule = FALSE
)

broken <- which(!vapply(done, is.list, TRUE))
for (k in broken) {
  message(
    "The tests of ",
    basename(files[k]),
    " did not come to an end: ",
    as.character(done[[k]])
  )
}
ended <- done[setdiff(seq_along(done), broken)]
counts <- Reduce(`+`, lapply(ended, `[[`, "counts"))
for (file in ended) {
  if (sum(file$counts[c("failed", "error", "warning")])) {
    cat("\n==", file$file, "\n", file$out, sep = "\n")
  }
}
failed <- counts[["failed"]] + counts[["error"]] + length(broken)
skipped <- counts[["skipped"]]
passed <- counts[["nb"]] - counts[["failed"]] - skipped
dir.create(".check", showWarnings = FALSE)
seconds <- sort(vapply(ended, function(file) file$counts[["real"]], 0), decreasing = TRUE)
names(seconds) <- vapply(ended, `[[`, "", "file")[
  order(vapply(ended, function(file) -file$counts[["real"]], 0))
]
cat(
  "\nSlowest: ",
  paste0(names(seconds)[1:8], " ", round(seconds[1:8]), " s", collapse = ", "),
  "\n",
  sep = ""
)
tests <- do.call(rbind, lapply(ended, `[[`, "tests"))
tests <- tests[order(-tests$real), ]
utils::write.csv(tests, ".check/times.csv", row.names = FALSE)
line <- sprintf("%d passed, %d failed, %d skipped", passed, failed, skipped)
writeLines(line, ".check/counts")
if (!identical(Sys.getenv("PREGUNTA_TESTS"), "all")) {
  cat("\nLong tests are left out, long loops thinned; all: make test TESTS=all\n")
}
cat("\n", line, "\n", sep = "")
if (failed) quit(status = 1)
