#' Read a test folder
#'
#' A teacher keeps one folder a test, of CSV files (comma, semicolon or tab
#' between the cells), or of sheets with the same names in `test.xlsx`; where
#' both are there the CSV file counts. `responses.csv` and `items.csv` are
#' needed; a file or a column that is not there is simply not used. UTF-8 is
#' expected; UTF-16 and Windows-1252 are read too and a finding says so.
#' [new_test()] makes such a folder from whatever there is.
#'
#' * `responses.csv`: a row a student (wide) or an answer (long). Wide: `student`, a
#'   column an item, any of `attempt`, `seconds`, `submitted`, and for an item `<item>
#'   points` (given by hand), `<item> seconds`, `<item> explanation`, `<item>
#'   comment`. Long: `student`, `item`, `response` and any of `points`, `attempt`,
#'   `status`, `seconds`, `submitted`, `explanation`, `comment`, `marker`.
#' * `items.csv`: a row an item, in printed order: `item`, `type`, `key`, `points`,
#'   `scoring` (`all` or `each`), `standards` (`;` between), `prompt`, `rationale`;
#'   any other column is a tag.
#' * `options.csv`: a row an option: `item`, `option`, `text`, `misconception`.
#' * `misconceptions.csv`: a row a misconception: `code`, `description`.
#' * `students.csv`: a row a student: `student`, `name`, `section`, `email`,
#'   `guardian_email`, `language` (that the family reads); any other column can group.
#' * `standards.csv`: a row a standard: `code`, `parent`, `title` (and `title_es` or
#'   the like), `emphasis` (`priority` or `supporting`).
#' * `adjustments.csv`: a row a recorded change of a mark or a key: `student` (blank:
#'   all), `item`, `action`, `value`, `reason`; see [adjust()].
#' * `test.yml`: the settings of [default_settings()] that differ.
#' * `plan.csv`: a row a standard of the plan: what was found, and `activity`, `day`,
#'   `check`, `note` to type into; see [plan_reteach()].
#' * `judges.csv`: a row a judge's word on an item: `judge`, `item`, `estimate`,
#'   `round`; see [summarise_cuts()].
#' * `placements.csv`: a row a student whom a teacher places: `student`, `placed`
#'   (`above`, `below` or `borderline`), `judge`.
#' * `record.yml`: beside a record of the year, not in a test's folder: `windows`,
#'   `ladders`, `renamed`; see [open_record()].
#'
#' The files are only read, never changed.
#'
#' @param folder Path of the folder.
#' @return A [sitting()].
#' @section Errors: `pregunta_error_folder` when the folder or a needed file is missing;
#' `pregunta_error_input` when a file cannot be read or holds a mistake that has to be put
#' right first: the message gives file, line, column, the value, and what to do. Mistakes
#' that can wait are in [check_sitting()].
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' quiz
read_sitting <- function(folder) {
  interpret_here()
  check_folder(folder)
  if (has_stored_responses(folder)) return(open_sitting(folder)$read(NULL))
  tables <- lapply(stats::setNames(nm = folder_tables), function(name) {
    read_part(folder, name, coded = name == "responses")
  })
  check_table_sizes(tables, folder)
  settings <- settings_in(folder)
  sitting <- do.call(sitting, c(tables, list(settings = settings)))
  sitting$findings <- c(
    sitting$findings,
    check_encodings(tables),
    check_beside(tables),
    check_received(folder)
  )
  sitting
}

# As test.yml says; without a title the test is called like its folder.
settings_in <- function(folder) {
  path <- file.path(folder, "test.yml")
  settings <- if (file.exists(path)) read_settings(path) else list()
  if (is.null(settings$title)) {
    settings$title <- basename(normalizePath(folder))
  }
  settings
}

# The language that test.yml names, as far as all is said in it.
language_of_folder <- function(folder) {
  if (!dir.exists(folder)) return(NULL)
  said <- tryCatch(settings_in(folder)$language, pregunta_error = function(e) NULL)
  if (length(said) != 1) return(NULL)
  found <- language_like(said)
  if (!is.na(found) && covers(found) == "everything") found
}

# What was received and is not among the responses yet: who took it in was ended before it
# had put it there. Some seconds are usual.
check_received <- function(folder) {
  paths <- file.path(folder, c("statements.jsonl", "responses.csv"))
  if (!all(file.exists(paths))) return(NULL)
  behind <- difftime(file.mtime(paths[1]), file.mtime(paths[2]), units = "secs")
  if (behind < 10) return(NULL)
  list(new_finding(
    "warning",
    "responses.csv",
    NA,
    NA,
    say("read-sitting.later_statements"),
    say("read-sitting.receive_once_more")
  ))
}

folder_tables <- c(
  "responses", "items", "options", "students", "standards", "misconceptions",
  "adjustments"
)

is_test_folder <- function(path) {
  has_items <- file.exists(file.path(path, "items.csv"))
  has_responses <- file.exists(file.path(path, "responses.csv"))
  (has_items && (has_responses || has_stored_responses(path))) ||
    file.exists(file.path(path, "test.xlsx"))
}

