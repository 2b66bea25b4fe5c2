# A desk for many: each their own key, rows and files.

people_file <- function(...) {
  file.path(folder_of(people.yml = c(...)), "people.yml")
}

own_key <- "key-of-bo-day-which-is-long"

open_school <- function(env = parent.frame(), ...) {
  people <- people_file(
    "Ada Bay: all", "Bo Day:", "  sections: Harbour A", paste0("  key: ", own_key),
    "Cy Moor: [Nowhere]"
  )
  desk <- open_desk_here(env, more = c("--people", people, ...))
  lines <- strsplit(desk$address, "\t", fixed = TRUE)
  desk$people <- stats::setNames(vapply(lines, `[[`, "", 2), vapply(lines, `[[`, "", 1))
  desk
}

test_that("each has a key and sees the students of their sections, or all", {
  desk <- open_school()
  expect_named(desk$people, c("Ada Bay", "Bo Day", "Cy Moor"))
  expect_match(desk$people[["Bo Day"]], own_key, fixed = TRUE)
  tides <- file.path(desk$folder, "tides")
  whole <- read_sitting(tides)$students
  others <- whole[!whole$section %in% "Harbour A", ]
  page <- open_page(list(address = desk$people[["Bo Day"]]))
  html <- function() run_js(page, "document.documentElement.outerHTML")
  rooms <- c(
    "", "came", "mark", "questions", "questions/Q7", "students", "students/h001",
    "standards", "next", "give", "show", paste0("students/", others$student[1])
  )
  for (room in rooms) {
    go_place(page, paste0("#tides/", room))
    shown <- html()
    told <- c(others$student, setdiff(others$name, whole$name[whole$section %in% "Harbour A"]))
    told <- told[!is.na(told) & nzchar(told)]
    found <- told[vapply(told, grepl, TRUE, shown, fixed = TRUE)]
    # What was asked for stands in no page either.
    expect_identical(found, character(), label = room)
  }
  expect_match(text_of(page, "nav"), "Bo Day")
  go_place(page, "#tides/type")
  typed <- run_js(page, "[...document.querySelectorAll('.typing tr')].map(r => r.dataset.student)")
  expect_setequal(
    unlist(typed), whole$student[whole$section %in% "Harbour A"]
  )
  # Figures of these students only, the same as on the command line.
  own <- narrow_sitting(read_sitting(tides), section = "Harbour A")
  go_place(page, "#shelf")
  expect_match(text_of(page), paste0(internal("percent")(summarise_test(own)$mean_share)))
  # Nobody's page says that there is no test of theirs.
  nobody <- open_page(list(address = desk$people[["Cy Moor"]]))
  expect_match(text_of(nobody), "No test here has students of Nowhere")
  go_place(nobody, "#tides/came")
  expect_match(text_of(nobody), "no such place")
})

test_that("a part changes the marks of its own students only, and the list says who did", {
  only_in_all()
  desk <- open_school()
  tides <- file.path(desk$folder, "tides")
  list_path <- file.path(tides, "adjustments.csv")
  run_here("adjust", tides, "--student", "h040", "--item", "Q24", "--points", "1")
  before <- readLines(list_path)
  page <- open_page(list(address = desk$people[["Bo Day"]]))
  go_place(page, "#tides/came")
  tell <- function(...) {
    tell_act(page, ...)
    text_of(page, "#done")
  }
  refused <- list(
    list(act = "change", action = "key", item = "Q7", value = "C"),
    list(act = "change", action = "extra", value = "1"),
    list(act = "change", action = "points", item = "Q24", student = "h040", value = "3"),
    list(act = "change", action = "points", item = "Q24", student = "h999", value = "3"),
    list(act = "try", action = "drop", item = "Q7"),
    list(act = "undo", lines = "2"),
    list(act = "undo", lines = "2,3"),
    list(act = "type", rows = "[{\"student\":\"h040\",\"Q1\":\"A\"}]"),
    list(act = "type-over", cells = jsonlite::toJSON(data.frame(
      student = "h040", column = "Q1", there = "A", typed = "B"
    ))),
    list(act = "undo-add"),
    list(act = "make-demo")
  )
  for (one in refused) {
    said <- do.call(tell, one)
    expect_match(
      said,
      "more than the marks of your own|nobody has|who sees all|not in students|changed since"
    )
    expect_identical(readLines(list_path), before, label = one$act)
  }
  said <- tell(
    act = "change", action = "points", item = "Q24", student = "h001", value = "2",
    reason = "reads well"
  )
  expect_match(said, "Done: Ada Anchorley has 2 on Q24")
  # An answer that others gave too is marked for one's own.
  press_one <- tell(act = "mark", item = "Q23", answer = "14", points = "1")
  expect_match(press_one, "Q23")
  list_now <- read.csv(list_path, colClasses = "character")
  mine <- list_now[list_now$who == "Bo Day", ]
  sections <- read_sitting(tides)$students
  expect_setequal(sections$section[match(mine$student, sections$student)], "Harbour A")
  all <- open_page(list(address = desk$people[["Ada Bay"]]))
  go_place(all, "#tides/came")
  expect_match(text_of(all), "reads well Bo Day")
  expect_match(paste(run_here("adjust", tides), collapse = "\n"), "Bo Day")
})

