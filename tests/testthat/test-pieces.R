# A file that is too large to be read at once comes to the same figures as one that is not.

# As if a folder's responses were `part` times as large as what is read at once.
in_pieces <- function(folder, part = 4) {
  bytes <- file.size(file.path(folder, "responses.csv"))
  open_sitting(folder, megabytes = bytes / part / 1e6)
}

# Whether it was read in pieces indeed, and not at last as any other.
expect_in_pieces <- function(folder, part = 4, label = NULL) {
  pieces <- in_pieces(folder, part)
  expect_s3_class(pieces, "pregunta_stored")
  pieces$read <- function(...) stop("it was read whole")
  expect_counted_alike(pieces, read_sitting(folder), label = label)
  invisible(pieces)
}

test_that("each reference test comes to the same figures in pieces of any size", {
  for (name in c("class", "mixed")) {
    for (part in thinned(c(2, 5, 20), 1)) {
      expect_in_pieces(test_path("reference", name), part, paste(name, part))
    }
  }
  for (part in thinned(c(2, 7), 1)) expect_in_pieces(demo_path(), part, "demo")
})

test_that("whatever the rows hold and the settings say, wide or long", {
  only_in_all()
  said <- list(
    plain = NULL, missing = "blanks: missing", forms = "missing_rows: not given",
    left_out = "exclude: [s00?, \"s1*\"]", by_row = "exclude: [{section: B}]",
    withheld = "smallest_group: 10"
  )
  changes <- c(
    "student,item,action,value,reason", ",Q1,key,B,", ",Q2,credit,,", ",Q4,drop,,",
    "s005,Q3,points,1,", "s006,Q5,excuse,,", "s121,Q6,points,2,", ",,extra,1,", "s007,,extra,2,"
  )
  for (name in names(said)) {
    rows <- odd_rows(seed = match(name, names(said)))
    rows <- rows[order(rows$student), ]
    # With changes and without, of every other setting.
    changed <- match(name, names(said)) %% 2 == 0
    folder <- if (changed) odd_folder(adjustments.csv = changes) else odd_folder()
    long <- filed_folder(folder, said[[name]], rows)
    pieces <- expect_in_pieces(long, 5, paste(name, changed))
    for (by in list("section", c("school", "section"))) {
      for (figure in c("test", "items")) {
        expect_equal(
          as.data.frame(stored_figures[[figure]](pieces, by)),
          as.data.frame(stored_figures[[figure]](read_sitting(long), by)),
          tolerance = 1e-12, ignore_attr = TRUE, label = paste(name, figure, by[1])
        )
      }
    }
  }
})

test_that("students in several pieces are settled with all their rows", {
  only_in_all()
  quiz <- read.csv(test_path("reference", "class", "responses.csv"), colClasses = "character")
  again <- quiz[1:4, ]
  again[[3]] <- rev(again[[3]])
  half <- quiz[9, ]
  half[4:ncol(half)] <- ""
  for (attempts in c("best", "first", "last", "mean")) {
    folder <- filed_folder(
      test_path("reference", "class"), paste("attempts:", attempts), rbind(quiz, again, half)
    )
    expect_in_pieces(folder, 4, attempts)
  }
  # In the order of the items everybody is in every piece.
  rows <- odd_rows()
  by_item <- filed_folder(odd_folder(), NULL, rows[order(rows$item), ])
  expect_in_pieces(by_item, 4, "by item")
  # Where that is so of too many there is nothing to be gained.
  pieces <- in_pieces(by_item)
  pieces$most_apart <- 20
  expect_counted_alike(pieces, read_sitting(by_item), label = "too many apart")
})

test_that("an item that nobody of the first piece has points on counts all the same", {
  rows <- odd_rows()
  rows <- rows[order(rows$student), ]
  rows[rows$student < "s040" & rows$item == "Q6", c("response", "points")] <- NA
  rows$response[rows$student < "s040" & rows$item == "Q6"] <- "waits"
  expect_in_pieces(filed_folder(odd_folder(), "blanks: missing", rows), 6)
})

test_that("however the file was written", {
  folder <- test_path("reference", "class")
  lines <- readLines(file.path(folder, "responses.csv"))
  quoted <- gsub("([^,]+)", "\"\\1\"", lines)
  broken <- quoted
  broken[5] <- sub("\"$", "\n\"", broken[5])
  ways <- list(
    semicolon = gsub(",", ";", lines), crlf = paste0(lines, "\r"), quoted = quoted,
    broken = broken, bom = c(paste0("\ufeff", lines[1]), lines[-1]), last = c(lines, "", "")
  )
  for (way in names(ways)) {
    made <- filed_folder(folder)
    writeLines(ways[[way]], file.path(made, "responses.csv"), useBytes = TRUE)
    expect_in_pieces(made, 4, way)
  }
})

