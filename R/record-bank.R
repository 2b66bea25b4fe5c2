#' Keep questions for later
#'
#' `keep_items()` puts items with their options, standards, tags and figures
#' into a bank: one SQLite file, which holds nothing about students. An item
#' kept again (same wording, type and options) stays one item; each test it was
#' used in is a line of its history. `bank_items()` lists what is there,
#' `bank_uses()` the history.
#'
#' @param sitting A [sitting()].
#' @param items Names of the items to keep; see [choose_items()].
#' @param bank Path of the bank. It is made when it is not there.
#' @return `keep_items()`: a data frame with `item` and `kept` ("new", "known"),
#'   invisibly. `bank_items()`: a data frame, a row an item: `id`, `item` (its
#'   name in the last test), `type`, `prompt`, `key`, `points`, `standards`,
#'   `tags` (`name=value` with `;`), `uses`, `last_used` (date of the test, or
#'   its title), and of the last use `n`, `difficulty`, `discrimination`,
#'   `reason`. `bank_uses()`: a row an item and test: `id`, `item`, `test`,
#'   `date`, `n`, `difficulty` and `discrimination` with their intervals,
#'   `upper_lower`, `reason`.
#' @section Errors: `pregunta_error_bank` when the file is no database, was made
#'   by another program or a later version, cannot be written, or is locked by
#'   another process; the file stays as it was.
#' @export
#' @examples
#' bank <- file.path(tempdir(), "bank.sqlite")
#' quiz <- read_sitting(demo_path())
#' keep_items(quiz, choose_items(quiz, missed = 3), bank)
#' bank_items(bank, difficulty = c(0, 0.5))
keep_items <- function(sitting, items, bank) {
  unknown <- setdiff(items, sitting$items$item)
  if (length(unknown)) {
    abort_pregunta(
      "call",
      say("record-bank.there_is_no_item", unknown = quoted(unknown[1])),
      NULL,
      did_you_mean(unknown[1], sitting$items$item)
    )
  }
  about <- items_to_keep(sitting, items)
  # A bank that is being made is none yet.
  lock <- take_lock(bank)
  on.exit(release_lock(lock))
  with_bank(bank, make = TRUE, function(connection) {
    kept <- vapply(
      items,
      function(item) keep_item(connection, about, item),
      ""
    )
    data.frame(item = items, kept = unname(kept))
  }) |>
    invisible()
}

#' @rdname keep_items
#' @param standard Only items of these standards, or of some below them.
#' @param tag Named: only items with these tags, `c(thinking = "use")`; of
#'   several with one name, either.
#' @param type Only items of this type.
#' @param difficulty,discrimination Two numbers: only items whose figure of the
#'   last use lies between them.
#' @export
bank_items <- function(bank, standard = NULL, tag = NULL, type = NULL,
                       difficulty = NULL, discrimination = NULL) {
  require_bank(bank)
  conditions <- list(
    list(in_values("type", type), type),
    list("difficulty BETWEEN ? AND ?", difficulty),
    list("discrimination BETWEEN ? AND ?", discrimination),
    list(of_items("item_standard", in_values("code", standard)), standard)
  )
  for (name in unique(names(tag))) {
    values <- unname(tag[names(tag) == name])
    where <- of_items("tag", paste("name = ?", "AND", in_values("value", values)))
    conditions <- c(conditions, list(list(where, c(name, values))))
  }
  conditions <- Filter(function(one) length(one[[2]]) > 0, conditions)
  where <- if (length(conditions)) {
    paste(
      "WHERE",
      paste(vapply(conditions, `[[`, "", 1), collapse = " AND ")
    )
  }
  values <- as.list(
    unlist(
      lapply(conditions, function(one) as.list(one[[2]])),
      recursive = FALSE
    )
  )
  with_bank(bank, function(connection) {
    DBI::dbGetQuery(
      connection,
      paste("SELECT * FROM kept_item", where, "ORDER BY id"),
      params = if (length(values)) values
    )
  })
}

