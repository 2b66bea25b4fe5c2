#' How long did the questions take, and how many tries?
#'
#' @inheritParams what_if
#' @param by `NULL` for a row an item, `"student"` for a row a student.
#' @return Without `by` a data frame, a row an item in printed order: `item`;
#'   `n`: answers whose time is known; `median_seconds`; `slowest_seconds` and
#'   `slowest`: the longest time and whose it was; `too_fast`: answers given
#'   sooner than anybody can read the question, and `too_fast_below`: how many
#'   seconds that is; `tried`: students who answered it in any attempt; `tries`:
#'   their mean number of attempts at it; `right_at_once`: share of them who
#'   were right in their first; `tries_until_right`: median number of the attempt
#'   that was first right, among those who were; `never_right`: number of the
#'   others. With `by = "student"` a row a student who sat the test: `student`,
#'   `name`, `section`, `seconds` of the attempt that counts, `median_seconds` of
#'   its answers, `slowest_seconds` and `slowest` item, `too_fast` answers,
#'   `attempts`, `right_at_once`, `tries_until_right` (mean over the items that
#'   were right in the end), `never_right` items.
#' @section Too fast to read: The words of the question and of its options,
#'   divided by the threshold `words_per_second` (7 by default: 420 words a
#'   minute; adults read about 240 and children fewer, Brysbaert 2019). `NA`
#'   for an item without its wording.
#' @section What is NA: times where the data hold no seconds; they are those of
#'   the attempt that counts, of answers, not of blanks. Tries are over all
#'   attempts; an item nobody tried has none.
#' @references Brysbaert, M. (2019). How many words do we read per minute?
#' *Journal of Memory and Language* 109, 104047.
#' @export
#' @examples
#' again <- read_sitting(demo_path("follow-up"))
#' summarise_time(again)
#' summarise_time(again, by = "student") |> head(3)
summarise_time <- function(sitting, by = NULL) {
  check_is_sitting(sitting)
  if (!is.null(by) && !identical(by, "student")) {
    abort_pregunta(
      "call",
      say("stat-time.times_are_summed_up"),
      say("stat-time.given", by = by[1]),
      say("stat-time.leave_by_out_or")
    )
  }
  seconds <- answer_seconds(sitting)
  least <- reading_seconds(sitting)
  tries <- tries_by_cell(sitting)
  table <- if (is.null(by)) {
    item_times(sitting, seconds, least, tries)
  } else {
    student_times(sitting, seconds, least, tries)
  }
  new_summary(table, "time", sitting$settings, by)
}

# Seconds of the answers that count, students by items.
answer_seconds <- function(sitting) {
  out <- matrix(
    NA_real_,
    nrow(sitting$codes),
    ncol(sitting$codes)
  )
  timed <- sitting$handed_in$rows$timed
  if (is.null(timed)) return(out)
  row <- sitting$source$row
  out[seq_along(row), ] <- timed[row, , drop = FALSE]
  states <- cell_states(sitting)
  out[!matrix(cell_state_names[states] %in% c("answered", "pending"), nrow(out))] <- NA
  out
}

# The seconds that reading each question takes at the very least.
reading_seconds <- function(sitting) {
  words <- function(text) {
    words <- strsplit(trimws(text), "[[:space:]]+")
    ifelse(is.na(text), 0, lengths(words))
  }
  options <- sitting$options
  offered <- tapply(
    words(options$text),
    factor(options$item, sitting$items$item),
    sum
  )
  asked <- words(sitting$items$prompt)
  offered[is.na(offered)] <- 0
  speed <- sitting$settings$thresholds$words_per_second
  ifelse(asked > 0, (asked + offered) / speed, NA) |>
    as.vector()
}

item_times <- function(sitting, seconds, least, tries) {
  over <- function(f) {
    apply(seconds, 2, function(x) {
      if (all(is.na(x))) NA_real_ else f(x[!is.na(x)])
    })
  }
  tried <- colSums(!is.na(tries$tries))
  at_once <- colSums(tries$first_right == 1, na.rm = TRUE)
  slowest <- apply(seconds, 2, function(x) {
    if (all(is.na(x))) NA_character_ else sitting$students$student[which.max(x)]
  })
  timed <- colSums(!is.na(seconds))
  below <- sweep(seconds, 2, least, `<`)
  right <- tries$first_right
  data.frame(
    item = sitting$items$item,
    n = timed,
    median_seconds = over(stats::median),
    slowest_seconds = over(max),
    slowest = slowest,
    too_fast = too_fast(
      colSums(below, na.rm = TRUE),
      timed,
      least
    ),
    too_fast_below = least,
    tried = tried,
    tries = ifelse(
      tried > 0,
      colMeans(tries$tries, na.rm = TRUE),
      NA
    ),
    right_at_once = ifelse(tried > 0, at_once / tried, NA),
    tries_until_right = apply(right, 2, function(x) {
      if (all(is.na(x))) {
        NA_real_
      } else {
        as.numeric(stats::median(x, na.rm = TRUE))
      }
    }),
    never_right = tried - colSums(!is.na(right))
  )
}

too_fast <- function(count, timed, least) {
  ifelse(timed > 0 & !is.na(least), count, NA)
}

student_times <- function(sitting, seconds, least, tries) {
  present <- which(was_present(sitting))
  seconds <- seconds[present, , drop = FALSE]
  own <- lapply(tries, function(part) part[present, , drop = FALSE])
  over <- function(f) {
    apply(seconds, 1, function(x) {
      if (all(is.na(x))) NA_real_ else f(x[!is.na(x)])
    })
  }
  tried <- rowSums(!is.na(own$tries))
  people <- sitting$students[present, ]
  whole <- if (is.null(people$seconds)) {
    rep(NA_real_, length(present))
  } else {
    people$seconds
  }
  right <- rowSums(!is.na(own$first_right))
  below <- sweep(seconds, 2, least, `<`)
  timed <- rowSums(!is.na(seconds))
  attempts <- suppressWarnings(apply(own$tries, 1, max, na.rm = TRUE))
  at_once <- rowSums(own$first_right == 1, na.rm = TRUE)
  data.frame(
    people[c("student", "name", "section")],
    seconds = whole,
    median_seconds = over(stats::median),
    slowest_seconds = over(max),
    slowest = apply(seconds, 1, function(x) {
      if (all(is.na(x))) NA_character_ else sitting$items$item[which.max(x)]
    }),
    too_fast = too_fast(
      rowSums(below, na.rm = TRUE),
      timed,
      max(least)
    ),
    attempts = finite_or_na(attempts),
    right_at_once = ifelse(tried > 0, at_once / tried, NA),
    tries_until_right = ifelse(
      right > 0,
      rowMeans(own$first_right, na.rm = TRUE),
      NA
    ),
    never_right = tried - right
  )
}

finite_or_na <- function(x) ifelse(is.finite(x), x, NA)
