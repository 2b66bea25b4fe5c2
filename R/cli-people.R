# How summaries of the test and the students look in the terminal.

#' @export
print.pregunta_sitting <- function(x, ...) {
  cat(describe_sitting(x), sep = "\n")
  invisible(x)
}

#' @export
print.pregunta_test <- function(x, ...) {
  print_lines(x, show_test)
}

#' @export
print.pregunta_students <- function(x, ...) {
  print_lines(x, show_students)
}

#' @export
print.pregunta_findings <- function(x, ...) {
  if (nrow(x)) print_lines(x, show_findings) else print_whole(x, show_findings)
}

show_test <- function(test) {
  if (!is.null(attr(test, "by"))) return(show_tests(test))
  row <- test[1, ]
  c(
    format_table(
      list(
        text_column("", test_lines(row)[, 1]),
        text_column("", test_lines(row)[, 2], "right"),
        text_column("interval", test_lines(row)[, 3]),
        text_column("", test_lines(row)[, 4], shrink = TRUE)
      )
    )[
      -1
    ],
    if (row$n_complete < row$n && !is.na(row$alpha)) {
      wrap_lines(
        say("cli-people.reliability_rests_on_the", n_complete = row$n_complete)
      )
    },
    "",
    wrap_lines(say_test(row)),
    "",
    wrap_lines(test_legend(row))
  )
}

# A row a figure: its name, value, interval and what it says.
test_lines <- function(row) {
  line <- function(name, value, says, figure = NULL, digits = 1) {
    bounds <- unlist(row[intersect(paste0(figure, c("_low", "_high")), names(row))])
    c(
      name,
      value,
      if (length(bounds) && !anyNA(bounds)) {
        say(
          "joining.to",
          first = number(bounds[1], digits),
          last = number(bounds[2], digits)
        )
      } else {
        ""
      },
      says
    )
  }
  rbind(
    line(
      say("cli-people.sat_it"),
      row$n,
      if (row$absent) say("cli-people.absent", absent = row$absent) else ""
    ),
    line(
      say("figures.items"),
      row$items,
      say(
        "cli-people.points_hard_middling_easy",
        points = plain_points(row$points),
        hard = row$hard,
        middling = row$middling,
        easy = row$easy
      )
    ),
    line(
      say("figures.mean"),
      number(row$mean, 1),
      say("cli-people.of_the_points", mean_share = percent(row$mean_share)),
      "mean"
    ),
    line(
      say("figures.median"),
      number(row$median, 1),
      say(
        "cli-people.the_middle_half_from",
        lower_quartile = number(row$lower_quartile, 1),
        upper_quartile = number(row$upper_quartile, 1)
      ),
      "median"
    ),
    line(
      say("cli-people.lowest_highest"),
      paste0(plain_points(row$lowest), ", ", plain_points(row$highest)),
      ""
    ),
    line(
      say("cli-people.standard_deviation"),
      number(row$sd, 1),
      say("cli-people.how_far_apart_the"),
      "sd"
    ),
    line(
      say("figures.alpha"),
      number(row$alpha),
      if (is.na(row$alpha)) say_reason(row$reason) else say("cli-people.reliability"),
      "alpha",
      2
    ),
    line(
      say("figures.kr21"),
      number(row$kr21),
      if (!is.na(row$kr21)) {
        say("cli-people.as_if_all_items")
      } else if (is.na(row$alpha)) {
        say_reason(row$reason)
      } else {
        say("cli-people.only_for_items_of")
      },
      "kr21",
      2
    ),
    line(
      say("figures.lambda2"),
      number(row$lambda2),
      say("cli-people.a_little_nearer_to"),
      "lambda2",
      2
    ),
    line(
      say("cli-people.split_half"),
      number(row$split_half),
      say("cli-people.odd_against_even_items"),
      "split_half",
      2
    ),
    line(
      say("figures.sem"),
      number(row$sem, 1),
      say("cli-people.how_far_a_score"),
      "sem"
    ),
    if (!is.na(row$mean_seconds)) {
      line(
        say("cli-people.mean_time"),
        say_time(row$mean_seconds),
        say("cli-people.of_the_students_whose")
      )
    }
  )
}

test_legend <- function(row) {
  say("cli-people.95_where_the_figure", no_sem_low = is.null(row$sem_low))
}

