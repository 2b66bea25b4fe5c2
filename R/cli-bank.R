# The bank of questions on the command line: bank add FOLDER, bank list, bank uses,
# bank drift.

run_bank <- function(call) {
  what <- if (length(call$words)) call$words[1] else ""
  if (what %in% names(bank_options)) refuse_idle(call, "bank", what, bank_options)
  switch(what,
    add = bank_add(call),
    list = bank_list(call),
    uses = put_out(
      call,
      rows_sorted(bank_uses(call$bank), call$sort),
      show_uses
    ),
    drift = put_out(
      call,
      rows_sorted(bank_drift(call$bank), call$sort),
      show_drift,
      say("cli-record.no_drift")
    ),
    abort_pregunta(
      "call",
      if (nzchar(what)) {
        say(
          "cli-bank.there_is_no",
          what = quoted(say("cli-bank.bank", what = what))
        )
      } else {
        say("cli-bank.what_shall_the_bank")
      },
      NULL,
      say("cli-bank.bank_add_folder_keeps")
    )
  )
}

# What each of them looks at; whatever else is given would do nothing.
bank_options <- list(
  add = c("item", "missed", "sound"),
  list = c(
    "standard", "only", "type", "difficulty", "discrimination", "sort", "format", "out"
  ),
  uses = c("sort", "format", "out"),
  drift = c("sort", "format", "out")
)

bank_add <- function(call) {
  if (length(call$words) != 2) {
    abort_pregunta(
      "call",
      say("cli-bank.pregunta_bank_add_needs"),
      NULL,
      say("cli-bank.for_example_pregunta_bank")
    )
  }
  call$folder <- call$words[2]
  sitting <- read_for_figures(call)
  items <- unique(c(
    item_ids(call$item, sitting),
    choose_items(
      sitting,
      missed = if (is.null(call$missed)) 0 else call$missed,
      sound = call$sound
    )
  ))
  if (!length(items)) {
    abort_pregunta(
      "call",
      say("cli-bank.which_questions_shall_be"),
      NULL,
      say("cli-bank.say_items_q3_q7")
    )
  }
  tell_doubtful(call, sitting, items, "kept")
  kept <- keep_items(sitting, items, call$bank)
  new <- sum(kept$kept == "new")
  put_lines(
    say(
      "cli-bank.kept_in_new_known",
      bank = call$bank,
      item = join_words(kept$item),
      new = new,
      n = nrow(kept) - new
    )
  )
  0L
}

bank_list <- function(call) {
  difficulty <- read_between(call[["difficulty"]], "difficulty")
  discrimination <- read_between(call[["discrimination"]], "discrimination")
  items <- bank_items(
    call$bank,
    standard = split_commas(call[["standard"]]),
    tag = read_pairs_of(call$only, "--only"),
    type = split_commas(call[["type"]]),
    difficulty = difficulty,
    discrimination = discrimination
  )
  put_out(call, rows_sorted(items, call$sort), show_bank)
}

# LOW..HIGH as two numbers.
read_between <- function(value, flag) {
  if (is.null(value)) return(NULL)
  ends <- read_number(trimws(strsplit(value, "..", fixed = TRUE)[[1]]))
  if (length(ends) == 2 && !anyNA(ends) && ends[1] <= ends[2]) return(ends)
  abort_pregunta(
    "call",
    say("cli-bank.needs_two_numbers", flag = flag),
    say("cli-bank.given", value = value),
    say("cli-bank.for_example_0_3", flag = flag)
  )
}

show_bank <- function(items) {
  format_table(
    text_column("id", items$id, "right"),
    text_column("item", items$item),
    text_column("type", type_words(items$type)),
    text_column("question", items$prompt, shrink = TRUE),
    text_column("standards", items$standards, shrink = TRUE),
    gauge_column(
      "points_earned",
      items$difficulty,
      width = 6,
      colour = "teal"
    ),
    number_column("discrimination", items$discrimination),
    text_column("n", items$n, "right"),
    text_column("uses", items$uses, "right"),
    text_column("last_used", items$last_used, shrink = TRUE)
  )
}

show_uses <- function(uses) {
  format_table(
    text_column("id", uses$id, "right"),
    text_column("item", uses$item),
    text_column("test", uses$test, shrink = TRUE),
    text_column("date", uses$date),
    text_column("n", uses$n, "right"),
    gauge_column(
      "points_earned",
      uses$difficulty,
      width = 6,
      colour = "teal"
    ),
    interval_column(
      "interval",
      uses$difficulty_low,
      uses$difficulty_high
    ),
    number_column("discrimination", uses$discrimination)
  )
}
