# Many folders at once: by forks, by workers of a plan, by workers that die.

# Folders of one benchmark whose key of Q7 is wrong, in classes too small to show it.
benchmark_folders <- function(n, students = 14) {
  root <- file.path(folder_of(), "tests")
  set.seed(11)
  k <- 12
  hard <- rnorm(k)
  for (f in seq_len(n)) {
    folder <- file.path(root, sprintf("class%02d", f))
    dir.create(folder, recursive = TRUE)
    ability <- rnorm(students)
    answers <- vapply(seq_len(k), function(j) {
      right <- runif(students) < plogis(1.2 * ability - hard[j])
      ifelse(right, if (j == 7) "C" else "A", sample(c("D", "B", if (j == 7) "A"), students, TRUE))
    }, character(students))
    colnames(answers) <- paste0("Q", seq_len(k))
    write.csv(
      data.frame(student = sprintf("c%02ds%02d", f, seq_len(students)), answers),
      file.path(folder, "responses.csv"),
      row.names = FALSE
    )
    items <- data.frame(item = colnames(answers), type = "choice", key = "A")
    write.csv(items, file.path(folder, "items.csv"), row.names = FALSE)
    options <- data.frame(item = rep(items$item, each = 4), option = LETTERS[1:4])
    write.csv(options, file.path(folder, "options.csv"), row.names = FALSE)
    writeLines("title: Benchmark 2", file.path(folder, "test.yml"))
  }
  root
}

squares <- function(..., kills = NULL) {
  internal("over_each")(
    1:7,
    function(k) if (k %in% kills) tools::pskill(Sys.getpid(), 9) else k^2,
    function(k) paste(k, "is lost"),
    ...
  )
}

test_that("each thing is done once, in order, whoever works at it", {
  only_in_all()
  skip_on_cran()
  skip_if_not_installed("future")
  expect_identical(squares(cores = 1), as.list((1:7)^2))
  expect_identical(squares(cores = 2), as.list((1:7)^2))
  for (plan in c("sequential", "processes:2", "machines:localhost", "future::multisession")) {
    set_back <- internal("use_plan")(plan)
    expect_identical(squares(), as.list((1:7)^2), label = plan)
    set_back()
    expect_s3_class(future::plan(), "sequential")
  }
  for (plan in c("", "forks", "processes:0", "processes:x", "machines:", "stats::no_plan", "no.such::plan")) {
    expect_refused(internal("use_plan")(plan), if (plan == "no.such::plan") "package" else "call")
  }
})

test_that("what ends its process is named, all else is done", {
  only_in_all()
  skip_on_cran()
  skip_if_not_installed("future")
  wanted <- as.list((1:7)^2)
  wanted[[3]] <- "3 is lost"
  expect_identical(squares(cores = 2, kills = 3), wanted)
  future::plan("multisession", workers = 2)
  on.exit(future::plan("sequential"))
  expect_identical(squares(kills = 3), wanted)
  # An error of the work is no death.
  expect_error(
    internal("over_each")(1:3, function(k) stop("no"), function(k) "lost"),
    "no"
  )
})

test_that("reports of many folders are made by workers, one of them killed at it", {
  only_in_all()
  skip_on_cran()
  skip_if_not_installed("future")
  root <- benchmark_folders(12)
  here <- write_reports(root, cores = 1)
  pages <- vapply(here$file, function(file) tools::md5sum(file)[[1]], "")
  unlink(here$file)
  future::plan("multisession", workers = 2)
  on.exit(future::plan("sequential"))
  pid <- future::value(future::future(Sys.getpid()))
  system(sprintf("(sleep 1.5; kill -9 %d) &", pid))
  made <- write_reports(root)
  expect_identical(made$problem, rep(NA_character_, 12))
  expect_equal(made[names(made) != "file"], here[names(here) != "file"], ignore_attr = TRUE)
  expect_identical(
    unname(vapply(made$file, function(file) tools::md5sum(file)[[1]], "")), unname(pages)
  )
  alive <- tools::pskill(pid, 0)
  expect_false(alive)
})

test_that("a question is named that no class shows and all together do", {
  only_in_all()
  root <- benchmark_folders(16)
  odd <- list.files(root, full.names = TRUE)[16]
  lines <- readLines(file.path(odd, "items.csv"))
  writeLines(sub("Q3\",\"choice\",\"A", "Q3\",\"choice\",\"B", lines), file.path(odd, "items.csv"))
  run <- pregunta("report", root, "--plan", "sequential")
  expect_identical(run$status, 0L)
  expect_match(run$err, "Q7, in 15 tests, 210 students", fixed = TRUE)
  table <- write_reports(root, cores = 2)
  pooled <- attr(table, "pooled")
  expect_identical(pooled$item, "Q7")
  expect_identical(pooled$verdict, "check_key")
  expect_identical(c(pooled$tests, attr(pooled, "pools")), c(15L, 1L))
  expect_lt(sum(table$settle > 0), 12)
  # What is said of all is what is said of one test that all of them sat.
  together <- do.call(rbind, lapply(list.files(root, full.names = TRUE)[1:15], function(one) {
    read.csv(file.path(one, "responses.csv"))
  }))
  one <- read_sitting(file.path(root, "class01"))
  whole <- review_items(sitting(together, one$items, one$options))
  expect_identical(pooled$what, whole$what[whole$item == "Q7"])
  page <- paste(readLines(attr(table, "index"), warn = FALSE), collapse = "\n")
  expect_match(page, "15 tests that ask the same questions, taken together", fixed = TRUE)
  expect_match(page, pooled$do, fixed = TRUE)
})

test_that("a plan that would do nothing is refused", {
  expect_identical(pregunta("report", demo_path(), "--plan", "processes")$status, 2L)
  bad <- pregunta("report", benchmark_folders(2), "--plan", "clowd")
  expect_identical(bad$status, 2L)
  expect_match(bad$err, "no plan \"clowd\"", fixed = TRUE)
})
