# A question as a QTI item: prompt, choices, key, points and feedback.

item_document <- function(sitting, j, names, version) {
  item <- sitting$items[j, ]
  options <- sitting$options[sitting$options$item == item$item, ]
  qti <- item_qti(item, options$option)
  named <- names$options[[j]]
  by_hand <- is_marked(item$type)
  document_lines(
    element(
      "assessmentItem",
      xmlns = qti_spaces(version)$items,
      identifier = names$items[[j]],
      title = if (is.na(item$prompt)) item$item else item$prompt,
      label = other_name(item$item, names$items[[j]]),
      adaptive = "false",
      timeDependent = "false",
      toolName = own_tool,
      if (!is.null(qti$interaction)) response_declaration(item, qti, named),
      declare_score(item$points, by_hand),
      if (!is.na(item$rationale)) declare_feedback(),
      element("itemBody", item_interaction(item, options, qti, named)),
      item_processing(item, qti, named, version),
      if (!is.na(item$rationale)) rationale_shown(item$rationale, version)
    ),
    version
  )
}

# What a thing is called here, where its identifier is another.
other_name <- function(own, identifier) if (own != identifier) own

# The rationale is shown to who has answered: the rules of scoring set it.
declare_feedback <- function() {
  element(
    "outcomeDeclaration",
    identifier = "FEEDBACK",
    cardinality = "single",
    baseType = "identifier"
  )
}

rationale_shown <- function(text, version) {
  inside <- element("p", text)
  element(
    "modalFeedback",
    outcomeIdentifier = "FEEDBACK",
    identifier = "rationale",
    showHide = "show",
    if (version == "3.0") element("contentBody", inside) else inside
  )
}

response_declaration <- function(item, qti, named) {
  element(
    "responseDeclaration",
    identifier = "RESPONSE",
    cardinality = qti$cardinality,
    baseType = qti$base,
    if (!is.na(item$key)) {
      with_values("correctResponse", key_values(item, qti, named))
    },
    key_mapping(item, qti, named)
  )
}

# What each value earns, where there is more to say than one right response.
key_mapping <- function(item, qti, named) {
  if (is.na(item$key)) return(NULL)
  alternatives <- split_parts(item$key, "|")[[1]]
  entry <- function(key, value) {
    element(
      "mapEntry",
      mapKey = key,
      mappedValue = format_plain(value),
      caseSensitive = if (qti$base == "string") "false"
    )
  }
  by_alternative <- qti$maps == "always" ||
    (qti$maps == "several" && length(alternatives) > 1)
  if (by_alternative) {
    return(element(
      "mapping",
      defaultValue = "0",
      lapply(named_values(alternatives, qti, named), entry, item$points)
    ))
  }
  if (qti$maps != "each" || item$scoring != "each") return(NULL)
  right <- key_values(item, qti, named)
  element(
    "mapping",
    defaultValue = format_plain(qti$wrong(item, right)),
    lowerBound = "0",
    upperBound = format_plain(item$points),
    lapply(right, entry, item$points / length(right))
  )
}

item_interaction <- function(item, options, qti, named) {
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
    interaction_choices(item, options, qti, named)
  )
}

