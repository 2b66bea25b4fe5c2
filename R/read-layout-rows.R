# The rows of a table that are no students: points, standards, a key, wordings, averages,
# footnotes; above or below the students, told apart by what they hold and, where that
# leaves it open, by the label in front.

# A data frame, a row each such row: kind, label, line, row (of the body), sure, and in
# `cells` (a list) what stands in every column.
# Hundreds of odd rows are a table of another kind, of which some are looked at.
extra_rows <- function(frame, columns, told = list(), known = NULL) {
  frame$known <- known
  frame$key_later <- isTRUE(told$key_later)
  asked <- columns$role %in% "question" &
    !columns$part %in% c("comment", "explanation", "seconds")
  who <- who_says(frame$body, columns)
  odd <- odd_rows(frame, columns, asked, who)
  rest <- utils::head(setdiff(seq_len(nrow(frame$body)), odd), 2000)
  frame$around <- if (length(rest)) {
    usual_rows(frame, asked, rest)
  } else {
    data.frame()
  }
  shapes <- id_shape(who$main)
  frame$shapes <- unique(
    if (length(rest)) shapes[rest] else shapes[duplicated(shapes)]
  )
  ends <- c(
    utils::head(seq_len(nrow(frame$body)), 3),
    utils::tail(seq_len(nrow(frame$body)), 3)
  )
  frame$keyed <- has_key_row(frame, ends)
  looked_at <- union(utils::head(odd, 100), utils::tail(odd, 40))
  body <- lapply(sort(union(looked_at, ends)), function(i) {
    one_extra(
      unlist(frame$body[i, ], use.names = FALSE),
      frame$line[i],
      i,
      frame,
      columns,
      asked,
      who,
      odd
    )
  })
  above <- lapply(seq_along(frame$above_line), function(i) {
    one_extra(
      over_sets(
        unlist(frame$above[i, ], use.names = FALSE),
        columns$role %in% "question"
      ),
      frame$above_line[i],
      NA_integer_,
      frame,
      columns,
      asked,
      who,
      odd
    )
  })
  found <- do.call(rbind, c(above, body))
  found <- apply_told_rows(found, told, frame, columns)
  if (is.null(found)) return(no_extra_rows())
  one_of_each_kind(found[found$kind != "student", ])
}

# Whether a row, or a key file, says that the answers go by a key.
has_key_row <- function(frame, ends) {
  first <- function(table) {
    apply(table, 1, function(cells) c(cells[cells != ""], "")[1])
  }
  labels <- c(first(frame$above), first(frame$body[ends, , drop = FALSE]))
  !is.null(frame$known$key) ||
    "key" %in% unlist(meanings_of_each(labels, "row"))
}

# Cells over the first question of each of several sets stand for the whole of it.
over_sets <- function(cells, asked) {
  heads <- which(cells != "" & asked)
  first <- which(asked)[1]
  spans <- length(heads) > 1 &&
    heads[1] == first &&
    length(heads) <= sum(asked) / 2 &&
    !anyDuplicated(cells[heads]) &&
    all(is.na(read_number(cells[heads])))
  if (!spans) return(cells)
  cells[asked] <- cells[heads][findInterval(which(asked), heads)]
  structure(cells, spans = TRUE)
}

no_extra_rows <- function() {
  data.frame(
    kind = character(),
    label = character(),
    line = integer(),
    row = integer(),
    sure = logical(),
    cells = I(list())
  )
}

# A second row of a kind that there can be one of is told about, not used.
one_of_each_kind <- function(found) {
  again <- duplicated(found$kind) &
    found$kind %in% c("key", "points", "type", "level")
  found$sure[again] <- FALSE
  found
}

# What identifies each row: the id, or the names; and whether anything does.
who_says <- function(body, columns) {
  cells <- function(role) {
    at <- which(columns$role %in% role)
    if (length(at)) body[[at[1]]] else rep("", nrow(body))
  }
  id <- cells("student")
  name <- cells("name")
  in_parts <- any(columns$role %in% c("first_name", "last_name"))
  parts <- if (in_parts) {
    trimws(paste(cells("first_name"), cells("last_name")))
  } else {
    rep("", nrow(body))
  }
  email <- cells("email")
  main <- if (any(id != "")) {
    id
  } else if (any(name != "")) {
    name
  } else if (any(parts != "")) {
    parts
  } else {
    email
  }
  list(main = main, any = id != "" | name != "" | parts != "" | email != "")
}

