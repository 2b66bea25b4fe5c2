test_that("commas, semicolons, tabs, a byte order mark and any line end read the same", {
  plain <- summarise_students(read_sitting(plain_folder()))
  rows <- c("student,Q1,Q2", "a,A,B", "b,B,B", "c,A,C")
  forms <- list(
    gsub(",", ";", rows),
    gsub(",", "\t", rows),
    c(paste0("\ufeff", rows[1]), rows[-1]),
    charToRaw(paste0(paste(rows, collapse = "\r\n"), "\r\n")),
    charToRaw(paste(rows, collapse = "\n")),
    c(rows, ""),
    gsub("([^,]+)", "\"\\1\"", rows),
    c("student , Q1,Q2", "a , A,B", "b,B, B", "c,A,C")
  )
  for (form in forms) {
    expect_equal(
      summarise_students(read_sitting(plain_folder(form))),
      plain,
      ignore_attr = TRUE
    )
  }
})

test_that(
  "ids keep their leading zeros, and text with commas, quotes and line ends stays whole",
  {
    folder <- plain_folder(
      c("student,Q1,Q2", "007,\"a, \"\"b\"\"\",B", "08,\"two\nlines\",B", "9,A,X"),
      options.csv = c("item,option", "Q1,A", "Q1,B", "Q2,B")
    )
    quiz <- read_sitting(folder)
    expect_equal(quiz$students$student, c("007", "08", "9"))
    expect_equal(
      internal("shown_cells")(quiz)[1:2, 1],
      c("a, \"b\"", "two\nlines"),
      ignore_attr = TRUE
    )
    findings <- check_sitting(quiz)
    expect_equal(findings$line[findings$value == "X"], 5) # the quoted line end counts
  }
)

test_that("only responses and items are needed, and the folder's name is the title", {
  folder <- plain_folder()
  expect_equal(read_sitting(folder)$settings$title, basename(folder))
  expect_refused(
    read_sitting(file.path(folder, "nowhere")),
    "folder",
    "There is no folder"
  )
  unlink(file.path(folder, "items.csv"))
  expect_refused(
    read_sitting(folder),
    "folder",
    "has no items.csv",
    "holds: responses.csv"
  )
})

test_that("a mistake is answered with file, line, column, the value and what to do", {
  expect_refused(
    read_sitting(plain_folder(items = c("item,key,points", "Q1,A,1", "Q2,B,zero"))),
    "input",
    "items.csv, line 3, column points: \"zero\"",
    "the most a student can earn"
  )
  expect_refused(
    read_sitting(plain_folder(items = c("item,type,key", "Q1,,A", "Q2,number,many"))),
    "input",
    "items.csv, line 3, column key: \"many\"",
    "looks like 12.4"
  )
  expect_refused(
    read_sitting(plain_folder(items = c("name,key", "Q1,A"))),
    "input",
    "items.csv has no column \"item\"",
    "name, key"
  )
  expect_refused(
    read_sitting(plain_folder(c("student,Q1,Q1", "a,A,B"))),
    "input",
    "responses.csv, line 1: \"Q1\""
  )
  expect_refused(
    read_sitting(plain_folder(c("student,Q1,Q2", "a,A,B", "b,B", "c,A,B,C"))),
    "input",
    "too few or too many cells"
  )
  expect_refused(
    read_sitting(plain_folder(character())),
    "input",
    "responses.csv is empty"
  )
})

test_that("a table without a column that it needs is told which, and what it holds", {
  columns <- internal("folder_columns")
  held <- internal("section_of")("columns_of_files")
  of_tests <- setdiff(names(columns), c("judges", "placements", "plan"))
  for (name in of_tests) {
    for (needed in columns[[name]]$must) {
      folder <- file.path(withr::local_tempdir(), "test")
      dir.create(folder)
      file.copy(list.files(demo_path(), "[.](csv|yml)$", full.names = TRUE), folder)
      path <- file.path(folder, paste0(name, ".csv"))
      header <- paste(unlist(columns[[name]]), collapse = ",")
      lines <- if (file.exists(path)) readLines(path) else header
      lines[1] <- sub(paste0("\\b", needed, "\\b"), "other", lines[1])
      writeLines(lines, path)
      expect_refused(
        read_sitting(folder), "input",
        sprintf("%s.csv has no column \"%s\"", name, needed), held[[name]][[needed]]
      )
    }
  }
  # Each column has its words, and the help page names it.
  page <- tools::Rd_db("pregunta")[["read_sitting.Rd"]]
  help <- paste(utils::capture.output(page), collapse = " ")
  for (name in names(columns)) {
    known <- unlist(columns[[name]], use.names = FALSE)
    expect_setequal(names(held[[name]]), known)
    missing <- known[!vapply(sprintf("\\code{%s}", known), grepl, TRUE, help, fixed = TRUE)]
    expect_identical(missing, character(), label = name)
  }
})

