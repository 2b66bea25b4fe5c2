# A row a student, attempt and item.

arrange_long <- function(responses, items, settings) {
  columns <- lapply(
    stats::setNames(nm = c("student", "item", "response", "points", "attempt")),
    function(name) coded(responses[[name]])
  )
  if (is.null(columns$response)) {
    columns$response <- coded_same(NA_character_, nrow(responses))
  }
  require_students(
    responses,
    if (anyNA(columns$student$text)) coded_text(columns$student) else ""
  )
  columns$response <- with_status(columns$response, responses$status)
  meant <- match(columns$item$text, items$item)
  row <- coded_pairs(
    columns$student,
    if (!all_blank(columns$attempt)) columns$attempt
  )
  n_rows <- length(row$first)
  placed <- place_long(row$at, columns$item$at, meant, n_rows, nrow(items))
  first <- placed$first
  if (placed$twice > 0) {
    placed$at <- place_filled(columns, row$at, meant, n_rows, nrow(items))
    placed$clash <- clashes(columns, row$at, meant)
  }
  blank <- if (settings$missing_rows == "not given") {
    blank_words[["not_given"]]
  } else {
    NA_character_
  }
  answers <- long_columns(
    columns$response,
    placed$at,
    length(first),
    nrow(items),
    blank
  )
  given <- if (all_blank(columns$points)) {
    vector("list", nrow(items))
  } else {
    lapply(
      long_columns(
        columns$points,
        placed$at,
        length(first),
        nrow(items),
        NA_character_
      ),
      function(column) {
        if (!all_blank(column)) column
      }
    )
  }
  list(
    student = row$first,
    line = line_of(responses)[first],
    attempt = row$second,
    answers = answers,
    given = given,
    about = long_about(responses, first),
    submitted = long_submitted(
      responses$submitted,
      row$at,
      length(first)
    ),
    timed = long_times(
      responses$seconds,
      placed$at,
      length(first),
      nrow(items)
    ),
    said = long_said(responses, row$at, columns$item$at, meant),
    seconds = if ("seconds" %in% names(responses)) {
      sum_seconds(responses$seconds, row$at, length(first))
    },
    findings = check_long(
      responses,
      items,
      columns$item,
      meant,
      placed,
      length(first)
    )
  )
}

# The cells of each item along the rows of students. A row that is missing and a cell
# that says the same are one value.
long_columns <- function(column, at, n_rows, n_items, missing) {
  text <- unique(c(missing, column$text))
  means <- match(column$text, text)
  lapply(gather_long(at, column$at, means, n_rows, n_items), function(code) {
    coded_used(list(text = text, at = code))
  })
}

# Of several rows of a student, attempt and item one with nothing in it is none:
# the last that holds something counts.
place_filled <- function(columns, row, meant, n_rows, n_items) {
  filled <- !is.na(coded_text(columns$response))
  if (!is.null(columns$points)) {
    filled <- filled | !is.na(coded_text(columns$points))
  }
  first <- order(filled)
  item <- columns$item$at[first]
  at <- place_long(row[first], item, meant, n_rows, n_items)$at
  there <- at > 0
  at[there] <- first[at[there]]
  at
}

# Rows that say something else of the same student, attempt and item.
clashes <- function(columns, row, meant) {
  item <- meant[columns$item$at]
  cell <- paste(row, item)
  twice <- which(cell %in% cell[duplicated(cell)] & !is.na(item))
  response <- coded_text(columns$response, twice)
  points <- if (is.null(columns$points)) NA else coded_text(columns$points, twice)
  filled <- twice[!is.na(response) | !is.na(points)]
  filled[duplicated(cell[filled])]
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

long_columns_known <- c(
  "student", "item", "response", "points", "attempt", "status", "seconds",
  "submitted"
)

# Other columns, such as one that marks a trial run, as they stand in the first row.
long_about <- function(responses, first) {
  other <- setdiff(names(responses), c(long_columns_known, said_kinds))
  if (!length(other)) return(data.frame(row.names = seq_along(first)))
  as.data.frame(
    lapply(stats::setNames(nm = other), function(column) {
      as_text(responses[[column]][first])
    }),
    check.names = FALSE
  )
}

# An attempt is handed in when its last answer was.
long_submitted <- function(submitted, row, n) {
  if (is.null(submitted)) return(NULL)
  submitted <- trim_text(submitted)
  known <- which(!is.na(submitted))
  known <- known[
    order(
      row[known],
      read_time(submitted[known]),
      na.last = FALSE
    )
  ]
  out <- rep(NA_character_, n)
  out[row[known]] <- submitted[known] # the last one of a row stays
  out
}

long_times <- function(seconds, at, n_rows, n_items) {
  if (is.null(seconds)) return(NULL)
  seconds <- c(NA, read_number(trim_text(seconds)))
  matrix(seconds[at + 1L], n_rows, n_items, byrow = TRUE)
}

long_said <- function(responses, row, item, meant) {
  found <- lapply(intersect(said_kinds, names(responses)), function(kind) {
    item <- meant[item]
    text <- trim_text(responses[[kind]])
    filled <- which(!is.na(text) & !is.na(item))
    data.frame(
      row = row[filled],
      item = item[filled],
      kind = rep(kind, length(filled)),
      text = text[filled]
    )
  })
  do.call(rbind, found)
}

# A status in words that takes the cell out goes before the answer.
with_status <- function(response, status) {
  if (is.null(status)) return(response)
  status <- coded(status)
  named <- match(
    sub(" ", "_", tolower(status$text)),
    names(blank_words)
  )
  for (k in which(!is.na(named))) {
    response <- coded_set(
      response,
      which(status$at == k),
      blank_words[[named[k]]]
    )
  }
  response
}

check_long <- function(responses, items, names, meant, placed, n_rows) {
  unknown <- setdiff(names$text, items$item)
  slips <- misspelt_columns(responses, unlist(folder_columns$responses))
  findings <- lapply(unknown, function(name) {
    at <- which(names$at == match(name, names$text))
    new_finding(
      "error",
      origin_of(responses),
      "item",
      name,
      say("sitting-responses-long.is_no_item_of", n = length(at)),
      if (is.na(name)) {
        say("sitting-responses-long.fill_in_the_item")
      } else {
        did_you_mean(name, items$item)
      },
      line = line_of(responses)[at[1]]
    )
  })
  if (length(placed$clash)) {
    findings <- with_finding(
      findings,
      "error",
      origin_of(responses),
      "item",
      items$item[meant[names$at[placed$clash[1]]]],
      say(
        "sitting-responses-long.stands_twice_for_the",
        n = length(placed$clash)
      ),
      say("sitting-responses-long.the_later_row_counts"),
      line = line_of(responses)[placed$clash[1]]
    )
  }
  missing <- n_rows * nrow(items) - placed$placed
  if (missing > 0) {
    findings <- with_finding(
      findings,
      "note",
      origin_of(responses),
      NA,
      NA,
      say("sitting-responses-long.answers_of_a_student", missing = missing),
      say("sitting-responses-long.they_count_as_blank")
    )
  }
  c(findings, slips)
}
