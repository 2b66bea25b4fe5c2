# Whole answers: what one slip explains, and the sentences and commands made of it.

slips <- function(type, key, answers) {
  type <- internal("item_type")(type)
  found <- internal("near_misses_of")(
    type,
    answers,
    rep(TRUE, length(answers)),
    type$read_key(key)
  )
  ifelse(is.na(found$near_miss), NA, paste(found$near_miss, found$like, sep = "|"))
}

test_that("a wrong answer that one slip explains is named, another is not", {
  expect_equal(
    slips(
      "text",
      "ebb|neap tide",
      c("eb", "ebbe", "bbe", "ebc", "neep tde", "naep tide", "nep tie", "flood", "x")
    ),
    c(
      "spelling|ebb", "spelling|ebb", NA, "spelling|ebb", "spelling|neap tide",
      "spelling|neap tide", "spelling|neap tide", NA, NA
    )
  )
  expect_equal(
    slips(
      "number",
      "4.2\u00b10.1",
      c("-4.2", "42", "0.42", "4200", "4", "5", "0", "cat", "4.5")
    ),
    c(
      "sign|4.2", "power_of_ten|4.2", "power_of_ten|4.2", "power_of_ten|4.2",
      "rounding|4.2", NA, NA, NA, NA
    )
  )
  expect_equal(
    slips("number", "2.718", c("2.7", "2.71", "2.72", "3", "2", "2.6")), # cut, and rounded
    c(rep("rounding|2.718", 5), NA)
  )
  expect_equal(
    slips("number", "1.5..2", c("1", "17", "-1.7", "2.5")),
    c(NA, "power_of_ten|1.5..2", "sign|1.5..2", NA)
  )
  expect_equal(
    slips("multiple", "A;C", c("A", "A;B;C", "B", "A;B", "A;C;D;E")),
    c("missing:C|A;C", "extra:B|A;C", NA, NA, NA)
  )
  expect_equal(
    slips("order", "C>A>D>B", c("A>C>D>B", "C>B>D>A", "C>D>B>A", "C>A>D", "B>D>A>C")),
    c("swapped:A;C|C>A>D>B", "swapped:A;B|C>A>D>B", NA, NA, NA)
  )
  expect_equal(
    slips(
      "match",
      "1=B;2=C;3=A",
      c("1=C;2=B;3=A", "1=B;3=A", "1=A;2=B;3=C", "1=B;2=A;3=A")
    ),
    c("swapped:1;2|1=B;2=C;3=A", "missing:2|1=B;2=C;3=A", NA, NA)
  )
})

test_that(
  paste0(
    "a key may hold several right answers of every type; an answer earns what the best ",
    "of them gives"
  ),
  {
    expect_equal(
      points_of(c("A;C", "A;D", "C;D", "A"), "multiple", "A;C|A;D"),
      c(1, 1, 0, 0)
    )
    expect_equal(
      points_of(c("A;C", "A;D", "D", "B"), "multiple", "A;C|D", "each", 2),
      c(2, 0, 2, 0)
    )
    expect_equal(
      points_of(c("A>B>C", "C>B>A", "B>A>C"), "order", "A>B>C|C>B>A", "each", 3),
      c(3, 3, 1)
    )
    expect_equal(
      points_of(
        c("1=A;2=B", "1=B;2=A", "1=A;2=A"),
        "match",
        "1=A;2=B|1=B;2=A",
        "each",
        2
      ),
      c(2, 2, 1)
    )
    expect_equal(
      points_of(c("4.2", "7", "3.5", "5"), "number", "4.2\u00b10.1|7|3..4"),
      c(1, 1, 1, 0)
    )
  }
)

test_that("whole answers count everybody who had the item, once", {
  quiz <- read_sitting(demo_path())
  answers <- summarise_answers(quiz)
  expect_equal(as.vector(tapply(answers$share, answers$item, sum)), rep(1, 24))
  expect_equal(as.vector(tapply(answers$count, answers$item, sum)), rep(80, 24))
  points <- tapply(
    answers$count * answers$points,
    factor(answers$item, quiz$items$item),
    sum,
    na.rm = TRUE
  )
  expect_equal(as.vector(points), with(summarise_items(quiz), n * mean_points))
  options <- summarise_options(quiz)
  whole <- subset(answers, item %in% c("Q17", "Q19"))
  parts <- subset(options, item %in% c("Q17", "Q19"))
  expect_equal(parts$near_miss[match(whole$answer, parts$option)], whole$near_miss)
})

