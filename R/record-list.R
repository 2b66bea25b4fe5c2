#' What is in a record
#'
#' @param record What [open_record()] gave.
#' @param history Whether to list the revisions that were replaced, too.
#' @return `recorded_sittings()`: a data frame, a row a sitting in order of date: `name`,
#'   `revision`, `current`, `title`, `date`, `kind`, `window` (of its settings),
#'   `students` (who sat it), `items`, `added`. `recorded_items()`: a row an item, the
#'   same by wording, type and options: `item`, `type`, `prompt`, `standards`, `uses`, and
#'   for the last use `sitting`, `date`, `n`, `difficulty`, `discrimination`, with
#'   `first_difficulty` of the first.
#' @export
#' @examples
#' record <- open_record(tempfile(fileext = ".sqlite"))
#' add_sitting(record, read_sitting(demo_path()), "tides")
#' add_sitting(record, read_sitting(demo_path("follow-up")), "tides again")
#' recorded_sittings(record)
#' recorded_items(record) |> subset(uses > 1)
#' close_record(record)
recorded_sittings <- function(record, history = FALSE) {
  table <- ask_record(
    record,
    paste(
      "SELECT s.name, s.revision, s.current, s.title, s.date, s.kind, s.period,",
      paste0(
        "s.students, (SELECT count(*) FROM pregunta_item i WHERE i.sitting = s.id) AS ",
        "items, s.added"
      ),
      "FROM pregunta_sitting s",
      if (!history) "WHERE s.current = 1",
      "ORDER BY s.date, s.name, s.revision"
    )
  )
  names(table)[names(table) == "period"] <- "window"
  table$current <- table$current == 1
  table$items <- as.integer(table$items)
  new_summary(table, "recorded", NULL, NULL)
}

#' @rdname recorded_sittings
#' @export
recorded_items <- function(record) {
  uses <- ask_record(
    record,
    paste(
      "SELECT i.mark, i.item, i.type, i.prompt, i.standards, s.name AS sitting, s.date,",
      paste0(
        "i.n, i.difficulty, i.discrimination FROM pregunta_item i JOIN pregunta_sitting ",
        "s ON s.id = i.sitting"
      ),
      "WHERE s.current = 1 ORDER BY s.date, s.name, i.place"
    )
  )
  first <- uses[!duplicated(uses$mark), ]
  last <- uses[!duplicated(uses$mark, fromLast = TRUE), ]
  last <- last[match(first$mark, last$mark), ]
  table <- data.frame(
    last[c("item", "type", "prompt", "standards")],
    uses = tabulate(match(uses$mark, first$mark), nrow(first)),
    last[c("sitting", "date", "n", "difficulty", "discrimination")],
    first_difficulty = first$difficulty
  )
  new_summary(table, "recorded_items", NULL, NULL)
}

#' Questions that students have had
#'
#' @param record What [open_record()] gave.
#' @param students Ids of students.
#' @return A character vector that says for each question in a test that one of them sat
#'   what makes it the same again (wording, type, options); for `used` of
#'   [draw_followup()].
#' @export
#' @examples
#' record <- open_record(tempfile(fileext = ".sqlite"))
#' add_sitting(record, read_sitting(demo_path("follow-up")), "again")
#' length(items_asked(record, c("h001", "h002")))
#' close_record(record)
items_asked <- function(record, students) {
  sat <- ask_record(
    record,
    paste(
      "SELECT p.sitting, s.student, p.status FROM pregunta_presence p",
      "JOIN pregunta_person s ON s.id = p.person"
    )
  )
  with <- unique(
    sat$sitting[sat$student %in% students & sat$status %in% sat_statuses]
  )
  asked <- ask_record(
    record,
    "SELECT DISTINCT sitting, mark FROM pregunta_item"
  )
  unique(asked$mark[asked$sitting %in% with])
}

# ---- a record as a pool of questions ---------------------------------------------

# SQLite files keep the number that a program gave them in four of their bytes.
is_record_file <- function(path) {
  if (!file.exists(path) || file.size(path) < 72) return(FALSE)
  start <- readBin(path, "raw", 72)
  identical(start[1:16], sqlite_start) &&
    sum(as.integer(start[69:72]) * 256^(3:0)) == record_stamp
}

file_record_pool <- function(path) {
  record <- open_record(path, make = FALSE)
  on.exit(close_record(record))
  pool <- record_pool(record)
  pool$sets <- function(marks) {
    record <- open_record(path, make = FALSE)
    on.exit(close_record(record))
    sets_of_record(record, marks)
  }
  pool
}

# The tests of a record that share questions with these, or with one that does, each with
# the places of its own.
sets_of_record <- function(record, marks) {
  sittings <- ask_record(
    record, "SELECT id FROM pregunta_sitting WHERE current = 1 ORDER BY date, id"
  )
  items <- items_recorded(record, sittings)
  counts <- shared_counts(c(list(marks), lapply(items, `[[`, "marks")))
  near <- reached_by_marks(counts, nrow(marks))[-1]
  lapply(which(near), function(k) {
    set_of_test(placed_recorded(record, sittings$id[k], items[[k]]))
  })
}

# Each question once, as it was asked last, with the figures of that use.
record_pool <- function(record) {
  items <- ask_record(
    record,
    paste(
      paste0(
        "SELECT i.*, s.name FROM pregunta_item i JOIN pregunta_sitting s ON s.id = ",
        "i.sitting"
      ),
      "WHERE s.current = 1 ORDER BY s.date, s.id, i.place"
    )
  )
  items <- items[!duplicated(items$mark, fromLast = TRUE), , drop = FALSE]
  options <- ask_record(
    record,
    paste0(
      "SELECT sitting, item, option, text, misconception FROM pregunta_option ORDER BY ",
      "place"
    )
  )
  name <- paste0(items$name, ":", items$item)
  options$item <- name[
    match(
      paste(options$sitting, options$item),
      paste(items$sitting, items$item)
    )
  ]
  standards <- standards_recorded(
    record,
    sittings_between(record, NULL, NULL, NULL),
    NULL
  )
  figures <- items[c("difficulty", "discrimination", "n")]
  items$item <- name
  pool <- tables_pool(
    items[
      c(
        "item", "type", "key", "points", "scoring", "standards", "prompt",
        "rationale"
      )
    ],
    options[!is.na(options$item), c("item", "option", "text", "misconception")],
    if (nrow(standards)) standards
  )
  pool$figures <- plain_rows(figures)
  pool
}
