# Who learns what together, and the plan: what to teach again, to whom and why.

# topics: what is to be said of what they go by.
report_groups <- function(view, topics = NULL) {
  data <- view$tables[["group-table"]]
  title <- say("page-groups.groups_to_teach")
  if (!has_package(package_of_groups)) {
    lacking <- say("page-groups.need_a_package", call = install_call(package_of_groups))
    return(page_section("groups", title, help_line(lacking)))
  }
  if (is.null(data) || !nrow(data)) return(NULL)
  columns <- list(
    class = page_column("section", width = 110),
    group = page_column("group", width = 130),
    about = page_column("learns", minWidth = 180),
    n = figure_column("students", width = 92),
    students = page_column("who", "members", minWidth = 320)
  )
  if (length(unique(data$class)) < 2) {
    columns$class <- NULL
  }
  page_section(
    "groups",
    title,
    help_line(
      say("page-groups.each_student_in_one"),
      " ",
      on_screen(say("page-groups.press_a_row"))
    ),
    if (!is.null(topics)) help_line(printable(topics)),
    wide(
      title,
      page_table("group-table", data, columns, "groups", "group")
    )
  )
}

# A row a group; `member`, `role`, `because`: of each in it.
group_data <- function(groups, people) {
  table <- as.data.frame(groups)
  listed <- groups_listed(groups)
  field <- function(name) {
    vapply(listed, function(one) as.character(one[[name]]), "")
  }
  rows <- lapply(listed, `[[`, "rows")
  named <- say("page-groups.group", group = field("group"))
  title <- field("title")
  about <- trimws(paste(field("topic"), or_blank(title)))
  label <- who_plain(people, table$student)
  of_each <- function(x) lapply(rows, function(rows) x[rows])
  data <- data.frame(
    class = cell_words(field("class")),
    group = ifelse(
      is.na(field("group")),
      words_for(field("role"), "roles"),
      named
    ),
    about = cell_words(or_blank(field("group"), about)),
    n = lengths(rows),
    students = vapply(of_each(label), paste, "", collapse = ", ")
  )
  data$member <- of_each(match(table$student, people$student) - 1L)
  data$role <- of_each(table$role)
  data$part <- of_each(words_for(table$role, "roles"))
  data$because <- of_each(cell_words(table$because))
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
  well <- printable(paste(attr(plan, "well"), collapse = " "))
  cards <- lapply(chosen, function(k) {
    plan_card(plan, k, figures$is_class, people)
  })
  htmltools::tagList(
    tags$p(rich("page-groups.what_went_well", said = well)),
    if (length(attr(plan, "nothing"))) tags$p(attr(plan, "nothing")),
    tags$div(class = "plan", cards)
  )
}

plan_card <- function(plan, k, is_class, people) {
  tags <- htmltools::tags
  one <- plan_row(plan, k, "learns")
  row <- one$row
  line <- function(head, text) {
    if (nzchar(text)) tags$p(tags$b(paste0(head, " ")), printable(text))
  }
  items <- escape(one$items)
  links <- paste0(
    "<a href=\"#items\" data-open=\"", items, "\">", items, "</a>"
  )
  title <- paste0(
    k, ". ", row$code, or_blank(row$title, paste0("  ", row$title))
  )
  who_learns <- if (is_class && NROW(one$groups)) {
    who(people, one$groups$student)
  }
  tags$article(
    tags$h3(printable(title)),
    line(say("page-groups.why"), paste0(row$reason, ".")),
    line("", row$know),
    line(say("page-groups.behind_it"), row$cause),
    line(say("page-groups.settle_first"), row$settle),
    marked_list(say("page-groups.shown_by"), links),
    if (length(who_learns)) marked_list(say("page-groups.who"), who_learns),
    lapply(names(one$typed), function(field) {
      line(
        paste0(capital(words_for(field, "plan_fields")), ":"),
        one$typed[[field]]
      )
    }),
    if (!is.na(row$closed)) tags$p(printable(say_closed(row)))
  )
}

# What is already HTML, in a row behind its heading.
marked_list <- function(heading, marked) {
  tags <- htmltools::tags
  tags$p(
    tags$b(heading),
    " ",
    htmltools::HTML(in_a_row(marked))
  )
}
