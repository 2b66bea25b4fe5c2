# The largest sum of needs met, by trying everything.
best_by_trying <- function(need, size, least, groups) {
  choices <- do.call(expand.grid, rep(list(0:ncol(need)), nrow(need)))
  value <- apply(choices, 1, function(topic) {
    topic <- unlist(topic)
    counts <- tabulate(topic, ncol(need))
    parts <- ceiling(counts / size)
    fits <- all(counts == 0 | counts >= least * parts) && sum(parts) <= groups
    met <- need[cbind(which(topic > 0), topic[topic > 0])]
    if (!fits || any(met <= 0)) -1 else sum(met)
  })
  max(value)
}

test_that("groups by need meet as much as any groups of such sizes could", {
  set.seed(12)
  for (run in 1:15) {
    n <- sample(4:5, 1)
    need <- matrix(ifelse(runif(n * 3) < 0.7, round(runif(n * 3), 2), 0), n)
    size <- sample(2:3, 1)
    least <- sample(1:2, 1)
    groups <- sample(1:3, 1)
    made <- internal("assign_to_topics")(need, size, least, groups)
    at <- which(!is.na(made$topic))
    met <- sum(need[cbind(at, made$topic[at])])
    expect_equal(
      met,
      max(0, best_by_trying(need, size, least, groups)),
      label = paste("run", run)
    )
    expect_true(all(need[cbind(at, made$topic[at])] > 0))
    sizes <- table(made$group)
    expect_true(all(sizes <= size & sizes >= least))
    expect_lte(length(sizes), groups)
  }
})

test_that(
  paste0(
    "every student present is in the list once, whatever the basis, and absent ones are ",
    "not"
  ),
  {
    quiz <- read_sitting(demo_path())
    present <- quiz$students$student[!quiz$students$status %in% c("absent", "excused")]
    for (basis in c("need", "score", "mixed")) {
      made <- group_students(quiz, basis)
      expect_setequal(made$student, present)
      expect_equal(anyDuplicated(made$student), 0)
      learners <- made[!is.na(made$group) & made$role == "learns", ]
      expect_true(all(table(learners$section, learners$group) <= 6))
      expect_true(all(nzchar(made$because)))
      expect_identical(as.data.frame(made), as.data.frame(group_students(quiz, basis)))
    }
  }
)

test_that(
  paste0(
    "nobody works on what they can do, helpers reach the cut on what they help with, ",
    "and the reason is true"
  ),
  {
    quiz <- read_sitting(demo_path())
    made <- group_students(quiz)
    scores <- summarise_standards(quiz, by = "student")
    held <- summarise_misconceptions(quiz, by = "student")
    for (row in which(made$role %in% c("learns", "helps"))) {
      mine <- scores[
        scores$student == made$student[row] & scores$code %in% made$topic[row],
      ]
      if (!nrow(mine)) {
        idea <- held[held$student == made$student[row] & held$code == made$topic[row], ]
        expect_equal(idea$status == "likely", made$role[row] == "learns")
        next
      }
      expect_equal(
        mine$share >= 0.7 - 1e-9,
        made$role[row] == "helps",
        label = made$student[row]
      )
      expect_match(
        made$because[row],
        paste0("^", mine$earned, " of ", mine$open, " points on ", mine$code)
      )
    }
    ready <- made$student[made$role %in% c("ready_for_more", "helps")]
    expect_gt(length(ready), 0)
    lowest <- tapply(
      scores$share[!scores$code %in% quiz$standards$parent],
      scores$student[!scores$code %in% quiz$standards$parent],
      min,
      na.rm = TRUE
    )
    expect_true(all(lowest[ready] >= 0.7 - 1e-9))
    helps <- made[made$role == "helps", ]
    expect_equal(anyDuplicated(paste(helps$section, helps$group)), 0)
  }
)

