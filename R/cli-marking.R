# Marking by hand on the command line.

run_mark <- function(call) {
  if (!is.null(call$back)) {
    counts <- read_marking(call$folder, call$back)
    cat(
      paste0("Read ", call$back, ": ", join_words(paste(counts$n, counts$what)), "."),
      sep = "\n"
    )
    return(0L)
  }
  quiz <- read_for_figures(call)
  paths <- write_marking(call$folder, names = !call$`no-names`)
  if (is.null(paths)) {
    cat("No answer waits for a mark.\n")
    return(0L)
  }
  waiting <- table(factor(quiz$items$item[waiting_cells(quiz)$item], quiz$items$item))
  waiting <- waiting[waiting > 0]
  cat(
    paste0(
      count_of(sum(waiting), "answer"), if (sum(waiting) == 1) " waits" else " wait",
      " for a mark: ", join_words(paste0(names(waiting), " (", waiting, ")")), "."
    ),
    paste0("Written: ", paste(paths, collapse = " and "), "."),
    paste0(
      "Fill in the column points (and comment), then: pregunta mark ", call$folder,
      " --back FILE"
    ),
    sep = "\n"
  )
  0L
}
