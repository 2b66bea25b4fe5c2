#' Do the markers agree?
#'
#' Where two or more people marked the same answers (a column `marker` in the responses,
#' see [sitting()], or marking sheets): how often they agree, who is stricter and by how
#' much, which answers to look at together, and how many markers it takes.
#'
#' @inheritParams summarise_scale
#' @param by `"item"`, `"marker"`, `"answer"`, or `"number"` of markers.
#' @param marks A data frame with `student`, `item`, `marker`, `points`, in place of what
#'   the responses hold.
#' @return By `"item"` a data frame, a row an item that was marked twice, after a row
#'   `(all)` where there are several: `item`; `points`, the most it gives; `n`: answers
#'   with two marks or more; `markers`; `equal`: the share of pairs of marks that are the
#'   same,
#'   `adjacent`: that differ by a point at most; `kappa`: quadratically weighted, over
#'   pairs of marks (Cohen 1968), with its 95% interval `kappa_low`, `kappa_high` by
#'   leaving out an answer at a time; `icc`: the intraclass correlation of one mark,
#'   ICC(2,1), and `icc_mean` of the mean of all markers, ICC(2,k), both for agreement,
#'   with their 95% F intervals `icc_low`, `icc_high`, `icc_mean_low`, `icc_mean_high`
#'   (Shrout & Fleiss 1979), over the answers that all of them marked; `reason`: why they
#'   are `NA`:
#'   `few_students` (fewer than 5 answers), `same_points` (all marks are the same),
#'   `markers_differ` (fewer than 5 answers were marked by all). `(all)` has no kappa and
#'   no correlation, as the items give different points.
#'
#'   By `"marker"`, a row a marker and item, and one for `(all)`: `marker`, `item`, `n`:
#'   answers that another marked too; `mean_points`: as this one marked them; `stricter`:
#'   by how many points this marker is below the others on the same answers, with its 95%
#'   t interval `stricter_low`, `stricter_high`; below 0: milder.
#'
#'   By `"answer"`, a row an answer on which marks differ by more than a point, or by
#'   more than a quarter of what the item gives, the farthest apart first: `student`,
#'   `name`, `item`, `answer`, `marks` (`marker: points`, `;` between), `apart`, `counts`:
#'   the mark that counts now.
#'
#'   By `"number"`, rows for 1, 2 and 3 markers: `markers`; `n`: students with all marks
#'   of all markers on all items; `items`; `relative`: the generalisability coefficient,
#'   of who stands above whom, and `absolute`: the index of dependability, of how high;
#'   from the variance components of student, item, marker and what they do together
#'   (Brennan 2001), which stand in the attribute `components`; `reason`.
#' @details With three markers or more, agreement is over all pairs of them on an answer.
#' @references Cohen, J. (1968). Weighted kappa. *Psychological Bulletin* 70, 213-220.
#'
#' Shrout, P. E. & Fleiss, J. L. (1979). Intraclass correlations: uses in assessing rater
#' reliability. *Psychological Bulletin* 86, 420-428.
#'
#' Brennan, R. L. (2001). *Generalizability theory*. Springer.
#' @section Errors: `pregunta_error_call` when nothing was marked by two, or `by` is none
#'   of these.
#' @export
#' @examples
#' marked <- data.frame(
#'   student = rep(letters[1:6], each = 2), item = "essay", marker = c("Ames", "Bell"),
#'   points = c(9, 8, 6, 5, 8, 8, 7, 4, 10, 9, 6, 6)
#' )
#' quiz <- sitting(marked, data.frame(item = "essay", type = "mark", points = 10))
#' summarise_markers(quiz)
#' summarise_markers(quiz, "marker")
#' summarise_markers(quiz, "answer")
summarise_markers <- function(sitting, by = "item", marks = NULL) {
  check_is_sitting(sitting)
  given <- marks_of(sitting, marks)
  table <- switch(by,
    item = markers_by_item(sitting, given),
    marker = markers_by_marker(given),
    answer = answers_apart(sitting, given),
    number = number_of_markers(given),
    abort_pregunta(
      "call",
      say("stat-markers.by_what"),
      say("stat-markers.given", by = quoted(as.character(by)[1])),
      NULL
    )
  )
  out <- new_summary(
    table, "markers", sitting$settings, NULL,
    about = by, who = sort(unique(given$marker)),
    components = attr(table, "components")
  )
  out
}

