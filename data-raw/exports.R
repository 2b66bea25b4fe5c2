# Makes the example exports: the demo's responses in the layouts that teachers
# have, one file a layout, all made up. Run after data-raw/demo.R, from the
# project's root: Rscript data-raw/exports.R
root <- "inst/extdata/exports"
unlink(root, recursive = TRUE)
dir.create(root, recursive = TRUE)
quiz <- pregunta::read_sitting("inst/extdata/demo")
read <- function(name) {
  utils::read.csv(
    file.path("inst/extdata/demo", name),
    colClasses = "character",
    na.strings = NULL
  )
}
responses <- utils::read.csv(
  "inst/extdata/demo/responses.csv",
  colClasses = "character",
  check.names = FALSE,
  na.strings = NULL
)
students <- read("students.csv")
items <- read("items.csv")
ids <- items$item
marked <- setdiff(ids, c("Q23", "Q24"))
student <- match(responses$student, students$student)
person <- function(column) ifelse(is.na(student), "", students[[column]][student])
points <- getFromNamespace("cell_points", "pregunta")(quiz)

put <- function(lines, name, encoding = "UTF-8", end = "\n") {
  connection <- file(file.path(root, name), "wb")
  on.exit(close(connection))
  text <- paste0(paste(lines, collapse = end), end)
  bytes <- if (encoding == "UTF-8") {
    charToRaw(enc2utf8(text))
  } else {
    iconv(text, "UTF-8", encoding, toRaw = TRUE)[[1]]
  }
  if (encoding == "UTF-16LE") bytes <- c(as.raw(c(0xFF, 0xFE)), bytes)
  writeBin(bytes, connection)
}
cell <- function(x, separator) {
  x[is.na(x)] <- ""
  needs <- grepl(paste0("[\"\n", separator, "]"), x)
  x[needs] <- paste0("\"", gsub("\"", "\"\"", x[needs], fixed = TRUE), "\"")
  x
}
rows_of <- function(table, separator = ",", header = names(table)) {
  c(
    paste(cell(header, separator), collapse = separator),
    do.call(paste, c(unname(lapply(table, cell, separator)), sep = separator))
  )
}

# ---- wide, as the test folder has it, with a comma -------------------------
put(rows_of(responses), "wide-answers.csv")

# ---- names and totals around the questions, semicolon, Windows-1252, rows of
# points and standards above the names -----------------------------------------
name <- strsplit(person("name"), " ")
last <- vapply(
  name,
  function(parts) if (length(parts)) parts[length(parts)] else "Trial",
  ""
)
firsts <- vapply(name, function(parts) {
  if (length(parts)) paste(parts[-length(parts)], collapse = " ") else ""
}, "")
row_points <- points[match(responses$student, quiz$students$student), ]
total <- rowSums(row_points, na.rm = TRUE)
around <- data.frame(
  "Last name" = last,
  "First name" = firsts,
  "Student ID" = responses$student,
  Class = person("section"),
  responses[ids],
  "Q24 points" = responses$`Q24 points`,
  Total = total,
  Percent = paste0(round(100 * total / sum(quiz$items$points)), "%"),
  check.names = FALSE
)
blank <- rep("", 4)
lines <- rows_of(around, ";")
put(
  c(
    "Tides and Currents \u2013 unit test",
    paste(
      c("", "", "", "Max points", items$points, "", sum(quiz$items$points), "100%"),
      collapse = ";"
    ),
    paste(
      cell(c("", "", "", "Standard", items$standards, "", "", ""), ";"),
      collapse = ";"
    ),
    lines
  ),
  "wide-names-totals.csv",
  "CP1252",
  "\r\n"
)

# ---- marks: points earned in every cell, maximum and averages below ----------
rated <- row_points
rated[is.na(rated)] <- ""
# The half before the connection dropped.
half <- which(duplicated(responses$student, fromLast = TRUE))
halves <- which(responses$student == responses$student[half])
for (j in seq_along(ids)) {
  given <- responses[halves, ids[j]] != ""
  rated[halves[!given], j] <- ""
}
absent <- rowSums(responses[ids] != "") == 0
rated[absent, ] <- "-"
rated[responses$student == "trial-lantern", ] <- "1"
marks <- data.frame(
  Name = paste0(last, ", ", firsts),
  ID = responses$student,
  rated,
  check.names = FALSE
)
names(marks)[-(1:2)] <- sub("Q", "Question ", ids)
mean_row <- c("Average", "", sprintf("%.2f", colMeans(points, na.rm = TRUE)))
put(
  c(
    rows_of(marks, "\t"), paste(c("Possible points", "", items$points), collapse = "\t"),
    paste(mean_row, collapse = "\t")
  ),
  "wide-marks.tsv",
  "UTF-16LE",
  "\r\n"
)

