# Made-up tests on which nothing is to be found, and one thing at a time that is, to count
# how often a claim is made. bench/accuracy.R uses them as well, with more of each.

claim_items <- 20
claim_easiness <- seq(-1.6, 2, length.out = claim_items)
claim_slopes <- rep(c(0.8, 1.2, 1.6, 1), length.out = claim_items)

# Chosen options of students: 1 is the key, of the others each has its share of the wrong
# answers. slope: of each item on ability.
made_up_answers <- function(ability, tempting = c(1, 1, 1), easy = claim_easiness,
                            slope = claim_slopes) {
  n <- length(ability)
  k <- length(easy)
  right <- runif(n * k) < plogis(outer(ability, slope) + rep(easy, each = n))
  answers <- 1L + sample(seq_along(tempting), n * k, TRUE, tempting)
  matrix(ifelse(right, 1L, answers), n)
}

# A sitting whose answers can be exchanged without the cost of reading one each time.
# coded: the items whose option B stands for one idea.
claim_shell <- function(k = claim_items, coded = integer(), settings = list()) {
  items <- paste0("Q", seq_len(k))
  answers <- matrix(LETTERS[1:4], 4, k, dimnames = list(NULL, items))
  options <- data.frame(
    item = rep(items, each = 4),
    option = rep(LETTERS[1:4], k),
    misconception = NA
  )
  options$misconception[options$option == "B" & options$item %in% items[coded]] <- "M1"
  getExportedValue("pregunta", "sitting")(
    data.frame(student = paste0("s", 1:4), answers),
    data.frame(item = items, key = "A"),
    options,
    settings = settings
  )
}

answered <- function(shell, answers, ...) {
  shell$codes <- matrix(
    answers + 4L,
    nrow(answers),
    dimnames = list(NULL, shell$items$item)
  )
  shell$students <- data.frame(
    student = as.character(seq_len(nrow(answers))),
    name = NA,
    section = NA,
    status = "sat",
    ...
  )
  shell$source$row <- seq_len(nrow(answers))
  shell
}