test_that("what is said of a misconception is what was chosen", {
  about <- data.frame(code = "M", title = "it is so", kind = "misconception")
  needs <- list(
    about = about,
    earned = cbind(c(1, 4, 5)),
    open = cbind(c(5, 5, 5)),
    cut = 0.7
  )
  said <- internal("say_needs")(needs, 1:3, c(1, 1, 1), c("learns", "helps", "helps"))
  expect_equal(
    said,
    c(
      "chose \u201cit is so\u201d 4 of 5 times",
      "chose \u201cit is so\u201d 1 of 5 times: could explain it",
      "never chose \u201cit is so\u201d: could explain it"
    )
  )
})

test_that("the need of a standard is the expected shortfall below the cut", {
  shortfall <- function(share, trials, cut) {
    expected_shortfall(jeffreys_shape(share, trials), cut)
  }
  by_hand <- stats::integrate(
    function(p) pmax(0, 0.7 - p) * stats::dbeta(p, 1.5, 3.5),
    0,
    0.7
  )$value
  expect_equal(shortfall(1 / 4, 4, 0.7), by_hand, tolerance = 1e-6)
  expect_gt(shortfall(0, 4, 0.7), shortfall(0, 1, 0.7)) # more evidence, more need
  expect_gt(shortfall(1 / 4, 4, 0.7), shortfall(2 / 4, 4, 0.7))
})

test_that(
  paste0(
    "groups by score are near equal or as cut, mixed ones have one helper each and a ",
    "like mean"
  ),
  {
    quiz <- random_sitting(n = 29, k = 10)
    score <- group_students(quiz, "score", groups = 4)
    expect_setequal(as.vector(table(score$group)), c(7, 8))
    expect_true(all(diff(tapply(score$share, score$group, min)) >= 0))
    by_cut <- group_students(quiz, "score", cut = c(0.4, 0.8))
    expect_equal(
      as.vector(tapply(by_cut$share, by_cut$group, max)[1:2] < c(0.4, 0.8)),
      c(TRUE, TRUE)
    )
    mixed <- group_students(quiz, "mixed", size = 5)
    expect_true(all(table(mixed$group) <= 5))
    expect_equal(as.vector(table(mixed$group[mixed$role == "helps"])), rep(1, 6))
    expect_lt(
      stats::sd(tapply(mixed$share, mixed$group, mean)),
      stats::sd(mixed$share) / 3
    )
  }
)

test_that("what cannot be grouped is refused or comes smaller", {
  quiz <- random_sitting(n = 8, k = 4)
  expect_refused(group_students(quiz, "neeed"), "call", "Did you mean \"need\"?")
  expect_refused(group_students(quiz, "mixed", size = 1), "call", "at least 2 places")
  expect_refused(group_students(quiz, "score", size = 3, least = 4), "call", "4 to 3")
  expect_refused(
    group_students(quiz, "score", cut = 70),
    "call",
    "shares between 0 and 1"
  )
  expect_refused(group_students(quiz, "score", by = "boat"), "call", "no column \"boat\"")
  all_right <- sitting(
    data.frame(student = c("a", "b"), Q1 = "A"),
    data.frame(item = "Q1", key = "A", standards = "S"),
    standards = data.frame(code = "S", title = "One")
  )
  expect_equal(group_students(all_right)$role, rep("ready_for_more", 2))
  one <- sitting(
    data.frame(student = c("a", "b"), Q1 = c("A", "B")),
    data.frame(item = "Q1", key = "A", standards = "S"),
    standards = data.frame(code = "S", title = "One")
  )
  expect_equal(group_students(one)$role, c("on_their_own", "ready_for_more"))
})

