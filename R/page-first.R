# The first screen: how it went, what first, who first.

report_first <- function(sitting, figures, people) {
  tags <- htmltools::tags
  tags$div(
    class = "first",
    headed(say("page-first.how_it_went"), first_how(sitting, figures)),
    headed(
      say("page-first.what_first"),
      first_what(figures),
      class = "look"
    ),
    headed(
      say("page-first.who_first"),
      first_who(sitting, figures, people)
    )
  )
}

# ---- how ---------------------------------------------------------------------------

first_how <- function(sitting, figures) {
  tags <- htmltools::tags
  test <- figures$test
  if (!test$n) return(tags$p(say("page-first.nobody_has_points_yet")))
  levels <- names(sitting$settings$levels)
  on_average <- say(
    "page-first.of_the_points_on",
    mean = number(test$mean, 1),
    points = plain_points(test$points)
  )
  score <- tags$b(percent(test$mean_share))
  spread <- say_spread(figures$students, humps_of_test(test))
  htmltools::tagList(
    tags$p(class = "score", score, " ", tags$span(on_average)),
    if (sitting$settings$smallest_group <= 1) {
      htmltools::HTML(spread_bars(figures$students, spread))
    },
    htmltools::HTML(level_counts(test, levels)),
    tags$p(spread),
    help_line(paste(
      first_facts(figures, sitting$settings$smallest_group),
      collapse = " \u00b7 "
    ))
  )
}

first_facts <- function(figures, smallest_group) {
  test <- figures$test
  c(
    say("page-first.sat_it", n = test$n),
    if (test$absent) say("page-first.absent", absent = test$absent),
    if (!is.na(test$lowest) && smallest_group <= 1) {
      say(
        "page-first.from_to_points",
        lowest = plain_points(test$lowest),
        highest = plain_points(test$highest)
      )
    },
    if (!is.na(test$mean_seconds)) {
      say("page-first.on_average", mean_seconds = say_time(test$mean_seconds))
    },
    first_reliability(test)
  )
}

first_reliability <- function(test) {
  if (is.na(test$alpha)) {
    return(say(
      "page-first.reliability_unknown",
      reason = say_reason(test$reason)
    ))
  }
  if (!bears_claims(test$n_complete, test$items)) {
    return(say("page-first.too_few_for_reliability"))
  }
  say(
    "page-first.reliability_scores_good_to",
    alpha = alpha_words(test),
    sem = number(test$sem, 1)
  )
}

# Students by share of their points in steps of 5%, coloured by level; said: in words.
spread_bars <- function(students, said, width = 360, height = 110) {
  levels <- names(settings_of(students)$levels)
  scored <- students[!is.na(students$share), ]
  if (!nrow(scored)) return("")
  bin <- pmin(floor(scored$share / 0.05 + 1e-9), 19) + 1
  counts <- table(factor(bin, 1:20), factor(scored$level, levels))
  tall <- height / max(rowSums(counts))
  step <- width / 20
  rows <- which(counts > 0, arr.ind = TRUE)
  upto <- t(apply(counts, 1, cumsum))
  if (length(levels) == 1) {
    upto <- counts
  }
  bars <- paste0(
    "<rect class=\"fill",
    rows[, 2],
    "\" x=\"",
    (rows[, 1] - 1) * step + 1,
    "\" y=\"",
    round(height - upto[rows] * tall, 1),
    "\" width=\"",
    step - 2,
    "\" height=\"",
    round(counts[rows] * tall, 1),
    "\"/>"
  )
  ticks <- seq(0, 1, 0.25)
  labels <- paste0(
    "<text x=\"",
    ticks * width,
    "\" y=\"",
    height + 15,
    "\" text-anchor=\"",
    c("start", "middle", "middle", "middle", "end"),
    "\">",
    percent(ticks),
    "</text>"
  )
  paste0(
    "<svg class=\"spread\" role=\"img\" aria-label=\"",
    escape(said),
    "\" viewBox=\"0 0 ",
    width,
    " ",
    height + 20,
    "\">",
    paste(bars, collapse = ""),
    "<line x1=\"0\" x2=\"",
    width,
    "\" y1=\"",
    height,
    "\" y2=\"",
    height,
    "\"/>",
    paste(labels, collapse = ""),
    "</svg>"
  )
}

# How many are in each level: the legend of the bars above.
# How many are in each level, where that is shown.
level_counts <- function(test, levels) {
  n <- round(unlist(as.data.frame(test)[1, levels]) * test$n)
  said <- paste0(
    level_chip(levels, levels), " <b>", or_else(n, "\u2013"), "</b>"
  )
  html_cell(
    paste(html_cell(said, tag = "span"), collapse = " "),
    "levels",
    "p"
  )
}

