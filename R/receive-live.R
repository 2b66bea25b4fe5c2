# A test folder followed while it changes: by the statements that come in, or by its
# files, which a spreadsheet or another program may be replacing at this moment.

# What is known so far stands in `live`; look_live() brings it up to date.
open_live <- function(folder) {
  check_live_folder(folder)
  live <- new.env(parent = emptyenv())
  live$folder <- folder
  live$items <- NULL
  live$students <- character()
  live$stamps <- list()
  live$valued <- list()
  live$now <- NA
  live
}

check_live_folder <- function(folder) {
  if (dir.exists(folder)) return(invisible())
  check_folder(folder)
}

# Whether anything is new since the last look.
look_live <- function(live, now = Sys.time()) {
  live$now <- as.numeric(now)
  tryCatch(
    {
      new_items <- look_at_items(live)
      new_answers <- if (file.exists(file.path(live$folder, statements_file))) {
        look_at_statements(live)
      } else {
        look_at_files(live)
      }
      was_in_trouble <- !is.null(live$trouble)
      live$trouble <- NULL
      new_items || new_answers || was_in_trouble
    },
    pregunta_error = function(e) note_trouble(live, e),
    # A file that goes or shrinks while it is read ends in any error of its reader.
    error = function(e) note_trouble(live, e)
  )
}

# What stood there before stays; the next look tries again.
note_trouble <- function(live, e) {
  was <- live$trouble$said
  since <- if (is.null(live$trouble)) live$now else live$trouble$since
  live$trouble <- list(said = conditionMessage(e), since = since)
  !identical(was, live$trouble$said)
}

stamp_of_files <- function(folder, names) {
  paths <- file.path(folder, names)
  about <- file.info(paths, extra_cols = FALSE)
  paste(names, about$size, as.numeric(about$mtime), collapse = "\n")
}

# ---- the questions ----------------------------------------------------------------

item_files <- c(
  "items.csv", "options.csv", "students.csv", "adjustments.csv", "test.yml", "test.xlsx"
)

# With the changes of keys that the folder holds; what was answered is valued anew.
look_at_items <- function(live) {
  stamp <- stamp_of_files(live$folder, item_files)
  if (identical(stamp, live$stamps$items)) return(FALSE)
  frame <- empty_sitting(live$folder)
  if (is.null(frame)) return(FALSE)
  live$frame <- frame
  live$items <- frame$items
  live$names <- stats::setNames(frame$students$name, frame$students$student)
  live$listed <- frame$students$student[frame$students$listed]
  live$valued <- rep(list(new_memory()), nrow(frame$items))
  live$stamps <- list(items = stamp)
  live$store <- NULL
  TRUE
}

new_memory <- function() list(text = character(), share = numeric())

# The sitting of a folder in which nobody has answered yet: its questions with the changes
# of keys, and its students.
empty_sitting <- function(folder) {
  parts <- setdiff(folder_tables, "responses")
  tables <- lapply(stats::setNames(nm = parts), function(name) {
    read_part(folder, name)
  })
  if (is.null(tables$items)) return(NULL)
  settings <- settings_in(folder)
  nobody <- "\u2013"
  columns <- c(nobody, rep(NA, nrow(tables$items)))
  names <- c("student", tables$items$item)
  responses <- as.data.frame(as.list(columns), col.names = names)
  names(responses) <- names
  listed <- as.character(tables$students$student)
  tables$adjustments <- only_of_questions(tables$adjustments)
  made <- do.call(sitting, c(tables, list(responses = responses, settings = settings)))
  made$students$listed <- made$students$student %in% listed
  made$students <- made$students[made$students$student != nobody, ]
  made
}

# Changes of one student's mark are not about a question.
only_of_questions <- function(adjustments) {
  if (is.null(adjustments)) return(NULL)
  adjustments[is_blank(adjustments$student), , drop = FALSE]
}

# ---- statements -------------------------------------------------------------------