# The shape of an id: which kinds of characters follow each other. All names are alike.
id_shape <- function(x) {
  found <- distinct_strings(as_shape(x))
  shape <- gsub("9+", "9", found$distinct)
  shape <- gsub("\\p{L}+", "a", shape, perl = TRUE)
  shape[looks_like_name(found$distinct)] <- "name"
  shape[found$at]
}

# Rows that may be no student's: nobody named, an id of another shape, no answer, a label,
# or cells of another kind than the rows around it.
odd_rows <- function(frame, columns, asked, who) {
  n <- nrow(frame$body)
  filled <- count_filled(frame$body[asked], n)
  shape <- id_shape(who$main)
  answered <- filled > 0 & who$main != ""
  counts <- sort(table(shape[answered]), decreasing = TRUE)
  few <- names(counts)[counts <= max(1, 0.1 * sum(counts))]
  strange <- if (length(counts) &&
    counts[1] > 0.5 * sum(counts) &&
    counts[1] > 1) {
    shape %in% few & shape != names(counts)[1] | !shape %in% names(counts)
  } else {
    rep(FALSE, n)
  }
  ends <- seq_len(n) %in% c(
    utils::head(seq_len(n), 5),
    utils::tail(seq_len(n), 8)
  )
  # Where the others have a class or an email besides, a label has none.
  person <- frame$body[columns$role %in% c(name_roles, "section")]
  several <- count_filled(person, n)
  bare <- several < 0.6 * stats::median(several)
  # Where all have a total, a row of answers without one may be no student's.
  total <- frame$body[columns$role == "total"]
  summed <- Reduce(`|`, lapply(total, function(x) x != ""), rep(FALSE, n))
  unsummed <- !summed & filled > 0 & mean(summed) >= 0.75
  named <- rep(FALSE, n)
  first <- Reduce(
    function(a, b) ifelse(a == "", b, a),
    frame$body[!columns$role %in% "question"],
    rep("", n)
  )
  named[ends] <- !is.na(heading_means(first[ends], "row")) |
    !is.na(heading_means(who$main[ends], "row"))
  which(
    !who$any |
      bare |
      strange |
      filled == 0 |
      unsummed |
      named |
      unlike_rows(frame$body, asked, frame$facts) > 0.5
  )
}

# The share of a row's answers that are of another kind than their column.
unlike_rows <- function(body, asked, facts) {
  # Distinct cells are few: what they are is looked up once for all rows.
  columns <- body[asked]
  found <- lapply(columns, count_strings)
  places <- facts_at(lapply(found, function(cells) cells$distinct), facts)
  kinds <- Map(function(cells, place) {
    kind <- rep("gap", length(place))
    full <- cells$distinct != ""
    kind[full] <- kinds_at(place[full], facts)
    kind
  }, found, places)
  strange <- Map(function(cells, kind) {
    full <- kind != "gap"
    usual <- usual_of(kind[full], cells$counts[full])
    # Words and texts blend into each other; a number among letters does not.
    near <- if (usual %in% c("word", "text")) {
      c("word", "text", "letter", "mark")
    } else {
      usual
    }
    !kind %in% c("gap", near)
  }, found, kinds)
  times <- function(flags, rows = seq_len(nrow(body))) {
    total <- numeric(length(rows))
    for (k in which(vapply(flags, any, TRUE))) {
      cells <- match(columns[[k]][rows], found[[k]]$distinct)
      total <- total + flags[[k]][cells]
    }
    total
  }
  unlike <- times(strange)
  some <- which(unlike > 0)
  filled <- times(lapply(kinds, function(kind) kind != "gap"), some)
  unlike[some] <- unlike[some] / filled
  unlike
}

# What an odd row is. The label is the first cell that is no answer.
one_extra <- function(cells, line, row, frame, columns, asked, who, odd) {
  above <- is.na(row)
  label <- row_label(cells, columns, above)
  kind <- kind_of_row(
    cells,
    label,
    row,
    frame,
    columns,
    asked,
    who,
    odd
  )
  data.frame(
    kind = kind$kind,
    label = label,
    line = line,
    row = row,
    sure = kind$sure,
    cells = I(list(as.vector(cells)))
  )
}

