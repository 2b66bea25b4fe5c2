# The record: what is put in comes out, whole or not at all, on a file and on a server.

demo <- read_sitting(demo_path())
follow_up <- read_sitting(demo_path("follow-up"))

new_file_record <- function() open_record(tempfile(fileext = ".sqlite"))

# Three small sittings of a year: marks of a to d on S.1 and S.2.
small_sitting <- function(date, S1, S2 = NULL, students = letters[seq_along(S1)], ...,
                          settings = list()) {
  marks <- data.frame(student = students, A = S1)
  if (!is.null(S2)) marks$B <- S2
  sitting(
    marks,
    data.frame(
      item = names(marks)[-1],
      type = "mark",
      points = 10,
      standards = c("S.1", "S.2")[seq_along(names(marks)[-1])],
      prompt = paste(names(marks)[-1], date)
    ),
    standards = data.frame(
      code = c("S", "S.1", "S.2"),
      parent = c(NA, "S", "S"),
      title = c("All", "One", "Two")
    ),
    ...,
    settings = c(list(title = paste("Test of", date), date = date), settings)
  )
}

all_rows <- function(record) {
  tables <- setdiff(
    DBI::dbListTables(record$connection),
    c("pregunta_record", "sqlite_sequence")
  )
  lapply(stats::setNames(nm = sort(tables)), function(table) {
    DBI::dbGetQuery(record$connection, paste("SELECT * FROM", table))
  })
}

check_adding <- function(record) {
  expect_equal(add_sitting(record, demo, "tides"), "new")
  before <- all_rows(record)
  expect_equal(add_sitting(record, demo, "tides"), "unchanged")
  expect_identical(all_rows(record), before)
  scores <- before$pregunta_score
  person <- before$pregunta_person
  own <- summarise_standards(demo, by = "student")
  at <- match(
    paste(own$student, own$code),
    paste(person$student[match(scores$person, person$id)], scores$code)
  )
  open <- own$open > 0
  expect_equal(scores$earned[at[open]], own$earned[open])
  expect_equal(scores$open[at[open]], own$open[open])
  answers <- before$pregunta_response
  points <- internal("cell_points")(demo)
  cell <- cbind(
    match(person$student[match(answers$person, person$id)], demo$students$student),
    answers$place
  )
  expect_equal(answers$points, points[cell])
  expect_equal(before$pregunta_option$text, demo$options$text)

  corrected <- adjust(
    demo,
    "key",
    item = "Q7",
    value = "C",
    reason = "half moon is neap tide"
  )
  expect_equal(add_sitting(record, corrected, "tides"), "replaced")
  expect_equal(recorded_sittings(record)$revision, 2)
  history <- recorded_sittings(record, history = TRUE)
  expect_equal(history$current, c(FALSE, TRUE))
  expect_equal(all_rows(record)$pregunta_adjustment$reason, "half moon is neap tide")
  grown <- growth(record, "student", skills = "all")
  right <- summarise_students(corrected)
  whole <- grown[grown$code == "(all)", ]
  expect_equal(whole$share, right$share[match(whole$student, right$student)])

  expect_equal(add_sitting(record, follow_up, "again", plan = plan_reteach(demo)), "new")
  expect_equal(
    sort(unique(all_rows(record)$pregunta_plan$code)),
    sort(plan_reteach(demo)$code)
  )
  expect_refused(
    add_sitting(record, read_sitting(demo_path("knots")), "tides"),
    "input",
    "Another test",
    "--name"
  )
  expect_refused(remove_sitting(record, "tide"), "call", "no sitting", "tides")
  expect_equal(remove_sitting(record, "tides"), 2)
  left <- all_rows(record)
  expect_equal(unique(left$pregunta_response$sitting), left$pregunta_sitting$id)
  expect_setequal(left$pregunta_person$student, follow_up$students$student)
}

test_that("a sitting is added once, corrected, and taken out, in a file", {
  only_in_all()
  check_adding(new_file_record())
})

