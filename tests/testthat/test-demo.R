# What is planted in the demo is there, and is found.

test_that(
  "84 students in three sections, 24 items of every type, with those away and waiting",
  {
    quiz <- read_sitting(demo_path())
    expect_equal(as.vector(table(quiz$students$section)), c(28, 28, 28))
    expect_setequal(quiz$items$type, names(internal("item_types")()))
    expect_equal(nrow(quiz$items), 24)
    expect_equal(summarise_test(quiz)$absent, 4)
    expect_gt(sum(quiz$students$status == "waiting"), 20)
    expect_equal(anyDuplicated(quiz$students$name), 0)
  }
)

test_that(
  paste0(
    "the first look names the wrong key, then what many share one wrong idea on, the ",
    "hardest first"
  ),
  {
    quiz <- read_sitting(demo_path())
    look <- internal("look_first")(summarise_items(quiz), summarise_options(quiz))
    rule <- stats::setNames(look$rule, look$item)
    expect_equal(look$item[1:3], c("Q7", "Q9", "Q11"))
    expect_equal(
      rule[c("Q7", "Q11", "Q9", "Q14", "Q24")],
      c(Q7 = "key", Q11 = "idea", Q9 = "idea", Q14 = "guessed", Q24 = "waiting")
    )
    expect_match(look$what[look$item == "Q9"], "The wind makes the tides")
    expect_false("Q1" %in% look$item)
  }
)

test_that("twelve students never condemn an item", {
  quiz <- read_sitting(demo_path())
  few <- quiz
  few$students$status[-(1:12)] <- "absent"
  look <- internal("look_first")(summarise_items(few), summarise_options(few))
  expect_equal(setdiff(look$rule, "waiting"), character())
})

test_that(
  paste0(
    "without anything wrong, at most 1 item in 200 is called wrong: 40 sound tests of ",
    "20 items"
  ),
  {
    fired <- unlist(lapply(1:40, function(seed) {
      quiz <- random_sitting(n = 60, k = 20, seed = 100 + seed)
      internal("look_first")(summarise_items(quiz), summarise_options(quiz))$rule
    }))
    expect_lte(sum(fired %in% c("key", "reversed")), 800 / 200)
    expect_lte(sum(fired == "shared"), 800 / 20)
  }
)

test_that("the follow-up, the knots and the logbook are test folders too", {
  for (name in c("follow-up", "knots", "knots-again", "logbook")) {
    quiz <- read_sitting(demo_path(name))
    expect_gt(summarise_test(quiz)$n, 75)
    expect_gt(nrow(summarise_standards(quiz)), 2)
    expect_equal(subset(check_sitting(quiz), severity == "error")$value, character())
  }
})

test_that(
  "the demo writes out every output, takes what it wrote for its own, and nothing else",
  {
    only_in_all()
    folder <- file.path(tempfile(), "demo")
    dir.create(dirname(folder))
    written <- write_demo(folder)
    expect_true(all(file.exists(written)))
    expect_true(all(file.size(written) > 100))
    expect_lt(file.size(file.path(folder, "output", "report.html")), 1.5e6)
    expect_equal(
      check_sitting(read_sitting(folder)),
      check_sitting(read_sitting(demo_path()))
    )
    files <- list.files(demo_path(), recursive = TRUE)
    expect_null(internal("stop_if_changed")(folder, demo_path(), files))
    writeLines("student,Q1", file.path(folder, "responses.csv"))
    expect_refused(write_demo(folder), "output", "not the demo's", "responses.csv")
    expect_equal(readLines(file.path(folder, "responses.csv")), "student,Q1")
  }
)
