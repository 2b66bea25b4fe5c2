# Did it work: two sittings of the same students on the same standards.

# Marks of the same students on items of standards S.1 and S.2 (under S).
marks <- function(table, standards, ..., settings = list()) {
  items <- setdiff(names(table), "student")
  sitting(
    table,
    data.frame(item = items, type = "mark", points = 10, standards = standards),
    standards = data.frame(
      code = c("S", "S.1", "S.2"),
      parent = c(NA, "S", "S"),
      title = c("All", "One", "Two")
    ),
    ...,
    settings = settings
  )
}

first <- data.frame(
  student = letters[1:8],
  A1 = c(2, 3, 4, 5, 6, 7, 8, 9),
  A2 = c(1, 4, 3, 6, 5, 8, 7, 10),
  A3 = c(5, 5, 6, 6, 7, 7, 8, 8)
)
second <- data.frame(
  student = letters[1:8],
  B1 = c(6, 5, 8, 7, 9, 6, 10, 9),
  B2 = c(4, 6, 6, 7, 7, 8, 8, 8)
)
before <- marks(first, c("S.1", "S.1", "S.2"))
after <- marks(second, c("S.1", "S.2"))

test_that("the change of a standard is R's own paired t test on the students' scores", {
  change <- compare_sittings(before, after)
  one <- change[change$code == "S.1", ]
  a <- (first$A1 + first$A2) / 20
  b <- second$B1 / 10
  test <- t.test(b, a, paired = TRUE)
  expect_equal(
    unlist(
      one[
        c(
          "n", "share_before", "share_after", "change", "change_low", "change_high",
          "standardised"
        )
      ],
      use.names = FALSE
    ),
    c(8, mean(a), mean(b), mean(b - a), test$conf.int, mean(b - a) / sd(a))
  )
  step <- function(x) findInterval(x + 1e-9, c(0, 0.5, 0.7, 0.9))
  expect_equal(
    unlist(one[c("up", "stayed", "down")], use.names = FALSE),
    as.vector(table(factor(sign(step(b) - step(a)), c(1, 0, -1))))
  )
  expect_equal(
    c(one$below_before, one$reached, one$below),
    c(sum(a < 0.7), sum(a < 0.7 & b >= 0.7), sum(b < 0.7))
  )
  alpha <- 2 * (1 - (var(first$A1) + var(first$A2)) / var(first$A1 + first$A2))
  expect_equal(one$expected_below, (1 - alpha) * (mean(a) - mean(a[a < 0.7])))
  expect_equal(one$gain_below, mean((b - a)[a < 0.7]))
})

test_that("a parent counts only what both sittings ask about", {
  only_one <- marks(second["B1" == names(second) | names(second) == "student"], "S.1")
  change <- compare_sittings(before, only_one)
  expect_equal(change$code, c("(all)", "S", "S.1"))
  expect_equal(change$items_before, c(2, 2, 2))
  # the second asks about the parent: all below it count
  coarse <- marks(second, c("S", "S"))
  expect_equal(compare_sittings(before, coarse)$items_before, c(3, 3))
})

test_that("who was not there is in no figure, and is named", {
  away <- marks(second[-(1:2), ], c("S.1", "S.2"))
  change <- compare_sittings(before, away)
  expect_equal(change$n, rep(6, 4))
  here <- attr(change, "here")
  expect_equal(here$student[here$there == "not_there_after"], c("a", "b"))
  people <- compare_sittings(before, away, by = "student")
  expect_equal(unique(people$outcome[people$student == "a"]), "not_there_after")
  expect_equal(people$change[people$student == "c" & people$code == "S.1"], 0.8 - 0.35)
})

test_that("groups add up to the whole, and one student's rows to the counts", {
  demo <- list(read_sitting(demo_path()), read_sitting(demo_path("follow-up")))
  whole <- compare_sittings(demo[[1]], demo[[2]])
  groups <- compare_sittings(demo[[1]], demo[[2]], by = "section")
  for (column in c("n", "up", "stayed", "down", "below_before", "reached", "below")) {
    expect_equal(
      as.vector(tapply(groups[[column]], factor(groups$code, whole$code), sum)),
      whole[[column]]
    )
  }
  people <- compare_sittings(demo[[1]], demo[[2]], by = "student")
  expect_equal(
    as.vector(table(factor(people$code[people$moved %in% "up"], whole$code))),
    whole$up
  )
  expect_equal(
    as.vector(table(factor(people$code[people$outcome == "got_there"], whole$code))),
    whole$reached
  )
  nested <- compare_sittings(demo[[1]], demo[[2]], by = c("teacher", "section"))
  beacon <- nested[nested$teacher == "Mr Beacon" & nested$code == "TC.1", ]
  expect_equal(beacon$n[1], sum(beacon$n[-1]))
})

