# Counts made where the responses lie: a table in a database, a row a student and item.
# What the distinct answers are worth is told by the item types, as everywhere; the counts
# are made by the database, of what students wrote by joining the small table of answers.
# Whose rows want more than counting (several attempts, changes of their own, half a row
# twice) is read as a sitting of its own, and the two tallies are added.

utils::globalVariables(c(
  "student", "item", "response", "points", "status", "attempt", "seconds", "n",
  ".j", ".code", ".units", ".lacking", ".filled", ".place", ".other", ".group",
  "rows", "earned", "lacking", "last", "filled", "other", "sec", "first_try", "last_try",
  "tries", "after", ".cell", ".cells", "%like%"
))

# Items of which one column of a student's table tells each apart: sums of powers of two
# stay whole numbers.
items_of_a_sum <- 20

# What was counted is kept with the object: most figures want the same counts.
tally_stored <- function(stored, by = NULL, products = FALSE, counted = NULL) {
  kept <- stored$session$tallies
  least <- stored$settings$smallest_group
  named <- function(products) {
    paste(c(products, least, counted, "by", by), collapse = "\r")
  }
  for (name in unique(c(named(TRUE), named(products)))) {
    if (!is.null(kept[[name]])) return(kept[[name]])
  }
  tally <- stored$count(stored, by, products, counted)
  assign(named(products), tally, kept)
  tally
}

count_stored <- function(stored, by, products, counted) {
  if (!can_be_counted(stored, by)) {
    if (is.null(by)) stored$session$whole <- TRUE
    return(tally_responses(stored$read(NULL), by, products, counted))
  }
  on.exit(stored$clear())
  if (is.null(stored$session$known)) {
    assign("known", stored_answers(stored), stored$session)
  }
  known <- stored$session$known
  room <- stored_room(stored, known, by, products)
  special <- room$special
  apart <- if (length(special)) stored$read(special)
  stored$settings <- settings_with_people(stored, room, apart)
  bins <- stored_bins(room)
  cells <- if (products) count_cells(stored, known, room, bins)
  counts <- if (products) cells$counts else stored_counts(stored, known, room, bins)
  if (is.null(counted)) {
    counted <- union(
      known$items$item[items_with_points(known, counts)],
      if (!is.null(apart)) items_counted(apart)
    )
  }
  tally <- stored_tally(stored, known, room, bins, counts, by, counted)
  if (products) {
    tally$products <- stored_products(stored, known, room, tally, cells$products)
  }
  if (is.null(apart)) return(tally)
  tally + tally_responses(apart, by, products, counted)
}

# What the database cannot be asked in words that every database knows.
can_be_counted <- function(stored, by) {
  by_row <- vapply(stored$settings$exclude, is.list, TRUE)
  groups_known <- is.null(by) || all(by %in% names(stored$students))
  # Who has not handed in is told by all others.
  by_time <- stored$settings$smallest_group > 1 && "submitted" %in% names(stored$columns)
  timed <- stored$kinds$seconds
  !any(by_row) &&
    !by_time &&
    groups_known &&
    (is.null(timed) || is.numeric(timed))
}

# Where small groups are withheld, who was there goes along; see with_everybody().
settings_with_people <- function(stored, room, apart) {
  if (stored$settings$smallest_group <= 1) return(stored$settings)
  present <- dplyr::filter(room$people, last > 0L)
  ids <- collected(dplyr::select(present, student))$student
  people <- list(apart$students)
  for (some in split(ids, (seq_along(ids) - 1) %/% students_at_once)) {
    part <- stored$read(some)$students
    people <- c(people, list(part[part$student %in% some, , drop = FALSE]))
  }
  people <- do.call(rbind, people)
  people <- people[order(people$student, method = "radix"), , drop = FALSE]
  with_everybody(stored$settings, people)
}

items_counted <- function(sitting) {
  tally <- tally_responses(sitting)
  tally$items$item[tally$items$counted]
}

# A fault while a database is asked is the database's, any other is ours.
asked <- function(code) {
  tryCatch(code, error = function(e) {
    if (inherits(e, "pregunta_error")) stop(e)
    rlang::abort("", class = "pregunta_asked", parent = e)
  })
}

