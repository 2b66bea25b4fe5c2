#' Questions to draw from
#'
#' @param path A bank made by [keep_items()], a record made by [open_record()] (all
#'   questions that any test in it asked), a folder with `items.csv` (and `options.csv`,
#'   `standards.csv`, `misconceptions.csv`), or the `items.csv` itself, with the others
#'   beside it.
#' @return A list of class `pregunta_pool`: `items`, `options`, `standards`,
#'   `misconceptions` as in a test folder; `figures`: `difficulty`, `discrimination`, `n`
#'   of the last use of each item, `NA` where there was none (a folder with responses has
#'   them).
#' @section Errors: `pregunta_error_folder` or `pregunta_error_bank` when there is
#'   nothing of the kind; `pregunta_error_input` when a table cannot be read.
#' @export
#' @examples
#' pool <- read_pool(demo_path("pool"))
#' table(pool$items$standards)
read_pool <- function(path) {
  check_is_path(path)
  pool <- if (dir.exists(path)) {
    folder_pool(path)
  } else if (tolower(basename(path)) == "items.csv") {
    folder_pool(dirname(path))
  } else if (grepl("[.]csv$", path, ignore.case = TRUE)) {
    tables_pool(read_table_file(path))
  } else if (is_record_file(path)) {
    file_record_pool(path)
  } else {
    bank_pool(path)
  }
  structure(pool, class = "pregunta_pool")
}

folder_pool <- function(folder) {
  both <- file.path(folder, c("items.csv", "responses.csv"))
  if (all(file.exists(both))) {
    sitting <- read_sitting(folder)
    items <- summarise_items(sitting)
    figures <- as.data.frame(items)[c("difficulty", "discrimination", "n")]
    tables <- sitting[c("items", "options", "standards", "misconceptions")]
    sets <- function(marks) list(set_of_test(placed_sitting(sitting)))
    return(c(tables, list(figures = figures, sets = sets)))
  }
  items <- read_part(folder, "items")
  if (is.null(items)) {
    files <- some_of(list.files(folder), 8)
    abort_pregunta(
      "folder",
      say("record-pool.there_are_no_questions", folder = quoted(folder)),
      say("record-pool.it_holds", folder = files),
      say("record-pool.give_a_bank_or")
    )
  }
  tables_pool(
    items,
    read_part(folder, "options"),
    read_part(folder, "standards"),
    read_part(folder, "misconceptions")
  )
}

tables_pool <- function(items, options = NULL, standards = NULL,
                        misconceptions = NULL) {
  items <- with_listed_codes(
    complete_items(items),
    "standards",
    standards[["code"]]
  )
  none <- rep(NA_real_, nrow(items))
  list(
    items = items,
    options = complete_options(options, items, misconceptions),
    standards = complete_standards(standards, items),
    misconceptions = complete_misconceptions(misconceptions),
    figures = data.frame(
      difficulty = none,
      discrimination = none,
      n = none
    )
  )
}
