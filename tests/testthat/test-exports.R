# Nothing is misread: what a raw export is taken for is right, or it is asked.

reference_exports <- function() test_path("reference", "exports")

test_that("small exports that are easily misread are read right", {
  room <- reference_exports()
  expected <- utils::read.csv(
    file.path(room, "expected.csv"),
    colClasses = c("character", "character", "character", "numeric", "numeric")
  )
  for (part in thinned(split(expected, expected$file), 8)) {
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
  seeds <- seq_len(as.integer(Sys.getenv("PREGUNTA_EXPORTS", if (all_tests()) "42" else "14")))
  languages <- rep_len(names(export_words), length(seeds))
  kinds <- rep_len(rep(export_kinds, each = length(export_words)), length(seeds))
  outcome <- unlist(parallel::mclapply(seeds, function(seed) {
    advised_outcome(function() made_up_export(seed, languages[seed], kinds[seed]))
  }, mc.cores = max(1, parallel::detectCores())))
  expect_length(outcome, length(seeds))
  expect_identical(paste(kinds, seeds)[outcome == "wrong"], character())
  expect_lte(sum(outcome != "right"), max(1, 0.05 * length(seeds)))
  expect_lte(sum(outcome == "lost"), 0.05 * sum(outcome != "right") + 1)
})

# A file of these lines, and what the command makes of it.
new_from <- function(lines, ..., name = "export.csv") {
  file <- file.path(do.call(folder_of, stats::setNames(list(lines), name)), name)
  folder <- tempfile("made")
  c(run_here("new", folder, "--from", file, ...), folder = folder)
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

test_that("half a name and an id unlike the others is no student, with or without a class", {
  file <- system.file("extdata", "exports", "wide-names-totals.csv", package = "pregunta")
  for (layout in list(list(), list(leave_out = "Class"))) {
    account <- read_account(file, layout = layout)
    expect_false("trial-lantern" %in% attr(account, "responses")$student)
    rows <- attr(account, "rows")
    expect_equal(rows$kind[rows$label == "Trial"], "note")
    expect_match(account$taken[account$what == "left_out"], "\"Trial\"", all = FALSE)
  }
  # A whole name beside another kind of id is somebody who came later.
  rows <- sprintf("h%03d,Ada%d,Bay%d,B,1", 1:12, 1:12, 1:12)
  file <- file.path(
    folder_of(x.csv = c("id,First name,Last name,Q1,Q1 points", rows, "new-x,Cy,Day,B,1")),
    "x.csv"
  )
  expect_length(unique(attr(read_account(file), "responses")$student), 13)
})

test_that("a preview shows the reading and writes nothing", {
  call <- new_from(c("id,Q1,Q2", "a,1,0", "b,0,1"), "--preview")
  expect_equal(call$status, 0)
  expect_false(dir.exists(call$folder))
  expect_match(call$out, "Nothing was written. responses.csv would have 2 rows", all = FALSE)
  expect_match(call$out, "^  a +1 +0$", all = FALSE)
  keyless <- new_from(c("id,Q1,Q2", "a,A,B", "b,C,B"), "--preview")
  expect_equal(keyless$status, 0)
  expect_match(keyless$out, "no key for Q1 and Q2", all = FALSE)
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

test_that("headings, labels and parts are known in each language, none twice", {
  plain <- internal("plain_heading")
  means <- internal("heading_means")
  for (code in language_codes()) {
    lists <- internal("section_in_file")("headers", code)
    for (list in intersect(names(lists), c("person", "long", "total", "row", "month"))) {
      label <- paste(code, list)
      phrases <- unlist(lists[[list]])
      expect_equal(plain(phrases), unname(phrases), ignore_attr = TRUE, label = label)
      expect_false(anyNA(means(phrases, list)), label = label)
      for (one in lists[[list]]) expect_equal(anyDuplicated(one), 0, label = label)
    }
  }
})

# The points of each student of a file, and the account of it.
points_of_file <- function(lines, key = NULL, ..., name = "export.csv") {
  room <- folder_of()
  paths <- file.path(room, if (is.list(lines)) names(lines) else name)
  Map(writeLines, if (is.list(lines)) lines else list(lines), paths)
  if (length(key) > 1) {
    writeLines(key, file.path(room, "key.txt"))
    key <- file.path(room, "key.txt")
  }
  folder <- tempfile("made")
  account <- new_test(folder, paths, key = key, ...)
  table <- summarise_students(read_sitting(folder))
  list(
    points = stats::setNames(table$points, table$student),
    account = account,
    folder = folder
  )
}

said_of <- function(made, what) made$account$taken[made$account$what == what]

test_that("dates are told apart by what fits the whole column", {
  read <- internal("read_dates")
  days <- function(...) unname(read(c(...))$text)
  third <- "2026-09-03"
  expect_equal(days("3/9/2026", "14/9/2026 2:05 PM"), c(third, "2026-09-14 14:05"))
  expect_equal(days("9/3/2026", "9/14/2026 12:15 am"), c(third, "2026-09-14 00:15"))
  expect_equal(days("03.09.26", "4.9.26", ""), c(third, "2026-09-04", ""))
  expect_equal(days("3/9/2026", "4/9/2026", "5/9/2026")[1], third) # days close together
  expect_equal(days("9/3/2026", "9/4/2026", "9/5/2026")[1], third)
  for (text in c(
    "3 Sept 2026", "September 3, 2026", "Thu, 3 September 2026", "3. September 2026",
    "3 de septiembre de 2026", "3 septembre 2026", "3 de setembro de 2026", "2026/9/3"
  )) {
    expect_equal(days(text), third)
  }
  open <- c("3/9/2026", "9/10/2026", "31/31/2026", "soon", "2026-09-03T10:00:03Z")
  expect_equal(read(open)$text, open)
  expect_equal(read(open)$order, "unsure")
  # any day of the last years, in each way to write it, is the same day
  dates <- as.Date("2019-12-28") + 0:1500
  for (form in c("%d/%m/%Y", "%m/%d/%Y", "%d.%m.%y", "%Y-%m-%d", "%d %b %Y", "%B %d, %Y")) {
    expect_identical(read(format(dates, form))$text, format(dates), label = form)
  }
  made <- points_of_file(c("Name,Handed in,Q1", "Ada,3/9/2026,1", "Bo,14/9/2026,0"))
  expect_match(said_of(made, "submitted"), "day, month, year", all = FALSE)
})

test_that("times of each question are kept, in any unit", {
  made <- points_of_file(
    c(
      "Name,Q1,Q1 time,Q2,Q2 time (min)", "Ada,1,1:23,0,2", "Bo,0,40 s,1,\"1,5\"",
      "Cy,1,2 min 5 s,1,0.5"
    )
  )
  times <- summarise_time(read_sitting(made$folder), by = "student")
  expect_equal(times$seconds[match(c("Ada", "Bo", "Cy"), times$student)], c(203, 130, 155))
  seconds <- internal("read_seconds")
  expect_equal(seconds(c("1 Std. 2 Min.", "2'05\"", "1,5 min", "3 x")), c(3720, 125, 90, NA))
})

test_that("answers that a key values stay as they are, but for the signs of a blank", {
  made <- points_of_file(
    c("id,Q1,Q2", "a,1/2,B", "b,3/4,-", "c,1/2,n/a", "d,-,B"),
    c("item,type,key", "Q1,text,1/2", "Q2,choice,B")
  )
  expect_equal(made$points, c(a = 2, b = 0, c = 1, d = 1))
  items <- summarise_items(read_sitting(made$folder))
  expect_equal(sum(items$omitted, items$not_reached), 3)
  minus <- points_of_file(
    c("id,Q1,Q2", "a,-,x", "b,+,x", "c,-,y"),
    c("item,type,key", "Q1,text,-", "Q2,text,x")
  )
  expect_equal(minus$points, c(a = 2, b = 1, c = 1))
})

test_that("an answer written as the text of its option is that option, in the key as well", {
  options <- c(
    "item,option,text", "Q1,A,High tide", "Q1,B,Low tide", "Q2,A,The sun", "Q2,B,The moon",
    "Q2,C,The  wind"
  )
  responses <- c(
    "student,Q1,Q2", "a,high tide,The moon;The wind", "b,B,A;B", "c,Low tide,B;C"
  )
  keyed <- function(key) {
    c("item,type,key,scoring", paste0("Q1,choice,", key, ","), "Q2,multiple,B;C,all")
  }
  for (key in c("A", "High Tide", "A|High tide")) {
    quiz <- read_sitting(plain_folder(responses, keyed(key), options.csv = options))
    expect_equal(summarise_students(quiz)$points, c(2, 0, 1))
    expect_true(all(check_sitting(quiz)$severity != "error"))
    expect_setequal(summarise_options(quiz)$option, c("A", "B", "C"))
  }
  room <- folder_of(items.csv = keyed("A"), options.csv = options)
  made <- points_of_file(
    c(sub("^student", "Student", paste0(responses, c(",Total", ",2", ",0", ",1")))),
    file.path(room, "items.csv")
  )
  expect_match(said_of(made, "checked"), "\"Total\" agrees for 3 of 3")
  expect_true(file.exists(file.path(made$folder, "options.csv")))
})

test_that("a letter that no question has is pointed out, and a key that nobody's answers know", {
  set.seed(3)
  answers <- matrix(sample(LETTERS[1:4], 60, TRUE), 15)
  found <- function(answers) {
    findings <- check_sitting(choice_sitting(answers))
    findings$value[grepl("no other question has such an option", findings$finding)]
  }
  expect_length(found(answers), 0)
  expect_equal(found(replace(answers, 7, "F")), "F")
  expect_length(found(replace(answers, 7, "E")), 0) # a fifth option, seldom chosen
  expect_length(found(replace(answers, 7:8, "F")), 0)
  expect_length(found(replace(answers[1:5, ], 7, "F")), 0) # too few to tell
  rows <- paste0("s", 1:15, ",", apply(answers, 1, paste, collapse = ","))
  lines <- c("id,Q1,Q2,Q3,Q4", rows)
  expect_refused(
    points_of_file(lines, c("item,key", "Q1,E", "Q2,F", "Q3,E", "Q4,A")),
    "undecided",
    "In 3 of 4 questions nobody gave the answer that the key has"
  )
  # never said where a key is that of the test: 400 tests of five students each
  never <- vapply(1:400, function(seed) {
    set.seed(seed)
    strong <- stats::plogis(stats::rnorm(5) - 0.5)
    right <- matrix(stats::runif(50) < pmax(strong, 0.25), 5)
    bundle <- list(
      items = data.frame(item = paste0("Q", 1:10), type = "choice", key = "A", points = "1"),
      responses = data.frame(student = letters[1:5], ifelse(right, "A", "B"))
    )
    names(bundle$responses)[-1] <- bundle$items$item
    !is.null(internal("check_key")(bundle))
  }, TRUE)
  expect_lte(sum(never), 2)
})

test_that("reasons in attempts that do not count are told, not lost without a word", {
  folder <- plain_folder(
    c("student,attempt,item,response,explanation", "a,1,Q1,B,one", "a,2,Q1,A,", "b,1,Q1,A,two"),
    c("item,key", "Q1,A")
  )
  findings <- check_sitting(read_sitting(folder))
  expect_match(findings$finding, "1 reason stands in an attempt that does not count", all = FALSE)
  expect_match(run_here("explanations", folder)$err, "not shown here")
})

test_that("what stands over several questions is said of each of them", {
  made <- points_of_file(c(
    ",,Set 1,,,Set 2,,", "Child,Room,s,a,t,sh,ch,th", "Ada,Blue,yes,yes,no,yes,no,",
    "Bo,Blue,yes,no,no,,,", "Cy,Green,no,yes,yes,yes,yes,no"
  ))
  items <- read_sitting(made$folder)$items
  expect_equal(items$set, rep(c("Set 1", "Set 2"), each = 3))
  standards <- points_of_file(c(
    ",TC.1.a,,TC.2.b,", "Name,Q1,Q2,Q3,Q4", "Ada,1,0,1,1", "Bo,0,1,1,0", "Cy,1,1,0,0"
  ))
  codes <- read_sitting(standards$folder)$items$standards
  expect_equal(codes, c("TC.1.a", "TC.1.a", "TC.2.b", "TC.2.b"))
})

test_that("the same question under another number is found by its wording", {
  one <- c("Student,Q1 What moves it?,Q2 What is ebb?,Q3 A neap?", "a1,A,B,C", "a2,A,C,C", "a3,D,B,A")
  two <- c("Student,Q1 What is ebb?,Q2 What moves it?,Q3 A neap?", "b1,B,A,C", "b2,B,D,A")
  key <- c("item,key", "Q1,A", "Q2,B", "Q3,C")
  made <- points_of_file(list(a.csv = one, b.csv = two), key)
  expect_equal(made$points, c(a1 = 3, a2 = 2, a3 = 1, b1 = 3, b2 = 1))
  expect_match(said_of(made, "questions"), "Q1 here is Q2, and one more", all = FALSE)
  other <- sub("What is ebb", "Who was first", two)
  expect_refused(
    points_of_file(list(a.csv = one, b.csv = other), key),
    "undecided",
    "Q1 is one question in one file and another in the next",
    "Who was first"
  )
  bare <- function(lines) gsub("Q[0-9] ", "", lines)
  made <- points_of_file(list(a.csv = bare(one), b.csv = bare(other)), "later")
  expect_equal(nrow(read_sitting(made$folder)$items), 4)
  expect_match(
    said_of(
      points_of_file(list(
        a.csv = c("ID,Name,Q1,Q2", "1,Ada Bay,1,0", "2,Bo Day,0,1"),
        b.csv = c("ID,Name,Q1,Q2", "3,Cy Ebb,1,1", "4,Ada Bay,0,0")
      )),
      "students"
    ),
    "\"Ada Bay\" has another id in another file"
  )
})

test_that("a row of answers without the total that all have is asked about", {
  scores <- c("Ada Bay;1;0;1;2", "Bo Day;0;0;1;1", "Cy Ebb;1;1;0;2", "Di Fay;0;0;0;0")
  asked <- new_from(c("Name;Q1;Q2;Q3;Total", "Pelfen;1;1;1;", scores))
  expect_equal(asked$status, 2)
  expect_match(asked$err, "\"Pelfen\", could be the points, or a student", all = FALSE)
  taken <- new_from(c("Name;Q1;Q2;Q3;Total", "Pelfen;1;1;1;", scores), "--take", "2")
  expect_equal(nrow(read_sitting(taken$folder)$students), 5)
})

test_that("a key with other questions than headings of mere wordings is asked about", {
  worded <- paste0("What is a ", c("neap", "spring", "ebb", "slack"), " tide?")
  row <- function(name, ...) paste(c(name, "7a", ...), collapse = ";")
  lines <- c(
    paste(c("Name", "Class", worded), collapse = ";"),
    row("Ada Bay", "A", "C", "B", "D"),
    row("Bo Day", "B", "C", "B", "D"),
    row("Cy Ebb", "A", "D", "A", "D"),
    row("Di Fay", "A", "C", "B", "A")
  )
  key <- file.path(folder_of(key.csv = c("item,key", paste0(1:5, ",", "A"))), "key.csv")
  asked <- new_from(lines, "--key", key)
  expect_equal(asked$status, 2)
  expect_match(asked$err, "the key has 5 questions where 4 stand", all = FALSE)
  writeLines(c("item,key", paste0(1:4, ",", c("A", "C", "B", "D"))), key)
  expect_equal(new_from(lines, "--key", key)$status, 0)
})

test_that("a workbook is read as a person sees it", {
  book <- openxlsx::createWorkbook()
  openxlsx::addWorksheet(book, "Marks")
  marks <- data.frame(
    Name = c("Ada Bay", "Bo Day", "Cy Ebb", "Di Fay"),
    Class = c("7a", "", "7b", ""),
    Secret = 1:4,
    Q1 = c(1, 0, 1, 1),
    Q2 = c(0.5, 1, 0, 1),
    Total = c(0.75, 0.5, 0.5, 1)
  )
  openxlsx::writeData(book, 1, marks)
  for (rows in list(2:3, 4:5)) openxlsx::mergeCells(book, 1, cols = 2, rows = rows)
  openxlsx::setColWidths(book, 1, cols = 3, widths = 10, hidden = TRUE)
  share <- openxlsx::createStyle(numFmt = "0%")
  openxlsx::addStyle(book, 1, share, rows = 2:5, cols = 6)
  path <- file.path(folder_of(), "book.xlsx")
  openxlsx::saveWorkbook(book, path)
  account <- read_account(path)
  expect_equal(attr(account, "columns")$column, setdiff(names(marks), "Secret"))
  expect_match(account$taken[1], "without what is hidden in it (1 column)", fixed = TRUE)
  expect_match(account$taken[account$what == "checked"], "\"Total\" agrees for 4 of 4")
  folder <- tempfile("made")
  new_test(folder, path)
  expect_equal(read_sitting(folder)$students$section, c("7a", "7a", "7b", "7b"))
  openxlsx::writeFormula(book, 1, "SUM(D2:E2)", startCol = 7, startRow = 2)
  unread <- file.path(folder_of(), "book.xlsx")
  openxlsx::saveWorkbook(book, unread)
  expect_refused(read_account(unread), "input", "never worked out", "line 2, column 7")
})

test_that("a table of a web page is read as a person sees it, whatever the file is called", {
  row <- function(name, class, marks, more = "", tag = "td") {
    cells <- paste0("<", tag, ">", c(name, marks), "</", tag, ">")
    paste0("<tr", more, ">", cells[1], class, paste(cells[-1], collapse = ""), "</tr>")
  }
  page <- c(
    "<!doctype html><!-- <table> --><html><head><meta charset='latin1'></head><body>",
    "<script>document.write('<table><tr><td>1</td></tr></table>')</script>",
    "<table><tr><td>Menu</td></tr></table>",
    "<table hidden><tr><td>a</td><td>b</td></tr><tr><td>c</td><td>d</td></tr></table>",
    "<table><caption>Tides</caption>",
    "<tr><th rowspan=2>Name</th><th rowspan=2>Class</th><th colspan=3>Points</th></tr>",
    row("Q1", "", c("Q2", "Total"), tag = "th"),
    row("Ada<br>K\u00e4se", "<td rowspan=2>7a</td>", c(1, "1<i style='display: none'>9</i>", 2)),
    row("Bo Day", "", c("<input value='0'>", 1, 1)),
    row("Cy Ebb", "<td>7b</td>", c(1, 0, 1)),
    row("Di Fay", "<td>7b</td>", c(0, 0, 0), " style='display:none'"),
    row("Ed Gay", "<td>7b</td>", c(0, 0, 0)),
    "</table>", "</body></html>"
  )
  for (name in c("results.html", "results.xls", "results.csv")) {
    path <- file.path(folder_of(), name)
    writeLines(enc2utf8(page), path, useBytes = TRUE)
    folder <- tempfile("made")
    account <- new_test(folder, path)
    expect_match(account$taken[account$what == "checked"], "\"Total\" agrees for 4 of 4")
    expect_match(account$taken[1], "\"Tides\" of a web page", fixed = TRUE)
    students <- summarise_students(read_sitting(folder))
    expect_equal(students$name, c("Ada K\u00e4se", "Bo Day", "Cy Ebb", "Ed Gay"))
    expect_equal(students$section, c("7a", "7a", "7b", "7b"))
    expect_equal(students$points, c(2, 1, 1, 0))
  }
  twice <- file.path(folder_of(), "twice.html")
  writeLines(enc2utf8(c(page, sub("Tides", "Knots", page[5:13]))), twice, useBytes = TRUE)
  expect_refused(read_account(twice), "undecided", "Tides, Knots", "--sheet")
  for (sheet in list("Knots", 2)) {
    expect_match(read_account(twice, sheet = sheet)$taken[1], "Knots")
  }
  expect_refused(read_account(twice, sheet = 4), "call", "has no sheet")
  none <- file.path(folder_of(), "none.html")
  writeLines(page[1:4], none)
  expect_refused(read_account(none), "input", "without a table of results")
})

test_that("what an open standard says is kept as it is written", {
  result <- function(student, values) {
    items <- sprintf(
      paste0(
        "<itemResult identifier='Q%d' datestamp='2026-09-14T10:00:00' sessionStatus='final'>",
        "<responseVariable identifier='R' cardinality='single' baseType='string'>",
        "<candidateResponse><value>%s</value></candidateResponse></responseVariable>",
        "<outcomeVariable identifier='SCORE' cardinality='single' baseType='float'>",
        "<value>%d</value></outcomeVariable></itemResult>"
      ),
      seq_along(values), values, seq_along(values) %% 2
    )
    c(
      "<assessmentResult xmlns='http://www.imsglobal.org/xsd/imsqti_result_v2p1'>",
      sprintf("<context sourcedId='%s'/>", student), items, "</assessmentResult>"
    )
  }
  room <- folder_of(
    a.xml = result("007", c("3/5", "50%", "-", "x")),
    b.xml = result("7", c("4/5", "n/a", ".", "x"))
  )
  account <- read_account(file.path(room, c("a.xml", "b.xml")), key = "later")
  kept <- attr(account, "responses")
  expect_equal(kept$response, c("3/5", "50%", "-", "x", "4/5", "n/a", ".", "x"))
  expect_equal(unique(kept$student), c("007", "7"))
})

test_that("files that are not sure can each be taken in their own way", {
  lines <- c("ID;Q1;Q2;Q3", "s1;A;B;C", "s2;B;B;C", "s3;A;D;C", "Zuff;1;2;1")
  other <- sub("^s", "t", sub("Zuff", "Morf", lines))
  points <- function(take) {
    made <- points_of_file(list(a.csv = lines, b.csv = other), "later", take = take)
    table <- read_sitting(made$folder)
    c(nrow(table$students), sum(table$items$points))
  }
  expect_equal(points(1), c(6, 3))
  expect_equal(points(c(a.csv = 1, b.csv = 3)), c(6, 4))
  expect_refused(points(c(z.csv = 1)), "call", "\"z.csv\"", "--take a.csv=2,b.csv=1")
  expect_error(points(c(a.csv = 1)), "b.csv", class = "pregunta_error_undecided")
  room <- folder_of(a.csv = lines, b.csv = other)
  call <- run_here(
    "new", file.path(room, "t"), "--from", file.path(room, c("a.csv", "b.csv")),
    "--key", "later", "--take", "a.csv=3,b.csv=1"
  )
  expect_equal(call$status, 0, info = call$err)
  expect_equal(run_here("new", "x", "--from", file.path(room, "a.csv"), "--take", "two")$status, 2)
})

test_that("an account's name that is kept in two places is two people", {
  say <- function(home, raw) {
    sprintf(
      paste0(
        "{\"actor\":{\"account\":{\"name\":\"7\",\"homePage\":\"%s\"}},\"verb\":{\"id\":",
        "\"http://adlnet.gov/expapi/verbs/answered\"},\"object\":{\"id\":\"http://x/q1\"},",
        "\"result\":{\"score\":{\"raw\":%d,\"max\":1}}}"
      ),
      home, raw
    )
  }
  both <- c(say("http://a.example", 1), say("http://b.example", 0))
  path <- function(lines) file.path(folder_of(s.jsonl = lines), "s.jsonl")
  students <- function(lines) attr(read_account(path(lines)), "responses")$student
  expect_equal(students(both), c("7 (http://a.example)", "7 (http://b.example)"))
  expect_equal(unique(students(both[c(1, 1)])), "7")
})

test_that("a large file, which is taken apart as it is read, loses nothing", {
  only_in_all()
  n <- 4000
  set.seed(2)
  answers <- vapply(1:52, function(k) sample(LETTERS[1:4], n, TRUE), character(n))
  rows <- apply(cbind(sprintf("s%05d", seq_len(n)), answers), 1, paste, collapse = ",")
  header <- paste(c("student", paste0("Q", 1:52)), collapse = ",")
  lines <- c("Tides", header, rows[1:900], header, rows[901:n])
  made <- new_from(lines, "--key", "later")
  expect_equal(made$status, 0)
  expect_identical(readLines(file.path(made$folder, "responses.csv")), c(header, rows))
  # A doubt about such a file is settled by reading it once more.
  doubtful <- append(lines, paste(c("Zuff", rep("9", 52)), collapse = ","))
  asked <- new_from(doubtful, "--key", "later")
  expect_equal(asked$status, 2)
  expect_match(asked$err, "1. +4000 students, 52 questions", all = FALSE)
  taken <- new_from(doubtful, "--key", "later", "--take", "1")
  expect_identical(readLines(file.path(taken$folder, "responses.csv")), c(header, rows))
})

test_that("rows are told apart by number as they are by their text", {
  set.seed(3)
  columns <- lapply(1:5, function(k) sample(c("", "a", "b", "ab", "\u00e9"), 300, TRUE))
  expect_identical(
    duplicated(internal("row_numbers")(columns)),
    duplicated(do.call(paste, c(columns, sep = "|")))
  )
  many <- c(columns, lapply(1:20, function(k) sprintf("%d-%d", k, seq_len(300))))
  expect_false(anyDuplicated(internal("row_numbers")(many)) > 0)
})

test_that("who has what the others have on average is a student all the same", {
  marks <- c(
    "Kennung,Q01,Q02,Q03,Q04,Q05,Q06,Summe", "Punkte,1,2,2,2,3,3,13",
    "rot494,0,0,0,0,2,3,5", "rot287,0,0,1,0,2,3,6", "pry182,0,0,0,0,2,3,5"
  )
  made <- new_from(marks)
  expect_equal(made$status, 0)
  students <- summarise_students(read_sitting(made$folder))
  expect_identical(students$student, c("rot494", "rot287", "pry182"))
  expect_equal(students$points, c(5, 6, 5))
})

test_that("columns that make up the number of the key's questions are offered as questions", {
  asks <- paste("What causes the", c("ebb", "flood", "swell", "current", "wave"), "here?")
  cells <- c(
    "A;D,A;B,B,B,D", "A;D,A;B,B,A,D", "A;D,D,B,D,D", "B,,B,A,D", "A;D,A;B,B,B,D", "C,A;B,A,B,D"
  )
  file <- c(paste(c("ID", asks), collapse = ","), paste0("40009282", 11:16, ",", cells))
  key <- c("item,key", "1,A;D", "2,A;B", "3,B", "4,B", "5,D")
  folder <- folder_of(key.csv = key, export.csv = file)
  made <- tempfile("made")
  read <- function(...) {
    files <- file.path(folder, c("export.csv", "key.csv"))
    run_here("new", made, "--from", files[1], "--key", files[2], ...)
  }
  asked <- read()
  expect_equal(asked$status, 2)
  expect_match(asked$err, "the key has 5 questions where 3 stand here", all = FALSE)
  expect_match(asked$err, "1. +6 students, 5 questions", all = FALSE)
  expect_equal(read("--take", "1")$status, 0)
  expect_equal(summarise_test(read_sitting(made))$items, 5)
})
