# Verdicts on items: what is planted is found, what is sound is left alone, and
# a small class condemns nothing.

verdict_of <- function(review) stats::setNames(review$verdict, review$item)
rule_of <- function(review) stats::setNames(review$rule, review$item)

test_that(
  "the demo's items get the verdicts that were planted, each said in its own words",
  {
    review <- review_items(read_sitting(demo_path()))
    expect_equal(
      rule_of(review)[c("Q7", "Q11", "Q9", "Q14", "Q24", "Q23", "Q1", "Q17")],
      c(
        Q7 = "key",
        Q11 = "idea",
        Q9 = "idea",
        Q14 = "guessed",
        Q24 = "waiting",
        Q23 = "time",
        Q1 = "mastered",
        Q17 = "near_miss"
      )
    )
    expect_equal(sum(review$verdict == "sound"), 15)
    expect_setequal(review$item, read_sitting(demo_path())$items$item)
    expect_true(all(review$verdict %in% internal("verdicts")))
    expect_false(is.unsorted(match(review$verdict, internal("verdicts"))))
    expect_equal(anyDuplicated(review$what), 0)
    expect_equal(anyDuplicated(review$do[review$verdict != "sound"]), 0)
    expect_false(any(grepl("[{}]|NA", paste(review$what, review$do))))
  }
)

test_that("no sentence has a word that only a statistician knows", {
  jargon <- "correlat|discriminat|distractor|alpha|signific|interval|coefficient|p-value|standard|item"
  words <- internal("section_of")
  said <- unlist(c(words("review_what"), words("review_do"), words("review_talk")))
  expect_false(any(grepl(jargon, said, ignore.case = TRUE)))
})

test_that("twelve students condemn nothing, and what waits is still said", {
  few <- read_sitting(demo_path())
  few$students$status[-(1:12)] <- "absent"
  review <- review_items(few)
  expect_true(all(review$rule %in% c("few", "waiting", "waits")))
  few <- read_sitting(demo_path())
  few$students$status[-which(few$students$status == "waiting")[1:12]] <- "absent"
  expect_setequal(review_items(few)$rule, c("few", "waiting", "waits"))
  few$students$status <- "absent"
  expect_setequal(review_items(few)$verdict, "too_few")
})

# n students and k sound items; the first item is what the test makes of it.
with_first <- function(n, first, k = 12, seed = 1, ..., key = "A") {
  set.seed(seed)
  ability <- rnorm(n)
  right <- matrix(runif(n * k) < plogis(1.5 * outer(ability, rnorm(k), `+`)), n)
  answers <- matrix(ifelse(right, "A", sample(c("B", "C", "D"), n * k, TRUE)), n)
  answers[, 1] <- first(ability)
  choice_sitting(answers, key = c(key, rep("A", k - 1)), ...)
}
first_rule <- function(...) rule_of(review_items(with_first(...)))[["Q1"]]

test_that("each rule fires on what it is about, and gives the verdict of the table", {
  spread <- function(strong) {
    ifelse(strong, "A", sample(c("B", "C", "D"), length(strong), TRUE))
  }
  expect_equal(first_rule(100, function(x) ifelse(x > 0, "B", "A")), "key")
  # Those who know are misled, each in a way of his own.
  expect_equal(first_rule(200, function(x) spread(x < -0.3)), "reversed")
  one_of <- function(options, n, ...) sample(options, n, TRUE, ...)
  some_strong <- function(x) {
    ifelse(
      x > 0.8,
      one_of(c("A", "B"), 100),
      ifelse(x > -0.3, "A", one_of(c("C", "D"), 100))
    )
  }
  expect_equal(first_rule(100, some_strong), "pulls")
  expect_equal(
    first_rule(100, function(x) {
      ifelse(x > 0, "A", sample(c("B", "C"), 100, TRUE, c(1, 9)))
    }),
    "shared"
  )
  expect_equal(first_rule(100, function(x) spread(x > 1.2)), "guessed")
  few_right <- function(x) {
    ifelse(x > 1.2, "A", ifelse(x > -0.9, one_of(c("B", "C"), 100, c(3, 2)), "D"))
  }
  expect_equal(
    first_rule(100, few_right, settings = list(thresholds = list(least_shared = 0.9))),
    "hard"
  )
  expect_equal(first_rule(2000, function(x) spread(runif(2000) < 0.6), seed = 3), "weak")
  expect_equal(first_rule(100, function(x) rep("A", 100)), "mastered")
  expect_equal(first_rule(100, function(x) spread(x > 0)), "sound")
  expect_equal(first_rule(19, function(x) spread(x > 0)), "few")
  late <- with_first(60, function(x) spread(x > 0))
  responses <- data.frame(student = 1:60, matrix("A", 60, 8))
  responses[1:9, 7:9] <- NA
  unfinished <- sitting(
    responses,
    data.frame(item = names(responses)[-1], key = "A"),
    settings = list(thresholds = list(unfinished = 1))
  )
  expect_equal(
    unname(rule_of(review_items(unfinished))[c("X6", "X8")]),
    c("time", "time")
  )
  expect_equal(
    rule_of(review_items(adjust(late, "drop", item = "Q1")))[["Q1"]],
    "dropped"
  )
  table <- internal("review_rules")
  expect_true(all(table %in% internal("verdicts")))
  words <- internal("section_of")
  for (section in c("review_what", "review_do", "review_reasons")) {
    expect_setequal(names(words(section)), names(table))
  }
})

