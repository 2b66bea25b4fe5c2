# The class at work: figures of half a class, its claims, and the faces that follow it.

look <- function(live, ...) internal("look_live")(live, ...)

test_that("a question is called hard or easy by chance in fewer than one of a hundred classes", {
  # Half of the points are earned; every answer from the 10th to the 100th is a look.
  sign <- internal("live_sign")
  around <- internal("wilson_interval")
  classes <- 4000
  set.seed(5)
  right <- matrix(runif(classes * 100) < 0.5, classes)
  so_far <- t(apply(right, 1, cumsum))
  n <- col(so_far)
  share <- so_far / n
  said <- matrix(sign(n, around(share, n, internal("live_z"))), classes)
  for (one in c("most_miss_it", "most_have_it")) {
    expect_lt(mean(rowSums(said == one) > 0), 0.01, label = one)
  }
  expect_true(all(said[, 1:9] == "too_few"))
  # And is called so where it is: one of five has it right, after 40 answers.
  hard <- rbinom(2000, 40, 0.2)
  called <- sign(rep(40, 2000), around(hard / 40, 40, internal("live_z"))) == "most_miss_it"
  expect_gt(mean(called), 0.7)
})

test_that("nobody is called stuck while the class is silent, or before eight have answered", {
  stuck <- internal("live_stuck")
  took <- matrix(c(seq(20, 40, length.out = 10), rep(NA, 10)), 10)
  last <- c(rep(0, 9), 190)
  at <- function(now, place = 1L, times = took) {
    stuck(rep(place, 10), last, times, now)$stuck
  }
  expect_equal(at(200), c(rep(TRUE, 9), FALSE))
  # The limit: twice what nine of ten took, here 2 x 38.
  expect_equal(at(60), rep(FALSE, 10))
  expect_equal(at(1000), rep(FALSE, 10))
  expect_equal(at(200, 2L), rep(FALSE, 10))
  expect_equal(at(200, times = took[1:7, ]), rep(FALSE, 10))
  expect_equal(at(200, NA_integer_), rep(FALSE, 10))
})

test_that("each is at what they opened, else behind their last answer, else at a gap", {
  there <- rbind(
    c(TRUE, TRUE, FALSE, FALSE), c(TRUE, FALSE, TRUE, TRUE), rep(TRUE, 4), rep(FALSE, 4)
  )
  place <- internal("live_place")
  expect_equal(place(there, rep(NA, 4)), c(3L, 2L, NA, 1L))
  expect_equal(place(there, c(4, 1, 1, 2)), c(4L, 2L, NA, 2L))
})

# A class of some students that answered some questions through the store.
answered_folder <- function(statements) {
  folder <- unsat_demo()
  store <- internal("open_store")(folder)
  for (part in split(statements, seq_along(statements) %/% 40)) {
    internal("store_statements")(store, unname(part), "x")
  }
  folder
}

test_that("what is seen live is what the folder says, whichever try counts", {
  only_in_all()
  events <- internal("class_events")(read_sitting(demo_path()), 60)
  folder <- answered_folder(events$statement[!duplicated(vapply(events$statement, `[[`, "", "id"))])
  receiver <- internal("new_receiver")(folder)
  test <- internal("test_of_receiver")(receiver, basename(folder))
  internal("fold")(test)
  internal("close_receiver")(receiver)
  for (attempts in c("best", "first", "last", "mean")) {
    writeLines(paste("attempts:", attempts), file.path(folder, "test.yml"))
    live <- internal("open_live")(folder)
    expect_true(look(live))
    quiz <- read_sitting(folder)
    row <- match(live$students, quiz$students$student)
    share <- internal("cell_points")(quiz) / rep(quiz$items$points, each = nrow(quiz$codes))
    state <- internal("cell_state_names")[internal("cell_states")(quiz)]
    there <- matrix(state %in% c("answered", "pending"), nrow(share))
    expect_equal(live$cells$there, there[row, ], ignore_attr = TRUE, label = attempts)
    seen <- live$cells$there & !is.na(live$cells$share) & !is.na(share[row, ])
    # Marks above the most that a question gives do not count in the folder.
    expect_equal(
      pmin(1, live$cells$share[seen]), pmin(1, share[row, ][seen]),
      label = attempts
    )
  }
})

