# OneRoster 1.1 and 1.2 CSV, as a folder or a zip: who the students are, in
# which class, with which teacher and school.

read_roster <- function(path) {
  files <- roster_files(path)
  if (is.null(files)) return(NULL)
  tables <- lapply(files, read_table_file)
  users <- roster_table(tables$users, "users.csv", "sourcedId")
  enrollments <- roster_table(
    tables$enrollments,
    "enrollments.csv",
    c("classSourcedId", "userSourcedId", "role")
  )
  classes <- roster_table(
    tables$classes,
    "classes.csv",
    c("sourcedId", "title")
  )
  mine <- enrollments[tolower(enrollments$role) == "student", ]
  new_bundle(
    roster = list(
      users = users,
      enrollments = enrollments,
      classes = classes,
      orgs = tables$orgs,
      demographics = tables$demographics,
      sessions = tables$academicSessions,
      student_ids = unique(mine$userSourcedId)
    ),
    origin = basename(path)
  )
}

roster_names <- c(
  "users", "enrollments", "classes", "orgs", "demographics", "academicSessions"
)

roster_files <- function(path) {
  if (dir.exists(path)) {
    files <- stats::setNames(
      file.path(path, paste0(roster_names, ".csv")),
      roster_names
    )
    if (!file.exists(files["users"])) {
      abort_pregunta(
        "folder",
        say("read-oneroster.the_folder_has_no", path = quoted(path)),
        NULL,
        say("read-oneroster.a_oneroster_folder_has")
      )
    }
    return(files[file.exists(files)])
  }
  check_file(path)
  if (!is_zip(path) || is_workbook(path)) return(NULL)
  copies <- zip_copies(path, function(name) {
    basename(name) %in% paste0(roster_names, ".csv")
  })
  names(copies) <- tools::file_path_sans_ext(basename(names(copies)))
  if ("users" %in% names(copies)) copies
}

roster_table <- function(table, name, columns) {
  if (is.null(table)) {
    abort_pregunta(
      "input",
      say("read-oneroster.the_oneroster_files_have", name = name),
      NULL,
      say("read-oneroster.it_says_which_students")
    )
  }
  require_columns(table, columns)
  if ("status" %in% names(table)) {
    table <- table[!tolower(table$status) %in% "tobedeleted", ]
  }
  table
}

# The students of the classes that the test's students are in (of a student's
# classes the one that most of them share); with the id that the responses use.
roster_students <- function(roster, ids) {
  users <- roster$users[roster$users$sourcedId %in% roster$student_ids, ]
  named <- intersect(
    c("sourcedId", "identifier", "username", "email"),
    names(users)
  )
  hits <- vapply(
    named,
    function(name) sum(users[[name]] %in% ids),
    0
  )
  use <- if (max(hits) > 0) named[which.max(hits)] else "sourcedId"
  seats <- roster$enrollments[tolower(roster$enrollments$role) == "student", ]
  seats <- seats[seats$userSourcedId %in% users$sourcedId, ]
  sat <- users$sourcedId[users[[use]] %in% ids]
  size <- table(
    factor(
      seats$classSourcedId[seats$userSourcedId %in% sat],
      unique(seats$classSourcedId)
    )
  )
  seats$size <- as.vector(size[match(seats$classSourcedId, names(size))])
  seats <- seats[order(-seats$size), ]
  own <- seats[!duplicated(seats$userSourcedId), ]
  if (length(sat)) {
    seats <- seats[
      seats$classSourcedId %in% own$classSourcedId[own$userSourcedId %in% sat],
    ]
  }
  seats <- seats[!duplicated(seats$userSourcedId), ]
  users <- users[users$sourcedId %in% seats$userSourcedId, ]
  class <- seats$classSourcedId[match(users$sourcedId, seats$userSourcedId)]
  out <- data.frame(
    student = users[[use]],
    name = trimws(paste(users$givenName, users$familyName)),
    section = roster$classes$title[match(class, roster$classes$sourcedId)]
  )
  if (!is.null(users$email)) {
    out$email <- users$email
  }
  # What the roster knows them by is kept for marks that go back to it.
  if (use != "sourcedId") out$sourced_id <- users$sourcedId
  out$class_id <- class
  of_class <- match(class, roster$classes$sourcedId)
  out$school_id <- roster$classes$schoolSourcedId[of_class]
  out$teacher <- class_teacher(roster, class)
  out$school <- class_school(roster, class)
  structure(
    add_demographics(out, roster$demographics, users$sourcedId),
    id = use
  )
}

# The grading period in which a day lies, where there is one only: NULL else.
roster_period <- function(roster, day) {
  sessions <- roster$sessions
  needed <- c("sourcedId", "title", "type", "startDate", "endDate")
  if (!all(needed %in% names(sessions))) return(NULL)
  if (is.null(day) || is.na(day)) day <- format(Sys.Date())
  covers <- sessions$type %in% "gradingPeriod" &
    or_blank(sessions$startDate) <= day & or_blank(sessions$endDate) >= day
  if (sum(covers) == 1) as.list(sessions[covers, needed])
}

class_teacher <- function(roster, class) {
  seats <- roster$enrollments[tolower(roster$enrollments$role) == "teacher", ]
  user <- match(
    seats$userSourcedId[match(class, seats$classSourcedId)],
    roster$users$sourcedId
  )
  name <- trimws(paste(roster$users$givenName, roster$users$familyName))[user]
  if (all(is.na(name))) NULL else name
}

class_school <- function(roster, class) {
  if (is.null(roster$orgs) || is.null(roster$classes$schoolSourcedId)) {
    return(NULL)
  }
  school <- roster$classes$schoolSourcedId[
    match(class, roster$classes$sourcedId)
  ]
  roster$orgs$name[match(school, roster$orgs$sourcedId)]
}

# Columns that say something: a date of birth is not for groups.
add_demographics <- function(people, demographics, ids) {
  if (is.null(demographics)) return(people)
  at <- match(ids, demographics$sourcedId)
  for (column in setdiff(
    names(demographics),
    c("sourcedId", "status", "dateLastModified", "birthDate")
  )) {
    value <- demographics[[column]][at]
    if (length(unique(value[!is_blank(value)])) > 1) {
      people[[column]] <- value
    }
  }
  people
}
