# The plan in the terminal, and written beside the test.

run_plan <- function(call) {
  lock <- take_lock(call$folder)
  on.exit(release_lock(lock))
  sitting <- read_for_figures(call, with_unsettled)
  if (call$format == "text") tell_by_question(call, sitting)
  part <- only_conditions(call, sitting)
  table <- plan_path(call$folder, part)
  plan <- view_plan(
    sitting,
    call$by,
    call$most,
    call$size,
    read_plan(table),
    call$tag
  )
  names <- !isTRUE(call$`no-names`)
  if (call$format != "text") return(put_out(call, flat_plan(plan, names), show_plan))
  put_lines(show_plan(plan, names))
  if (length(attr(plan, "ungrouped"))) {
    tell_user(attr(plan, "ungrouped"), " ", say("judge-groups.group_within"))
  }
  # The plan of all does not go into that of a part, nor the other way round.
  for (path in call$out) {
    if (full_path(path) != full_path(table)) check_output(path)
  }
  write_plan(plan, table)
  paths <- call$out
  if (is.null(paths)) {
    documents <- plan_path(call$folder, part, c("docx", "md"))
    paths <- vapply(documents, free_path, "", USE.NAMES = FALSE)
  }
  for (path in paths) {
    write_plan(
      plan,
      path,
      sitting$settings$title,
      sitting$settings$date,
      names = names
    )
  }
  note_output(call$folder, paths, table)
  written <- c(table, paths)
  tell_user(
    say(
      "cli-plan.written_what_you_type",
      only = in_a_row(written),
      table = basename(table)
    )
  )
  0L
}

#' @export
print.pregunta_plan <- function(x, ...) {
  if (nrow(x)) print_lines(x, show_plan) else print_whole(x, show_plan)
}

show_plan <- function(plan, names = TRUE) {
  chosen <- which(!is.na(plan$need))
  c(
    bold_line(say("cli-plan.what_went_well")),
    wrap_lines(attr(plan, "well"), 0, 2),
    "",
    attr(plan, "nothing"),
    unlist(lapply(chosen, function(k) show_plan_row(plan, k, names)))
  )
}

show_plan_row <- function(plan, k, names) {
  one <- plan_row(plan, k, c("learns", "helps"))
  row <- one$row
  line <- function(text) wrap_lines(text, 2, 4)
  heading <- paste0(k, ". ", row$code, "  ", or_blank(row$title))
  fields <- paste0(
    words_for(names(one$typed), "plan_fields"), ": ", one$typed
  )
  c(
    paint(printable(heading), "teal"),
    line(say("cli-plan.why", reason = row$reason)),
    if (nzchar(row$know)) line(row$know),
    line(say("cli-plan.behind_it", cause = row$cause)),
    if (nzchar(row$settle)) paint(line(row$settle), "ochre"),
    line(say("cli-plan.shown_by", items = in_a_row(one$items))),
    if (NROW(one$groups)) group_list_lines(one$groups, names),
    if (length(one$typed)) line(paste(fields, collapse = "; ")),
    if (!is.na(row$closed)) line(say_closed(row)),
    ""
  )
}

group_list_lines <- function(groups, names) {
  cells <- groups_table(groups, names)
  wrap_lines(paste0(cells[[1]], ": ", cells[[2]]), 2, 4)
}
