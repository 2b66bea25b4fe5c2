# QTI items (2.1, 2.2 and 3.0): prompt, choices, key, points, feedback.

# codes: the standards of each item, where a manifest says them.
items_bundle <- function(roots, origin, codes = rep(NA_character_, length(roots))) {
  read <- Map(read_qti_item, roots, codes)
  items <- do.call(rbind, lapply(read, `[[`, "item"))
  rownames(items) <- NULL
  twice <- duplicated(items$item)
  said <- say(
    "read-qti-items.qti_items",
    n = nrow(items),
    type = say_types(items$type)
  )
  new_bundle(
    items = items[!twice, ],
    options = do.call(rbind, lapply(read, `[[`, "options")),
    origin = origin,
    account = account_line("read_as", said)
  )
}

interactions <- c(
  "choiceInteraction", "orderInteraction", "matchInteraction",
  "associateInteraction", "textEntryInteraction", "extendedTextInteraction",
  "inlineChoiceInteraction", "hottextInteraction", "gapMatchInteraction",
  "selectPointInteraction", "hotspotInteraction", "sliderInteraction",
  "uploadInteraction"
)

read_qti_item <- function(root, codes) {
  own <- own_names(root)
  body <- find_nodes(root, "itemBody")
  found <- unlist(
    lapply(interactions, function(name) as.list(find_within(body, name))),
    recursive = FALSE
  )
  asked <- if (length(found)) found[[1]]
  declared <- find_nodes(root, "responseDeclaration")
  mine <- if (!is.null(asked)) {
    declared[
      attribute(declared, "identifier") %in% attribute(
        asked,
        "responseIdentifier"
      )
    ]
  }
  declaration <- if (length(mine)) mine[[1]]
  key <- if (length(found) == 1 && !is.null(declaration)) {
    item_key(declaration, asked, root, own)
  } else {
    list(
      type = type_by_hand(answered = length(found) > 0),
      key = NA_character_,
      scoring = NA_character_,
      points = NA
    )
  }
  points <- item_points(root, key$points)
  list(
    item = data.frame(
      item = own$item,
      type = key$type,
      key = key$key,
      points = format_plain(points),
      scoring = key$scoring,
      prompt = item_prompt(root, body, asked),
      rationale = item_rationale(root),
      standards = codes,
      level = NA_character_
    ),
    options = item_options(own, asked)
  )
}

# As documents say what wrote them.
own_tool <- "pregunta"

# What an item and its options are called beside their identifiers, which XML allows few
# letters for: as their labels say in what this package wrote. The ends of pairs stand in
# two sets, each with names of its own.
own_names <- function(root) {
  id <- attribute(root, "identifier")
  if (!identical(attribute(root, "toolName"), own_tool)) return(list(item = id))
  choices <- c(
    as.list(find_within(root, "simpleChoice")),
    as.list(find_within(root, "simpleAssociableChoice"))
  )
  ids <- vapply(choices, attribute, "", "identifier")
  labels <- vapply(choices, attribute, "", "label")
  list(
    item = or_else(attribute(root, "label"), id),
    options = stats::setNames(or_else(labels, ids), ids)
  )
}

# Values of a response by those names.
by_own_names <- function(values, own) {
  if (is.null(own$options)) return(values)
  ends <- strsplit(values, " ", fixed = TRUE)
  paired <- lengths(ends) == 2
  whole <- or_else(unname(own$options[values]), values)
  whole[paired] <- vapply(ends[paired], function(two) {
    paste(or_else(unname(own$options[two]), two), collapse = "=")
  }, "")
  whole
}

# Type, key and scoring of an item with one interaction.
item_key <- function(declaration, asked, root, own) {
  cardinality <- attribute(declaration, "cardinality")
  base <- attribute(declaration, "baseType")
  correct <- response_text(declaration, "correctResponse", own)
  map <- item_mapping(declaration)
  if (!is.null(map) && base %in% named_bases) map$key <- by_own_names(map$key, own)
  if (is.na(correct) && !is.null(map)) {
    right <- map$key[map$value == max(map$value) & map$value > 0]
    if (cardinality == "multiple") {
      right <- map$key[map$value > 0]
    }
    correct <- value_text(
      right,
      if (cardinality == "single") "multiple" else cardinality,
      base
    )
  }
  type <- type_of_response(cardinality, base, correct)
  by_hand <- c(
    "extendedTextInteraction", "uploadInteraction", "selectPointInteraction"
  )
  if (is.na(type) || node_name(asked) %in% by_hand) {
    type <- type_by_hand(answered = TRUE)
    correct <- NA_character_
  }
  qti <- item_type(type)$qti
  if (qti$maps %in% c("always", "several") && !is.null(map)) {
    correct <- paste(map$key[map$value == max(map$value)], collapse = "|")
  }
  if (!is.null(qti$tolerance)) {
    correct <- with_tolerance(correct, root)
  }
  list(
    type = type,
    key = correct,
    scoring = item_scoring(type, map, root),
    points = mapped_points(map, cardinality)
  )
}