test_that("and the same on a server; a school's other tables stay as they are", {
  only_in_all()
  server <- start_postgres()
  connection <- connect_postgres(server)
  on.exit(DBI::dbDisconnect(connection))
  DBI::dbWriteTable(connection, "lunch", data.frame(day = "Monday", meal = "soup"))
  check_adding(open_record(connection))
  expect_equal(DBI::dbReadTable(connection, "lunch")$meal, "soup")

  # The server goes away in the middle of an add: nothing is half written.
  record <- open_record(connection)
  known <- recorded_sittings(record)
  other <- small_sitting("2026-11-02", c(1, 2, 3, 4))
  stop_postgres(server, "immediate")
  expect_refused(
    add_sitting(record, other, "late"),
    "record",
    "was lost",
    "Nothing was half written"
  )
  as_server_user(
    server$pg_ctl,
    c(
      "-D", server$data, "-w", "-l", file.path(server$room, "log"), "-o",
      paste0("-p ", server$port, " -k ", server$room, " -c listen_addresses=''"), "start"
    )
  )
  again <- connect_postgres(server)
  on.exit(DBI::dbDisconnect(again), add = TRUE)
  expect_equal(recorded_sittings(open_record(again)), known)

  # Two at once on the server: both are there.
  script <- tempfile(fileext = ".R")
  writeLines(
    c(
      "library(pregunta)",
      paste0("source('", normalizePath(test_path("helper-postgres.R")), "')"),
      paste0(
        "record <- open_record(connect_postgres(list(room = '", server$room, "', port = ",
        server$port, ")))"
      ),
      "name <- commandArgs(TRUE)",
      "add_sitting(record, read_sitting(demo_path(name)), name)"
    ),
    script
  )
  both <- paste(
    shQuote(file.path(R.home("bin"), "Rscript")), script, c("knots", "logbook")
  )
  system(
    paste0(both[1], " & ", both[2], " ; wait"),
    ignore.stdout = TRUE,
    ignore.stderr = TRUE
  )
  expect_true(all(c("knots", "logbook") %in% recorded_sittings(open_record(again))$name))
})

test_that("several processes that add at once to one file lose nothing", {
  path <- tempfile(fileext = ".sqlite")
  script <- tempfile(fileext = ".R")
  writeLines(
    c(
      "library(pregunta)", paste0("record <- open_record('", path, "')"),
      "name <- commandArgs(TRUE)",
      "invisible(add_sitting(record, read_sitting(demo_path(name)), paste0('t-', name)))"
    ),
    script
  )
  calls <- paste(
    shQuote(file.path(R.home("bin"), "Rscript")), script,
    c("knots", "logbook", "follow-up")
  )
  system(
    paste(paste(calls, collapse = " & "), "; wait"),
    ignore.stdout = TRUE,
    ignore.stderr = TRUE
  )
  expect_setequal(
    recorded_sittings(open_record(path))$name,
    c("t-knots", "t-logbook", "t-follow-up")
  )
})

test_that("a process that is killed in the middle of an add leaves the old state", {
  path <- tempfile(fileext = ".sqlite")
  record <- open_record(path)
  add_sitting(record, demo, "tides")
  before <- all_rows(record)
  close_record(record)
  script <- tempfile(fileext = ".R")
  writeLines(
    c(
      "library(pregunta)",
      paste0("record <- open_record('", path, "')"),
      paste0(
        "trace(pregunta:::append_record, quote(if (table == 'adjustment') ",
        "tools::pskill(Sys.getpid(), 9)), print = FALSE,"
      ),
      "  where = asNamespace('pregunta'))",
      "add_sitting(record, read_sitting(demo_path('follow-up')), 'again')"
    ),
    script
  )
  status <- system2(
    file.path(R.home("bin"), "Rscript"),
    script,
    stdout = FALSE,
    stderr = FALSE
  )
  expect_true(status != 0)
  expect_identical(all_rows(open_record(path)), before)
})

