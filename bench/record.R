# A school's record: 40 sittings of 2,000 students and 40 items, 3.2 million
# answers. How long one more takes, and how long growth does.
suppressMessages(library(pregunta))
set.seed(5)
n <- 2000
k <- 40
ids <- sprintf("Q%02d", seq_len(k))
students <- data.frame(
  student = sprintf("s%05d", seq_len(n)),
  name = paste("Student", seq_len(n)),
  section = sprintf("Section %02d", rep(1:80, each = 25))
)
standards <- data.frame(code = c("A", "B", paste0("A.", 1:5), paste0("B.", 1:5)))
standards$parent <- c(NA, NA, rep(c("A", "B"), each = 5))
standards$title <- paste("Standard", standards$code)
made_sitting <- function(number) {
  ability <- rnorm(n) + number / 40
  answers <- vapply(seq_len(k), function(j) {
    ifelse(runif(n) < plogis(ability + rnorm(1)), "A", sample(c("B", "C", "D"), n, TRUE))
  }, character(n))
  colnames(answers) <- ids
  sitting(
    data.frame(student = students$student, answers),
    data.frame(
      item = ids,
      key = "A",
      standards = rep(standards$code[-(1:2)], 4),
      prompt = paste("Test", number, ids)
    ),
    students = students,
    standards = standards,
    settings = list(
      title = paste("Test", number),
      date = format(as.Date("2026-09-01") + 7 * number)
    )
  )
}
path <- tempfile(fileext = ".sqlite")
record <- open_record(path)
for (number in 1:39) add_sitting(record, made_sitting(number), paste0("test-", number))
last <- made_sitting(40)
time <- function(label, code) {
  seconds <- system.time(value <- code)[["elapsed"]]
  cat(sprintf("%-44s %6.2f s\n", label, seconds))
  invisible(value)
}
time("one more sitting, the 40th", add_sitting(record, last, "test-40"))
time("the same again: nothing to write", add_sitting(record, last, "test-40"))
time("growth of one class, each student", growth(record, section = "Section 07"))
time(
  "growth of one class, the class",
  growth(record, by = "section", section = "Section 07")
)
time("growth of all students", growth(record))
time("growth of all sections", growth(record, by = "section"))
time("who is not tested yet", pending_students(record))
time("all tests of one class", test_overview(record, section = "Section 07"))
cat(sprintf("%-44s %6.0f MB\n", "the file", file.size(path) / 1e6))
close_record(record)
# The same as plain R does it: one pass over a table of all answers in memory.
answers <- data.frame(
  student = rep(seq_len(n), 40 * k),
  test = rep(1:40, each = n * k),
  standard = rep(rep(rep(1:10, 4), each = n), 40),
  points = rbinom(40 * n * k, 1, 0.6)
)
time(
  "plain R: means by student, test, standard",
  stats::aggregate(
    points ~ student + test + standard,
    answers[answers$student <= 200, ],
    mean
  )
)
