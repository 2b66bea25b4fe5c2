# What comes next: groups to teach, and the plan, typed where it stands.

next_room <- function(visit) {
  known <- test_of_visit(visit)
  sitting <- known$sitting
  figures <- figures_known(known)
  htmltools::tagList(
    page_heading(words_for("next", "desk_places")),
    groups_section(visit, sitting, figures$groups),
    plan_section(visit, known),
    followup_section(visit),
    worked_section(visit)
  )
}

# Groups as columns of names, each with its reason.
groups_section <- function(visit, sitting, groups) {
  tags <- htmltools::tags
  if (!NROW(groups)) return(tags$p(say("desk-next.no_groups")))
  listed <- groups_listed(groups)
  table <- as.data.frame(groups)
  people <- group_people(visit, sitting, table)
  cards <- lapply(listed, function(one) {
    head <- if (is.na(one$group)) {
      capital(words_for(one$role, "roles"))
    } else {
      say("page-groups.group", group = one$group)
    }
    about <- trimws(paste(or_blank(one$topic), or_blank(one$title)))
    tags$section(
      class = "group",
      tags$h3(printable(paste(head, one$class))),
      if (!is.na(one$group) && nzchar(about)) help_line(printable(about)),
      tags$ul(htmltools::HTML(paste(people[one$rows], collapse = "")))
    )
  })
  tags$section(
    tags$h2(say("page-groups.groups_to_teach")),
    tags$div(class = "groups", cards)
  )
}

# A point of the list for each, with the reason under the pointer; as text, since there
# are hundreds.
group_people <- function(visit, sitting, table) {
  address <- vapply(table$student, function(id) place(visit, "students", id), "")
  named <- function(id) as.character(name_of(sitting$students, id))
  who <- vapply(table$student, named, "")
  helps <- html_cell(escape(say("desk-next.could_explain")), tag = "small")
  paste0(
    "<li><a class=\"plain\" href=\"", address, "\" title=\"",
    escape(or_blank(table$because)), "\">", who, "</a>",
    ifelse(table$role == "helps", helps, ""), "</li>"
  )
}

plan_section <- function(visit, known) {
  tags <- htmltools::tags
  if (!nrow(figures_known(known)$standards)) return(tags$p(say("desk-standards.none")))
  plan <- once(known, "plan", function(sitting) {
    view_plan(sitting, earlier = read_plan(file.path(folder_of_visit(visit), "plan.csv")))
  })
  chosen <- which(!is.na(plan$need))
  tags$section(
    tags$h2(say("page-groups.what_to_teach_again")),
    tags$p(printable(paste(attr(plan, "well"), collapse = " "))),
    if (!length(chosen)) tags$p(say("page-groups.nothing_needs_to_be")),
    tags$div(class = "plan", lapply(chosen, function(k) plan_fieldset(visit, plan, k)))
  )
}

plan_fieldset <- function(visit, plan, k) {
  tags <- htmltools::tags
  row <- plan[k, ]
  line <- function(head, text) {
    if (nzchar(text)) tags$p(tags$b(head), " ", printable(text))
  }
  items <- strsplit(row$shown_by, ";", fixed = TRUE)[[1]]
  tags$article(
    tags$h3(printable(paste0(k, ". ", row$code, "  ", or_blank(row$title)))),
    line(say("page-groups.why"), paste0(row$reason, ".")),
    line("", row$know),
    line(say("page-groups.behind_it"), row$cause),
    line(say("page-groups.settle_first"), row$settle),
    tags$p(
      tags$b(say("page-groups.shown_by")), " ",
      lapply(items, function(item) htmltools::tagList(item_link(visit, item), " "))
    ),
    lapply(plan_fields, function(field) {
      act_form(
        "plan",
        facts = list(code = row$code, field = field, live = "yes"),
        text_field(
          "value",
          capital(words_for(field, "plan_fields")),
          or_blank(as.character(row[[field]])),
          keep = paste0("plan-", row$code, "-", field)
        )
      )
    })
  )
}

# One field of one standard, in the plan as it is in the folder at that moment.
keep_plan <- function(visit, given) {
  folder <- folder_of_visit(visit)
  path <- file.path(folder, "plan.csv")
  shiny::req(given$field %in% plan_fields)
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  plan <- view_plan(read_sitting(folder), earlier = read_plan(path))
  at <- match(given$code, plan$code)
  shiny::req(!is.na(at))
  before <- or_blank(as.character(plan[[given$field]][at]))
  after <- trimws(paste0("", given$value))
  if (before == after) return(invisible())
  plan[[given$field]][at] <- after
  write_plan(plan, path)
  field <- words_for(given$field, "plan_fields")
  tell_done(
    visit,
    say("desk-next.kept_in_the_plan", code = given$code, field = field),
    act_button(
      say("desk-change.take_back"), "plan",
      code = given$code, field = given$field, value = before
    ),
    c("plan", folder)
  )
}
