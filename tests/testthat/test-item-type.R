# The contract of an item type, and a school's own that goes through everything.

# A slider from 0 to 100: right within 5, half right within 10.
slider <- function(...) {
  new_item_type(
    "slider",
    "written",
    examples = "70",
    read_key = as.numeric,
    share = function(x, key, scoring) {
      off <- abs(suppressWarnings(as.numeric(x)) - key)
      ifelse(is.na(off), 0, ifelse(off <= 5, 1, ifelse(off <= 10, 0.5, 0)))
    },
    solve = function(key) as.character(key),
    problem = function(x) {
      ifelse(is.na(suppressWarnings(as.numeric(x))), "is no place on the slider", NA)
    },
    near = function(answer, key) {
      if (answer == as.character(100 - key)) c(as.character(key), "other end")
    },
    tells = c("near_numbers", "whole"),
    whole = "place",
    show_answer = function(x) paste("at", x),
    allowed = function(item, offered, scale) as.character(seq(0, 100, by = 10)),
    paper = list(hint = "Mark the place.", lines = "0 |----------| 100"),
    qti = list(
      interaction = "sliderInteraction",
      base = "integer",
      attributes = list(lowerBound = "0", upperBound = "100"),
      tolerance = function(key) "5"
    ),
    ...
  )
}

# A grid in which several places are right: made of parts, with options listed.
hotspots <- function() {
  new_item_type(
    "hotspots",
    "parts",
    examples = "a1+b2",
    offers = TRUE,
    scorings = c("all", "each"),
    read_key = function(key) strsplit(key, "+", fixed = TRUE)[[1]],
    share = function(x, key, scoring) {
      vapply(strsplit(x, "+", fixed = TRUE), function(found) {
        share <- (sum(found %in% key) - sum(!found %in% key)) / length(key)
        if (scoring == "each") max(0, share) else as.numeric(share > 1 - 1e-9)
      }, 0)
    },
    solve = function(key) paste(key, collapse = "+"),
    parts = function(x) strsplit(x, "+", fixed = TRUE),
    right_parts = function(key) key,
    verb = "marked",
    tells = "whole",
    whole = "set of places"
  )
}

test_that(
  "every type keeps the contract: its examples are read, solved, shown and counted",
  {
    for (type in internal("item_types")()) {
      expect_s3_class(type, "pregunta_item_type")
      expect_output(print(type), type$name)
      if (type$answer == "marked") {
        expect_null(type$read_key)
        next
      }
      for (example in type$examples) {
        key <- type$read_key(example)
        answer <- type$normalise(as.character(type$solve(key)), character())
        expect_equal(type$share(answer, key, "all"), 1, label = type$name)
        expect_equal(
          type$share(c(answer, answer), key, utils::tail(type$scorings, 1)),
          c(1, 1)
        )
        expect_equal(type$share("something else", key, "all"), 0, label = type$name)
        expect_type(type$show_answer(answer), "character")
        expect_true(all(vapply(type$parts(answer), is.character, TRUE)))
        if (!is.null(type$right_parts)) {
          expect_true(all(unlist(type$parts(answer)) %in% type$right_parts(key)))
        }
        if (!is.null(type$near)) {
          expect_null(type$near("nothing at all like it, by far", key))
        }
        expect_gt(length(type$qti$values(type$qti$correct(example))), 0)
      }
    }
  }
)

test_that("what is no item type is refused, with the field that is not as it has to be", {
  expect_refused(new_item_type("Slider", "written"), "call", "one lower-case word")
  expect_refused(new_item_type("slider", "spoken"), "call", "cannot have this as answer")
  expect_refused(new_item_type("slider", "written"), "call", "needs read_key")
  expect_refused(slider(scorings = "each"), "call", "scored as all")
  expect_refused(
    new_item_type(
      "slider",
      "written",
      examples = "70",
      read_key = as.numeric,
      share = function(x, key, scoring) 0,
      solve = as.character
    ),
    "call",
    "does not give all points to its own answer"
  )
  expect_refused(
    new_item_type(
      "slider",
      "written",
      examples = "far",
      read_key = as.numeric,
      share = function(x, key, scoring) 1,
      solve = as.character
    ),
    "call",
    "does not read its example \"far\""
  )
  expect_refused(
    new_item_type(
      "slider",
      "written",
      examples = "70",
      read_key = as.numeric,
      share = function(x) 1,
      solve = as.character
    ),
    "call",
    "a function of 3 for share"
  )
  expect_refused(
    new_item_type("essay", "marked", read_key = as.numeric),
    "call",
    "takes no read_key"
  )
  expect_refused(
    new_item_type("essay", "marked", qti = list(colour = "red")),
    "call",
    "no part \"colour\" in qti"
  )
  expect_refused(
    register_item_type(list(name = "slider")),
    "call",
    "made with new_item_type()"
  )
  own <- internal("item_type")("open")
  expect_refused(register_item_type(own), "call", "one of the package's own")
  expect_refused(internal("item_type")("riddle"), "call", "not known in this session")
})

