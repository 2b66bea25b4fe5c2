# Bad input: the right reading, or one error of three parts, and nothing half
# written. Each case is a file as bytes.

as_bytes <- function(...) charToRaw(enc2utf8(paste0(..., collapse = "")))
in_encoding <- function(text, to) iconv(enc2utf8(text), "UTF-8", to, toRaw = TRUE)[[1]]
plain_rows <- "student,Q1,Q2\nJos\u00e9,1,0\nb,0,1\n"

# What comes of a file: the sitting, or the class and the text of the error.
comes_of <- function(bytes, name = "export.csv", ...) {
  file <- file.path(do.call(folder_of, stats::setNames(list(bytes), name)), name)
  room <- tempfile("room-")
  dir.create(room)
  folder <- file.path(room, "made")
  out <- tryCatch(
    {
      new_test(folder, file, ...)
      list(quiz = read_sitting(folder))
    },
    error = function(e) {
      list(class = class(e)[1], text = gsub("\\s+", " ", conditionMessage(e)))
    }
  )
  expect_identical(readBin(file, "raw", 1e7), bytes) # never changed
  if (is.null(out$quiz)) expect_length(list.files(room, all.files = TRUE, no.. = TRUE), 0)
  out
}

test_that(
  "every encoding, separator and line end that a spreadsheet writes reads the same",
  {
    forms <- list(
      as_bytes(plain_rows),
      c(as.raw(c(0xEF, 0xBB, 0xBF)), as_bytes(plain_rows)),
      in_encoding(plain_rows, "CP1252"),
      c(as.raw(c(0xFF, 0xFE)), in_encoding(plain_rows, "UTF-16LE")),
      c(as.raw(c(0xFE, 0xFF)), in_encoding(plain_rows, "UTF-16BE")),
      in_encoding(plain_rows, "UTF-16LE"),
      as_bytes(gsub(",", ";", plain_rows)),
      as_bytes(gsub(",", "\t", plain_rows)),
      as_bytes(gsub(",", " | ", plain_rows)),
      as_bytes(gsub("\n", "\r\n", plain_rows)),
      as_bytes(gsub("\n", "\r", plain_rows)),
      as_bytes(sub("\n$", "", plain_rows)),
      as_bytes(gsub("\n", ",,\n", plain_rows), ",,,,\n,,,,\n"),
      as_bytes(
        "\"student\",\"Q1\",\"Q2\"\n\"Jos\u00e9\",\"1\",\"0\"\n\"b\",\"0\",\"1\"\n"
      ),
      as_bytes("My quiz\n\n", plain_rows),
      as_bytes("student,Q1,Q2\nJos\u00e9,1,0\nb,0,1,,,\n"),
      as_bytes("student,Q1,Q2\nJos\u00e9,1\nb,0,1\n")
    )
    expected <- c("Jos\u00e9", "b")
    for (k in seq_along(forms)) {
      got <- comes_of(forms[[k]])
      expect_equal(
        got$quiz$students$student,
        expected,
        label = paste("form", k, got$text)
      )
      expect_equal(summarise_students(got$quiz)$points, c(1, 1), label = paste("form", k))
    }
  }
)

test_that("decimal commas, quoted line ends and long or repeated headers come through", {
  comma <- comes_of(as_bytes("student;Q1;Q2\na;0,5;1\nb;1,0;0,25\n"))$quiz
  expect_equal(summarise_students(comma)$points, c(1.5, 1.25))
  broken <- comes_of(
    as_bytes("student,\"Q1\nwhy?\",Q2\na,\"one\ntwo\",x\nb,\"say \"\"hi\"\"\",y\n"),
    key = "later"
  )$quiz
  expect_equal(broken$items$item, c("Q1", "Q2"))
  expect_equal(
    internal("shown_cells")(broken)[, 1],
    c("one\ntwo", "say \"hi\""),
    ignore_attr = TRUE
  )
})

