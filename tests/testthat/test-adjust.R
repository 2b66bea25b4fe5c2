# Changing a mark or a key: what each action does, that an undo gives back the
# very same, what is refused, and that what-if foretells what is then done.

small <- function(...) {
  responses <- data.frame(
    student = c("a", "b", "c", "d"),
    Q1 = c("A", "B", "B", "C"),
    Q2 = c("ebb", "eb", "neap", ""),
    Q3 = c("A;C", "A", "B", ""),
    Q4 = c("2", "1", "", ""),
    Q5 = c("x", "y", "z", "")
  )
  items <- data.frame(
    item = paste0("Q", 1:5),
    type = c("choice", "text", "multiple", "mark", "open"),
    key = c("A", "ebb", "A;C", "", ""),
    points = c(1, 1, 2, 2, 3),
    scoring = c("", "", "each", "", ""),
    standards = c("S.1", "S.1", "S.2", "S.2", "S.2")
  )
  options <- data.frame(
    item = c("Q1", "Q1", "Q1", "Q3", "Q3", "Q3"),
    option = c("A", "B", "C", "A", "B", "C")
  )
  students <- data.frame(
    student = c("a", "b", "c", "d", "e"),
    name = c("Ada", "Ben", "Cy", "Di", "Eve")
  )
  sitting(responses, items, options, students, ...)
}
points <- function(quiz) summarise_students(quiz)$points
open <- function(quiz) summarise_students(quiz)$open

test_that("each action does what its line says, and nothing to those it is not about", {
  quiz <- small()
  expect_equal(points(quiz), c(6, 2, 0, 0, NA))
  expect_equal(points(adjust(quiz, "key", item = "Q1", value = "B")), c(5, 3, 1, 0, NA))
  expect_equal(
    points(adjust(quiz, "accept", item = "Q1", value = "C")),
    c(6, 2, 0, 1, NA)
  )
  expect_equal(
    points(adjust(quiz, "accept", item = "Q2", value = " EB ")),
    c(6, 3, 0, 0, NA)
  )
  expect_equal(
    points(adjust(quiz, "accept", item = "Q3", value = "B")),
    c(6, 2, 2, 0, NA)
  )
  dropped <- adjust(quiz, "drop", item = "Q3")
  expect_equal(points(dropped), c(4, 1, 0, 0, NA))
  expect_equal(open(dropped)[1:4], open(quiz)[1:4] - 2)
  expect_equal(summarise_items(dropped)$reason[3], "dropped")
  expect_equal(
    as.list(summarise_standards(dropped)[c("items", "points")]),
    list(items = c(2, 2), points = c(2, 5))
  )
  # the absent stay absent
  expect_equal(points(adjust(quiz, "credit", item = "Q3")), c(6, 3, 2, 2, NA))
  expect_equal(
    points(adjust(quiz, "points", student = "c", item = "Q5", value = "2,5")),
    c(6, 2, 2.5, 0, NA)
  )
  half <- adjust(quiz, "points", student = c("b", "d"), item = "Q1", value = 0.5)
  expect_equal(points(half), c(6, 2.5, 0, 0.5, NA))
  excused <- adjust(quiz, "excuse", student = "b", item = "Q2")
  expect_equal(open(excused)[2], open(quiz)[2] - 1)
  expect_equal(summarise_items(excused)$n[2], 3)
  extra <- adjust(quiz, "extra", student = c(NA, "c"), value = c(1, 0.5))
  expect_equal(points(extra), c(7, 3, 1.5, 1, NA))
  expect_identical(summarise_items(extra), summarise_items(quiz))
  # What the students have is in the mean, the spread and the levels; what the items gave
  # in everything else.
  test <- summarise_test(extra)
  shares <- summarise_students(extra)$share
  had <- test$points * shares[!is.na(shares)]
  expect_equal(c(test$mean, test$highest, test$lowest), c(mean(had), range(had)[2:1]))
  expect_equal(test$sd, stats::sd(had))
  levels <- table(factor(summarise_students(extra)$level, names(quiz$settings$levels)))
  expect_equal(unlist(test[names(levels)]), c(prop.table(levels)), ignore_attr = TRUE)
  figures <- c("alpha", "sem", "items", "points", "hard", "n_complete")
  expect_identical(as.data.frame(test)[figures], as.data.frame(summarise_test(quiz))[figures])
  by_half <- lapply(list(c("a", "b"), setdiff(quiz$students$student, c("a", "b"))), function(who) {
    tally_responses(narrow_sitting(extra, student = who), counted = quiz$items$item)
  })
  expect_equal(summarise_test(by_half[[1]] + by_half[[2]])$mean, test$mean)
})

