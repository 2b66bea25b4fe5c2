# Scanned answer sheets: an id and a string of marks a line, a key line among
# them. Delimited or in columns of fixed width.

# The odd marks that stand for a blank or for several at once.
odd_marks <- "*?#@+._ -"

is_scan <- function(grid, told = list()) {
  strings <- scan_strings(grid, told)
  !is.null(strings) && length(strings$marks) >= 2
}

# The id and the marks of each line, or NULL. A delimited line has the marks in a column
# of their own; a line of text ends with them.
scan_strings <- function(grid, told = list()) {
  if (!isTRUE(attr(grid, "separated"))) return(fixed_strings(grid, told))
  if (ncol(grid) > 6 || ncol(grid) < 2) return(NULL)
  raw <- attr(grid, "raw")
  some <- spread_rows(nrow(grid), 5000)
  fits <- which(vapply(grid, function(cells) is_column_of_marks(cells[some]), TRUE))
  if (length(fits) != 1) return(NULL)
  others <- setdiff(seq_along(grid), fits)
  distinct <- vapply(
    grid[others],
    function(x) length(unique(x)),
    0L
  )
  id <- others[which.max(distinct)]
  marks <- raw[[fits]]
  list(
    id = grid[[id]],
    marks = marks,
    line = attr(grid, "line")
  )
}

# Strings of marks: no word and no id, of one length but for blanks at the end, of few
# letters that come again and again.
is_column_of_marks <- function(cells) {
  cells <- cells[cells != ""]
  if (length(cells) < 2) return(FALSE)
  plain <- gsub(paste0("[", odd_marks, "]"), "", cells)
  width <- nchar(cells)
  letters <- grepl("^[A-Ja-j]*$", plain)
  digits <- grepl("^[1-5]*$", plain)
  some <- letters | digits
  usual <- as.integer(names(which.max(table(width[some]))))
  mean(some) >= 0.6 &&
    length(usual) == 1 &&
    usual >= 4 &&
    mean(width[some] == usual) > 0.5 &&
    length(unique(cells)) > 1 &&
    max(mean(letters[some]), mean(digits[some])) > 0.9 &&
    length(unique(unlist(strsplit(plain[some], "")))) >= 2
}

# Fixed width: the id ends at the same place in every line and the marks begin
# at the same place.
fixed_strings <- function(grid, told) {
  lines <- attr(grid, "raw")[[1]]
  if (is.null(lines)) {
    lines <- grid[[1]]
  }
  lines <- sub("[ \t]+$", "", lines)
  full <- nzchar(lines)
  at <- attr(grid, "line")[full]
  lines <- lines[full]
  split <- if (is.null(told$id_width)) {
    first_mark_column(lines)
  } else {
    as.integer(told$id_width) + 1L
  }
  if (is.na(split)) return(NULL)
  id <- trimws(substr(lines, 1, split - 1))
  marks <- substring(lines, split)
  ok <- grepl(paste0("^[A-Za-z0-9", odd_marks, "]*$"), marks) &
    nzchar(id)
  if (mean(ok) < 0.6 || stats::median(nchar(trimws(marks))) < 4) return(NULL)
  if (is.null(told$id_width) &&
    !is_column_of_marks(trimws(marks[ok], "right"))) {
    return(NULL)
  }
  list(id = id, marks = marks, line = at)
}

# The first column after which every line holds only marks and before which a
# blank stands (or the id's digits end).
first_mark_column <- function(lines) {
  ends <- regexpr(
    paste0(
      "[A-Ja-j1-9*?#@+._-]([A-Ja-j1-9", odd_marks, "]*[A-Ja-j1-9*?#@+._-])?$"
    ),
    lines
  )
  if (sum(ends > 0) < length(lines) * 0.6) return(NA)
  gaps <- regexpr(
    paste0("(?<=[^ ]) +(?=[A-Ja-j0-9", odd_marks, "]{4,}$)"),
    lines,
    perl = TRUE
  )
  begins <- gaps + attr(gaps, "match.length")
  begins <- begins[gaps > 0]
  if (length(begins) >= 0.6 * length(lines)) {
    usual <- as.integer(names(which.max(table(begins))))
    earliest <- min(begins[begins > 1])
    return(if (mean(begins == usual) > 0.5) usual else earliest)
  }
  digits <- attr(regexpr("^[0-9]+", lines), "match.length")
  if (mean(digits == digits[1]) > 0.9 && digits[1] > 0) digits[1] + 1L else NA
}

