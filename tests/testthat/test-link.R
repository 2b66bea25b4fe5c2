# Tests that share questions on one scale: what is left of a change when the test is taken
# out of it.

# A test of 0/1 questions; ids are their wordings as well.
worded <- function(x, ids, date = "2026-09-01", standards = NA, students = NULL, ...) {
  colnames(x) <- ids
  if (is.null(students)) students <- sprintf("s%04d", seq_len(nrow(x)))
  sitting(
    data.frame(student = students, x),
    data.frame(
      item = ids, type = "mark", points = 1, prompt = paste("What is", ids),
      standards = standards
    ),
    ...,
    settings = list(date = date)
  )
}

# Two tests of 20 with 10 in both; the others of the second are easier.
two_tests <- function(n, easier = 1, grown = 0, drift = numeric(10), spread = 1) {
  shared <- seq(-1.5, 1.5, length.out = 10)
  own <- seq(-1, 1, length.out = 10)
  ability <- stats::rnorm(n, 0, spread)
  answer <- function(ability, places) {
    (stats::runif(n * 20) < stats::plogis(outer(ability, places, `-`))) + 0
  }
  first <- answer(ability, c(shared, own))
  second <- answer(ability + grown, c(shared + drift, own - easier))
  list(
    before = worded(first, c(paste0("a", 1:10), paste0("b", 1:10))),
    after = worded(second, c(paste0("a", 1:10), paste0("c", 1:10)), "2027-02-01"),
    truth = mean(stats::plogis(outer(ability + grown, c(shared, own), `-`)))
  )
}

whole_of <- function(tests, ...) {
  change <- compare_sittings(tests$before, tests$after, ...)
  change[change$code == "(all)", ]
}

test_that("an easier test is not growth, and growth is found; the intervals hold", {
  only_in_all()
  set.seed(24)
  runs <- lapply(1:40, function(run) {
    still <- two_tests(150)
    grown <- two_tests(150, grown = 0.4)
    list(a = whole_of(still), b = whole_of(grown), truth = grown$truth)
  })
  a <- do.call(rbind, lapply(runs, function(run) as.data.frame(run$a)))
  b <- do.call(rbind, lapply(runs, function(run) as.data.frame(run$b)))
  truth <- vapply(runs, `[[`, 0, "truth")
  expect_gt(min(a$change_low), 0)
  # 5 in 100 at most; more than 5 of 40 would come in 1 of 100.
  expect_lte(sum(a$linked_change_low > 0), 5)
  expect_lt(abs(mean(a$linked_change)), 0.012)
  expect_gte(sum(b$linked_change_low > 0), 30)
  expect_lt(abs(mean(b$linked_share - truth)), 0.012)
  expect_gte(mean(b$linked_low <= truth & truth <= b$linked_high), 0.87)
})

test_that("the shift is the mean difference of the places in both", {
  set.seed(1)
  tests <- two_tests(400)
  link <- link_tests(lapply(unname(tests[c("before", "after")]), placed_sitting))
  places <- lapply(tests[c("before", "after")], summarise_scale)
  moved <- places[[1]]$place[1:10] - places[[2]]$place[1:10]
  kept <- link$anchors$anchor == "kept"
  expect_equal(link$shift[2], mean(moved[kept]))
  centred <- -(moved - mean(moved[kept]))
  expect_equal(link$anchors$drift, centred)
  # Yuen's spread of the kept, or the errors of the places: the larger.
  expect_gte(link$cov[2, 2], stats::var(moved[kept]) / sum(kept) - 1e-12)
})

test_that("on the scale of a third test the way round is the same as the direct one", {
  set.seed(3)
  x <- (matrix(stats::runif(300 * 30), 300) <
    stats::plogis(outer(stats::rnorm(300), seq(-1.5, 1.5, length.out = 30), `-`))) + 0
  ids <- paste0("i", 1:30)
  one <- placed_sitting(worded(x[, 1:12], ids[1:12]))
  two <- placed_sitting(worded(x[, 7:22], ids[7:22]))
  three <- placed_sitting(worded(x[, 17:30], ids[17:30]))
  link <- link_tests(list(one, two, three))
  expect_true(all(is.na(link$reason)))
  first <- link_tests(list(one, two))$shift[2]
  second <- link_tests(list(two, three))$shift[2]
  expect_equal(link$shift, c(0, first, first + second))
  # Two steps are less sure than one.
  expect_gt(link$cov[3, 3], link$cov[2, 2])
  expect_equal(link$cov[2, 3], link$cov[2, 2])
})

