# More into a folder that is there: as one step, and back.

file_of <- function(lines, name = "late.csv") {
  file.path(do.call(folder_of, stats::setNames(list(lines), name)), name)
}

monday <- c("Student,Q1,Q2,Q3", "s1,A,B,C", "s2,A,C,C", "s3,D,B,A", "s4,,,")

made_monday <- function(key = "later") {
  folder <- tempfile("monday")
  new_test(folder, file_of(monday, "monday.csv"), key = key)
  folder
}

bytes_in <- function(folder) {
  files <- setdiff(list.files(folder), "source")
  stats::setNames(tools::md5sum(file.path(folder, files)), files)
}

points_in <- function(folder) {
  table <- summarise_students(read_sitting(folder))
  stats::setNames(table$points, table$student)
}

test_that("in two parts or in one, the test is the same, and undoing brings back each byte", {
  only_in_all()
  files <- c(
    "wide-answers.csv", "wide-names-totals.csv", "wide-three-columns.csv", "long.csv"
  )
  for (name in files) {
    whole <- system.file("extdata", "exports", name, package = "pregunta")
    bytes <- readBin(whole, "raw", file.size(whole))
    lines <- strsplit(rawToChar(bytes), "\r?\n", useBytes = TRUE)[[1]]
    late <- grepl("h0[6-8][0-9]", lines, useBytes = TRUE)
    head <- seq_along(lines) < grep("trial", lines, useBytes = TRUE)[1]
    parts <- lapply(list(lines[!late], lines[late | head]), file_of, name)
    folders <- list(tempfile("whole"), tempfile("part"))
    new_test(folders[[1]], whole, key = "later")
    new_test(folders[[2]], parts[[1]], key = "later")
    before <- bytes_in(folders[[2]])
    add_to_test(folders[[2]], parts[[2]])
    tables <- lapply(folders, function(one) {
      quiz <- read_sitting(one)
      people <- summarise_students(quiz)
      items <- summarise_items(quiz)
      list(
        people[order(people$student), c("student", "name", "section", "points", "open")],
        items[order(items$item), c("item", "n", "omitted", "mean_points", "difficulty")]
      )
    })
    expect_equal(tables[[2]], tables[[1]], ignore_attr = TRUE, label = name)
    undo_addition(folders[[2]])
    expect_identical(bytes_in(folders[[2]]), before, label = name)
  }
})

test_that("who sat late, a key that was forgotten and a list of students are each one step", {
  only_in_all()
  folder <- made_monday()
  states <- list(bytes_in(folder))
  add <- function(...) {
    call <- run_here("add", folder, ...)
    expect_equal(call$status, 0, info = call$err)
    states[[length(states) + 1]] <<- bytes_in(folder)
    call$out
  }
  late <- file_of(c("Student,Q1,Q2,Q3", "s4,A,B,C", "s5,B,B,C"))
  said <- add("--from", late)
  expect_match(said, "1 new, and 1 who was waited for", all = FALSE)
  said <- add("--key", file_of(c("item,key", "1,A", "2,B", "3,C")))
  expect_match(said, "of 3 of the 3", all = FALSE)
  expect_equal(points_in(folder), c(s1 = 3, s2 = 2, s3 = 1, s4 = 3, s5 = 2))
  list <- file_of(c("id,name,class", "s1,Ada Bay,7a", "s4,Bo Day,7b", "s9,Cy Ebb,7b"))
  said <- add("--students", list)
  expect_match(said, "3 new, of 3 on the list", all = FALSE)
  again <- run_here("add", folder, "--students", list)
  expect_match(again$out, "Nothing was changed", all = FALSE)
  expect_equal(read_sitting(folder)$students$name[1], "Ada Bay")
  # by name, a blank told of a student, and a question that the others did not have
  by_name <- file_of(c("Name,Q1,Q2,Q3,Q4", "Cy Ebb,A,B,C,D"), "7c.csv")
  said <- add("--from", by_name)
  expect_match(said, "Q4 is new: it was not given to the others", all = FALSE)
  expect_equal(points_in(folder)[["s9"]], 3)
  for (k in rev(seq_along(states))[-1]) {
    call <- run_here("add", folder, "--undo")
    expect_equal(call$status, 0, info = call$err)
    expect_identical(bytes_in(folder), states[[k]])
  }
  expect_match(run_here("add", folder, "--undo")$err, "nothing to undo")
})

test_that("rows of students who have answers already are never added without a word", {
  key <- file_of(c("item,key", "Q1,A", "Q2,B", "Q3,C"))
  folder <- made_monday(key)
  before <- bytes_in(folder)
  expect_refused(add_to_test(folder, file_of(monday)), "input", "in the folder already")
  again <- file_of(c("Student,Q1,Q2,Q3", "s3,A,B,C", "s6,A,B,A"))
  expect_refused(add_to_test(folder, again), "undecided", "\"s3\" has answers", "--again")
  expect_identical(bytes_in(folder), before)
  add_to_test(folder, again, again = "skip")
  expect_equal(points_in(folder)[["s3"]], 1)
  undo_addition(folder)
  add_to_test(folder, again, again = "attempt")
  expect_equal(points_in(folder)[c("s3", "s6")], c(s3 = 3, s6 = 2))
  add_to_test(folder, file_of(c("Student,Q1,Q2,Q3", "s3,D,B,C")), again = "attempt")
  attempts <- summarise_attempts(read_sitting(folder))
  expect_equal(attempts$points[attempts$student == "s3"], c(1, 3, 2))
})

test_that("what was typed since is not undone, another key is refused, a preview writes nothing", {
  folder <- made_monday(file_of(c("item,key", "Q1,A", "Q2,B", "Q3,C")))
  before <- bytes_in(folder)
  late <- file_of(c("Student,Q1,Q2,Q3", "s5,A,B,C"))
  shown <- run_here("add", folder, "--from", late, "--preview")
  expect_match(shown$out, "would have 5 rows", all = FALSE)
  expect_identical(bytes_in(folder), before)
  expect_refused(
    add_to_test(folder, key = file_of(c("item,key", "Q1,D"))),
    "input",
    "The key of Q1 is another one",
    "adjust"
  )
  expect_refused(add_to_test(folder), "call", "nothing to add")
  expect_refused(add_to_test(folder, late, again = "skp"), "call", "skip")
  add_to_test(folder, students = file_of(c("id,name", "s1,Bay Ada")))
  same <- file_of(c("id,name,Q1,Q2,Q3", "s1,\"Bay, ADA\",D,B,C"))
  expect_error(add_to_test(folder, same), "has answers", class = "pregunta_error_undecided")
  other <- file_of(c("id,name,Q1,Q2,Q3", "s1,Cy Ebb,A,B,C"))
  expect_refused(
    add_to_test(folder, other, again = "attempt"),
    "undecided",
    "An id stands for different students"
  )
  undo_addition(folder)
  add_to_test(folder, late)
  cat("s7,A,A,A\n", file = file.path(folder, "responses.csv"), append = TRUE)
  typed <- bytes_in(folder)
  expect_refused(undo_addition(folder), "output", "responses.csv was changed since")
  expect_identical(bytes_in(folder), typed)
})
