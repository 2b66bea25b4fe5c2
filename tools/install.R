# Installs the package into the first library that can be written to.
library_path <- .libPaths()[1]
if (file.access(library_path, 2) != 0) {
  library_path <- Sys.getenv("R_LIBS_USER")
  dir.create(library_path, recursive = TRUE, showWarnings = FALSE)
}
Sys.setenv(MAKEFLAGS = paste0("-j", max(1, parallel::detectCores(), na.rm = TRUE)))
log <- ".check/install.log"
status <- system2(
  file.path(R.home("bin"), "R"),
  c("CMD", "INSTALL", "--no-test-load", paste0("--library=", shQuote(library_path)), "."),
  stdout = log,
  stderr = log
)
unlink(Sys.glob(c("src/*.o", "src/*.so")))
if (status != 0) {
  cat(readLines(log), sep = "\n")
  stop("The package could not be installed.", call. = FALSE)
}
# Which build is in the library: tools/test.R sees whether another took its place.
writeLines(
  utils::packageDescription("pregunta", lib.loc = library_path, fields = "Built"),
  ".check/installed"
)
