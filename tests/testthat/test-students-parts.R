# What is asked of each student is told part by part where the responses are many.

of_each <- list(
  students = summarise_students,
  standards = function(sitting) summarise_standards(sitting, "student")
)

# The rows of all parts, students as in the whole.
in_parts <- function(stored, summarise) {
  parts <- over_students(stored, function(part) as.data.frame(summarise(part)))
  list(parts = length(parts), table = do.call(rbind, parts))
}

expect_same_rows <- function(stored, filed, least = 2, label) {
  for (name in names(of_each)) {
    whole <- as.data.frame(of_each[[name]](filed))
    made <- in_parts(stored, of_each[[name]])
    expect_gte(made$parts, least, label = paste(label, name))
    key <- function(table) paste(table$student, table$code)
    expect_setequal(key(made$table), key(whole))
    expect_equal(
      made$table[match(key(whole), key(made$table)), ], whole,
      tolerance = 1e-12, ignore_attr = TRUE, label = paste(label, name)
    )
  }
}

with_standards <- function() {
  folder <- odd_folder(
    adjustments.csv = c(
      "student,item,action,value,reason", ",Q1,key,B,", ",Q4,drop,,", "s005,Q3,points,1,",
      "s124,Q6,points,2,", ",,extra,1,"
    ),
    standards.csv = c("code,title", "S,Sea", "S.1,Tides", "S.2,Moon")
  )
  items <- read.csv(file.path(folder, "items.csv"), colClasses = "character")
  items$standards <- c("S.1", "S.1;S.2", "S.2", "S.1", "S.2", "S.1")
  write.csv(items, file.path(folder, "items.csv"), row.names = FALSE, na = "")
  folder
}

test_that("each student's figures are those of the whole, from a database, several and a file", {
  only_in_all()
  folder <- with_standards()
  rows <- odd_rows()
  rows <- rows[order(rows$student, method = "radix"), ]
  setting <- "exclude: [\"s01*\"]"
  filed <- read_sitting(filed_folder(folder, setting, rows))
  stored <- open_sitting(stored_folder(folder, setting, rows))
  stored$many <- 90
  expect_same_rows(stored, filed, label = "database")
  part <- match(rows$student, unique(rows$student)) %% 2
  # One of them has rows in both.
  both <- rows$student == "s050"
  part[both] <- rep_len(0:1, sum(both))
  shards <- open_sitting(shards_folder(folder, setting, rows, part))
  expect_same_rows(shards, filed, label = "several databases")
  pieces <- open_sitting(filed_folder(folder, setting, rows), megabytes = 1e-3)
  expect_s3_class(pieces, "pregunta_pieces")
  expect_same_rows(pieces, filed, least = 5, label = "file")
})

test_that("ids with blanks, a test in memory, and times of handing in are told as well", {
  folder <- with_standards()
  rows <- odd_rows(n = 40)
  spaced <- which(rows$student == "s007")[1]
  rows$student[spaced] <- " s007"
  filed <- read_sitting(filed_folder(folder, NULL, rows))
  stored <- open_sitting(stored_folder(folder, NULL, rows))
  stored$many <- 30
  expect_same_rows(stored, filed, label = "blanks")
  expect_same_rows(filed, filed, least = 1, label = "in memory")
  rows$student <- trimws(rows$student)
  rows$submitted <- ifelse(rows$student < "s020", "2026-09-14 10:00", NA)
  late <- open_sitting(stored_folder(folder, NULL, rows))
  expect_same_rows(
    late, read_sitting(filed_folder(folder, NULL, rows)),
    least = 1, label = "handed in"
  )
  expect_error(over_students(1, nrow), class = "pregunta_error_call")
})

test_that("the command line writes them as they come, as the same text", {
  only_in_all()
  folder <- with_standards()
  rows <- odd_rows()
  rows <- rows[order(rows$student, method = "radix"), ]
  made <- stored_folder(folder, NULL, rows)
  filed <- filed_folder(folder, NULL, rows)
  out <- tempfile(fileext = ".csv")
  folder_given <- function(call, folder) sub("FOLDER", folder, call, fixed = TRUE)
  for (format in c("csv", "json")) {
    for (call in list("students", c("standards", "--by", "student"))) {
      call <- c(call[1], "FOLDER", call[-1], "--format", format)
      whole <- run_here(folder_given(call, filed))
      for (large in c(made, filed)) {
        withr::with_options(list(pregunta.read_at_once = 2e-4), {
          parted <- run_here(folder_given(call, large))
          run_here(folder_given(call, large), "--out", out)
        })
        expect_identical(parted$out, whole$out)
        expect_identical(parted$status, 0L)
        expect_identical(readLines(out), unlist(strsplit(whole$out, "\n")))
      }
    }
  }
  # What is in an order is read whole; a fault leaves no file.
  withr::local_options(pregunta.read_at_once = 2e-4)
  expect_identical(
    run_here("students", made, "--sort", "-share", "--format", "csv")$out,
    run_here("students", filed, "--sort", "-share", "--format", "csv")$out
  )
  unlink(out)
  writeLines("nothing", file.path(made, "answers.sqlite"))
  broken <- run_here("students", made, "--format", "csv", "--out", out)
  expect_match(broken$err, "no SQLite database", fixed = TRUE)
  expect_identical(list.files(dirname(out), basename(out), all.files = TRUE), character())
})
