#' Which whole answers were given, and which wrong ones are one step from right?
#'
#' [summarise_options()] takes answers of several parts apart; here they stay
#' whole. A wrong answer that is one small step from right is named.
#'
#' @param sitting A [sitting()], or a tally made by [tally_responses()].
#' @return A data frame, a row an item and distinct answer, in printed order,
#'   the most frequent first: `item`, `answer` (after normalising; `(blank)`,
#'   `(waiting)`), `state` (`answered`, `blank`, `waiting`: a student may have written
#'   the words in brackets), `key`: whether it is right; `count`, `share` of the students
#'   who were given the item; `points`: what it earns by the key (of `mark` and
#'   `open` items the answer is the points); `like`: the right answer that it is
#'   one step from, and `near_miss`: which step:
#'   * `text`: `spelling` (1 letter added, lost, changed or swapped with its
#'     neighbour, 2 from 8 letters on: optimal string alignment distance);
#'   * `number`: `sign`, `power_of_ten` (up to 1000), `rounding` (the middle of
#'     the key, rounded or cut to fewer places);
#'   * `multiple`: `missing:C` or `extra:B`;
#'   * `order`: `swapped:A;B`; `match`: `swapped:1;2`, `missing:3`.
#' @seealso [suggest_accepts()] for the near misses of text items as changes.
#' @export
#' @examples
#' answers <- summarise_answers(read_sitting(demo_path()))
#' subset(answers, !is.na(near_miss) & count > 2, c(item, answer, count, like, near_miss))
summarise_answers <- function(sitting) {
  tally <- as_tally(sitting, NULL)
  table <- answers_at(tally, seq_len(nrow(tally$about$items)))
  new_summary(table, "answers", tally$about$settings, NULL)
}

# Of the items that stand at these places.
answers_at <- function(tally, places) {
  do.call(
    rbind,
    lapply(places, function(j) {
      here <- which(tally$sums$item == j)
      here <- here[order(tally$sums$code[here])]
      whole_answers(
        tally$about$items[j, ],
        tally$cells[[j]],
        tally$sums$code[here],
        tally$sums$count[here]
      )
    })
  )
}

# What stands where an answer would, in the tables of options and answers. What it is
# says the column state: a student may have written the same.
state_labels <- c(blank = "(blank)", waiting = "(waiting)")

# For people: an answer that is spelled like one of them stands in quotes.
shown_answer <- function(answer, state) {
  marks <- all_words("state_marks")
  alike <- state == "answered" & answer %in% c(state_labels, marks)
  said <- ifelse(alike, quoted(answer), answer)
  marked <- state %in% names(marks)
  said[marked] <- marks[state[marked]]
  said
}

# The answers of all cells for people to read, students by items.
shown_cells <- function(sitting) {
  state <- cell_state_names[cell_states(sitting)]
  is_blank <- state %in% c("omitted", "not_reached")
  answers <- cell_answers(sitting)
  answers[] <- shown_answer(
    answers,
    ifelse(is_blank, "blank", "answered")
  )
  answers
}

# Wrong answers that were given; no blank and nothing that waits for a mark.
is_wrong <- function(table) !table$key & table$state == "answered"

# The answers of one item, of the codes that somebody has.
whole_answers <- function(item, cells, code, count) {
  keep <- !cells$state[code] %in% c("not_given", "excused")
  code <- code[keep]
  type <- item_type(item$type)
  by_hand <- is.null(type$read_key)
  answer <- if (by_hand) {
    format_plain(cells$points[code])
  } else {
    cells$answer[code]
  }
  state <- rep("answered", length(code))
  state[is.na(answer)] <- "waiting"
  state[cells$state[code] %in% c("omitted", "not_reached")] <- "blank"
  answer[state != "answered"] <- state_labels[state[state != "answered"]]
  kind <- paste(state, answer, sep = "\r")
  first <- which(!duplicated(kind))
  distinct <- answer[first]
  state <- state[first]
  sums <- as.vector(rowsum(count[keep], match(kind, kind[first])))
  real <- state == "answered"
  keyed <- !by_hand && !is.na(item$key)
  key <- if (keyed) type$read_key(item$key)
  share <- rep(NA_real_, length(distinct))
  if (keyed) {
    share[real] <- type$share(distinct[real], key, item$scoring)
  }
  if (by_hand) {
    share[real] <- read_number(distinct[real]) / item$points
  }
  right <- (share > 1 - 1e-9) %in% TRUE
  near_misses <- if (keyed) {
    near_misses_of(type, distinct, real & !right, key)
  } else {
    no_near_misses(distinct)
  }
  table <- frame_of(
    list(
      item = rep(item$item, length(distinct)),
      answer = distinct,
      key = right,
      count = sums,
      share = sums / sum(sums),
      points = share * item$points,
      like = near_misses$like,
      near_miss = near_misses$near_miss,
      state = state
    )
  )
  table[
    order(!real, -table$count, table$answer, method = "radix"),
  ]
}

#' Near misses as changes that can be made
#'
#' @inheritParams what_if
#' @return A data frame, a row a wrong answer of a text item that is nearly an
#'   accepted one: `item`, `value` (the answer), `like`, `count`, `action`
#'   ("accept"). Look through it, keep the rows that are right, and hand them to
#'   [adjust()] or [what_if()].
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' near <- suggest_accepts(quiz)
#' near
#' chosen <- subset(near, like == "ebb")
#' adjust(quiz, chosen$action,
#'   item = chosen$item, value = chosen$value, reason = "spelling") |>
#'   summarise_items() |> subset(item == "Q17", difficulty)
suggest_accepts <- function(sitting) {
  answers <- summarise_answers(sitting)
  near <- answers[answers$near_miss %in% "spelling", ]
  data.frame(
    item = near$item,
    value = near$answer,
    like = near$like,
    count = near$count,
    action = rep("accept", nrow(near))
  )
}
