# What comes next: groups to teach, and the plan, typed where it stands.

next_room <- function(visit) {
  htmltools::tagList(
    page_heading(words_for("next", "desk_places")),
    groups_and_plan(visit),
    followup_section(visit),
    worked_section(visit)
  )
}

groups_and_plan <- function(visit) {
  kept_html(visit, "groups", function(known) {
    htmltools::tagList(
      groups_section(visit, known$sitting, figures_known(known)$groups),
      plan_section(visit, known)
    )
  })
}

# Groups as columns of names, each with its reason.
groups_section <- function(visit, sitting, groups) {
  tags <- htmltools::tags
  if (!has_package(package_of_groups)) {
    lacking <- say("page-groups.need_a_package", call = install_call(package_of_groups))
    return(tags$p(lacking))
  }
  if (!NROW(groups)) return(tags$p(say("desk-next.no_groups", most = most_in_page)))
  places <- attr(groups, "places")
  topics <- say_topics(sitting)
  people <- group_people(visit, sitting, groups)
  members <- members_of(groups, places)
  shown <- which(lengths(members) > 0 | !is.na(places$group))
  card <- function(k) {
    place <- places[k, ]
    about <- trimws(paste(or_blank(place$topic), or_blank(place$title)))
    tags$section(
      class = "group",
      `data-to` = place$to,
      `data-class` = place$class,
      tags$h4(printable(place_named(place))),
      if (nzchar(about)) help_line(printable(about)),
      tags$ul(htmltools::HTML(paste(people[members[[k]]], collapse = "")))
    )
  }
  classes <- split_in_order(shown, places$class[shown])
  tags$section(
    tags$h2(say("page-groups.groups_to_teach")),
    if (!is.null(topics)) help_line(printable(topics)),
    if (any(!is.na(places$group))) help_line(say("desk-next.names_can_be_moved")),
    lapply(classes, function(mine) {
      htmltools::tagList(
        if (nzchar(places$class[mine[1]])) tags$h3(printable(places$class[mine[1]])),
        tags$div(class = "groups", lapply(mine, card))
      )
    })
  )
}

# The rows of the groups that stand at each place.
members_of <- function(groups, places) {
  at <- place_of_rows(groups, places)
  lapply(seq_len(nrow(places)), function(k) which(at == k))
}

place_of_rows <- function(groups, places) {
  by <- attr(groups, "by")
  class <- if (is.null(by)) rep("", nrow(groups)) else groups[[by]]
  named <- function(class, group, role) paste(class, or_else(group, role), sep = "\r")
  match(
    named(class, groups$group, groups$role),
    named(places$class, places$group, places$role)
  )
}

place_named <- function(place) {
  if (is.na(place$group)) return(capital(words_for(place$role, "roles")))
  say("page-groups.group", group = place$group)
}

# A point of the list for each, with the reason under the pointer; as text, since there
# are hundreds.
group_people <- function(visit, sitting, table) {
  address <- vapply(table$student, function(id) place(visit, "students", id), "")
  named <- function(id) as.character(name_of(sitting$students, id))
  who <- vapply(table$student, named, "")
  helps <- html_cell(escape(say("desk-next.could_explain")), tag = "small")
  moved <- html_cell(escape(say("desk-next.moved_here")), tag = "small")
  id <- escape(table$student)
  paste0(
    "<li draggable=\"true\" data-student=\"", id, "\">",
    "<a class=\"plain\" draggable=\"false\" href=\"", address, "\" title=\"",
    escape(or_blank(table$because)), "\">", who, "</a>",
    ifelse(table$role == "helps", helps, ""),
    ifelse(table$by_hand, moved, ""),
    "<button type=\"button\" class=\"move\" data-act=\"ask-move\" data-student=\"", id,
    "\">", escape(say("desk-next.move")), "<span class=\"unseen\"> ", who,
    "</span></button></li>"
  )
}

# Asked to move somebody: where to, and why; or back to where need says.
ask_move <- function(visit, given) {
  known <- test_of_visit(visit)
  groups <- figures_known(known)$groups
  row <- match(given$student, groups$student)
  shiny::req(!is.na(row))
  visit$now$done <- NULL
  visit$now$ask <- list(
    kind = "move",
    student = given$student,
    because = groups$because[row],
    at = place_of_rows(groups, attr(groups, "places"))[row],
    line = if (groups$by_hand[row]) line_of_move(known$sitting, given$student)
  )
}

line_of_move <- function(sitting, student) {
  changes <- sitting$changes
  mine <- which(changes$action == "group" & changes$student %in% student)
  line_of(sitting$adjustments)[changes$row[max(mine)]]
}

move_panel <- function(visit, ask) {
  tags <- htmltools::tags
  known <- test_of_visit(visit)
  places <- attr(figures_known(known)$groups, "places")
  mine <- which(places$class == places$class[ask$at])
  choices <- lapply(mine, function(k) {
    place <- places[k, ]
    about <- trimws(paste(or_blank(place$topic), or_blank(place$title)))
    named <- trimws(paste(place_named(place), about))
    tags$option(value = place$to, selected = if (k == ask$at) NA, printable(named))
  })
  tags$section(
    class = "ask",
    tags$h2(
      tabindex = "-1", `data-focus` = NA,
      say("desk-next.move_there"), " ", name_of(known$sitting$students, ask$student)
    ),
    tags$p(printable(ask$because)),
    act_form(
      "change",
      facts = list(student = ask$student, action = "group"),
      choice_field("value", say("desk-next.to"), choices),
      text_field("reason", say("desk-change.reason"), keep = "reason"),
      tags$p(
        class = "buttons",
        tags$button(type = "submit", class = "main", say("desk-next.move_there")),
        act_button(say("desk-change.leave_it"), "close", what = "ask")
      )
    ),
    if (!is.null(ask$line)) {
      act_button(say("desk-next.back_to_first"), "undo", lines = ask$line)
    }
  )
}

plan_section <- function(visit, known) {
  tags <- htmltools::tags
  if (!can_be_grouped(known$sitting)) return(NULL)
  plan <- once(known, "plan", function(sitting) {
    view_plan(sitting, earlier = read_plan(plan_of_visit(visit)))
  })
  chosen <- which(!is.na(plan$need))
  tags$section(
    tags$h2(say("page-groups.what_to_teach_again")),
    tags$p(printable(paste(attr(plan, "well"), collapse = " "))),
    if (length(attr(plan, "nothing"))) tags$p(attr(plan, "nothing")),
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
  path <- plan_of_visit(visit)
  shiny::req(given$field %in% plan_fields)
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  sitting <- own_part(read_sitting(folder), visit$person$sections)
  plan <- view_plan(sitting, earlier = read_plan(path))
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
    c("plan", folder, only_of_visit(visit))
  )
}
