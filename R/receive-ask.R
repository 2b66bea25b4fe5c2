# The reading side: statements that are kept, asked for by id or by what they are about.

most_at_once <- 100

one_questions <- c("statementId", "voidedStatementId")
any_questions <- c("attachments", "format")
list_questions <- c(
  "agent", "verb", "activity", "registration", "related_activities", "related_agents",
  "since", "until", "limit", "ascending"
)

get_statements <- function(receiver, allowed, request) {
  query <- request$query
  from <- 0
  if (!is.null(query$more)) {
    told <- told_by_more(query$more)
    query <- told$query
    from <- told$from
  }
  check_query(query)
  one <- intersect(one_questions, names(query))
  if (length(one)) return(get_one(receiver, allowed, query, one))
  for (name in allowed) look_on(test_of_receiver(receiver, name)$store)
  found <- find_statements(receiver, allowed, query, from)
  said <- lapply(found$statements, in_format, query$format)
  json_answer(
    200,
    list(statements = said, more = more_of(query, found$next_from)),
    consistent_header()
  )
}

consistent_header <- function() {
  list(`X-Experience-API-Consistent-Through` = moment_of(Sys.time()))
}

check_query <- function(query) {
  twice <- names(query)[duplicated(names(query))]
  known <- c(one_questions, any_questions, list_questions)
  strange <- c(twice, setdiff(names(query), known))
  if (length(strange)) {
    refuse(400, say("receive-ask.no_such_question", name = printable(strange[1])))
  }
  one <- intersect(one_questions, names(query))
  if (length(one) && length(setdiff(names(query), c(one, any_questions))) ||
    length(one) > 1) {
    refuse(400, say("receive-ask.one_by_its_id_alone"))
  }
  check_forms(query)
}

# What each parameter has to look like.
check_forms <- function(query) {
  forms <- c(
    statementId = uuid_form, voidedStatementId = uuid_form, registration = uuid_form,
    verb = iri_form, activity = iri_form, limit = "^[0-9]{1,9}$",
    ascending = "^(true|false)$", related_activities = "^(true|false)$",
    related_agents = "^(true|false)$",
    attachments = "^false$", format = "^(exact|ids|canonical)$"
  )
  for (name in intersect(names(query), names(forms))) {
    value <- query[[name]]
    if (!grepl(forms[[name]], value, perl = TRUE)) wrong_value(name, value)
  }
  for (name in intersect(names(query), c("since", "until"))) {
    fault <- is_moment(query[[name]], name)
    if (!is.null(fault)) wrong_value(name, query[[name]])
  }
}

wrong_value <- function(name, value) {
  value <- quoted(shorten(printable(value), 60))
  refuse(400, say("receive-ask.wrong_value", name = name, value = value))
}

# A statement that was made void is there under another name of the question only.
get_one <- function(receiver, allowed, query, one) {
  id <- query[[one]]
  for (name in allowed) {
    store <- test_of_receiver(receiver, name)$store
    look_on(store)
    at <- place_of(store, id)
    fits <- !is.na(at) && is_made_void(store, id) == (one == "voidedStatementId")
    if (!fits) next
    statement <- stored_statements(store, at)[[1]]
    changed <- http_date(read_moment(statement$stored))
    return(json_answer(
      200,
      in_format(statement, query$format),
      c(list(`Last-Modified` = changed), consistent_header())
    ))
  }
  refuse(404, say("receive-ask.no_such_statement"))
}

# The names of days and months are English there, whatever the machine speaks.
http_date <- function(time) {
  day <- c("Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat")
  parts <- as.POSIXlt(time, tz = "UTC")
  date <- sprintf("%02d %s %d", parts$mday, month.abb[parts$mon + 1], 1900 + parts$year)
  clock <- format(time, "%H:%M:%S", tz = "UTC")
  paste(paste0(day[parts$wday + 1], ","), date, clock, "GMT")
}

# ---- several ----------------------------------------------------------------------

# from: how many places of the order were looked at before.
find_statements <- function(receiver, allowed, query, from) {
  places <- places_in_order(receiver, allowed, query)
  limit <- as.numeric(c(query$limit, most_at_once)[1])
  if (limit == 0 || limit > most_at_once) limit <- most_at_once
  wanted <- wanted_by(query)
  found <- list()
  while (from < nrow(places) && length(found) < limit) {
    at <- seq(from + 1, min(from + limit - length(found), nrow(places)))
    for (k in at) {
      store <- test_of_receiver(receiver, places$test[k])$store
      one <- stored_statements(store, places$row[k])[[1]]
      if (!is.null(one) && wanted(one)) found <- c(found, list(one))
    }
    from <- max(at)
  }
  list(statements = found, next_from = if (from < nrow(places)) from)
}

