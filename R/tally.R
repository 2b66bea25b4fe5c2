#' Count the responses once, for every figure there is
#'
#' One pass over a sitting's responses counts, for each group, item, answer and score, how
#' many students there are. All figures on items, options and the test are functions of
#' these counts: [summarise_test()], [summarise_items()], [summarise_options()],
#' [summarise_answers()], [summarise_lengths()], [summarise_decisions()],
#' [summarise_fairness()] and [review_items()] take a tally as well as a sitting. What is
#' said of single students or rests on their scores on a part of the test needs the
#' sitting itself: `summarise_students()`, `summarise_standards()`,
#' `summarise_misconceptions()`, `summarise_parts()`, `summarise_precision()`,
#' `summarise_time()`, `summarise_attempts()`, `summarise_explanations()` and
#' `summarise_guessing()` refuse a tally. Tallies of different students of the same test
#' can be added with `+`: the sum is the tally of all of them.
#'
#' @param sitting A [sitting()].
#' @param by The name of a column of the students to count apart, or `NULL`.
#' @param products Whether sums of products of items are taken too; lambda-2
#'   and split half need them.
#' @param counted Names of the items that count in reliability; by default
#'   those on which anybody has points. Tallies to be added need the same.
#' @return An object of class `pregunta_tally`: a list with
#'   * `items`: `item`, `points` (the most it gives), `counted`;
#'   * `cells`: for each item the `answer`, `points` and `state` of its codes;
#'   * `by`, `groups`: the column and its values (`NA` alone without `by`);
#'   * `bins`: a row a group and score: `group` (a number along `groups`),
#'     `earned` and `open` points, `n` students;
#'   * `scores`: the same with the extra points of [adjust()] among the earned ones: what
#'     the students get, where `bins` is what the items gave;
#'   * `counts`: a list of equally long vectors `bin`, `item`, `code`, `count`;
#'     `sums`: what they come to for each group, item and answer, for the figures;
#'   * `absent`: number of absent students of each group; `seconds`: for each
#'     group the `sum` of the students' times, and of how many (`n`);
#'   * `products`: for each group a matrix of sums of products over the
#'     students who were given every counted item, or `NULL`;
#'   * `about`: the sitting's `settings`, `items`, `options` and
#'     `misconceptions`, and the items that are `dropped`.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' tally <- tally_responses(quiz, by = "section")
#' tally$bins |> head()
tally_responses <- function(sitting, by = NULL, products = FALSE,
                            counted = NULL) {
  if (inherits(sitting, "pregunta_stored")) {
    return(sitting$guard(tally_stored(sitting, by, products, counted)))
  }
  check_is_sitting(sitting)
  groups <- student_groups(sitting, by)
  present <- was_present(sitting)
  group <- groups$index
  group[!present] <- 0L
  most <- sitting$items$points
  points <- unlist(lapply(sitting$cells, `[[`, "points"))
  parts <- points_unit(c(most, points))
  units <- lapply(sitting$cells, function(cell) round(cell$points * parts))
  raw <- tally_codes(
    sitting$codes,
    units,
    round(most * parts),
    group,
    length(groups$labels),
    products && parts == 1
  )

  is_counted <- if (is.null(counted)) {
    has_points(raw, sitting)
  } else {
    sitting$items$item %in% counted
  }
  # an item that does not count is lacking in every bin
  full <- sum(round(most * parts))
  n_groups <- length(groups$labels)
  absent <- groups$index[sitting$students$status == "absent"]
  bins <- data.frame(
    group = raw$bins$group,
    earned = raw$bins$earned / parts,
    open = (full - raw$bins$lacking) / parts,
    n = raw$bins$n
  )
  new_tally(
    items = data.frame(
      item = sitting$items$item,
      points = most,
      counted = is_counted
    ),
    cells = sitting$cells,
    by = by,
    groups = groups$labels,
    bins = bins,
    scores = with_extra_points(sitting, bins, group),
    counts = raw[c("bin", "item", "code", "count")],
    absent = tabulate(absent, n_groups),
    seconds = group_seconds(
      sitting$students$seconds,
      group,
      n_groups
    ),
    products = if (products) {
      counted_products(sitting, raw, is_counted, group, n_groups)
    },
    about = c(
      sitting[c("settings", "items", "options", "misconceptions")],
      list(dropped = dropped_items(sitting))
    )
  )
}

