# Made-up exports, each composed at random from what spreadsheets and exports look
# like, with what is true of it. Seeded, so that a failure comes back.

export_lists <- yaml::read_yaml(
  testthat::test_path("reference", "exports", "made-up.yml")
)
export_words <- export_lists$words
first_names <- export_lists$first_names
last_names <- export_lists$last_names
wording_things <- export_lists$things

# One of several, by chance; whether, by chance.
any_of <- function(x) x[sample.int(length(x), 1)]
by_chance <- function(share) stats::runif(1) < share

# A word that no list has.
odd_word <- function() {
  paste0(any_of(c("Zuf", "Pel", "Mor", "Kib")), any_of(c("fen", "tash", "lung", "ro")))
}

# Options as digits or words in place of letters.
other_options <- function(letters) {
  to <- switch(sample(3, 1),
    c(A = "1", B = "2", C = "3", D = "4"),
    c(A = "Moon", B = "Wind", C = "Salt", D = "Fish"),
    c(A = "yes", B = "no", C = "maybe", D = "never")
  )
  letters[letters != ""] <- to[letters[letters != ""]]
  unname(letters)
}

# What happened: students, questions, answers, points, the key.
made_up_test <- function(words) {
  n <- sample(5:28, 1)
  k <- sample(4:14, 1)
  key <- sample(c("A", "B", "C", "D"), k, TRUE)
  worth <- if (by_chance(0.3)) sample(1:3, k, TRUE) else rep(1, k)
  ability <- stats::rnorm(n)
  right <- outer(ability, stats::rnorm(k), "-") + stats::rlogis(n * k) > -0.5
  answer <- matrix("", n, k)
  for (j in seq_len(k)) {
    wrong <- sample(setdiff(c("A", "B", "C", "D"), key[j]), n, TRUE)
    answer[, j] <- ifelse(right[, j], key[j], wrong)
  }
  # Every question has somebody who got it right, so that the highest mark is the most.
  answer[1, ] <- key
  if (by_chance(0.4)) answer[-1, ][stats::runif((n - 1) * k) < 0.06] <- ""
  points <- t(t(answer == rep(key, each = n)) * worth)
  who <- sample(length(first_names) * length(last_names), n) - 1
  first <- first_names[who %% length(first_names) + 1]
  last <- last_names[who %/% length(first_names) + 1]
  id <- switch(sample(5, 1),
    sprintf("%010.0f", sample(1e6, n) + 4e9),
    sprintf("s%02d", sample(99, n)),
    sprintf("%06d", sample(4000:9999, n)),
    as.character(sample(20200000:20209999, n)),
    paste0(substr(tolower(last), 1, 3), sample(100:999, n))
  )
  list(
    n = n, k = k, key = key, worth = worth, answer = answer, points = points, id = id,
    first = first, last = last, name = paste(first, last),
    class = sample(any_of(list(c("7-A", "7-B"), c("Red", "Blue"), c("1", "2")))[[1]], n, TRUE),
    words = words
  )
}

# The columns of the student, as named columns; which of them bears the identity.
made_up_people <- function(test) {
  words <- test$words
  person <- switch(sample(6, 1),
    list(id = test$id),
    list(id = test$id, name = test$name),
    list(name = test$name),
    list(first = test$first, last = test$last),
    list(id = test$id, last = test$last, first = test$first),
    list(name = paste0(test$last, ", ", test$first), id = test$id)
  )
  # Namesakes are told apart by their ids.
  if ("id" %in% names(person) && by_chance(0.15) && test$n > 5) {
    for (column in intersect(names(person), c("name", "first", "last"))) {
      person[[column]][2] <- person[[column]][1]
    }
  }
  identity <- if ("id" %in% names(person)) test$id else test$name
  if (by_chance(0.5)) person$class <- test$class
  if (by_chance(0.2)) person$email <- paste0(tolower(test$last), seq_len(test$n), "@h.example")
  if (by_chance(0.2)) person$other <- sample(c("x", "y"), test$n, TRUE)
  if (by_chance(0.15)) person$when <- made_up_dates(test$n)
  if (by_chance(0.15)) person$took <- made_up_times(test$n)
  names <- vapply(names(person), function(role) any_of(words[[role]]), "")
  if (anyDuplicated(names)) names[duplicated(names)] <- paste(names[duplicated(names)], "2")
  list(columns = as.data.frame(person), names = unname(names), identity = identity)
}

