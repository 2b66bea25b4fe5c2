#' Which answers were given, and by whom?
#'
#' For every answer of every item: how many gave it, how strong they are on
#' the rest of the test, and how the wrong answers fall.
#'
#' @inheritParams summarise_items
#' @param near_misses Whether wrong answers to text and number items are looked
#'   through for near misses; without, `like` and `near_miss` are `NA`.
#' @return A data frame, a row an item and option (and group), in printed
#'   order. Of a `multiple` item every option is a row of its own, of an
#'   `order` item every position ("1: C"), of a `match` item every pair; text
#'   and number items have every distinct answer after normalising, `mark` and
#'   `open` items every number of points. A blank is the option `(blank)`, an
#'   answer that waits for a mark `(waiting)`: `state` tells them (`blank`, `waiting`)
#'   from a student's answer (`answered`), which may be spelled the same.
#'   * `item`, `option`; `key`: whether the key asks for it;
#'   * `count`, `share`: of the students who were given the item;
#'   * `low`, `middle`, `high`: share within the thirds by total, ties shared;
#'   * `mean_rest`: mean score of its choosers on the rest of the test, as a
#'     share of the rest's points;
#'   * `option_rest`: Pearson correlation of "chose it" with the score on the
#'     rest; `NA` when nobody or everybody did, when the rest has no spread, or
#'     under 3 students;
#'   * `pattern`: how the item's wrong answers fall, for choice items:
#'     "shared" (the largest count is more than chance: one-sided exact
#'     binomial test against 1/k, Bonferroni-corrected by the k wrong options,
#'     p < .05), "spread" (not shared, normalised entropy at least .90),
#'     "mixed", or "too_few" (under 8 wrong answers or 2 wrong
#'     options). Shared points to one misconception, spread to guessing;
#'   * `misconception`: its code; `text`: of the option;
#'   * `idea`: the misconception in words; `type`: of the item;
#'   * `like`, `near_miss`: of a wrong answer to a text or number item, the right answer
#'     that it is one step from, and the step; see [summarise_answers()], which
#'     has whole answers of every type;
#'   * `share_low`, `share_high`: 95% Wilson score interval of `share` (Wilson
#'     1927); `option_rest_low`, `option_rest_high`: Fisher z interval of
#'     `option_rest`;
#'   * `distractor`: "working" (chosen by at least 5%, option-rest below 0:
#'     Haladyna & Downing 1993), "idle" (below 5%) or "draws_strong"
#'     (option-rest above 0); `NA` for the key and blanks.
#' @references Haladyna, T. M. & Downing, S. M. (1993). How many options is enough for a
#' multiple-choice test item? *Educational and Psychological Measurement* 53, 999-1010.
#'
#' Wilson, E. B. (1927). Probable inference, the law of succession, and
#' statistical inference. *Journal of the American Statistical Association* 22,
#' 209-212.
#' @inheritSection summarise_items Errors
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' subset(summarise_options(quiz), item == "Q7")
summarise_options <- function(sitting, by = NULL, near_misses = TRUE) {
  table <- by_depth(sitting, by, function(sitting, by) {
    group_options(as_tally(sitting, by), near_misses)
  })
  # The number on which small groups were withheld is no figure of an option.
  remake_summary(table, as.data.frame(table)[setdiff(names(table), "n")])
}

