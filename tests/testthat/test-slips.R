# What goes home: words to a student, nobody else's, a sheet each; drafts of mail.

near_misses_of <- function(quiz, ...) {
  path <- write_slips(quiz, tempfile(fileext = ".html"), ...)
  html <- xml2::read_html(path)
  articles <- xml2::xml_find_all(html, "//article")
  stats::setNames(xml2::xml_text(articles), xml2::xml_attr(articles, "data-student"))
}

test_that("everybody who sat it has one slip with their own figures and no one else's", {
  quiz <- read_sitting(demo_path())
  path <- write_slips(quiz, tempfile(fileext = ".html"))
  slips <- near_misses_of(quiz)
  students <- summarise_students(quiz)
  sat <- students[!is.na(students$points), ]
  expect_equal(names(slips), sat$student)
  expect_equal(attr(path, "without"), students$student[students$status == "absent"])
  percent <- internal("percent")
  for (k in c(1, 4, 6)) {
    own <- internal("student_answers")(quiz, sat$student[k])
    expect_match(
      slips[k],
      paste0(
        percent(sat$share[k]), " ", internal("plain_points")(sat$points[k]),
        " of 35 points"
      ),
      fixed = TRUE
    )
    for (name in setdiff(sat$name, sat$name[k])) {
      expect_false(grepl(name, slips[k], fixed = TRUE))
    }
    missed <- own$item[own$points < own$most & !is.na(own$points)]
    asked <- quiz$items$prompt[match(missed, quiz$items$item)]
    for (prompt in asked) expect_match(slips[k], prompt, fixed = TRUE)
  }
  expect_match(
    gsub(" +", " ", slips["h001"]),
    "C They go on as before Tides do not need wind.",
    fixed = TRUE
  )
  expect_false(any(grepl("rank|scored less", slips)))
})

test_that(
  paste0(
    "the parts are chosen, place only when named, and messages follow the level or the ",
    "band"
  ),
  {
    quiz <- read_sitting(demo_path())
    score <- near_misses_of(quiz, parts = "score", student = "h001")
    expect_equal(names(score), "h001")
    expect_false(grepl("next|Right|about", score))
    expect_match(
      near_misses_of(quiz, parts = "place", student = "h001"),
      "of the 79 other students",
      ignore.case = TRUE
    )
    own <- complete_settings_for(
      quiz,
      messages = list(secure = "Well sailed."),
      bands = list(B = 0, A = 0.5)
    )
    expect_match(
      near_misses_of(own, parts = c("message", "score"), student = "h001"),
      "Well sailed.",
      fixed = TRUE
    )
    expect_match(
      near_misses_of(own, parts = "score", student = "h001"),
      "grade A",
      fixed = TRUE
    )
    all_right <- choice_sitting(matrix("A", 3, 4))
    expect_false(any(grepl("Question", near_misses_of(all_right))))
    expect_refused(write_slips(quiz, parts = "scores"), "call", "no part", "score")
    expect_refused(write_slips(quiz, paper = "A5"), "call", "no paper")
    expect_refused(write_slips(quiz, student = "h999"), "call", "no student")
    expect_refused(
      read_sitting(plain_folder(test.yml = "messages: {sekure: x}")),
      "input",
      "names no level or band"
    )
  }
)

test_that(
  "hostile names and answers are text on a slip, and leave a sheet each in the PDF",
  {
    evil <- "<script>alert(1)</script>=2+2"
    quiz <- sitting(
      data.frame(student = c("a", "b"), Q1 = c(evil, "ebb"), Q2 = c("A", "B")),
      data.frame(
        item = c("Q1", "Q2"),
        type = c("text", "choice"),
        key = c("ebb", "A"),
        prompt = evil,
        rationale = evil
      ),
      students = data.frame(
        student = c("a", "b"),
        name = c(evil, strrep("Longname ", 20)),
        section = "1"
      )
    )
    path <- write_slips(quiz, tempfile(fileext = ".html"))
    html <- xml2::read_html(path)
    expect_length(xml2::xml_find_all(html, "//script"), 0)
    expect_match(
      xml2::xml_text(xml2::xml_find_first(html, "//article//h2")),
      evil,
      fixed = TRUE
    )
    skip_if(is.na(browser()), "no browser on this machine")
    pdf <- write_slips(quiz, tempfile(fileext = ".pdf"), paper = "letter")
    bytes <- readBin(pdf, "raw", 5)
    expect_equal(rawToChar(bytes), "%PDF-")
    expect_length(
      gregexpr(
        "/Type /Page[^s]",
        rawToChar(Filter(function(b) b != 0, readBin(pdf, "raw", 1e6))),
        useBytes = TRUE
      )[[
        1
      ]],
      2
    )
  }
)

