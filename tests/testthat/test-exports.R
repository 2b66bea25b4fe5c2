# Nothing is misread: what a raw export is taken for is right, or it is asked.

reference_exports <- function() test_path("reference", "exports")

test_that("small exports that are easily misread are read right", {
  room <- reference_exports()
  expected <- utils::read.csv(
    file.path(room, "expected.csv"),
    colClasses = c("character", "character", "character", "numeric", "numeric")
  )
  for (part in split(expected, expected$file)) {
    file <- part$file[1]
    key <- if (nzchar(part$key[1])) file.path(room, part$key[1])
    folder <- tempfile("made")
    new_test(folder, file.path(room, file), key = key)
    quiz <- read_sitting(folder)
    students <- summarise_students(quiz)
    expect_setequal(students$student, part$student)
    expect_equal(
      students$points[match(part$student, students$student)],
      part$points,
      label = file
    )
    expect_equal(sum(quiz$items$points), part$of[1], label = file)
  }
})

test_that("of made-up exports none is misread, and nearly all are read at once", {
  skip_on_cran()
  seeds <- seq_len(as.integer(Sys.getenv("PREGUNTA_EXPORTS", "90")))
  languages <- rep_len(names(export_words), length(seeds))
  kinds <- rep_len(export_kinds, length(seeds))
  outcome <- unlist(parallel::mclapply(seeds, function(seed) {
    advised_outcome(function() made_up_export(seed, languages[seed], kinds[seed]))
  }, mc.cores = max(1, parallel::detectCores())))
  expect_length(outcome, length(seeds))
  expect_identical(paste(kinds, seeds)[outcome == "wrong"], character())
  expect_gt(mean(outcome == "right"), 0.95)
  expect_lte(sum(outcome == "lost"), 0.05 * sum(outcome != "right") + 1)
})

# A file of these lines, and what the command makes of it.
new_from <- function(lines, ..., name = "export.csv") {
  file <- file.path(do.call(folder_of, stats::setNames(list(lines), name)), name)
  folder <- tempfile("made")
  c(pregunta("new", folder, "--from", file, ...), folder = folder)
}

unlabelled <- c("ID;Q1;Q2;Q3", "s1;A;B;C", "s2;B;B;C", "s3;A;D;C", "Zuff;1;2;1")

test_that("what is not sure is shown with the ways to read it, and one can be taken", {
  asked <- new_from(unlabelled, "--key", "later")
  expect_equal(asked$status, 2)
  expect_false(dir.exists(asked$folder))
  expect_match(asked$err, "could be read in 3 ways, so nothing was written", all = FALSE)
  expect_match(asked$err, "Line 5, \"Zuff\", could be an average or a sum", all = FALSE)
  expect_match(asked$err, "--set \"rows.points=5\"", all = FALSE, fixed = TRUE)
  points <- function(...) {
    sum(read_sitting(new_from(unlabelled, "--key", "later", ...)$folder)$items$points)
  }
  expect_equal(points("--take", "1"), 3)
  expect_equal(points("--take", "3"), 4)
  expect_equal(points("--set", "rows.points=5"), 4)
  expect_equal(new_from(unlabelled, "--key", "later", "--take", "4")$status, 2)
  condition <- tryCatch(
    read_account(file.path(folder_of(x.csv = unlabelled), "x.csv"), key = "later"),
    pregunta_error_undecided = identity
  )
  expect_equal(condition$choices$take, 1:3)
  expect_equal(condition$choices$points, c(3, 3, 4))
  expect_equal(condition$choices$set[3], "rows.points=5")
})

test_that("a preview shows the reading and writes nothing", {
  call <- new_from(c("id,Q1,Q2", "a,1,0", "b,0,1"), "--preview")
  expect_equal(call$status, 0)
  expect_false(dir.exists(call$folder))
  expect_match(call$out, "Nothing was written. responses.csv would have 2 rows", all = FALSE)
  expect_match(call$out, "^  a +1 +0$", all = FALSE)
})

test_that("the account is data: what each column and row was taken for", {
  file <- file.path(
    folder_of(
      x.csv = c(
        "Name,Klasse,Q1,Q1 points,Q2,Q2 points,Gesamt", "Ada Bay,7,A,1,B,2,3",
        "Bo Day,7,C,0,B,2,2", "Durchschnitt,,,0.5,,2,2.5"
      )
    ),
    "x.csv"
  )
  account <- read_account(file)
  expect_equal(
    attr(account, "columns")$role,
    c("name", "section", "question", "points", "question", "points", "total")
  )
  expect_equal(attr(account, "rows")$kind, "summary")
  expect_equal(attr(account, "rows")$line, 4)
  expect_equal(attr(account, "responses")$student, c("Ada Bay", "Bo Day"))
  expect_equal(sum(as.numeric(attr(account, "items")$points)), 3)
  expect_match(account$taken[account$what == "checked"], "\"Gesamt\" agrees for 2 of 2")
})

test_that("a file that contradicts itself is read only when somebody says so", {
  total <- c("Name,Q1,Q2,Total", "Ada,1,0,1", "Bo,0,1,2", "Di,1,1,3", "Cy,0,0,0")
  asked <- new_from(total)
  expect_equal(asked$status, 2)
  expect_match(asked$err, "\"Total\" does not match", all = FALSE)
  taken <- new_from(total, "--take", "1")
  expect_equal(taken$status, 0)
  expect_match(taken$out, "contradicts", all = FALSE)
  points <- c("id,Q1,Q1 points", "a,A,1", "b,B,1", "c,C,1", "d,A,0")
  key <- file.path(folder_of(k.csv = c("item,key", "Q1,A")), "k.csv")
  expect_match(
    new_from(points, "--key", key)$err,
    "agree with the key for 1 of 4 only",
    all = FALSE
  )
})

