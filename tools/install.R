# Installs the package into the first library that can be written to.
library_path <- .libPaths()[1]
if (file.access(library_path, 2) != 0) {
  library_path <- Sys.getenv("R_LIBS_USER")
  dir.create(library_path, recursive = TRUE, showWarnings = FALSE)
}
Sys.setenv(MAKEFLAGS = paste0("-j", max(1, parallel::detectCores(), na.rm = TRUE)))
log <- ".check/install.log"
# Beside what is there, which it then takes the place of: an install that is cut off
# leaves neither half a package nor a lock that stops the next one.
aside <- file.path(library_path, ".pregunta-aside")
unlink(aside, recursive = TRUE)
dir.create(file.path(aside, "new"), recursive = TRUE)
status <- system2(
  file.path(R.home("bin"), "R"),
  c(
    "CMD", "INSTALL", "--no-test-load", "--no-lock",
    paste0("--library=", shQuote(file.path(aside, "new"))), "."
  ),
  stdout = log,
  stderr = log
)
unlink(Sys.glob(c("src/*.o", "src/*.so")))
if (status != 0) {
  cat(readLines(log), sep = "\n")
  stop("The package could not be installed.", call. = FALSE)
}
installed <- file.path(library_path, "pregunta")
moved <- !file.exists(installed) || file.rename(installed, file.path(aside, "old"))
moved <- moved && file.rename(file.path(aside, "new", "pregunta"), installed)
unlink(aside, recursive = TRUE)
if (!moved) stop("The package could not be put into ", library_path, ".", call. = FALSE)
# Which build is in the library: tools/test.R sees whether another took its place.
writeLines(
  utils::packageDescription("pregunta", lib.loc = library_path, fields = "Built"),
  ".check/installed"
)
