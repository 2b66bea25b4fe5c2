# What was received becomes the folder's responses: a row a student and question, in the
# way that the reader of statements makes of them, beside what stands there already.

verb_of <- function(statement) sub("^.*[/#]", "", paste0("", statement$verb$id))

# What comes over the wire was looked at; into a file somebody may have written.
is_sound <- function(statement) is.null(shape_fault(statement, statement_shape))

tells_answer <- function(statement) {
  is_statement(statement) && verb_of(statement) == answer_verb
}

# Only the first statement may describe the activity: how answers are written, the item
# tells as well.
with_kind <- function(statement, type) {
  if (is.null(statement$object$definition$interactionType)) {
    statement$object$definition$interactionType <- item_type(type)$xapi[1]
  }
  statement
}

with_kinds <- function(statements, items) {
  if (!NROW(items)) return(fill_definitions(statements))
  id <- vapply(statements, function(one) paste0("", one$object$id), "")
  at <- match(item_of_activity(id, items$item), items$item)
  for (k in which(!is.na(at) & !is.na(items$type[at]))) {
    statements[[k]] <- with_kind(statements[[k]], items$type[at[k]])
  }
  fill_definitions(statements)
}

# Rows of answers, each with the id of its statement. Who answered a made-up activity of
# another kind, or as a group without a name, answered no question.
answer_rows <- function(statements, items) {
  statements <- Filter(tells_answer, statements)
  if (!length(statements)) return(NULL)
  rows <- statement_rows(with_kinds(statements, items))
  rows$id <- vapply(statements, function(one) tolower(paste0("", one$id)), "")
  rows$time <- vapply(rows$submitted, function(text) as.numeric(read_moment(text)), 0)
  rows$stored <- vapply(statements, function(one) {
    as.numeric(read_moment(paste0("", one$stored)))
  }, 0)
  rows
}

# The items of a folder by the addresses of their activities: the whole address, or its
# last part.
item_of_activity <- function(activity, items) {
  short <- utils::URLdecode(sub("^.*[/#:=]", "", sub("[/#]+$", "", activity)))
  found <- match(activity, items)
  or_else(items[found], items[match(tolower(short), tolower(items))])
}

# Statements of a test as they come; they are made rows when the test is folded.
note_answers <- function(test, statements) {
  test$waiting <- c(test$waiting, statements)
  test$changed <- TRUE
}

take_waiting <- function(test) {
  statements <- test$waiting
  test$waiting <- list()
  rows <- answer_rows(statements, test$items)
  if (!is.null(rows)) {
    all <- data.table::rbindlist(list(test$rows, rows))
    test$rows <- as.data.frame(all)
  }
  for (one in statements) learn_activity(test, one)
}

# Where the folder has no list of questions they are learned from the statements: the
# first of each activity that describes it.
learn_activity <- function(test, statement) {
  if (!test$learns || !tells_answer(statement)) return(invisible())
  id <- statement$object$id
  known <- test$activities[[id]]
  described <- !is.null(statement$object$definition$interactionType)
  if (is.null(known) || described && is.null(known$object$definition$interactionType)) {
    test$activities[[id]] <- statement
    test$learned <- TRUE
  }
}

begin_folding <- function(test) {
  items <- read_part(test$folder, "items")
  test$learns <- is.null(items) || file.exists(receiving_file(test$folder, "learns"))
  test$items <- if (!is.null(items)) complete_items(items)
  check_not_wide(test)
  test$rows <- NULL
  test$activities <- list()
  test$learned <- FALSE
  test$waiting <- Filter(is_sound, statements_in(test$store))
  test$changed <- length(test$waiting) > 0
}

statements_in <- function(store) {
  if (!store$size) return(list())
  statements_of_lines(lines_of(bytes_of(store$path, 0, store$size)))
}

