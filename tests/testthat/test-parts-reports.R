# A report for each part of one test.

parts_folder <- function(...) {
  folder <- folder_of()
  file.copy(list.files(demo_path(), "[.](csv|yml)$", full.names = TRUE), folder)
  folder
}

page_of <- function(path) paste(readLines(path, warn = FALSE), collapse = "\n")

test_that("each part has the report that --only makes of it, with its own plan and names", {
  only_in_all()
  folder <- parts_folder()
  quiz <- read_sitting(folder)
  run_here("plan", folder, "--only", "teacher=Ms Lantern")
  plan <- file.path(folder, "plan-teacher-ms-lantern.csv")
  table <- read.csv(plan, colClasses = "character")
  table$note[1] <- "in pairs, with the tide table"
  write.csv(table, plan, row.names = FALSE, na = "")
  call <- run_here("report", folder, "--each", "teacher")
  expect_equal(call$status, 0)
  made <- file.path(folder, "reports-teacher")
  expect_setequal(
    list.files(made), c("index.html", "teacher-mr-beacon.html", "teacher-ms-lantern.html")
  )
  lantern <- page_of(file.path(made, "teacher-ms-lantern.html"))
  run_here("report", folder, "--only", "teacher=Ms Lantern")
  expect_identical(lantern, page_of(file.path(folder, "report.html")))
  expect_match(lantern, "in pairs, with the tide table", fixed = TRUE)
  others <- quiz$students$name[quiz$students$teacher %in% "Mr Beacon"]
  expect_false(any(vapply(others, grepl, TRUE, lantern, fixed = TRUE)))
  index <- page_of(file.path(made, "index.html"))
  for (said in c("Mr Beacon", "teacher-ms-lantern.html", "Tides and Currents")) {
    expect_match(index, said, fixed = TRUE)
  }
})

test_that("values are themselves, whatever signs they have, and nobody is in two reports", {
  only_in_all()
  folder <- parts_folder()
  path <- file.path(folder, "students.csv")
  students <- read.csv(path, colClasses = "character")
  clubs <- c("A*", "AB", "A, B", "a b", "a/b", "../x", "<b>")
  students$club <- rep(c(clubs, ""), length.out = nrow(students))
  write.csv(students, path, row.names = FALSE)
  table <- write_part_reports(folder, "club", tempfile(), cores = 1)
  expect_setequal(table$part, clubs)
  expect_equal(anyDuplicated(table$file), 0)
  expect_true(all(file.exists(table$file)))
  expect_length(unique(dirname(normalizePath(table$file))), 1)
  quiz <- read_sitting(folder)
  expect_equal(
    table$n,
    vapply(table$part, function(club) {
      mine <- quiz$students$club %in% club
      sum(mine & !quiz$students$status %in% c("absent", "excused"))
    }, 0, USE.NAMES = FALSE)
  )
  expect_equal(attr(table, "without"), sum(is.na(quiz$students$club)))
  expect_no_match(page_of(attr(table, "index")), "<b>", fixed = TRUE)
})

test_that("parts that may not be shown are listed with the reason, the others are made", {
  folder <- parts_folder()
  cat("\nsmallest_group: 10\n", file = file.path(folder, "test.yml"), append = TRUE)
  path <- file.path(folder, "students.csv")
  students <- read.csv(path, colClasses = "character")
  students$club <- ifelse(seq_len(nrow(students)) <= 4, "few", ifelse(students$section == "", "", "many"))
  write.csv(students, path, row.names = FALSE)
  call <- run_here("report", folder, "--each", "club")
  expect_equal(call$status, 1)
  expect_match(call$err, "few: ", fixed = TRUE)
  expect_false(file.exists(file.path(folder, "reports-club", "club-few.html")))
  # What is left out of the other part are these few.
  expect_match(call$err, "many: ", fixed = TRUE)
  expect_equal(run_here("report", folder, "--each", "techer")$status, 2)
  expect_equal(run_here("report", folder, "--each", "club", "--only", "club=few")$status, 2)
  expect_equal(run_here("report", dirname(folder), "--each", "club")$status, 2)
})
