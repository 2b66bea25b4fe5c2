# Questions and students on one scale: conditional likelihood, against every other way.

marks_sitting <- function(x, most = apply(x, 2, max, na.rm = TRUE), ...) {
  given <- ifelse(is.na(x), "(not given)", x)
  colnames(given) <- paste0("Q", seq_len(ncol(x)))
  sitting(
    data.frame(student = sprintf("s%05d", seq_len(nrow(x))), given),
    data.frame(item = colnames(given), type = "mark", points = most),
    ...
  )
}

# Answers of the model; steps: a matrix, a row an item, where each point is reached.
answers_of <- function(ability, steps) {
  vapply(seq_len(nrow(steps)), function(j) {
    logs <- t(apply(outer(ability, steps[j, ], `-`), 1, cumsum))
    if (ncol(steps) == 1) logs <- t(logs)
    chances <- exp(cbind(0, logs))
    apply(chances, 1, function(p) sample(seq_along(p) - 1, 1, prob = p))
  }, ability)
}

# By a log-linear model of all patterns, of items' points and total (Tjur 1982): the
# places of the items, centred.
places_loglinear <- function(x) {
  most <- apply(x, 2, max)
  cells <- expand.grid(lapply(most, function(m) 0:m))
  key <- function(table) do.call(paste, as.data.frame(table))
  cells$count <- as.vector(table(factor(key(x), key(cells[seq_along(most)]))))
  indicators <- lapply(seq_along(most), function(j) {
    outer(cells[[j]], seq_len(most[j]), `==`) + 0
  })
  # The total says what one of them is: without it nothing moves.
  design <- do.call(cbind, indicators)[, -most[1]]
  total <- factor(rowSums(cells[seq_along(most)]))
  fit <- suppressWarnings(stats::glm(
    cells$count ~ design + total,
    family = stats::poisson(), control = list(epsilon = 1e-12, maxit = 100)
  ))
  easiness <- append(stats::coef(fit)[1 + seq_len(sum(most) - 1)], 0, most[1] - 1)
  last <- cumsum(most)
  place <- -easiness[last] / most
  unname(place - mean(place))
}

test_that("places are those of a log-linear model, for single points and for several", {
  set.seed(2)
  ability <- rnorm(300)
  single <- answers_of(ability, matrix(c(-1, -0.5, 0, 0.2, 0.7, 1.2)))
  mixed <- cbind(
    answers_of(ability, rbind(c(-1, 0.5), c(0.2, 0.1), c(0.8, -0.4))),
    answers_of(ability, matrix(c(-0.5, 0.6)))
  )
  for (x in list(single, mixed)) {
    found <- summarise_scale(marks_sitting(x))
    expect_equal(found$place, places_loglinear(x), tolerance = 1e-6)
  }
})

test_that("standard errors are the curve of the likelihood over all patterns", {
  set.seed(3)
  x <- answers_of(rnorm(200), rbind(c(-0.5, 0.5), c(0, 0), c(0.3, 0.9)))
  cells <- as.matrix(expand.grid(0:2, 0:2, 0:2))
  key <- function(table) apply(table, 1, paste, collapse = "")
  count <- as.vector(table(factor(key(x), key(cells))))
  total <- rowSums(cells)
  # The first item's steps are where the places' mean is 0.
  loglik <- function(easiness) {
    given <- matrix(c(0, 0, 0, easiness), 3, 3)[, 1:3]
    weight <- vapply(1:3, function(j) given[j, cells[, j] + 1], numeric(27))
    weight <- exp(rowSums(weight))
    sum(count * (log(weight) - log(tapply(weight, total, sum)[as.character(total)])))
  }
  free <- function(par) {
    a1 <- c(par[1], par[2])
    a2 <- c(par[3], par[4])
    a3 <- c(par[5], -par[2] - par[4])
    loglik(c(a1[1], a2[1], a3[1], a1[2], a2[2], a3[2]))
  }
  best <- stats::optim(rep(0, 5), function(par) -free(par), method = "BFGS",
    hessian = TRUE, control = list(reltol = 1e-15, maxit = 1000))
  found <- summarise_scale(marks_sitting(x))
  expect_equal(found$place[1:2], -best$par[c(2, 4)] / 2, tolerance = 1e-4)
  cov <- solve(best$hessian)
  expect_equal(found$se[1:2], sqrt(diag(cov)[c(2, 4)]) / 2, tolerance = 1e-3)
})