test_that("a dropped item was answered all the same: nobody becomes absent by it", {
  quiz <- adjust(
    small(),
    "drop",
    item = paste0("Q", 1:5),
    reason = "the room was too loud"
  )
  expect_equal(quiz$students$status, c("sat", "sat", "sat", "sat", "absent"))
  expect_output(
    print(what_if(small(), drop = paste0("Q", 1:5))),
    "4 of 4 students.*secure|emerging \u2192 none"
  )
  waiting <- adjust(small(), "drop", item = "Q5")
  # nothing waits any more
  expect_equal(waiting$students$status[1:3], c("sat", "sat", "sat"))
  mean <- sitting(
    data.frame(student = c("a", "a"), Q1 = c("A", "B"), Q2 = c("B", "A")),
    data.frame(item = c("Q1", "Q2"), key = "A"),
    settings = list(attempts = "mean")
  )
  expect_equal(points(adjust(mean, "drop", item = "Q1")), 0.5)
  expect_equal(adjust(mean, "drop", item = c("Q1", "Q2"))$students$status, "sat")
})

test_that(
  paste0(
    "key and accept come first, then credit and drop, then single marks, whatever the ",
    "order of the lines"
  ),
  {
    rows <- data.frame(
      action = c("points", "credit", "accept", "key", "drop"),
      student = c("a", NA, NA, NA, NA),
      item = c("Q3", "Q3", "Q1", "Q1", "Q2"),
      value = c("0.5", NA, "C", "B", NA)
    )
    made <- function(order) {
      rows <- rows[order, ]
      without_list(adjust(small(), rows$action, rows$student, rows$item, rows$value))
    }
    one <- made(1:5)
    expect_equal(points(one), c(2.5, 4, 3, 3, NA)) # a: Q1 wrong now, Q3 half, Q4 2
    for (order in list(5:1, c(3, 1, 5, 2, 4))) {
      other <- made(order)
      expect_identical(
        other[c("items", "codes", "cells", "students")],
        one[c("items", "codes", "cells", "students")]
      )
    }
  }
)

test_that(
  paste0(
    "every change and its undo give back the very same sitting, each alone and all ",
    "together"
  ),
  {
    quiz <- read_sitting(demo_path())
    changes <- data.frame(
      action = c(
        "key", "accept", "accept", "drop", "credit", "points", "excuse", "excuse",
        "extra", "comment"
      ),
      student = c(NA, NA, NA, NA, NA, "h022", "h001", "h002", "h003", NA),
      item = c("Q7", "Q17", "Q21", "Q11", "Q14", "Q23", "Q3", NA, NA, "Q9"),
      value = c("C", "eb", "A>C>B>D", NA, NA, "3", NA, NA, "2", "Look at this again.")
    )
    made <- adjust(
      quiz,
      changes$action,
      changes$student,
      changes$item,
      changes$value,
      "why"
    )
    expect_false(identical(without_list(made)$cells, quiz$cells))
    undo <- function(made, rows) {
      adjust(
        made,
        "undo",
        changes$student[rows],
        changes$item[rows],
        sub(" NA$", "", paste(changes$action, changes$value))[rows]
      )
    }
    expect_identical(without_list(undo(made, 1:10)), without_list(quiz))
    expect_identical(without_list(undo(made, sample(10))), without_list(quiz))
    alone <- adjust(
      quiz,
      changes$action[1],
      item = changes$item[1],
      value = changes$value[1]
    )
    expect_identical(without_list(undo(alone, 1)), without_list(quiz))
    expect_equal(nrow(undo(made, 1:10)$adjustments), 20) # the list only grows
  }
)

