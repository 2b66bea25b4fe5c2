#' A sitting whose responses lie in a database, or in a file too large for memory
#'
#' The responses of a district or a state need not be in a file, nor in memory: they are
#' counted where they lie. `sitting_in_database()` puts a table of responses, a row a
#' student and item, together with the items and the students; `open_sitting()` does so
#' for a test folder whose `test.yml` says where the responses are, and for one whose
#' `responses.csv` is large: that is read in pieces, each of which is counted before the
#' next one is read. Summaries of items,
#' options, answers and the test, the verdicts on them and everything else that takes a
#' tally (see [tally_responses()]) are made of these counts; `read_sitting()`
#' brings all of it into memory, for everything else.
#'
#' @param connection An open DBI connection to any database that dbplyr speaks to, or a
#'   list of several, each of which has a table of some of the students. Tested with
#'   SQLite and PostgreSQL.
#' @param table Name of the table of responses, `schema.table` where it is in a schema.
#' @param items,options,standards,misconceptions,settings,adjustments As for [sitting()].
#' @param students A data frame as for [sitting()], the name of a table of students in
#'   the same database (of several, in each of them), or `NULL`.
#' @param columns What the columns are called in the database where that is not what
#'   [sitting()] calls them, as in `c(student = "pupil_id", response = "answer")`: of
#'   `student`, `item`, `response`, `points`, `attempt`, `status`, `seconds`, `submitted`,
#'   `explanation`, `comment`. Other columns are not looked at.
#' @param folder Path of a test folder. Its `test.yml` says
#'
#' ```
#' responses:
#'   connection: postgresql://reader@host:5432/tests
#'   table: answers
#'   columns: {student: pupil_id, response: answer}
#'   students: pupils
#' ```
#'
#'   A connection is the address of a PostgreSQL server, the password being in the
#'   server's own files (`~/.pgpass`) or the environment (`PGPASSWORD`), or the path of an
#'   SQLite file, from the folder. Without `students` there may be a `students.csv`. In
#'   a folder with a `responses.csv` that file counts. `connection: [ADDRESS, ADDRESS]`
#'   takes several databases as one; they are counted at once.
#' @param megabytes A `responses.csv` up to this size is read, as by [read_sitting()].
#' @return An object of class `pregunta_stored`. `open_sitting()` gives a [sitting()] of a
#'   folder that has its responses in a small file.
#' @details What students typed is only ever a value that is compared, never a part of a
#'   question to the database. Tables that last as long as the session are made for the
#'   counting; the database itself is not changed. What was counted stays with the object:
#'   open it anew when there is more in the database. Who has several attempts, a change
#'   of their own in the list of changes, or an item in two rows is read and settled as
#'   everywhere, and added to the counts of the others. With conditions on columns of the
#'   responses in `exclude`, or groups by anything but a column of the students, all
#'   responses are read.
#'
#'   Of a large file no more than a piece is in memory, whatever its length, and the ids
#'   of its students as numbers. Who has rows in several pieces is counted apart, in a
#'   second pass. A file in which nearly everybody has, such as a long one in the order of
#'   the items, one that is not UTF-8, and one with anything odd in it (a line of another
#'   length, a blank line) is read whole, and `students.csv` always is. With a plan that
#'   was set with `future::plan()` its workers count ranges of the file at once; the
#'   command line takes all cores.
#' @section Errors: `pregunta_error_database` when the database cannot be reached, lacks
#'   the table or a column, or goes away: nothing is written anywhere then.
#' @export
#' @examples
#' \donttest{
#' database <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
#' quiz <- read_sitting(demo_path())
#' long <- data.frame(
#'   student = c("s1", "s1", "s2", "s2"), item = c("Q1", "Q2", "Q1", "Q2"),
#'   response = c("A", "C", "B", "C")
#' )
#' DBI::dbWriteTable(database, "answers", long)
#' items <- data.frame(item = c("Q1", "Q2"), key = c("A", "C"))
#' stored <- sitting_in_database(database, "answers", items)
#' summarise_items(stored)
#' DBI::dbDisconnect(database)
#'
#' # As if the demo's 10 kilobytes were too many to be read at once.
#' open_sitting(demo_path(), megabytes = 0.001) |> summarise_test()
#' }
sitting_in_database <- function(connection, table, items, options = NULL,
                                students = NULL, standards = NULL,
                                misconceptions = NULL, settings = list(),
                                adjustments = NULL, columns = NULL) {
  single <- inherits(connection, "DBIConnection")
  connections <- if (single) list(connection) else as.list(connection)
  open <- vapply(connections, inherits, TRUE, "DBIConnection")
  if (!length(open) || !all(open)) {
    abort_pregunta(
      "call",
      say("read-stored.a_connection_is_wanted"),
      say("record.given", connection = class(connection)[1]),
      say("read-stored.connect_first")
    )
  }
  tables <- list(
    items = items, options = options, students = students, standards = standards,
    misconceptions = misconceptions, adjustments = adjustments
  )
  ask_in <- function(connection) {
    force(connection)
    function() new_stored(connection, table, tables, settings, columns)
  }
  if (length(connections) == 1) return(ask_in(connections[[1]])())
  new_shards(lapply(connections, ask_in), at_once = FALSE)
}

