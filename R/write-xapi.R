# A sitting as statements of the standard: who answered which question how, with the
# question's wording, key and options as its definition.

# base: what the test is called as an activity. ids: the same answer has the same id every
# time, so that what is sent twice is there once.
statements_of_sitting <- function(sitting, base = activity_base(sitting), names = TRUE) {
  rows <- long_responses(sitting)
  type <- sitting$items$type[match(rows$item, sitting$items$item)]
  rows$response[is_points_cell(type)] <- NA
  nothing <- is.na(rows$response) & is.na(rows$points)
  rows <- rows[rows$state %in% c("answered", "pending") & !nothing, ]
  rows <- rows[order(rows$order), ]
  activities <- activities_of(sitting, base)
  people <- sitting$students
  name <- people$name[match(rows$student, people$student)]
  most <- sitting$items$points[match(rows$item, sitting$items$item)]
  submitted <- sitting$handed_in$rows$submitted[sitting$source$row]
  time <- submitted[match(rows$student, people$student)]
  lapply(seq_len(nrow(rows)), function(k) {
    answer_statement(
      student = rows$student[k],
      name = if (names) name[k],
      activity = activities[[rows$item[k]]],
      base = base,
      response = rows$response[k],
      points = rows$points[k],
      most = most[k],
      timestamp = time[k]
    )
  })
}

# What a test is called: as its settings say, else by its title.
activity_base <- function(sitting) {
  said <- as.character(unlist(sitting$settings$activity))
  if (length(said)) return(sub("/+$", "", said[1]))
  word <- gsub("[^a-z0-9]+", "-", tolower(sitting$settings$title))
  paste0("https://pregunta.invalid/", gsub("^-|-$", "", word))
}

answer_statement <- function(student, name, activity, base, response = NA, points = NA,
                             most = NA, timestamp = NULL, id = NULL) {
  kind <- activity$definition$interactionType
  known <- !is.na(points) && !is.na(most) && most > 0
  result <- list(
    response = if (!is.na(response)) as_pattern(response, kind),
    score = if (known) list(raw = points, min = 0, max = most),
    success = if (known) points >= most
  )
  if (is.null(id)) id <- uuid_of(paste(activity$id, student, response, points))
  # Read as this machine's clock showed it.
  read <- if (!is.null(timestamp)) {
    as.POSIXct(format(read_time(timestamp), "%Y-%m-%d %H:%M:%S"), tz = "")
  }
  list_of(
    id = id,
    actor = list_of(
      objectType = "Agent",
      name = if (!is.null(name) && !is.na(name)) name,
      account = list(homePage = base, name = student)
    ),
    verb = verb_named(answer_verb),
    object = activity,
    result = do.call(list_of, result),
    context = list(contextActivities = list(
      parent = list(list(objectType = "Activity", id = base))
    )),
    timestamp = if (length(read) && !is.na(read)) moment_of(read)
  )
}

answer_verb <- "answered"

verb_named <- function(name) {
  list(id = paste0("http://adlnet.gov/expapi/verbs/", name), display = list(en = name))
}

moment_of <- function(time) {
  paste0(format(as.POSIXct(time), "%Y-%m-%dT%H:%M:%OS3", tz = "UTC"), "Z")
}

# ---- the questions ----------------------------------------------------------------

# By the names of the items.
activities_of <- function(sitting, base) {
  items <- sitting$items
  made <- lapply(seq_len(nrow(items)), function(j) {
    item <- items[j, ]
    kind <- c(item_type(item$type)$xapi, "other")[1]
    prompt <- if (!is.null(item$prompt) && !is.na(item$prompt)) item$prompt
    list(
      objectType = "Activity",
      id = paste0(base, "/", utils::URLencode(item$item, reserved = TRUE)),
      definition = list_of(
        type = "http://adlnet.gov/expapi/activities/cmi.interaction",
        name = list(en = item$item),
        description = if (!is.null(prompt)) list(en = prompt),
        interactionType = kind,
        correctResponsesPattern = patterns_of(item, kind),
        choices = choices_of(sitting$options[sitting$options$item == item$item, ], kind)
      )
    )
  })
  stats::setNames(made, items$item)
}

patterns_of <- function(item, kind) {
  if (is.na(item$key)) return(NULL)
  as.list(as_pattern(split_parts(item$key, "|")[[1]], kind, as_key = TRUE))
}

# Marks of items.csv as the standard's: C>A is C[,]A, 1=B is 1[.]B, 3..4 is 3[:]4.
as_pattern <- function(text, kind, as_key = FALSE) {
  switch(kind,
    choice = gsub(" *; *", "[,]", text),
    sequencing = gsub(" *> *", "[,]", text),
    matching = gsub(" *= *", "[.]", gsub(" *; *", "[,]", text)),
    numeric = if (as_key) vapply(text, number_pattern, "", USE.NAMES = FALSE) else text,
    text
  )
}

number_pattern <- function(key) {
  ends <- as.vector(read_range(key))
  if (ends[1] == ends[2]) return(format_plain(ends[1]))
  paste(format_plain(ends), collapse = "[:]")
}

choices_of <- function(options, kind) {
  if (!kind %in% c("choice", "sequencing") || !nrow(options)) return(NULL)
  lapply(seq_len(nrow(options)), function(k) {
    text <- options$text[k]
    list_of(
      id = options$option[k],
      description = if (!is.null(text) && !is.na(text)) list(en = text)
    )
  })
}

write_xapi <- function(sitting, path) {
  statements <- statements_of_sitting(sitting, names = FALSE)
  # A question is the same for all who answered it: it is put into words once.
  name <- vapply(statements, function(one) one$object$id, "")
  first <- which(!duplicated(name))
  objects <- lapply(statements[first], function(one) json_of(one$object))
  lines <- vapply(seq_along(statements), function(k) {
    one <- statements[[k]]
    one$object <- objects[[match(name[k], name[first])]]
    json_line(one)
  }, "")
  write_text(lines, path)
}

json_of <- function(value) {
  jsonlite::toJSON(
    value, auto_unbox = TRUE, digits = NA, null = "null", json_verbatim = TRUE
  )
}

json_line <- function(value) as.character(json_of(value))