test_that(
  "what cannot be is refused with its line and value, and the file keeps every byte",
  {
    refused <- function(lines, ...) {
      folder <- plain_folder(
        c("student,Q1,Q2", "a,A,B", "b,B,B"),
        c("item,type,key,points", "Q1,choice,A,1", "Q2,open,,2"),
        options.csv = c("item,option", "Q1,A", "Q1,B"),
        adjustments.csv = c("student,item,action,value,reason", lines)
      )
      before <- readBin(file.path(folder, "adjustments.csv"), "raw", 1e4)
      expect_refused(read_sitting(folder), "input", ...)
      expect_identical(readBin(file.path(folder, "adjustments.csv"), "raw", 1e4), before)
    }
    refused(
      c("a,Q1,points,1,", "zoe,Q1,points,1,"),
      "adjustments.csv, line 3, column student",
      "no student \"zoe\""
    )
    refused("a,Q9,points,1,", "line 2, column item: \"Q9\"", "Known are: Q1, Q2")
    refused("a,Q2,points,3,", "line 2, column value: \"3\"", "from 0 to 2")
    refused("a,Q2,points,-1,", "line 2, column value")
    refused("a,Q2,points,much,", "line 2, column value: \"much\"")
    refused(
      "a,Q2,pionts,1,",
      "no such change",
      "line 2, column action: \"pionts\"",
      "Did you mean \"points\"?"
    )
    refused(",Q1,,B,", "line 2, column action: blank")
    refused(",Q1,key,,", "\"key\" needs a value", "line 2")
    refused("a,Q1,key,B,", "\"key\" takes no student", "line 2, column student: \"a\"")
    refused(",Q1,key,Z,", "not an option of Q1", "line 2, column value: \"Z\"", "A, B")
    refused(",Q2,key,A,", "marked by hand")
    refused(",Q1,accept,C,", "not an option of Q1")
    refused("a,Q2,extra,1,", "takes no item", "use points")
    refused("a,,extra,0,", "above 0")
    refused(",Q1,undo,key,", "nothing to undo", "line 2")
    refused(c(",Q1,key,B,", ",Q1,undo,accept,"), "nothing to undo", "line 3")
    refused(
      c(",Q1,key,B,", ",Q1,key,A,"),
      "contradict",
      "line 3",
      "line 2 says: the key of Q1 is B",
      "undo"
    )
    refused(c("a,Q2,points,1,", ",,,,", "a,Q2,points,2,"), "contradict", "line 4")
    refused(c("a,Q2,points,1,", "a,Q2,excuse,,"), "contradict")
    refused(c("a,,excuse,,", "a,Q2,points,1,"), "contradict")
    refused(c(",Q1,drop,,", ",Q1,credit,,"), "contradict")
    refused(",\"Q1,key", "adjustments.csv") # a quote left open
  }
)

test_that(
  paste0(
    "adjust adds a line to the file and keeps what stands above it, in its own ",
    "separator and encoding"
  ),
  {
    folder <- plain_folder(
      adjustments.csv = c(
        "student;item;action;value;reason;note",
        "a;Q1;points;0;\"late; sick\";x"
      )
    )
    before <- readLines(file.path(folder, "adjustments.csv"))
    after <- adjust(
      folder,
      "accept",
      item = "Q2",
      value = "C",
      reason = "=ambiguous; see \"book\""
    )
    lines <- readLines(file.path(folder, "adjustments.csv"))
    expect_identical(lines[1:2], before)
    expect_length(lines, 3)
    expect_equal(after$adjustments$reason, c("late; sick", "=ambiguous; see \"book\""))
    expect_equal(points(after), c(1, 1, 2))
    windows <- plain_folder(
      adjustments.csv = c(
        charToRaw("student,item,action,value,reason\na,Q1,points,0,na\u00efv"),
        as.raw(10)
      )[
        0
      ]
    )
    writeBin(
      iconv(
        "student,item,action,value,reason\r\na,Q1,points,0,t\u00e4g\r\n",
        "UTF-8",
        "CP1252",
        toRaw = TRUE
      )[[
        1
      ]],
      file.path(windows, "adjustments.csv")
    )
    expect_equal(
      adjust(windows, "drop", item = "Q2", reason = "caf\u00e9")$adjustments$reason,
      c("t\u00e4g", "caf\u00e9")
    )
    fresh <- plain_folder()
    adjust(fresh, "drop", item = "Q2", reason = "unclear")
    expect_equal(
      names(read.csv(file.path(fresh, "adjustments.csv"))),
      c("student", "item", "action", "value", "reason", "when")
    )
    expect_refused(
      adjust(fresh, "drop", item = "Q3"),
      "input",
      "no item \"Q3\"",
      "the new one"
    )
    expect_length(readLines(file.path(fresh, "adjustments.csv")), 2)
  }
)

