# What is passed on in open forms, against the rules of the standards.

unpacked <- function(quiz, as, ...) {
  path <- tempfile(fileext = ".zip")
  export_sitting(quiz, path, as, ...)
  folder <- tempfile("unpacked-")
  utils::unzip(path, exdir = folder)
  folder
}

# Names that XML does not take, of items, options and the ends of pairs.
odd_sitting <- function(...) {
  items <- data.frame(
    item = c("3a", "Q 1", "Q_1", "\u00e9t\u00e9 2", "n", "o"),
    type = c("choice", "multiple", "match", "text", "number", "order"),
    key = c("1", "x y;2", "low tide=1;1=low tide", "Ebb|ebb & flow", "3\u00b10.5", "b c>a"),
    points = c(1, 2, 2, 1, 3, 1),
    scoring = c(NA, "each", "each", NA, NA, NA),
    prompt = c("Is 1 < 2 & 3?", rep(NA, 5)),
    rationale = c("So \u201cit\u201d is <b>.", NA, "Look.", "Look.", "Look.", "Look."),
    standards = c("S.1;S.2", "S.2", NA, "S.1", NA, NA)
  )
  options <- data.frame(
    item = rep(c("3a", "Q 1"), each = 3),
    option = c("1", "2", "\u00bd", "x y", "2", "x_y"),
    text = c("one", "two & three", NA, "p", "q", "r")
  )
  responses <- data.frame(
    student = c("ada", "ben <b>", "cy"),
    `3a` = c("1", "\u00bd", "2"),
    `Q 1` = c("x y;2", "x_y", NA),
    Q_1 = c("low tide=1;1=low tide", "low tide=low tide", NA),
    summer = c("EBB", "a < b & \"c\"", "ebb & flow"),
    n = c("3.2", "about 3", "7"),
    o = c("b c>a", "a>b c", NA),
    check.names = FALSE,
    ...
  )
  names(responses)[names(responses) == "summer"] <- "\u00e9t\u00e9 2"
  sitting(responses, items, options, settings = list(title = "Odd & names"))
}

nodes_of <- function(folder, file) {
  xml2::xml_ns_strip(xml2::read_xml(file.path(folder, file)))
}

xml_name <- "^[\\p{L}_][\\p{L}\\p{Nd}._-]*$"

test_that("identifiers of QTI are XML names, each once, and labels bring the own names back", {
  for (version in c("2.2", "3.0")) {
    quiz <- odd_sitting()
    folder <- unpacked(quiz, "qti", version = version)
    files <- list.files(file.path(folder, "items"), full.names = TRUE)
    for (file in files) {
      root <- xml2::xml_ns_strip(xml2::read_xml(file))
      named <- xml2::xml_find_all(root, ".//*[@identifier]")
      is_choice <- grepl("choice", xml2::xml_name(named), ignore.case = TRUE)
      ids <- xml2::xml_attr(named, "identifier")
      expect_match(c(xml2::xml_attr(root, "identifier"), ids), xml_name, perl = TRUE)
      expect_false(any(duplicated(ids[is_choice])))
    }
    zip <- tempfile(fileext = ".zip")
    export_sitting(quiz, zip, "qti", version = version)
    out <- tempfile()
    new_test(out, zip)
    back <- read_sitting(out)
    same <- c("item", "type", "key", "points", "scoring", "standards", "rationale")
    expect_equal(back$items[same], quiz$items[same], ignore_attr = TRUE, label = version)
    expect_equal(summarise_items(back), summarise_items(quiz), ignore_attr = TRUE)
    expect_equal(
      summarise_options(back)[c("item", "option", "count")],
      summarise_options(quiz)[c("item", "option", "count")],
      ignore_attr = TRUE
    )
  }
})