test_that("of students picked for low scores it is said what would have come by itself", {
  set.seed(4)
  ability <- rnorm(200, 50, 12)
  score <- function() pmin(100, pmax(0, round(ability + rnorm(200, 0, 12))))
  once <- function(half) {
    data.frame(student = sprintf("s%03d", 1:200), A = half(), B = half())
  }
  test <- once(score)
  again <- once(score)[rowSums(test[-1]) / 200 < 0.4, ] # nothing was taught
  as_sitting <- function(table) {
    sitting(
      table,
      data.frame(item = c("A", "B"), type = "mark", points = 100, standards = "S")
    )
  }
  change <- compare_sittings(as_sitting(test), as_sitting(again))[1, ]
  expect_true(change$chosen_low)
  expect_gt(change$change_low, 0) # and yet they gained
  expect_lt(abs(change$change - change$expected), 0.03)
  expect_match(
    internal("say_regression")(compare_sittings(as_sitting(test), as_sitting(again))),
    "would have come without teaching"
  )
  expect_false(compare_sittings(as_sitting(test), as_sitting(once(score)))$chosen_low[1])
  # Of a handful, or where nothing is to be expected, no word.
  expect_null(internal("say_regression")(compare_sittings(before, before)))
  by_itself <- internal("say_by_itself")
  expect_match(by_itself("They", 0.01, 0.04, 20), "no more than the \\+4 or so")
  expect_null(by_itself("They", 0, -0.02, 20))
  expect_null(by_itself("They", 0.3, 0.04, 9))
})

test_that(
  "an item used in both is found by what is said, by wording, or by name and key",
  {
    pairs <- compare_sittings(
      read_sitting(demo_path()),
      read_sitting(demo_path("follow-up")),
      by = "item"
    )
    expect_equal(
      pairs$item_before,
      c("Q2", "Q9", "Q10", "Q3", "Q18", "Q20", "Q21", "Q14")
    )
    demo <- read_sitting(demo_path("follow-up"))
    demo$items$used_before <- NULL
    expect_equal(
      compare_sittings(read_sitting(demo_path()), demo, by = "item")$item_before,
      pairs$item_before
    )
    again <- choice_sitting(data.frame(c("A", "A", "B"), c("A", "B", "B")))
    first <- choice_sitting(
      data.frame(c("A", "B", "B"), c("B", "B", "A")),
      key = c("A", "B")
    )
    change <- compare_sittings(first, again, by = "item")
    expect_equal(change$item, "Q1") # the key of Q2 is another
    expect_equal(change$change, 1 / 3)
  }
)

test_that("codes that were renamed are the same standard", {
  new <- sitting(
    second,
    data.frame(
      item = c("B1", "B2"),
      type = "mark",
      points = 10,
      standards = c("N.1", "N.2")
    ),
    settings = list(renamed = list(S.1 = "N.1", S.2 = "N.2"))
  )
  change <- compare_sittings(before, new)
  same <- compare_sittings(before, after)
  expect_equal(change$change[change$code == "N.1"], same$change[same$code == "S.1"])
  bare <- sitting(
    second,
    data.frame(
      item = c("B1", "B2"),
      type = "mark",
      points = 10,
      standards = c("N.1", "N.2")
    )
  )
  expect_refused(
    compare_sittings(before, bare),
    "call",
    "no standard in common",
    "renamed"
  )
  expect_refused(
    sitting(
      second,
      data.frame(item = c("B1", "B2"), type = "mark", points = 10),
      settings = list(renamed = list(A = "B", B = "C"))
    ),
    "input",
    "renamed"
  )
})

test_that("strangers are refused, and small groups withheld", {
  others <- marks(transform(second, student = LETTERS[1:8]), c("S.1", "S.2"))
  expect_refused(compare_sittings(before, others), "call", "Nobody sat both tests")
  sections <- data.frame(
    student = letters[1:8],
    section = rep(c("x", "y", "z"), c(2, 3, 3))
  )
  small <- compare_sittings(
    before,
    marks(
      second,
      c("S.1", "S.2"),
      students = sections,
      settings = list(smallest_group = 3)
    ),
    by = "section"
  )
  expect_true(all(is.na(small$change[small$section == "x"])))
  expect_gt(sum(is.na(small$change)), sum(small$section == "x")) # a second one too
})

test_that("compare reads as a teacher needs it", {
  local_reproducible_output(width = 100, unicode = TRUE)
  said <- run_here("compare", demo_path(), demo_path("follow-up"))
  expect_snapshot(cat(said$out, sep = "\n"))
  expect_equal(said$status, 0)
  one <- run_here("compare", demo_path(), demo_path("follow-up"), "--student", "h012")
  expect_match(one$out, "Lio Ebbing", all = FALSE)
  expect_match(
    run_here("compare", demo_path(), demo_path("follow-up"), "--by", "item")$out[2],
    "Q2 \u2192 F1"
  )
  expect_equal(run_here("compare", demo_path())$status, 2)
})
