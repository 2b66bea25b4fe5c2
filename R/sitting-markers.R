# Marks of several markers: a long table with a column `marker`. Each answer gets one mark
# by the setting `markers`; all marks stay beside it.

# responses: with one row an answer; marks: student, item, attempt, marker, points, as
# they were given, NULL where nobody is named.
apart_markers <- function(responses, items, settings) {
  whole <- list(responses = responses, marks = NULL)
  columns <- c("student", "item", "points", "marker")
  if (!all(columns %in% names(responses)) || "marker" %in% items$item) return(whole)
  marker <- trim_text(responses$marker)
  marker[!is.na(marker) & !nzchar(marker)] <- NA
  if (all(is.na(marker))) {
    responses$marker <- NULL
    return(list(responses = responses, marks = NULL))
  }
  attempt <- responses$attempt
  attempt <- if (is.null(attempt)) rep("", nrow(responses)) else or_blank(attempt)
  cell <- paste(responses$student, responses$item, attempt, sep = "\r")
  points <- points_of_marks(responses$points, settings)
  marks <- data.frame(
    student = as.character(responses$student), item = trim_text(responses$item),
    attempt = attempt, marker = marker, points = points
  )
  # Of one marker who says two things of an answer the last counts.
  again <- duplicated(paste(cell, marker, sep = "\r"), fromLast = TRUE)
  counts <- !is.na(points) & !again
  first <- !duplicated(cell)
  one <- one_mark(points[counts], cell[counts], settings$markers)
  # A mark that is none speaks for its answer, so that it is found.
  written <- trim_text(responses$points)
  strange <- which(is.na(points) & !is.na(written) & nzchar(written))
  stands <- which(first)
  off <- match(cell[first], cell[strange])
  stands[!is.na(off)] <- strange[off[!is.na(off)]]
  kept <- pick_rows(responses, stands)
  at <- match(cell[first], names(one))
  at[!is.na(off)] <- NA
  kept$points <- ifelse(is.na(at), kept$points, format_plain(one[at]))
  if (!is.null(kept$response)) {
    said <- !is.na(responses$response) & nzchar(responses$response)
    answer <- responses$response[said][match(cell[first], cell[said])]
    kept$response <- or_else(kept$response, answer)
  }
  kept$marker <- NULL
  list(responses = kept, marks = marks[counts & !is.na(marker), , drop = FALSE])
}

points_of_marks <- function(written, settings) {
  written <- trim_text(written)
  points <- read_number(written)
  steps <- unlist(settings$scale)
  if (!is.null(names(steps))) {
    points <- ifelse(is.na(points), unname(steps)[match(written, names(steps))], points)
  }
  as.numeric(points)
}

# One mark an answer, named by the answer.
one_mark <- function(points, cell, rule) {
  together <- split(points, in_order(cell))
  choose <- switch(rule,
    mean = mean,
    first = function(x) x[1],
    last = function(x) x[length(x)],
    lowest = min,
    highest = max
  )
  vapply(together, choose, 0)
}
