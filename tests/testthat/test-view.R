# What every face shows is asked for in one place.

view_rows <- internal("view_rows")
quiz <- read_sitting(demo_path())

test_that("rows are narrowed by everything that a person can ask for, in any order", {
  students <- summarise_students(quiz)
  standards <- summarise_standards(quiz, "student")
  items <- summarise_items(quiz)
  expect_identical(view_rows(items), items)
  expect_setequal(view_rows(items, item = c("Q3", "Q1"))$item, c("Q1", "Q3"))
  one <- view_rows(standards, student = "h012", standard = "TC.1")
  expect_setequal(one$code, c("TC.1", "TC.1.a", "TC.1.b", "TC.1.c"))
  expect_identical(unique(one$student), "h012")
  expect_identical(view_rows(standards, standard = "tc1A")$code[1], "TC.1.a")
  levels <- names(quiz$settings$levels)
  low <- view_rows(standards, below = "SECURE")
  expect_true(all(low$level %in% levels[1:2]))
  expect_gt(nrow(low), 0)
  absent <- view_rows(students, status = "absent")
  expect_true(all(absent$status == "absent"))
  expect_gte(nrow(view_rows(students, status = "missing")), nrow(absent))
  expect_identical(view_rows(items, student = "h012"), items) # has no students
  for (table in list(one, low, absent)) expect_true(internal("is_summary")(table))
})

test_that("the order asked for is kept, missing figures last, and goes with the table", {
  items <- summarise_items(quiz)
  up <- view_rows(items, sort = "discrimination")
  down <- view_rows(items, sort = "-discrimination")
  there <- sum(!is.na(items$discrimination))
  expect_false(is.unsorted(up$discrimination[seq_len(there)]))
  expect_false(is.unsorted(-down$discrimination[seq_len(there)]))
  expect_true(all(is.na(utils::tail(down$discrimination, nrow(items) - there))))
  expect_identical(attr(up, "sorted"), "discrimination")
  expect_identical(attr(up[1:3, ], "sorted"), "discrimination")
})

test_that("what is not there is said, with what is", {
  items <- summarise_items(quiz)
  standards <- summarise_standards(quiz, "student")
  error <- expect_refused(view_rows(items, item = "Q99"), "call", "There is no item \"Q99\"")
  expect_true("Q1" %in% error$choices)
  expect_refused(view_rows(standards, standard = "XY.1"), "call", "no code \"XY.1\" with")
  expect_refused(view_rows(standards, below = "superb"), "call", "no level \"superb\"")
  expect_refused(view_rows(summarise_students(quiz), status = "gone"), "call", "no status")
  error <- expect_refused(view_rows(items, sort = "-dificulty"), "call", "to sort by")
  expect_match(error$fix, "Did you mean \"difficulty\"")
})

test_that("the grid holds each score once, and prints without a row", {
  standards <- summarise_standards(quiz, "student")
  grid <- internal("standards_grid")(quiz, standards)
  expect_false(is.unsorted(grid$share))
  for (code in attr(grid, "codes")) {
    mine <- standards[standards$code == code & !is.na(standards$share), ]
    expect_equal(grid[[code]][match(mine$student, grid$student)], mine$share)
  }
  expect_output(print(grid), "TC.1.a")
  expect_output(print(grid[c(3, 1), ]), "These are 2 of 80 rows")
})

# ---- things to see -------------------------------------------------------------------

test_that("questions are seen with what to look at first among those that are shown", {
  quiz <- read_sitting(demo_path())
  view_items <- internal("view_items")
  whole <- view_items(quiz, sort = "-difficulty")
  expect_equal(whole$items$difficulty, sort(whole$items$difficulty, decreasing = TRUE))
  expect_true("Q7" %in% whole$look$item)
  expect_setequal(view_items(quiz, item = c("Q7", "Q1"))$look$item, "Q7")
  expect_null(view_items(quiz, told = FALSE)$look)
  expect_null(view_items(quiz, by = "section")$look)
  options <- internal("view_options")(quiz, who = TRUE, item = "Q7")
  expect_equal(unique(options$options$item), "Q7")
  people <- strsplit(internal("people_of")(options$options, options$who), "; ")
  named <- lengths(people)
  named[is.na(people)] <- 0
  expect_equal(named, options$options$count)
  expect_equal(internal("doubtful_keys")(quiz), "Q7")
  expect_equal(internal("doubtful_keys")(quiz, "Q1"), character())
})

