# A question as a QTI item: prompt, choices, key, points and feedback.

item_document <- function(sitting, j, version) {
  item <- sitting$items[j, ]
  options <- sitting$options[sitting$options$item == item$item, ]
  space <- paste0(
    "http://www.imsglobal.org/xsd/",
    if (version == "3.0") "imsqtiasi_v3p0" else "imsqti_v2p2"
  )
  qti <- item_type(item$type)$qti
  by_hand <- is_marked(item$type)
  document_lines(
    element(
      "assessmentItem",
      xmlns = space,
      identifier = item$item,
      title = if (is.na(item$prompt)) item$item else item$prompt,
      adaptive = "false",
      timeDependent = "false",
      label = if (!is.na(item$standards)) item$standards,
      if (!is.null(qti$interaction)) response_declaration(item, qti),
      element(
        "outcomeDeclaration",
        identifier = "SCORE",
        cardinality = "single",
        baseType = "float",
        normalMaximum = format_plain(item$points),
        externalScored = if (by_hand) "human"
      ),
      element("itemBody", item_interaction(item, options, qti)),
      if (!by_hand && !is.na(item$key)) response_processing(item, qti),
      if (!is.na(item$rationale)) {
        element(
          "modalFeedback",
          outcomeIdentifier = "FEEDBACK",
          identifier = "rationale",
          showHide = "show",
          element("p", item$rationale)
        )
      }
    ),
    version
  )
}

response_declaration <- function(item, qti) {
  element(
    "responseDeclaration",
    identifier = "RESPONSE",
    cardinality = qti$cardinality,
    baseType = qti$base,
    if (!is.na(item$key)) with_values("correctResponse", key_values(item)),
    key_mapping(item, qti)
  )
}

# What each value earns, where there is more to say than one right response.
key_mapping <- function(item, qti) {
  if (is.na(item$key)) return(NULL)
  alternatives <- split_parts(item$key, "|")[[1]]
  entry <- function(key, value) {
    element(
      "mapEntry",
      mapKey = key,
      mappedValue = format_plain(value)
    )
  }
  by_alternative <- qti$maps == "always" ||
    (qti$maps == "several" && length(alternatives) > 1)
  if (by_alternative) {
    return(element(
      "mapping",
      defaultValue = "0",
      lapply(alternatives, entry, item$points)
    ))
  }
  if (qti$maps != "each" || item$scoring != "each") return(NULL)
  right <- key_values(item)
  element(
    "mapping",
    defaultValue = format_plain(qti$wrong(item, right)),
    lowerBound = "0",
    upperBound = format_plain(item$points),
    lapply(right, entry, item$points / length(right))
  )
}

item_interaction <- function(item, options, qti) {
  asked <- if (is.na(item$prompt)) item$item else item$prompt
  if (is.null(qti$interaction)) return(element("p", asked))
  attributes <- if (is.function(qti$attributes)) {
    qti$attributes(item)
  } else {
    qti$attributes
  }
  interaction <- function(...) {
    do.call(
      element,
      c(
        list(qti$interaction, responseIdentifier = "RESPONSE"), attributes,
        list(...)
      )
    )
  }
  # A place to write stands in the text; all others have their question inside.
  if (qti$interaction == "textEntryInteraction") {
    return(element("p", element("span", asked), interaction()))
  }
  interaction(
    element("prompt", asked),
    interaction_choices(item, options, qti)
  )
}

interaction_choices <- function(item, options, qti) {
  shown <- function(name, ids, ...) {
    lapply(ids, function(id) {
      text <- options$text[match(id, options$option)]
      element(
        name,
        identifier = id,
        ...,
        if (is.na(text)) id else text
      )
    })
  }
  if (qti$choices == "pairs") {
    return(lapply(pair_ids(item), function(side) {
      element(
        "simpleMatchSet",
        shown("simpleAssociableChoice", side, matchMax = "1")
      )
    }))
  }
  if (qti$choices == "options") {
    shown("simpleChoice", option_ids(item, options, qti))
  }
}

# The identifiers of the options: as they are listed, else those that the key names.
option_ids <- function(item, options, qti) {
  if (nrow(options)) return(options$option)
  if (is.na(item$key)) return(character())
  alternatives <- if (qti$maps == "several") split_parts(item$key, "|")[[1]]
  values <- c(key_values(item), alternatives)
  sort(unique(values))
}

# The two sides of pairs.
pair_ids <- function(item) {
  if (is.na(item$key)) return(list())
  pairs <- strsplit(key_values(item), " ")
  list(vapply(pairs, `[`, "", 1), sort(vapply(pairs, `[`, "", 2)))
}

# The rule in QTI's own terms: the standard templates where they say it.
response_processing <- function(item, qti) {
  template <- function(name) {
    element(
      "responseProcessing",
      template = paste0(
        "http://www.imsglobal.org/question/qti_v2p2/rptemplates/",
        name
      )
    )
  }
  if (!is.null(qti$tolerance)) return(number_processing(item, qti))
  if (qti$by_place && item$scoring == "each") return(order_processing(item))
  if (!is.null(key_mapping(item, qti))) return(template("map_response"))
  if (item$points == 1) return(template("match_correct"))
  set_score(
    element(
      "match",
      element("variable", identifier = "RESPONSE"),
      element("correct", identifier = "RESPONSE")
    ),
    item$points
  )
}

set_score <- function(condition, points) {
  value <- element(
    "baseValue",
    baseType = "float",
    format_plain(points)
  )
  score <- element("setOutcomeValue", identifier = "SCORE", value)
  rule <- element(
    "responseCondition",
    element("responseIf", condition, score)
  )
  element("responseProcessing", rule)
}

number_processing <- function(item, qti) {
  half <- qti$tolerance(item$key)
  set_score(
    element(
      "equal",
      toleranceMode = "absolute",
      tolerance = paste(half, half),
      element("variable", identifier = "RESPONSE"),
      element("correct", identifier = "RESPONSE")
    ),
    item$points
  )
}

# Each place of the order that is right earns its part.
order_processing <- function(item) {
  key <- key_values(item)
  part <- format_plain(item$points / length(key))
  places <- lapply(seq_along(key), function(k) {
    here <- element(
      "index",
      n = k,
      element("variable", identifier = "RESPONSE")
    )
    right <- element("baseValue", baseType = "identifier", key[k])
    sum <- element(
      "sum",
      element("variable", identifier = "SCORE"),
      element("baseValue", baseType = "float", part)
    )
    earns <- element("setOutcomeValue", identifier = "SCORE", sum)
    is_right <- element("match", here, right)
    element(
      "responseCondition",
      element("responseIf", is_right, earns)
    )
  })
  element("responseProcessing", places)
}

manifest_document <- function(sitting, files, version) {
  kind <- if (version == "3.0") "imsqti_item_xmlv3p0" else "imsqti_item_xmlv2p2"
  resources <- lapply(files, function(file) {
    element(
      "resource",
      identifier = gsub(
        "[^a-z0-9]",
        "-",
        sub("[.]xml$", "", file)
      ),
      href = file,
      type = if (startsWith(file, "items")) {
        kind
      } else {
        "associatedcontent/learning-application-resource"
      },
      element("file", href = file)
    )
  })
  document_lines(
    element(
      "manifest",
      xmlns = "http://www.imsglobal.org/xsd/imscp_v1p1",
      identifier = "pregunta-package",
      element(
        "metadata",
        element("schema", "QTI Package"),
        element("schemaversion", version)
      ),
      element("organizations"),
      element("resources", resources)
    ),
    "2.2"
  )
}
