test_that("a choice earns the points when it is the key, or one of them", {
  expect_equal(points_of(c("B", " b", "A", "BD"), "choice", "B"), c(1, 1, 0, 0))
  expect_equal(points_of(c("B", "D", "A"), "choice", "B|D", points = 2), c(2, 2, 0))
})

test_that("a set is right as a whole, or each by each without going below 0", {
  answers <- c("A;C", "C ; A", "A", "A;B", "A;B;C;D", "B;D", "A;A;C")
  expect_equal(points_of(answers, "multiple", "A;C"), c(1, 1, 0, 0, 0, 0, 1))
  expect_equal(points_of(answers, "multiple", "A;C", "each", 2), c(2, 2, 1, 0, 0, 0, 2))
})

test_that("case, accents, outer and repeated blanks of a text do not matter", {
  answers <- c(
    "Ebb", " ebb  tide ", "\u00e9bb", "e\u0301bb", "EBB TIDE", "ebbtide", "flood"
  )
  expect_equal(points_of(answers, "text", "ebb|ebb tide"), c(1, 1, 1, 1, 1, 0, 0))
  expect_equal(
    points_of(
      c("stra\u00dfe", "STRASSE", "\u00c5ngstr\u00f6m"),
      "text",
      "strasse|angstrom"
    ),
    c(1, 1, 1)
  )
})

test_that("a number may lie on the edge of its tolerance, with comma or point", {
  answers <- c(
    "12.2", "12,4", "12.6", "12.61", "\u221212.4", "1.24e1", "about 12.4", "12.4 "
  )
  expect_equal(points_of(answers, "number", "12.4\u00b10.2"), c(1, 1, 1, 0, 0, 1, 0, 1))
  expect_equal(points_of(c("3.5", "3.4999999"), "number", "3.5"), c(1, 0))
  expect_equal(points_of(c("-1", "0", "1.5"), "number", "-1..1"), c(1, 1, 0))
  expect_equal(points_of(c("0.3", "0.1"), "number", "0.2+/-0.1"), c(1, 1))
})

test_that("a sequence is right as a whole, or position by position", {
  answers <- c("C>A>B", "c > a > b", "C>B>A", "A>B>C", "C>A", "C>A>B>D")
  expect_equal(points_of(answers, "order", "C>A>B"), c(1, 1, 0, 0, 0, 0))
  expect_equal(points_of(answers, "order", "C>A>B", "each", 3), c(3, 3, 1, 0, 2, 3))
})

test_that("pairs are right as a whole or pair by pair, and nothing has two partners", {
  answers <- c("1=B;2=A", "2 = a; 1 = b", "1=B;2=C", "1=B", "1=B;1=A;2=A")
  expect_equal(points_of(answers, "match", "1=B;2=A"), c(1, 1, 0, 0, 0))
  expect_equal(points_of(answers, "match", "1=B;2=A", "each", 2), c(2, 2, 1, 1, 1))
})

test_that("a mark is points already, and an impossible one is pointed out, not counted", {
  quiz <- sitting(
    data.frame(student = letters[1:5], Q1 = c("2", "0", "9", "-1", "two"), Q2 = "1"),
    data.frame(item = c("Q1", "Q2"), type = "mark", points = c(4, 1))
  )
  expect_equal(summarise_students(quiz)$points, c(3, 1, 1, 1, 1))
  expect_equal(summarise_students(quiz)$open, c(5, 5, 1, 1, 1))
  errors <- subset(check_sitting(quiz), severity == "error")
  expect_setequal(errors$value, c("9", "-1", "two"))
  expect_equal(errors$line[errors$value == "9"], 3)
})

test_that("an open answer is pending until it has points by hand", {
  quiz <- sitting(
    data.frame(
      student = letters[1:3],
      Q1 = c("long", "short", NA),
      "Q1 points" = c(2, NA, NA),
      Q2 = "A",
      check.names = FALSE
    ),
    data.frame(
      item = c("Q1", "Q2"),
      type = c("open", "choice"),
      key = c(NA, "A"),
      points = c(3, 1)
    )
  )
  students <- summarise_students(quiz)
  expect_equal(students$points, c(3, 1, 1))
  expect_equal(students$open, c(4, 1, 4))
  expect_equal(students$status, c("sat", "waiting", "sat"))
  options <- subset(summarise_options(quiz), item == "Q1")
  expect_equal(options$option, c("2", "3", "(waiting)", "(blank)"))
  expect_equal(options$count, c(1, 0, 1, 1))
})

test_that("a key that cannot be read is named with its item, place and a good example", {
  bad <- list(
    c("number", "twelve", "is not a number"),
    c("number", "3..1", "wrong way round"),
    c("order", "A", "is not a sequence"),
    c("order", "A>B>A", "names a thing twice"),
    c("match", "A;B", "is not made of pairs"),
    c("match", "1=A;1=B", "gives one thing two partners"),
    c("multiple", "A;A", "names an option twice"),
    c("choice", "|", "names no option")
  )
  for (one in bad) {
    items <- data.frame(
      item = c("Q1", "Q2"),
      type = c("mark", one[1]),
      key = c(NA, one[2])
    )
    expect_refused(
      sitting(data.frame(student = "a", Q1 = 1, Q2 = "x"), items),
      "input",
      one[3],
      "items, row 2, column key",
      one[2],
      paste("A key of type", one[1])
    )
  }
})