# Whole numbers of 64 bits, as some drivers have them for counts, are numbers here.
collected <- function(query) {
  table <- as.data.frame(asked(dplyr::collect(query)))
  long <- vapply(table, inherits, TRUE, "integer64")
  table[long] <- lapply(table[long], as.numeric)
  table
}

# ---- the distinct answers ----------------------------------------------------------

# Each distinct answer of each item and what it comes to. answers: the columns as they
# stand in the database, with the number of the item, the code, and what the cell adds to
# a student's points and lacks of them beside a row that is missing.
stored_answers <- function(stored) {
  keys <- intersect(c("item", "response", "points", "status"), names(stored$columns))
  table <- stored$answers()
  distinct <- collected(dplyr::count(table, !!!rlang::syms(keys)))
  if (!nrow(distinct)) {
    abort_pregunta(
      "input",
      say("sitting-responses.holds_no_responses", responses = stored$name),
      NULL,
      say("sitting-responses.give_it_a_row")
    )
  }
  text <- lapply(distinct[keys], as_text)
  j <- match(text$item, stored$items$item)
  distinct <- distinct[!is.na(j), ]
  text <- lapply(text, `[`, !is.na(j))
  j <- j[!is.na(j)]
  if (!length(j)) {
    abort_pregunta(
      "input",
      say("tally-stored.no_row_of_these_items", table = stored$name),
      say("tally-stored.items_are", items = some_of(stored$items$item)),
      say("tally-stored.see_the_columns")
    )
  }
  # Each stands in a row of its own: of the same row one answer an item.
  row <- stats::ave(seq_along(j), j, FUN = seq_along)
  valued <- sitting_of_answers(stored, text, row)
  code <- valued$codes[cbind(row, j)]
  blank <- code %in% match(c("omitted", "not_reached"), fixed_states)
  most <- valued$items$points
  points <- unlist(lapply(valued$cells, `[[`, "points"))
  parts <- points_unit(c(most, points))
  offsets <- cell_offsets(valued$cells)
  units <- round(points * parts)
  full <- round(most * parts)
  of_code <- function(j, code) {
    value <- units[offsets[j] + code]
    list(units = or_else(value, 0), lacking = ifelse(is.na(value), full[j], 0))
  }
  missing <- if (stored$settings$missing_rows == "blank") "omitted" else "not_given"
  missing <- match(missing, fixed_states)
  nothing <- of_code(seq_along(full), missing)
  own <- of_code(j, code)
  filled <- !(blank & missing == match("omitted", fixed_states))
  list(
    keys = keys,
    answers = with_powers(data.frame(
      distinct[keys],
      .j = j,
      .code = ifelse(blank, 0L, code),
      .units = as.integer(own$units - nothing$units[j]),
      .lacking = as.integer(own$lacking - nothing$lacking[j]),
      .filled = as.integer(filled),
      .place = ifelse(code > length(fixed_states), j, 0L),
      .other = as.integer(code %in% match(c("not_given", "excused"), fixed_states)),
      check.names = FALSE
    )),
    n = distinct$n,
    items = valued$items,
    cells = valued$cells,
    parts = parts,
    full = full,
    nothing = nothing,
    missing = missing,
    changes = valued$changes
  )
}

# A sitting in which each distinct answer was given once: it is valued, and changed by
# what was changed for all, as it would be among others.
sitting_of_answers <- function(stored, text, row) {
  settings <- stored$said
  about_people <- c("exclude", "attempts", "smallest_group", "due")
  settings <- settings[!gsub("[ -]", "_", names(settings)) %in% about_people]
  table <- data.frame(student = paste0("r", row), text)
  if (is.null(table$response) && is.null(table$points)) {
    table$response <- NA_character_
  }
  list <- stored$adjustments
  for_all <- is.na(list$student) & !list$action %in% c("comment", "extra")
  sitting(
    table, stored$tables$items, stored$tables$options, NULL, stored$tables$standards,
    stored$tables$misconceptions, settings, changes_apart(list, for_all)
  )
}

