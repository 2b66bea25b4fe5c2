# How summaries of options and of whole answers look in the terminal.

run_options <- function(call) {
  sitting <- if (call$who) read_for_figures(call) else read_for_counts(call)
  if (call$whole) return(run_answers(call, sitting))
  view <- view_asked(
    view_options,
    call,
    sitting,
    by = call$by,
    told = call$format == "text",
    who = call$who
  )
  options <- view$options
  if (call$who && call$format != "text") {
    options$who <- people_of(options, view$who)
  }
  put_out(call, options, function(options) {
    show_options(
      options,
      sitting,
      view$look,
      view$answers,
      view$who
    )
  })
}

run_answers <- function(call, sitting) {
  answers <- view_asked(view_answers, call, sitting)
  put_out(
    call,
    answers,
    function(answers) show_answers(answers, sitting$items)
  )
}

#' @export
print.pregunta_options <- function(x, ...) {
  print_lines(x, show_options)
}

#' @export
print.pregunta_answers <- function(x, ...) print_lines(x, show_answers)

show_answers <- function(answers, items = NULL) {
  sets <- split_in_order(seq_len(nrow(answers)), answers$item)
  unlist(
    lapply(sets, function(rows) {
      table <- utils::head(answers[rows, ], most_answers)
      c(
        bold_line(option_heading(table$item[1], items)),
        format_table(
          text_column(
            "",
            ifelse(table$key, "\u2713", " "),
            colour = "teal"
          ),
          text_column(
            "answer",
            shown_answer(table$answer, table$state),
            shrink = TRUE
          ),
          gauge_column(
            "given_by",
            table$share,
            width = 6,
            colour = ifelse(table$key, "teal", NA)
          ),
          text_column("n", table$count, "right"),
          text_column(
            "points",
            plain_points(table$points),
            "right"
          ),
          text_column(
            "",
            say_near_miss(table$near_miss),
            colour = "ochre"
          )
        ),
        if (length(rows) > most_answers) {
          say(
            "cli-answers.and_more_format_csv",
            n = length(rows) - most_answers
          )
        },
        ""
      )
    }),
    use.names = FALSE
  )
}

show_options <- function(options, sitting = NULL, look = NULL, answers = NULL,
                         who = NULL) {
  sets <- split_in_order(seq_len(nrow(options)), options$item)
  c(
    unlist(
      lapply(sets, function(rows) {
        item <- options$item[rows[1]]
        show_item_options(
          options[rows, ],
          sitting$items,
          look,
          answers[answers$item == item, ],
          who
        )
      }),
      use.names = FALSE
    ),
    wrap_lines(say("legends.options"))
  )
}

show_item_options <- function(table, items, look, answers = NULL, who = NULL) {
  code <- table$item[1]
  item <- items[match(code, items$item), ]
  grouped <- group_columns(table)
  if (!length(grouped)) {
    table <- likely_first(table)
  }
  most <- if (is_answered(table$type[1], "written")) {
    most_answers
  } else {
    nrow(table)
  }
  told <- !length(grouped) && !is.null(look)
  doubtful <- look$rule[match(code, look$item)] %in% c("key", "reversed")
  said <- if (told) {
    c(
      say_options(table, code, look),
      say_answers(answers, item, look)
    )
  }
  c(
    bold_line(option_heading(code, items)),
    format_table(grouped, option_columns(utils::head(table, most))),
    if (nrow(table) > most) {
      say(
        "cli-answers.and_more_answers_of",
        n = nrow(table) - most,
        n_table = sum(table$count[-seq_len(most)])
      )
    },
    if (told) wrap_lines(said, 2, 4),
    if (told && !doubtful) option_pattern_words(table),
    say_who_chose(table, who),
    if (length(answers)) accept_command(answers),
    ""
  )
}

# Above this many distinct answers a table is no longer read.
most_answers <- 15

# Near misses are accepted by a command that can be copied.
accept_command <- function(answers) {
  near <- answers[answers$near_miss %in% "spelling", ]
  if (!nrow(near)) return(NULL)
  given <- paste0(
    "--accept \"", near$item, "=", near$answer, "\"", collapse = " "
  )
  printable(
    c(
      say("cli-answers.to_accept_what_is"),
      say("cli-answers.pregunta_adjust_folder_reason", given = given)
    )
  )
}

say_who_chose <- function(table, who) {
  if (is.null(who)) return(NULL)
  who <- who[who$item == table$item[1], ]
  unlist(each_row(table, function(row) {
    here <- who$option == table$option[row] & who$state == table$state[row]
    if (!any(here)) return(NULL)
    option <- shown_answer(table$option[row], table$state[row])
    people <- paste(who$label[here], collapse = ", ")
    wrap_lines(paste0(option, ": ", people), 2, 6)
  }))
}

option_heading <- function(item, items) {
  row <- match(item, items$item)
  if (is.na(row) || is.null(items$prompt) || is.na(items$prompt[row])) {
    return(item)
  }
  shorten(
    printable(paste0(item, "  ", items$prompt[row])),
    table_width
  )
}

option_columns <- function(table) {
  idea <- or_blank(
    table$misconception,
    paste0(" [", table$misconception, "]")
  )
  words <- paste0(or_blank(table$text), idea)
  of_key <- ifelse(table$key, "teal", NA)
  draws <- ifelse(
    table$distractor %in% "draws_strong",
    "ochre",
    NA
  )
  list(
    text_column(
      "",
      ifelse(table$key, "\u2713", " "),
      colour = of_key
    ),
    text_column(
      "option",
      shown_answer(table$option, table$state),
      shrink = TRUE
    ),
    if (any(nzchar(words))) text_column("text", words, shrink = TRUE),
    gauge_column(
      "chosen_by",
      table$share,
      width = 6,
      colour = of_key
    ),
    text_column("n", table$count, "right"),
    share_column("low", table$low),
    share_column("mid", table$middle),
    share_column("high", table$high),
    share_column("rest", table$mean_rest),
    number_column("r", table$option_rest),
    if (any(!is.na(table$distractor))) {
      text_column(
        "",
        words_for(table$distractor, "distractors"),
        colour = draws
      )
    },
    if (any(!is.na(table$near_miss))) {
      text_column("", say_nearly(table), colour = "ochre")
    }
  )
}

# What an answer nearly was.
say_nearly <- function(table) {
  nearly <- say(
    "cli-answers.nearly",
    near_miss = say_near_miss(table$near_miss),
    is_spelling = table$near_miss == "spelling",
    like = table$like
  )
  or_blank(table$near_miss, nearly)
}

option_pattern_words <- function(table) {
  pattern <- table$pattern[1]
  if (!pattern %in% names(all_words("pattern_sentences"))) return(NULL)
  wrap_lines(words_for(pattern, "pattern_sentences"), 2)
}