test_that("every outcome that is used is declared, and each version keeps its spelling", {
  spaces <- c("2.2" = "imsqti_v2p2", "3.0" = "imsqtiasi_v3p0")
  for (version in names(spaces)) {
    folder <- unpacked(odd_sitting(), "qti", version = version)
    for (file in list.files(file.path(folder, "items"), full.names = TRUE)) {
      root <- xml2::read_xml(file)
      expect_match(xml2::xml_ns(root)[["d1"]], spaces[[version]], fixed = TRUE)
      xml2::xml_ns_strip(root)
      ours <- xml2::xml_name(xml2::xml_find_all(root, "//*"))
      html <- c("p", "span", "div")
      expect_true(all(startsWith(setdiff(ours, html), "qti-")) == (version == "3.0"))
      pick <- function(names, attribute) {
        path <- paste0("//*[", paste0("name()='", names, "'", collapse = " or "), "]")
        xml2::xml_attr(xml2::xml_find_all(root, path), attribute)
      }
      used <- c(
        pick(c("setOutcomeValue", "qti-set-outcome-value"), "identifier"),
        pick("modalFeedback", "outcomeIdentifier"),
        pick("qti-modal-feedback", "outcome-identifier")
      )
      declared <- pick(c("outcomeDeclaration", "qti-outcome-declaration"), "identifier")
      expect_equal(setdiff(used, declared), character())
      template <- pick(c("responseProcessing", "qti-response-processing"), "template")
      if (length(stats::na.omit(template))) {
        expect_match(template, if (version == "3.0") "/v3p0/" else "/qti_v2p2/")
      }
    }
    text <- nodes_of(folder, "items/0004.xml")
    entries <- xml2::xml_find_all(text, "//*[@mapKey or @map-key]")
    expect_length(entries, 2)
    for (entry in entries) {
      insensitive <- c(
        xml2::xml_attr(entry, "caseSensitive"), xml2::xml_attr(entry, "case-sensitive")
      )
      expect_equal(stats::na.omit(insensitive)[1], "false")
    }
    test <- nodes_of(folder, "test.xml")
    refs <- xml2::xml_find_all(test, "//*[@href]")
    expect_equal(
      xml2::xml_attr(refs, "identifier"),
      vapply(xml2::xml_attr(refs, "href"), function(href) {
        xml2::xml_attr(nodes_of(folder, href), "identifier")
      }, ""),
      ignore_attr = TRUE
    )
  }
})

test_that("a manifest names every file once, what depends on what, and the standards", {
  schemas <- list("2.2" = c("QTIv2.2 Package", "1.0.0"), "3.0" = c("QTI Package", "3.0.0"))
  seen <- character()
  for (version in names(schemas)) {
    for (only in list(NULL, "items", "results")) {
      folder <- unpacked(odd_sitting(), "qti", version = version, only = only)
      files <- setdiff(list.files(folder, recursive = TRUE), "imsmanifest.xml")
      rooms <- unique(sub("/.*", "", files))
      expect_setequal(rooms, c(
        if (!identical(only, "results")) c("items", "test.xml"),
        if (!identical(only, "items")) "results"
      ))
      root <- nodes_of(folder, "imsmanifest.xml")
      resources <- xml2::xml_find_all(root, "//resource")
      expect_setequal(xml2::xml_attr(resources, "href"), files)
      ids <- xml2::xml_attr(resources, "identifier")
      expect_match(ids, xml_name, perl = TRUE)
      expect_false(any(duplicated(ids)))
      needed <- xml2::xml_attr(xml2::xml_find_all(root, "//dependency"), "identifierref")
      expect_equal(setdiff(needed, ids), character())
      said <- xml2::xml_text(xml2::xml_find_all(root, "./metadata/*"))
      expect_equal(said, schemas[[version]])
    }
    labels <- xml2::xml_find_all(
      nodes_of(unpacked(odd_sitting(), "qti"), "imsmanifest.xml"),
      "//resource[@identifier='_3a']//label"
    )
    expect_equal(xml2::xml_text(labels), c("S.1", "S.2"))
  }
  of_demo <- nodes_of(unpacked(read_sitting(demo_path()), "qti"), "imsmanifest.xml")
  of_odd <- nodes_of(unpacked(odd_sitting(), "qti"), "imsmanifest.xml")
  expect_false(
    xml2::xml_attr(of_demo, "identifier") == xml2::xml_attr(of_odd, "identifier")
  )
})

