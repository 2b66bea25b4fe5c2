# The tables of a record, and the steps that bring one of an earlier version up
# to date. A step that has been released is never changed: the next one follows.

# The number by which a record is known among SQLite files.
record_stamp <- 1347569490L # the letters PRGR

record_steps <- list(
  c(
    # 1: sittings with all that was in them
    "CREATE TABLE pregunta_record (version INTEGER NOT NULL)",
    "INSERT INTO pregunta_record VALUES (0)",
    "CREATE TABLE pregunta_sitting (id INTEGER PRIMARY KEY, name TEXT NOT NULL,
      revision INTEGER NOT NULL,
      current INTEGER NOT NULL, title TEXT, date TEXT NOT NULL, kind TEXT, period TEXT,
      students INTEGER,
      fingerprint TEXT NOT NULL, added TEXT NOT NULL, settings TEXT NOT NULL)",
    "CREATE TABLE pregunta_person (id INTEGER PRIMARY KEY, student TEXT NOT NULL UNIQUE,
      name TEXT, section TEXT,
      seen TEXT)",
    "CREATE TABLE pregunta_presence (sitting INTEGER NOT NULL, person INTEGER NOT NULL,
      section TEXT, status TEXT,
      about TEXT)",
    "CREATE TABLE pregunta_item (sitting INTEGER NOT NULL, place INTEGER NOT NULL,
      item TEXT NOT NULL,
      type TEXT NOT NULL, key TEXT, points DOUBLE PRECISION NOT NULL, scoring TEXT,
      standards TEXT, prompt TEXT,
      rationale TEXT, tags TEXT, mark TEXT NOT NULL, n INTEGER,
      difficulty DOUBLE PRECISION,
      discrimination DOUBLE PRECISION)",
    "CREATE TABLE pregunta_option (sitting INTEGER NOT NULL, place INTEGER NOT NULL,
      item TEXT NOT NULL,
      option TEXT NOT NULL, text TEXT, misconception TEXT)",
    "CREATE TABLE pregunta_standard (sitting INTEGER NOT NULL, place INTEGER NOT NULL,
      code TEXT NOT NULL, parent TEXT,
      title TEXT, emphasis TEXT)",
    "CREATE TABLE pregunta_response (sitting INTEGER NOT NULL, place INTEGER NOT NULL,
      person INTEGER NOT NULL,
      answer TEXT, points DOUBLE PRECISION, state TEXT)",
    "CREATE TABLE pregunta_score (sitting INTEGER NOT NULL, person INTEGER NOT NULL,
      code TEXT NOT NULL,
      earned DOUBLE PRECISION NOT NULL, open DOUBLE PRECISION NOT NULL)",
    "CREATE TABLE pregunta_adjustment (sitting INTEGER NOT NULL, place INTEGER NOT NULL,
      student TEXT, item TEXT,
      action TEXT, value TEXT, reason TEXT)",
    "CREATE INDEX pregunta_response_at ON pregunta_response (sitting)",
    "CREATE INDEX pregunta_score_at ON pregunta_score (sitting, person)",
    "CREATE INDEX pregunta_presence_at ON pregunta_presence (sitting)",
    "CREATE INDEX pregunta_presence_of ON pregunta_presence (person)"
  ),
  c(
    # 2: plans, a row a field
    "CREATE TABLE pregunta_plan (sitting INTEGER NOT NULL, place INTEGER NOT NULL,
      code TEXT NOT NULL,
      field TEXT NOT NULL, value TEXT)"
  )
)

record_version <- function() length(record_steps)

prepare_record <- function(record, make) {
  in_record(record, {
    # asked once: another process may be making them
    tables <- DBI::dbListTables(record$connection)
    there <- "pregunta_record" %in% tables
    if (!there && record$own && length(tables)) {
      abort_record(
        say("record-schema.is_a_database_but", name = quoted(record$name)),
        say("record-schema.name_another_file_this")
      )
    }
    if (!there && !make) {
      abort_record(
        say("record-schema.holds_no_sittings_yet", name = quoted(record$name)),
        say("record-schema.add_one_first_pregunta")
      )
    }
    version <- if (there) {
      DBI::dbGetQuery(
        record$connection,
        "SELECT version FROM pregunta_record"
      )$version
    } else {
      0L
    }
    if (version > record_version()) {
      abort_record(
        say(
          "record-schema.was_made_by_a",
          name = quoted(record$name),
          version = version,
          record_version = record_version()
        ),
        say("record-schema.install_the_newer_pregunta")
      )
    }
    if (version < record_version()) bring_up_to_date(record)
  })
}

# In one transaction; another process may have been quicker.
bring_up_to_date <- function(record) {
  run <- function(sql) DBI::dbExecute(record$connection, sql)
  run(if (record$server) "BEGIN" else "BEGIN IMMEDIATE")
  done <- FALSE
  on.exit(if (!done) try(run("ROLLBACK"), silent = TRUE))
  if (record$numbered) {
    run(paste0("SELECT pg_advisory_xact_lock(", record_stamp, ")"))
  }
  there <- DBI::dbExistsTable(record$connection, "pregunta_record")
  version <- if (there) {
    DBI::dbGetQuery(
      record$connection,
      "SELECT version FROM pregunta_record"
    )$version
  } else {
    0L
  }
  for (step in seq_len(record_version())[seq_len(record_version()) > version]) {
    for (sql in record_steps[[step]]) run(sql)
    run(paste("UPDATE pregunta_record SET version =", step))
  }
  if (!record$server) run(paste("PRAGMA application_id =", record_stamp))
  run("COMMIT")
  done <- TRUE
}
