# QTI results: an assessmentResult a student (2.1, 2.2 and 3.0).

# own: what items and options are called beside their identifiers (own_names()), by those.
results_bundle <- function(roots, origin, own = list()) {
  sessions <- lapply(seq_along(roots), function(k) session_rows(roots[[k]], k, own))
  parts <- lapply(sessions, `[[`, "rows")
  rows <- do.call(rbind, parts)
  if (is.null(rows)) {
    abort_pregunta(
      "input",
      say("read-qti-results.holds_results_without_an", origin = origin),
      NULL,
      say("read-qti-results.see_that_it_is")
    )
  }
  items <- result_items(do.call(rbind, lapply(sessions, `[[`, "items")))
  as_read <- sprintf("%09d", seq_len(nrow(rows)))
  rows$order <- rank(paste(rows$submitted, as_read))
  rows <- number_tries(rows)
  try <- if (is.null(rows$attempt)) {
    rep(1L, nrow(rows))
  } else {
    as.integer(rows$attempt)
  }
  rows <- rows[
    order(
      match(rows$student, unique(rows$student)),
      try,
      match(rows$item, items$item)
    ),
  ]
  rows <- rows[vapply(rows, function(x) any(x != ""), TRUE)]
  n_students <- length(unique(rows$student))
  told <- c("answer", "score", if (!is.null(rows$seconds)) "time")
  new_bundle(
    responses = rows,
    items = items,
    settings = list(missing_rows = "not given"),
    origin = origin,
    students = NULL,
    alone = TRUE,
    layout = list(shape = "qti"),
    account = rbind(
      account_line(
        "read_as",
        say("read-qti-results.qti_results_of_students", n = n_students)
      ),
      account_line("student", say("read-qti-results.sourcedid_of_the_context")),
      account_line(
        "questions",
        say(
          "read-qti-results.to_each_with",
          n = nrow(items),
          item = items$item[1],
          items_item = items$item[nrow(items)],
          seconds = join_words(told)
        )
      ),
      if (!is.null(rows$attempt)) {
        account_line(
          "attempt",
          say("read-qti-results.results_of_the_same")
        )
      }
    )
  )
}

# The rows of one document, and what it says of its items.
session_rows <- function(root, place, own) {
  context <- find_nodes(root, "context")
  student <- if (length(context)) attribute(context[[1]], "sourcedId") else NA
  if (is.na(student)) {
    student <- say("read-qti-results.document", place = place)
  }
  results <- find_nodes(root, "itemResult")
  results <- results[!is.na(attribute(results, "identifier"))]
  if (!length(results)) return(list())
  read <- lapply(results, item_result, own)
  pick <- function(name) {
    vapply(read, function(one) as.character(one[[name]]), "")
  }
  rows <- data.frame(
    student = student,
    item = pick("item"),
    response = said_or_blank(pick("response")),
    points = said_or_blank(pick("score")),
    seconds = said_or_blank(pick("seconds")),
    submitted = said_or_blank(pick("datestamp")),
    status = pick("status")
  )
  sequence <- suppressWarnings(as.numeric(pick("sequence")))
  items <- data.frame(
    item = rows$item,
    sequence = sequence,
    cardinality = pick("cardinality"),
    base = pick("base"),
    key = pick("key"),
    most = pick("most")
  )
  list(rows = rows, items = items)
}

item_result <- function(node, own) {
  id <- attribute(node, "identifier")
  own <- own[[id]]
  variables <- find_nodes(node, "responseVariable")
  names <- attribute(variables, "identifier")
  value_of <- function(name) {
    at <- which(names == name)
    if (length(at)) {
      response_text(variables[[at[1]]], "candidateResponse")
    } else {
      NA_character_
    }
  }
  asked <- variables[
    !names %in% c("duration", "numAttempts", "completionStatus")
  ]
  outcomes <- find_nodes(node, "outcomeVariable")
  score <- outcomes[attribute(outcomes, "identifier") %in% "SCORE"]
  one <- if (length(asked) == 1) asked[[1]]
  response <- if (length(asked) == 1) {
    response_text(one, "candidateResponse", own)
  } else if (length(asked)) {
    join_variables(asked)
  } else {
    NA_character_
  }
  points <- if (length(score)) {
    node_text(find_nodes(score[[1]], "value"))
  } else {
    NA_character_
  }
  waits <- is.na(points) &&
    identical(attribute(node, "sessionStatus"), "pendingResponseProcessing")
  list(
    item = if (is.null(own)) id else own$item,
    response = response,
    score = points,
    seconds = value_of("duration"),
    datestamp = attribute(node, "datestamp"),
    sequence = attribute(node, "sequenceIndex"),
    status = if (waits) "pending" else "",
    cardinality = if (is.null(one)) {
      (if (length(asked)) "several" else "none")
    } else {
      attribute(one, "cardinality")
    },
    base = if (is.null(one)) NA_character_ else attribute(one, "baseType"),
    key = if (is.null(one)) {
      NA_character_
    } else {
      response_text(one, "correctResponse", own)
    },
    most = if (length(score)) {
      attribute(score[[1]], "normalMaximum")
    } else {
      NA_character_
    }
  )
}

# The values of a response or a key, in the marks of items.csv.
response_text <- function(variable, name, own = NULL) {
  nodes <- find_nodes(find_nodes(variable, name), "value")
  values <- trim_blanks(xml2::xml_text(nodes))
  base <- attribute(variable, "baseType")
  if (base %in% named_bases) values <- by_own_names(values, own)
  value_text(values, attribute(variable, "cardinality"), base)
}

# Where values are names of options.
named_bases <- c("identifier", "directedPair", "pair")

value_text <- function(values, cardinality, base) {
  values <- values[nzchar(values)]
  if (!length(values)) return(NA_character_)
  if (base %in% "pair") {
    values <- vapply(strsplit(values, "\\s+"), function(ends) {
      paste(sort(ends), collapse = " ")
    }, "")
  }
  if (base %in% c("directedPair", "pair")) {
    apart <- !grepl("=", values, fixed = TRUE)
    values[apart] <- sub("^(\\S+)\\s+(\\S+)$", "\\1=\\2", values[apart])
  }
  paste(
    values,
    collapse = switch(cardinality, ordered = ">", ";")
  )
}

join_variables <- function(variables) {
  values <- vapply(
    variables,
    response_text,
    "",
    "candidateResponse"
  )
  if (all(is.na(values))) return(NA_character_)
  paste0(
    attribute(variables, "identifier"),
    ": ",
    or_blank(values),
    collapse = " / "
  )
}

# One row an item in its order, with the type that its variable has.
result_items <- function(seen) {
  first <- function(column) {
    vapply(split_in_order(seen[[column]], seen$item), function(x) {
      c(stats::na.omit(x), NA)[1]
    }, seen[[column]][1])
  }
  sequence <- first("sequence")
  key <- first("key")
  items <- data.frame(
    item = names(key),
    type = type_of_response(
      first("cardinality"),
      first("base"),
      key
    ),
    key = key,
    points = first("most"),
    standards = NA_character_,
    prompt = NA_character_,
    level = NA_character_,
    row.names = NULL
  )
  items[if (anyNA(sequence)) natural_order(items$item) else order(sequence), ]
}
