# Recognising what a raw export is. A layout is a plain list that test.yml can
# hold:
#   shape        wide, long or scan
#   header       line of the column names, 0 when there is none
#   student, name, section, attempt, seconds, submitted ...   column names
#   questions    column names, or a first and a last one with .. between
#   leave_out    columns that are neither
#   rows         label or line of the rows that are no students: key, points,
#                standards, type, level, prompt, summary, note; student: that are
# Every way to read a file makes a proposal; each is read as if it were right, and
# weighed by what the whole of the file says of it (read-evidence.R). What a person
# says of a layout (`told`) stands, and is checked in the same way.

# Raw files as bundles of the tables of a test folder. XML documents, of which
# there is often one a student, are read together.
read_exports <- function(paths, told = list(), sheet = NULL, known = NULL,
                         take = NULL) {
  is_xml <- vapply(
    paths,
    function(path) document_kind(path) == "xml",
    TRUE
  )
  documents <- if (any(is_xml)) list(read_xml_documents(paths[is_xml]))
  check_take(take, paths)
  others <- lapply(paths[!is_xml], function(path) {
    read_export(path, told, sheet, known, take_for(take, path))
  })
  bundles <- c(documents, unlist(others, recursive = FALSE))
  empty <- vapply(
    bundles,
    function(one) is.null(one$responses),
    TRUE
  )
  if (any(empty)) {
    abort_pregunta(
      "input",
      say(
        "read-layout.holds_no_answer_of",
        origin = bundles[[which(empty)[1]]]$origin
      ),
      NULL,
      say("read-layout.questions_go_after_key")
    )
  }
  of_file <- tools::file_path_sans_ext(basename(paths))
  of_sheet <- unlist(Map(function(bundles, file) {
    if (is.null(names(bundles))) rep(file, length(bundles)) else names(bundles)
  }, others, of_file[!is_xml]))
  stats::setNames(bundles, c(if (any(is_xml)) of_file[is_xml][1], of_sheet))
}

# The reading to take of a file: one number for all, or numbers named by files.
take_for <- function(take, path) {
  if (is.null(names(take))) return(take)
  at <- match(basename(path), names(take))
  if (!is.na(at)) take[[at]]
}

check_take <- function(take, paths) {
  unknown <- setdiff(names(take), basename(paths))
  fits <- is.null(take) ||
    (is.numeric(take) && (length(take) == 1 || !is.null(names(take))))
  if (fits && !length(unknown)) return(invisible())
  abort_pregunta(
    "call",
    say("read-layout.take_is_no_number"),
    some_of(quoted(c(unknown, take)), 4),
    say("read-layout.one_number_or_named")
  )
}

# The bundles of a file: one, or one a sheet, named by it.
read_export <- function(path, told = list(), sheet = NULL, known = NULL,
                        take = NULL) {
  special <- read_standard(path)
  if (!is.null(special)) return(list(special))
  sheet <- if (is.null(sheet)) told$sheet else sheet
  grids <- read_grids(path, sheet)
  if (length(grids) > 1 && is.null(sheet)) one_sheet(path, grids)
  held <- lapply(stats::setNames(seq_along(grids), names(grids)), function(k) {
    hold_grid(grids[[k]], function() read_grids(path, sheet)[[k]])
  })
  rm(grids)
  lapply(unname_one(held), read_grid, told, known, take)
}

# The only sheet of a file gives the file's own name.
unname_one <- function(list) if (length(list) == 1) unname(list) else list

# A grid that may be taken apart as it is read: of a large file there is no room for the
# grid and its rows of students. Whoever needs it afterwards has it read again.
hold_grid <- function(grid, again) {
  held <- new.env(parent = emptyenv())
  held$grid <- grid
  held$again <- again
  held
}

held_grid <- function(held) {
  if (!is.environment(held)) return(held)
  if (is.null(held$grid)) {
    held$grid <- held$again()
  }
  held$grid
}

# The layout of an earlier test as far as it fits this grid: where its columns
# stand in one row, that row is the header; columns that are not there and lines
# of another header are left to be recognised anew.
fit_layout <- function(grid, kept) {
  roles <- intersect(names(kept), c(person_roles, long_roles))
  wanted <- plain_words(unlist(kept[roles]))
  first <- seq_len(min(15, nrow(grid)))
  looked <- as.matrix(grid[first, , drop = FALSE])
  found <- apply(
    looked,
    1,
    function(row) sum(wanted %in% plain_words(row))
  )
  marks <- kept[intersect(names(kept), c("blank_mark", "several_mark"))]
  if (!length(wanted) || max(found) == 0) return(marks)
  at <- which.max(found)
  there <- plain_words(looked[at, ])
  fits <- vapply(
    kept[roles],
    function(names) all(plain_words(names) %in% there),
    TRUE
  )
  line <- attr(grid, "line")[at]
  rows <- Filter(function(row) {
    is.character(row) || identical(line, as.integer(kept$header))
  }, kept$rows)
  c(
    marks, kept[roles[fits]], kept["leave_out"],
    list(header = line, rows = rows)
  )
}

