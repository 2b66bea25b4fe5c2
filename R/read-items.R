# What is asked: types, keys and points of the questions of a raw export, from
# its own rows, a key file, or the points that answers earned.

# The cells of each item of a bundle: `answer` and `points` along its rows.
cells_of <- function(bundle, item) {
  table <- bundle$responses
  if (is_long_table(table)) {
    at <- which(table$item == item)
    return(list(
      answer = cells_or_blank(table$response, at),
      points = cells_or_blank(table$points, at)
    ))
  }
  points <- table[[paste(item, "points")]]
  list(
    answer = cells_or_blank(table[[item]]),
    points = cells_or_blank(points)
  )
}

cells_or_blank <- function(cells, at = NULL) {
  if (!is.null(at)) {
    cells <- cells[at]
  }
  if (is.null(cells)) return("")
  if (anyNA(cells)) or_blank(cells) else cells
}

is_long_table <- function(table) all(c("student", "item") %in% names(table))

# A sheet of nothing but x and blanks is ticked with x: there it says yes.
read_ticks <- function(bundle) {
  table <- bundle$responses
  columns <- intersect(
    if (is_long_table(table)) "response" else bundle$items$item,
    names(table)
  )
  said <- lapply(table[columns], distinct_cells)
  words <- unique(tolower(unlist(said)))
  if (!"x" %in% words ||
    length(bundle$strict) ||
    !all(words %in% c("x", "", blank_words)) ||
    any(!is.na(bundle$items$key))) {
    return(bundle)
  }
  bundle$responses[columns] <- lapply(table[columns], function(cells) {
    ifelse(tolower(cells) == "x", "yes", cells)
  })
  tell(
    bundle,
    say("read-items.all_together"),
    account_line("x", say("read-items.yes_since_nothing_else"))
  )
}

# Cells of 1 to 5 and never 0, and nothing that says what a question gives: with a key to
# come they are options; else nobody can tell them from marks.
digit_items <- function(bundle) {
  items <- bundle$items
  open <- is.na(items$type) & is.na(items$key) & is.na(items$points)
  digits <- vapply(items$item, function(item) {
    cells <- cells_of(bundle, item)
    answer <- setdiff(distinct_cells(cells$answer), "")
    length(answer) > 0 &&
      all(answer %in% as.character(1:5)) &&
      all(cells$points == "")
  }, TRUE)
  mine <- items$item[open & digits]
  many <- any(
    vapply(
      mine,
      function(item) any(cells_of(bundle, item)$answer %in% 3:5),
      TRUE
    )
  )
  scale <- length(bundle$settings$scale) > 0
  if (length(mine) < nrow(items) || scale || !many) character() else mine
}

options_as_digits <- function(bundle, later) {
  digits <- digit_items(bundle)
  if (later) {
    bundle$items$type[bundle$items$item %in% digits] <- usual_type(keyed = TRUE)
  }
  bundle$unsure_digits <- if (!later) digits
  bundle
}

# Types, keys and points settled for every item; what was concluded is said.
settle_items <- function(bundle) {
  items <- bundle$items
  items$known <- NULL
  if (is.null(items$scoring)) {
    items$scoring <- NA_character_
  }
  derived <- character()
  seen <- character()
  for (j in seq_len(nrow(items))) {
    one <- settle_item(
      items[j, ],
      cells_of(bundle, items$item[j]),
      bundle$settings$scale
    )
    if (isTRUE(attr(one, "derived"))) {
      derived <- c(derived, one$item)
    }
    if (isTRUE(attr(one, "seen"))) {
      seen <- c(seen, one$item)
    }
    items[j, names(one)] <- one
  }
  bundle$items <- items
  bundle$derived <- derived
  if (is_skill_check(bundle)) {
    bundle$settings$blanks <- "missing"
    bundle <- tell(
      bundle,
      say("read-items.all_together"),
      account_line("blank", say("read-items.not_tried_yet_left"))
    )
  }
  keyless <- items$item[is_answered(items$type, "chosen") & is.na(items$key)]
  tell(
    bundle,
    say("read-items.all_together"),
    account_line("types", say_types(items$type)),
    if (length(derived)) {
      account_line(
        "key",
        say("read-items.of_the_answers_that", derived = name_items(derived))
      )
    },
    if (length(seen)) {
      account_line(
        "most_points",
        say("read-items.of_the_highest_seen", seen = name_items(seen))
      )
    },
    if (length(keyless)) {
      account_line(
        "to_do",
        say("read-items.no_key_for_fill", keyless = name_items(keyless))
      )
    }
  )
}