row_label <- function(cells, columns, above) {
  beside <- cells[!columns$role %in% "question" & cells != ""]
  if (above || !length(beside)) return(c(beside, "")[1])
  who <- columns$role %in% name_roles
  c(cells[who & cells != ""], beside, "")[1]
}

kind_of_row <- function(cells, label, row, frame, columns, asked, who, odd) {
  above <- is.na(row)
  is <- function(kind, sure = TRUE) list(kind = kind, sure = sure)
  filled <- which(asked & cells != "")
  shape <- if (!above) id_shape(who$main[row])
  alike <- !above && who$main[row] != "" && shape %in% frame$shapes
  words <- unique(all_meanings(plain_heading(label), "row"))
  if (isTRUE(attr(cells, "spans"))) {
    return(is(kind_of_sets(cells[filled], words)))
  }
  beside <- cells[columns$role %in% c(name_roles, "section") & cells != ""]
  if (!length(filled)) {
    # A student who did not sit it has an id like the others; a footnote has not.
    more <- length(beside) > 1 ||
      sum(columns$role %in% c(name_roles, "section")) == 1
    if (alike && more && !length(words) && shape != "name") {
      return(is("student"))
    }
    if (alike && length(beside) > 1 && !length(words)) return(is("student"))
    return(is("note"))
  }
  # A student who bears such a name has an id beside it.
  is_label <- above ||
    !length(beside) ||
    (length(words) && length(unique(beside)) == 1)
  held <- row_content(cells, filled, row, frame)
  if (length(words) && is_label) {
    # Beside a key of digits the cells are options, and say nothing against points.
    fits <- words[
      words %in% c(
        held, attr(held, "may"), if (frame$keyed) "points"
      )
    ]
    if (length(fits)) return(is(fits[1], sure = TRUE))
    if (above || !alike || sum(columns$role %in% name_roles) > 1) {
      return(is(if (length(held)) held[1] else "note", sure = FALSE))
    }
  }
  if (above) {
    # A title and a date over a few of the questions say nothing of them.
    titled <- any(grepl(":$", cells))
    few <- (titled || length(filled) <= 0.5 * sum(asked)) && !length(words)
    if (!length(held) || few) return(is("note"))
    return(is(held[1], sure = attr(held, "sure")))
  }
  # With several cells of a person it is one, whatever the id looks like; but not with
  # an id unlike the others and half a name where the others have a whole one.
  person <- length(unique(beside)) > 1 &&
    !length(words) &&
    (alike || !lacks_a_name(cells, frame, columns))
  strange <- !(alike || person) ||
    !length(beside) ||
    is_bare(cells, row, frame, columns)
  # In a small class a student may well have what the others have on average.
  has_id <- alike && shape != "name"
  if (identical(held[1], "summary") &&
    isTRUE(attr(held, "sure")) &&
    !(person && alike) && !has_id) {
    return(is("summary", sure = !person))
  }
  if (strange) {
    if (!length(held)) {
      return(is("note", sure = length(filled) < sum(asked) / 4))
    }
    # An id unlike the others, answers like the others and a key from elsewhere: a trial.
    late <- frame$key_later && !"key" %in% words
    if (held[1] == "key" && (late || key_is_elsewhere(frame, columns))) {
      return(is("note"))
    }
    return(is(held[1], sure = isTRUE(attr(held, "sure"))))
  }
  # Somebody's name stands there: what could a student not have written?
  if (unlike_rows_at(row, frame, asked, odd) > 0.5) {
    sure <- isTRUE(attr(held, "sure"))
    return(is(if (length(held)) held[1] else "note", sure = sure))
  }
  if (length(words) &&
    "key" %in% words &&
    "key" %in% held &&
    length(beside) == 1) {
    return(is("key", sure = FALSE))
  }
  if (length(held) && lacks_total(cells, frame, columns)) {
    return(is(held[1], sure = FALSE))
  }
  is("student")
}

# Nothing stands where nearly every row has a part of its name.
lacks_a_name <- function(cells, frame, columns) {
  named <- columns$role %in% c("name", "first_name", "last_name")
  empty <- which(named & cells == "")
  some <- utils::head(frame$body[empty], 300)
  filled <- vapply(some, function(x) mean(x != ""), numeric(1))
  any(filled >= 0.9)
}

# Nothing stands where nearly every row has its sum.
lacks_total <- function(cells, frame, columns) {
  at <- which(columns$role == "total")
  if (!length(at) || any(cells[at] != "")) return(FALSE)
  some <- utils::head(frame$body[at], 300)
  mean(!is_empty_row(some)) >= 0.75
}

