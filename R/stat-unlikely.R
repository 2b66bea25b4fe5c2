#' Whose answers does the model of the test not expect?
#'
#' A student who misses easy questions and gets hard ones right, and two students whose
#' answers are more alike than their standing makes them. There are many good reasons for
#' either: another way of reading, a form in another order, a late start, a friend to
#' learn with. It is a place to look, and says nothing of anybody.
#'
#' @inheritParams summarise_scale
#' @return `summarise_patterns()`: a data frame, a row a student, in the order of the
#'   sitting: `student`, `name`, `section`; `items`: placed items with points; `share` of
#'   their points; `lz`: how likely the answers are at the student's place, in standard
#'   deviations, low is unlikely (Snijders 2001); `p`: the chance of answers as unlikely
#'   or more so among all that earn the same, exactly, corrected for the number of
#'   students (Holm 1979); `pattern`: `unlikely` below .05, else `none_seen`;
#'   `right_though_hard`,
#'   `wrong_though_easy`: the up to three items that make it so, `;` between; `reason`:
#'   why it is `NA`: `absent`, `no_place`, `few_students` (fewer than 50), `few_items`
#'   (fewer than 20 placed), `all_right` or `none_right` by the student: then there is one
#'   way only.
#'
#'   `summarise_alike()`: a row a pair of students whose answers are alike beyond chance,
#'   the surest first; pairs of one section, or of all where there are no sections:
#'   `student`, `other`, their names, `section`; `items`: choice items that both answered;
#'   `same`:
#'   answers that are the same, `same_wrong` of them wrong, `expected`: how many of the
#'   same are expected of two who stand there; `p`: of so many or more, corrected for the
#'   number of pairs (Holm 1979), at most .05. No rows is the usual case. Its attributes
#'   `pairs` and `reason` say how many were looked at, and why none.
#' @details Patterns: the conditional distribution given the score of the partial credit
#'   model, which knows nothing of the student's place (Molenaar & Hoijtink 1990), by its
#'   logarithm in bins of .01. Pairs: with the answers of the one as given, each of the
#'   other's is the same with the chance that the model gives the right answer at his
#'   place, or with what is left of it times the answer's share among the wrong ones
#'   (Wollack 1997, with these chances for those of a nominal model); the number of the
#'   same is compared with its exact distribution, the larger p of the two ways round
#'   counts.
#'
#'   In a test without any such thing a student, or a pair, is named in at most 1 of 20
#'   tests: fewer than 1 of 1,000 students or pairs.
#' @references Molenaar, I. W. & Hoijtink, H. (1990). The many null distributions of
#' person fit indices. *Psychometrika* 55, 75-106.
#'
#' Snijders, T. A. B. (2001). Asymptotic null distribution of person fit statistics with
#' estimated person parameter. *Psychometrika* 66, 331-342.
#'
#' Wollack, J. A. (1997). A nominal response model approach for detecting answer copying.
#' *Applied Psychological Measurement* 21, 307-320.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' summarise_patterns(quiz) |> subset(pattern == "unlikely")
#' summarise_alike(quiz)
summarise_patterns <- function(sitting) {
  check_is_sitting(sitting)
  data <- scale_data(sitting, 30)
  scale <- fit_scale(data)
  new_summary(patterns_table(sitting, data, scale), "patterns", sitting$settings, NULL)
}

least_for_patterns <- 50
least_items_for_patterns <- 20

patterns_table <- function(sitting, data, scale) {
  n <- nrow(sitting$students)
  table <- data.frame(
    sitting$students[c("student", "name", "section")],
    items = NA_integer_, share = NA_real_, lz = NA_real_, p = NA_real_,
    pattern = NA_character_, right_though_hard = NA_character_,
    wrong_though_easy = NA_character_,
    reason = ifelse(was_present(sitting), "no_place", "absent")
  )
  if (length(data$present) < least_for_patterns) {
    table$reason[data$present] <- "few_students"
    return(table)
  }
  for (pattern in scale$patterns) {
    rows <- pattern$rows
    numbers <- scale$number[pattern$items]
    table$items[rows] <- length(numbers)
    table$share[rows] <- row_scores(
      sitting$codes[rows, , drop = FALSE], sitting$cells, numbers
    )$share
    if (length(numbers) < least_items_for_patterns) {
      table$reason[rows] <- "few_items"
      next
    }
    easiness <- scale$easiness[pattern$items]
    category <- data$category[rows, numbers, drop = FALSE]
    place <- places_of_scores(easiness)$place[pattern$score + 1]
    logs <- Reduce(`+`, lapply(seq_along(numbers), function(j) {
      c(0, easiness[[j]])[category[, j] + 1]
    }))
    table$lz[rows] <- corrected_lz(category, easiness, place)
    table$p[rows] <- pattern_p(easiness, pattern$score, logs, 0.01)
    table$reason[rows] <- NA
    ends <- pattern$score == 0 | pattern$score == sum(lengths(easiness))
    none <- pattern$score[ends] == 0
    table$reason[rows][ends] <- ifelse(none, "none_right", "all_right")
    table[rows[ends], c("lz", "p")] <- NA
    odd <- odd_answers(category, easiness, place, sitting$items$item[numbers])
    table$right_though_hard[rows] <- odd$right
    table$wrong_though_easy[rows] <- odd$wrong
  }
  table$p <- stats::p.adjust(table$p, "holm")
  table$pattern <- c("none_seen", "unlikely")[1 + (table$p < 0.05)]
  none <- !table$pattern %in% "unlikely"
  table[none, c("right_though_hard", "wrong_though_easy")] <- NA
  table
}

