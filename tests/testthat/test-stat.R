# Figures against printed sources, and against R's own functions on raw points.

test_that("the Wilson interval gives the figures printed for it", {
  # Newcombe 1998, Statistics in Medicine 17, table I, method 3.
  wilson <- internal("wilson_interval")
  printed <- rbind(
    c(81, 263, 0.2553, 0.3662),
    c(15, 148, 0.0624, 0.1605),
    c(0, 20, 0, 0.1611),
    c(1, 29, 0.0061, 0.1718)
  )
  ours <- wilson(printed[, 1] / printed[, 2], printed[, 2])
  expect_equal(round(ours$low, 4), printed[, 3])
  expect_equal(round(ours$high, 4), printed[, 4])
})

test_that("intervals are R's own where R has them", {
  set.seed(1)
  x <- rnorm(25)
  y <- x + rnorm(25)
  fisher <- internal("fisher_interval")(cor(x, y), 25)
  expect_equal(c(fisher$low, fisher$high), as.vector(cor.test(x, y)$conf.int))
  t <- internal("t_interval")(mean(x), sd(x), 25)
  expect_equal(c(t$low, t$high), as.vector(t.test(x)$conf.int))
  expect_true(is.na(internal("fisher_interval")(0.5, 3)$low))
  expect_true(is.na(internal("t_interval")(0.5, NA, 1)$low))
})

test_that("the item figures are what R gives on the matrix of points", {
  quiz <- random_sitting(n = 80, k = 9, seed = 11)
  x <- internal("cell_points")(quiz)
  total <- rowSums(x)
  items <- summarise_items(quiz)
  expect_equal(items$mean_points, unname(colMeans(x)))
  expect_equal(
    items$discrimination,
    vapply(1:9, function(j) cor(x[, j], total - x[, j]), 0)
  )
  alpha <- function(y) {
    ncol(y) / (ncol(y) - 1) * (1 - sum(apply(y, 2, var)) / var(rowSums(y)))
  }
  expect_equal(items$alpha_without, vapply(1:9, function(j) alpha(x[, -j]), 0))
  test <- summarise_test(quiz)
  expect_equal(test$alpha, alpha(x))
  expect_equal(
    c(test$mean, test$median, test$sd, test$lowest, test$highest),
    c(mean(total), median(total), sd(total), range(total))
  )
  expect_equal(
    c(test$lower_quartile, test$upper_quartile),
    unname(quantile(total, c(0.25, 0.75)))
  )
  halves <- cor(rowSums(x[, seq(1, 9, 2)]), rowSums(x[, seq(2, 9, 2)]))
  expect_equal(test$split_half, 2 * halves / (1 + halves))
  expect_equal(test$sem, sd(total) * sqrt(1 - alpha(x)))
  expect_equal(
    test$skewness,
    mean((total - mean(total))^3) / mean((total - mean(total))^2)^1.5
  )
})

test_that("KR-20 is alpha for 0/1 items, and KR-21 equals it when all are equally hard", {
  x <- rbind(
    c(1, 1, 1, 0),
    c(1, 1, 0, 1),
    c(1, 0, 1, 1),
    c(0, 1, 1, 1),
    c(0, 0, 0, 0),
    c(1, 1, 1, 1)
  )
  p <- colMeans(x)
  kr20 <- 4 / 3 * (1 - sum(p * (1 - p)) / (var(rowSums(x)) * 5 / 6))
  test <- summarise_test(
    sitting(
      data.frame(student = 1:6, x),
      data.frame(item = paste0("X", 1:4), type = "mark")
    )
  )
  expect_equal(test$alpha, kr20)
  # KR-21 takes variances with n - 1 here, as the statistics page says.
  m <- mean(rowSums(x))
  expect_equal(test$kr21, 4 / 3 * (1 - m * (4 - m) / (4 * var(rowSums(x)))))
  graded <- summarise_test(
    sitting(
      data.frame(student = 1:6, 2 * x),
      data.frame(item = paste0("X", 1:4), type = "mark", points = 2)
    )
  )
  expect_true(is.na(graded$kr21))
  expect_equal(graded$alpha, test$alpha)
})

test_that("lambda-2 is never below alpha, and equals it when all covariances are equal", {
  for (seed in 1:10) {
    test <- summarise_test(random_sitting(n = 40, k = 6, seed = seed))
    expect_gte(test$lambda2, test$alpha - 1e-12)
  }
  x <- rbind(diag(4), 1 - diag(4), 0, 1)
  equal <- summarise_test(
    sitting(data.frame(student = 1:10, x), data.frame(item = paste0("X", 1:4)))
  )
  expect_equal(equal$lambda2, equal$alpha)
})

