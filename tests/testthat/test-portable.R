# On a machine that cannot fork or link, whose temporary folder has blanks and whose locale
# is Windows-1252: as far as Linux can play it.

# R as it starts there: what another system has not ends the call.
forbidding <- function() {
  path <- tempfile("profile-", fileext = ".R")
  writeLines(c(
    "local({",
    "  forbid <- function(name, where) {",
    "    unlockBinding(name, where)",
    "    assign(name, function(...) stop(name, ' is forbidden here'), where)",
    "  }",
    "  for (name in c('file.symlink', 'file.link')) forbid(name, baseenv())",
    "  forks <- c('mcfork', 'mcparallel', 'mclapply', 'mcmapply')",
    "  for (name in forks) forbid(name, asNamespace('parallel'))",
    "})"
  ), path)
  path
}

# A locale of Windows-1252, made here; NULL where it cannot be made.
windows_locale <- function() {
  place <- tempfile("locales-")
  dir.create(place)
  made <- suppressWarnings(system2(
    "localedef",
    c("-c", "-i", "en_US", "-f", "CP1252", file.path(place, "en_US.CP1252")),
    stdout = FALSE,
    stderr = FALSE
  ))
  if (file.exists(file.path(place, "en_US.CP1252"))) place
}

elsewhere <- function() {
  place <- file.path(tempdir(), "temporary f\u00f6lder of Ada Moor")
  dir.create(place, showWarnings = FALSE)
  locales <- windows_locale()
  expect_false(is.null(locales), label = "a locale of Windows-1252 can be made")
  paste0(
    c("R_PROFILE_USER=", "TMPDIR=", "LOCPATH=", "LC_ALL=", "PREGUNTA_FORKS=", "NO_COLOR="),
    shQuote(c(forbidding(), place, locales, "en_US.CP1252", "no", "1"))
  )
}

run_with <- function(env, folder, ...) {
  out <- tempfile()
  err <- tempfile()
  words <- paste(
    "cd", shQuote(folder), "&&", paste(c(env, "R_TESTS="), collapse = " "),
    shQuote(file.path(R.home("bin"), "Rscript")),
    paste(shQuote(c(Sys.getenv("PREGUNTA_EXEC"), ...)), collapse = " "), ">", out, "2>", err
  )
  status <- system2("sh", c("-c", shQuote(words)))
  read <- function(path) readLines(path, warn = FALSE, encoding = "UTF-8")
  # How far it is depends on the clock.
  told <- grep("^\\S* .* ETA: ", read(err), value = TRUE, invert = TRUE)
  list(status = status, out = read(out), err = paste(told, collapse = "\n"))
}

test_that("what is forbidden there is forbidden", {
  skip_on_os("windows")
  for (code in c("file.symlink('a', 'b')", "parallel::mclapply(1:2, identity)")) {
    ran <- suppressWarnings(system2(
      file.path(R.home("bin"), "Rscript"), c("-e", shQuote(code)),
      env = elsewhere()[1], stdout = FALSE, stderr = TRUE
    ))
    expect_match(paste(ran, collapse = ""), "forbidden here", label = code)
  }
})

test_that("there every call does and says what it does here", {
  only_in_all()
  skip_on_os("windows")
  here <- tempfile("here-")
  there <- file.path(tempfile("there-"), "Pr\u00fcfung der 3 b")
  calls <- list(
    c("new", "quiz", "--from", "results.csv", "--key", "key.csv", "--students", "list.csv"),
    c("check", "quiz"), c("students", "quiz", "--student", "Lio Ebbing"), c("plan", "tides"),
    c("adjust", "quiz", "--key", "Q7=C", "--reason", "half m\u00f6\u00f6n"),
    c("report", "tides", "--each", "section"), c("slips", "quiz", "--language", "es"),
    c("followup", "tides", "--from", "tides/pool", "--out", "second"),
    c("record", "add", "tides", "tides/follow-up"), c("plot", "quiz", "--of", "items", "--out", "i.svg")
  )
  env <- elsewhere()
  rooms <- c(here, there)
  for (room in rooms) {
    dir.create(room, recursive = TRUE)
    dir.create(file.path(room, "tides"))
    demo <- list.files(demo_path(), full.names = TRUE)
    file.copy(demo, file.path(room, "tides"), recursive = TRUE)
    from <- file.path(demo_path(), c("responses.csv", "items.csv", "students.csv"))
    file.copy(from, file.path(room, c("results.csv", "key.csv", "list.csv")))
  }
  for (call in calls) {
    label <- paste(call, collapse = " ")
    usual <- do.call(run_with, as.list(c("NO_COLOR=1", here, call)))
    said <- do.call(run_with, c(list(env, there), as.list(call)))
    expect_identical(said$status, usual$status, label = paste(label, said$err))
    expect_identical(said$out, usual$out, label = label)
    expect_identical(said$err, usual$err, label = label)
  }
  files <- list.files(here, recursive = TRUE, all.files = TRUE)
  expect_setequal(list.files(there, recursive = TRUE, all.files = TRUE), files)
  alike <- grep("[.](html|csv|svg|yml)$", files, value = TRUE)
  expect_gt(length(alike), 15)
  # An adjustment has the minute it was made in.
  minute <- "[0-9]{4}-[0-9]{2}-[0-9]{2} [0-9]{2}:[0-9]{2}"
  written <- function(path) {
    text <- readChar(path, file.size(path), useBytes = TRUE)
    gsub(minute, "a minute", text, useBytes = TRUE)
  }
  same <- vapply(alike, function(file) {
    written(file.path(here, file)) == written(file.path(there, file))
  }, TRUE)
  expect_identical(alike[!same], character())
})
