# The plan: what to teach again, to whom and why.

demo <- read_sitting(demo_path())

test_that(
  paste0(
    "the standards chosen are those with the largest sum of needs, priority ones half ",
    "as much again"
  ),
  {
    plan <- plan_reteach(demo, most = 6)
    # What is known of a score is a Beta distribution, with the help of the rest of the
    # test: from its mean and 95% interval.
    shortfall <- function(estimate, low, high, cut) {
      n <- stats::uniroot(function(n) {
        stats::qbeta(0.975, estimate * n, (1 - estimate) * n) -
          stats::qbeta(0.025, estimate * n, (1 - estimate) * n) - (high - low)
      }, c(1, 1e5), tol = 1e-9)$root
      integrate(function(p) {
        pmax(0, cut - p) * dbeta(p, estimate * n, (1 - estimate) * n)
      }, 0, cut)$value
    }
    scores <- summarise_standards(demo, by = "student", helped = TRUE)
    scores <- scores[
      !scores$code %in% c("TC.1", "TC.2") & !is.na(scores$share) & scores$share < 0.7,
    ]
    need <- mapply(
      shortfall, scores$estimate, scores$estimate_low, scores$estimate_high, 0.7
    ) *
      ifelse(scores$emphasis == "priority", 1.5, 1)
    expected <- sort(tapply(need, scores$code, sum), decreasing = TRUE)
    expect_equal(plan$code, names(expected))
    expect_equal(plan$need, as.vector(expected), tolerance = 1e-4)
    expect_equal(plan_reteach(demo, most = 2)$code, plan$code[1:2])
    expect_equal(plan$below, as.vector(table(factor(scores$code, plan$code))))
  }
)

test_that(
  paste0(
    "a plan says what shows a standard, what is behind it, and who learns it in one ",
    "group only"
  ),
  {
    plan <- plan_reteach(demo, most = 3)
    one <- plan[plan$code == "TC.1.a", ]
    expect_match(one$cause, "The wind makes the tides")
    expect_match(
      one$know,
      paste0(
        "Be able to: explain how moon and sun make the tides. Know: Tides do not need ",
        "wind."
      ),
      fixed = TRUE
    )
    expect_match(plan$cause[plan$code == "TC.2.b"], "Q14.* spread as with guessing")
    expect_match(
      plan_reteach(demo, most = 6)$settle[
        match("TC.1.b", plan_reteach(demo, most = 6)$code)
      ],
      "Q7"
    )
    named <- unlist(strsplit(gsub("[^,|]*:", ",", plan$students), "[,|] *"))
    named <- trimws(named[nzchar(trimws(named))])
    expect_equal(anyDuplicated(named), 0)
    groups <- attr(plan, "groups")
    expect_setequal(named, groups$student[groups$role == "learns"])
    expect_true(all(groups$topic[groups$role == "learns"] %in% plan$code))
  }
)

test_that(
  "what was typed stays when the plan is made again, also on a standard no longer chosen",
  {
    folder <- demo_copy()
    expect_equal(run_here("plan", folder)$status, 0)
    path <- file.path(folder, "plan.csv")
    typed <- read.csv(path, check.names = FALSE)
    typed$activity[2] <- "=walk to the pier, <b>watch</b>"
    typed$day[3] <- "Tuesday"
    typed$room <- c("", "7", "")
    write.csv(typed, path, row.names = FALSE, na = "")
    # A document that nobody has written into is made anew, another stays.
    document <- file.path(folder, "plan.docx")
    expect_equal(run_here("plan", folder)$status, 0)
    expect_false(file.exists(file.path(folder, "plan-2.docx")))
    cat("written into", file = document, append = TRUE)
    bytes <- tools::md5sum(document)
    again <- run_here("plan", folder, "--most", "1")
    expect_equal(again$status, 0)
    expect_identical(tools::md5sum(document), bytes)
    kept <- read.csv(path, check.names = FALSE)
    expect_equal(kept$code, typed$code)
    expect_equal(kept$activity[2], "'=walk to the pier, <b>watch</b>") # no formula
    expect_equal(kept$day[3], "Tuesday")
    expect_equal(kept$room[2], 7)
    expect_true(file.exists(file.path(folder, "plan-2.docx")))
    expect_equal(is.na(kept$need), c(FALSE, TRUE, TRUE))
    shown <- officer::docx_summary(
      officer::read_docx(file.path(folder, "plan-2.docx"))
    )$text
    expect_equal(sum(grepl("^[0-9][.] TC", shown)), 1)
    expect_match(
      shown[which(shown == "From the earlier plan") + 1],
      paste0(typed$code[2], ": =walk to the pier")
    )
    run_here("plan", folder)
    expect_equal(read.csv(path)$activity[2], kept$activity[2])
  }
)