of_items <- function(table, where) {
  paste0("id IN (SELECT item_id FROM ", table, " WHERE ", where, ")")
}

# column IN (?, ?): each bound.
in_values <- function(column, values) {
  paste(column, "IN", paste0("(", value_marks(length(values)), ")"))
}

#' @rdname keep_items
#' @export
bank_uses <- function(bank) {
  require_bank(bank)
  with_bank(bank, function(connection) {
    DBI::dbGetQuery(
      connection,
      paste(
        "SELECT item_id AS id, item, test, date, n, difficulty, difficulty_low,",
        paste0(
          "difficulty_high, discrimination, discrimination_low, discrimination_high, ",
          "upper_lower, reason"
        ),
        "FROM item_use ORDER BY item_id, date, rowid"
      )
    )
  })
}

# The rows that a bank takes of a sitting.
items_to_keep <- function(sitting, items) {
  figures <- summarise_items(sitting)
  scale <- summarise_scale(sitting)
  known <- c(
    "item", "type", "key", "points", "scoring", "standards", "prompt",
    "rationale"
  )
  list(
    items = sitting$items,
    options = sitting$options,
    figures = figures,
    places = scale[c("item", "place", "se", "steps")],
    standards = sitting$standards,
    tags = setdiff(names(sitting$items), known),
    test = sitting$settings$title,
    date = sitting$settings$date
  )
}

keep_item <- function(connection, about, name) {
  item <- about$items[about$items$item == name, ]
  options <- about$options[about$options$item == name, ]
  mark <- item_fingerprint(item, options, about$test)
  run <- function(sql, ...) {
    DBI::dbExecute(connection, sql, params = unname(list(...)))
  }
  id <- DBI::dbGetQuery(
    connection,
    "SELECT id FROM item WHERE mark = ?",
    params = list(mark)
  )$id
  known <- length(id) > 0
  values <- unname(as.list(
    item[c("type", "key", "points", "scoring", "prompt", "rationale")]
  ))
  if (known) {
    do.call(
      run,
      c(
        paste0(
          "UPDATE item SET type=?, key=?, points=?, scoring=?, prompt=?, rationale=? ",
          "WHERE id=?"
        ),
        values,
        id
      )
    )
    for (table in c("item_option", "item_standard", "tag")) {
      run(paste0("DELETE FROM ", table, " WHERE item_id=?"), id)
    }
  } else {
    do.call(
      run,
      c(
        paste0(
          "INSERT INTO item (type, key, points, scoring, prompt, rationale, mark) ",
          "VALUES (?,?,?,?,?,?,?)"
        ),
        values,
        mark
      )
    )
    id <- DBI::dbGetQuery(connection, "SELECT last_insert_rowid() AS id")$id
  }
  for (k in seq_len(nrow(options))) {
    run(
      "INSERT INTO item_option VALUES (?,?,?,?,?)",
      id,
      k,
      options$option[k],
      options$text[k],
      options$misconception[k]
    )
  }
  keep_standards(run, id, item$standards, about$standards)
  for (tag in about$tags[!is.na(unlist(item[about$tags]))]) {
    run(
      "INSERT INTO tag VALUES (?,?,?)",
      id,
      tag,
      as.character(item[[tag]])
    )
  }
  keep_use(
    run,
    id,
    about,
    about$figures[about$figures$item == name, ]
  )
  DBI::dbExecute(connection, bank_places)
  keep_place(run, id, about, about$places[about$places$item == name, ])
  if (known) "known" else "new"
}

# The item's own standards, and those above them, so that a parent finds it.
keep_standards <- function(run, id, codes, standards) {
  own <- split_codes(codes)[[1]]
  above <- setdiff(
    unlist(lapply(own, ancestors, standards = standards)),
    own
  )
  for (code in c(own, above)) {
    run(
      "INSERT INTO item_standard VALUES (?,?,?,?)",
      id,
      code,
      standards$title[match(code, standards$code)],
      as.integer(code %in% own)
    )
  }
}