# Yes and no in words all over: a check of skills, one to one.
is_skill_check <- function(bundle) {
  if (!all(is_points_cell(bundle$items$type))) return(FALSE)
  cells <- unlist(lapply(bundle$items$item, function(item) {
    unique(tolower(cells_of(bundle, item)$answer))
  }))
  any(cells %in% c(yes_words, no_words)) &&
    all(cells %in% c(yes_words, no_words, "0", "1", "", blank_words))
}

name_items <- function(items) {
  if (length(items) > 4) {
    say(
      "read-items.to_questions",
      items = items[1],
      items_n = items[length(items)],
      n = length(items)
    )
  } else {
    join_words(items)
  }
}

say_types <- function(type) {
  known <- names(item_types())
  kinds <- table(factor(type, known))
  kinds <- kinds[kinds > 0]
  in_a_row(paste(kinds, type_words(names(kinds))))
}

settle_item <- function(item, cells, scale = NULL) {
  answers <- setdiff(distinct_cells(cells$answer), c("", blank_words))
  earned <- any(cells$points != "")
  if (is.na(item$type) && !is.na(item$key)) {
    item$type <- type_of_key(item$key, answers)
  }
  if (!is.na(item$type)) {
    if (earned && !is.na(item$key)) {
      item <- most_from_points(item, cells)
    }
    if (earned) {
      item <- scoring_from_points(item, cells)
    }
  } else if (earned) {
    item <- key_from_points(item, cells)
  } else {
    item$type <- type_of_answers(
      answers,
      scale,
      c(yes_words, no_words)
    )
  }
  is_mark <- is_points_cell(item$type)
  on_scale <- length(scale) > 0 &&
    is_mark &&
    all(tolower(answers) %in% tolower(names(scale)))
  if (on_scale && is.na(item$points)) {
    item$points <- format_plain(max(unlist(scale)))
  }
  if (is_mark && is.na(item$points)) {
    marks <- read_number(c(answers, if (earned) cells$points))
    most <- if (all(is.na(marks))) 1 else max(marks, na.rm = TRUE)
    if (most > 1) {
      attr(item, "seen") <- TRUE
    }
    item$points <- format_plain(if (most > 0) most else 1)
  }
  item
}

# With a key and the points that were earned, but no word on the most: what the right
# answers earned.
most_from_points <- function(item, cells) {
  points <- mark_of(cells$points)
  if (!is.na(item$points) || all(is.na(points))) return(item)
  most <- max(points, na.rm = TRUE)
  if (most > 0) {
    item$points <- format_plain(most)
  }
  item
}

# Where parts of an answer can earn, the rule that gives the points that were
# given is the one.
scoring_from_points <- function(item, cells) {
  type <- item_type(item$type)
  if (!"each" %in% type$scorings || is.na(item$key) || !is.na(item$scoring)) {
    return(item)
  }
  given <- cells$answer != "" & !is.na(read_number(cells$points))
  key <- tryCatch(type$read_key(item$key), pregunta_bad_key = function(e) NULL)
  if (!any(given) || is.null(key)) return(item)
  most <- if (is.na(item$points)) 1 else read_number(item$points)
  answer <- type$normalise(cells$answer[given], unlist(type$right_parts(key)))
  fits <- vapply(c("all", "each"), function(scoring) {
    all(
      abs(
        type$share(answer, key, scoring) * most -
          read_number(cells$points[given])
      ) < 1e-4
    )
  }, TRUE)
  if (!fits[["all"]] && fits[["each"]]) {
    item$scoring <- "each"
  }
  item
}

