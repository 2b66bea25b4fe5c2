# Broken folders: whatever is done to the files, the answer is a sitting whose
# figures hold, or an error that says what and where. Seeded, so that a failure
# comes back.

test_that(
  "60 mutated folders are a sitting that holds, or a classed error with a message",
  {
    only_in_all()
    folder <- demo_copy()
    files <- c(
      "responses.csv", "items.csv", "options.csv", "students.csv", "standards.csv",
      "misconceptions.csv", "test.yml", "adjustments.csv"
    )
    adjust(
      folder,
      c("key", "points", "excuse", "drop", "undo", "extra", "comment"),
      c(NA, "h005", "h003", NA, NA, "h002", NA),
      c("Q7", "Q24", "Q3", "Q11", "Q11", NA, "Q1"),
      c("C", "1", NA, NA, "drop", "1", "Look again"),
      "why"
    )
    whole <- lapply(stats::setNames(nm = files), function(file) {
      path <- file.path(folder, file)
      readBin(path, "raw", file.size(path))
    })
    # A smaller class, so that a hundred of them stay quick.
    whole$responses.csv <- on_lines(whole$responses.csv, function(lines) lines[1:25])
    outcome <- unlist(parallel::mclapply(
      1:60,
      function(seed) {
        set.seed(seed)
        folder <- tempfile("mutated-")
        dir.create(folder)
        on.exit(unlink(folder, recursive = TRUE))
        file <- sample(files, 1)
        kind <- sample(names(mutations), 1)
        for (name in files) writeBin(whole[[name]], file.path(folder, name))
        writeBin(mutations[[kind]](whole[[file]]), file.path(folder, file))
        tryCatch(
          {
            quiz <- read_sitting(folder)
            check_sitting(quiz)
            items <- summarise_items(quiz)
            test <- summarise_test(quiz)
            holds <- all(items$difficulty >= 0 & items$difficulty <= 1, na.rm = TRUE) &&
              test$n + test$absent + sum(quiz$students$status == "excused") == nrow(
                quiz$students
              ) &&
              !anyNA(quiz$students$student)
            if (holds) "sitting" else paste("does not hold:", seed, kind, file)
          },
          pregunta_error = function(e) {
            if (nchar(conditionMessage(e)) > 30) {
              "said"
            } else {
              paste("says too little:", seed, kind, file)
            }
          },
          error = function(e) {
            paste("not foreseen:", seed, kind, file, conditionMessage(e))
          }
        )
      },
      mc.cores = max(1, parallel::detectCores())
    ))
    expect_identical(setdiff(outcome, c("sitting", "said")), character())
    expect_gt(sum(outcome == "sitting"), 25)
    expect_gt(sum(outcome == "said"), 25)
  }
)