test_that("what cannot be linked says why", {
  set.seed(4)
  tests <- two_tests(100)
  drop <- function(sitting, items) {
    for (item in items) sitting <- adjust(sitting, item = item, action = "drop", reason = "x")
    sitting
  }
  renamed <- tests
  renamed$after <- worded(
    cell_points(tests$after), paste0("z", 1:20), "2027-02-01"
  )
  few <- two_tests(25)
  left <- list(before = tests$before, after = drop(tests$after, paste0("a", 1:6)))
  cases <- list(
    no_shared_items = renamed, few_shared_items = left, few_students = few
  )
  for (reason in names(cases)) {
    whole <- whole_of(cases[[reason]])
    expect_equal(whole$reason, reason)
    expect_false(whole$linked)
    expect_true(all(is.na(
      whole[c("linked_share", "linked_low", "linked_high", "linked_change")]
    )))
    said <- say_link(compare_sittings(cases[[reason]]$before, cases[[reason]]$after))
    expect_match(said, "easier")
  }
})

test_that("a question that moved is left out and named, and another key is no link", {
  set.seed(5)
  tests <- two_tests(500, drift = c(-2, numeric(9)))
  change <- compare_sittings(tests$before, tests$after)
  items <- compare_sittings(tests$before, tests$after, "item")
  moved <- items[items$item == "a1", ]
  expect_equal(moved$anchor, "drifted")
  expect_lt(moved$drift_p, 0.001)
  expect_lt(abs(moved$drift + 2), 3 * moved$drift_se)
  expect_true(any(grepl("a1 became easier", say_link(change))))
  whole <- change[change$code == "(all)", ]
  expect_true(whole$linked_low <= tests$truth && tests$truth <= whole$linked_high)
  keyed <- function(sitting, key) {
    sitting$items$points[2] <- key
    sitting
  }
  marks <- lapply(list(tests$before, keyed(tests$after, 2)), function(sitting) {
    item_marks(sitting$items, item_fingerprints(sitting))
  })
  shared <- same_questions(marks[[1]], marks[[2]])
  expect_equal(shared$same, replace(rep(TRUE, 10), 2, FALSE))
})

test_that("without drift a question is called easier or harder in at most 1 of 20 tests", {
  only_in_all()
  set.seed(6)
  called <- replicate(60, {
    tests <- two_tests(120)
    items <- compare_sittings(tests$before, tests$after, "item")
    any(items$drift_p < 0.05)
  })
  # More than 7 of 60 would come in 1 of 100.
  expect_lte(sum(called), 7)
})

test_that("names without wordings are the same only where many are and all keys agree", {
  items <- function(key) {
    data.frame(
      item = paste0("Q", seq_along(key)), type = "choice", key = key, points = 1,
      scoring = NA, prompt = NA
    )
  }
  marks <- function(key) item_marks(items(key), rep(NA_character_, length(key)))
  key <- rep(c("A", "B", "C"), 4)
  expect_equal(nrow(same_questions(marks(key), marks(key))), 12)
  expect_equal(nrow(same_questions(marks(key), marks(rev(key)))), 0)
  expect_equal(nrow(same_questions(marks(key[1:9]), marks(key[1:9]))), 0)
  expect_equal(nrow(same_questions(marks(rep(NA, 12)), marks(rep(NA, 12)))), 0)
})

test_that("questions shared are counted for all pairs of tests at once", {
  set.seed(12)
  tests <- lapply(1:8, function(k) {
    n <- sample(8:16, 1)
    asked <- stats::runif(n) < 0.6
    items <- data.frame(
      item = paste0("Q", sample(20, n)), type = "choice", scoring = NA, points = 1,
      key = sample(c("A", "B"), n, TRUE, if (k < 5) c(1, 0) else c(1, 1)),
      prompt = ifelse(asked & k != 3, paste("What is", sample(30, n)), NA)
    )
    item_marks(items, items$prompt)
  })
  counts <- shared_counts(tests)
  for (s in 1:8) {
    for (t in 1:8) {
      if (s != t) expect_equal(counts[s, t], nrow(same_questions(tests[[s]], tests[[t]])))
    }
  }
})

