# What the databases share that lie in a file of their own: SQLite files that say
# in their first bytes what they are.

sqlite_start <- c(charToRaw("SQLite format 3"), as.raw(0))

# refuse: what to do with (what, fix) when the path cannot be such a file.
check_database_file <- function(path, refuse) {
  need_package("RSQLite")
  if (dir.exists(path)) {
    refuse(
      say("record-file.is_a_folder_not", path = quoted(path)),
      say("record-file.give_the_name_of")
    )
  }
  if (!dir.exists(dirname(path))) {
    refuse(
      say("record-file.lies_in_no_folder", path = quoted(path)),
      say("record-file.make_the_folder_first")
    )
  }
  if (!file.exists(path) || file.size(path) == 0) return(invisible())
  if (!identical(readBin(path, "raw", 16), sqlite_start)) {
    refuse(
      say("record-file.is_no_database", path = quoted(path)),
      say("record-file.name_another_file_this")
    )
  }
}

# Views and triggers run when a database is read: other ones than ours are not for that.
# known: the statements that made it.
check_database_objects <- function(connection, known, refuse) {
  found <- DBI::dbGetQuery(
    connection,
    "SELECT name, sql FROM sqlite_master WHERE type IN ('view', 'trigger')"
  )
  bare <- function(sql) gsub("[ \t\r\n]+", " ", sql)
  foreign <- !bare(found$sql) %in% bare(known)
  if (!any(foreign)) return(invisible())
  refuse(
    say("record-file.holds_what_runs", name = quoted(found$name[foreign][1])),
    say("record-file.name_another_file_this")
  )
}

# Runs what makes or opens a database; one that was not there and got nothing into it,
# as on a full disk, does not stay. is_empty: asked of its path.
without_empty <- function(path, code, is_empty = function() file.size(path) == 0) {
  there <- file.exists(path)
  tryCatch(code, error = function(e) {
    if (!there && file.exists(path) && is_empty()) {
      unlink(paste0(path, c("", "-journal", "-wal", "-shm")))
    }
    stop(e)
  })
}

# All of it or none. A full disk ends a transaction by itself; what is told then is the
# disk's word, not that there is nothing to take back.
in_transaction <- function(connection, code) {
  DBI::dbBegin(connection)
  done <- FALSE
  on.exit(if (!done) try(DBI::dbRollback(connection), silent = TRUE))
  force(code)
  DBI::dbCommit(connection)
  done <- TRUE
  code
}

# Also who only reads opens it for writing: what a killed process left half done
# is taken back then. A file that may not be written to is read as it is.
# patience: seconds that a locked file is waited for.
connect_file <- function(path, patience) {
  note_read(path)
  writable <- !file.exists(path) || file.access(path, 2) == 0
  flags <- if (writable) RSQLite::SQLITE_RWC else RSQLite::SQLITE_RO
  connection <- DBI::dbConnect(
    RSQLite::SQLite(),
    path,
    flags = flags,
    synchronous = NULL
  )
  RSQLite::sqliteSetBusyHandler(connection, as.integer(patience * 1000))
  connection
}
