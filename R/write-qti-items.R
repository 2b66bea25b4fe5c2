# A question as a QTI item: prompt, choices, key, points and feedback.

item_document <- function(sitting, j, version) {
  item <- sitting$items[j, ]
  options <- sitting$options[sitting$options$item == item$item, ]
  space <- paste0("http://www.imsglobal.org/xsd/", if (version == "3.0") "imsqtiasi_v3p0" else "imsqti_v2p2")
  by_hand <- item$type %in% c("mark", "open")
  document_lines(element("assessmentItem", xmlns = space, identifier = item$item,
    title = if (is.na(item$prompt)) item$item else item$prompt, adaptive = "false", timeDependent = "false",
    label = if (!is.na(item$standards)) item$standards,
    if (item$type != "mark") response_declaration(item),
    element("outcomeDeclaration", identifier = "SCORE", cardinality = "single", baseType = "float",
      normalMaximum = format_plain(item$points), externalScored = if (by_hand) "human"),
    element("itemBody", item_interaction(item, options)),
    response_processing(item),
    if (!is.na(item$rationale)) element("modalFeedback", outcomeIdentifier = "FEEDBACK", identifier = "rationale",
      showHide = "show", element("p", item$rationale))
  ), version)
}

response_declaration <- function(item) {
  form <- response_form(item$type)
  element("responseDeclaration", identifier = "RESPONSE", cardinality = form$cardinality, baseType = form$base,
    if (!is.na(item$key)) with_values("correctResponse", key_values(item)),
    key_mapping(item))
}

# What each value earns, where there is more to say than one right response.
key_mapping <- function(item) {
  if (is.na(item$key)) return(NULL)
  alternatives <- split_parts(item$key, "|")[[1]]
  entry <- function(key, value) element("mapEntry", mapKey = key, mappedValue = format_plain(value))
  if (item$type == "text" || (item$type == "choice" && length(alternatives) > 1)) {
    return(element("mapping", defaultValue = "0", lapply(alternatives, entry, item$points)))
  }
  if (item$scoring != "each" || item$type == "order") return(NULL)
  right <- key_values(item)
  element("mapping", defaultValue = if (item$type == "multiple") format_plain(-item$points / length(right)) else "0",
    lowerBound = "0", upperBound = format_plain(item$points), lapply(right, entry, item$points / length(right)))
}

item_interaction <- function(item, options) {
  prompt <- element("prompt", if (is.na(item$prompt)) item$item else item$prompt)
  shown <- function(name, ids, ...) {
    lapply(ids, function(id) {
      text <- options$text[match(id, options$option)]
      element(name, identifier = id, ..., if (is.na(text)) id else text)
    })
  }
  ids <- if (nrow(options)) options$option else if (is.na(item$key)) character() else unlist(option_ids(item))
  switch(item$type,
    choice = element("choiceInteraction", responseIdentifier = "RESPONSE", shuffle = "false", maxChoices = "1", prompt,
      shown("simpleChoice", ids)),
    multiple = element("choiceInteraction", responseIdentifier = "RESPONSE", shuffle = "false", maxChoices = "0",
      prompt,
      shown("simpleChoice", ids)),
    order = element("orderInteraction", responseIdentifier = "RESPONSE", shuffle = "true", prompt,
      shown("simpleChoice", ids)),
    match = element("matchInteraction", responseIdentifier = "RESPONSE", shuffle = "false", maxAssociations = "0",
      prompt,
      lapply(option_ids(item), function(side) {
        element("simpleMatchSet", shown("simpleAssociableChoice", side, matchMax = "1"))
      })),
    open = element("extendedTextInteraction", responseIdentifier = "RESPONSE", prompt),
    mark = element("p", if (is.na(item$prompt)) item$item else item$prompt),
    element("p", element("span", if (is.na(item$prompt)) item$item else item$prompt),
      element("textEntryInteraction", responseIdentifier = "RESPONSE"))
  )
}

# The identifiers that a key names; for pairs the two sides.
option_ids <- function(item) {
  values <- key_values(item)
  if (item$type != "match") return(list(sort(unique(c(values,
    if (item$type == "choice") split_parts(item$key, "|")[[1]])))))
  pairs <- strsplit(values, " ")
  list(vapply(pairs, `[`, "", 1), sort(vapply(pairs, `[`, "", 2)))
}

# The rule in QTI's own terms: the standard templates where they say it.
response_processing <- function(item) {
  template <- function(name) {
    element("responseProcessing", template = paste0("http://www.imsglobal.org/question/qti_v2p2/rptemplates/", name))
  }
  if (item$type %in% c("mark", "open") || is.na(item$key)) return(NULL)
  if (item$type == "number") return(number_processing(item))
  if (item$type == "order" && item$scoring == "each") return(order_processing(item))
  if (!is.null(key_mapping(item))) return(template("map_response"))
  if (item$points == 1) return(template("match_correct"))
  set_score(element("match", element("variable", identifier = "RESPONSE"),
    element("correct", identifier = "RESPONSE")), item$points)
}

set_score <- function(condition, points) {
  element("responseProcessing", element("responseCondition", element("responseIf", condition,
    element("setOutcomeValue", identifier = "SCORE", element("baseValue", baseType = "float", format_plain(points))))))
}

number_processing <- function(item) {
  half <- format_plain(round(diff(score_number$read_key(item$key)[[1]]) / 2, 10))
  set_score(element("equal", toleranceMode = "absolute", tolerance = paste(half, half),
    element("variable", identifier = "RESPONSE"), element("correct", identifier = "RESPONSE")), item$points)
}

# Each place of the order that is right earns its part.
order_processing <- function(item) {
  key <- key_values(item)
  places <- lapply(seq_along(key), function(k) {
    element("responseCondition", element("responseIf",
      element("match", element("index", n = k, element("variable", identifier = "RESPONSE")),
        element("baseValue", baseType = "identifier", key[k])),
      element("setOutcomeValue", identifier = "SCORE", element("sum", element("variable", identifier = "SCORE"),
        element("baseValue", baseType = "float", format_plain(item$points / length(key)))))))
  })
  element("responseProcessing", places)
}

manifest_document <- function(sitting, files, version) {
  kind <- if (version == "3.0") "imsqti_item_xmlv3p0" else "imsqti_item_xmlv2p2"
  resources <- lapply(files, function(file) {
    element("resource", identifier = gsub("[^a-z0-9]", "-", sub("[.]xml$", "", file)), href = file,
      type = if (startsWith(file, "items")) kind else "associatedcontent/learning-application-resource",
      element("file", href = file))
  })
  document_lines(element("manifest", xmlns = "http://www.imsglobal.org/xsd/imscp_v1p1", identifier = "pregunta-package",
    element("metadata", element("schema", "QTI Package"), element("schemaversion", version)),
    element("organizations"), element("resources", resources)), "2.2")
}
