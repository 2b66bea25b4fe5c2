# What does not add up is a finding: gravity, place, value, meaning, what to do.

# The finding about a value in a folder made of these files.
found_in <- function(..., value) {
  findings <- check_sitting(read_sitting(plain_folder(...)))
  hit <- findings[findings$value %in% value, ]
  expect_gt(nrow(hit), 0, label = value)
  hit[1, ]
}

expect_finding <- function(found, severity, file, line, finding, action = "") {
  expect_equal(found$severity, severity)
  expect_equal(found$file, file)
  expect_equal(found$line, as.integer(line))
  expect_match(found$finding, finding)
  expect_match(found$action, action, fixed = TRUE)
}

test_that("on the demo exactly what was planted is found", {
  findings <- check_sitting(read_sitting(demo_path()))
  planted <- data.frame(
    severity = c("error", "warning", rep("note", 4)),
    file = c(
      "responses.csv", "responses.csv", "test.yml", "responses.csv", "students.csv",
      "items.csv"
    ),
    line = c(24L, 52L, NA, 86L, 78L, 2L),
    value = c("14", "F", "trial-*", "h031", "h077", "Q1")
  )
  expect_equal(as.data.frame(findings)[names(planted)], planted, ignore_attr = TRUE)
})

test_that("what stands twice counts once, and the line that does not is named", {
  expect_finding(
    found_in(items = c("item,key", "Q1,A", "Q2,B", "Q1,C"), value = "Q1"),
    "error",
    "items.csv",
    4,
    "first in line 2; this one is not used"
  )
  expect_finding(
    found_in(
      students.csv = c("student,name", "a,Ada", "b,Bo", "c,Cy", "a,Abe"),
      value = "a"
    ),
    "error",
    "students.csv",
    5,
    "first in line 2"
  )
  expect_finding(
    found_in(options.csv = c("item,option", "Q1,A", "Q1,B", "Q1,C", "Q1,A"), value = "A"),
    "error",
    "options.csv",
    5,
    "first in line 2"
  )
  expect_finding(
    found_in(options.csv = c("item,option", "Q3,A"), value = "Q3"),
    "error",
    "options.csv",
    2,
    "is not an item",
    "Known are: Q1, Q2."
  )
})

test_that("ids that differ by blanks, case or leading zeros are told, with the lines", {
  found <- found_in(
    c("student,Q1,Q2", "007,A,B", "S 1,A,B"),
    students.csv = c("student", "7", "s1"),
    value = c("007, 7")
  )
  expect_finding(
    found,
    "warning",
    "responses.csv",
    2,
    "only by blanks, case or leading zeros"
  )
})

test_that(
  paste0(
    "standards that are not listed, hang on nothing or stand above themselves are told ",
    "and read on"
  ),
  {
    items <- c("item,key,standards", "Q1,A,S.1", "Q2,B,S.12")
    expect_finding(
      found_in(items = items, standards.csv = c("code", "S.1", "S.2"), value = "S.12"),
      "warning",
      "items.csv",
      3,
      "is a standard of Q2 that is not listed",
      "Did you mean"
    )
    expect_finding(
      found_in(
        items = items,
        standards.csv = c("code,parent", "S.1,T", "S.12,"),
        value = "T"
      ),
      "error",
      "standards.csv",
      2,
      "is the parent of a standard but not listed"
    )
    folder <- plain_folder(
      items = items,
      standards.csv = c("code,parent", "S.1,S.12", "S.12,S.1")
    )
    expect_match(
      check_sitting(read_sitting(folder))$finding,
      "makes S.1 stand above itself",
      all = FALSE
    )
    expect_equal(nrow(summarise_standards(read_sitting(folder))), 2)
  }
)

test_that("an item without a key waits, is said, and its answers are shown", {
  folder <- plain_folder(items = c("item,type,key", "Q1,choice,", "Q2,choice,B"))
  expect_finding(
    found_in(items = c("item,type,key", "Q1,choice,", "Q2,choice,B"), value = "Q1"),
    "error",
    "items.csv",
    2,
    "without a key",
    "such as B"
  )
  quiz <- read_sitting(folder)
  expect_equal(summarise_students(quiz)$points, c(1, 1, 0))
  expect_equal(subset(summarise_options(quiz), item == "Q1")$count, c(2, 1))
  expect_equal(pregunta("items", folder)$status, 0)
  expect_equal(pregunta("check", folder)$status, 1)
})