made_up_dates <- function(n) {
  day <- as.Date("2026-09-01") + sample(25, n, TRUE)
  switch(sample(3, 1),
    format(day, "%Y-%m-%d"), format(day, "%d.%m.%Y"),
    paste(format(day, "%Y-%m-%d"), sprintf("%02d:%02d", sample(8:15, n, TRUE), sample(0:59, n, TRUE)))
  )
}

made_up_times <- function(n) {
  seconds <- sample(200:2400, n, TRUE)
  switch(sample(3, 1),
    as.character(seconds), sprintf("%d:%02d", seconds %/% 60, seconds %% 60),
    sprintf("%d min %d s", seconds %/% 60, seconds %% 60)
  )
}

# What a question is called in the header.
made_up_headings <- function(test, long = FALSE) {
  words <- test$words
  number <- seq_len(test$k)
  style <- sample(if (long) 3 else 7, 1)
  wording <- sprintf(words$wording, wording_things[number])
  switch(style,
    paste0(any_of(words$item), number),
    paste0(any_of(words$item), number),
    sprintf("Q%02d", number),
    paste0(number, ". ", wording),
    wording,
    paste0("A", (number + 1) %/% 2, ifelse(number %% 2, "a", "b")),
    paste0(any_of(words$item), number)
  )
}

shown_points <- function(points, language) {
  text <- format(points, trim = TRUE, drop0trailing = TRUE)
  text[] <- sub(".", if (language == "en") "." else any_of(c(",", ".")), text, fixed = TRUE)
  text[is.na(points)] <- ""
  text
}

