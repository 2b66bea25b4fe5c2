# Several attempts: which counts, and what all of them tell.

# Student a: 1 of 4, then 3 of 4, then 2 of 4; b once; c only blanks, then all right.
tries <- function(attempts = "best", ...) {
  responses <- data.frame(
    student = c("a", "a", "b", "a", "c", "c"),
    attempt = c(1, 2, 1, 3, 1, 2),
    Q1 = c("A", "A", "A", "A", NA, "A"),
    Q2 = c("B", "A", "A", "B", NA, "A"),
    Q3 = c("B", "A", "B", "A", "", "A"),
    Q4 = c(NA, "B", "B", "C", "", "A"),
    ...
  )
  sitting(
    responses,
    data.frame(item = paste0("Q", 1:4), key = "A"),
    settings = list(attempts = attempts)
  )
}

test_that(
  "best, first, last and mean count as their names say; a try without an answer is none",
  {
    points <- function(attempts) summarise_students(tries(attempts))$points
    expect_equal(points("best"), c(3, 2, 4))
    expect_equal(points("first"), c(1, 2, 4))
    expect_equal(points("last"), c(2, 2, 4))
    expect_equal(points("mean"), c(2, 2, 4))
  }
)

test_that(
  paste0(
    "the mean is taken of each item's points, with the last answer shown; thirds add up ",
    "to a whole"
  ),
  {
    quiz <- tries("mean")
    expect_equal(unname(internal("cell_points")(quiz)[1, ]), c(1, 1 / 3, 2 / 3, 0))
    expect_equal(unname(internal("shown_cells")(quiz)[1, ]), c("A", "B", "A", "C"))
    expect_equal(summarise_items(quiz)$difficulty, c(1, 7 / 9, 5 / 9, 1 / 3))
  }
)

test_that(
  paste0(
    "the mean waits with an answer that waits, and leaves out a try that did not hold ",
    "the item"
  ),
  {
    responses <- data.frame(
      student = c("a", "a", "b", "b"),
      attempt = c(1, 2, 1, 2),
      Q1 = c("A", "B", "A", "A"),
      Q2 = c("x", "y", "(not given)", "z"),
      `Q2 points` = c(2, NA, NA, 1),
      check.names = FALSE
    )
    items <- data.frame(
      item = c("Q1", "Q2"),
      type = c("choice", "open"),
      key = c("A", NA),
      points = c(1, 2)
    )
    quiz <- sitting(responses, items, settings = list(attempts = "mean"))
    expect_equal(unname(internal("cell_points")(quiz)), cbind(c(0.5, 1), c(NA, 1)))
    expect_equal(quiz$students$status, c("waiting", "sat"))
  }
)

test_that(
  paste0(
    "every attempt stays: listed in order, with the change since the first and which ",
    "one counts"
  ),
  {
    table <- summarise_attempts(tries("best"))
    expect_equal(table$student, c("a", "a", "a", "b", "c"))
    expect_equal(table$attempt, c(1, 2, 3, 1, 1))
    expect_equal(table$points, c(1, 3, 2, 2, 4))
    expect_equal(table$change, c(0, 0.5, 0.25, 0, 0))
    expect_equal(table$counts, c(FALSE, TRUE, FALSE, TRUE, TRUE))
    expect_true(all(summarise_attempts(tries("mean"))$counts))
    expect_output(
      print(table),
      "1 of 3 students tried more than once, up to 3 times.*gained\\s50%"
    )
  }
)

test_that("a corrected key changes which attempt is the best", {
  other <- adjust(tries("best"), "key", item = c("Q2", "Q4"), value = c("B", "C"))
  table <- summarise_attempts(other)
  expect_equal(table$points[1:3], c(2, 2, 4))
  expect_equal(which(table$counts)[1], 3L)
  expect_equal(summarise_students(other)$points[1], 4)
})

test_that("tries until right are counted over all attempts", {
  times <- summarise_time(tries("first"))
  expect_equal(times$tries, c(5, 5, 5, 4) / 3)
  expect_equal(times$right_at_once, c(1, 2 / 3, 1 / 3, 1 / 3))
  expect_equal(times$tries_until_right, c(1, 1, 1.5, 1))
  expect_equal(times$never_right, c(0, 0, 1, 2))
  by_student <- summarise_time(tries(), by = "student")
  expect_equal(by_student$attempts, c(3, 1, 1))
  expect_equal(by_student$never_right, c(1, 2, 0))
})

test_that(
  "without numbers the attempts go by their time, then by the order of the file",
  {
    responses <- data.frame(
      student = "a",
      Q1 = c("B", "A", "C"),
      submitted = c("2026-10-05T10:03Z", "2026-10-05T10:01Z", "2026-10-05T12:02+02:00")
    )
    first <- sitting(
      responses,
      data.frame(item = "Q1", key = "A"),
      settings = list(attempts = "first")
    )
    expect_equal(unname(internal("shown_cells")(first)[1, 1]), "A")
    expect_equal(summarise_attempts(first)$submitted, responses$submitted[c(2, 3, 1)])
  }
)

