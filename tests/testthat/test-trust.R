# Whether scores can be trusted: laws that the sources state, R's own functions,
# printed examples, and small simulations whose truth is known.

points_sitting <- function(x, students = NULL, ..., tags = list()) {
  x <- as.data.frame(x)
  names(x) <- paste0("I", seq_along(x))
  most <- vapply(x, function(column) max(1, column, na.rm = TRUE), 0)
  items <- data.frame(item = names(x), type = "mark", points = most)
  items[names(tags)] <- tags
  x[is.na(x)] <- "(not given)"
  sitting(
    data.frame(student = sprintf("s%04d", seq_len(nrow(x))), x),
    items,
    students = students,
    ...
  )
}

# 0/1 points of n students on items of given easiness, who differ in one thing.
answers_of <- function(ability, easy, steep = 1) {
  n <- length(ability)
  matrix((runif(n * length(easy)) < plogis(steep * outer(ability, easy, `+`))) + 0, n)
}

alpha_plain <- function(x) {
  ncol(x) / (ncol(x) - 1) * (1 - sum(apply(x, 2, var)) / var(rowSums(x)))
}

test_that("a bootstrap figure is the same figure of the students that were drawn", {
  set.seed(3)
  x <- answers_of(rnorm(30), rnorm(6))
  quiz <- points_sitting(x)
  draws <- internal("bootstrap_draws")(30, 100, 5)
  expect_equal(colSums(draws), rep(30, 100))
  again <- x[rep(1:30, draws[, 7]), ]
  seventh <- points_sitting(again)
  items <- internal("resample_items")(x, quiz, 100, 5)
  expect_equal(items$alpha[7], alpha_plain(again))
  expected <- summarise_items(seventh)
  for (figure in c("discrimination", "upper_lower", "mastery_index")) {
    expect_equal(items[[figure]][7, ], expected[[figure]], label = figure)
  }
  test <- internal("resample_test")(x, quiz$items$points, 100, 5)
  for (figure in names(test)) {
    expect_equal(test[[figure]][7], summarise_test(seventh)[[figure]], label = figure)
  }
})

test_that("so it is where students had different items, or more than one point", {
  set.seed(4)
  x <- matrix(sample(0:3, 240, TRUE), 40) + rep(sample(0:2, 40, TRUE), 6)
  x[cbind(1:8, c(1, 2, 3, 4, 5, 6, 1, 2))] <- NA
  quiz <- points_sitting(x)
  again <- rep(1:40, internal("bootstrap_draws")(40, 100, 9)[, 3])
  # the same most points, since every maximum was drawn or given
  drawn <- points_sitting(rbind(x[again, ]))
  drawn$items$points <- quiz$items$points
  items <- internal("resample_items")(x, quiz, 100, 9)
  expected <- summarise_items(drawn)
  for (figure in c("discrimination", "upper_lower", "mastery_index")) {
    expect_equal(items[[figure]][3, ], expected[[figure]], label = figure)
  }
  test <- internal("resample_test")(x, quiz$items$points, 100, 9)
  for (figure in c("median", "sd", "lambda2", "split_half", "sem")) {
    expect_equal(test[[figure]][3], summarise_test(drawn)[[figure]], label = figure)
  }
})

test_that(
  paste0(
    "the same seed gives the same intervals, whatever R's own random numbers do, and ",
    "leaves those alone"
  ),
  {
    quiz <- random_sitting(n = 30, k = 6)
    set.seed(1)
    first <- summarise_test(quiz, bootstrap = 100)
    state <- .Random.seed
    expect_identical(summarise_test(quiz, bootstrap = 100), first)
    expect_identical(.Random.seed, state)
    expect_false(
      identical(summarise_test(quiz, bootstrap = 100, seed = 2)$sem_low, first$sem_low)
    )
    expect_true(first$sem_low < first$sem && first$sem < first$sem_high)
    expect_identical(
      first[names(summarise_test(quiz))],
      summarise_test(quiz)[],
      ignore_attr = TRUE
    )
    items <- summarise_items(quiz, by = "status", bootstrap = 200)
    expect_true(
      all(
        items$upper_lower_low <= items$upper_lower &
          items$upper_lower <= items$upper_lower_high
      )
    )
    expect_refused(summarise_test(quiz, bootstrap = 7), "call", "at least 100")
    expect_refused(
      summarise_items(tally_responses(quiz), bootstrap = 100),
      "call",
      "Give the sitting"
    )
  }
)