# Every way of counting ends here, so that what the figures are made of is always
# of one form. See tally_responses() for the fields.
new_tally <- function(items, cells, by, groups, bins, scores, counts, absent,
                      seconds, products, about) {
  tally <- list(
    items = items,
    cells = cells,
    by = by,
    groups = groups,
    bins = bins,
    scores = scores,
    counts = counts,
    absent = absent,
    seconds = seconds,
    products = products,
    about = about
  )
  wrong <- tally_faults(tally)
  if (length(wrong)) {
    stop(
      say("tally.this_is_no_tally", wrong = paste(wrong, collapse = "; ")),
      call. = FALSE
    )
  }
  with_sums(structure(tally, class = "pregunta_tally"))
}

# What is not as every tally is; nothing when all is well.
tally_faults <- function(tally) {
  n_groups <- length(tally$groups)
  bins <- tally$bins
  counts <- tally$counts
  codes_known <- lengths(lapply(tally$cells, `[[`, "points"))
  within <- function(x, most) all(x >= 1 & x <= most)
  has <- function(table, columns) all(columns %in% names(table))
  lengths_of_counts <- lengths(counts[c("bin", "item", "code", "count")])
  about <- c("settings", "items", "options", "misconceptions", "dropped")
  holds <- c(
    items = has(tally$items, c("item", "points", "counted")),
    cells = length(tally$cells) == nrow(tally$items),
    bins = has(bins, c("group", "earned", "open", "n")) &&
      within(bins$group, n_groups),
    scores = has(tally$scores, names(bins)) &&
      sum(tally$scores$n) == sum(bins$n),
    counts = length(unique(lengths_of_counts)) == 1,
    counted = within(counts$bin, nrow(bins)) &&
      within(counts$item, nrow(tally$items)) &&
      all(counts$code >= 1 & counts$code <= codes_known[counts$item]),
    groups = length(tally$absent) == n_groups &&
      NROW(tally$seconds) == n_groups,
    products = is.null(tally$products) || length(tally$products) == n_groups,
    about = has(tally$about, about)
  )
  unname(all_words("tally_holds")[names(holds)[!holds]])
}

# Who was given extra points goes from the bin of what the items gave to another.
with_extra_points <- function(sitting, bins, group) {
  extra <- extra_points(sitting)
  has <- which(extra != 0 & group > 0)
  if (!length(has)) return(bins)
  score <- row_scores(sitting$codes[has, , drop = FALSE], sitting$cells)
  from <- data.frame(
    group = group[has],
    earned = score$earned,
    open = score$open,
    n = -1
  )
  to <- from
  to$earned <- to$earned + extra[has]
  to$n <- 1
  moved <- unite_bins(rbind(bins, from, to))
  moved[moved$n > 0, ]
}

# Rows of the same group, earned and open points are one.
unite_bins <- function(bins) {
  key <- bin_keys(bins)
  first <- !duplicated(key)
  united <- bins[first, c("group", "earned", "open", "n")]
  united$n <- as.vector(rowsum(bins$n, match(key, key[first]), reorder = TRUE))
  rownames(united) <- NULL
  united
}

bin_keys <- function(bins) {
  paste(
    bins$group, signif(bins$earned, 12), signif(bins$open, 12)
  )
}

# A row a group: the sum of the times that are known, and of how many students.
group_seconds <- function(seconds, group, n_groups) {
  if (is.null(seconds)) {
    seconds <- group <- integer()
  }
  known <- which(!is.na(seconds) & group > 0)
  ones <- rep(1, length(known))
  sum_by(
    list(sum = seconds[known], n = ones),
    group[known],
    n_groups
  )
}

# Where each item's cells begin when those of all items stand one after another;
# last, how many there are.
cell_offsets <- function(cells) {
  cumsum(c(0L, lengths(lapply(cells, `[[`, "points"))))
}

# The items that anybody has points on.
has_points <- function(raw, sitting) {
  tabulate(raw$item[cell_is_valued(sitting, raw)], length(sitting$cells)) > 0
}

cell_is_valued <- function(sitting, raw) {
  points <- unlist(lapply(sitting$cells, `[[`, "points"))
  !is.na(points)[cell_offsets(sitting$cells)[raw$item] + raw$code]
}

