# The rows of a table that are no students: points, standards, a key, averages;
# above or below the students, with a label or told apart by what they hold.

# A data frame, a row each such row: kind, label, line, and in `cells` (a list)
# what stands in every column.
extra_rows <- function(frame, columns, told = list()) {
  asked <- columns$role %in% "question"
  body <- seq_len(nrow(frame$body))
  outer <- unique(c(utils::head(body, 4), utils::tail(body, 6)))
  found <- rbind(
    label_rows(
      frame$above,
      frame$above_line,
      columns,
      asked,
      seq_along(frame$above_line),
      above = TRUE
    ),
    label_rows(frame$body, frame$line, columns, asked, outer, above = FALSE)
  )
  found <- apply_told_rows(found, told, frame, columns, asked)
  found[!is.na(found$kind), ]
}

label_rows <- function(table, lines, columns, asked, which_rows, above) {
  rows <- lapply(which_rows, function(i) {
    cells <- unlist(table[i, ], use.names = FALSE)
    label <- row_label(cells, columns, asked, above)
    data.frame(
      kind = row_kind(cells, label, table, columns, asked, above),
      label = label,
      line = lines[i],
      row = if (above) NA_integer_ else i,
      cells = I(list(cells))
    )
  })
  if (length(rows)) do.call(rbind, rows)
}

# The first cell that says what the row is. Below the header only a row without
# a student's own cells can be one: its label stands where the student would.
row_label <- function(cells, columns, asked, above) {
  beside <- cells[!asked & cells != ""]
  if (above || !length(beside)) return(c(beside, "")[1])
  who <- columns$role %in% c("student", "first_name", "last_name", "name", "email")
  c(cells[who & cells != ""], if (!any(cells[who] != "")) beside, "")[1]
}

row_kind <- function(cells, label, table, columns, asked, above) {
  filled <- cells[asked & cells != ""]
  if (length(filled) < max(
      1,
      sum(asked & !columns$part %in% c("comment", "explanation")) / 4
    )) {
    return(NA_character_)
  }
  kind <- word_of(label, row_words)
  if (!is.na(kind)) {
    if (!above && !looks_like_label(cells, columns)) return(NA_character_)
    if (kind == "key" && row_holds(cells, asked, is_code)) return("standards")
    return(kind)
  }
  if (above || label == "") {
    kind_by_content(cells, table, columns, asked)
  } else {
    NA_character_
  }
}

# A student who bears such a name has an id beside it, or nothing but a name.
looks_like_label <- function(cells, columns) {
  who <- columns$role %in% c("student", "first_name", "last_name", "name", "email")
  there <- cells[who & cells != ""]
  length(there) <= 1 || all(!is.na(word_of(there, row_words)))
}

kind_by_content <- function(cells, table, columns, asked) {
  answers <- asked & columns$part %in% c(NA, "answer")
  filled <- answers & cells != ""
  numeric <- mean(!is.na(read_number(cells[asked & cells != ""])))
  among <- mean(vapply(which(filled), function(k) sum(table[[k]] == cells[k]) > 1, TRUE))
  if (numeric == 1) {
    return(if (above_all_marks(cells, table, asked)) "points" else "summary")
  }
  if (row_holds(cells, asked, is_code)) return("standards")
  if (isTRUE(among > 0.5)) return("key")
  NA_character_
}

# No mark below is above it: then it says the most there is.
above_all_marks <- function(cells, table, asked) {
  at <- which(asked & cells != "")
  all(
    vapply(at, function(k) {
      marks <- read_number(table[[k]])
      all(is.na(marks)) || mean(marks > read_number(cells[k]) + 1e-9, na.rm = TRUE) < 0.05
    }, TRUE)
  )
}

row_holds <- function(cells, asked, test) {
  filled <- cells[asked & cells != ""]
  length(filled) > 0 && mean(test(filled)) > 0.5
}

# Codes of standards have letters and a number or parts between points.
is_code <- function(x) {
  grepl(
    "^[A-Za-z0-9]+([.:_-][A-Za-z0-9]+)+( *[;,] *[A-Za-z0-9]+([.:_-][A-Za-z0-9]+)+)*$",
    x
  ) &
    grepl("[A-Za-z]", x) &
    is.na(read_number(x))
}

# rows: {points: Max, key: 3}: the label, or the line of the file.
apply_told_rows <- function(found, told, frame, columns, asked) {
  for (kind in names(told$rows)) {
    wanted <- told$rows[[kind]]
    labels <- function(rows, line, above) {
      label_rows(rows, line, columns, asked, seq_along(line), above)
    }
    all <- rbind(
      labels(frame$above, frame$above_line, TRUE),
      labels(frame$body, frame$line, FALSE)
    )
    hit <- if (is.numeric(wanted)) {
      all$line %in% wanted
    } else {
      plain_words(all$label) %in% plain_words(wanted)
    }
    if (!any(hit)) next
    found <- found[!found$line %in% all$line[hit] & !found$kind %in% kind, ]
    one <- all[hit, ]
    one$kind <- kind
    found <- rbind(found, one)
  }
  found
}

# The students' rows: what is left.
student_rows <- function(frame, extra) {
  keep <- setdiff(seq_len(nrow(frame$body)), extra$row)
  list(body = frame$body[keep, , drop = FALSE], line = frame$line[keep])
}

# What a row of a kind says of each question, by the question's columns.
row_values <- function(extra, kind, columns_of) {
  row <- match(kind, extra$kind)
  if (is.na(row)) return(NULL)
  cells <- extra$cells[[row]]
  vapply(columns_of, function(at) c(cells[at][cells[at] != ""], NA)[1], "")
}
