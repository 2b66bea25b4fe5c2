path_separator <- "\u001f"

student_groups <- function(sitting, by) {
  n <- nrow(sitting$students)
  if (is.null(by)) return(list(index = rep(1L, n), labels = NA_character_))
  known <- names(sitting$students)
  if (!is.character(by) || !length(by) || anyDuplicated(by) || !all(by %in% known)) {
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
  values <- lapply(sitting$students[by], function(column) {
    value <- as.character(column)
    or_else(value, "(none)")
  })
  value <- do.call(paste, c(unname(values), sep = path_separator))
  labels <- sort(unique(value), method = "radix")
  list(index = match(value, labels), labels = labels)
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
