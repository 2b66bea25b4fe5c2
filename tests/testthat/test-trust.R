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

test_that("SEM at a score is Lord's with Keats' correction, and never 0", {
  set.seed(5)
  x <- answers_of(rnorm(50), c(-2.5, -2, -1, -0.5, 0, 0, 0.3, 0.5, 1, 1.5, 2, 2.5))
  x[1, ] <- 1
  x[2, ] <- 0
  quiz <- points_sitting(x)
  precision <- summarise_precision(quiz)
  test <- summarise_test(quiz)
  lord <- sqrt((1:11) * (12 - 1:11) / 11)
  keats <- sqrt((1 - test$alpha) / (1 - test$kr21))
  expect_equal(precision$score, 0:12)
  expect_equal(precision$sem[2:12], lord * keats)
  expect_equal(precision$sem[c(1, 13)], lord[c(1, 11)] * keats)
  inner <- answers_of(rnorm(400), seq(-1, 1, length.out = 40))
  inner <- inner[rowSums(inner) %in% 1:39, ]
  precision <- summarise_precision(points_sitting(inner))
  mean_square <- sum(precision$students * precision$sem^2) / nrow(inner)
  # Lord 1955 has variances of n, the SEM those of n - 1.
  sem <- summarise_test(points_sitting(inner))$sem
  expect_equal(mean_square, sem^2, tolerance = 1 / 400)
  alike <- summarise_precision(points_sitting(cbind(c(0, 1, 1, 0), c(0, 1, 1, 0))))
  expect_true(all(alike$sem > 0))
})

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

test_that("reliability by form is that of the form alone, whatever else was asked", {
  set.seed(13)
  x <- answers_of(rnorm(60), rnorm(8))
  x[31:60, 6:8] <- NA
  x[1:30, 1] <- NA
  students <- data.frame(student = sprintf("s%04d", 1:60), paper = rep(c("a", "b"), 30))
  tags <- list(area = rep(c("a", "b"), 4))
  quiz <- points_sitting(x, students = students, tags = tags)
  forms <- list(list(1:30, 2:8), list(31:60, 1:5))
  alone <- lapply(forms, function(form) {
    points_sitting(
      x[form[[1]], form[[2]]],
      tags = list(area = tags$area[form[[2]]])
    )
  })
  # Forms are numbered in the order of the items.
  alone <- rev(alone)
  both <- function(summarise, ...) do.call(rbind, lapply(alone, summarise, ...))
  same <- function(by_form, apart) {
    expect_equal(unique(by_form$form), c("1", "2"))
    figures <- setdiff(names(apart), grep("difference|beyond_chance", names(apart)))
    expect_equal(
      as.data.frame(by_form)[figures],
      as.data.frame(apart)[figures],
      ignore_attr = TRUE
    )
  }
  same(
    summarise_test(quiz, by = "form", bootstrap = 100),
    both(summarise_test, bootstrap = 100)
  )
  same(
    summarise_decisions(quiz, by = "form", cut = 0.5, bootstrap = 100),
    both(summarise_decisions, cut = 0.5, bootstrap = 100)
  )
  same(summarise_lengths(quiz, by = "form"), both(summarise_lengths))
  # A part comes where its first question does: in the second form b before a.
  parts <- both(summarise_parts, "area")[c(1, 2, 4, 3), ]
  same(summarise_parts(quiz, "area", by = "form"), parts)
  whole <- summarise_test(quiz)
  expect_equal(whole$reason, "few_complete")
  expect_output(print(whole), "told for each form")
  expect_output(print(whole), "2 +30 +7 +7 +0[.]")
  page <- readLines(write_report(quiz, tempfile()), encoding = "UTF-8")
  expect_true(any(grepl("Form 2: 7 questions, 30 students, alpha 0[.]", page)))
  # Tallies of some students add up, though some of them have fewer items.
  items <- quiz$items$item
  tallies <- lapply(list(1:45, 46:60), function(rows) {
    part <- narrow_sitting(quiz, student = students$student[rows])
    tally_responses(part, "paper", TRUE, counted = items)
  })
  added <- tallies[[1]] + tallies[[2]]
  expect_equal(
    added$products,
    tally_responses(quiz, "paper", TRUE, counted = items)$products
  )
  expect_refused(
    summarise_test(points_sitting(x[, 2:5]), by = "form"),
    "call",
    "no column",
    "form"
  )
})

