# The bank of questions on the command line: bank add FOLDER, bank list, bank uses.

run_bank <- function(call) {
  what <- if (length(call$words)) call$words[1] else ""
  switch(what,
    add = bank_add(call),
    list = bank_list(call),
    uses = put_out(call, view_sorted(bank_uses(call$bank), call$sort), show_uses),
    abort_pregunta(
      "call",
      if (nzchar(what)) {
        paste0("There is no ", quoted(paste("bank", what)), ".")
      } else {
        "What shall the bank do?"
      },
      NULL,
      paste0(
        "bank add FOLDER keeps questions, bank list shows them, bank uses when each was ",
        "used."
      )
    )
  )
}

bank_add <- function(call) {
  if (length(call$words) != 2) {
    abort_pregunta(
      "call",
      "pregunta bank add needs one folder.",
      NULL,
      "For example: pregunta bank add my-test --missed 3"
    )
  }
  call$folder <- call$words[2]
  quiz <- read_for_figures(call)
  items <- unique(c(
    split_commas(call[["items"]]),
    choose_items(
      quiz,
      missed = if (is.null(call$missed)) 0 else call$missed,
      sound = call$sound
    )
  ))
  if (!length(items)) {
    abort_pregunta(
      "call",
      "Which questions shall be kept?",
      NULL,
      "Say --items Q3,Q7, or --missed 3 (the hardest), or --sound."
    )
  }
  kept <- keep_items(quiz, items, call$bank)
  new <- sum(kept$kept == "new")
  cat(
    paste0(
      "Kept in ", call$bank, ": ", join_words(kept$item), " (", new, " new, ",
      nrow(kept) - new, " known)."
    ),
    sep = "\n"
  )
  0L
}

bank_list <- function(call) {
  difficulty <- read_between(call[["difficulty"]], "difficulty")
  discrimination <- read_between(call[["discrimination"]], "discrimination")
  items <- bank_items(
    call$bank,
    standard = call[["standard"]],
    tag = read_pairs_of(call$tag, "--tag"),
    type = call[["type"]],
    difficulty = difficulty,
    discrimination = discrimination
  )
  put_out(call, view_sorted(items, call$sort), show_bank)
}

# LOW..HIGH as two numbers.
read_between <- function(value, flag) {
  if (is.null(value)) return(NULL)
  ends <- read_number(trimws(strsplit(value, "..", fixed = TRUE)[[1]]))
  if (length(ends) == 2 && !anyNA(ends) && ends[1] <= ends[2]) return(ends)
  abort_pregunta(
    "call",
    paste0("--", flag, " needs two numbers."),
    paste0("Given: ", value),
    paste0("For example: --", flag, " 0.3..0.8")
  )
}

show_bank <- function(items) {
  format_table(
    list(
      text_column("id", items$id, "right"),
      text_column("item", items$item),
      text_column("type", items$type),
      text_column("question", items$prompt, shrink = TRUE),
      text_column("standards", items$standards, shrink = TRUE),
      text_column(
        "points earned",
        paste(bar(items$difficulty, 6), pad(percent(items$difficulty), "right")),
        colour = "teal"
      ),
      text_column("discrimination", number(items$discrimination), "right"),
      text_column("n", items$n, "right"),
      text_column("uses", items$uses, "right"),
      text_column("last used", items$last_used, shrink = TRUE)
    )
  )
}

show_uses <- function(uses) {
  format_table(
    list(
      text_column("id", uses$id, "right"),
      text_column("item", uses$item),
      text_column("test", uses$test, shrink = TRUE),
      text_column("date", uses$date),
      text_column("n", uses$n, "right"),
      text_column(
        "points earned",
        paste(bar(uses$difficulty, 6), pad(percent(uses$difficulty), "right")),
        colour = "teal"
      ),
      text_column("95%", between(uses$difficulty_low, uses$difficulty_high), "right"),
      text_column("discrimination", number(uses$discrimination), "right")
    )
  )
}