# What stands over several questions at once.
kind_of_sets <- function(cells, words) {
  if (mean(is_standard_code(cells)) > 0.5) return("standards")
  if (length(words)) return(words[1])
  named <- all_meanings(
    plain_heading(gsub("[0-9]+", "", cells[1])),
    "row"
  )
  if ("level" %in% named) "level" else "set"
}

# Fewer cells of a person than the rows around it have.
is_bare <- function(cells, row, frame, columns) {
  who <- columns$role %in% c(name_roles, "section")
  some <- utils::head(frame$body[who], 300)
  usual <- Reduce(`+`, lapply(some, function(x) x != ""))
  sum(cells[who] != "") < 0.6 * stats::median(usual)
}

# A key file, or points beside the answers, leave nothing for a row to say.
key_is_elsewhere <- function(frame, columns) {
  !is.null(frame$known$key) || any(columns$part %in% c("points", "key"))
}

unlike_rows_at <- function(row, frame, asked, odd) {
  # A few hundred rows say what is usual.
  keep <- union(utils::head(setdiff(seq_len(nrow(frame$body)), odd), 300), row)
  part <- frame$body[keep, asked, drop = FALSE]
  unlike_rows(part, rep(TRUE, length(part)), cell_facts(part))[
    match(row, keep)
  ]
}

# What the rows hold that are surely students, for each column of a question.
usual_rows <- function(frame, asked, rest) {
  cells <- lapply(frame$body[asked], function(cells) cells[rest])
  columns <- Map(function(k, at) {
    at <- at[frame$facts$text[at] != ""]
    value <- frame$facts$value[at]
    marked <- length(at) > 0 && mean(!is.na(value)) > 0.5
    list(
      column = k,
      usual = usual_of(kinds_at(at, frame$facts)),
      marked = marked,
      most = if (marked) max(value, na.rm = TRUE) else NA_real_,
      mean = if (marked) base::mean(value, na.rm = TRUE) else NA_real_,
      sum = if (marked) sum(value, na.rm = TRUE) else NA_real_,
      upper = list(unique(frame$facts$upper[at]))
    )
  }, which(asked), facts_at(cells, frame$facts))
  data.table::rbindlist(columns) |> as.data.frame()
}

# Which kinds of row the cells could be, the likeliest first; `sure` when nothing else.
row_content <- function(cells, filled, row, frame) {
  around <- frame$around[match(filled, frame$around$column), ]
  if (!nrow(frame$around)) {
    rest <- setdiff(seq_len(nrow(frame$body)), row)
    around <- usual_rows(
      frame,
      seq_along(cells) %in% filled,
      rest
    )
  }
  mine <- cells[filled]
  at <- data.table::chmatch(mine, frame$facts$text)
  number <- frame$facts$value[at]
  kinds <- kinds_at(at, frame$facts)
  share <- share_of(mine)
  marked <- around$marked
  may <- character()
  held <- function(..., sure) structure(c(...), sure = sure, may = may)
  top <- is.na(row) || row <= 3
  if (mean(is_standard_code(mine)) > 0.5) return(held("standards", sure = TRUE))
  if (mean(!is.na(number)) > 0.9) {
    if (mean(marked) < 0.5) {
      fractions <- any(abs(number - round(number)) > 1e-9, na.rm = TRUE) ||
        any(share$percent) ||
        any(number == 0, na.rm = TRUE)
      if (fractions) {
        return(held(
          "summary",
          "points",
          "level",
          sure = !top || any(number == 0, na.rm = TRUE)
        ))
      }
      return(
        if (top) {
          held("points", "summary", "level", sure = FALSE)
        } else {
          held("summary", "points", "level", sure = FALSE)
        }
      )
    }
    most <- around$most
    mean <- around$mean
    sums <- around$sum
    # As exact as it is written.
    digits <- nchar(sub("^[^.,]*[.,]?", "", gsub("[^0-9.,]", "", mine)))
    room <- pmin(0.051, pmax(0.011, 0.5 * 10^-digits + 1e-9))
    is_mean <- is_close(number, mean, room) |
      is_close(number, mean / most, 0.011) |
      is_close(number, 100 * mean / most, 0.6) |
      is_close(number, sums, 0.011) |
      is_close(number, 100 * mean, 0.6)
    fractions <- any(abs(number - round(number)) > 1e-9, na.rm = TRUE)
    above_all <- all(number >= most - 1e-9, na.rm = TRUE)
    # With a word for it: some marks above the most there is are a mistake to be told.
    may <- c(
      "summary",
      "level",
      if (mean(number >= most - 1e-9, na.rm = TRUE) > 0.6) "points"
    )
    if (mean(is_mean, na.rm = TRUE) > 0.8 && (fractions || !above_all)) {
      return(held("summary", "level", sure = TRUE))
    }
    digits <- if (all(number == round(number), na.rm = TRUE)) "key"
    if (above_all) {
      return(held(
        "points",
        digits,
        "level",
        "summary",
        sure = top && all(number == most)
      ))
    }
    return(held("level", "summary", digits, sure = FALSE))
  }
  long <- kinds %in% c("text", "word") & nchar(mine) > 8
  usual <- around$usual
  longest <- vapply(around$upper, function(x) max(nchar(x), 0), 0)
  wordy <- nchar(mine) > 15 & nchar(mine) > 1.5 * longest
  if (mean((long & !usual %in% c("text", "word")) | wordy) > 0.5) {
    return(held("prompt", sure = TRUE))
  }
  among <- mean(mapply(`%in%`, frame$facts$upper[at], around$upper))
  words <- mean(kinds == "word") > 0.5 &&
    mean(usual %in% c("letter", "mark")) > 0.5
  if (words && among <= 0.5) {
    return(held("type", "prompt", "standards", sure = FALSE))
  }
  kind <- mean(kinds == usual)
  near_end <- top || row > nrow(frame$body) - 4
  if (among > 0.5 || kind > 0.7) return(held("key", sure = near_end))
  if (all(!marked)) {
    held("key", "type", sure = FALSE)
  } else {
    held("type", "level", "standards", sure = FALSE)
  }
}