# Snijders 2001, for places by weighted likelihood: what the estimated place takes out of
# the spread of the likelihood is put right.
corrected_lz <- function(category, easiness, place) {
  moments <- item_moments(easiness, place)
  logs <- Map(function(one, j) {
    chances <- category_chances(one, place)
    list(
      own = log(chances)[cbind(category[, j] + 1, seq_along(place))],
      mean = colSums(chances * log(chances)),
      square = colSums(chances * log(chances)^2),
      with = colSums(chances * log(chances) * (seq_len(nrow(chances)) - 1))
    )
  }, easiness, seq_along(easiness))
  sum_of <- function(parts, field) Reduce(`+`, lapply(parts, `[[`, field))
  own <- sum_of(logs, "own") - sum_of(logs, "mean")
  var <- Reduce(`+`, lapply(logs, function(one) one$square - one$mean^2))
  with <- Reduce(`+`, Map(function(one, m) one$with - one$mean * m$mean, logs, moments))
  information <- sum_of(moments, "var")
  third <- sum_of(moments, "third")
  c_n <- with / information
  (own + c_n * third / (2 * information)) /
    sqrt(pmax(var - c_n^2 * information, 1e-12))
}

# The items that are farthest from what is expected, up to three each way.
odd_answers <- function(category, easiness, place, items) {
  expected <- vapply(item_moments(easiness, place), `[[`, place, "mean")
  most <- lengths(easiness)
  dim(expected) <- dim(category)
  away <- sweep(category - expected, 2, most, `/`)
  named <- function(row, sign) {
    far <- order(-sign * away[row, ])
    far <- far[sign * away[row, far] > 0.5]
    if (!length(far)) return(NA_character_)
    paste(items[utils::head(far, 3)], collapse = ";")
  }
  rows <- seq_along(place)
  list(
    right = vapply(rows, named, "", sign = 1), wrong = vapply(rows, named, "", sign = -1)
  )
}

# ---- pairs
# -------------------------------------------------------------------------------

most_in_pairs <- 3000 # students of one group who are set beside each other

#' @rdname summarise_patterns
#' @export
summarise_alike <- function(sitting) {
  check_is_sitting(sitting)
  data <- scale_data(sitting, 30)
  scale <- fit_scale(data)
  found <- pairs_alike(sitting, data, scale)
  new_summary(
    found$table, "alike", sitting$settings, NULL,
    pairs = found$pairs, reason = found$reason
  )
}

pairs_alike <- function(sitting, data, scale) {
  chosen <- scale$number[is_chosen_item(sitting, scale$number) & scale$most == 1]
  none <- data.frame(
    student = character(), other = character(), name = character(),
    other_name = character(), section = character(), items = integer(), same = integer(),
    same_wrong = integer(), expected = numeric(), p = numeric()
  )
  reason <- data.table::fcase(
    length(data$present) < least_for_patterns, "few_students",
    length(chosen) < least_items_for_patterns, "few_items",
    default = NA_character_
  )
  if (!is.na(reason)) return(list(table = none, pairs = 0, reason = reason))
  place <- rep(NA_real_, nrow(sitting$students))
  all <- places_of_all(scale)
  place[all$rows] <- all$place
  people <- all$rows
  answers <- answers_given(sitting, chosen)
  easiness <- unlist(scale$easiness[match(chosen, scale$number)])
  chance_right <- stats::plogis(outer(place, easiness, `+`))
  right <- data$category[, chosen, drop = FALSE] > 0
  wrong_share <- shares_of_wrong(answers, right, people)
  sections <- sitting$students$section[people]
  sections[is.na(sections)] <- ""
  groups <- Filter(function(rows) {
    length(rows) > 1 && length(rows) <= most_in_pairs
  }, split(people, sections))
  pieces <- lapply(groups, function(rows) {
    pairs_of_group(rows, answers, right, chance_right, wrong_share)
  })
  pairs <- sum(vapply(groups, function(rows) choose(length(rows), 2), 0))
  found <- do.call(rbind, pieces)
  if (is.null(found) || !nrow(found)) {
    return(list(table = none, pairs = pairs, reason = NA))
  }
  found$p <- stats::p.adjust(found$p, "holm", n = pairs)
  found <- found[found$p < 0.05, , drop = FALSE]
  found <- found[order(found$p), , drop = FALSE]
  who <- sitting$students
  table <- data.frame(
    student = who$student[found$one], other = who$student[found$two],
    name = who$name[found$one], other_name = who$name[found$two],
    section = who$section[found$one],
    found[c("items", "same", "same_wrong", "expected", "p")]
  )
  list(table = table, pairs = pairs, reason = NA)
}

