# Where a cut goes: judges, students placed, what each cut would do.

set.seed(20)
ability <- stats::rnorm(120)
answered <- (stats::runif(120 * 20) <
  stats::plogis(outer(ability, seq(-1.5, 1.5, length.out = 20), `-`))) + 0
answered <- sweep(answered, 2, rep(c(1, 3), 10), `*`)
colnames(answered) <- paste0("Q", 1:20)
quiz <- sitting(
  data.frame(student = sprintf("s%03d", 1:120), answered),
  data.frame(item = colnames(answered), type = "mark", points = rep(c(1, 3), 10)),
  students = data.frame(
    student = sprintf("s%03d", 1:120), section = rep(c("x", "y"), 60)
  )
)

judged <- function(estimates, rounds = 1) {
  data.frame(
    judge = rep(rownames(estimates), each = ncol(estimates)),
    item = rep(colnames(answered)[seq_len(ncol(estimates))], nrow(estimates)),
    estimate = as.vector(t(estimates)), round = rounds
  )
}

estimates <- matrix(
  round(stats::runif(60, 0.3, 0.9), 2), 3,
  dimnames = list(c("Ames", "Bell", "Cole"), NULL)
)

test_that("the judges' cut is the mean of their sums with its standard error", {
  table <- summarise_cuts(quiz, judged(estimates))
  one <- table[table$way == "judges", ]
  sums <- as.vector(estimates %*% rep(c(1, 3), 10))
  expect_equal(one$cut_points, mean(sums))
  expect_equal(one$cut, mean(sums) / 40)
  expect_equal(one$spread * 40, sd(sums))
  expect_equal(one$cut_se * 40, sd(sums) / sqrt(3))
  expect_equal(
    c(one$cut_low, one$cut_high) * 40, as.vector(t.test(sums)$conf.int)
  )
  # Percents, and percents as words, are the same; a judge who left one out is no judge.
  for (other in list(100 * estimates, array(paste0(100 * estimates, "%"), dim(estimates)))) {
    rownames(other) <- rownames(estimates)
    again <- summarise_cuts(quiz, judged(other))
    expect_equal(again$cut, table$cut)
  }
  less <- judged(estimates)[-1, ]
  short <- summarise_cuts(quiz, less)
  expect_equal(attr(short, "incomplete"), "Ames")
  expect_equal(short$basis[2], 2)
})

test_that("rounds stand apart, the last is the judges' and who changed how much is told", {
  two <- rbind(judged(estimates), judged(pmin(estimates + 0.05, 1), 2))
  table <- summarise_cuts(quiz, two)
  expect_equal(table$way, c("now", "judges_before", "judges"))
  expect_gt(table$cut[3], table$cut[2])
  judges <- summarise_judges(quiz, two)
  expect_equal(judges$changed, c(NA, NA, NA, rep(0.05, 3)), tolerance = 0.02)
  difficulty <- summarise_items(quiz)$difficulty
  expect_equal(judges$follows[1], cor(estimates[1, ], difficulty, method = "spearman"))
  expect_equal(sum(judges$above[1:3]), 0)
})

test_that("students as they are placed: the median, and where above is as likely as not", {
  share <- summarise_students(quiz)$share
  set.seed(3)
  noisy <- share + stats::rnorm(120, 0, 0.12)
  placed <- data.frame(
    student = sprintf("s%03d", 1:120),
    placed = c("below", "borderline", "above")[findInterval(noisy, c(-9, 0.5, 0.6))]
  )
  table <- summarise_cuts(quiz, placed = placed)
  border <- table[table$way == "borderline", ]
  mine <- share[placed$placed == "borderline"]
  expect_equal(border$cut, median(mine))
  exact <- stats::binom.test(sum(mine > border$cut_low), length(mine))
  expect_true(border$cut_low <= border$cut && border$cut <= border$cut_high)
  expect_equal(border$basis, length(mine))
  contrast <- table[table$way == "contrasting", ]
  above <- placed$placed[placed$placed != "borderline"] == "above"
  x <- share[placed$placed != "borderline"]
  fit <- stats::glm(above ~ x, family = stats::binomial())
  expect_equal(unname(stats::predict(fit, data.frame(x = contrast$cut))), 0, tolerance = 1e-6)
  # At the ends of Fieller's interval the prediction is just beyond chance.
  ends <- stats::predict(
    fit, data.frame(x = c(contrast$cut_low, contrast$cut_high)), se.fit = TRUE
  )
  expect_equal(abs(unname(ends$fit / ends$se.fit)), rep(stats::qnorm(0.975), 2))
  # No overlap: the middle of the gap.
  clean <- transform(placed, placed = ifelse(share > 0.55, "above", "below"))
  middle <- summarise_cuts(quiz, placed = clean)
  expect_equal(
    middle$cut[3], (max(share[share <= 0.55]) + min(share[share > 0.55])) / 2
  )
  turned <- transform(placed, placed = ifelse(share > 0.55, "below", "above"))
  turned$placed[c(which.max(share), which.min(share))] <- c("above", "below")
  expect_equal(summarise_cuts(quiz, placed = turned)$reason[3], "no_order")
  expect_equal(summarise_cuts(quiz, placed = placed[1:6, ])$reason[3], "few_students")
})