# A table of cells (a matrix with its header on top) of a row a student, and what is
# true of it. kind: answers, marks, pairs or triples.
made_up_wide <- function(test, kind, language) {
  words <- test$words
  people <- made_up_people(test)
  heading <- made_up_headings(test)
  key_file <- (kind == "answers" && by_chance(0.6)) || (kind == "pairs" && by_chance(0.2))
  points <- test$points
  if (kind == "marks" && by_chance(0.3)) {
    points[test$points > 0 & stats::runif(length(points)) < 0.1] <- 0.5
    points[1, ] <- test$worth
  }
  marks <- matrix(shown_points(points, language), test$n)
  if (kind == "marks" && by_chance(0.08)) {
    marks <- matrix(paste0(marks, "/", rep(test$worth, each = test$n)), test$n)
  }
  if (kind == "marks" && by_chance(0.08)) marks[marks == "0.5"] <- "\u00bd"
  if (kind == "marks" && by_chance(0.3)) {
    gap <- any_of(c("", ".", "-", "\u2013"))
    hole <- stats::runif(length(marks)) < 0.05
    hole[seq(1, length(marks), test$n)] <- FALSE
    marks[hole] <- gap
    points[hole] <- 0
  }
  answer <- test$answer
  if (by_chance(0.1)) answer[] <- tolower(answer)
  if (by_chance(0.08)) answer[2, ] <- tolower(answer[2, ])
  other <- kind == "answers" && by_chance(0.12)
  if (other) {
    seed <- sample(1e6, 1)
    set.seed(seed)
    answer[] <- other_options(toupper(answer))
    set.seed(seed)
    test$key <- other_options(test$key)
  }
  sets <- kind == "answers" && !other && key_file && by_chance(0.15)
  if (sets) {
    between <- any_of(c(", ", ";", "", "/", " "))
    for (j in seq_len(min(2, test$k))) {
      plus <- setdiff(c("A", "B", "C", "D"), test$key[j])[1]
      set <- function(x) paste(sort(c(x, plus)), collapse = between)
      both <- toupper(answer[, j]) == test$key[j]
      answer[both, j] <- set(test$key[j])
      test$key[j] <- paste(sort(c(test$key[j], plus)), collapse = ";")
    }
  }
  of <- sum(test$worth)
  shown_worth <- if (kind %in% c("answers", "marks") && any(test$worth != 1) && by_chance(0.4)) {
    sprintf(any_of(words$worth), test$worth)
  }
  if (!is.null(shown_worth)) heading <- paste(heading, shown_worth)
  above <- list()
  row_of <- function(label, cells, person = ncol(people$columns)) {
    if (by_chance(0.08)) label <- odd_word()
    c(label, rep("", person - 1), cells)
  }
  part_names <- list(
    answer = any_of(words$answer), points = any_of(words$points),
    seconds = any_of(words$seconds), comment = any_of(words$comment)
  )
  joint <- any_of(c(" ", "_", " - ", " "))
  parts <- switch(kind,
    answers = list(answer = answer), marks = list(points = marks),
    pairs = list(answer = answer, points = marks),
    triples = c(
      list(answer = answer, points = marks),
      if (by_chance(0.6)) {
        list(seconds = matrix(as.character(sample(5:99, length(marks), TRUE)), test$n))
      } else {
        list(comment = matrix(ifelse(stats::runif(length(marks)) < 0.2, "good", ""), test$n))
      }
    )
  )
  bare <- kind %in% c("answers", "marks")
  plain_first <- !bare && by_chance(0.3)
  shown <- unlist(lapply(seq_len(test$k), function(j) {
    if (bare) return(heading[j])
    named <- paste0(heading[j], joint, unlist(part_names[names(parts)]))
    if (plain_first) named[1] <- heading[j]
    named
  }))
  cells <- do.call(cbind, lapply(seq_len(test$k), function(j) {
    do.call(cbind, lapply(parts, function(part) part[, j]))
  }))
  two_rows <- !bare && !plain_first && by_chance(0.2)
  header <- c(people$names, shown)
  body <- cbind(as.matrix(people$columns), cells)
  spread <- function(values) {
    if (bare) return(values)
    unlist(lapply(values, function(value) c(value, rep("", length(parts) - 1))))
  }
  rows_above <- rows_below <- list()
  rows_first <- list()
  said_worth <- !is.null(shown_worth)
  if (any(test$worth != 1) && bare && !said_worth && (kind == "answers" || by_chance(0.5))) {
    row <- row_of(any_of(words$most), spread(shown_points(test$worth, language)))
    if (by_chance(0.5)) rows_above <- c(rows_above, list(row)) else rows_first <- list(row)
    said_worth <- TRUE
  }
  if (kind == "answers" && !said_worth) {
    of <- test$k
    points <- (test$points > 0) + 0
  }
  if (kind == "answers" && !key_file) {
    row <- row_of(any_of(words$key), spread(if (all(answer == tolower(answer))) tolower(test$key) else test$key))
    if (by_chance(0.7)) rows_first <- c(rows_first, list(row)) else rows_below <- list(row)
  }
  if (by_chance(0.12)) {
    codes <- paste0("S.", sample(4, test$k, TRUE))
    rows_above <- c(rows_above, list(row_of(any_of(words$standards), spread(codes))))
  }
  if (by_chance(0.15) && bare) {
    rows_first <- c(rows_first, list(c(
      rep("", ncol(people$columns)), spread(sprintf(words$wording, wording_things[seq_len(test$k)]))
    )))
  }
  if (by_chance(0.25)) {
    mean <- round(colMeans(points) / (if (by_chance(0.5)) test$worth else 1), 2)
    rows_below <- c(rows_below, list(row_of(any_of(words$mean), spread(shown_points(mean, language)))))
  }
  if (kind != "answers" || by_chance(0.3)) {
    sums <- list(total = shown_points(rowSums(points), language))
    if (by_chance(0.4)) sums$percent <- paste0(round(100 * rowSums(points) / of), if (by_chance(0.5)) "%")
    if (by_chance(0.3)) sums$grade <- sample(c("A", "B", "C"), test$n, TRUE)
    if (by_chance(0.75)) {
      before <- by_chance(0.2)
      extra <- do.call(cbind, sums)
      names <- vapply(names(sums), function(role) any_of(words[[role]]), "")
      if (by_chance(0.1)) names[1] <- odd_word()
      here <- if (before) ncol(people$columns) else ncol(body)
      put <- function(row, more) append(row, more, here)
      body <- t(apply(body, 1, function(row) row))
      body <- cbind(body[, seq_len(here), drop = FALSE], extra, body[, -seq_len(here), drop = FALSE])
      header <- put(header, unname(names))
      none <- rep("", length(sums))
      rows_above <- lapply(rows_above, put, none)
      rows_first <- lapply(rows_first, put, none)
      rows_below <- lapply(rows_below, put, none)
    }
  }
  if (by_chance(0.2)) rows_below <- c(rows_below, list(c(any_of(words$notes), rep("", ncol(body) - 1))))
  if (by_chance(0.2)) rows_above <- c(list(c(any_of(words$title), rep("", ncol(body) - 1))), rows_above)
  top <- list(header)
  if (two_rows) {
    at <- match(shown, header)
    upper <- rep("", length(header))
    upper[at[seq(1, length(at), length(parts))]] <- heading
    lower <- header
    lower[at] <- rep(unlist(part_names[names(parts)]), test$k)
    top <- list(upper, lower)
  }
  start <- length(rows_above) + length(top) + length(rows_first)
  body_rows <- start + seq_len(test$n)
  cells <- do.call(rbind, c(rows_above, top, rows_first, list(body), rows_below))
  repeats <- by_chance(0.05) && test$n > 8 && !two_rows
  if (repeats) {
    at <- start + 5
    cells <- rbind(cells[seq_len(at), ], header, cells[-seq_len(at), ])
    body_rows[-(1:5)] <- body_rows[-(1:5)] + 1
  } else if (by_chance(0.05) && test$n > 8) {
    line <- c(any_of(c("7-A", "Red", odd_word())), rep("", ncol(cells) - 1))
    at <- start + 4
    cells <- rbind(cells[seq_len(at), ], line, cells[-seq_len(at), ])
    body_rows[-(1:4)] <- body_rows[-(1:4)] + 1
  }
  if (by_chance(0.1) && length(rows_above)) {
    title <- seq_along(rows_above)
    cells <- rbind(cells[title, , drop = FALSE], "", cells[-title, , drop = FALSE])
    body_rows <- body_rows + 1
  }
  key_lines <- if (key_file) {
    by_name <- by_chance(0.7)
    c(
      paste0("item,key", if (said_worth && by_chance(0.5)) ",points"),
      paste0(csv_cells(if (by_name) heading else seq_len(test$k)), ",", test$key)
    )
  }
  if (key_file && endsWith(key_lines[1], "points")) {
    key_lines[-1] <- paste0(key_lines[-1], ",", test$worth)
  }
  list(
    cells = unname(cells), key = key_lines, body_rows = body_rows,
    truth = data.frame(student = people$identity, points = rowSums(points)), of = of
  )
}

