# Raw exports become test folders: the same demo in every layout.

exports <- function(...) system.file("extdata", "exports", ..., package = "pregunta")
demo_key <- function() file.path(demo_path(), "items.csv")

# A fresh test folder from an export, and its account.
made_from <- function(from, ...) {
  folder <- tempfile("new-")
  account <- new_test(folder, from, ...)
  list(folder = folder, account = account, quiz = read_sitting(folder))
}

# Raw text as a file of its own, then as a test folder.
made_of <- function(lines, ..., name = "export.csv") {
  made_from(file.path(folder_of2(stats::setNames(list(lines), name)), name), ...)
}
folder_of2 <- function(files) do.call(folder_of, files)

taken <- function(made, what) made$account$taken[made$account$what == what]

figures <- function(quiz, items = quiz$items$item) {
  table <- summarise_items(quiz)
  table[match(items, table$item), c("n", "mean_points", "difficulty", "discrimination", "upper_lower", "omitted")]
}

test_that("every layout of the example exports leads to the demo's own figures", {
  demo <- read_sitting(demo_path())
  layouts <- c("wide-answers.csv", "wide-names-totals.csv", "wide-three-columns.csv", "long.csv", "workbook.xlsx",
    "classes")
  for (name in layouts) {
    made <- made_from(exports(name), key = demo_key(), like = demo_path())
    expect_equal(figures(made$quiz), figures(demo), label = name)
    expect_equal(summarise_test(made$quiz), summarise_test(demo), label = name, ignore_attr = TRUE)
    mine <- summarise_students(made$quiz)
    mine <- mine[match(summarise_students(demo)$student, mine$student), ]
    expect_equal(mine$points, summarise_students(demo)$points, label = name)
    expect_equal(mine[c("name", "section", "status")], summarise_students(demo)[c("name", "section", "status")],
      ignore_attr = TRUE, label = name)
    expect_equal(summarise_standards(made$quiz)$share, summarise_standards(demo)$share, label = name)
  }
})

test_that("marks and scanned sheets lead to the figures of what they hold", {
  demo <- read_sitting(demo_path())
  marks <- made_from(exports("wide-marks.tsv"), like = demo_path())$quiz
  ids <- setdiff(demo$items$item, c("Q23", "Q24"))
  expect_equal(figures(marks, ids)[c("n", "mean_points", "difficulty")],
    figures(demo, ids)[c("n", "mean_points", "difficulty")])
  expect_equal(marks$items$points, demo$items$points)
  choice <- demo$items$item[1:14]
  short <- sitting(
    data.frame(student = demo$students$student, internal("cell_answers")(demo)[, choice]) |>
      (\(x) replace(x, x == "(blank)", NA))(),
    data.frame(demo$items[1:14, c("item", "type")], key = sub("[|].*", "", demo$items$key[1:14]))
  )
  for (name in c("scan-fixed.txt", "scan-delimited.csv")) {
    scanned <- made_from(exports(name), like = demo_path())
    expect_equal(figures(scanned$quiz), figures(short), label = name)
    expect_match(taken(scanned, "key"), "line 1")
  }
})

test_that("the account says what was taken for what, and the originals lie in source", {
  made <- made_from(exports("wide-names-totals.csv"), key = demo_key())
  expect_match(taken(made, "read as"), "semicolon between cells, Windows-1252.*line 4")
  expect_match(taken(made, "name"), "\"Last name\", \"First name\"", all = FALSE)
  expect_match(taken(made, "left out"), "\"Total\", \"Percent\"")
  expect_match(taken(made, "points"), "line 2 \\(\"Max points\"\\)")
  expect_equal(made$quiz$settings$title, "Tides and Currents \u2013 unit test")
  expect_equal(unname(tools::md5sum(file.path(made$folder, "source", "wide-names-totals.csv"))),
    unname(tools::md5sum(exports("wide-names-totals.csv"))))
  expect_equal(made$quiz$settings$layout$student, "Student ID")
  call <- pregunta("new", tempfile(), "--from", exports("wide-names-totals.csv"), "--key", demo_key())
  expect_equal(call$status, 0)
  expect_match(call$out, "left out +columns \"Total\", \"Percent\"", all = FALSE)
})

