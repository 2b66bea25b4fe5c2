# The workbook as a spreadsheet program reads it, and the files for other systems.

test_that(
  paste0(
    "the workbook holds what the summaries say, numbers as numbers, with every column ",
    "explained"
  ),
  {
    quiz <- read_sitting(demo_path())
    path <- write_workbook(quiz, tempfile(fileext = ".xlsx"))
    expect_equal(
      readxl::excel_sheets(path),
      c(
        "students", "items", "options", "standards", "by standard", "grid", "notes",
        "columns"
      )
    )
    students <- readxl::read_excel(path, "students")
    expect_equal(students$share, summarise_students(quiz)$share)
    items <- as.data.frame(readxl::read_excel(path, "items"))
    expect_equal(items$difficulty, summarise_items(quiz)$difficulty)
    verdict <- review_items(quiz)$verdict[match(items$item, review_items(quiz)$item)]
    expect_equal(items$verdict, internal("words_for")(verdict, "verdicts"))
    grid <- as.data.frame(readxl::read_excel(path, "grid"))
    expect_equal(
      rowSums(grid[quiz$items$item], na.rm = TRUE),
      summarise_students(quiz)$points[match(grid$student, quiz$students$student)]
    )
    columns <- readxl::read_excel(path, "columns")
    expect_true(all(nzchar(columns$means)) && !anyNA(columns$means))
    named <- unlist(lapply(readxl::excel_sheets(path)[1:3], function(sheet) {
      names(readxl::read_excel(path, sheet))
    }))
    expect_true(all(named %in% columns$column))
  }
)

test_that(
  paste0(
    "levels are coloured by rules that go along with sorting; heads are frozen and ",
    "filtered"
  ),
  {
    quiz <- read_sitting(demo_path())
    path <- write_workbook(quiz, tempfile(fileext = ".xlsx"))
    folder <- tempfile()
    utils::unzip(path, exdir = folder)
    sheet <- paste(
      readLines(file.path(folder, "xl", "worksheets", "sheet1.xml"), warn = FALSE),
      collapse = ""
    )
    expect_equal(lengths(regmatches(sheet, gregexpr("<cfRule", sheet))), 4)
    expect_match(sheet, "secure", fixed = TRUE)
    expect_match(sheet, "<autoFilter", fixed = TRUE)
    expect_match(sheet, "state=\"frozen\"", fixed = TRUE)
    expect_match(sheet, "fitToWidth", fixed = TRUE)
  }
)

test_that(
  "what students typed is text in a workbook, and without names nobody is in it",
  {
    evil <- c("=1+1", "@SUM(A1)", "<b>x</b>")
    quiz <- sitting(
      data.frame(student = evil, Q1 = evil, Q2 = "B"),
      data.frame(item = c("Q1", "Q2"), type = c("text", "choice"), key = c("x", "B")),
      students = data.frame(student = evil, name = evil, section = evil)
    )
    path <- write_workbook(quiz, tempfile(fileext = ".xlsx"))
    expect_equal(readxl::read_excel(path, "students")$name, evil)
    folder <- tempfile()
    utils::unzip(path, exdir = folder)
    sheets <- list.files(file.path(folder, "xl", "worksheets"), "xml$", full.names = TRUE)
    expect_false(
      any(grepl("<f>", unlist(lapply(sheets, readLines, warn = FALSE)), fixed = TRUE))
    )
    demo <- read_sitting(demo_path())
    path <- write_workbook(demo, tempfile(fileext = ".xlsx"), names = FALSE)
    cells <- unlist(lapply(readxl::excel_sheets(path), function(sheet) {
      unlist(readxl::read_excel(path, sheet, col_types = "text"))
    }))
    for (name in c(demo$students$name, demo$students$student)) {
      expect_false(any(grepl(name, cells, fixed = TRUE)))
    }
  }
)