interaction_choices <- function(item, options, qti, named) {
  shown <- function(name, ids, ...) {
    lapply(ids, function(id) {
      own <- bare_end(id)
      text <- options$text[match(own, options$option)]
      element(
        name,
        identifier = named[[id]],
        label = other_name(own, named[[id]]),
        ...,
        if (is.na(text)) own else text
      )
    })
  }
  if (qti$choices == "pairs") {
    return(lapply(pair_ids(item, qti), function(side) {
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

# The options as they are listed; the parts of an order are all in its key.
option_ids <- function(item, options, qti) {
  if (nrow(options)) return(options$option)
  sort(unique(named_in_key(item, options$option)))
}

# The two sides of pairs.
pair_ids <- function(item, qti) {
  if (is.na(item$key)) return(list())
  ends <- pair_ends(qti$values(qti$correct(item$key)))
  list(
    unique(vapply(ends, `[`, "", 1)),
    sort(unique(vapply(ends, `[`, "", 2)))
  )
}

# The rule in QTI's own terms: a standard template where it says all, else rule by rule.
item_processing <- function(item, qti, named, version) {
  scored <- !is_marked(item$type) && !is.na(item$key)
  told <- !is.na(item$rationale)
  if (scored && !told) {
    template <- usual_rule(item, qti, named)
    if (!is.null(template)) {
      address <- qti_spaces(version)$rules(template)
      return(element("responseProcessing", template = address))
    }
  }
  rules <- c(
    if (scored) scoring_rules(item, qti, named),
    if (told) {
      list(set_outcome("FEEDBACK", base_value("identifier", "rationale")))
    }
  )
  if (length(rules)) element("responseProcessing", rules)
}

is_by_place <- function(item, qti) qti$by_place && item$scoring == "each"

usual_rule <- function(item, qti, named) {
  if (!is.null(qti$tolerance) || is_by_place(item, qti)) return(NULL)
  if (!is.null(key_mapping(item, qti, named))) return("map_response")
  if (item$points == 1) "match_correct"
}

scoring_rules <- function(item, qti, named) {
  if (!is.null(qti$tolerance)) return(list(number_rule(item, qti)))
  if (is_by_place(item, qti)) return(order_rules(item, qti, named))
  if (!is.null(key_mapping(item, qti, named))) return(list(mapped_rule()))
  list(score_when(
    element("match", response_variable(), element("correct", identifier = "RESPONSE")),
    item$points
  ))
}

response_variable <- function() element("variable", identifier = "RESPONSE")

base_value <- function(type, value) element("baseValue", baseType = type, value)

set_outcome <- function(name, value) {
  element("setOutcomeValue", identifier = name, value)
}

score_when <- function(condition, points) {
  score <- set_outcome("SCORE", base_value("float", format_plain(points)))
  element("responseCondition", element("responseIf", condition, score))
}

mapped_rule <- function() {
  nothing <- element("isNull", response_variable())
  mapped <- element("mapResponse", identifier = "RESPONSE")
  element(
    "responseCondition",
    element("responseIf", nothing, set_outcome("SCORE", base_value("float", "0"))),
    element("responseElse", set_outcome("SCORE", mapped))
  )
}

number_rule <- function(item, qti) {
  half <- qti$tolerance(item$key)
  score_when(
    element(
      "equal",
      toleranceMode = "absolute",
      tolerance = paste(half, half),
      response_variable(),
      element("correct", identifier = "RESPONSE")
    ),
    item$points
  )
}

# Each place of the order that is right earns its part.
order_rules <- function(item, qti, named) {
  key <- key_values(item, qti, named)
  part <- format_plain(item$points / length(key))
  lapply(seq_along(key), function(k) {
    here <- element("index", n = k, response_variable())
    is_right <- element("match", here, base_value("identifier", key[k]))
    so_far <- element("variable", identifier = "SCORE")
    more <- element("sum", so_far, base_value("float", part))
    earns <- set_outcome("SCORE", more)
    element("responseCondition", element("responseIf", is_right, earns))
  })
}

# ---- the package -------------------------------------------------------------------

# The test depends on its items; an item says which standards it is about.
manifest_document <- function(sitting, names, files, version) {
  spaces <- qti_spaces(version)
  items <- which(item_place(seq_along(names$items)) %in% files)
  item_resources <- lapply(items, function(j) {
    file_resource(
      names$items[[j]], item_place(j), spaces$item_kind,
      inside = standards_metadata(sitting, j)
    )
  })
  test <- if (length(items)) {
    file_resource(
      names$test, "test.xml", spaces$test_kind,
      after = lapply(names$items, function(name) {
        element("dependency", identifierref = name)
      })
    )
  }
  results <- files[startsWith(files, "results/")]
  result_names <- utils::tail(
    make.unique(c(names$test, names$items, gsub("\\W", "-", results)), "_"),
    length(results)
  )
  result_resources <- Map(
    file_resource, result_names, results,
    "associatedcontent/learning-application-resource"
  )
  document_lines(
    element(
      "manifest",
      xmlns = spaces$package,
      identifier = paste0("package-", sub("^test-", "", names$test)),
      element(
        "metadata",
        element("schema", spaces$schema),
        element("schemaversion", spaces$schema_version)
      ),
      element("organizations"),
      element("resources", test, item_resources, unname(result_resources))
    ),
    "2.2"
  )
}

file_resource <- function(name, file, kind, inside = NULL, after = NULL) {
  element(
    "resource",
    identifier = name,
    type = kind,
    href = file,
    inside,
    element("file", href = file),
    unname(after)
  )
}

# The standards of an item: their codes as labels, with their identifiers.
standards_metadata <- function(sitting, j) {
  codes <- split_parts(sitting$items$standards[j], ";")[[1]]
  codes <- codes[!is.na(codes)]
  if (!length(codes)) return(NULL)
  ids <- standard_ids(sitting)
  guids <- lapply(codes, function(code) {
    element("labelledGUID", element("label", code), element("GUID", ids[[code]]))
  })
  element(
    "metadata",
    element(
      "curriculumStandardsMetadataSet",
      xmlns = "http://www.imsglobal.org/xsd/imscsmd_v1p1",
      element("curriculumStandardsMetadata", element("setOfGUIDs", guids))
    )
  )
}
