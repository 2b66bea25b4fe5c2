# Misconceptions in the terminal: for the class, student by student, wrong
# answers that go together, and who guessed.

run_misconceptions <- function(call) {
  sitting <- read_for_figures(call)
  if (call$uncoded) {
    return(put_out(
      call,
      view_sorted(suggest_misconceptions(sitting), call$sort),
      show_together,
      say("cli-misconceptions.no_two_wrong_answers")
    ))
  }
  if (call$guessing) {
    return(put_out(
      call,
      shown_rows(call, summarise_guessing(sitting)),
      show_guessing
    ))
  }
  if (!is.null(call$student)) call$by <- "student"
  found <- summarise_misconceptions(sitting, call$by)
  if (!nrow(found)) {
    message(say("cli-misconceptions.no_option_carries_a", folder = call$folder))
  }
  put_out(call, shown_rows(call, found), function(found) {
    show_misconceptions(found, chosen = !is.null(call$student))
  })
}

#' @export
print.pregunta_misconceptions <- function(x, ...) {
  print_lines(x, show_misconceptions)
}

#' @export
print.pregunta_together <- function(x, ...) print_lines(x, show_together)

#' @export
print.pregunta_guessing <- function(x, ...) print_lines(x, show_guessing)

show_misconceptions <- function(found, chosen = FALSE) {
  if (identical(attr(found, "by"), "student")) return(show_held(found, chosen))
  c(
    format_table(
      c(
        group_columns(found),
        list(
          text_column("code", found$code),
          text_column("idea", found$description, shrink = TRUE),
          text_column("offered_by", gsub(";", " ", found$items), shrink = TRUE),
          text_column(
            "likely_held",
            ifelse(
              is.na(found$likely),
              "",
              say("cli-misconceptions.of", likely = found$likely, n = found$n)
            ),
            "right",
            colour = ifelse(found$likely %in% c(NA, 0), NA, "ochre")
          ),
          share_column("", found$share),
          interval_column("interval", found$share_low, found$share_high),
          text_column("now_and_then", found$now_and_then, "right"),
          text_column("once", found$once, "right"),
          text_column("never", found$never, "right")
        )
      )
    ),
    "",
    wrap_lines(printable(say_misconceptions(found))),
    wrap_lines(say("legends.held"))
  )
}

# Of one student all; else only where something was seen, idea after idea.
show_held <- function(found, chosen) {
  shown <- if (chosen) {
    found
  } else {
    found[found$status %in% c("likely", "now_and_then"), ]
  }
  if (is.null(attr(found, "sorted"))) {
    shown <- shown[
      order(
        match(shown$code, unique(found$code)),
        match(shown$status, held_codes),
        -shown$chosen
      ),

    ]
  }
  if (!nrow(shown)) return(say("judge-misconceptions.nobody_twice"))
  new <- shown$code != c("", utils::head(shown$code, -1))
  columns <- list(
    text_column("code", ifelse(new | chosen, shown$code, "")),
    text_column("student", shown$student, shrink = TRUE),
    if (!all(is.na(shown$name))) text_column("name", shown$name, shrink = TRUE),
    if (!all(is.na(shown$section))) {
      text_column("section", shown$section, shrink = TRUE)
    },
    text_column(
      "",
      words_for(shown$status, "held"),
      colour = ifelse(shown$status %in% "likely", "ochre", NA)
    ),
    text_column(
      "chosen",
      ifelse(
        shown$chances > 0,
        say(
          "cli-misconceptions.of_2",
          chosen = shown$chosen,
          chances = shown$chances
        ),
        ""
      ),
      "right"
    ),
    text_column("answers", shown$answers, shrink = TRUE)
  )
  c(
    format_table(
      columns
    ),
    "",
    wrap_lines(printable(say_ideas(shown)), 0, 2)
  )
}

# What the codes mean.
say_ideas <- function(found) {
  first <- found[!duplicated(found$code), ]
  ifelse(
    is.na(first$description),
    first$code,
    paste0(first$code, ": ", first$description, ".")
  )
}

show_together <- function(pairs) {
  answer <- function(item, option, text) {
    paste0(item, " ", option, ifelse(is.na(text), "", paste0(" ", text)))
  }
  columns <- list(
    text_column(
      "those_who_said",
      answer(pairs$item, pairs$option, pairs$text),
      shrink = TRUE
    ),
    text_column(
      "also_said",
      answer(pairs$with_item, pairs$with_option, pairs$with_text),
      shrink = TRUE
    ),
    text_column("both", pairs$both, "right"),
    number_column("by_chance", pairs$expected, 1),
    text_column(
      "odds",
      ifelse(
        is.finite(pairs$odds_ratio),
        paste0("x ", number(pairs$odds_ratio, 1)),
        "x \u221e"
      ),
      "right"
    ),
    text_column(
      "p_adjusted",
      ifelse(pairs$p_adjusted < 0.001, "< 0.001", number(pairs$p_adjusted, 3)),
      "right"
    )
  )
  c(
    format_table(
      columns
    ),
    "",
    wrap_lines(
      say("cli-misconceptions.among_students_with_like", pairs = attr(pairs, "tested"))
    )
  )
}

show_guessing <- function(guessing) {
  sorted <- guessing
  reading <- c(
    "one_direction", "could_be_guessing", "better_than_guessing", "too_few"
  )
  if (is.null(attr(guessing, "sorted"))) {
    sorted <- guessing[
      order(match(guessing$reads_as, reading), guessing$right / pmax(guessing$n, 1)),

    ]
  }
  few <- sorted[sorted$reads_as %in% reading[1:2], ]
  rest <- table(factor(sorted$reads_as, reading))[3:4]
  c(
    if (nrow(few)) {
      format_table(
        list(
          text_column("student", few$student, shrink = TRUE),
          if (!all(is.na(few$name))) text_column("name", few$name, shrink = TRUE),
          if (!all(is.na(few$section))) {
            text_column("section", few$section, shrink = TRUE)
          },
          text_column(
            "right",
            say("cli-misconceptions.of_3", right = few$right, n = few$n),
            "right"
          ),
          number_column("guessed", few$expected, 1),
          share_column("by_chance", few$p_guess),
          text_column(
            "wrong_with_an_idea",
            say("cli-misconceptions.of_4", coded = few$coded, wrong = few$wrong),
            "right"
          ),
          share_column("by_chance", few$p_coded),
          text_column(
            "",
            words_for(few$reads_as, "guessing"),
            colour = ifelse(few$reads_as == reading[1], "ochre", NA)
          )
        )
      )
    },
    if (nrow(few)) "",
    if (sum(rest)) {
      wrap_lines(
        say(
          "cli-misconceptions.the_others",
          any_shown = nrow(few),
          rest = join_words(paste(rest, words_for(names(rest), "guessing"))[rest > 0])
        )
      )
    },
    wrap_lines(
      say("cli-misconceptions.guessed_how_many_picking")
    )
  )
}
