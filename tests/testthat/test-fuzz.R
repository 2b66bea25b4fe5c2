# Broken files of every kind that there is a reader for (helper-fuzz.R; make fuzz runs
# thousands), and what is refused before a parser is given it.

test_that("24 broken files are read, or refused in words: none breaks it or moves a terminal", {
  only_in_all()
  skip_on_cran()
  targets <- fuzz_targets()
  found <- do.call(rbind, parallel::mclapply(
    40000 + 1:24,
    fuzz_case,
    targets = targets,
    seconds = 60,
    mc.cores = max(1, parallel::detectCores()),
    mc.preschedule = FALSE
  ))
  kind <- sub(":.*", "", found[, "outcome"])
  expect_identical(unname(found[!kind %in% c("done", "told"), "outcome"]), character())
  expect_gt(sum(kind == "done"), 4)
  expect_gt(length(unique(found[, "target"])), 10)
})

test_that("the fuzzer sees an error that nobody foresaw, a crash and an unsafe letter", {
  outcome <- function(...) sub(":.*", "", fuzz_outcome(..., words = "new"))
  expect_equal(outcome(0L, "fine", ""), "done")
  expect_equal(outcome(1L, "", strrep("it is said what is wrong ", 3)), "told")
  expect_equal(outcome(1L, "", "no"), "short")
  expect_equal(outcome(NULL, "", ""), "crash")
  expect_equal(outcome(1L, "", "pregunta did not foresee: x"), "raw")
  expect_equal(outcome(0L, "a\u202eb", ""), "unsafe")
})

test_that("what would fill the memory is refused by its size, depth or number, and can be allowed", {
  refused <- function(bytes, name, words) {
    path <- file.path(tempfile("bomb-"), name)
    dir.create(dirname(path))
    writeBin(bytes, path)
    expect_refused(read_account(path), "input", words)
  }
  text <- function(...) charToRaw(paste0(...))
  deep <- 5000
  refused(text("<assessmentResult>", strrep("<a>", deep)), "a.xml", "is nested 5 001 deep")
  refused(text("{\"a\":", strrep("[", deep), "}"), "a.json", "is nested 5 001 deep")
  refused(text(strrep(",", 5000)), "a.csv", "has 5 001 columns")
  refused(text("student,Q1\n", strrep("x", 1e6), ",A\n"), "a.csv", "a cell of 500 001 letters")
  wide <- paste(rep("a", 1500), collapse = ",")
  refused(text(wide, "\n", strrep("b,c\n", 20000)), "a.csv", "reaches over 30 003 000 cells")
  questions <- paste0("Q", 1:600)
  refused(
    text("student,", paste(questions, collapse = ","), "\n", "a", strrep(",A", 600), "\n"),
    "a.csv",
    "has 600 questions"
  )
  chain <- c("code,parent", paste0("S", 1:300, ",", c("", paste0("S", 1:299))))
  folder <- plain_folder(standards.csv = chain)
  expect_refused(read_sitting(folder), "input", "lie 299 levels deep")
  old <- Sys.getenv("PREGUNTA_LIMITS", NA)
  Sys.setenv(PREGUNTA_LIMITS = "5")
  expect_s3_class(read_sitting(folder), "pregunta_sitting")
  Sys.setenv(PREGUNTA_LIMITS = "nonsense")
  expect_refused(read_sitting(folder), "input", "lie 299 levels deep")
  if (is.na(old)) Sys.unsetenv("PREGUNTA_LIMITS") else Sys.setenv(PREGUNTA_LIMITS = old)
})

test_that("a sheet whose cells stand nowhere, or too far, never reaches the parser of workbooks", {
  book <- openxlsx::createWorkbook()
  openxlsx::addWorksheet(book, "R")
  openxlsx::writeData(book, "R", data.frame(student = c("a", "b"), Q1 = c("A", "B")))
  path <- tempfile(fileext = ".xlsx")
  openxlsx::saveWorkbook(book, path)
  with_sheet <- function(change) {
    room <- tempfile("room-")
    utils::unzip(path, exdir = room)
    sheet <- file.path(room, "xl", "worksheets", "sheet1.xml")
    text <- paste(readLines(sheet, warn = FALSE), collapse = "")
    writeLines(change(text), sheet, sep = "")
    made <- tempfile(fileext = ".xlsx")
    zip::zip(made, list.files(room, recursive = TRUE, all.files = TRUE), root = room)
    made
  }
  refused <- function(from, to, words) {
    made <- with_sheet(function(text) sub(from, to, text, fixed = TRUE))
    expect_refused(read_account(made), "input", words)
  }
  refused("r=\"A1\"", "r=\"A-5\"", "has a cell at no place of a sheet")
  refused("r=\"A1\"", "r=\"ZZZ1\"", "has a cell at no place of a sheet")
  refused("r=\"B2\"", "r=\"XFD1048576\"", "reaches over 17 179 869 184 cells")
  deep <- paste0(strrep("<x>", 5000), strrep("</x>", 5000), "</sheetData>")
  refused("</sheetData>", deep, "is nested 5 002 deep")
  whole <- with_sheet(identity)
  expect_equal(attr(read_account(whole, key = "later"), "responses")$Q1, c("A", "B"))
})

test_that("a shape says the place of what is of another kind", {
  fault <- internal("shape_fault")
  fields <- internal("fields_of")
  text <- internal("a_text")
  shape <- fields(
    name = text,
    n = internal("a_number"),
    list = internal("each_of")(fields(id = text, must = "id"))
  )
  place <- function(value) paste(fault(value, shape)$place, collapse = ".")
  expect_null(fault(list(name = "a", n = 1, other = list()), shape))
  expect_null(fault(list(name = NULL), shape))
  expect_equal(place(list(name = list("a"))), "name")
  expect_equal(place(list(n = "x")), "n")
  expect_equal(place(list(list = list(list(id = "a"), list()))), "list.2.id")
  expect_equal(place(list(list = list(list(id = "a"), NULL))), "list.2")
  expect_equal(place(list(list = list(a = 1))), "list")
  expect_equal(fault(list(list = "x"), shape)$wanted, "fields")
  expect_equal(fault(list(name = "a", name = "b"), shape)$wanted, "once")
})

test_that("what once broke a reader is told in words", {
  skip_on_cran()
  # A quotation mark of two, on which the reader of tables dies; a name in test.yml that
  # is no pattern.
  for (seed in c(31628, 31426, 51258)) {
    found <- fuzz_case(seed)
    expect_match(found[["outcome"]], "^(told|done)", label = paste("seed", seed))
  }
  folder <- plain_folder(
    c("student,Q1", "s1,A"),
    items = c("item,type,key", "Q1,choice,A"),
    test.yml = "'[?*(': 1"
  )
  expect_refused(read_sitting(folder), "input", "test.yml, line 1")
})