csv_cells <- function(x, separator = ",") {
  needs <- grepl(paste0("[\"\n", separator, "]"), x)
  x[needs] <- paste0("\"", gsub("\"", "\"\"", x[needs], fixed = TRUE), "\"")
  x
}

# A row for each student and question.
made_up_long <- function(test, language) {
  words <- test$words
  row <- expand.grid(j = seq_len(test$k), i = seq_len(test$n))
  if (by_chance(0.3)) row <- row[order(row$j), ]
  at <- cbind(row$i, row$j)
  named <- paste0(any_of(c("Q", words$item)), seq_len(test$k))
  if (by_chance(0.15)) named <- sprintf(words$wording, wording_things[seq_len(test$k)])
  columns <- list(id = test$id[row$i], item_column = named[row$j], answer = test$answer[at])
  with_points <- by_chance(0.6)
  if (with_points) columns$points <- shown_points(test$points[at], language)
  if (by_chance(0.5)) columns$seconds <- as.character(sample(4:99, nrow(row), TRUE))
  if (by_chance(0.4)) columns$class <- test$class[row$i]
  if (by_chance(0.3)) columns <- append(columns, list(name = test$name[row$i]), 1)
  if (by_chance(0.2)) columns <- columns[sample(length(columns))]
  if (by_chance(0.2)) columns$other <- sample(c("x", "y"), nrow(row), TRUE)
  header <- vapply(names(columns), function(role) any_of(words[[role]]), "")
  points <- if (with_points) test$points else (test$points > 0) + 0
  list(
    cells = unname(rbind(header, do.call(cbind, columns))),
    key = if (!with_points) c("item,key", paste0(csv_cells(named), ",", test$key)),
    truth = data.frame(student = test$id, points = rowSums(points)),
    of = if (with_points) sum(test$worth) else test$k
  )
}

