# From the rows of the file to one row a student: trial runs out, rows that
# complete each other joined, and of several attempts the one that counts.

# Two rows of one student are one when no item is answered differently in them.
join_rows <- function(rows) {
  rows$again <- anyDuplicated(rows$student) > 0
  if (!rows$again) return(rows)
  who <- paste(rows$student, rows$attempt, sep = "\r")
  twice <- unique(who[duplicated(who)])
  if (!length(twice)) return(rows)
  gone <- integer()
  findings <- list()
  for (one in twice) {
    at <- which(who == one)
    answers <- vapply(
      rows$answers,
      coded_text,
      character(length(at)),
      at
    )
    points <- vapply(rows$given, function(x) {
      if (is.null(x)) rep(NA_character_, length(at)) else coded_text(x, at)
    }, character(length(at)))
    agree <- apply(rbind(answers), 2, agrees) &
      apply(rbind(points), 2, agrees)
    if (all(agree)) {
      for (j in seq_along(rows$answers)) {
        rows$answers[[j]] <- coded_set(
          rows$answers[[j]],
          at[1],
          first_filled(answers[, j])
        )
        if (!is.null(rows$given[[j]])) {
          rows$given[[j]] <- coded_set(
            rows$given[[j]],
            at[1],
            first_filled(points[, j])
          )
        }
      }
      rows <- join_beside(rows, at)
      gone <- c(gone, at[-1])
    }
    findings <- with_finding(
      findings,
      if (all(agree)) "note" else "warning",
      rows$origin,
      "student",
      rows$student[at[1]],
      if (all(agree)) {
        say("sitting-attempts.has_rows_that_complete", n = length(at))
      } else {
        say("sitting-attempts.has_rows_with_different", n = length(at))
      },
      if (all(agree)) {
        say("sitting-attempts.nothing_to_do")
      } else {
        say("sitting-attempts.if_one_is_a")
      },
      line = rows$line[at[2]]
    )
  }
  if (!length(gone)) {
    rows$findings <- c(rows$findings, findings)
    return(rows)
  }
  keep_rows(rows, -gone, findings)
}

# What was said beside the answers, of these rows, numbered anew.
said_in_rows <- function(said, rows) {
  if (is.null(said)) return(NULL)
  said$row <- match(said$row, rows)
  said[!is.na(said$row), , drop = FALSE]
}

# What stands beside the answers goes to the first of the joined rows.
join_beside <- function(rows, at) {
  if (any(!is.na(rows$seconds[at]))) {
    rows$seconds[at[1]] <- sum(rows$seconds[at], na.rm = TRUE)
  }
  if (!is.null(rows$submitted)) {
    rows$submitted[at[1]] <- latest(rows$submitted[at])
  }
  if (!is.null(rows$timed)) {
    rows$timed[at[1], ] <- apply(
      rows$timed[at, , drop = FALSE],
      2,
      function(x) {
        if (all(is.na(x))) NA else sum(x, na.rm = TRUE)
      }
    )
  }
  if (!is.null(rows$said)) {
    rows$said$row[rows$said$row %in% at] <- at[1]
  }
  rows
}

agrees <- function(values) length(unique(values[!is_blank(values)])) <= 1

first_filled <- function(values) values[!is_blank(values)][1]

