# A district's benchmark in one run: 7,500 students in 300 sections by 24 questions.
# Parts, mail drafts, slips by section, and the coordinator's page in a real browser: its
# first picture beside that of the demo's page, taking turns, and a sort of the sections.
# Rscript bench/district.R
suppressMessages(library(pregunta))
set.seed(2)
demo <- read_sitting(demo_path())
items <- demo$items[
  demo$items$type == "choice",
  c("item", "type", "key", "standards", "prompt", "rationale")
]
items <- items[rep(seq_len(nrow(items)), length.out = 24), ]
items$item <- paste0("Q", 1:24)
n <- 7500
id <- sprintf("s%05d", 1:n)
ability <- rnorm(n)
given <- vapply(1:24, function(j) {
  right <- runif(n) < plogis(ability + rnorm(1))
  ifelse(right, items$key[j], sample(LETTERS[1:4], n, TRUE))
}, character(n))
section <- rep(1:300, each = 25)
students <- data.frame(
  student = id, name = paste("Student", id), section = sprintf("Section %03d", section),
  school = sprintf("School %02d", (section - 1) %/% 15 + 1),
  guardian_email = paste0("g", id, "@example.org")
)
answers <- stats::setNames(data.frame(id, given), c("student", items$item))
test <- sitting(
  answers, items,
  students = students, standards = demo$standards,
  settings = list(title = "Autumn benchmark", date = "2026-10-05")
)
home <- tempfile("district-")
dir.create(home)
seconds <- function(code) suppressMessages(system.time(code)[["elapsed"]])
said <- function(what, took, most) {
  cat(sprintf("%-34s %5.1f s (at most %s)\n", what, took, most))
}
said("parts", seconds(summarise_parts(test, by = "section")), "2 s")
mail <- seconds(write_mail(
  test, file.path(home, "mail"),
  from = "us@example.org", cores = parallel::detectCores()
))
said("mail drafts", mail, "30 s")
drafts <- list.files(file.path(home, "mail"), full.names = TRUE)
dir.create(file.path(home, "copies"))
copied <- seconds(file.copy(drafts, file.path(home, "copies")))
cat(sprintf(
  "  %d files, %.0f MB: %.1f times as long as to copy them\n",
  length(drafts), sum(file.size(drafts)) / 1e6, mail / copied
))
each <- seconds(write_slips(test, file.path(home, "slips"), each = "section"))
size <- file.size(list.files(file.path(home, "slips"), "[.]html$", full.names = TRUE))
said(sprintf("slips, %d files, up to %.2f MB", length(size), max(size) / 1e6), each, "-")

pages <- file.path(home, c(district = "district.html", demo = "demo.html"))
names(pages) <- c("district", "demo")
made <- seconds(write_report(test, pages[["district"]], audience = "coordinator"))
said("coordinator's page made", made, "-")
suppressMessages(write_report(demo, pages[["demo"]], audience = "coordinator"))
flags <- c(
  "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
  "--disable-background-networking", "--disable-component-update", "--disable-sync"
)
program <- Sys.which(c("chromium", "chromium-browser", "google-chrome"))
program <- program[nzchar(program)][1]
chrome <- chromote::Chromote$new(chromote::Chrome$new(path = program, args = flags))
# A new window each time; the milliseconds to the first picture, and of a sort.
look <- function(path) {
  window <- chrome$new_session(width = 1280, height = 800)
  on.exit(window$close())
  window$Page$navigate(paste0("file://", path))
  ask <- function(code) {
    window$Runtime$evaluate(code, returnByValue = TRUE, awaitPromise = TRUE)$result$value
  }
  for (try in 1:100) {
    first <- ask(paste0(
      "(performance.getEntriesByName('first-contentful-paint')[0] || {}).startTime"
    ))
    if (!is.null(first)) break
    Sys.sleep(0.1)
  }
  Sys.sleep(1)
  sort <- ask(paste0(
    "(async () => { const head = document.querySelectorAll(",
    "'#by-section [aria-sort]')[1]; if (!head) return -1; ",
    "const from = performance.now(); head.click(); ",
    "await new Promise(done => requestAnimationFrame(() => ",
    "requestAnimationFrame(done))); return performance.now() - from; })()"
  ))
  c(first = first, sort = sort)
}
times <- lapply(1:9, function(run) vapply(pages, look, c(first = 0, sort = 0)))
middle <- Reduce(`+`, times) / length(times)
middle[] <- apply(simplify2array(times), 1:2, stats::median)
cat(sprintf(
  "first picture %.2f s (1 s; the demo's page %.2f s), a sort %.2f s (0.1 s)\n",
  middle["first", "district"] / 1000, middle["first", "demo"] / 1000,
  middle["sort", "district"] / 1000
))