test_that("even who went wrong on most of the demo has one sheet", {
  skip_if(is.na(browser()), "no browser on this machine")
  quiz <- read_sitting(demo_path())
  students <- summarise_students(quiz)
  lowest <- utils::head(students$student[order(students$share)], 12)
  pdf <- readBin(
    write_slips(quiz, tempfile(fileext = ".pdf"), student = lowest),
    "raw",
    5e6
  )
  expect_length(
    gregexpr("/Type /Page[^s]", rawToChar(pdf[pdf != 0]), useBytes = TRUE)[[1]],
    12
  )
})

test_that("without a browser a PDF is refused in words, and nothing is left behind", {
  old <- Sys.getenv("PATH")
  on.exit(Sys.setenv(PATH = old))
  Sys.setenv(PATH = tempdir())
  path <- tempfile(fileext = ".pdf")
  expect_refused(
    write_slips(choice_sitting(matrix("A", 2, 2)), path),
    "output",
    "no Chromium",
    "print that page"
  )
  expect_false(file.exists(path))
})

guarded <- function() {
  quiz <- read_sitting(demo_path())
  quiz$students$guardian_email <- paste0(quiz$students$student, "@example.org")
  quiz$students$guardian_email[2:4] <- c(
    "one@example.org; two@example.org", "bad\r\nBcc: x@example.org", NA
  )
  quiz$students$name[1] <- "\u00c5sa \U0001F30A\r\nBcc: evil@example.org"
  quiz
}

test_that(
  "a draft a guardian is a message of RFC 5322 and can be given no other header",
  {
    folder <- tempfile()
    made <- write_mail(
      guarded(),
      folder,
      "teacher@example.org",
      student = sprintf("h%03d", 1:5)
    )
    expect_equal(
      made$problem,
      c(NA, NA, NA, "bad_address", "no_address", NA)
    )
    expect_setequal(
      list.files(folder),
      c("h001.eml", "h002.eml", "h002-2.eml", "h005.eml")
    )
    raw <- readChar(file.path(folder, "h001.eml"), 1e6, useBytes = TRUE)
    expect_false(grepl("[^\r]\n", raw, useBytes = TRUE))
    lines <- strsplit(raw, "\r\n", fixed = TRUE)[[1]]
    expect_lte(max(nchar(lines, "bytes")), 78 + 20)
    expect_false(any(grepl("[^\x01-\x7f]", lines, useBytes = TRUE)))
    head <- lines[seq_len(match("", lines) - 1)]
    expect_equal(
      sub(":.*", "", grep("^[A-Za-z]", head, value = TRUE)),
      c("From", "To", "Subject", "Date", "MIME-Version", "Content-Type")
    )
    subject <- unlist(regmatches(
      head,
      gregexpr("(?<==[?]utf-8[?]B[?])[^?]+", head, perl = TRUE)
    ))
    said <- paste(
      vapply(subject, function(word) rawToChar(jsonlite::base64_dec(word)), ""),
      collapse = ""
    )
    expect_match(
      enc2utf8(said),
      "Tides and Currents: \u00c5sa",
      fixed = TRUE,
      useBytes = TRUE
    )
    at <- match("Content-Type: text/plain; charset=utf-8", lines)
    end <- which(startsWith(lines, "--=_part"))
    body <- lines[(at + 3):(min(end[end > at]) - 1)]
    text <- rawToChar(jsonlite::base64_dec(paste(body, collapse = "")))
    expect_match(text, "What to do next", fixed = TRUE)
    expect_refused(
      write_mail(guarded(), folder, "no address"),
      "call",
      "your own address"
    )
    expect_refused(
      write_mail(read_sitting(demo_path()), folder, "t@example.org"),
      "call",
      "guardian_email"
    )
  }
)

# A mail server that takes what it is told and keeps it: a stand-in on this machine.
start_mail_server <- function(port, keep, messages) {
  parallel::mcparallel({
    server <- serverSocket(port)
    for (k in seq_len(messages)) {
      client <- socketAccept(server, blocking = TRUE, open = "r+b", timeout = 20)
      say <- function(text) writeBin(charToRaw(paste0(text, "\r\n")), client)
      say("220 stand-in")
      repeat {
        line <- readLines(client, 1)
        if (!length(line)) break
        cat(line, "\n", file = keep, append = TRUE)
        if (grepl("^DATA", line)) {
          say("354 go on")
          while (!identical(text <- readLines(client, 1), ".")) {
            cat(text, "\n", file = keep, append = TRUE)
          }
        }
        say(if (grepl("^QUIT", line)) "221 bye" else "250 ok")
        if (grepl("^QUIT", line)) break
      }
      close(client)
    }
    close(server)
  })
}

