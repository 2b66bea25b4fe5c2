# Who learns what together, and the plan: what to teach again, to whom and why.

report_groups <- function(view) {
  data <- view$tables[["group-table"]]
  if (is.null(data) || !nrow(data)) return(NULL)
  page_section(
    "groups",
    say("page-groups.groups_to_teach"),
    help_line(
      say("page-groups.each_student_in_one"),
      " ",
      on_screen(say("page-groups.press_a_row"))
    ),
    wide(
      say("page-groups.groups_to_teach"),
      page_table(
        "group-table",
        data,
        c(
          if (length(unique(data$class)) > 1) {
            list(class = page_column("section", width = 110))
          },
          list(
            group = page_column("group", width = 130),
            about = page_column("learns", minWidth = 180),
            n = figure_column("students", width = 92),
            students = page_column("who", "members", minWidth = 320)
          )
        ),
        "groups",
        "group"
      )
    )
  )
}

# A row a group; `member`, `role`, `because`: of each in it.
group_data <- function(groups, people) {
  table <- as.data.frame(groups)
  by <- attr(groups, "by")
  class <- if (is.null(by)) rep("", nrow(table)) else table[[by]]
  kind <- ifelse(
    is.na(table$group),
    words_for(table$role, "roles"),
    say("page-groups.group", group = table$group)
  )
  key <- paste(class, kind, sep = "\r")
  sets <- unname(split(seq_len(nrow(table)), factor(key, unique(key))))
  first <- vapply(sets, `[`, 0L, 1)
  about <- data.table::fcase(
    is.na(table$group[first]), "",
    is.na(table$title[first]), table$topic[first],
    rep(TRUE, length(first)), paste(table$topic[first], table$title[first])
  )
  label <- who_plain(people, table$student)
  data <- data.frame(
    class = cell_words(class[first]),
    group = kind[first],
    about = cell_words(about),
    n = lengths(sets),
    students = vapply(sets, function(rows) paste(label[rows], collapse = ", "), "")
  )
  data$member <- lapply(sets, function(rows) {
    match(table$student[rows], people$student) - 1L
  })
  data$role <- lapply(sets, function(rows) table$role[rows])
  data$part <- lapply(sets, function(rows) words_for(table$role[rows], "roles"))
  data$because <- lapply(sets, function(rows) cell_words(table$because[rows]))
  data
}

report_plan <- function(view) {
  if (is.null(view$texts$plan)) return(NULL)
  page_section(
    "plan",
    say("page-groups.what_to_teach_again"),
    slot("plan", view$texts$plan),
    help_line(
      say("page-groups.pregunta_plan_writes_it")
    )
  )
}

plan_texts <- function(figures, people) {
  plan <- figures$plan
  tags <- htmltools::tags
  chosen <- which(!is.na(plan$need))
  htmltools::tagList(
    tags$p(rich(
      "page-groups.what_went_well",
      said = printable(paste(attr(plan, "well"), collapse = " "))
    )),
    if (!length(chosen)) {
      tags$p(say("page-groups.nothing_needs_to_be"))
    },
    tags$div(
      class = "plan",
      lapply(chosen, function(k) plan_card(plan, k, figures$is_class, people))
    )
  )
}

plan_card <- function(plan, k, is_class, people) {
  tags <- htmltools::tags
  row <- plan[k, ]
  groups <- as.data.frame(attr(plan, "groups"))
  groups <- groups[groups$topic %in% row$code & groups$role %in% "learns", ]
  typed <- unlist(row[plan_fields])
  typed <- typed[!is_blank(typed)]
  line <- function(head, text) {
    if (nzchar(text)) tags$p(tags$b(paste0(head, " ")), printable(text))
  }
  items <- strsplit(row$shown_by, ";", fixed = TRUE)[[1]]
  tags$article(
    tags$h3(
      printable(paste0(k, ". ", row$code, if (!is.na(row$title)) paste0("  ", row$title)))
    ),
    line(say("page-groups.why"), paste0(row$reason, ".")),
    line("", row$know),
    line(say("page-groups.behind_it"), row$cause),
    line(say("page-groups.settle_first"), row$settle),
    tags$p(
      tags$b(say("page-groups.shown_by")),
      " ",
      htmltools::HTML(paste0(
        "<a href=\"#items\" data-open=\"",
        escape(items),
        "\">",
        escape(items),
        "</a>",
        collapse = ", "
      ))
    ),
    if (is_class && nrow(groups)) {
      tags$p(
        tags$b(say("page-groups.who")),
        " ",
        htmltools::HTML(paste(who(people, groups$student), collapse = ", "))
      )
    },
    lapply(names(typed), function(field) {
      line(paste0(capital(words_for(field, "plan_fields")), ":"), typed[[field]])
    }),
    if (!is.na(row$closed)) tags$p(printable(say_closed(row)))
  )
}
