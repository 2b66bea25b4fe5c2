# The plan in the terminal, and written beside the test.

run_plan <- function(call) {
  sitting <- read_for_figures(call)
  table <- file.path(call$folder, "plan.csv")
  by <- if (is.null(call$by)) "section" else call$by
  plan <- plan_reteach(
    sitting,
    if (is.null(call$most)) standards_planned else call$most,
    if (is.null(call$size)) 6 else call$size,
    by,
    read_plan(table)
  )
  if (call$format != "text") return(put_out(call, flat_plan(plan), show_plan))
  document <- function(path) {
    write_plan(
      plan,
      path,
      sitting$settings$title,
      sitting$settings$date,
      names = !isTRUE(call$`no-names`)
    )
  }
  cat(show_plan(plan), sep = "\n")
  if (is.null(call$only)) write_plan(plan, table)
  written <- if (is.null(call$out)) {
    vapply(c("plan.docx", "plan.md"), function(name) {
      document(free_path(file.path(call$folder, name)))
    }, "")
  } else {
    document(call$out)
  }
  message(
    say(
      "cli-plan.written_what_you_type",
      only = paste(c(if (is.null(call$only)) table, written), collapse = ", ")
    )
  )
  0L
}

# A name that is not taken: plan.docx, else plan-2.docx. Somebody may have written
# into the one that is there.
free_path <- function(path) {
  ending <- tools::file_ext(path)
  k <- 1
  free <- path
  while (file.exists(free)) {
    k <- k + 1
    free <- paste0(sub(paste0("[.]", ending, "$"), "", path), "-", k, ".", ending)
  }
  free
}

#' @export
print.pregunta_plan <- function(x, ...) {
  if (nrow(x)) print_lines(x, show_plan) else print_whole(x, show_plan)
}

show_plan <- function(plan) {
  chosen <- which(!is.na(plan$need))
  c(
    paint(say("cli-plan.what_went_well"), "bold"),
    wrap_lines(printable(attr(plan, "well")), 0, 2),
    "",
    if (!length(chosen)) say("cli-plan.nothing_needs_to_be"),
    unlist(lapply(chosen, function(k) show_plan_row(plan, k)))
  )
}

show_plan_row <- function(plan, k) {
  row <- plan[k, ]
  groups <- attr(plan, "groups")
  groups <- groups[groups$topic %in% row$code & groups$role %in% c("learns", "helps"), ]
  typed <- unlist(row[plan_fields])
  typed <- typed[!is_blank(typed)]
  line <- function(text) wrap_lines(printable(text), 2, 4)
  c(
    paint(
      printable(paste0(k, ". ", row$code, "  ", if (is.na(row$title)) "" else row$title)),
      "teal"
    ),
    line(say("cli-plan.why", reason = row$reason)),
    if (nzchar(row$know)) line(row$know),
    line(say("cli-plan.behind_it", cause = row$cause)),
    if (nzchar(row$settle)) paint(line(row$settle), "ochre"),
    line(say("cli-plan.shown_by", items = gsub(";", ", ", row$shown_by))),
    if (nrow(groups)) group_list_lines(groups),
    if (length(typed)) {
      line(paste0(words_for(names(typed), "plan_fields"), ": ", typed, collapse = "; "))
    },
    if (!is.na(row$closed)) line(say_closed(row)),
    ""
  )
}

group_list_lines <- function(groups) {
  cells <- group_cells(groups, names = TRUE)
  wrap_lines(printable(paste0(cells$Group, ": ", cells$Students)), 2, 4)
}