plain_words <- function(text) {
  trimws(gsub("[ \t\r\n\u00a0]+", " ", tolower(text), perl = TRUE))
}

# The bundle of a grid by the reading that the file itself speaks for, or by the one
# that was taken; it carries what speaks against it.
read_grid <- function(held, told = list(), known = NULL, take = NULL) {
  kept <- Filter(length, fit_layout(held$grid, as.list(told$kept)))
  told <- utils::modifyList(kept, told[names(told) != "kept"])
  # as folders of earlier versions keep it
  if (is.null(told$shape)) {
    told$shape <- told$form
  }
  readings <- weigh_readings(
    propose_layouts(held$grid, told, known),
    held$grid,
    told,
    known
  )
  choose_reading(readings, held, told, known, take)
}

# Every way that a grid could be read: layouts, each as far as it must be said.
propose_layouts <- function(grid, told, known = NULL) {
  if (!is.null(told$shape)) check_shape(told$shape)
  headers <- if (is.null(told$header)) header_candidates(grid) else told$header
  of_shape <- function(shape) {
    lapply(headers, function(header) list(shape = shape, header = header))
  }
  if (!is.null(told$shape)) {
    return(
      if (told$shape == "scan") {
        list(list(shape = "scan"))
      } else {
        of_shape(told$shape)
      }
    )
  }
  long <- Filter(
    function(layout) could_be_long(grid, layout, told, known),
    of_shape("long")
  )
  c(
    if (is_scan(grid, told)) list(list(shape = "scan")), long, of_shape("wide")
  )
}

check_shape <- function(shape) {
  if (shape %in% c("wide", "long", "scan")) return(invisible())
  abort_layout(
    "shape",
    shape,
    say("read-layout.is_not_a_form", value = quoted(shape)),
    say("read-layout.known_are_wide_long")
  )
}

# A layout read as if it were right: its bundle, or the condition that says why not.
read_proposal <- function(grid, layout, told, known) {
  told <- utils::modifyList(told, layout)
  tryCatch(
    switch(told$shape,
      scan = read_scan(held_grid(grid), told, known),
      long = read_long(frame_grid(grid, told), told, known),
      wide = read_wide(frame_grid(grid, told), told, known)
    ),
    pregunta_error_undecided = identity,
    pregunta_error_input = function(e) {
      if (inherits(e, "pregunta_error_layout")) stop(e) else e
    }
  )
}

