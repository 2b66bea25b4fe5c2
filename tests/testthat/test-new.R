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
  table[
    match(items, table$item),
    c("n", "mean_points", "difficulty", "discrimination", "upper_lower", "omitted")
  ]
}

test_that("every layout of the example exports leads to the demo's own figures", {
  told <- function(quiz, order = NULL) {
    students <- summarise_students(quiz)
    if (!is.null(order)) students <- students[match(order, students$student), ]
    list(
      figures = figures(quiz),
      test = as.list(summarise_test(quiz)),
      students = as.list(students[c("student", "points", "name", "section", "status")]),
      standards = summarise_standards(quiz)$share
    )
  }
  demo <- told(read_sitting(demo_path()))
  layouts <- c(
    "wide-answers.csv", "wide-names-totals.csv", "wide-three-columns.csv", "long.csv",
    "workbook.xlsx", "web-page.html", "classes"
  )
  for (name in layouts) {
    made <- made_from(exports(name), key = demo_key(), like = demo_path())
    expect_equal(
      told(made$quiz, demo$students$student), demo,
      label = name, ignore_attr = TRUE
    )
  }
})

test_that("marks and scanned sheets lead to the figures of what they hold", {
  demo <- read_sitting(demo_path())
  marks <- made_from(exports("wide-marks.tsv"), like = demo_path())$quiz
  ids <- setdiff(demo$items$item, c("Q23", "Q24"))
  expect_equal(
    figures(marks, ids)[c("n", "mean_points", "difficulty")],
    figures(demo, ids)[c("n", "mean_points", "difficulty")]
  )
  expect_equal(marks$items$points, demo$items$points)
  choice <- demo$items$item[1:14]
  short <- sitting(
    data.frame(
      student = demo$students$student,
      internal("shown_cells")(demo)[, choice]
    ) |>
      (\(x) replace(x, x == "(blank)", NA))(),
    data.frame(
      demo$items[1:14, c("item", "type")],
      key = sub("[|].*", "", demo$items$key[1:14])
    )
  )
  for (name in c("scan-fixed.txt", "scan-delimited.csv")) {
    scanned <- made_from(exports(name), like = demo_path())
    expect_equal(figures(scanned$quiz), figures(short), label = name)
    expect_match(taken(scanned, "key"), "line 1")
  }
})

test_that(
  paste0(
    "the examples in open standards lead to the same sitting, with names, classes and ",
    "standards"
  ),
  {
    demo <- read_sitting(demo_path())
    others <- list(students = exports("oneroster"), standards = exports("case.json"))
    qti <- do.call(made_from, c(list(exports("qti.zip")), others))
    expect_equal(figures(qti$quiz), figures(demo))
    same <- c("student", "name", "section", "teacher", "status")
    at <- match(demo$students$student, qti$quiz$students$student)
    expect_equal(qti$quiz$students[at, same], demo$students[same], ignore_attr = TRUE)
    expect_equal(qti$quiz$students$school, rep("Harbour School", 84))
    expect_equal(
      qti$quiz$standards[names(demo$standards)],
      demo$standards,
      ignore_attr = TRUE
    )
    said <- do.call(made_from, c(list(exports("xapi.jsonl")), others))
    ids <- setdiff(demo$items$item, "Q23") # a statement cannot say that an answer waits
    class <- narrow_sitting(demo, section = "Harbour A")
    expect_equal(
      figures(said$quiz, ids)[c("n", "mean_points", "difficulty")],
      figures(class, ids)[c("n", "mean_points", "difficulty")]
    )
    knots <- made_from(exports("skills.csv"))$quiz
    expect_equal(
      summarise_items(knots)$mean_points,
      summarise_items(read_sitting(demo_path("knots")))$mean_points
    )
  }
)