# Scanned sheets: an id and a string of marks a line.
made_up_scan <- function(test, fixed) {
  words <- test$words
  code <- if (by_chance(0.5)) sprintf("%05d", sample(200:99999, test$n)) else test$id
  gap <- any_of(c(" ", "-", "*"))
  answer <- test$answer
  answer[answer == ""] <- gap
  if (fixed && gap == " ") answer[, test$k] <- ifelse(answer[, test$k] == " ", "A", answer[, test$k])
  strings <- apply(answer, 1, paste, collapse = "")
  points <- rowSums(answer == rep(test$key, each = test$n))
  key_string <- paste(test$key, collapse = "")
  in_file <- by_chance(0.6)
  lines <- if (fixed) {
    wide <- max(nchar(code), 3) + sample(1:6, 1)
    c(
      if (by_chance(0.3)) paste0(formatC("ID", width = -wide), any_of(c("ANSWERS", "Marks"))),
      if (in_file) paste0(formatC("KEY", width = -wide), key_string),
      paste0(formatC(code, width = -wide), strings)
    )
  } else {
    separator <- any_of(c(",", ";", "\t"))
    c(
      if (by_chance(0.5)) paste(any_of(words$id), any_of(c("Marks", "Answers", words$answer)), sep = separator),
      if (in_file) paste(any_of(c("KEY", words$key)), key_string, sep = separator),
      paste(code, strings, sep = separator)
    )
  }
  list(
    lines = lines, key = if (!in_file) key_string,
    truth = data.frame(student = code, points = points), of = test$k
  )
}

export_kinds <- c(
  "answers", "marks", "pairs", "triples", "long", "scan", "fixed", "workbook", "classes",
  "page"
)

# An export: files (name and bytes), the key's file if one goes with it, what is true.
made_up_export <- function(seed, language = any_of(names(export_words)), kind = any_of(export_kinds)) {
  set.seed(seed)
  force(language)
  force(kind)
  test <- made_up_test(export_words[[language]])
  made <- switch(kind,
    long = made_up_long(test, language),
    scan = made_up_scan(test, FALSE),
    fixed = made_up_scan(test, TRUE),
    workbook = ,
    page = ,
    classes = made_up_wide(test, any_of(c("answers", "marks", "pairs")), language),
    made_up_wide(test, kind, language)
  )
  made$seed <- seed
  made$language <- language
  made$kind <- kind
  if (!is.null(made$lines)) {
    made$files <- list(export.txt = bytes_of(made$lines))
  } else if (kind == "workbook") {
    made$files <- list(export.xlsx = workbook_of(made$cells))
  } else if (kind == "page") {
    made$files <- list(export.xls = bytes_of(page_of(made$cells)))
  } else if (kind == "classes") {
    half <- seq_len(length(made$body_rows) %/% 2)
    separator <- any_of(c(",", ";"))
    made$files <- lapply(list(a.csv = half, b.csv = -half), function(rows) {
      without <- setdiff(seq_along(made$body_rows), seq_along(made$body_rows)[rows])
      bytes_of(made_up_lines(made$cells[-made$body_rows[without], ], separator))
    })
  } else {
    separator <- any_of(c(",", ",", ";", "\t", "|"))
    made$files <- list(export.csv = bytes_of(made_up_lines(made$cells, separator)))
  }
  made
}

made_up_lines <- function(cells, separator) {
  apply(cells, 1, function(row) paste(csv_cells(row, separator), collapse = separator))
}