#' @rdname sitting_in_database
#' @export
open_sitting <- function(folder, megabytes = 30) {
  place <- stored_place(folder)
  if (is.null(place)) return(open_file(folder, megabytes))
  tables <- tables_beside(folder)
  if (!is.null(place$students)) tables$students <- place$students
  settings <- settings_in(folder)
  open_at <- function(address) {
    force(address)
    function() {
      connection <- connect_stored(address, folder)
      close <- function() try(DBI::dbDisconnect(connection), silent = TRUE)
      new_stored(connection, place$table, tables, settings, unlist(place$columns), close)
    }
  }
  addresses <- unlist(place$connection)
  if (length(addresses) > 1) return(new_shards(lapply(addresses, open_at), TRUE))
  stored <- open_at(addresses)()
  # It is closed when nobody has it any more.
  reg.finalizer(stored$session, function(session) stored$close(), onexit = TRUE)
  stored
}

# What a folder has beside its responses.
tables_beside <- function(folder) {
  names <- setdiff(folder_tables, "responses")
  tables <- lapply(stats::setNames(nm = names), function(name) read_part(folder, name))
  check_table_sizes(tables, folder)
  tables
}

# A file that is small enough is read.
open_file <- function(folder, megabytes) {
  bytes <- file.size(file.path(folder, "responses.csv"))
  if (is.na(bytes) || bytes <= megabytes * 1e6) return(read_sitting(folder))
  pieces <- open_pieces(folder, max(64, min(piece_bytes, megabytes * 5e5)))
  if (is.null(pieces)) read_sitting(folder) else pieces
}

# What test.yml says of the responses; NULL where they are in a file.
stored_place <- function(folder) {
  check_folder(folder)
  if (!has_stored_responses(folder)) return(NULL)
  complete_settings(settings_in(folder))$responses
}

# A file of responses beside them would be taken for all there is.
stop_if_stored <- function(folder) {
  if (!has_stored_responses(folder)) return(invisible())
  abort_pregunta(
    "output",
    say("read-stored.responses_are_in_a_database", folder = quoted(folder)),
    NULL,
    say("read-stored.bring_them_in_there")
  )
}

# ---- the connection ----------------------------------------------------------------

connect_stored <- function(given, folder) {
  if (is_server_address(given)) return(connect_server(given))
  path <- if (grepl("^(/|~|[A-Za-z]:)", given)) given else file.path(folder, given)
  if (!file.exists(path)) {
    abort_database(
      say("read-stored.there_is_no_file", path = quoted(path)),
      NULL,
      say("read-stored.name_it_from_the_folder")
    )
  }
  need_package("RSQLite")
  connection <- tryCatch({
    note_read(path)
    connection <- DBI::dbConnect(RSQLite::SQLite(), path, flags = RSQLite::SQLITE_RO)
    DBI::dbGetQuery(connection, "SELECT count(*) FROM sqlite_master")
    connection
  }, error = function(e) {
    abort_database(
      say("read-stored.is_no_database", path = quoted(path)),
      conditionMessage(e),
      say("read-stored.give_an_sqlite_file")
    )
  })
  connection
}

connect_server <- function(address) {
  need_package("RPostgres")
  tryCatch(
    do.call(DBI::dbConnect, c(
      list(RPostgres::Postgres(), bigint = "numeric"),
      address_parts(address)
    )),
    error = function(e) {
      abort_database(
        say("read-stored.no_connection", address = without_secrets(address)),
        gsub("\n", " ", without_secrets(conditionMessage(e))),
        say("read-stored.see_that_it_runs")
      )
    }
  )
}

abort_database <- function(what, where, fix) {
  abort_pregunta("database", what, where, fix)
}

# ---- the object --------------------------------------------------------------------

stored_columns <- c(
  "student", "item", "response", "points", "attempt", "status", "seconds", "submitted",
  "explanation", "comment"
)