test_that("the account says what was taken for what, and the originals lie in source", {
  made <- made_from(exports("wide-names-totals.csv"), key = demo_key())
  expect_match(taken(made, "read_as"), "semicolon between cells, Windows-1252.*line 4")
  expect_match(taken(made, "name"), "\"Last name\", \"First name\"", all = FALSE)
  expect_match(taken(made, "left_out"), "\"Total\", \"Percent\"", all = FALSE)
  expect_match(taken(made, "left_out"), "line 5 \\(\"Trial\"\\)", all = FALSE)
  expect_match(taken(made, "points"), "line 2 \\(\"Max points\"\\)")
  expect_equal(made$quiz$settings$title, "Tides and Currents \u2013 unit test")
  expect_equal(
    unname(tools::md5sum(file.path(made$folder, "source", "wide-names-totals.csv"))),
    unname(tools::md5sum(exports("wide-names-totals.csv")))
  )
  expect_equal(made$quiz$settings$layout$student, "Student ID")
  call <- run_here(
    "new",
    tempfile(),
    "--from",
    exports("wide-names-totals.csv"),
    "--key",
    demo_key()
  )
  expect_equal(call$status, 0)
  expect_match(call$out, "left out +columns \"Total\", \"Percent\"", all = FALSE)
})

test_that("a layout that was worked out once reads the next test without a word", {
  first <- made_of(
    c("Kode;A1;A2;Merit", "x7;B;C;2", "x8;B;A;1", "x9;A;C;1"),
    layout = list(student = "Kode", leave_out = "Merit"),
    key = file.path(folder_of(key.txt = "BC"), "key.txt")
  )
  second <- made_of(
    c("Kode;A1;A2;A3;Merit", "x7;B;C;A;3", "x9;A;C;B;1"),
    like = first$folder,
    key = "later"
  )
  expect_equal(second$quiz$items$item, c("A1", "A2", "A3"))
  expect_equal(second$quiz$students$student, c("x7", "x9"))
  expect_match(taken(second, "to_do"), "no key for A1, A2 and A3")
  lacking <- subset(check_sitting(second$quiz), column == "key")
  expect_equal(lacking$severity, "error")
  expect_equal(lacking$value, "A1, A2, A3")
})

test_that(
  "an earlier layout that does not fit the file is left aside, line by line of it",
  {
    first <- made_of(
      c("Friday quiz", "Max;;1;2", "Kode;Farbe;A1;A2", "x7;rot;1;2", "x8;blau;0;1"),
      layout = list(student = "Kode")
    )
    moved <- made_of(c("Kode;A1;A2", "x7;1;2", "x9;0;1"), like = first$folder)
    expect_equal(moved$quiz$students$student, c("x7", "x9", "x8"))
    other <- made_of(c("Pupil,Question,Answer", "x7,1,A", "x8,1,B"), like = first$folder, key = "later")
    expect_equal(other$quiz$items$item, "Q1")
    expect_equal(other$quiz$students$student, c("x7", "x8"))
  }
)

test_that("what cannot be told is asked for, and nothing is written", {
  folder <- tempfile()
  file <- file.path(
    folder_of(x.csv = c("Zeichen,Farbe,Q1,Q2", "a,rot,1,0", "b,blau,0,1")),
    "x.csv"
  )
  expect_refused(
    new_test(folder, file),
    "undecided",
    "student's id or name",
    "--set student=COLUMN",
    "layout: {student: COLUMN}"
  )
  expect_false(dir.exists(folder))
  call <- run_here("new", folder, "--from", file, "--set", "student=Zeichen")
  expect_equal(call$status, 0)
  expect_equal(read_sitting(folder)$students$Farbe, c("rot", "blau"))
  expect_refused(new_test(folder, file), "output", "holds a test already")
  expect_equal(run_here("new", folder, "--from", file)$status, 1)
  expect_equal(run_here("new", tempfile(), "--from", file)$status, 2)
  expect_match(
    run_here("new", tempfile(), "--from", file, "--set", "studnt=Zeichen")$err,
    "is not understood"
  )
  expect_refused(
    new_test(tempfile(), file, layout = list(student = "Code")),
    "input",
    "names no column",
    "Zeichen"
  )
})

test_that("a test.yml that lies in the new folder counts, and keeps its own lines", {
  folder <- folder_of(
    test.yml = c(
      "# my class", "title: Friday quiz", "layout: {student: Kode} # as always"
    )
  )
  new_test(
    folder,
    file.path(folder_of(x.csv = c("Kode,Farbe,Q1", "a,rot,1", "b,blau,0")), "x.csv")
  )
  expect_equal(
    readLines(file.path(folder, "test.yml")),
    c("# my class", "title: Friday quiz", "layout: {student: Kode} # as always")
  )
  expect_equal(read_sitting(folder)$students$student, c("a", "b"))
})

