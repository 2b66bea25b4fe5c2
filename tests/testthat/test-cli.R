# The command line as a process, as a person or a script calls it.

test_that(
  "every table verb gives the summary's columns as JSON, unrounded, in printed order",
  {
    quiz <- read_sitting(demo_path())
    expected <- list(
      test = summarise_test(quiz, bootstrap = 1000),
      items = summarise_items(quiz),
      options = summarise_options(quiz),
      students = summarise_students(quiz),
      standards = summarise_standards(quiz),
      decisions = summarise_decisions(quiz, bootstrap = 1000),
      parts = summarise_parts(quiz, bootstrap = 1000),
      precision = summarise_precision(quiz),
      `fairness --by boat` = summarise_fairness(quiz, "boat"),
      `items --review` = review_items(quiz),
      `items --keys` = review_key(quiz),
      groups = group_students(quiz),
      `groups --basis mixed --size 4` = group_students(quiz, "mixed", size = 4),
      misconceptions = summarise_misconceptions(quiz),
      `misconceptions --guessing` = summarise_guessing(quiz),
      `misconceptions --by student` = summarise_misconceptions(quiz, by = "student")
    )
    for (verb in names(expected)) {
      words <- strsplit(verb, " ")[[1]]
      # two as processes stand for all
      run <- if (verb %in% c("test", "items")) pregunta else run_here
      call <- do.call(
        run,
        as.list(c(words[1], demo_path(), words[-1], "--format", "json"))
      )
      expect_equal(call$status, 0)
      rows <- jsonlite::fromJSON(paste(call$out, collapse = "\n"))
      expect_named(rows, names(expected[[verb]]))
      for (column in names(rows)) {
        if (all(is.na(expected[[verb]][[column]]))) {
          expect_true(all(is.na(rows[[column]])))
        } else if (is.numeric(expected[[verb]][[column]])) {
          expect_lt(
            max(
              0,
              abs(as.numeric(rows[[column]]) - expected[[verb]][[column]]),
              na.rm = TRUE
            ),
            1e-12,
            label = paste(verb, column)
          )
        } else {
          expect_equal(
            as.vector(rows[[column]]),
            expected[[verb]][[column]],
            ignore_attr = TRUE,
            label = paste(verb, column)
          )
        }
      }
    }
  }
)

test_that("the columns that others rely on are there, in their order", {
  quiz <- read_sitting(demo_path())
  expect_equal(
    names(summarise_items(quiz))[1:16],
    c(
      "item", "type", "n", "omitted", "not_reached", "points", "mean_points",
      "difficulty", "difficulty_low", "difficulty_high", "discrimination",
      "discrimination_low", "discrimination_high", "upper_lower", "alpha_without",
      "reason"
    )
  )
  expect_equal(
    names(summarise_options(quiz))[1:12],
    c(
      "item", "option", "key", "count", "share", "low", "middle", "high", "mean_rest",
      "option_rest", "pattern", "misconception"
    )
  )
  expect_equal(
    names(summarise_test(quiz))[1:16],
    c(
      "n", "absent", "items", "points", "mean", "median", "sd", "lowest", "highest",
      "alpha", "alpha_low", "alpha_high", "kr21", "lambda2", "split_half", "sem"
    )
  )
  expect_equal(
    names(summarise_students(quiz)),
    c(
      "student", "name", "section", "points", "open", "share", "level", "omitted",
      "not_reached", "status"
    )
  )
  expect_equal(
    names(summarise_standards(quiz))[1:12],
    c(
      "code", "title", "items", "points", "n", "share", "share_low", "share_high",
      "emerging", "developing", "secure", "deep"
    )
  )
  expect_true(
    all(
      c(
        "student", "code", "earned", "open", "share", "share_low", "share_high", "level",
        "unsure"
      ) %in% names(summarise_standards(quiz, by = "student"))
    )
  )
  expect_equal(names(summarise_items(quiz, by = "teacher"))[1:2], c("teacher", "item"))
})

