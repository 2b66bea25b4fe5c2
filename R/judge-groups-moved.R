# A student whom a teacher has put into another group (action `group` of the list of
# changes) is there whatever was reckoned; the reason of the first choice stays.

# The groups as a move names them, a row each: class, group, topic, title, role of who
# is moved there, and `to`: the topic, "topic/2" for its second group in the class, or a
# role.
group_places <- function(table, class) {
  first <- !duplicated(paste(class, table$group, sep = "\r")) & !is.na(table$group)
  groups <- data.frame(
    class = class[first],
    table[first, c("group", "topic", "title")],
    role = rep("learns", sum(first))
  )
  groups <- groups[order(match(groups$class, unique(class)), groups$group), ]
  turn <- place_among(paste(groups$class, groups$topic, sep = "\r"))
  groups$to <- ifelse(turn == 1, groups$topic, paste0(groups$topic, "/", turn))
  outside <- expand.grid(
    role = c("on_their_own", "ready_for_more"),
    class = unique(class),
    stringsAsFactors = FALSE
  )
  none <- rep(NA, nrow(outside))
  outside <- data.frame(
    class = outside$class,
    group = as.integer(none),
    topic = as.character(none),
    title = as.character(none),
    role = outside$role,
    to = outside$role
  )
  rbind(groups, outside)
}

# The groups after the moves that stand, of each student the last. A place that the
# groups made now do not have leaves the student where need says; `tell`: and is told.
with_moves <- function(table, class, changes, tell = TRUE) {
  table$by_hand <- rep(FALSE, nrow(table))
  moves <- changes[changes$action == "group" & changes$student %in% table$student, ]
  moves <- moves[!duplicated(moves$student, fromLast = TRUE), ]
  if (!nrow(moves)) return(table)
  places <- group_places(table, class)
  for (k in seq_len(nrow(moves))) {
    row <- match(moves$student[k], table$student)
    at <- which(places$class == class[row] & places$to == moves$value[k])
    if (!length(at) && tell) {
      table$because[row] <- say(
        "judge-groups-moved.no_such_group_now",
        because = table$because[row],
        value = moves$value[k]
      )
    }
    if (!length(at)) next
    table[row, ] <- moved_to(table[row, ], places[at, ], moves$reason[k])
  }
  place <- order(
    match(class, unique(class)),
    is.na(table$group),
    table$group,
    match(table$role, group_roles)
  )
  table[place, ]
}

# Who needs nothing and is put into a group can explain it there.
moved_to <- function(row, place, reason) {
  in_group <- !is.na(row$group)
  same <- identical(row$group, place$group) && (in_group || row$role == place$role)
  if (same) return(row)
  explains <- row$role %in% c("helps", "ready_for_more") && place$role == "learns"
  row$because <- say(
    "judge-groups-moved.put_here",
    explained = !is.na(reason),
    reason = or_else(reason, ""),
    because = row$because,
    was = or_else(row$group, words_for(row$role, "roles")),
    in_group = in_group
  )
  row$group <- place$group
  row$topic <- place$topic
  row$title <- place$title
  row$role <- if (explains) "helps" else place$role
  row$by_hand <- TRUE
  row
}

# Moves as they are kept: a group may be named by its number in the class, as it is
# shown. Refused is what no group of the student's class is.
named_moves <- function(sitting, rows) {
  moves <- which(
    rows$action %in% "group" & rows$student %in% sitting$students$student
  )
  if (!length(moves)) return(rows)
  made <- reckoned_groups(with_topics(sitting))
  places <- group_places(made$table, made$class)
  for (row in moves) {
    class <- made$class[match(rows$student[row], made$table$student)]
    here <- places[places$class %in% class, ]
    wanted <- rows$value[row]
    at <- which(here$to %in% wanted | as.character(here$group) %in% wanted)
    if (!length(at)) refuse_move(rows[row, ], here)
    rows$value[row] <- here$to[at[1]]
  }
  rows
}

refuse_move <- function(row, places) {
  if (!nrow(places)) {
    abort_pregunta(
      "call",
      say("judge-groups-moved.is_in_no_group", student = quoted(row$student)),
      NULL,
      say("judge-groups-moved.only_who_sat_it")
    )
  }
  numbered <- ifelse(
    is.na(places$group),
    places$to,
    paste0(places$group, " (", places$to, ")")
  )
  abort_pregunta(
    "call",
    say("judge-groups-moved.no_group_of_the_class", value = quoted(row$value)),
    say("judge-groups-moved.moved_is", student = row$student),
    say("judge-groups-moved.its_groups_are", places = some_of(numbered, 12)),
    value = row$value,
    choices = places$to
  )
}