group_options <- function(tally, near_misses) {
  about <- tally$about
  parts <- answer_parts(tally)
  n_groups <- length(tally$groups)
  figures <- option_figures(tally, parts, n_groups)
  figures$share <- ifelse(
    figures$n > 0,
    figures$count / figures$n,
    NA_real_
  )

  part <- rep(seq_len(nrow(parts$table)), n_groups)
  table <- c(lapply(parts$table, `[`, part), figures)
  offered <- match(
    ifelse(
      table$state == "answered",
      paste(table$item, table$option, sep = "\r"),
      NA
    ),
    paste(about$options$item, about$options$option, sep = "\r")
  )
  table$misconception <- about$options$misconception[offered]
  table$text <- about$options$text[offered]
  table$idea <- about$misconceptions$description[
    match(table$misconception, about$misconceptions$code)
  ]
  table$pattern <- option_patterns(
    table,
    about$items,
    rep(seq_len(n_groups), each = nrow(parts$table))
  )
  table$distractor <- distractor_kind(table, about$settings$thresholds)
  table$type <- about$items$type[match(table$item, about$items$item)]
  one_step <- if (near_misses) {
    option_near_misses(parts$table, about$items)
  } else {
    no_near_misses(parts$table$option)
  }
  table[c("like", "near_miss")] <- lapply(one_step, `[`, part)
  columns <- c(
    "item", "option", "key", "count", "share", "low", "middle", "high",
    "mean_rest", "option_rest", "pattern", "misconception", "text",
    "distractor", "idea", "type", "like", "near_miss", "share_low",
    "share_high", "option_rest_low", "option_rest_high", "state"
  )
  table[c("share_low", "share_high")] <- wilson_interval(table$share, table$n)
  table[c("option_rest_low", "option_rest_high")] <- fisher_interval(
    table$option_rest,
    table$n_rest
  )
  table <- with_group(
    quick_frame(table[c(columns, "n")]),
    tally,
    nrow(parts$table)
  )
  table <- withhold_small(
    table,
    "n",
    c(answer_facts, tally$by),
    about$settings,
    tally$by,
    c("item", "option", "state"),
    list("answers")
  )
  new_summary(table, "options", about$settings, tally$by)
}

# What says which answer a row is about, and is no figure of who gave it.
answer_facts <- c(
  "item", "option", "state", "key", "text", "misconception", "idea", "type",
  "like", "near_miss"
)

# What only a few chose, and what would tell of it: an item's answers side by side, a row
# a group.
withhold_answers <- function(table, settings, by) {
  least <- settings$smallest_group
  if (least <= 1 || !nrow(table)) return(table)
  group <- if (is.null(by)) rep("", nrow(table)) else group_paths(table, by)
  figures <- setdiff(
    names(table),
    c(answer_facts, "pattern", "n", by)
  )
  for (rows in split(seq_len(nrow(table)), table$item)) {
    groups <- unique(group[rows])
    answer <- paste(table$option, table$state, sep = "\r")[rows]
    at <- cbind(match(group[rows], groups), match(answer, unique(answer)))
    counts <- matrix(0, length(groups), max(at[, 2]))
    counts[at] <- table$count[rows]
    first <- rows[match(groups, group[rows])]
    above <- if (is.null(by)) {
      0
    } else {
      group_above(table[first, , drop = FALSE], by)
    }
    hidden <- cells_to_hide(counts, above, least)
    table[rows[hidden[at]], figures] <- NA
  }
  table
}

# Of text and number items, where an option is a whole answer.
option_near_misses <- function(table, items) {
  near_misses <- no_near_misses(table$option)
  for (j in which(is_answered(items$type, "written") & !is.na(items$key))) {
    rows <- which(table$item == items$item[j])
    wrong <- !table$key[rows] & table$state[rows] == "answered"
    type <- item_type(items$type[j])
    found <- near_misses_of(
      type,
      table$option[rows],
      wrong,
      type$read_key(items$key[j])
    )
    near_misses$like[rows] <- found$like
    near_misses$near_miss[rows] <- found$near_miss
  }
  near_misses
}