test_that("whoever sits it, a question keeps its place; intervals hold the truth", {
  skip_on_cran()
  set.seed(4)
  truth <- seq(-1.4, 1.4, length.out = 12)
  covered <- called <- misplaced <- NULL
  for (run in 1:60) {
    ability <- rnorm(250, sample(c(-1, 0, 1), 1), 1)
    found <- summarise_scale(marks_sitting(answers_of(ability, matrix(truth))))
    covered <- c(covered, found$place_low <= truth & truth <= found$place_high)
    called <- c(called, any(found$fit %in% "misfits"))
    misplaced <- rbind(misplaced, found$place - truth)
  }
  expect_gt(mean(covered), 0.93)
  expect_lt(mean(covered), 0.97)
  expect_lt(max(abs(colMeans(misplaced))), 0.08)
  # Of tests where nothing is wrong at most one in twenty: 60 runs allow 7.
  expect_lte(sum(called), 7)
})

test_that("a question that follows nothing, or another thing, does not go with the rest", {
  set.seed(5)
  ability <- rnorm(300)
  x <- answers_of(ability, matrix(seq(-1, 1, length.out = 12)))
  for (wrong in list(rbinom(300, 1, 0.5), 1 - x[, 9])) {
    x[, 9] <- wrong
    found <- summarise_scale(marks_sitting(x))
    expect_identical(found$item[found$fit %in% "misfits"], "Q9")
    expect_gt(found$infit[9], found$infit_high[9])
    expect_match(paste(internal("say_scale")(found), collapse = " "), "Q9 does not go")
  }
})

test_that("students' places meet the equation of weighted likelihood, all right as well", {
  set.seed(6)
  x <- answers_of(rnorm(80), rbind(c(-0.5, 0.5), c(0, 0), c(0.3, 0.9), c(-1, 1)))
  x[1, ] <- 2
  x[2, ] <- 0
  quiz <- marks_sitting(x)
  scale <- summarise_scale(quiz)
  places <- summarise_places(quiz)
  steps <- lapply(strsplit(scale$steps, ";"), as.numeric)
  excess <- function(place, score) {
    sums <- vapply(steps, function(step) {
      p <- exp(c(0, cumsum(place - step)))
      p <- p / sum(p)
      mean <- sum(p * seq_along(p)) - 1
      away <- seq_along(p) - 1 - mean
      c(mean, sum(p * away^2), sum(p * away^3))
    }, numeric(3))
    sums <- rowSums(sums)
    c(score - sums[1] + sums[3] / (2 * sums[2]), 1 / sqrt(sums[2]))
  }
  for (i in c(1:8)) {
    at <- excess(places$place[i], sum(x[i, ]))
    expect_lt(abs(at[1]), 5e-3) # the steps are rounded
    expect_equal(at[2], places$se[i], tolerance = 1e-3)
  }
  expect_true(all(is.finite(places$place)))
  expect_equal(places$share, rowSums(x) / 8)
})

test_that("forms with shared questions stand on one scale, without them apart", {
  set.seed(7)
  truth <- seq(-1.5, 1.5, length.out = 15)
  ability <- rnorm(600, rep(c(-0.7, 0.7), each = 300))
  x <- answers_of(ability, matrix(truth))
  x[1:300, 11:15] <- NA
  x[301:600, 1:5] <- NA
  found <- summarise_scale(marks_sitting(x))
  expect_lt(max(abs(found$place - truth) / found$se), 3.5)
  places <- summarise_places(marks_sitting(x))
  expect_gt(mean(places$place[301:600]) - mean(places$place[1:300]), 1)
  x[1:300, 6:10] <- NA
  apart <- summarise_scale(marks_sitting(x))
  expect_setequal(apart$reason[1:5], "not_linked")
  expect_true(all(is.na(apart$reason[6:15])))
})

