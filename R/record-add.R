#' Add a sitting to a record, or take one out
#'
#' @param record What [open_record()] gave.
#' @param sitting A [sitting()] with a `date` in its settings.
#' @param name What it is called in the record, such as the name of its folder.
#' @param plan A plan of [plan_reteach()] that belongs to it, or `NULL`.
#' @return `add_sitting()`: `"new"`, `"replaced"` (a corrected sitting of that name: the
#'   earlier one stays as history) or `"unchanged"` (the very same is there already:
#'   nothing is written), invisibly. `remove_sitting()`: how many revisions went,
#'   invisibly.
#' @details Stored are the answers that count, with their points and states; the scores on
#'   the whole and on each standard; items with options, standards and figures; the list
#'   of changes; the plan; the settings; each student's section and other columns as they
#'   were then.
#' @section Errors: `pregunta_error_record` as in [open_record()];
#'   `pregunta_error_input` when the sitting has no date, or when another test (another
#'   date and none of the items) has that name.
#' @export
#' @examples
#' record <- open_record(tempfile(fileext = ".sqlite"))
#' quiz <- read_sitting(demo_path())
#' add_sitting(record, quiz, "tides")
#' print(add_sitting(record, quiz, "tides"))
#' add_sitting(record, narrow_sitting(quiz, section = "Harbour A"), "tides")
#' recorded_sittings(record, history = TRUE)
#' remove_sitting(record, "tides")
#' close_record(record)
add_sitting <- function(record, sitting, name, plan = NULL) {
  check_is_sitting(sitting)
  check_record_name(name)
  date <- sitting_date(sitting)
  rows <- record_rows(sitting, plan)
  mark <- cli::hash_obj_md5(rows)
  invisible(with_turn(record, {
    old <- ask_record(
      record,
      "SELECT * FROM pregunta_sitting WHERE name = ? ORDER BY revision",
      name
    )
    last <- old[old$current == 1, , drop = FALSE]
    came <- if (!nrow(last)) {
      "new"
    } else if (last$fingerprint == mark) {
      "unchanged"
    } else {
      "replaced"
    }
    if (came == "replaced") check_same_test(record, last, rows$item, date, name)
    if (came != "unchanged") {
      put_sitting(
        record,
        sitting,
        rows,
        name,
        max(c(old$revision, 0)) + 1,
        date,
        mark
      )
    }
    came
  }))
}

check_record_name <- function(name) {
  if (is.character(name) &&
    length(name) == 1 &&
    !is.na(name) &&
    nzchar(trimws(name))) {
    return(invisible())
  }
  abort_pregunta(
    "call",
    say("record-add.a_sitting_needs_a"),
    NULL,
    say("record-add.such_as_the_name")
  )
}

sitting_date <- function(sitting) {
  date <- sitting$settings$date
  if (!is.na(date) && !is.na(read_time(date))) {
    return(format(read_time(date), "%Y-%m-%d"))
  }
  abort_pregunta(
    "input",
    say(
      "record-add.has_no_date",
      title = quoted(sitting$settings$title),
      date = quoted(date),
      no_date = is.na(date)
    ),
    "test.yml",
    say("record-add.a_record_goes_by")
  )
}

# A folder name is used again easily: another day with none of the items is
# another test.
check_same_test <- function(record, last, items, date, name) {
  known <- ask_record(
    record,
    "SELECT mark FROM pregunta_item WHERE sitting = ?",
    last$id
  )$mark
  if (last$date == date || any(items$mark %in% known)) return(invisible())
  abort_pregunta(
    "input",
    say("record-add.another_test_is_in", name = quoted(name)),
    paste0(last$title, ", ", last$date),
    say("record-add.give_this_one_a")
  )
}

# The rows of each table, with students by id and without the number of the sitting.
record_rows <- function(sitting, plan) {
  people <- sitting$students
  items <- sitting$items
  figures <- summarise_items(sitting)
  tags <- setdiff(tag_columns(items), "type")
  known <- c(
    "student", "name", "section", "status", "seconds", "submitted", "late"
  )
  more <- setdiff(names(people), known)
  kept <- setdiff(names(sitting$settings), c("layout", "exclude"))
  list(
    sitting = list(settings = sitting$settings[kept]),
    presence = data.frame(
      student = people$student,
      name = people$name,
      section = people$section,
      status = people$status,
      about = json_rows(people[more])
    ),
    item = data.frame(
      place = seq_len(nrow(items)),
      items[
        c(
          "item", "type", "key", "points", "scoring", "standards", "prompt",
          "rationale"
        )
      ],
      tags = json_rows(items[tags]),
      mark = item_fingerprints(sitting),
      n = as.integer(figures$n),
      figures[c("difficulty", "discrimination")]
    ),
    option = with_place(
      sitting$options[c("item", "option", "text", "misconception")]
    ),
    standard = with_place(
      sitting$standards[c("code", "parent", "title", "emphasis")]
    ),
    response = response_rows(sitting),
    score = score_rows(sitting),
    adjustment = with_place(sitting$adjustments[adjustment_columns]),
    plan = plan_rows(plan)
  )
}

with_place <- function(table) {
  cbind(place = seq_len(nrow(table)), plain_rows(table))
}

# A row's further columns as one JSON object.
json_rows <- function(table) {
  if (!ncol(table)) return(rep("{}", nrow(table)))
  vapply(seq_len(nrow(table)), function(k) {
    row <- as.list(table[k, , drop = FALSE])
    as.character(jsonlite::toJSON(row[!is.na(row)], auto_unbox = TRUE))
  }, "")
}

