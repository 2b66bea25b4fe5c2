#' The reports of many tests, and a page that lists them
#'
#' Writes the report of every test folder in a folder, with a page
#' `index.html` that links them. A folder that cannot be read is listed with what
#' is wrong; the others are done all the same.
#'
#' @param folder That holds test folders.
#' @param out Where the pages go, each under its folder's name; by default each report
#'   into its own test folder and the index into `folder`.
#' @inheritParams write_report
#' @param cores How many processes at a time; the command line takes all cores. A plan
#'   that was set with `future::plan()` goes before: its workers, on this machine or on
#'   others that see the same folders and have the same version of this package, make the
#'   reports. What a worker was at when it died is done again, in a process of its own;
#'   what ends that one too is listed with what is wrong.
#' @param anew Whether reports that would come out the same are made again as well. What
#'   each was made from stands in a file `.made.json` beside it.
#' @return A data frame, a row a test folder: `folder`, `title`, `date`, `n`, `absent`,
#'   `mean_share`, `alpha`, `settle` (questions whose key or wording is in doubt), `file`
#'   (`NA` where it failed), `problem` (`NA` where it did not). The attribute `pooled` is
#'   a data frame of the questions to settle when all tests that ask the same questions
#'   (wording, key, points and options) are taken together: `title`, in how many `tests`,
#'   of how many `students`, and `item`, `verdict`, `rule`, `what`, `do` of
#'   [review_items()]; the attribute `made` is how many reports were made, the others
#'   being up to date. A class is small: a wrong key that none of 300 classes can show by
#'   itself is plain in all of them.
#' @section Errors: `pregunta_error_folder` when no folder in it is a test folder;
#'   `pregunta_error_output` when the index cannot be written.
#' @export
#' @examples
#' tests <- file.path(tempdir(), "tests")
#' dir.create(tests)
#' invisible(file.copy(demo_path("knots"), tests, recursive = TRUE))
#' write_reports(tests, cores = 1)
write_reports <- function(folder, out = NULL, names = TRUE,
                          audience = "teacher", by = NULL,
                          cores = cores_allowed(), anew = FALSE) {
  check_audience(audience)
  tests <- test_folders(folder)
  if (!length(tests)) {
    abort_pregunta(
      "folder",
      say("page-many.no_folder_in_is", folder = quoted(folder)),
      say("page-many.a_test_folder_has"),
      say("page-many.pregunta_new_makes_one")
    )
  }
  if (!is.null(out) && !dir.exists(out)) {
    dir.create(out, recursive = TRUE, showWarnings = FALSE)
  }
  files <- if (is.null(out)) {
    file.path(tests, report_names[[audience]])
  } else {
    file.path(out, paste0(basename(tests), ".html"))
  }
  for (package in c("htmltools", "reactable", "ggplot2")[
    c(TRUE, TRUE, audience != "teacher")
  ]) {
    loadNamespace(package)
  }
  # Of a worker on another machine as well.
  tests <- normalizePath(tests)
  files <- file.path(normalizePath(dirname(files)), basename(files))
  index <- file.path(if (is.null(out)) folder else out, "index.html")
  marks <- vapply(tests, folder_mark, "", USE.NAMES = FALSE)
  as <- asked_mark(names, audience, by)
  kept <- if (!anew) kept_rows(tests, files, marks, as)
  of_all <- paste0(own_sign, cli::hash_obj_md5(list(tests, files, marks)))
  before <- if (!anew) still_made(index, of_all, as)
  if (!is.null(before) && all(lengths(kept) > 0)) {
    pooled <- pooled_from(before)
    table <- do.call(rbind, kept)
    return(structure(table, index = index, pooled = pooled, made = 0L))
  }
  done <- over_each(
    seq_along(tests),
    function(k) one_report(tests[k], files[k], names, audience, by, kept[[k]]),
    function(k) list(row = lost_row(tests[k])),
    cores,
    say("page-many.reports")
  )
  table <- do.call(rbind, lapply(done, `[[`, "row"))
  pooled <- view_pooled(Filter(Negate(is.null), lapply(done, `[[`, "tally")))
  home <- normalizePath(dirname(index))
  write_text(index_page(table, home, audience, pooled = pooled), index)
  made <- which(!is.na(table$file))
  note_made(files[made], marks[made], as, rows_to_note(table[made, ]))
  # Of a folder that failed it is not known whether it would again.
  if (!anyNA(table$file)) note_made(index, of_all, as, list(kept_pooled(pooled)))
  structure(
    table,
    index = index, pooled = pooled, facts = facts_of(done),
    made = length(made) - sum(lengths(kept) > 0)
  )
}

