# Attempts, times and the reasons students wrote, in the terminal.

run_attempts <- function(call) {
  sitting <- read_for_figures(call)
  put_out(
    call,
    shown_rows(call, summarise_attempts(sitting)),
    show_attempts
  )
}

run_time <- function(call) {
  sitting <- read_for_figures(call)
  if (!is.null(call$student)) call$by <- "student"
  times <- summarise_time(sitting, call$by)
  put_out(call, shown_rows(call, times), show_time)
}

run_explanations <- function(call) {
  sitting <- read_for_figures(call)
  said <- shown_rows(call, summarise_explanations(sitting))
  if (call$`no-names`) said[c("student", "name")] <- NULL
  if (!nrow(said)) {
    message(
      say("cli-attempts.no_explanations_a_column")
    )
  }
  put_out(call, said, function(said) show_explanations(said, sitting))
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
  again <- attempts[attempts$student %in% attempts$student[attempts$attempt > 1], ]
  seconds <- function(x) ifelse(is.na(x), "", paste(round_half_up(x), "s"))
  sign <- ifelse(again$change < -1e-9, "\u2212", "+")
  change <- ifelse(
    again$attempt == 1 | is.na(again$change),
    "",
    paste0(sign, percent(abs(again$change)))
  )
  c(
    if (nrow(again)) {
      format_table(
        list(
          text_column("student", again$student, shrink = TRUE),
          if (!all(is.na(again$name))) text_column("name", again$name, shrink = TRUE),
          text_column("attempt", again$attempt, "right"),
          gauge_column("score", again$share, colour = "teal"),
          text_column("points", points_of_open(again), "right"),
          text_column("since_the_first", change, "right"),
          if (!is.null(again$seconds)) {
            text_column("time", seconds(again$seconds), "right")
          },
          if (!is.null(again$submitted)) {
            text_column("handed_in", short_times(again$submitted), shrink = TRUE)
          },
          text_column(
            "",
            ifelse(again$counts, say("cli-attempts.counts"), ""),
            colour = "teal"
          )
        )
      )
    },
    if (nrow(again)) "",
    wrap_lines(say_attempts(attempts))
  )
}

# The clock alone when all is of one day.
short_times <- function(written) {
  time <- read_time(written)
  one_day <- length(unique(format(time[!is.na(time)], "%Y-%m-%d"))) < 2
  ifelse(is.na(time), written, format(time, if (one_day) "%H:%M" else "%d %b %H:%M"))
}

show_time <- function(times) {
  by_student <- identical(attr(times, "by"), "student")
  timed <- any(!is.na(times$median_seconds))
  again <- if (by_student) {
    any(times$attempts > 1, na.rm = TRUE)
  } else {
    any(times$tries > 1, na.rm = TRUE)
  }
  c(
    format_table(
      c(time_subject(times, by_student), time_columns(times, timed, by_student, again))
    ),
    "",
    wrap_lines(say_times(times, by_student, timed, again))
  )
}

time_subject <- function(times, by_student) {
  if (!by_student) {
    return(list(text_column("item", times$item), text_column("n", times$tried, "right")))
  }
  list(
    text_column("student", times$student, shrink = TRUE),
    if (!all(is.na(times$name))) text_column("name", times$name, shrink = TRUE)
  )
}

time_columns <- function(times, timed, by_student, again) {
  seconds <- function(x) ifelse(is.na(x), "\u2013", paste(round_half_up(x), "s"))
  until <- ifelse(
    is.na(times$tries_until_right),
    "\u2013",
    format(round(times$tries_until_right, 1), nsmall = 1)
  )
  c(
    if (timed) {
      list(
        if (by_student) {
          text_column(
            "whole",
            ifelse(is.na(times$seconds), "\u2013", say_time_of(times$seconds)),
            "right"
          )
        },
        text_column("median", seconds(times$median_seconds), "right"),
        text_column(
          "slowest",
          paste0(seconds(times$slowest_seconds), " (", times$slowest, ")"),
          "right"
        ),
        text_column(
          "too_fast",
          ifelse(is.na(times$too_fast), "\u2013", times$too_fast),
          "right",
          colour = ifelse(times$too_fast %in% 0, NA, "ochre")
        )
      )
    },
    if (again) {
      list(
        if (by_student) {
          text_column("attempts", times$attempts, "right")
        } else {
          text_column("tries", format(round(times$tries, 1), nsmall = 1), "right")
        },
        share_column("at_once", times$right_at_once),
        text_column("until_right", until, "right"),
        text_column("never", times$never_right, "right")
      )
    }
  )
}

say_time_of <- function(seconds) {
  vapply(seconds, function(x) if (is.na(x)) "\u2013" else say_time(x), "")
}

# By question and answer, the right answers first: to read out, or to read alone.
show_explanations <- function(said, sitting = NULL) {
  sets <- split(
    seq_len(nrow(said)),
    factor(
      paste(said$item, said$option, sep = "\r"),
      unique(paste(said$item, said$option, sep = "\r"))
    )
  )
  heading <- function(row) {
    c(if (row > 1) "", paint(option_heading(said$item[row], sitting$items), "bold"))
  }
  unlist(
    lapply(sets, function(rows) {
      at <- rows[1]
      new_item <- at == 1 || said$item[at] != said$item[at - 1]
      text <- if (is.null(sitting)) {
        NA
      } else {
        sitting$options$text[
          match(
            paste(said$item[at], said$option[at]),
            paste(sitting$options$item, sitting$options$option)
          )
        ]
      }
      c(
        if (new_item) heading(at),
        paint(
          printable(
            paste0(
              if (said$key[at] %in% TRUE) "\u2713 " else "  ",
              said$option[at],
              if (!is.na(text)) paste0("  ", text)
            )
          ),
          if (said$key[at] %in% TRUE) "teal" else "faint"
        ),
        say_reasons(said[rows, ])
      )
    }),
    use.names = FALSE
  )
}

# What several wrote in the same words is said once.
say_reasons <- function(said) {
  sets <- split(seq_len(nrow(said)), factor(said$explanation, unique(said$explanation)))
  unlist(
    lapply(sets[order(-lengths(sets))], function(rows) {
      who <- if (!is.null(said$student)) {
        join_some(ifelse(is.na(said$name[rows]), said$student[rows], said$name[rows]), 3)
      } else if (length(rows) > 1) {
        say("cli-attempts.students", n = length(rows))
      }
      text <- paste0(
        "\u2013 ",
        said$explanation[rows[1]],
        if (length(who)) paste0(" (", who, ")")
      )
      wrap_lines(printable(text), 4, 6)
    }),
    use.names = FALSE
  )
}