test_that("a layout that was worked out once reads the next test without a word", {
  first <- made_of(c("Kode;A1;A2;Merit", "x7;B;C;2", "x8;B;A;1", "x9;A;C;1"),
    layout = list(student = "Kode", leave_out = "Merit"), key = file.path(folder_of(key.txt = "BC"), "key.txt"))
  second <- made_of(c("Kode;A1;A2;A3;Merit", "x7;B;C;A;3", "x9;A;C;B;1"), like = first$folder)
  expect_equal(second$quiz$items$item, c("A1", "A2", "A3"))
  expect_equal(second$quiz$students$student, c("x7", "x9"))
  expect_match(taken(second, "to do"), "no key for A1, A2 and A3")
  expect_equal(subset(check_sitting(second$quiz), column == "key")$severity, rep("error", 3))
})

test_that("what cannot be told is asked for, and nothing is written", {
  folder <- tempfile()
  file <- file.path(folder_of(x.csv = c("Kode,Farbe,Q1,Q2", "a,rot,1,0", "b,blau,0,1")), "x.csv")
  expect_refused(new_test(folder, file), "undecided", "student's id or name", "--set student=COLUMN",
    "layout: {student: COLUMN}")
  expect_false(dir.exists(folder))
  call <- pregunta("new", folder, "--from", file, "--set", "student=Kode")
  expect_equal(call$status, 0)
  expect_equal(read_sitting(folder)$students$Farbe, c("rot", "blau"))
  expect_refused(new_test(folder, file), "output", "holds a test already")
  expect_equal(pregunta("new", folder, "--from", file)$status, 1)
  expect_equal(pregunta("new", tempfile(), "--from", file)$status, 2)
  expect_match(pregunta("new", tempfile(), "--from", file, "--set", "studnt=Kode")$err, "is not understood")
  expect_refused(new_test(tempfile(), file, layout = list(student = "Code")), "input", "names no column", "Kode")
})

test_that("rows of points, standards, level and key are found above or below, with a label or without", {
  rows <- c("a1,Ada,A,B,C", "b2,Ben,A,A,C", "c3,Cy,B,B,C", "d4,Di,A,B,A")
  above <- made_of(c("Max points,,1,2,1", "Standard,,S.1,S.2,\"S.1, S.2\"", "id,name,Q1,Q2,Q3", rows, ",,A,B,C"))
  expect_equal(above$quiz$items$points, c(1, 2, 1))
  expect_equal(above$quiz$items$standards, c("S.1", "S.2", "S.1;S.2"))
  expect_equal(above$quiz$items$key, c("A", "B", "C"))
  expect_equal(summarise_students(above$quiz)$points, c(4, 2, 3, 3))
  below <- made_of(c("id,name,Q1,Q2,Q3", "Answer key,,A,B,C", rows, "Level,,1,1,2", "Average,,0.75,0.75,0.75"))
  expect_equal(below$quiz$items$key, c("A", "B", "C"))
  expect_equal(below$quiz$items$level, c("1", "1", "2"))
  expect_equal(nrow(below$quiz$students), 4)
})

test_that("a student called Max, a question called Total cost and a class of marks are what they are", {
  made <- made_of(c("Student ID,Name,Q1,Q2,Total cost,Total", "1,Max,1,0,1,2", "2,Key,0,1,1,2", "3,Mean,1,1,0,2"))
  expect_equal(made$quiz$students$name, c("Max", "Key", "Mean"))
  expect_match(taken(made, "left out"), "\"Total\"")
  sums <- made_of(c("Name;Ebb;Flood;Slack;Zusammen", "Ada;1;0,5;2;3,5", "Ben;0;1;1;2", "Cy;1;1;2;4", "Di;0;0;1;1"))
  expect_equal(sums$quiz$items$item, c("Ebb", "Flood", "Slack"))
  expect_equal(sums$quiz$items$points, c(1, 1, 2))
  expect_equal(summarise_students(sums$quiz)$points, c(3.5, 2, 4, 1))
})

