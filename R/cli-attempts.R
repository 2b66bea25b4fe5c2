# Attempts, times and the reasons students wrote, in the terminal.

run_attempts <- function(call) {
  attempts <- view_asked(
    view_attempts,
    call,
    read_for_figures(call)
  )
  put_out(call, attempts, show_attempts)
}

run_time <- function(call) {
  times <- view_asked(
    view_time,
    call,
    read_for_figures(call),
    by = call$by
  )
  put_out(call, times, show_time)
}

run_explanations <- function(call) {
  sitting <- read_for_figures(call)
  said <- view_asked(
    view_explanations,
    call,
    sitting,
    names = !call$`no-names`
  )
  if (!nrow(said)) tell_user(say("cli-attempts.no_explanations_a_column"))
  n <- reasons_elsewhere(sitting)
  if (n) tell_user(say("cli-attempts.reasons_elsewhere", n = n))
  put_out(
    call,
    said,
    function(said) show_explanations(said, sitting)
  )
}

#' @export
print.pregunta_attempts <- function(x, ...) {
  print_lines(x, show_attempts)
}

#' @export
print.pregunta_time <- function(x, ...) print_lines(x, show_time)

#' @export
print.pregunta_explanations <- function(x, ...) {
  print_lines(x, show_explanations)
}

# Students with one attempt only are counted, not listed.
show_attempts <- function(attempts) {
  again <- tried_again(attempts)
  c(
    if (nrow(again)) c(attempt_table(again), ""),
    wrap_lines(say_attempts(attempts))
  )
}

attempt_table <- function(again) {
  seconds <- function(x) or_blank(x, paste(round_half_up(x), "s"))
  sign <- ifelse(again$change < -1e-9, "\u2212", "+")
  change <- paste0(sign, percent(abs(again$change)))
  is_first <- again$attempt == 1 | is.na(again$change)
  counts <- ifelse(again$counts, say("cli-attempts.counts"), "")
  format_table(
    text_column("student", again$student, shrink = TRUE),
    if (!all(is.na(again$name))) text_column("name", again$name, shrink = TRUE),
    text_column("attempt", again$attempt, "right"),
    gauge_column("score", again$share, colour = "teal"),
    text_column("points", points_of_open(again), "right"),
    text_column(
      "since_the_first",
      ifelse(is_first, "", change),
      "right"
    ),
    if (!is.null(again$seconds)) {
      text_column("time", seconds(again$seconds), "right")
    },
    if (!is.null(again$submitted)) {
      text_column(
        "handed_in",
        short_times(again$submitted),
        shrink = TRUE
      )
    },
    text_column("", counts, colour = "teal")
  )
}

# The clock alone when all is of one day.
short_times <- function(written) {
  time <- read_time(written)
  days <- unique(as.Date(time[!is.na(time)]))
  form <- if (length(days) < 2) "%H:%M" else "%d %b %H:%M"
  ifelse(is.na(time), written, format(time, form))
}

show_time <- function(times) {
  by_student <- identical(attr(times, "by"), "student")
  timed <- any(!is.na(times$median_seconds))
  tries <- if (by_student) times$attempts else times$tries
  again <- any(tries > 1, na.rm = TRUE)
  lines <- format_table(
    if (by_student) person_columns(times[setdiff(names(times), "section")]),
    if (!by_student) text_column("item", times$item),
    if (!by_student) text_column("n", times$tried, "right"),
    if (timed) clock_columns(times, by_student),
    if (again) try_columns(times, by_student)
  )
  c(
    lines, "", wrap_lines(say_times(times, by_student, timed, again))
  )
}

clock_columns <- function(times, by_student) {
  seconds <- function(x) {
    ifelse(is.na(x), "\u2013", paste(round_half_up(x), "s"))
  }
  slowest <- paste(
    seconds(times$slowest_seconds),
    in_parentheses(times$slowest)
  )
  too_fast <- ifelse(times$too_fast %in% 0, NA, "ochre")
  list(
    if (by_student) text_column("whole", say_time_of(times$seconds), "right"),
    text_column("median", seconds(times$median_seconds), "right"),
    text_column("slowest", slowest, "right"),
    text_column(
      "too_fast",
      or_else(times$too_fast, "\u2013"),
      "right",
      colour = too_fast
    )
  )
}

try_columns <- function(times, by_student) {
  list(
    if (by_student) text_column("attempts", times$attempts, "right"),
    if (!by_student) number_column("tries", times$tries, 1),
    share_column("at_once", times$right_at_once),
    number_column("until_right", times$tries_until_right, 1),
    text_column("never", times$never_right, "right")
  )
}

say_time_of <- function(seconds) {
  vapply(
    seconds,
    function(x) if (is.na(x)) "\u2013" else say_time(x),
    ""
  )
}

# By question and answer, the right answers first: to read out, or to read alone.
show_explanations <- function(said, sitting = NULL) {
  answer <- paste(said$item, said$option, sep = "\r")
  sets <- split_in_order(seq_len(nrow(said)), answer)
  lines <- lapply(sets, function(rows) {
    at <- rows[1]
    new_item <- at == 1 || said$item[at] != said$item[at - 1]
    c(
      if (new_item && at > 1) "",
      if (new_item) bold_line(option_heading(said$item[at], sitting$items)),
      explained_answer(said[at, ], sitting$options),
      say_reasons(said[rows, ])
    )
  })
  unlist(lines, use.names = FALSE)
}

# The answer that reasons are about, with what it says where it is printed.
explained_answer <- function(said, options) {
  right <- said$key %in% TRUE
  printed <- options$item %in% said$item & options$option %in% said$option
  sign <- if (right) "\u2713" else " "
  line <- paste(c(sign, said$option), collapse = " ")
  text <- options$text[printed]
  if (length(text) && !is.na(text[1])) {
    line <- paste0(line, "  ", text[1])
  }
  paint(printable(line), if (right) "teal" else "faint")
}

# What several wrote in the same words is said once.
say_reasons <- function(said) {
  sets <- split_in_order(seq_len(nrow(said)), said$explanation)
  sets <- sets[order(-lengths(sets))]
  lines <- lapply(sets, function(rows) {
    who <- if (!is.null(said$student)) {
      join_some(name_or_id(said[rows, ]), 3)
    } else if (length(rows) > 1) {
      say("cli-attempts.students", n = length(rows))
    }
    by <- if (length(who)) in_parentheses(who)
    text <- paste(
      c("\u2013", said$explanation[rows[1]], by),
      collapse = " "
    )
    wrap_lines(text, 4, 6)
  })
  unlist(lines, use.names = FALSE)
}