test_that("what cannot be read is said in three parts: what, where, what to do", {
  zip_of <- function(files) {
    folder <- folder_of()
    for (name in names(files)) writeBin(files[[name]], file.path(folder, basename(name)))
    path <- tempfile(fileext = ".zip")
    zip::zip(path, list.files(folder), root = folder)
    bytes <- readBin(path, "raw", 1e7)
    for (name in names(files)) { # a name of the same length that climbs
      at <- grepRaw(charToRaw(basename(name)), bytes, all = TRUE, fixed = TRUE)
      for (k in at) {
        bytes[k + seq_len(nchar(basename(name))) - 1] <- charToRaw(name)[
          seq_len(nchar(basename(name)))
        ]
      }
    }
    bytes
  }
  climbing <- zip_of(list(aaaaaaaaaaaa.xml = as_bytes("<assessmentResult/>")))
  at <- grepRaw(charToRaw("aaaaaaaaaaaa.xml"), climbing, all = TRUE)
  for (k in at) climbing[k + 0:15] <- charToRaw("../../../../x.xml"[1])[1:16]
  huge <- zip_of(list(results.xml = rep(as.raw(32), 4e7)))
  locked <- c(
    as.raw(c(0xD0, 0xCF, 0x11, 0xE0, 0xA1, 0xB1, 0x1A, 0xE1)), raw(64),
    iconv("EncryptedPackage", "UTF-8", "UTF-16LE", toRaw = TRUE)[[1]], raw(64)
  )
  cases <- list(
    list("x.csv", raw(0), "input", "is empty"),
    list("x.csv", as_bytes("\n\n  \n"), "input", "nothing but blanks"),
    list(
      "x.csv",
      c(as_bytes("student,Q1\na"), as.raw(0), as_bytes(",1\n")),
      "input",
      "byte 13"
    ),
    list("x.csv", as_bytes("student,Q1\na,\"1\nb,0\n"), "input", "line 2"),
    list("x.csv", as_bytes("student,Q1,Q2\n"), "input", "no rows below"),
    list(
      "x.csv",
      as_bytes("Just a letter to my class.\nIt has two lines.\n"),
      "undecided",
      "column"
    ),
    list("x.xlsx", locked, "input", "with a password"),
    list("x.xls", locked[1:70], "input", "old kind"),
    list("x.xlsx", as_bytes("PK\u0003\u0004 not a zip at all"), "input", "damaged zip"),
    list("x.zip", climbing, "input", "climbs out of its folder"),
    list("x.xml", as_bytes("<assessmentResult><context>"), "input", "broken XML"),
    list(
      "x.xml",
      as_bytes("<html><body>Log in</body></html>"),
      "input",
      "a web page without a table of results"
    ),
    list("x.xml", as_bytes("<notes>x</notes>"), "input", "neither QTI results nor a QTI item"),
    list(
      "x.xml",
      as_bytes(
        paste0(
          "<!DOCTYPE a [<!ENTITY x SYSTEM ",
          "\"file:///etc/passwd\">]><assessmentResult>&x;</assessmentResult>"
        )
      ),
      "input",
      "entities of its own"
    ),
    list(
      "x.xml",
      as_bytes(
        paste0(
          "<!DOCTYPE l [<!ENTITY a \"ha\"><!ENTITY b ",
          "\"&a;&a;&a;&a;\">]><assessmentResult>&b;</assessmentResult>"
        )
      ),
      "input",
      "entities of its own"
    ),
    list("x.xml", as_bytes(strrep("<a>", 5000)), "input", "is nested 5 000 deep"),
    list("x.json", as_bytes("{\"a\":", strrep("[", 20000)), "input", "is nested 20 001 deep"),
    list("x.json", as_bytes("{\"actor\": "), "input", "broken JSON"),
    list("x.json", as_bytes("{\"a\": 1}"), "input", "neither CASE"),
    list(
      "x.json",
      as_bytes(
        "{\"actor\":{},\"verb\":{\"id\":\"x/seen\"},\"object\":{\"id\":\"y\"}}\n{\"actor\n"
      ),
      "input",
      "line 2"
    ),
    list(
      "x.json",
      as_bytes(
        "[{\"actor\":{\"name\":\"a\"},\"verb\":{\"id\":\"x/seen\"},\"object\":{\"id\":\"y\"}}]"
      ),
      "input",
      "verbs are: seen"
    )
  )
  for (case in cases) {
    got <- comes_of(case[[2]], case[[1]])
    expect_equal(
      got$class,
      paste0("pregunta_error_", case[[3]]),
      label = paste(case[[4]], "class")
    )
    expect_match(got$text, case[[4]], fixed = TRUE)
    expect_match(got$text, " i ", fixed = TRUE, label = paste(case[[4]], "what to do"))
  }
  bomb <- internal("check_zip")
  expect_refused(
    bomb("x.zip", data.frame(Name = "a.xml", Length = 4e9)),
    "input",
    "holds 4 000 MB"
  )
})

