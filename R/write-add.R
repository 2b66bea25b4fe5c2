#' Add to a test folder that is there
#'
#' The ones who sat late, a second class, a key that was forgotten, a list of students:
#' read as [new_test()] reads them, by the layout of the folder, and added as one step.
#' What stands in the folder stays: rows, questions and students are added, and cells
#' that were blank are filled in. The files as they were before are kept in
#' `source/added-1`, `source/added-2` and so on, with copies of what was added, and
#' `undo_addition()` puts them back.
#'
#' @inheritParams new_test
#' @param folder Path of a test folder.
#' @param from Paths of exports with the answers of more students or more attempts.
#' @param key A key, as for [new_test()]: fills in what items.csv does not say.
#' @param students Path of a list of students: new ones are added, and what the folder
#'   does not say of the others.
#' @param again What to do with rows of students who have answers already: `"attempt"`
#'   adds them as another attempt, `"skip"` leaves them out, `"replace"` takes them in
#'   place of those that are there (which [undo_addition()] brings back). Without it there
#'   is a question.
#' @param write `FALSE` to see the account and write nothing.
#' @return The account of what was added, invisibly; see [read_account()]. Its attribute
#'   `changed` names the files that were written. `undo_addition()`: the names of the
#'   files that were put back, invisibly.
#' @section Errors: `pregunta_error_undecided` as for [new_test()], and when students have
#' answers already. `pregunta_error_input` when the rows are there already, or when a key
#' says something else than the folder does: keys are changed by [adjust()].
#' `pregunta_error_output` when there is nothing to undo, or when a file was changed
#' since: undoing would lose it. The folder is as it was then.
#' @export
#' @examples
#' folder <- file.path(tempdir(), "two-days")
#' monday <- tempfile(fileext = ".csv")
#' writeLines(c("Student,Q1,Q2", "s1,A,B", "s2,A,C", "s3,D,B"), monday)
#' new_test(folder, monday, key = "later")
#' late <- tempfile(fileext = ".csv")
#' writeLines(c("Student,Q1,Q2", "s4,A,B"), late)
#' add_to_test(folder, late)
#' undo_addition(folder)
add_to_test <- function(folder, from = NULL, key = NULL, students = NULL,
                        sheet = NULL, layout = list(), take = NULL,
                        again = NULL, write = TRUE) {
  add_files(folder, from, key, students, sheet, layout, take, again, write)
}

# own: of somebody who may add answers of some students only, these `students` and the
# `sections` in which new ones may be.
add_files <- function(folder, from = NULL, key = NULL, students = NULL,
                      sheet = NULL, layout = list(), take = NULL,
                      again = NULL, write = TRUE, own = NULL) {
  lock <- if (write) take_lock(folder)
  on.exit(release_lock(lock))
  stop_if_stored(folder)
  test <- tables_to_add_to(folder)
  if (!is.null(again) && !again %in% ways_again) {
    abort_pregunta(
      "call",
      say("write-add.again_is_unknown", again = quoted(again)),
      NULL,
      did_you_mean(again, ways_again)
    )
  }
  if (is.null(from) && is.null(key) && is.null(students)) {
    abort_pregunta(
      "call",
      say("write-add.nothing_to_add"),
      NULL,
      say("write-add.name_what_to_add")
    )
  }
  from <- if (!is.null(from)) export_files(from)
  if (!is.null(key)) {
    test <- fill_key(test, read_key_file(key))
  }
  if (!is.null(students)) {
    test <- fill_students(test, read_student_list(students))
  }
  if (!is.null(from)) {
    test <- add_answers(test, from, sheet, layout, take, again, own)
  }
  sources <- as.character(c(from, if (is.null(names(key))) key, students))
  changed <- if (write) write_step(folder, test, sources)
  account <- new_account(test)
  attr(account, "changed") <- changed
  rows <- test$tables$responses
  if (!is.null(own)) {
    rows <- rows[rows$student %in% c(own$students, test$arrived), , drop = FALSE]
  }
  attr(account, "responses") <- rows
  attr(account, "items") <- test$tables$items
  invisible(account)
}