# Of reports that would come out the same their rows; NULL for the others.
kept_rows <- function(tests, files, marks, as) {
  noted <- list()
  for (home in unique(dirname(files))) noted[[home]] <- read_made(home)
  lapply(seq_along(tests), function(k) {
    found <- still_made(files[k], marks[k], as, noted[[dirname(files[k])]])
    if (is.null(found)) NULL else kept_row(found, tests[k], files[k])
  })
}

kept_fields <- c("title", "date", "n", "absent", "mean_share", "alpha", "settle")

rows_to_note <- function(table) {
  each_row(table, function(k) {
    Filter(function(x) !is.na(x), as.list(table[k, kept_fields]))
  })
}

# NULL where it is not as it should be.
kept_row <- function(found, folder, file) {
  row <- empty_row(folder)
  row$file <- file
  for (field in intersect(kept_fields, names(found))) {
    value <- found[[field]]
    fits <- length(value) == 1 && is.character(value) == is.character(row[[field]])
    if (!fits) return(NULL)
    storage.mode(value) <- storage.mode(row[[field]])
    row[[field]] <- value
  }
  row
}

kept_pooled <- function(pooled) {
  list(
    rows = lapply(seq_len(nrow(pooled)), function(k) as.list(pooled[k, ])),
    pools = attr(pooled, "pools"), tests = attr(pooled, "tests"),
    students = attr(pooled, "students")
  )
}

pooled_from <- function(found) {
  rows <- lapply(found$rows, function(row) as.data.frame(row[names(no_pooled())]))
  structure(
    if (length(rows)) do.call(rbind, rows) else no_pooled(),
    pools = found$pools, tests = found$tests, students = as.numeric(found$students)
  )
}

# Folders in this one, and in those the folders of each term.
test_folders <- function(folder) {
  check_is_path(folder)
  inside <- list.dirs(folder, recursive = FALSE)
  is_test <- vapply(inside, is_test_folder, TRUE)
  deeper <- unlist(lapply(inside[!is_test], list.dirs, recursive = FALSE))
  deeper <- deeper[vapply(deeper, is_test_folder, TRUE)]
  sort(c(inside[is_test], deeper), method = "radix")
}

# Its row, and its counts, which can be added to those of others. kept: the row of a page
# that would come out the same.
one_report <- function(folder, file, names, audience, by, kept = NULL) {
  if (!is.null(kept)) {
    return(list(row = kept, tally = tally_responses(read_sitting(folder))))
  }
  tally <- NULL
  row <- report_row(folder, file, function() {
    sitting <- read_sitting(folder)
    tally <<- tally_responses(sitting)
    list(
      page = report_page(sitting, names, audience, by),
      said = sitting$settings[c("title", "date")]
    )
  })
  list(row = row, tally = tally)
}

# Of a test that ended the process that was at it, twice.
lost_row <- function(folder) {
  report_row(folder, NULL, function() stop(say("page-many.its_process_ended")))
}

# The row of a report that is made here; what stopped it stands in the row. make: gives
# the page, and what is known by then.
report_row <- function(folder, file, make) {
  row <- empty_row(folder)
  tryCatch(
    {
      made <- make()
      row[names(made$said)] <- made$said
      row[names(attr(made$page, "headline"))] <- attr(made$page, "headline")
      # Without one, that which is there would come out the same.
      if (!is.null(made$page)) write_text(made$page, file)
      row$file <- file
      row
    },
    error = function(e) {
      row$problem <- gsub(
        "\\s+",
        " ",
        cli::ansi_strip(conditionMessage(e))
      )
      attr(row, "facts") <- facts_said(e)
      row
    }
  )
}

# What stopped each, for who reads it by fields; NULL where nothing did.
facts_of <- function(done) {
  facts <- lapply(done, function(one) attr(one$row, "facts"))
  if (any(lengths(facts) > 0)) facts
}