test_that("what an entry of a zip says of its size is not believed", {
  folder <- folder_of(a.xml = as_bytes(strrep(" ", 3e6)))
  path <- tempfile(fileext = ".zip")
  zip::zip(path, "a.xml", root = folder)
  expect_lte(length(internal("read_zip_entry")(path, "a.xml", 1e6)), 2e6 + 1)
})

test_that("on the command line: status 1 or 2, a message, no traceback, no folder", {
  folder <- folder_of(x.csv = raw(0), y.csv = as_bytes("a;b\n1;2\n"))
  for (call in list(
    c("--from", file.path(folder, "x.csv")),
    c("--from", file.path(folder, "nowhere.csv")),
    c("--from", folder),
    c("--from", file.path(folder, "y.csv"), "--sheet", "A"),
    c("--from", file.path(folder, "y.csv"), "--like", "nowhere"),
    c("--from", file.path(folder, "y.csv"), "--set", "nonsense")
  )) {
    out <- tempfile("made-")
    got <- pregunta("new", out, call)
    expect_true(got$status %in% 1:2, label = paste(call, collapse = " "))
    expect_match(got$err, "\n", fixed = TRUE)
    expect_no_match(got$err, "Traceback|Calls:|did not foresee|Execution halted")
    expect_false(dir.exists(out))
  }
})

test_that(
  "what students typed reaches no spreadsheet as a formula and comes back as it was",
  {
    got <- comes_of(
      as_bytes("student,Q1,Q1 points\na,=1+1,1\nb,@cmd,0\nc,-x,0\nd,-5,1\n")
    )
    expect_equal(
      internal("shown_cells")(got$quiz)[, 1],
      c("=1+1", "@cmd", "-x", "-5"),
      ignore_attr = TRUE
    )
    folder <- tempfile()
    new_test(
      folder,
      file.path(folder_of(x.csv = "student,Q1,Q1 points\na,=1+1,1\nb,@cmd,0"), "x.csv")
    )
    expect_match(readLines(file.path(folder, "responses.csv"))[2:3], ",'[=@]")
  }
)

test_that("a condition holds its facts as fields", {
  folder <- plain_folder(items = c("item,key,type", "Q1,A,choice", "Q2,B,chioce"))
  error <- expect_refused(read_sitting(folder), "input", "a type that is not known")
  expect_identical(error$file, "items.csv")
  expect_identical(error$line, 3L)
  expect_identical(error$column, "type")
  expect_identical(error$value, "chioce")
  expect_true("choice" %in% error$choices)
  expect_match(error$fix, "Did you mean \"choice\"")
  quiz <- read_sitting(plain_folder())
  error <- expect_refused(
    summarise_items(quiz, by = "sections"),
    "call",
    "no column \"sections\""
  )
  expect_identical(error$value, "sections")
  expect_true("section" %in% error$choices)
  error <- expect_refused(adjust(quiz, "points", "a", "Q1", "7"), "input", "0 to 1")
  expect_identical(error[c("column", "value")], list(column = "value", value = "7"))
})