# The summaries take a sitting, or a tally that was made of one before.
as_tally <- function(x, by, products = FALSE) {
  if (inherits(x, c("pregunta_sitting", "pregunta_stored"))) {
    return(tally_responses(x, by, products))
  }
  if (!inherits(x, "pregunta_tally")) {
    abort_pregunta(
      "call",
      say("tally.a_summary_is_made"),
      say("tally.given", class = class(x)[1]),
      say("tally.read_one_with_read")
    )
  }
  if (!is.null(by) && !identical(by, x$by)) {
    abort_pregunta(
      "call",
      say("tally.this_tally_is_not", by = quoted(by[1])),
      say(
        "tally.it_is_counted_as",
        by = x$by,
        no_by = is.null(x$by)
      ),
      say("tally.give_by_to_tally")
    )
  }
  x
}

# The least number of parts into which a point is cut so that all points are
# whole numbers of them: totals are then exact and equal totals meet.
points_unit <- function(points) {
  points <- unique(points[!is.na(points)])
  if (all(points == round(points))) return(1)
  parts <- 1:1000
  whole <- rep(TRUE, length(parts))
  for (one in points) {
    whole <- whole & abs(one * parts - round(one * parts)) < 1e-9 * parts
  }
  c(parts[whole], 1e9)[1]
}

# Each group's over the items that count in it, for the students who were given all of
# those; 0 for its other items.
counted_products <- function(sitting, raw, is_counted, group, n_groups) {
  if (!is.null(raw$pairs) && all(is_counted)) return(list(raw$pairs))
  counted <- counted_of_groups(
    list(
      items = list2DF(list(counted = is_counted)),
      bins = raw$bins,
      counts = raw,
      groups = seq_len(n_groups)
    ),
    cell_is_valued(sitting, raw)
  )
  products <- vector("list", n_groups)
  # Groups that have the same items go through the responses together.
  alike <- match(asplit(counted, 2), asplit(counted, 2))
  for (first in unique(alike)) {
    groups <- which(alike == first)
    mine <- counted[, first]
    sums <- products_over(
      sitting,
      raw,
      mine,
      match(group, groups, 0L),
      length(groups)
    )
    within <- mine[is_counted]
    products[groups] <- lapply(sums, function(sums) {
      whole <- matrix(0, sum(is_counted), sum(is_counted))
      whole[within, within] <- sums
      whole
    })
  }
  products
}

# Cells that nobody has need not be looked for in every row.
products_over <- function(sitting, raw, is_counted, group, n_groups) {
  codes <- if (all(is_counted)) {
    sitting$codes
  } else {
    sitting$codes[, is_counted, drop = FALSE]
  }
  offset <- cell_offsets(sitting$cells)
  used <- logical(max(offset))
  used[offset[raw$item] + raw$code] <- TRUE
  points <- lapply(which(is_counted), function(j) {
    points <- sitting$cells[[j]]$points
    lacking <- which(is.na(points))
    points[lacking[!used[offset[j] + lacking]]] <- 0
    points
  })
  item_products(codes, points, group, n_groups)
}

#' @rdname tally_responses
#' @param e1,e2 Tallies of different students who sat the same items.
#' @export
`+.pregunta_tally` <- function(e1, e2) {
  check_same_items(e1, e2)
  add_tallies(list(e1, e2))
}

# Of any number of them, which is quicker than one after the other.
add_tallies <- function(tallies) {
  one <- tallies[[1]]
  if (length(tallies) == 1) return(one)
  labels <- unique(unlist(lapply(tallies, `[[`, "groups")))
  labels <- labels[order(labels, method = "radix")]
  of_labels <- function(field) {
    parts <- lapply(tallies, function(tally) {
      bins <- tally[[field]]
      bins$group <- match(tally$groups, labels)[bins$group]
      bins
    })
    do.call(rbind, parts)
  }
  bins <- of_labels("bins")
  total <- unite_bins(bins)
  bin_at <- match(bin_keys(bins), bin_keys(total))
  # Of nobody who was there a tally has no bin.
  of_tally <- rep(seq_along(tallies), vapply(tallies, function(x) nrow(x$bins), 1L))
  of_tally <- factor(of_tally, seq_along(tallies))
  cells <- lapply(seq_along(one$cells), function(j) {
    unite_cells(lapply(tallies, function(tally) tally$cells[[j]]))
  })
  united <- new_tally(
    items = one$items,
    cells = lapply(cells, `[[`, "cells"),
    by = one$by,
    groups = labels,
    bins = total,
    scores = unite_bins(of_labels("scores")),
    counts = unite_counts(tallies, cells, split(bin_at, of_tally)),
    absent = unlist(add_by_label(tallies, labels, function(tally) {
      as.list(tally$absent)
    }, 0)),
    seconds = add_seconds(tallies, labels),
    products = NULL,
    about = one$about
  )
  if (!any(vapply(tallies, function(tally) is.null(tally$products), TRUE))) {
    united$products <- add_products(tallies, united)
  }
  united
}