# Which lines are students, which is the key, and which are neither: a header, a line
# whose marks are not of the letters of the others.
scan_lines <- function(scan, told) {
  marks <- gsub(
    paste0("[", odd_marks, "]"),
    "",
    toupper(scan$marks)
  )
  letters <- strsplit(marks, "")
  spread <- table(unlist(lapply(letters, unique)))
  usual <- names(spread)[
    spread >= 0.25 * length(marks) | (spread > 1 & length(marks) < 5)
  ]
  apart <- vapply(letters, function(one) {
    !length(one) || mean(one %in% usual) < 0.7
  }, TRUE)
  heading <- !is.na(heading_means(scan$id, "person"))
  said <- meanings_of_each(scan$id, "row")
  key <- if (!is.null(told$key_line)) {
    match(as.integer(told$key_line), scan$line)
  } else {
    c(
      which(vapply(said, function(one) "key" %in% one, TRUE)),
      unnamed_key(scan$id)
    )[
      1
    ]
  }
  shape <- id_shape(scan$id)
  apart <- apart & !shape %in% shape[!apart & !heading]
  rest <- setdiff(which(!apart & !heading & scan$id != ""), key)
  usual_shape <- names(which.max(table(shape[rest])))
  odd <- rest[
    shape[rest] != usual_shape &
      !is.na(match(shape[rest], names(which(table(shape[rest]) == 1))))
  ]
  aside <- union(rest[lengths(said[rest]) > 0], if (length(rest) > 3) odd)
  told_students <- c(
    which(scan$line %in% told$rows$student),
    which(scan$id %in% told$rows$student)
  )
  students <- union(setdiff(rest, aside), told_students)
  list(
    key = key,
    students = sort(students),
    skipped = setdiff(seq_along(scan$id), c(students, key))
  )
}

# Nothing but zeros or nines stands for a key at either end.
unnamed_key <- function(id) {
  ends <- c(1, length(id))
  ends[grepl("^(0+|9+)$", id[ends])]
}

read_scan <- function(grid, told = list(), known = NULL) {
  scan <- scan_strings(grid, told)
  origin <- attr(grid, "origin")
  if (is.null(scan)) {
    abort_pregunta(
      "undecided",
      say("read-layout-scan.no_line_looks_like", origin = origin),
      NULL,
      say("read-layout-scan.give_the_number_of")
    )
  }
  lines <- scan_lines(scan, told)
  key <- lines$key
  used_lines <- c(lines$students, stats::na.omit(key))
  width <- max(nchar(sub(" +$", "", scan$marks[used_lines])))
  marks <- matrix("", length(scan$marks), width)
  for (k in seq_len(width)) marks[, k] <- or_blank(substr(scan$marks, k, k))
  marks[marks == ""] <- " "
  spaced <- grouping_columns(marks[used_lines, , drop = FALSE])
  marks <- marks[, !spaced, drop = FALSE]
  codes <- mark_codes(marks[used_lines, , drop = FALSE], told)
  short <- short_lines(scan$marks, used_lines, codes)
  marks[marks %in% codes$blank] <- ""
  marks[marks %in% codes$several] <- several_word
  marks[] <- toupper(marks)
  marks[marks == toupper(several_word)] <- several_word
  # A key without a mark is none.
  if (!is.na(key) && all(marks[key, ] == "")) {
    lines$skipped <- sort(c(lines$skipped, key))
    lines$key <- key <- NA
  }
  students <- lines$students
  if (!length(students) || all(marks[students, ] == "")) {
    abort_pregunta(
      "input",
      say("read-layout-wide.holds_no_row_of", origin = origin),
      NULL,
      say("read-layout-wide.see_that_it_is")
    )
  }
  used <- if (is.na(key)) {
    which(colSums(marks[students, , drop = FALSE] != "") > 0)
  } else {
    which(marks[key, ] != "")
  }
  items <- paste0("Q", seq_along(used))
  responses <- data.frame(
    student = scan$id[students],
    marks[students, used, drop = FALSE]
  )
  names(responses) <- c("student", items)
  people <- data.frame(student = scan$id[students])
  new_bundle(
    responses = responses,
    students = unique(people),
    origin = origin,
    settings = list(),
    items = data.frame(
      item = items,
      type = usual_type(keyed = TRUE),
      key = if (is.na(key)) NA_character_ else marks[key, used],
      points = NA_character_,
      standards = NA_character_,
      prompt = NA_character_,
      level = NA_character_,
      known = match_known(
        data.frame(
          name = items,
          shown = items,
          prompt = NA,
          plain = tolower(items)
        ),
        known$item
      )$known
    ),
    layout = Filter(
      length,
      list(
        shape = "scan",
        blank_mark = codes$blank,
        several_mark = codes$several
      )
    ),
    account = scan_account(
      grid,
      scan,
      lines,
      codes,
      length(items),
      length(students)
    ),
    reading = scan_reading(scan, lines, marks, used, short)
  )
}

