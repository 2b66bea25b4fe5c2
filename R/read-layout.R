# Recognising what a raw export is. A layout is a plain list that test.yml can
# hold:
#   shape        wide, long or scan
#   header       line of the column names, 0 when there is none
#   student, name, section, attempt, seconds, submitted ...   column names
#   questions    column names, or a first and a last one with .. between
#   leave_out    columns that are neither
#   rows         label or line of the rows that are no students: key, points,
#                standards, type, level, prompt
# What a person says of a layout (`told`) stands; the rest is recognised.

layout_names <- c(
  "shape",
  "header",
  names(person_words),
  names(long_words),
  "questions",
  "leave_out",
  "rows",
  "blank_mark",
  "several_mark",
  "id_width",
  "key_line",
  "sheet",
  "scale"
)

# Raw files as bundles of the tables of a test folder. XML documents, of which
# there is often one a student, are read together.
read_exports <- function(paths, told = list(), sheet = NULL, known = NULL) {
  is_xml <- vapply(paths, function(path) document_kind(path) == "xml", TRUE)
  documents <- if (any(is_xml)) list(read_xml_documents(paths[is_xml]))
  others <- lapply(paths[!is_xml], read_export, told = told, sheet = sheet, known = known)
  bundles <- c(documents, others)
  empty <- vapply(bundles, function(one) is.null(one$responses), TRUE)
  if (any(empty)) {
    abort_pregunta(
      "input",
      say("read-layout.holds_no_answer_of", origin = bundles[[which(empty)[1]]]$origin),
      NULL,
      say("read-layout.questions_go_after_key")
    )
  }
  named <- c(paths[is_xml][any(is_xml)], paths[!is_xml])
  labels <- tools::file_path_sans_ext(basename(named))
  stats::setNames(bundles, labels[seq_along(bundles)])
}

read_export <- function(path, told = list(), sheet = NULL, known = NULL) {
  special <- read_standard(path)
  if (!is.null(special)) return(special)
  grids <- read_grids(path, if (is.null(sheet)) told$sheet else sheet)
  if (length(grids) > 1) grids <- grids[one_sheet(path, grids)]
  read_grid(grids[[1]], told, known)
}

# The layout of an earlier test as far as it fits this grid: where its columns
# stand in one row, that row is the header; columns that are not there and lines
# of another header are left to be recognised anew.
fit_layout <- function(grid, kept) {
  roles <- intersect(names(kept), c(names(person_words), names(long_words)))
  wanted <- plain_words(unlist(kept[roles]))
  first <- seq_len(min(15, nrow(grid)))
  looked <- as.matrix(grid[first, , drop = FALSE])
  found <- apply(looked, 1, function(row) sum(wanted %in% plain_words(row)))
  marks <- kept[intersect(names(kept), c("blank_mark", "several_mark"))]
  if (!length(wanted) || max(found) == 0) return(marks)
  at <- which.max(found)
  there <- plain_words(looked[at, ])
  fits <- vapply(kept[roles], function(names) all(plain_words(names) %in% there), TRUE)
  line <- attr(grid, "line")[at]
  rows <- Filter(function(row) {
    is.character(row) || identical(line, as.integer(kept$header))
  }, kept$rows)
  c(marks, kept[roles[fits]], kept["leave_out"], list(header = line, rows = rows))
}

# The bundle of a grid: its shape decides who reads it.
read_grid <- function(grid, told = list(), known = NULL) {
  kept <- Filter(length, fit_layout(grid, as.list(told$kept)))
  told <- utils::modifyList(kept, told[names(told) != "kept"])
  shape <- told$shape
  if (is.null(shape)) shape <- told$form # as folders of earlier versions keep it
  if (is.null(shape)) shape <- if (is_scan(grid)) "scan" else "table"
  if (shape == "scan") return(read_scan(grid, told))
  frame <- frame_grid(grid, told)
  if (shape == "table") shape <- if (is_long(frame)) "long" else "wide"
  switch(shape,
    long = read_long(frame, told),
    wide = read_wide(frame, told, known),
    abort_layout(
      "shape",
      shape,
      say("read-layout.is_not_a_form", value = quoted(shape)),
      say("read-layout.known_are_wide_long")
    )
  )
}

abort_layout <- function(name, value, what, fix) {
  abort_pregunta(
    "input",
    what,
    say("read-layout.layout", name = name, value = some_of(value)),
    fix
  )
}

# A question to the person, with the two ways of answering it.
ask_layout <- function(origin, what, where, role) {
  abort_pregunta(
    "undecided",
    paste0(origin, ": ", what),
    where,
    say("read-layout.say_it_with_set", role = role)
  )
}

one_sheet <- function(path, grids) {
  sheets <- some_of(names(grids), 12)
  abort_pregunta(
    "undecided",
    say("read-layout.has_several_sheets_that", path = basename(path)),
    say("read-layout.its_sheets_are", grids = sheets),
    say("read-layout.say_which_one_with")
  )
}

# ---- header and body ---------------------------------------------------------

