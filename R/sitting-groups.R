path_separator <- "\u001f"

student_groups <- function(sitting, by) {
  n <- nrow(sitting$students)
  if (is.null(by)) return(list(index = rep(1L, n), labels = NA_character_))
  known <- names(sitting$students)
  if (!is.character(by) || !length(by) || anyDuplicated(by) || !all(by %in% known)) {
    wrong <- c(setdiff(by, known), by[duplicated(by)], NA)[1]
    abort_pregunta(
      "call",
      paste0(
        "There is no column ", quoted(wrong), " of the students to group by",
        if (wrong %in% known) " twice", "."
      ),
      paste0("Columns: ", some_of(known, 12), "."),
      did_you_mean(wrong, known)
    )
  }
  values <- lapply(sitting$students[by], function(column) {
    value <- as.character(column)
    ifelse(is.na(value), "(none)", value)
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
    "Groups one inside the other cannot be used here.",
    paste0("Given: ", some_of(by), "."),
    "Give one column."
  )
}