test_that("what a part makes is a file of its own, and others' files are not there for it", {
  only_in_all()
  desk <- open_school()
  tides <- file.path(desk$folder, "tides")
  writeLines("<p>all</p>", file.path(tides, "report.html"))
  writeLines("<p>Cy</p>", file.path(tides, "report-for-cy-moor.html"))
  page <- open_page(list(address = desk$people[["Bo Day"]]))
  go_place(page, "#tides/give")
  press(page, "button[data-kind='head']")
  wait_for(function() grepl("Made: ", text_of(page, "#done")))
  own <- "report-head-for-bo-day.html"
  expect_true(file.exists(file.path(tides, own)))
  go_place(page, "#tides/give")
  expect_match(text_of(page), own, fixed = TRUE)
  expect_no_match(text_of(page), "report.html", fixed = TRUE)
  port <- sub(".*:([0-9]+)/.*", "\\1", desk$people[[1]])
  cookie <- function(key) paste0("pregunta-", port, "=", key)
  asked <- function(name, key) {
    ask_desk(
      list(address = desk$people[[1]]), paste0("/made/tides/", name), cookie(key)
    )$status_code
  }
  expect_equal(asked(own, own_key), 200)
  expect_equal(asked("report.html", own_key), 404)
  expect_equal(asked("report-for-cy-moor.html", own_key), 404)
  all_key <- sub(".*key=", "", desk$people[["Ada Bay"]])
  expect_equal(asked("report-for-cy-moor.html", all_key), 200)
  expect_equal(asked(own, "a-key-of-nobody-that-is-long"), 403)
})

test_that("behind a proxy it answers to that name, from that page, with a safe cookie", {
  desk <- open_school(environment(), "--address", "https://desk.school.example")
  expect_match(desk$people[["Bo Day"]], "^https://desk.school.example/[?]key=")
  log <- readLines(desk$log, warn = FALSE)
  expect_no_match(paste(log, collapse = " "), "not encrypted")
  port <- desk$port
  local <- list(address = paste0("http://127.0.0.1:", port, "/"))
  ask <- function(..., path = paste0("/?key=", own_key)) {
    ask_desk(local, path, headers = list(...))
  }
  got <- ask(Host = "desk.school.example", Origin = "https://desk.school.example")
  expect_equal(got$status_code, 303)
  expect_match(rawToChar(got$headers), "SameSite=Strict; Secure")
  expect_equal(ask(Host = "desk.school.example")$status_code, 303)
  for (origin in c("http://desk.school.example", "https://school.example", "null")) {
    got <- ask(Host = "desk.school.example", Origin = origin)
    expect_equal(got$status_code, 403, label = origin)
  }
  expect_equal(ask(Host = "school.example")$status_code, 403)
})