test_that(
  "Feldt's interval holds alpha's sampling distribution: 95% of 400 made-up classes",
  {
    set.seed(21)
    covered <- replicate(400, {
      ability <- rnorm(40)
      x <- vapply(1:8, function(j) ability + rnorm(40), numeric(40))
      alpha <- 8 / 7 * (1 - sum(apply(x, 2, var)) / var(rowSums(x)))
      interval <- internal("feldt_interval")(alpha, 40, 8)
      true <- 8 / 7 * (1 - 8 * 2 / (64 + 8))
      interval$low < true && true < interval$high
    })
    expect_gt(mean(covered), 0.92)
    expect_lt(mean(covered), 0.98)
  }
)

test_that("students at the boundary of a group share its places", {
  weights <- internal("outer_weights")
  bins <- data.frame(group = 1L, earned = c(0, 1, 2), open = 2, n = c(4, 4, 2))
  expect_equal(weights(bins, 0.27, TRUE), c(0, 0.7 / 4, 1))
  expect_equal(weights(bins, 0.27, FALSE), c(2.7 / 4, 0, 0))
  thirds <- internal("third_weights")(bins)
  for (third in thirds) expect_equal(sum(third * bins$n), 10 / 3)
  all_equal <- internal("third_weights")(
    data.frame(group = 1L, earned = 5, open = 10, n = 7)
  )
  expect_equal(unlist(all_equal), c(low = 1, middle = 1, high = 1) / 3)
  forms <- data.frame(group = 1L, earned = c(1, 2), open = c(2, 4), n = 5)
  expect_equal(weights(forms, 0.5, TRUE), c(0.5, 0.5))
})

test_that(
  "where cells are missing, students are compared by their share of what was open",
  {
    x <- cbind(c(1, 1, 0, 0, 1, 0), c(1, NA, 0, 1, NA, 0), c(1, 0, 1, 0, 1, NA))
    responses <- data.frame(student = 1:6, ifelse(is.na(x), "(not given)", x))
    quiz <- sitting(responses, data.frame(item = c("X1", "X2", "X3")))
    share <- function(j) rowSums(x[, -j], na.rm = TRUE) / rowSums(!is.na(x[, -j]))
    expected <- vapply(1:3, function(j) cor(x[, j], share(j), use = "complete.obs"), 0)
    expect_equal(summarise_items(quiz)$discrimination, expected)
    test <- summarise_test(quiz)
    expect_equal(test$n_complete, 3)
    complete <- x[stats::complete.cases(x), ]
    expect_equal(
      test$alpha,
      3 / 2 * (1 - sum(apply(complete, 2, var)) / var(rowSums(complete)))
    )
    expect_equal(test$mean, 3 * mean(rowMeans(x, na.rm = TRUE)))
  }
)

test_that("an option's correlation and mean leave the item's own points out", {
  quiz <- random_sitting(n = 50, k = 6, seed = 5)
  answers <- internal("shown_cells")(quiz)
  x <- internal("cell_points")(quiz)
  options <- summarise_options(quiz)
  for (j in 1:6) {
    rest <- rowSums(x[, -j]) / 5
    for (row in which(options$item == paste0("Q", j) & options$count > 0)) {
      chose <- answers[, j] == options$option[row]
      expect_equal(options$option_rest[row], cor(chose, rest))
      expect_equal(options$mean_rest[row], mean(rest[chose]))
      expect_equal(options$count[row], sum(chose))
    }
  }
})