# Where each answer always earned the same, the answers that earned all are the
# key; where not, or where some earned a part, the points stand as given.
key_from_points <- function(item, cells) {
  given <- cells$answer != "" & cells$points != ""
  points <- read_number(cells$points[given])
  answer <- cells$answer[given]
  most <- if (is.na(item$points)) {
    max(
      0,
      read_number(cells$points[cells$points != ""]),
      na.rm = TRUE
    )
  } else {
    read_number(item$points)
  }
  by_answer <- split(points, answer)
  steady <- length(by_answer) > 0 &&
    !anyNA(points) &&
    all(vapply(by_answer, function(x) all(x == x[1]), TRUE))
  worth <- vapply(by_answer, `[`, 0, 1)
  right <- names(by_answer)[worth == most & most > 0]
  item$points <- format_plain(if (isTRUE(most > 0)) most else 1)
  if (!any(nzchar(cells$answer))) {
    item$type <- type_by_hand(answered = FALSE)
  } else if (steady &&
    all(worth %in% c(0, most)) &&
    length(right) &&
    !any(grepl("[|;>=]", names(by_answer)))) {
    item$type <- type_of_right(names(by_answer))
    item$key <- paste(right, collapse = "|")
    attr(item, "derived") <- TRUE
  } else {
    item$type <- type_by_hand(answered = TRUE)
  }
  item
}

# ---- the key file ------------------------------------------------------------

# Keys named by their items; where they came from, by the option that takes them.
said_by_name <- "--key"

key_by_name <- function(keys) {
  new_bundle(
    items = data.frame(item = names(keys), key = unname(keys)),
    origin = said_by_name,
    account = account_line("key", say("read-items.keys_by_name", n = length(keys)))
  )
}

# A key as a table of items: a row an item (item, key, type, points ...), or one
# line of answers below the names of the questions, or nothing but the answers.
read_key_file <- function(path) {
  if (!is.null(names(path))) return(key_by_name(path))
  check_file(path)
  standard <- read_standard(path)
  if (!is.null(standard)) return(standard)
  grid <- read_grids(path)[[1]]
  origin <- attr(grid, "origin")
  header <- unlist(grid[1, ], use.names = FALSE)
  roles <- heading_means(header, "long")
  if (all(c("item", "key") %in% roles) || all(c("item", "type") %in% header)) {
    options <- options_beside(path)
    return(new_bundle(
      items = key_table(grid, header, roles),
      options = options,
      origin = origin,
      account = account_line("key", say("read-items.a_row_a_question"))
    ))
  }
  numbered <- !is.na(parse_headings(grid[[1]])$number) &
    !grepl("^[0-9]+$", grid[[1]])
  if (ncol(grid) == 2 &&
    nrow(grid) > 1 &&
    all(numbered) &&
    !anyDuplicated(grid[[1]])) {
    items <- data.frame(item = grid[[1]], key = grid[[2]])
  } else if (nrow(grid) == 1 || ncol(grid) == 1) {
    cells <- unlist(grid, use.names = FALSE)
    is_key <- vapply(meanings_of_each(cells, "row"), function(one) {
      "key" %in% one
    }, TRUE)
    marks <- cells[!is_key & nzchar(cells)]
    if (length(marks) == 1 && grepl("^[A-Ja-j0-9 ]{2,}$", marks)) {
      marks <- strsplit(gsub(" ", "", marks), "")[[1]]
    }
    items <- data.frame(item = paste0("Q", seq_along(marks)), key = marks)
  } else if (nrow(grid) == 2 && any(!is.na(parse_headings(header)$number))) {
    at <- which(!is.na(parse_headings(header)$number))
    items <- data.frame(
      item = question_names_plain(header[at]),
      key = unlist(grid[2, at], use.names = FALSE)
    )
  } else {
    first <- some_of(quoted(header), 6)
    abort_pregunta(
      "undecided",
      say("read-items.is_not_understood_as", origin = origin),
      say(
        "read-items.line",
        origin = origin,
        grid = attr(grid, "line")[1],
        header = first
      ),
      say("read-items.give_it_two_columns")
    )
  }
  said <- say("read-items.answers_in_printed_order", n = nrow(items))
  new_bundle(
    items = items,
    origin = origin,
    account = account_line("key", said)
  )
}

