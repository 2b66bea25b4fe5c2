# What is shown of students, and of one alone.

# All that a page of one student holds: where the score stands, the standards beside
# the class's, the ideas behind wrong answers, the attempts, and the answers.
# which_answers: all, wrong, right or none.
view_student <- function(sitting, id, which_answers = "all") {
  list(
    standing = own_standing(sitting, id),
    standards = own_standards(sitting, id),
    ideas = own_ideas(sitting, id),
    attempts = own_attempts(sitting, id),
    answers = if (which_answers != "none") own_answers(sitting, id, which_answers)
  )
}

own_standing <- function(sitting, id) {
  students <- summarise_students(sitting)
  if (!is.na(students$share[match(id, students$student)])) say_standing(students, id)
}

# own: a row a standard with a score; class: the same of all; NULL without any.
own_standards <- function(sitting, id) {
  own <- summarise_standards(sitting, "student")
  own <- own[own$student == id & !is.na(own$share), ]
  if (!nrow(own)) return(NULL)
  list(own = own, class = summarise_standards(sitting))
}

own_ideas <- function(sitting, id) {
  held <- summarise_misconceptions(sitting, "student")
  say_own_ideas(held[held$student == id, ])
}

# Of who tried more than once.
own_attempts <- function(sitting, id) {
  attempts <- summarise_attempts(sitting)
  attempts <- attempts[attempts$student == id, ]
  if (nrow(attempts) > 1) attempts
}

# Wrong are those that did not earn all the points, also blank ones; full: which did;
# beside: what was written beside the answers.
own_answers <- function(sitting, id, which_answers) {
  answers <- student_answers(sitting, id)
  full <- (answers$points > answers$most - 1e-9) %in% TRUE
  shown <- switch(which_answers,
    all = rep(TRUE, nrow(answers)),
    right = full,
    wrong = !full & !is.na(answers$points)
  )
  list(
    which = which_answers,
    rows = answers[shown, ],
    full = full[shown],
    prompt = sitting$items$prompt[shown],
    comment = attr(answers, "comment")
  )
}