test_that("the demo's planted slips are found, said, and offered to be accepted", {
  said <- paste(
    run_here("options", demo_path(), "--item", "Q15,Q17,Q19,Q21,Q22,Q24")$out,
    collapse = "\n"
  )
  for (text in c(
    "Nearly right: eb (11) and ebbe (6) for \"ebb\".",
    "0.42 (5, a factor of 10) and 4 (4, rounding)",
    "The most common wrong order is C>B>D>A (21): A and B swapped.",
    "Swaps: A and B (21), A and D (5)", "The most common wrong pair is 1=C (9).",
    "1=C;2=B;3=A (9): 1 and 2 swapped", "The most common wrong set is C (13): A missing",
    "23 answers wait for a mark"
  )) {
    expect_match(said, text, fixed = TRUE)
  }
  command <- regmatches(said, regexpr("--accept \"Q17=eb\" --accept \"Q17=ebbe\"", said))
  expect_length(command, 1)
  quiz <- read_sitting(demo_path())
  near <- suggest_accepts(quiz)
  expect_equal(near$value, c("eb", "ebbe", "neep tide"))
  after <- adjust(quiz, near$action, item = near$item, value = near$value)
  right <- function(quiz, name) {
    with(summarise_items(quiz), (n * mean_points)[item == name])
  }
  expect_equal(right(after, "Q17") - right(quiz, "Q17"), 17)
  expect_equal(right(after, "Q18") - right(quiz, "Q18"), 8)
  expect_equal(nrow(suggest_accepts(after)), 0)
})

test_that("many distinct answers are cut short on the screen, and nowhere else", {
  words <- paste0("word", letters, letters)
  quiz <- sitting(
    data.frame(student = seq_along(words), Q1 = words),
    data.frame(item = "Q1", type = "text", key = "tide")
  )
  expect_output(print(summarise_options(quiz)), "and 12 more answers, of 12 students")
  expect_output(print(summarise_answers(quiz)), "and 11 more")
  expect_equal(nrow(summarise_options(quiz)), 27)
})

test_that("who gave an answer is listed by name, or in a column", {
  shown <- run_here("options", demo_path(), "--item", "Q1", "--who")$out
  expect_match(shown, "A: Ada Anchorley, Bela Inlet", all = FALSE)
  table <- jsonlite::fromJSON(
    paste(
      run_here("options", demo_path(), "--item", "Q9", "--who", "--format", "json")$out,
      collapse = "\n"
    )
  )
  expect_equal(lengths(strsplit(table$who, "; ")), table$count)
})

test_that(
  paste0(
    "reasons stand by answer, the right ones first, in the terminal and on the page, ",
    "with names or without"
  ),
  {
    quiz <- read_sitting(demo_path("follow-up"))
    said <- summarise_explanations(quiz)
    expect_equal(unique(said$item), c("F2", "F3"))
    expect_equal(said$option[1], "C")
    for (item in c("F2", "F3")) expect_false(is.unsorted(!said$key[said$item == item]))
    best <- internal("shown_cells")(quiz)
    expect_equal(
      best[
        cbind(
          match(said$student, quiz$students$student),
          match(said$item, quiz$items$item)
        )
      ],
      said$option
    )
    shown <- run_here("explanations", demo_path("follow-up"), "--item", "F2")$out
    expect_match(shown, "=1+1 looks like <b>code</b>", fixed = TRUE, all = FALSE)
    expect_match(shown, "\\(Ada Anchorley, ", all = FALSE)
    hidden <- run_here("explanations", demo_path("follow-up"), "--no-names")$out
    expect_false(any(grepl("Ada|h001", hidden)))
    expect_match(hidden, "10 students)", all = FALSE, fixed = TRUE)
    expect_match(run_here("explanations", demo_path())$err, "no explanations")
    page <- function(names) {
      paste(
        readLines(write_report(quiz, tempfile(), names = names), encoding = "UTF-8"),
        collapse = ""
      )
    }
    with <- page(TRUE)
    expect_true(grepl("=1+1 looks like \\u003cb>code", with, fixed = TRUE))
    expect_false(grepl("looks like <b>code", with, fixed = TRUE))
    without <- page(FALSE)
    # One student's own words are one student's.
    expect_false(grepl("moon is still there", without, fixed = TRUE))
    expect_false(grepl("Anchorley", without, fixed = TRUE))
  }
)

