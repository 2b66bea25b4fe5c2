# What speaks for a reading and against it, from the whole of the file. Every proposal is
# read as if it were right; signs between 0 and 1 are weighed by the table below; the best
# one is read only if no other comes near and nothing contradicts it.

evidence_weights <- c(
  shape_fits = 3, # cells lie as this kind of table has them
  ids_distinct = 1, # every row another student, or the same one with other attempts
  who_named = 1.5, # a heading says which column is the student
  numbered = 1, # questions bear numbers, or names that the key has
  key_covers = 2, # the questions of the key are found
  cells_alike = 2, # answers of a column are of one kind
  rows_alike = 1.5, # rows taken for students are alike
  placed = 1, # columns that have a meaning
  totals_agree = 4, # the file's own totals, percents, points beside answers
  header_apart = 4 # the header is unlike what stands below it
)

# A reading comes near the best one when it is worth that much less at most.
near_enough <- 1

# So many readings are offered.
most_readings <- 3

# A sign that does not apply counts as half of what it could be.
worth_of <- function(signs) {
  here <- unlist(signs)[names(evidence_weights)]
  sum(evidence_weights * or_else(here, 0.5))
}

# Something that makes a reading unsure. options: layouts that would settle it, the one
# that was used first; none where only a look at the file can. stays: also where no
# other reading comes near.
new_doubt <- function(code, ..., options = list(), stays = FALSE) {
  list(code = code, values = list(...), options = options, stays = stays)
}

say_doubt <- function(doubt) {
  say_with(paste0("read-doubts.", doubt$code), doubt$values)
}

# Proposals read and weighed, the best first; those that could not be read last.
weigh_readings <- function(layouts, grid, told, known) {
  part <- sampled_grid(grid)
  readings <- lapply(layouts, function(layout) {
    weigh_layout(part, layout, told, known)
  })
  best_first(readings)
}

weigh_layout <- function(grid, layout, told, known) {
  bundle <- read_proposal(grid, layout, told, known)
  failed <- inherits(bundle, "condition")
  list(
    layout = layout,
    bundle = bundle,
    failed = failed,
    worth = if (failed) -Inf else worth_of(bundle$reading$signs)
  )
}

# Enough rows of a long file to weigh by: its ends and some between.
sampled_grid <- function(grid, most = 1200) {
  n <- nrow(grid)
  if (n <= most) return(grid)
  rows <- unique(c(
    1:400, round(seq(401, n - 100, length.out = 400)), (n - 99):n
  ))
  part <- grid[rows, , drop = FALSE]
  for (name in c("origin", "about", "separated")) {
    attr(part, name) <- attr(grid, name)
  }
  attr(part, "line") <- attr(grid, "line")[rows]
  part
}

# The bundle of the reading that stands, or the question that has to be answered. Some
# rows of a long file say which readings are worth a look at all of it.
choose_reading <- function(readings, held, told, known, take) {
  if (nrow(sampled_grid(held$grid)) < nrow(held$grid) && !readings[[1]]$failed) {
    worth <- vapply(readings, `[[`, 0, "worth")
    near <- readings[worth >= max(worth) - near_enough]
    readings <- lapply(near, function(one) weigh_layout(held, one$layout, told, known))
    readings <- best_first(readings)
  }
  decide_reading(readings, held, told, known, take)$bundle
}

best_first <- function(readings) {
  readings[order(-vapply(readings, `[[`, 0, "worth"))]
}

# The best reading if no other comes near and nothing makes it unsure, or the one taken.
decide_reading <- function(readings, grid, told, known, take) {
  best <- readings[[1]]
  if (best$failed) stop(why_not(readings))
  others <- c(
    readings[-1],
    settled_otherwise(best, grid, told, known)
  )
  candidates <- c(list(best), Filter(function(one) !one$failed, others))
  worth <- vapply(candidates, `[[`, 0, "worth")
  near <- sort(worth, decreasing = TRUE) >= max(worth) - near_enough
  candidates <- best_first(candidates)
  candidates <- utils::head(distinct_readings(candidates[near]), most_readings)
  open <- open_doubts(candidates[[1]]$bundle$reading$doubts, candidates)
  several <- length(candidates) > 1
  if (is.null(take)) {
    if (several || length(open)) abort_undecided(candidates, best)
    take <- 1
  }
  taken_reading(candidates, take, best$bundle$origin)
}

