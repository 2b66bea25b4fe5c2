# Scores as OneRoster results in CSV: a line item a class, a result a student, in a zip
# with its manifest. Bands with numbers for names are the school's scale; else scores are
# of 100.

write_oneroster <- function(sitting, path, version) {
  students <- graded_students(sitting)
  tables <- oneroster_tables(sitting, students, version)
  write_made(path, function(file) {
    folder <- tempfile("oneroster-")
    dir.create(folder)
    on.exit(unlink(folder, recursive = TRUE))
    files <- file.path(folder, paste0(names(tables), ".csv"))
    Map(write_csv_table, tables, files)
    zip::zipr(file, files)
  })
}

# Everybody who should have sat it, with the identifiers of the roster where they are
# known, and what the marks say of them.
graded_students <- function(sitting) {
  students <- as.data.frame(summarise_students(sitting))
  if (all(is.na(students$share))) {
    abort_pregunta(
      "input",
      say("write-oneroster.there_is_no_score"),
      NULL,
      say("write-oneroster.has_anybody_points_yet")
    )
  }
  listed <- sitting$students[match(students$student, sitting$students$student), ]
  known <- function(column, other) {
    if (is.null(listed[[column]])) other else or_else(listed[[column]], other)
  }
  section <- or_else(students$section, "class")
  students$user <- known("sourced_id", students$student)
  students$class <- known("class_id", section)
  students$school <- known("school_id", "")
  students$day <- substr(or_blank(known("submitted", NA)), 1, 10)
  students$day <- ifelse(nzchar(students$day), students$day, day_of(sitting))
  students
}

day_of <- function(sitting) {
  day <- sitting$settings$date
  if (is.na(day)) format(Sys.Date()) else day
}

oneroster_tables <- function(sitting, students, version) {
  settings <- sitting$settings
  kind <- or_else(settings$kind, "test")
  # What identifies the line item is the test and its class, whenever it is passed on.
  about <- paste(c(activity_base(sitting), or_blank(settings$date)), collapse = " ")
  classes <- students[!duplicated(students$class), ]
  line <- stats::setNames(
    uuid_of(paste("lineItem", about, classes$class)),
    classes$class
  )
  scale <- school_scale(settings, students)
  tables <- list(
    manifest = oneroster_manifest(version),
    categories = data.frame(
      sourcedId = uuid_of(paste("category", kind)),
      status = "",
      dateLastModified = "",
      title = kind
    ),
    lineItems = data.frame(
      sourcedId = unname(line),
      status = "",
      dateLastModified = "",
      title = settings$title,
      description = settings$title,
      assignDate = day_of(sitting),
      dueDate = substr(or_else(settings$due, day_of(sitting)), 1, 10),
      classSourcedId = classes$class,
      categorySourcedId = uuid_of(paste("category", kind)),
      gradingPeriodSourcedId = or_blank(settings$grading_period),
      resultValueMin = scale$least,
      resultValueMax = scale$most
    ),
    results = data.frame(
      sourcedId = uuid_of(paste("result", about, students$student)),
      status = "",
      dateLastModified = "",
      lineItemSourcedId = unname(line[students$class]),
      studentSourcedId = students$user,
      scoreStatus = score_status(students),
      score = scale$score,
      scoreDate = students$day,
      comment = scale$word
    )
  )
  if (version == "1.2") later_columns(tables, classes, students, scale) else tables
}

# What version 1.2 has beside: weights, schools, words for scores, and why one is missing.
later_columns <- function(tables, classes, students, scale) {
  tables$categories$weight <- ""
  tables$lineItems$schoolSourcedId <- classes$school
  truth <- function(x) ifelse(x, "true", "false")
  results <- tables$results
  results$textScore <- scale$word
  results$comment <- ""
  results$classSourcedId <- students$class
  results$inProgress <- truth(students$status == "waiting")
  results$incomplete <- truth(students$status == "unfinished")
  results$late <- truth(students$status == "late")
  results$missing <- truth(students$status == "absent")
  tables$results <- results
  tables
}

# In the standard's own words.
score_status <- function(students) {
  some <- !is.na(students$share)
  data.table::fcase(
    students$status == "absent", "not submitted",
    students$status == "excused", "exempt",
    students$status == "waiting" & !some, "submitted",
    students$status == "waiting", "partially graded",
    some, "fully graded",
    default = "not submitted"
  )
}

# A score of each student: the band itself where bands are numbers, with the band's
# name beside it where they are words.
school_scale <- function(settings, students) {
  bands <- names(settings$bands)
  numbers <- suppressWarnings(as.numeric(bands))
  if (length(bands) && !anyNA(numbers)) {
    return(list(
      score = numbers[match(students$band, bands)],
      least = min(numbers),
      most = max(numbers),
      word = ""
    ))
  }
  list(
    score = round_half_up(100 * students$share, 1),
    least = 0,
    most = 100,
    word = if (length(bands)) or_blank(students$band) else ""
  )
}

# What the bundle holds: of the files that the standard knows, these three.
oneroster_manifest <- function(version) {
  files <- c(
    "academicSessions", "categories", "classes", "classResources", "courses",
    "courseResources", "demographics", "enrollments", "lineItems", "orgs",
    "resources", "results", "users",
    if (version == "1.2") {
      c(
        "lineItemLearningObjectiveIds", "lineItemScoreScales",
        "resultLearningObjectiveIds", "resultScoreScales", "roles", "scoreScales",
        "userProfiles", "userResources"
      )
    }
  )
  ours <- files %in% c("categories", "lineItems", "results")
  data.frame(
    propertyName = c(
      "manifest.version",
      "oneroster.version",
      paste0("file.", files),
      "source.systemName",
      "source.systemCode"
    ),
    value = c(
      "1.0", version, ifelse(ours, "bulk", "absent"), "Pregunta", "pregunta"
    )
  )
}