places_in_order <- function(receiver, allowed, query) {
  parts <- lapply(allowed, function(name) {
    store <- test_of_receiver(receiver, name)$store
    about <- store$about
    gone <- vapply(about$id, function(id) is.na(id) || is_made_void(store, id), TRUE)
    row <- which(!gone)
    data.frame(test = rep(name, length(row)), row = row, stored = about$stored[row])
  })
  places <- do.call(rbind, parts)
  if (!is.null(query$since) || !is.null(query$until)) {
    stored <- as.POSIXct(strptime(places$stored, "%Y-%m-%dT%H:%M:%OSZ", tz = "UTC"))
    since <- if (is.null(query$since)) -Inf else as.numeric(read_moment(query$since))
    until <- if (is.null(query$until)) Inf else as.numeric(read_moment(query$until))
    # Kept to the thousandth, where a number is a little less than what it stands for.
    kept <- round(as.numeric(stored), 3) > round(since, 3) &
      round(as.numeric(stored), 3) <= round(until, 3)
    places <- places[which(kept), ]
  }
  forward <- order(places$stored, seq_len(nrow(places)), method = "radix")
  if (identical(query$ascending, "true")) {
    return(places[forward, ])
  }
  places[rev(forward), ]
}

wanted_by <- function(query) {
  agent <- if (!is.null(query$agent)) agent_asked(query$agent)
  related <- identical(query$related_activities, "true")
  anywhere <- identical(query$related_agents, "true")
  function(one) {
    addresses <- if (related) all_activities(one) else as.character(one$object$id)
    registration <- tolower(paste0("", one$context$registration))
    fits <- c(
      is.null(query$verb) || identical(one$verb$id, query$verb),
      is.null(query$activity) || query$activity %in% addresses,
      is.null(query$registration) || registration == tolower(query$registration),
      is.null(agent) || any(vapply(agents_in(one, anywhere), is_same_agent, TRUE, agent))
    )
    all(fits)
  }
}

all_activities <- function(one) {
  lists <- unlist(lapply(one$context$contextActivities, function(some) {
    if (is_object(some)) list(some) else some
  }), recursive = FALSE)
  c(one$object$id, vapply(lists, function(activity) activity$id, ""))
}

# Who a statement names: its actor and object, and, where it is asked anywhere, who takes
# part besides, the members of groups and the same of a statement within.
agents_in <- function(one, anywhere) {
  named <- list(one$actor, one$object)
  if (anywhere) {
    within <- identical(one$object$objectType, "SubStatement")
    named <- c(
      named,
      list(one$authority, one$context$instructor, one$context$team),
      if (within) agents_in(one$object, TRUE)
    )
    named <- c(named, unlist(lapply(named, function(who) who$member), recursive = FALSE))
  }
  Filter(is_object, named)
}

agent_asked <- function(text) {
  agent <- tryCatch(
    jsonlite::fromJSON(text, simplifyVector = FALSE),
    error = function(e) NULL
  )
  if (!is_object(agent) || !is.null(an_actor(agent, "agent"))) wrong_value("agent", text)
  agent
}

is_same_agent <- function(one, agent) {
  how <- intersect(names(agent), names_of_one)[1]
  !is.na(how) && identical(with_names_sorted(one[[how]]), with_names_sorted(agent[[how]]))
}

# ids: only what tells who and what, without the words.
in_format <- function(statement, format) {
  if (!identical(format, "ids")) return(statement)
  bare <- function(one) one[intersect(names(one), c("objectType", "id", names_of_one))]
  statement$actor <- bare(statement$actor)
  statement$verb <- statement$verb["id"]
  if (is.null(statement$object$actor)) statement$object <- bare(statement$object)
  statement
}

# ---- the rest of a long answer ----------------------------------------------------

more_of <- function(query, from) {
  if (is.null(from)) return("")
  # What comes later does not move what was counted.
  if (is.null(query$until)) query$until <- moment_of(Sys.time())
  told <- json_line(list(query = query, from = from))
  code <- chartr("+/", "-_", gsub("[\n=]", "", jsonlite::base64_enc(charToRaw(told))))
  paste0(statements_path, "?more=", code)
}

told_by_more <- function(code) {
  told <- tryCatch(
    {
      padding <- strrep("=", -nchar(code) %% 4)
      code <- paste0(chartr("-_", "+/", code), padding)
      text <- rawToChar(jsonlite::base64_dec(code))
      jsonlite::fromJSON(text, simplifyVector = FALSE)
    },
    error = function(e) NULL
  )
  query <- told$query
  sound <- is.list(query) && all(vapply(query, is.character, TRUE)) &&
    all(lengths(query) == 1) && is.numeric(told$from) && told$from >= 0
  if (!isTRUE(sound)) wrong_value("more", code)
  list(query = query, from = told$from)
}
