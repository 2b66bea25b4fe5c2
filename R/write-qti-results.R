# What each student answered and earned, as a QTI document a student. The answers of a
# district are many: the lines of all of them are made together, then told apart.

put_results <- function(sitting, names, version, draft) {
  rows <- long_responses(sitting)
  rows <- rows[order(rows$order, match(rows$item, sitting$items$item)), ]
  students <- unique(rows$student)
  if (!length(students)) return(invisible())
  dir.create(file.path(draft, "results"))
  times <- result_times(sitting, students)
  results <- item_result_lines(sitting, rows, names, times[rows$student])
  bodies <- split(results, factor(rows$student, students))
  head <- paste0(
    "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n",
    "<assessmentResult xmlns=\"", qti_spaces(version)$results, "\">\n",
    "  <context sourcedId=\"", xml_text(students), "\"/>\n",
    test_result_lines(sitting, names, students, times)
  )
  for (k in seq_along(students)) {
    put_document(
      paste0(head[k], paste(bodies[[k]], collapse = ""), "</assessmentResult>"),
      file.path(draft, "results", sprintf("%04d.xml", k))
    )
  }
}

# When each answered, as far as it is known: handed in, the day of the test, else the
# moment at which the result is written down.
result_times <- function(sitting, students) {
  at <- match(students, sitting$students$student)
  time <- rep(NA_character_, length(students))
  submitted <- sitting$students$submitted[at]
  if (length(submitted)) time <- format(read_time(submitted), "%Y-%m-%dT%H:%M:%S")
  day <- sitting$settings$date
  else_at <- if (is.na(day)) {
    format(Sys.time(), "%Y-%m-%dT%H:%M:%S", tz = "UTC")
  } else {
    paste0(day, "T00:00:00")
  }
  stats::setNames(or_else(time, else_at), students)
}

# What each earned in all: of what was open to them, and only where nothing waits.
test_result_lines <- function(sitting, names, students, times) {
  totals <- as.data.frame(summarise_students(sitting))
  totals <- totals[match(students, totals$student), ]
  whole <- totals$status != "waiting" & !is.na(totals$points)
  paste0(
    "  <testResult identifier=\"", names$test, "\" datestamp=\"", times, "\">\n",
    ifelse(whole, score_lines(totals$points, totals$open), ""),
    "  </testResult>\n"
  )
}

score_lines <- function(points, most) {
  paste0(
    "    <outcomeVariable identifier=\"SCORE\" cardinality=\"single\" baseType=\"float\"",
    " normalMaximum=\"", format_plain(most), "\">\n",
    "      <value>", format_plain(points), "</value>\n",
    "    </outcomeVariable>\n"
  )
}

item_result_lines <- function(sitting, rows, names, times) {
  place <- match(rows$item, sitting$items$item)
  said <- response_lines(sitting, rows, names, place)
  paste0(
    "  <itemResult identifier=\"", names$items[place],
    "\" sequenceIndex=\"", place,
    "\" datestamp=\"", times,
    "\" sessionStatus=\"",
    ifelse(rows$state == "pending", "pendingResponseProcessing", "final"), "\">\n",
    said,
    ifelse(
      rows$state == "answered",
      score_lines(rows$points, sitting$items$points[place]),
      ""
    ),
    "  </itemResult>\n"
  )
}

# The same answer to the same item is put into words once.
response_lines <- function(sitting, rows, names, place) {
  asked <- paste(place, rows$response, sep = "\r")
  once <- which(!duplicated(asked))
  lines <- character(length(once))
  for (j in unique(place[once])) {
    mine <- which(place[once] == j)
    lines[mine] <- answers_as_lines(sitting, j, rows$response[once[mine]], names)
  }
  lines[match(asked, asked[once])]
}

answers_as_lines <- function(sitting, j, answers, names) {
  item <- sitting$items[j, ]
  qti <- item_qti(item, sitting$options$option[sitting$options$item == item$item])
  if (is.null(qti$interaction)) return(rep("", length(answers)))
  named <- names$options[[j]]
  right <- if (is.na(item$key)) {
    ""
  } else {
    values_line("correctResponse", key_values(item, qti, named))
  }
  given <- vapply(answers, function(answer) {
    values <- if (is.na(answer)) character() else qti$values(answer)
    values_line("candidateResponse", named_values(values, qti, named))
  }, "")
  # A number may be written in words: then it is said as a text.
  words <- qti$base == "float" & is.na(read_number(answers)) & !is.na(answers)
  paste0(
    "    <responseVariable identifier=\"RESPONSE\" cardinality=\"", qti$cardinality,
    "\" baseType=\"", ifelse(words, "string", qti$base), "\">\n",
    right, given, "    </responseVariable>\n"
  )
}

values_line <- function(name, values) {
  values <- paste0("<value>", xml_text(values), "</value>", recycle0 = TRUE)
  paste0("      <", name, ">", paste(values, collapse = ""), "</", name, ">\n")
}

# Text as it may stand in a document, also between quotation marks.
xml_text <- function(x) {
  x <- xml_characters(x)
  signs <- c(
    "&" = "amp", "<" = "lt", ">" = "gt", "\"" = "quot", "\r" = "#13", "\n" = "#10"
  )
  for (sign in names(signs)) {
    x <- gsub(sign, paste0("&", signs[[sign]], ";"), x, fixed = TRUE)
  }
  x
}
