# What must hold whatever the data are.

figures <- function(quiz, by = NULL) {
  list(summarise_test(quiz, by), summarise_items(quiz, by), summarise_options(quiz, by))
}

test_that("the order of students does not matter", {
  quiz <- read_sitting(demo_path())
  shuffled <- quiz
  set.seed(3)
  order <- sample(nrow(quiz$students))
  shuffled$students <- quiz$students[order, ]
  shuffled$codes <- quiz$codes[order, ]
  expect_equal(figures(shuffled), figures(quiz))
  expect_equal(figures(shuffled, "section"), figures(quiz, "section"))
  expect_equal(summarise_standards(shuffled), summarise_standards(quiz))
})

test_that("the order of rows in the files does not matter", {
  read <- function(name) {
    utils::read.csv(demo_path(name), colClasses = "character", check.names = FALSE)
  }
  responses <- read("responses.csv")
  set.seed(4)
  settings <- list(exclude = "trial-*")
  one <- sitting(responses, read("items.csv"), read("options.csv"), settings = settings)
  two <- sitting(
    responses[sample(nrow(responses)), ],
    read("items.csv"),
    read("options.csv"),
    settings = settings
  )
  expect_equal(figures(one), figures(two))
})

test_that("the tallies of two halves add up to the tally of the whole", {
  quiz <- read_sitting(demo_path())
  half <- function(keep) {
    part <- quiz
    part$students <- quiz$students[keep, ]
    part$codes <- quiz$codes[keep, , drop = FALSE]
    tally_responses(part, by = "section", products = TRUE, counted = quiz$items$item)
  }
  first <- seq_len(nrow(quiz$students)) %% 3 == 0
  whole <- tally_responses(quiz, by = "section", products = TRUE)
  sum <- half(first) + half(!first)
  expect_equal(figures(sum), figures(whole))
  other_way <- half(!first) + half(first)
  expect_equal(figures(other_way), figures(whole))
  expect_equal(sum$absent, whole$absent)
})

test_that("tallies with different answers and different groups add up too", {
  one <- choice_sitting(cbind(c("A", "B", "A"), c("A", "A", "B")), key = c("A", "A"))
  two <- choice_sitting(cbind(c("C", "A", NA), c("B", "A", "A")), key = c("A", "A"))
  both <- choice_sitting(
    cbind(c("A", "B", "A", "C", "A", NA), c("A", "A", "B", "B", "A", "A")),
    key = c("A", "A")
  )
  sum <- tally_responses(one, products = TRUE) + tally_responses(two, products = TRUE)
  expect_equal(figures(sum), figures(tally_responses(both, products = TRUE)))
  expect_refused(
    tally_responses(one) + tally_responses(random_sitting(k = 3)),
    "call",
    "not of the same items"
  )
  expect_refused(tally_responses(one) + 1, "call", "Only a tally")
})

test_that("renaming the options changes nothing but their names", {
  quiz <- random_sitting()
  answers <- internal("shown_cells")(quiz)
  answers[answers == "(blank)"] <- NA
  renamed <- choice_sitting(
    chartr("ABCD", "WXYZ", answers),
    key = rep("W", ncol(answers))
  )
  expect_equal(summarise_test(renamed), summarise_test(quiz))
  expect_equal(summarise_items(renamed), summarise_items(quiz))
  options <- as.data.frame(summarise_options(renamed))
  options$option <- chartr("WXYZ", "ABCD", options$option)
  expect_equal(options, as.data.frame(summarise_options(quiz)))
})

test_that(
  "an item that everybody gets right is NA with its reason and disturbs nothing else",
  {
    answers <- internal("shown_cells")(random_sitting(k = 8))
    answers[answers == "(blank)"] <- "B"
    without <- choice_sitting(answers)
    with <- choice_sitting(cbind(answers, "A"))
    items <- summarise_items(with)
    expect_equal(items$reason[9], "all_right")
    expect_true(
      all(
        is.na(items[9, c("discrimination", "discrimination_low", "discrimination_high")])
      )
    )
    same <- c(
      "difficulty", "discrimination", "discrimination_low", "upper_lower", "low", "high"
    )
    expect_equal(items[1:8, same], summarise_items(without)[same], ignore_attr = TRUE)
    expect_equal(
      summarise_options(with)$option_rest[1:32],
      summarise_options(without)$option_rest
    )
  }
)

test_that("every figure that is missing has its reason", {
  nobody <- summarise_items(
    choice_sitting(cbind(c("B", "B", "B"), c("A", "B", "A"), c("A", "A", "B")))
  )
  expect_equal(nobody$reason, c("none_right", NA, NA))
  alone <- choice_sitting(cbind("A", "B"))
  expect_equal(summarise_items(alone)$reason, rep("few_students", 2))
  expect_equal(summarise_test(alone)$reason, "few_students")
  expect_equal(
    summarise_test(choice_sitting(matrix("A", 5, 1)))$reason,
    "few_items"
  )
  expect_equal(
    summarise_test(choice_sitting(matrix("A", 5, 3)))$reason,
    "no_spread"
  )
  flat <- summarise_items(choice_sitting(cbind(c("A", "B", "A", "B"), "A")))
  expect_equal(
    flat$reason,
    c("no_rest", "all_right")
  )
  partly <- sitting(
    data.frame(student = letters[1:4], Q1 = 1, Q2 = c(0, 1, 1, 2)),
    data.frame(item = c("Q1", "Q2"), points = 2)
  )
  expect_equal(summarise_items(partly)$reason[1], "same_points")
})