# The tables of a folder as they are written there, and what is told of them.
tables_to_add_to <- function(folder) {
  read_sitting(folder) # a folder that cannot be read is not added to
  tables <- lapply(stats::setNames(nm = folder_tables), function(name) {
    table <- read_part(folder, name)
    if (!is.null(table)) plain_table(text_columns(table))
  })
  list(
    tables = tables,
    before = tables,
    settings = folder_settings(folder),
    account = NULL,
    files = list()
  )
}

# ---- a key and a list of students ------------------------------------------------

# As it would be said to adjust: the file, or the keys by their items.
key_to_say <- function(key, items, keys) {
  if (!identical(key$origin, said_by_name)) return(key$origin)
  paste(items, keys, sep = "=", collapse = ",")
}

fill_key <- function(test, key) {
  items <- add_missing(test$tables$items, "key")
  at <- match_key(items$item, key)
  said <- key$items[at, setdiff(names(key$items), "item"), drop = FALSE]
  other <- which(
    !is_blank(items$key) & !is_blank(said$key) & items$key != said$key
  )
  if (length(other)) {
    abort_pregunta(
      "input",
      say(
        "write-add.the_key_differs",
        item = items$item[other[1]],
        n = length(other)
      ),
      join_words(quoted(c(items$key[other[1]], said$key[other[1]]))),
      say(
        "write-add.change_it_by_adjust",
        key = key_to_say(key, items$item[other], said$key[other])
      )
    )
  }
  new <- sum(is_blank(items$key) & !is_blank(said$key))
  test$tables$items <- fill_blanks(items, said)
  test$tables$options <- bind_first(
    list(
      test$tables,
      list(options = key$options[key$options$item %in% items$item, ])
    ),
    "options",
    c("item", "option")
  )
  tell(
    test,
    key$origin,
    account_line(
      "key",
      say("write-add.keys_filled_in", n = new, all = nrow(items))
    )
  )
}

# Blank cells of a table filled from a table of the same rows.
fill_blanks <- function(table, said) {
  for (column in names(said)) {
    mine <- table[[column]]
    if (is.null(mine)) {
      mine <- rep(NA_character_, nrow(table))
    }
    if (all(is_blank(said[[column]])) && is.null(table[[column]])) next
    table[[column]] <- ifelse(
      is_blank(mine),
      said[[column]],
      mine
    )
  }
  table
}

fill_students <- function(test, list) {
  if (!is.null(list$roster)) {
    ids <- unique(test$tables$responses$student)
    list$students <- roster_students(list$roster, ids)
  }
  old <- test$tables$students
  if (is.null(old)) {
    old <- list$students[0, ]
  }
  listed <- list$students
  at <- match(old$student, listed$student)
  filled <- fill_blanks(
    old,
    listed[at, setdiff(names(listed), "student"), drop = FALSE]
  )
  new <- listed[!listed$student %in% old$student, ]
  test$tables$students <- bind_filled(list(filled, new), NA_character_)
  tell(
    test,
    list$origin,
    account_line(
      "students",
      say(
        "write-add.students_added",
        n = nrow(new),
        of = nrow(listed)
      )
    )
  )
}

# ---- answers ---------------------------------------------------------------------

