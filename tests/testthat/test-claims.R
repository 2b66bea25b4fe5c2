# What is said in words is false in at most as many cases as it may be. The rates of
# vignette("accuracy") come from many more runs of the same; with these few a claim that
# is made three times too often shows.

test_that("no claim is made more often than it may be where nothing is to be found", {
  only_in_all()
  set.seed(19)
  runs <- 20
  claims <- false_claims()
  for (claim in names(claims)) {
    most <- claims[[claim]]$most
    allowed <- stats::qbinom(0.9995, runs, most) / runs
    expect_lte(alarm_rate(claims[[claim]], runs), allowed, label = claim)
  }
})

test_that("what is there is found", {
  set.seed(20)
  found <- function(code, runs = 12) mean(replicate(runs, code()))
  shell <- claim_shell()
  wrong_key <- function(n) {
    function() {
      answers <- made_up_answers(rnorm(n), c(2, 1, 1))
      # What was the key is an option, and the most tempting option the key.
      answers[, 10] <- c(2L, 1L, 3L, 4L)[answers[, 10]]
      review <- review_items(answered(shell, answers))
      review$verdict[review$item == "Q10"] == "check_key"
    }
  }
  expect_gte(found(wrong_key(100)), 0.8)
  reversed <- function() {
    slope <- replace(claim_slopes, 10, -1)
    answers <- made_up_answers(rnorm(150), easy = replace(claim_easiness, 10, 0), slope = slope)
    review <- review_items(answered(shell, answers))
    review$verdict[review$item == "Q10"] %in% c("drop_or_rewrite", "check_key")
  }
  expect_gte(found(reversed), 0.8)
  two_groups <- function() {
    ability <- c(rnorm(50, -2, 0.4), rnorm(50, 1.5, 0.4))
    summarise_test(answered(shell, made_up_answers(ability)))$humps %in% 2
  }
  expect_gte(found(two_groups), 0.9)
  coded <- claim_shell(coded = c(4, 9, 14, 18))
  holders <- function() {
    answers <- made_up_answers(rnorm(60))
    for (item in c(4, 9, 14, 18)) answers[1:15, item] <- 2L
    held <- summarise_misconceptions(answered(coded, answers), by = "student")
    mean(held$status[1:15] == "likely")
  }
  expect_gte(found(holders), 0.9)
  piled <- function() {
    answers <- made_up_answers(rnorm(60), c(8, 1, 1), easy = rep(-0.5, claim_items))
    any(review_items(answered(claim_shell(coded = 1:20), answers))$rule == "idea")
  }
  expect_gte(found(piled), 0.9)
})

test_that("two coded answers are never offered as new; one is, with its code", {
  set.seed(21)
  quiz <- claim_shell(coded = c(4, 9, 14))
  answers <- made_up_answers(rnorm(120))
  together <- runif(120) < 0.3
  for (item in c(4, 9, 14, 18)) answers[together, item] <- 2L
  pairs <- suggest_misconceptions(answered(quiz, answers))
  code_of <- function(item, option) item %in% c("Q4", "Q9", "Q14") & option == "B"
  both <- code_of(pairs$item, pairs$option) & code_of(pairs$with_item, pairs$with_option)
  expect_false(any(both))
})

test_that("every rule of the verdicts is a claim that is counted above, or tells a fact", {
  counted <- c(
    "key", "reversed", "misleads", "pulls", "idea", "shared", "unchanged", "unlearnt",
    "weak", "mastered", "sound"
  )
  facts <- c(
    "dropped", "guessed", "hard", "near_miss", "waiting", "time", "waits", "nobody", "few",
    "middling", "taught"
  )
  expect_setequal(names(internal("review_rules")), c(counted, facts))
  code <- paste(deparse(body(false_claims)), collapse = " ")
  verdicts <- c("drop_or_rewrite") # of reversed and misleads
  named <- setdiff(counted, c("reversed", "misleads"))
  for (rule in c(named, verdicts)) expect_match(code, paste0("\"", rule, "\""), fixed = TRUE)
})