test_that("rows can be chosen, sorted, grouped and written to a file", {
  csv <- function(...) {
    utils::read.csv(text = run_here(..., "--format", "csv")$out, colClasses = "character")
  }
  expect_equal(csv("items", demo_path(), "--item", "Q9,Q7")$item, c("Q7", "Q9"))
  sorted <- as.numeric(csv("items", demo_path(), "--sort=-difficulty")$difficulty)
  expect_false(is.unsorted(-sorted))
  expect_equal(
    unique(csv("test", demo_path(), "--by", "section")$section),
    paste("Harbour", c("A", "B", "C"))
  )
  expect_equal(unique(csv("standards", demo_path(), "--student", "h004")$student), "h004")
  expect_equal(csv("students", demo_path(), "--student", "h004")$name, "Dario Driftwood")
  file <- tempfile(fileext = ".json")
  call <- pregunta("items", demo_path(), "--format", "json", "--out", file)
  expect_equal(call$out, character())
  expect_equal(nrow(jsonlite::fromJSON(file)), 24)
})

test_that(
  paste0(
    "the exit status is 0 done, 1 the data has errors, 2 the call is wrong; messages go ",
    "apart"
  ),
  {
    expect_equal(pregunta("check", demo_path("knots"))$status, 0)
    check <- pregunta("check", demo_path())
    expect_equal(check$status, 1)
    expect_match(
      paste(check$out, collapse = "\n"),
      "responses.csv, line 24: Q23 \"14\" is above the most",
      fixed = TRUE
    )
    broken <- pregunta("items", plain_folder(items = c("item,type", "Q1,chioce")))
    expect_equal(broken$status, 1)
    expect_equal(broken$out, character())
    expect_match(broken$err, "items.csv, line 2, column type: \"chioce\"", fixed = TRUE)
    wrong <- list(
      c("itmes", "x", "Did you mean \"items\"?"),
      c("items", "nowhere", "There is no folder"),
      c("items", "", "There is no folder"),
      c("items", demo_path(), "--bye", "section", "Did you mean \"--by\"?"),
      c("items", demo_path(), "--by", "sex", "no column \"sex\""),
      c("items", demo_path(), "--item", "Q99", "There is no item \"Q99\""),
      c("items", demo_path(), "--format", "xml", "no format"),
      c("items", demo_path(), "--sort", "difficult", "Did you mean \"difficulty\"?"),
      c("test", "a", "b", "needs one folder"),
      c("report", "needs one folder"),
      c("check", demo_path(), "--by", "section", "has no option --by")
    )
    for (call in wrong) {
      run <- if (identical(call, wrong[[1]])) pregunta else run_here
      said <- do.call(run, as.list(call[-length(call)]))
      expect_equal(said$status, 2, label = paste(call, collapse = " "))
      expect_match(said$err, call[length(call)], fixed = TRUE)
      expect_no_match(said$err, "Error in|Traceback|Calls:")
    }
  }
)

test_that("pregunta alone and --help show a person where to begin", {
  alone <- pregunta()
  expect_equal(alone$status, 0)
  expect_match(paste(alone$out, collapse = "\n"), "pregunta demo ", fixed = TRUE)
  expect_identical(pregunta("--help")$out, alone$out)
  expect_match(pregunta("items", "--help")$out, "--by COLUMN", fixed = TRUE, all = FALSE)
  expect_match(pregunta("help", "report")$out, "--no-names", fixed = TRUE, all = FALSE)
  expect_equal(pregunta("--version")$out, format(utils::packageVersion("pregunta")))
})

test_that("a file that cannot be written leaves what was there", {
  folder <- tempfile()
  expect_refused(
    write_report(read_sitting(plain_folder()), file.path(folder, "report.html")),
    "output",
    "There is no folder"
  )
  dir.create(folder)
  expect_refused(
    write_report(read_sitting(plain_folder()), folder),
    "output",
    "is a folder"
  )
  path <- file.path(folder, "kept")
  writeLines("old", path)
  expect_refused(
    internal("write_whole")(path, function(temporary) {
      writeLines("half", temporary)
      stop("the disk is full")
    }),
    "output",
    "the disk is full",
    "untouched"
  )
  expect_equal(readLines(path), "old")
  expect_equal(list.files(folder, all.files = TRUE, no.. = TRUE), "kept")
})

