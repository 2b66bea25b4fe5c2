coded_quiz <- function(answers,
                       code = list(Q1 = c(B = "M"), Q2 = c(C = "M", B = "N"), Q3 = c(B = "M")),
                       ...) {
  k <- ncol(answers)
  options <- data.frame(
    item = rep(paste0("Q", seq_len(k)), each = 4),
    option = rep(c("A", "B", "C", "D"), k)
  )
  options$misconception <- mapply(function(item, option) {
    if (option %in% names(code[[item]])) code[[item]][[option]] else NA
  }, options$item, options$option)
  choice_sitting(answers, options = options, ...)
}

test_that(
  paste0(
    "a misconception is likely held when chosen twice, in half of the chances and more ",
    "often than chance, as the statistics page says"
  ),
  {
    answers <- rbind(
      c("B", "C", "B", "A"),
      c("B", "C", "A", "A"),
      c("B", "A", "A", "A"),
      c("A", "A", "A", "A"),
      c("B", "", "", "A"),
      c("", "", "", "A"),
      c("B", "B", "B", "A")
    )
    quiz <- coded_quiz(
      answers,
      misconceptions = data.frame(code = c("N", "M"), description = c("new", "more"))
    )
    held <- summarise_misconceptions(quiz, by = "student")
    mine <- subset(as.data.frame(held), code == "M")
    expect_equal(mine$chances, c(3, 3, 3, 3, 1, 0, 3))
    expect_equal(mine$chosen, c(3, 2, 1, 0, 1, 0, 2))
    # Where most chose most of them, nobody did so more often than the others.
    expect_equal(
      mine$status,
      c(
        "now_and_then", "now_and_then", "once", "never", "once", NA,
        "now_and_then"
      )
    )
    expect_true(all(mine$by_chance[mine$chosen >= 2] > 0.05, na.rm = TRUE))
    expect_equal(is.na(mine$by_chance), mine$chances == 0)
    expect_equal(
      mine$answers[c(1, 2, 6, 7)],
      c("Q1: B; Q2: C; Q3: B", "Q1: B; Q2: C", "", "Q1: B; Q3: B")
    )
    class <- summarise_misconceptions(quiz)
    expect_equal(class$code, c("N", "M"))
    expect_equal(
      unlist(
        class[2, c("n", "likely", "now_and_then", "once", "never", "chosen", "chances")]
      ),
      c(
        n = 6,
        likely = 0,
        now_and_then = 3,
        once = 2,
        never = 1,
        chosen = 9,
        chances = 16
      )
    )
    expect_equal(class$items, c("Q2", "Q1;Q2;Q3"))
    # Twice of five is too few; twice of four and thrice of five are not, among many who
    # never chose it.
    rows <- rbind(
      c("B", "B", "A", "A", "A"),
      c("B", "B", "A", "A", ""),
      c("B", "B", "B", "A", "A"),
      matrix("A", 60, 5)
    )
    many <- coded_quiz(rows, setNames(rep(list(c(B = "M")), 5), paste0("Q", 1:5)))
    expect_equal(
      summarise_misconceptions(many, by = "student")$status[1:3],
      c("now_and_then", "likely", "likely")
    )
  }
)

test_that("what chance brings is a sum of independent choices, each at its own rate", {
  chance <- rbind(c(0.2, 0.2, 0.2), c(0.1, 0.5, 0), c(1, 0.3, 0.3))
  expect_equal(
    internal("number_of_events")(chance),
    rbind(
      stats::dbinom(0:3, 3, 0.2),
      c(0.9 * 0.5, 0.1 * 0.5 + 0.9 * 0.5, 0.1 * 0.5, 0),
      c(0, stats::dbinom(0:2, 2, 0.3))
    )
  )
  expect_equal(
    internal("at_least")(c(2, 0, 3), chance),
    c(stats::pbinom(1, 3, 0.2, lower.tail = FALSE), 1, 0.09)
  )
  # With so much data that the prior is nothing, the rates are R's own logistic regression.
  set.seed(31)
  z <- rnorm(4000)
  chose <- matrix(runif(8000) < plogis(-1 + 0.4 * z), 4000)
  seen <- list(chose = chose, answered = !is.na(chose), z = z)
  item <- factor(rep(1:2, each = 4000))
  fit <- stats::glm(as.vector(chose) ~ 0 + item + rep(z, 2), stats::binomial())
  expect_equal(internal("chance_rates")(seen), unname(coef(fit)), tolerance = 0.01)
})

