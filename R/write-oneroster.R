# Scores as OneRoster 1.1 results in CSV: a line item a section, a result a student,
# in a zip with its manifest. Bands with numbers for names are the school's scale;
# else scores are of 100.

write_oneroster <- function(sitting, path) {
  students <- summarise_students(sitting)
  students <- as.data.frame(students)[!is.na(students$share), ]
  if (!nrow(students)) {
    abort_pregunta(
      "input",
      say("write-oneroster.there_is_no_score"),
      NULL,
      say("write-oneroster.has_anybody_points_yet")
    )
  }
  tables <- oneroster_tables(sitting, students)
  write_made(path, function(file) {
    folder <- tempfile("oneroster-")
    dir.create(folder)
    on.exit(unlink(folder, recursive = TRUE))
    files <- file.path(folder, paste0(names(tables), ".csv"))
    Map(write_csv_table, tables, files)
    zip::zipr(file, files)
  })
}

oneroster_tables <- function(sitting, students) {
  settings <- sitting$settings
  date <- if (is.na(settings$date)) format(Sys.Date()) else settings$date
  section <- or_blank(students$section)
  sections <- unique(section)
  line <- vapply(
    paste(settings$title, date, sections),
    code_uuid,
    "",
    USE.NAMES = FALSE
  )
  category <- code_uuid(
    paste("category", if (is.na(settings$kind)) "test" else settings$kind)
  )
  scale <- school_scale(settings, students)
  list(
    manifest = oneroster_manifest(),
    categories = data.frame(
      sourcedId = category,
      status = "",
      dateLastModified = "",
      title = if (is.na(settings$kind)) "test" else settings$kind
    ),
    lineItems = data.frame(
      sourcedId = line,
      status = "",
      dateLastModified = "",
      title = settings$title,
      description = settings$title,
      assignDate = date,
      dueDate = if (is.na(settings$due)) {
        date
      } else {
        substr(settings$due, 1, 10)
      },
      classSourcedId = ifelse(
        nzchar(sections),
        sections,
        "class"
      ),
      categorySourcedId = category,
      gradingPeriodSourcedId = if (is.na(settings$window)) {
        ""
      } else {
        settings$window
      },
      resultValueMin = scale$least,
      resultValueMax = scale$most
    ),
    results = data.frame(
      sourcedId = vapply(
        paste(settings$title, date, students$student),
        code_uuid,
        "",
        USE.NAMES = FALSE
      ),
      status = "",
      dateLastModified = "",
      lineItemSourcedId = line[match(section, sections)],
      studentSourcedId = students$student,
      scoreStatus = ifelse(
        students$status == "waiting",
        "partially graded",
        "fully graded"
      ),
      score = scale$score,
      scoreDate = date,
      comment = scale$word
    )
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
    word = if (length(bands)) students$band else ""
  )
}

# What the bundle holds: of the files that the standard knows, these three.
oneroster_manifest <- function() {
  files <- c(
    "academicSessions", "categories", "classes", "classResources", "courses",
    "courseResources", "demographics", "enrollments", "lineItems", "orgs",
    "resources", "results", "users"
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
      "1.0", "1.1", ifelse(ours, "bulk", "absent"), "Pregunta", "pregunta"
    )
  )
}