test_that("what cannot be placed has its reason", {
  set.seed(8)
  x <- answers_of(rnorm(60), matrix(c(-1, 0, 1, 0.5)))
  x <- cbind(x, 1, 0, c(rep(NA, 45), rep(0:1, 8)[1:15]), round(runif(60), 2))
  found <- summarise_scale(marks_sitting(x, most = c(1, 1, 1, 1, 1, 1, 1, 1)))
  expect_identical(
    found$reason,
    c(rep(NA, 4), "all_right", "none_right", "few_students", "many_values")
  )
  expect_true(all(is.na(found$place[5:8])))
  few <- summarise_scale(choice_sitting(matrix(c("A", "B", "A"), 3, 2)))
  expect_setequal(few$reason, "few_students")
  expect_match(internal("say_scale")(few), "at least 30 students")
  right <- choice_sitting(matrix("A", 40, 3))
  expect_match(internal("say_scale")(summarise_scale(right)), "some did not")
  expect_identical(summarise_scale(right)$n, rep(40L, 3))
  expect_identical(summarise_places(choice_sitting(matrix(c("A", "B", "A"), 3, 2)))$reason[1], "no_place")
  # Two questions alike: neither is the harder one, and nothing is said of fit.
  alike <- cbind(rep(0:1, 20), rep(1:0, 20))
  same <- summarise_scale(marks_sitting(alike))
  expect_identical(same$fit, c(NA_character_, NA_character_))
  expect_match(internal("say_scale")(same), "none is surely harder")
  waiting <- sitting(
    data.frame(student = sprintf("s%02d", 1:40), Q1 = "because", Q2 = rep(c("A", "B"), 20)),
    data.frame(item = c("Q1", "Q2"), type = c("open", "choice"), key = c(NA, "A"))
  )
  expect_identical(summarise_scale(waiting)$reason, c("few_students", "few_items"))
  # A step is a number of points that somebody earned, whatever it is worth.
  gap <- answers_of(rnorm(80), matrix(c(-0.5, 0, 0.5)))
  twice <- sweep(gap, 2, c(1, 2, 4), `*`)
  expect_equal(
    summarise_scale(marks_sitting(twice))$place, summarise_scale(marks_sitting(gap))$place
  )
  expect_error(summarise_scale(marks_sitting(gap), least = 1), class = "pregunta_error_call")
  # Nobody did better on Q2 than on Q1: no number says how far apart they are.
  ladder <- cbind(rep(c(0, 1, 1, 1), 20), rep(c(0, 0, 1, 1), 20), rep(c(0, 0, 0, 1), 20))
  expect_setequal(summarise_scale(marks_sitting(ladder))$reason, "not_linked")
})

test_that("the demo's wrong key and the question that the strong miss stand out", {
  scale <- summarise_scale(read_sitting(demo_path()))
  expect_setequal(scale$item[scale$fit %in% "misfits"], c("Q7", "Q11"))
  expect_identical(scale$reason[scale$item == "Q1"], "all_right")
  said <- run_here("scale", demo_path())
  expect_identical(said$status, 0L)
  expect_match(said$out[2], "^Q7 .* does not go with the rest")
  students <- run_here("scale", demo_path(), "--by", "student", "--format", "csv")
  expect_equal(
    utils::read.csv(text = students$out)$place,
    summarise_places(read_sitting(demo_path()))$place,
    tolerance = 1e-9
  )
  expect_identical(run_here("scale", demo_path(), "--by", "section")$status, 2L)
  drawn <- ggplot2::ggplot_build(ggplot2::autoplot(scale))
  expect_equal(sort(drawn$data[[4]]$x), sort(scale$place))
})

test_that("slopes are those that make the marginal likelihood largest, of points as well", {
  set.seed(11)
  ability <- stats::rnorm(400)
  slope <- c(0.7, 1.4, 1, 1.8, 0.9)
  single <- (matrix(stats::runif(2000), 400) <
    stats::plogis(sweep(outer(ability, c(-1, -0.3, 0, 0.4, 1), `-`), 2, slope, `*`))) + 0
  several <- cbind(single[, 1:3], answers_of(ability * 1.5, rbind(c(-0.6, 0.6), c(0.2, 0.4))))
  places <- seq(-5, 5, by = 0.25)
  weights <- stats::dnorm(places) / sum(stats::dnorm(places))
  loss_of <- function(x) {
    most <- apply(x, 2, max)
    item <- rep(seq_along(most), most + 1)
    function(par) {
      own <- split(par, item)
      logs <- lapply(seq_along(own), function(j) {
        step <- seq_len(most[j])
        log_p <- rbind(0, outer(own[[j]][1] * step, places) + own[[j]][-1])
        t(sweep(log_p, 2, log(colSums(exp(log_p)))))[, x[, j] + 1]
      })
      -sum(log(as.vector(weights %*% exp(Reduce(`+`, logs)))))
    }
  }
  for (x in list(single, several)) {
    found <- summarise_scale(marks_sitting(x), slopes = TRUE)
    par <- unlist(lapply(seq_len(nrow(found)), function(j) {
      steps <- as.numeric(strsplit(found$steps[j], ";")[[1]])
      c(found$slope[j], -found$slope[j] * cumsum(steps))
    }))
    best <- stats::optim(par, loss_of(x), method = "BFGS", control = list(reltol = 1e-12))
    first <- cumsum(c(1, apply(x, 2, max)[-5] + 1))
    expect_equal(best$par[first], found$slope, tolerance = 2e-3)
    expect_lt(loss_of(x)(par) - best$value, 1e-3)
  }
})

