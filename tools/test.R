# Runs the tests against the installed package; ends with one line of counts.
# Another checkout may have installed its own build since.
built <- utils::packageDescription("pregunta", fields = "Built")
if (!identical(built, readLines(".check/installed"))) source("tools/install.R")
Sys.setenv(NOT_CRAN = "true", PREGUNTA_EXEC = normalizePath("exec/pregunta"))
results <- as.data.frame(testthat::test_dir("tests/testthat", package = "pregunta", load_package = "installed",
  reporter = testthat::CheckReporter$new(), stop_on_failure = FALSE))
failed <- sum(results$failed) + sum(results$error)
skipped <- sum(results$skipped)
passed <- sum(results$nb) - sum(results$failed) - skipped
dir.create(".check", showWarnings = FALSE)
line <- sprintf("%d passed, %d failed, %d skipped", passed, failed, skipped)
writeLines(line, ".check/counts")
cat("\n", line, "\n", sep = "")
if (failed) quit(status = 1)
