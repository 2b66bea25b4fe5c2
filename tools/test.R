# Runs the tests against the installed package, a file to a process, on all
# cores; ends with one line of counts. PREGUNTA_TESTS=all: the long ones as well; where
# PREGUNTA_MINUTES is set those of every third file, another third each day, and of the
# others those that begin within so many minutes: each has its turn on a slow machine too.
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

# What most files load is loaded once, before the processes part.
suppressPackageStartupMessages(library(pregunta))
loaded <- c(
  "testthat", "ggplot2", "svglite", "htmltools", "reactable", "xml2", "jsonlite", "yaml",
  "data.table", "dplyr", "DBI", "RSQLite", "dbplyr", "openxlsx", "shiny", "bslib",
  "processx", "callr", "rmarkdown"
)
for (name in loaded) suppressWarnings(requireNamespace(name, quietly = TRUE))
for (name in c("pregunta", "testthat", "rlang", "cli", "withr")) {
  invisible(as.list(asNamespace(name), all.names = TRUE))
}
# What a test calls a few times is not worth the time of making it quick; the package is.
invisible(compiler::enableJIT(0))

minutes <- as.numeric(Sys.getenv("PREGUNTA_MINUTES", "Inf"))
all_asked <- identical(Sys.getenv("PREGUNTA_TESTS"), "all")
began <- Sys.time()

run_file <- function(path, turn) {
  long <- all_asked && (turn || difftime(Sys.time(), began, units = "mins") < minutes)
  Sys.setenv(PREGUNTA_TESTS = if (long) "all" else "")
  # It is a process of its own to the package, as where each file starts one.
  home <- getNamespace("pregunta")$machine
  home$process <- Sys.getpid()
  before <- proc.time()
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
    left = !long && any(grepl("only_in_all|all_tests|thinned", readLines(path))),
    out = out,
    counts = colSums(table),
    tests = transform(about[c("file", "test", "real")], own = about$user + about$system),
    worked = sum((proc.time() - before)[c(1, 2, 4, 5)])
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
turn <- (seq_along(files) + as.integer(Sys.Date())) %% 3 == 0
if (is.finite(minutes)) {
  files <- files[order(!turn)]
  turn <- sort(turn, decreasing = TRUE)
}
# One more than there are cores, and one for those who wait for a browser.
done <- parallel::mclapply(
  seq_along(files),
  function(k) run_file(files[k], turn[k]),
  mc.cores = 2 + parallel::detectCores(),
  mc.preschedule = FALSE
)

broken <- which(!vapply(done, is.list, TRUE))
ended <- done[setdiff(seq_along(done), broken)]
counts <- Reduce(`+`, lapply(ended, `[[`, "counts"))
failed <- counts[["failed"]] + counts[["error"]] + length(broken)
skipped <- counts[["skipped"]]
passed <- counts[["nb"]] - counts[["failed"]] - skipped
dir.create(".check", showWarnings = FALSE)
slowest <- ended[order(vapply(ended, function(file) -file$counts[["real"]], 0))]
for (file in utils::head(slowest, 12)) {
  cat(sprintf(
    "%4.0f s, %4.0f of a processor: %s\n", file$counts[["real"]], file$worked, file$file
  ))
}
cat(sprintf("%4.0f s of a processor in all\n", sum(vapply(ended, `[[`, 0, "worked"))))
tests <- do.call(rbind, lapply(ended, `[[`, "tests"))
tests <- tests[order(-tests$real), ]
utils::write.csv(tests, ".check/times.csv", row.names = FALSE)
# What failed is told last: of a long account it is the end that is seen.
told <- sprintf(
  "The tests of %s did not come to an end: %s", basename(files[broken]), done[broken]
)
for (file in ended) {
  if (sum(file$counts[c("failed", "error", "warning")])) {
    told <- c(told, "", paste("==", file$file), file$out)
  }
}
writeLines(told, ".check/failures")
writeLines(told)
line <- sprintf("%d passed, %d failed, %d skipped", passed, failed, skipped)
writeLines(line, ".check/counts")
left <- vapply(ended, `[[`, TRUE, "left")
if (!all_asked) {
  cat("\nLong tests are left out, long loops thinned; all: make test TESTS=all\n")
} else if (any(left)) {
  names <- vapply(ended[left], `[[`, "", "file")
  cat("\nLong tests left out, of files that began after", minutes, "minutes:\n")
  cat(strwrap(toString(sort(sub("^test-(.*)[.]R$", "\\1", names)))), sep = "\n")
}
cat("\n", line, "\n", sep = "")
if (failed) quit(status = 1)