test_that("an error is laid out as cli lays out a condition, whatever the width", {
  set.seed(4)
  said <- function() {
    word <- function(n) paste(sample(c(letters, "{", "<"), n, TRUE), collapse = "")
    paste(vapply(sample(12, sample(30, 1), TRUE), word, ""), collapse = " ")
  }
  for (width in c(60, 80, 120)) {
    withr::local_options(cli.width = width, cli.condition_width = width)
    for (where in list(NULL, said(), c(said(), said()))) {
      error <- tryCatch(
        internal("abort_pregunta")("input", said(), where, said()),
        error = identity
      )
      plain <- function(text) gsub("\u00a0", " ", cli::ansi_strip(text))
      expect_equal(plain(conditionMessage(error)), plain(rlang::cnd_message(error)))
    }
  }
})

test_that("a bundle and a finding that are not as they have to be are not made", {
  new_bundle <- internal("new_bundle")
  new_finding <- internal("new_finding")
  whole <- new_bundle(responses = data.frame(student = "a"), origin = "a.csv")
  expect_setequal(names(whole), names(formals(new_bundle)))
  expect_error(new_bundle(origin = "a.csv"), "there is nothing in it")
  expect_error(
    new_bundle(responses = data.frame(x = 1), origin = "a.csv"),
    "responses has no column student"
  )
  expect_error(
    new_bundle(items = data.frame(item = 1), origin = NA_integer_),
    "where it is from"
  )
  expect_error(
    new_bundle(items = data.frame(item = 1), origin = "a", account = data.frame(x = 1)),
    "its account"
  )
  found <- new_finding("note", "a.csv", "Q1", "x", "is odd", "Look.", 3)
  expect_identical(found$line, 3L)
  expect_error(new_finding("fatal", "a.csv", "Q1", "x", "is odd", "Look."), "not a finding")
  expect_error(
    new_finding("note", "a.csv", c("Q1", "Q2"), "x", "is odd", "Look."),
    "not a finding: column"
  )
  quiz <- read_sitting(demo_path())
  findings <- check_sitting(quiz)
  expect_identical(attr(findings[1:2, ], "about"), attr(findings, "about"))
  expect_identical(class(findings[c("severity", "file")]), "data.frame")
})

test_that("a wrong setting is named, with its line, what it says and what to write", {
  wrong <- list(
    attempts = "worst", purpos = "rank", due = "soon", levels = "{a: 0.2}",
    thresholds = "{hard: x}", thresholds = "{hardy: 1}", cuts = "{TC.1: {good: 0.8}}",
    cuts = "{TC.1: {secure: 0.2}}", mastery_cut = "[1, 2]", rounding = "-1",
    exclude = "[{section: []}]", messages = "{nobody: hello}", scale = "[1, x]",
    renamed = "{A: [B, C]}"
  )
  for (k in seq_along(wrong)) {
    name <- names(wrong)[k]
    folder <- demo_copy()
    line <- paste0(name, ": ", wrong[[k]])
    writeLines(c("title: Tides", line), file.path(folder, "test.yml"))
    error <- expect_refused(read_sitting(folder), "input", paste0("\"", name, "\""))
    expect_equal(c(error$file, error$line), c("test.yml", "2"), label = line)
    expect_no_match(conditionMessage(error), "\"\"", fixed = TRUE)
  }
})

test_that("a heading of nothing but blanks is none, and is told", {
  folder <- folder_of(
    responses.csv = c("student,Q1, ,Q2", "a,A,x,B", "b,B,y,C", "c,A,,B"),
    items.csv = c("item,key", "Q1,A", "Q2,B")
  )
  quiz <- read_sitting(folder)
  expect_equal(summarise_students(quiz)$points, c(2, 0, 2))
  expect_true("V3" %in% check_sitting(quiz)$column)
})
