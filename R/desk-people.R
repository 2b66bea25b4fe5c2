# Who is at the desk. One person has all of it; where a school runs it for many, each has
# a key and sees the rows of the sections that are theirs, or all.

# As in people.yml, each with a key; without it the one who started the desk.
people_of_desk <- function(path) {
  people <- if (is.null(path)) list(list(name = NULL)) else read_people_file(path)
  lapply(people, function(one) {
    if (is.null(one$key)) one$key <- random_hex(16)
    one
  })
}

sees_all <- function(visit) is.null(visit$person$sections)

# Of a test the students who are theirs. Nothing is withheld from who teaches them; what
# does not add up elsewhere is not for them.
own_part <- function(sitting, sections) {
  if (is.null(sections)) return(sitting)
  own_students(sitting, which(sitting$students$section %in% sections))
}

# The tests in which they have students.
tests_of_visit <- function(visit) {
  tests <- shelf_tests(visit$desk)
  if (sees_all(visit)) return(tests)
  has_own <- function(id) {
    tryCatch({
      sitting <- read_whole(visit$desk, id)$sitting
      any(sitting$students$section %in% visit$person$sections)
    }, pregunta_error = function(e) FALSE)
  }
  tests[vapply(tests, has_own, TRUE)]
}

# Of a list of students those who are theirs.
own_rows <- function(visit, students) {
  if (sees_all(visit)) return(students)
  students[students$section %in% visit$person$sections, , drop = FALSE]
}

tests_to_sit_of <- function(visit) {
  tests <- tests_to_sit(visit$desk)
  if (sees_all(visit)) return(tests)
  has_own <- function(id) {
    listed <- tryCatch(
      read_form_folder(path_of_test(visit$desk, id))$students,
      pregunta_error = function(e) NULL
    )
    NROW(own_rows(visit, listed)) > 0
  }
  tests[vapply(tests, has_own, TRUE)]
}

# What who sees a part may do, and to whom: marks and comments of their own students,
# answers of theirs, and files of their own. What moves other people's marks is for who
# sees all.
acts_of_a_part <- c(
  "explain", "close", "ask-move", "try", "change", "undo", "undo-add", "mark", "type",
  "type-over", "draw", "followup", "compare", "unmake", "put-back", "read", "keep",
  "forget", "make", "slips", "stop", "plan", "close-plan"
)
changes_of_a_part <- c("points", "excuse", "extra", "comment", "group")
rooms_of_a_part <- c(
  "shelf", "new", "year", "came", "live", "mark", "type", "went", "questions", "students",
  "standards", "next", "give", "show", "lost"
)

check_may_act <- function(visit, given) {
  if (sees_all(visit)) return(invisible())
  may <- given$act %in% acts_of_a_part && switch(given$act,
    try = ,
    change = given$action %in% changes_of_a_part && is_own(visit, given$student),
    undo = all(lines_named(given$lines) %in% own_lines(visit)),
    TRUE
  )
  if (may) return(invisible())
  abort_pregunta(
    "call",
    say("desk-people.not_for_a_part"),
    NULL,
    say("desk-people.ask_who_sees_all")
  )
}

is_own <- function(visit, student) {
  length(student) == 1 && student %in% test_of_visit(visit)$sitting$students$student
}

# Those of theirs whom the test's list names, also before it was sat.
own_students_here <- function(visit) {
  listed <- read_form_folder(folder_of_visit(visit))$students
  own_rows(visit, listed)$student
}

# Whose answers they may add to a test: students of theirs, new ones of their sections.
own_in_test <- function(visit, id) {
  if (sees_all(visit)) return(NULL)
  sitting <- read_known(visit, id)$sitting
  list(students = sitting$students$student, sections = visit$person$sections)
}

# A test that they bring in holds their sections only; where no section is said, and they
# have one, it is that. The list of students with it.
list_of_own_class <- function(visit, arrival, account) {
  sections <- visit$person$sections
  people <- attr(account, "students")
  if (is.null(people)) {
    people <- data.frame(student = unique(attr(account, "responses")$student))
  }
  if (is.null(people$section)) people$section <- rep(NA_character_, nrow(people))
  said <- !is_blank(people$section)
  others <- unique(people$section[said & !people$section %in% sections])
  open <- length(sections) > 1 && !all(said)
  if (length(others) || open) {
    abort_pregunta(
      "input",
      say("desk-people.not_own_sections", sections = sections),
      if (length(others)) some_of(quoted(others), 8) else NULL,
      say("desk-people.say_sections")
    )
  }
  if (all(said)) return(arrival$students)
  people$section[!said] <- sections
  path <- file.path(dirname(arrival$files[1]), "students-of-section.csv")
  write_csv_table(people, path)
  path
}

lines_named <- function(lines) as.integer(strsplit(paste0("", lines), ",")[[1]])

own_lines <- function(visit) {
  sitting <- test_of_visit(visit)$sitting
  list <- sitting$adjustments
  line_of(list)[list$student %in% sitting$students$student]
}

# Who sees a part has a plan of the part, the one that `--only` keeps on the command line.
plan_of_visit <- function(visit) {
  plan_path(folder_of_visit(visit), part_of_person(visit$person))
}

part_of_person <- function(person) {
  if (length(person$sections)) list(section = person$sections)
}

only_of_visit <- function(visit) {
  sections <- visit$person$sections
  if (length(sections)) c("--only", paste0("section=", paste(sections, collapse = ",")))
}

# Where a file of this kind goes: who sees a part has files of their own.
own_file_name <- function(person, name) {
  if (is.null(person$sections)) return(name)
  own <- paste0("-for-", plain_name(person))
  if (!grepl(".", name, fixed = TRUE)) return(paste0(name, own))
  sub(".", paste0(own, "."), name, fixed = TRUE)
}

files_for <- function(person, folder) {
  made <- files_made(folder)
  if (is.null(person$sections)) return(made)
  own <- vapply(to_make(), function(one) own_file_name(person, one[[1]]), "")
  made[made$name %in% own, , drop = FALSE]
}