test_that("a list in a sheet of test.xlsx counts, and goes on as a file", {
  folder <- folder_of()
  openxlsx::write.xlsx(
    list(
      responses = data.frame(student = c("a", "b"), Q1 = c("A", "B")),
      items = data.frame(item = "Q1", key = "A"),
      adjustments = data.frame(
        student = "b",
        item = "Q1",
        action = "points",
        value = 0.5,
        reason = "half"
      )
    ),
    file.path(folder, "test.xlsx")
  )
  book <- tools::md5sum(file.path(folder, "test.xlsx"))
  expect_equal(points(read_sitting(folder)), c(1, 0.5))
  adjust(folder, "extra", student = "a", value = 1, reason = "kind")
  expect_equal(points(read_sitting(folder)), c(2, 0.5))
  expect_identical(tools::md5sum(file.path(folder, "test.xlsx")), book)
})

test_that("a process that is killed in the middle of writing leaves the old list whole", {
  folder <- plain_folder(
    adjustments.csv = c("student,item,action,value,reason", "a,Q1,points,0,first")
  )
  path <- file.path(folder, "adjustments.csv")
  before <- readBin(path, "raw", 1e5)
  code <- sprintf(
    "pregunta:::write_whole('%s', function(temporary) {
    writeLines('student,item,act', temporary); writeLines('half',
      '%s'); Sys.sleep(60)})",
    path,
    file.path(folder, "now")
  )
  pid <- system(
    paste(
      file.path(R.home("bin"), "Rscript"), "-e", shQuote(code),
      ">/dev/null 2>&1 & echo $!"
    ),
    intern = TRUE
  )
  for (wait in 1:100) if (file.exists(file.path(folder, "now"))) break else Sys.sleep(0.1)
  expect_true(file.exists(file.path(folder, "now")))
  tools::pskill(as.integer(pid), tools::SIGKILL)
  Sys.sleep(0.2)
  expect_identical(readBin(path, "raw", 1e5), before)
  expect_equal(
    points(adjust(folder, "points", student = "b", item = "Q1", value = 1)),
    c(1, 2, 1)
  )
})

test_that(
  "what-if foretells to the last figure what apply then does, and changes nothing before",
  {
    folder <- demo_copy()
    quiz <- read_sitting(folder)
    foretold <- what_if(
      quiz,
      key = c(Q7 = "C"),
      accept = c(Q17 = "eb", Q17 = "ebbe"),
      drop = "Q11",
      credit = "Q14"
    )
    call <- c(
      "what-if", folder, "--key", "Q7=C", "--accept", "Q17=eb", "--accept=Q17=ebbe",
      "--drop", "Q11", "--credit", "Q14"
    )
    tried <- run_here(call, "--format", "json")
    expect_equal(
      as.data.frame(jsonlite::fromJSON(paste(tried$out, collapse = "\n"))),
      as.data.frame(unclass(foretold)[names(foretold)]),
      tolerance = 1e-12,
      ignore_attr = TRUE
    )
    expect_false(file.exists(file.path(folder, "adjustments.csv")))
    applied <- run_here(call, "--apply", "--reason", "after the meeting")
    expect_equal(applied$status, 0)
    after <- read_sitting(folder)
    promised <- attr(foretold, "after")
    for (summary in list(
      summarise_items,
      summarise_students,
      summarise_options,
      summarise_standards,
      summarise_test
    )) {
      expect_identical(summary(after), summary(promised))
    }
    test <- attr(foretold, "test")
    expect_equal(test$after[test$figure == "alpha"], summarise_test(after)$alpha)
    expect_equal(test$before[test$figure == "mean"], summarise_test(quiz)$mean)
    moved <- summarise_students(after)$share != summarise_students(quiz)$share
    expect_setequal(
      foretold$student[foretold$share_before != foretold$share_after],
      quiz$students$student[which(moved)]
    )
    expect_equal(nrow(what_if(quiz, accept = c(Q3 = "B"))), 0) # the key already
    expect_refused(what_if(quiz), "call", "needs a change to try")
    expect_refused(what_if(quiz, key = c(Q7 = "Z")), "input", "not an option of Q7")
  }
)