look_at_statements <- function(live) {
  if (is.null(live$items)) return(FALSE)
  first <- is.null(live$store)
  if (first) begin_statements(live)
  look_on(live$store)
  statements <- Filter(is_statement, live$store$unseen)
  live$store$unseen <- list()
  # One that was taken in and is made void now: all is counted anew at the next look.
  if (!first && any(vapply(statements, is_voiding, TRUE))) {
    live$store <- NULL
    return(TRUE)
  }
  for (one in statements) {
    void <- is_made_void(live$store, paste0("", one$id))
    if (!void && !is_voiding(one)) try(take_live(live, one), silent = TRUE)
  }
  first || length(statements) > 0
}

# With the store of who takes them in, where that is this process: then what comes is seen
# without being read again.
begin_statements <- function(live) {
  live$store <- if (is.null(live$shared)) watch_store(live$folder) else live$shared
  live$store$followed <- TRUE
  live$store$unseen <- if (is.null(live$shared)) list() else statements_in(live$shared)
  live$item_at <- new.env(parent = emptyenv())
  begin_cells(live)
}

# times: how often each question was answered; tries: the shares as they stood after each
# try, as the reader of statements numbers tries.
begin_cells <- function(live) {
  m <- nrow(live$items)
  none <- function(value) matrix(value, 0, m)
  live$students <- character()
  live$cells <- list(share = none(0), there = none(NA), took = none(0), came = none(0))
  live$times <- none(0L)
  live$tries <- list(none(0))
  live$last <- live$at <- numeric()
  live$ended <- logical()
}

# A student's row, made when they first do something.
live_row <- function(live, student) {
  at <- match(student, live$students)
  if (!is.na(at)) return(at)
  m <- nrow(live$items)
  none <- rep(NA_real_, m)
  live$students <- c(live$students, student)
  live$cells$share <- rbind(live$cells$share, none, deparse.level = 0)
  live$cells$there <- rbind(live$cells$there, rep(FALSE, m))
  live$cells$took <- rbind(live$cells$took, none, deparse.level = 0)
  live$cells$came <- rbind(live$cells$came, none, deparse.level = 0)
  live$times <- rbind(live$times, rep(0L, m))
  live$tries <- lapply(live$tries, rbind, none, deparse.level = 0)
  live$last <- c(live$last, NA_real_)
  live$at <- c(live$at, NA_real_)
  live$ended <- c(live$ended, FALSE)
  length(live$students)
}

verbs_of_end <- c("completed", "passed", "failed", "terminated", "scored")

# Times are those at which statements came: the clocks of the senders may be wrong.
take_live <- function(live, statement) {
  i <- live_row(live, actor_id(statement$actor))
  time <- as.numeric(stored_moment(paste0("", statement$stored)))
  j <- live_item(live, paste0("", statement$object$id))
  if (!is.na(j) && tells_answer(statement)) {
    take_answer(live, i, j, statement, time)
  } else if (!is.na(j)) {
    live$at[i] <- j
  } else if (verb_of(statement) %in% verbs_of_end) {
    live$ended[i] <- TRUE
  }
  live$last[i] <- time
}

stored_moment <- function(text) {
  kept <- strptime(text, "%Y-%m-%dT%H:%M:%OSZ", tz = "UTC")
  if (is.na(kept)) read_moment(text) else as.POSIXct(kept)
}

# The question of an activity, looked for once.
live_item <- function(live, id) {
  if (!nzchar(id)) return(NA_integer_)
  if (is.null(live$item_at[[id]])) {
    item <- item_of_activity(id, live$items$item)
    assign(id, match(item, live$items$item), live$item_at)
  }
  live$item_at[[id]]
}

take_answer <- function(live, i, j, statement, time) {
  row <- statement_row(with_kind(statement, live$items$type[j]))
  if (!live$times[i, j]) {
    told <- suppressWarnings(as.numeric(row$seconds))
    live$cells$took[i, j] <- if (is.na(told)) time - live$last[i] else told
  }
  live$at[i] <- NA
  if (!nzchar(row$response) && !nzchar(row$points) && !live$times[i, j]) {
    return(invisible())
  }
  if (!live$cells$there[i, j]) live$cells$came[i, j] <- time
  try <- live$times[i, j] <- live$times[i, j] + 1L
  while (length(live$tries) < try) {
    live$tries <- c(live$tries, live$tries[length(live$tries)])
  }
  share <- share_of_answer(live, j, row$response, row$points)
  for (k in try:length(live$tries)) live$tries[[k]][i, j] <- share
  live$cells$there[i, j] <- TRUE
  live$cells$share[i, ] <- counted_try(live, i)
}