test_that("parts of a question stand in any order, under two header rows, or loose beside it", {
  expect_parts <- function(lines) {
    quiz <- made_of(lines)$quiz
    expect_equal(quiz$items$item, c("Q1", "Q2"))
    expect_equal(quiz$items$key, c("A", "tide"))
    expect_equal(summarise_students(quiz)$points, c(3, 1, 2))
  }
  expect_parts(c("id,Q1,Q1 points,Q2,Q2 points", "a,A,1,tide,2", "b,A,1,wind,0", "c,B,0,tide,2"))
  expect_parts(c("id,Points 1,Answer 1,Points 2,Answer 2", "a,1,A,2,tide", "b,1,A,0,wind", "c,0,B,2,tide"))
  expect_parts(c(",Question 1,,Question 2,", "id,Answer,Points,Answer,Points", "a,A,1,tide,2", "b,A,1,wind,0", "c,B,0,tide,2"))
  expect_parts(c("id,Points,Q1,Comment,Points,Q2,Comment", "a,1,A,,2,tide,good", "b,1,A,,0,wind,", "c,0,B,,2,tide,"))
})

test_that("a wording as column name becomes the prompt, and long, empty and repeated names do no harm", {
  wording <- paste("Why does the water at the quay rise and fall", strrep("so very much ", 22))
  made <- made_of(c(paste0("id,\"1. ", wording, "\",\"2. Name it, please\",,3,3"), "a,A,B,,C,C", "b,A,C,x,C,D"))
  expect_equal(made$quiz$items$item[1:2], c("Q1", "Q2"))
  expect_equal(made$quiz$items$prompt[1:2], c(trimws(wording), "Name it, please"))
  expect_equal(nrow(made$quiz$items), 5)
  expect_false(anyDuplicated(made$quiz$items$item) > 0)
})

test_that("a key is taken from the answers that earned full points only where that is sure", {
  made <- made_of(c("id,Q1,Q1 points,Q2,Q2 points,Q3,Q3 points", "a,A,1,ebb,2,x,1", "b,B,0,Ebb,2,x,0", "c,A,1,flood,1,y,0"))
  expect_equal(made$quiz$items$type, c("choice", "open", "open"))
  expect_equal(made$quiz$items$key, c("A", NA, NA))
  expect_equal(summarise_students(made$quiz)$points, c(4, 2, 2))
  expect_match(taken(made, "key"), "of Q1: the answers that earned full points")
})

test_that("a skill check in words is marks, with a level for each skill and what was not tried left out", {
  made <- made_of(c("Pupil,Bowline,Reef,Hitch", "Level,1,1,2", "Ada,\u2713,x,", "Ben,yes,no,Y", "Cy,1,0,n", "Di,,,\u2713"),
    layout = list())
  expect_equal(made$quiz$items$type, rep("mark", 3))
  expect_equal(made$quiz$items$level, c("1", "1", "2"))
  expect_equal(summarise_items(made$quiz)$n, c(3, 3, 3))
  expect_equal(summarise_students(made$quiz)$points, c(1, 2, 1, 1))
  expect_match(taken(made, "blank"), "not tried yet")
})

test_that("ratings in words count by the declared scale", {
  quiz <- sitting(data.frame(student = c("a", "b", "c"), L1 = c("there", "Nearly", "lost"), L2 = c("3", "1", "")),
    data.frame(item = c("L1", "L2"), type = "mark", points = 3),
    settings = list(scale = list("not yet" = 1, nearly = 2, there = 3)))
  expect_equal(summarise_students(quiz)$points, c(6, 3, 0))
  expect_match(subset(check_sitting(quiz), severity == "error")$finding, "is no step of the scale \\(not yet, nearly, there\\)")
  expect_refused(choice_sitting(matrix("A", 2, 2), settings = list(scale = list(low = -1))), "input", "points from 0")
})