test_that(
  paste0(
    "rows of points, standards, level and key are found above or below, with a label or ",
    "without"
  ),
  {
    rows <- c("a1,Ada,A,B,C", "b2,Ben,A,A,C", "c3,Cy,B,B,C", "d4,Di,A,B,A")
    above <- made_of(
      c(
        "Max points,,1,2,1", "Standard,,S.1,S.2,\"S.1, S.2\"", "id,name,Q1,Q2,Q3", rows,
        ",,A,B,C"
      )
    )
    expect_equal(above$quiz$items$points, c(1, 2, 1))
    expect_equal(above$quiz$items$standards, c("S.1", "S.2", "S.1;S.2"))
    expect_equal(above$quiz$items$key, c("A", "B", "C"))
    expect_equal(summarise_students(above$quiz)$points, c(4, 2, 3, 3))
    below <- made_of(
      c(
        "id,name,Q1,Q2,Q3", "Answer key,,A,B,C", rows, "Level,,1,1,2",
        "Average,,0.75,0.75,0.75"
      )
    )
    expect_equal(below$quiz$items$key, c("A", "B", "C"))
    expect_equal(below$quiz$items$level, c("1", "1", "2"))
    expect_equal(nrow(below$quiz$students), 4)
  }
)

test_that(
  paste0(
    "a student called Max, a question called Total cost and a class of marks are what ",
    "they are"
  ),
  {
    made <- made_of(
      c(
        "Student ID,Name,Q1,Q2,Total cost,Total", "1,Max,1,0,1,2", "2,Key,0,1,1,2",
        "3,Mean,1,1,0,2"
      )
    )
    expect_equal(made$quiz$students$name, c("Max", "Key", "Mean"))
    expect_match(taken(made, "left_out"), "\"Total\"")
    sums <- made_of(
      c(
        "Name;Ebb;Flood;Slack;Zusammen", "Ada;1;0,5;2;3,5", "Ben;0;1;1;2", "Cy;1;1;2;4",
        "Di;0;0;1;1"
      )
    )
    expect_equal(sums$quiz$items$item, c("Ebb", "Flood", "Slack"))
    expect_equal(sums$quiz$items$points, c(1, 1, 2))
    expect_equal(summarise_students(sums$quiz)$points, c(3.5, 2, 4, 1))
  }
)

test_that(
  "parts of a question stand in any order, under two header rows, or loose beside it",
  {
    expect_parts <- function(lines) {
      quiz <- made_of(lines)$quiz
      expect_equal(quiz$items$item, c("Q1", "Q2"))
      expect_equal(quiz$items$key, c("A", "tide"))
      expect_equal(summarise_students(quiz)$points, c(3, 1, 2))
    }
    expect_parts(
      c("id,Q1,Q1 points,Q2,Q2 points", "a,A,1,tide,2", "b,A,1,wind,0", "c,B,0,tide,2")
    )
    expect_parts(
      c(
        "id,Points 1,Answer 1,Points 2,Answer 2", "a,1,A,2,tide", "b,1,A,0,wind",
        "c,0,B,2,tide"
      )
    )
    expect_parts(
      c(
        ",Question 1,,Question 2,", "id,Answer,Points,Answer,Points", "a,A,1,tide,2",
        "b,A,1,wind,0", "c,B,0,tide,2"
      )
    )
    expect_parts(
      c(
        "id,Points,Q1,Comment,Points,Q2,Comment", "a,1,A,,2,tide,good", "b,1,A,,0,wind,",
        "c,0,B,,2,tide,"
      )
    )
  }
)

test_that("a key and the most points may stand in columns beside the question", {
  header <- "id,Q1,Q1 correct answer,Q1 max,Q2,Q2 correct answer,Q2 max"
  quiz <- made_of(c(header, "a,A,A,2,D,C,1", "b,B,A,2,C,C,1"))$quiz
  expect_equal(
    quiz$items[c("item", "key", "points")],
    data.frame(item = c("Q1", "Q2"), key = c("A", "C"), points = c(2, 1)),
    ignore_attr = TRUE
  )
  expect_equal(summarise_students(quiz)$points, c(2, 1))
})

