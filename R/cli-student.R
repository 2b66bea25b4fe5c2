# One student's page in the terminal: how the score compares, the standards, the
# ideas behind wrong answers, the attempts, and the answers beside the right ones.

show_student <- function(quiz, student, which_answers = "all") {
  id <- student$student
  standing <- if (!is.na(student$share)) say_standing(summarise_students(quiz), id)
  c(
    if (length(standing)) c("", wrap_lines(standing)),
    show_own_standards(quiz, id),
    show_own_ideas(quiz, id),
    show_own_attempts(quiz, id),
    if (which_answers != "none") show_own_answers(quiz, id, which_answers)
  )
}

own_heading <- function(words) c("", paint(words, "bold"))

show_own_standards <- function(quiz, id) {
  own <- summarise_standards(quiz, "student")
  own <- own[own$student == id & !is.na(own$share), ]
  if (!nrow(own)) return(NULL)
  class <- summarise_standards(quiz)
  depth <- lengths(lapply(own$code, ancestors, standards = attr(class, "tree")))
  c(
    own_heading(say("cli-student.standards")),
    format_table(
      list(
        text_column("code", paste0(strrep("  ", depth), own$code, priority_mark(own))),
        if (!all(is.na(own$title))) text_column("title", own$title, shrink = TRUE),
        text_column("points", points_of_earned(own), "right"),
        text_column(
          "score",
          paste(bar(own$share), pad(percent(own$share), "right")),
          colour = "teal"
        ),
        text_column("class", percent(class$share[match(own$code, class$code)]), "right"),
        text_column("level", paste0(own$level, ifelse(own$unsure %in% TRUE, " ?", "")))
      )
    ),
    wrap_lines(
      printable(
        c(say_ends(own, class), if (any(own$unsure %in% TRUE)) say("legends.unsure"))
      )
    )
  )
}

points_of_earned <- function(own) {
  say("cli-student.of", earned = plain_points(own$earned), open = plain_points(own$open))
}

show_own_ideas <- function(quiz, id) {
  held <- summarise_misconceptions(quiz, "student")
  said <- say_own_ideas(held[held$student == id, ])
  if (length(said)) {
    c(
      own_heading(say("cli-student.ideas_behind_the_wrong")),
      wrap_lines(printable(said), 0, 2)
    )
  }
}

show_own_attempts <- function(quiz, id) {
  attempts <- summarise_attempts(quiz)
  attempts <- attempts[attempts$student == id, ]
  if (nrow(attempts) < 2) return(NULL)
  c(
    own_heading(say("cli-student.attempts")),
    wrap_lines(
      say(
        "cli-student.points_handed_in_counts",
        attempt = attempts$attempt,
        share = percent(attempts$share),
        points = points_of_open(attempts),
        submitted = attempts$submitted,
        not_handed_in = is.na(attempts$submitted),
        no_times = is.null(attempts$submitted),
        counts = attempts$counts
      )
    )
  )
}

# Wrong are those that did not earn all the points, also blank ones.
show_own_answers <- function(quiz, id, which_answers) {
  answers <- student_answers(quiz, id)
  full <- (answers$points > answers$most - 1e-9) %in% TRUE
  shown <- switch(which_answers,
    all = rep(TRUE, nrow(answers)),
    right = full,
    wrong = !full & !is.na(answers$points)
  )
  heading <- own_heading(
    c(
      all = say("cli-student.every_answer"),
      right = say("cli-student.the_right_answers"),
      wrong = say("cli-student.wrong_or_right_in")
    )[[
      which_answers
    ]]
  )
  if (!any(shown)) return(c(heading, "None."))
  prompt <- quiz$items$prompt[shown]
  full <- full[shown]
  table <- own_answer_lines(answers[shown, ], full, prompt)
  said <- c(
    attr(answers, "comment"),
    unlist(lapply(which(shown), function(k) say_beside(answers[k, ])))
  )
  c(heading, table, if (length(said)) "", wrap_lines(printable(said), 0, 2))
}

own_answer_lines <- function(answers, full, prompt) {
  word <- ifelse(answers$state == "answered", "", answers$state)
  given <- ifelse(is.na(answers$answer), paste0("(", answers$state, ")"), answers$answer)
  points <- say(
    "cli-student.of_2",
    points = ifelse(is.na(answers$points), "\u2013", plain_points(answers$points)),
    most = plain_points(answers$most)
  )
  format_table(
    list(
      text_column("", ifelse(full, "\u2713", " "), colour = "teal"),
      text_column("item", answers$item),
      if (!all(is.na(prompt))) text_column("question", prompt, shrink = TRUE),
      text_column(
        "answer",
        ifelse(answers$state %in% c("omitted", "not_reached"), "", given),
        shrink = TRUE
      ),
      text_column("right", answers$right, shrink = TRUE),
      text_column("points", points, "right"),
      text_column("", word, colour = "ochre")
    )
  )
}

say_beside <- function(answer) {
  c(
    if (!is.na(answer$explanation)) {
      say(
        "cli-student.their_reason",
        item = answer$item,
        explanation = answer$explanation
      )
    },
    if (nzchar(answer$comment)) {
      say("cli-student.comment", item = answer$item, comment = answer$comment)
    }
  )
}