# Some lines of the list of changes, with those that undo them.
changes_apart <- function(list, wanted) {
  if (!NROW(list)) return(NULL)
  undone <- undone_rows(list)
  keep_origin(list[wanted & !undone & list$action != "undo", , drop = FALSE], list)
}

items_with_points <- function(known, counts) {
  points <- unlist(lapply(known$cells, `[[`, "points"))
  valued <- !is.na(points)[cell_offsets(known$cells)[counts$item] + counts$code]
  tabulate(counts$item[valued], length(known$cells)) > 0
}

# ---- a row a student ---------------------------------------------------------------

# What is asked more than once: the answers' values and the students' sums, as tables of
# this session in the database. special: who is read apart.
stored_room <- function(stored, known, by, with_cells) {
  values <- stored$put(known$answers)
  rows <- with_keys(stored$answers(), known$keys)
  rows <- dplyr::left_join(rows, values, by = known$keys)
  # Else they are read row by row; see each_of_rows().
  with_cells <- with_cells && !is.null(stored$flat)
  if (with_cells) {
    step <- as.integer(cell_step(known))
    rows <- dplyr::mutate(rows, .cell = as.character(.j * step + .code))
  }
  powers <- grep("^[.]w", names(known$answers), value = TRUE)
  sums <- c(
    rlang::exprs(
      rows = n(),
      earned = sum(.units, na.rm = TRUE),
      lacking = sum(.lacking, na.rm = TRUE),
      last = max(.place, na.rm = TRUE),
      filled = sum(.filled, na.rm = TRUE)
    ),
    if (any(known$answers$.other == 1)) {
      rlang::exprs(other = sum(.other, na.rm = TRUE))
    },
    if (with_cells) list(.cells = stored$flat),
    lapply(rlang::syms(stats::setNames(nm = powers)), function(one) {
      rlang::expr(sum(!!one, na.rm = TRUE))
    }),
    if ("seconds" %in% names(stored$columns)) {
      rlang::exprs(sec = sum(seconds, na.rm = TRUE))
    },
    if ("attempt" %in% names(stored$columns)) {
      rlang::exprs(
        first_try = min(attempt, na.rm = TRUE),
        last_try = max(attempt, na.rm = TRUE),
        tries = sum(ifelse(is.na(attempt), 0L, 1L), na.rm = TRUE)
      )
    }
  )
  people <- dplyr::summarise(dplyr::group_by(rows, student), !!!sums)
  people <- stored$keep(people)
  # Of several databases, each tells of its own; see tally-shards.R.
  if (!is.null(stored$own)) stored <- stored$own(stored, people)
  excluded <- excluded_students(stored, people)
  # A listed student whose row is left out can have a change all the same.
  left_out <- setdiff(excluded, stored$adjustments$student)
  special <- setdiff(special_students(stored, people, powers), left_out)
  if (length(special)) {
    # Of students without any row alone no sitting is made.
    some <- utils::head(dplyr::select(people, student), length(excluded) + 1)
    some <- collected(some)
    special <- union(special, setdiff(some$student, excluded)[1])
    special <- special[!is.na(special)]
  }
  gone <- union(special, excluded)
  if (length(gone)) {
    away <- stored$put(data.frame(student = gone))
    people <- stored$keep(dplyr::anti_join(people, away, by = "student"))
  }
  groups <- stored_groups(stored, by, special)
  if (!is.null(groups$table)) {
    people <- dplyr::left_join(people, stored$put(groups$table), by = "student")
  } else {
    people <- dplyr::mutate(people, .group = 1L)
  }
  list(
    values = values,
    people = people,
    groups = groups,
    special = special,
    seconds = "seconds" %in% names(stored$columns)
  )
}

# Blank cells meet in a join as well.
with_keys <- function(table, keys) {
  others <- rlang::syms(stats::setNames(nm = setdiff(keys, "item")))
  blanks <- lapply(others, function(one) rlang::call2("coalesce", one, ""))
  dplyr::mutate(table, !!!blanks)
}

