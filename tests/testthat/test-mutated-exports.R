# Hundreds of broken exports of every layout: each becomes a test folder whose
# sitting passes its own checks, or a classed error that says what and where.
# Seeded, so that a failure comes back. The mutations are those of
# helper-mutations.R and some of their own.

small_exports <- function() {
  rows <- c(
    "a1,B,ebb,3.5", "b2,C,flood,3", "c3,B,,4.5", "d4,B,Ebb,3.5", "e5,A,ebb,x",
    "f6,,ebb,3.5"
  )
  named <- c(
    "Tides", ";;Max;1;2;1;", ";;Standard;S.1;S.2;S.1;", "Name;ID;Class;Q1;Q2;Q3;Total",
    "Ada Ebb;a1;x;1;2;1;4", "Bo Bay;b2;x;0;1,5;1;2,5", "Cy Cay;c3;y;1;0;0;1",
    "Average;;;0,7;1,2;0,7;2,5"
  )
  parts <- c(
    "id,Q1 points,Q1,Q1 comment,Q2 points,Q2,Q2 comment", "a,1,A,,2,tide,good",
    "b,0,B,no,0,wind,", "c,1,A,,2,tide,"
  )
  long <- c(
    "Pupil\tQuestion\tAnswer\tTry\tSeconds",
    paste(
      rep(c("a", "b", "c"), each = 4), rep(1:2, 6), c("A", "B", "C", ""),
      rep(c(1, 1, 2, 2), 3), "0:12", sep = "\t"
    )
  )
  item <- paste0(
    "<assessmentItem identifier=\"I1\" title=\"t\"><responseDeclaration ",
    "identifier=\"R\" ",
    "cardinality=\"single\" ",
    "baseType=\"identifier\"><correctResponse><value>A</value></correctResponse></responseDeclaration><itemBody>",
    "<choiceInteraction responseIdentifier=\"R\"><simpleChoice ",
    "identifier=\"A\">a</simpleChoice></choiceInteraction>",
    "</itemBody>",
    "</assessmentItem>"
  )
  result <- paste0(
    "<assessmentResult><context sourcedId=\"s1\"/>\n<itemResult identifier=\"I1\" ",
    "datestamp=\"2026-01-01\">",
    "<responseVariable identifier=\"R\" cardinality=\"single\" baseType=\"identifier\">",
    "<correctResponse><value>A</value>",
    "</correctResponse><candidateResponse><value>B</value></candidateResponse></responseVariable>\n<outcomeVariable ",
    "identifier=\"SCORE\" ",
    "normalMaximum=\"1\"><value>0</value></outcomeVariable></itemResult></assessmentResult>"
  )
  said <- vapply(c("a", "b"), function(who) {
    paste0(
      "{\"actor\":{\"name\":\"",
      who,
      "\"},\"verb\":{\"id\":\"http://adlnet.gov/expapi/verbs/answered\"},\"object\":{\"id\":",
      "\"http://x/q1\",\"definition\":{\"interactionType\":\"choice\",\"correctResponsesPattern\":[\"b\"]}},",
      "\"result\":{\"response\":\"b\",\"success\":true,\"score\":{\"raw\":1,\"max\":1}}}"
    )
  }, "")
  lines <- function(...) charToRaw(paste0(paste(c(...), collapse = "\n"), "\n"))
  book <- openxlsx::createWorkbook()
  openxlsx::addWorksheet(book, "R")
  openxlsx::writeData(
    book,
    "R",
    data.frame(id = c("a", "b"), Q1 = c(1, 0), Q2 = c("1", "2"))
  )
  workbook <- tempfile(fileext = ".xlsx")
  openxlsx::saveWorkbook(book, workbook)
  package <- tempfile(fileext = ".zip")
  folder <- folder_of(i.xml = item, r.xml = result)
  zip::zip(package, c("i.xml", "r.xml"), root = folder)
  bytes <- function(path) readBin(path, "raw", file.size(path))
  list(
    answers.csv = lines("student,Q1,Q2,Q3", rows, "Key,B,ebb,3.5"),
    totals.csv = lines(named),
    parts.csv = lines(parts),
    long.tsv = lines(long),
    fixed.txt = lines(
      "KEY    ABCDABCD",
      "00071  ABCDABCC",
      "00082  AB-D*BCD",
      "00093  ABCDABC "
    ),
    delimited.txt = lines("key;ABCDABCD", "7;ABCDABCC", "8;AB-D*BCD", "9;ABCDABCA"),
    skills.csv = lines(
      "Pupil,Bowline,Reef",
      "Level,1,2",
      "Ada,\u2713,x",
      "Bo,yes,",
      "Cy,no,Y"
    ),
    key.csv = lines("item,key,points", "Q1,B,1", "Q2,ebb,2", "Q3,3.5,1"),
    people.csv = lines("Student ID,Name,Class", "a1,Ada,x", "b2,Bo,x", "z9,Zoe,y"),
    case.json = lines(
      "{\"CFDocument\":{\"title\":\"t\"},",
      "\"CFItems\":[{\"identifier\":\"i1\",\"humanCodingScheme\":\"S.1\",",
      "\"fullStatement\":\"s\"}],\"CFAssociations\":[]}"
    ),
    result.xml = lines(result),
    page.html = lines(
      "<html><body><table><caption>Tides</caption>",
      "<tr><th rowspan=\"2\">Pupil</th><th colspan=\"2\">Points</th></tr>",
      "<tr><th>Q1</th><th>Q2</th></tr>",
      "<tr><td>Ada</td><td>1</td><td>0</td></tr>",
      "<tr><td>Bo</td><td>0</td><td>0<i hidden>9</i></td></tr>",
      "<tr><td>Cy</td><td>1</td><td>1</td></tr></table></body></html>"
    ),
    statements.json = lines(said),
    workbook.xlsx = bytes(workbook),
    package.zip = bytes(package)
  )
}

