# R CMD check on a built package; a warning or a note fails like an error. The
# tests are left to `make test`, which runs all of them on all cores.
Sys.setenv(MAKEFLAGS = paste0("-j", max(1, parallel::detectCores(), na.rm = TRUE)))
unlink(".check/build", recursive = TRUE)
dir.create(".check/build", recursive = TRUE, showWarnings = FALSE)
r <- file.path(R.home("bin"), "R")
root <- getwd()
setwd(".check/build")
# It is installed twice to be looked at, not to be quick: the compiler takes less time and
# room than where it makes it quick.
light <- paste0(c("CXX", "CXX11", "CXX14", "CXX17"), "FLAGS = -Os -g0")
writeLines(light, "Makevars")
# What an example calls a few times is not worth the time of compiling it.
Sys.setenv(R_MAKEVARS_USER = normalizePath("Makevars"), R_ENABLE_JIT = "0")
run <- function(...) if (system2(r, c("CMD", ...)) != 0) quit(status = 1)
# Vignettes run among the tests, side by side with them.
run("build", "--no-build-vignettes", shQuote(root))
package <- Sys.glob("pregunta_*.tar.gz")
# What CRAN asks, but for the two questions that it puts to servers of its own; each
# example once, the long ones as well.
Sys.setenv("_R_CHECK_CRAN_INCOMING_" = "false", "_R_CHECK_SYSTEM_CLOCK_" = "false")
Sys.setenv("_R_CHECK_DONTTEST_EXAMPLES_" = "false")
Sys.setenv("_R_CHECK_FORCE_SUGGESTS_" = "false", NOT_CRAN = "")
run(
  "check", "--as-cran", "--run-donttest", "--no-manual", "--no-tests",
  "--ignore-vignettes", package
)
status <- grep("^Status:", readLines("pregunta.Rcheck/00check.log"), value = TRUE)
if (!identical(status, "Status: OK")) {
  cat("R CMD check is not clean:", status, "\n")
  quit(status = 1)
}