test_that(
  paste0(
    "ids, patterns and conditions leave rows out, each is said, and a misnamed column ",
    "is refused"
  ),
  {
    responses <- data.frame(
      student = c("trial-1", "b", "c", "d", "e"),
      Q1 = "A",
      role = c("", "teacher", "", "", ""),
      trial = c("no", "no", "yes", "no", "no"),
      seconds = c(90, 80, 70, 12, 60),
      submitted = c("2026-10-05", "2026-10-05", "2026-10-05", "2026-10-05", "2026-09-01")
    )
    students <- data.frame(
      student = c("b", "c", "d", "e"),
      section = c("A", "A", "B", "Staff")
    )
    left <- function(exclude) {
      quiz <- sitting(
        responses,
        data.frame(item = "Q1", key = "A"),
        students = students,
        settings = list(exclude = exclude)
      )
      quiz$students$student[quiz$students$status != "absent"]
    }
    expect_equal(left("trial-*"), c("b", "c", "d", "e"))
    expect_equal(left(list(role = "teacher")), c("trial-1", "c", "d", "e"))
    expect_equal(
      left(list(list(trial = TRUE), list(section = "Staff"))),
      c("trial-1", "b", "d")
    )
    expect_equal(left(list(list(seconds = "< 60"), "b")), c("trial-1", "c", "e"))
    expect_equal(
      left(list(list(submitted = "< 2026-10-01"))),
      c("trial-1", "b", "c", "d")
    )
    expect_equal(
      left(list(list(section = c("A", "B"), trial = "no"))),
      c("trial-1", "c", "e")
    )
    expect_refused(
      left(list(list(sektion = "A"))),
      "input",
      "names a column that is not there",
      "\"section\""
    )
    expect_refused(left("*"), "input", "leaves out every student")
    quiz <- read_sitting(
      plain_folder(
        c("student,Q1,role", "a,A,x", "b,B,teacher"),
        c("item,key", "Q1,A"),
        test.yml = c("exclude:", "  - role: teacher")
      )
    )
    expect_match(check_sitting(quiz)$value, "role: teacher", all = FALSE)
  }
)

test_that(
  "who is late, unfinished, waiting, excused or absent is told, the gravest of several",
  {
    n <- 12
    responses <- data.frame(
      student = letters[1:n],
      matrix("A", n, 12, dimnames = list(NULL, paste0("Q", 1:12))),
      submitted = "2026-10-05 09:59"
    )
    responses$submitted[2:3] <- c("2026-10-05 10:01", NA)
    responses[4, 10:13] <- NA # the last 3 of 12
    responses[5, 12:13] <- NA # the last 2: only blank
    responses[6, 2:13] <- NA
    responses$Q1[c(2, 7)] <- "(pending)"
    responses$submitted[8] <- "2026-10-05 10:00:30"
    quiz <- function(due) {
      sitting(
        responses,
        data.frame(item = paste0("Q", 1:12), key = "A"),
        settings = list(due = due)
      ) |>
        adjust("excuse", student = c("i", "k"), item = c(NA, "Q1"), reason = "ill")
    }
    expect_equal(
      quiz("2026-10-05 10:00")$students$status,
      c(
        "sat", "waiting", "unfinished", "unfinished", "sat", "absent", "waiting", "late",
        "excused", "sat", "sat", "sat"
      )
    )
    expect_equal(which(quiz("2026-10-05 10:00")$students$late), c(2, 8))
    expect_false("late" %in% quiz("2026-10-05")$students$status) # a day ends at midnight
    expect_equal(summarise_test(quiz("2026-10-05"))$n, 10)
    folder <- demo_copy()
    missing <- run_here("students", folder, "--status", "missing", "--format", "csv")$out
    expect_equal(sub(",.*", "", missing[-1]), c("h017", "h018", "h040", "h063", "h077"))
    expect_refused(
      sitting(
        responses,
        data.frame(item = "Q1", key = "A"),
        settings = list(due = "soon")
      ),
      "input",
      "not a time"
    )
    expect_equal(run_here("students", folder, "--status", "gone")$status, 2)
  }
)

test_that("the list by status and a student's page show what there is to act on", {
  folder <- demo_path("follow-up")
  ids <- function(status) {
    sub(
      ",.*",
      "",
      run_here("students", folder, "--status", status, "--format", "csv")$out[-1]
    )
  }
  expect_equal(ids("late"), c("h022", "h058"))
  expect_equal(ids("missing"), c("h066", "h029", "h077"))
  expect_equal(ids("excused"), "h017")
  page <- run_here("students", folder, "--student", "h041")$out
  expect_match(page, "F6 .* 0.5 of 1", all = FALSE)
  expect_match(page, "^\u2713  F4 .* B +B +1 of 1", all = FALSE)
  expect_match(
    run_here("students", folder, "--student", "h010")$out,
    "F8 .*\u2013 of 1  excused",
    all = FALSE
  )
  expect_match(
    run_here("attempts", folder)$out,
    "27 of 81 students tried more than once",
    all = FALSE
  )
  expect_match(run_here("check", folder)$out, "leaves out 1 row", all = FALSE)
})
