
test_that("tags of the items are counted by the same code as standards, several of one item in each", {
  quiz <- sitting(data.frame(student = c("a", "b", "c"), Q1 = c("A", "A", "B"), Q2 = c("A", "B", "B"), Q3 = c("A", "A",
    "A")),
    data.frame(item = c("Q1", "Q2", "Q3"), key = "A", points = c(1, 2, 1), topic = c("moon; wind", "wind", NA)))
  tags <- summarise_standards(quiz, tag = "topic")
  expect_equal(tags$code, c("moon", "wind"))
  expect_equal(tags$items, c(1, 2))
  expect_equal(tags$points, c(1, 3))
  expect_equal(tags$share, c(2 / 3, (1 + 1 / 3 + 0) / 3))
  by_student <- summarise_standards(quiz, by = "student", tag = "topic")
  expect_equal(by_student$earned[by_student$code == "wind"], c(3, 1, 0))
  types <- summarise_standards(read_sitting(demo_path()), tag = "type")
  expect_equal(sum(types$items), 24)
  expect_refused(summarise_standards(quiz, tag = "topik"), "call", "no tag \"topik\"", "Did you mean \"topic\"?")
  expect_refused(summarise_standards(quiz, tag = "key"), "call", "Tags: type, topic")
  expect_output(print(tags), "^topic")
})

test_that("priority standards are marked, and the weakest of them is named beside the weakest of all", {
  shown <- capture.output(print(summarise_standards(read_sitting(demo_path()))))
  expect_match(shown[3], "  TC.1.a !", fixed = TRUE)
  expect_match(paste(shown, collapse = " "), "Of the priority standards the weakest is TC.1.a", fixed = TRUE)
})

test_that("counts per band are said, with the score that rounding lifts over the edge", {
  quiz <- random_sitting(n = 30, k = 10, settings = list(bands = list(C = 0, B = 0.5, A = 0.9), rounding = 0.01))
  students <- summarise_students(quiz)
  shown <- paste(capture.output(print(students)), collapse = " ")
  counts <- table(factor(students$band, c("A", "B", "C")))
  expect_match(shown, sprintf("Bands: A %d, B %d and C %d.", counts[1], counts[2], counts[3]), fixed = TRUE)
  expect_match(shown, "89.5% counts as A", fixed = TRUE)
  edge <- internal("step_of")(c(0.895, 0.8949), quiz$settings$bands, 0.01)
  expect_equal(edge, c("A", "B"))
  plain <- random_sitting(n = 30, k = 10, settings = list(bands = list(C = 0, A = 0.9)))
  expect_no_match(paste(capture.output(print(summarise_students(plain))), collapse = " "), "rounded")
})