# The grid with its column names found: `names`, `body`, `above` (the rows over
# the names), each row with its line, and the title if one stands on top.
frame_grid <- function(grid, told = list()) {
  at <- header_row(grid, told)
  rows <- if (at == 0) {
    list(names = say("read-layout.column", grid = seq_along(grid)), used = 0L)
  } else {
    header_names(grid, at)
  }
  lines <- attr(grid, "line")
  body <- grid[seq_len(nrow(grid)) > max(rows$used), , drop = FALSE]
  above <- grid[seq_len(nrow(grid)) < min(rows$used), , drop = FALSE]
  alone <- rowSums(above != "") == 1
  frame <- list(
    names = distinct_names(rows$names),
    body = body,
    line = lines[seq_len(nrow(grid)) > max(rows$used)],
    above = above[!alone, , drop = FALSE],
    above_line = lines[seq_len(nrow(grid)) < min(rows$used)][!alone],
    title = if (any(alone)) {
      unlist(above[which(alone)[1], ])[unlist(above[which(alone)[1], ]) != ""][[1]]
    },
    header = if (at == 0) 0L else lines[at],
    origin = attr(grid, "origin"),
    about = attr(grid, "about"),
    renamed = rows$names
  )
  if (!nrow(body)) {
    abort_pregunta(
      "input",
      say("read-layout.has_column_names_and", origin = frame$origin),
      say("read-layout.line", origin = frame$origin, header = frame$header),
      say("read-layout.see_that_it_is")
    )
  }
  frame
}

header_row <- function(grid, told) {
  if (!is.null(told$header)) {
    if (identical(as.integer(told$header), 0L)) return(0L)
    at <- match(as.integer(told$header), attr(grid, "line"))
    if (is.na(at)) {
      abort_layout(
        "header",
        told$header,
        say("read-layout.is_a_line_that"),
        say("read-layout.give_the_line_of")
      )
    }
    return(at)
  }
  looked <- seq_len(min(15, nrow(grid)))
  worth <- header_worth(as.matrix(grid[looked, , drop = FALSE]))
  if (max(worth) > 0) return(which.max(worth))
  if (first_row_differs(grid)) 1L else 0L
}

# How much each row looks like column names: words for a student most of all.
header_worth <- function(cells) {
  distinct <- unique(as.vector(cells))
  words <- data.frame(
    person = word_of(distinct, person_words),
    number = question_number(distinct),
    other = grepl(total_words, plain_words(distinct), perl = TRUE) |
      !is.na(word_of(distinct, long_words)),
    value = read_number(distinct)
  )
  apply(cells, 1, function(row) {
    row <- row[row != ""]
    if (length(row) < 2) return(0)
    said <- words[match(row, distinct), ]
    bare <- grepl("^[0-9]+$", row)
    steps <- diff(said$value[bare])
    numbered <- !is.na(said$number) & (!bare | (length(steps) > 1 && all(steps == 1)))
    3 * length(unique(stats::na.omit(said$person))) +
      sum(numbered & !duplicated(row)) +
      0.5 * sum(said$other) -
      0.5 * sum(!is.na(said$value) & !numbered)
  })
}

# Names of columns seldom stand again in the column.
first_row_differs <- function(grid) {
  first <- unlist(grid[1, ], use.names = FALSE)
  again <- vapply(seq_along(grid), function(k) first[k] %in% grid[-1, k], TRUE)
  all(first != "") &&
    !anyDuplicated(first) &&
    mean(again) < 0.2 &&
    all(is.na(read_number(first)))
}

# A header of two rows (questions over their parts) reads as one.
header_names <- function(grid, at) {
  row <- function(i) {
    if (i >= 1 && i <= nrow(grid)) {
      unlist(grid[i, ], use.names = FALSE)
    } else {
      rep("", length(grid))
    }
  }
  is_part <- function(cells) !is.na(word_of(cells, part_words)) & nchar(cells) < 25
  repeated <- function(cells) {
    parts <- cells[is_part(cells) & is.na(question_number(cells))]
    length(parts) >= 2 && (anyDuplicated(parts) > 0)
  }
  below <- row(at + 1)
  here <- row(at)
  above <- row(at - 1)
  if (repeated(below) && !any(is_part(here) & below == "")) {
    return(list(names = join_header(here, below, is_part(below)), used = c(at, at + 1)))
  }
  if (repeated(here) && sum(above != "") >= 2 && all(above == "" | is_part(here))) {
    return(list(names = join_header(above, here, is_part(here)), used = c(at - 1, at)))
  }
  list(names = here, used = at)
}

join_header <- function(upper, lower, part) {
  held <- ""
  for (k in seq_along(upper)) {
    if (upper[k] != "") held <- upper[k]
    above <- if (part[k] && lower[k] != "") held else upper[k]
    upper[k] <- trimws(paste(above, lower[k]))
  }
  upper
}

# Blank names get their place, names that stand twice a number.
distinct_names <- function(names) {
  blank <- names == ""
  names[blank] <- say("read-layout.column_2", blank = which(blank))
  parts <- !is.na(word_of(names, part_words)) & is.na(question_number(names))
  again <- stats::ave(seq_along(names), names, FUN = seq_along)
  twice <- again > 1 & !parts
  names[twice] <- paste0(names[twice], " (", again[twice], ")")
  names
}

# The number of a question in a column's name, as text ("7", "7b"), or NA.
question_number <- function(names) {
  plain <- plain_words(names)
  found <- regmatches(plain, regexec(question_pattern, plain, perl = TRUE))
  number <- vapply(found, function(hit) {
    if (length(hit)) sub("[.]", "", hit[2]) else NA_character_
  }, "")
  # A1, A2, A3: letters of one's own before the number, if more than one has them.
  own <- is.na(number) & grepl("^[a-z]{1,4}[ ._-]?[0-9]{1,3}$", plain)
  letters <- sub("[ ._-]?[0-9]+$", "", plain[own])
  shared <- letters %in% letters[duplicated(letters)]
  number[own][shared] <- sub("^[^0-9]+", "", plain[own][shared])
  number
}
