#' A record of sittings over the year
#'
#' One database for all tests of a class or a school: who sat what, every answer,
#' the standards, the changes and the plans. An SQLite file by default; for a school
#' any DBI connection.
#'
#' @param where Path of a file, made when it is not there; or an open DBI connection, in
#'   which the tables `pregunta_*` are made when they are not there. Tested with SQLite
#'   and PostgreSQL (RPostgres); another database has to take their plain SQL.
#' @param make Whether to make it when it is not there.
#' @return An object of class `pregunta_record`, to be given to [add_sitting()],
#'   [growth()] and the others; `close_record()` closes the file. A connection that you
#'   opened stays open.
#' @details The tables carry the version of their schema. One made by an earlier
#'   version is brought up to date in one transaction; one of a later version is
#'   refused. What is written is written whole or not at all, and writers take turns: two
#'   processes that add at once lose nothing.
#' @section Errors: `pregunta_error_record` when the file is no database or belongs to
#'   another program, was made by a later version, cannot be written, is locked, or when
#'   the server goes away; what was there stays as it was.
#' @export
#' @examples
#' record <- open_record(tempfile(fileext = ".sqlite"))
#' add_sitting(record, read_sitting(demo_path()), "tides")
#' recorded_sittings(record)
#' close_record(record)
open_record <- function(where, make = TRUE) {
  if (is.character(where)) {
    return(without_empty(where, prepared_record(file_record(where, make), make)))
  }
  prepared_record(connection_record(where), make)
}

prepared_record <- function(record, make) {
  force(record)
  tryCatch(prepare_record(record, make), error = function(e) {
    close_record(record)
    stop(e)
  })
  if (!record$server) {
    check_database_objects(record$connection, character(), abort_record)
  }
  record
}

# Seconds that another writer is waited for: adding a large sitting takes a few.
record_patience <- 30

file_record <- function(path, make) {
  if (!make && !file.exists(path)) {
    abort_record(
      say("record.is_not_there", name = quoted(path)),
      say("record.add_a_sitting_first")
    )
  }
  check_database_file(path, abort_record)
  connection <- tryCatch(
    connect_file(path, record_patience),
    error = function(e) {
      abort_record_trouble(path, conditionMessage(e))
    }
  )
  new_record(connection, path, own = TRUE)
}

connection_record <- function(connection) {
  if (!inherits(connection, "DBIConnection")) {
    abort_pregunta(
      "call",
      say("record.a_record_is_kept"),
      say("record.given", connection = class(connection)[1]),
      say("record.give_the_path_of")
    )
  }
  new_record(connection, say("record.the_database"), own = FALSE)
}

new_record <- function(connection, name, own) {
  is <- function(kinds) inherits(connection, kinds)
  structure(
    list(
      connection = connection,
      name = name,
      own = own,
      server = !is("SQLiteConnection"),
      numbered = is(c("PqConnection", "PostgreSQLConnection"))
    ),
    class = "pregunta_record"
  )
}

#' @rdname open_record
#' @param record What `open_record()` gave.
#' @export
close_record <- function(record) {
  check_is_record(record)
  if (record$own) DBI::dbDisconnect(record$connection)
  invisible()
}

#' @export
print.pregunta_record <- function(x, ...) {
  sittings <- nrow(recorded_sittings(x))
  said <- say(
    "record.a_record_in_sittings",
    name = x$name,
    n = sittings
  )
  cat(printable(said), "\n", sep = "")
  invisible(x)
}

# ---- asking and writing ------------------------------------------------------------

# As many question marks as there are values, for a list of them.
value_marks <- function(n) paste(rep("?", n), collapse = ", ")

# What students typed reaches the database as bound values alone. A question mark
# stands for each; PostgreSQL wants them numbered.
spelled <- function(record, sql) {
  if (!record$numbered) return(sql)
  parts <- strsplit(paste0(sql, " "), "?", fixed = TRUE)[[1]]
  marks <- c(paste0("$", seq_len(length(parts) - 1)), "")
  if (length(parts) == 1) return(sql)
  trimws(paste0(parts, marks, collapse = ""))
}

ask_record <- function(record, sql, ...) {
  check_is_record(record)
  values <- unname(list(...))
  in_record(record, {
    if (length(values)) {
      DBI::dbGetQuery(
        record$connection,
        spelled(record, sql),
        params = values
      )
    } else {
      DBI::dbGetQuery(record$connection, sql)
    }
  })
}

write_record <- function(record, sql, ...) {
  values <- unname(list(...))
  if (length(values)) {
    DBI::dbExecute(
      record$connection,
      spelled(record, sql),
      params = values
    )
  } else {
    DBI::dbExecute(record$connection, sql)
  }
}

append_record <- function(record, table, rows) {
  if (nrow(rows)) {
    DBI::dbAppendTable(
      record$connection,
      paste0("pregunta_", table),
      rows
    )
  }
}

# Everything in `code` is written or nothing is; other writers wait until it is
# done: on a server they wait for the one row that each touches first. After a
# failure the connection is as before, if it is still there.
with_turn <- function(record, code) {
  in_record(record, {
    DBI::dbExecute(
      record$connection,
      if (record$server) "BEGIN" else "BEGIN IMMEDIATE"
    )
    done <- FALSE
    on.exit(
      if (!done) {
        try(DBI::dbExecute(record$connection, "ROLLBACK"), silent = TRUE)
      }
    )
    if (record$server) {
      DBI::dbExecute(
        record$connection,
        "UPDATE pregunta_record SET version = version"
      )
    }
    value <- force(code)
    DBI::dbExecute(record$connection, "COMMIT")
    done <- TRUE
    value
  })
}

# What a database says becomes an error in three parts.
in_record <- function(record, code) {
  tryCatch(code, error = function(e) {
    if (inherits(e, "pregunta_error")) stop(e)
    abort_record_trouble(record$name, conditionMessage(e))
  })
}

abort_record <- function(what, fix) abort_pregunta("record", what, NULL, fix)

abort_record_trouble <- function(name, said) {
  said <- gsub("\n", " ", said)
  if (grepl("locked|busy|lock timeout", said)) {
    abort_pregunta(
      "record",
      say("record.the_record_is_locked", name = quoted(name)),
      said,
      say("record.try_again_in_a")
    )
  }
  if (grepl("readonly|read-only|permission denied", said)) {
    abort_pregunta(
      "record",
      say("record.the_record_may_not", name = quoted(name)),
      said,
      say("record.see_who_may_write")
    )
  }
  if (grepl("connection|server closed|terminat", said)) {
    abort_pregunta(
      "record",
      say("record.the_server_of_the", name = quoted(name)),
      said,
      say("record.see_that_it_runs")
    )
  }
  abort_pregunta(
    "record",
    say("record.the_record_could_not", name = quoted(name)),
    said,
    say("record.see_that_it_is")
  )
}