test_that("what is wrong with a file is said as of one that is read at once", {
  folder <- test_path("reference", "class")
  lines <- readLines(file.path(folder, "responses.csv"))
  wrong <- list(
    ragged = append(lines, "x,y", 20), blank = append(lines, "", 20),
    nobody = append(lines, sub("^[^,]*", "", lines[9]), 20),
    bare = sub("^student", "pupil", lines)
  )
  message_of <- function(code) tryCatch(code, error = conditionMessage)
  for (way in names(wrong)) {
    made <- filed_folder(folder)
    writeLines(wrong[[way]], file.path(made, "responses.csv"))
    said <- message_of(read_sitting(made))
    expect_type(said, "character")
    expect_identical(message_of(summarise_test(in_pieces(made))), said, label = way)
  }
  made <- filed_folder(folder, "exclude: [\"*\"]")
  expect_error(summarise_test(in_pieces(made)), class = "pregunta_error_input")
})

test_that("a large file is counted by the command line in little memory", {
  only_in_all()
  skip_on_cran()
  n <- 250000
  folder <- folder_of(items.csv = c("item,key", sprintf("Q%d,A", 1:60)))
  set.seed(1)
  answers <- replicate(60, sample(c("A", "B", ""), n, TRUE), simplify = FALSE)
  names(answers) <- sprintf("Q%d", 1:60)
  data.table::fwrite(
    c(list(student = sprintf("s%06d", seq_len(n))), answers),
    file.path(folder, "responses.csv")
  )
  expect_gt(file.size(file.path(folder, "responses.csv")), 30e6)
  run <- pregunta("test", folder, "--format", "csv")
  expect_identical(run$status, 0L)
  figures <- read.csv(text = run$out)
  expect_identical(figures$n, 250000L)
  right <- Reduce(`+`, lapply(answers, function(x) x == "A"))
  expect_equal(figures$mean, mean(right))
  expect_equal(figures$sd, sd(right))
  expect_match(run$out[2], ",250000,")
})

test_that("several processes at ranges of a file come to the same counts", {
  only_in_all()
  skip_on_cran()
  n <- 1500
  set.seed(4)
  made <- function(rows, quoted = FALSE) {
    folder <- filed_folder(odd_folder(), NULL, rows)
    students <- data.frame(student = sprintf("s%04d", seq_len(n + 3)), section = c("A", "B", "C"))
    write.csv(students, file.path(folder, "students.csv"), row.names = FALSE)
    lines <- readLines(file.path(folder, "responses.csv"))
    if (!quoted) lines <- gsub("\"", "", lines, fixed = TRUE)
    writeLines(lines, file.path(folder, "responses.csv"))
    folder
  }
  rows <- odd_rows(n)
  rows$student <- sprintf("s%04d", as.integer(sub("s", "", rows$student)))
  sorted <- made(rows[order(rows$student), ])
  old <- options(pregunta.cores = 2)
  on.exit(options(old))
  pieces <- in_pieces(sorted, 30)
  ranges <- pieces$ranges()
  expect_length(ranges, 5)
  # Each begins with a student of its own, and together they are the file.
  starts <- vapply(ranges, `[`, 0, 1)
  ends <- vapply(ranges, `[`, 0, 2)
  expect_identical(ends[-5], starts[-1])
  text <- readChar(file.path(sorted, "responses.csv"), ends[5], useBytes = TRUE)
  for (start in starts[-(1:2)]) {
    before <- utils::tail(strsplit(substr(text, 1, start), "\n")[[1]], 1)
    after <- strsplit(substring(text, start + 1, start + 60), "\n")[[1]][1]
    expect_false(identical(sub(",.*", "", before), sub(",.*", "", after)))
  }
  expect_in_pieces(sorted, 30, "forks")
  expect_equal(
    as.data.frame(summarise_items(in_pieces(sorted, 30), "section")),
    as.data.frame(summarise_items(read_sitting(sorted), "section")),
    tolerance = 1e-12, ignore_attr = TRUE
  )
  # Line ends within quotation marks are none.
  lines_within <- rows[order(rows$student), ]
  lines_within$response[lines_within$response %in% "why"] <- "why,\nif not\nso"
  expect_in_pieces(made(lines_within, TRUE), 30, "quoted")
  # Students in several ranges, and a line that is none: found out, and right.
  again <- rbind(rows[order(rows$student), ], rows[rows$student %in% c("s0001", "s0700"), ])
  expect_in_pieces(made(again), 30, "twice")
  broken <- made(rows[order(rows$student), ])
  lines <- readLines(file.path(broken, "responses.csv"))
  writeLines(append(lines, "s9999,Q1", 6000), file.path(broken, "responses.csv"))
  expect_refused(summarise_test(in_pieces(broken, 30)), "input")
  skip_if_not_installed("future")
  future::plan("multisession", workers = 2)
  on.exit(future::plan("sequential"), add = TRUE)
  expect_in_pieces(sorted, 30, "workers")
})
