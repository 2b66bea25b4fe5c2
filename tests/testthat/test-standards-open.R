# Open standards: documents written from the standards' own field lists.

made_in <- function(files, ..., from = names(files)) {
  folder <- do.call(folder_of, files)
  out <- tempfile("new-")
  account <- new_test(out, file.path(folder, from), ...)
  list(quiz = read_sitting(out), account = account, folder = out)
}

result_2x <- function(student, answers, stamp = "2026-03-02T10:00:00") {
  items <- vapply(seq_along(answers), function(k) {
    paste0(
      "<itemResult identifier='I", k, "' sequenceIndex='", k, "' datestamp='", stamp,
      "' sessionStatus='final'>", answers[k], "</itemResult>"
    )
  }, "")
  paste0(
    "<?xml version='1.0' encoding='UTF-8'?>",
    "<assessmentResult xmlns='http://www.imsglobal.org/xsd/imsqti_result_v2p1'>",
    "<context sourcedId='", student, "'/><testResult identifier='T' datestamp='", stamp,
    "'/>", paste(items, collapse = ""), "</assessmentResult>"
  )
}
variable <- function(cardinality, base, value, correct = NULL) {
  values <- function(name, x) {
    if (length(x)) {
      paste0(
        "<", name, ">", paste0("<value>", x, "</value>", collapse = ""), "</", name, ">"
      )
    }
  }
  paste0(
    "<responseVariable identifier='RESPONSE' cardinality='", cardinality, "' baseType='",
    base, "'>", values("correctResponse", correct), values("candidateResponse", value),
    "</responseVariable>"
  )
}
score <- function(x, most = 1) {
  paste0(
    "<outcomeVariable identifier='SCORE' cardinality='single' baseType='float' ",
    "normalMaximum='",
    most,
    "'><value>",
    x,
    "</value></outcomeVariable>"
  )
}
took <- function(seconds) {
  paste0(
    "<responseVariable identifier='duration' cardinality='single' ",
    "baseType='float'><candidateResponse><value>",
    seconds,
    "</value></candidateResponse></responseVariable>"
  )
}

test_that(
  paste0(
    "QTI results of every cardinality become items of every type, with time and points ",
    "by hand"
  ),
  {
    answers <- function(choice, several, sequence, pairs, word, length, essay) {
      c(
        paste0(
          variable("single", "identifier", choice, "A"), took(20),
          score(as.integer(choice == "A"))
        ),
        paste0(variable("multiple", "identifier", several, c("A", "C")), score(0, 2)),
        paste0(variable("ordered", "identifier", sequence, c("X", "Y", "Z")), score(1)),
        paste0(variable("multiple", "directedPair", pairs, c("a 1", "b 2")), score(2, 2)),
        paste0(variable("single", "string", word, "ebb"), score(1)),
        paste0(variable("single", "float", length, "3.5"), took(10.5), score(1)),
        paste0(variable("single", "string", essay), score(2.5, 3))
      )
    }
    made <- made_in(
      list(
        one.xml = result_2x(
          "s1",
          answers(
            "A",
            c("C", "A"),
            c("X", "Y", "Z"),
            c("a 1", "b 2"),
            "Ebb",
            "3.50",
            "Because &lt;b&gt;"
          )
        ),
        two.xml = result_2x(
          "s2",
          answers("B", "A", c("Y", "X", "Z"), c("a 2", "b 1"), "flow", "4", "No")
        )
      )
    )
    expect_equal(
      made$quiz$items$type,
      c("choice", "multiple", "order", "match", "text", "number", "open")
    )
    expect_equal(made$quiz$items$key, c("A", "A;C", "X>Y>Z", "a=1;b=2", "ebb", "3.5", NA))
    expect_equal(made$quiz$items$points, c(1, 2, 1, 2, 1, 1, 3))
    expect_equal(
      summarise_students(made$quiz)$points,
      c(1 + 2 + 1 + 2 + 1 + 1 + 2.5, 2.5)
    )
    expect_equal(summarise_test(made$quiz)$mean_seconds, 30.5)
    expect_equal(
      internal("shown_cells")(made$quiz)[1, 7],
      "Because <b>",
      ignore_attr = TRUE
    )
  }
)

