# Wide or long responses become the same thing: rows (a student's attempt) and,
# for each item, the answer and the points given by hand along these rows.

blank_words <- c(not_given = "(not given)", excused = "(excused)", pending = "(pending)")

# Several marks where one was wanted: an answer, and a wrong one.
several_word <- "(several)"

# In a check of skills a cell says yes or no; the item's points or none.
yes_words <- c("yes", "y", "true", "\u2713", "\u2714", "\u2611", "passed", "pass")
no_words <- c("no", "n", "false", "x", "\u2717", "\u2718", "\u2610", "not yet", "failed", "fail")

arrange_responses <- function(responses, items, settings) {
  responses <- named_origin(responses, "responses")
  require_columns(responses, "student")
  long <- all(c("student", "item") %in% names(responses)) &&
    any(c("response", "points") %in% names(responses)) && !"item" %in% items$item
  rows <- if (long) arrange_long(responses, items, settings) else arrange_wide(responses, items)
  if (!length(rows$student)) {
    abort_pregunta("input", paste0(origin_of(responses), " holds no responses."), NULL,
      "Give it a row for each student.")
  }
  rows$origin <- origin_of(responses)
  rows
}

arrange_wide <- function(responses, items) {
  use <- which(!is_empty_row(responses))
  responses <- keep_origin(responses[use, , drop = FALSE], responses)
  attr(responses, "line") <- line_of(responses)[use]
  require_students(responses)
  given_names <- paste(items$item, "points")
  has <- function(column) column %in% names(responses)
  text <- function(column) if (has(column)) as.character(responses[[column]])
  there <- has(items$item) | has(given_names)
  if (!any(there)) abort_no_item(responses, items)
  other <- setdiff(names(responses), c("student", "attempt", "seconds", "submitted", items$item, given_names,
    paste(items$item, "comment"), paste(items$item, "explanation")))
  list(
    student = trim_text(responses$student), line = line_of(responses),
    attempt = if (has("attempt")) trim_text(responses$attempt) else rep(NA_character_, nrow(responses)),
    answers = lapply(seq_len(nrow(items)), function(j) {
      if (has(items$item[j])) text(items$item[j])
      else rep(if (there[j]) NA_character_ else blank_words[["not_given"]], nrow(responses))
    }),
    given = lapply(given_names, text),
    about = as.data.frame(lapply(responses[other], as_text), check.names = FALSE, stringsAsFactors = FALSE),
    seconds = if (has("seconds")) read_number(trim_text(responses$seconds)),
    findings = check_wide(responses, items$item[!there], other)
  )
}

is_empty_row <- function(table) {
  Reduce(`&`, lapply(table, is_blank), rep(TRUE, nrow(table)))
}

require_students <- function(responses) {
  nameless <- which(is_blank(trim_text(responses$student)))
  if (!length(nameless)) return(invisible())
  abort_cell(responses, nameless[1], "student", "A row of responses has no student.",
    "Fill in the student's id, or take the row out.")
}

abort_no_item <- function(responses, items) {
  abort_pregunta("input", "No column of the responses is named like an item.",
    paste0(origin_of(responses), " has: ", some_of(setdiff(names(responses), "student"), 8),
      "; the items are: ", some_of(items$item, 8), "."),
    "Name the columns of the responses as the items are named.")
}

check_wide <- function(responses, missing, other) {
  origin <- origin_of(responses)
  c(
    lapply(missing, function(item) {
      finding("warning", origin, item, NA, "has no column in the responses",
        "It is not counted. Add the column, or take the item out of items.csv.")
    }),
    lapply(setdiff(other, known_student_columns), function(column) {
      finding("note", origin, column, NA, "is a column that is no item",
        "If it is a question, add it to items.csv. Otherwise it is kept with the students.")
    })
  )
}

known_student_columns <- c("name", "section", "email", "guardian_email", "teacher", "school", "district")