# What is counted with (see tally-stored.R): settled tables, and the ways to the
# database. session: what was made in it; close: where the connection is ours.
new_stored <- function(connection, table, tables, settings, columns,
                       close = function() NULL) {
  need_package(c("dplyr", "dbplyr"))
  guard <- function(code) told_as_ours(code, table)
  found <- guard(columns_in_database(connection, table, columns))
  if (is.character(tables$students)) {
    tables$students <- guard(collected(table_in(connection, tables$students)))
    tables$students <- text_columns(tables$students)
  }
  known <- without_responses(tables, settings)
  session <- known$session
  session$made <- character()
  stored <- c(known, list(
    name = table,
    columns = found$columns,
    kinds = found$kinds,
    flat = flat_in(connection),
    # Rows that are fetched at once.
    many = max(1, 5e5 * read_at_once()),
    guard = guard,
    count = count_stored,
    answers = function() answers_in(connection, table, found),
    put = function(data) put_in(connection, session, data),
    keep = function(query) keep_in(session, query),
    each = function(query, n, take) each_part(connection, query, n, take),
    size = function() {
      guard(collected(dplyr::count(table_in(connection, table))))$n
    },
    rows = function(ids = NULL) rows_stored(stored, ids),
    some = function(take) some_rows(stored, take),
    several = function() guard(odd_students(stored$answers())),
    clear = function() clear_session(connection, session),
    close = close
  ))
  stored$read <- function(ids = NULL) read_stored(stored, ids)
  structure(stored, class = "pregunta_stored")
}

# All of a test but its responses, settled; what is counted stays with its session.
without_responses <- function(tables, settings) {
  settled <- settled_tables(tables, settings)
  session <- new.env(parent = emptyenv())
  session$tallies <- new.env(parent = emptyenv())
  c(
    settled[c("settings", "items", "options", "standards", "misconceptions")],
    list(
      tables = tables,
      said = settings,
      students = complete_students(tables$students),
      adjustments = complete_adjustments(tables$adjustments),
      session = session
    )
  )
}

# Of items alone a sitting is made to settle what they are.
settled_tables <- function(tables, settings) {
  of_rows <- names(settings) == "exclude"
  settled <- do.call(sitting, c(
    list(one_row(tables$items)),
    tables[c("items", "options", "standards", "misconceptions")],
    list(settings = settings[!of_rows])
  ))
  settled$settings$exclude <- complete_settings(settings[of_rows])$exclude
  settled
}

one_row <- function(items) {
  items <- as_text(items$item)
  data.frame(student = "-", item = items[1], response = NA_character_)
}

# What joins the texts of several rows has no name that all databases know; NULL where
# dbplyr knows none.
flat_in <- function(connection) {
  if (inherits(connection, "SQLiteConnection")) return(quote(group_concat(.cell, " ")))
  flat <- quote(str_flatten(.cell, collapse = " "))
  known <- tryCatch(
    is.character(dbplyr::translate_sql(!!flat, con = connection, window = FALSE)),
    error = function(e) FALSE
  )
  if (known) flat
}

table_in <- function(connection, table) {
  parts <- strsplit(table, ".", fixed = TRUE)[[1]]
  if (length(parts) == 2 && !table %in% asked(DBI::dbListTables(connection))) {
    return(asked(dplyr::tbl(connection, dbplyr::in_schema(parts[1], parts[2]))))
  }
  asked(dplyr::tbl(connection, table))
}

# columns: what each is called there; kinds: a column of none of each.
columns_in_database <- function(connection, table, given) {
  there <- collected(utils::head(table_in(connection, table), 0))
  columns <- stats::setNames(stored_columns, stored_columns)
  unknown <- setdiff(names(given), stored_columns)
  lacking <- setdiff(unname(given), names(there))
  if (length(unknown) || length(lacking)) {
    abort_database(
      if (length(unknown)) {
        say("read-stored.is_no_column_of_ours", name = quoted(unknown[1]))
      } else {
        say("read-stored.has_no_column", table = table, name = quoted(lacking[1]))
      },
      say("read-stored.columns", columns = some_of(names(there), 12)),
      did_you_mean(
        c(unknown, lacking)[1],
        if (length(unknown)) stored_columns else names(there)
      )
    )
  }
  if ("marker" %in% names(there)) {
    abort_database(
      say("read-stored.has_markers", table = table),
      NULL,
      say("read-stored.one_mark_each")
    )
  }
  columns[names(given)] <- given
  columns <- columns[columns %in% names(there)]
  needed <- c("student", "item")
  if (!all(needed %in% names(columns)) ||
    !any(c("response", "points") %in% names(columns))) {
    lacks <- c(setdiff(needed, names(columns)), "response")[1]
    abort_database(
      say("read-stored.has_no_column", table = table, name = quoted(lacks)),
      say("read-stored.columns", columns = some_of(names(there), 12)),
      say("read-stored.say_what_it_is_called")
    )
  }
  list(
    columns = columns,
    kinds = stats::setNames(lapply(columns, function(one) there[[one]]), names(columns))
  )
}