add_answers <- function(test, from, sheet, layout, take, again, own = NULL) {
  known <- test$tables$items
  people <- test$tables$students
  if (!is.null(own)) people <- people[people$student %in% own$students, , drop = FALSE]
  test$waiting <- waiting_students(test)
  told <- c(layout, list(kept = as.list(test$settings$layout)))
  files <- read_exports(
    from,
    told,
    sheet,
    known = known,
    take = take
  )
  stop_if_same(files)
  stop_if_merged(c(files, list(list(students = people))))
  files <- align_questions(files, !is.null(take), known)
  bundle <- combine_bundles(files, names(files))
  bundle <- add_key(bundle, list(items = known, origin = "items.csv"))
  bundle <- clean_marks(bundle) |>
    options_as_digits(later = all(is_blank(known$key))) |>
    settle_items() |>
    check_reading(files, key_later = TRUE, !is.null(take))
  bundle <- ids_of_list(bundle, people)
  if (!is.null(own)) stop_if_others(bundle, test, own)
  test$arrived <- unique(bundle$responses$student)
  both <- answered_already(bundle, test, again)
  bundle <- settle_known_rows(bundle, both, again)
  test$tables$responses <- without_waiting_rows(test, bundle$responses)
  if (length(both) && again == "replace") {
    old <- test$tables$responses
    test$tables$responses <- old[!old$student %in% both, , drop = FALSE]
  }
  if (length(both) && again == "attempt" && !tells_attempts(bundle$responses)) {
    last <- last_attempts(test$tables$responses, both)
    first <- stats::setNames(rep(1L, length(both)), both)
    test$tables$responses <- number_again(test$tables$responses, first)
    bundle$responses <- number_again(bundle$responses, last + 1L)
  }
  test$account <- rbind(test$account, bundle$account)
  test$files <- files
  fresh <- setdiff(bundle$items$item, known$item)
  if (length(fresh)) {
    new <- bundle$items[bundle$items$item %in% fresh, ]
    said <- vapply(new, function(x) !all(is_blank(x)), TRUE)
    test$tables$items <- bind_filled(list(known, new[said]), NA_character_)
  }
  people <- students_to_add(test, bundle, names(files))
  test$tables$students <- people$students
  old <- test$tables$responses
  test$tables$responses <- join_responses(
    list(blank_filled(old), bundle$responses),
    list(intersect(known$item, names(old)), bundle$items$item)
  )
  say_added(test, bundle, people, fresh)
}

# Who may add answers of their own students brings no others: those whom the test lists
# for somebody else, and new ones of whom the file does not say that they are theirs.
stop_if_others <- function(bundle, test, own) {
  ids <- unique(bundle$responses$student)
  others <- setdiff(ids, own$students)
  said <- bundle$students$section[match(others, bundle$students$student)]
  known <- c(test$tables$students$student, test$tables$responses$student)
  if (is.null(said)) said <- rep(NA_character_, length(others))
  new <- !others %in% known & said %in% own$sections
  others <- others[!new]
  fresh <- setdiff(bundle$items$item, test$tables$items$item)
  if (!length(others) && !length(fresh)) return(invisible())
  if (!length(others)) {
    abort_pregunta(
      "input",
      say("write-add.new_questions", items = name_items(fresh), n = length(fresh)),
      NULL,
      say("desk-people.ask_who_sees_all")
    )
  }
  abort_pregunta(
    "input",
    say("write-add.not_all_own", n = length(others), sections = own$sections),
    some_of(quoted(others), 8),
    say("write-add.leave_others_out")
  )
}

# The students of the folder who have not given an answer yet.
waiting_students <- function(test) {
  table <- test$tables$responses
  answered <- table$student[has_answers(table, test$tables$items$item)]
  setdiff(c(test$tables$students$student, table$student), answered)
}

blank_filled <- function(table) {
  table[] <- lapply(table, or_blank)
  table
}

# What can be done with rows of students who have answers already.
ways_again <- c("attempt", "skip", "replace")

# Students who have answers already: never a second time without a word.
answered_already <- function(bundle, test, again) {
  items <- intersect(test$tables$items$item, names(test$tables$responses))
  old <- test$tables$responses
  answered <- unique(old$student[has_answers(old, items)])
  new <- bundle$responses
  arrive <- new$student[has_answers(new, bundle$items$item)]
  both <- intersect(arrive, answered)
  if (!length(both)) return(both)
  if (all(arrive %in% both) && adds_nothing(bundle, old)) {
    abort_pregunta(
      "input",
      say("write-add.all_there_already"),
      some_of(quoted(both), 4),
      say("write-add.nothing_was_added")
    )
  }
  if (is.null(again)) {
    abort_pregunta(
      "undecided",
      say(
        "write-add.answers_already",
        n = length(both),
        name = quoted(both[1])
      ),
      some_of(quoted(both), 8),
      say("write-add.say_again"),
      choices = ways_again,
      value = both
    )
  }
  both
}