test_that(
  paste0(
    "given points that differ from the scored are counted, and all right below the most ",
    "is seen"
  ),
  {
    rows <- c(
      "student,Q1,Q1 points,Q2,Q2 points", "a,A,1,B,0.5", "b,A,1,B,0.5", "c,A,1,B,0.5",
      "d,B,1,B,0.5", "e,C,0,B,0.5"
    )
    expect_finding(
      found_in(rows, value = "1"),
      "warning",
      "responses.csv",
      5,
      "differs from the 0 .* for 1 student, by 1 on"
    )
    findings <- check_sitting(read_sitting(plain_folder(rows)))
    expect_match(
      findings$finding,
      "average of the points given, though everybody gave the right answer",
      all = FALSE
    )
    expect_match(findings$finding, "for 5 students, by -0.5 on average", all = FALSE)
  }
)

test_that("items without spread: all right is no fault, nobody or all at half is", {
  marks <- c("student,Q1,Q2,Q3", paste0(letters[1:6], ",1,0,1"))
  findings <- check_sitting(
    read_sitting(
      plain_folder(
        marks,
        items = c("item,type,points", "Q1,mark,1", "Q2,mark,1", "Q3,mark,2")
      )
    )
  )
  expect_equal(
    findings$severity[match(c("Q1", "Q2", "Q3"), findings$value)],
    c("note", "warning", "warning")
  )
  expect_match(findings$finding[findings$value == "Q3"], "gave everybody 1 of 2")
})

test_that(
  paste0(
    "dates of a spreadsheet, letters of a wrong encoding, near answers and stray ",
    "questions are seen"
  ),
  {
    expect_finding(
      found_in(
        c("student,Q1,Q2", "a,5-Mar,B", "b,3-5,B"),
        items = c("item,type,key", "Q1,text,3-5", "Q2,choice,B"),
        value = "5-mar"
      ),
      "warning",
      "responses.csv",
      2,
      "a spreadsheet made a date",
      "It may have been \"3-5\"."
    )
    expect_finding(
      found_in(
        c("student,Q1,Q2", "a,A,B", "Jos\u00c3\u00a9,A,B"),
        value = "Jos\u00c3\u00a9"
      ),
      "warning",
      "responses.csv",
      NA,
      "wrong encoding"
    )
    expect_finding(
      found_in(
        c("student,Q1,Q2", "a,A,B", "b,the mon,B"),
        items = c("item,key", "Q1,the moon", "Q2,B"),
        options.csv = c("item,option", "Q1,the moon", "Q1,the wind", "Q1,A"),
        value = "the mon"
      ),
      "warning",
      "responses.csv",
      3,
      "the nearest is \"the moon\""
    )
    findings <- check_sitting(
      read_sitting(plain_folder(c("student,Q1,Q2,Q3,shoe", "a,A,B,C,9")))
    )
    expect_equal(
      findings$severity[match(c("Q3", "shoe"), findings$column)],
      c("warning", "note")
    )
  }
)

test_that("several keys that are missing are one finding, settled as they come", {
  items <- c("item,type,key", "Q1,choice,", "Q2,choice,", "Q3,choice,B", "Q4,choice,")
  rows <- c("student,Q1,Q2,Q3,Q4", "a,A,B,B,A", "b,A,B,B,B", "c,B,B,A,A")
  folder <- plain_folder(rows, items)
  lacking <- function() {
    found <- check_sitting(read_sitting(folder))
    as.data.frame(found)[found$column %in% "key" & found$severity == "error", ]
  }
  expect_identical(nrow(lacking()), 1L)
  expect_identical(lacking()$value, "Q1, Q2, Q4")
  many <- c(rows[1], sprintf("s%04d,A,B,B,%s", 1:3000, c("A", "B")))
  writeLines(many, file.path(large <- plain_folder(rows, items), "responses.csv"))
  for (part in c(1, 1e-4)) {
    withr::local_options(pregunta.read_at_once = part)
    for (verb in c("items", "students")) {
      said <- run_here(verb, large, "--format", "csv")$err
      expect_match(said, "^1 mistake in", label = paste(verb, part))
    }
  }
  expect_identical(lacking()$line, 2L)
  expect_match(lacking()$finding, "3 items without a key")
  adjust(folder, "key", item = "Q1", value = "A")
  expect_identical(lacking()[c("value", "line")], data.frame(value = "Q2, Q4", line = 3L), ignore_attr = TRUE)
  adjust(folder, "key", item = "Q2", value = "B")
  expect_match(lacking()$finding, "is an item without a key")
})