is_chosen_item <- function(sitting, numbers) {
  vapply(sitting$items$type[numbers], function(type) {
    item_type(type)$answer == "chosen"
  }, TRUE)
}

# The answers to some items, NA where none was given.
answers_given <- function(sitting, numbers) {
  answers <- vapply(numbers, function(j) {
    cell <- sitting$cells[[j]]
    given <- ifelse(cell$state == "answered", cell$answer, NA_character_)
    given[sitting$codes[, j]]
  }, character(nrow(sitting$codes)))
  dim(answers) <- c(nrow(sitting$codes), length(numbers))
  answers
}

# Of each item the share of each wrong answer among the wrong ones.
shares_of_wrong <- function(answers, right, people) {
  lapply(seq_len(ncol(answers)), function(j) {
    wrong <- answers[people, j][!right[people, j] & !is.na(answers[people, j])]
    counts <- table(wrong)
    # As if one more had chosen each: none is impossible.
    stats::setNames((as.vector(counts) + 1) / sum(counts + 1), names(counts))
  })
}

# The pairs that are far beyond what is expected, with their exact p; the rest have no
# place in what Holm's correction asks about.
pairs_of_group <- function(rows, answers, right, chance_right, wrong_share) {
  n <- length(rows)
  k <- ncol(answers)
  same <- same_wrong <- both <- matrix(0, n, n)
  mean <- var <- matrix(0, n, n) # of the row's answers, those of the column as given
  chance_of <- function(j) {
    given <- answers[rows, j]
    own <- chance_right[rows, j]
    share <- ifelse(right[rows, j], NA, wrong_share[[j]][given])
    list(given = given, own = own, share = share, right = right[rows, j])
  }
  for (j in seq_len(k)) {
    one <- chance_of(j)
    code <- match(one$given, unique(one$given))
    code[is.na(one$given)] <- NA
    there <- outer(!is.na(code), !is.na(code))
    equal <- outer(code, code, `==`)
    equal[is.na(equal)] <- FALSE
    chance <- chances_between(one) * there
    chance[is.na(chance)] <- 0
    both <- both + there
    same <- same + equal
    same_wrong <- same_wrong + equal * outer(!one$right, !one$right)
    mean <- mean + chance
    var <- var + chance * (1 - chance)
  }
  z <- (same - mean) / sqrt(pmax(var, 1e-9))
  # The exact p of both ways, where the normal one is small both ways.
  upper <- upper.tri(z)
  far <- which(upper & pmin(z, t(z)) > 2.5, arr.ind = TRUE)
  if (!nrow(far)) return(NULL)
  exact <- function(row, column) {
    chances <- vapply(seq_len(k), function(j) {
      one <- chance_of(j)
      own <- ifelse(
        one$right[column], one$own[row], (1 - one$own[row]) * one$share[column]
      )
      own[is.na(one$given[row]) | is.na(one$given[column]) | is.na(own)] <- 0
      own
    }, numeric(length(row)))
    dim(chances) <- c(length(row), k)
    at_least(same[cbind(row, column)], chances)
  }
  data.frame(
    one = rows[far[, 1]], two = rows[far[, 2]], items = as.integer(both[far]),
    same = as.integer(same[far]), same_wrong = as.integer(same_wrong[far]),
    expected = pmax(mean[far], mean[far[, 2:1, drop = FALSE]]),
    p = pmax(exact(far[, 1], far[, 2]), exact(far[, 2], far[, 1]))
  )
}

# The chance that the student of the row gives the answer that the one of the column gave.
chances_between <- function(one) {
  wrong <- outer(1 - one$own, one$share)
  is_right <- matrix(one$right, length(one$own), length(one$own), byrow = TRUE)
  ifelse(is_right, one$own, wrong)
}