# The marks of answers that two or more gave one: cell, student, item (by number), marker,
# points, most.
marks_of <- function(sitting, marks) {
  if (is.null(marks)) marks <- sitting$marks
  if (!is.null(marks)) {
    require_columns(marks, c("student", "item", "marker", "points"))
    attempt <- if (is.null(marks$attempt)) "" else or_blank(marks$attempt)
    marks <- data.frame(
      cell = paste(marks$student, marks$item, attempt, sep = "\r"),
      student = as.character(marks$student), item = as.character(marks$item),
      marker = as.character(marks$marker), points = as.numeric(marks$points)
    )
    known <- marks$item %in% sitting$items$item & !is.na(marks$points) &
      marks$student %in% sitting$students$student
    marks <- marks[known, , drop = FALSE]
    marks <- marks[!duplicated(marks[c("cell", "marker")], fromLast = TRUE), ]
    times <- table(marks$cell)
    marks <- marks[times[marks$cell] > 1, , drop = FALSE]
    at <- match(marks$item, sitting$items$item)
    marks$most <- sitting$items$points[at]
    marks <- marks[order(at, marks$student, marks$marker), , drop = FALSE]
  }
  if (is.null(marks) || !nrow(marks)) {
    abort_pregunta(
      "call",
      say("stat-markers.nothing_marked_twice"),
      NULL,
      say("stat-markers.add_a_column")
    )
  }
  marks
}

least_marked <- 5 # answers, below which nothing is said of agreement

# All pairs of marks of each answer, one row a pair; the earlier name first.
pairs_of_marks <- function(marks) {
  pieces <- lapply(split(seq_len(nrow(marks)), in_order(marks$cell)), function(rows) {
    both <- utils::combn(rows, 2)
    data.frame(one = both[1, ], two = both[2, ])
  })
  pairs <- do.call(rbind, pieces)
  data.frame(
    cell = marks$cell[pairs$one], item = marks$item[pairs$one],
    one = marks$marker[pairs$one], two = marks$marker[pairs$two],
    a = marks$points[pairs$one], b = marks$points[pairs$two], most = marks$most[pairs$one]
  )
}

# ---- by item ---------------------------------------------------------------------------

markers_by_item <- function(sitting, marks) {
  pairs <- pairs_of_marks(marks)
  items <- unique(marks$item)
  rows <- lapply(items, function(item) {
    mine <- marks[marks$item == item, ]
    agreement_row(item, mine, pairs[pairs$item == item, ])
  })
  table <- do.call(rbind, rows)
  if (length(items) < 2) return(table)
  whole <- table[1, ]
  whole[1, ] <- NA
  whole$item <- whole_code
  whole$n <- length(unique(marks$cell))
  whole$markers <- length(unique(marks$marker))
  whole$points <- sum(table$points)
  whole$equal <- mean(abs(pairs$a - pairs$b) < 1e-9)
  whole$adjacent <- mean(abs(pairs$a - pairs$b) < 1 + 1e-9)
  rbind(whole, table)
}

agreement_row <- function(item, marks, pairs) {
  n <- length(unique(marks$cell))
  apart <- abs(pairs$a - pairs$b)
  kappa <- jackknifed(pairs, weighted_kappa)
  ratings <- marks_by_all(marks)
  icc <- intraclass(ratings)
  reason <- data.table::fcase(
    n < least_marked, "few_students",
    length(unique(marks$points)) == 1, "same_points",
    nrow(ratings) < least_marked, "markers_differ",
    default = NA_character_
  )
  few <- n < least_marked
  bare <- few || reason %in% "same_points"
  data.frame(
    item = item, points = marks$most[1], n = n, markers = length(unique(marks$marker)),
    equal = mean(apart < 1e-9), adjacent = mean(apart < 1 + 1e-9),
    kappa = or_na(kappa$value, bare), kappa_low = or_na(kappa$low, bare),
    kappa_high = or_na(kappa$high, bare),
    lapply(icc, or_na, !is.na(reason)),
    reason = reason
  )
}

# Cohen 1968, by squares of the distance: one less the squares seen over those expected of
# two who mark on their own. Every pair is taken both ways round, as nobody is the first
# marker.
weighted_kappa <- function(pairs) {
  a <- c(pairs$a, pairs$b)
  b <- c(pairs$b, pairs$a)
  two <- length(unique(c(paste(pairs$one, pairs$two)))) == 1
  if (two) {
    a <- pairs$a
    b <- pairs$b
  }
  # The mean square over all pairs of one of a and one of b.
  expected <- mean(a^2) + mean(b^2) - 2 * mean(a) * mean(b)
  if (expected < 1e-12) return(NA_real_)
  1 - mean((a - b)^2) / expected
}

