# What is shown of students, and of one alone. `...`: what view_rows() takes.

# students: a row each; chosen: whether only some were asked for; alone: the page of
# the one student that was named. which_answers: as in view_student().
view_students <- function(sitting, by = NULL, which_answers = "all", ...,
                          student = NULL, status = NULL, below = NULL) {
  students <- view_rows(
    summarise_students(sitting, by),
    ...,
    student = student,
    status = status,
    below = below
  )
  alone <- if (!is.null(student) && nrow(students) == 1) {
    view_student(sitting, students$student, which_answers)
  }
  chosen <- !is.null(c(student, status, below))
  list(students = students, chosen = chosen, alone = alone)
}

# The lowest first, within their groups, unless another order was asked for.
lowest_first <- function(students) {
  if (is.null(attr(students, "sorted"))) {
    students <- students[order(students$share, students$student), ]
  }
  by <- attr(students, "by")
  if (is.null(by)) return(students)
  students[order(group_paths(students, by), method = "radix"), ]
}

# Those with a score below a cut, the lowest first.
students_below <- function(students, cut) {
  low <- students[!is.na(students$share) & !reaches(students$share, cut), ]
  low[order(low$share), ]
}

# Ids of the students by status, of those who did not simply sit it.
students_in_states <- function(students) {
  states <- factor(students$status, setdiff(status_words, "sat"))
  people <- split(students$student, states)
  people[lengths(people) > 0]
}

# All that a page of one student holds: where the score stands, the standards beside
# the class's, the ideas behind wrong answers, the attempts, and the answers.
# which_answers: all, wrong, right or none.
view_student <- function(sitting, id, which_answers = "all") {
  list(
    standing = own_standing(sitting, id),
    standards = own_standards(sitting, id),
    ideas = own_ideas(sitting, id),
    attempts = own_attempts(sitting, id),
    answers = if (which_answers != "none") {
      own_answers(sitting, id, which_answers)
    }
  )
}

own_standing <- function(sitting, id) {
  students <- summarise_students(sitting)
  if (!is.na(students$share[match(id, students$student)])) {
    say_standing(students, id)
  }
}

# own: a row a standard with a score; class: the same of all; NULL without any.
own_standards <- function(sitting, id) {
  own <- summarise_standards(sitting, "student", helped = TRUE)
  unsure <- is_unsure(own)
  beside <- grep("^estimate|still_unsure", names(own), value = TRUE)
  own <- own[setdiff(names(own), beside)]
  own$unsure <- unsure
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

# Where a student's need is best shown: the lowest standard that lacks most points;
# NULL where none lacks any.
standard_to_begin <- function(own, id) {
  if (!NROW(own)) return(NULL)
  mine <- own[own$student %in% id & !is.na(own$share), ]
  mine <- mine[!mine$code %in% attr(own, "tree")$parent, ]
  lacks <- mine$open - mine$earned
  worst <- mine[order(-lacks, mine$share), ][1, ]
  if (nrow(mine) && worst$earned < worst$open) worst
}

view_attempts <- function(sitting, ...) {
  view_rows(summarise_attempts(sitting), ...)
}

# Of the students who tried more than once.
tried_again <- function(attempts) {
  again <- attempts$student[attempts$attempt > 1]
  attempts[attempts$student %in% again, ]
}

about_people <- c("student", "name", "section", "share", "level")

# Students who were there by questions, in points.
points_by_item <- function(sitting, students) {
  present <- was_present(sitting)
  points <- as.data.frame(cell_points(sitting)[present, , drop = FALSE])
  names(points) <- sitting$items$item
  cbind(plain_rows(students)[present, about_people], points)
}
