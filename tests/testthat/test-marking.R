# Marking by hand: the sheet, its way back, and what it will not do.

marking_folder <- function() {
  plain_folder(
    c(
      "student,Q1,Q2,Q2 points,Q3,Q3 comment", "a,A,it ebbs,,(pending),",
      "b,B,\"it  ebbs\",,,", "c,A,=1+1,,2,", "d,A,done,1,1,"
    ),
    c(
      "item,type,key,points,prompt", "Q1,choice,A,1,One?", "Q2,open,,3,Why?",
      "Q3,mark,,2,Show it."
    ),
    students.csv = c("student,name", "a,Ada", "b,Ben", "c,Cy", "d,Di")
  )
}
filled <- function(folder, ..., name = "back.csv") {
  sheet <- read.csv(
    file.path(folder, "marking.csv"),
    colClasses = "character",
    na.strings = ""
  )
  for (change in list(...)) {
    sheet[[change[[2]]]][sheet$answer == change[[1]]] <- change[[3]]
  }
  path <- file.path(folder, name)
  write.csv(sheet, path, row.names = FALSE, na = "")
  path
}

test_that(
  paste0(
    "the sheet holds what waits, equal answers together, names or none; the workbook ",
    "says the same"
  ),
  {
    folder <- marking_folder()
    paths <- write_marking(folder)
    sheet <- read.csv(paths[1], colClasses = "character", na.strings = "")
    expect_equal(sheet$item, c("Q2", "Q2", "Q3"))
    expect_equal(sheet$answer, c("it ebbs", "'=1+1", "(on paper)"))
    expect_equal(sheet$times, c("2", "1", "1"))
    expect_equal(sheet$most, c("3", "3", "2"))
    expect_equal(sheet$who, c("Ada; Ben", "Cy", "Ada"))
    expect_equal(sheet$student, c(NA, NA, "a"))
    book <- as.data.frame(readxl::read_excel(paths[2], "marking"))
    expect_equal(book$answer, c("it ebbs", "=1+1", "(on paper)"))
    cells <- rawToChar(
      internal("read_zip_entry")(paths[2], "xl/worksheets/sheet1.xml", 1e6)
    )
    expect_true(grepl("<c ", cells, fixed = TRUE) && !grepl("<f>", cells, fixed = TRUE))
    hidden <- paste(
      unlist(read.csv(write_marking(folder, names = FALSE)[1])),
      collapse = " "
    )
    expect_no_match(hidden, "Ada|Ben|Cy")
  }
)

test_that(
  "a half-marked sheet is read, the rest waits on, and reading it again adds nothing",
  {
    folder <- marking_folder()
    write_marking(folder)
    originals <- readLines(file.path(folder, "responses.csv"))
    back <- filled(
      folder,
      list("it ebbs", "points", "2,5"),
      list("it ebbs", "comment", "Say why.")
    )
    counts <- read_marking(folder, back)
    expect_equal(counts$n, c(2, 0, 2, 2))
    quiz <- read_sitting(folder)
    expect_equal(summarise_students(quiz)$points, c(3.5, 2.5, 3, 3))
    expect_equal(quiz$students$status, c("waiting", "sat", "waiting", "sat"))
    expect_equal(internal("comments_of")(quiz)$student, c("a", "b"))
    expect_equal(read_marking(folder, back)$n, c(0, 0, 0, 2))
    paper <- filled(
      folder,
      list("(on paper)", "points", "2"),
      list("'=1+1", "points", "0")
    )
    expect_equal(read_marking(folder, paper)$n, c(2, 0, 0, 0))
    expect_null(write_marking(folder))
    expect_equal(summarise_students(read_sitting(folder))$points, c(5.5, 2.5, 3, 3))
    expect_identical(readLines(file.path(folder, "responses.csv")), originals)
  }
)

test_that(
  paste0(
    "a mark changed in the sheet is changed in the list; one that adjust gave is not ",
    "overruled"
  ),
  {
    folder <- marking_folder()
    write_marking(folder)
    read_marking(folder, filled(folder, list("it ebbs", "points", "1")))
    expect_equal(
      read_marking(folder, filled(folder, list("it ebbs", "points", "3")))$n[1:2],
      c(0, 2)
    )
    expect_equal(summarise_students(read_sitting(folder))$points[1:2], c(4, 3))
    adjust(folder, "undo", student = "a", item = "Q2")
    adjust(folder, "points", student = "a", item = "Q2", value = 0.5, reason = "copied")
    before <- readLines(file.path(folder, "adjustments.csv"))
    expect_refused(
      read_marking(folder, filled(folder, list("it ebbs", "points", "2"))),
      "input",
      "mark of a was changed by an adjustment",
      "back.csv, line 2, column points",
      "0.5"
    )
    expect_identical(readLines(file.path(folder, "adjustments.csv")), before)
  }
)

test_that(
  paste0(
    "points the item cannot give and answers nobody gave are refused whole; a marked ",
    "sheet is not written over"
  ),
  {
    folder <- marking_folder()
    write_marking(folder)
    back <- filled(
      folder,
      list("it ebbs", "points", "1"),
      list("(on paper)", "points", "3")
    )
    expect_refused(
      read_marking(folder, back),
      "input",
      "back.csv, line 4, column points: \"3\"",
      "from 0 to 2"
    )
    expect_refused(
      read_marking(folder, filled(folder, list("it ebbs", "points", "one"))),
      "input",
      "line 2",
      "\"one\""
    )
    expect_refused(
      read_marking(
        folder,
        filled(folder, list("it ebbs", "answer", "it ebs"), list("it ebs", "points", "1"))
      ),
      "input",
      "not an answer to Q2 that waits",
      "Did you mean \"it ebbs\""
    )
    expect_refused(
      read_marking(folder, file.path(folder, "items.csv")),
      "input",
      "no column \"answer\""
    )
    expect_false(file.exists(file.path(folder, "adjustments.csv")))
    marked <- filled(folder, list("it ebbs", "points", "1"), name = "marking.csv")
    expect_refused(write_marking(folder), "output", "marks in it that were not read back")
    read_marking(folder, marked)
    expect_no_error(write_marking(folder))
  }
)

test_that("on the command line: written, read back, and nothing left to mark", {
  folder <- demo_copy()
  expect_match(
    run_here("mark", folder, "--no-names")$out,
    "24 answers wait for a mark: Q23 (1) and Q24 (23)",
    fixed = TRUE,
    all = FALSE
  )
  sheet <- read.csv(file.path(folder, "marking.csv"), colClasses = "character")
  expect_null(sheet$who)
  sheet$points <- "1"
  write.csv(sheet, file.path(folder, "marking.csv"), row.names = FALSE, na = "")
  expect_match(
    run_here("mark", folder, "--back", file.path(folder, "marking.csv"))$out,
    "24 marks taken in",
    all = FALSE
  )
  expect_match(run_here("mark", folder)$out, "No answer waits", all = FALSE)
  expect_false("waiting" %in% read_sitting(folder)$students$status)
})