empty_row <- function(folder) {
  data.frame(
    folder = folder,
    title = NA_character_,
    date = NA_character_,
    n = NA_integer_,
    absent = NA_integer_,
    mean_share = NA_real_,
    alpha = NA_real_,
    settle = NA_integer_,
    file = NA_character_,
    problem = NA_character_
  )
}

# Of a file below the page: whatever a folder is called, it is a place on this disk.
relative_address <- function(path) {
  if (!nzchar(path)) return("")
  steps <- strsplit(path, "/", fixed = TRUE)[[1]]
  steps <- vapply(steps, utils::URLencode, "", reserved = TRUE, repeated = TRUE)
  paste(steps, collapse = "/")
}

# each: the column whose values the reports are of, where they are of one test.
# pooled: what view_pooled() gave.
index_page <- function(table, home, audience, each = NULL,
                       title = say("page-many.reports"), pooled = NULL) {
  tags <- htmltools::tags
  link <- mapply(
    function(file, folder) {
      if (is.na(file)) return("")
      if (dirname(file) == home) {
        basename(file)
      } else {
        paste0(
          substring(dirname(file), nchar(home) + 2), "/", basename(file)
        )
      }
    },
    table$file,
    table$folder,
    USE.NAMES = FALSE
  )
  data <- data.frame(
    title = cell_words(or_else(table$title, basename(table$folder))),
    folder = cell_words(basename(table$folder)),
    date = cell_words(table$date),
    n = table$n,
    absent = table$absent,
    share = table$mean_share,
    alpha = table$alpha,
    settle = table$settle,
    problem = cell_words(table$problem),
    link = vapply(link, relative_address, "", USE.NAMES = FALSE)
  )
  about <- say(
    "page-many.reports_folders_that_could",
    n = sum(nzchar(data$link)),
    n_data = sum(nzchar(data$problem)),
    any_problem = any(nzchar(data$problem)),
    parts = !is.null(each)
  )
  columns <- list(
    title = page_column("test", "link", minWidth = 200),
    folder = page_column("folder", minWidth = 130),
    date = page_column("date", width = 110),
    n = figure_column("students", width = 92),
    absent = figure_column("absent", width = 80),
    share = bar_column("mean_score", width = 140),
    alpha = figure_column("reliability", "number", "alpha", 110),
    settle = figure_column("to_settle", width = 96),
    problem = page_column("what_is_wrong", minWidth = 180)
  )
  if (!any(nzchar(data$problem))) {
    columns$problem <- data$problem <- NULL
  }
  if (!is.null(each)) {
    # The school's own word for it.
    columns$title$name <- capital(printable(each))
    columns <- columns[setdiff(names(columns), c("folder", "date"))]
    data <- data[setdiff(names(data), c("folder", "date"))]
  }
  nobody <- list(
    people = list(),
    items = list(),
    views = list(list())
  )
  body <- tags$main(
    tags$header(page_titles(title, about)),
    pooled_section(pooled),
    wide(
      title,
      page_table(
        "index-table",
        data,
        columns,
        "tests",
        filter = TRUE
      )
    ),
    page_data("shared", nobody)
  )
  page_document(title, body)
}

# What all tests together say, before the table of each.
pooled_section <- function(pooled) {
  if (is.null(pooled) || !attr(pooled, "pools")) return(NULL)
  tags <- htmltools::tags
  several <- attr(pooled, "pools") > 1
  questions <- lapply(seq_len(nrow(pooled)), function(k) {
    row <- pooled[k, ]
    tags$li(
      tags$strong(say_pooled_item(row, several)),
      " ",
      printable(paste(row$what, row$do))
    )
  })
  headed(
    say(
      "page-many.taken_together",
      tests = attr(pooled, "tests"), pools = attr(pooled, "pools"), several = several
    ),
    if (length(questions)) {
      tags$ul(class = "pooled", questions)
    } else {
      tags$p(say("page-many.nothing_together", students = attr(pooled, "students")))
    },
    id = "pooled"
  )
}

# "Q9, in 300 tests, 9,000 students": with the test's title where there are several.
say_pooled_item <- function(row, several) {
  printable(say(
    "page-many.pooled_item",
    item = row$item, title = row$title, several = several, tests = row$tests,
    students = row$students
  ))
}

report_names <- c(
  teacher = "report.html",
  coordinator = "report-coordinator.html",
  head = "report-head.html"
)