# ---- what --------------------------------------------------------------------------

# What to settle about the questions, then what to teach again.
first_what <- function(figures, most = 4) {
  tags <- htmltools::tags
  look <- figures$look
  shown <- utils::head(look, most)
  rest <- look$item[-seq_len(most)]
  plan <- figures$plan
  # A plan by questions does not say again what is said of a question.
  again <- if (!is.null(plan)) plan[!is.na(plan$need) & !plan$code %in% look$item, ]
  htmltools::tagList(
    if (!nrow(look)) {
      tags$p(say("page-first.no_question_stands_out"))
    },
    tags$ol(
      look_points(shown),
      if (length(again) && nrow(again)) {
        teach_again(again[1, ])
      }
    ),
    if (nrow(look) > most) {
      help_line(say("page-first.then", item = join_some(rest)))
    }
  )
}

# The most pressing standard of the plan.
teach_again <- function(row) {
  tags <- htmltools::tags
  why <- paste0(
    or_blank(row$title, paste0(uncapital(row$title), "; ")), row$reason, "."
  )
  again <- tags$b(say("page-first.teach_it_again"))
  tags$li(
    tags$a(href = "#plan", row$code),
    " ",
    again,
    " ",
    printable(why)
  )
}

# A point of the list for each question to look at: what to do and what happened.
look_points <- function(look) {
  tags <- htmltools::tags
  each_row(look, function(row) {
    tags$li(
      tags$a(
        href = "#items",
        `data-open` = look$item[row],
        look$item[row]
      ),
      " ",
      tags$b(look$do[row]),
      " ",
      printable(look$what[row])
    )
  })
}

# ---- who ---------------------------------------------------------------------------

say_nobody_named <- function(sitting, figures) {
  least <- sitting$settings$smallest_group
  if (least > 1) {
    say("page-first.nobody_alone", least = least)
  } else {
    say("page-first.too_many_to_name", n = figures$test$n)
  }
}

first_who <- function(sitting, figures, people, most = 5) {
  tags <- htmltools::tags
  students <- figures$students
  if (!figures$is_class) return(tags$p(say_nobody_named(sitting, figures)))
  cut <- sitting$settings$mastery_cut
  low <- students_below(students, cut)
  roles <- figures$groups$role
  ready <- figures$groups$student[roles %in% "ready_for_more"]
  states <- students_in_states(students)
  htmltools::tagList(
    if (!nrow(low)) {
      tags$p(say("page-first.nobody_is_below", cut = percent(cut)))
    },
    if (nrow(low)) {
      tags$ol(
        each_row(utils::head(low, most), function(row) {
          low_student(low[row, ], figures$own_standards, people)
        })
      )
    },
    if (nrow(low) > most) more_are_below(nrow(low) - most, cut),
    if (length(ready)) {
      tags$p(rich("page-first.ready_for_more", who = named_some(people, ready)))
    },
    lapply(names(states), function(state) {
      tags$p(
        rich(
          "page-first.in_state",
          state = capital(words_for(state, "statuses")),
          who = named_some(people, states[[state]])
        )
      )
    })
  )
}

# Of these as many by name as are read at a glance.
named_some <- function(people, ids, most = 4) {
  shown <- who(people, utils::head(ids, most))
  htmltools::HTML(say(
    "page-first.and_more",
    people = in_a_row(shown),
    n = length(ids) - most,
    any_more = length(ids) > most
  ))
}

# A point of the list: who, the score, and where to begin.
low_student <- function(row, own, people) {
  tags <- htmltools::tags
  id <- row$student
  link <- tags$a(
    href = "#grid",
    `data-student` = match(id, people$student) - 1,
    htmltools::HTML(who(people, id))
  )
  tags$li(
    link,
    " ",
    tags$b(percent(row$share)),
    " ",
    printable(say_begin(own, id))
  )
}

more_are_below <- function(n, cut) {
  groups <- htmltools::tags$a(href = "#groups", say("page-first.groups"))
  said <- rich(
    "page-first.more_are_below",
    n = n,
    cut = percent(cut),
    groups = htmltools::HTML(html_of(groups))
  )
  htmltools::tags$p(class = "help", said)
}

say_begin <- function(own, student) {
  worst <- standard_to_begin(own, student)
  if (is.null(worst)) return("")
  title <- or_blank(worst$title, paste0(", ", uncapital(worst$title)))
  say(
    "page-first.begin_with_of",
    code = worst$code,
    title = title,
    earned = plain_points(worst$earned),
    open = plain_points(worst$open)
  )
}