# The try that counts: as the setting says, and of equally good ones the first.
counted_try <- function(live, i) {
  tries <- lapply(live$tries[seq_len(max(live$times[i, ]))], function(share) share[i, ])
  most <- live$items$points
  switch(live$frame$settings$attempts,
    first = tries[[1]],
    last = tries[[length(tries)]],
    mean = Reduce(`+`, tries) / length(tries),
    {
      score <- vapply(tries, function(share) {
        known <- !is.na(share) | !live$cells$there[i, ]
        sum(share * most, na.rm = TRUE) / sum(most[known])
      }, 0)
      tries[[which.max(c(score, -Inf))]]
    }
  )
}

# The share of the question's points, once for each distinct answer.
share_of_answer <- function(live, j, response, points) {
  memory <- live$valued[[j]]
  key <- paste(response, points, sep = "\r")
  at <- match(key, memory$text)
  if (is.na(at)) {
    item <- live$items[j, ]
    text <- function(x) if (nzchar(x)) x else NA_character_
    coded <- code_item(
      coded(text(response)),
      coded(text(points)),
      item,
      live$frame$options,
      live$frame$settings
    )
    share <- coded$cells$points[length(fixed_states) + 1] / item$points
    memory$text <- c(memory$text, key)
    memory$share <- c(memory$share, share)
    live$valued[[j]] <- memory
    at <- length(memory$text)
  }
  memory$share[at]
}

# ---- files ------------------------------------------------------------------------

# What is answered now and was not at the last look was answered in between.
look_at_files <- function(live) {
  files <- list.files(live$folder, "[.](csv|yml|xlsx)$")
  stamp <- stamp_of_files(live$folder, files)
  if (identical(stamp, live$stamps$files)) return(FALSE)
  if (!is_test_folder(live$folder)) return(FALSE)
  read <- read_sitting(live$folder)
  points <- cell_points(read)
  states <- matrix(cell_state_names[cell_states(read)], nrow(points))
  there <- matrix(states %in% c("answered", "pending"), nrow(points))
  begun <- was_present(read) & rowSums(there) > 0
  share <- points / rep(read$items$points, each = nrow(points))
  old <- c(live$cells, list(students = live$students, last = live$last))
  live$items <- read$items
  live$names <- stats::setNames(read$students$name, read$students$student)
  live$listed <- read$students$student
  live$students <- read$students$student[begun]
  live$cells <- list(
    share = share[begun, , drop = FALSE],
    there = there[begun, , drop = FALSE],
    took = times_known(read, begun)
  )
  first <- is.null(live$stamps$files)
  live$cells$came <- time_of_coming(live, old, first)
  live$last <- last_seen(live, old, first)
  live$at <- rep(NA_real_, sum(begun))
  live$ended <- rep(FALSE, sum(begun))
  live$stamps$files <- stamp
  TRUE
}

times_known <- function(read, begun) {
  seconds <- answer_seconds(read)
  if (is.null(seconds)) return(matrix(NA_real_, sum(begun), nrow(read$items)))
  seconds[begun, , drop = FALSE]
}

time_of_coming <- function(live, old, first) {
  came <- matrix(NA_real_, length(live$students), nrow(live$items))
  if (first || !length(old$students) || ncol(old$came) != ncol(came)) return(came)
  row <- match(live$students, old$students)
  came[!is.na(row), ] <- old$came[row[!is.na(row)], ]
  was <- old$there[row, , drop = FALSE]
  came[live$cells$there & !(was %in% TRUE)] <- live$now
  came
}

last_seen <- function(live, old, first) {
  row <- match(live$students, old$students)
  if (first || !length(old$students) || ncol(old$there) != nrow(live$items)) {
    return(rep(NA_real_, length(row)))
  }
  before <- rowSums(old$there[row, , drop = FALSE])
  more <- is.na(row) | rowSums(live$cells$there) != before
  ifelse(more, live$now, old$last[row])
}