# The demo with two questions more.
with_own_types <- function() {
  folder <- demo_copy()
  items <- read.csv(
    file.path(folder, "items.csv"),
    colClasses = "character",
    check.names = FALSE
  )
  more <- items[c(1, 1), ]
  more[] <- NA
  more$item <- c("S1", "H1")
  more$type <- c("slider", "hotspots")
  more$key <- c("70", "a1+b2")
  more$points <- "2"
  more$scoring <- c(NA, "each")
  more$standards <- "TC.1.a"
  more$prompt <- c("How full is the moon?", "Where is the tide high?")
  write.csv(
    rbind(items, more),
    file.path(folder, "items.csv"),
    row.names = FALSE,
    na = ""
  )
  responses <- read.csv(
    file.path(folder, "responses.csv"),
    colClasses = "character",
    check.names = FALSE
  )
  n <- nrow(responses)
  set.seed(5)
  responses$S1 <- sample(
    c("70", "68", "62", "30", "30", "30", "10", "somewhere", ""),
    n,
    TRUE
  )
  responses$H1 <- sample(c("a1+b2", "a1", "b2", "a1+c3", "c3", "zz"), n, TRUE)
  write.csv(responses, file.path(folder, "responses.csv"), row.names = FALSE, na = "")
  options <- read.csv(file.path(folder, "options.csv"), colClasses = "character")
  places <- options[c(1, 1, 1), ]
  places[] <- NA
  places$item <- "H1"
  places$option <- c("a1", "b2", "c3")
  write.csv(
    rbind(options, places),
    file.path(folder, "options.csv"),
    row.names = FALSE,
    na = ""
  )
  folder
}