# The row of each student that counts, with the codes along the students. Of
# means there is no row: their codes are made anew, and `row` is the last try.
settle_attempts <- function(rows, codes, cells, settings) {
  if (!rows$again) {
    return(list(row = seq_along(rows$student), codes = codes, cells = cells))
  }
  scores <- row_scores(codes, cells)
  rank <- attempt_rank(rows)
  touched <- scores$touched
  preference <- switch(settings$attempts,
    best = order(!touched, -or_else(scores$share, -1), rank),
    first = order(!touched, rank),
    last = ,
    mean = order(!touched, -rank)
  )
  chosen <- preference[!duplicated(rows$student[preference])]
  row <- chosen[match(unique(rows$student), rows$student[chosen])]
  many <- sum(table(rows$student[touched]) > 1)
  settled <- list(
    row = row,
    codes = codes[row, , drop = FALSE],
    cells = cells
  )
  if (settings$attempts == "mean") {
    settled[c("codes", "cells")] <- mean_attempts(
      rows,
      codes,
      cells,
      row,
      touched
    )
  }
  c(
    settled,
    list(
      findings = if (many) {
        list(new_finding(
          "note",
          rows$origin,
          NA,
          NA,
          say(
            "sitting-attempts.students_with_more_than",
            many = many,
            attempts = settings$attempts
          ),
          say("sitting-attempts.set_attempts_in_test")
        ))
      }
    )
  )
}

# The place of each row among its student's attempts: by the number of the
# attempt, then by time, then by the order of the file.
attempt_rank <- function(rows) {
  number <- suppressWarnings(as.numeric(rows$attempt))
  time <- if (is.null(rows$submitted)) {
    0 * seq_along(number)
  } else {
    as.numeric(read_time(rows$submitted))
  }
  sequence <- order(
    rows$student,
    is.na(number),
    number,
    time,
    seq_along(number)
  )
  rank <- integer(length(sequence))
  rank[sequence] <- seq_along(sequence)
  rank
}

# Each answer of a student with several tries earns the mean of what it earned
# in them; the answer shown is the last try's. A try without the item does not
# count, one that waits for a mark makes the mean wait.
mean_attempts <- function(rows, codes, cells, last, touched) {
  student <- match(rows$student, rows$student[last])
  out <- codes[last, , drop = FALSE]
  several <- which(tabulate(student[touched], length(last)) > 1)
  tries <- which(touched & student %in% several)
  if (!length(tries)) return(list(codes = out, cells = cells))
  several <- unique(student[tries])
  for (j in seq_along(cells)) {
    points <- cells[[j]]$points[codes[tries, j]]
    state <- cells[[j]]$state[codes[tries, j]]
    whose <- match(student[tries], several)
    some <- function(which_state) {
      tabulate(whose[state %in% which_state], length(several)) > 0
    }
    waits <- some("pending")
    valued <- !is.na(points)
    sum_of <- function(x) as.vector(rowsum(x, whose))
    mean <- tidy_sum(sum_of(ifelse(valued, points, 0)) / sum_of(valued + 0))
    changed <- which(some(c("answered", "pending")))
    if (!length(changed)) next
    shown <- out[several[changed], j]
    answer <- ifelse(
      cells[[j]]$state[shown] %in% fixed_states,
      answer_by_hand,
      cells[[j]]$answer[shown]
    )
    made <- data.frame(
      answer = answer,
      points = ifelse(waits, NA, mean)[changed],
      state = ifelse(waits, "pending", "answered")[changed]
    )
    distinct <- unique(made)
    code <- integer(nrow(distinct))
    for (k in seq_len(nrow(distinct))) {
      added <- with_cell(
        cells[[j]],
        distinct$answer[k],
        distinct$points[k],
        distinct$state[k]
      )
      cells[[j]] <- added$cells
      code[k] <- added$code
    }
    as_key <- function(table) do.call(paste, c(table, sep = "\r"))
    out[several[changed], j] <- code[match(as_key(made), as_key(distinct))]
  }
  list(codes = out, cells = cells)
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
  list(
    earned = tidy_sum(earned),
    open = tidy_sum(open),
    touched = touched,
    share = ifelse(
      open > 0,
      tidy_sum(earned) / tidy_sum(open),
      NA_real_
    )
  )
}

# Thirds of points added up are a whole again: 1/3 + 1/3 + 1/3 is 1.
tidy_sum <- function(x) {
  near <- round(x, 9)
  ifelse(abs(x - near) < 1e-11, near, x)
}
