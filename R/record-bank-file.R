# The file of a bank: its schema with a version, and what can be wrong with it.

# The number by which a bank is known among SQLite files, and its schema's version.
bank_stamp <- 1347569473L # the letters PRGA
bank_version <- 1L

bank_schema <- c(
  "CREATE TABLE item (id INTEGER PRIMARY KEY, type TEXT NOT NULL, key TEXT,
    points REAL NOT NULL, scoring TEXT,
    prompt TEXT, rationale TEXT, mark TEXT NOT NULL UNIQUE)",
  "CREATE TABLE item_option (item_id INTEGER NOT NULL REFERENCES item,
    place INTEGER NOT NULL, option TEXT NOT NULL,
    text TEXT, misconception TEXT)",
  "CREATE TABLE item_standard (item_id INTEGER NOT NULL REFERENCES item,
    code TEXT NOT NULL, title TEXT,
    own INTEGER NOT NULL)",
  paste0(
    "CREATE TABLE tag (item_id INTEGER NOT NULL REFERENCES item, name TEXT NOT NULL, ",
    "value TEXT NOT NULL)"
  ),
  "CREATE TABLE item_use (item_id INTEGER NOT NULL REFERENCES item, item TEXT NOT NULL,
    test TEXT NOT NULL, date TEXT,
    n REAL, difficulty REAL, difficulty_low REAL, difficulty_high REAL,
    discrimination REAL, discrimination_low REAL,
    discrimination_high REAL, upper_lower REAL, reason TEXT)",
  "CREATE VIEW kept_item AS SELECT i.id, u.item, i.type, i.prompt, i.key, i.points,
    (SELECT group_concat(code, ';') FROM item_standard s WHERE s.item_id = i.id
    AND s.own = 1) AS standards,
    (SELECT group_concat(name || '=' || value, ';') FROM tag t
    WHERE t.item_id = i.id) AS tags,
    (SELECT count(*) FROM item_use c WHERE c.item_id = i.id) AS uses, coalesce(u.date,
    u.test) AS last_used,
    u.n, u.difficulty, u.discrimination, u.reason
    FROM item i JOIN item_use u ON u.rowid = (SELECT l.rowid FROM item_use l
    WHERE l.item_id = i.id
      ORDER BY l.date DESC, l.rowid DESC LIMIT 1)"
)

# Made when a place is first kept: banks of before have none, and need none.
bank_places <- paste(
  "CREATE TABLE IF NOT EXISTS item_place (item_id INTEGER NOT NULL REFERENCES item,",
  "test TEXT NOT NULL, date TEXT, place REAL NOT NULL, se REAL, steps TEXT)"
)

# Seconds that a locked bank is waited for.
bank_patience <- 2

# What makes a bank is one step with what is first kept in it.
with_bank <- function(path, run, make = FALSE) {
  check_database_file(path, abort_bank)
  without_empty(path, in_bank(path, run, make))
}

in_bank <- function(path, run, make) {
  connection <- tryCatch(
    connect_file(path, bank_patience),
    error = function(e) {
      abort_bank_trouble(path, conditionMessage(e))
    }
  )
  on.exit(DBI::dbDisconnect(connection))
  ready <- function() {
    prepare_bank(connection, path, make)
    check_database_objects(connection, bank_schema, abort_bank)
    run(connection)
  }
  tryCatch(
    if (make) in_transaction(connection, ready()) else ready(),
    error = function(e) {
      if (inherits(e, "pregunta_error")) {
        stop(e)
      } else {
        abort_bank_trouble(path, conditionMessage(e))
      }
    }
  )
}

require_bank <- function(path) {
  check_is_path(path)
  if (file.exists(path)) return(invisible())
  abort_bank(
    say("record-bank-file.is_not_there", path = quoted(path)),
    say("record-bank-file.keep_some_items_first")
  )
}

prepare_bank <- function(connection, path, make) {
  ask <- function(what) DBI::dbGetQuery(connection, paste("PRAGMA", what))[[1]]
  mark <- ask("application_id")
  version <- ask("user_version")
  empty <- DBI::dbGetQuery(
    connection,
    "SELECT count(*) AS n FROM sqlite_master"
  )$n == 0
  if (empty && make) return(make_bank(connection))
  if (mark != bank_stamp) {
    abort_bank(
      say("record-bank-file.is_a_database_but", path = quoted(path)),
      say("record-bank-file.name_another_file_this")
    )
  }
  if (version > bank_version) {
    abort_bank(
      say(
        "record-bank-file.was_made_by_a",
        path = quoted(path),
        version = version,
        bank_version = bank_version
      ),
      say("record-bank-file.install_the_newer_pregunta")
    )
  }
}

make_bank <- function(connection) {
  for (line in bank_schema) DBI::dbExecute(connection, line)
  DBI::dbExecute(connection, paste("PRAGMA application_id =", bank_stamp))
  DBI::dbExecute(connection, paste("PRAGMA user_version =", bank_version))
}

abort_bank <- function(what, fix) abort_pregunta("bank", what, NULL, fix)

abort_bank_trouble <- function(path, said) {
  if (grepl("locked|busy", said)) {
    abort_pregunta(
      "bank",
      say("record-bank-file.the_bank_is_locked", path = quoted(path)),
      said,
      say("record-bank-file.close_the_other_program")
    )
  }
  abort_pregunta(
    "bank",
    say("record-bank-file.the_bank_could_not", path = quoted(path)),
    said,
    say("record-bank-file.see_that_the_file")
  )
}
