# A blank sheet for a paper test, and its way back.

form_folder <- function(...) {
  folder_of(
    items.csv = c(
      "item,type,key,points,prompt", "K1,mark,,1,Bowline", "Q2,choice,B,1,Why?",
      "L3,mark,,3,", "E4,open,,2,"
    ),
    students.csv = c(
      "student,name,section", "007,Ada Anchorley,x", "b2,=cmd|' /C calc'!A0,y"
    ),
    options.csv = c("item,option", "Q2,A", "Q2,B"),
    ...
  )
}

test_that(
  paste0(
    "a form lays out students and questions, with the allowed answers as a list in the ",
    "cell"
  ),
  {
    folder <- form_folder()
    paths <- write_form(folder)
    csv <- read.csv(paths[1], colClasses = "character", check.names = FALSE)
    expect_equal(
      names(csv),
      c("student", "name", "section", "K1", "Q2", "L3", "E4", "E4 points")
    )
    expect_equal(csv$student, c("(question)", "007", "b2"))
    expect_equal(csv$K1, c("Bowline", "", ""))
    expect_match(csv$name[3], "^'=") # no formula
    sheet <- rawToChar(
      internal("read_zip_entry")(paths[2], "xl/worksheets/sheet1.xml", 1e6)
    )
    rules <- regmatches(sheet, gregexpr("(?<=sqref>)[A-Z0-9:]+", sheet, perl = TRUE))[[1]]
    expect_equal(rules, c("D3:D4", "E3:E4", "F3:F4", "H3:H4"))
    allowed <- readxl::read_excel(
      paths[2],
      "allowed",
      col_names = FALSE,
      .name_repair = "minimal"
    )
    expect_equal(
      unlist(allowed, use.names = FALSE) |> stats::na.omit() |> as.vector(),
      c("yes", "no", "A", "B", "0", "1", "2", "3", "0", "1", "2")
    )
    expect_false(any(grepl("<f>", sheet, fixed = TRUE)))
  }
)

test_that(
  paste0(
    "a half filled sheet comes back, more of it later, and nothing that is there is ",
    "overwritten"
  ),
  {
    folder <- form_folder()
    paths <- write_form(folder)
    lines <- readLines(paths[1])
    fill <- function(...) writeLines(c(lines[1:2], ...), paths[1])
    fill("007,Ada,x,yes,B,,,", "b2,Ben,y,,,,,")
    expect_equal(read_form(folder, paths[1])$n, c(2, 6 + 2, 2))
    expect_equal(summarise_students(read_sitting(folder))$status, c("sat", "absent"))
    expect_refused(write_form(folder), "output", "has answers in it already")
    fill("007,Ada,x,yes,B,2,Because,1.5", "b2,Ben,y,no,A,,,")
    call <- pregunta("form", folder, "--back", paths[1])
    expect_equal(call$status, 0)
    expect_match(call$out, "7 cells filled in", all = FALSE)
    expect_equal(summarise_students(read_sitting(folder))$points, c(1 + 1 + 2 + 1.5, 0))
    # as somebody else may have left it
    write("", file.path(folder, "responses.csv"), append = TRUE)
    before <- readLines(file.path(folder, "responses.csv"))
    expect_equal(read_form(folder, paths[1])$n[3], 0)
    # nothing new, nothing written
    expect_identical(readLines(file.path(folder, "responses.csv")), before)
    fill("007,Ada,x,no,B,,,")
    expect_refused(
      read_form(folder, paths[1]),
      "input",
      "says something other",
      "line 3, column K1: \"no\"",
      "There it is \"yes\""
    )
    # what the sheet says counts when that is asked for
    counts <- read_form(folder, paths[1], replace = TRUE)
    expect_equal(counts$n[3:4], c(0, 1))
    expect_equal(read.csv(file.path(folder, "responses.csv"))$K1[1], "no")
    writeLines(before, file.path(folder, "responses.csv"))
    fill("008,Ada,x,no,B,,,")
    expect_refused(read_form(folder, paths[1]), "input", "not in students.csv", "\"007\"")
    expect_identical(readLines(file.path(folder, "responses.csv")), before)
  }
)

test_that("the workbook reads back as the CSV does, typed as numbers or as text", {
  folder <- form_folder()
  book <- openxlsx::loadWorkbook(write_form(folder)[2])
  openxlsx::writeData(
    book,
    "responses",
    data.frame("yes", "B", 2, "Because", 1.5),
    startRow = 3,
    startCol = 4,
    colNames = FALSE
  )
  filled <- file.path(folder, "filled.xlsx")
  openxlsx::saveWorkbook(book, filled)
  read_form(folder, filled)
  quiz <- read_sitting(folder)
  expect_equal(
    summarise_students(quiz)[1:2, c("student", "points", "status")],
    data.frame(
      student = c("007", "b2"),
      points = c(5.5, NA),
      status = c("sat", "absent")
    ),
    ignore_attr = TRUE
  )
})

test_that("a test folder may be one workbook", {
  folder <- folder_of()
  book <- openxlsx::createWorkbook()
  demo <- lapply(
    stats::setNames(
      nm = c("responses", "items", "options", "students", "standards", "misconceptions")
    ),
    function(name) {
      read.csv(
        file.path(demo_path(), paste0(name, ".csv")),
        colClasses = "character",
        check.names = FALSE,
        na.strings = NULL
      )
    }
  )
  for (name in names(demo)) {
    openxlsx::addWorksheet(book, name)
    openxlsx::writeData(book, name, demo[[name]])
  }
  openxlsx::saveWorkbook(book, file.path(folder, "test.xlsx"))
  file.copy(file.path(demo_path(), "test.yml"), folder)
  expect_equal(
    summarise_items(read_sitting(folder)),
    summarise_items(read_sitting(demo_path()))
  )
  expect_match(
    check_sitting(read_sitting(folder))$file,
    "test.xlsx sheet responses",
    all = FALSE,
    fixed = TRUE
  )
})