test_that("a QTI result has its own time and the total of what nobody still has to mark", {
  stamps <- function(quiz) {
    folder <- unpacked(quiz, "qti", only = "results")
    lapply(list.files(file.path(folder, "results"), full.names = TRUE), function(file) {
      xml2::xml_attr(
        xml2::xml_find_all(xml2::xml_ns_strip(xml2::read_xml(file)), "//*[@datestamp]"),
        "datestamp"
      )
    })
  }
  given <- c("2026-03-02 10:05", "2026-03-02T11:30:10", "2026-03-03")
  submitted <- unlist(stamps(odd_sitting(submitted = given)))
  expect_setequal(
    submitted,
    c("2026-03-02T10:05:00", "2026-03-02T11:30:10", "2026-03-03T00:00:00")
  )
  demo <- read_sitting(demo_path())
  expect_equal(unique(unlist(stamps(demo))), paste0(demo$settings$date, "T00:00:00"))
  undated <- unlist(stamps(odd_sitting()))
  expect_lt(abs(as.numeric(difftime(
    as.POSIXct(undated[1], format = "%Y-%m-%dT%H:%M:%S", tz = "UTC"),
    Sys.time(),
    units = "mins"
  ))), 5)

  folder <- unpacked(demo, "qti", only = "results")
  totals <- do.call(rbind, lapply(
    list.files(file.path(folder, "results"), full.names = TRUE),
    function(file) {
      root <- xml2::xml_ns_strip(xml2::read_xml(file))
      total <- xml2::xml_find_first(root, "./testResult/outcomeVariable[@identifier='SCORE']")
      data.frame(
        student = xml2::xml_attr(xml2::xml_find_first(root, "./context"), "sourcedId"),
        points = as.numeric(xml2::xml_text(total)),
        open = as.numeric(xml2::xml_attr(total, "normalMaximum"))
      )
    }
  ))
  students <- as.data.frame(summarise_students(demo))
  students <- students[match(totals$student, students$student), ]
  waits <- students$status == "waiting"
  expect_gt(sum(waits), 0)
  expect_true(all(is.na(totals$points[waits])))
  expect_equal(totals$points[!waits], students$points[!waits])
  expect_equal(totals$open[!waits], students$open[!waits])
})

test_that("a question whose options are not listed goes out as a line to write on", {
  quiz <- choice_sitting(matrix(c("A", "B", "A", "C"), 2), key = c("A", "C"))
  folder <- unpacked(quiz, "qti", only = "items")
  for (file in c("items/0001.xml", "items/0002.xml")) {
    root <- nodes_of(folder, file)
    expect_length(xml2::xml_find_all(root, "//textEntryInteraction"), 1)
    expect_length(xml2::xml_find_all(root, "//simpleChoice"), 0)
  }
  plain <- plain_folder()
  done <- run_here("export", plain, "--out", tempfile(fileext = ".zip"))
  expect_equal(done$status, 0)
  expect_match(paste(done$err, collapse = " "), "no list of their options", fixed = TRUE)
})

test_that("version and part of an export are asked for on the command line, or refused", {
  only_in_all()
  path <- tempfile(fileext = ".zip")
  asked <- function(...) {
    unlink(path)
    run_here("export", demo_path(), "--out", path, ...)
  }
  done <- asked("--version", "3.0", "--only", "items", "--only", "section=Harbour A")
  expect_equal(done$status, 0)
  names <- utils::unzip(path, list = TRUE)$Name
  expect_false(any(startsWith(names, "results")))
  expect_true("test.xml" %in% names)
  done <- asked("--only", "results", "--only", "section=Harbour A")
  expect_equal(done$status, 0)
  names <- utils::unzip(path, list = TRUE)$Name
  expect_equal(sum(startsWith(names, "results")), 27)
  for (wrong in list(
    c("--version", "1.2"), c("--as", "oneroster", "--version", "2.2"),
    c("--as", "oneroster", "--only", "items"), c("--as", "long", "--version", "1")
  )) {
    done <- do.call(asked, as.list(wrong))
    expect_equal(done$status, 2, label = paste(wrong, collapse = " "))
    expect_false(file.exists(path))
  }
})