test_that("on all interfaces it answers to the names that it tells, and says what that means", {
  desk <- open_school(environment(), "--interface", "0.0.0.0")
  expect_match(paste(readLines(desk$log), collapse = " "), "is not encrypted")
  told <- sub("^http://([^/]*)/.*", "\\1", desk$people[["Bo Day"]])
  local <- list(address = paste0("http://127.0.0.1:", desk$port, "/"))
  status <- function(host) {
    ask_desk(local, paste0("/?key=", own_key), headers = list(Host = host))$status_code
  }
  expect_equal(status(told), 303)
  expect_equal(status(paste0("192.168.1.20:", desk$port)), 303)
  expect_equal(status(paste0("elsewhere.example:", desk$port)), 403)
})

test_that("a file of people that is not right is refused, with the line and what to do", {
  refused <- function(..., pattern) {
    call <- run_here("desk", demo_path(), "--no-browser", "--people", people_file(...))
    expect_equal(call$status, 1)
    expect_match(paste(call$err, collapse = " "), pattern)
  }
  refused("# nobody", pattern = "names nobody")
  refused("Ada: all", "Bo: []", pattern = "\"Bo\" has no section.*line 2")
  refused("Ada:", "  sections: all", "  key: short", pattern = "key of \"Ada\" is no key")
  long <- "  key: aaaaaaaaaaaaaaaaaaaaaa"
  refused(
    "Ada:", "  sections: all", long, "Bo:", "  sections: all", long,
    pattern = "key of somebody else"
  )
  refused("Bo Day: all", "bo-day: [A]", pattern = "the same but for signs")
  refused("Ada:", "  key: aaaaaaaaaaaaaaaaaaaaaa", pattern = "has no section")
  refused("- Ada", pattern = "people.yml")
  for (wrong in c("eth0", "300.1.1.1", "1.2.3")) {
    call <- run_here("desk", demo_path(), "--no-browser", "--interface", wrong)
    expect_equal(call$status, 2)
    expect_match(paste(call$err, collapse = " "), "no interface")
  }
  for (wrong in c("school.example", "https://school.example/desk", "ftp://x")) {
    call <- run_here("desk", demo_path(), "--no-browser", "--address", wrong)
    expect_equal(call$status, 2)
    expect_match(paste(call$err, collapse = " "), "no address")
  }
})

test_that("who sees a part has a plan of the part, the same as on the command line", {
  only_in_all()
  desk <- open_school()
  tides <- file.path(desk$folder, "tides")
  run_here("plan", tides)
  whole <- readLines(file.path(tides, "plan.csv"))
  page <- open_page(list(address = desk$people[["Bo Day"]]))
  go_place(page, "#tides/next")
  code <- internal("plan_reteach")(
    narrow_sitting(read_sitting(tides), section = "Harbour A")
  )$code[1]
  tell_act(page, act = "plan", code = code, field = "note", value = "with the tide table")
  expect_match(text_of(page, "#done"), paste0(code, ", note: kept in the plan"))
  own <- file.path(tides, "plan-section-harbour-a.csv")
  typed <- read.csv(own, colClasses = "character")
  expect_identical(typed$note[typed$code == code], "with the tide table")
  expect_identical(readLines(file.path(tides, "plan.csv")), whole)
  at_desk <- readLines(own)
  run_here("plan", tides, "--only", "section=Harbour A")
  expect_identical(readLines(own), at_desk)
  refused <- pregunta("plan", tides, "--out", own)
  expect_gt(refused$status, 0)
  expect_identical(readLines(own), at_desk)
  # A report of the part takes it up; one of all takes up the plan of all.
  run_here("report", tides, "--only", "section=Harbour A")
  report <- paste(readLines(file.path(tides, "report.html")), collapse = "\n")
  expect_match(report, "with the tide table", fixed = TRUE)
  run_here("report", tides)
  report <- paste(readLines(file.path(tides, "report.html")), collapse = "\n")
  expect_no_match(report, "with the tide table", fixed = TRUE)
})

