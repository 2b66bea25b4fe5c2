# The linter over all R code; any lint fails.
files <- c(list.files("R", "[.]R$", full.names = TRUE),
  list.files(c("tests/testthat", "tools", "bench", "data-raw"), "[.]R$", full.names = TRUE))
files <- setdiff(files, "R/RcppExports.R")
lints <- unlist(parallel::mclapply(files, function(file) as.list(lintr::lint(file)), mc.preschedule = FALSE,
  mc.cores = max(2, parallel::detectCores())), recursive = FALSE)
for (lint in lints) cat(sprintf("%s:%d: %s\n", lint$filename, lint$line_number, lint$message))
cat(length(files), "files,", length(lints), "lints\n")
if (length(lints)) quit(status = 1)