test_that(
  paste0(
    "OneRoster results hold each score on the school's scale, and read back as what was ",
    "passed on"
  ),
  {
    quiz <- read_sitting(demo_path())
    zipped <- tempfile(fileext = ".zip")
    export_sitting(quiz, zipped, "oneroster")
    folder <- tempfile()
    utils::unzip(zipped, exdir = folder)
    results <- read.csv(file.path(folder, "results.csv"))
    results <- results[results$scoreStatus != "not submitted", ]
    students <- summarise_students(quiz)
    students <- students[!is.na(students$share), ]
    expect_equal(results$score, internal("round_half_up")(100 * students$share, 1))
    expect_equal(
      results$scoreStatus,
      ifelse(students$status == "waiting", "partially graded", "fully graded")
    )
    lines <- read.csv(file.path(folder, "lineItems.csv"))
    expect_setequal(lines$classSourcedId, unique(students$section))
    expect_true(all(results$lineItemSourcedId %in% lines$sourcedId))
    manifest <- read.csv(file.path(folder, "manifest.csv"))
    expect_equal(
      manifest$value[
        manifest$propertyName %in% c("oneroster.version", "file.results", "file.users")
      ],
      c("1.1", "bulk", "absent")
    )
    own <- complete_settings_for(quiz, bands = list(`4` = 0, `2` = 0.5, `1` = 0.9))
    export_sitting(own, zipped, "oneroster")
    utils::unzip(zipped, exdir = folder)
    expect_equal(
      as.vector(stats::na.omit(read.csv(file.path(folder, "results.csv"))$score)),
      c(4, 2, 1)[findInterval(students$share, c(0, 0.5, 0.9))]
    )
  }
)

test_that(
  "pregunta plot writes each kind of file, by name or all of them, and workbook its book",
  {
    folder <- demo_copy()
    for (kind in c("svg", "png", "pdf")) {
      path <- tempfile(fileext = paste0(".", kind))
      expect_equal(run_here("plot", folder, "--of", "spread", "--out", path)$status, 0)
      start <- readBin(path, "raw", 5)
      expect_equal(
        rawToChar(start[start != 0])[1],
        c(svg = "<?xml", png = "\x89PNG\r", pdf = "%PDF-")[[kind]]
      )
    }
    out <- tempfile()
    expect_equal(run_here("plot", folder, "--of", "all", "--out", out)$status, 0)
    expect_gt(length(list.files(out)), 7)
    said <- run_here("plot", folder, "--of", "spraed")
    expect_equal(said$status, 2)
    expect_match(said$err, "spread", fixed = TRUE)
    expect_equal(run_here("plot", folder, "--out", tempfile(fileext = ".gif"))$status, 2)
    expect_equal(run_here("workbook", folder, "--no-names")$status, 0)
    expect_true(file.exists(file.path(folder, "workbook.xlsx")))
  }
)

test_that("each sheet says which cells it has", {
  path <- tempfile(fileext = ".xlsx")
  quiz <- read_sitting(demo_path())
  write_workbook(quiz, path)
  folder <- tempfile()
  unzip(path, exdir = folder)
  sheets <- list.files(file.path(folder, "xl", "worksheets"), "xml$", full.names = TRUE)
  for (sheet in sheets) {
    text <- paste(readLines(sheet, warn = FALSE, encoding = "UTF-8"), collapse = "")
    cells <- regmatches(text, gregexpr("<c r=\"[A-Z]+[0-9]+\"", text))[[1]]
    rows <- max(as.integer(gsub("[^0-9]", "", cells)))
    said <- sub(".*<dimension ref=\"A1:([A-Z]+[0-9]+)\"/>.*", "\\1", text)
    expect_identical(as.integer(gsub("[A-Z]", "", said)), rows, label = basename(sheet))
    column <- max(openxlsx::col2int(gsub("<c r=|\"|[0-9]", "", cells)))
    expect_identical(gsub("[0-9]", "", said), openxlsx::int2col(column))
  }
})