# ---- three columns a question, in the order points, answer, comment ----------
three <- data.frame(
  id = responses$student,
  section = person("section"),
  attempt = "1",
  submitted = "2026-09-14T10:40:00Z",
  check.names = FALSE
)
for (id in ids) {
  three[[paste0(id, " score")]] <- if (id == "Q24") {
    responses$`Q24 points`
  } else if (id == "Q23") {
    responses$Q23
  } else {
    ifelse(responses[[id]] == "", "", row_points[, id])
  }
  three[[paste0(id, " answer")]] <- if (id == "Q23") {
    ifelse(responses$Q23 == "", "", "seen")
  } else {
    responses[[id]]
  }
  three[[paste0(id, " feedback")]] <- ifelse(responses[[id]] == "", "", "")
}
three$`Q2 feedback`[3] <- "Look at the chart again, please."
put(rows_of(three), "wide-three-columns.csv")

# ---- long, with attempts and seconds --------------------------------------------
long <- do.call(
  rbind,
  lapply(seq_len(nrow(responses)), function(i) {
    data.frame(
      "Learner" = responses$student[i],
      "Question no." = sub("Q", "", ids),
      "Answer given" = unlist(responses[i, ids]),
      "Points" = ifelse(ids == "Q24", responses$`Q24 points`[i], ""),
      "Try" = "1",
      check.names = FALSE
    )
  })
)
put(rows_of(long), "long.csv")

# ---- scanned sheets: the first 14 questions, the key in the first line ---------
letters14 <- as.matrix(responses[ids[1:14]])
letters14[letters14 == ""] <- "-"
one_key <- sub("[|].*", "", items$key[1:14])
scan_id <- formatC(responses$student, width = -14)
put(
  c(
    paste0(formatC("KEY", width = -14), paste(one_key, collapse = "")),
    paste0(scan_id, apply(letters14, 1, paste, collapse = ""))
  ),
  "scan-fixed.txt"
)
put(
  c(
    paste0("key,", paste(one_key, collapse = "")),
    paste0(responses$student, ",", apply(letters14, 1, paste, collapse = ""))
  ),
  "scan-delimited.csv"
)

# ---- a workbook: the key in a row, numbers as text and text as numbers ----------
book <- openxlsx::createWorkbook()
openxlsx::addWorksheet(book, "Results")
top <- c("Answer key", "", items$key)
openxlsx::writeData(
  book,
  "Results",
  as.data.frame(t(c("Student", "Section", ids, "Q24 points"))),
  colNames = FALSE
)
openxlsx::writeData(
  book,
  "Results",
  as.data.frame(t(top)),
  startRow = 2,
  colNames = FALSE
)
sheet <- data.frame(
  responses$student,
  person("section"),
  responses[ids],
  responses$`Q24 points`
)
for (column in c(2 + match(c("Q19", "Q20", "Q23"), ids), ncol(sheet))) {
  number <- suppressWarnings(as.numeric(sheet[[column]]))
  openxlsx::writeData(
    book,
    "Results",
    ifelse(is.na(number), sheet[[column]], NA),
    startRow = 3,
    startCol = column,
    colNames = FALSE
  )
}
for (column in seq_along(sheet)) {
  text <- sheet[[column]]
  number <- suppressWarnings(as.numeric(text))
  for (i in seq_along(text)) {
    if (text[i] == "") next
    # half of the numbers stay text
    value <- if (!is.na(number[i]) && (i + column) %% 2) number[i] else text[i]
    openxlsx::writeData(
      book,
      "Results",
      value,
      startRow = i + 2,
      startCol = column,
      colNames = FALSE
    )
  }
}
openxlsx::saveWorkbook(book, file.path(root, "workbook.xlsx"), overwrite = TRUE)

# ---- a page saved from a browser: the cells of the workbook ----------------------
shown <- htmltools::tags$table(
  htmltools::tags$caption("Tides and Currents"),
  htmltools::tags$tr(lapply(
    c("Student", "Section", ids, "Q24 points"),
    htmltools::tags$th
  )),
  htmltools::tags$tr(lapply(top, htmltools::tags$td)),
  lapply(seq_len(nrow(sheet)), function(i) {
    htmltools::tags$tr(lapply(unname(unlist(sheet[i, ])), htmltools::tags$td))
  })
)
page <- htmltools::tags$html(
  htmltools::tags$head(htmltools::tags$title("Results")),
  htmltools::tags$body(
    htmltools::tags$table(htmltools::tags$tr(htmltools::tags$td("Menu"))),
    shown
  )
)
put(paste0("<!DOCTYPE html>\n", as.character(page)), "web-page.html")

# ---- a file a class ---------------------------------------------------------------
dir.create(file.path(root, "classes"))
for (section in unique(students$section)) {
  mine <- person("section") == section
  if (section == students$section[1]) mine <- mine | responses$student == "trial-lantern"
  put(
    rows_of(responses[mine, ]),
    file.path("classes", paste0(gsub(" ", "-", tolower(section)), ".csv"))
  )
}