test_that("a part types the answers of its own students, and takes back what it typed", {
  only_in_all()
  desk <- open_school()
  tides <- file.path(desk$folder, "tides")
  path <- file.path(tides, "responses.csv")
  before <- readLines(path)
  page <- open_page(list(address = desk$people[["Bo Day"]]))
  go_place(page, "#tides/type")
  students <- read_sitting(tides)$students
  own <- students$student[students$section %in% "Harbour A"]
  table <- read.csv(path, colClasses = "character")
  mine <- table[table$student %in% own, ]
  blank <- mine$student[mine$Q12 == ""][1]
  there <- mine[mine$Q1 != "" & mine$student != blank, ][1, ]
  rows <- jsonlite::toJSON(list(
    list(student = blank, Q12 = "C"),
    list(student = there$student, Q1 = "E")
  ), auto_unbox = TRUE)
  tell_act(page, act = "type", rows = rows)
  said <- text_of(page, "#done")
  expect_match(said, "1 answer kept.*1 differs")
  press(page, "#done button[data-act='type-over']")
  answer_to <- function(student, item) {
    now <- read.csv(path, colClasses = "character")
    now[[item]][now$student == student]
  }
  expect_equal(answer_to(blank, "Q12"), "C")
  expect_equal(answer_to(there$student, "Q1"), "E")
  press(page, "#done button[data-act='put-back']")
  expect_equal(answer_to(there$student, "Q1"), there$Q1)
  expect_equal(answer_to(blank, "Q12"), "C")
  expect_length(readLines(path), length(before))
})

test_that("a part adds answers of its own students and brings in tests of its own sections", {
  only_in_all()
  desk <- open_school()
  tides <- file.path(desk$folder, "tides")
  page <- open_page(list(address = desk$people[["Bo Day"]]))
  columns <- strsplit(readLines(file.path(tides, "responses.csv"), 1), ",")[[1]]
  sheet <- function(name, students, section = NULL) {
    folder <- tempfile("late-")
    dir.create(folder)
    path <- file.path(folder, name)
    asked <- paste0("Q", 1:8)
    writeLines(c(
      paste(c("Student", if (length(section)) "Section", asked), collapse = ","),
      vapply(students, function(id) {
        paste(c(id, section, rep(c("A", "B", "C", "D"), 2)), collapse = ",")
      }, "")
    ), path)
    path
  }
  go_place(page, "#tides/came")
  expect_no_match(run_js(page, "document.body.innerHTML"), "late_key")
  state <- function() tools::md5sum(list.files(tides, "[.](csv|yml)$", full.names = TRUE))
  before <- state()
  for (other in c("h040", "new1")) {
    drop_files(page, "#late", sheet("late.csv", other))
    wait_for(function() grepl("not of Harbour A", text_of(page)))
    expect_match(text_of(page), paste0("\"", other, "\""), fixed = TRUE)
    press(page, "[data-act='forget']")
  }
  expect_identical(state(), before)
  others <- read_sitting(tides)$students
  others <- others[!others$section %in% "Harbour A", ]
  drop_files(page, "#late", sheet("late.csv", c("new1", "new2"), "Harbour A"))
  wait_for(function() grepl("Add it to the test", text_of(page)))
  # The rows that are shown are theirs.
  shown <- text_of(page)
  named <- c(others$student, others$name)
  named <- named[!is.na(named) & nzchar(named)]
  expect_false(any(vapply(named, grepl, TRUE, shown, fixed = TRUE)))
  press(page, "[data-act='keep']")
  now <- read_sitting(tides)$students
  expect_equal(now$section[now$student %in% c("new1", "new2")], rep("Harbour A", 2))
  press(page, "#done button[data-act='undo-add']")
  expect_identical(state(), before)
  # A test of their own: their section where none is said, no other one.
  go_place(page, "#new")
  drop_files(page, "#arriving", sheet("unit.csv", c("b1", "b2", "b3"), "Harbour B"))
  wait_for(function() grepl("Only results of Harbour A", text_of(page)))
  press(page, "[data-act='forget']")
  drop_files(page, "#arriving", sheet("unit.csv", c("b1", "b2", "b3")))
  wait_for(function() grepl("Keep as a test", text_of(page)))
  press(page, "form[data-act='keep'] button")
  wait_for(function() grepl("No question has a key", text_of(page)))
  press(page, "[data-key='later']")
  press(page, "form[data-act='keep'] button")
  wait_for(function() dir.exists(file.path(desk$folder, "unit")))
  settle(page)
  made <- read_sitting(file.path(desk$folder, "unit"))
  expect_equal(made$students$section, rep("Harbour A", 3))
  go_place(page, "#shelf")
  expect_match(text_of(page), "unit")
})
