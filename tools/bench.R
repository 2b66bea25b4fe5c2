# Runs the benchmarks one after the other and keeps what they print in bench/last.txt,
# which the page on speed of the site shows. With names, only these.
named <- commandArgs(trailingOnly = TRUE)
all <- c(
  "tally", "verbs", "read", "pieces", "bootstrap", "standards", "scale", "record",
  "reports", "desk", "stored", "shards", "district"
)
run <- if (length(named)) named else all
path <- "bench/last.txt"
about <- c(
  paste("date:", Sys.Date()),
  paste("R:", getRversion()),
  paste("cores:", parallel::detectCores()),
  paste("processor:", sub(".*: ", "", grep(
    "^model name", tryCatch(readLines("/proc/cpuinfo"), error = function(e) ""),
    value = TRUE
  )[1]))
)
kept <- if (file.exists(path)) readLines(path) else character()
part <- function(name) {
  start <- match(paste("==", name), kept)
  if (is.na(start)) return(NULL)
  ends <- c(grep("^== ", kept), length(kept) + 1)
  kept[start:(min(ends[ends > start]) - 1)]
}
said <- lapply(stats::setNames(nm = run), function(name) {
  lines <- system2(
    file.path(R.home("bin"), "Rscript"),
    file.path("bench", paste0(name, ".R")),
    stdout = TRUE
  )
  writeLines(lines)
  c(paste("==", name), about, "", lines[nzchar(lines)], "")
})
names <- unique(c(all, run))
lines <- lapply(names, function(name) if (name %in% run) said[[name]] else part(name))
writeLines(unlist(lines), path)
