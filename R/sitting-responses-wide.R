# A row a student's attempt, a column an item, and columns beside them.

arrange_wide <- function(responses, items) {
  student <- trim_text(responses$student)
  responses <- drop_empty_rows(responses, student)
  if (nrow(responses) < length(student)) {
    student <- trim_text(responses$student)
  }
  require_students(responses, student)
  given_names <- paste(items$item, "points")
  has <- function(column) column %in% names(responses)
  there <- has(items$item) | has(given_names)
  if (!any(there)) abort_no_item(responses, items)
  other <- setdiff(
    names(responses),
    c(
      "student",
      beside_answers,
      items$item,
      given_names,
      paste(items$item, "seconds"),
      outer(items$item, said_kinds, paste)
    )
  )
  n <- nrow(responses)
  list(
    student = student,
    line = line_of(responses),
    attempt = if (has("attempt")) {
      trim_text(responses$attempt)
    } else {
      rep(NA_character_, n)
    },
    answers = each_row(items, function(j) {
      if (has(items$item[j])) {
        coded(responses[[items$item[j]]])
      } else {
        coded_same(
          if (there[j]) NA_character_ else blank_words[["not_given"]],
          n
        )
      }
    }),
    given = lapply(given_names, function(column) {
      if (has(column)) coded(responses[[column]])
    }),
    about = as.data.frame(
      lapply(responses[other], trim_text),
      check.names = FALSE,
      stringsAsFactors = FALSE
    ),
    seconds = wide_seconds(responses, items$item),
    submitted = if (has("submitted")) trim_text(responses$submitted),
    timed = wide_times(responses, items$item),
    said = wide_said(responses, items$item),
    findings = check_wide(
      responses,
      items$item[!there],
      other,
      items$item
    )
  )
}

# Seconds of each answer, rows by items; NULL when there are none.
wide_times <- function(responses, items) {
  there <- paste(items, "seconds") %in% names(responses)
  if (!any(there)) return(NULL)
  n <- nrow(responses)
  seconds <- vapply(seq_along(items), function(j) {
    if (!there[j]) return(rep(NA_real_, n))
    column <- paste(items[j], "seconds")
    read_number(trim_text(responses[[column]]))
  }, numeric(n))
  matrix(seconds, n)
}

# The time of the whole attempt; where only its parts are known, their sum.
wide_seconds <- function(responses, items) {
  if ("seconds" %in% names(responses)) {
    return(read_number(trim_text(responses$seconds)))
  }
  timed <- wide_times(responses, items)
  if (is.null(timed)) return(NULL)
  ifelse(
    rowSums(!is.na(timed)) > 0,
    rowSums(timed, na.rm = TRUE),
    NA
  )
}

wide_said <- function(responses, items) {
  found <- lapply(said_kinds, function(kind) {
    lapply(which(paste(items, kind) %in% names(responses)), function(j) {
      text <- trim_text(responses[[paste(items[j], kind)]])
      row <- which(!is.na(text))
      data.frame(
        row = row,
        item = rep(j, length(row)),
        kind = rep(kind, length(row)),
        text = text[row]
      )
    })
  })
  do.call(rbind, unlist(found, recursive = FALSE))
}

# Rows without a student may be rows without anything.
drop_empty_rows <- function(responses, student) {
  nameless <- which(is.na(student))
  if (!length(nameless)) return(responses)
  empty <- nameless[is_empty_row(responses[nameless, , drop = FALSE])]
  if (!length(empty)) return(responses)
  kept <- keep_origin(responses[-empty, , drop = FALSE], responses)
  attr(kept, "line") <- line_of(responses)[-empty]
  kept
}

# Few rows are left to look at after the first columns.
is_empty_row <- function(table) {
  empty <- seq_len(nrow(table))
  for (column in table) {
    empty <- empty[is_blank(as.character(column[empty]))]
  }
  seq_len(nrow(table)) %in% empty
}

abort_no_item <- function(responses, items) {
  columns <- setdiff(names(responses), "student")
  abort_pregunta(
    "input",
    say("sitting-responses-wide.no_column_of_the"),
    say(
      "sitting-responses-wide.has_the_items_are",
      responses = origin_of(responses),
      columns = some_of(columns, 8),
      items = some_of(items$item, 8)
    ),
    say("sitting-responses-wide.name_the_columns_of")
  )
}

check_wide <- function(responses, missing, other, items) {
  origin <- origin_of(responses)
  other <- setdiff(other, known_student_columns)
  slips <- misspelt_columns(responses, beside_answers, other)
  other <- setdiff(other, vapply(slips, `[[`, "", "column"))
  c(
    slips,
    lapply(missing, function(item) {
      new_finding(
        "warning",
        origin,
        item,
        NA,
        say("sitting-responses-wide.has_no_column_in"),
        say("sitting-responses-wide.it_is_not_counted")
      )
    }),
    lapply(other, function(column) {
      asks <- looks_asked(column, items)
      new_finding(
        if (asks) "warning" else "note",
        origin,
        column,
        NA,
        if (asks) {
          say("sitting-responses-wide.is_a_column_that")
        } else {
          say("sitting-responses-wide.is_a_column_that_is")
        },
        say("sitting-responses-wide.if_it_is_a")
      )
    })
  )
}

# Named as the items are but for the number.
looks_asked <- function(column, items) {
  stem <- function(x) tolower(gsub("[0-9]+[a-z]?$", "#", x))
  grepl("[0-9]", column) && stem(column) %in% stem(items)
}

beside_answers <- c("attempt", "seconds", "submitted")
known_student_columns <- c(
  "name", "section", "email", "guardian_email", "teacher", "school", "district"
)