test_that("what students typed cannot move the cursor, nor become a formula", {
  hostile <- c("\033[2Jx", "=1+1", "@cmd", "-5", "+a", "\"q\"")
  folder <- plain_folder(
    c("student,Q1,Q2", paste0("s", 1:6, ",\"", gsub("\"", "\"\"", hostile), "\",B")),
    items = c("item,type,key", "Q1,text,A", "Q2,,B")
  )
  text <- pregunta("options", folder)
  expect_no_match(text$out, "\033", fixed = TRUE)
  csv <- pregunta("options", folder, "--format", "csv")$out
  expect_match(csv, "^Q1,'=1\\+1,", all = FALSE)
  expect_match(csv, "^Q1,'@cmd,", all = FALSE)
  expect_match(csv, "^Q1,'\\+a,", all = FALSE)
  expect_match(csv, "^Q1,-5,", all = FALSE)
  json <- jsonlite::fromJSON(
    paste(pregunta("options", folder, "--format", "json")$out, collapse = "\n")
  )
  expect_true(all(c("=1+1", "@cmd") %in% json$option))
})

test_that("what was asked for and does not change the verdicts is said", {
  before <- run_here("items", demo_path(), "--before", demo_path())
  expect_equal(before$status, 0)
  expect_match(before$err, "write purpose: mastery")
  table <- utils::read.csv(
    text = run_here("items", demo_path(), "--before", demo_path(), "--format", "csv")$out
  )
  expect_equal(table$change, rep(0, 24))
  folder <- demo_copy()
  cat("purpose: mastery\n", file = file.path(folder, "test.yml"), append = TRUE)
  mastery <- run_here("items", folder, "--before", folder)
  expect_no_match(mastery$err, "purpose")
  expect_match(mastery$out, "Judged as a test for mastery", all = FALSE)
  # With 80 students as much as a tenth may have been gained: nothing is said of that.
  expect_no_match(mastery$out, "before teaching")
  target <- run_here("test", demo_path(), "--target", "0.9")
  expect_match(
    target$out,
    "For an alpha of 0.90 it would take about 43 questions like these; there are 24",
    all = FALSE
  )
  for (wrong in list(c("--target", "1.5"), c("--bootstrap", "5"))) {
    expect_equal(run_here("test", demo_path(), wrong)$status, 2, label = wrong[1])
  }
  for (wrong in list("abc", "70", "0")) {
    expect_equal(run_here("decisions", demo_path(), "--cut", wrong)$status, 2)
  }
  expect_match(
    run_here("decisions", demo_path(), "--cut", "60%,0.8")$out,
    "^pass +80% +28 ",
    all = FALSE
  )
  expect_match(
    run_here("fairness", demo_path())$err,
    "needs the column that names the groups"
  )
  expect_match(run_here("explain")$out, "^kappa +How much of the agreement", all = FALSE)
})

test_that("tables fit 100 characters, whatever the names", {
  long <- strrep("Wide-name ", 12)
  folder <- plain_folder(
    students.csv = c(
      "student,name,section", paste0("a,", long, ",", long), "b,Bo,x", "c,Cy,x"
    ),
    items = c(
      "item,key,prompt,standards", paste0("Q1,A,", long, ",S.1"), "Q2,B,short,S.2"
    ),
    standards.csv = c("code,title", paste0("S.1,", long), "S.2,x")
  )
  for (verb in c(
    "test", "items", "options", "students", "standards", "check", "decisions", "parts",
    "precision", "items --review", "parts --strata type", "decisions --by section",
    "explain"
  )) {
    words <- strsplit(verb, " ")[[1]]
    arguments <- c(words[1], if (verb != "explain") folder, words[-1])
    expect_lte(max(nchar(run_here(arguments)$out, "width")), 100, label = verb)
  }
  expect_lte(
    max(nchar(run_here("compare", folder, folder)$out, "width")),
    100,
    label = "compare"
  )
  for (words in list(
    "attempts",
    "time",
    c("time", "--by", "student"),
    c("fairness", "--by", "boat")
  )) {
    shown <- run_here(
      words,
      demo_path(if ("fairness" %in% words) "" else "follow-up")
    )$out
    expect_lte(max(nchar(shown, "width")), 100, label = paste(words, collapse = " "))
  }
})

