#' Which answers were given, and by whom?
#'
#' For every answer of every item: how many gave it, how strong they are on
#' the rest of the test, and how the wrong answers fall.
#'
#' @inheritParams summarise_items
#' @param slips Whether wrong answers to text and number items are looked
#'   through for slips; without, `like` and `slip` are `NA`.
#' @return A data frame, a row an item and option (and group), in printed
#'   order. Of a `multiple` item every option is a row of its own, of an
#'   `order` item every position ("1: C"), of a `match` item every pair; text
#'   and number items have every distinct answer after normalising, `mark` and
#'   `open` items every number of points. A blank is the option `(blank)`, an
#'   answer that waits for a mark `(waiting)`.
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
#'     "mixed", or "too few to tell" (under 8 wrong answers or 2 wrong
#'     options). Shared points to one misconception, spread to guessing;
#'   * `misconception`: its code; `text`: of the option;
#'   * `idea`: the misconception in words; `type`: of the item;
#'   * `like`, `slip`: of a wrong answer to a text or number item, the right answer
#'     that it is one step from, and the step; see [summarise_answers()], which
#'     has whole answers of every type;
#'   * `share_low`, `share_high`: 95% Wilson score interval of `share` (Wilson
#'     1927); `option_rest_low`, `option_rest_high`: Fisher z interval of
#'     `option_rest`;
#'   * `distractor`: "working" (chosen by at least 5%, option-rest below 0:
#'     Haladyna & Downing 1993), "idle" (below 5%) or "draws the strong"
#'     (option-rest above 0); `NA` for the key and blanks.
#' @references
#' Haladyna, T. M. & Downing, S. M. (1993). How many options is enough for a
#' multiple-choice test item? *Educational and Psychological Measurement* 53,
#' 999-1010.
#'
#' Wilson, E. B. (1927). Probable inference, the law of succession, and
#' statistical inference. *Journal of the American Statistical Association* 22,
#' 209-212.
#' @inheritSection summarise_items Errors
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' subset(summarise_options(quiz), item == "Q7")
summarise_options <- function(sitting, by = NULL, slips = TRUE) {
  tally <- as_tally(sitting, by)
  about <- tally$about
  counts <- count_table(tally)
  parts <- answer_parts(tally)
  n_groups <- length(tally$groups)
  figures <- option_figures(tally, counts, parts, n_groups)
  figures$share <- ifelse(figures$n > 0, figures$count / figures$n, NA_real_)

  part <- rep(seq_len(nrow(parts$table)), n_groups)
  table <- quick_frame(c(lapply(parts$table, `[`, part), figures))
  offered <- match(paste(table$item, table$option, sep = "\r"),
    paste(about$options$item, about$options$option, sep = "\r"))
  table$misconception <- about$options$misconception[offered]
  table$text <- about$options$text[offered]
  table$idea <- about$misconceptions$description[match(table$misconception, about$misconceptions$code)]
  table$pattern <- option_patterns(table, about$items, rep(seq_len(n_groups), each = nrow(parts$table)))
  table$distractor <- distractor_kind(table, about$settings$thresholds)
  table$type <- about$items$type[match(table$item, about$items$item)]
  one_step <- if (slips) option_slips(parts$table, about$items) else no_slips(parts$table$option)
  table[c("like", "slip")] <- lapply(one_step, `[`, part)
  columns <- c("item", "option", "key", "count", "share", "low", "middle", "high", "mean_rest",
    "option_rest", "pattern", "misconception", "text", "distractor",
    "idea", "type", "like", "slip", "share_low", "share_high", "option_rest_low", "option_rest_high")
  table[c("share_low", "share_high")] <- wilson_interval(table$share, table$n)
  table[c("option_rest_low", "option_rest_high")] <- fisher_interval(table$option_rest, table$n_rest)
  sizes <- table$n
  table <- with_group(table[columns], tally, nrow(parts$table))
  table$n <- sizes
  table <- withhold_small(table, "n", c("item", "option", "key", "text", "misconception",
    "idea", "type", "like", "slip", tally$by),
    about$settings, tally$by, "item")
  table$n <- NULL
  new_summary(table, "options", about$settings, tally$by)
}

# Of text and number items, where an option is a whole answer.
option_slips <- function(table, items) {
  slips <- no_slips(table$option)
  for (j in which(items$type %in% c("text", "number") & !is.na(items$key))) {
    rows <- which(table$item == items$item[j])
    wrong <- !table$key[rows] & !table$option[rows] %in% c("(blank)", "(waiting)")
    found <- slips_of(items$type[j], table$option[rows], wrong, score_types()[[items$type[j]]]$read_key(items$key[j]))
    slips$like[rows] <- found$like
    slips$slip[rows] <- found$slip
  }
  slips
}

