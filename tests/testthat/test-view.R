# What every face shows is asked for in one place.

view_rows <- internal("view_rows")
quiz <- read_sitting(demo_path())

test_that("rows are narrowed by everything that a person can ask for, in any order", {
  students <- summarise_students(quiz)
  standards <- summarise_standards(quiz, "student")
  items <- summarise_items(quiz)
  expect_identical(view_rows(items), items)
  expect_setequal(view_rows(items, item = c("Q3", "Q1"))$item, c("Q1", "Q3"))
  one <- view_rows(standards, student = "h012", standard = "TC.1")
  expect_setequal(one$code, c("TC.1", "TC.1.a", "TC.1.b", "TC.1.c"))
  expect_identical(unique(one$student), "h012")
  expect_identical(view_rows(standards, standard = "tc1A")$code[1], "TC.1.a")
  levels <- names(quiz$settings$levels)
  low <- view_rows(standards, below = "SECURE")
  expect_true(all(low$level %in% levels[1:2]))
  expect_gt(nrow(low), 0)
  absent <- view_rows(students, status = "absent")
  expect_true(all(absent$status == "absent"))
  expect_gte(nrow(view_rows(students, status = "missing")), nrow(absent))
  expect_identical(view_rows(items, student = "h012"), items) # has no students
  for (table in list(one, low, absent)) expect_true(internal("is_summary")(table))
})

test_that("the order asked for is kept, missing figures last, and goes with the table", {
  items <- summarise_items(quiz)
  up <- view_rows(items, sort = "discrimination")
  down <- view_rows(items, sort = "-discrimination")
  there <- sum(!is.na(items$discrimination))
  expect_false(is.unsorted(up$discrimination[seq_len(there)]))
  expect_false(is.unsorted(-down$discrimination[seq_len(there)]))
  expect_true(all(is.na(utils::tail(down$discrimination, nrow(items) - there))))
  expect_identical(attr(up, "sorted"), "discrimination")
  expect_identical(attr(up[1:3, ], "sorted"), "discrimination")
})

test_that("what is not there is said, with what is", {
  items <- summarise_items(quiz)
  standards <- summarise_standards(quiz, "student")
  error <- expect_refused(view_rows(items, item = "Q99"), "call", "There is no item \"Q99\"")
  expect_true("Q1" %in% error$choices)
  expect_refused(view_rows(standards, standard = "XY.1"), "call", "no code \"XY.1\" with")
  expect_refused(view_rows(standards, below = "superb"), "call", "no level \"superb\"")
  expect_refused(view_rows(summarise_students(quiz), status = "gone"), "call", "no status")
  error <- expect_refused(view_rows(items, sort = "-dificulty"), "call", "to sort by")
  expect_match(error$fix, "Did you mean \"difficulty\"")
})

test_that("the grid holds each score once, and prints without a row", {
  standards <- summarise_standards(quiz, "student")
  grid <- internal("standards_grid")(quiz, standards)
  expect_false(is.unsorted(grid$share))
  for (code in attr(grid, "codes")) {
    mine <- standards[standards$code == code & !is.na(standards$share), ]
    expect_equal(grid[[code]][match(mine$student, grid$student)], mine$share)
  }
  expect_output(print(grid), "TC.1.a")
  expect_output(print(grid[c(3, 1), ]), "These are 2 of 80 rows")
})
