# Broken folders: whatever is done to the files, the answer is a sitting whose
# figures hold, or an error that says what and where. Seeded, so that a failure
# comes back.

mutations <- list(
  cut_short = function(bytes) bytes[seq_len(sample(length(bytes), 1))],
  lose_byte = function(bytes) bytes[-sample(length(bytes), 1)],
  change_byte = function(bytes) replace(bytes, sample(length(bytes), 1), as.raw(sample(1:255, 1))),
  zero_byte = function(bytes) append(bytes, as.raw(0), sample(length(bytes), 1)),
  stray_quote = function(bytes) append(bytes, charToRaw("\""), sample(length(bytes), 1)),
  stray_comma = function(bytes) append(bytes, charToRaw(","), sample(length(bytes), 1)),
  stray_break = function(bytes) append(bytes, charToRaw("\n"), sample(length(bytes), 1)),
  other_separator = function(bytes) {
    charToRaw(gsub(",", sample(c(";", "\t", "|"), 1), rawToChar(bytes), fixed = TRUE))
  },
  twice_a_line = function(bytes) {
    on_lines(bytes, function(lines) append(lines, sample(lines, 1), sample(length(lines), 1)))
  },
  lose_a_line = function(bytes) on_lines(bytes, function(lines) lines[-sample(length(lines), 1)]),
  shuffle_lines = function(bytes) on_lines(bytes, sample),
  swap_words = function(bytes) {
    on_lines(bytes, function(lines) gsub(sample(c("A", "1", "choice", "Q2", "s0"), 1), "~", lines))
  },
  empty = function(bytes) raw(0)
)

on_lines <- function(bytes, change) {
  charToRaw(paste0(paste(change(strsplit(rawToChar(bytes), "\n")[[1]]), collapse = "\n"), "\n"))
}

test_that("300 mutated folders are a sitting that holds, or a classed error with a message", {
  folder <- demo_copy()
  files <- c("responses.csv", "items.csv", "options.csv", "students.csv", "standards.csv", "misconceptions.csv",
    "test.yml")
  whole <- lapply(stats::setNames(nm = files), function(file) {
    path <- file.path(folder, file)
    readBin(path, "raw", file.size(path))
  })
  # A smaller class, so that three hundred of them stay quick.
  whole$responses.csv <- on_lines(whole$responses.csv, function(lines) lines[1:25])
  outcome <- vapply(1:300, function(seed) {
    set.seed(seed)
    file <- sample(files, 1)
    kind <- sample(names(mutations), 1)
    for (name in files) writeBin(whole[[name]], file.path(folder, name))
    writeBin(mutations[[kind]](whole[[file]]), file.path(folder, file))
    tryCatch({
      quiz <- read_sitting(folder)
      check_sitting(quiz)
      items <- summarise_items(quiz)
      test <- summarise_test(quiz)
      holds <- all(items$difficulty >= 0 & items$difficulty <= 1, na.rm = TRUE) &&
        test$n + test$absent == nrow(quiz$students) && !anyNA(quiz$students$student)
      if (holds) "sitting" else paste("does not hold:", seed, kind, file)
    }, pregunta_error = function(e) {
      if (nchar(conditionMessage(e)) > 30) "said" else paste("says too little:", seed, kind, file)
    }, error = function(e) paste("not foreseen:", seed, kind, file, conditionMessage(e)))
  }, "")
  expect_identical(setdiff(outcome, c("sitting", "said")), character())
  expect_gt(sum(outcome == "sitting"), 50)
  expect_gt(sum(outcome == "said"), 50)
})
