# Several databases, each with some of the students, are counted as one.

changes <- c(
  "student,item,action,value,reason", ",Q1,key,B,", ",Q2,credit,,", ",Q4,drop,,",
  "s005,Q3,points,1,", "s006,Q5,excuse,,", "s121,Q6,points,2,", ",,extra,1,", "s007,,extra,2,"
)

in_order <- function(rows) rows[order(rows$student, method = "radix"), ]

# Who is where: by turns.
turns <- function(rows, n = 2) match(rows$student, unique(rows$student)) %% n

test_that("students in several databases come to what they come to in one file", {
  only_in_all()
  said <- list(
    changed = NULL,
    all_else = c("missing_rows: not given\nexclude: [s00?, \"s1*\"]\nsmallest_group: 6")
  )
  for (name in names(said)) {
    folder <- if (name == "changed") odd_folder(adjustments.csv = changes) else odd_folder()
    rows <- in_order(odd_rows(seed = match(name, names(said))))
    shards <- open_sitting(shards_folder(folder, said[[name]], rows, turns(rows)))
    expect_s3_class(shards, "pregunta_shards")
    filed <- read_sitting(filed_folder(folder, said[[name]], rows))
    expect_counted_alike(shards, filed, label = name)
    by <- c("school", "section")
    for (figure in c("test", "items")) {
      expect_equal(
        as.data.frame(stored_figures[[figure]](shards, by)),
        as.data.frame(stored_figures[[figure]](filed, by)),
        tolerance = 1e-12, ignore_attr = TRUE, label = paste(name, figure)
      )
    }
  }
})

test_that("who has rows in several of them, an empty one, and several processes", {
  only_in_all()
  rows <- in_order(odd_rows())
  folder <- odd_folder(adjustments.csv = changes)
  filed <- read_sitting(filed_folder(folder, NULL, rows))
  part <- turns(rows)
  # s009 to s015 sat in both places, the very first student as well.
  both <- rows$student %in% c(rows$student[1], sprintf("s%03d", 9:15))
  part[both] <- rep_len(0:1, sum(both))
  made <- shards_folder(folder, NULL, rows, part)
  empty <- DBI::dbConnect(RSQLite::SQLite(), file.path(made, "part2.sqlite"))
  DBI::dbWriteTable(empty, "answers", rows[0, ])
  DBI::dbDisconnect(empty)
  setting <- readLines(file.path(made, "test.yml"))
  writeLines(sub("part1.sqlite]", "part1.sqlite, part2.sqlite]", setting), file.path(made, "test.yml"))
  expect_counted_alike(open_sitting(made), filed, label = "in both")
  withr::local_options(pregunta.cores = 2)
  expect_counted_alike(open_sitting(made), filed, label = "at once")
  read <- read_sitting(made)
  expect_equal(
    as.data.frame(summarise_students(read)),
    as.data.frame(summarise_students(filed)),
    ignore_attr = TRUE
  )
  # The command line knows such a folder as any other.
  told <- pregunta("items", made, "--format", "csv")
  expect_identical(told$status, 0L)
  expect_identical(
    told$out,
    pregunta("items", filed_folder(folder, NULL, rows), "--format", "csv")$out
  )
})