# With its interval by leaving out an answer at a time (Efron & Tibshirani 1993).
jackknifed <- function(pairs, figure) {
  value <- figure(pairs)
  cells <- unique(pairs$cell)
  n <- length(cells)
  if (is.na(value) || n < 3) return(list(value = value, low = NA_real_, high = NA_real_))
  without <- vapply(cells, function(cell) figure(pairs[pairs$cell != cell, ]), 0)
  se <- sqrt((n - 1) / n * sum((without - mean(without))^2))
  half <- stats::qt(upper_tail, n - 1) * se
  list(value = value, low = max(-1, value - half), high = min(1, value + half))
}

# Answers by markers, of the answers that all of them marked.
marks_by_all <- function(marks) {
  cells <- unique(marks$cell)
  who <- unique(marks$marker)
  ratings <- matrix(NA_real_, length(cells), length(who))
  ratings[cbind(match(marks$cell, cells), match(marks$marker, who))] <- marks$points
  ratings[rowSums(is.na(ratings)) == 0, , drop = FALSE]
}

# Shrout & Fleiss 1979, two-way random, agreement: of one marker and of the mean of all.
intraclass <- function(ratings) {
  n <- nrow(ratings)
  k <- ncol(ratings)
  names <- c("icc", "icc_low", "icc_high", "icc_mean", "icc_mean_low", "icc_mean_high")
  none <- stats::setNames(as.list(rep(NA_real_, 6)), names)
  if (n < 2 || k < 2 || stats::sd(ratings) < 1e-9) return(none)
  mean <- mean(ratings)
  rows <- k * sum((rowMeans(ratings) - mean)^2) / (n - 1)
  columns <- n * sum((colMeans(ratings) - mean)^2) / (k - 1)
  rest <- sum((ratings - mean)^2) - rows * (n - 1) - columns * (k - 1)
  error <- rest / ((n - 1) * (k - 1))
  one <- (rows - error) / (rows + (k - 1) * error + k * (columns - error) / n)
  if (error < 1e-12 && columns < 1e-12) {
    return(stats::setNames(as.list(rep(1, 6)), names))
  }
  # Satterthwaite's degrees of freedom, as there.
  a <- k * one / (n * (1 - one))
  b <- 1 + k * one * (n - 1) / (n * (1 - one))
  v <- (a * columns + b * error)^2 /
    ((a * columns)^2 / (k - 1) + (b * error)^2 / ((n - 1) * (k - 1)))
  lower <- stats::qf(upper_tail, n - 1, v)
  upper <- stats::qf(upper_tail, v, n - 1)
  between <- k * columns + (k * n - k - n) * error
  low <- n * (rows - lower * error) / (lower * between + n * rows)
  high <- n * (upper * rows - error) / (between + n * upper * rows)
  of_mean <- function(x) k * x / (1 + (k - 1) * x)
  stats::setNames(
    list(one, low, high, (rows - error) / (rows + (columns - error) / n),
      of_mean(low), of_mean(high)),
    names
  )
}

# ---- by marker, by answer --------------------------------------------------------------

markers_by_marker <- function(marks) {
  sums <- rowsum(cbind(marks$points, 1), marks$cell)
  own <- match(marks$cell, rownames(sums))
  others <- (sums[own, 1] - marks$points) / (sums[own, 2] - 1)
  below <- others - marks$points
  row_of <- function(marker, item, rows) {
    n <- length(rows)
    around <- t_interval(mean(below[rows]), stats::sd(below[rows]), n)
    data.frame(
      marker = marker, item = item, n = n, mean_points = mean(marks$points[rows]),
      stricter = mean(below[rows]), stricter_low = around$low, stricter_high = around$high
    )
  }
  several <- length(unique(marks$item)) > 1
  rows <- lapply(sort(unique(marks$marker)), function(marker) {
    mine <- which(marks$marker == marker)
    by_item <- split(mine, in_order(marks$item[mine]))
    c(
      if (several) list(row_of(marker, whole_code, mine)),
      Map(row_of, marker, names(by_item), by_item)
    )
  })
  table <- do.call(rbind, unlist(rows, recursive = FALSE))
  rownames(table) <- NULL
  table
}

