# The questions, hardest first; one opened to its answers, who chose them and why, with
# the changes that can be made to it; and the questions large, for the class to see.

questions_room <- function(visit) {
  known <- test_of_visit(visit)
  figures <- figures_known(known)
  tags <- htmltools::tags
  data <- once(known, "questions", function(sitting) {
    data <- item_data(sitting, figures, page_people(sitting$students, TRUE))
    data[order(data$difficulty), ]
  })
  rows <- each_row(data, function(k) question_row(visit, data[k, ]))
  names <- c(
    "item", "question", "points_earned", "low", "mid", "high", "discrimination", "verdict"
  )
  terms <- c(
    points_earned = "difficulty", low = "thirds", mid = "thirds", high = "thirds",
    discrimination = "discrimination"
  )
  htmltools::tagList(
    page_heading(
      say("page-items.the_questions"),
      place_button(visit, say("desk-questions.large"), "show")
    ),
    help_line(say("page-items.hardest_first"), say("desk-questions.press_one")),
    desk_table(
      desk_headings(
        names, terms, c("low", "mid", "high", "discrimination"),
        c("low", "mid", "high", "discrimination", "verdict")
      ),
      rows,
      say("page-items.the_questions"),
      "sorts"
    )
  )
}

question_row <- function(visit, row) {
  tags <- htmltools::tags
  tags$tr(
    tags$th(
      scope = "row", class = "whole-name",
      tags$a(href = place(visit, "questions", row$item), row$item),
      if (row$asks) tags$span(class = "asks", title = row$verdict, "\u25b2")
    ),
    tags$td(class = "asked", row$prompt),
    tags$td(`data-sort` = row$difficulty, bar_of(row$difficulty, row$ochre)),
    lapply(row[c("low_third", "middle", "high_third")], function(share) {
      tags$td(class = classes("n", "roomy"), `data-sort` = share, percent(share))
    }),
    tags$td(
      class = classes("n", "roomy"), `data-sort` = row$discrimination,
      number(row$discrimination), tags$small(row$band)
    ),
    tags$td(class = "roomy", row$verdict)
  )
}

# ---- one question ----------------------------------------------------------------

question_beside <- function(visit) {
  item <- visit$at$rest[1]
  if (is.na(item)) return(NULL)
  known <- test_of_visit(visit)
  sitting <- known$sitting
  j <- match(item, sitting$items$item)
  if (is.na(j)) return(lost_room(visit))
  figures <- figures_known(known)
  review <- figures$review[figures$review$item == item, ]
  about <- sitting$items[j, ]
  tags <- htmltools::tags
  htmltools::tagList(
    tags$h2(tabindex = "-1", printable(item)),
    if (!is.na(about$prompt)) tags$p(class = "prompt", printable(about$prompt)),
    tags$p(
      tags$b(paste0(capital(words_for(review$verdict, "verdicts")), ": ")),
      printable(paste(review$what, review$do))
    ),
    lapply(unlist(say_answers_of(sitting, figures)[j]), tags$p),
    answers_table(visit, known, item),
    if (!is.na(about$rationale)) {
      help_line(say("desk-questions.why", why = printable(about$rationale)))
    },
    if (sees_all(visit)) for_all_form(item, about)
  )
}

# What changes a question for everybody.
for_all_form <- function(item, about) {
  htmltools::tagList(
    htmltools::tags$p(
      class = "buttons",
      act_button(say("desk-questions.leave_out"), "try", action = "drop", item = item),
      act_button(
        say("desk-questions.points_to_all"), "try", action = "credit", item = item
      )
    ),
    if (!is_marked(about$type)) key_form(item, about)
  )
}

# Another key, or one more accepted answer, typed as it is written in the key.
key_form <- function(item, about) {
  htmltools::tagList(
    act_form(
      "try",
      facts = list(action = "key", item = item),
      text_field(
        "value", say("desk-questions.other_key"), or_blank(about$key),
        keep = paste0("key-", item)
      ),
      htmltools::tags$button(type = "submit", say("desk-questions.try_it"))
    )
  )
}