# Answers that somebody brought in as a row a student are another file's business.
check_not_wide <- function(test) {
  path <- file.path(test$folder, "responses.csv")
  if (!file.exists(path)) return(invisible())
  responses <- read_table_file(path)
  long <- all(c("student", "item") %in% names(responses))
  if (long || !nrow(responses)) return(invisible())
  abort_pregunta(
    "folder",
    say("receive-fold.has_answers_already", folder = quoted(basename(test$folder))),
    path,
    say("receive-fold.receive_into_another")
  )
}

# Writes what changed; whether it did.
fold <- function(test) {
  if (!isTRUE(test$changed)) return(FALSE)
  take_waiting(test)
  held <- take_lock(test$folder)
  on.exit(release_lock(held))
  if (isTRUE(test$learned)) write_learned(test)
  rows <- responses_of(test)
  test$changed <- FALSE
  if (is.null(rows)) return(FALSE)
  test$changed <- TRUE
  path <- file.path(test$folder, "responses.csv")
  write_csv_table(rows, path)
  test$written <- stamp_of_files(test$folder, basename(path))
  test$changed <- FALSE
  TRUE
}

response_columns <- c(
  "student", "item", "response", "points", "attempt", "seconds", "submitted"
)

responses_of <- function(test) {
  rows <- test$rows
  if (is.null(rows)) return(NULL)
  rows$item <- if (NROW(test$items)) {
    or_else(
      item_of_activity(rows$activity, test$items$item),
      activity_names(rows$activity)
    )
  } else {
    activity_names(rows$activity)
  }
  # By the sender's clock, which is one for each sender; as they came where it is silent.
  rows$order <- order(order(or_else(rows$time, rows$stored), seq_len(nrow(rows))))
  told <- paste(rows$student, rows$item, sep = "\r")
  rows <- rows[!rows$id %in% ls(test$store$void), ]
  responses <- if (nrow(rows)) number_tries(rows) else rows
  for (name in c("response", "points", "seconds")) {
    responses[[name]][!nzchar(responses[[name]])] <- NA
  }
  with_others(responses[intersect(response_columns, names(responses))], told, test)
}

# Answers in the folder that no statement told stay; looked for when somebody else wrote
# the file.
with_others <- function(responses, told, test) {
  path <- file.path(test$folder, "responses.csv")
  if (!identical(test$written, stamp_of_files(test$folder, basename(path)))) {
    others <- if (file.exists(path)) read_table_file(path)
    strange <- !paste(others$student, others$item, sep = "\r") %in% told
    test$others <- others[strange, , drop = FALSE]
  }
  if (!NROW(test$others)) return(responses)
  all <- data.table::rbindlist(
    list(as.list(responses), as.list(test$others)),
    use.names = TRUE,
    fill = TRUE
  )
  all <- as.data.frame(all)
  all[!duplicated(all[intersect(c("student", "item", "attempt"), names(all))]), ]
}

# The questions as the statements describe them, behind those that stand there, which
# somebody may have mended; and who answered.
write_learned <- function(test) {
  bundle <- statements_bundle(unname(test$activities), test$store$path)
  tables <- list(
    items = bundle$items[setdiff(names(bundle$items), "level")],
    options = bundle$options
  )
  write_text(character(), receiving_file(test$folder, "learns"))
  for (name in names(tables)) {
    tables[[name]] <- with_new_items(tables[[name]], read_part(test$folder, name))
  }
  people <- file.path(test$folder, "students.csv")
  if (!file.exists(people) || isTRUE(test$lists)) {
    rows <- test$rows
    named <- rows[!is.na(rows$name), c("student", "name")]
    if (nrow(named)) {
      tables$students <- named[!duplicated(named$student), ]
      test$lists <- TRUE
    }
  }
  for (name in names(Filter(NROW, tables))) {
    write_csv_table(tables[[name]], file.path(test$folder, paste0(name, ".csv")))
  }
  test$learned <- FALSE
}

with_new_items <- function(learned, known) {
  new <- learned[!learned$item %in% known$item, ]
  if (is.null(known)) return(new)
  all <- data.table::rbindlist(
    list(as.list(known), as.list(new)),
    use.names = TRUE,
    fill = TRUE
  )
  as.data.frame(all)
}