test_that(
  paste0(
    "a record of an earlier version is brought up to date, one of a later is refused ",
    "and stays"
  ),
  {
    path <- tempfile(fileext = ".sqlite")
    old <- DBI::dbConnect(RSQLite::SQLite(), path)
    for (sql in internal("record_steps")[[1]]) DBI::dbExecute(old, sql)
    DBI::dbExecute(old, "UPDATE pregunta_record SET version = 1")
    DBI::dbDisconnect(old)
    record <- open_record(path)
    expect_equal(add_sitting(record, demo, "tides", plan = plan_reteach(demo)), "new")
    DBI::dbExecute(record$connection, "UPDATE pregunta_record SET version = 99")
    close_record(record)
    held <- tools::md5sum(path)
    expect_refused(open_record(path), "record", "later version", "99")
    expect_identical(tools::md5sum(path), held)
  }
)

test_that("what is no record is refused and stays as it is", {
  text <- tempfile(fileext = ".sqlite")
  writeLines(strrep("not a database", 20), text)
  expect_refused(open_record(text), "record", "is not a database")
  other <- tempfile(fileext = ".sqlite")
  connection <- DBI::dbConnect(RSQLite::SQLite(), other)
  DBI::dbWriteTable(connection, "recipes", data.frame(a = 1))
  DBI::dbDisconnect(connection)
  held <- tools::md5sum(other)
  expect_refused(open_record(other), "record", "no record of sittings")
  expect_identical(tools::md5sum(other), held)
  expect_refused(open_record(tempfile(), make = FALSE), "record", "is not there")
  expect_refused(open_record(tempdir()), "record", "is a folder")
  expect_refused(open_record(42), "call", "a file or a database")
  kept <- tempfile(fileext = ".sqlite")
  record <- open_record(kept)
  add_sitting(record, demo, "tides")
  close_record(record)
  connection <- DBI::dbConnect(RSQLite::SQLite(), kept, flags = RSQLite::SQLITE_RO)
  only_read <- open_record(connection)
  expect_equal(recorded_sittings(only_read)$name, "tides")
  expect_refused(
    add_sitting(only_read, follow_up, "again"),
    "record",
    "may not be written to",
    "Nothing was changed"
  )
  DBI::dbDisconnect(connection)
  broken <- tempfile(fileext = ".sqlite")
  record <- open_record(broken)
  add_sitting(record, demo, "tides")
  close_record(record)
  bytes <- readBin(broken, "raw", file.size(broken))
  writeBin(c(bytes[1:4096], as.raw(rep(255, length(bytes) - 4096))), broken)
  expect_refused(
    {
      damaged <- open_record(broken)
      recorded_sittings(damaged)
    },
    "record",
    "could not be used")
})

test_that("a sitting without a date is refused, and what students typed is data", {
  record <- new_file_record()
  plain <- choice_sitting(data.frame(c("A", "B", "A"), c("A", "A", "B")))
  expect_refused(add_sitting(record, plain, "x"), "input", "no date", "date: 2026")
  hostile <- sitting(
    data.frame(
      student = c("x'); DROP TABLE pregunta_sitting; --", "?1"),
      Q1 = c("'; --", "a?b")
    ),
    data.frame(item = "Q1", type = "text", key = "a?b"),
    settings = list(title = "O'Neill?", date = "2026-09-01")
  )
  add_sitting(record, hostile, "it's ?")
  expect_equal(recorded_sittings(record)$title, "O'Neill?")
  expect_setequal(test_overview(record)$student, hostile$students$student)
  expect_setequal(all_rows(record)$pregunta_response$answer, c("'; --", "a?b"))
})

# ---- the year -------------------------------------------------------------------------

year <- function() {
  record <- new_file_record()
  add_sitting(
    record,
    small_sitting(
      "2026-09-10",
      c(2, 4, 6, 8),
      c(5, 5, 5, 5),
      students = c("a", "b", "c", "d")
    ),
    "first"
  )
  add_sitting(
    record,
    small_sitting("2026-12-01", c(6, 7, 5), c(8, 9, 10), students = c("a", "b", "c")),
    "second"
  )
  add_sitting(
    record,
    small_sitting("2027-03-01", c(9, 6), students = c("a", "e")),
    "third"
  )
  record
}
terms <- list(
  autumn = "2026-09-01..2026-10-31",
  winter = "2026-11-01..2027-01-31",
  spring = "2027-02-01..2027-04-30"
)

