# R CMD check on a built package; a warning or a note fails like an error. The
# tests are left to `make test`, which runs all of them on all cores.
Sys.setenv(MAKEFLAGS = paste0("-j", max(1, parallel::detectCores(), na.rm = TRUE)))
unlink(".check/build", recursive = TRUE)
dir.create(".check/build", recursive = TRUE, showWarnings = FALSE)
r <- file.path(R.home("bin"), "R")
root <- getwd()
setwd(".check/build")
# It is installed twice to be looked at, not to be quick: neither the compiler nor R takes
# the time to make it so.
light <- paste0(c("CXX", "CXX11", "CXX14", "CXX17"), "FLAGS = -O0 -g0")
writeLines(light, "Makevars")
Sys.setenv(R_MAKEVARS_USER = normalizePath("Makevars"))
run <- function(...) if (system2(r, c("CMD", ...)) != 0) quit(status = 1)
# Vignettes run among the tests, side by side with them.
run("build", "--no-build-vignettes", shQuote(root))
package <- Sys.glob("pregunta_*.tar.gz")
# The size that is noted is for data and documents; compiled code and words in ten
# languages are more than half of what is installed here.
Sys.setenv("_R_CHECK_PKG_SIZES_THRESHOLD_" = "8")
Sys.setenv("_R_CHECK_FORCE_SUGGESTS_" = "false", NOT_CRAN = "")
run(
  "check", "--no-manual", "--no-tests", "--ignore-vignettes",
  "--install-args=--no-byte-compile", package
)
status <- grep("^Status:", readLines("pregunta.Rcheck/00check.log"), value = TRUE)
if (!identical(status, "Status: OK")) {
  cat("R CMD check is not clean:", status, "\n")
  quit(status = 1)
}