# Groups side by side: the scores, then how they stand against the others.
show_tests <- function(test) {
  levels <- names(settings_of(test)$levels)
  c(
    format_table(
      c(
        group_columns(test),
        list(
          text_column("n", test$n, "right"),
          text_column("absent", test$absent, "right"),
          gauge_column("mean", test$mean_share, colour = "teal"),
          text_column(
            "points",
            say(
              "cli-people.of",
              mean = number(test$mean, 1),
              points = plain_points(test$points)
            ),
            "right"
          ),
          number_column("median", test$median, 1),
          number_column("sd", test$sd, 1),
          text_column("lowest", plain_points(test$lowest), "right"),
          text_column("highest", plain_points(test$highest), "right"),
          number_column("alpha", test$alpha),
          text_column("from_n", test$n_complete, "right"),
          number_column("sem", test$sem, 1)
        )
      )
    ),
    "",
    format_table(
      c(
        group_columns(test),
        list(
          share_column("mean", test$mean_share),
          text_column("than_the_others", signed_percent(test$difference), "right"),
          text_column(
            "interval",
            signed_between(test$difference_low, test$difference_high),
            "right"
          ),
          text_column("", apart_sign(test), colour = "ochre")
        ),
        level_columns(test, levels)
      )
    ),
    "",
    wrap_lines(printable(say_groups(test))),
    wrap_lines(apart_legend(test))
  )
}

# The share of students in each level, and their number.
level_columns <- function(table, levels) {
  lapply(levels, function(level) {
    share <- table[[level]]
    text_column(
      I(shorten(level, 9)),
      ifelse(is.na(share), "", paste0(percent(share), " (", round(share * table$n), ")")),
      "right"
    )
  })
}

signed_between <- function(low, high) {
  ifelse(
    is.na(low) | is.na(high),
    "",
    say(
      "cli-people.to_2",
      low = sub("%", "", signed_percent(low)),
      high = sub("%", "", signed_percent(high))
    )
  )
}

apart_legend <- function(table) {
  say(
    "cli-people.apart_legend",
    nested = length(attr(table, "by")) > 1,
    apart = any(table$beyond_chance %in% TRUE)
  )
}

show_students <- function(students, chosen = FALSE) {
  sorted <- students
  if (is.null(attr(students, "sorted"))) {
    sorted <- students[order(students$share, students$student), ]
  }
  by <- attr(students, "by")
  if (!is.null(by)) sorted <- sorted[order(group_paths(sorted, by), method = "radix"), ]
  levels <- names(settings_of(students)$levels)
  c(
    format_table(
      c(
        group_columns(sorted, setdiff(by, c("section", "name", "student"))),
        list(
          text_column("student", sorted$student, shrink = TRUE),
          if (!all(is.na(sorted$name))) text_column("name", sorted$name, shrink = TRUE),
          if (!all(is.na(sorted$section))) {
            text_column("section", sorted$section, shrink = TRUE)
          },
          gauge_column(
            "score",
            sorted$share,
            colour = ifelse(sorted$level %in% levels[1], "ochre", "teal")
          ),
          text_column("points", points_of_open(sorted), "right"),
          text_column("level", sorted$level),
          if (!is.null(sorted$band)) text_column("band", sorted$band),
          text_column("blank", blank_counts(sorted), "right"),
          text_column("", say_status(sorted))
        )
      )
    ),
    if (!chosen) {
      c("", wrap_lines(c(say_spread(students), say_bands(students))), say_absent(sorted))
    }
  )
}

points_of_open <- function(students) {
  of <- say(
    "cli-people.of_2",
    points = plain_points(students$points),
    open = plain_points(students$open)
  )
  ifelse(is.na(students$points), "", of)
}

say_status <- function(students) {
  word <- words_for(students$status, "statuses_shown")
  also <- students$late %in% TRUE & students$status != "late"
  if (is.null(students$late)) {
    word
  } else {
    ifelse(also, say("cli-people.late", word = word), word)
  }
}

say_absent <- function(students) {
  absent <- students[students$status == "absent", ]
  if (!nrow(absent)) return(NULL)
  name <- ifelse(is.na(absent$name), absent$student, absent$name)
  wrap_lines(printable(say("cli-people.absent_2", name = some_of(name, 12))))
}

show_findings <- function(findings) {
  about <- attr(findings, "about")
  if (!nrow(findings)) {
    return(c(about, "", paint(say("cli-people.everything_adds_up"), "teal")))
  }
  counts <- table(factor(findings$severity, c("error", "warning", "note")))
  where <- say(
    "cli-people.line",
    file = findings$file,
    line = findings$line,
    no_line = is.na(findings$line)
  )
  what <- paste0(
    ifelse(is.na(findings$column), "", paste0(findings$column, " ")),
    ifelse(is.na(findings$value), "", paste0("\"", findings$value, "\" ")),
    findings$finding,
    "."
  )
  c(
    about,
    "",
    paint(
      paste0(join_words(say_counts(counts[counts > 0])), ":"),
      "bold"
    ),
    unlist(lapply(seq_len(nrow(findings)), function(row) {
      said <- c(
        wrap_lines(printable(paste0(where[row], ": ", what[row])), 11),
        wrap_lines(printable(findings$action[row]), 11)
      )
      severity <- findings$severity[row]
      grave <- words_for(severity, "severities")
      substring(said[1], 1, 10) <- formatC(paste0("  ", grave), width = -10)
      sub(
        grave,
        paint(grave, if (severity == "note") "faint" else "ochre"),
        said,
        fixed = TRUE
      )
    }))
  )
}