test_that("one population's SEM: that of the students whose reliability it is", {
  set.seed(14)
  x <- answers_of(c(rnorm(20), rnorm(60, 0, 4)), rnorm(10))
  x[21:80, 10] <- NA
  test <- summarise_test(points_sitting(x), bootstrap = 100)
  complete <- summarise_test(points_sitting(x[1:20, ]))
  expect_equal(test$n_complete, 20)
  expect_equal(test$sem, complete$sem)
  expect_gt(test$sem_high, test$sem)
  expect_lt(test$sem_high, 2 * test$sem)
})

test_that("agreement and kappa are those of the integral, in the tails too", {
  exact <- function(a, b, length, cut) {
    reach <- function(t) stats::pbeta(t, cut * length + 0.5, length * (1 - cut) + 0.5)
    mean_of <- function(f) {
      ends <- stats::qbeta(c(0, 1e-6, 0.01, 0.5, 0.99, 1 - 1e-6, 1), a, b)
      sum(vapply(seq_len(6), function(k) {
        stats::integrate(
          function(t) f(reach(t)) * stats::dbeta(t, a, b),
          ends[k],
          ends[k + 1],
          rel.tol = 1e-10,
          abs.tol = 0,
          stop.on.error = FALSE
        )$value
      }, 0))
    }
    agreement <- mean_of(function(p) p^2 + (1 - p)^2)
    passed <- mean_of(identity)
    chance <- passed^2 + (1 - passed)^2
    c(agreement, (agreement - chance) / (1 - chance))
  }
  for (cut in c(0.15, 0.5, 0.9, 0.97)) {
    for (shape in list(c(3, 2), c(12, 8), c(40, 10))) {
      points <- internal("beta_points")(shape[1], shape[2], 401)
      model <- c(list(length = 30), points)
      found <- internal("agreement_at")(model, cut)
      expect_equal(found, exact(shape[1], shape[2], 30, cut), tolerance = 1e-6)
    }
  }
})

test_that("what cannot be had says so: halves that exclude each other, one item", {
  set.seed(15)
  opposite <- c(0.1, 0.7, 0.3, 0.9, 0.2)
  x <- cbind(opposite, 1 - opposite, opposite / 3, (1 - opposite) / 3)
  x <- x + cbind(0, runif(5) * 1e-13, 0, 0)
  expect_true(is.na(internal("split_half_of")(stats::cov(x))))
  one <- points_sitting(matrix(c(0, 1, 1, 0, 1)))
  test <- summarise_test(one, bootstrap = 100)
  expect_true(is.na(test$kr21) && is.na(test$kr21_low) && is.na(test$kr21_high))
  expect_equal(summarise_items(one)$reason, "few_items")
  expect_equal(test$reason, "few_items")
})

test_that("an exact tie of a part with the whole test is no score of its own", {
  # Two parts that are one and the same: the total's share equals the part's.
  covariance <- matrix(c(1, 0.3, 0.3, 0.3, 1, 0.3, 0.3, 0.3, 1), 3)
  tie <- internal("parts_from")(covariance, list(1:3), rep("a", 3))
  expect_equal(tie$by_part, tie$by_total)
  set.seed(16)
  for (run in 1:20) {
    x <- answers_of(rnorm(40), rnorm(6))
    parts <- summarise_parts(points_sitting(x, tags = list(area = rep("a", 6))), "area")
    expect_equal(parts$worth, "no", label = run)
  }
})

test_that("keys are reviewed where the strongest were not given the question", {
  quiz <- choice_sitting(cbind(c("A", "A", "B"), c("A", "B", "B"), c("(not given)", "B", "A")))
  keys <- review_key(quiz)
  expect_false(anyNA(keys$item))
  expect_s3_class(keys, "pregunta_keys")
})

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

test_that("what is drawn for the parts is what the parts of the drawn students come to", {
  quiz <- read_sitting(demo_path())
  parts <- internal("parts_of_test")(quiz, "standards")
  points <- internal("cell_points")(quiz)
  points <- points[rowSums(is.na(points)) == 0, ]
  members <- lapply(parts$items, function(items) which(seq_len(ncol(points)) %in% items))
  draws <- internal("bootstrap_draws")(nrow(points), 20, 5) + 0
  drawn <- internal("drawn_parts")(points, draws, members, parts$stratum)
  for (b in 1:20) {
    again <- points[rep(seq_len(nrow(points)), draws[, b]), ]
    one <- internal("parts_from")(stats::cov(again), members, parts$stratum)
    expect_equal(
      unname(drawn[b, ]), c(one$by_part - one$by_total, one$stratified), tolerance = 1e-10
    )
  }
})

test_that("a test without parts is told of", {
  quiz <- read_sitting(test_path("reference", "class"))
  expect_refused(summarise_parts(quiz), "call")
  expect_gt(nrow(summarise_parts(quiz, "type")), 0)
})