test_that("a file that is half written, locked or gone for a moment is waited for", {
  folder <- plain_folder()
  responses <- file.path(folder, "responses.csv")
  whole <- readLines(responses)
  live <- internal("open_live")(folder)
  seen <- function() internal("view_live")(live)
  expect_true(look(live))
  expect_equal(seen()$table$right, c(2L, 2L))
  expect_false(look(live))
  broken <- list(
    gone = function() unlink(responses),
    empty = function() writeLines(character(), responses),
    half = function() writeLines(c(whole[1:2], "b,\"B"), responses),
    ragged = function() writeLines(c(whole, "d,A,B,C,D"), responses),
    locked = function() {
      unlink(responses)
      dir.create(responses)
    }
  )
  for (how in names(broken)) {
    broken[[how]]()
    look(live)
    expect_equal(seen()$table$right, c(2L, 2L), label = how)
    unlink(responses, recursive = TRUE)
    writeLines(whole, responses)
    Sys.setFileTime(responses, Sys.time() + match(how, names(broken)))
    look(live)
    expect_null(seen()$trouble, label = how)
  }
  writeLines(c(whole, "d,A,B"), responses)
  expect_true(look(live, Sys.time() + 5))
  expect_equal(seen()$table$right, c(3L, 3L))
  expect_equal(seen()$table$fresh, c(1L, 1L))
})

schema_columns <- function(name) {
  path <- system.file("schema", paste0(name, ".schema.json"), package = "pregunta")
  jsonlite::fromJSON(path, simplifyVector = FALSE)$items$properties
}

test_that("watch without a terminal is one table; the counts are those of the class", {
  only_in_all()
  events <- internal("class_events")(read_sitting(demo_path()), 60)
  half <- events[events$time < 25, ]
  folder <- answered_folder(half$statement[!duplicated(vapply(half$statement, `[[`, "", "id"))])
  said <- run_here("watch", folder)
  expect_match(said$out[2], "^7[0-9] of 84 have begun")
  expect_false(any(grepl("\033", said$out)))
  table <- jsonlite::fromJSON(paste(run_here("watch", folder, "--format", "json")$out, collapse = ""))
  expect_equal(table$item, paste0("Q", 1:24))
  counts <- c("right", "partly", "wrong", "waiting", "not_yet")
  expect_true(all(rowSums(table[counts]) == 84))
  expect_named(table, names(schema_columns("watch")))
  expect_true(all(table$sign[rowSums(table[counts[1:3]]) < 10] == "too_few"))
  # Names of those who are stuck are shown, or not at all.
  live <- internal("open_live")(folder)
  look(live, Sys.time() + 100)
  live$last[] <- as.numeric(Sys.time())
  live$last[1] <- as.numeric(Sys.time()) - 5000
  live$now <- as.numeric(Sys.time())
  live$at[1] <- NA
  view <- function(people) internal("view_live")(live, people)
  if (nrow(view(TRUE)$stuck)) expect_false(is.na(view(TRUE)$stuck$label[1]))
  expect_true(all(is.na(view(FALSE)$stuck$label)))
  # At the desk the sentence stands twice: for who sees names, and for who hides them.
  stuck <- data.frame(label = "Ada <b>", item = "Q1", since = 200, limit = 90)
  page <- as.character(htmltools::tagList(internal("stuck_html")(stuck)))
  expect_match(page, "<span class=\"who\">Ada &lt;b&gt; has been at Q1", fixed = TRUE)
  expect_match(page, "<span class=\"alias\">Somebody has been at Q1", fixed = TRUE)
})

test_that("in a terminal it is drawn in place, and Ctrl+C ends it", {
  skip_on_cran()
  skip_if_not(nzchar(Sys.which("script")), "no terminal to be had")
  folder <- plain_folder()
  typed <- tempfile()
  exec <- Sys.getenv("PREGUNTA_EXEC")
  process <- processx::process$new(
    "script",
    c("-qfc", paste("stty rows 30 cols 100;", exec, "watch", folder), typed),
    pty = TRUE
  )
  defer_here(process$kill_tree(), environment())
  shown <- function() paste(readLines(typed, warn = FALSE), collapse = "\n")
  wait_for(function() file.exists(typed) && grepl("3 of 3 have begun", shown()))
  cat("d,A,B\n", file = file.path(folder, "responses.csv"), append = TRUE)
  wait_for(function() grepl("4 of 4 have begun", shown()))
  expect_match(shown(), "\033[H", fixed = TRUE)
  # Nothing but what moves the cursor, wipes and colours.
  bare <- gsub("\033\\[([?]25[lh]|[HJK]|2J|[0-9;]*m)", "", shown())
  expect_no_match(bare, "\033|\\[K")
})

