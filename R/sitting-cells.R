# Every cell of the responses becomes a small whole number: its code. What the
# code of an item means stands in that item's table of cells. One pass over the
# codes then counts everything (see tally.R).

# answered; omitted and not reached: blank, before or after the last answer; not
# given: the form did not hold the item; pending: waits for a mark; excused.
cell_state_names <- c(
  "answered", "omitted", "not_reached", "not_given", "pending", "excused"
)

# The cells that every item has, at codes 1 to 4; answers follow from 5.
fixed_states <- c("not_given", "omitted", "not_reached", "excused")

# typed: the items whose type was given.
code_cells <- function(rows, items, options, settings, typed) {
  n <- length(rows$student)
  # taking a row of a data frame costs more than all else that is done to an item
  item <- each_row(items, function(j) lapply(items, `[[`, j))
  coded <- each_row(items, function(j) {
    code_item(
      rows$answers[[j]],
      rows$given[[j]],
      item[[j]],
      options,
      settings
    )
  })
  codes <- code_matrix(
    lapply(coded, `[[`, "at"),
    lapply(coded, `[[`, "code"),
    n,
    length(fixed_states),
    match("omitted", fixed_states),
    match("not_reached", fixed_states)
  )
  colnames(codes) <- items$item
  findings <- unlist(
    lapply(seq_along(coded), function(j) {
      if (!items$item[j] %in% typed && is_no_mark(coded[[j]], item[[j]], settings)) {
        return(check_keys_there(items, j))
      }
      check_answers(coded[[j]], item[[j]], options, rows)
    }),
    recursive = FALSE
  )
  list(
    codes = codes,
    cells = lapply(coded, function(item) item$cells),
    findings = findings
  )
}

# The distinct answers (with their points by hand) of an item are valued once;
# code 0 is a blank whose state is not settled yet.
code_item <- function(answers, given, item, options, settings) {
  type <- item_type(item$type)
  distinct <- coded_pairs(answers, if (is.null(type$read_key)) given)
  text <- distinct$first
  points <- distinct$second
  if (type$offers) {
    mine <- options$item == item$item
    text <- as_options(
      text,
      options$option[mine],
      options$text[mine]
    )
  }
  special <- names(blank_words)[match(text, blank_words)]
  value <- value_answers(
    ifelse(is.na(special), text, NA),
    points,
    item,
    type,
    options,
    settings
  )
  value$state[special %in% "pending"] <- "pending"
  value$points[special %in% "pending"] <- NA

  blank <- is_blank(text) & is_blank(points)
  real <- !blank & !special %in% c("not_given", "excused")
  meaning <- paste(
    value$answer, value$points, value$state, sep = "\r"
  )
  kept <- which(real & !duplicated(ifelse(real, meaning, NA)))
  code <- length(fixed_states) + match(meaning, meaning[kept])
  code[blank] <- 0L
  code[special %in% "not_given"] <- match("not_given", fixed_states)
  code[special %in% "excused"] <- match("excused", fixed_states)
  nothing <- if (settings$blanks == "zero") 0 else NA_real_
  list(
    code = as.integer(code),
    text = text,
    at = distinct$at,
    problem = value$problem,
    told = if (is.null(value$told)) text else value$told, # what a problem is about
    cells = list(
      answer = c(NA, NA, NA, NA, value$answer[kept]),
      points = c(NA, nothing, nothing, NA, value$points[kept]),
      state = c(fixed_states, value$state[kept]),
      most = item$points
    )
  )
}

# What each distinct answer is, what it earns, and what is wrong with it.
value_answers <- function(text, points, item, type, options, settings) {
  if (is.null(type$read_key)) {
    return(value_by_hand(text, points, item, type, settings$scale))
  }
  if (is.na(item$key)) return(value_without_key(text))
  key <- type$read_key(item$key)
  offered <- c(
    options$option[options$item == item$item],
    if (!is.null(type$right_parts)) type$right_parts(key)
  )
  answer <- type$normalise(text, offered)
  list(
    answer = answer,
    points = type$share(answer, key, item$scoring) * item$points,
    state = rep("answered", length(text)),
    problem = rep(NA_character_, length(text))
  )
}