test_that(
  paste0(
    "growth holds each window's own result, carries forward and says so, and knows the ",
    "first time"
  ),
  {
    grown <- growth(year(), windows = terms, skills = "all")
    a <- grown[grown$student == "a" & grown$code == "S.1", ]
    expect_equal(a$window, names(terms))
    expect_equal(a$share, c(0.2, 0.6, 0.9))
    expect_equal(a$carried, c(FALSE, FALSE, FALSE))
    expect_equal(a$gain, c(0, 0.4, 0.7))
    expect_equal(unique(a$first_there), "2027-03-01")
    expect_equal(a$level_since, c("2026-09-10", "2026-12-01", "2027-03-01"))
    two <- grown[grown$student == "a" & grown$code == "S.2", ]
    expect_equal(two$carried, c(FALSE, FALSE, TRUE))
    expect_equal(two$date, c("2026-09-10", "2026-12-01", "2026-12-01"))
    d <- grown[grown$student == "d" & grown$code == "S.1", ]
    expect_equal(d$carried, c(FALSE, TRUE, TRUE))
    expect_equal(nrow(grown[grown$student == "e" & grown$code == "S.2", ]), 0)
    # what the last one covered
    expect_equal(unique(growth(year(), windows = terms)$code), c("(all)", "S", "S.1"))
    class <- growth(year(), by = NULL, windows = terms, skills = "all")
    autumn <- class[class$code == "S.1" & class$window == "autumn", ]
    expect_equal(c(autumn$n, autumn$share, autumn$carried), c(4, 0.5, 0))
    spring <- class[class$code == "S.1" & class$window == "spring", ]
    expect_equal(c(spring$n, spring$share, spring$carried), c(2, 0.75, 3))
    expect_equal(spring$share_carried, mean(c(0.9, 0.6, 0.7, 0.5, 0.8)))
  }
)

test_that(
  paste0(
    "of two results in a window the later stands, and a sitting's own window goes ",
    "before its date"
  ),
  {
    record <- year()
    add_sitting(
      record,
      small_sitting("2026-10-20", c(3, 3), students = c("a", "b")),
      "repeat"
    )
    grown <- growth(record, windows = terms, skills = "all", student = "a")
    expect_equal(grown$share[grown$code == "S.1" & grown$window == "autumn"], 0.3)
    add_sitting(
      record,
      small_sitting("2026-11-05", 7, students = "a", settings = list(window = "autumn")),
      "late one"
    )
    grown <- growth(record, windows = terms, skills = "all", student = "a")
    expect_equal(grown$share[grown$code == "S.1" & grown$window == "autumn"], 0.7)
    expect_refused(
      growth(record, windows = terms[-1]),
      "input",
      "names a window that is not there",
      "autumn"
    )
    expect_refused(
      growth(
        record,
        windows = list(a = "2026-09-01..2026-10-01", b = "2026-09-20..2026-11-01")
      ),
      "input",
      "overlap"
    )
    expect_refused(
      growth(record, windows = list(a = "September")),
      "input",
      "2026-09-01..2026-10-31"
    )
    expect_refused(growth(record, student = "z"), "call", "no student")
  }
)