test_that("the same test twice needs no model: a share is a share", {
  set.seed(7)
  for (n in c(12, 80)) {
    x <- matrix(stats::rbinom(n * 8, 1, 0.6), n)
    y <- matrix(stats::rbinom(n * 8, 1, 0.7), n)
    tests <- list(
      before = worded(x, letters[1:8]), after = worded(y, letters[1:8], "2027-01-01")
    )
    whole <- whole_of(tests)
    expect_equal(whole$linked_change, whole$change)
    expect_equal(whole$linked_change_low, whole$change_low)
    expect_null(say_link(compare_sittings(tests$before, tests$after)))
  }
})

test_that("a standard's linked share is about its own questions, and a student's as well", {
  set.seed(8)
  n <- 800
  ability <- stats::rnorm(n)
  shared <- seq(-1.5, 1.5, length.out = 12)
  codes <- rep(c("S.1", "S.2"), 12)
  answer <- function(places) {
    (stats::runif(n * 24) < stats::plogis(outer(ability, places, `-`))) + 0
  }
  first <- c(shared, shared)
  ids <- c(paste0("a", 1:12), paste0("b", 1:12))
  before <- worded(answer(first), ids, standards = codes)
  after <- worded(
    answer(c(shared, shared - 1.2)), c(paste0("a", 1:12), paste0("c", 1:12)), "2027-01-01",
    codes
  )
  change <- compare_sittings(before, after)
  students <- compare_sittings(before, after, "student")
  for (code in c("S.1", "S.2")) {
    places <- first[codes == code]
    truth <- rowMeans(stats::plogis(outer(ability, places, `-`)))
    row <- change[change$code == code, ]
    expect_lt(abs(row$linked_share - mean(truth)), 0.03)
    mine <- students[students$code == code, ]
    held <- mine$linked_low <= truth & truth <= mine$linked_high
    expect_gt(mean(held), 0.9)
    expect_true(all(mine$linked_share >= 0 & mine$linked_share <= 1))
  }
})

test_that("a record puts each test on the scale of the first that it shares questions with", {
  set.seed(9)
  tests <- two_tests(150)
  other <- worded(
    matrix(stats::rbinom(150 * 6, 1, 0.5), 150), paste0("o", 1:6), "2026-10-01"
  )
  record <- open_record(tempfile(fileext = ".sqlite"))
  on.exit(close_record(record))
  add_sitting(record, tests$before, "autumn")
  add_sitting(record, other, "other")
  add_sitting(record, tests$after, "spring")
  grown <- growth(record, NULL)
  expect_equal(grown$linked, c(TRUE, FALSE, TRUE))
  expect_equal(grown$scale, c("autumn", NA, "autumn"))
  expect_equal(grown$reason, c(NA, "no_shared_items", NA))
  expect_equal(grown$linked_share[1], grown$share[1])
  # As the two by themselves.
  whole <- whole_of(tests)
  expect_equal(
    unlist(grown[3, c("linked_share", "linked_low", "linked_high")], use.names = FALSE),
    unlist(whole[c("linked_share", "linked_low", "linked_high")], use.names = FALSE)
  )
  expect_equal(
    unlist(grown[3, c("linked_gain", "linked_gain_low", "linked_gain_high")]),
    unlist(whole[c("linked_change", "linked_change_low", "linked_change_high")]),
    ignore_attr = TRUE
  )
  students <- growth(record, "student")
  last <- students[students$window == "spring", ]
  expect_equal(mean(last$linked_gain), grown$linked_gain[3])
  # Read on the other of them.
  turned <- growth(record, NULL, scale = "spring")
  expect_equal(turned$scale, c("spring", NA, "spring"))
  expect_equal(turned$linked_share[3], turned$share[3])
  expect_gt(turned$linked_share[1], grown$linked_share[1])
  expect_error(growth(record, NULL, scale = "winter"), class = "pregunta_error_call")
  drift <- item_drift(record)
  expect_equal(drift$item, drift$item_before)
  expect_equal(unique(drift$sitting), "spring")
  expect_true(all(drift$became %in% c("none_seen", "easier", "harder")))
})