# The responses under our names, what is compared as text.
answers_in <- function(connection, table, found) {
  answers <- dplyr::select(
    table_in(connection, table),
    !!!rlang::syms(found$columns)
  )
  as_words <- setdiff(names(found$columns), "seconds")
  as_words <- as_words[!vapply(found$kinds[as_words], is.character, TRUE)]
  if (!length(as_words)) return(answers)
  casts <- lapply(rlang::syms(stats::setNames(nm = as_words)), function(one) {
    rlang::expr(as.character(!!one))
  })
  dplyr::mutate(answers, !!!casts)
}

# A small table of this session, and what a query comes to as one.
put_in <- function(connection, session, data) {
  name <- new_name(session)
  asked(dplyr::copy_to(connection, data, name, temporary = TRUE, overwrite = TRUE))
}

keep_in <- function(session, query) {
  asked(dplyr::compute(query, name = new_name(session), temporary = TRUE))
}

new_name <- function(session) {
  name <- paste0("pregunta_", Sys.getpid(), "_", length(session$made) + 1)
  session$made <- c(session$made, name)
  name
}

clear_session <- function(connection, session) {
  for (name in session$made) try(DBI::dbRemoveTable(connection, name), silent = TRUE)
  session$made <- character()
}

each_part <- function(connection, query, n, take) {
  result <- asked(DBI::dbSendQuery(connection, dbplyr::sql_render(query)))
  on.exit(DBI::dbClearResult(result))
  while (!asked(DBI::dbHasCompleted(result))) {
    some <- asked(DBI::dbFetch(result, n = n))
    if (nrow(some)) take(some)
  }
}

# What a database says of a fault is told as ours; see asked().
told_as_ours <- function(code, table) {
  tryCatch(code, pregunta_asked = function(e) {
    told <- character()
    while (!is.null(e)) {
      told <- c(told, conditionMessage(e))
      e <- e$parent
    }
    whole <- paste(told[nzchar(told)], collapse = " ")
    abort_database(
      say("read-stored.could_not_answer", table = quoted(table)),
      trimws(gsub("\\s+", " ", without_secrets(whole))),
      say("read-stored.see_table_and_rights")
    )
  })
}

# All responses as a sitting, or those of some students.
read_stored <- function(stored, ids = NULL) {
  sitting_of_rows(stored, stored$rows(ids), ids)
}

rows_stored <- function(stored, ids = NULL) {
  rows <- stored$answers()
  if (!is.null(ids)) {
    if (!length(ids)) return(as.data.frame(stored$kinds))
    wanted <- stored$put(data.frame(student = ids))
    rows <- dplyr::semi_join(rows, wanted, by = "student")
    rows <- stored$guard(collected(rows))
  } else {
    all_rows <- rows
    each <- function(take) stored$each(all_rows, stored$many, take)
    rows <- stored$guard(coded_rows_of(each))
    if (is.null(rows)) rows <- as.data.frame(stored$kinds)
  }
  attr(rows, "origin") <- stored$name
  # A table in a database has no lines.
  attr(rows, "line") <- rep(NA_integer_, nrow(rows))
  rows
}

# Many rows, which are few texts: each part is coded as it comes. NULL for no row.
coded_rows_of <- function(each) {
  parts <- list()
  each(function(some) {
    coded <- code_columns(lapply(some, as.character), Inf)
    parts <<- c(parts, list(list2DF(stats::setNames(coded, names(some)))))
  })
  if (length(parts)) join_coded(parts)
}

join_coded <- function(tables) {
  columns <- lapply(stats::setNames(nm = names(tables[[1]])), function(name) {
    join_factors(lapply(tables, `[[`, name))
  })
  list2DF(columns)
}

join_factors <- function(factors) {
  texts <- unique(unlist(lapply(factors, levels)))
  at <- unlist(lapply(factors, function(one) match(levels(one), texts)[bare_codes(one)]))
  whole_factor(at, texts)
}

# Every level is there; see is_coded().
whole_factor <- function(at, texts) {
  structure(at, levels = texts, whole = TRUE, class = "factor")
}

