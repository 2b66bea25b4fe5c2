#' Who guessed, and who is wrong in one direction?
#'
#' Two ways to be wrong that ask for different help: a student who guesses picks
#' wrong options anyhow, one who holds a misconception picks those that stand
#' for it.
#'
#' @inheritParams review_key
#' @return A data frame, a row a student present: `student`, `name`, `section`;
#'   `n`: choice items answered (those with options listed and a key); `right`;
#'   `expected`: how many pure guessing would get right; `p_guess`: how likely
#'   guessing is to get as many right or more; `wrong`; `coded`: wrong answers
#'   that stand for a misconception; `coded_expected`: how many would if wrong
#'   options were picked anyhow; `p_coded`: how likely as many or more are then,
#'   `NA` when no wrong answer could carry a code; `reads_as`: `too_few`
#'   (under 8 items), `one_direction` (`p_coded` below .05), `could_be_guessing`
#'   (`p_guess` .05 or more), else `better_than_guessing`.
#'
#'   Both probabilities are exact: the number right of independent trials with
#'   unequal chances (Poisson 1837), 1 of the options listed, or as many as the
#'   key names.
#' @references
#' Poisson, S. D. (1837). *Recherches sur la probabilité des jugements*. Bachelier.
#' @export
#' @examples
#' guessing <- summarise_guessing(read_sitting(demo_path()))
#' table(guessing$reads_as)
summarise_guessing <- function(sitting) {
  check_is_sitting(sitting)
  present <- which(was_present(sitting))
  chances <- option_chances(sitting)
  answers <- cell_answers(sitting)[present, chances$item, drop = FALSE]
  answered <- cell_states(sitting)[present, chances$item, drop = FALSE] == match(
    "answered",
    cell_state_names
  )
  among <- function(sets) {
    hit <- unlist(lapply(seq_along(sets), function(k) {
      answers[, k] %in% sets[[k]]
    }))
    matrix(as.logical(hit), length(present), length(sets)) &
      answered
  }
  right <- among(chances$right)
  coded <- among(chances$coded)
  wrong <- answered & !right
  by_guess <- trial_tail(answered, chances$share, rowSums(right))
  by_idea <- trial_tail(
    wrong,
    chances$coded_share,
    rowSums(coded)
  )
  n <- rowSums(answered)
  expected <- as.vector(answered %*% chances$share)
  coded_expected <- as.vector(wrong %*% chances$coded_share)
  p_coded <- ifelse(coded_expected > 0, by_idea, NA_real_)
  table <- data.frame(
    sitting$students[present, c("student", "name", "section")],
    n = n,
    right = rowSums(right),
    expected = expected,
    p_guess = by_guess,
    wrong = rowSums(wrong),
    coded = rowSums(coded),
    coded_expected = coded_expected,
    p_coded = p_coded,
    reads_as = data.table::fcase(
      n < least_guessed, "too_few",
      p_coded < 0.05, "one_direction",
      by_guess >= 0.05, "could_be_guessing",
      default = "better_than_guessing"
    )
  )
  new_summary(table, "guessing", sitting$settings, NULL)
}

least_guessed <- 8

# The choice items with listed options: the share of them that is right, and of
# the wrong ones the share that carries a code.
option_chances <- function(sitting) {
  items <- sitting$items
  options <- sitting$options
  listed <- table(factor(options$item, items$item))
  at <- which(
    is_answered(items$type, "chosen") &
      !is.na(items$key) &
      listed > 1 &
      !items$item %in% dropped_items(sitting)
  )
  offered <- split(options$option, factor(options$item, items$item))[at]
  right <- right_options(items[at, ])
  with_code <- options[!is.na(options$misconception), ]
  coded <- Map(
    setdiff,
    split(with_code$option, factor(with_code$item, items$item))[at],
    right
  )
  share <- as.numeric(
    lengths(Map(intersect, right, offered)) / lengths(offered)
  )
  n_wrong <- lengths(offered) * (1 - share)
  coded_share <- ifelse(n_wrong > 0, lengths(coded) / n_wrong, 0)
  list(
    item = at,
    right = right,
    coded = coded,
    share = share,
    coded_share = as.numeric(coded_share)
  )
}

# P(S >= observed) where S counts the successes of the trials a student had,
# each with its own chance.
trial_tail <- function(tried, chance, observed) {
  n <- nrow(tried)
  mass <- matrix(0, n, ncol(tried) + 1)
  mass[, 1] <- 1
  for (j in seq_len(ncol(tried))) {
    p <- tried[, j] * chance[j]
    mass[, -1] <- mass[, -1] * (1 - p) + mass[, -ncol(mass)] * p
    mass[, 1] <- mass[, 1] * (1 - p)
  }
  rowSums(mass * (col(mass) - 1 >= observed))
}
