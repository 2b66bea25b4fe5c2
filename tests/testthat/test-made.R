# What was made from what: reports that are up to date stay, and stale files are named.

tests_of <- function(n = 4) {
  root <- file.path(folder_of(), "tests")
  dir.create(root)
  for (k in seq_len(n)) {
    file.copy(demo_path("knots"), root, recursive = TRUE)
    file.rename(file.path(root, "knots"), file.path(root, paste0("class", k)))
  }
  root
}

written <- function(paths) file.info(paths)$mtime

test_that("of many folders only the reports of those that changed are made", {
  only_in_all()
  root <- tests_of()
  first <- write_reports(root, cores = 1)
  expect_identical(attr(first, "made"), 4L)
  again <- write_reports(root, cores = 1)
  expect_identical(attr(again, "made"), 0L)
  bare <- function(table) structure(table, made = NULL)
  expect_equal(bare(again), bare(first), tolerance = 1e-14)
  times <- written(first$file)
  cat("\n", file = file.path(root, "class2", "test.yml"), append = TRUE)
  third <- write_reports(root, cores = 1)
  expect_identical(attr(third, "made"), 1L)
  expect_identical(which(written(first$file) != times), 2L)
  expect_equal(attr(third, "pooled"), attr(first, "pooled"))
  # What somebody changed or took away is made again, and all that is asked for otherwise.
  cat("x", file = first$file[1], append = TRUE)
  unlink(first$file[3])
  expect_identical(attr(write_reports(root, cores = 1), "made"), 2L)
  expect_identical(attr(write_reports(root, names = FALSE, cores = 1), "made"), 4L)
  expect_identical(attr(write_reports(root, names = FALSE, cores = 1), "made"), 0L)
  expect_identical(attr(write_reports(root, names = FALSE, cores = 1, anew = TRUE), "made"), 4L)
})

test_that("a test that cannot be read is tried each time", {
  root <- tests_of(2)
  writeLines("no,thing", file.path(root, "class1", "items.csv"))
  expect_identical(which(!is.na(write_reports(root, cores = 1)$problem)), 1L)
  twice <- write_reports(root, cores = 1)
  expect_identical(which(!is.na(twice$problem)), 1L)
  expect_identical(attr(twice, "made"), 0L)
})

test_that("whatever stands in the notes, the reports are right", {
  only_in_all()
  root <- tests_of(2)
  first <- write_reports(root, cores = 1)
  notes <- file.path(root, "class1", ".made.json")
  said <- jsonlite::fromJSON(notes, simplifyVector = FALSE)
  expect_named(said, "report.html")
  wrong <- list(
    "", "[1, 2]", "{", "{\"report.html\": 3}",
    jsonlite::toJSON(replace(said, 1, list(replace(said[[1]], "sum", "x"))), auto_unbox = TRUE),
    jsonlite::toJSON(
      list(report.html = replace(said[[1]], "more", list(list(n = "many")))), auto_unbox = TRUE
    )
  )
  for (text in wrong) {
    writeLines(text, notes)
    table <- write_reports(root, cores = 1)
    expect_identical(attr(table, "made"), 1L, label = substr(text, 1, 30))
    expect_equal(table$n, first$n)
  }
})

test_that("of the parts of a test only those are made whose students changed", {
  only_in_all()
  folder <- demo_copy()
  first <- write_part_reports(folder, "section", cores = 1)
  expect_identical(attr(first, "made"), 3L)
  expect_identical(attr(write_part_reports(folder, "section", cores = 1), "made"), 0L)
  whose <- read_sitting(folder)$students
  one <- whose$student[which(whose$section == "Harbour B" & whose$status == "sat")[1]]
  adjust(folder, "points", item = "Q3", student = one, value = 0, reason = "copied")
  times <- written(first$file)
  second <- write_part_reports(folder, "section", cores = 1)
  expect_identical(attr(second, "made"), 1L)
  expect_identical(first$part[written(first$file) != times], "Harbour B")
  fresh <- write_part_reports(folder, "section", tempfile(), cores = 1)
  sums <- function(table) unname(tools::md5sum(table$file))
  expect_identical(sums(second), sums(fresh))
})

test_that("of a plan only what was typed into it makes a report stale, and only its own", {
  folder <- demo_copy()
  stale <- function() internal("stale_files")(folder)
  part <- c("--only", "section=Harbour A")
  run_here("report", folder)
  expect_no_match(c(run_here("plan", folder)$err, run_here("plan", folder, part)$err), "Made before")
  run_here("report", folder, part, "--out", file.path(folder, "part.html"))
  type <- function(name) {
    path <- file.path(folder, name)
    plan <- data.table::fread(path, colClasses = "character", data.table = FALSE)
    plan$activity[1] <- "Act it out"
    data.table::fwrite(plan, path)
  }
  type("plan-section-harbour-a.csv")
  own <- c("part.html", "plan-section-harbour-a.docx", "plan-section-harbour-a.md")
  expect_setequal(stale(), own)
  type("plan.csv")
  expect_setequal(stale(), c(own, "report.html", "plan.docx", "plan.md"))
  expect_match(run_here("report", folder)$err, "part.html", fixed = TRUE)
  expect_setequal(stale(), c(own, "plan.docx", "plan.md"))
})

test_that("after a change it is said what was made before it, until it is taken back", {
  only_in_all()
  folder <- demo_copy()
  run_here("report", folder)
  run_here("slips", folder)
  before <- run_here("items", folder)$err
  expect_no_match(before, "Made before")
  change <- run_here("adjust", folder, "--item", "Q3", "--student", "h001", "--points", "0")
  expect_match(change$err, "Made before the last change: report.html, slips.html", fixed = TRUE)
  again <- run_here("report", folder)
  expect_match(again$err, "Made before the last change: slips.html", fixed = TRUE)
  expect_no_match(run_here("slips", folder)$err, "Made before")
  list <- read.csv(file.path(folder, "adjustments.csv"))
  back <- run_here("adjust", folder, "--undo", as.character(nrow(list) + 1))
  expect_match(back$err, "report.html, slips.html", fixed = TRUE)
})