answers_apart <- function(sitting, marks) {
  rows <- lapply(split(seq_len(nrow(marks)), in_order(marks$cell)), function(at) {
    points <- marks$points[at]
    apart <- max(points) - min(points)
    most <- marks$most[at[1]]
    if (apart <= 1 + 1e-9 && apart <= most / 4 + 1e-9) return(NULL)
    said <- paste0(marks$marker[at], ": ", format_plain(points))
    data.frame(
      student = marks$student[at[1]], item = marks$item[at[1]],
      marks = paste(said, collapse = "; "), apart = apart
    )
  })
  table <- do.call(rbind, rows)
  if (is.null(table)) {
    table <- data.frame(
      student = character(), item = character(), marks = character(), apart = numeric()
    )
  }
  who <- match(table$student, sitting$students$student)
  item <- match(table$item, sitting$items$item)
  at <- cbind(who, item)
  table <- data.frame(
    table["student"], name = sitting$students$name[who], table["item"],
    answer = ifelse(
      is_marked(sitting$items$type[item]), NA_character_, cell_answers(sitting)[at]
    ),
    table[c("marks", "apart")],
    counts = cell_points(sitting)[at]
  )
  table <- table[order(-table$apart, item, table$student), , drop = FALSE]
  rownames(table) <- NULL
  table
}

# ---- how many markers it takes
# ------------------------------------------------------------

# Brennan 2001: students, items and markers crossed; of one item students and markers.
number_of_markers <- function(marks) {
  table <- data.frame(
    markers = 1:3, n = 0L, items = length(unique(marks$item)), relative = NA_real_,
    absolute = NA_real_, reason = "markers_differ"
  )
  whole <- crossed_marks(marks)
  n <- dim(whole)[1]
  table$n <- n
  if (n < least_marked) {
    if (length(unique(marks$student)) < least_marked) table$reason <- "few_students"
    return(table)
  }
  parts <- variance_components(whole)
  items <- dim(whole)[2]
  k <- table$markers
  own <- parts[["student"]]
  with_items <- parts[["student:item"]] / items
  relative <- with_items + parts[["student:marker"]] / k + parts[["rest"]] / (items * k)
  absolute <- relative + parts[["item"]] / items + parts[["marker"]] / k +
    parts[["item:marker"]] / (items * k)
  if (own + relative[1] < 1e-12) {
    table$reason <- "same_points"
    return(table)
  }
  table$relative <- own / (own + relative)
  table$absolute <- own / (own + absolute)
  table$reason <- NA_character_
  attr(table, "components") <- parts
  table
}

# Students by items by markers, of the students that all marked on everything.
crossed_marks <- function(marks) {
  students <- unique(marks$student)
  items <- unique(marks$item)
  who <- unique(marks$marker)
  whole <- array(NA_real_, c(length(students), length(items), length(who)))
  at <- cbind(
    match(marks$student, students), match(marks$item, items), match(marks$marker, who)
  )
  whole[at] <- marks$points
  complete <- apply(whole, 1, function(x) !anyNA(x))
  whole[complete, , , drop = FALSE]
}

# From the mean squares; one below 0 is none. With one item what belongs to it cannot be
# told from the rest.
variance_components <- function(x) {
  n <- dim(x)
  grand <- mean(x)
  sum_of <- function(margin) {
    means <- apply(x, margin, mean)
    prod(n[-margin]) * sum((means - grand)^2)
  }
  s <- sum_of(1)
  i <- sum_of(2)
  m <- sum_of(3)
  si <- sum_of(c(1, 2)) - s - i
  sm <- sum_of(c(1, 3)) - s - m
  im <- sum_of(c(2, 3)) - i - m
  rest <- sum((x - grand)^2) - s - i - m - si - sm - im
  square <- function(sum, df) if (df > 0) sum / df else 0
  ms <- list(
    s = square(s, n[1] - 1), i = square(i, n[2] - 1), m = square(m, n[3] - 1),
    si = square(si, (n[1] - 1) * (n[2] - 1)), sm = square(sm, (n[1] - 1) * (n[3] - 1)),
    im = square(im, (n[2] - 1) * (n[3] - 1)),
    rest = square(rest, prod(n - 1))
  )
  if (n[2] == 1) {
    # Two-way: the students by markers are the rest.
    parts <- c(
      student = (ms$s - ms$sm) / n[3], item = 0, marker = (ms$m - ms$sm) / n[1],
      `student:item` = 0, `student:marker` = 0, `item:marker` = 0, rest = ms$sm
    )
    return(pmax(parts, 0))
  }
  parts <- c(
    student = (ms$s - ms$si - ms$sm + ms$rest) / (n[2] * n[3]),
    item = (ms$i - ms$si - ms$im + ms$rest) / (n[1] * n[3]),
    marker = (ms$m - ms$sm - ms$im + ms$rest) / (n[1] * n[2]),
    `student:item` = (ms$si - ms$rest) / n[3],
    `student:marker` = (ms$sm - ms$rest) / n[2],
    `item:marker` = (ms$im - ms$rest) / n[1],
    rest = ms$rest
  )
  pmax(parts, 0)
}
