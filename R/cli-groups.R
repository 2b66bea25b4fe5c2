# Groups to teach, in the terminal.

run_groups <- function(call) {
  sitting <- read_for_figures(call, with_unsettled)
  if (call$format == "text" && !any(call$basis %in% c("score", "mixed"))) {
    tell_by_question(call, sitting)
  }
  groups <- view_asked(
    view_groups,
    call,
    sitting,
    by = call$by,
    basis = call$basis,
    size = call$size,
    least = call$least,
    groups = call$groups,
    cut = read_shares(call$cut, "--cut"),
    tag = call$tag
  )
  put_out(
    call,
    groups,
    show_groups,
    say("cli-groups.nobody_has_a_score")
  )
}

# Where no question names a standard.
tell_by_question <- function(call, sitting) {
  if (!is.null(call$tag) || names_standards(sitting)) return(invisible())
  tell_user(say_topics(sitting), " ", say("cli-groups.by_tag"))
}

#' @export
print.pregunta_groups <- function(x, ...) print_lines(x, show_groups)

show_groups <- function(groups) {
  listed <- groups_listed(groups)
  class <- vapply(listed, `[[`, "", "class")
  new_class <- !duplicated(class) & nzchar(class)
  lines <- lapply(seq_along(listed), function(k) {
    one <- listed[[k]]
    c(
      if (new_class[k]) c(paint(printable(toupper(class[k])), "teal"), ""),
      bold_line(group_heading(one)),
      group_lines(groups[one$rows, ]),
      ""
    )
  })
  c(unlist(lines), wrap_lines(groups_legend(groups)))
}

group_heading <- function(one) {
  if (is.na(one$group)) return(capital(words_for(one$role, "roles")))
  about <- data.table::fcase(
    one$topic %in% "score", one$title,
    one$topic %in% "mixed", say("cli-groups.of_all_standings"),
    is.na(one$title), one$topic,
    default = paste0(one$topic, "  ", one$title)
  )
  say("cli-groups.group", group = one$group, about = about)
}

group_lines <- function(table) {
  helps <- paste0("  ", words_for("helps", "roles"))
  lines <- format_table(
    text_column(
      "",
      ifelse(table$role == "helps", helps, ""),
      colour = "teal"
    ),
    text_column("", shorten(name_or_id(table), 24)),
    text_column("", table$because, shrink = "wrap")
  )
  lines[-1]
}

groups_legend <- function(groups) {
  if (any(groups$topic %in% c("score", "mixed"))) return(NULL)
  own <- sum(groups$role == "on_their_own")
  if (!own && !any(groups$role == "learns")) return(NULL)
  cut <- percent(settings_of(groups)$mastery_cut)
  priority <- isTRUE(attr(groups, "priority"))
  c(
    say("cli-groups.by_need_where_the", mastery_cut = cut, priority = priority),
    if (own) say("cli-groups.students_need_what_no", own = own)
  )
}
