# A follow-up test drawn from a bank or a folder of questions.

run_followup <- function(call) {
  check_choice("--forms", call$forms, c("one", "group"))
  sitting <- read_for_figures(call)
  or <- function(value, default) if (is.null(value)) default else value
  pool <- read_pool(or(call$from, call$bank))
  # they had all its questions
  whole <- if (is.null(call$only)) sitting else read_sitting(call$folder)
  used <- c(
    list(whole),
    lapply(split_commas(call$used), read_sitting),
    asked_in_record(call$record, sitting)
  )
  difficulty <- or(read_between(call[["difficulty"]], "difficulty"), c(0, 1))
  drawn <- draw_followup(
    sitting,
    pool,
    standard_codes(call$standard, sitting),
    student_ids(call$student, sitting),
    call$forms,
    or(call$length, 8),
    or(call$`per-standard`, 2),
    difficulty,
    used
  )
  put_out(call[setdiff(names(call), "out")], drawn, show_followup)
  if (is.null(call$out)) {
    tell_user(say("cli-followup.nothing_was_written_add"))
    return(0L)
  }
  write_followup(
    drawn,
    call$out,
    say("cli-followup.follow_up", title = sitting$settings$title)
  )
  tell_user(
    say(
      "cli-followup.written_type_the_answers",
      out = call$out,
      call_out = some_of(list.files(call$out), 12),
      folder = call$folder
    )
  )
  0L
}

# Everything that students of this test had in a test of the record.
asked_in_record <- function(path, sitting) {
  if (is.null(path)) return(NULL)
  record <- open_record(record_place(path), make = FALSE)
  on.exit(close_record(record))
  list(items_asked(record, sitting$students$student))
}

#' @export
print.pregunta_followup <- function(x, ...) print_lines(x, show_followup)

show_followup <- function(drawn) {
  forms <- unique(drawn$form)
  people <- attr(drawn, "people")
  found <- attr(drawn, "found")
  left <- attr(drawn, "left_out")
  short <- found[nzchar(found$why), ]
  said <- vapply(seq_len(nrow(short)), function(k) {
    other <- length(forms) > 1 && short$form[k] != short$code[k]
    say(
      "cli-followup.of_questions",
      form = if (other) paste0(short$form[k], ": "),
      code = short$code[k],
      found = short$found[k],
      wanted = short$wanted[k],
      limited = short$wanted[k],
      why = short$why[k]
    )
  }, "")
  c(
    unlist(lapply(forms, function(form) {
      show_form(
        drawn[drawn$form == form, ],
        people[people$form == form, ],
        length(forms) > 1,
        attr(drawn, "listed")
      )
    })),
    if (length(said)) {
      c(
        paint(say("cli-followup.what_is_missing"), "ochre"),
        wrap_lines(said, 0, 2)
      )
    },
    wrap_lines(
      paste(
        c(
          if (left$had) {
            say("cli-followup.questions_of_the_pool", had = left$had)
          },
          if (left$outside) {
            say(
              "cli-followup.lie_outside_the_difficulty",
              outside = left$outside
            )
          }
        ),
        collapse = " "
      )
    )
  )
}

show_form <- function(drawn, people, several, listed) {
  name <- listed$name[match(people$student, listed$student)]
  who <- or_else(name, people$student)
  heading <- say(
    "cli-followup.form_questions_points_for",
    form = drawn$form[1],
    several = several,
    n = nrow(drawn),
    n_drawn = plain_points(sum(drawn$points)),
    n_people = nrow(people)
  )
  used <- !all(is.na(drawn$difficulty))
  lines <- format_table(
    text_column("item", drawn$item),
    text_column("from", drawn$from),
    text_column("standards", drawn$standards),
    text_column("type", type_words(drawn$type)),
    text_column("question", drawn$prompt, shrink = TRUE),
    text_column("points", plain_points(drawn$points), "right"),
    if (used) share_column("earned_last_time", drawn$difficulty),
    if (!all(is.na(drawn$expected))) share_column("expected_of_them", drawn$expected)
  )
  c(
    bold_line(heading), wrap_lines(some_of(who, 8), 2), "", lines, ""
  )
}