test_that("stepping up and asking for a length are one another's inverse", {
  quiz <- random_sitting(n = 60, k = 10, seed = 2)
  alpha <- summarise_test(quiz)$alpha
  lengths <- summarise_lengths(quiz, target = c(0.5, 0.9))
  expect_equal(
    lengths$needed,
    ceiling(10 * c(0.5, 0.9) * (1 - alpha) / (alpha * (1 - c(0.5, 0.9))))
  )
  reached <- internal("stepped_up")(alpha, lengths$needed / 10)
  shorter <- internal("stepped_up")(alpha, (lengths$needed - 1) / 10)
  expect_true(all(reached >= lengths$target & shorter < lengths$target))
  expect_true(
    all(lengths$needed_low <= lengths$needed & lengths$needed <= lengths$needed_high)
  )
  expect_equal(internal("stepped_up")(0.5, 2), 2 / 3) # Spearman 1910: doubling
  set.seed(8)
  none <- summarise_lengths(points_sitting(cbind(c(0, 1, 1, 0), c(1, 0, 0, 0))))
  expect_equal(none$reason, rep("no_reliability", 3))
  expect_refused(summarise_lengths(quiz, target = 90), "call", "between 0 and 1", "90")
})

test_that(
  paste0(
    "SEM at a score is Lord's for 0/1 items; its mean square over students is the SEM ",
    "of KR-21"
  ),
  {
    set.seed(5)
    x <- answers_of(rnorm(50), rnorm(12))
    precision <- summarise_precision(points_sitting(x))
    expect_equal(precision$score, 0:12)
    expect_equal(precision$sem, sqrt((0:12) * (12 - 0:12) / 11))
    total <- rowSums(x)
    m <- mean(total)
    # Lord 1955: with variances of n, the mean error variance is that of KR-21
    s2 <- mean((total - m)^2)
    kr21 <- 12 / 11 * (1 - m * (12 - m) / (12 * s2))
    expect_equal(sum(precision$students * precision$sem^2) / 50, s2 * (1 - kr21))
  }
)

test_that("for other items each student's own error averages to the SEM of alpha", {
  set.seed(6)
  x <- matrix(sample(0:3, 300, TRUE), 50) + rep(sample(0:2, 50, TRUE), 6)
  quiz <- points_sitting(x)
  own <- internal("error_variance")(x)
  expect_equal(mean(own), summarise_test(quiz)$sem^2)
  precision <- summarise_precision(quiz)
  expect_equal(unique(precision$method), "within_students")
  expect_equal(sum(precision$students * precision$sem^2) / 50, summarise_test(quiz)$sem^2)
  flat <- summarise_precision(points_sitting(cbind(c(0, 1), c(1, 0))))
  expect_equal(unique(flat$reason), "no_spread")
  expect_true(all(is.na(flat$sem)))
})

test_that(
  "dependability at the mean is KR-21 (Brennan & Kane 1977), and higher further away",
  {
    set.seed(7)
    x <- answers_of(rnorm(60), rnorm(15))
    share <- rowMeans(x)
    n <- rep(1, 60)
    at <- function(cut) internal("dependability")(share, n, cut, 15)
    s2 <- mean((share - mean(share))^2)
    expect_equal(
      at(mean(share)),
      15 / 14 * (1 - mean(share) * (1 - mean(share)) / (15 * s2))
    )
    expect_true(at(0.9) > at(mean(share)) && at(0.1) > at(mean(share)))
    expect_true(all(is.na(summarise_decisions(read_sitting(demo_path()))$dependability)))
  }
)

