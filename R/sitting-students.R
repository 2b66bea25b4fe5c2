# The students of a sitting: those with responses, in their order, then those on
# the list without; and who of them sat the test.

student_table <- function(students, rows, kept) {
  ids <- rows$student[kept]
  if (is.null(students)) {
    table <- data.frame(
      student = ids,
      name = NA_character_,
      section = NA_character_
    )
    for (column in names(rows$about)) {
      table[[column]] <- rows$about[[column]][kept]
    }
  } else {
    all_ids <- c(ids, setdiff(students$student, ids))
    table <- students[match(all_ids, students$student), , drop = FALSE]
    table$student <- all_ids
    rownames(table) <- NULL
  }
  along <- c(kept, rep(NA, nrow(table) - length(kept)))
  if (!is.null(rows$seconds)) {
    table$seconds <- rows$seconds[along]
  }
  if (!is.null(rows$submitted)) {
    table$submitted <- rows$submitted[along]
  }
  table
}

# A listed student without a row was given nothing.
student_codes <- function(codes, n_students) {
  without <- n_students - nrow(codes)
  if (without == 0) return(codes)
  rbind(
    codes,
    matrix(match("not_given", fixed_states), without, ncol(codes))
  )
}

check_students <- function(students, rows, kept) {
  if (is.null(students)) return(NULL)
  ids <- rows$student[kept]
  findings <- lapply(setdiff(ids, students$student), function(id) {
    new_finding(
      "warning",
      rows$origin,
      "student",
      id,
      say("sitting-students.is_not_in_the"),
      say("sitting-students.add_the_student_to"),
      line = rows$line[kept][match(id, ids)]
    )
  })
  without <- setdiff(students$student, ids)
  if (!length(without)) return(findings)
  several <- if (length(without) == 1) {
    say("sitting-students.is_a_listed_student")
  } else {
    say("sitting-students.are_listed_students")
  }
  with_finding(
    findings,
    "note",
    origin_of(students),
    "student",
    some_of(without),
    say("sitting-students.without_a_row_of", several = several),
    say("sitting-students.counted_as_absent"),
    line = if (length(without) == 1) {
      line_of(students)[match(without, students$student)]
    } else {
      NA
    }
  )
}

# Status comes last: it needs the codes that count, after and before the changes
# by hand. Who answered before has not become absent by them.
settle_status <- function(sitting, before) {
  has <- function(part, state) {
    any_flagged(
      part$codes,
      lapply(part$cells, function(cell) cell$state %in% state)
    )
  }
  pending <- has(sitting, "pending")
  touched <- has(sitting, c("answered", "pending"))
  if (nrow(sitting$changes)) {
    touched <- touched |
      has(unchanged(sitting, before), c("answered", "pending"))
  }
  late <- was_late(sitting)
  status <- rep("sat", length(touched))
  status[which(late)] <- "late"
  status[was_unfinished(sitting)] <- "unfinished"
  status[pending] <- "waiting"
  untouched <- which(!touched)
  codes <- sitting$codes[untouched, , drop = FALSE]
  status[untouched] <- ifelse(were_excused(codes), "excused", "absent")
  status[match(excused_wholly(sitting), sitting$students$student)] <- "excused"
  if (!all(is.na(late))) {
    sitting$students$late <- late
  }
  sitting$students$status <- status
  if (!any(touched)) {
    sitting$findings <- with_finding(
      sitting$findings,
      "error",
      "responses",
      NA,
      NA,
      say("sitting-students.nobody_answered_anything"),
      say("sitting-students.see_that_the_item")
    )
  }
  sitting
}

# Whether all that a student was given is excused, as the file of answers says itself.
were_excused <- function(codes) {
  given <- rowSums(codes != match("not_given", fixed_states))
  excused <- rowSums(codes == match("excused", fixed_states))
  given > 0 & excused == given
}

# The answers that count, as they were before any change: a dropped item was
# answered all the same. Cells beyond those handed in are means of attempts.
unchanged <- function(sitting, before) {
  cells <- Map(function(given, settled) {
    list(state = c(given$state, settled$state[-seq_along(given$state)]))
  }, sitting$handed_in$cells, before$cells)
  list(codes = before$codes, cells = cells)
}

was_late <- function(sitting) {
  due <- sitting$settings$due
  submitted <- sitting$students$submitted
  if (is.na(due) || is.null(submitted)) return(rep(NA, nrow(sitting$students)))
  read_time(submitted) > time_limit(">", due)
}

# A blank at the end of a short test is a blank, not an unfinished test.
least_unfinished <- 3

# Others handed in and this one did not; or too much of the end was not reached.
was_unfinished <- function(sitting) {
  submitted <- sitting$students$submitted
  left_open <- if (is.null(submitted) || all(is.na(submitted))) {
    FALSE
  } else {
    is.na(submitted)
  }
  last <- ncol(sitting$codes)
  nothing <- sitting$cells[[last]]$state %in% c(
    "not_reached", "not_given", "excused"
  )
  open_end <- which(nothing[sitting$codes[, last]])
  without <- count_states(
    sitting,
    c(unreached = "not_reached", not_given = "not_given", not_given = "excused"),
    open_end
  )
  unreached <- without[, "unreached"]
  given <- last - without[, "not_given"]
  share <- sitting$settings$thresholds$unfinished
  left_open <- left_open & rep(TRUE, nrow(sitting$codes))
  stopped <- unreached >= least_unfinished & unreached >= share * given - 1e-9
  left_open[open_end[stopped]] <- TRUE
  left_open
}

# How many cells of each of these students are in states that are called the same here,
# students by names.
count_states <- function(sitting, states, rows) {
  called <- unique(names(states))
  counts <- count_kinds(
    sitting$codes,
    lapply(sitting$cells, function(cell) {
      match(names(states)[match(cell$state, states)], called, 0L)
    }),
    length(called),
    rows
  )
  colnames(counts) <- called
  counts
}

# The students with one of these statuses; "missing" is who has yet to sit or
# to finish.
status_words <- c("sat", "late", "unfinished", "waiting", "absent", "excused")
missing_statuses <- c("absent", "unfinished")
sat_statuses <- setdiff(status_words, c("absent", "excused"))

# What a person is called where names may be seen.
name_or_id <- function(people) or_else(people$name, people$student)
