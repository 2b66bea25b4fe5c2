# How summaries of the test and the students look in the terminal.

#' @export
print.pregunta_sitting <- function(x, ...) {
  put_lines(describe_sitting(x))
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
  rests_on <- if (row$n_complete < row$n && !is.na(row$alpha)) {
    say("cli-people.reliability_rests_on_the", n_complete = row$n_complete)
  }
  apart <- data.frame(name = "", value = "", interval = "", says = "")
  figures <- rbind(class_lines(row), apart, trust_lines(row))
  c(
    wrap_lines(say_test(row)),
    "",
    figure_lines(figures),
    if (length(rests_on)) wrap_lines(rests_on),
    show_forms(attr(test, "forms")),
    if (any(nzchar(figures$interval))) c("", wrap_lines(test_legend(row)))
  )
}

figure_lines <- function(figures) {
  shows_intervals <- any(nzchar(figures$interval))
  lines <- format_table(
    text_column("", figures$name),
    text_column("", figures$value, "right"),
    if (shows_intervals) text_column("interval", figures$interval),
    text_column("", figures$says, shrink = "wrap")
  )
  if (shows_intervals) lines else lines[-1]
}

# A row a figure: its name, value, interval and what it says.
figure_line <- function(row, name, value, says = "", figure = NULL, digits = 1) {
  bounds <- paste0(figure, c("_low", "_high"))
  bounds <- unlist(row[intersect(bounds, names(row))])
  # Where all are alike it would claim what a few students cannot show.
  known <- length(bounds) && !anyNA(bounds) && bounds[1] < bounds[2]
  between <- if (known) {
    bounds <- number(bounds, digits)
    say("joining.to", first = bounds[1], last = bounds[2])
  }
  data.frame(
    name = name,
    value = value,
    interval = if (known) between else "",
    says = says
  )
}