# The values of a mapping, by response or by area of a picture.
item_mapping <- function(declaration) {
  entries <- find_nodes(find_nodes(declaration, "mapping"), "mapEntry")
  areas <- find_nodes(find_nodes(declaration, "areaMapping"), "areaMapEntry")
  if (!length(entries) && !length(areas)) return(NULL)
  key <- c(
    sub(
      "^(\\S+) (\\S+)$",
      "\\1 \\2",
      attribute(entries, "mapKey")
    ),
    attribute(areas, "coords")
  )
  bound <- attribute(
    find_nodes(declaration, c("mapping", "areaMapping")[1 + !length(entries)]),
    "upperBound"
  )
  value <- c(attribute(entries, "mappedValue"), attribute(areas, "mappedValue"))
  mapped <- data.frame(key = key, value = as.numeric(value))
  attr(mapped, "bound") <- suppressWarnings(as.numeric(c(bound, NA)[1]))
  mapped
}

mapped_points <- function(map, cardinality) {
  if (is.null(map)) return(NA_real_)
  most <- if (cardinality == "single") {
    max(map$value)
  } else {
    sum(map$value[map$value > 0])
  }
  if (is.na(attr(map, "bound"))) most else min(most, attr(map, "bound"))
}

# Parts earn by themselves where a mapping gives them values, or where response
# processing looks at the places of an order one by one.
item_scoring <- function(type, map, root) {
  qti <- item_type(type)$qti
  if (qti$maps == "each" && !is.null(map) && sum(map$value > 0) > 1) {
    return("each")
  }
  if (qti$by_place &&
    length(find_within(find_nodes(root, "responseProcessing"), "index"))) {
    return("each")
  }
  NA_character_
}

with_tolerance <- function(key, root) {
  equal <- find_within(find_nodes(root, "responseProcessing"), "equal")
  tolerance <- if (length(equal)) attribute(equal[[1]], "tolerance") else NA
  if (is.na(tolerance)) return(key)
  said <- strsplit(trimws(tolerance), "\\s+")[[1]]
  parts <- rep_len(as.numeric(said), 2)
  if (identical(attribute(equal[[1]], "toleranceMode"), "relative")) {
    parts <- parts / 100 * abs(as.numeric(key))
  }
  if (parts[1] == parts[2]) {
    return(paste0(key, "\u00b1", format_plain(parts[1])))
  }
  paste0(
    format_plain(as.numeric(key) - parts[1]),
    "..",
    format_plain(as.numeric(key) + parts[2])
  )
}

# The most that SCORE can be, said or mapped; else one point.
item_points <- function(root, mapped) {
  outcomes <- find_nodes(root, "outcomeDeclaration")
  said <- attribute(outcomes, "normalMaximum")[
    attribute(outcomes, "identifier") %in% c("SCORE", "MAXSCORE")
  ]
  max_score <- outcomes[attribute(outcomes, "identifier") %in% "MAXSCORE"]
  default <- if (length(max_score)) {
    node_text(find_within(max_score[[1]], "value"))
  } else {
    NA
  }
  candidates <- suppressWarnings(as.numeric(c(said, default, mapped)))
  c(candidates[!is.na(candidates) & candidates > 0], 1)[1]
}

item_prompt <- function(root, body, asked) {
  prompt <- if (!is.null(asked)) find_nodes(asked, "prompt")
  if (length(prompt) && !is.na(node_text(prompt))) return(node_text(prompt))
  copy <- xml2::read_xml(as.character(if (length(body)) body[[1]] else root))
  for (name in c(
    interactions, "rubricBlock", "feedbackBlock", "feedbackInline"
  )) {
    gone <- find_within(copy, name)
    if (length(gone)) {
      xml2::xml_replace(gone, xml2::read_xml("<span> ___ </span>"))
    }
  }
  text <- gsub("(^( ?___ ?)+)|(( ?___ ?)+$)", "", node_text(copy))
  if (is.na(text) || !nzchar(text)) attribute(root, "title") else text
}

item_rationale <- function(root) {
  nodes <- c(
    as.list(find_nodes(root, "modalFeedback")),
    as.list(find_within(root, "feedbackBlock"))
  )
  texts <- unique(stats::na.omit(vapply(nodes, node_text, "")))
  if (length(texts)) paste(texts, collapse = " ") else NA_character_
}

item_options <- function(own, asked) {
  if (is.null(asked) ||
    !node_name(asked) %in% c(
      "choiceInteraction", "inlineChoiceInteraction", "orderInteraction",
      "hottextInteraction"
    )) {
    return(NULL)
  }
  choices <- c(
    as.list(find_within(asked, "simpleChoice")),
    as.list(find_within(asked, "inlineChoice")),
    as.list(find_within(asked, "hottext"))
  )
  if (!length(choices)) return(NULL)
  data.frame(
    item = own$item,
    option = by_own_names(vapply(choices, attribute, "", "identifier"), own),
    text = vapply(choices, choice_text, ""),
    misconception = NA_character_
  )
}

# Without the feedback that stands inside a choice.
choice_text <- function(choice) {
  copy <- xml2::read_xml(as.character(choice))
  xml2::xml_remove(find_within(copy, "feedbackInline"))
  node_text(copy)
}
