# Groups to teach, in the terminal.

run_groups <- function(call) {
  sitting <- read_for_figures(call)
  by <- if (is.null(call$by)) "section" else call$by
  groups <- group_students(
    sitting,
    if (is.null(call$basis)) "need" else call$basis,
    if (is.null(call$size)) 6 else call$size,
    if (is.null(call$least)) 2 else call$least,
    call$groups,
    read_shares(call$cut, "--cut"),
    by
  )
  put_out(
    call,
    shown_rows(call, groups),
    show_groups,
    say("cli-groups.nobody_has_a_score")
  )
}

#' @export
print.pregunta_groups <- function(x, ...) print_lines(x, show_groups)

show_groups <- function(groups) {
  by <- attr(groups, "by")
  class <- if (is.null(by)) rep("", nrow(groups)) else groups[[by]]
  kind <- ifelse(is.na(groups$group), groups$role, groups$group)
  sets <- split(
    seq_len(nrow(groups)),
    factor(paste(class, kind, sep = "\r"), unique(paste(class, kind, sep = "\r")))
  )
  new_class <- !duplicated(class[vapply(sets, `[`, 0L, 1)])
  c(
    unlist(lapply(seq_along(sets), function(k) {
      table <- groups[sets[[k]], ]
      c(
        if (new_class[k] && !is.null(by)) {
          c(paint(toupper(printable(class[sets[[k]][1]])), "teal"), "")
        },
        paint(printable(group_heading(table)), "bold"),
        group_lines(table),
        ""
      )
    })),
    wrap_lines(groups_legend(groups))
  )
}

group_heading <- function(table) {
  first <- table[1, ]
  if (is.na(first$group)) return(capital(words_for(first$role, "roles")))
  about <- if (first$topic %in% "score") {
    first$title
  } else if (first$topic %in% "mixed") {
    say("cli-groups.of_all_standings")
  } else if (is.na(first$title)) {
    first$topic
  } else {
    paste0(first$topic, "  ", first$title)
  }
  say("cli-groups.group", group = first$group, about = about)
}

group_lines <- function(table) {
  who <- ifelse(is.na(table$name), table$student, table$name)
  format_table(
    list(
      text_column(
        "",
        ifelse(table$role == "helps", paste0("  ", words_for("helps", "roles")), ""),
        colour = "teal"
      ),
      text_column("", shorten(who, 24)),
      text_column("", table$because, shrink = TRUE)
    )
  )[
    -1
  ]
}

groups_legend <- function(groups) {
  if (any(groups$topic %in% c("score", "mixed"))) return(NULL)
  own <- sum(groups$role == "on_their_own")
  c(
    say(
      "cli-groups.by_need_where_the",
      mastery_cut = percent(settings_of(groups)$mastery_cut)
    ),
    if (own) {
      say("cli-groups.students_need_what_no", own = own)
    }
  )
}