# Blanks at the same place of every line only divide the marks.
grouping_columns <- function(marks) {
  blank <- colSums(marks != " ") == 0
  blank & seq_along(blank) < max(c(0, which(!blank)))
}

# Lines that end before the others where a blank has a mark of its own: something is
# missing in them, and nothing says where.
short_lines <- function(marks, used, codes) {
  width <- nchar(marks[used])
  marked <- setdiff(codes$blank, " ")
  if (length(marked)) used[width < max(width)] else integer()
}

scan_reading <- function(scan, lines, marks, used, short) {
  id <- scan$id[lines$students]
  cells <- marks[lines$students, used, drop = FALSE]
  list(
    signs = list(
      shape_fits = 1,
      ids_distinct = mean(!duplicated(id)),
      who_named = 0.5,
      numbered = 1,
      cells_alike = usual_share(
        as.vector(cells),
        cell_facts(list(as.vector(cells)))
      ),
      rows_alike = 1,
      placed = 1,
      header_apart = 1
    ),
    doubts = c(
      if (length(short)) {
        list(new_doubt("scan_short", line = some_of(scan$line[short])))
      }
    )
  )
}

# Marks that are neither letter nor digit: which stand for blank, which for
# several at once.
mark_codes <- function(marks, told) {
  odd <- setdiff(
    unique(as.vector(marks)),
    c(LETTERS, letters, 0:9)
  )
  several <- if (is.null(told$several_mark)) {
    intersect(odd, c("*", "+", "#", "@", "?"))
  } else {
    unlist(told$several_mark)
  }
  blank <- if (is.null(told$blank_mark)) {
    intersect(odd, c(" ", "-", ".", "_"))
  } else {
    c(" ", unlist(told$blank_mark))
  }
  list(blank = setdiff(blank, several), several = several)
}

scan_account <- function(grid, scan, lines, codes, n_items, n_students) {
  key <- lines$key
  shown <- function(marks) {
    join_words(
      ifelse(
        marks == " ",
        say("read-layout-scan.a_space"),
        quoted(marks)
      )
    )
  }
  rbind(
    account_line(
      "read_as",
      say("read-layout-scan.scanned_sheets_an_id", grid = attr(grid, "about"))
    ),
    account_line(
      "student",
      say("read-layout-scan.the_id_at_the", n_students = n_students)
    ),
    account_line(
      "questions",
      say("read-layout-scan.one_a_mark_q1", n_items = n_items)
    ),
    account_line(
      "key",
      if (is.na(key)) {
        say("read-layout-scan.no_line_of_it")
      } else {
        say(
          "read-layout-scan.line",
          line = scan$line[key],
          id = quoted(scan$id[key])
        )
      }
    ),
    if (length(codes$blank)) {
      account_line(
        "blank",
        say("read-layout-scan.in_place_of_a", blank = shown(codes$blank))
      )
    },
    if (length(codes$several)) {
      account_line(
        "several_marks",
        say(
          "read-layout-scan.in_place_of_a_letter",
          several = shown(codes$several)
        )
      )
    },
    if (length(lines$skipped)) {
      account_line(
        "left_out",
        say(
          "read-layout-scan.line_no_id_and",
          skipped = some_of(scan$line[lines$skipped])
        )
      )
    }
  )
}