# table: a row an item and part, in the order they are shown; member: which
# cell (along all items' cells) holds which part.
answer_parts <- function(tally) {
  items <- tally$about$items
  offset <- cell_offsets(tally$cells)
  width <- diff(offset)
  used <- logical(max(offset))
  used[tally$sums$cell] <- TRUE
  state <- unlist(lapply(tally$cells, `[[`, "state"))
  cells <- list(
    item = rep(seq_along(width), width),
    answered = used & (state == "answered" | state == "pending"),
    blank = used & (state == "omitted" | state == "not_reached")
  )
  asked <- match(tally$about$options$item, items$item)
  plain <- is_answered(items$type, "chosen") & tabulate(asked, nrow(items)) > 0
  pieces <- c(
    list(choice_parts(tally, cells, asked, plain)),
    lapply(which(!plain), function(j) {
      here <- offset[j] + seq_len(width[j])
      found <- item_parts(
        items[j, c("type", "key", "points")],
        tally$cells[[j]],
        which(cells$answered[here]),
        which(cells$blank[here]),
        tally$about$options$option[which(asked == j)]
      )
      item <- rep(j, length(found$option))
      c(found, list(item = item, cell = offset[j] + found$code))
    })
  )
  gather <- function(field) unlist(lapply(pieces, `[[`, field))
  options <- lapply(pieces, `[[`, "option")
  before <- cumsum(c(0, lengths(options)))
  shown <- order(gather("item"))
  part <- order(shown)[
    gather("part") +
      rep(
        before[seq_along(pieces)],
        lengths(lapply(pieces, `[[`, "part"))
      )
  ]
  cell <- gather("cell")
  sorted <- order(cell)
  list(
    table = quick_frame(
      list(
        item = items$item[gather("item")[shown]],
        option = gather("option")[shown],
        state = gather("state")[shown],
        key = gather("key")[shown]
      )
    ),
    member = list(cell = cell[sorted], part = part[sorted]),
    n_cells = max(offset)
  )
}

# The parts of all choice items with listed options at once: they are many, and
# an answer is one part. The same as item_parts() gives one after the other.
choice_parts <- function(tally, cells, asked, plain) {
  rows <- function(item, option) {
    list(
      item = item,
      option = option,
      id = paste(item, option, sep = "\r")
    )
  }
  listed <- which(plain[asked])
  offered <- rows(asked[listed], tally$about$options$option[listed])
  right <- right_options(tally$about$items[plain, ])
  right <- rows(rep(which(plain), lengths(right)), unlist(right))
  answered <- which(cells$answered & plain[cells$item])
  blank <- which(cells$blank & plain[cells$item])
  chosen <- rows(
    cells$item[answered],
    unlist(lapply(tally$cells, `[[`, "answer"))[answered]
  )
  given <- Map(c, right, chosen)
  strange <- which(!given$id %in% offered$id & !duplicated(given$id))
  strange <- lapply(
    given,
    `[`,
    strange[order(given$option[strange], method = "radix")]
  )
  left <- unique(cells$item[blank])
  empty <- rows(left, rep(state_labels[["blank"]], length(left)))
  all <- Map(c, offered, strange, empty)
  is_blank <- seq_along(all$id) > length(offered$id) + length(strange$id)
  # A blank is no option, even where one is spelled like it.
  holds <- c(
    match(chosen$id, all$id),
    length(offered$id) +
      length(strange$id) +
      match(cells$item[blank], empty$item)
  )
  list(
    item = all$item,
    option = all$option,
    state = ifelse(is_blank, "blank", "answered"),
    key = all$id %in% right$id & !is_blank,
    cell = c(answered, blank),
    part = holds
  )
}

# answered, blank: the codes that somebody has.
item_parts <- function(item, cells, answered, blank, offered) {
  type <- item_type(item$type)
  by_hand <- is.null(type$read_key)
  keyless <- !by_hand && is.na(item$key)
  waits <- is.na(if (by_hand) cells$points else cells$answer)
  shown <- if (by_hand) format_plain(cells$points) else cells$answer
  shown[waits] <- state_labels[["waiting"]]
  chosen <- if (by_hand) {
    as.list(shown[answered])
  } else {
    type$parts(shown[answered])
  }
  key <- if (by_hand || keyless) list() else type$read_key(item$key)
  right <- if (keyless) {
    character()
  } else if (is.null(type$right_parts)) {
    right_answers(shown[answered], type, key)
  } else {
    type$right_parts(key)
  }
  if (by_hand) {
    right <- format_plain(item$points)
  }
  pieces <- unlist(chosen)
  option <- part_order(offered, right, pieces, type)
  waiting <- unique(shown[answered[waits[answered]]])
  state <- ifelse(option %in% waiting, "waiting", "answered")
  if (length(blank)) {
    option <- c(option, state_labels[["blank"]])
    state <- c(state, "blank")
  }
  list(
    option = option,
    state = state,
    key = option %in% right & state == "answered",
    code = c(rep(answered, lengths(chosen)), blank),
    part = c(match(pieces, option), rep(length(option), length(blank)))
  )
}