arrange_long <- function(responses, items, settings) {
  responses <- add_missing_text(responses, c("response", "points", "attempt", "status")) |> drop_blank_twins()
  student <- trim_text(responses$student)
  item <- match(trim_text(responses$item), items$item)
  require_students(responses)
  attempt <- trim_text(responses$attempt)
  key <- if (all(is.na(attempt))) student else paste(student, attempt, sep = "\r")
  row <- match(key, unique(key))
  first <- which(!duplicated(row))
  blank <- if (settings$missing_rows == "not given") blank_words[["not_given"]] else NA_character_
  response <- with_status(responses)
  answers <- lapply(seq_len(nrow(items)), function(j) {
    at <- which(item == j)
    filled <- rep(blank, length(first))
    filled[row[at]] <- response[at]
    filled
  })
  given <- lapply(seq_len(nrow(items)), function(j) {
    at <- which(item == j)
    filled <- rep(NA_character_, length(first))
    filled[row[at]] <- as.character(responses$points)[at]
    if (!all(is_blank(filled))) filled
  })
  list(
    student = student[first], line = line_of(responses)[first], attempt = attempt[first],
    answers = answers, given = given, about = data.frame(row.names = seq_along(first)),
    seconds = if ("seconds" %in% names(responses)) sum_seconds(responses$seconds, row, length(first)),
    findings = check_long(responses, items, item, row, length(first))
  )
}

# Of two rows of a student, attempt and item the one with nothing in it is none.
drop_blank_twins <- function(responses) {
  same <- responses[c("student", "attempt", "item")]
  if (!anyDuplicated(same)) return(responses)
  blank <- is_blank(trim_text(responses$response)) & is_blank(trim_text(responses$points))
  filled <- do.call(paste, c(same[!blank, ], sep = "\r"))
  gone <- which(blank)[do.call(paste, c(same[blank, ], sep = "\r")) %in% filled]
  if (!length(gone)) return(responses)
  kept <- keep_origin(responses[-gone, ], responses)
  attr(kept, "line") <- line_of(responses)[-gone]
  kept
}

# The time of a student's attempt: the sum of what is known of its answers.
sum_seconds <- function(seconds, row, n) {
  seconds <- read_number(trim_text(seconds))
  known <- which(!is.na(seconds))
  total <- rep(NA_real_, n)
  if (length(known)) {
    sums <- rowsum(seconds[known], row[known])
    total[as.integer(rownames(sums))] <- sums
  }
  total
}

# A status in words that takes the cell out goes before the answer.
with_status <- function(responses) {
  response <- as.character(responses$response)
  status <- sub(" ", "_", tolower(trim_text(responses$status)))
  special <- !is.na(status) & status %in% names(blank_words)
  response[special] <- blank_words[status[special]]
  response
}

check_long <- function(responses, items, item, row, n_rows) {
  findings <- list()
  unknown <- which(is.na(item))
  for (name in unique(trim_text(responses$item)[unknown])) {
    at <- unknown[trim_text(responses$item)[unknown] %in% name]
    findings <- c(findings, list(finding("error", origin_of(responses), "item", name,
      paste("is no item of the test;", count_of(length(at), "row"), "not counted"),
      did_you_mean(name, items$item), line = line_of(responses)[at[1]])))
  }
  twice <- which(duplicated(cbind(row, item)) & !is.na(item))
  if (length(twice)) {
    findings <- c(findings, list(finding("error", origin_of(responses), "item",
      items$item[item[twice[1]]],
      paste("stands twice for the same student and attempt;", count_of(length(twice), "such row"), "in all"),
      "The later row counts. Number the tries in a column attempt, or take one out.",
      line = line_of(responses)[twice[1]])))
  }
  missing <- n_rows * nrow(items) - sum(!is.na(item)) + length(twice)
  if (missing > 0) {
    findings <- c(findings, list(finding("note", origin_of(responses), NA, NA,
      paste(count_of(missing, "answer"), "of a student to an item have no row"),
      "They count as blank. Set missing_rows: not given in test.yml if students had different items.")))
  }
  findings
}

add_missing_text <- function(table, columns) {
  for (column in setdiff(columns, names(table))) table[[column]] <- rep(NA_character_, nrow(table))
  table
}

# As as_text(), once for each distinct value: responses are many, answers few.
trim_text <- function(x) {
  distinct <- unique(x)
  as_text(distinct)[match(x, distinct)]
}

line_of <- function(table) {
  line <- attr(table, "line")
  if (is.null(line)) seq_len(nrow(table)) else line
}