test_that(
  paste0(
    "choice items have a part for each listed option, then for what was strange, then ",
    "for blanks"
  ),
  {
    responses <- data.frame(
      student = paste0("s", 1:6),
      Q1 = c("B", "Z", "A", "", "b", "B"),
      Q2 = c("A", "C", "", "", "", "C"),
      Q3 = c("x", "y", "x", "x", "y", "x")
    )
    quiz <- sitting(
      responses,
      data.frame(item = c("Q1", "Q2", "Q3"), type = "choice", key = c("B|D", "D", NA)),
      data.frame(
        item = rep(c("Q1", "Q2", "Q3"), c(4, 3, 2)),
        option = c("A", "B", "C", "D", "A", "B", "C", "y", "x")
      )
    )
    options <- summarise_options(quiz)
    alone <- summarise_options(quiz, by = "student")
    expect_equal(
      options$option[options$item == "Q1"],
      c("A", "B", "C", "D", "Z", "(blank)")
    )
    expect_equal(
      options$key[options$item == "Q1"],
      c(FALSE, TRUE, FALSE, TRUE, FALSE, FALSE)
    )
    expect_equal(options$count[options$item == "Q1"], c(1, 3, 0, 0, 1, 1))
    expect_equal(options$option[options$item == "Q2"], c("A", "B", "C", "D", "(blank)"))
    expect_equal(options$count[options$item == "Q2"], c(1, 0, 2, 0, 3))
    expect_equal(options$option[options$item == "Q3"], c("y", "x"))
    expect_false(any(options$key[options$item == "Q3"]))
    expect_equal(sum(alone$count), sum(options$count))
  }
)

test_that("choice items taken together have the parts that each has when taken alone", {
  for (quiz in list(
    random_sitting(
      options = data.frame(
        item = rep(paste0("Q", 1:9), each = 3),
        option = c("D", "A", "B")
      )
    ),
    read_sitting(demo_path())
  )) {
    tally <- tally_responses(quiz)
    together <- internal("answer_parts")(tally)
    offset <- internal("cell_offsets")(tally$cells)
    for (j in which(quiz$items$type == "choice")) {
      used <- unique(tally$counts$code[tally$counts$item == j])
      state <- tally$cells[[j]]$state[used]
      alone <- internal("item_parts")(
        quiz$items[j, ],
        tally$cells[[j]],
        sort(used[state == "answered"]),
        sort(used[state %in% c("omitted", "not_reached")]),
        quiz$options$option[quiz$options$item == quiz$items$item[j]]
      )
      rows <- which(together$table$item == quiz$items$item[j])
      expect_equal(together$table$option[rows], alone$option)
      expect_equal(together$table$key[rows], alone$key)
      at <- which(
        together$member$cell > offset[j] & together$member$cell <= offset[j + 1]
      )
      expect_equal(
        together$member$part[at] - min(rows) + 1,
        alone$part[order(alone$code)]
      )
    }
  }
})

test_that(
  "wrong answers are shared, spread, mixed or too few, as the statistics page defines it",
  {
    pattern <- function(count) {
      internal("wrong_patterns")(count, rep(1L, length(count)), 1L)
    }
    expect_equal(pattern(c(20, 5, 5)), "shared")
    expect_equal(pattern(c(10, 10, 10)), "spread")
    expect_equal(pattern(c(4, 2, 1)), "too_few")
    expect_equal(pattern(30), "too_few")
    expect_equal(pattern(c(6, 4, 0, 0)), "mixed")
    # The edge: the least count of 12 among 3 that passes p < .05 / 3.
    p <- function(count) 3 * pbinom(count - 1, 12, 1 / 3, lower.tail = FALSE)
    least <- min(which(vapply(0:12, p, 0) < 0.05)) - 1
    expect_equal(pattern(c(least, 12 - least, 0)), "shared")
    expect_false(pattern(c(least - 1, 13 - least, 0)) == "shared")
  }
)

test_that("distractors work, idle or draw the strong", {
  quiz <- read_sitting(demo_path())
  options <- summarise_options(quiz)
  kind <- function(item, option) {
    options$distractor[options$item == item & options$option == option]
  }
  expect_equal(kind("Q4", "D"), "idle")
  expect_equal(kind("Q7", "C"), "draws_strong")
  expect_equal(kind("Q4", "A"), "working")
  expect_true(is.na(kind("Q4", "B")))
})

test_that("the mastery index and the chance level follow their definitions", {
  quiz <- random_sitting(n = 60, k = 10, seed = 2)
  options <- data.frame(
    item = rep(paste0("Q", 1:10), each = 4),
    option = c("A", "B", "C", "D")
  )
  quiz <- choice_sitting(
    sub("(blank)", "", internal("shown_cells")(quiz), fixed = TRUE),
    options = options
  )
  x <- internal("cell_points")(quiz)
  master <- rowSums(x) >= 7
  expect_equal(
    summarise_items(quiz)$mastery_index,
    unname(colMeans(x[master, ]) - colMeans(x[!master, ]))
  )
  expect_equal(summarise_items(quiz)$chance, rep(0.25, 10))
})