# Each claim: `most`, the rate of false alarm it may have; `alarm`, whether it is made of
# a made-up test on which it is false.
false_claims <- function() {
  shell <- claim_shell()
  mastery <- claim_shell(settings = list(purpose = "mastery"))
  coded <- claim_shell(coded = c(4, 9, 14, 18))
  all_coded <- claim_shell(coded = seq_len(claim_items))
  rules <- function(quiz, rule, ...) rule %in% review_items(quiz, ...)$rule
  nothing_in_common <- function() {
    answered(shell, matrix(sample(1:4, 80 * claim_items, TRUE), 80))
  }
  unrelated <- function(quiz, n) {
    answers <- made_up_answers(rnorm(n))
    answers[, 10] <- sample(1:4, n, TRUE, c(3, 2, 1, 1))
    review <- review_items(answered(quiz, answers))
    review$verdict[review$item == "Q10"] == "drop_or_rewrite"
  }
  two_groups <- function(k, n) {
    function() {
      easy <- seq(-1.6, 2, length.out = k)
      answers <- made_up_answers(rnorm(n), easy = easy, slope = rep(1, k))
      summarise_test(answered(claim_shell(k), answers))$humps %in% 2
    }
  }
  list(
    `two groups, 5 items, 80 students` = list(most = 0.05, alarm = two_groups(5, 80)),
    `two groups, 20 items, 30 students` = list(most = 0.05, alarm = two_groups(20, 30)),
    `drop an unrelated item, 300 students` = list(
      most = 0.05,
      alarm = function() unrelated(shell, 300)
    ),
    `drop an unrelated item of a mastery test, 300 students` = list(
      most = 0.05,
      alarm = function() unrelated(mastery, 300)
    ),
    `another key, 30 students` = list(
      most = 0.01,
      alarm = function() rules(answered(shell, made_up_answers(rnorm(30))), "key")
    ),
    `another key, uneven options, 15 students` = list(
      most = 0.01,
      alarm = function() {
        rules(answered(shell, made_up_answers(rnorm(15), c(6, 2, 1))), "key")
      }
    ),
    `one idea, options alike, 30 students` = list(
      most = 0.05,
      alarm = function() {
        any(c("idea", "shared") %in% review_items(
          answered(all_coded, made_up_answers(rnorm(30)))
        )$rule)
      }
    ),
    `one idea, options 3:2:1 without a code, 30 students` = list(
      most = 0.05,
      alarm = function() {
        review <- review_items(answered(shell, made_up_answers(rnorm(30), 3:1)))
        any(grepl("share one wrong idea", review$do))
      }
    ),
    `a wrong answer draws the strong, 80 students` = list(
      most = 0.05,
      alarm = function() rules(nothing_in_common(), "pulls")
    ),
    `sound, of items that have nothing in common, 80 students` = list(
      most = 0.05,
      alarm = function() rules(nothing_in_common(), "sound")
    ),
    `weak, of items just at the bound, 100 students` = list(
      most = 0.05,
      alarm = function() {
        easy <- rep(0, claim_items)
        answers <- made_up_answers(rnorm(100), easy = easy, slope = rep(0.75, claim_items))
        rules(answered(shell, answers), "weak")
      }
    ),
    `not learnt, of items just at the aim, 60 students` = list(
      most = 0.05,
      alarm = function() {
        easy <- rep(qlogis(0.7), claim_items)
        answers <- made_up_answers(rep(0, 60), easy = easy)
        rules(answered(mastery, answers), "unlearnt")
      }
    ),
    `hardly gained, where .10 was gained on each, 60 students` = list(
      most = 0.05,
      alarm = function() {
        at <- function(share) {
          easy <- rep(qlogis(share), claim_items)
          answered(mastery, made_up_answers(rep(0, 60), easy = easy))
        }
        rules(at(0.6), "unchanged", before = at(0.5))
      }
    ),
    `mastered, of items that one in five misses, 60 students` = list(
      most = 0.05,
      alarm = function() {
        easy <- rep(qlogis(0.8), claim_items)
        answers <- made_up_answers(rep(0, 60), easy = easy)
        rules(answered(mastery, answers), "mastered")
      }
    ),
    `likely held, weak students and a tempting option` = list(
      most = 0.05,
      share = function() {
        ability <- rnorm(40)
        quiz <- answered(coded, made_up_answers(ability, c(5, 1, 1)))
        held <- summarise_misconceptions(quiz, by = "student")
        weak <- order(ability)[1:13]
        mean(held$status[match(weak, held$student)] %in% "likely")
      }
    ),
    `wrong answers that go together, 80 students` = list(
      most = 0.06,
      alarm = function() {
        nrow(suggest_misconceptions(answered(shell, made_up_answers(rnorm(80))))) > 0
      }
    ),
    `unfair to a group, 300 students` = list(
      most = 0.05,
      alarm = function() {
        quiz <- answered(
          shell,
          made_up_answers(rnorm(300)),
          group = rep(c("one", "two"), 150)
        )
        said <- getFromNamespace("say_fairness", "pregunta")
        any(grepl("Beyond chance", said(summarise_fairness(quiz, by = "group"))))
      }
    ),
    `a group stands apart, 90 students` = list(
      most = 0.05,
      alarm = function() {
        quiz <- answered(
          shell,
          made_up_answers(rnorm(90)),
          group = rep(c("one", "two", "three"), 30)
        )
        any(summarise_test(quiz, by = "group")$beyond_chance)
      }
    )
  )
}

# The share of made-up tests on which the claim is made, or of students.
alarm_rate <- function(claim, runs, each = lapply) {
  made <- if (is.null(claim$share)) claim$alarm else claim$share
  mean(unlist(each(seq_len(runs), function(run) as.numeric(made()))))
}