# Where it stood on the scale of that test.
keep_place <- function(run, id, about, place) {
  run("DELETE FROM item_place WHERE item_id=? AND test=? AND date IS ?",
    id, about$test, about$date
  )
  if (is.na(place$place)) return(invisible())
  run(
    "INSERT INTO item_place VALUES (?,?,?,?,?,?)",
    id, about$test, about$date, place$place, place$se, place$steps
  )
}

keep_use <- function(run, id, about, figures) {
  run(
    "DELETE FROM item_use WHERE item_id=? AND test=? AND date IS ?",
    id,
    about$test,
    about$date
  )
  fields <- c(
    "n", "difficulty", "difficulty_low", "difficulty_high", "discrimination",
    "discrimination_low", "discrimination_high", "upper_lower", "reason"
  )
  insert <- paste(
    "INSERT INTO item_use (item_id, item, test, date,",
    paste(fields, collapse = ", "),
    ") VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)"
  )
  values <- c(
    id, figures$item, about$test, about$date, as.list(figures[fields])
  )
  do.call(run, c(insert, values))
}

# All of a bank as the tables of a test folder; an item is named by its number.
bank_pool <- function(path) {
  kept <- bank_items(path)
  tables <- with_bank(path, function(connection) {
    read <- function(sql) DBI::dbGetQuery(connection, sql)
    list(
      more = read("SELECT id, scoring, rationale FROM item ORDER BY id"),
      options = read(
        paste0(
          "SELECT item_id AS item, option, text, misconception FROM item_option ORDER ",
          "BY item_id, place"
        )
      ),
      standards = read(
        "SELECT code, max(title) AS title FROM item_standard GROUP BY code ORDER BY code"
      ),
      tags = read("SELECT item_id AS item, name, value FROM tag ORDER BY name")
    )
  })
  items <- cbind(
    kept[c("type", "key", "points", "standards", "prompt")],
    tables$more[match(kept$id, tables$more$id), c("scoring", "rationale")]
  )
  items <- data.frame(item = as.character(kept$id), items)
  for (tag in unique(tables$tags$name)) {
    mine <- tables$tags[tables$tags$name == tag, ]
    items[[tag]] <- mine$value[match(kept$id, mine$item)]
  }
  tables$options$item <- as.character(tables$options$item)
  pool <- tables_pool(
    items,
    tables$options,
    if (nrow(tables$standards)) tables$standards
  )
  pool$figures <- kept[c("difficulty", "discrimination", "n")]
  places <- with_bank(path, places_in_bank)
  pool$sets <- function(marks) sets_of_bank(places, pool)
  pool
}

# A bank of an earlier version has none.
places_in_bank <- function(connection) {
  if (!DBI::dbExistsTable(connection, "item_place")) return(NULL)
  DBI::dbGetQuery(
    connection,
    paste(
      "SELECT item_id AS item, test, date, place, se, steps FROM item_place",
      "ORDER BY item_id"
    )
  )
}

# The questions that were in one test are on one scale.
sets_of_bank <- function(places, pool) {
  if (is.null(places) || !nrow(places)) return(list())
  marks <- item_marks(pool$items, item_fingerprints(pool))
  uses <- split(seq_len(nrow(places)), paste(places$test, places$date, sep = "\r"))
  lapply(unname(uses), function(rows) {
    at <- match(as.character(places$item[rows]), pool$items$item)
    steps <- strsplit(places$steps[rows], ";", fixed = TRUE)
    list(
      items = marks[at, ], places = places$place[rows], se = places$se[rows],
      test = places$test[rows[1]], date = places$date[rows[1]],
      easiness = lapply(steps, function(one) -cumsum(as.numeric(one)))
    )
  })
}
