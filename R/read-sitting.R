#' Read a test folder
#'
#' A teacher keeps one folder a test, of CSV files in UTF-8 (comma, semicolon
#' or tab between the cells). `responses.csv` and `items.csv` are needed; a
#' file or a column that is not there is simply not used.
#'
#' * `responses.csv`: wide, a row a student, `student` and a column an item;
#'   or long, `student`, `item`, `response` and any of `points`, `attempt`,
#'   `status`.
#' * `items.csv`: an item a row in printed order: `item`, `type`, `key`,
#'   `points`, `scoring`, `standards` (`;` between), `prompt`, `rationale`;
#'   any other column is a tag.
#' * `options.csv`: `item`, `option`, `text`, `misconception`.
#' * `misconceptions.csv`: `code`, `description`.
#' * `students.csv`: `student`, `name`, `section`; any other column can group.
#' * `standards.csv`: `code`, `parent`, `title`, `emphasis`.
#' * `test.yml`: the settings of [default_settings()] that differ.
#'
#' The files are only read, never changed.
#'
#' @param folder Path of the folder.
#' @return A [sitting()].
#' @section Errors:
#' `pregunta_error_folder` when the folder or a needed file is missing;
#' `pregunta_error_input` when a file cannot be read or holds a mistake that
#' has to be put right first: the message gives file, line, column, the value,
#' and what to do. Mistakes that can wait are in [check_sitting()].
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' quiz
read_sitting <- function(folder) {
  check_folder(folder)
  read_optional <- function(name) {
    path <- file.path(folder, name)
    if (file.exists(path)) read_table_file(path)
  }
  settings <- file.path(folder, "test.yml")
  settings <- if (file.exists(settings)) read_settings(settings) else list()
  if (is.null(settings$title)) settings$title <- basename(normalizePath(folder))
  quiz <- sitting(
    responses = read_table_file(file.path(folder, "responses.csv")),
    items = read_table_file(file.path(folder, "items.csv")),
    options = read_optional("options.csv"),
    students = read_optional("students.csv"),
    standards = read_optional("standards.csv"),
    misconceptions = read_optional("misconceptions.csv"),
    settings = settings
  )
  quiz$findings <- c(quiz$findings, check_unread(folder))
  quiz
}

# What lies in the folder to be used, but is not by this version.
check_unread <- function(folder) {
  unread <- Filter(function(name) file.exists(file.path(folder, name)), c("adjustments.csv", "test.xlsx"))
  lapply(unread, function(name) {
    finding("warning", name, NA, NA, "is not used by this version", "Figures are as if it were not there.")
  })
}

check_folder <- function(folder) {
  if (!dir.exists(folder)) {
    near <- nearest_word(basename(folder), list.files(dirname(folder)))
    abort_pregunta("folder", paste0("There is no folder ", quoted(folder), "."), NULL,
      if (is.na(near)) "Give the path of a folder with responses.csv and items.csv."
      else paste0("Did you mean ", quoted(file.path(dirname(folder), near)), "?"))
  }
  for (name in c("responses.csv", "items.csv")) {
    if (!file.exists(file.path(folder, name))) {
      abort_pregunta("folder", paste0("The folder has no ", name, "."),
        paste0(folder, " holds: ", some_of(list.files(folder), 8), "."),
        paste0("A test folder needs responses.csv and items.csv."))
    }
  }
}
