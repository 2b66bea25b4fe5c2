# xAPI statements: somebody answered or completed an activity.

is_statement <- function(one) {
  is.list(one) &&
    !is.null(one$actor) &&
    !is.null(one$verb) &&
    !is.null(one$object)
}

# As far as it is read. Text in several languages is a text by the language's code.
in_languages <- either_of(a_text, named_of(a_text))
choice_shape <- each_of(fields_of(id = a_text, description = in_languages, must = "id"))
statement_shape <- fields_of(
  actor = fields_of(
    name = a_text,
    mbox = a_text,
    mbox_sha1sum = a_text,
    openid = a_text,
    account = fields_of(name = a_text, homePage = a_text)
  ),
  verb = fields_of(id = a_text, must = "id"),
  object = fields_of(
    id = a_text,
    definition = fields_of(
      interactionType = a_text,
      correctResponsesPattern = each_of(a_text),
      name = in_languages,
      description = in_languages,
      choices = choice_shape,
      scale = choice_shape
    ),
    must = "id"
  ),
  result = fields_of(
    score = fields_of(raw = a_number, scaled = a_number, max = a_number),
    success = a_truth,
    response = a_text,
    duration = a_text
  ),
  timestamp = a_text,
  must = c("actor", "verb", "object")
)

statements_bundle <- function(statements, path) {
  statements <- Filter(Negate(is.null), statements)
  for (k in seq_along(statements)) {
    check_fields(statements[[k]], statement_shape, path, c("statements", k))
  }
  verb <- vapply(statements, function(one) {
    sub("^.*/", "", as.character(one$verb$id))
  }, "")
  answers <- statements[verb == "answered"]
  ends <- statements[verb %in% c("completed", "passed", "failed", "scored")]
  used <- if (length(answers)) answers else ends
  if (!length(used)) {
    verbs <- some_of(unique(verb), 8)
    abort_pregunta(
      "input",
      say("read-xapi.holds_no_statement_of", path = basename(path)),
      say("read-xapi.its_verbs_are", verb = verbs),
      say("read-xapi.statements_with_the_verb")
    )
  }
  used <- fill_definitions(used)
  rows <- statement_rows(used)
  rows$item <- activity_names(rows$activity)
  as_read <- sprintf("%09d", seq_len(nrow(rows)))
  rows$order <- rank(paste(rows$submitted, as_read))
  asked <- rows[!duplicated(rows$item), ]
  definitions <- lapply(used[!duplicated(rows$item)], function(one) {
    one$object$definition
  })
  items <- activity_items(
    asked$item,
    definitions,
    tapply(rows$most, rows$item, max, na.rm = TRUE)[asked$item]
  )
  items <- items[natural_order(items$item), ]
  options <- do.call(
    rbind,
    Map(activity_options, asked$item, definitions)
  )
  rownames(options) <- NULL
  responses <- number_tries(
    rows[
      c(
        "student", "item", "response", "points", "seconds", "submitted", "order"
      )
    ]
  )
  students <- data.frame(student = rows$student, name = rows$name)
  students <- students[!duplicated(students$student), ]
  new_bundle(
    responses = responses,
    items = items,
    options = options,
    origin = basename(path),
    alone = TRUE,
    settings = list(
      missing_rows = if (length(answers)) "blank" else "not given"
    ),
    layout = list(shape = "xapi"),
    students = students,
    account = rbind(
      account_line(
        "read_as",
        say(
          "read-xapi.xapi_statements_of_what",
          n = length(used),
          any_answers = length(answers)
        )
      ),
      account_line("student", say("read-xapi.account_mail_address_or")),
      account_line(
        "questions",
        say(
          "read-xapi.the_activities_to",
          n = nrow(items),
          item = items$item[1],
          items_item = items$item[nrow(items)]
        )
      ),
      if (!is.null(responses$attempt)) {
        account_line(
          "attempt",
          say("read-xapi.statements_of_the_same")
        )
      },
      if (length(statements) > length(used)) {
        account_line(
          "left_out",
          say(
            "read-xapi.statements_of_other_verbs",
            n = length(statements) - length(used)
          )
        )
      }
    )
  )
}

# An activity is often described only once; the other statements name it.
fill_definitions <- function(statements) {
  id <- vapply(
    statements,
    function(one) as.character(one$object$id),
    ""
  )
  said <- which(
    !vapply(
      statements,
      function(one) is.null(one$object$definition$interactionType),
      TRUE
    )
  )
  from <- said[match(id, id[said])]
  for (k in which(!is.na(from))) {
    statements[[k]]$object$definition <- statements[[from[k]]]$object$definition
  }
  statements
}