test_that("a second try of one item stands beside the rest of the first", {
  first <- c(
    paste0(variable("single", "identifier", "B", "A"), score(0)),
    paste0(variable("single", "identifier", "A", "A"), score(1))
  )
  again <- paste0(variable("single", "identifier", "A", "A"), score(1))
  # The later try lies in the file that comes first.
  made <- made_in(
    list(
      a.xml = result_2x("s1", again, "2026-03-02T11:00:00"),
      b.xml = result_2x("s1", first),
      c.xml = result_2x("s2", first)
    )
  )
  expect_equal(summarise_students(made$quiz)$points, c(2, 1))
  rows <- read.csv(file.path(made$folder, "responses.csv"), colClasses = "character")
  expect_equal(
    subset(rows, student == "s1" & attempt == "2")[c("item", "response")],
    data.frame(item = c("I1", "I2"), response = c("A", "A")),
    ignore_attr = TRUE
  )
})

test_that("QTI items read alike in the spelling of 2.x and of 3.0", {
  camel <- paste0(
    "<assessmentItem xmlns='http://www.imsglobal.org/xsd/imsqti_v2p1' identifier='I1' ",
    "title='Tides'>",
    "<responseDeclaration identifier='R' cardinality='single' ",
    "baseType='identifier'><correctResponse><value>B</value>",
    "</correctResponse></responseDeclaration><outcomeDeclaration identifier='SCORE' ",
    "cardinality='single' baseType='float' ",
    "normalMaximum='2'/><itemBody><p>Look at the chart.</p><choiceInteraction ",
    "responseIdentifier='R' shuffle='true' ",
    "maxChoices='1'><prompt>Why?</prompt><simpleChoice ",
    "identifier='A'>Wind<feedbackInline identifier='x' ",
    "outcomeIdentifier='F'>No!</feedbackInline></simpleChoice>",
    "<simpleChoice identifier='B'>Moon &amp; sun</simpleChoice>",
    "</choiceInteraction></itemBody><modalFeedback outcomeIdentifier='F' identifier='y' ",
    "showHide='show'>They pull.",
    "</modalFeedback></assessmentItem>"
  )
  dashed <- camel
  for (name in c(
    "assessmentItem", "responseDeclaration", "correctResponse", "outcomeDeclaration",
    "itemBody", "feedbackInline", "choiceInteraction", "simpleChoice", "modalFeedback",
    "value", "prompt"
  )) {
    dashed <- gsub(
      paste0("(</?)", name, "\\b"),
      paste0("\\1qti-", internal("kebab")(name)),
      dashed
    )
  }
  for (name in c(
    "baseType", "normalMaximum", "responseIdentifier", "maxChoices", "outcomeIdentifier",
    "showHide"
  )) {
    dashed <- gsub(
      paste0(name, "="),
      paste0(internal("kebab")(name), "="),
      dashed,
      fixed = TRUE
    )
  }
  for (document in c(camel, dashed)) {
    made <- made_in(
      list(i.xml = document, r.csv = c("student,I1", "a,B", "b,A")),
      from = "r.csv",
      key = file.path(folder_of(i.xml = document), "i.xml")
    )
    expect_equal(
      made$quiz$items[c("type", "key", "points", "prompt", "rationale")],
      data.frame(
        type = "choice",
        key = "B",
        points = 2,
        prompt = "Why?",
        rationale = "They pull."
      ),
      ignore_attr = TRUE
    )
    expect_equal(made$quiz$options$text, c("Wind", "Moon & sun"))
    expect_equal(summarise_students(made$quiz)$points, c(2, 0))
  }
})