test_that("who is moved stays there with what was reckoned beside it, until it is undone", {
  quiz <- read_sitting(demo_path())
  first <- as.data.frame(group_students(quiz))
  learner <- first[first$role == "learns" & first$group == 1, ][1, ]
  helper <- first[first$role == "helps", ][1, ]
  elsewhere <- if (helper$group == 1) 2 else 1
  here <- first[first$section == learner$section, ]
  second <- here$topic[which(here$group == 2)[1]]
  moved <- adjust(
    quiz, "group",
    student = c(learner$student, helper$student),
    value = c("2", elsewhere),
    reason = c("works well with the others", NA)
  )
  groups <- as.data.frame(group_students(moved))
  expect_setequal(groups$student, first$student)
  expect_setequal(groups$student[groups$by_hand], c(learner$student, helper$student))
  now <- groups[match(c(learner$student, helper$student), groups$student), ]
  expect_equal(now$group, c(2, elsewhere))
  expect_equal(now$topic[1], second)
  expect_equal(now$role, c("learns", "helps"))
  expect_match(now$because[1], learner$because, fixed = TRUE)
  expect_match(now$because[1], "works well with the others", fixed = TRUE)
  others <- setdiff(first$student, groups$student[groups$by_hand])
  same <- c("section", "group", "topic", "role", "student", "because")
  at <- function(table) table[match(others, table$student), same]
  expect_equal(at(groups), at(first), ignore_attr = TRUE)
  # In its place in the list, and in the plan and the second test as well.
  expect_false(is.unsorted(groups$group[groups$section == learner$section], na.rm = TRUE))
  plan <- attr(plan_reteach(moved), "groups")
  there <- plan[match(learner$student, plan$student), ]
  expect_equal(there$topic, second)
  # Points stay as they are; the last move stands; an undo goes back to the one before.
  expect_identical(summarise_students(moved)$points, summarise_students(quiz)$points)
  again <- adjust(moved, "group", student = learner$student, value = "on_their_own")
  role <- function(sitting) {
    table <- as.data.frame(group_students(sitting))
    table$role[match(learner$student, table$student)]
  }
  expect_equal(role(again), "on_their_own")
  back <- adjust(again, "undo", student = learner$student)
  expect_identical(group_students(back), group_students(moved))
})

test_that("a place that is not there is refused, and one that has gone is told", {
  quiz <- read_sitting(demo_path())
  groups <- group_students(quiz)
  id <- groups$student[1]
  condition <- expect_error(
    adjust(quiz, "group", student = id, value = "99"),
    class = "pregunta_error_call"
  )
  expect_true(all(c("on_their_own", groups$topic[1]) %in% condition$choices))
  away <- quiz$students$student[quiz$students$status == "absent"][1]
  expect_error(
    adjust(quiz, "group", student = away, value = "1"),
    "is in no group",
    class = "pregunta_error_call"
  )
  folder <- demo_copy()
  rows <- data.frame(student = id, action = "group", value = "TC.9.z")
  data.table::fwrite(rows, file.path(folder, "adjustments.csv"))
  stale <- group_students(read_sitting(folder))
  at <- match(id, stale$student)
  expect_equal(stale$group[at], groups$group[1])
  expect_false(any(stale$by_hand))
  expect_match(stale$because[at], "TC.9.z", fixed = TRUE)
})

test_that("a test without standards is grouped by its questions, or by a tag", {
  answers <- data.frame(c("A", "A", "B", "B"), c("A", "A", "B", "B"), c("B", "B", "A", "A"))
  quiz <- choice_sitting(answers)
  quiz$items$kind <- c("map", "map", "tide")
  by_item <- group_students(quiz)
  learns <- by_item[by_item$role == "learns", ]
  expect_true(all(learns$topic %in% quiz$items$item))
  missed <- !is.na(match(paste(learns$student, learns$topic), c(
    "s001 Q3", "s002 Q3", "s003 Q1", "s004 Q1", "s003 Q2", "s004 Q2"
  )))
  expect_true(all(missed))
  by_tag <- group_students(quiz, tag = "kind", groups = 2)
  expect_setequal(by_tag$topic, c("map", "tide"))
  expect_identical(by_tag$topic[match("s003", by_tag$student)], "map")
  # As if the tag were the standards.
  same <- quiz
  same$items$standards <- quiz$items$kind
  same$standards <- data.frame(
    code = c("map", "tide"), parent = NA_character_, title = NA_character_, emphasis = NA_character_
  )
  columns <- c("student", "topic", "role", "group")
  expect_identical(
    as.data.frame(group_students(same, groups = 2))[columns], as.data.frame(by_tag)[columns]
  )
  expect_refused(group_students(quiz, tag = "kid"), "call", "Did you mean \"kind\"")
  plan <- plan_reteach(quiz, tag = "kind")
  expect_setequal(plan$code, c("map", "tide"))
  expect_true(all(plan_reteach(quiz)$code %in% quiz$items$item))
})