test_that(
  paste0(
    "students who moved are where they are now, renamed standards are one, dates and ",
    "kinds filter"
  ),
  {
    record <- new_file_record()
    list_of <- function(section) {
      data.frame(student = c("a", "b"), section = section, boat = c("rows", "sails"))
    }
    add_sitting(
      record,
      small_sitting(
        "2026-09-10",
        c(2, 4),
        students = c("a", "b"),
        settings = list(kind = "quiz")
      ),
      "first"
    )
    moved <- sitting(
      data.frame(student = c("a", "b"), A = c(8, 9)),
      data.frame(item = "A", type = "mark", points = 10, standards = "N.1"),
      students = list_of(c("x", "y")),
      settings = list(
        title = "Later",
        date = "2026-12-01",
        kind = "unit",
        renamed = list(S.1 = "N.1")
      )
    )
    add_sitting(record, moved, "second")
    grown <- growth(record, skills = "all", section = "x")
    expect_equal(grown$share[grown$code == "N.1"], c(0.2, 0.8))
    expect_false("S.1" %in% grown$code)
    by_boat <- growth(record, by = "boat", skills = "all")
    expect_setequal(by_boat$boat, c("rows", "sails"))
    expect_refused(growth(record, by = "boats"), "call", "boats", "boat")
    expect_equal(unique(growth(record, skills = "all", kind = "quiz")$sitting), "first")
    expect_equal(
      unique(growth(record, skills = "all", from = "2026-10-01")$sitting),
      "second"
    )
    expect_refused(growth(record, kind = "exam"), "call", "exam")
    overview <- test_overview(record)
    expect_equal(overview$done, c(2, 2))
    expect_equal(overview$first, c(0.2, 0.4))
    expect_equal(overview$mean_share, c(0.5, 0.65))
  }
)

test_that("who is not tested yet in a window is who is on its list or the last before", {
  late <- pending_students(year(), windows = terms)
  expect_equal(late$student, c("b", "c")) # d left before winter, e is tested
  expect_equal(late$last_date, c("2026-12-01", "2026-12-01"))
  winter <- pending_students(year(), windows = terms, window = "winter")
  expect_equal(winter$student, "d")
  expect_equal(attr(winter, "expected"), 4)
  expect_refused(
    pending_students(year(), windows = terms, window = "wintr"),
    "call",
    "winter"
  )
})

test_that(
  paste0(
    "a ladder counts what is passed from the first on, and points at marks that were ",
    "forgotten"
  ),
  {
    scores <- data.frame(
      student = rep(c("p", "q", "r"), each = 3),
      code = rep(c("K1", "K2", "K3"), 3),
      share = c(1, 0.5, 0, 1, NA, 1, 1, 1, 0.7)
    )
    climbed <- climb_ladder(scores, c("K1", "K2", "K3"))
    expect_equal(climbed$passed, c(1, 1, 3))
    expect_equal(climbed$working_on, c("K2", "K2", NA))
    expect_equal(climbed$forgotten, c("", "K2", ""))
    expect_equal(climbed$top, c(FALSE, FALSE, TRUE))
    # the best of several
    better <- rbind(scores, data.frame(student = "p", code = "K2", share = 0.8))
    expect_equal(climb_ladder(better, c("K1", "K2", "K3"))$passed[1], 2)
    expect_refused(climb_ladder(scores, c("K1", "K1")), "call", "each once")
    expect_refused(climb_ladder(scores, c("X", "Y")), "call", "No skill")
  }
)

test_that("growth has the levels and cuts of the tests, and the same students then and now", {
  record <- open_record(tempfile(fileext = ".sqlite"))
  on.exit(close_record(record))
  levels <- list(red = 0, amber = 0.4, green = 0.75)
  once <- function(date, points, students) {
    quiz <- sitting(
      data.frame(student = students, Q1 = points, Q2 = points),
      data.frame(item = c("Q1", "Q2"), type = "mark", points = 10, standards = "S"),
      settings = list(levels = levels, date = date, mastery_cut = 0.75)
    )
    add_sitting(record, quiz, date)
  }
  all <- sprintf("s%02d", 1:30)
  # Nobody changed, and the weak stayed away.
  once("2026-09-01", rep(c(2, 9), each = 15), all)
  once("2026-10-01", rep(9, 15), all[16:30])
  grown <- growth(record, by = NULL)
  expect_true(all(names(levels) %in% names(grown)))
  expect_false("secure" %in% names(grown))
  later <- grown[grown$window == "2026-10-01" & grown$code == "S", ]
  expect_equal(later$share, 0.9)
  expect_equal(c(later$gain, later$gain_n), c(0, 15))
  expect_equal(c(later$green, later$red), c(1, 0))
  expect_false(any(grepl("gain", internal("say_growth")(grown))))
  expect_true(all(grown$share_low >= 0 & grown$share_high <= 1, na.rm = TRUE))
  expect_equal(attr(growth(record), "cut"), 0.75)
})