test_that("the text of every verb reads as it was read through", {
  shown <- function(...) capture.output(status <- run_command(c(..., demo_path())))
  expect_snapshot_output(cat(shown("items"), sep = "\n"))
  expect_snapshot_output(cat(shown("test"), sep = "\n"))
  expect_snapshot_output(cat(shown("standards"), sep = "\n"))
  expect_snapshot_output(cat(shown("check"), sep = "\n"))
  expect_snapshot_output(cat(shown("options", "--item", "Q7,Q9,Q17,Q21"), sep = "\n"))
  expect_snapshot_output(
    cat(shown("students", "--student", "h004,h022,h017"), sep = "\n")
  )
  expect_snapshot_output(cat(shown("test", "--by", "section"), sep = "\n"))
  expect_snapshot_output(cat(shown("standards", "--student", "h004"), sep = "\n"))
  expect_snapshot_output(cat(shown("standards", "--by", "section"), sep = "\n"))
  expect_snapshot_output(cat(shown("standards", "--by", "teacher,section"), sep = "\n"))
  expect_snapshot_output(cat(shown("standards", "--standard", "tc1b"), sep = "\n"))
  expect_snapshot_output(
    cat(shown("standards", "--standard", "TC.2.b", "--by", "section"), sep = "\n")
  )
  expect_snapshot_output(
    cat(
      shown("standards", "--below", "developing", "--only", "section=Harbour A"),
      sep = "\n"
    )
  )
  expect_snapshot_output(cat(shown("test", "--by", "teacher,section"), sep = "\n"))
  expect_snapshot_output(cat(shown("items", "--review"), sep = "\n"))
  expect_snapshot_output(cat(shown("items", "--keys"), sep = "\n"))
  expect_snapshot_output(cat(shown("decisions"), sep = "\n"))
  expect_snapshot_output(cat(shown("parts"), sep = "\n"))
  expect_snapshot_output(cat(shown("misconceptions"), sep = "\n"))
  expect_snapshot_output(cat(shown("groups", "--size", "8"), sep = "\n"))
  expect_snapshot_output(cat(shown("misconceptions", "--by", "student"), sep = "\n"))
  expect_snapshot_output(
    cat(shown("fairness", "--by", "boat", "--item", "Q9,Q14"), sep = "\n")
  )
  expect_snapshot_output(cat(run_here("explain", "alpha")$out, sep = "\n"))
  later <- function(...) cat(run_here(..., demo_path("follow-up"))$out, sep = "\n")
  expect_snapshot_output(later("attempts", "--student", "h004,h047"))
  expect_snapshot_output(later("time"))
  expect_snapshot_output(later("time", "--by", "student", "--student", "h009,h047"))
  expect_snapshot_output(cat(run_here("decisions", demo_path("knots"))$out, sep = "\n"))
})

test_that("a summary prints as its table, and as a data frame once columns are gone", {
  items <- summarise_items(read_sitting(demo_path("knots")))
  expect_output(print(items), "points earned")
  expect_output(print(items[c("item", "difficulty")]), "difficulty")
  expect_output(print(items[0, ]), "item")
  expect_output(print(check_sitting(random_sitting())), "Everything adds up")
  expect_output(print(read_sitting(demo_path())), "84 students: 80 sat it, 4 absent")
})

