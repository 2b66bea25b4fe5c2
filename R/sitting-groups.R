path_separator <- "\u001f"

student_groups <- function(sitting, by) {
  n <- nrow(sitting$students)
  if (is.null(by)) return(list(index = rep(1L, n), labels = NA_character_))
  students <- with_forms(sitting, by)
  known <- names(students)
  if (!is.character(by) ||
    !length(by) ||
    anyDuplicated(by) ||
    !all(by %in% known)) {
    wrong <- c(setdiff(by, known), by[duplicated(by)], NA)[1]
    abort_pregunta(
      "call",
      say(
        "sitting-groups.there_is_no_column",
        wrong = quoted(wrong),
        known_wrong = wrong %in% known
      ),
      say("sitting-groups.columns", known = some_of(known, 12)),
      did_you_mean(wrong, known)
    )
  }
  values <- lapply(students[by], function(column) {
    value <- as.character(column)
    or_else(value, "(none)")
  })
  value <- do.call(paste, c(unname(values), sep = path_separator))
  labels <- sort(unique(value), method = "radix")
  list(index = match(value, labels), labels = labels)
}

# Where the students have no column "form" of their own and were given different items,
# those who were given the same items have the same form, numbered in the order of the
# items. Who was absent had none.
with_forms <- function(sitting, by) {
  students <- sitting$students
  if (!"form" %in% by || "form" %in% names(students)) return(students)
  form <- form_numbers(sitting)
  if (length(unique(stats::na.omit(form))) > 1) {
    students$form <- form
  }
  students
}

form_numbers <- function(sitting) {
  given <- cell_states(sitting) != match("not_given", cell_state_names)
  pattern <- do.call(
    paste0,
    lapply(seq_len(ncol(given)), function(j) +!given[, j])
  )
  pattern[!was_present(sitting)] <- NA
  match(pattern, sort(unique(pattern), method = "radix"))
}

# A column of groups where they cannot be one inside the other.
single_column <- function(by) {
  if (length(by) <= 1) return(by)
  abort_pregunta(
    "call",
    say("sitting-groups.groups_one_inside_the"),
    say("sitting-groups.given", by = some_of(by)),
    say("sitting-groups.give_one_column")
  )
}