test_that(
  paste0(
    "groups add up to the class, small ones are withheld, absent students and dropped ",
    "items are no evidence"
  ),
  {
    quiz <- read_sitting(demo_path())
    class <- summarise_misconceptions(quiz)
    sections <- summarise_misconceptions(quiz, by = "section")
    for (column in c(
      "n", "likely", "now_and_then", "once", "never", "chosen", "chances"
    )) {
      expect_equal(
        as.vector(rowsum(sections[[column]], match(sections$code, class$code))),
        class[[column]],
        label = column
      )
    }
    expect_equal(class$likely + class$now_and_then + class$once + class$never, class$n)
    held <- summarise_misconceptions(quiz, by = "student")
    expect_equal(
      as.vector(table(factor(held$code[held$status %in% "likely"], class$code))),
      class$likely
    )
    absent <- quiz$students$student[quiz$students$status == "absent"]
    expect_false(any(held$student %in% absent))
    dropped <- adjust(quiz, "drop", item = "Q9")
    expect_false(any(grepl("Q9", summarise_misconceptions(dropped)$items)))
    right <- adjust(quiz, "key", item = "Q3", value = "A")
    expect_false("SEASON" %in% summarise_misconceptions(right)$code)
    small <- sitting(
      data.frame(student = letters[1:7], Q1 = "B", Q2 = "C"),
      data.frame(item = c("Q1", "Q2"), key = "A"),
      data.frame(
        item = rep(c("Q1", "Q2"), each = 3),
        option = rep(c("A", "B", "C"), 2),
        misconception = c(NA, "M", NA, NA, NA, "M")
      ),
      data.frame(student = letters[1:7], boat = c("x", "x", "y", "y", "y", "y", "y")),
      settings = list(smallest_group = 3)
    )
    expect_true(all(is.na(summarise_misconceptions(small, by = "boat")$likely)))
    expect_equal(nrow(summarise_misconceptions(choice_sitting(cbind(c("A", "B"))))), 0)
    expect_equal(
      nrow(summarise_misconceptions(choice_sitting(cbind(c("A", "B"))), by = "student")),
      0
    )
  }
)

test_that(
  "wrong answers that go together are tested as Mantel and Haenszel do, within thirds",
  {
    set.seed(4)
    n <- 240
    idea <- runif(n) < 0.25
    pick <- function(p) ifelse(runif(n) < p, "A", sample(c("B", "C", "D"), n, TRUE))
    answers <- vapply(1:8, function(j) pick(0.6), character(n))
    answers[idea & runif(n) < 0.8, 2] <- "C"
    answers[idea & runif(n) < 0.8, 5] <- "D"
    quiz <- choice_sitting(answers)
    pairs <- suggest_misconceptions(quiz)
    expect_equal(
      unlist(
        pairs[1, c("item", "option", "with_item", "with_option")],
        use.names = FALSE
      ),
      c("Q2", "C", "Q5", "D")
    )
    expect_equal(attr(pairs, "tested"), 8 * 7 / 2 * 9)
    third <- internal("score_thirds")(quiz)
    cross <- table(answers[, 2] == "C", answers[, 5] == "D", third)
    theirs <- stats::mantelhaen.test(cross, alternative = "greater")
    expect_equal(pairs$p[1], theirs$p.value)
    expect_equal(pairs$odds_ratio[1], unname(theirs$estimate))
    expect_equal(pairs$both[1], sum(answers[, 2] == "C" & answers[, 5] == "D"))
    expect_equal(suggest_misconceptions(choice_sitting(answers[sample(n), ]))$p, pairs$p)
    expect_equal(nrow(suggest_misconceptions(choice_sitting(answers[1:19, ]))), 0)
  }
)

test_that("the idea that the demo's coded options do not name is found, alone", {
  pairs <- suggest_misconceptions(read_sitting(demo_path()))
  expect_equal(
    unlist(pairs[c("item", "option", "with_item", "with_option")], use.names = FALSE),
    c("Q5", "C", "Q6", "C")
  )
  shown <- run_here("misconceptions", demo_path(), "--uncoded")$out
  expect_match(shown, "^Q5 C It runs out to sea +Q6 C Rivers +13 ", all = FALSE)
})

