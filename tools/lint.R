# The linter over all R code; any lint fails.
files <- c(
  list.files("R", "[.]R$", full.names = TRUE),
  list.files(
    c("tests/testthat", "tools", "bench", "data-raw"),
    "[.]R$",
    full.names = TRUE
  )
)
files <- setdiff(files, "R/RcppExports.R")
# What the linters load and read themselves is loaded once: a process a core, not a file.
cores <- max(2, parallel::detectCores())
shares <- split(files, rep_len(seq_len(cores), length(files)))
lints <- unlist(
  parallel::mclapply(
    shares,
    function(share) unlist(lapply(share, lintr::lint), recursive = FALSE),
    mc.cores = cores
  ),
  recursive = FALSE
)
for (lint in lints) {
  cat(sprintf("%s:%d: %s\n", lint$filename, lint$line_number, lint$message))
}

# Calls within calls within calls: nothing may be deeper than this. The number goes
# down as code is taken apart, never up.
most_nested <- 6
house <- new.env()
sys.source("tools/house.R", house)
deep <- vapply(house$source_files(), function(path) {
  max(house$nesting(parse(path, keep.source = FALSE, encoding = "UTF-8")), 0L)
}, 0L)
too_deep <- names(deep)[deep > most_nested]
said <- paste0(
  too_deep, ": calls are nested ", deep[too_deep], " deep\n",
  recycle0 = TRUE
)
cat(said, sep = "")

cat(length(files), "files,", length(lints) + length(too_deep), "lints\n")
if (length(lints) + length(too_deep)) quit(status = 1)