test_that(
  "Windows-1252 and UTF-16 are read and said; a byte that no text has is pointed at",
  {
    latin <- c(charToRaw("student,Q1,Q2\na,A,B\nJos"), as.raw(0xe9), charToRaw(",A,B\n"))
    wide <- c(
      as.raw(c(0xff, 0xfe)),
      iconv("student,Q1,Q2\na,A,B\nJos\u00e9,A,B\n", "UTF-8", "UTF-16LE", toRaw = TRUE)[[
        1
      ]]
    )
    for (bytes in list(latin, wide)) {
      quiz <- read_sitting(plain_folder(bytes))
      expect_equal(quiz$students$student, c("a", "Jos\u00e9"))
      expect_match(check_sitting(quiz)$finding, "is read as (Windows-1252|UTF-16LE)")
    }
    expect_refused(
      read_sitting(
        plain_folder(c(charToRaw("student,Q1\na,"), as.raw(0), charToRaw("A\n")))
      ),
      "input",
      "byte 14"
    )
    folder <- plain_folder()
    unlink(file.path(folder, "responses.csv"))
    dir.create(file.path(folder, "responses.csv"))
    expect_refused(read_sitting(folder), "input", "is a folder, not a file")
  }
)

test_that("test.yml is read with the line of each mistake, and never runs code", {
  marker <- tempfile()
  yml <- c("title: A test", paste0("date: !expr file.create('", marker, "')"))
  quiz <- read_sitting(plain_folder(test.yml = yml))
  expect_false(file.exists(marker))
  expect_equal(quiz$settings$title, "A test")
  expect_refused(
    read_sitting(plain_folder(test.yml = c("title: x", "", "blanks: zreo"))),
    "input",
    "test.yml, line 3",
    "Did you mean \"zero\"?"
  )
  expect_refused(
    read_sitting(plain_folder(test.yml = "a: [1")),
    "input",
    "not valid YAML"
  )
  expect_refused(
    read_sitting(plain_folder(test.yml = "just words")),
    "input",
    "holds no settings"
  )
  expect_equal(
    read_sitting(plain_folder(test.yml = "# nothing yet"))$settings$blanks,
    "zero"
  )
  levels <- read_sitting(
    plain_folder(test.yml = "levels: {not yet: 0, there: 0.6}")
  )$settings$levels
  expect_equal(levels, list("not yet" = 0, there = 0.6))
})

test_that("rows and columns with nothing in them are no rows and columns", {
  folder <- plain_folder(c("student,Q1,Q2,,", "a,A,B,,", ",,,,", "b,B,B,,", "c,A,C,,"))
  expect_equal(read_sitting(folder)$students$student, c("a", "b", "c"))
  expect_refused(
    read_sitting(plain_folder(c("student,Q1,Q2", "a,A,B", ",B,B"))),
    "input",
    "responses.csv, line 3, column student"
  )
})

test_that("reading changes no file", {
  folder <- demo_copy()
  before <- tools::md5sum(list.files(folder, recursive = TRUE, full.names = TRUE))
  quiz <- read_sitting(folder)
  summarise_items(quiz)
  check_sitting(quiz)
  expect_identical(
    tools::md5sum(list.files(folder, recursive = TRUE, full.names = TRUE)),
    before
  )
})

test_that("the two files of the README are enough", {
  folder <- plain_folder(
    c("student,Q1,Q2,Q3", "ada,B,ebb,12.5", "ben,C,Ebb tide,11"),
    items = c(
      "item,type,key", "Q1,choice,B", "Q2,text,ebb|ebb tide", "Q3,number,12.4\u00b10.2"
    )
  )
  expect_equal(summarise_students(read_sitting(folder))$points, c(3, 1))
  expect_equal(pregunta("items", folder)$status, 0)
  expect_equal(pregunta("report", folder)$status, 0)
  expect_gt(file.size(file.path(folder, "report.html")), 1e5)
})

test_that("what is seen of a large file's bytes is what is there, wherever a block ends", {
  path <- tempfile(fileext = ".csv")
  block <- 2^18
  cells <- list(
    "\n", "\r\n", "\"\"", ",\"\",", "x\"\"y", "'", strrep("y", 20000), "\u00e9"
  )
  for (cell in cells) {
    for (before in block - c(-1, 0, 1, 2, 3)) {
      start <- c(strrep("c,\n", before %/% 3), strrep("\n", before %% 3))
      bytes <- charToRaw(paste(c(start, cell, "\nz"), collapse = ""))
      writeBin(bytes, path)
      seen <- internal("scan_text")(path, FALSE)
      label <- paste(substr(cell, 1, 8), before)
      expect_equal(seen$bytes, length(bytes), label = label)
      expect_equal(seen$breaks, sum(bytes == charToRaw("\n")), label = label)
      expect_equal(seen$returns, sum(bytes == charToRaw("\r")), label = label)
      expect_identical(seen$quoted, grepl("\"", cell, fixed = TRUE), label = label)
      expect_identical(seen$doubled, startsWith(cell, "x"), label = label)
      expect_identical(seen$apostrophe, cell == "'", label = label)
      expect_true(is.na(seen$first_bad), label = label)
      if (nchar(cell) > 16384) expect_equal(seen$longest, nchar(cell), label = label)
    }
  }
})