test_that(
  paste0(
    "a wording as column name becomes the prompt, and long, empty and repeated names do ",
    "no harm"
  ),
  {
    wording <- paste(
      "Why does the water at the quay rise and fall",
      strrep("so very much ", 22)
    )
    made <- made_of(
      c(
        paste0("id,\"1. ", wording, "\",\"2. Name it, please\",,3,3"), "a,A,B,,C,C",
        "b,A,C,x,C,D"
      ),
      key = "later"
    )
    expect_equal(made$quiz$items$item[1:2], c("Q1", "Q2"))
    expect_equal(made$quiz$items$prompt[1:2], c(trimws(wording), "Name it, please"))
    expect_equal(nrow(made$quiz$items), 4)
    expect_match(taken(made, "kept_with_students"), "column 4")
    expect_false(anyDuplicated(made$quiz$items$item) > 0)
  }
)

test_that(
  "a key is taken from the answers that earned full points only where that is sure",
  {
    made <- made_of(
      c(
        "id,Q1,Q1 points,Q2,Q2 points,Q3,Q3 points", "a,A,1,ebb,2,x,1", "b,B,0,Ebb,2,x,0",
        "c,A,1,flood,1,y,0"
      )
    )
    expect_equal(made$quiz$items$type, c("choice", "open", "open"))
    expect_equal(made$quiz$items$key, c("A", NA, NA))
    expect_equal(summarise_students(made$quiz)$points, c(4, 2, 2))
    expect_match(taken(made, "key"), "of Q1: the answers that earned full points")
  }
)

test_that(
  paste0(
    "a skill check in words is marks, with a level for each skill and what was not ",
    "tried left out"
  ),
  {
    made <- made_of(
      c(
        "Pupil,Bowline,Reef,Hitch", "Level,1,1,2", "Ada,\u2713,x,", "Ben,yes,no,Y",
        "Cy,1,0,n", "Di,,,\u2713"
      ),
      layout = list()
    )
    expect_equal(made$quiz$items$type, rep("mark", 3))
    expect_equal(made$quiz$items$level, c("1", "1", "2"))
    expect_equal(summarise_items(made$quiz)$n, c(3, 3, 3))
    expect_equal(summarise_students(made$quiz)$points, c(1, 2, 1, 1))
    expect_match(taken(made, "blank"), "not tried yet")
  }
)

test_that("x is a no beside a tick, and a tick where nothing else stands", {
  made <- made_of(c("Pupil,Bowline,Reef", "Ada,x,", "Bo,X,x", "Cy,,"))
  expect_equal(summarise_items(made$quiz)$mean_points, c(1, 1))
  expect_match(taken(made, "x"), "yes, since there is nothing else")
})

test_that("ratings in words count by the declared scale", {
  file <- file.path(
    folder_of(
      r.csv = c("Pupil,Course noted,Full sentences", "a,there,not yet", "b,nearly,nearly")
    ),
    "r.csv"
  )
  folder <- tempfile()
  call <- run_here("new", folder, "--from", file, "--set", "scale=not yet, nearly, there")
  expect_equal(call$status, 0)
  expect_equal(summarise_students(read_sitting(folder))$points, c(4, 4))
  expect_equal(read_sitting(folder)$items$points, c(3, 3))
  again <- made_of(c("Pupil,Weather", "a,nearly", "b,"), like = folder)
  expect_equal(summarise_items(again$quiz)$mean_points, 2)
  quiz <- sitting(
    data.frame(
      student = c("a", "b", "c"),
      L1 = c("there", "Nearly", "lost"),
      L2 = c("3", "1", "")
    ),
    data.frame(item = c("L1", "L2"), type = "mark", points = 3),
    settings = list(scale = list("not yet" = 1, nearly = 2, there = 3))
  )
  expect_equal(summarise_students(quiz)$points, c(6, 3, 0))
  expect_match(
    subset(check_sitting(quiz), severity == "error")$finding,
    "is not a step of the scale \\(not yet, nearly, there\\)"
  )
  expect_refused(
    choice_sitting(matrix("A", 2, 2), settings = list(scale = list(low = -1))),
    "input",
    "points from 0"
  )
})

