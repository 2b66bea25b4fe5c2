# Reading a test folder into a sitting against data.table::fread() alone on the
# same file, in one run, taking turns. The targets: a wide file of 100,000
# students x 60 items within 1.5 times, a long file of 6 million rows the same.
suppressMessages(library(pregunta))
n <- 1e5
k <- 60
set.seed(1)
answers <- as.data.frame(
  replicate(k, sample(c("A", "B", "C", "D", ""), n, TRUE, c(5, 2, 2, 1, 0.3)))
)
names(answers) <- paste0("Q", seq_len(k))
students <- sprintf("s%06d", seq_len(n))
tables <- list(
  wide = data.frame(student = students, answers),
  long = data.frame(
    student = rep(students, each = k),
    item = rep(names(answers), n),
    response = c(t(as.matrix(answers)))
  )
)
# Written before any is read, and gone: what else is in memory would be gone through
# again and again while it is timed.
folders <- vapply(names(tables), function(form) {
  folder <- tempfile(form)
  dir.create(folder)
  data.table::fwrite(tables[[form]], file.path(folder, "responses.csv"))
  data.table::fwrite(
    data.frame(item = names(answers), type = "choice", key = "A"),
    file.path(folder, "items.csv")
  )
  folder
}, "")
rm(tables, answers, students)
for (form in names(folders)) {
  folder <- folders[[form]]
  file <- file.path(folder, "responses.csv")
  timed <- function(code) {
    gc(FALSE)
    system.time(code)[["elapsed"]]
  }
  times <- replicate(15, c(timed(data.table::fread(file)), timed(read_sitting(folder))))
  middle <- apply(times, 1, stats::median)
  cat(sprintf(
    "%s, %d MB: fread %.3f s, sitting %.3f s, %.2f times\n",
    form,
    round(file.size(file) / 1e6),
    middle[1],
    middle[2],
    middle[2] / middle[1]
  ))
  unlink(folder, recursive = TRUE)
}