# The answers' values with a power of two for each item: their sum over a student's rows
# has as many digits 1 as there are rows when no item is there twice.
with_powers <- function(answers) {
  keys <- names(answers)[!startsWith(names(answers), ".")]
  # NULL and a blank are one answer here.
  answers[keys] <- lapply(answers[keys], or_blank)
  answers <- answers[!duplicated(answers[keys]), ]
  columns <- (max(answers$.j) - 1) %/% items_of_a_sum + 1
  for (k in seq_len(columns)) {
    mine <- (answers$.j - 1) %/% items_of_a_sum == k - 1 & answers$.filled == 1
    power <- 2^((answers$.j - 1) %% items_of_a_sum)
    answers[[paste0(".w", k)]] <- as.integer(ifelse(mine, power, 0))
  }
  answers
}

# Students of whom more is to be settled than sums tell: an item twice, several attempts,
# a change of their own, an id with blanks around it, all that they were given excused.
special_students <- function(stored, people, powers) {
  odd_ids <- odd_students(people)
  if (any(is_blank(odd_ids))) {
    abort_pregunta(
      "input",
      say("tally-stored.rows_without_a_student", table = stored$name),
      NULL,
      say("sitting-responses.fill_in_the_students")
    )
  }
  seen <- collected(dplyr::count(people, !!!rlang::syms(c("filled", powers))))
  ones <- Reduce(`+`, lapply(seen[powers], ones_of))
  twice <- seen[ones != seen$filled, c("filled", powers), drop = FALSE]
  ids_of <- function(table) collected(dplyr::select(table, student))$student
  unique(c(
    odd_ids,
    trimws(odd_ids),
    if (nrow(twice)) {
      ids_of(dplyr::semi_join(people, stored$put(twice), by = c("filled", powers)))
    },
    if ("other" %in% colnames(people)) {
      ids_of(dplyr::filter(people, last == 0L, other > 0L))
    },
    if ("attempt" %in% names(stored$columns)) {
      ids_of(dplyr::filter(
        people,
        first_try != last_try | (tries > 0L & tries < rows)
      ))
    },
    stats::na.omit(stored$adjustments$student)
  ))
}

# Ids that are nothing, or have blanks around them.
odd_students <- function(rows) {
  odd <- dplyr::filter(
    rows,
    is.na(student) | student == "" | student %like% " %" | student %like% "% "
  )
  collected(dplyr::distinct(dplyr::select(odd, student)))$student
}

# How many digits 1 a whole number has in base two.
ones_of <- function(x) {
  x <- as.numeric(x)
  count <- numeric(length(x))
  while (any(x > 0)) {
    count <- count + x %% 2
    x <- x %/% 2
  }
  count
}

excluded_students <- function(stored, people) {
  patterns <- unlist(stored$settings$exclude)
  # Who is settled apart, see tally-shards.R.
  if (!length(patterns)) return(stored$apart)
  ids <- collected(dplyr::distinct(people, student))$student
  ids <- union(ids, stored$students$student)
  hit <- lapply(patterns, function(pattern) fits_pattern(ids, pattern))
  union(ids[Reduce(`|`, hit)], stored$apart)
}

# The group of each listed student; who is not listed is in none. listed: how many are
# listed in each group.
stored_groups <- function(stored, by, special) {
  list <- stored$students
  if (is.null(list)) return(list(labels = NA_character_, listed = 0))
  list <- list[!list$student %in% special, , drop = FALSE]
  groups <- student_groups(list(students = list), by)
  listed <- tabulate(groups$index, length(groups$labels))
  none <- paste(rep("(none)", max(1, length(by))), collapse = path_separator)
  labels <- groups$labels
  if (!is.null(by) && !none %in% labels) {
    labels <- c(labels, none)
    listed <- c(listed, 0)
  }
  list(
    table = data.frame(student = list$student, .group = groups$index),
    labels = labels,
    listed = listed,
    none = if (is.null(by)) 1L else match(none, labels)
  )
}

# ---- bins and counts ---------------------------------------------------------------

