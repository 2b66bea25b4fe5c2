# A column of text as its distinct values and where each cell stands among them:
# responses are many, answers few. `text` is trimmed, blanks are NA.

coded <- function(x) {
  if (is.null(x)) return(NULL)
  found <- if (is_coded(x)) {
    list(distinct = levels(x), at = bare_codes(x))
  } else {
    x <- if (is.numeric(x)) as_text(x) else as.character(x)
    distinct_strings(x)
  }
  text <- as_text(found$distinct)
  merged <- unique(text)
  at <- if (length(merged) == length(text)) {
    found$at
  } else {
    match(text, merged)[found$at]
  }
  list(text = merged, at = at)
}

# A factor of which every level occurs and no cell is missing. One that was made here says
# so; taking rows of it takes that away.
is_coded <- function(x) {
  if (!is.factor(x)) return(FALSE)
  isTRUE(attr(x, "whole")) || !anyNA(x) && all(tabulate(x, nlevels(x)) > 0)
}

# as.integer() would copy them.
bare_codes <- function(x) {
  attributes(x) <- NULL
  x
}

coded_same <- function(value, n) list(text = value, at = rep(1L, n))

coded_text <- function(column, rows = NULL) {
  if (is.null(rows)) column$text[column$at] else column$text[column$at[rows]]
}

coded_rows <- function(column, rows) {
  if (is.null(column)) return(NULL)
  list(text = column$text, at = column$at[rows])
}

# One cell gets another text.
coded_set <- function(column, row, value) {
  place <- match(value, column$text)
  if (is.na(place)) {
    column$text <- c(column$text, value)
    place <- length(column$text)
  }
  column$at[row] <- place
  column
}

# Only the values that are there.
coded_used <- function(column) {
  there <- tabulate(column$at, length(column$text)) > 0
  if (all(there)) return(column)
  list(text = column$text[there], at = cumsum(there)[column$at])
}

# Two columns as one: the pairs that occur. NULL beside it is a blank.
coded_pairs <- function(first, second) {
  if (is.null(second)) {
    return(list(
      first = first$text,
      second = rep(NA_character_, length(first$text)),
      at = first$at
    ))
  }
  key <- (first$at - 1) * length(second$text) + second$at
  distinct <- unique(key)
  list(
    first = first$text[(distinct - 1) %/% length(second$text) + 1],
    second = second$text[(distinct - 1) %% length(second$text) + 1],
    at = match(key, distinct)
  )
}

all_blank <- function(column) all(is.na(column$text))

keep_rows <- function(rows, keep, findings) {
  row_ids <- rows$student
  rows$student <- rows$student[keep]
  rows$attempt <- rows$attempt[keep]
  rows$line <- rows$line[keep]
  rows$seconds <- rows$seconds[keep]
  rows$submitted <- rows$submitted[keep]
  rows$timed <- rows$timed[keep, , drop = FALSE]
  rows$said <- said_in_rows(rows$said, seq_along(row_ids)[keep])
  rows$answers <- lapply(rows$answers, coded_rows, keep)
  rows$given <- lapply(rows$given, coded_rows, keep)
  rows$about <- rows$about[keep, , drop = FALSE]
  rows$findings <- c(rows$findings, findings)
  rows
}

# As as_text(), once for each distinct value where these are few.
trim_text <- function(x) {
  if (is.null(x)) return(NULL)
  start <- utils::head(x, 1000)
  if (is.character(x) && length(unique(start)) > length(start) / 2) return(as_text(x))
  coded_text(coded(x))
}