bytes_of <- function(lines) {
  end <- any_of(c("\n", "\n", "\r\n"))
  text <- enc2utf8(paste0(paste(lines, collapse = end), end))
  switch(sample(5, 1),
    c(as.raw(c(0xEF, 0xBB, 0xBF)), charToRaw(text)),
    c(as.raw(c(0xFF, 0xFE)), iconv(text, "UTF-8", "UTF-16LE", toRaw = TRUE)[[1]]),
    # Where the letters of the language are in it.
    if (is.na(iconv(text, "UTF-8", "CP1252"))) {
      charToRaw(text)
    } else {
      iconv(text, "UTF-8", "CP1252", toRaw = TRUE)[[1]]
    },
    charToRaw(text), charToRaw(text)
  )
}

# A page with a table of results below one of the page's own, as a browser saves it.
page_of <- function(cells) {
  cells[] <- gsub("<", "&lt;", gsub("&", "&amp;", cells, fixed = TRUE), fixed = TRUE)
  tag <- any_of(c("td", "TD class=\"cell\""))
  rows <- apply(cells, 1, function(row) {
    paste0("<tr>", paste0("<", tag, ">", row, "</", substr(tag, 1, 2), ">", collapse = ""), "</tr>")
  })
  c(
    any_of(c("<!DOCTYPE html>", "<!-- saved -->")),
    "<html><head><title>Results</title></head><body>",
    "<table><tr><td>Menu</td></tr></table>",
    "<table>", rows, "</table></body></html>"
  )
}

workbook_of <- function(cells) {
  book <- openxlsx::createWorkbook()
  openxlsx::addWorksheet(book, "Sheet")
  number <- suppressWarnings(as.numeric(cells))
  plain <- !is.na(number) & as.character(number) == cells
  for (j in seq_len(ncol(cells))) {
    for (i in seq_len(nrow(cells))) {
      at <- (j - 1) * nrow(cells) + i
      if (!nzchar(cells[at])) next
      value <- if (plain[at]) number[at] else cells[at]
      openxlsx::writeData(book, "Sheet", value, startCol = j, startRow = i, colNames = FALSE)
    }
  }
  path <- tempfile(fileext = ".xlsx")
  openxlsx::saveWorkbook(book, path)
  on.exit(unlink(path))
  readBin(path, "raw", file.size(path))
}

# right, wrong or asked: what becomes of a made-up export. The folder is left to look at.
export_outcome <- function(made, ...) {
  place <- tempfile("export-")
  dir.create(place)
  on.exit(unlink(place, recursive = TRUE))
  paths <- file.path(place, names(made$files))
  Map(writeBin, made$files, paths)
  key <- if (!is.null(made$key)) file.path(place, "key.csv")
  if (!is.null(key)) writeLines(made$key, key)
  folder <- file.path(place, "made")
  tryCatch(
    {
      new_test(folder, paths, key = key, ...)
      quiz <- read_sitting(folder)
      if (is_true_of(quiz, made)) "right" else "wrong"
    },
    pregunta_error = function(e) structure("asked", condition = e)
  )
}

is_true_of <- function(quiz, made) {
  table <- summarise_students(quiz)
  at <- match(tolower(made$truth$student), tolower(table$student))
  if (anyNA(at)) at <- match(tolower(made$truth$student), tolower(table$name))
  length(at) == nrow(table) && !anyNA(at) && !anyDuplicated(at) &&
    isTRUE(all.equal(table$points[at], made$truth$points, tolerance = 1e-6)) &&
    isTRUE(all.equal(sum(quiz$items$points), made$of, tolerance = 1e-6))
}

# As export_outcome(), and for what was asked whether one of the offered readings is
# right: advised, or lost.
advised_outcome <- function(make) {
  outcome <- export_outcome(make())
  if (outcome != "asked") return(as.character(outcome))
  choices <- attr(outcome, "condition")$choices
  if (!is.data.frame(choices)) return("lost")
  right <- vapply(choices$take, function(k) export_outcome(make(), take = k) == "right", TRUE)
  if (any(right)) "advised" else "lost"
}