test_that("a student is seen whole: all answers are the right ones and the wrong ones", {
  quiz <- read_sitting(demo_path())
  id <- quiz$students$student[quiz$students$status == "sat"][5]
  view <- function(which) internal("view_student")(quiz, id, which)
  all <- view("all")
  own <- summarise_standards(quiz, "student")
  expect_equal(all$standards$own$share, stats::na.omit(own$share[own$student == id]),
    ignore_attr = TRUE
  )
  expect_match(all$standing, "other students")
  expect_equal(nrow(all$answers$rows), nrow(quiz$items))
  halves <- c(view("right")$answers$rows$item, view("wrong")$answers$rows$item)
  marked <- all$answers$rows$item[!is.na(all$answers$rows$points)]
  expect_setequal(halves, marked)
  expect_true(all(view("right")$answers$full))
  expect_null(view("none")$answers)
})

test_that("who stands where after a second test adds up to the counts of the change", {
  before <- read_sitting(demo_path())
  after <- read_sitting(demo_path("follow-up"))
  change <- compare_sittings(before, after)
  seen <- internal("view_whereabouts")(change, compare_sittings(before, after, "student"))
  below <- change$below[match(names(seen$below), change$code)]
  expect_equal(unname(lengths(seen$below)), below)
  there <- table(attr(change, "here")$there)
  expect_equal(lengths(seen$away)[["not_there_after"]], there[["not_there_after"]])
})

test_that("a line of the list is taken back by a change that names it", {
  folder <- demo_copy()
  run_here("adjust", folder, "--key", "Q7=C", "--reason", "half moon")
  quiz <- read_sitting(folder)
  seen <- internal("view_changes")(quiz)
  last <- seen[nrow(seen), ]
  expect_equal(last$value, "C")
  expect_true(last$stands)
  undo <- internal("undoing")(quiz, last$line)
  expect_equal(undo$value, "key C")
  taken <- do.call(adjust, c(list(quiz), undo[c("action", "item", "value")]))
  expect_equal(
    summarise_items(taken)$difficulty,
    summarise_items(read_sitting(demo_path()))$difficulty
  )
  expect_refused(internal("undoing")(quiz, 99), "call", "holds no change")
})

test_that("students are resampled for a class, not for a district unless it is asked", {
  quiz <- read_sitting(demo_path())
  replicates <- internal("replicates_for")
  expect_equal(replicates(quiz), 1000)
  expect_equal(replicates(quiz, "section"), 0)
  expect_equal(replicates(list(codes = integer(2e6))), 0)
  expect_equal(replicates(list(codes = integer(2e6)), "section", 500), 500)
})

# ---- each thing to see ---------------------------------------------------------------

view <- function(name, ...) internal(paste0("view_", name))(...)

test_that("a view is its summary, with the rows that were asked for", {
  plain <- function(table) as.data.frame(table)
  same <- function(seen, summary) expect_equal(plain(seen), plain(summary))
  same(view("test", quiz, "section"), summarise_test(quiz, "section"))
  same(view("decisions", quiz, by = "section"), summarise_decisions(quiz, NULL, "section"))
  same(view("parts", quiz, bootstrap = 0), summarise_parts(quiz))
  same(view("students", quiz)$students, summarise_students(quiz))
  same(view("standards", quiz)$rows, summarise_standards(quiz))
  same(view("misconceptions", quiz)$found, summarise_misconceptions(quiz))
  same(view("guessing", quiz), summarise_guessing(quiz))
  same(view("together", quiz), suggest_misconceptions(quiz))
  same(view("answers", quiz), summarise_answers(quiz))
  same(view("review", quiz), review_items(quiz))
  same(view("keys", quiz), review_key(quiz))
  same(view("time", quiz), summarise_time(quiz))
  same(view("attempts", quiz), summarise_attempts(quiz))
  same(view("explanations", quiz), summarise_explanations(quiz))
  same(view("groups", quiz), group_students(quiz))
  for (name in c("answers", "review", "keys", "time")) {
    seen <- view(name, quiz, item = "Q7")
    expect_true(all(seen$item == "Q7"), label = name)
  }
  for (name in c("guessing", "attempts", "groups")) {
    seen <- view(name, quiz, student = "h012")
    expect_true(all(seen$student == "h012"), label = name)
  }
  expect_false("student" %in% names(view("explanations", quiz, names = FALSE)))
  expect_equal(nrow(view("explanations", quiz, item = "Q7")), 0) # nobody wrote any
})