# A row a group, score and last answered item.
stored_bins <- function(room) {
  sums <- c(
    rlang::exprs(n = n()),
    if (room$seconds) {
      rlang::exprs(
        sec = sum(sec, na.rm = TRUE),
        tries = sum(ifelse(is.na(sec), 0L, 1L), na.rm = TRUE)
      )
    }
  )
  alike <- dplyr::group_by(room$people, .group, earned, lacking, last)
  bins <- collected(dplyr::summarise(alike, !!!sums, .groups = "drop"))
  bins$unlisted <- is.null(room$groups$table) | is.na(bins$.group)
  bins$.group[is.na(bins$.group)] <- room$groups$none
  whole <- c("earned", "lacking", "last")
  bins[whole] <- lapply(bins[whole], function(x) or_else(as.numeric(x), 0))
  bins
}

# A row a bin, item and code, in the numbering of `bins` without the last item.
stored_counts <- function(stored, known, room, bins) {
  wanted <- dplyr::filter(room$values, .filled == 1L)
  present <- dplyr::filter(room$people, last > 0L)
  present <- dplyr::select(present, student, .group, earned, lacking, last)
  columns <- rlang::syms(c("student", known$keys))
  rows <- with_keys(dplyr::select(stored$answers(), !!!columns), known$keys)
  rows <- dplyr::inner_join(rows, wanted, by = known$keys)
  rows <- dplyr::inner_join(rows, present, by = "student")
  rows <- dplyr::mutate(rows, after = ifelse(.j > last, 1L, 0L))
  found <- collected(dplyr::count(rows, .group, earned, lacking, .j, .code, after))
  found$.group <- or_else(found$.group, room$groups$none)
  bins <- bins[bins$last > 0, ]
  total <- unique_bins(bins)
  bin <- match(bin_of(found), bin_of(total))
  n_items <- nrow(known$items)
  n_bins <- nrow(total)
  # Of each bin how many got at least as far as each item.
  reached <- matrix(0, n_bins, n_items)
  at <- cbind(match(bin_of(bins), bin_of(total)), bins$last)
  for (k in seq_len(nrow(bins))) {
    reached[at[k, 1], at[k, 2]] <- reached[at[k, 1], at[k, 2]] + bins$n[k]
  }
  for (j in rev(seq_len(n_items - 1))) reached[, j] <- reached[, j] + reached[, j + 1]
  seen <- function(after) {
    mine <- found$after == after
    cells <- matrix(0, n_bins, n_items)
    sums <- rowsum(
      as.numeric(found$n[mine]),
      (found$.j[mine] - 1) * n_bins + bin[mine]
    )
    cells[as.integer(rownames(sums))] <- sums
    cells
  }
  before <- reached - seen(0)
  beyond <- (total$n - reached) - seen(1)
  omitted <- match("omitted", fixed_states)
  not_reached <- match("not_reached", fixed_states)
  is_blank <- known$missing == omitted
  code <- ifelse(
    found$.code > 0,
    found$.code,
    ifelse(found$after == 1, not_reached, omitted)
  )
  of_matrix <- function(cells, code) {
    some <- which(cells > 0)
    list(
      bin = (some - 1) %% n_bins + 1,
      item = (some - 1) %/% n_bins + 1,
      code = rep(code, length(some)),
      count = cells[some]
    )
  }
  parts <- list(
    list(bin = bin, item = found$.j, code = code, count = as.numeric(found$n)),
    of_matrix(before, if (is_blank) omitted else known$missing),
    of_matrix(beyond, if (is_blank) not_reached else known$missing)
  )
  all <- lapply(stats::setNames(nm = c("bin", "item", "code", "count")), function(field) {
    unlist(lapply(parts, `[[`, field))
  })
  unite_same_counts(all)
}

unite_same_counts <- function(counts) {
  at <- order(counts$bin, counts$item, counts$code)
  counts <- lapply(counts, `[`, at)
  place <- paste(counts$bin, counts$item, counts$code)
  first <- which(!duplicated(place))
  sums <- rowsum(counts$count, match(place, place[first]), reorder = FALSE)
  list(
    bin = as.integer(counts$bin[first]),
    item = as.integer(counts$item[first]),
    code = as.integer(counts$code[first]),
    count = as.vector(sums)
  )
}