# Who was given every item of a part of the students lacks some in the whole group, where
# the group has more items than that part.
add_products <- function(tallies, united) {
  n_counted <- sum(united$items$counted)
  lapply(seq_along(united$groups), function(g) {
    total <- matrix(0, n_counted, n_counted)
    for (tally in tallies) {
      at <- match(united$groups[g], tally$groups)
      same_items <- !is.na(at) &&
        identical(tally$counted[, at], united$counted[, g])
      if (same_items) {
        total <- total + tally$products[[at]]
      }
    }
    total
  })
}

add_seconds <- function(tallies, labels) {
  of_labels <- lapply(tallies, function(tally) {
    at <- match(labels, tally$groups)
    there <- as.numeric(!is.na(at))
    there * tally$seconds[or_else(at, 1), , drop = FALSE]
  })
  Reduce(`+`, of_labels)
}

check_same_items <- function(a, b) {
  if (!inherits(b, "pregunta_tally") || !inherits(a, "pregunta_tally")) {
    abort_pregunta(
      "call",
      say("tally.only_a_tally_can"),
      NULL,
      say("tally.see_tally_responses")
    )
  }
  if (!identical(a$items, b$items) || !identical(a$by, b$by)) {
    abort_pregunta(
      "call",
      say("tally.the_two_tallies_are"),
      say(
        "tally.and",
        item = some_of(a$items$item),
        b_items = some_of(b$items$item)
      ),
      say("tally.tally_both_with_the")
    )
  }
}

# The cells of an item in several tallies: those of all, and where each one's are among
# them.
unite_cells <- function(parts) {
  told_apart <- lapply(parts, function(cell) {
    paste(cell$answer, signif(cell$points, 12), cell$state, sep = "\r")
  })
  all <- unlist(told_apart)
  new <- which(!duplicated(all))
  # Of one tally none are taken together.
  own <- seq_along(told_apart[[1]])
  new <- c(own, new[new > length(own)])
  cells <- parts[[1]]
  for (field in c("answer", "points", "state")) {
    cells[[field]] <- unlist(lapply(parts, `[[`, field))[new]
  }
  code <- lapply(told_apart[-1], match, all[new])
  list(cells = cells, code = c(list(own), code))
}

unite_counts <- function(tallies, cells, bin_at) {
  parts <- lapply(seq_along(tallies), function(k) {
    counts <- tallies[[k]]$counts
    before <- cell_offsets(tallies[[k]]$cells)
    code <- unlist(lapply(cells, function(cell) cell$code[[k]]))
    list(
      bin = bin_at[[k]][counts$bin],
      item = counts$item,
      code = code[before[counts$item] + counts$code],
      count = counts$count
    )
  })
  all <- do.call(Map, c(list(c), parts))
  # A number for each bin, item and code: whole, up to 2^53.
  place <- (all$bin * (max(0L, all$item) + 1) + all$item) * (max(0L, all$code) + 1) +
    all$code
  first <- which(!duplicated(place))
  count <- as.vector(rowsum(all$count, match(place, place[first])))
  list(
    bin = all$bin[first],
    item = all$item[first],
    code = all$code[first],
    count = count
  )
}

add_by_label <- function(tallies, labels, field, zero) {
  lapply(labels, function(label) {
    total <- zero
    for (tally in tallies) {
      at <- match(label, tally$groups)
      if (!is.na(at)) {
        total <- total + field(tally)[[at]]
      }
    }
    total
  })
}
