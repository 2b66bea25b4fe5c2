# Fairness between groups: printed examples, R's own tests, and false alarms.

test_that(
  "Mantel-Haenszel gives the odds ratio and error printed for the eight clinics",
  {
    # Agresti 1990, Categorical Data Analysis, table 6.9: success of drug and control in
    # eight clinics.
    drug <- cbind(c(11, 16, 14, 2, 6, 1, 1, 4), c(36, 20, 19, 16, 17, 11, 5, 6))
    control <- cbind(c(10, 22, 7, 1, 0, 0, 1, 6), c(37, 32, 19, 17, 12, 10, 9, 7))
    found <- internal("mantel_haenszel")(
      cbind(drug[, 2], control[, 2]),
      cbind(drug[, 1], control[, 1])
    )
    expect_equal(round(found$odds_ratio, 2), 2.13)
    expect_equal(round(found$error / 2.35, 3), 0.303)
    expect_equal(found$delta, -2.35 * log(found$odds_ratio))
  }
)

test_that("statistic, odds ratio and interval are those of R's own test", {
  table <- UCBAdmissions # admission by sex in six departments
  n <- cbind(colSums(table[, "Male", ]), colSums(table[, "Female", ]))
  right <- cbind(table["Admitted", "Male", ], table["Admitted", "Female", ])
  found <- internal("mantel_haenszel")(n, right)
  theirs <- mantelhaen.test(aperm(table, c(2, 1, 3)))
  expect_equal(found$odds_ratio, unname(theirs$estimate))
  expect_equal(found$statistic, unname(theirs$statistic))
  expect_equal(found$p, theirs$p.value)
  expect_equal(
    exp(c(-found$delta_high, -found$delta_low) / 2.35),
    as.vector(theirs$conf.int)
  )
})

test_that(
  "Mantel's test for more than two values is R's linear one in each stratum, pooled",
  {
    set.seed(1)
    group <- rep(1:2, each = 60)
    stratum <- rep(1:3, 40)
    x <- sample(0:3, 120, TRUE)
    sums <- function(v) tapply(v, list(stratum, group), sum)
    found <- internal("mantel")(sums(rep(1, 120)), sums(x), sums(x^2))
    # The generalised test of R for an ordinal column: Landis, Heyman & Koch with scores,
    # done by hand here.
    parts <- vapply(1:3, function(s) {
      y <- x[stratum == s]
      g <- group[stratum == s] == 2
      n <- length(y)
      c(sum(y[g]) - sum(g) * mean(y), sum(g) * sum(!g) / (n - 1) * mean((y - mean(y))^2))
    }, c(0, 0))
    expect_equal(found$statistic, sum(parts[1, ])^2 / sum(parts[2, ]))
    zero_one <- internal("mantel")(sums(rep(1, 120)), sums(x > 1), sums(x > 1))
    theirs <- mantelhaen.test(table(group, x > 1, stratum), correct = FALSE)
    expect_equal(zero_one$statistic, unname(theirs$statistic))
  }
)

fair_sitting <- function(n, k, apart = 0, harder = 0, points = FALSE) {
  group <- rep(c("one", "two"), each = n)
  ability <- rnorm(2 * n) - apart * (group == "two")
  easy <- rnorm(k)
  x <- vapply(seq_len(k), function(j) {
    p <- plogis(1.3 * ability + easy[j] - harder * (group == "two" & j == 1))
    if (points && j %% 2 == 0) rbinom(2 * n, 2, p) + 0 else (runif(2 * n) < p) + 0
  }, numeric(2 * n))
  items <- data.frame(
    item = paste0("I", seq_len(k)),
    type = "mark",
    points = ifelse(points & seq_len(k) %% 2 == 0, 2, 1)
  )
  responses <- data.frame(student = sprintf("s%04d", seq_len(2 * n)), x)
  names(responses)[-1] <- items$item
  sitting(
    responses,
    items,
    students = data.frame(student = responses$student, group = group)
  )
}

test_that(
  paste0(
    "with no true difference at most 5% are called anything but negligible, also when ",
    "one group is weaker"
  ),
  {
    set.seed(2)
    wrong <- unlist(lapply(1:30, function(run) {
      quiz <- fair_sitting(
        n = c(40, 120)[run %% 2 + 1],
        k = 20,
        apart = c(0, 0.5)[run %% 3 %/% 2 + 1],
        points = run %% 5 == 0
      )
      summarise_fairness(quiz, by = "group")$class != "negligible"
    }))
    expect_lte(mean(wrong), 0.05)
  }
)

test_that(
  "an item that is harder for one group is found, in the right direction, and no other",
  {
    set.seed(3)
    found <- summarise_fairness(
      fair_sitting(n = 300, k = 20, apart = 0.5, harder = 1.2),
      by = "group"
    )
    expect_equal(found$class[1], "large")
    expect_equal(found$favours[1], "reference")
    expect_lt(found$delta[1], -1.5)
    expect_lt(found$smd[1], 0)
    expect_lte(sum(found$class[-1] != "negligible"), 2)
    turned <- summarise_fairness(
      fair_sitting(n = 300, k = 20, harder = 1.2),
      by = "group",
      reference = "two"
    )
    expect_equal(turned$favours[1], "focal")
  }
)

test_that("groups under 20 are not compared, unknown groups are refused", {
  set.seed(4)
  quiz <- fair_sitting(n = 19, k = 5)
  few <- summarise_fairness(quiz, by = "group")
  expect_equal(few$reason, rep("few_in_group", 5))
  expect_true(all(is.na(few[c("odds_ratio", "delta", "smd", "p", "class")])))
  expect_false(anyNA(few$difficulty_focal))
  quiz$settings$smallest_group <- 25
  expect_true(all(is.na(summarise_fairness(quiz, by = "group")$difficulty_focal)))
  expect_refused(
    summarise_fairness(quiz, "group", focal = "tow"),
    "call",
    "no group \"tow\"",
    "Groups: one, two"
  )
  expect_refused(
    summarise_fairness(quiz, "group", reference = "one", focal = "one"),
    "call",
    "two different groups"
  )
  expect_refused(summarise_fairness(quiz, "status"), "call", "no two groups")
})

test_that(
  "strata are joined until each holds three of both groups, all students in one of them",
  {
    set.seed(5)
    quiz <- fair_sitting(n = 25, k = 12)
    tally <- tally_responses(quiz, by = "group")
    strata <- internal("score_strata")(tally$bins, tally$bins$group)
    held <- tapply(tally$bins$n, list(strata, tally$bins$group), sum)
    expect_true(all(held >= 3))
    expect_equal(sum(held), 50)
    share <- tally$bins$earned / tally$bins$open
    expect_false(is.unsorted(strata[order(share)]))
  }
)