abort_layout <- function(name, value, what, fix) {
  abort_pregunta(
    "input",
    what,
    say(
      "read-layout.layout",
      name = name,
      value = some_of(value)
    ),
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
# the names), each row with its line, and the title if one stands on top. held: a grid,
# or a held one.
frame_grid <- function(held, told = list()) {
  grid <- held_grid(held)
  at <- header_row(grid, told)
  rows <- if (at == 0) {
    list(names = say("read-layout.column", grid = seq_along(grid)), used = 0L)
  } else {
    header_names(grid, at)
  }
  lines <- attr(grid, "line")
  below <- seq_len(nrow(grid)) > max(rows$used)
  again <- below & at > 0 & repeats_row(grid, at)
  below <- below & !again
  above <- grid[seq_len(nrow(grid)) < min(rows$used), , drop = FALSE]
  alone <- rowSums(above != "") == 1
  frame <- list(
    names = distinct_names(rows$names),
    body = NULL,
    facts = cell_facts(grid),
    line = lines[below],
    again = lines[again],
    above = above[!alone, , drop = FALSE],
    above_line = lines[seq_len(nrow(grid)) < min(rows$used)][!alone],
    title = if (any(alone)) {
      unlist(above[which(alone)[1], ])[unlist(above[which(alone)[1], ]) != ""][[
        1
      ]]
    },
    header = if (at == 0) 0L else lines[at],
    origin = attr(grid, "origin"),
    about = attr(grid, "about"),
    renamed = rows$names
  )
  rm(grid)
  frame$body <- take_body(held, below)
  if (!nrow(frame$body)) {
    abort_pregunta(
      "input",
      say("read-layout.has_column_names_and", origin = frame$origin),
      say(
        "read-layout.line",
        origin = frame$origin,
        header = frame$header
      ),
      say("read-layout.see_that_it_is")
    )
  }
  frame
}

# The rows of a grid. A large one that is held goes as they come, a column at a time.
take_body <- function(held, rows) {
  if (!is.environment(held) || length(held$grid) * length(rows) < large_grid) {
    return(take_rows(held_grid(held), rows))
  }
  columns <- as.list(held$grid)
  held$grid <- NULL
  kept <- which(rows)
  for (k in seq_along(columns)) columns[[k]] <- columns[[k]][kept]
  frame_of(columns, length(kept))
}

large_grid <- 2e5 # cells

# Rows that say the same as one, as where each page has the headings on top.
repeats_row <- function(grid, at) {
  same <- if (at > 0) seq_len(nrow(grid))
  for (column in grid) {
    same <- same[column[same] == column[at]]
  }
  seq_len(nrow(grid)) %in% same
}

header_row <- function(grid, told) {
  if (is.null(told$header)) {
    return(match(header_candidates(grid)[1], attr(grid, "line"), 0L))
  }
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
  at
}

# The lines that could hold the column names, the likeliest first; 0 is none.
header_candidates <- function(grid) {
  looked <- seq_len(min(15, nrow(grid)))
  cells <- as.matrix(grid[looked, , drop = FALSE])
  worth <- header_worth(cells)
  likely <- order(-worth)
  likely <- likely[worth[likely] > 0 & worth[likely] >= 0.4 * max(worth)]
  likely <- likely[!duplicated(cells[likely, , drop = FALSE])]
  lines <- attr(grid, "line")[utils::head(likely, 2)]
  if (!length(lines)) {
    lines <- if (first_row_differs(grid)) c(attr(grid, "line")[1], 0L) else 0L
  }
  lines
}

# How much each row looks like column names: words for a student most of all.
header_worth <- function(cells) {
  distinct <- unique(as.vector(cells))
  plain <- plain_heading(distinct)
  parsed <- parse_headings(distinct)
  labels <- heading_words()$row
  labels <- labels[labels %in% c("standards", "key", "points", "summary")]
  words <- data.frame(
    person = heading_means(distinct, "person", plain),
    number = parsed$number,
    prefix = parsed$prefix,
    bare = parsed$prefix == "" & parsed$text == "" & is.na(parsed$part),
    other = !is.na(heading_means(distinct, "total", plain)) |
      !is.na(heading_means(distinct, "long", plain)),
    long = nchar(distinct) > 15,
    labels = plain %in% names(labels),
    value = read_number(distinct)
  )
  apply(cells, 1, function(row) {
    row <- row[row != ""]
    if (length(row) < 2) return(0)
    said <- words[match(row, distinct), ]
    steps <- diff(said$value[said$bare & !is.na(said$value)])
    counted <- length(steps) > 1 && all(steps == 1)
    numbered <- !is.na(said$number) & (!said$bare | is.na(said$value) | counted)
    family <- said$prefix %in% said$prefix[numbered][
      duplicated(said$prefix[numbered])
    ]
    numbered <- numbered & (family | said$prefix %in% heading_words()$item)
    # A row that is called by what it says of the questions does not name them.
    labelled <- said$labels[1] &&
      all(is.na(said$person)) &&
      sum(said$other) <= 1
    # Codes of standards stand again and again, names of questions do not.
    if (mean(duplicated(row[numbered])) > 0.1 && sum(numbered) > 3) {
      numbered[] <- FALSE
    }
    worth <- 3 * length(unique(stats::na.omit(said$person))) +
      sum(numbered & !duplicated(row)) +
      0.5 * sum(said$other) +
      0.2 * sum(said$long & is.na(said$person)) -
      0.5 * sum(!is.na(said$value) & !numbered)
    if (labelled) worth / 3 else worth
  })
}

# Names of columns seldom stand again in the column.
first_row_differs <- function(grid) {
  first <- unlist(grid[1, ], use.names = FALSE)
  again <- vapply(
    seq_along(grid),
    function(k) first[k] %in% grid[-1, k],
    TRUE
  )
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
  phrases <- names(part_phrases())
  is_part <- function(cells) plain_heading(cells) %in% phrases
  repeated <- function(cells) {
    parts <- cells[is_part(cells)]
    length(parts) >= 2 && (anyDuplicated(parts) > 0)
  }
  below <- row(at + 1)
  here <- row(at)
  above <- row(at - 1)
  # What is no part there is a name, over or under nothing.
  under <- is_part(below) | below == "" | here == "" | here == below
  if (repeated(below) &&
    all(under) &&
    !any(is_part(here) & below == "" & duplicated(here))) {
    return(list(
      names = join_header(here, below, is_part(below)),
      used = c(at, at + 1)
    ))
  }
  if (repeated(here) &&
    sum(above != "") >= 2 &&
    all(above == "" | is_part(here))) {
    return(list(
      names = join_header(above, here, is_part(here)),
      used = c(at - 1, at)
    ))
  }
  list(names = here, used = at)
}

join_header <- function(upper, lower, part) {
  held <- ""
  for (k in seq_along(upper)) {
    if (upper[k] != "") {
      held <- upper[k]
    }
    above <- if (part[k] && lower[k] != "") held else upper[k]
    # A cell merged over both rows stands in each of them.
    if (upper[k] != lower[k]) {
      upper[k] <- trimws(paste(above, lower[k]))
    }
  }
  upper
}

# Blank names get their place, names that stand twice a number.
distinct_names <- function(names) {
  blank <- names == ""
  names[blank] <- say("read-layout.column_2", blank = which(blank))
  parts <- plain_heading(names) %in% names(part_phrases())
  again <- stats::ave(seq_along(names), names, FUN = seq_along)
  twice <- again > 1 & !parts
  names[twice] <- paste0(names[twice], " (", again[twice], ")")
  names
}