is_close <- function(a, b, within) !is.na(a) & !is.na(b) & abs(a - b) <= within

# Codes of standards have letters and a number or parts between points.
is_standard_code <- function(x) {
  grepl(
    "^[A-Za-z0-9]+([.:_-][A-Za-z0-9]+)+( *[;,] *[A-Za-z0-9]+([.:_-][A-Za-z0-9]+)+)*$",
    x
  ) &
    grepl("[A-Za-z]", x) &
    is.na(read_number(x))
}

# rows: {points: Max, key: 3}: the label, or the line of the file.
apply_told_rows <- function(found, told, frame, columns) {
  for (kind in names(told$rows)) {
    wanted <- told$rows[[kind]]
    all <- all_rows(frame, columns)
    hit <- if (is.numeric(wanted)) {
      all$line %in% wanted
    } else {
      plain_words(all$label) %in% plain_words(wanted)
    }
    if (!any(hit)) next
    one <- all[hit, ]
    one$kind <- kind
    again <- found$line %in% one$line
    if (!kind %in% c("student", "note", "summary")) {
      again <- again | found$kind %in% kind
    }
    found <- rbind(found[!again, ], one)
  }
  found
}

all_rows <- function(frame, columns) {
  rows <- function(table, line, above) {
    if (!NROW(table)) return(NULL)
    # Taking a row of a data frame costs more than all else that is done to it.
    cells <- asplit(do.call(cbind, unname(as.list(table))), 1)
    cells <- lapply(cells, as.vector)
    data.frame(
      kind = "note",
      label = vapply(cells, row_label, "", columns, above),
      line = line,
      row = if (above) NA_integer_ else seq_along(line),
      sure = TRUE,
      cells = I(cells)
    )
  }
  rbind(
    rows(frame$above, frame$above_line, TRUE),
    rows(frame$body, frame$line, FALSE)
  )
}

# The students' rows: what is left.
student_rows <- function(frame, extra) {
  keep <- setdiff(seq_len(nrow(frame$body)), extra$row)
  list(body = take_rows(frame$body, keep), line = frame$line[keep])
}

# What a row of a kind says of each question, by the question's columns.
row_values <- function(extra, kind, columns_of) {
  row <- match(kind, extra$kind)
  if (is.na(row)) return(NULL)
  cells <- extra$cells[[row]]
  vapply(
    columns_of,
    function(at) c(cells[at][cells[at] != ""], NA)[1],
    ""
  )
}