test_that(
  "without missing cells, multiplying all points changes no share and no correlation",
  {
    marks <- cbind(c(1, 2, 0, 2, 1), c(2, 2, 0, 1, 1), c(1, 2, 1, 2, 0))
    scaled <- function(by) {
      responses <- data.frame(student = letters[1:5], marks * by)
      summarise_items(
        sitting(responses, data.frame(item = names(responses)[-1], points = 2 * by))
      )
    }
    same <- c(
      "difficulty", "difficulty_low", "discrimination", "upper_lower", "alpha_without",
      "low", "high"
    )
    expect_equal(scaled(0.1)[same], scaled(1)[same])
    expect_equal(scaled(1 / 3)[same], scaled(1)[same])
  }
)

test_that("groups add up to the whole, and each is what it is alone", {
  quiz <- read_sitting(demo_path())
  by <- summarise_items(quiz, by = "section")
  expect_equal(
    as.vector(tapply(by$n, factor(by$item, quiz$items$item), sum)),
    summarise_items(quiz)$n
  )
  alone <- quiz
  alone$students$status[quiz$students$section != "Harbour B"] <- "absent"
  expect_equal(
    subset(by, section == "Harbour B")[-1],
    summarise_items(alone),
    ignore_attr = TRUE
  )
  expect_equal(
    subset(summarise_test(quiz, "section"), section == "Harbour B")$alpha,
    summarise_test(alone)$alpha
  )
  standards <- subset(summarise_standards(quiz, "section"), section == "Harbour B")[-1]
  own <- summarise_standards(alone)
  # the order of the items is that of all who sat it
  figures <- setdiff(names(own), "shown_by")
  expect_equal(standards[figures], own[figures], ignore_attr = TRUE)
})

test_that("shares of a choice item's answers add up to 1, in all and in every third", {
  options <- subset(summarise_options(read_sitting(demo_path())), type == "choice")
  for (column in c("share", "low", "middle", "high")) {
    expect_equal(
      as.vector(tapply(options[[column]], options$item, sum)),
      rep(1, 14),
      label = column
    )
  }
})

test_that("text items with more answers than a dense count takes are counted the same", {
  words <- c(sprintf("word%03d", 1:400), "ebb", "ebb")
  quiz <- sitting(
    data.frame(student = seq_along(words), Q1 = words, Q2 = rep(c("A", "B"), 201)),
    data.frame(item = c("Q1", "Q2"), type = c("text", "choice"), key = c("ebb", "A"))
  )
  options <- subset(summarise_options(quiz), item == "Q1")
  expect_equal(nrow(options), 401)
  expect_equal(subset(options, key)$count, 2)
  expect_equal(sum(options$count), 402)
})

test_that("no figure is ever NaN or infinite, whatever is missing", {
  answers <- cbind(
    c("A", "B", NA, "A"),
    "(not given)",
    c("(pending)", "A", "(excused)", NA),
    c("A", "A", "A", "B")
  )
  students <- data.frame(
    student = sprintf("s%03d", 1:6),
    section = c("a", "a", "b", NA, "c", "c")
  )
  odd <- list(
    choice_sitting(answers, students = students),
    choice_sitting(answers[1, , drop = FALSE]),
    choice_sitting(matrix(NA_character_, 2, 2)),
    choice_sitting(matrix("(excused)", 2, 2)),
    choice_sitting(answers, students = students, settings = list(blanks = "missing"))
  )
  for (quiz in odd) {
    quiz$items$standards <- "S"
    quiz$standards <- data.frame(code = "S", parent = NA, title = NA, emphasis = NA)
    for (by in list(NULL, "section")) {
      tables <- c(
        figures(quiz, by),
        list(summarise_students(quiz, by), summarise_standards(quiz, by))
      )
      for (table in tables) {
        for (column in Filter(is.numeric, table)) {
          expect_false(any(is.nan(column) | is.infinite(column)))
        }
      }
    }
  }
  expect_equal(summarise_test(odd[[4]])$n, 0)
  expect_equal(summarise_items(odd[[1]])$reason[2], "few_students")
})

test_that("who gave an answer are as many as the table of options says", {
  quiz <- read_sitting(demo_path())
  options <- summarise_options(quiz)
  chosen <- internal("who_chose")(quiz)
  counts <- table(
    factor(paste(chosen$item, chosen$option), paste(options$item, options$option))
  )
  expect_equal(as.vector(counts), options$count)
  expect_false(
    any(chosen$student %in% quiz$students$student[quiz$students$status == "absent"])
  )
})

test_that("shares round half up and never beyond 0 and 100 percent", {
  expect_equal(
    internal("percent")(c(0.005, 0.285, 0.2849, 0.995, 1, 1.02, -0.1, NA)),
    c("1%", "29%", "28%", "100%", "100%", "100%", "0%", "\u2013")
  )
  expect_equal(internal("number")(c(-0.125, 0.285, 1), 2), c("-0.13", "0.29", "1.00"))
})

test_that("pairs counted on the way are those of the pass that is made for them", {
  for (n in c(40, 511, 512, 700)) {
    quiz <- random_sitting(n = n, k = 7, seed = n)
    quiz$students$status[3] <- "absent"
    if (n == 700) quiz$codes[5, 2] <- 1L # not given: no complete student
    whole <- tally_responses(quiz, products = TRUE)
    apart <- tally_responses(quiz, by = "status", products = TRUE)
    expect_equal(
      whole$products[[1]],
      Reduce(`+`, apart$products),
      label = paste(n, "students")
    )
    x <- internal("cell_points")(quiz)[-3, ]
    expect_equal(
      whole$products[[1]],
      crossprod(x[stats::complete.cases(x), ]),
      ignore_attr = TRUE
    )
  }
})