test_that(
  "agreement of the pass decision is within .02 of that on simulated parallel forms",
  {
    set.seed(8)
    off <- vapply(1:12, function(run) {
      k <- c(12, 20, 40)[run %% 3 + 1]
      easy <- rnorm(k, 0.5, 0.8)
      cut <- c(0.5, 0.6, 0.7, 0.8)[run %% 4 + 1]
      found <- summarise_decisions(
        points_sitting(answers_of(rnorm(1000), easy)),
        cut = cut
      )
      ability <- rnorm(8000)
      pass <- function() rowSums(answers_of(ability, easy)) >= cut * k - 1e-9
      one <- pass()
      other <- pass()
      chance <- mean(one) * mean(other) + mean(!one) * mean(!other)
      same <- mean(one == other)
      c(found$agreement - same, found$kappa - (same - chance) / (1 - chance))
    }, c(0, 0))
    expect_lt(max(abs(off[1, ])), 0.02)
    expect_lt(max(abs(off[2, ])), 0.08)
  }
)

test_that(
  paste0(
    "the reliability for decisions is alpha for items alike, and the parallel forms' ",
    "correlation for others"
  ),
  {
    x <- rbind(diag(4), 1 - diag(4), 0, 1)
    expect_equal(summarise_decisions(points_sitting(x))$reliability[1], alpha_plain(x))
    set.seed(12)
    ability <- rnorm(5000)
    top <- rep(c(1, 1, 3, 4), 4)
    form <- function() {
      vapply(top, function(most) rbinom(5000, most, plogis(ability)), integer(5000))
    }
    one <- form()
    found <- summarise_decisions(points_sitting(one))$reliability[1]
    expect_equal(found, cor(rowSums(one), rowSums(form())), tolerance = 0.015)
    expect_gt(found, alpha_plain(one) + 0.01)
  }
)

test_that("decisions count who passed, and say why where they cannot tell", {
  quiz <- points_sitting(rbind(diag(4), 1, 1, 0, 0, 1 - diag(4)[1:2, ]))
  decisions <- summarise_decisions(quiz, cut = c(0.5, 0.75))
  expect_equal(decisions$passed, c(4, 4))
  expect_equal(decisions$pass_share, c(4, 4) / 10)
  expect_equal(
    summarise_decisions(quiz)$decision,
    c("developing", "secure", "deep", "all_levels")
  )
  all_at_once <- summarise_decisions(quiz)
  expect_true(all(all_at_once$agreement[4] <= all_at_once$agreement[1:3]))
  bounds <- summarise_decisions(random_sitting(n = 60, k = 12), bootstrap = 200)
  expect_true(
    all(
      bounds$agreement_low < bounds$agreement & bounds$agreement < bounds$agreement_high
    )
  )
  flat <- summarise_decisions(points_sitting(cbind(rep(0:1, 6), rep(1:0, 6))))
  expect_equal(unique(flat$reason), "no_spread")
  expect_equal(
    unique(summarise_decisions(points_sitting(diag(9)))$reason),
    "few_students"
  )
  expect_refused(summarise_decisions(quiz, cut = 70), "call", "share of the points", "70")
})

test_that(
  paste0(
    "stratified alpha is alpha for one stratum and for equal covariances, and ",
    "Rajaratnam's sum else"
  ),
  {
    set.seed(9)
    x <- answers_of(rnorm(80), rnorm(9))
    one <- points_sitting(x, tags = list(area = "sea"))
    expect_equal(summarise_parts(one, "area")$stratified_alpha, summarise_test(one)$alpha)
    part <- rep(c("a", "b", "c"), each = 3)
    parts <- summarise_parts(points_sitting(x, tags = list(area = part)), "area")
    error <- vapply(unique(part), function(p) {
      y <- x[, part == p]
      var(rowSums(y)) * (1 - alpha_plain(y))
    }, 0)
    expect_equal(parts$stratified_alpha, rep(1 - sum(error) / var(rowSums(x)), 3))
    expect_equal(
      parts$alpha,
      unname(vapply(unique(part), function(p) alpha_plain(x[, part == p]), 0))
    )
    expect_equal(
      parts$share,
      unname(vapply(unique(part), function(p) mean(x[, part == p]), 0))
    )
  }
)

