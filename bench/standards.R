# Standards, levels and misconceptions by section for a district, after reading:
# 9,000 students in 300 sections, 60 items, 40 standards under 8, 10 misconceptions.
suppressMessages(library(pregunta))
set.seed(3)
n <- 9000
k <- 60
ids <- sprintf("Q%02d", seq_len(k))
ability <- rnorm(n)
answers <- vapply(seq_len(k), function(j) {
  ifelse(runif(n) < plogis(ability + rnorm(1)), "A", sample(c("B", "C", "D"), n, TRUE))
}, character(n))
colnames(answers) <- ids
students <- data.frame(
  student = sprintf("s%05d", seq_len(n)),
  section = sprintf("Section %03d", rep(1:300, each = 30))
)
standards <- data.frame(
  code = c(paste0("S", 1:8), paste0("S", rep(1:8, 5), ".", rep(1:5, each = 8)))
)
standards$parent <- c(rep(NA, 8), paste0("S", rep(1:8, 5)))
standards$title <- paste("Standard", standards$code)
quiz <- sitting(
  data.frame(student = students$student, answers),
  data.frame(item = ids, key = "A", standards = sample(standards$code[-(1:8)], k, TRUE)),
  data.frame(
    item = rep(ids, each = 4),
    option = c("A", "B", "C", "D"),
    misconception = ifelse(
      rep(c(FALSE, TRUE, FALSE, FALSE), k),
      paste0("M", rep(1:10, 6)[rep(seq_len(k), each = 4)]),
      NA
    )
  ),
  students,
  standards
)
time <- function(label, code) {
  seconds <- system.time(table <- code())[["elapsed"]]
  cat(sprintf("%-34s %6.2f s, %d rows\n", label, seconds, nrow(table)))
  seconds
}
whole <- time("standards and levels by section", function() {
  summarise_standards(quiz, "section")
}) +
  time("misconceptions by section", function() summarise_misconceptions(quiz, "section"))
cat(sprintf("%-34s %6.2f s\n", "both", whole))
invisible(time("standards of every student", function() {
  summarise_standards(quiz, "student")
}))
invisible(time("misconceptions of every student", function() {
  summarise_misconceptions(quiz, "student")
}))
invisible(time("who could be guessing", function() summarise_guessing(quiz)))
invisible(time("wrong answers that go together", function() suggest_misconceptions(quiz)))
# A solver's work, class by class: twenty of them.
some <- sitting(
  data.frame(student = students$student, answers)[1:600, ],
  quiz$items,
  quiz$options,
  students[1:600, ],
  standards
)
invisible(time("groups to teach in 20 sections", function() group_students(some)))
