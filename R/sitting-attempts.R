# From the rows of the file to one row a student: trial runs out, rows that
# complete each other joined, and of several attempts the one that counts.

keep_rows <- function(rows, keep, findings) {
  rows$student <- rows$student[keep]
  rows$attempt <- rows$attempt[keep]
  rows$line <- rows$line[keep]
  rows$seconds <- rows$seconds[keep]
  rows$answers <- lapply(rows$answers, coded_rows, keep)
  rows$given <- lapply(rows$given, coded_rows, keep)
  rows$about <- rows$about[keep, , drop = FALSE]
  rows$findings <- c(rows$findings, findings)
  rows
}

exclude_rows <- function(rows, settings) {
  out <- rep(FALSE, length(rows$student))
  findings <- list()
  for (pattern in settings$exclude) {
    hit <- grepl(utils::glob2rx(pattern), rows$student)
    out <- out | hit
    findings <- c(findings, list(finding(
      if (any(hit)) "note" else "warning", "test.yml", "exclude", pattern,
      if (any(hit)) paste("leaves out", count_of(sum(hit), "row"), "of responses") else "matches no student",
      if (any(hit)) "Nothing to do." else "See the spelling of the id, or take it out."
    )))
  }
  if (all(out)) {
    abort_pregunta("input", "The setting \"exclude\" leaves out every student.",
      paste0("exclude: ", some_of(settings$exclude)), "Take the pattern out that stands for all.")
  }
  if (!any(out)) {
    rows$findings <- c(rows$findings, findings)
    return(rows)
  }
  keep_rows(rows, which(!out), findings)
}

# Two rows of one student are one when no item is answered differently in them.
join_rows <- function(rows) {
  if (!anyDuplicated(rows$student)) return(rows)
  key <- paste(rows$student, rows$attempt, sep = "\r")
  twice <- unique(key[duplicated(key)])
  if (!length(twice)) return(rows)
  gone <- integer()
  findings <- list()
  for (one in twice) {
    at <- which(key == one)
    answers <- vapply(rows$answers, coded_text, character(length(at)), at)
    points <- vapply(rows$given, function(x) if (is.null(x)) rep(NA_character_, length(at)) else coded_text(x, at),
      character(length(at)))
    agree <- apply(rbind(answers), 2, agrees) & apply(rbind(points), 2, agrees)
    if (all(agree)) {
      for (j in seq_along(rows$answers)) {
        rows$answers[[j]] <- coded_set(rows$answers[[j]], at[1], first_filled(answers[, j]))
        if (!is.null(rows$given[[j]])) rows$given[[j]] <- coded_set(rows$given[[j]], at[1], first_filled(points[, j]))
      }
      if (any(!is.na(rows$seconds[at]))) rows$seconds[at[1]] <- sum(rows$seconds[at], na.rm = TRUE)
      gone <- c(gone, at[-1])
      findings <- c(findings, list(finding("note", rows$origin, "student", rows$student[at[1]],
        paste("has", length(at), "rows that complete each other; they count as one"),
        "Nothing to do.", line = rows$line[at[2]])))
    } else {
      findings <- c(findings, list(finding("warning", rows$origin, "student", rows$student[at[1]],
        paste("has", length(at), "rows with different answers; they count as attempts"),
        "If one is a mistake, take it out.", line = rows$line[at[2]])))
    }
  }
  if (!length(gone)) {
    rows$findings <- c(rows$findings, findings)
    return(rows)
  }
  keep_rows(rows, -gone, findings)
}

agrees <- function(values) length(unique(values[!is_blank(values)])) <= 1

first_filled <- function(values) values[!is_blank(values)][1]

settle_attempts <- function(rows, coded, settings) {
  if (!anyDuplicated(rows$student)) return(list(row = seq_along(rows$student)))
  scores <- row_scores(coded$codes, coded$cells)
  number <- suppressWarnings(as.numeric(rows$attempt))
  sequence <- order(rows$student, is.na(number), number, seq_along(number))
  rank <- integer(length(sequence))
  rank[sequence] <- seq_along(sequence)
  touched <- scores$touched
  preference <- switch(settings$attempts,
    best = order(!touched, -ifelse(is.na(scores$share), -1, scores$share), rank),
    first = order(!touched, rank),
    last = order(!touched, -rank)
  )
  chosen <- preference[!duplicated(rows$student[preference])]
  first_seen <- match(unique(rows$student), rows$student[chosen])
  many <- sum(table(rows$student) > 1)
  list(
    row = chosen[first_seen],
    findings = list(finding("note", rows$origin, "student", NA,
      paste(count_of(many, "student"), "with more than one attempt; the", settings$attempts, "counts"),
      "Set attempts: in test.yml to best, first or last to choose."))
  )
}

# Earned and open points of each row of codes, over all items or some.
row_scores <- function(codes, cells, items = seq_along(cells)) {
  earned <- open <- numeric(nrow(codes))
  touched <- logical(nrow(codes))
  for (j in items) {
    points <- cells[[j]]$points
    most <- cells[[j]]$most
    valued <- !is.na(points)
    code <- codes[, j]
    earned <- earned + ifelse(valued, points, 0)[code]
    open <- open + ifelse(valued, most, 0)[code]
    touched <- touched | (cells[[j]]$state %in% c("answered", "pending"))[code]
  }
  list(earned = tidy_sum(earned), open = tidy_sum(open), touched = touched,
    share = ifelse(open > 0, tidy_sum(earned) / tidy_sum(open), NA_real_))
}

# Thirds of points added up are a whole again: 1/3 + 1/3 + 1/3 is 1.
tidy_sum <- function(x) {
  near <- round(x, 9)
  ifelse(abs(x - near) < 1e-11, near, x)
}