test_that(
  paste0(
    "a type of one's own goes through every table, verdict, page, workbook, form, ",
    "follow-up and export"
  ),
  {
    only_in_all()
    register_item_type(slider())
    register_item_type(hotspots())
    on.exit(rm(list = c("slider", "hotspots"), envir = internal("more_types")))
    folder <- with_own_types()
    quiz <- read_sitting(folder)
    findings <- check_sitting(quiz)
    expect_match(paste(findings$finding, collapse = " "), "is no place on the slider")
    expect_match(
      paste(findings$finding[findings$column == "H1"], collapse = " "),
      "is not an option of H1"
    )
    items <- summarise_items(quiz)
    answers <- summarise_answers(quiz)
    points <- stats::setNames(
      answers$points[answers$item == "S1"],
      answers$answer[answers$item == "S1"]
    )
    expect_equal(unname(points[c("70", "68", "62", "30")]), c(2, 2, 1, 0))
    expect_equal(answers$near_miss[answers$item == "S1" & answers$answer == "30"], "other end")
    options <- summarise_options(quiz)
    expect_setequal(options$option[options$item == "H1"], c("a1", "b2", "c3", "zz"))
    expect_equal(options$key[options$item == "H1" & options$option == "a1"], TRUE)
    expect_true(all(c("S1", "H1") %in% review_items(quiz)$item))
    expect_equal(nrow(subset(summarise_standards(quiz), code == "TC.1.a")), 1)
    for (verb in c(
      "check", "test", "items", "options", "students", "standards", "misconceptions",
      "groups", "decisions", "parts", "precision", "scale", "time", "attempts", "plan"
    )) {
      said <- run_here(verb, folder)
      expect_lte(said$status, if (verb == "check") 1 else 0)
      expect_false(
        any(grepl("did not foresee|subscript", c(said$out, said$err))),
        label = verb
      )
    }
    said <- run_here("options", folder, "--item", "S1", "--who")
    expect_match(said$out, "most common wrong place is 30", all = FALSE)
    expect_match(paste(run_here("items", folder, "--review")$out, collapse = " "), "S1")
    expect_equal(run_here("what-if", folder, "--key", "S1=30")$status, 0)
    expect_refused(
      adjust(quiz, "key", item = "S1", value = "far away"),
      "input",
      "looks like 70"
    )
    moved <- adjust(quiz, "key", item = "S1", value = "30", reason = "the other end")
    expect_gt(
      subset(summarise_items(moved), item == "S1")$difficulty,
      subset(items, item == "S1")$difficulty
    )

    out <- tempfile("out-")
    dir.create(out)
    for (audience in c("teacher", "coordinator", "head")) {
      path <- file.path(out, paste0(audience, ".html"))
      write_report(quiz, path, audience = audience)
      expect_gt(file.size(path), 10000)
    }
    page <- page_after(
      file.path(out, "teacher.html"),
      "said.text=document.body.textContent;"
    )
    expect_equal(page$faults, list())
    expect_match(page$text, "How full is the moon?", fixed = TRUE)
    write_slips(quiz, file.path(out, "slips.html"), parts = c("answers", "why"))
    write_workbook(quiz, file.path(out, "book.xlsx"))
    write_walkthrough(quiz, file.path(out, "walk.html"))
    walk <- paste(readLines(file.path(out, "walk.html"), warn = FALSE), collapse = "\n")
    expect_match(walk, "Right: at 70", fixed = TRUE)
    grid <- ggplot2::autoplot(quiz)
    expect_s3_class(ggplot2::autoplot(options, item = "H1", items = items), "ggplot")

    pool <- read_pool(
      folder_of(
        items.csv = c(
          "item,type,key,points,standards,prompt",
          "n1,slider,70,2,TC.1.a,How full is it a week later?",
          "n2,hotspots,a1+b2,2,TC.1.a,Where is it low?"
        )
      )
    )
    drawn <- draw_followup(quiz, pool, standards = "TC.1.a")
    write_followup(drawn, file.path(out, "second"))
    expect_setequal(drawn$type, c("slider", "hotspots"))
    form <- write_form(file.path(out, "second"))
    allowed <- openxlsx::read.xlsx(form[2], "allowed", colNames = FALSE)
    expect_true("70" %in% unlist(allowed))

    for (kind in c("qti", "long", "oneroster")) {
      path <- file.path(
        out,
        paste0(kind, c(qti = ".zip", long = ".csv", oneroster = ".zip")[[kind]])
      )
      export_sitting(quiz, path, kind)
      expect_gt(file.size(path), 0)
    }
    utils::unzip(file.path(out, "qti.zip"), exdir = file.path(out, "qti"))
    documents <- vapply(
      list.files(file.path(out, "qti", "items"), full.names = TRUE),
      function(path) {
        paste(readLines(path, warn = FALSE), collapse = "\n")
      },
      ""
    )
    expect_match(
      documents,
      paste0(
        "sliderInteraction responseIdentifier=\"RESPONSE\" lowerBound=\"0\" ",
        "upperBound=\"100\""
      ),
      all = FALSE,
      fixed = TRUE
    )
    long <- read.csv(file.path(out, "long.csv"), colClasses = "character")
    again <- sitting(long, quiz$items, quiz$options, standards = quiz$standards)
    expect_equal(
      subset(summarise_items(again), item %in% c("S1", "H1"))$difficulty,
      subset(items, item %in% c("S1", "H1"))$difficulty
    )

    record <- open_record(tempfile(fileext = ".sqlite"))
    on.exit(close_record(record), add = TRUE)
    expect_equal(add_sitting(record, quiz, "own"), "new")
    expect_true(all(c("S1", "H1") %in% recorded_items(record)$item))
    bank <- tempfile(fileext = ".bank")
    keep_items(quiz, c("S1", "H1"), bank)
    expect_setequal(read_pool(bank)$items$type, c("slider", "hotspots"))
  }
)

test_that("nobody outside the types' own files asks for a type by its name", {
  room <- test_path("..", "..", "R")
  skip_if_not(dir.exists(room), "the sources are not here")
  names <- c("choice", "multiple", "number", "order", "match", "mark", "open", "text")
  for (path in list.files(room, "[.]R$", full.names = TRUE)) {
    if (grepl("^score", basename(path))) next
    tokens <- utils::getParseData(parse(path, keep.source = TRUE, encoding = "UTF-8"))
    tokens <- tokens[tokens$terminal & tokens$token != "COMMENT", ]
    text <- tokens$text
    is_name <- tokens$token == "STR_CONST" & gsub("\"", "", text) %in% names
    near <- vapply(which(is_name), function(k) {
      paste(text[seq(max(1, k - 12), k)], collapse = " ")
    }, "")
    asked <- grepl("\\btype\\b|\\$ ?type|types?\\b", near)
    expect_identical(
      near[asked & !grepl("numFmt|STR|column_type|list \\( \"--", near)],
      character(),
      label = basename(path)
    )
  }
})