test_that("answers of nobody are no file; the questions by themselves are", {
  quiz <- choice_sitting(matrix(NA_character_, 3, 2))
  path <- tempfile()
  expect_refused(export_sitting(quiz, path, "qti", only = "results"), "input", "Nobody")
  expect_refused(export_sitting(quiz, path, "xapi"), "input", "Nobody", "--only items")
  expect_refused(export_sitting(quiz, path, "oneroster"), "input", "no score")
  expect_false(file.exists(path))
  zip <- tempfile(fileext = ".zip")
  export_sitting(quiz, zip, "qti")
  expect_false(any(startsWith(utils::unzip(zip, list = TRUE)$Name, "results")))
})

roster_folder <- function() {
  folder_of(
    users.csv = c(
      "sourcedId,status,orgSourcedIds,role,username,givenName,familyName",
      "u1,active,o1,student,ada,Ada,Anchorley", "u2,active,o1,student,ben,Ben,Bollard",
      "u3,active,o1,student,cy,Cy,Capstan", "u4,active,o1,student,di,Di,Dock"
    ),
    classes.csv = c("sourcedId,title,schoolSourcedId", "c1,Harbour A,o1", "c2,Harbour B,o1"),
    enrollments.csv = c(
      "sourcedId,classSourcedId,schoolSourcedId,userSourcedId,role",
      "e1,c1,o1,u1,student", "e2,c1,o1,u2,student", "e3,c2,o1,u3,student",
      "e4,c2,o1,u4,student"
    ),
    orgs.csv = c("sourcedId,name,type", "o1,Harbour School,school")
  )
}

test_that("OneRoster marks bear the roster's own identifiers and say why one is missing", {
  raw <- folder_of(x.csv = c(
    "username,Q1,Q2", "ada,1,0", "ben,1,1", "cy,(excused),(excused)"
  ))
  folder <- tempfile()
  new_test(folder, file.path(raw, "x.csv"), students = roster_folder())
  cat(
    "date: 2026-03-02", "grading_period: gp-3", "title: Two marks", "kind: quiz",
    sep = "\n", file = file.path(folder, "test.yml"), append = TRUE
  )
  quiz <- read_sitting(folder)
  for (version in c("1.1", "1.2")) {
    made <- unpacked(quiz, "oneroster", version = version)
    table <- function(name) {
      utils::read.csv(
        file.path(made, paste0(name, ".csv")),
        colClasses = "character", na.strings = character()
      )
    }
    lines <- table("lineItems")
    expect_equal(lines$classSourcedId, c("c1", "c2"))
    expect_equal(lines$gradingPeriodSourcedId, c("gp-3", "gp-3"))
    expect_equal(lines$assignDate, c("2026-03-02", "2026-03-02"))
    results <- table("results")
    expect_equal(results$studentSourcedId, c("u1", "u2", "u3", "u4"))
    expect_equal(
      results$scoreStatus,
      c("fully graded", "fully graded", "exempt", "not submitted")
    )
    expect_equal(results$score, c("50", "100", "", ""))
    expect_equal(results$scoreDate, rep("2026-03-02", 4))
    class_of <- lines$classSourcedId[match(results$lineItemSourcedId, lines$sourcedId)]
    expect_equal(class_of, c("c1", "c1", "c2", "c2"))
    manifest <- table("manifest")
    expect_true(version %in% manifest$value)
    if (version == "1.2") {
      expect_equal(lines$schoolSourcedId, c("o1", "o1"))
      expect_equal(results$missing, c("false", "false", "false", "true"))
      expect_true("file.scoreScales" %in% manifest$propertyName)
    }
  }
  # passed on again after a mark has changed, each result is the same result
  first <- unpacked(quiz, "oneroster")
  adjust(folder, "points", student = "ada", item = "Q2", value = 1, reason = "read again")
  second <- unpacked(read_sitting(folder), "oneroster")
  ids <- function(made) utils::read.csv(file.path(made, "results.csv"))$sourcedId
  expect_equal(ids(second), ids(first))
})