test_that("a column whose name is misspelt is told, one of one's own is not", {
  found_of <- function(head, ...) {
    rows <- paste0("Q", 1:2, strrep(",A", lengths(strsplit(head, ",")) - 1))
    found <- check_sitting(read_sitting(plain_folder(items = c(head, rows), ...)))
    found[found$file != "responses.csv", ]
  }
  slips <- c(
    kye = "key", Key = "key", keys = "key", tpye = "type", pionts = "points",
    standrads = "standards", standarts = "standards", prommpt = "prompt"
  )
  for (name in names(slips)) {
    found <- found_of(paste0("item,", name))
    told <- found[which(found$column == name), ]
    expect_equal(nrow(told), 1, label = name)
    expect_equal(told$line, 1)
    expect_match(told$finding, slips[[name]], label = name)
  }
  own <- c("level", "note", "tape", "session", "hay", "prom", "unit", "answer", "Key word")
  for (name in own) {
    expect_false(name %in% found_of(paste0("item,key,", name))$column, label = name)
    expect_false(name %in% found_of(paste0("item,", name))$column, label = name)
  }
  # Where the column itself is there, another of nearly its name is one's own.
  expect_equal(nrow(found_of("item,key,keys")), 0)
  for (head in c("student,Q1,Q2,atempt,home", "student,item,response,atempt,home")) {
    rows <- if (grepl("item", head)) "a,Q1,A,2,x" else "a,A,B,2,x"
    found <- check_sitting(read_sitting(plain_folder(c(head, rows))))
    expect_equal(found$column[grepl("\"attempt\"", found$finding)], "atempt")
    expect_false("home" %in% found$column[found$severity == "warning"])
  }
  people <- c("student,name,sections,home", "a,Ada,x,y")
  expect_equal(found_of("item,key", students.csv = people)$column, "sections")
})

test_that("reading begins no threads, which a process forked later would wait for", {
  skip_on_os("windows")
  items <- c("item,type,key,note,unit,page,by", "Q1,text,neap tide,x,,,", "Q2,choice,B,,,,")
  folder <- plain_folder(c("student,Q1,Q2", "a,neap tyde,A"), items)
  look <- function() nrow(check_sitting(read_sitting(folder)))
  here <- look()
  job <- parallel::mcparallel(look())
  defer_here(tools::pskill(job$pid, tools::SIGKILL), environment())
  there <- NULL
  for (turn in 1:60) {
    if (is.null(there)) there <- parallel::mccollect(job, wait = FALSE, timeout = 1)[[1]]
  }
  expect_identical(there, here)
})

test_that("where no item has a key, that is one finding, and marks are marks", {
  found_of <- function(...) check_sitting(read_sitting(plain_folder(...)))
  found <- found_of(items = c("item", "Q1", "Q2"))
  expect_equal(found$value[found$severity == "error"], "Q1, Q2")
  expect_equal(found$column[found$severity == "error"], "key")
  # One number among them: it is marked, and the others were mistyped.
  marks <- c("student,Q1,Q2", "a,1,B", "b,B,B", "c,A,C")
  found <- found_of(marks, c("item", "Q1", "Q2"))
  expect_setequal(found$column[found$severity == "error"], c("Q1", "key"))
  # Who says that it is marked is believed.
  found <- found_of(items = c("item,type", "Q1,mark", "Q2,mark"))
  expect_setequal(found$column[found$severity == "error"], c("Q1", "Q2"))
  none <- found_of(c(marks[1], "a,,", "b,1,"), c("item", "Q1", "Q2"))
  expect_false(any(none$severity == "error"))
})
