# Several at one folder: what was said to be done is there.

side_by_side <- function(calls) {
  parallel::mclapply(
    calls,
    function(call) do.call(pregunta, as.list(call)),
    mc.cores = length(calls),
    mc.preschedule = FALSE
  )
}

demo_copy <- function() {
  folder <- tempfile("test-")
  dir.create(folder)
  files <- list.files(demo_path(), full.names = TRUE)
  file.copy(files[!dir.exists(files)], folder)
  folder
}

test_that("changes made side by side are all there, each once", {
  only_in_all()
  skip_on_cran()
  folder <- demo_copy()
  calls <- lapply(1:12, function(k) {
    c(
      "adjust", folder, "--extra", "1", "--student", sprintf("h%03d", k),
      "--reason", paste("turn", k)
    )
  })
  said <- side_by_side(calls)
  expect_equal(vapply(said, `[[`, 0L, "status"), rep(0L, 12))
  lines <- read.csv(file.path(folder, "adjustments.csv"))
  expect_setequal(lines$reason, paste("turn", 1:12))
  expect_equal(nrow(lines), 12)
  expect_length(list.files(folder, "^[.]adjust", all.files = TRUE), 0)
})

# Four processes take turns at many calls.
in_four <- function(calls) {
  status <- parallel::mclapply(
    calls,
    function(call) {
      utils::capture.output(end <- suppressMessages(run_command(call)))
      end
    },
    mc.cores = 4,
    mc.preschedule = FALSE
  )
  unlist(status)
}

test_that("fifty changes by four processes are fifty lines", {
  only_in_all()
  skip_on_cran()
  folder <- tempfile("knots-")
  dir.create(folder)
  file.copy(list.files(demo_path("knots"), full.names = TRUE), folder)
  calls <- lapply(1:50, function(k) {
    c(
      "adjust", folder, "--extra", "1", "--student", sprintf("h%03d", k),
      "--reason", paste("turn", k)
    )
  })
  expect_equal(in_four(calls), rep(0L, 50))
  expect_setequal(
    read.csv(file.path(folder, "adjustments.csv"))$reason,
    paste("turn", 1:50)
  )
})

test_that("fifty marks read back by four processes are fifty marks", {
  only_in_all()
  skip_on_cran()
  ids <- sprintf("s%02d", 1:50)
  folder <- plain_folder(
    c("student,Q1", paste0(ids, ",Because ", 1:50)),
    items = c("item,type,points", "Q1,open,3"),
    students.csv = c("student,name", paste0(ids, ",N", 1:50))
  )
  sheet <- read.csv(write_marking(folder)[1])
  sheets <- vapply(1:50, function(k) {
    path <- tempfile(fileext = ".csv")
    mark <- sheet[sheet$who == paste0("N", k), ]
    mark$points <- k %% 4
    write.csv(mark, path, row.names = FALSE, na = "")
    path
  }, "")
  calls <- lapply(sheets, function(path) c("mark", folder, "--back", path))
  expect_equal(in_four(calls), rep(0L, 50))
  points <- summarise_students(read_sitting(folder))$points
  expect_equal(points, (1:50) %% 4)
})

test_that("answers typed in side by side are all there", {
  skip_on_cran()
  folder <- plain_folder(
    c("student,Q1,Q2", paste0("s", 1:6, ",,")),
    items = c("item,type,key", "Q1,choice,A", "Q2,choice,B"),
    students.csv = c("student,name", paste0("s", 1:6, ",N", 1:6))
  )
  sheets <- vapply(1:6, function(k) {
    path <- tempfile(fileext = ".csv")
    writeLines(c("student,Q1,Q2", paste0("s", k, ",A,B")), path)
    path
  }, "")
  said <- side_by_side(lapply(sheets, function(path) c("form", folder, "--back", path)))
  expect_equal(vapply(said, `[[`, 0L, "status"), rep(0L, 6))
  expect_equal(summarise_students(read_sitting(folder))$points, rep(2, 6))
})

test_that("questions kept side by side in a bank that was not there are all in it", {
  only_in_all()
  skip_on_cran()
  bank <- tempfile(fileext = ".sqlite")
  items <- paste0("Q", 2:7)
  said <- side_by_side(lapply(items, function(item) {
    c("bank", "add", demo_path(), "--bank", bank, "--item", item)
  }))
  expect_equal(vapply(said, `[[`, 0L, "status"), rep(0L, 6))
  expect_setequal(bank_items(bank)$item, items)
})

test_that("a lock names its holder, dies with it, and what it left is cleared", {
  skip_on_cran()
  folder <- demo_copy()
  code <- sprintf("invisible(pregunta:::take_lock('%s')); Sys.sleep(60)", folder)
  other <- parallel::mcparallel(system2(
    file.path(R.home("bin"), "Rscript"),
    c("-e", shQuote(code))
  ))
  until <- Sys.time() + 20
  about <- file.path(folder, ".pregunta-holder")
  while (Sys.time() < until && !file.exists(about)) Sys.sleep(0.1)
  Sys.sleep(0.2)
  holder <- readLines(about)
  expect_refused(
    internal("take_lock")(folder, patience = 0.1),
    "output",
    holder[1],
    "is being changed by somebody else"
  )
  machine <- internal("this_machine")()
  half <- file.path(folder, paste0(".adjustments.csv-", holder[1], machine, "-1a2b3c"))
  alive <- file.path(folder, paste0(".items.csv-", Sys.getpid(), machine, "-1a2b3c"))
  file.create(half, alive)
  tools::pskill(as.integer(holder[1]), tools::SIGKILL)
  adjust(folder, "extra", student = "h001", value = 1, reason = "after")
  expect_false(file.exists(half))
  expect_true(file.exists(alive))
  expect_false(file.exists(file.path(folder, ".pregunta-holder")))
  parallel::mccollect(other)
  inner <- internal("take_lock")(folder)
  expect_null(internal("take_lock")(folder))
  internal("release_lock")(inner)
})