test_that("what each cut would do is what decisions say, in every group as well", {
  table <- summarise_cuts(quiz, judged(estimates), cut = 0.5)
  decided <- summarise_decisions(quiz, cut = table$cut)
  figures <- c("n", "passed", "pass_share", "pass_low", "pass_high", "agreement", "kappa")
  expect_equal(as.data.frame(table)[figures], as.data.frame(decided)[figures])
  by <- summarise_cuts(quiz, judged(estimates), cut = 0.5, by = "section")
  expect_equal(nrow(by), 2 * nrow(table))
  own <- narrow_sitting(quiz, section = "y")
  expect_equal(
    by$passed[by$section == "y"], summarise_cuts(own, judged(estimates), cut = 0.5)$passed
  )
  expect_equal(
    tapply(by$passed, by$way, sum)[table$way], table$passed, ignore_attr = TRUE
  )
})

test_that("what cannot be read is told with its line, and a cut goes into test.yml", {
  folder <- tempfile()
  file.copy(demo_path("weather"), tempdir(), recursive = TRUE)
  file.rename(file.path(tempdir(), "weather"), folder)
  on.exit(unlink(folder, recursive = TRUE))
  expect_match(
    gsub("\n", " ", paste(run_here("cuts", folder)$out, collapse = " ")),
    "Nobody has said where a cut should lie"
  )
  items <- paste0("W", 1:16)
  write <- function(...) writeLines(c("judge,item,estimate", ...), file.path(folder, "judges.csv"))
  wrong <- list(
    c("Ames,W99,0.5", "line 2"), c("Ames,W1,lots", "line 2"), c("Ames,W1,-1", "line 2")
  )
  for (one in wrong) {
    write(one[1])
    run <- run_here("cuts", folder)
    expect_equal(run$status, 1)
    expect_match(paste(run$err, collapse = " "), one[2])
  }
  write(paste0("Ames,", items, ",0.5"), paste0("Bell,", items, ",0.6"))
  said <- gsub("\n", " ", paste(run_here("cuts", folder)$out, collapse = " "))
  expect_match(said, "At 55% \\(judges\\) [0-9]+ of 83 would pass, [0-9]+ more than at 70% now")
  writeLines(
    c("# mine", "title: Weather", "levels:", "  low: 0", "  high: 0.8 # for now",
      "date: 2026-11-16"),
    file.path(folder, "test.yml")
  )
  expect_equal(run_here("cuts", folder, "--choose", "judges")$status, 2)
  expect_equal(
    run_here("cuts", folder, "--choose", "200", "--reason", "x")$status, 2
  )
  for (call in list(
    c("--choose", "judges", "--level", "high", "--reason", "the panel: \"round 1\""),
    c("--choose", "60%", "--reason", "as agreed")
  )) {
    run <- do.call(run_here, as.list(c("cuts", folder, call)))
    expect_equal(run$status, 0)
  }
  lines <- readLines(file.path(folder, "test.yml"))
  expect_true(all(c("# mine", "title: Weather", "date: 2026-11-16") %in% lines))
  settings <- read_sitting(folder)$settings
  expect_equal(settings$levels, list(low = 0, high = 0.55))
  expect_equal(settings$mastery_cut, 0.6)
  expect_equal(
    vapply(settings$cut_reasons, `[[`, "", "reason"),
    c("the panel: \"round 1\"", "as agreed")
  )
  expect_equal(vapply(settings$cut_reasons, `[[`, 0, "was"), c(0.8, 0.7))
  expect_equal(
    run_here("cuts", folder, "--choose", "0.5", "--level", "middling", "--reason", "x")$status,
    2
  )
})
