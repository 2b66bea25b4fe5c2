# CASE: a package of a framework's document, its items and how they hang
# together.

node_shape <- either_of(a_text, fields_of(identifier = a_text, uri = a_text))
case_shape <- fields_of(
  CFDocument = fields_of(title = a_text, identifier = a_text),
  CFItems = each_of(fields_of(
    identifier = a_text,
    uri = a_text,
    humanCodingScheme = a_text,
    abbreviatedStatement = a_text,
    fullStatement = a_text,
    extensions = fields_of(`pregunta:emphasis` = a_text)
  )),
  CFAssociations = each_of(fields_of(
    associationType = a_text,
    originNodeURI = node_shape,
    originNodeIdentifier = node_shape,
    destinationNodeURI = node_shape,
    destinationNodeIdentifier = node_shape,
    sequenceNumber = a_number
  ))
)

# Whether a standard has priority, for which CASE has no place of its own.
emphasis_field <- "pregunta:emphasis"

case_bundle <- function(package, path) {
  check_fields(package, case_shape, path)
  items <- package$CFItems
  if (!length(items)) {
    abort_pregunta(
      "input",
      say("read-case.holds_no_standard", path = basename(path)),
      path,
      say("read-case.a_case_package_has")
    )
  }
  field <- function(one, names) {
    for (name in names) {
      said <- or_blank(as.character(one[[name]]))
      if (length(said) && nzchar(said)) return(said)
    }
    NA_character_
  }
  id <- vapply(items, field, "", c("identifier", "uri"))
  code <- vapply(
    items,
    field,
    "",
    c("humanCodingScheme", "identifier", "uri")
  )
  title <- vapply(
    items,
    field,
    "",
    c("abbreviatedStatement", "fullStatement")
  )
  links <- Filter(
    function(link) identical(link$associationType, "isChildOf"),
    package$CFAssociations
  )
  from <- vapply(
    links,
    function(link) node_id(link, "origin"),
    ""
  )
  to <- vapply(
    links,
    function(link) node_id(link, "destination"),
    ""
  )
  parent <- code[match(to[match(id, from)], id)]
  rank <- vapply(links, function(link) {
    read_number(as.character(c(link$sequenceNumber, NA)[[1]]))
  }, 0)[
    match(id, from)
  ]
  table <- data.frame(code = code, parent = parent, title = title)
  emphasis <- vapply(items, function(one) field(one$extensions, emphasis_field), "")
  if (any(!is.na(emphasis))) {
    table$emphasis <- emphasis
  }
  # What others know the standards by is kept for when they are passed on again.
  known <- vapply(items, field, "", "identifier")
  table$identifier <- if (all(grepl(uuid_form, known))) known
  table <- table[order(is.na(rank), rank, seq_along(rank)), ]
  table <- table[!duplicated(table$code), ]
  rownames(table) <- NULL
  title <- package$CFDocument$title
  said <- say(
    "read-case.from_case",
    n = nrow(table),
    title = if (!is.null(title)) paste0(", ", quoted(title))
  )
  new_bundle(
    standards = table,
    origin = basename(path),
    title = title,
    settings = list(framework = list_of(
      title = title,
      identifier = package$CFDocument$identifier
    )),
    account = account_line("standards", said)
  )
}

node_id <- function(link, end) {
  node <- link[[paste0(end, "NodeURI")]]
  if (is.null(node)) {
    node <- link[[paste0(end, "NodeIdentifier")]]
  }
  if (is.list(node)) {
    as.character(c(node$identifier, node$uri, NA)[[1]])
  } else {
    as.character(c(node, NA)[[1]])
  }
}
