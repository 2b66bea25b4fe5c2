# The follow-up: new questions on weak standards for those who need it.

demo <- read_sitting(demo_path())
pool <- read_pool(demo_path("pool"))

# A pool of choice items, two options each, on these standards.
pool_of <- function(standards, difficulty = rep(NA_real_, length(standards)),
                    discrimination = difficulty) {
  items <- data.frame(
    item = sprintf("N%02d", seq_along(standards)),
    key = "A",
    standards = standards,
    prompt = paste("New question", seq_along(standards))
  )
  path <- folder_of(items.csv = "")
  write.csv(items, file.path(path, "items.csv"), row.names = FALSE, na = "")
  pool <- read_pool(path)
  pool$figures$difficulty <- difficulty
  pool$figures$discrimination <- discrimination
  pool
}

test_that(
  "each standard has its least, the rest by need, and nothing that was used before",
  {
    drawn <- draw_followup(demo, pool, length = 8, least = 2)
    expect_equal(nrow(drawn), 8)
    counts <- table(drawn$standards)
    expect_true(all(counts >= 2))
    expect_setequal(names(counts), plan_reteach(demo)$code)
    # the most pressing has most
    expect_equal(counts[[plan_reteach(demo)$code[1]]], max(counts))
    same <- draw_followup(demo, read_pool(demo_path("pool")), length = 8, least = 2)
    expect_identical(drawn, same)
    old <- read_pool(demo_path()) # the very questions of the test
    expect_refused(
      draw_followup(demo, old),
      "call",
      "No question could be drawn",
      "24 questions in it they had before"
    )
    record <- open_record(tempfile(fileext = ".sqlite"))
    again <- sitting(
      data.frame(student = "h001", P11 = "C", P12 = "A"),
      pool$items[11:12, ],
      pool$options[pool$options$item %in% c("P11", "P12"), ],
      settings = list(date = "2026-09-30")
    )
    add_sitting(record, again, "between")
    third <- draw_followup(
      demo,
      pool,
      used = list(items_asked(record, demo$students$student))
    )
    expect_false(any(c("P11", "P12") %in% third$from))
    expect_equal(items_asked(record, "h002"), character())
    close_record(record)
    second <- draw_followup(
      demo,
      pool,
      used = list(sitting(
        data.frame(student = "x", P11 = "C"),
        pool$items[11, ],
        pool$options[pool$options$item == "P11", ]
      ))
    )
    expect_false("P11" %in% second$from)
  }
)

test_that(
  "no other choice of questions misses less or is better, against all there are",
  {
    set.seed(8)
    quiz <- sitting(
      data.frame(student = letters[1:12], Q1 = rep(0:1, 6), Q2 = 0, Q3 = rep(0:2, 4)),
      data.frame(
        item = c("Q1", "Q2", "Q3"),
        type = "mark",
        points = c(1, 1, 2),
        standards = c("A", "B", "C")
      )
    )
    for (round in 1:8) {
      n <- 9
      tags <- vapply(seq_len(n), function(k) {
        paste(sample(c("A", "B", "C", "X"), sample(2, 1)), collapse = ";")
      }, "")
      made <- pool_of(tags, round(runif(n), 2), round(runif(n, 0, 0.6), 2))
      drawn <- tryCatch(
        draw_followup(quiz, made, c("A", "B", "C"), length = 4, least = 1),
        error = function(e) NULL
      )
      if (is.null(drawn)) next
      found <- attr(drawn, "found")
      on <- sapply(found$code, function(code) grepl(code, made$items$standards))
      quality <- (1 -
        abs(made$figures$difficulty - 0.5) +
        pmin(1, made$figures$discrimination)) /
        2
      worth <- function(chosen) {
        missing <- sum(pmax(0, found$wanted - colSums(on[chosen, , drop = FALSE])))
        -10 * missing +
          0.1 * sum(quality[chosen]) -
          0.2 * sum(rowSums(on[chosen, , drop = FALSE]) == 0)
      }
      sets <- unlist(
        lapply(0:4, function(k) combn(n, k, simplify = FALSE)),
        recursive = FALSE
      )
      best <- max(vapply(sets, worth, 0))
      expect_equal(worth(match(drawn$from, made$items$item)), best, tolerance = 1e-4)
    }
  }
)

test_that(
  "what could not be found is said, and a length too short leaves the smallest need out",
  {
    thin <- pool_of(c("TC.2.b", "TC.2.b", "TC.1.c", "X"))
    found <- attr(draw_followup(demo, thin, length = 6, least = 2), "found")
    expect_equal(found$found[match(c("TC.2.b", "TC.1.c", "TC.1.a"), found$code)], c(2, 1, 0))
    expect_match(found$why[found$code == "TC.1.c"], "the pool has 1 that are new")
    expect_match(found$why[found$code == "TC.1.a"], "the pool has 0")
    short <- attr(draw_followup(demo, pool, length = 4, least = 2), "found")
    expect_equal(short$why[3], "no room in this length")
    expect_equal(sum(short$found), 4)
    hard <- pool_of(rep("TC.2.b", 3), c(0.1, 0.5, 0.9))
    expect_equal(
      draw_followup(demo, hard, "TC.2.b", length = 3, difficulty = c(0.4, 0.6))$from,
      "N02"
    )
    expect_refused(draw_followup(demo, pool, "TC.9"), "call", "TC.9")
    expect_refused(draw_followup(demo, pool, students = "nobody"), "call", "nobody")
    able <- sitting(
      data.frame(student = "a", Q1 = "A"),
      data.frame(item = "Q1", key = "A", standards = "TC.2.b")
    )
    expect_refused(draw_followup(able, pool), "call", "Nobody needs a follow-up")
    expect_equal(nrow(draw_followup(able, pool, "TC.2.b", "a", length = 2)), 2)
    lone <- tempfile(fileext = ".csv")
    file.copy(demo_path("pool/items.csv"), lone)
    expect_identical(read_pool(lone)$items$item, read_pool(demo_path("pool"))$items$item)
    expect_refused(read_pool(tempfile()), "bank", "is not there")
  }
)

