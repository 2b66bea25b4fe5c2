# Scanned answer sheets: an id and a string of marks a line, a key line among
# them. Delimited or in columns of fixed width.

mark_alphabet <- "A-Za-z0-9*?#@+._ -"

# A string of marks: long enough, no word, few different characters.
is_scan <- function(grid) {
  strings <- scan_strings(grid)
  !is.null(strings) && length(strings$marks) >= 2
}

# The id and the marks of each line, or NULL. A delimited line has the marks in
# its widest column; a line of text ends with them.
scan_strings <- function(grid, told = list()) {
  if (isTRUE(attr(grid, "separated"))) {
    if (ncol(grid) > 6) return(NULL)
    wide <- which.max(vapply(grid, function(x) stats::median(nchar(x)), 0))
    id <- if (ncol(grid) > 1) grid[[setdiff(seq_along(grid), wide)[1]]] else NULL
    marks <- gsub(" ", "", grid[[wide]])
    ok <- is_marks(marks)
    if (is.null(id) || mean(ok) < 0.7 || stats::median(nchar(marks[ok])) < 5) return(NULL)
    others <- setdiff(seq_along(grid), wide)[-1]
    return(list(
      id = id[ok],
      marks = marks[ok],
      other = grid[ok, others, drop = FALSE],
      line = attr(grid, "line")[ok],
      skipped = attr(grid, "line")[!ok]
    ))
  }
  fixed_strings(grid, told)
}

is_marks <- function(x) {
  plain <- grepl(paste0("^[", mark_alphabet, "]+$"), x)
  kinds <- vapply(strsplit(toupper(x), ""), function(one) {
    length(unique(one[one %in% LETTERS]))
  }, 0L)
  plain & nchar(x) >= 5 & !grepl("[a-z]{4,}", x) & kinds <= 8
}

# Fixed width: the id ends at the same place in every line and the marks begin
# at the same place.
fixed_strings <- function(grid, told) {
  lines <- sub("[ \t]+$", "", grid[[1]])
  lines <- lines[nzchar(lines)]
  at <- attr(grid, "line")
  split <- if (is.null(told$id_width)) {
    first_mark_column(lines)
  } else {
    as.integer(told$id_width) + 1L
  }
  if (is.na(split)) return(NULL)
  id <- trimws(substr(lines, 1, split - 1))
  marks <- substring(lines, split)
  ok <- grepl(paste0("^[", mark_alphabet, "]*$"), marks) & nzchar(id)
  if (mean(ok) < 0.7 || stats::median(nchar(trimws(marks))) < 5) return(NULL)
  list(id = id[ok], marks = marks[ok], other = NULL, line = at[ok], skipped = at[!ok])
}

# The first column after which every line holds only marks and before which a
# blank stands (or the id's digits end).
first_mark_column <- function(lines) {
  runs <- regmatches(
    lines,
    regexpr("[A-Ja-j1-9*?#@+._-]([A-Ja-j1-9*?#@+._ -]*[A-Ja-j1-9*?#@+._-])?$", lines)
  )
  if (length(runs) < length(lines) * 0.7) return(NA)
  gaps <- regexpr("(?<=[^ ]) +(?=[A-Ja-j0-9*?#@+._ -]{5,}$)", lines, perl = TRUE)
  begins <- gaps + attr(gaps, "match.length")
  begins <- begins[gaps > 0]
  if (length(begins) >= 0.7 * length(lines)) {
    most_often <- which.max(table(begins))
    usual <- as.integer(names(most_often))
    earliest <- min(begins[begins > 1])
    return(if (mean(begins == usual) > 0.5) usual else earliest)
  }
  digits <- attr(regexpr("^[0-9]+", lines), "match.length")
  if (mean(digits == digits[1]) > 0.9 && digits[1] > 0) digits[1] + 1L else NA
}

read_scan <- function(grid, told = list()) {
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
  width <- max(nchar(scan$marks))
  marks <- substring(
    formatC(scan$marks, width = -width),
    rep(seq_len(width), each = length(scan$marks)),
    rep(seq_len(width), each = length(scan$marks))
  )
  marks <- matrix(marks, ncol = width)
  key <- key_line(scan, told)
  codes <- mark_codes(marks, told)
  marks[marks %in% codes$blank] <- ""
  marks[marks %in% codes$several] <- several_word
  marks[] <- toupper(marks)
  marks[marks == toupper(several_word)] <- several_word
  used <- if (is.na(key)) which(colSums(marks != "") > 0) else which(marks[key, ] != "")
  items <- paste0("Q", seq_along(used))
  students <- setdiff(seq_along(scan$id), key)
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
      level = NA_character_
    ),
    layout = Filter(
      length,
      list(shape = "scan", blank_mark = codes$blank, several_mark = codes$several)
    ),
    account = scan_account(grid, scan, key, codes, length(items), length(students))
  )
}

# The line that bears a word for the key where the id stands, or nothing but
# zeros or nines.
key_line <- function(scan, told) {
  if (!is.null(told$key_line)) return(match(as.integer(told$key_line), scan$line))
  named <- which(!is.na(word_of(scan$id, row_words["key"])))
  if (length(named)) return(named[1])
  ends <- c(1, length(scan$id))
  zero <- ends[grepl("^(0+|9+)$", scan$id[ends])]
  c(zero, NA)[1]
}

# Marks that are neither letter nor digit: which stand for blank, which for
# several at once.
mark_codes <- function(marks, told) {
  odd <- setdiff(unique(as.vector(marks)), c(LETTERS, letters, 0:9))
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

scan_account <- function(grid, scan, key, codes, n_items, n_students) {
  shown <- function(marks) {
    join_words(ifelse(marks == " ", say("read-layout-scan.a_space"), quoted(marks)))
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
    account_line("questions", say("read-layout-scan.one_a_mark_q1", n_items = n_items)),
    account_line(
      "key",
      if (is.na(key)) {
        say("read-layout-scan.no_line_of_it")
      } else {
        say("read-layout-scan.line", line = scan$line[key], id = quoted(scan$id[key]))
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
        say("read-layout-scan.in_place_of_a_letter", several = shown(codes$several))
      )
    },
    if (length(scan$skipped)) {
      account_line(
        "left_out",
        say("read-layout-scan.line_no_id_and", skipped = some_of(scan$skipped))
      )
    }
  )
}