tells_attempts <- function(rows) any(c("attempt", "submitted") %in% names(rows))

settle_known_rows <- function(bundle, both, again) {
  if (!length(both)) return(bundle)
  known <- bundle$responses$student %in% both
  if (again == "skip") {
    bundle$responses <- bundle$responses[!known, , drop = FALSE]
  }
  n <- length(both)
  said <- switch(again,
    skip = account_line("left_out", say("write-add.skipped", n = n)),
    attempt = account_line("attempt", say("write-add.another_attempt", n = n)),
    replace = account_line("left_out", say("write-add.replaced", n = n))
  )
  bundle$account <- rbind(
    bundle$account,
    data.frame(file = say("read-items.all_together"), said)
  )
  bundle
}

# Where no column says which attempt a row is, those of the folder come first: they bear
# a 1, those that come the number after the last.
number_again <- function(rows, numbered) {
  at <- rows$student %in% names(numbered)
  if (is.null(rows$attempt)) {
    rows$attempt <- rep("", nrow(rows))
  }
  open <- at & is_blank(rows$attempt)
  rows$attempt <- or_blank(rows$attempt)
  rows$attempt[open] <- as.character(numbered[rows$student[open]])
  rows
}

# The last attempt of each of some students.
last_attempts <- function(rows, students) {
  vapply(stats::setNames(nm = students), function(id) {
    said <- suppressWarnings(as.integer(rows$attempt[rows$student == id]))
    max(c(said, 1L), na.rm = TRUE)
  }, 0L)
}

# Rows that only waited for a student: no answer, and nothing beside the id.
without_waiting_rows <- function(test, new) {
  old <- test$tables$responses
  if (is_long_table(old)) return(old)
  beside <- old[setdiff(names(old), "student")]
  nothing <- Reduce(
    `&`,
    lapply(beside, is_blank),
    rep(TRUE, nrow(old))
  )
  old[!(nothing & old$student %in% new$student), , drop = FALSE]
}

# Whether every row stands in the folder as it is.
adds_nothing <- function(bundle, old) {
  new <- bundle$responses
  shared <- intersect(names(new), names(old))
  if (!setequal(names(new), shared)) return(FALSE)
  rows <- function(table) {
    do.call(paste, c(lapply(table[shared], or_blank), sep = "\r"))
  }
  all(rows(new) %in% rows(old))
}

# The students of the folder and those who come: who is there keeps what is said of them.
students_to_add <- function(test, bundle, labels) {
  old <- test$tables$students
  new <- bundle$students
  if (is.null(new)) {
    new <- data.frame(student = unique(bundle$responses$student))
  }
  new <- new[new$student %in% bundle$responses$student, , drop = FALSE]
  at <- match(old$student, new$student)
  filled <- if (!is.null(old)) {
    fill_blanks(old, new[at, setdiff(names(new), "student"), drop = FALSE])
  }
  more <- new[!new$student %in% old$student, , drop = FALSE]
  section <- NULL
  if (nrow(more) && !is.null(old$section) && is.null(more$section)) {
    section <- labels[1]
    more$section <- section
  }
  known <- c(
    old$student, test$tables$responses$student, test$waiting
  )
  list(
    students = if (is.null(old) && length(new) < 2) {
      NULL
    } else {
      bind_filled(Filter(length, list(filled, more)), NA_character_)
    },
    new = sum(!new$student %in% known),
    waited = sum(new$student %in% test$waiting),
    section = section
  )
}

say_added <- function(test, bundle, people, fresh) {
  tell(
    test,
    say("read-items.all_together"),
    account_line(
      "students",
      say(
        "write-add.people_added",
        new = people$new,
        waited = people$waited
      )
    ),
    if (!is.null(people$section)) {
      account_line(
        "section",
        say("write-add.section_by_file", section = people$section)
      )
    },
    if (length(fresh)) {
      account_line(
        "questions",
        say(
          "write-add.questions_added",
          items = name_items(fresh),
          n = length(fresh)
        )
      )
    }
  )
}

