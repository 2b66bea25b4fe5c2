# What each column of a table is: of the student, a part of a question, a total,
# or something else that is kept with the students.

# A data frame, a row a column: name, role (person_words, "question", "total",
# "other"), and for questions stem, part, most, number.
column_roles <- function(frame, told, known = NULL) {
  columns <- data.frame(name = frame$names, role = word_of(frame$names, person_words))
  columns$role[!is.na(columns$role) & grepl(" [(][0-9]+[)]$", columns$name)] <- NA
  columns <- cbind(columns, question_parts(frame$renamed, frame$names))
  columns <- one_of_each(columns, frame)
  columns <- apply_told(columns, told, frame)
  columns <- mark_totals(columns)
  columns <- mark_questions(columns, frame, known)
  columns <- mark_sums(columns, frame)
  columns$role[is.na(columns$role)] <- "other"
  columns
}

# The name taken apart: "Q3 points (2)" is the part points of Q3, worth 2.
question_parts <- function(shown, names) {
  plain <- plain_words(shown)
  most <- regmatches(plain, regexec(worth_pattern, plain, perl = TRUE))
  most <- vapply(most, function(hit) {
    if (length(hit)) hit[nzchar(hit)][2] else NA_character_
  }, "")
  short <- nchar(shown) < 40
  bare <- ifelse(is.na(most), plain, sub("[(\\[/][^(\\[/]*$", "", plain))
  part <- ifelse(short, word_of(bare, part_words), NA)
  stem <- bare
  for (words in part_words) stem[short] <- gsub(words, " ", stem[short], perl = TRUE)
  stem <- gsub("[ _:-]+", " ", stem)
  stem <- gsub("\\b(of|for|to|the)\\b *$|^ *(of|for|to|the)\\b", " ", stem)
  stem <- trimws(gsub("^[^[:alnum:]]+|[^[:alnum:])?!]+$", "", stem))
  # "Q1 why?" is the question itself when no column beside it holds its answer.
  alone <- !is.na(part) &
    !part %in% c("answer", "points") &
    stem != "" &
    !stem %in% stem[is.na(part) | part %in% c("answer", "points")]
  part[alone] <- NA
  stem[alone] <- plain[alone]
  twice <- names != shown & is.na(part)
  stem[twice] <- plain_words(names[twice])
  number <- question_number(ifelse(nzchar(stem), stem, "?"))
  data.frame(stem = stem, part = part, most = most, number = number)
}

# Two columns for one role: the first whose cells are all filled keeps it.
one_of_each <- function(columns, frame) {
  for (role in unique(stats::na.omit(columns$role))) {
    at <- which(columns$role == role)
    if (length(at) < 2) next
    filled <- vapply(at, function(k) {
      mean(frame$body[[k]] != "") * 10 + is_distinct(frame$body[[k]])
    }, 0)
    keep <- at[which.max(filled)]
    columns$role[setdiff(at, keep)] <- "other"
  }
  columns
}

is_distinct <- function(cells) {
  cells <- cells[cells != ""]
  length(cells) > 0 && length(unique(cells)) > 0.8 * length(cells)
}

apply_told <- function(columns, told, frame) {
  columns$told <- FALSE
  set <- function(role, wanted) {
    at <- match(plain_words(wanted), plain_words(columns$name))
    if (anyNA(at)) {
      abort_layout(
        role,
        wanted[is.na(at)][1],
        say(
          "read-layout-columns.names_no_column_of",
          role = quoted(role),
          origin = frame$origin
        ),
        say("read-layout-columns.its_columns_are", name = some_of(columns$name, 20))
      )
    }
    columns$role[columns$role %in% role] <<- "other"
    columns$role[at] <<- role
    columns$told[at] <<- TRUE
  }
  for (role in intersect(names(told), names(person_words))) {
    set(role, unlist(told[[role]]))
  }
  if (!is.null(told$questions)) {
    set("question", expand_range(unlist(told$questions), columns$name, frame))
  }
  if (!is.null(told$leave_out)) {
    here <- intersect(plain_words(unlist(told$leave_out)), plain_words(columns$name))
    if (length(here)) set("total", here)
  }
  columns
}