test_that("growth of some students only, and the demo's two windows, as a person reads them", {
  record <- tempfile(fileext = ".sqlite")
  run_here("record", "add", demo_path("weather"), demo_path("weather-again"), "--record", record)
  said <- paste(run_here("record", "growth", "--record", record)$out, collapse = "\n")
  expect_match(said, "On one scale, as shares of the questions of weather")
  some <- function(...) {
    call <- c("record", "growth", ..., "--format", "json", "--record", record)
    jsonlite::fromJSON(do.call(run_here, as.list(call))$out)
  }
  one <- some("--only", "teacher=Ms Lantern")
  two <- some("--by", "teacher")
  two <- two[two$teacher == "Ms Lantern", ]
  expect_equal(one$linked_share, two$linked_share)
  expect_equal(one$n, two$n)
  wrong <- run_here("record", "growth", "--only", "colour=red", "--record", record)
  expect_equal(wrong$status, 2)
  drift <- run_here("record", "drift", "--record", record)$out
  expect_match(paste(drift, collapse = "\n"), "weather-again W4 has become easier")
  both <- run_here("compare", demo_path("weather"), demo_path("weather-again"))$out
  both <- gsub("\n", " ", paste(both, collapse = "\n"))
  expect_match(both, "easier by 1[0-9] points of 100")
  expect_match(both, "which may be chance")
  expect_no_match(both, "largest gain")
})

test_that("a follow-up takes the questions that tell most of these students, from any pool", {
  home <- tempfile()
  dir.create(home)
  quiz <- read_sitting(demo_path("weather"))
  later <- read_sitting(demo_path("weather-again"))
  path <- file.path(home, "year.sqlite")
  record <- open_record(path)
  add_sitting(record, quiz, "weather")
  add_sitting(record, later, "weather-again")
  close_record(record)
  bank <- file.path(home, "bank.sqlite")
  for (test in list(quiz, later)) keep_items(test, test$items$item, bank)
  draw <- function(pool, length = 2) {
    draw_followup(quiz, read_pool(pool), length = length, least = 1)
  }
  pools <- list(record = path, bank = bank, folder = demo_path("weather-again"))
  drawn <- lapply(pools, draw, 6)
  # By hand: the later test's places, moved by the questions that are in both.
  people <- attr(drawn$record, "people")$student
  first <- placed_sitting(quiz)
  second <- placed_sitting(later)
  shift <- link_tests(list(first, second))$shift[2]
  place <- summarise_places(quiz)
  place <- place$place[place$student %in% people]
  for (one in drawn) {
    number <- match(one$prompt, later$items$prompt)
    p <- vapply(number, function(j) mean(plogis(place - second$places[j] - shift)), 0)
    expect_equal(one$expected, p, tolerance = 2e-3)
    information <- vapply(number, function(j) {
      mean(dlogis(place - second$places[j] - shift))
    }, 0)
    expect_equal(one$information, information, tolerance = 2e-3)
  }
  # Of a few the ones that tell most on each standard.
  for (name in names(pools)) {
    two <- draw(pools[[name]])
    whole <- drawn[[name]]
    best <- tapply(whole$information, whole$standards, max)
    expect_equal(sort(two$information), sort(as.vector(best)))
  }
  # The drift by the bank's places is that of the record, but for errors that go together.
  whole <- open_record(path, make = FALSE)
  by_record <- as.data.frame(item_drift(whole))
  close_record(whole)
  by_bank <- as.data.frame(bank_drift(bank))
  at <- match(by_record$prompt, by_bank$prompt)
  expect_equal(by_bank$drift[at], by_record$drift, tolerance = 1e-3)
  expect_equal(by_bank$became[at], by_record$became)
  expect_lt(max(abs(by_bank$drift_se[at] / by_record$drift_se - 1)), 0.1)
  expect_match(
    paste(run_here("bank", "drift", "--bank", bank)$out, collapse = " "),
    "has become easier"
  )
  # A pool without places is chosen from as before.
  plain <- draw_followup(quiz, structure(
    replace(read_pool(bank), "sets", list(NULL)), class = "pregunta_pool"
  ), length = 2, least = 1)
  expect_true(all(is.na(plain$information)))
})