test_that(
  paste0(
    "several files are one sitting: sections by name, other questions not given, keys ",
    "that agree"
  ),
  {
    rows <- list(
      north.csv = c("id,Q1,Q2", "a,A,B", "b,C,B"),
      south.csv = c("id,Q1,Q3", "c,A,B", "d,A,C")
    )
    folder <- do.call(
      folder_of,
      c(rows, list(key.csv = c("item,key", "Q1,A", "Q2,B", "Q3,B", "Q9,A")))
    )
    made <- made_from(file.path(folder, names(rows)), key = file.path(folder, "key.csv"))
    people <- summarise_students(made$quiz)
    expect_equal(people$section, c("north", "north", "south", "south"))
    expect_equal(people$points, c(2, 1, 2, 1))
    expect_equal(summarise_items(made$quiz)$n, c(4, 2, 2))
    expect_match(taken(made, "left_out"), "not in the responses: Q9")
    long <- folder_of(z.csv = c("id,item,answer", "e,Q1,A", "e,Q2,C"))
    mixed <- made_from(
      c(file.path(folder, "north.csv"), file.path(long, "z.csv")),
      key = file.path(folder, "key.csv")
    )
    expect_equal(summarise_students(mixed$quiz)$points, c(2, 1, 1))
    keyed <- folder_of(
      a.csv = c("id,Q1", "Key,A", "a,A"),
      b.csv = c("id,Q1", "Key,B", "b,B")
    )
    expect_refused(
      new_test(tempfile(), keyed),
      "input",
      "different keys for Q1",
      "\"A\" and \"B\""
    )
  }
)

test_that("a workbook of several sheets asks for one, and takes it", {
  book <- openxlsx::createWorkbook()
  for (name in c("Monday", "Tuesday")) {
    openxlsx::addWorksheet(book, name)
    openxlsx::writeData(
      book,
      name,
      data.frame(id = c("a", "b"), Q1 = c(1, name == "Tuesday"), Q2 = c("0", "1"))
    )
  }
  path <- tempfile(fileext = ".xlsx")
  openxlsx::saveWorkbook(book, path)
  expect_refused(
    new_test(tempfile(), path),
    "undecided",
    "Monday, Tuesday",
    "--sheet NAME"
  )
  expect_equal(
    summarise_students(made_from(path, sheet = "tuesday")$quiz)$points,
    c(1, 2)
  )
  expect_refused(
    new_test(tempfile(), path, sheet = "Wednesday"),
    "call",
    "Its sheets are: Monday, Tuesday"
  )
})

test_that("a list of students lends ids to names, and a class of nobody is not made up", {
  lists <- folder_of(
    list.csv = c(
      "Student number;Last name;First name;Group", "71;Ebb;Ada;x", "72;Bay;Bo;x",
      "73;Cay;Cy;y"
    )
  )
  made <- made_of(
    c("Name,Q1,Q2", "Ada Ebb,1,0", "\"Bay, Bo\",1,1", "Di Dune,0,0"),
    students = file.path(lists, "list.csv")
  )
  expect_equal(summarise_students(made$quiz)$student, c("71", "72", "Di Dune", "73"))
  expect_equal(summarise_students(made$quiz)$status, c("sat", "sat", "sat", "absent"))
  expect_match(taken(made, "student"), "2 found by their names", all = FALSE)
  expect_match(
    check_sitting(made$quiz)$finding,
    "not in the list of students",
    all = FALSE
  )
})

test_that("time comes in every form, and worth in a header is the points", {
  seconds <- internal("read_seconds")
  expect_equal(
    seconds(c("751", "12:31", "0:12:31", "PT12M31S", "12 min 31 s", "1h 2m", "")),
    c(751, 751, 751, 751, 751, 3720, NA)
  )
  expect_equal(seconds("2.5", "Minutes"), 150)
  made <- made_of(
    c(
      "id,Time taken,Q1 (2 points),Q2 [max 3],Q3 /4,Score", "a,1:30,2,1,4,7",
      "b,0:30,0,3,1,4"
    )
  )
  expect_equal(made$quiz$items$item, c("Q1", "Q2", "Q3"))
  expect_equal(made$quiz$items$points, c(2, 3, 4))
  expect_equal(summarise_test(made$quiz)$mean_seconds, 60)
  expect_match(taken(made, "left_out"), "\"Score\"")
})

