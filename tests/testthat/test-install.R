# What an ordinary installation has, and how the command gets onto the path.

# A library of all that is installed but these packages.
library_without <- function(packages) {
  place <- tempfile("library-")
  dir.create(place)
  for (library in setdiff(.libPaths(), .Library)) {
    there <- setdiff(list.files(library), c(packages, list.files(place)))
    if (length(there)) file.symlink(file.path(library, there), file.path(place, there))
  }
  place
}

suggested <- function() {
  fields <- utils::packageDescription("pregunta")[c("Imports", "Suggests")]
  named <- lapply(strsplit(unlist(fields), ","), function(x) trimws(sub("[(].*", "", x)))
  # What an import brings along is there anyway.
  known <- utils::installed.packages()
  brought <- tools::package_dependencies(named$Imports, known, recursive = TRUE)
  setdiff(named$Suggests, unlist(brought))
}

# The command line in a library of its own.
run_in_library <- function(library, ...) {
  err <- tempfile()
  old <- setwd(tempdir())
  on.exit(setwd(old))
  lines <- suppressWarnings(system2(
    file.path(R.home("bin"), "Rscript"),
    shQuote(c(Sys.getenv("PREGUNTA_EXEC"), ...)),
    stdout = TRUE,
    stderr = err,
    env = c(
      paste0(c("R_LIBS=", "R_LIBS_SITE=", "R_LIBS_USER="), library), "R_TESTS=", "NO_COLOR=1"
    )
  ))
  status <- attr(lines, "status")
  said <- gsub("[[:space:]]+", " ", paste(readLines(err, warn = FALSE), collapse = " "))
  list(status = if (is.null(status)) 0L else status, out = lines, err = said)
}

test_that("loops within loops are compiled, little else, and R's compiler is left alone", {
  code <- paste(
    "home <- asNamespace('pregunta')",
    "own <- Filter(is.function, mget(ls(home), home))",
    "loop <- vapply(own, function(f) home$loops_in_loops(body(f)), NA)",
    "said <- vapply(own, function(f) any(grepl('^<bytecode', capture.output(f))), NA)",
    "cat(length(own), sum(loop), sum(loop & !said), sum(said))",
    sep = "; "
  )
  said <- system2(
    file.path(R.home("bin"), "Rscript"), c("-e", shQuote(code)),
    stdout = TRUE, env = "R_ENABLE_JIT=0"
  )
  counts <- as.numeric(strsplit(said, " ")[[1]])
  expect_gt(counts[1], 3000)
  expect_gt(counts[2], 20)
  expect_equal(counts[3], 0)
  expect_lt(counts[4], 100)
  before <- compiler::enableJIT(-1)
  on.exit(compiler::enableJIT(before))
  for (level in c(0, 3)) {
    compiler::enableJIT(level)
    run_here("test", demo_path())
    quiz <- read_sitting(demo_path())
    write_slips(quiz, tempfile(fileext = ".html"))
    expect_equal(compiler::enableJIT(-1), level)
  }
})

test_that("without the packages that are only suggested all else works, and each is asked for", {
  only_in_all()
  skip_on_os("windows")
  lacking <- suggested()
  expect_true(all(c("officer", "Rglpk", "RPostgres", "shiny") %in% lacking))
  lean <- library_without(lacking)
  folder <- tempfile("demo-")
  made <- run_in_library(lean, "demo", folder)
  expect_identical(made$status, 0L, label = made$err)
  expect_match(paste(made$out, collapse = " "), "install.packages(c(\"officer\", \"Rglpk\", \"RSQLite\"))",
    fixed = TRUE
  )
  works <- list(
    "report", "workbook", "slips", c("groups", "--basis", "score"), c("plot", "--of", "items"),
    c("export", "--as", "qti")
  )
  for (call in works) {
    ran <- run_in_library(lean, call[1], folder, call[-1])
    expect_identical(ran$status, 0L, label = paste(c(call, ran$err), collapse = " "))
  }
  page <- paste(readLines(file.path(folder, "report.html"), warn = FALSE), collapse = "")
  told <- grepl("install.packages(\"Rglpk\")", page, fixed = TRUE)
  expect_true(told, label = "the report says what groups take")
  asked <- list(
    Rglpk = c("groups", folder), shiny = c("desk", folder), httpuv = c("receive", folder),
    RSQLite = c("bank", "add", folder, "--missed", "2")
  )
  for (k in seq_along(asked)) {
    ran <- do.call(run_in_library, as.list(c(lean, asked[[k]])))
    label <- paste(c(asked[[k]], ran$err), collapse = " ")
    expect_identical(ran$status, 2L, label = label)
    expect_match(ran$err, "Run in R: install.packages(", fixed = TRUE, label = label)
    expect_match(ran$err, names(asked)[k], fixed = TRUE, label = label)
  }
})

test_that("the command is put where a terminal finds it, and starts it from anywhere", {
  skip_on_os("windows")
  place <- file.path(tempfile("own folder-"), "o'bin")
  path <- install_command(place)
  expect_identical(path, file.path(place, "pregunta"))
  said <- capture.output(install_command(place), type = "message") # its own is written anew
  expect_match(said, "PATH=", all = FALSE)
  folder <- plain_folder(students.csv = c("student,name", "a,\"Moor, Ada\"", "b,Bo", "c,Cy"))
  elsewhere <- tempfile("else where-")
  dir.create(elsewhere)
  asked <- paste(
    "cd", shQuote(elsewhere), "&& PATH=", shQuote(place), ":\"$PATH\" pregunta students",
    shQuote(folder), "--student 'Moor, Ada' --format csv"
  )
  asked <- sub("PATH= ", "PATH=", sub(" :\"", ":\"", asked, fixed = TRUE), fixed = TRUE)
  said <- system2("sh", c("-c", shQuote(asked)), stdout = TRUE)
  expect_identical(read.csv(text = said)$student, "a")
  writeLines("#!/bin/sh", path)
  expect_refused(install_command(place), "output", "is another program")
  expect_identical(readLines(path), "#!/bin/sh")
})

test_that("on Windows it would be a command file that passes on words and status", {
  lines <- internal("command_lines")(
    TRUE, "C:/Program Files/R/bin/Rscript", "C:/Users/Ada Moor/R/library"
  )
  expect_true(
    paste(
      "\"C:\\Program Files\\R\\bin\\Rscript.exe\"",
      "\"C:\\Users\\Ada Moor\\R\\library\\pregunta\\exec\\pregunta\" %*"
    ) %in% lines
  )
  expect_identical(lines[length(lines)], "exit /b %ERRORLEVEL%")
})