test_that("marks go to the one grading period of the roster in which the day of the test lies", {
  roster <- roster_folder()
  writeLines(
    c(
      "sourcedId,title,type,startDate,endDate", "gp-1,Autumn,gradingPeriod,2025-08-15,2025-12-20",
      "gp-2,Winter,gradingPeriod,2026-01-07,2026-04-01", "y-1,Year,schoolYear,2025-08-15,2026-07-01"
    ),
    file.path(roster, "academicSessions.csv")
  )
  raw <- folder_of(x.csv = c("username,Q1,Q2", "ada,1,0", "ben,1,1"))
  for (day in c("2026-03-02", "2026-05-05")) {
    folder <- folder_of(test.yml = paste("date:", day))
    account <- new_test(folder, file.path(raw, "x.csv"), students = roster)
    period <- read_sitting(folder)$settings$grading_period
    expect_equal(period, if (day == "2026-03-02") "gp-2" else NA_character_)
    expect_equal(any(grepl("Winter", account$taken)), day == "2026-03-02")
  }
})

test_that("CASE keeps what was imported, and makes the same identifiers for a framework", {
  package <- function(quiz) {
    path <- tempfile(fileext = ".json")
    export_sitting(quiz, path, "case")
    jsonlite::fromJSON(path, simplifyVector = FALSE)
  }
  ids <- function(case) {
    stats::setNames(
      vapply(case$CFItems, `[[`, "", "identifier"),
      vapply(case$CFItems, `[[`, "", "humanCodingScheme")
    )
  }
  quiz <- function(title, ...) {
    sitting(
      data.frame(student = "a", Q1 = "1"),
      data.frame(item = "Q1", type = "mark", standards = "H.1"),
      standards = data.frame(
        code = c("H", "H.1"), parent = c(NA, "H"), title = c("Harbour", "Tides"),
        emphasis = c(NA, "priority")
      ),
      settings = list(title = title, ...)
    )
  }
  autumn <- package(quiz("Autumn", framework = "https://harbour.example/science"))
  spring <- package(quiz("Spring", framework = "https://harbour.example/science"))
  other <- package(quiz("Spring", framework = "https://quay.example/science"))
  expect_equal(autumn$CFDocument$identifier, spring$CFDocument$identifier)
  expect_equal(ids(autumn), ids(spring))
  expect_length(intersect(ids(autumn), ids(other)), 0)
  uuid_5 <- "^[0-9a-f]{8}-[0-9a-f]{4}-5[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$"
  expect_match(c(ids(autumn), autumn$CFDocument$identifier), uuid_5)
  expect_null(autumn$CFItems[[2]]$emphasis)
  expect_equal(autumn$CFItems[[2]]$extensions, list(`pregunta:emphasis` = "priority"))

  # an import's own identifiers come back, with those of its document
  own <- c("11111111-2222-4333-8444-555555555501", "11111111-2222-4333-8444-555555555502")
  given <- autumn
  given$CFDocument$identifier <- "11111111-2222-4333-8444-555555555500"
  given$CFDocument$title <- "Harbour science"
  for (k in 1:2) given$CFItems[[k]]$identifier <- own[k]
  given$CFAssociations <- list(list(
    identifier = "11111111-2222-4333-8444-555555555503", associationType = "isChildOf",
    originNodeURI = list(identifier = own[2]),
    destinationNodeURI = list(identifier = own[1])
  ))
  path <- tempfile(fileext = ".json")
  writeLines(jsonlite::toJSON(given, auto_unbox = TRUE), path)
  raw <- folder_of(x.csv = c("student,Q1", "a,1"))
  folder <- tempfile()
  new_test(folder, file.path(raw, "x.csv"), standards = path)
  again <- package(read_sitting(folder))
  expect_equal(unname(ids(again)), own)
  expect_equal(again$CFDocument$identifier, "11111111-2222-4333-8444-555555555500")
  expect_equal(again$CFDocument$title, "Harbour science")
  expect_equal(again$CFAssociations[[2]]$destinationNodeURI$identifier, own[1])
  expect_equal(read_sitting(folder)$standards$emphasis, c(NA, "priority"))
})

# RFC 9562, appendix A.4: a name in the namespace of domain names.
test_that("identifiers by name are those of the standard's own example", {
  expect_equal(
    internal("uuid_of")("www.example.com", "6ba7b810-9dad-11d1-80b4-00c04fd430c8"),
    "2ed6657d-e927-568b-95e1-2665a8aea6a2"
  )
})