test_that("the made-up class answers through the protocol, the same every time", {
  only_in_all()
  folder <- tempfile("class-")
  said <- processx::run(
    Sys.getenv("PREGUNTA_EXEC"), c("demo", "--class", folder, "--minutes", "0.1"),
    error_on_status = FALSE
  )
  expect_equal(said$status, 0, label = said$stderr)
  lines <- readLines(file.path(folder, "statements.jsonl"))
  events <- internal("class_events")(read_sitting(demo_path()), 6)
  expect_setequal(
    vapply(lines, function(line) jsonlite::fromJSON(line)$id, "", USE.NAMES = FALSE),
    unique(vapply(events$statement, `[[`, "", "id"))
  )
  expect_gt(anyDuplicated(vapply(events$statement, `[[`, "", "id")), 0)
  expect_equal(sum(summarise_students(read_sitting(folder))$status != "absent"), 80)
})

test_that("the desk follows the class, at its own address, with names off for all to see", {
  only_in_all()
  folder <- tempfile("shelf-")
  dir.create(folder)
  file.rename(unsat_demo(), file.path(folder, "tides"))
  desk <- open_desk_here(folder = folder)
  page <- open_page(desk)
  go_place(page, "#tides")
  expect_match(text_of(page), "while they work")
  expect_match(text_of(page), "No answer has come yet")
  press(page, "#main summary")
  told <- vapply(1:3, function(k) text_of(page, sprintf("#main dd:nth-of-type(%d)", k)), "")
  receiver <- list(base = sub("/xapi$", "", told[1]), user = told[2], key = told[3])
  for (k in 1:12) {
    got <- ask_receiver(
      receiver,
      method = "POST",
      body = as_json(a_statement(sprintf("h%03d", k), "Q1", if (k < 12) "A" else "B"))
    )
    expect_equal(got$status, 200)
  }
  # How soon is measured by bench/live.R.
  wait_for(function() grepl("12 of 84 have begun", text_of(page)))
  bar <- run_js(page, "document.querySelector('.live-bar').getAttribute('aria-label')")
  expect_equal(bar, "11 right, 0 partly, 1 wrong, 72 not yet")
  # What was opened stays open while answers come.
  expect_true(run_js(page, "document.querySelector('#main details').open"))
  go_place(page, "#tides/live/large")
  wait_js(page, "document.querySelector('table.live.large')")
  expect_no_match(text_of(page, "#main"), "h0")
  # Into the folder, where every place and the command line see it.
  wait_for(function() file.exists(file.path(folder, "tides", "responses.csv")))
  go_place(page, "#tides/questions")
  wait_for(function() grepl("Q1", text_of(page, "#main")))
  # Without the test's key nothing is taken; with a person's cookie neither.
  wrong <- ask_receiver(receiver, method = "POST", body = as_json(a_statement()), key = "x")
  expect_equal(wrong$status, 401)
  cookie <- ask_desk(desk, "/xapi/statements", cookie_of(desk))
  expect_equal(cookie$status_code, 401)
})

test_that("a folder that is itself a test nobody has sat opens where the class is followed", {
  only_in_all()
  desk <- open_desk_here(folder = unsat_demo())
  page <- open_page(desk)
  expect_match(text_of(page, "#main"), "No answer has come yet")
  user <- internal("user_of")(normalizePath(desk$folder))
  receiver <- list(
    base = sub("/[?].*", "", desk$address), user = user,
    key = internal("key_of_folder")(desk$folder)
  )
  got <- ask_receiver(receiver, method = "POST", body = as_json(a_statement()))
  expect_equal(got$status, 200, label = got$text)
  wait_for(function() grepl("1 of 84 has begun", text_of(page, "#main")))
})

test_that("tests that nobody has sat stand on the shelf, each with a name for its statements", {
  folder <- tempfile("shelf-")
  dir.create(folder)
  for (name in c("one", "two")) file.rename(unsat_demo(), file.path(folder, name))
  desk <- open_desk_here(folder = folder)
  page <- open_page(desk)
  expect_match(text_of(page, "#main"), "While they work Type them in")
  for (name in c("one", "two")) {
    receiver <- list(
      base = sub("/[?].*", "", desk$address), user = name,
      key = internal("key_of_folder")(file.path(folder, name))
    )
    got <- ask_receiver(receiver, method = "POST", body = as_json(a_statement()))
    expect_equal(got$status, 200, label = got$text)
    expect_length(readLines(file.path(folder, name, "statements.jsonl")), 1)
  }
})