test_that("bands of the school's own scale move with the points", {
  quiz <- read_sitting(demo_path())
  quiz$handed_in$settings$bands <- list(F = 0, C = 0.5, B = 0.7, A = 0.85)
  moved <- what_if(adjust(quiz, "comment", item = "Q1", value = "x"), credit = "Q14")
  expect_gt(sum(moved$band_before != moved$band_after), 3)
  expect_match(internal("say_effect")(moved), "another band")
})

test_that(
  "on the command line: change, list, undo by line, and every refusal with status",
  {
    folder <- demo_copy()
    made <- run_here(
      "adjust",
      folder,
      "--student",
      "h060,h061",
      "--item",
      "Q24",
      "--points",
      "2",
      "--reason",
      "half right"
    )
    expect_match(made$out, "h060 has 2 on Q24; h061 has 2 on Q24", all = FALSE)
    run_here(
      "adjust",
      folder,
      "--key",
      "Q7=C",
      "--comment",
      "Good thinking",
      "--student",
      "h001",
      "--item",
      "Q9"
    )
    list <- run_here("adjust", folder)$out
    expect_match(list, "^ +2  points +h060 +Q24 +2 +half right", all = FALSE)
    expect_match(
      run_here("students", folder, "--student", "h001")$out,
      "Q9, comment: Good thinking",
      all = FALSE
    )
    expect_equal(run_here("adjust", folder, "--undo", "2")$status, 0)
    expect_match(run_here("adjust", folder)$out, "undone", all = FALSE)
    expect_match(run_here("adjust", folder, "--undo", "2")$err, "nothing to undo")
    refusals <- list(
      c("--key", "Q7"),
      c("--student", "h001"),
      c("--undo", "99"),
      c("--points", "2"),
      c("--key", "Q7=D"),
      c("--key", "Q77=A"),
      c("--student", "h001", "--item", "Q24", "--points", "9")
    )
    before <- readLines(file.path(folder, "adjustments.csv"))
    for (refusal in refusals) {
      got <- run_here("adjust", folder, refusal)
      expect_true(got$status %in% 1:2, label = paste(refusal, collapse = " "))
      expect_no_match(got$err, "did not foresee")
    }
    expect_identical(readLines(file.path(folder, "adjustments.csv")), before)
    checked <- run_here("check", folder)
    expect_match(checked$out, "the key of Q7 is C", all = FALSE)
    expect_match(
      checked$out,
      "2 changes for single students: 1 points, 1 comment",
      all = FALSE
    )
  }
)

test_that(
  paste0(
    "a mark that was put right by adjust is no longer a mistake, and lonely points are ",
    "pointed out"
  ),
  {
    quiz <- read_sitting(demo_path())
    right <- check_sitting(
      adjust(
        quiz,
        "points",
        student = "h022",
        item = "Q23",
        value = 4,
        reason = "4, not 14"
      )
    )
    expect_false(any(right$severity == "error"))
    keyless <- sitting(
      data.frame(
        student = c("a", "b"),
        Q1 = c("A", "B"),
        `Q1 points` = c(1, 0),
        check.names = FALSE
      ),
      data.frame(item = "Q1", type = "choice")
    )
    expect_equal(keyless$students$status, c("waiting", "waiting"))
    keyed <- adjust(keyless, "key", item = "Q1", value = "A", reason = "it was missing")
    expect_equal(points(keyed), c(1, 0))
    expect_equal(check_sitting(keyed)$severity, "note")
    halved <- check_sitting(
      adjust(keyed, "points", student = "b", item = "Q1", value = 0.5)
    )
    # the points given beside it agree with the key
    expect_false(any(grepl("differs from", halved$finding)))
    lonely <- check_sitting(
      adjust(quiz, "points", student = "h017", item = "Q1", value = 1)
    )
    expect_match(
      lonely$finding,
      "has points by hand and no answer of their own",
      all = FALSE
    )
    expect_equal(sum(grepl("by hand and no answer", right$finding)), 0)
  }
)