# A mark is its own answer; an open answer has its points beside it.
value_by_hand <- function(text, points, item, type, scale) {
  is_mark <- type$cell == "points"
  shown <- if (is_mark) {
    ifelse(is_blank(points), text, points)
  } else {
    points
  }
  earned <- read_mark(shown, item, if (is_mark) scale)
  problem <- problems_of_marks(shown, earned, item$points, scale)
  earned[!is.na(problem)] <- NA
  list(
    answer = if (is_mark) {
      ifelse(is.na(earned), shown, format_plain(earned))
    } else {
      text
    },
    points = earned,
    problem = problem,
    told = shown,
    state = ifelse(is.na(earned), "pending", "answered")
  )
}

# The sentences are made only where something is wrong: in most columns nothing is.
problems_of_marks <- function(shown, earned, points, scale) {
  problem <- rep(NA_character_, length(shown))
  unread <- is.na(earned) & !is_blank(shown)
  below <- which(earned < 0)
  above <- which(earned > points + 1e-9)
  if (any(unread)) {
    problem[unread] <- if (length(scale)) {
      say("sitting-cells.is_no_step_of", scale = some_of(names(scale), 8))
    } else {
      say("sitting-cells.is_no_number_of")
    }
  }
  if (length(below)) problem[below] <- say("sitting-cells.is_below_0_points")
  if (length(above)) {
    most <- shown_number(points)
    problem[above] <- say("sitting-cells.is_above_the_most", points = most)
  }
  problem
}

# Without a type and a key an item is one that is marked by hand. Where none of its
# answers is a number, it is rather the key that is missing.
is_no_mark <- function(coded, item, settings) {
  if (!is.na(item$key) || length(settings$scale)) return(FALSE)
  here <- tabulate(coded$at, length(coded$text)) > 0
  answers <- here & !is_blank(coded$text) & !coded$text %in% blank_words
  any(answers) &&
    !anyNA(coded$problem[answers]) &&
    all(is.na(read_number(coded$told[answers])))
}

# A mark is a number, a step of the declared scale, or yes and no.
read_mark <- function(shown, item, scale) {
  earned <- read_number(shown)
  if (length(scale)) {
    points <- unlist(scale, use.names = FALSE)
    step <- points[match(tolower(shown), tolower(names(scale)))]
    return(ifelse(is.na(step) & earned %in% points, earned, step))
  }
  earned[tolower(shown) %in% yes_words] <- item$points
  earned[tolower(shown) %in% no_words] <- 0
  earned
}

# Until the key is there the answers wait; the tables show what was chosen.
value_without_key <- function(text) {
  list(
    answer = text,
    points = rep(NA_real_, length(text)),
    state = rep("pending", length(text)),
    problem = rep(NA_character_, length(text))
  )
}

# The state of every cell, as an index into cell_state_names.
cell_states <- function(sitting) {
  states <- sitting$codes
  for (j in seq_along(sitting$cells)) {
    states[, j] <- match(sitting$cells[[j]]$state, cell_state_names)[
      sitting$codes[, j]
    ]
  }
  states
}

# The points of every cell, students by items.
cell_points <- function(sitting) {
  points <- matrix(
    NA_real_,
    nrow(sitting$codes),
    ncol(sitting$codes),
    dimnames = list(NULL, sitting$items$item)
  )
  for (j in seq_along(sitting$cells)) {
    points[, j] <- sitting$cells[[j]]$points[sitting$codes[, j]]
  }
  points
}

# For each item the points that students present have, and how many have them; NULL
# where nobody has any.
points_seen <- function(sitting) {
  codes <- sitting$codes[was_present(sitting), , drop = FALSE]
  lapply(seq_along(sitting$cells), function(j) {
    points <- sitting$cells[[j]]$points
    count <- tabulate(codes[, j], length(points))
    valued <- which(!is.na(points) & count > 0)
    if (length(valued)) list(points = points[valued], count = count[valued])
  })
}

cell_answers <- function(sitting) {
  answers <- matrix(
    NA_character_,
    nrow(sitting$codes),
    ncol(sitting$codes),
    dimnames = list(NULL, sitting$items$item)
  )
  for (j in seq_along(sitting$cells)) {
    answers[, j] <- sitting$cells[[j]]$answer[sitting$codes[, j]]
  }
  answers
}
