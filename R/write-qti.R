# QTI items and results as a zip: items/, results/ and a manifest.

write_qti <- function(sitting, path, version) {
  draft <- tempfile("qti-")
  for (room in c("items", "results")) {
    dir.create(file.path(draft, room), recursive = TRUE)
  }
  on.exit(unlink(draft, recursive = TRUE))
  place <- function(room, k) sprintf("%s/%04d.xml", room, k)
  for (j in seq_len(nrow(sitting$items))) {
    write_text(
      item_document(sitting, j, version),
      file.path(draft, place("items", j))
    )
  }
  rows <- long_responses(sitting)
  students <- unique(rows$student[order(rows$order)])
  by_student <- split(rows, factor(rows$student, students))
  for (k in seq_along(by_student)) {
    write_text(
      result_document(sitting, by_student[[k]], version),
      file.path(draft, place("results", k))
    )
  }
  files <- list.files(draft, recursive = TRUE)
  write_text(
    manifest_document(sitting, files, version),
    file.path(draft, "imsmanifest.xml")
  )
  write_made(path, function(file) {
    zip::zip(
      file,
      c("imsmanifest.xml", files),
      root = draft,
      mode = "mirror"
    )
  })
}

# An element and what is in it: names are attributes, the rest children or text.
element <- function(.name, ...) {
  given <- list(...)
  named <- if (is.null(names(given))) {
    rep(FALSE, length(given))
  } else {
    nzchar(names(given))
  }
  node <- unname(given[!named])
  list(
    name = .name,
    attributes = Filter(Negate(is.null), given[named]),
    inside = Filter(Negate(is.null), node)
  )
}

# Elements as the lines of a document, in the spelling of the version.
document_lines <- function(tree, version) {
  document <- xml2::as_xml_document(xml_list(tree, version))
  strsplit(as.character(document), "\n", fixed = TRUE)[[1]]
}

# An element as the nested list that xml2 makes a document of.
xml_list <- function(tree, version) {
  tree <- spell_qti(tree, version)
  inside <- flatten_elements(tree$inside)
  if (length(inside) && all(vapply(inside, is.character, TRUE))) {
    inside <- list(paste(unlist(inside), collapse = " "))
  }
  children <- lapply(inside, function(one) {
    if (is.character(one)) list(xml_characters(one)) else xml_list(one, version)
  })
  node <- unlist(children, recursive = FALSE)
  if (is.null(node)) {
    node <- list()
  }
  attributes(node) <- c(
    attributes(node),
    lapply(tree$attributes, function(value) xml_characters(as.character(value)))
  )
  stats::setNames(list(node), tree$name)
}

html_names <- c("p", "div", "span")

spell_qti <- function(tree, version) {
  if (version != "3.0" ||
    tree$name %in% c(
      html_names,
      "manifest",
      "metadata",
      "organizations",
      "resources",
      "resource",
      "file",
      "schema",
      "schemaversion"
    )) {
    return(tree)
  }
  tree$name <- paste0("qti-", kebab(tree$name))
  names(tree$attributes) <- ifelse(
    names(tree$attributes) == "xmlns",
    "xmlns",
    kebab(names(tree$attributes))
  )
  tree
}

flatten_elements <- function(inside) {
  unlist(
    lapply(inside, function(one) {
      if (is.list(one) && is.null(one$name)) one else list(one)
    }),
    recursive = FALSE
  )
}

# Without the control characters that XML does not know.
xml_characters <- function(x) {
  gsub(
    "[\u0001-\u0008\u000b\u000c\u000e-\u001f]",
    "",
    enc2utf8(x),
    perl = TRUE
  )
}

with_values <- function(name, values, ...) {
  element(
    name,
    ...,
    lapply(as.character(values), function(value) element("value", value))
  )
}

# ---- results ---------------------------------------------------------------------

# In results version 3 keeps the spelling of 2.x.
result_document <- function(sitting, rows, version) {
  rows <- rows[order(match(rows$item, sitting$items$item)), ]
  space <- if (version == "3.0") {
    "http://www.imsglobal.org/xsd/imsqti_result_v3p0"
  } else {
    "http://www.imsglobal.org/xsd/imsqti_result_v2p2"
  }
  stamp <- if (is.na(sitting$settings$date)) {
    "1970-01-01T00:00:00"
  } else {
    paste0(sitting$settings$date, "T00:00:00")
  }
  results <- each_row(rows, function(k) {
    j <- match(rows$item[k], sitting$items$item)
    item_result_element(sitting$items[j, ], rows[k, ], j, stamp)
  })
  document_lines(
    element(
      "assessmentResult",
      xmlns = space,
      element("context", sourcedId = rows$student[1]),
      results
    ),
    "2.2"
  )
}

item_result_element <- function(item, row, place, stamp) {
  waits <- row$state == "pending"
  qti <- item_type(item$type)$qti
  response <- if (!is.null(qti$interaction)) {
    element(
      "responseVariable",
      identifier = "RESPONSE",
      cardinality = qti$cardinality,
      baseType = qti$base,
      if (!is.na(item$key)) with_values("correctResponse", key_values(item)),
      with_values("candidateResponse", answer_values(row$response, qti))
    )
  }
  score <- if (row$state == "answered") {
    with_values(
      "outcomeVariable",
      format_plain(row$points),
      identifier = "SCORE",
      cardinality = "single",
      baseType = "float",
      normalMaximum = format_plain(item$points)
    )
  }
  element(
    "itemResult",
    identifier = item$item,
    sequenceIndex = place,
    datestamp = stamp,
    sessionStatus = if (waits) "pendingResponseProcessing" else "final",
    response,
    score
  )
}

# An answer as the values of a response.
answer_values <- function(answer, qti) {
  if (is.na(answer)) character() else qti$values(answer)
}

key_values <- function(item) {
  qti <- item_type(item$type)$qti
  qti$values(qti$correct(item$key))
}