# "Q1..Q20": all columns from one to the other.
expand_range <- function(wanted, names, frame) {
  unlist(lapply(wanted, function(one) {
    ends <- trimws(strsplit(one, "..", fixed = TRUE)[[1]])
    at <- match(plain_words(ends), plain_words(names))
    if (length(ends) != 2 || anyNA(at)) return(one)
    names[seq(at[1], at[2])]
  }))
}

# A name that sums up, unless it is a loose part that stands beside each question.
mark_totals <- function(columns) {
  loose <- !is.na(columns$part) & columns$stem == ""
  usual <- stats::ave(seq_along(loose), columns$part, FUN = length)
  columns$loose <- loose & usual >= 2 & is.na(columns$role)
  sums <- grepl(
    total_words,
    plain_words(sub(" [(][0-9]+[)]$", "", columns$name)),
    perl = TRUE
  ) &
    is.na(columns$number)
  columns$role[is.na(columns$role) & sums & !columns$loose] <- "total"
  columns
}

# Numbered columns are questions; so are those between them, those that the key
# file or a row of points names, and, where none has a number, all that follow
# the columns of the student.
mark_questions <- function(columns, frame, known) {
  free <- is.na(columns$role)
  if (any(columns$role %in% "question" & columns$told)) {
    with_stem <- free &
      columns$stem != "" &
      columns$stem %in% columns$stem[columns$role %in% "question"]
    columns$role[with_stem | (free & columns$loose)] <- "question"
    return(columns)
  }
  hit <- free &
    (!is.na(columns$number) |
      columns$loose |
      plain_words(columns$name) %in% plain_words(known))
  hit <- if (any(hit)) {
    hit |
      free &
        (filled_beside(frame, hit) |
          between_hits(hit) |
          columns$stem %in% columns$stem[hit])
  } else {
    free & seq_along(free) > last_person(columns)
  }
  columns$role[hit] <- "question"
  columns
}

last_person <- function(columns) {
  left <- which(
    columns$role %in% c("student", "first_name", "last_name", "name", "email", "section")
  )
  if (length(left)) max(left) else 0
}

between_hits <- function(hit) {
  if (!any(hit)) return(hit)
  seq_along(hit) > min(which(hit)) & seq_along(hit) < max(which(hit))
}

# Filled in a labelled row of points, keys or standards.
filled_beside <- function(frame, hit) {
  rows <- rbind(frame$above, utils::head(frame$body, 3), utils::tail(frame$body, 4))
  label <- apply(rows, 1, function(cells) cells[!hit & cells != ""][1])
  kind <- word_of(or_blank(label), row_words)
  rows <- rows[kind %in% c("key", "points", "standards"), , drop = FALSE]
  rows <- rows[rowSums(rows[, hit, drop = FALSE] != "") >= sum(hit) / 2, , drop = FALSE]
  if (!nrow(rows)) return(rep(FALSE, length(hit)))
  word <- word_of(unlist(rows), row_words)
  is_label <- matrix(!is.na(word), nrow(rows))
  colSums(rows != "" & !is_label) > 0 & seq_along(hit) > min(which(hit))
}

# A column of numbers that add up the marks beside it, whatever it is called.
mark_sums <- function(columns, frame) {
  asked <- which(
    columns$role %in% "question" &
      columns$part %in% c(NA, "answer", "points") &
      !columns$told
  )
  numbers <- lapply(frame$body[asked], read_number)
  is_numeric <- vapply(numbers, function(x) mean(!is.na(x)) > 0.6, TRUE)
  if (sum(is_numeric) < 3) return(columns)
  numbers <- numbers[is_numeric]
  asked <- asked[is_numeric]
  sums <- Reduce(`+`, lapply(numbers, function(x) or_else(x, 0)))
  for (k in seq_along(asked)) {
    one <- numbers[[k]]
    rest <- sums - or_else(one, 0)
    sure <- !is.na(one) & rest > 0
    if (sum(sure) >= 3 &&
        is.na(columns$number[asked[k]]) &&
        mean(abs(one - rest)[sure] < 1e-6) > 0.9) {
      columns$role[asked[k]] <- "total"
    }
  }
  columns
}