response_rows <- function(sitting) {
  present <- which(was_present(sitting))
  codes <- sitting$codes[present, , drop = FALSE]
  pieces <- lapply(seq_len(ncol(codes)), function(j) {
    cell <- sitting$cells[[j]]
    code <- codes[, j]
    answered <- cell$state %in% c("answered", "pending")
    data.frame(
      place = rep(j, length(present)),
      row = present,
      answer = ifelse(answered, cell$answer, NA)[code],
      points = cell$points[code],
      state = cell$state[code]
    )[
      cell$state[code] != "not_given",
    ]
  })
  table <- data.table::rbindlist(pieces)
  table$student <- sitting$students$student[table$row]
  table$row <- NULL
  as.data.frame(table)
}

# The whole test under the empty code, then every standard with something open.
score_rows <- function(sitting) {
  present <- which(was_present(sitting))
  tree <- standards_in_use(sitting)
  all_items <- seq_len(nrow(sitting$items))
  pieces <- lapply(c(list(all_items), tree$items), function(items) {
    score <- row_scores(sitting$codes, sitting$cells, items)
    data.frame(
      student = sitting$students$student[present],
      earned = score$earned[present],
      open = score$open[present]
    )
  })
  table <- do.call(rbind, pieces)
  table$code <- rep(c("", tree$table$code), each = length(present))
  table[table$open > 0, ]
}

plan_rows <- function(plan) {
  if (is.null(plan) || !nrow(plan)) {
    return(data.frame(
      place = integer(),
      code = character(),
      field = character(),
      value = character()
    ))
  }
  fields <- setdiff(names(plan), "code")
  pieces <- lapply(fields, function(field) {
    data.frame(
      place = seq_len(nrow(plan)),
      code = plan$code,
      field = field,
      value = as_text(plan[[field]])
    )
  })
  table <- do.call(rbind, pieces)
  table[!is.na(table$value), ]
}

put_sitting <- function(record, sitting, rows, name, revision, date, mark) {
  id <- next_id(record, "sitting")
  settings <- sitting$settings
  write_record(
    record,
    "UPDATE pregunta_sitting SET current = 0 WHERE name = ?",
    name
  )
  written <- jsonlite::toJSON(
    rows$sitting$settings,
    auto_unbox = TRUE,
    null = "null",
    digits = NA
  )
  append_record(
    record,
    "sitting",
    data.frame(
      id = id,
      name = name,
      revision = as.integer(revision),
      current = 1L,
      title = settings$title,
      date = date,
      kind = settings$kind,
      period = settings$window,
      students = sum(was_present(sitting)),
      fingerprint = mark,
      added = format(Sys.time(), "%Y-%m-%d %H:%M:%S"),
      settings = as.character(written)
    )
  )
  person <- person_numbers(record, rows$presence, date)
  rows$presence$name <- NULL
  for (table in setdiff(names(rows), "sitting")) {
    part <- plain_rows(rows[[table]])
    if ("student" %in% names(part) && table != "adjustment") {
      part$person <- unname(person[part$student])
      part$student <- NULL
    }
    whose <- rep(id, nrow(part))
    append_record(
      record,
      table,
      data.frame(sitting = whose, part)
    )
  }
}

next_id <- function(record, table) {
  as.integer(
    ask_record(
      record,
      paste0("SELECT coalesce(max(id), 0) AS last FROM pregunta_", table)
    )$last
  ) +
    1L
}

# The number of each student; name and section are those of the latest sitting.
person_numbers <- function(record, presence, date) {
  known <- ask_record(
    record,
    "SELECT id, student, name, section, seen FROM pregunta_person"
  )
  new <- presence[!presence$student %in% known$student, , drop = FALSE]
  ids <- next_id(record, "person") + seq_len(nrow(new)) - 1L
  people <- data.frame(
    id = ids,
    new[c("student", "name", "section")],
    seen = rep(date, nrow(new))
  )
  append_record(record, "person", people)
  at <- match(known$student, presence$student)
  later <- which(!is.na(at) & known$seen <= date)
  same <- function(a, b) (is.na(a) & is.na(b)) | (a == b) %in% TRUE
  now <- presence[at[later], ]
  moved <- !(same(known$name[later], now$name) &
    same(known$section[later], now$section) &
    known$seen[later] == date)
  if (any(moved)) {
    write_record(
      record,
      "UPDATE pregunta_person SET name = ?, section = ?, seen = ? WHERE id = ?",
      now$name[moved],
      now$section[moved],
      rep(date, sum(moved)),
      known$id[later][moved]
    )
  }
  stats::setNames(c(known$id, ids), c(known$student, new$student))
}

#' @rdname add_sitting
#' @export
remove_sitting <- function(record, name) {
  check_record_name(name)
  invisible(with_turn(record, {
    ids <- ask_record(
      record,
      "SELECT id FROM pregunta_sitting WHERE name = ?",
      name
    )$id
    if (!length(ids)) {
      known <- ask_record(
        record,
        "SELECT DISTINCT name FROM pregunta_sitting"
      )$name
      abort_pregunta(
        "call",
        say("record-add.the_record_has_no", name = quoted(name)),
        NULL,
        did_you_mean(name, known)
      )
    }
    for (table in c(
      "presence", "item", "option", "standard", "response", "score",
      "adjustment", "plan"
    )) {
      write_record(
        record,
        paste0(
          "DELETE FROM pregunta_", table, " WHERE sitting = ?"
        ),
        ids
      )
    }
    write_record(
      record,
      "DELETE FROM pregunta_sitting WHERE id = ?",
      ids
    )
    write_record(
      record,
      paste(
        "DELETE FROM pregunta_person WHERE NOT EXISTS",
        "(SELECT 1 FROM pregunta_presence p WHERE p.person = pregunta_person.id)"
      )
    )
    length(ids)
  }))
}
