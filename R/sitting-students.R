# The students of a sitting: those with responses, in their order, then those on
# the list without; and who of them sat the test.

student_table <- function(students, rows, kept) {
  ids <- rows$student[kept]
  if (is.null(students)) {
    table <- data.frame(student = ids, name = NA_character_, section = NA_character_)
    for (column in names(rows$about)) table[[column]] <- rows$about[[column]][kept]
  } else {
    all_ids <- c(ids, setdiff(students$student, ids))
    table <- students[match(all_ids, students$student), , drop = FALSE]
    table$student <- all_ids
    rownames(table) <- NULL
  }
  if (!is.null(rows$seconds)) table$seconds <- rows$seconds[kept][seq_len(nrow(table))]
  table
}

# The codes of the row that counts; a listed student without one was given nothing.
student_codes <- function(codes, kept, n_students) {
  if (!identical(kept, seq_len(nrow(codes)))) codes <- codes[kept, , drop = FALSE]
  without <- n_students - nrow(codes)
  if (without == 0) return(codes)
  rbind(codes, matrix(match("not given", fixed_states), without, ncol(codes)))
}

check_students <- function(students, rows, kept) {
  if (is.null(students)) return(NULL)
  ids <- rows$student[kept]
  findings <- lapply(setdiff(ids, students$student), function(id) {
    finding("warning", rows$origin, "student", id, "is not in the list of students",
      "Add the student to students.csv, or put the id under exclude: in test.yml.",
      line = rows$line[kept][match(id, ids)])
  })
  without <- setdiff(students$student, ids)
  if (!length(without)) return(findings)
  several <- if (length(without) == 1) "is a listed student" else "are listed students"
  c(findings, list(finding("note", origin_of(students), "student", some_of(without),
    paste(several, "without a row of responses"), "Counted as absent.",
    line = if (length(without) == 1) line_of(students)[match(without, students$student)] else NA)))
}

# Status comes last: it needs the codes of the row that counts.
settle_status <- function(sitting) {
  in_state <- function(state) any_flagged(sitting$codes, lapply(sitting$cells, function(cell) cell$state %in% state))
  pending <- in_state("pending")
  touched <- in_state("answered") | pending
  status <- rep("sat", length(touched))
  status[pending] <- "waiting"
  status[!touched] <- "absent"
  sitting$students$status <- status
  if (!any(touched)) {
    sitting$findings <- c(sitting$findings, list(finding("error", "responses", NA, NA,
      "nobody answered anything", "See that the item columns are named as in items.csv.")))
  }
  sitting
}