test_that("who is named is shown by the student, and alone with a page of their own", {
  one <- view("students", quiz, student = "h012")
  expect_true(one$chosen)
  expect_equal(nrow(one$alone$answers$rows), nrow(quiz$items))
  expect_null(view("students", quiz, student = c("h012", "h015"))$alone)
  expect_false(view("students", quiz)$chosen)
  held <- view("misconceptions", quiz, student = "h012")
  expect_true(held$chosen && all(held$found$student == "h012"))
  expect_equal(unique(view("time", quiz, student = "h012")$student), "h012")
  standards <- view("standards", quiz, student = "h012", grid = TRUE)
  expect_false(standards$as_grid)
  expect_true(all(standards$rows$student == "h012"))
  expect_true(view("standards", quiz, below = "secure", grid = TRUE)$as_grid)
  opened <- view("standards", quiz, standard = "TC.1.a")
  expect_true(opened$opened && nrow(opened$evidence) > 0)
})

test_that("the order of a table is the one asked for, else the one that helps most", {
  items <- summarise_items(quiz)
  expect_false(is.unsorted(internal("hardest_first")(items)$difficulty))
  asked <- view_rows(items, sort = "item")
  expect_identical(internal("hardest_first")(asked), asked)
  students <- internal("lowest_first")(summarise_students(quiz))
  expect_false(is.unsorted(students$share, na.rm = TRUE))
  by <- internal("lowest_first")(summarise_students(quiz, "section"))
  expect_false(is.unsorted(by$section))
  fairness <- summarise_fairness(quiz, "section")
  shown <- internal("fairness_shown")(fairness)
  rank <- match(shown$class, c("large", "moderate", "negligible"))
  expect_false(is.unsorted(rank))
  left_out <- setdiff(rownames(fairness), rownames(shown))
  expect_true(all(fairness[left_out, ]$class %in% c("negligible", NA)))
  expect_identical(nrow(internal("fairness_shown")(view_rows(fairness, sort = "p"))),
    nrow(fairness)
  )
  groups <- group_students(quiz)
  rows <- unlist(lapply(internal("groups_listed")(groups), `[[`, "rows"))
  expect_setequal(rows, seq_len(nrow(groups)))
})

test_that("groups side by side find the row of each pair, also where one is missing", {
  standards <- summarise_standards(quiz, "section")
  whole <- internal("standards_beside")(standards)
  expect_false(anyNA(whole$at))
  some <- internal("standards_beside")(standards[-2, ])
  expect_equal(sum(is.na(some$at)), 1)
  at <- which(!is.na(some$at), arr.ind = TRUE)
  rows <- standards[-2, ][some$at[at], ]
  expect_equal(rows$code, some$codes[at[, 1]])
  expect_equal(rows$section, some$groups[at[, 2]])
})

test_that("what a report shows is reckoned as each summary alone", {
  figures <- view("report", quiz, TRUE)
  expect_equal(as.data.frame(figures$items), as.data.frame(summarise_items(quiz)))
  expect_equal(as.data.frame(figures$review), as.data.frame(review_items(quiz)))
  expect_equal(as.data.frame(figures$standards), as.data.frame(summarise_standards(quiz)))
  classes <- view("classes", internal("for_sharing")(quiz), "section")
  expect_equal(classes$test$mean, figures$test$mean)
  expect_equal(classes$by$section$section, sort(unique(quiz$students$section)))
  sections <- internal("sections_shown")(quiz, TRUE)
  expect_equal(length(sections), 4)
  expect_equal(
    sum(vapply(sections[-1], function(one) nrow(one$students), 0L)),
    nrow(quiz$students)
  )
  expect_length(internal("sections_shown")(quiz, FALSE), 1)
  settle <- internal("to_settle")(figures$look)
  expect_true("Q7" %in% settle$item)
})