# A row a statement: who, which activity, what was answered, points and time.
statement_rows <- function(statements) {
  rows <- as.data.frame(data.table::rbindlist(lapply(statements, statement_row)))
  rows$student <- apart_by_home(rows$student, statements)
  rows
}

statement_row <- function(one) {
  result <- one$result
  score <- result$score
  kind <- one$object$definition$interactionType
  points <- if (!is.null(score$raw)) {
    score$raw
  } else if (!is.null(score$scaled)) {
    score$scaled
  } else if (!is.null(result$success)) {
    as.numeric(isTRUE(result$success))
  } else {
    NA
  }
  field <- function(value, none) as.character(c(value, none)[[1]])
  response <- pattern_text(field(result$response, NA), kind)
  most <- if (!is.null(score$max)) {
    score$max
  } else if (is.null(score$raw)) {
    1
  } else {
    NA
  }
  seconds <- if (is.null(result$duration)) {
    NA_real_
  } else {
    read_seconds(sub("^PT", "", field(result$duration, "")))
  }
  list(
    student = actor_id(one$actor),
    name = field(one$actor$name, NA),
    activity = as.character(one$object$id),
    response = said_or_blank(response),
    points = if (is.na(points)) {
      ""
    } else {
      said_or_blank(format_plain(read_number(as.character(points))))
    },
    most = if (is.na(most)) NA_real_ else read_number(as.character(most)),
    seconds = if (is.na(seconds)) "" else said_or_blank(format_plain(seconds)),
    submitted = field(one$timestamp, "")
  )
}

actor_id <- function(actor) {
  id <- c(
    actor$account$name,
    sub("^mailto:", "", c(actor$mbox, character())),
    actor$openid,
    actor$mbox_sha1sum,
    actor$name,
    say("read-xapi.no_actor")
  )
  as.character(id[[1]])
}

# An account's name is one person's only where it is kept: with the address of that place
# where a name is kept in several.
apart_by_home <- function(id, statements) {
  home <- vapply(statements, function(one) {
    as.character(c(one$actor$account$homePage, "")[[1]])
  }, "")
  places <- unique(data.frame(id, home))
  again <- id %in% places$id[duplicated(places$id)] & home != ""
  id[again] <- paste0(id[again], " (", home[again], ")")
  id
}

# The last part of the activity's address, where that is enough to tell.
activity_names <- function(addresses) {
  distinct <- unique(addresses)
  short <- sub("[/#]+$", "", distinct)
  short <- utils::URLdecode(sub("^.*[/#:=]", "", short))
  if (anyDuplicated(short)) {
    short <- distinct
  }
  short[match(addresses, distinct)]
}

# a[,]b, 1[.]B[,]2[.]A and 3[:]4 in the marks of items.csv.
pattern_text <- function(pattern, kind) {
  if (is.na(pattern)) return(pattern)
  pattern <- gsub(
    "\\{(case_matters|order_matters|lang)=[^}]*\\}",
    "",
    pattern
  )
  join <- switch(c(kind, "")[[1]], sequencing = ">", ";")
  pattern <- gsub("[.]", "=", pattern, fixed = TRUE)
  pattern <- gsub("[:]", "..", pattern, fixed = TRUE)
  gsub("[,]", join, pattern, fixed = TRUE)
}

activity_items <- function(items, definitions, most) {
  kind <- vapply(
    definitions,
    function(one) as.character(c(one$interactionType, NA)[[1]]),
    ""
  )
  pattern <- lapply(definitions, function(one) {
    unlist(one$correctResponsesPattern)
  })
  key <- vapply(seq_along(items), function(k) {
    if (!length(pattern[[k]])) return(NA_character_)
    paste(
      vapply(pattern[[k]], pattern_text, "", kind[k]),
      collapse = "|"
    )
  }, "")
  type <- type_of_activity(kind, key)
  key[is_marked(type)] <- NA
  most[!is.finite(most)] <- NA
  data.frame(
    item = items,
    type = unname(type),
    key = key,
    points = format_plain(as.vector(most)),
    standards = NA_character_,
    prompt = vapply(definitions, function(one) {
      in_words(one$description, one$name)
    }, ""),
    level = NA_character_
  )
}

# The first language of a text in several.
in_words <- function(...) {
  for (text in list(...)) if (length(text)) return(as.character(text[[1]]))
  NA_character_
}

activity_options <- function(item, definition) {
  choices <- c(definition$choices, definition$scale)
  if (!length(choices)) return(NULL)
  data.frame(
    item = item,
    option = vapply(
      choices,
      function(one) as.character(one$id),
      ""
    ),
    text = vapply(
      choices,
      function(one) in_words(one$description),
      ""
    ),
    misconception = NA_character_
  )
}