test_that("a level is the highest whose cut is reached, after rounding when it is set", {
  level <- internal("level_of")
  settings <- default_settings()
  expect_equal(
    level(c(0, 0.4999, 0.5, 0.1 + 0.6, 0.9, 1, NA), settings),
    c("emerging", "emerging", "developing", "secure", "deep", "deep", NA)
  )
  settings$rounding <- 0.01
  expect_equal(
    level(c(0.694, 0.695, 0.8949), settings),
    c("developing", "secure", "secure")
  )
})

test_that(
  paste0(
    "a standard counts the items of all below it, once, and every item in each of its ",
    "standards"
  ),
  {
    standards <- data.frame(
      code = c("S", "S.1", "S.2", "T"),
      parent = c(NA, "S", "S", NA)
    )
    items <- data.frame(
      item = paste0("X", 1:4),
      standards = c("S.1", "S.1;S.2", "S.2;T", NA)
    )
    x <- rbind(c(1, 0, 1, 1), c(0, 0, 1, 0), c(1, 1, 1, 0))
    quiz <- sitting(data.frame(student = 1:3, x), items, standards = standards)
    table <- summarise_standards(quiz)
    expect_equal(table$code, c("S", "S.1", "S.2", "T"))
    expect_equal(table$items, c(3L, 2L, 2L, 1L))
    expect_equal(
      table$share,
      c(
        mean(rowMeans(x[, 1:3])), mean(rowMeans(x[, 1:2])), mean(rowMeans(x[, 2:3])),
        mean(x[, 3])
      )
    )
    expect_equal(
      c(table$share_low[2], table$share_high[2]),
      pmin(1, pmax(0, as.vector(t.test(rowMeans(x[, 1:2]))$conf.int)))
    )
    expect_equal(
      unlist(table[2, c("emerging", "developing", "secure", "deep")], use.names = FALSE),
      c(1, 1, 0, 1) / 3
    )
    by_student <- summarise_standards(quiz, by = "student")
    one <- subset(by_student, student == "1" & code == "S")
    expect_equal(c(one$earned, one$open), c(2, 3))
    expect_equal(c(one$share_low, one$share_high), qbeta(c(0.025, 0.975), 2.5, 1.5))
    expect_true(one$unsure)
  }
)

test_that("small groups are withheld, and a second one that would give the first away", {
  students <- data.frame(
    student = sprintf("s%03d", 1:12),
    section = rep(c("a", "b", "c"), c(2, 4, 6))
  )
  quiz <- function(least) {
    choice_sitting(
      matrix(rep(c("A", "B", "A"), 8), 12),
      students = students,
      settings = list(smallest_group = least)
    )
  }
  shown <- function(least) !is.na(summarise_test(quiz(least), by = "section")$mean)
  expect_equal(shown(1), c(TRUE, TRUE, TRUE))
  expect_equal(shown(3), c(FALSE, FALSE, TRUE))
  expect_equal(shown(5), c(FALSE, FALSE, TRUE))
  items <- summarise_items(quiz(3), by = "section")
  expect_equal(unique(items$reason[items$section == "a"]), "small_group")
  expect_true(all(is.na(items$n[items$section %in% c("a", "b")])))
})

test_that("grouping by what is no column is refused, and no group is a group too", {
  quiz <- read_sitting(demo_path())
  expect_refused(
    summarise_items(quiz, by = "secton"),
    "call",
    "secton",
    "Did you mean \"section\"?"
  )
  expect_refused(
    summarise_items(tally_responses(quiz), by = "section"),
    "call",
    "not counted by"
  )
  expect_refused(summarise_items(list()), "call", "made of a sitting or of a tally")
  students <- data.frame(student = c("s001", "s002"), section = c("a", NA))
  expect_equal(
    summarise_test(
      choice_sitting(matrix("A", 2, 2), students = students),
      by = "section"
    )$section,
    c("(none)", "a")
  )
})

test_that("large numbers are written out, in words and tables", {
  expect_equal(internal("as_typed")(c(1e6, 100000, 12, 0.25)), c("1000000", "100000", "12", "0.25"))
  expect_match(internal("say")("page-first.sat_it", n = 1e6), "1000000 sat it")
  expect_equal(internal("plain_points")(c(1e6, 123456.75, 2.5)), c("1000000", "123456.75", "2.5"))
  expect_match(internal("format_table")(internal("text_column")("n", c(1e6)))[2], "1000000")
})