# Every answer with how many gave it, who, and what they wrote; a button where it can be
# made right.
answers_table <- function(visit, known, item) {
  tags <- htmltools::tags
  options <- answers_listed(figures_known(known)$options)
  options <- options[options$item == item, ]
  chosen <- once(known, "chosen", who_chose)
  said <- once(known, "said", summarise_explanations)
  rows <- each_row(options, function(k) {
    row <- options[k, ]
    here <- chosen$item == item & chosen$option == row$option & chosen$state == row$state
    answer_row(visit, known$sitting, row, chosen$student[here], said[said$item == item, ])
  })
  desk_table(
    desk_headings(
      c("answer", "chosen_by", "low", "mid", "high"),
      c(low = "thirds"),
      c("low", "mid", "high")
    ),
    rows,
    say("desk-questions.answers_to", item = item)
  )
}

answer_row <- function(visit, sitting, row, who, said) {
  tags <- htmltools::tags
  students <- sitting$students
  wrote <- said[said$student %in% who, ]
  answered <- row$state == "answered" && !is_marked(row$type)
  tags$tr(
    class = if (row$key) "key",
    tags$th(
      scope = "row",
      if (row$key) "\u2713 ",
      printable(shown_answer(row$option, row$state)),
      if (!is.na(row$text)) tags$span(class = "text", printable(row$text)),
      if (!row$key && !is.na(row$idea)) tags$em(printable(row$idea)),
      if (answered && !row$key && sees_all(visit)) right_buttons(row)
    ),
    tags$td(
      bar_of(row$share, !row$key),
      if (length(who)) {
        tags$details(
          tags$summary(say("desk-questions.who", n = length(who))),
          tags$p(names_of(visit, students, who)),
          if (nrow(wrote)) tags$ul(each_row(wrote, function(k) {
            tags$li(
              printable(wrote$explanation[k]), " ",
              tags$small(name_of(students, wrote$student[k]))
            )
          }))
        )
      }
    ),
    lapply(row[c("low", "middle", "high")], function(share) {
      tags$td(class = "n", percent(share))
    })
  )
}

right_buttons <- function(row) {
  written <- is_answered(row$type, "written")
  also <- if (written) {
    say("desk-questions.accept_this_spelling")
  } else {
    say("desk-questions.also_right")
  }
  htmltools::tags$span(
    class = classes("buttons", "small"),
    act_button(also, "try", action = "accept", item = row$item, value = row$option),
    if (is_answered(row$type, "chosen")) {
      act_button(
        say("desk-questions.make_it_the_key"), "try",
        action = "key", item = row$item, value = row$option
      )
    }
  )
}

# ---- for the class to see --------------------------------------------------------

# One question large, without names, hardest first; the key shows on a press.
show_room <- function(visit) {
  known <- test_of_visit(visit)
  figures <- figures_known(known)
  tags <- htmltools::tags
  hardest <- figures$items$item[order(figures$items$difficulty)]
  k <- suppressWarnings(as.integer(visit$at$rest[1]))
  k <- if (is.na(k)) 1 else min(max(k, 1), length(hardest))
  item <- hardest[k]
  about <- known$sitting$items[known$sitting$items$item == item, ]
  options <- answers_listed(figures$options)
  options <- options[options$item == item & options$state == "answered", ]
  options <- options[order(options$option), ]
  turn <- function(to, text, key) {
    if (to < 1 || to > length(hardest)) return(NULL)
    tags$a(
      class = "button", href = place(visit, "show", to), `data-key` = key, text
    )
  }
  rows <- each_row(options, function(k) {
    tags$li(
      class = if (options$key[k]) "right",
      tags$b(printable(options$option[k])), " ",
      tags$span(class = "text", printable(or_blank(options$text[k]))),
      tags$span(class = "share", bar_of(options$share[k]))
    )
  })
  tags$div(
    class = classes("large", "no-key"),
    tags$p(class = "help", say("desk-questions.of", k = k, n = length(hardest))),
    tags$h1(printable(or_else(about$prompt, item))),
    tags$ul(rows),
    tags$p(
      class = "buttons",
      turn(k - 1, say("desk-questions.back"), "ArrowLeft"),
      tags$button(type = "button", id = "reveal", say("desk-questions.show_the_key")),
      turn(k + 1, say("desk-questions.next"), "ArrowRight"),
      place_button(visit, say("desk-questions.end"), "questions", item)
    )
  )
}