test_that("every question has a key or points, or it is said that the key comes later", {
  answers <- c("id,Q1,Q2", "a,A,B", "b,C,B")
  expect_match(new_from(answers)$err, "No question has a key", all = FALSE)
  expect_equal(new_from(answers, "--key", "later")$status, 0)
  digits <- c("id,Q1,Q2", "a,1,4", "b,3,2")
  expect_match(new_from(digits)$err, "could be marks", all = FALSE)
  types <- function(...) read_sitting(new_from(digits, ...)$folder)$items$type
  expect_equal(types("--take", "1"), c("mark", "mark"))
  expect_equal(types("--key", "later"), c("choice", "choice"))
})

test_that("namesakes are two where an id or email says so, and asked about else", {
  points <- function(lines, ...) {
    table <- summarise_students(read_sitting(new_from(lines, ...)$folder))
    stats::setNames(table$points, table$student)
  }
  rows <- c("Ada Bay,%s1,0", "Bo Day,%s1,1", "Ada Bay,%s0,0")
  with_email <- c("Name,Email,Q1,Q2", sprintf(rows, c("a@x,", "b@x,", "c@x,")))
  expect_equal(points(with_email), c("a@x" = 1, "b@x" = 2, "c@x" = 0))
  plain <- c("Name,Q1,Q2", sprintf(rows, ""))
  expect_equal(new_from(plain)$status, 2)
  apart <- points(plain, "--set", "namesakes=apart")
  expect_equal(apart, c("Ada Bay" = 1, "Bo Day" = 2, "Ada Bay 2" = 0))
  expect_equal(points(plain, "--set", "namesakes=one"), c("Ada Bay" = 1, "Bo Day" = 2))
  halves <- c("Alumno,Apellido,Q1,Q2", "Ada,Bay,1,0", "Ada,Day,0,0", "Bo,Bay,1,1")
  expect_equal(points(halves), c("Ada Bay" = 1, "Ada Day" = 0, "Bo Bay" = 2))
})

test_that("the same file twice, and one number for two students, are no test", {
  one <- c("No,Name,Q1,Q2", "1,Ada Bay,1,0", "2,Bo Day,0,1")
  other <- c("No,Name,Q1,Q2", "1,Cy Ebb,1,1", "2,Di Fay,0,1")
  folder <- folder_of(a.csv = one, b.csv = one, c.csv = other)
  expect_refused(
    new_test(tempfile(), file.path(folder, c("a.csv", "b.csv"))),
    "input",
    "b.csv was given twice",
    "b holds what a holds"
  )
  expect_refused(
    new_test(tempfile(), file.path(folder, c("a.csv", "c.csv"))),
    "undecided",
    "different students in different files: \"1\"",
    "Ada Bay",
    "--set student=Name"
  )
  made <- tempfile()
  new_test(made, file.path(folder, c("a.csv", "c.csv")), layout = list(student = "Name"))
  expect_equal(nrow(read_sitting(made)$students), 4)
})

test_that("several sheets of a workbook are joined, by name or number", {
  book <- openxlsx::createWorkbook()
  for (name in c("7-A", "7-B", "notes")) {
    openxlsx::addWorksheet(book, name)
    openxlsx::writeData(book, name, data.frame(id = paste0(name, 1:2), Q1 = 0:1, Q2 = 1))
  }
  path <- tempfile(fileext = ".xlsx")
  openxlsx::saveWorkbook(book, path)
  for (sheets in list("1,2", "7-A,7-B", c("7-A", "7-B"))) {
    made <- tempfile()
    new_test(made, path, sheet = sheets)
    students <- read_sitting(made)$students
    expect_equal(students$section, c("7-A", "7-A", "7-B", "7-B"))
  }
})

test_that("marks come as shares, fractions and signs; a set of options in any writing", {
  made <- new_from(c(
    "id,Q1,Q2 (/4),Q3,Total", "a,3/5,50%,\u00bd,\"5,5\"", "b,5/5,100%,1,10",
    "c,0/5,0%,\u2013,0"
  ))
  quiz <- read_sitting(made$folder)
  expect_equal(quiz$items$points, c(5, 4, 1))
  expect_equal(summarise_students(quiz)$points, c(5.5, 10, 0))
  sets <- c("id;Q1;Q2", "a;A, C;B", "b;AC;B", "c;c/a;D", "d;A;B")
  key <- file.path(folder_of(k.csv = c("item,key", "Q1,A;C", "Q2,B")), "k.csv")
  quiz <- read_sitting(new_from(sets, "--key", key)$folder)
  expect_equal(summarise_students(quiz)$points, c(2, 2, 1, 1))
})

test_that("headings, labels and parts are known in five languages, and none of them twice", {
  lists <- yaml::read_yaml(system.file("words", "headers.yml", package = "pregunta"))
  plain <- internal("plain_heading")
  means <- internal("heading_means")
  for (list in c("person", "long", "total", "row")) {
    for (code in names(lists[[list]])) {
      here <- lists[[list]][[code]]
      expect_true(all(c("en", "es", "fr", "de", "pt") %in% names(here)), label = code)
      phrases <- unlist(here)
      expect_equal(plain(phrases), unname(phrases), ignore_attr = TRUE, label = code)
      expect_false(anyNA(means(phrases, list)), label = code)
    }
  }
})