test_that("a key comes as a table, as a row below the names, or as letters", {
  answers <- c("id,Q1,Q2,Q3", "a,A,B,C", "b,A,A,A")
  keys <- list(
    c("Question,Correct answer,Max points", "1,A,2", "2,B,1", "3,C,1"),
    c("Q1,Q2,Q3", "A,B,C"),
    "A,B,C",
    "ABC ",
    c("A", "B", "C"),
    "KEY,A,B,C"
  )
  for (key in keys) {
    quiz <- made_of(answers, key = file.path(folder_of(k.txt = key), "k.txt"))$quiz
    expect_equal(quiz$items$key, c("A", "B", "C"), label = paste(key, collapse = "/"))
  }
  expect_refused(
    made_of(answers, key = file.path(folder_of(k.csv = c("item,key", "X7,A")), "k.csv")),
    "undecided",
    "names none of the questions"
  )
  expect_refused(
    made_of(answers, key = file.path(folder_of(k.csv = c("a,b", "c,d", "e,f")), "k.csv")),
    "undecided",
    "cannot be read as a key"
  )
})

test_that("the rule that gives the points is found for parts that earn by themselves", {
  item <- c("item,type,key,points", "Q1,multiple,A;C,2", "Q2,order,A>B>C,3")
  made <- made_of(
    c(
      "id,Q1,Q1 points,Q2,Q2 points", "a,A,1,A>C>B,1", "b,A;C,2,A>B>C,3",
      "c,A;B,0,B>A>C,1"
    ),
    key = file.path(folder_of(k.csv = item), "k.csv")
  )
  expect_equal(made$quiz$items$scoring, c("each", "each"))
  expect_equal(summarise_students(made$quiz)$points, c(2, 5, 1))
})

test_that("a dash among marks is a blank and excused is excused", {
  made <- made_of(c("id,Q1,Q2,Q3", "a,1,-,2", "b,excused,1,n/a", "c,0,1,2"))
  expect_equal(summarise_students(made$quiz)$open, c(4, 3, 4))
  expect_match(taken(made, "blank"), "2 cells")
})

test_that(
  "a scanned sheet tells blanks and several marks, and can be told what it does not show",
  {
    sheet <- c("07  AB-DABCD", "08  A*CDABCD", "09  ABCDA CD")
    made <- made_of(c("KEY ABCDABCD", sheet), name = "scan.txt")
    expect_equal(summarise_items(made$quiz)$omitted[c(3, 6)], c(1, 1))
    expect_equal(
      subset(summarise_options(made$quiz), item == "Q2")$option,
      c("(several)", "B")
    )
    expect_false(any(grepl("several", check_sitting(made$quiz)$value)))
    expect_match(taken(made, "several_marks"), "\"*\"", fixed = TRUE)
    keyless <- made_of(
      sheet,
      name = "scan.txt",
      key = file.path(folder_of(k.txt = "ABCDABCD"), "k.txt")
    )
    expect_equal(
      summarise_students(keyless$quiz)$points,
      summarise_students(made$quiz)$points
    )
    glued <- made_of(
      c("0007ABCDABCD", "0008ABBDABCD", "0009ABCDAACD"),
      name = "scan.txt",
      layout = list(id_width = 4),
      key = file.path(folder_of(k.txt = "ABCDABCD"), "k.txt")
    )
    expect_equal(summarise_students(glued$quiz)$points, c(8, 7, 7))
  }
)

test_that("a scanned key without a mark is no key, and sheets without a mark are no test", {
  scanned <- folder_of(scan.csv = c("key,\" \"", "h1,ABCD", "h2,ABDD", "h3,BBDC", "h4,ABCC"))
  account <- read_account(file.path(scanned, "scan.csv"))
  expect_equal(names(attr(account, "responses")), c("student", paste0("Q", 1:4)))
  expect_true(all(is.na(attr(account, "items")$key)))
  expect_match(account$taken[account$what == "key"], "no line")
  expect_match(account$taken[account$what == "left_out"], "1")
})