test_that("colour changes nothing but the colour", {
  only_in_all()
  old <- options(pregunta.colour = FALSE)
  on.exit(options(old))
  shown <- function(colour, ...) {
    options(pregunta.colour = colour)
    suppressMessages(capture.output(status <- run_command(c(..., demo_path()))))
  }
  calls <- list(
    "test",
    "items",
    "options",
    "students",
    "standards",
    "check",
    c("test", "--by", "section"),
    c("standards", "--by", "section"),
    c("standards", "--by", "student"),
    c("items", "--by", "section")
  )
  for (call in calls) {
    coloured <- shown(TRUE, call)
    if (!identical(call, "test")) {
      expect_match(coloured, "\033[", fixed = TRUE, all = FALSE)
    }
    expect_identical(
      gsub("\033\\[[0-9;]*m", "", coloured),
      shown(FALSE, call),
      label = paste(call, collapse = " ")
    )
  }
})

test_that("two students are too few to say anything against a question", {
  expect_match(pregunta("items", plain_folder())$out, "Too few students", all = FALSE)
})

test_that(
  paste0(
    "a call leaves no option, locale, environment or working directory changed, and ",
    "starts no process"
  ),
  {
    only_in_all()
    folder <- demo_copy()
    run_here("report", folder) # what other packages set when they are loaded is theirs
    run_here("plot", folder, "--of", "items", "--out", tempfile(fileext = ".svg"))
    known <- setdiff(names(options()), c("device", "cli__timer"))
    state <- function() {
      list(
        options = options()[known],
        locale = Sys.getlocale("LC_CTYPE"),
        environment = Sys.getenv(),
        folder = getwd(),
        children = length(getFromNamespace("children", "parallel")())
      )
    }
    before <- state()
    expect_null(getOption("pregunta.cores"))
    expect_null(getOption("pregunta.colour"))
    out <- tempfile(fileext = ".txt")
    for (call in list(
      c("items", folder),
      c("items", folder, "--out", out),
      c("report", folder),
      c("plot", folder, "--of", "items", "--out", tempfile(fileext = ".svg")),
      c("workbook", folder),
      c("plan", folder),
      c("nonsense")
    )) {
      run_here(call)
      expect_identical(state(), before, label = paste(call, collapse = " "))
    }
    write_report(read_sitting(folder), tempfile(fileext = ".html"))
    expect_identical(state(), before)
  }
)

test_that("--quiet tells of errors only, --log json tells all as data, whatever the verb", {
  folder <- folder_of()
  file.copy(list.files(demo_path(), "[.](csv|yml)$", full.names = TRUE), folder)
  said <- run_here("items", folder, "--format", "csv")
  quiet <- run_here("items", folder, "--format", "csv", "--quiet")
  expect_match(said$err, "mistake in the data")
  expect_equal(quiet$err, "")
  expect_identical(quiet$out, said$out)
  logged <- run_here("items", folder, "--format", "csv", "--log", "json")
  expect_identical(logged$out, said$out)
  line <- jsonlite::fromJSON(logged$err)
  expect_equal(line[c("level", "verb")], list(level = "note", verb = "items"))
  expect_match(line$message, "mistake in the data")
  expect_match(line$time, "^[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9:]{8}Z$")
  # An error says where it is as data, and is told however quiet it is to be.
  writeLines(c("item,type,key", "Q1,choise,A"), file.path(folder, "items.csv"))
  for (quiet in list(NULL, "--quiet")) {
    refused <- do.call(run_here, as.list(c("items", folder, "--log=json", quiet)))
    expect_equal(refused$status, 1)
    error <- jsonlite::fromJSON(refused$err)
    expect_equal(error$level, "error")
    expect_equal(error$kind, "input")
    expect_equal(error$line, 2)
    expect_equal(error$value, "choise")
  }
  expect_match(run_here("items", folder, "--quiet")$err, "choise")
  for (wrong in list(c("--log", "xml"), "--log", "--log=")) {
    expect_equal(do.call(run_here, as.list(c("items", folder, wrong)))$status, 2)
  }
  # Words of a student in it are text.
  expect_no_match(run_here("items", "no\033[31m", "--log", "json")$err, "\033", fixed = TRUE)
})