test_that("misspelt right answers are offered for accepting, from three students on", {
  answers <- c(rep("ebb tide", 20), rep("flood", 8), rep("eb tide", 3), "neap", "spring")
  quiz <- sitting(
    data.frame(
      student = seq_along(answers),
      Q1 = answers,
      Q2 = rep(c("a", "b", "a"), 11)
    ),
    data.frame(item = c("Q1", "Q2"), type = "text", key = c("ebb tide", "a"))
  )
  review <- subset(review_items(quiz), item == "Q1")
  expect_equal(review$rule, "near_miss")
  expect_match(review$what, "3 of 33 wrote \u201ceb tide\u201d")
  quiz$settings$thresholds$least_near_miss <- 0.2
  expect_false("near_miss" %in% review_items(quiz)$rule)
})

test_that(
  "for mastery, all right is good news, and what is not learnt is named by the cut",
  {
    mastered <- choice_sitting(matrix("A", 28, 12), settings = list(purpose = "mastery"))
    review <- review_items(mastered)
    expect_equal(unique(review$verdict), "mastered")
    expect_false(any(grepl("separate strong", review$do)))
    rank <- mastered
    rank$settings$purpose <- "rank"
    expect_true(all(grepl("separate strong", review_items(rank)$do)))
    misleading <- function(x) ifelse(x > 0.2, sample(c("B", "C", "D"), 200, TRUE), "A")
    reversed <- with_first(200, misleading, settings = list(purpose = "mastery"))
    first <- subset(review_items(reversed), item == "Q1")
    expect_equal(first$rule, "misleads")
    items <- subset(summarise_items(reversed), item == "Q1")
    expect_match(
      first$what,
      paste0(
        "earned ", internal("percent")(items$masters), " on it, the others ",
        internal("percent")(items$others)
      ),
      fixed = TRUE
    )
    expect_equal(items$mastery_index, items$masters - items$others)
    low <- with_first(80, function(x) {
      ifelse(runif(80) < 0.45, "A", sample(c("B", "C", "D"), 80, TRUE))
    }, settings = list(purpose = "mastery"))
    expect_equal(rule_of(review_items(low))[["Q1"]], "unlearnt")
    expect_refused(
      with_first(5, function(x) "A", settings = list(purpose = "exam")),
      "input",
      "purpose",
      "rank"
    )
  }
)

test_that(
  paste0(
    "change after teaching is told with its interval, and an item it did not reach is ",
    "looked at"
  ),
  {
    settings <- list(purpose = "mastery", mastery_cut = 0.3)
    before <- with_first(
      600,
      function(x) ifelse(seq_along(x) <= 300, "A", "B"),
      settings = settings
    )
    after <- with_first(600, function(x) {
      ifelse(seq_along(x) <= 310, "A", sample(c("B", "C", "D"), 600, TRUE))
    }, settings = settings)
    review <- review_items(after, before)
    first <- review[review$item == "Q1", ]
    expect_equal(first$change, 1 / 60)
    # Newcombe 1998, method 10, by hand from the Wilson bounds.
    wilson <- internal("wilson_interval")
    a <- wilson(31 / 60, 600)
    b <- wilson(0.5, 600)
    expect_equal(first$change_low, 1 / 60 - sqrt((31 / 60 - a$low)^2 + (b$high - 0.5)^2))
    expect_equal(first$change_high, 1 / 60 + sqrt((a$high - 31 / 60)^2 + (0.5 - b$low)^2))
    expect_equal(first$rule, "unchanged")
    expect_match(first$what, "50% of its points were earned before teaching, 52% after")
    other <- choice_sitting(cbind(c("A", "B")))
    names(other$codes) <- NULL
    other$items$item <- "other"
    expect_refused(review_items(after, other), "call", "none of these items")
  }
)

test_that("Newcombe's interval of a difference gives the figures printed for it", {
  # Newcombe 1998, Statistics in Medicine 17, 873-890, table II, method 10: 56/70 and
  # 48/80; 9/10 and 3/10.
  found <- function(a, n, b, m) {
    w <- internal("wilson_interval")
    row <- function(x, n) {
      at <- w(x / n, n)
      data.frame(
        item = "Q",
        difficulty = x / n,
        difficulty_low = at$low,
        difficulty_high = at$high
      )
    }
    change <- internal("with_change")(row(a, n), row(b, m))
    round(c(change$change_low, change$change_high), 4)
  }
  expect_equal(found(56, 70, 48, 80), c(0.0524, 0.3339))
  expect_equal(found(9, 10, 3, 10), c(0.1705, 0.8090))
})