right_answers <- function(answers, type, key) {
  if (is.null(type$read_key)) return(character())
  unique(answers[type$share(answers, key, "all") > 1 - 1e-9])
}

part_order <- function(offered, right, chosen, type) {
  if (type$offers && length(offered)) {
    given <- c(right, chosen)
    strange <- given[!given %in% offered]
    return(
      if (length(strange)) {
        c(offered, sort(unique(strange), method = "radix"))
      } else {
        offered
      }
    )
  }
  parts <- unique(c(right, chosen))
  number <- read_number(parts)
  parts[order(is.na(number), number, parts, method = "radix")]
}

option_figures <- function(tally, parts, n_groups) {
  sums <- tally$sums
  n_items <- nrow(tally$items)
  n_parts <- nrow(parts$table)
  columns <- cbind(
    n = sums$count,
    sums$weighted[, c("low", "middle", "high"), drop = FALSE],
    ranked = sums$n_rest,
    rest = sums$rest,
    squares = sums$rest_squares
  )
  use <- which(!sums$state %in% c("not_given", "excused"))
  whole <- sum_by(
    columns[use, , drop = FALSE],
    sums$key[use],
    n_items * n_groups
  )

  width <- tabulate(parts$member$cell, parts$n_cells)
  start <- cumsum(c(1, width))
  rows <- rep(use, width[sums$cell[use]])
  part <- parts$member$part[
    sequence(width[sums$cell[use]], start[sums$cell[use]])
  ]
  chosen <- sum_by(
    columns[rows, , drop = FALSE],
    (sums$group[rows] - 1L) * n_parts + part,
    n_parts * n_groups
  )

  item <- match(parts$table$item, tally$items$item)
  at <- rep(item, n_groups) +
    rep((seq_len(n_groups) - 1L) * n_items, each = n_parts)
  whole <- whole[at, , drop = FALSE]
  centre <- sums$mean_rest[match(at, sums$key)]
  ratio <- function(top, bottom) ifelse(bottom > 1e-12, top / bottom, NA_real_)
  n_rest <- whole[, "ranked"]
  mean <- ratio(whole[, "rest"], n_rest)
  spread <- whole[, "squares"] - n_rest * mean^2
  indicator <- chosen[, "ranked"] * (1 - chosen[, "ranked"] / n_rest)
  defined <- n_rest >= 3 & indicator > 1e-9 & spread > 1e-12
  option_rest <- ifelse(
    defined,
    (chosen[, "rest"] - chosen[, "ranked"] * mean) /
      sqrt(pmax(0, indicator * spread)),
    NA_real_
  )
  list(
    n = whole[, "n"],
    n_rest = n_rest,
    count = chosen[, "n"],
    low = ratio(chosen[, "low"], whole[, "low"]),
    middle = ratio(chosen[, "middle"], whole[, "middle"]),
    high = ratio(chosen[, "high"], whole[, "high"]),
    mean_rest = centre + ratio(chosen[, "rest"], chosen[, "ranked"]),
    option_rest = pmax(-1, pmin(1, option_rest))
  )
}

distractor_kind <- function(table, thresholds) {
  kind <- rep(NA_character_, length(table$key))
  wrong <- which(
    is_wrong(table) & !is.na(table$pattern)
  )
  rest <- table$option_rest[wrong]
  kind[wrong[which(rest < -1e-12)]] <- "working"
  kind[wrong[which(rest > 1e-12)]] <- "draws_strong"
  kind[wrong[which(table$share[wrong] < thresholds$working - 1e-12)]] <- "idle"
  kind
}