# Where no reading came about, what the commonest one lacks.
why_not <- function(readings) {
  shapes <- vapply(readings, function(one) one$layout$shape, "")
  readings[[c(which(shapes == "wide"), 1)[1]]]$bundle
}

# The readings that other answers to the best one's doubts would give.
settled_otherwise <- function(best, grid, told, known) {
  options <- unlist(
    lapply(best$bundle$reading$doubts, function(doubt) doubt$options[-1]),
    recursive = FALSE
  )
  lapply(utils::head(options, 6), function(option) {
    layout <- utils::modifyList(best$layout, option)
    one <- weigh_layout(grid, layout, told, known)
    one$option <- option
    one
  })
}

# Readings that come to the same are one.
distinct_readings <- function(candidates) {
  prints <- lapply(candidates, function(one) reading_print(one$bundle))
  keep <- vapply(seq_along(prints), function(k) {
    !any(vapply(prints[seq_len(k - 1)], identical, TRUE, prints[[k]]))
  }, TRUE)
  candidates[keep]
}

reading_print <- function(bundle) {
  list(
    unname(as.list(bundle$responses)),
    as.list(bundle$items[c("item", "key", "points")])
  )
}

# A doubt is settled when none of its answers gives another reading that comes near.
open_doubts <- function(doubts, candidates) {
  Filter(
    function(doubt) {
      doubt$stays || !length(doubt$options) || length(candidates) > 1
    },
    doubts
  )
}

taken_reading <- function(candidates, take, origin) {
  if (take %in% seq_along(candidates)) return(candidates[[take]])
  abort_pregunta(
    "call",
    say(
      "read-evidence.there_is_no_reading",
      take = take,
      n = length(candidates)
    ),
    origin,
    say("read-evidence.take_one_of")
  )
}

# What a person is asked: the readings as the first rows would look, what speaks against
# each, and the words to choose one.
# best: the reading whose doubts led to those that are shown; it may not be among them.
abort_undecided <- function(shown, best) {
  abort_pregunta(
    "undecided",
    say(
      "read-evidence.could_be_read_in",
      origin = best$bundle$origin,
      n = length(shown)
    ),
    c(
      show_doubts(c(list(best), shown)),
      unlist(Map(show_reading, shown, seq_along(shown)))
    ),
    say("read-evidence.choose_with_take", n = length(shown)),
    choices = reading_choices(shown),
    value = best$bundle$origin
  )
}

# The readings as a table, for a face that asks in its own way.
reading_choices <- function(readings) {
  rows <- lapply(seq_along(readings), function(k) {
    bundle <- readings[[k]]$bundle
    data.frame(
      take = k,
      students = length(unique(bundle$responses$student)),
      questions = nrow(bundle$items),
      points = reading_points(bundle),
      against = paste(said_doubts(readings[k]), collapse = " "),
      set = say_set(readings[[k]]$option)
    )
  })
  do.call(rbind, rows)
}

reading_points <- function(bundle) {
  sum(read_number(or_else(bundle$items$points, "1")), na.rm = TRUE)
}

# What makes readings unsure, each thing once.
said_doubts <- function(readings) {
  unique(unlist(lapply(readings, function(one) {
    vapply(one$bundle$reading$doubts, say_doubt, "")
  })))
}

show_doubts <- function(readings) {
  lines <- unlist(lapply(
    utils::head(said_doubts(readings), 4),
    strwrap,
    width = 76
  ))
  if (length(lines)) c(paste0("  ", lines), "")
}

show_reading <- function(reading, number) {
  bundle <- reading$bundle
  set <- say_set(reading$option)
  c(
    say(
      "read-evidence.reading",
      number = number,
      students = length(unique(bundle$responses$student)),
      items = nrow(bundle$items),
      first = bundle$items$item[1],
      last = bundle$items$item[nrow(bundle$items)],
      out_of = plain_points(reading_points(bundle))
    ),
    paste0("     ", first_rows(bundle)),
    if (nzchar(set)) {
      paste0("     ", say("read-evidence.the_same_as", set = set))
    },
    ""
  )
}