test_that(
  paste0(
    "a part is worth its own score when it asks something else, and not when it asks ",
    "the same"
  ),
  {
    set.seed(10)
    n <- 1500
    one <- rnorm(n)
    other <- 0.3 * one + sqrt(1 - 0.09) * rnorm(n)
    apart <- cbind(answers_of(one, rnorm(15), 1.5), answers_of(other, rnorm(15), 1.5))
    same <- cbind(answers_of(one, rnorm(15), 1.5), answers_of(one, rnorm(5), 1.5))
    tags <- function(a, b) list(area = rep(c("a", "b"), c(a, b)))
    expect_equal(
      summarise_parts(
        points_sitting(apart, tags = tags(15, 15)),
        "area",
        bootstrap = 100
      )$worth,
      c("yes", "yes")
    )
    expect_equal(
      summarise_parts(
        points_sitting(same, tags = tags(15, 5)),
        "area",
        bootstrap = 100
      )$worth[
        2
      ],
      "no"
    )
  }
)

test_that(
  paste0(
    "what a score foretells is the squared correlation with the true part score ",
    "(Haberman 2008)"
  ),
  {
    set.seed(11)
    n <- 20000
    true <- rnorm(n)
    also <- 0.6 * true + 0.8 * rnorm(n)
    part <- true + matrix(rnorm(4 * n, sd = 1.5), n)
    rest <- also + matrix(rnorm(8 * n, sd = 1.5), n)
    quiz <- internal("parts_from")(
      cov(cbind(part, rest)),
      list(1:4, 5:12),
      rep(c("a", "b"), c(4, 8))
    )
    expect_equal(quiz$by_part[1], cor(true, rowSums(part))^2, tolerance = 0.02)
    expect_equal(
      quiz$by_total[1],
      cor(true, rowSums(part) + rowSums(rest))^2,
      tolerance = 0.02
    )
  }
)

test_that(
  "a group that never had an item gets no figure that rests on it, and no interval",
  {
    set.seed(13)
    x <- answers_of(rnorm(60), rnorm(8))
    x[31:60, 8] <- NA
    students <- data.frame(
      student = sprintf("s%04d", 1:60),
      form = rep(c("long", "short"), each = 30)
    )
    quiz <- points_sitting(
      x,
      students = students,
      tags = list(area = rep(c("a", "b"), 4))
    )
    test <- summarise_test(quiz, by = "form", bootstrap = 100)
    expect_equal(is.na(test$alpha), c(FALSE, TRUE))
    for (figure in c("lambda2", "split_half", "sem")) {
      for (bound in c("_low", "_high")) {
        expect_equal(is.na(test[[paste0(figure, bound)]]), c(FALSE, TRUE), label = figure)
      }
    }
    decisions <- summarise_decisions(quiz, by = "form", cut = 0.5, bootstrap = 100)
    bounds <- decisions[grep("^(agreement|kappa|dependability)", names(decisions))]
    expect_false(anyNA(bounds[1, ]))
    expect_true(all(is.na(bounds[2, ])))
    expect_true(
      all(
        decisions$pass_low[1] < decisions$pass_share[1] &
          decisions$pass_share[1] < decisions$pass_high[1]
      )
    )
    expect_true(decisions$dependability_low[1] < decisions$dependability[1])
    expect_equal(
      is.na(summarise_parts(quiz, "area", by = "form")$alpha),
      rep(c(FALSE, TRUE), each = 2)
    )
  }
)

test_that("parts say why they are not told, and an unknown column is refused", {
  parts <- summarise_parts(read_sitting(demo_path()), strata = "type")
  expect_equal(unique(parts$reason[parts$items == 1]), "few_items")
  expect_equal(
    summarise_parts(read_sitting(demo_path()), "thinking")$part,
    c("recall", "use", "reason")
  )
  expect_refused(
    summarise_parts(read_sitting(demo_path()), "typ"),
    "call",
    "typ",
    "Did you mean \"type\"?"
  )
})