bin_of <- function(table) paste(table$.group, table$earned, table$lacking)

# Whatever item was the last.
unique_bins <- function(bins) {
  key <- bin_of(bins)
  first <- !duplicated(key)
  total <- bins[first, c(".group", "earned", "lacking")]
  total$n <- as.vector(rowsum(bins$n, match(key, key[first]), reorder = FALSE))
  total <- total[order(total$.group, total$earned, total$lacking), ]
  rownames(total) <- NULL
  total
}

stored_tally <- function(stored, known, room, bins, counts, by, counted) {
  groups <- room$groups
  here <- bins$last > 0
  total <- unique_bins(bins[here, ])
  # Only groups in which there is anybody.
  absent <- groups$listed -
    sum_to(bins$n[here & !bins$unlisted], bins$.group[here & !bins$unlisted], groups) +
    sum_to(bins$n[!here & bins$unlisted], bins$.group[!here & bins$unlisted], groups)
  there <- absent > 0 | seq_along(absent) %in% total$.group
  number <- cumsum(there)
  full <- sum(known$full)
  blank <- known$nothing
  at_first <- list(earned = sum(blank$units), lacking = sum(blank$lacking))
  scored <- data.frame(
    group = number[total$.group],
    earned = (at_first$earned + total$earned) / known$parts,
    open = (full - at_first$lacking - total$lacking) / known$parts,
    n = total$n
  )
  extra <- extra_for_all(stored)
  scores <- scored
  scores$earned <- scores$earned + extra
  seconds <- if (room$seconds) {
    cbind(
      sum = sum_to(or_else(bins$sec, 0)[here], bins$.group[here], groups)[there],
      n = sum_to(bins$tries[here], bins$.group[here], groups)[there]
    )
  } else {
    matrix(0, sum(there), 2, dimnames = list(NULL, c("sum", "n")))
  }
  tally <- new_tally(
    items = data.frame(
      item = known$items$item,
      points = known$items$points,
      counted = known$items$item %in% counted
    ),
    cells = known$cells,
    by = by,
    groups = groups$labels[there],
    bins = scored,
    scores = scores,
    counts = counts,
    absent = as.integer(absent[there]),
    seconds = seconds,
    products = NULL,
    about = list(
      settings = stored$settings,
      items = known$items,
      options = stored$options,
      misconceptions = stored$misconceptions,
      dropped = known$changes$item[known$changes$action == "drop"]
    )
  )
  attr(tally, "number") <- ifelse(there, number, 0L)
  tally
}

sum_to <- function(x, group, groups) {
  out <- numeric(max(1, length(groups$labels)))
  sums <- rowsum(as.numeric(x), group)
  out[as.integer(rownames(sums))] <- sums
  out
}

extra_for_all <- function(stored) {
  list <- stored$adjustments
  mine <- list$action %in% "extra" & is.na(list$student)
  said <- changes_apart(list, mine)$value
  sum(read_number(said))
}

# ---- cells and products of items ---------------------------------------------------

# Sums of products of items want each student's cells together: they come a row a student,
# some thousands at a time, and are counted on the way.
students_at_once <- 20000

# A cell is a number: the item in front, the code in the last places.
cell_step <- function(known) {
  10^ceiling(log10(max(lengths(lapply(known$cells, `[[`, "points"))) + 1))
}

each_of_cells <- function(stored, known, room, take) {
  unpack <- function(cells, group) {
    codes <- unpack_cells(
      cells, nrow(known$items), cell_step(known), length(fixed_states),
      match("omitted", fixed_states), match("not_reached", fixed_states),
      if (known$missing == match("not_given", fixed_states)) known$missing else 0L
    )
    take(codes, as.integer(or_else(as.numeric(group), room$groups$none)))
  }
  if (is.null(stored$flat)) return(each_of_rows(stored, known, room, unpack))
  present <- dplyr::filter(room$people, last > 0L)
  stored$each(dplyr::select(present, .cells, .group), students_at_once, function(some) {
    unpack(some$.cells, some$.group)
  })
}