# ---- one step, and back ----------------------------------------------------------

# The changed tables beside what they were before; first written aside and read back as
# a test. sources: what was added.
write_step <- function(folder, test, sources) {
  draft <- aside(normalizePath(folder))
  clear_dead(dirname(draft))
  dir.create(draft)
  on.exit(unlink(draft, recursive = TRUE))
  flat <- setdiff(
    list.files(folder),
    list.dirs(folder, FALSE, recursive = FALSE)
  )
  file.copy(file.path(folder, flat), draft, copy.date = TRUE)
  changed <- write_changed(draft, test)
  if (!length(changed)) return(changed)
  read_sitting(draft)
  step <- new_step_folder(folder)
  there <- changed[file.exists(file.path(folder, changed))]
  copy_sources(file.path(folder, there), file.path(step, "before"))
  copy_sources(sources, step)
  hashes <- tools::md5sum(file.path(draft, changed))
  write_text(
    yaml::as.yaml(
      list(
        date = format(Sys.time(), "%Y-%m-%d %H:%M"),
        changed = stats::setNames(as.list(unname(hashes)), changed),
        made = as.list(setdiff(changed, there))
      )
    ),
    file.path(step, "step.yml")
  )
  for (name in changed) {
    write_whole(file.path(folder, name), function(temporary) {
      file.copy(file.path(draft, name), temporary)
    })
  }
  changed
}

# The names of the tables that are not as they were, written into the draft.
write_changed <- function(draft, test) {
  changed <- Filter(function(name) {
    table <- test$tables[[name]]
    old <- test$before[[name]]
    if (is.null(table) || !nrow(table)) return(FALSE)
    is.null(old) || !identical(blank_filled(table), blank_filled(old))
  }, names(test$tables))
  for (name in changed) {
    write_csv_table(test$tables[[name]], file.path(draft, paste0(name, ".csv")))
  }
  if (length(changed)) paste0(changed, ".csv")
}

new_step_folder <- function(folder) {
  number <- max(c(0, step_numbers(folder))) + 1
  step <- file.path(folder, "source", paste0("added-", number))
  dir.create(file.path(step, "before"), recursive = TRUE)
  step
}

# Steps that stand, and those that were undone.
step_numbers <- function(folder, pattern = "^(added|undone)-([0-9]+)$") {
  names <- list.files(file.path(folder, "source"), pattern)
  as.integer(sub(pattern, "\\2", names))
}

last_step <- function(folder) max(c(0, step_numbers(folder, "^(added)-([0-9]+)$")))

#' @rdname add_to_test
#' @export
undo_addition <- function(folder) {
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  check_folder(folder)
  number <- last_step(folder)
  step <- file.path(folder, "source", paste0("added-", number))
  written <- file.path(step, "step.yml")
  if (number == 0 || !file.exists(written)) {
    abort_pregunta(
      "output",
      say("write-add.nothing_to_undo"),
      folder
    )
  }
  about <- yaml::read_yaml(written, eval.expr = FALSE)
  changed <- names(about$changed)
  now <- unname(tools::md5sum(file.path(folder, changed)))
  typed <- changed[!now %in% unlist(about$changed)]
  if (length(typed)) {
    abort_pregunta(
      "output",
      say(
        "write-add.changed_since",
        file = typed[1],
        n = length(typed)
      ),
      file.path(folder, typed),
      say("write-add.put_back_by_hand", step = step)
    )
  }
  after <- file.path(step, "after")
  dir.create(after, showWarnings = FALSE)
  copy_sources(file.path(folder, changed), after)
  for (name in setdiff(changed, unlist(about$made))) {
    write_whole(file.path(folder, name), function(temporary) {
      file.copy(file.path(step, "before", name), temporary)
    })
  }
  unlink(file.path(folder, unlist(about$made)))
  file.rename(
    step,
    file.path(folder, "source", paste0("undone-", number))
  )
  invisible(changed)
}