# ---- open standards -----------------------------------------------------------------
pregunta::export_sitting(quiz, file.path(root, "qti.zip"), "qti", "3.0")
pregunta::export_sitting(quiz, file.path(root, "case.json"), "case")

# xAPI, a statement a line; an activity is described in the first of its statements.
kinds <- c(
  choice = "choice",
  multiple = "choice",
  text = "fill-in",
  number = "numeric",
  order = "sequencing",
  match = "matching",
  mark = "performance",
  open = "long-fill-in"
)
pattern_of <- function(item) {
  if (item$key == "") return(NULL)
  if (item$type == "number") {
    ends <- getFromNamespace("item_type", "pregunta")("number")$read_key(item$key)[[1]]
    return(list(paste(ends, collapse = "[:]")))
  }
  lapply(strsplit(item$key, "|", fixed = TRUE)[[1]], in_pattern, item$type)
}
in_pattern <- function(x, type) {
  if (type %in% c("multiple", "match")) x <- gsub(";", "[,]", x, fixed = TRUE)
  if (type == "order") x <- gsub(">", "[,]", x, fixed = TRUE)
  if (type == "match") x <- gsub("=", "[.]", x, fixed = TRUE)
  x
}
answers <- getFromNamespace("long_responses", "pregunta")(quiz)
answers <- answers[order(answers$order), ]
answers <- answers[answers$state %in% c("answered", "pending"), ]
# One class: a statement is many times as long as the answer in it.
class <- quiz$students$student[quiz$students$section %in% "Harbour A"]
answers <- answers[answers$student %in% class, ]
seen <- character()
statements <- vapply(seq_len(nrow(answers)), function(k) {
  row <- answers[k, ]
  item <- items[items$item == row$item, ]
  activity <- list(id = paste0("https://example.org/tides/", row$item))
  if (!row$item %in% seen) {
    seen <<- c(seen, row$item)
    activity$definition <- c(
      list(description = list(en = item$prompt), interactionType = kinds[[item$type]]),
      if (!is.null(pattern_of(item))) list(correctResponsesPattern = pattern_of(item))
    )
  }
  result <- c(
    if (item$type != "mark") list(response = in_pattern(row$response, item$type)),
    if (!is.na(row$points)) {
      list(score = list(raw = row$points, max = as.numeric(item$points)))
    }
  )
  as.character(jsonlite::toJSON(
    list(
      actor = list(account = list(homePage = "https://example.org", name = row$student)),
      verb = list(id = "http://adlnet.gov/expapi/verbs/answered"),
      object = activity,
      result = result
    ),
    auto_unbox = TRUE,
    digits = NA
  ))
}, "")
put(statements, "xapi.jsonl")

# OneRoster CSV: users, classes, enrollments, orgs.
dir.create(file.path(root, "oneroster"))
teachers <- unique(students$teacher)
sections <- unique(students$section)
users <- data.frame(
  sourcedId = c(paste0("u-", students$student), paste0("t-", seq_along(teachers))),
  status = "active",
  enabledUser = "true",
  orgSourcedIds = "o-1",
  role = rep(c("student", "teacher"), c(84, length(teachers))),
  username = c(students$student, tolower(gsub(" ", ".", teachers))),
  givenName = c(sub(" .*", "", students$name), sub(" .*", "", teachers)),
  familyName = c(sub("^[^ ]* ", "", students$name), sub("^[^ ]* ", "", teachers))
)
lead <- match(students$teacher[match(sections, students$section)], teachers)
seats <- data.frame(
  classSourcedId = paste0(
    "c-",
    c(match(students$section, sections), seq_along(sections))
  ),
  schoolSourcedId = "o-1",
  userSourcedId = c(users$sourcedId[1:84], paste0("t-", lead)),
  role = rep(c("student", "teacher"), c(84, 3))
)
seats <- data.frame(sourcedId = paste0("e-", seq_len(nrow(seats))), seats)
put(rows_of(users), "oneroster/users.csv")
put(rows_of(seats), "oneroster/enrollments.csv")
classes <- data.frame(
  sourcedId = paste0("c-", 1:3),
  title = sections,
  schoolSourcedId = "o-1"
)
put(rows_of(classes), "oneroster/classes.csv")
put(
  rows_of(data.frame(sourcedId = "o-1", name = "Harbour School", type = "school")),
  "oneroster/orgs.csv"
)

# ---- the check of knots in words, and the logbook's ratings ---------------------------
knots <- read("knots/responses.csv")
knot_names <- read("knots/items.csv")$prompt
ticks <- as.data.frame(
  lapply(knots[-1], function(x) ifelse(x == "1", "\u2713", ifelse(x == "0", "x", "")))
)
names(ticks) <- knot_names
put(
  c(
    rows_of(data.frame(Pupil = knots$student, ticks, check.names = FALSE)),
    "Level,1,1,2,2,3,3"
  ),
  "skills.csv"
)