# Where the database cannot join texts: its rows come in the order of the students, of
# whom the last one may go on in the next part.
each_of_rows <- function(stored, known, room, unpack) {
  present <- dplyr::select(dplyr::filter(room$people, last > 0L), student, .group)
  columns <- rlang::syms(c("student", known$keys))
  rows <- with_keys(dplyr::select(stored$answers(), !!!columns), known$keys)
  rows <- dplyr::inner_join(rows, room$values, by = known$keys)
  rows <- dplyr::inner_join(rows, present, by = "student")
  rows <- dplyr::arrange(dplyr::select(rows, student, .group, .j, .code), student)
  each <- function(take) stored$each(rows, stored$many, take)
  whole_students(each, function(rows) {
    student <- match(rows$student, unique(rows$student))
    cell <- rows$.j * cell_step(known) + rows$.code
    texts <- split(format(cell, scientific = FALSE, trim = TRUE), student)
    texts <- vapply(texts, paste, "", collapse = " ", USE.NAMES = FALSE)
    unpack(texts, rows$.group[!duplicated(student)])
  })
}

# The counts as stored_counts() gives them, and for each group the products over all
# items, of students who were given all of them.
count_cells <- function(stored, known, room, bins) {
  total <- unique_bins(bins[bins$last > 0, ])
  n_groups <- max(1, length(room$groups$labels))
  points <- lapply(known$cells, `[[`, "points")
  units <- lapply(points, function(one) round(one * known$parts))
  n_items <- nrow(known$items)
  products <- rep(list(matrix(0, n_items, n_items)), n_groups)
  fields <- c("bin", "item", "code", "count")
  counts <- lapply(stats::setNames(nm = fields), function(field) integer())
  base <- known$nothing
  each_of_cells(stored, known, room, function(codes, group) {
    raw <- tally_codes(codes, units, known$full, group, n_groups, FALSE)
    found <- data.frame(
      .group = raw$bins$group,
      earned = raw$bins$earned - sum(base$units),
      lacking = raw$bins$lacking - sum(base$lacking)
    )
    raw$bin <- match(bin_of(found), bin_of(total))[raw$bin]
    counts <<- unite_same_counts(Map(c, counts, raw[fields]))
    products <<- Map(`+`, products, item_products(codes, points, group, n_groups))
  })
  list(counts = counts, products = products)
}

# Of groups in which all items count the products over all of them; for others they are
# taken once more.
stored_products <- function(stored, known, room, tally, over_all) {
  numbers <- attr(tally, "number")
  items <- tally$items$counted
  here <- which(numbers > 0)
  products <- lapply(over_all[here], function(sums) sums[items, items, drop = FALSE])
  fewer <- which(colSums(!tally$counted) > 0)
  if (!length(fewer)) return(products)
  products[fewer] <- rep(list(matrix(0, sum(items), sum(items))), length(fewer))
  each_of_cells(stored, known, room, function(codes, group) {
    sums <- products_of_groups(codes, known$cells, tally, numbers[group])
    products[fewer] <<- Map(`+`, products[fewer], sums[fewer])
  })
  products
}

# Of each group over the items that count in it; see counted_products().
products_of_groups <- function(codes, cells, tally, group) {
  counted <- tally$items$counted
  n_groups <- length(tally$groups)
  whole <- rep(list(matrix(0, sum(counted), sum(counted))), n_groups)
  alike <- match(asplit(tally$counted, 2), asplit(tally$counted, 2))
  for (first in intersect(unique(alike), alike[unique(group)])) {
    groups <- which(alike == first)
    mine <- tally$counted[, first]
    sums <- item_products(
      codes[, mine, drop = FALSE],
      lapply(cells[mine], `[[`, "points"),
      match(group, groups, 0L),
      length(groups)
    )
    within <- mine[counted]
    whole[groups] <- lapply(sums, function(sums) {
      filled <- matrix(0, sum(counted), sum(counted))
      filled[within, within] <- sums
      filled
    })
  }
  whole
}
