# What the command line writes as JSON is what its schemas say.

# How an array of rows breaks a schema of types and required columns.
breaks <- function(rows, schema) {
  kind <- function(v) {
    if (is.null(v)) {
      "null"
    } else if (is.logical(v)) {
      "boolean"
    } else if (is.numeric(v)) {
      "number"
    } else {
      "string"
    }
  }
  known <- schema$items$properties
  unlist(lapply(rows, function(row) {
    wrong <- vapply(intersect(names(row), names(known)), function(column) {
      codes <- unlist(known[[column]]$enum)
      strange <- length(codes) && !is.null(row[[column]]) && !row[[column]] %in% codes
      strange || !kind(row[[column]]) %in% unlist(known[[column]]$type)
    }, TRUE)
    c(names(which(wrong)), setdiff(unlist(schema$items$required), names(row)))
  }))
}

schema_of <- function(name) {
  jsonlite::fromJSON(
    system.file("schema", paste0(name, ".schema.json"), package = "pregunta"),
    simplifyVector = FALSE
  )
}

test_that(
  paste0(
    "every summary of every demo test keeps to its schema, which says what each column ",
    "means"
  ),
  {
    calls <- list(
      check = "check",
      test = "test",
      items = "items",
      review = c("items", "--review"),
      options = "options",
      answers = c("options", "--whole"),
      students = "students",
      standards = "standards",
      `standards-by-student` = c("standards", "--by", "student"),
      misconceptions = "misconceptions",
      groups = "groups",
      decisions = "decisions",
      parts = "parts",
      precision = "precision",
      scale = "scale",
      `scale-by-student` = c("scale", "--by", "student"),
      time = "time",
      attempts = "attempts",
      watch = "watch"
    )
    small <- plain_folder(c("student,Q1,Q2", "a,A,B", "b,,B", "c,A,C", "d,B,B"))
    for (folder in thinned(c(demo_path(), demo_path("knots"), small), 2)) {
      for (name in names(calls)) {
        call <- c(calls[[name]][1], folder, calls[[name]][-1], "--format", "json")
        said <- run_here(call)
        if (said$status == 2 || !any(nzchar(said$out))) next # nothing to group by
        rows <- jsonlite::fromJSON(
          paste(said$out, collapse = "\n"),
          simplifyVector = FALSE
        )
        expect_equal(
          as.character(breaks(rows, schema_of(name))),
          character(),
          label = paste(basename(folder), name)
        )
      }
    }
  }
)

test_that(
  "each schema names types and meanings, and would notice a column that is gone",
  {
    only_in_all()
    files <- list.files(system.file("schema", package = "pregunta"), full.names = TRUE)
    expect_gt(length(files), 20)
    for (file in files) {
      schema <- jsonlite::fromJSON(file, simplifyVector = FALSE)
      expect_gt(length(schema$items$properties), 2)
      for (property in schema$items$properties) {
        expect_true(nzchar(property$description))
        expect_true(length(property$type) > 0)
      }
    }
    items <- schema_of("items")
    expect_true(all(c("item", "n") %in% breaks(list(list(item = 3)), items)))
    expect_true("reason" %in% breaks(list(list(reason = "because")), items))
  }
)