test_that("intervals of slopes and places hold the truth, from 250 students on", {
  set.seed(12)
  slope <- rep(c(0.6, 1, 1.6), 4)
  place <- rep(c(-1, 0, 0.8, 0.2), 3)
  held <- replicate(25, {
    ability <- stats::rnorm(300)
    p <- stats::plogis(sweep(outer(ability, place, `-`), 2, slope, `*`))
    found <- summarise_scale(marks_sitting((stats::runif(3600) < p) + 0), slopes = TRUE)
    c(
      found$slope_low <= slope & slope <= found$slope_high,
      found$place_low <= place & place <= found$place_high
    )
  })
  expect_gt(mean(held), 0.92)
  expect_lt(mean(held), 0.985)
  few <- summarise_scale(marks_sitting(matrix(rbinom(2000, 1, 0.5), 200)), slopes = TRUE)
  expect_equal(unique(few$reason), "few_students")
  expect_true(all(is.na(few$place)))
})

test_that("an item that the strong miss has no place, and the rest have", {
  set.seed(13)
  ability <- stats::rnorm(400)
  x <- answers_of(ability, matrix(seq(-1, 1, length.out = 8)))
  x[, 3] <- 1 - x[, 3]
  found <- summarise_scale(marks_sitting(x), slopes = TRUE)
  expect_equal(which(found$reason %in% "reversed"), 3)
  expect_lt(found$slope_high[3], 0)
  expect_match(paste(say_scale(found), collapse = " "), "Q3 does not go")
  expect_true(all(!is.na(found$place[-3])))
  # Two that say the very same: no bound, but no crash.
  x[, 3] <- x[, 4]
  found <- summarise_scale(marks_sitting(x), slopes = TRUE)
  expect_true(all(is.finite(found$place)))
})

test_that("the information is how fast the score grows, and its error that of a place", {
  set.seed(14)
  ability <- stats::rnorm(300)
  x <- cbind(
    answers_of(ability, matrix(c(-1, 0, 0.5, 1))),
    answers_of(ability, rbind(c(-1, 0.5), c(0, 1)))
  )
  quiz <- marks_sitting(x)
  table <- summarise_information(quiz)
  expect_equal(table$score, 0:8)
  expect_equal(table$n, tabulate(rowSums(x) + 1, 9))
  expect_equal(table$se, 1 / sqrt(table$information))
  people <- summarise_places(quiz)
  expect_equal(people$se, table$se[rowSums(x) + 1])
  # One thing more of a score for one thing more of information.
  steps <- lapply(strsplit(summarise_scale(quiz)$steps, ";"), as.numeric)
  expected <- function(place) {
    sum(vapply(steps, function(step) {
      p <- exp(cumsum(c(0, place - step)))
      sum(p * (seq_along(p) - 1)) / sum(p)
    }, 0))
  }
  grows <- vapply(table$place, function(place) {
    (expected(place + 1e-4) - expected(place - 1e-4)) / 2e-4
  }, 0)
  expect_equal(table$information, grows, tolerance = 1e-3)
  expect_equal(nrow(summarise_information(marks_sitting(x[1:20, ]))), 0)
  curve <- summarise_information(quiz, slopes = TRUE)
  expect_equal(curve$place, seq(-4, 4, by = 0.5))
  expect_true(all(diff(curve$score) > 0))
  expect_equal(sum(curve$n), 300)
})
