# The house: what may know what. Needs the sources beside the tests.

source_room <- function() {
  room <- test_path("..", "..", "R")
  skip_if_not(dir.exists(room), "the sources are not here")
  setdiff(list.files(room, "[.]R$", full.names = TRUE), file.path(room, "RcppExports.R"))
}

# The functions that a file calls and the packages that it names.
called <- function(path) {
  tokens <- utils::getParseData(parse(path, keep.source = TRUE))
  unique(tokens$text[tokens$token %in% c("SYMBOL_FUNCTION_CALL", "SYMBOL_PACKAGE")])
}

defined <- function(path) {
  code <- parse(path, keep.source = FALSE)
  assigned <- Filter(function(line) is.call(line) && identical(line[[1]], as.name("<-")), as.list(code))
  vapply(assigned, function(line) as.character(line[[2]])[1], "")
}

test_that("no name is given twice, in one file or in two", {
  names <- unlist(lapply(source_room(), defined))
  expect_gt(length(names), 500)
  expect_identical(unique(names[duplicated(names)]), character())
})

test_that("no file of the core names a package or a function of the outer layers", {
  files <- source_room()
  core <- grepl("^(sitting|score|tally|stat|judge)", basename(files))
  expect_gt(sum(core), 20)
  outer_names <- unlist(lapply(files[!core], defined))
  outer_names <- setdiff(outer_names, unlist(lapply(files[core], defined)))
  outer_packages <- c("ggplot2", "ggrepel", "svglite", "htmltools", "reactable", "optparse", "data.table", "jsonlite",
    "officer", "DBI",
    "RSQLite", "RPostgres", "yaml")
  for (path in files[core]) {
    used <- called(path)
    expect_identical(intersect(used, c(outer_names, outer_packages)), character(), label = basename(path))
    expect_identical(intersect(used, c("cat", "print", "message", "readLines", "writeLines", "file")), character(),
      label = basename(path))
  }
})

test_that("reading and writing know nothing of pictures, pages and the command line", {
  files <- source_room()
  middle <- files[grepl("^(read|write|record)-", basename(files))]
  expect_gt(length(middle), 4)
  for (path in middle) {
    used <- called(path)
    expect_identical(intersect(used, c("ggplot2", "svglite", "htmltools", "reactable", "optparse")), character(),
      label = basename(path))
  }
})

test_that("a table verb loads neither drawing nor page nor database packages", {
  script <- "pregunta::run_command(c('items', pregunta::demo_path())); cat('\\nLOADED', loadedNamespaces())"
  out <- system2(file.path(R.home("bin"), "Rscript"), c("-e", shQuote(script)), stdout = TRUE, stderr = FALSE,
    env = "R_TESTS=")
  loaded <- strsplit(grep("^LOADED", out, value = TRUE), " ")[[1]]
  expect_true("data.table" %in% loaded)
  expect_identical(intersect(loaded, c("ggplot2", "svglite", "htmltools", "reactable", "htmlwidgets", "DBI")),
    character())
})