test_that("a sitting at which nobody was goes into a record", {
  record <- open_record(DBI::dbConnect(RSQLite::SQLite(), ":memory:"))
  quiz <- sitting(
    data.frame(student = c("a", "b"), Q1 = c("", ""), Q2 = c("", "")),
    data.frame(item = c("Q1", "Q2"), key = c("A", "B")),
    settings = list(date = "2026-09-01")
  )
  expect_equal(add_sitting(record, quiz, "nobody"), "new")
  expect_equal(recorded_sittings(record)$name, "nobody")
})

demo_record <- function(env = parent.frame()) {
  path <- file.path(folder_of(env = env), "year.sqlite")
  record <- open_record(path)
  add_sitting(record, read_sitting(demo_path()), "tides")
  add_sitting(record, read_sitting(demo_path("follow-up")), "tides again")
  close_record(record)
  path
}

test_that("growth of groups one inside the other is that of each by itself", {
  record <- open_record(demo_record())
  on.exit(close_record(record))
  nested <- growth(record, c("teacher", "section"), skills = "all")
  figures <- setdiff(names(nested), c("teacher", "section"))
  plain <- function(table) {
    table <- as.data.frame(table)[figures]
    table <- table[order(table$code, table$window), ]
    rownames(table) <- NULL
    table
  }
  for (by in c("teacher", "section")) {
    alone <- growth(record, by, skills = "all")
    for (group in unique(alone[[by]])) {
      mine <- as.data.frame(nested)
      mine <- if (by == "teacher") {
        mine[mine$teacher == group & is.na(mine$section), ]
      } else {
        mine[mine$section %in% group, ]
      }
      expect_equal(
        plain(mine), plain(alone[alone[[by]] == group, ]),
        tolerance = 1e-12, ignore_attr = TRUE, label = group
      )
    }
  }
  expect_refused(growth(record, c("teacher", "shoe")), "call")
})

test_that("who is not tested is counted in groups", {
  record <- open_record(demo_record())
  on.exit(close_record(record))
  who <- pending_students(record)
  groups <- pending_students(record, by = c("teacher", "section"))
  inner <- groups[!is.na(groups$section), ]
  counted <- table(who$section)
  expect_identical(
    inner$pending[match(names(counted), inner$section)], as.integer(counted)
  )
  expect_identical(groups$expected, groups$tested + groups$pending)
  outer <- groups[is.na(groups$section), ]
  expect_identical(sum(outer$expected), 84L)
  for (teacher in outer$teacher) {
    expect_identical(
      outer$pending[outer$teacher == teacher], sum(inner$pending[inner$teacher == teacher])
    )
  }
})

test_that("skills are as they stood in a window, and options that do nothing are refused", {
  path <- demo_record()
  ladder <- c("--ladder", "TC.1.a,TC.1.b", "--format", "csv")
  run <- function(...) run_here("record", ..., "--record", path)
  first <- run("skills", ladder, "--window", "tides")
  expect_identical(first$out, run("skills", ladder, "--until", "2026-09-14")$out)
  expect_false(identical(first$out, run("skills", ladder)$out))
  expect_identical(run("skills", ladder, "--window", "spring")$status, 2L)
  idle <- list(
    c("pending", "--ladder", "x"), c("growth", "--window", "tides"), c("list", "--by", "teacher"),
    c("items", "--section", "Harbour A"), c("tests", "--by", "teacher"),
    c("remove", "tides", "--format", "csv")
  )
  for (call in idle) {
    said <- do.call(run, as.list(call))
    expect_identical(said$status, 2L, label = paste(call, collapse = " "))
    expect_match(said$err, "would do nothing here", fixed = TRUE)
  }
})