# The first rows, cut to what fits in a line.
first_rows <- function(bundle, most = 3) {
  table <- utils::head(plain_table(bundle$responses), most)
  cells <- lapply(names(table), function(name) {
    shorten(c(name, or_blank(as.character(table[[name]]))), 14)
  })
  cells <- cells[seq_len(min(8, length(cells)))]
  lines <- do.call(
    paste,
    c(lapply(cells, function(x) formatC(x, width = -max(nchar(x)))), sep = "  ")
  )
  sub(" +$", "", lines)
}

# A layout as --set takes it; nothing where a name holds a mark that divides there.
say_set <- function(layout) {
  values <- unlist(layout) # what stands in rows is called rows.points and so on
  if (!length(values) || any(grepl("[,;=]", values))) return("")
  if (!is.list(layout$rows)) {
    values <- vapply(layout, paste, "", collapse = ",")
  }
  paste0(names(values), "=", values, collapse = ";")
}

# ---- the file's own sums -----------------------------------------------------------

# How a column of sums agrees with what was read: for how many rows of those that say a
# number, and as what. points: earned by each row; right: questions with all points.
sum_agreement <- function(cells, points, of, right, asked) {
  value <- mark_of(cells)
  share <- share_of(cells)
  value[!is.na(share$whole)] <- (share$share * share$whole)[!is.na(share$whole)]
  percent <- share$percent
  value[percent] <- 100 * share$share[percent]
  said <- !is.na(value) & !is.na(points)
  if (sum(said) < 1) return(NULL)
  places <- max(
    nchar(sub("^[^.,]*[.,]?", "", gsub("[^0-9.,]", "", cells[said])))
  )
  room <- 0.5 * 10^-places + 1e-6
  ways <- list(
    points = if (!all(percent[said])) points,
    percent = 100 * points / of,
    share = if (!any(percent[said])) points / of,
    right = if (!all(percent[said])) right,
    percent_right = 100 * right / asked
  )
  ways <- Filter(length, ways)
  agree <- vapply(
    ways,
    function(x) sum(abs(value - x)[said] <= room + 1e-9),
    0
  )
  best <- which.max(agree)
  list(
    as = names(ways)[best],
    n = sum(said),
    agree = agree[[best]],
    off = which(said & abs(value - ways[[best]]) > room + 1e-9)
  )
}

# The points that rows would have by a key that only says what is right, and by marks;
# NA where a question can be valued in neither way.
rough_points <- function(rows, asked, items, known) {
  n <- nrow(rows$body)
  key <- items$key
  worth <- read_number(items$points)
  at <- match(items$known, known$item)
  if (!is.null(known$key)) {
    key <- or_else(known$key[at], key)
  }
  if (!is.null(known$points)) {
    worth <- or_else(read_number(known$points[at]), worth)
  }
  points <- vapply(seq_len(nrow(asked)), function(j) {
    rough_item(rows$body, asked[j, ], key[j], worth[j])
  }, numeric(n))
  points <- matrix(points, n)
  most <- apply(points, 2, function(x) {
    if (all(is.na(x))) NA else max(x, na.rm = TRUE)
  })
  list(points = points, most = or_else(worth, pmax(most, 1e-9)))
}

rough_item <- function(body, asked, key, worth) {
  given <- body[[if (is.na(asked$points)) asked$answer else asked$points]]
  cells <- unique(given)
  mark <- if (is.na(asked$points)) {
    rough_cells(cells, key, worth)
  } else {
    or_else(value_of(truth_as_points(cells, worth)), 0)
  }
  mark <- mark[data.table::chmatch(given, cells)]
  if (mean(is.na(mark)) > 0.3) return(rep(NA_real_, length(given)))
  or_else(mark, 0)
}

rough_cells <- function(cells, key, worth) {
  if (!is.na(key)) {
    right <- toupper(trimws(strsplit(key, "|", fixed = TRUE)[[1]]))
    return((toupper(cells) %in% right) * or_else(worth, 1))
  }
  plain <- plain_text(cells)
  share <- share_of(cells)
  mark <- or_else(
    mark_of(cells),
    share$share * or_else(share$whole, or_else(worth, 1))
  )
  mark[plain %in% said_words()$yes] <- or_else(worth, 1)
  nothing <- cells == "" | says_nothing(cells) | says_excused(cells)
  mark[plain %in% said_words()$no | nothing] <- 0
  mark
}
