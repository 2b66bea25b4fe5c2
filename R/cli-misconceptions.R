# Misconceptions in the terminal: for the class, student by student, wrong
# answers that go together, and who guessed.

run_misconceptions <- function(call) {
  sitting <- read_for_figures(call)
  if (call$uncoded) {
    together <- view_together(sitting, call$sort)
    few <- attr(together, "tested") == 0
    nothing <- say("cli-misconceptions.no_two_wrong_answers", few = few)
    return(put_out(call, together, show_together, nothing))
  }
  if (call$guessing) {
    return(put_out(
      call,
      view_asked(view_guessing, call, sitting),
      show_guessing
    ))
  }
  view <- view_asked(
    view_misconceptions,
    call,
    sitting,
    by = call$by
  )
  if (view$none) {
    tell_user(say("cli-misconceptions.no_option_carries_a", folder = call$folder))
  }
  put_out(call, view$found, function(found) {
    show_misconceptions(found, view$chosen)
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
  likely <- say(
    "cli-misconceptions.of",
    likely = found$likely,
    n = found$n
  )
  lines <- format_table(
    group_columns(found),
    text_column("code", found$code),
    text_column("idea", found$description, shrink = TRUE),
    text_column(
      "offered_by",
      gsub(";", " ", found$items),
      shrink = TRUE
    ),
    text_column(
      "likely_held",
      or_blank(found$likely, likely),
      "right",
      colour = ifelse(found$likely %in% c(NA, 0), NA, "ochre")
    ),
    share_column("", found$share),
    interval_column(
      "interval",
      found$share_low,
      found$share_high
    ),
    text_column("now_and_then", found$now_and_then, "right"),
    text_column("once", found$once, "right"),
    text_column("never", found$never, "right")
  )
  c(
    lines, "", wrap_lines(say_misconceptions(found)),
    wrap_lines(say("legends.held"))
  )
}

# Of one student all; else only where something was seen, idea after idea.
show_held <- function(found, chosen) {
  shown <- ideas_shown(found, chosen)
  if (!nrow(shown)) return(say("judge-misconceptions.nobody_twice"))
  new <- shown$code != c("", utils::head(shown$code, -1))
  times <- say(
    "cli-misconceptions.of_2",
    chosen = shown$chosen,
    chances = shown$chances
  )
  lines <- format_table(
    text_column("code", ifelse(new | chosen, shown$code, "")),
    person_columns(shown),
    text_column(
      "",
      words_for(shown$status, "held"),
      colour = ifelse(shown$status %in% "likely", "ochre", NA)
    ),
    text_column(
      "chosen",
      ifelse(shown$chances > 0, times, ""),
      "right"
    ),
    text_column("answers", shown$answers, shrink = TRUE)
  )
  c(lines, "", wrap_lines(say_ideas(shown), 0, 2))
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
    trimws(paste(item, option, or_blank(text)), "right")
  }
  first <- answer(pairs$item, pairs$option, pairs$text)
  second <- answer(
    pairs$with_item,
    pairs$with_option,
    pairs$with_text
  )
  times <- ifelse(
    is.finite(pairs$odds_ratio),
    number(pairs$odds_ratio, 1),
    "\u221e"
  )
  p <- ifelse(
    pairs$p_adjusted < 0.001,
    "< 0.001",
    number(pairs$p_adjusted, 3)
  )
  lines <- format_table(
    text_column("those_who_said", first, shrink = TRUE),
    text_column("also_said", second, shrink = TRUE),
    text_column("both", pairs$both, "right"),
    number_column("by_chance", pairs$expected, 1),
    text_column("odds", paste("x", times), "right"),
    text_column("p_adjusted", p, "right"),
    if (!all(is.na(pairs$misconception))) {
      text_column("idea", or_blank(pairs$misconception))
    }
  )
  tested <- attr(pairs, "tested")
  among <- say("cli-misconceptions.among_students_with_like", pairs = tested)
  c(lines, "", wrap_lines(among))
}

show_guessing <- function(guessing) {
  view <- guessing_shown(guessing)
  few <- view$shown
  rest <- paste(view$rest, words_for(names(view$rest), "guessing"))
  others <- say(
    "cli-misconceptions.the_others",
    any_shown = nrow(few),
    rest = join_words(rest)
  )
  c(
    if (nrow(few)) c(guessing_table(few), ""),
    if (length(view$rest)) wrap_lines(others),
    wrap_lines(say("cli-misconceptions.guessed_how_many_picking"))
  )
}

guessing_table <- function(few) {
  right <- say(
    "cli-misconceptions.of_3",
    right = few$right,
    n = few$n
  )
  coded <- say(
    "cli-misconceptions.of_4",
    coded = few$coded,
    wrong = few$wrong
  )
  format_table(
    person_columns(few),
    text_column("right", right, "right"),
    number_column("guessed", few$expected, 1),
    share_column("by_chance", few$p_guess),
    text_column("wrong_with_an_idea", coded, "right"),
    share_column("by_chance", few$p_coded),
    text_column(
      "",
      words_for(few$reads_as, "guessing"),
      colour = ifelse(
        few$reads_as == "one_direction",
        "ochre",
        NA
      )
    )
  )
}
