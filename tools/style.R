# Lays the code out with styler: `Rscript tools/style.R` changes files, with
# `--check` it names those that are not laid out and ends with status 1.
# The settings: what styler calls the tidyverse style, with the spaces and breaks
# that a person set within it left alone.
#
# styler comes from CRAN and wants newer versions of what other packages rest on
# than this machine may have; it stands in a library of its own, so that the
# package is built and tested with the machine's.
library_path <- ".check/style-library"
if (!dir.exists(file.path(library_path, "styler"))) {
  dir.create(library_path, recursive = TRUE, showWarnings = FALSE)
  unset <- identical(unname(getOption("repos")["CRAN"]), "@CRAN@")
  if (unset) utils::chooseCRANmirror(ind = 1)
  utils::install.packages("styler", lib = normalizePath(library_path), quiet = TRUE)
}
.libPaths(c(normalizePath(library_path), .libPaths()))

code_folders <- c("R", "tests/testthat", "tools", "bench", "data-raw")

code_files <- function() {
  files <- list.files(code_folders, "[.]R$", full.names = TRUE)
  setdiff(files, "R/RcppExports.R")
}

# TRUE where the file is laid out already.
lay_out <- function(files, check) {
  styler::cache_deactivate(verbose = FALSE)
  settings <- styler::tidyverse_style(strict = FALSE)
  cores <- max(1, parallel::detectCores(), na.rm = TRUE)
  changed <- parallel::mclapply(files, function(file) {
    utils::capture.output({
      result <- suppressMessages(styler::style_file(
        file,
        transformers = settings, include_roxygen_examples = FALSE,
        dry = if (check) "on" else "off"
      ))
    })
    result$changed
  }, mc.cores = cores, mc.preschedule = FALSE)
  !vapply(changed, isTRUE, TRUE)
}

if (sys.nframe() == 0) {
  check <- "--check" %in% commandArgs(trailingOnly = TRUE)
  files <- code_files()
  is_laid_out <- lay_out(files, check)
  said <- if (check) "not laid out" else "laid out anew"
  cat(paste0(said, ": ", files[!is_laid_out], recycle0 = TRUE), sep = "\n")
  cat(length(files), " files, ", sum(!is_laid_out), " ", said, "\n", sep = "")
  if (check && !all(is_laid_out)) quit(status = 1)
}