# The items.csv of a test folder has the options of its questions beside it.
options_beside <- function(path) {
  beside <- file.path(dirname(path), "options.csv")
  if (tolower(basename(path)) != "items.csv" || !file.exists(beside)) {
    return(NULL)
  }
  options <- text_columns(read_table_file(beside))
  if (all(c("item", "option") %in% names(options))) options
}

question_names_plain <- function(header) {
  ifelse(grepl("^[0-9]+$", header), paste0("Q", header), header)
}

key_table <- function(grid, header, roles) {
  table <- grid[-1, , drop = FALSE]
  names <- ifelse(
    is.na(roles) | roles %in% c("comment", "explanation", "response"),
    header,
    roles
  )
  names[names == "most"] <- "points"
  names[names == ""] <- paste("column", seq_along(names))[names == ""]
  names(table) <- make.unique(names, " ")
  table <- table[table$item != "", , drop = FALSE]
  if (!nrow(table)) {
    origin <- attr(grid, "origin")
    abort_pregunta(
      "input",
      say("read-items.the_key_in_names", grid = origin),
      paste0(origin, ": ", some_of(quoted(header), 6)),
      say("read-items.give_it_a_line")
    )
  }
  table$item <- question_names_plain(table$item)
  table[] <- lapply(table, function(x) ifelse(x == "", NA, x))
  for (column in c("type", "points", "standards", "prompt")) {
    if (is.null(table[[column]])) {
      table[[column]] <- NA_character_
    }
  }
  rownames(table) <- NULL
  table
}

# A key of 1, 2, 3 and so on for as many questions as there are goes by printed order.
is_counted <- function(items, n) {
  length(items) == n &&
    identical(sub("^Q", "", items), as.character(seq_len(n)))
}

# The line of the key for each question: by name, else by printed order where it counts
# as many. mine: the names that a person knows them by.
match_key <- function(named, key, mine = named) {
  at <- match(named, key$items$item)
  if (all(is.na(at)) && is_counted(key$items$item, length(named))) {
    at <- seq_along(named)
  }
  if (all(is.na(at))) abort_key_names_none(key, mine)
  at
}

abort_key_names_none <- function(key, items) {
  abort_pregunta(
    "undecided",
    say("read-items.the_key_in_names_none", origin = key$origin),
    say(
      "read-items.the_questions_are_the",
      mine = some_of(items, 8),
      item = some_of(key$items$item, 8)
    ),
    say("read-items.name_them_alike_or")
  )
}

# The key's word on each item goes before the export's own; its order is the
# printed one.
add_key <- function(bundle, key) {
  if (is.null(key)) return(bundle)
  mine <- bundle$items$item
  named <- if (is.null(bundle$items$known)) {
    mine
  } else {
    or_else(bundle$items$known, mine)
  }
  at <- match_key(named, key, mine)
  for (column in setdiff(names(key$items), "item")) {
    said <- key$items[[column]][at]
    old <- if (column %in% names(bundle$items)) {
      bundle$items[[column]]
    } else {
      rep(NA_character_, length(mine))
    }
    bundle$items[[column]] <- or_else(said, old)
  }
  bundle$items <- bundle$items[
    order(is.na(at), at, seq_along(at)),
  ]
  without <- mine[is.na(at)]
  unasked <- setdiff(key$items$item, mine)
  options <- key$options[key$options$item %in% mine, ]
  bundle$options <- bind_first(
    list(bundle, list(options = options)),
    "options",
    c("item", "option")
  )
  listed <- if (length(options)) {
    say("read-items.options_of_key", n = nrow(options))
  }
  if (is.null(bundle$standards)) {
    bundle$standards <- key$standards
  }
  found <- sum(!is.na(at))
  said <- say(
    "read-items.of_of_the_questions",
    n = found,
    n_mine = length(mine)
  )
  tell(
    bundle,
    key$origin,
    account_line("key", said),
    account_line("options", listed),
    if (length(without)) {
      account_line(
        "to_do",
        say("read-items.no_line_for", without = name_items(without))
      )
    },
    if (length(unasked)) {
      account_line(
        "left_out",
        say("read-items.not_in_the_responses", unasked = name_items(unasked))
      )
    }
  )
}