test_that(
  "of 800 sound items at most 1 in 200 is called wrong, and few are to be looked at",
  {
    review <- do.call(
      rbind,
      lapply(1:40, function(seed) {
        as.data.frame(review_items(random_sitting(n = 60, k = 20, seed = 300 + seed)))[
          c("verdict", "rule")
        ]
      })
    )
    expect_lte(sum(review$verdict %in% c("check_key", "drop_or_rewrite")), 4)
    expect_lte(mean(review$rule %in% c("pulls", "shared", "weak", "near_miss", "time")), 0.05)
  }
)

test_that(
  paste0(
    "the pattern of 60 wrong answers is told right in 9 of 10 planted cases, with 3 or ",
    "4 wrong options"
  ),
  {
    set.seed(6)
    pattern <- function(count) {
      internal("wrong_patterns")(count, rep(1L, length(count)), 1L)
    }
    told <- function(n, p) {
      planted <- if (p[1] > p[2]) "shared" else "spread"
      mean(replicate(300, pattern(as.vector(stats::rmultinom(1, n, p)))) == planted)
    }
    expect_gte(told(60, c(0.6, 0.2, 0.2)), 0.9)
    expect_gte(told(60, c(1, 1, 1) / 3), 0.9)
    expect_gte(told(60, c(0.64, 0.12, 0.12, 0.12)), 0.9)
    expect_gte(told(60, rep(0.25, 4)), 0.9)
    expect_equal(pattern(c(5, 1, 1)), "too_few")
  }
)

test_that("keys in doubt are ranked, with what a change would do", {
  quiz <- read_sitting(demo_path())
  keys <- review_key(quiz)
  expect_equal(
    unlist(keys[1, c("item", "key", "rival", "doubt")], use.names = FALSE),
    c("Q7", "B", "C", "clear")
  )
  expect_equal(sum(keys$doubt == "clear"), 1)
  expect_true(
    all(keys$rival_rest > pmax(0, keys$key_rest) | keys$rival_upper > keys$key_upper)
  )
  changed <- adjust(quiz, "key", item = "Q7", value = "C")
  after <- summarise_test(changed)
  expect_equal(keys$mean_after[1], after$mean_share)
  expect_equal(keys$alpha_after[1], after$alpha)
  expect_equal(
    keys$discrimination_after[1],
    subset(summarise_items(changed), item == "Q7")$discrimination
  )
  moved <- summarise_students(changed)$share - summarise_students(quiz)$share
  expect_equal(
    c(keys$rise[1], keys$fall[1]),
    c(sum(moved > 1e-9, na.rm = TRUE), sum(moved < -1e-9, na.rm = TRUE))
  )
  expect_equal(nrow(review_key(changed)[review_key(changed)$item == "Q7", ]), 0)
  set.seed(1)
  none <- review_key(
    sitting(data.frame(student = 1:9, Q1 = 1), data.frame(item = "Q1", type = "mark"))
  )
  expect_equal(nrow(none), 0)
  expect_true(all(names(keys) %in% names(none)))
})

test_that("the upper group's share of each option is that of the upper-lower index", {
  quiz <- random_sitting(n = 70, k = 8, seed = 5)
  tally <- tally_responses(quiz)
  options <- summarise_options(quiz)
  upper <- internal("upper_shares")(tally, options)
  total <- summarise_students(quiz)$points
  weight <- internal("outer_weights")(tally$bins, 0.27, TRUE)[
    match(total, tally$bins$earned)
  ]
  answers <- internal("shown_cells")(quiz)
  row <- which(options$item == "Q3" & options$option == "B")
  expect_equal(upper[row], sum(weight * (answers[, 3] == "B")) / sum(weight))
})

test_that(
  "the glossary explains every figure of the summaries, and knows it by its column",
  {
    quiz <- read_sitting(demo_path())
    figures <- c(
      names(summarise_items(quiz)), names(summarise_test(quiz, by = "boat"))[-1],
      names(summarise_decisions(quiz)), names(summarise_parts(quiz))
    )
    plain <- c(
      "item", "type", "n", "points", "reason", "absent", "items", "lowest", "highest",
      "n_complete", "hard", "middling", "easy", "decision", "cut", "cut_points", "passed",
      "pass_share", "effective_length", "reliability", "part", "title", "share",
      "difficulty_band", "discrimination_band", "lower_quartile", "upper_quartile",
      "skewness", "mean_seconds", "masters", "others", names(quiz$settings$levels)
    )
    for (figure in setdiff(figures, plain)) {
      expect_true(nzchar(glossary(figure)$meaning), label = figure)
    }
    expect_true(all(nchar(glossary()$short) <= 130))
    expect_equal(anyDuplicated(glossary()$term), 0)
    expect_refused(glossary("alhpa"), "call", "Did you mean \"alpha\"?")
  }
)

test_that("braces in what a student typed stay as they are", {
  said <- internal("say_with")(
    "review_talk.chosen",
    list(shown = "{n} and {all}", count = 3, chose = "chose")
  )
  expect_match(said, "take up {n} and {all}: 3 chose it", fixed = TRUE)
})
