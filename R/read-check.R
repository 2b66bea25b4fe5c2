# What was read, held against what the file says itself: its totals, and the points that
# stand beside answers. What contradicts is never passed over in silence.

# Stops with a question where a question has neither key nor points, unless the key comes
# later, or where sums or points contradict the reading, unless it was chosen.
check_reading <- function(bundle, files, key_later, taken) {
  stop_if_nobody(bundle)
  keyless <- keyless_items(bundle)
  if (length(keyless) && !key_later) abort_keyless(bundle, keyless)
  sums <- lapply(
    files,
    check_sums,
    bundle$items,
    bundle$options,
    keyless
  )
  # Documents of a standard say themselves how their points came about.
  tables <- any(vapply(files, function(file) length(file$reading) > 0, TRUE))
  points <- if (tables) check_points(bundle)
  against <- c(
    unlist(lapply(sums, `[[`, "against")), points$against, check_key(bundle)
  )
  proven <- unlist(lapply(sums, `[[`, "agrees"))
  if (length(bundle$unsure_digits) && !length(proven) && !taken) {
    abort_pregunta(
      "undecided",
      say("read-check.marks_or_options"),
      NULL,
      say("read-check.say_which_they_are")
    )
  }
  if (length(against) && !taken) {
    abort_pregunta(
      "undecided",
      say("read-check.contradicts_itself"),
      c(
        paste0(
          "  ",
          unlist(lapply(against, strwrap, width = 76))
        ),
        ""
      ),
      say("read-check.take_it_so")
    )
  }
  tell(
    bundle,
    say("read-items.all_together"),
    account_line("checked", c(proven, points$agrees)),
    account_line("contradicts", against)
  )
}

# A test that nobody answered is none: the answers stand in a column that was not found.
stop_if_nobody <- function(bundle) {
  answered <- has_answers(bundle$responses, bundle$items$item)
  if (any(answered)) return(invisible())
  abort_pregunta(
    "undecided",
    say("read-check.nobody_answered"),
    NULL,
    say("read-check.say_where_answers_are")
  )
}

has_answers <- function(table, items) {
  cells <- if (is_long_table(table)) {
    table[intersect(c("response", "points"), names(table))]
  } else {
    table[intersect(c(items, paste(items, "points")), names(table))]
  }
  !is_empty_row(cells)
}

# Items whose answers nothing says the worth of.
keyless_items <- function(bundle) {
  items <- bundle$items
  asked <- !is_points_cell(items$type) &
    is.na(items$key) &
    !is_marked(items$type)
  items$item[
    asked &
      !vapply(items$item, function(item) {
        any(cells_of(bundle, item)$points != "")
      }, TRUE)
  ]
}

abort_keyless <- function(bundle, keyless) {
  abort_pregunta(
    "undecided",
    say(
      "read-check.no_key",
      all = length(keyless) == nrow(bundle$items),
      items = name_items(keyless)
    ),
    NULL,
    say("read-check.give_the_key"),
    value = keyless
  )
}

# Every column of sums of a file against the points of its rows.
check_sums <- function(file, items, options, keyless) {
  sums <- file$reading$sums
  items <- items[items$item %in% file$items$item & !items$item %in% keyless, ]
  by_hand <- is_marked(items$type) &
    !is_points_cell(items$type) &
    !vapply(items$item, function(item) {
      any(cells_of(file, item)$points != "")
    }, TRUE)
  if (!length(sums$name) || !nrow(items) || any(by_hand) || length(keyless)) {
    return(NULL)
  }
  points <- file_points(file, items, options)
  most <- item_worth(items)
  right <- rowSums(points >= rep(most, each = nrow(points)) - 1e-9)
  said <- lapply(
    sums$cells,
    sum_agreement,
    rowSums(points),
    sum(most),
    right,
    ncol(points)
  )
  there <- lengths(said) > 0
  said <- said[there]
  if (!length(said)) return(NULL)
  meant <- sums$meant[there]
  fits <- vapply(
    said,
    function(one) one$agree >= 0.9 * one$n,
    TRUE
  )
  say_sum <- function(k) {
    one <- said[[k]]
    lines <- file$reading$line[one$off]
    say(
      "read-check.column_of_sums",
      fits = fits[k],
      name = quoted(sums$name[there][k]),
      agree = one$agree,
      n = one$n,
      lines = some_of(lines, 4),
      off = length(lines)
    )
  }
  list(
    agrees = vapply(which(fits), say_sum, ""),
    against = vapply(which(!fits & meant), say_sum, "")
  )
}