test_that("mail is sent only by a server that was named, and what fails is said", {
  skip_on_os("windows")
  port <- 21025L + Sys.getpid() %% 2000L
  keep <- tempfile()
  job <- start_mail_server(port, keep, 2)
  Sys.sleep(0.5)
  made <- write_mail(
    guarded(),
    from = "teacher@example.org",
    student = c("h001", "h005"),
    server = paste0("smtp://127.0.0.1:", port)
  )
  tools::pskill(job$pid) # it waits for a second connection, while both went over one
  expect_true(all(made$sent))
  expect_true(all(is.na(made$file)))
  kept <- readLines(keep)
  expect_equal(sum(grepl("^RCPT TO:<h00[15]@example.org>", kept)), 2)
  expect_equal(sum(grepl("^MAIL FROM:<teacher@example.org>", kept)), 2)
  nobody <- write_mail(
    guarded(),
    from = "teacher@example.org",
    student = "h001",
    server = "smtp://127.0.0.1:9"
  )
  expect_false(nobody$sent)
  expect_match(nobody$problem, "connect", ignore.case = TRUE)
  expect_refused(
    write_mail(guarded(), from = "teacher@example.org", server = "http://x"),
    "call",
    "no such mail server"
  )
})

test_that("the command line writes slips and drafts, and says what was left out", {
  folder <- demo_copy()
  said <- run_here("slips", folder, "--parts", "message,score", "--paper", "letter")
  expect_equal(said$status, 0)
  expect_match(said$err, "No slip for h017, h040, h063, h077", fixed = TRUE)
  expect_match(
    paste(readLines(file.path(folder, "slips.html")), collapse = ""),
    "size: letter",
    fixed = TRUE
  )
  expect_equal(run_here("slips", folder, "--parts", "scores")$status, 2)
  expect_match(run_here("slips", folder, "--mail")$err, "your own address", fixed = TRUE)
  students <- read.csv(file.path(folder, "students.csv"))
  students$guardian_email <- paste0(students$student, "@example.org")
  write.csv(students, file.path(folder, "students.csv"), row.names = FALSE)
  said <- run_here(
    "slips",
    folder,
    "--mail",
    "--sender",
    "teacher@example.org",
    "--student",
    "h001,h002"
  )
  expect_match(said$err, "2 drafts in .*nothing was sent")
  expect_length(list.files(file.path(folder, "mail")), 2)
})

test_that("slips of each section are in a file of their own, each student in one of them", {
  quiz <- read_sitting(demo_path())
  quiz$students$section[3] <- NA
  folder <- file.path(folder_of(), "by-section")
  index <- write_slips(quiz, folder, each = "section")
  files <- attr(index, "files")
  expect_length(files, 4)
  read <- function(file) paste(readLines(file, warn = FALSE, encoding = "UTF-8"), collapse = "\n")
  ids <- lapply(files, function(file) {
    found <- regmatches(read(file), gregexpr("data-student=\"[^\"]*\"", read(file)))[[1]]
    sub("\"$", "", sub("data-student=\"", "", found))
  })
  expect_identical(anyDuplicated(unlist(ids)), 0L)
  sat <- setdiff(quiz$students$student, attr(index, "without"))
  expect_setequal(unlist(ids), sat)
  of <- quiz$students$section[match(ids[[1]], quiz$students$student)]
  expect_identical(unique(of), "Harbour A")
  links <- regmatches(read(index), gregexpr("href=\"[^\"#]*\"", read(index)))[[1]]
  there <- utils::URLdecode(sub("\"$", "", sub("href=\"", "", links)))
  expect_setequal(there, basename(files))
  # A slip is the same beside those of others.
  whole <- tempfile(fileext = ".html")
  write_slips(quiz, whole, student = ids[[2]])
  articles <- function(text) regmatches(text, gregexpr("(?s)<article.*?</article>", text, perl = TRUE))
  expect_identical(articles(read(files[2])), articles(read(whole)))
  expect_refused(write_slips(quiz, folder, each = "shoe"), "call")
})

test_that("what --each would do nothing for is refused", {
  run <- run_here("slips", demo_path(), "--each", "section", "--as", "pdf")
  expect_identical(run$status, 2L)
  run <- run_here("slips", demo_path(), "--each", "section", "--mail", "--sender", "a@example.org")
  expect_identical(run$status, 2L)
})