test_that("pairs without direction, mappings and areas of score are read from items", {
  item <- function(id, declaration, interaction) {
    paste0(
      "<assessmentItem identifier='", id, "' title='t'>", declaration, "<itemBody>",
      interaction, "</itemBody></assessmentItem>"
    )
  }
  declared <- function(cardinality, base, inside) {
    paste0(
      "<responseDeclaration identifier='R' cardinality='", cardinality, "' baseType='",
      base, "'>", inside, "</responseDeclaration>"
    )
  }
  map <- function(...) {
    paste0(
      "<mapping upperBound='2'>",
      paste0(
        "<mapEntry mapKey='", c(...), "' mappedValue='", seq_along(c(...)), "'/>",
        collapse = ""
      ),
      "</mapping>"
    )
  }
  key <- folder_of(
    a.xml = item(
      "I1",
      declared(
        "multiple",
        "pair",
        "<correctResponse><value>B A</value></correctResponse>"
      ),
      "<associateInteraction responseIdentifier='R'/>"
    ),
    b.xml = item(
      "I2",
      declared("single", "identifier", map("A", "B")),
      "<choiceInteraction responseIdentifier='R'/>"
    ),
    c.xml = item(
      "I3",
      declared(
        "single",
        "point",
        paste0(
          "<areaMapping><areaMapEntry shape='rect' coords='0,0,5,5' ",
          "mappedValue='3'/></areaMapping>"
        )
      ),
      "<selectPointInteraction responseIdentifier='R'/>"
    ),
    d.xml = item("I4", "", "<p>Tie a bowline.</p>")
  )
  zip <- tempfile(fileext = ".zip")
  zip::zip(zip, list.files(key), root = key)
  made <- made_in(
    list(r.csv = c("id,I1,I2,I3,I3 points,I4", "s,A=B,B,3 4,3,1", "t,A=C,A,9 9,0,0")),
    key = zip
  )
  expect_equal(
    made$quiz$items[c("type", "key", "points")],
    data.frame(
      type = c("match", "choice", "open", "mark"),
      key = c("A=B", "B", NA, NA),
      points = c(1, 2, 3, 1)
    ),
    ignore_attr = TRUE
  )
  expect_equal(made$quiz$items$prompt[4], "Tie a bowline.")
  expect_equal(summarise_students(made$quiz)$points, c(7, 0))
})

test_that("completed activities are marks of what they gave", {
  done <- function(who, what, raw) {
    list(
      actor = list(mbox = paste0("mailto:", who, "@example.org")),
      verb = list(id = "http://x/completed"),
      object = list(id = paste0("http://x/", what)),
      result = list(score = list(raw = raw, max = 10))
    )
  }
  all <- list(
    done("ada", "tides", 8),
    done("bo", "tides", 4),
    done("ada", "currents", 10)
  )
  made <- made_in(list(s.json = as.character(jsonlite::toJSON(all, auto_unbox = TRUE))))
  expect_equal(
    made$quiz$items[c("item", "type", "points")],
    data.frame(item = c("tides", "currents"), type = "mark", points = 10),
    ignore_attr = TRUE
  )
  expect_equal(
    summarise_students(made$quiz)[c("student", "points", "open")],
    data.frame(
      student = c("ada@example.org", "bo@example.org"),
      points = c(18, 4),
      open = c(20, 10)
    ),
    ignore_attr = TRUE
  )
})

test_that("what is written as QTI, CASE or a long table reads back to the same sitting", {
  only_in_all()
  demo <- read_sitting(demo_path())
  for (version in c("2.2", "3.0")) {
    zip <- tempfile(fileext = ".zip")
    export_sitting(demo, zip, "qti", version)
    folder <- tempfile()
    new_test(folder, zip)
    back <- read_sitting(folder)
    expect_equal(
      summarise_items(back),
      summarise_items(demo),
      ignore_attr = TRUE,
      label = version
    )
    same <- c(
      "item", "option", "key", "count", "low", "middle", "high", "option_rest", "pattern",
      "text"
    )
    expect_equal(
      summarise_options(back)[same],
      summarise_options(demo)[same],
      ignore_attr = TRUE,
      label = version
    )
  }
  files <- c(case = tempfile(fileext = ".json"), long = tempfile(fileext = ".csv"))
  for (as in names(files)) {
    expect_equal(
      pregunta("export", demo_path(), "--as", as, "--out", files[[as]])$status,
      0
    )
  }
  folder <- tempfile()
  new_test(
    folder,
    files[["long"]],
    key = file.path(demo_path(), "items.csv"),
    standards = files[["case"]]
  )
  back <- read_sitting(folder)
  kept <- setdiff(names(summarise_items(demo)), "chance") # a long table knows no options
  expect_equal(
    summarise_items(back)[kept],
    summarise_items(demo)[kept],
    ignore_attr = TRUE
  )
  expect_equal(back$standards[names(demo$standards)], demo$standards, ignore_attr = TRUE)
  expect_refused(
    export_sitting(choice_sitting(matrix("A", 2, 1)), tempfile(), "case"),
    "input",
    "no standards"
  )
})