# The points of each row of a wide table for each item.
file_points <- function(file, items, options) {
  n <- nrow(file$responses)
  points <- vapply(seq_len(nrow(items)), function(j) {
    points_of_cells(
      items[j, ],
      cells_of(file, items$item[j]),
      options
    )
  }, numeric(n))
  matrix(points, n)
}

# An item that says no points gives one.
item_worth <- function(items) or_else(read_number(items$points), 1)

points_of_cells <- function(item, cells, options) {
  most <- item_worth(item)
  if (any(cells$points != "")) {
    return(or_else(value_of(truth_as_points(cells$points, most)), 0))
  }
  type <- item_type(item$type)
  if (is.null(type$read_key)) {
    share <- share_of(cells$answer)
    mark <- or_else(
      mark_of(cells$answer),
      share$share * or_else(share$whole, most)
    )
    mark[plain_text(cells$answer) %in% said_words()$yes] <- most
    return(or_else(mark, 0))
  }
  distinct <- unique(cells$answer)
  mine <- options$item %in% item$item
  meant <- as_options(
    distinct,
    options$option[mine],
    options$text[mine]
  )
  key <- type$read_key(item$key)
  offered <- if (!is.null(type$right_parts)) type$right_parts(key)
  given <- distinct != "" & !distinct %in% blank_words
  scoring <- if (is.null(item$scoring) || is.na(item$scoring)) {
    "all"
  } else {
    item$scoring
  }
  worth <- numeric(length(distinct))
  worth[given] <- type$share(
    type$normalise(meant[given], offered),
    key,
    scoring
  ) *
    most
  worth[match(cells$answer, distinct)]
}

# Points beside answers, against what the key makes of the answers.
check_points <- function(bundle) {
  by_key <- !is_points_cell(bundle$items$type) & !is_marked(bundle$items$type)
  # A key that was made of the points agrees with them by itself.
  by_key <- by_key & !bundle$items$item %in% bundle$derived
  keyed <- which(by_key & !is.na(bundle$items$key))
  said <- lapply(keyed, function(j) {
    item <- bundle$items[j, ]
    cells <- cells_of(bundle, item$item)
    if (!any(cells$points != "")) return(NULL)
    given <- cells$points != "" & cells$answer != ""
    reckoned <- points_of_cells(
      item,
      list(answer = cells$answer, points = ""),
      bundle$options
    )
    list(
      n = sum(given),
      agree = sum(
        abs(reckoned - mark_of(cells$points))[given] < 1e-4,
        na.rm = TRUE
      )
    )
  })
  said <- Filter(length, said)
  n <- sum(vapply(said, `[[`, 0L, "n"))
  agree <- sum(vapply(said, `[[`, 0L, "agree"))
  if (!n) return(list())
  if (agree >= 0.9 * n) {
    list(agrees = say("read-check.points_agree", agree = agree, n = n))
  } else {
    list(against = say("read-check.points_disagree", agree = agree, n = n))
  }
}

# A key that nobody's answers know belongs to other columns, or to another test.
check_key <- function(bundle, few = 5) {
  items <- bundle$items
  mine <- is_answered(items$type, "chosen") & !is.na(items$key)
  keyed <- which(mine & !items$item %in% bundle$derived)
  known <- vapply(keyed, function(j) {
    answer <- cells_of(bundle, items$item[j])$answer
    answer <- answer[answer != "" & !answer %in% blank_words]
    if (length(answer) < few) return(NA)
    cells <- list(answer = unique(answer), points = "")
    any(points_of_cells(items[j, ], cells, bundle$options) > 0)
  }, TRUE)
  never <- sum(!known, na.rm = TRUE)
  of <- sum(!is.na(known))
  if (never >= 3 && never > of / 2) {
    say("read-check.key_not_known", never = never, of = of)
  }
}