# Whether test.yml says that they are in a database, and no file has them.
has_stored_responses <- function(folder) {
  files <- file.path(folder, c("responses.csv", "test.xlsx", "test.yml"))
  there <- file.exists(files)
  if (any(there[1:2]) || !there[3]) return(FALSE)
  any(grepl("^[\"']?responses[\"']? *:", readLines(files[3], warn = FALSE)))
}

# A test has no thousands of questions, an id no hundreds of letters.
check_table_sizes <- function(tables, folder) {
  check_limit("questions", length(unique(tables$items$item)), folder)
  check_limit("standards", length(unique(tables$standards$code)), folder)
  check_limit("levels_of_standards", levels_of_standards(tables$standards), folder)
  sat <- tables$responses$student
  ids <- c(
    if (is.factor(sat)) levels(sat) else as.character(sat), tables$students$student,
    tables$items$item, tables$standards$code
  )
  check_limit("letters_of_id", max(0, nchar(ids, "bytes"), na.rm = TRUE), folder)
}

# How deep the tree of standards goes; 0 where one lies within itself, which is said
# elsewhere. above: the ancestor 1, 2, 4, ... steps up.
levels_of_standards <- function(standards) {
  if (is.null(standards$code) || is.null(standards$parent)) return(0)
  above <- match(standards$parent, standards$code)
  depth <- ifelse(is.na(above), 0, 1)
  for (step in seq_len(ceiling(log2(nrow(standards) + 2)))) {
    depth <- depth + ifelse(is.na(above), 0, depth[above])
    above <- above[above]
  }
  if (any(!is.na(above))) 0 else max(0, depth)
}

# A CSV file, or the sheet of that name in test.xlsx; NULL when there is neither. coded:
# for who only reads: columns of few values come as factors.
read_part <- function(folder, name, coded = FALSE) {
  path <- file.path(folder, paste0(name, ".csv"))
  if (file.exists(path)) return(read_table_file(path, coded))
  book <- file.path(folder, "test.xlsx")
  if (!file.exists(book)) return(NULL)
  if (!is_workbook(book)) {
    abort_workbook(book, simpleError(say("read-sitting.it_is_no_workbook")))
  }
  sheets <- sheet_names(book)
  sheet <- sheets[tolower(sheets) == name]
  if (length(sheet)) read_table_sheet(book, sheet[1])
}

# A file that was saved in an older encoding is read, and it is said.
check_encodings <- function(tables) {
  odd <- Filter(function(table) any(attr(table, "encoding") != "UTF-8"), tables)
  unname(lapply(odd, function(table) {
    new_finding(
      "note",
      origin_of(table),
      NA,
      NA,
      say("read-sitting.is_read_as", table = attr(table, "encoding")),
      say("read-sitting.if_a_letter_looks")
    )
  }))
}

# What stands beside the table of a sheet, in columns without a heading.
check_beside <- function(tables) {
  more <- Filter(function(table) isTRUE(attr(table, "beside") > 0), tables)
  unname(lapply(more, function(table) {
    new_finding(
      "note",
      origin_of(table),
      NA,
      NA,
      say("read-sitting.cells_beside", n = attr(table, "beside")),
      say("read-sitting.give_them_a_heading")
    )
  }))
}

# A file was given where a folder is wanted: one of a test folder, or one to make it of.
abort_file_for_folder <- function(path) {
  within <- dirname(path)
  stem <- tools::file_path_sans_ext(basename(path))
  abort_pregunta(
    "folder",
    say("read-sitting.is_a_file", path = quoted(path)),
    NULL,
    if (is_test_folder(within)) {
      say("read-sitting.give_its_folder", folder = quoted(within))
    } else {
      say(
        "read-sitting.make_a_folder_of_it",
        folder = shell_word(paste0(stem, "-test")),
        path = shell_word(path)
      )
    },
    file = path
  )
}

check_folder <- function(folder) {
  stop_if_address(folder)
  if (file.exists(folder) && !dir.exists(folder)) abort_file_for_folder(folder)
  if (!dir.exists(folder)) {
    near <- nearest_word(basename(folder), list.files(dirname(folder)))
    abort_pregunta(
      "folder",
      say("read-sitting.there_is_no_folder", folder = quoted(folder)),
      NULL,
      if (is.na(near)) {
        say("read-sitting.give_the_path_of")
      } else {
        within <- dirname(folder)
        path <- if (within == ".") near else file.path(within, near)
        say("read-sitting.did_you_mean", folder = quoted(path))
      }
    )
  }
  stored <- has_stored_responses(folder)
  for (name in c(if (!stored) "responses.csv", "items.csv")) {
    places <- file.path(folder, c(name, "test.xlsx"))
    if (!any(file.exists(places))) {
      files <- some_of(list.files(folder), 8)
      abort_pregunta(
        "folder",
        say("read-sitting.the_folder_has_no", name = name),
        say("read-sitting.holds", folder = folder, files = files),
        say("read-sitting.a_test_folder_needs")
      )
    }
  }
}
