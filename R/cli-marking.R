# Marking by hand on the command line.

run_mark <- function(call) {
  if (!is.null(call$back)) {
    counts <- read_marking(call$folder, call$back)
    put_lines(
      say(
        "cli-marking.read",
        back = call$back,
        n = join_words(paste(counts$n, counts$what))
      )
    )
    return(0L)
  }
  sitting <- read_for_figures(call)
  paths <- write_marking(call$folder, names = !call$`no-names`)
  if (is.null(paths)) {
    put_lines(say("cli-marking.no_answer_waits_for"))
    return(0L)
  }
  items <- sitting$items$item
  cells <- waiting_cells(sitting)
  waiting <- table(factor(items[cells$item], items))
  waiting <- waiting[waiting > 0]
  counted <- paste(names(waiting), in_parentheses(waiting))
  put_lines(
    say(
      "cli-marking.answers_wait_for_a",
      n = sum(waiting),
      waiting = join_words(counted)
    ),
    say("cli-marking.written", paths = join_words(paths)),
    say("cli-marking.fill_in_the_column", folder = call$folder)
  )
  0L
}
