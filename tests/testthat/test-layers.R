# The house: what may know what. Needs the sources beside the tests.

house <- function() {
  skip_if_not(dir.exists(test_path("..", "..", "R")), "the sources are not here")
  tools <- new.env(parent = globalenv())
  sys.source(test_path("..", "..", "tools", "house.R"), tools)
  tools$folder <- test_path("..", "..", "R")
  tools$files <- tools$source_files(tools$folder)
  tools
}

# data.table is there to read files, but for its choice between cases.
packages_named <- function(path) {
  tokens <- utils::getParseData(parse(path, keep.source = TRUE, encoding = "UTF-8"))
  at <- which(tokens$token == "SYMBOL_PACKAGE")
  cases <- tokens$text[at] == "data.table" & tokens$text[at + 2] == "fcase"
  unique(tokens$text[at[!cases]])
}

functions_called <- function(path) {
  tokens <- utils::getParseData(parse(path, keep.source = TRUE, encoding = "UTF-8"))
  tokens <- tokens[tokens$terminal, ]
  of_another <- c(FALSE, utils::head(tokens$token == "'$'", -1))
  unique(tokens$text[tokens$token == "SYMBOL_FUNCTION_CALL" & !of_another])
}

test_that("what the benches and tools take from the tests' helpers, they load", {
  house <- house()
  root <- test_path("..", "..")
  helpers <- list.files(test_path(), "^helper.*[.]R$", full.names = TRUE)
  name <- sub("[.]R$", "", basename(helpers))
  given <- stats::setNames(lapply(helpers, function(path) names(house$definitions(path))), name)
  calls <- stats::setNames(lapply(helpers, functions_called), name)
  scripts <- list.files(file.path(root, c("bench", "tools")), "[.]R$", full.names = TRUE)
  expect_gt(length(scripts), 20)
  for (path in scripts) {
    text <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
    loaded <- name[vapply(name, function(one) {
      grepl(sprintf("\"%s\"|%s[.]R", one, one), text)
    }, TRUE)]
    called <- c(functions_called(path), unlist(calls[loaded]))
    there <- c(names(house$definitions(path)), unlist(given[loaded]))
    if (!length(loaded)) next
    lacking <- setdiff(intersect(called, unlist(given)), there)
    expect_identical(lacking, character(), label = path)
  }
})

test_that("no name is given twice, in one file or in two", {
  house <- house()
  names <- unlist(lapply(house$files, function(path) names(house$definitions(path))))
  expect_gt(length(names), 500)
  expect_identical(unique(names[duplicated(names)]), character())
})

test_that(
  "no function calls one of a room above its own, so no two rooms call each other",
  {
    only_in_all()
    house <- house()
    calls <- house$call_graph(house$files)
    expect_gt(nrow(calls), 4000)
    wrong <- house$wrong_calls(calls)
    expect_identical(sprintf("%s calls %s", wrong$caller, wrong$callee), character())
  }
)

test_that("the call graph sees a call however it is made", {
  house <- house()
  folder <- tempfile("house-")
  dir.create(folder)
  on.exit(unlink(folder, recursive = TRUE))
  writeLines(
    c(
      "low <- function(x) x", "goes_up <- function(x) lapply(x, high)",
      "has_it <- list(run = function(x) high(x))", "own <- function(x, high) high(x)"
    ),
    file.path(folder, "base-a.R")
  )
  writeLines("high <- function(x) low(x)", file.path(folder, "view-a.R"))
  writeLines("strange <- function(x) low(x)", file.path(folder, "attic-a.R"))
  wrong <- house$wrong_calls(house$call_graph(house$source_files(folder)))
  expect_setequal(wrong$caller, c("goes_up", "has_it", "strange"))
})

test_that("a room names only the packages that are its business", {
  house <- house()
  drawing <- c("ggplot2", "ggrepel", "svglite")
  pages <- c("htmltools", "reactable", "shiny", "bslib", "httpuv")
  files <- c("data.table", "jsonlite", "officer", "openxlsx", "readxl", "xml2", "zip")
  databases <- c("DBI", "RSQLite", "RPostgres")
  outer <- c(drawing, pages, files, databases, "yaml", "optparse")
  core <- c("base", "score", "sitting", "tally", "stat", "judge")
  not_theirs <- c(
    stats::setNames(rep(list(outer), length(core)), core),
    stats::setNames(
      rep(list(c(drawing, pages, "optparse")), 4),
      c("read", "write", "record", "receive")
    ),
    list(view = outer)
  )
  seen <- vapply(house$files, house$room_of, "")
  expect_setequal(intersect(names(not_theirs), seen), names(not_theirs))
  for (path in house$files[seen %in% names(not_theirs)]) {
    refused <- not_theirs[[house$room_of(path)]]
    if (basename(path) == "base-words.R") refused <- setdiff(refused, "yaml")
    expect_identical(
      intersect(packages_named(path), refused),
      character(),
      label = basename(path)
    )
  }
})

test_that("the core neither prints nor reads files", {
  house <- house()
  core <- c("base", "score", "sitting", "tally", "stat", "judge", "view")
  faces <- c("cat", "print", "message", "readLines", "writeLines", "file")
  core <- house$files[vapply(house$files, house$room_of, "") %in% core]
  # The words of the package itself are the one file that is read there.
  for (path in core[basename(core) != "base-words.R"]) {
    expect_identical(
      intersect(functions_called(path), faces),
      character(),
      label = basename(path)
    )
  }
})

test_that("a table verb loads neither drawing nor page nor database packages", {
  script <- paste0(
    "pregunta::run_command(c('items', pregunta::demo_path())); cat('\\nLOADED', ",
    "loadedNamespaces())"
  )
  out <- system2(
    file.path(R.home("bin"), "Rscript"),
    c("-e", shQuote(script)),
    stdout = TRUE,
    stderr = FALSE,
    env = "R_TESTS="
  )
  loaded <- strsplit(grep("^LOADED", out, value = TRUE), " ")[[1]]
  expect_true("data.table" %in% loaded)
  expect_identical(
    intersect(
      loaded,
      c("ggplot2", "svglite", "htmltools", "reactable", "htmlwidgets", "DBI")
    ),
    character()
  )
})