test_that("independent wrong answers are hardly ever said to go together", {
  found <- vapply(1:40, function(seed) {
    nrow(suggest_misconceptions(random_sitting(n = 80, k = 10, seed = seed)))
  }, 0L)
  expect_lte(mean(found > 0), 0.05 + 2 * sqrt(0.05 * 0.95 / 40))
})

test_that(
  paste0(
    "guessing is told by the exact chance of as many right, and one idea by where the ",
    "wrong answers fall"
  ),
  {
    tail <- internal("trial_tail")
    tried <- matrix(TRUE, 1, 12)
    expect_equal(tail(tried, rep(0.25, 12), 5), pbinom(4, 12, 0.25, lower.tail = FALSE))
    expect_equal(tail(tried, rep(c(0.2, 0.5), 6), 0), 1)
    by_hand <- 1 - 0.8 * 0.5 * 0.75
    expect_equal(
      tail(matrix(c(TRUE, TRUE, TRUE, FALSE), 1), c(0.2, 0.5, 0.25, 0.9), 1),
      by_hand
    )
    k <- 16
    options <- data.frame(
      item = rep(paste0("Q", 1:k), each = 4),
      option = c("A", "B", "C", "D"),
      misconception = c(NA, "M", NA, NA)
    )
    quiz <- choice_sitting(
      rbind(
        rep("A", k),
        rep(c("A", "B", "C", "D"), 4),
        rep(c("A", "B"), 8),
        c("A", "B", rep("", k - 2))
      ),
      options = options
    )
    guessing <- summarise_guessing(quiz)
    expect_equal(
      guessing$reads_as,
      c(
        "better_than_guessing", "could_be_guessing", "one_direction",
        "too_few"
      )
    )
    expect_equal(guessing$expected, c(4, 4, 4, 0.5))
    expect_equal(guessing$coded_expected[3], 8 / 3)
    expect_equal(guessing$p_guess[2], pbinom(3, 16, 0.25, lower.tail = FALSE))
    expect_true(is.na(guessing$p_coded[1]))
    alone <- summarise_guessing(choice_sitting(cbind(c("A", "B"))))
    expect_equal(alone$n, c(0, 0))
  }
)

test_that(
  "pictures show a bar an idea and group, and a tile a student who chose an idea twice",
  {
    quiz <- read_sitting(demo_path())
    bars <- ggplot2::ggplot_build(
      ggplot2::autoplot(summarise_misconceptions(quiz))
    )$data[[
      1
    ]]
    expect_equal(
      unname(tapply(bars$xmax - bars$xmin, bars$PANEL, sum)),
      rep(1, 4),
      ignore_attr = TRUE
    )
    sections <- ggplot2::ggplot_build(
      ggplot2::autoplot(summarise_misconceptions(quiz, by = "section"))
    )$data
    pale <- sections[[2]]$colour == internal("ink")[["paper"]]
    expect_equal(
      sections[[1]]$fill[pale],
      rep(internal("held_colours")[["likely"]], sum(pale))
    ) # readable on its bar
    held <- summarise_misconceptions(quiz, by = "student")
    picture <- ggplot2::autoplot(held)
    twice <- unique(held$student[held$status %in% c("likely", "now_and_then")])
    expect_equal(
      length(unique(ggplot2::ggplot_build(picture)$data[[1]]$y)),
      length(twice)
    )
    expect_match(
      gsub("\n", " ", picture$labels$title),
      paste0(
        "^", sum(tapply(held$status == "likely", held$student, any, na.rm = TRUE)),
        " students likely hold a misconception, "
      )
    )
    drawn <- tempfile(fileext = ".svg")
    internal("write_picture")(ggplot2::autoplot(held, names = FALSE), drawn)
    expect_false(any(grepl("Heli Reefknot", readLines(drawn, warn = FALSE))))
    once <- summarise_misconceptions(
      coded_quiz(cbind(c("B", "A"), "A", "A")),
      by = "student"
    )
    expect_equal(once$answers[once$chosen == 0], rep("", sum(once$chosen == 0)))
    expect_output(
      print(once),
      "Nobody chose the answers of one idea twice.",
      fixed = TRUE
    )
    expect_refused(
      ggplot2::autoplot(once),
      "call",
      "Nobody chose the answers of one idea twice."
    )
    expect_refused(
      ggplot2::autoplot(summarise_misconceptions(choice_sitting(cbind("A")))),
      "call",
      "carries a misconception"
    )
  }
)
