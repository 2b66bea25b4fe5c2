# One student's page in the terminal: how the score compares, the standards, the
# ideas behind wrong answers, the attempts, and the answers beside the right ones.

show_student <- function(view) {
  if (is.null(view)) return(NULL)
  c(
    if (length(view$standing)) c("", wrap_lines(view$standing)),
    show_own_standards(view$standards),
    show_own_ideas(view$ideas),
    show_own_attempts(view$attempts),
    show_own_answers(view$answers)
  )
}

own_heading <- function(words) c("", bold_line(words))

show_own_standards <- function(view) {
  if (is.null(view)) return(NULL)
  own <- view$own
  class <- view$class
  attr(own, "tree") <- attr(class, "tree")
  of_class <- class$share[match(own$code, class$code)]
  c(
    own_heading(say("cli-student.standards")),
    format_table(
      code_column(own, "code"),
      title_column(own),
      text_column("points", points_of_earned(own), "right"),
      gauge_column("score", own$share, colour = "teal"),
      share_column("class", of_class),
      text_column("level", level_or_unsure(own))
    ),
    wrap_lines(
      c(
        say_ends(own, class),
        if (any(own$unsure %in% TRUE)) say("legends.unsure")
      )
    )
  )
}

points_of_earned <- function(own) {
  say(
    "cli-student.of",
    earned = plain_points(own$earned),
    open = plain_points(own$open)
  )
}

show_own_ideas <- function(said) {
  if (length(said)) {
    c(
      own_heading(say("cli-student.ideas_behind_the_wrong")),
      wrap_lines(said, 0, 2)
    )
  }
}

show_own_attempts <- function(attempts) {
  if (is.null(attempts)) return(NULL)
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

show_own_answers <- function(view) {
  if (is.null(view)) return(NULL)
  heading <- own_heading(words_for(view$which, "which_answers"))
  if (!nrow(view$rows)) return(c(heading, say("cli-student.none")))
  beside <- each_row(view$rows, function(k) say_beside(view$rows[k, ]))
  said <- c(view$comment, unlist(beside))
  c(
    heading,
    own_answer_lines(view$rows, view$full, view$prompt),
    if (length(said)) "",
    wrap_lines(said, 0, 2)
  )
}

own_answer_lines <- function(answers, full, prompt) {
  answered <- answers$state == "answered"
  state <- words_for(answers$state, "cell_states")
  blank <- answers$state %in% c("omitted", "not_reached")
  given <- or_else(answers$answer, in_parentheses(state))
  points <- say(
    "cli-student.of_2",
    points = plain_points(answers$points),
    most = plain_points(answers$most)
  )
  format_table(
    text_column("", ifelse(full, "\u2713", " "), colour = "teal"),
    text_column("item", answers$item),
    if (!all(is.na(prompt))) text_column("question", prompt, shrink = TRUE),
    text_column(
      "answer",
      ifelse(blank, "", given),
      shrink = TRUE
    ),
    text_column("right", answers$right, shrink = TRUE),
    text_column("points", points, "right"),
    text_column("", ifelse(answered, "", state), colour = "ochre")
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
      say(
        "cli-student.comment",
        item = answer$item,
        comment = answer$comment
      )
    }
  )
}
