# Figures against those of an independent implementation, to 1e-8: the folders
# under shared reference where they are at hand, and copies in the package.

reference_folders <- function() {
  roots <- c(
    test_path("reference"), test_path("..", "..", "..", "shared", "reference"),
    Sys.getenv("PREGUNTA_REFERENCE")
  )
  folders <- list.dirs(roots[nzchar(roots) & dir.exists(roots)], recursive = FALSE)
  folders[file.exists(file.path(folders, "expected.json"))]
}

as_columns <- function(records) {
  lapply(stats::setNames(nm = names(records[[1]])), function(name) {
    unlist(lapply(records, function(record) {
      if (is.null(record[[name]])) NA else record[[name]]
    }))
  })
}

expect_columns <- function(ours, records, label) {
  if (!length(records)) return(expect_true(TRUE))
  for (name in names(records[[1]])) {
    expected <- as_columns(records)[[name]]
    actual <- ours[[name]]
    if (is.numeric(expected)) {
      expect_identical(is.na(actual), is.na(expected), label = paste(label, name, "NA"))
      expect_lt(
        max(0, abs(actual - expected), na.rm = TRUE),
        1e-8,
        label = paste(label, name)
      )
    } else if (!all(is.na(expected))) {
      expect_identical(actual, expected, label = paste(label, name))
    } else {
      expect_true(all(is.na(actual)), label = paste(label, name))
    }
  }
}

for (folder in reference_folders()) {
  test_that(paste("every figure agrees with the independent one:", basename(folder)), {
    expected <- jsonlite::read_json(file.path(folder, "expected.json"))
    quiz <- read_sitting(folder)
    expect_columns(summarise_test(quiz), list(expected$test), "test")
    expect_columns(summarise_items(quiz), expected$items, "items")
    options <- summarise_options(quiz)
    keys <- vapply(expected$options, function(o) paste(o$item, o$option), "")
    expect_columns(
      options[match(keys, paste(options$item, options$option)), ],
      expected$options,
      "options"
    )
    students <- subset(summarise_students(quiz), status != "absent")
    expect_columns(students, expected$students, "students")
  })
}