test_that("open connections are taken as well, with lists of students in each", {
  only_in_all()
  rows <- in_order(odd_rows())
  folder <- odd_folder()
  part <- turns(rows)
  items <- read.csv(file.path(folder, "items.csv"), colClasses = "character")
  options <- read.csv(file.path(folder, "options.csv"), colClasses = "character")
  pupils <- read.csv(file.path(folder, "students.csv"), colClasses = "character")
  connections <- lapply(0:1, function(k) {
    one <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
    DBI::dbWriteTable(one, "answers", rows[part == k, ])
    # s003 is on both lists.
    here <- unique(rows$student[part == k])
    late <- setdiff(pupils$student, rows$student)
    mine <- pupils$student %in% c(here, "s003", if (k) late)
    DBI::dbWriteTable(one, "pupils", pupils[mine, ])
    one
  })
  on.exit(lapply(connections, DBI::dbDisconnect))
  shards <- sitting_in_database(connections, "answers", items, options, "pupils")
  filed <- read_sitting(filed_folder(folder, NULL, rows))
  expect_counted_alike(shards, filed, label = "open")
  there <- DBI::dbListTables(connections[[1]])
  expect_setequal(there[!startsWith(there, "sqlite_")], c("answers", "pupils"))
  DBI::dbExecute(connections[[2]], "ALTER TABLE answers ADD COLUMN seconds REAL")
  expect_error(
    sitting_in_database(connections, "answers", items, options, "pupils"),
    "seconds",
    class = "pregunta_error_database"
  )
})

test_that("one of several that is gone is an error, and names no secret", {
  only_in_all()
  rows <- odd_rows()
  made <- shards_folder(odd_folder(), NULL, rows, turns(rows))
  shards <- open_sitting(made)
  unlink(file.path(made, "part1.sqlite"))
  expect_error(summarise_items(shards), class = "pregunta_error_database")
  expect_error(open_sitting(made), "part1.sqlite", class = "pregunta_error_database")
  writeLines("not a database", file.path(made, "part1.sqlite"))
  withr::local_options(pregunta.cores = 2)
  expect_error(summarise_items(shards), class = "pregunta_error_database")
  for (wrong in c("[]", "[part0.sqlite, part0.sqlite]", "{a: b, c: d}")) {
    folder <- folder_of(
      items.csv = c("item,key", "Q1,A"),
      test.yml = paste0("responses: {connection: ", wrong, ", table: answers}")
    )
    about <- if (grepl("part0", wrong)) "twice" else "connection"
    expect_error(open_sitting(folder), about, class = "pregunta_error")
  }
})

test_that("each server counts its own, and only totals and the students apart leave it", {
  only_in_all()
  skip_on_cran()
  server <- start_postgres()
  on.exit(stop_postgres(server, "immediate"))
  connect <- function(name) {
    DBI::dbConnect(
      RPostgres::Postgres(),
      host = server$room, port = server$port, user = "teacher", dbname = name
    )
  }
  main <- connect_postgres(server)
  rows <- in_order(odd_rows())
  part <- turns(rows, 3)
  for (k in 0:2) {
    name <- paste0("school", k)
    DBI::dbExecute(main, paste("CREATE DATABASE", name))
    one <- connect(name)
    DBI::dbWriteTable(one, "answers", rows[part == k, ])
    DBI::dbDisconnect(one)
  }
  DBI::dbDisconnect(main)
  folder <- odd_folder()
  addresses <- paste0(
    "postgresql://teacher@", utils::URLencode(server$room, reserved = TRUE), ":",
    server$port, "/school", 0:2
  )
  made <- filed_folder(folder, NULL, rows)
  unlink(file.path(made, "responses.csv"))
  cat(
    "responses:\n  connection:\n", paste0("  - ", addresses, "\n"), "  table: answers\n",
    file = file.path(made, "test.yml"), append = TRUE, sep = ""
  )
  withr::local_options(pregunta.cores = 2)
  expect_counted_alike(
    open_sitting(made), read_sitting(filed_folder(folder, NULL, rows)),
    label = "three servers"
  )
  # Each was read, and by itself.
  scans <- vapply(0:2, function(k) {
    one <- connect(paste0("school", k))
    on.exit(DBI::dbDisconnect(one))
    as.numeric(DBI::dbGetQuery(
      one, "SELECT seq_scan FROM pg_stat_user_tables WHERE relname = 'answers'"
    )[[1]])
  }, 0)
  expect_true(all(scans >= 2))
  # One that went away is an error without the address's secrets.
  stored <- open_sitting(made)
  stop_postgres(server, "immediate")
  expect_error(summarise_items(stored), class = "pregunta_error_database")
})