test_that("without standards a wrong key makes no group, and ideas alone make nobody ready", {
  folder <- demo_copy()
  items <- data.table::fread(file.path(folder, "items.csv"), colClasses = "character")
  items$standards <- NULL
  data.table::fwrite(items, file.path(folder, "items.csv"))
  unlink(file.path(folder, "standards.csv"))
  quiz <- read_sitting(folder)
  groups <- group_students(quiz)
  ideas <- data.table::fread(file.path(folder, "misconceptions.csv"))$code
  expect_true(all(groups$topic %in% c(setdiff(items$item, "Q7"), ideas, NA)))
  ready <- groups$student[groups$role == "ready_for_more"]
  scores <- summarise_students(quiz)
  short <- scores$student[scores$share < quiz$settings$mastery_cut & scores$status != "absent"]
  expect_gt(length(short), 30)
  expect_length(intersect(ready, short), 0)
  settled <- adjust(quiz, item = "Q7", action = "key", value = "C")
  expect_false(grepl("Q7", paste(internal("say_topics")(settled)), fixed = TRUE))
  first <- attr(groups, "places")[1, ]
  moved <- adjust(quiz, "group", student = "h002", value = first$to, reason = "with a friend")
  expect_identical(subset(group_students(moved), student == "h002")$topic, first$topic)
  refused <- quote(adjust(quiz, "group", student = "h002", value = "Q7"))
  expect_refused(eval(refused), "call", "Q7", "Q9")
  plan <- plan_reteach(quiz)
  expect_true(all(plan$code %in% setdiff(items$item, "Q7")))
  # Of a part too what all their answers put in doubt is left out.
  of_part <- run_here("groups", folder, "--only", "section=Harbour A", "--format", "csv")$out
  expect_gt(length(of_part), 20)
  expect_no_match(of_part, "Q7")
  alone <- narrow_sitting(internal("with_unsettled")(quiz), item = "Q7")
  expect_identical(unique(group_students(alone)$topic[1]), "Q7")
  expect_true(file.exists(write_report(alone, tempfile(fileext = ".html"))))
  # A report shows both, and says what they go by.
  report <- write_report(quiz, tempfile(fileext = ".html"))
  html <- paste(readLines(report, encoding = "UTF-8"), collapse = "\n")
  for (said in c(
    "Groups to teach", "What to teach again", paste0("1. ", plan$code[1]),
    "each stands for itself. Left out until it is settled: Q7."
  )) {
    expect_match(html, said, fixed = TRUE)
  }
})

test_that("a class too large to be grouped is told so, its plan and report have no groups", {
  n <- 5001
  answers <- data.frame(rep(c("A", "B"), length.out = n), rep(c("B", "A", "A"), length.out = n))
  quiz <- choice_sitting(answers)
  expect_refused(group_students(quiz), "call", "5001 students is too large", "--by")
  expect_identical(nrow(group_students(quiz, "score", groups = 4)), as.integer(n))
  plan <- plan_reteach(quiz)
  expect_gt(nrow(plan), 0)
  expect_true(all(plan$students == ""))
  expect_match(paste(capture.output(print(plan)), collapse = " "), plan$code[1], fixed = TRUE)
  expect_true(file.exists(write_plan(plan, tempfile(fileext = ".docx"))))
  quiz$students$section <- rep(c("a", "b"), length.out = n)
  expect_true(all(nzchar(plan_reteach(quiz, size = 2500)$students)))
})