# table: a row an item and part, in the order they are shown; member: which
# cell (along all items' cells) holds which part.
answer_parts <- function(tally) {
  items <- tally$about$items
  options <- tally$about$options
  width <- lengths(lapply(tally$cells, function(cell) cell$points))
  offset <- cumsum(c(0, width))
  used <- seq_len(sum(width)) %in% (offset[tally$counts$item] + tally$counts$code)
  offered <- split(options$option, factor(options$item, items$item))
  pieces <- lapply(seq_len(nrow(items)), function(j) {
    item <- list(type = items$type[j], key = items$key[j], points = items$points[j])
    item_parts(item, tally$cells[[j]], used[offset[j] + seq_len(width[j])], offered[[j]])
  })
  size <- lengths(lapply(pieces, function(piece) piece$option))
  before <- cumsum(c(0, size))
  cell <- unlist(lapply(seq_along(pieces), function(j) offset[j] + pieces[[j]]$code))
  part <- unlist(lapply(seq_along(pieces), function(j) before[j] + pieces[[j]]$part))
  sorted <- order(cell)
  list(
    table = quick_frame(list(
      item = rep(items$item, size), option = unlist(lapply(pieces, function(piece) piece$option)),
      key = unlist(lapply(pieces, function(piece) piece$key))
    )),
    member = list(cell = cell[sorted], part = part[sorted]), n_cells = max(offset)
  )
}

item_parts <- function(item, cells, used, offered) {
  type <- score_types()[[item$type]]
  answered <- which(cells$state %in% c("answered", "pending") & used)
  blank <- which(cells$state %in% c("omitted", "not reached") & used)
  by_hand <- is.null(type$read_key)
  keyless <- !by_hand && is.na(item$key)
  shown <- if (by_hand) ifelse(is.na(cells$points), "(waiting)", format_plain(cells$points)) else cells$answer
  chosen <- if (by_hand) as.list(shown[answered]) else type$parts(shown[answered])
  key <- if (by_hand || keyless) list() else type$read_key(item$key)
  right <- if (keyless) character() else if (is.null(type$right_parts)) right_answers(shown[answered], type, key)
  else type$right_parts(key)
  if (by_hand) right <- format_plain(item$points)
  option <- part_order(offered, right, unlist(chosen), item$type)
  if (length(blank)) option <- c(option, "(blank)")
  list(
    option = option, key = option %in% right,
    code = c(rep(answered, lengths(chosen)), blank),
    part = c(match(unlist(chosen), option), rep(length(option), length(blank)))
  )
}

right_answers <- function(answers, type, key) {
  if (is.null(type$read_key)) return(character())
  unique(answers[type$share(answers, key, "all") > 1 - 1e-9])
}

part_order <- function(offered, right, chosen, type) {
  if (type %in% c("choice", "multiple") && length(offered)) {
    strange <- setdiff(c(right, chosen), offered)
    return(if (length(strange)) c(offered, sort(strange, method = "radix")) else offered)
  }
  parts <- unique(c(right, chosen))
  number <- read_number(parts)
  parts[order(is.na(number), number, parts, method = "radix")]
}

option_figures <- function(tally, counts, parts, n_groups) {
  n_items <- nrow(tally$items)
  n_parts <- nrow(parts$table)
  given <- !counts$state %in% match(c("not given", "excused"), cell_state_names)
  thirds <- third_weights(tally$bins)
  rest <- counts$rest
  rest[is.na(rest)] <- 0
  weigh <- function(rows) {
    bin <- counts$bin[rows]
    count <- counts$count[rows]
    list(n = count, low = count * thirds$low[bin], middle = count * thirds$middle[bin],
      high = count * thirds$high[bin], ranked = count * !is.na(counts$rest[rows]), rest = count * rest[rows])
  }
  use <- which(given)
  whole <- sum_by(weigh(use), counts$key[use], n_items * n_groups)
  ranked <- use[!is.na(counts$rest[use])]
  spread <- moments_by(counts$rest[ranked], counts$rest[ranked], counts$count[ranked],
    counts$key[ranked], n_items * n_groups)

  width <- tabulate(parts$member$cell, parts$n_cells)
  start <- cumsum(c(1, width))
  rows <- rep(use, width[counts$cell[use]])
  part <- parts$member$part[sequence(width[counts$cell[use]], start[counts$cell[use]])]
  group <- tally$bins$group[counts$bin[rows]]
  chosen <- sum_by(weigh(rows), (group - 1L) * n_parts + part, n_parts * n_groups)

  item <- match(parts$table$item, tally$items$item)
  at <- rep(item, n_groups) + rep((seq_len(n_groups) - 1L) * n_items, each = n_parts)
  ratio <- function(top, bottom) ifelse(bottom > 1e-12, top / bottom, NA_real_)
  expected <- chosen[, "ranked"] * spread$mean_x[at]
  indicator <- chosen[, "ranked"] * (1 - chosen[, "ranked"] / spread$n[at])
  defined <- spread$n[at] >= 3 & indicator > 1e-9 & spread$xx[at] > 1e-12
  quick_frame(list(
    n = whole[at, "n"], n_rest = spread$n[at], count = chosen[, "n"], low = ratio(chosen[, "low"], whole[at, "low"]),
    middle = ratio(chosen[, "middle"], whole[at, "middle"]), high = ratio(chosen[, "high"], whole[at, "high"]),
    mean_rest = ratio(chosen[, "rest"], chosen[, "ranked"]),
    option_rest = pmax(-1, pmin(1, ifelse(defined, (chosen[, "rest"] - expected) / sqrt(indicator * spread$xx[at]),
      NA_real_)))
  ))
}

distractor_kind <- function(table, thresholds) {
  ifelse(table$key | table$option %in% c("(blank)", "(waiting)") | is.na(table$pattern), NA_character_,
    ifelse(table$share < thresholds$working - 1e-12, "idle",
      ifelse(is.na(table$option_rest) | table$option_rest == 0, NA_character_,
        ifelse(table$option_rest > 0, "draws the strong", "working"))))
}