test_that(
  "reasons and comments beside a question of a wide table are the same as in a long one",
  {
    wide <- data.frame(
      student = c("a", "b"),
      Q1 = c("A", "B"),
      `Q1 explanation` = c("because", ""),
      `Q1 comment` = c("", "see me"),
      `Q1 seconds` = c(3, 8),
      check.names = FALSE
    )
    long <- data.frame(
      student = c("a", "b"),
      item = "Q1",
      response = c("A", "B"),
      explanation = c("because", ""),
      comment = c("", "see me"),
      seconds = c(3, 8)
    )
    items <- data.frame(
      item = "Q1",
      key = "A",
      prompt = paste(rep("word", 28), collapse = " ")
    )
    both <- lapply(list(wide, long), sitting, items = items)
    expect_equal(summarise_explanations(both[[1]]), summarise_explanations(both[[2]]))
    expect_equal(summarise_explanations(both[[1]])$explanation, "because")
    expect_equal(
      internal("comments_of")(both[[1]]),
      internal("comments_of")(both[[2]]),
      ignore_attr = TRUE
    )
    expect_equal(internal("comments_of")(both[[2]])$comment, "see me")
    expect_equal(summarise_time(both[[1]]), summarise_time(both[[2]]))
    # 28 words at 7 a second are 4 seconds
    expect_equal(summarise_time(both[[1]])$too_fast, 1)
  }
)

test_that(
  "times are of answers that count; who clicked through and who was stuck is found",
  {
    quiz <- read_sitting(demo_path("follow-up"))
    times <- summarise_time(quiz)
    expect_equal(times$slowest[times$item == "F7"], "h009")
    expect_equal(times$slowest_seconds[times$item == "F7"], 412)
    one <- internal("answer_seconds")(quiz)[, 1]
    expect_equal(times$median_seconds[1], median(one, na.rm = TRUE))
    expect_equal(times$n[1], sum(!is.na(one)))
    by_student <- summarise_time(quiz, by = "student")
    expect_equal(by_student$student[which.max(by_student$too_fast)], "h047")
    expect_equal(sum(by_student$too_fast), sum(times$too_fast))
    expect_match(
      run_here("time", demo_path("follow-up"), "--by", "student")$out,
      "Edda Quayle-Ness 7",
      all = FALSE
    )
    expect_match(
      run_here("time", demo_path("follow-up"))$out,
      "7 answers came faster than anybody could read",
      all = FALSE
    )
    paper <- run_here("time", demo_path())$out
    expect_match(paste(paper, collapse = " "), "have no times and no second attempts")
    expect_equal(run_here("time", demo_path(), "--by", "section")$status, 2)
  }
)

test_that("a student may write (blank) or (waiting), and that is an answer like any other", {
  responses <- data.frame(
    student = letters[1:8],
    Q1 = c("(blank)", "(blank)", "(waiting)", NA, "ebb", "ebb", "ebb", "flood"),
    Q2 = c("(blank)", "A", "B", NA, "A", "A", "(waiting)", "A"),
    Z = "1"
  )
  quiz <- sitting(
    responses,
    data.frame(
      item = c("Q1", "Q2", "Z"), type = c("text", "choice", "mark"), key = c("ebb", "A", NA)
    ),
    data.frame(item = "Q2", option = c("A", "B"))
  )
  answers <- summarise_answers(quiz)
  of <- function(table, item, column, value) {
    rows <- table[table$item == item & table[[column]] == value, ]
    stats::setNames(rows$count, rows$state)
  }
  expect_equal(of(answers, "Q1", "answer", "(blank)"), c(answered = 2, blank = 1))
  expect_equal(of(answers, "Q1", "answer", "(waiting)"), c(answered = 1))
  options <- summarise_options(quiz)
  expect_setequal(names(of(options, "Q1", "option", "(blank)")), c("answered", "blank"))
  expect_setequal(names(of(options, "Q2", "option", "(blank)")), c("answered", "blank"))
  expect_equal(of(options, "Q2", "option", "(waiting)"), c(answered = 1))
  expect_equal(sum(options$count[options$item == "Q1"]), 8)
  expect_equal(sum(internal("is_wrong")(options) * options$count), 4 + 3)
  expect_equal(subset(summarise_items(quiz), item == "Q1")$omitted, 1)
  who <- internal("who_chose")(quiz)
  expect_equal(who$student[who$item == "Q1" & who$state == "blank"], "d")
  shown <- capture.output(print(options))
  expect_match(shown, "\"(blank)\"", fixed = TRUE, all = FALSE)
  path <- tempfile(fileext = ".html")
  write_report(quiz, path)
  page <- page_after(path, "
    var rows=[].map.call(document.querySelectorAll('#option-table .rt-tbody .rt-tr'),
      function(e){return e.textContent});
    said.typed=rows.filter(function(t){return t.indexOf('\"(blank)\"')>=0}).length;")
  expect_equal(page$faults, list())
  expect_equal(page$typed, 2)
})