more_mutations <- list(
  lose_column = function(bytes) {
    on_lines(bytes, function(lines) sub("^[^,;\t]*[,;\t]", "", lines))
  },
  to_utf16 = function(bytes) {
    text <- iconv(list(bytes), "UTF-8", "UTF-16LE", toRaw = TRUE)[[1]]
    if (is.null(text)) bytes else c(as.raw(c(0xFF, 0xFE)), text)
  },
  no_breaks = function(bytes) bytes[bytes != as.raw(10)],
  only_returns = function(bytes) replace(bytes, bytes == as.raw(10), as.raw(13)),
  long_word = function(bytes) {
    append(bytes, rep(charToRaw("w"), 3000), sample(length(bytes), 1))
  },
  strange_letters = function(bytes) {
    append(bytes, as.raw(sample(128:255, 3)), sample(length(bytes), 1))
  },
  swap_bytes = function(bytes) {
    at <- sample(length(bytes), 2)
    replace(bytes, at, bytes[rev(at)])
  },
  same = function(bytes) bytes
)

# One seed: a layout, one to three mutations, and what came of it.
outcome_of <- function(seed, exports, kinds, room) {
  set.seed(seed)
  name <- sample(names(exports), 1)
  bytes <- exports[[name]]
  for (kind in sample(names(kinds), sample(3, 1))) {
    if (length(bytes) < 3) break
    # text mutations of a workbook
    bytes <- tryCatch(kinds[[kind]](bytes), error = function(e) bytes)
  }
  place <- file.path(room, seed)
  dir.create(place)
  on.exit(unlink(place, recursive = TRUE))
  file <- file.path(place, name)
  writeBin(bytes, file)
  made <- file.path(place, "made")
  said <- function(what, ...) paste(what, seed, name, ...)
  tryCatch(
    {
      beside <- switch(name,
        case.json = "standards",
        people.csv = "students",
        key.csv = "key"
      )
      if (is.null(beside)) {
        new_test(made, file, key = if (seed %% 2) "later")
      } else { # a file that goes with the answers
        answers <- tempfile(fileext = ".csv")
        writeBin(exports$answers.csv, answers)
        on.exit(unlink(answers), add = TRUE)
        do.call(new_test, c(list(made, answers), stats::setNames(list(file), beside)))
      }
      quiz <- read_sitting(made)
      findings <- check_sitting(quiz)
      items <- summarise_items(quiz)
      holds <- all(items$difficulty >= 0 & items$difficulty <= 1, na.rm = TRUE) &&
        !anyNA(quiz$students$student) &&
        !anyDuplicated(quiz$students$student) &&
        all(nzchar(findings$finding))
      if (holds) "sitting" else said("does not hold")
    },
    pregunta_error = function(e) {
      if (length(list.files(place, all.files = TRUE, no.. = TRUE)) > 1) {
        return(said("left something behind"))
      }
      if (nchar(e$message) > 15 && "i" %in% names(e$body)) {
        "said"
      } else {
        said("says too little", e$message)
      }
    },
    error = function(e) said("not foreseen", conditionMessage(e))
  )
}

test_that(
  paste0(
    "mutated exports are sittings that hold or classed errors, and nothing is ",
    "left half written"
  ),
  {
    only_in_all()
    exports <- small_exports()
    kinds <- c(mutations, more_mutations)
    room <- tempfile("mutated-")
    dir.create(room)
    seeds <- seq_len(as.integer(Sys.getenv("PREGUNTA_MUTATIONS", "60")))
    outcome <- unlist(parallel::mclapply(
      seeds,
      outcome_of,
      exports,
      kinds,
      room,
      mc.cores = max(1, parallel::detectCores())
    ))
    expect_length(outcome, length(seeds))
    expect_identical(setdiff(outcome, c("sitting", "said")), character())
    expect_gt(mean(outcome == "sitting"), 0.2)
    expect_gt(mean(outcome == "said"), 0.2)
  }
)