# The rows of some students at a time.
some_rows <- function(stored, take) {
  rows <- dplyr::arrange(stored$answers(), student)
  each <- function(take) stored$each(rows, stored$many, take)
  whole_students(each, function(rows) {
    attr(rows, "origin") <- stored$name
    attr(rows, "line") <- rep(NA_integer_, nrow(rows))
    rownames(rows) <- NULL
    take(rows)
  })
}

# Levels stand in the order in which the rows have them, as in a file.
in_order_of_students <- function(rows) {
  student <- rows$student
  if (!is.factor(student)) return(pick_rows(rows, order(student, method = "radix")))
  rank <- integer(nlevels(student))
  rank[order(levels(student), method = "radix")] <- seq_along(rank)
  at <- order(rank[bare_codes(student)])
  sorted <- lapply(rows, function(column) {
    codes <- bare_codes(column)[at]
    first <- unique(codes)
    whole_factor(match(codes, first), levels(column)[first])
  })
  sorted <- keep_origin(list2DF(sorted), rows)
  attr(sorted, "line") <- attr(rows, "line")[at]
  sorted
}

sitting_of_rows <- function(stored, rows, ids) {
  rows <- in_order_of_students(rows)
  tables <- stored$tables
  if (!is.null(ids)) {
    tables$students <- tables$students[as_text(tables$students$student) %in% ids, ]
    list <- complete_adjustments(tables$adjustments)
    mine <- is.na(list$student) | list$student %in% ids
    tables$adjustments <- keep_origin(list[mine, , drop = FALSE], list)
    attr(tables$adjustments, "line") <- line_of(list)[mine]
  }
  do.call(sitting, c(list(rows), tables, list(settings = stored$said)))
}

# ---- several databases -------------------------------------------------------------

# Each has the table with some of the students; see tally-shards.R. open: what opens each;
# at_once: whether another process can.
new_shards <- function(open, at_once) {
  parts <- lapply(open, function(open) {
    stored <- open()
    stored$close()
    stored
  })
  first <- parts[[1]]
  for (other in parts[-1]) check_same_columns(first, other)
  lists <- unique(lapply(parts, function(part) part$tables$students))
  # Of a file it is the same list in all of them.
  listed <- if (length(lists) == 1) lists[[1]] else unique(do.call(rbind, lists))
  first$tables["students"] <- list(listed)
  known <- without_responses(first$tables, first$said)
  session <- known$session
  shards <- c(known, first[c("name", "columns", "kinds", "guard")], list(
    most_apart = most_apart,
    open = open,
    at_once = at_once,
    count = count_shards,
    run = run_shards,
    found = function(findings) NULL
  ))
  shards$size <- function() sum(unlist(over_shards(shards, function(one) one$size())))
  shards$rows <- function(ids = NULL) {
    tables <- over_shards(shards, function(one) one$rows(ids))
    some <- Filter(nrow, tables)
    is_coded_table <- function(one) is.factor(one[[1]])
    coded <- length(some) > 1 && all(vapply(some, is_coded_table, TRUE))
    if (!coded) return(join_pieces(if (length(some)) some else tables[1]))
    joined <- keep_origin(join_coded(some), some[[1]])
    attr(joined, "line") <- rep(NA_integer_, nrow(joined))
    joined
  }
  shards$some <- function(take) {
    for (open_one in open) {
      one <- open_one()
      tryCatch(one$some(take), finally = one$close())
    }
  }
  shards$several <- function() {
    odd <- over_shards(shards, function(one) one$several())
    c(session$several, unlist(odd))
  }
  shards$read <- function(ids = NULL) sitting_of_rows(shards, shards$rows(ids), ids)
  structure(shards, class = c("pregunta_shards", "pregunta_stored"))
}

check_same_columns <- function(first, other) {
  numbers <- function(stored) vapply(stored$kinds, is.numeric, TRUE)
  unlike <- union(
    setdiff(names(first$columns), names(other$columns)),
    setdiff(names(other$columns), names(first$columns))
  )
  if (!length(unlike)) {
    seconds <- "seconds" %in% names(first$kinds) &&
      numbers(first)[["seconds"]] != numbers(other)[["seconds"]]
    unlike <- if (seconds) "seconds"
  }
  if (!length(unlike)) return(invisible())
  abort_database(
    say(
      "read-stored.databases_differ",
      table = quoted(first$name),
      column = quoted(unlike[1])
    ),
    NULL,
    say("read-stored.have_the_same_columns")
  )
}