test_that("a document opens, holds all of it as text, and without names none of them", {
  plan <- plan_reteach(demo)
  plan$activity[1] <- "<w:p> & \"quotes\" \u0007"
  path <- tempfile(fileext = ".docx")
  write_plan(plan, path, "Tides & <Currents>", "2026-09-14", names = FALSE)
  text <- officer::docx_summary(officer::read_docx(path))$text
  expect_true("Plan: Tides & <Currents>" %in% text)
  expect_true("<w:p> & \"quotes\" " %in% text)
  expect_false(any(grepl("h0[0-9]{2}", text)))
  expect_match(text, "^[0-9]+ students$", all = FALSE)
  expect_true(
    "B They get much smaller (46%); the idea \u201cThe wind makes the tides\u201d" %in% text
  )
  expect_true("A Anticlockwise (24%); spread, as with guessing" %in% text)
  expect_false(any(grepl("Lio Ebbing", text)))
  markdown <- write_plan(plan, tempfile(fileext = ".md"))
  expect_match(readLines(markdown), "Lio Ebbing", all = FALSE)
  expect_match(
    readLines(markdown),
    "- **Activity:** \\<w:p\\> & ",
    all = FALSE,
    fixed = TRUE
  )
  expect_refused(write_plan(plan, tempfile(fileext = ".pdf")), "call", "pdf", ".docx")
})

test_that("the follow-up closes the plan with its figures", {
  folder <- demo_copy()
  run_here("plan", folder)
  said <- run_here("compare", folder, demo_path("follow-up"), "--close")
  expect_match(said$err, "Closed in .*plan.csv: 2 standards of 3")
  closed <- read.csv(file.path(folder, "plan.csv"))
  change <- compare_sittings(demo, read_sitting(demo_path("follow-up")))
  at <- match(closed$code, change$code)
  expect_equal(closed$share_after, round(change$share_after[at], 4), tolerance = 1e-3)
  expect_equal(closed$reached, change$reached[at])
  expect_equal(closed$still_below, change$below[at])
  expect_equal(closed$closed[!is.na(at)], rep("2026-10-05", sum(!is.na(at))))
  again <- run_here("plan", folder)$out
  expect_match(again, "Closed 2026-10-05: ", all = FALSE)
  expect_refused(
    close_plan(
      plan_reteach(demo),
      compare_sittings(demo, read_sitting(demo_path("follow-up")), by = "section"),
      "x"
    ),
    "call",
    "all students"
  )
  expect_equal(
    run_here("compare", demo_path(), demo_path("follow-up"), "--close")$status,
    2
  )
})

test_that("nothing to plan is said, and a broken plan.csv is pointed at", {
  good <- sitting(
    data.frame(student = c("a", "b"), Q1 = c("A", "A")),
    data.frame(item = "Q1", key = "A", standards = "S")
  )
  plan <- plan_reteach(good)
  expect_equal(nrow(plan), 0)
  expect_match(
    capture.output(print(plan)),
    "Nothing needs to be taught again",
    all = FALSE
  )
  folder <- demo_copy()
  writeLines(c("code,activity", "TC.1.a,x", "TC.1.a,y"), file.path(folder, "plan.csv"))
  said <- run_here("plan", folder)
  expect_equal(said$status, 1)
  expect_match(said$err, "line 3")
  expect_equal(readLines(file.path(folder, "plan.csv"))[3], "TC.1.a,y") # untouched
})

test_that("where nobody has a score nothing is said to be well, and a part's plan is its own", {
  items <- data.frame(item = c("Q1", "Q2"), type = "choice", key = "A", standards = "S.1")
  planned <- function(answer) {
    responses <- data.frame(student = c("a", "b", "c"), Q1 = answer, Q2 = answer)
    plan_reteach(sitting(responses, items))
  }
  shown <- function(plan) paste(capture.output(print(plan)), collapse = " ")
  nobody <- planned("")
  expect_identical(attr(nobody, "well"), "Nobody has a score yet.")
  expect_null(attr(nobody, "nothing"))
  expect_no_match(shown(nobody), "0 of 0|taught again")
  expect_match(shown(planned("A")), "3 of 3 students reached.*Nothing needs to be taught again")
  expect_no_match(shown(planned("B")), "Nothing needs")
  path <- function(...) basename(internal("plan_path")("t", list(...)))
  expect_identical(path(section = c("B", "A")), path(section = c("A", "B")))
  parts <- list("A", "A+", "a", "\u00c1", c("A", "B"), "A,B", "A B")
  paths <- vapply(parts, function(one) path(section = one), "")
  expect_identical(anyDuplicated(paths), 0L)
  expect_identical(path(section = "Harbour A"), "plan-section-harbour-a.csv")
  expect_true(all(internal("is_plan_name")(paths)))
})
