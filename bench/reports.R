# What is handed out in bulk, in one run: 300 class reports of 30 students by 24
# questions with their index, and the slips of 6,000 students. The targets: under
# 180 s on two cores, and under 60 s.
library(pregunta)
set.seed(1)
demo <- read_sitting(demo_path())
items <- demo$items[
  demo$items$type == "choice",
  c("item", "type", "key", "standards", "prompt", "rationale")
]
answers_of <- function(n) {
  ability <- stats::rnorm(n)
  given <- vapply(seq_len(nrow(items)), function(j) {
    right <- stats::runif(n) < stats::plogis(ability + stats::rnorm(1))
    ifelse(right, items$key[j], sample(c("A", "B", "C", "D"), n, TRUE))
  }, character(n))
  stats::setNames(
    data.frame(sprintf("s%05d", seq_len(n)), given),
    c("student", items$item)
  )
}
home <- tempfile("classes-")
dir.create(home)
for (k in seq_len(300)) {
  folder <- file.path(home, sprintf("class-%03d", k))
  dir.create(folder)
  data.table::fwrite(answers_of(30), file.path(folder, "responses.csv"))
  data.table::fwrite(items, file.path(folder, "items.csv"))
  data.table::fwrite(demo$standards, file.path(folder, "standards.csv"))
}
seconds <- system.time(
  done <- suppressMessages(write_reports(home, cores = parallel::detectCores()))
)[[
  "elapsed"
]]
cat(sprintf(
  "300 class reports  %6.1f s (%d failed), %d cores\n",
  seconds,
  sum(!is.na(done$problem)),
  parallel::detectCores()
))
many <- sitting(answers_of(6000), items, standards = demo$standards)
path <- tempfile(fileext = ".html")
seconds <- system.time(write_slips(many, path))[["elapsed"]]
cat(sprintf("6,000 slips        %6.1f s, %.1f MB\n", seconds, file.size(path) / 1e6))