test_that(
  paste0(
    "a roster says name, class, teacher and school of those in the classes that sat the ",
    "test"
  ),
  {
    roster <- folder_of(
      users.csv = c(
        "sourcedId,status,orgSourcedIds,role,username,givenName,familyName,email",
        "u1,active,o1,student,ada,Ada,Anchorley,a@example.org",
        "u2,active,o1,student,ben,Ben,Bollard,b@example.org",
        "u3,active,o1,student,cy,Cy,Capstan,c@example.org",
        "u4,active,o1,teacher,tl,Tess,Lantern,t@example.org",
        "u5,tobedeleted,o1,student,di,Di,Ebbing,d@example.org"
      ),
      classes.csv = c(
        "sourcedId,title,schoolSourcedId", "c1,Harbour A,o1", "c2,Chess club,o1"
      ),
      enrollments.csv = c(
        "sourcedId,classSourcedId,schoolSourcedId,userSourcedId,role",
        "e1,c1,o1,u1,student", "e2,c1,o1,u2,student", "e3,c2,o1,u3,student",
        "e4,c1,o1,u4,teacher", "e5,c2,o1,u1,student"
      ),
      orgs.csv = c("sourcedId,name,type", "o1,Harbour School,school"),
      demographics.csv = c(
        "sourcedId,birthDate,sex", "u1,2014-01-01,female", "u2,2014-02-02,male"
      )
    )
    made <- made_in(
      list(x.csv = c("username,Q1,Q2", "ada,1,0", "ben,1,1")),
      students = roster
    )
    expect_equal(
      made$quiz$students[c("student", "name", "section", "teacher", "school", "sex")],
      data.frame(
        student = c("ada", "ben"),
        name = c("Ada Anchorley", "Ben Bollard"),
        section = "Harbour A",
        teacher = "Tess Lantern",
        school = "Harbour School",
        sex = c("female", "male")
      ),
      ignore_attr = TRUE
    )
    zip <- tempfile(fileext = ".zip")
    zip::zip(zip, list.files(roster), root = roster)
    zipped <- made_in(
      list(x.csv = c("username,Q1,Q2", "ada,1,0", "ben,1,1")),
      students = zip
    )
    expect_equal(zipped$quiz$students, made$quiz$students)
  }
)

test_that("xAPI statements become answers, in an array or one a line", {
  statement <- function(who, item, response, success, kind = "choice", pattern = "b",
                        when = "10:00") {
    list(
      actor = list(account = list(homePage = "https://example.org", name = who)),
      verb = list(id = "http://adlnet.gov/expapi/verbs/answered"),
      timestamp = paste0("2026-03-02T", when, ":00Z"),
      object = list(
        id = paste0("https://example.org/quiz/", item),
        definition = list(
          name = list(en = item),
          interactionType = kind,
          correctResponsesPattern = list(pattern)
        )
      ),
      result = list(response = response, success = success, duration = "PT1M5S")
    )
  }
  all <- list(
    statement("u1", "q1", "b", TRUE),
    statement("u2", "q1", "a", FALSE),
    statement("u1", "q2", "x[,]y", TRUE, "sequencing", "x[,]y"),
    statement("u2", "q2", "y[,]x", FALSE, "sequencing", "x[,]y"),
    statement("u1", "q3", "3", TRUE, "numeric", "2[:]4"),
    statement("u2", "q3", "5", FALSE, "numeric", "2[:]4"),
    statement("u2", "q1", "b", TRUE, when = "10:30")
  )
  json <- as.character(jsonlite::toJSON(all, auto_unbox = TRUE))
  lines <- vapply(all, function(one) {
    as.character(jsonlite::toJSON(one, auto_unbox = TRUE))
  }, "")
  for (document in list(json, lines)) {
    made <- made_in(list(s.json = document))
    expect_equal(
      made$quiz$items[c("item", "type", "key")],
      data.frame(
        item = c("q1", "q2", "q3"),
        type = c("choice", "order", "number"),
        key = c("b", "x>y", "2..4")
      ),
      ignore_attr = TRUE
    )
    expect_equal(summarise_students(made$quiz)$points, c(3, 1))
    expect_equal(summarise_students(read_sitting(made$folder))$student, c("u1", "u2"))
  }
})