test_that("it is for those below the cut, and by group each has the form of their need", {
  people <- attr(draw_followup(demo, pool), "people")
  scores <- summarise_standards(demo, by = "student")
  low <- scores[
    scores$code %in% plan_reteach(demo)$code & !is.na(scores$share) & scores$share < 0.7,
  ]
  expect_setequal(people$student, low$student)
  grouped <- draw_followup(demo, pool, forms = "group", length = 3)
  mine <- attr(grouped, "people")
  expect_equal(anyDuplicated(mine$student), 0)
  for (form in unique(grouped$form)) {
    expect_true(all(grouped$standards[grouped$form == form] == form))
  }
  expect_true(all(paste(mine$student, mine$form) %in% paste(low$student, low$code)))
})

test_that("the folder written is a test: it reads, takes answers, and compares", {
  folder <- tempfile("second-")
  said <- run_here(
    "followup",
    demo_path(),
    "--from",
    demo_path("pool"),
    "--length",
    "8",
    "--forms",
    "group",
    "--out",
    folder
  )
  expect_equal(said$status, 0)
  quiz <- read_sitting(folder)
  expect_true(all(quiz$students$status == "absent"))
  rows <- read.csv(
    file.path(folder, "responses.csv"),
    check.names = FALSE,
    colClasses = "character"
  )
  keys <- read.csv(file.path(folder, "items.csv"), colClasses = "character")
  for (item in keys$item) { # everybody gets everything right
    right <- ifelse(
      keys$type[keys$item == item] == "number",
      sub("\u00b1.*", "", keys$key[keys$item == item]),
      sub("\\|.*", "", keys$key[keys$item == item])
    )
    rows[[item]][rows[[item]] == ""] <- right
  }
  write.csv(rows, file.path(folder, "responses.csv"), row.names = FALSE)
  change <- compare_sittings(demo, read_sitting(folder))
  leaf <- change[change$code %in% c("TC.2.b", "TC.1.c"), ]
  expect_equal(leaf$share_after, c(1, 1))
  expect_true(all(leaf$reached == leaf$below_before))
  expect_true(change$chosen_low[1])
  paper <- officer::docx_summary(
    officer::read_docx(list.files(folder, "^paper.*docx$", full.names = TRUE)[1])
  )$text
  expect_true(any(grepl("^1\\.  ", paper)) && any(grepl("Name: ___", paper)))
  # the answers are in the key alone
  expect_false(any(grepl(keys$rationale[1], paper, fixed = TRUE)))
  key <- officer::docx_summary(officer::read_docx(file.path(folder, "key.docx")))$text
  expect_true(all(keys$rationale[nzchar(keys$rationale)] %in% key))
  room <- tempfile("qti-")
  unzip(file.path(folder, "items-qti.zip"), exdir = room)
  files <- list.files(file.path(room, "items"), full.names = TRUE)
  titles <- vapply(
    files,
    function(path) xml2::xml_attr(xml2::read_xml(path), "title"),
    ""
  )
  expect_equal(unname(titles), quiz$items$prompt)
  expect_refused(
    write_followup(draw_followup(demo, pool), folder),
    "output",
    "holds a test already"
  )
  expect_equal(
    list.files(dirname(folder), paste0("^[.]", basename(folder)), all.files = TRUE),
    character()
  )
})

test_that("a bank can be drawn from as well as a folder", {
  bank <- tempfile(fileext = ".sqlite")
  keep_items(read_sitting(demo_path("follow-up")), c("F1", "F5", "F8"), bank)
  kept <- read_pool(bank)
  expect_setequal(kept$items$standards, c("TC.1.a", "TC.1.b", "TC.2.b"))
  expect_false(anyNA(kept$figures$difficulty))
  # had none of the three
  first <- narrow_sitting(demo, item = paste0("Q", c(1, 4:8, 11:13)))
  drawn <- draw_followup(first, kept, c("TC.1", "TC.2"), length = 3, least = 1)
  expect_equal(sort(drawn$standards), c("TC.1.a", "TC.1.b", "TC.2.b"))
  expect_equal(run_here("followup", demo_path(), "--bank", bank)$status, 2)
  path <- tempfile(fileext = ".sqlite")
  record <- open_record(path)
  add_sitting(record, demo, "tides")
  add_sitting(record, read_sitting(demo_path("follow-up")), "again")
  close_record(record)
  asked <- read_pool(path)
  # the eight of the follow-up are among those of the test
  expect_equal(nrow(asked$items), 24)
  last <- summarise_items(read_sitting(demo_path("follow-up")))
  expect_equal(
    asked$figures$difficulty[asked$items$item == "again:F1"],
    last$difficulty[last$item == "F1"]
  )
  expect_setequal(internal("item_fingerprints")(asked), internal("item_fingerprints")(demo))
})