# How the class did: nothing of scores where there are none.
class_lines <- function(row) {
  rbind(
    figure_line(
      row,
      say("cli-people.sat_it"),
      format_plain(row$n),
      if (row$absent) say("cli-people.absent", absent = row$absent) else ""
    ),
    figure_line(
      row,
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
    if (!is.na(row$mean)) mean_lines(row)
  )
}

mean_lines <- function(row) {
  ends <- plain_points(c(row$lowest, row$highest))
  rbind(
    figure_line(
      row,
      say("figures.mean"),
      number(row$mean, 1),
      say("cli-people.of_the_points", mean_share = percent(row$mean_share)),
      "mean"
    ),
    figure_line(
      row,
      say("figures.median"),
      number(row$median, 1),
      say(
        "cli-people.the_middle_half_from",
        lower_quartile = number(row$lower_quartile, 1),
        upper_quartile = number(row$upper_quartile, 1)
      ),
      "median"
    ),
    figure_line(
      row,
      say("cli-people.lowest_highest"),
      say("joining.to", first = ends[1], last = ends[2])
    ),
    figure_line(
      row,
      say("cli-people.standard_deviation"),
      number(row$sd, 1),
      say("cli-people.how_far_apart_the"),
      "sd"
    ),
    if (!is.na(row$mean_seconds)) {
      figure_line(
        row,
        say("cli-people.mean_time"),
        say_time(row$mean_seconds),
        say("cli-people.of_the_students_whose")
      )
    }
  )
}

# Whether its scores can be trusted, or why that cannot be told; the coefficient for items
# of one point only where they are.
trust_lines <- function(row) {
  coefficient <- function(figure, says, name = say(paste0("figures.", figure))) {
    figure_line(row, name, number(row[[figure]]), says, figure, 2)
  }
  if (is.na(row$alpha)) return(coefficient("alpha", say_alpha_line(row)))
  rbind(
    coefficient("alpha", say_alpha_line(row)),
    figure_line(
      row,
      say("figures.sem"),
      number(row$sem, 1),
      say("cli-people.how_far_a_score"),
      "sem"
    ),
    coefficient(
      "split_half",
      say("cli-people.odd_against_even_items"),
      say("cli-people.split_half")
    ),
    coefficient("lambda2", say("cli-people.a_little_nearer_to")),
    if (!is.na(row$kr21)) coefficient("kr21", say("cli-people.as_if_all_items"))
  )
}

most_forms <- 12

# What reliability is of each form, where there are some.
show_forms <- function(forms) {
  if (is.null(forms)) return(NULL)
  shown <- utils::head(forms, most_forms)
  c(
    "",
    format_table(
      text_column("form", shown$form),
      text_column("n", shown$n, "right"),
      text_column("items", shown$items, "right"),
      text_column("points", plain_points(shown$points), "right"),
      text_column(
        "alpha",
        with_bounds(
          shown$alpha,
          shown$alpha_low,
          shown$alpha_high
        )
      ),
      number_column("sem", shown$sem, 1),
      text_column("", or_blank(shown$reason, say_reason(shown$reason)))
    ),
    if (nrow(forms) > most_forms) {
      wrap_lines(say("cli-people.more_forms", n = nrow(forms) - most_forms))
    }
  )
}

say_alpha_line <- function(row) {
  if (is.na(row$alpha)) {
    say_reason(row$reason)
  } else {
    say("cli-people.reliability")
  }
}

test_legend <- function(row) {
  say("cli-people.95_where_the_figure", no_sem_low = is.null(row$sem_low))
}

# Groups side by side: the scores, then how they stand against the others.
show_tests <- function(test) {
  c(
    group_scores(test),
    "",
    group_differences(test),
    "",
    wrap_lines(say_groups(test)),
    wrap_lines(apart_legend(test))
  )
}

group_scores <- function(test) {
  mean_points <- say(
    "cli-people.of",
    mean = number(test$mean, 1),
    points = plain_points(test$points)
  )
  format_table(
    group_columns(test),
    text_column("n", test$n, "right"),
    text_column("absent", test$absent, "right"),
    gauge_column("mean", test$mean_share, colour = "teal"),
    text_column("points", mean_points, "right"),
    number_column("median", test$median, 1),
    number_column("sd", test$sd, 1),
    text_column("lowest", plain_points(test$lowest), "right"),
    text_column("highest", plain_points(test$highest), "right"),
    number_column("alpha", test$alpha),
    text_column("from_n", test$n_complete, "right"),
    number_column("sem", test$sem, 1)
  )
}

group_differences <- function(test) {
  between <- signed_between(test$difference_low, test$difference_high)
  format_table(
    group_columns(test),
    share_column("mean", test$mean_share),
    text_column(
      "than_the_others",
      signed_percent(test$difference),
      "right"
    ),
    text_column("interval", between, "right"),
    text_column("", apart_sign(test), colour = "ochre"),
    level_columns(test, names(settings_of(test)$levels))
  )
}

# The share of students in each level, and their number.
level_columns <- function(table, levels) {
  lapply(levels, function(level) {
    share <- table[[level]]
    of_students <- in_parentheses(round(share * table$n))
    counted <- or_blank(share, paste(percent(share), of_students))
    text_column(I(level_heading(level)), counted, "right")
  })
}

# Names of one's own may be long.
level_heading <- function(level) {
  if (level %in% names(all_words("levels"))) level_words(level) else shorten(level, 9)
}

signed_between <- function(low, high) {
  bare <- function(share) paste0(sign_of(share), hundredths(abs(share)))
  between <- say(
    "cli-people.to_2",
    low = bare(low),
    high = bare(high)
  )
  ifelse(is.na(low) | is.na(high), "", between)
}

apart_legend <- function(table) {
  say(
    "cli-people.apart_legend",
    nested = length(attr(table, "by")) > 1,
    apart = any(table$beyond_chance %in% TRUE)
  )
}

show_students <- function(students, chosen = FALSE) {
  students <- lowest_first(students)
  c(
    people_table(students),
    if (!chosen) {
      c("", wrap_lines(c(say_spread(students), say_bands(students))))
    },
    if (!chosen) say_absent(students)
  )
}

people_table <- function(students) {
  outer <- setdiff(attr(students, "by"), c("section", "name", "student"))
  lowest <- names(settings_of(students)$levels)[1]
  format_table(
    group_columns(students, outer),
    person_columns(students),
    gauge_column(
      "score",
      students$share,
      colour = ifelse(students$level %in% lowest, "ochre", "teal")
    ),
    text_column("points", points_of_open(students), "right"),
    text_column("level", level_words(students$level)),
    if (!is.null(students$band)) text_column("band", students$band),
    text_column("blank", blank_counts(students), "right"),
    text_column("", say_status(students))
  )
}

# Who it is: the id, with the name and the section where there are any.
person_columns <- function(table) {
  known <- function(column) !all(is.na(table[[column]]))
  list(
    text_column("student", table$student, shrink = TRUE),
    if (known("name")) text_column("name", table$name, shrink = TRUE),
    if (known("section")) text_column("section", table$section, shrink = TRUE)
  )
}

points_of_open <- function(students) {
  of <- say(
    "cli-people.of_2",
    points = plain_points(students$points),
    open = plain_points(students$open)
  )
  or_blank(students$points, of)
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
  name <- name_or_id(absent)
  wrap_lines(say("cli-people.absent_2", name = some_of(name, 12)))
}

show_findings <- function(findings) {
  about <- attr(findings, "about")
  if (!nrow(findings)) {
    return(c(about, "", paint(say("cli-people.everything_adds_up"), "teal")))
  }
  counts <- table(factor(findings$severity, c("error", "warning", "note")))
  said <- join_words(say_counts(counts[counts > 0]))
  c(
    about,
    "",
    bold_line(paste0(said, ":")),
    unlist(each_row(findings, function(row) finding_lines(findings[row, ])))
  )
}

# How grave it is in the margin; what and where, then what is done about it.
finding_lines <- function(finding) {
  where <- say(
    "cli-people.line",
    file = finding$file,
    line = finding$line,
    no_line = is.na(finding$line)
  )
  column <- or_blank(finding$column, paste0(finding$column, " "))
  value <- or_blank(finding$value, paste0(quoted(finding$value), " "))
  what <- paste0(where, ": ", column, value, finding$finding, ".")
  said <- c(wrap_lines(what, 11), wrap_lines(finding$action, 11))
  grave <- words_for(finding$severity, "severities")
  substring(said[1], 1, 10) <- formatC(paste0("  ", grave), width = -10)
  colour <- if (finding$severity == "note") "faint" else "ochre"
  sub(grave, paint(grave, colour), said, fixed = TRUE)
}
