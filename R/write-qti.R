# A test as a QTI package: the test and its items, the results of each student, and a
# manifest that says what is what.

# only: "items" or "results" alone; NULL for both.
write_qti <- function(sitting, path, version, only = NULL) {
  names <- qti_names(sitting)
  write_made(path, function(file) {
    draft <- tempfile("qti-")
    dir.create(draft)
    on.exit(unlink(draft, recursive = TRUE))
    if (!identical(only, "results")) put_test(sitting, names, version, draft)
    if (!identical(only, "items")) put_results(sitting, names, version, draft)
    files <- list.files(draft, recursive = TRUE)
    manifest <- manifest_document(sitting, names, files, version)
    put_document(manifest, file.path(draft, "imsmanifest.xml"))
    zip::zip(
      file,
      c("imsmanifest.xml", files),
      root = draft,
      mode = "mirror"
    )
  })
}

# Into the draft, of which nothing is left when it breaks off.
put_document <- function(lines, path) {
  write_bytes(charToRaw(enc2utf8(paste(lines, collapse = "\n"))), path)
}

put_test <- function(sitting, names, version, draft) {
  dir.create(file.path(draft, "items"))
  for (j in seq_len(nrow(sitting$items))) {
    put_document(
      item_document(sitting, j, names, version),
      file.path(draft, item_place(j))
    )
  }
  put_document(test_document(sitting, names, version), file.path(draft, "test.xml"))
}

item_place <- function(j) sprintf("items/%04d.xml", j)

# The items in their order; the score of the test is the sum of theirs.
test_document <- function(sitting, names, version) {
  title <- sitting$settings$title
  total <- element(
    "setOutcomeValue",
    identifier = "SCORE",
    element("sum", element("testVariables", variableIdentifier = "SCORE"))
  )
  document_lines(
    element(
      "assessmentTest",
      xmlns = qti_spaces(version)$items,
      identifier = names$test,
      title = title,
      toolName = own_tool,
      declare_score(sum(sitting$items$points)),
      element(
        "testPart",
        identifier = "part",
        navigationMode = "nonlinear",
        submissionMode = "simultaneous",
        element(
          "assessmentSection",
          identifier = "section",
          title = title,
          visible = "true",
          lapply(seq_along(names$items), function(j) {
            element(
              "assessmentItemRef",
              identifier = names$items[[j]],
              href = item_place(j)
            )
          })
        )
      ),
      element("outcomeProcessing", total)
    ),
    version
  )
}

declare_score <- function(most, by_hand = FALSE) {
  element(
    "outcomeDeclaration",
    identifier = "SCORE",
    cardinality = "single",
    baseType = "float",
    normalMaximum = format_plain(most),
    externalScored = if (by_hand) "human"
  )
}

# ---- names of things ---------------------------------------------------------------

# What each version calls its documents, and where its usual rules of scoring stand.
qti_spaces <- function(version) {
  xsd <- "http://www.imsglobal.org/xsd/"
  switch(version,
    "2.2" = list(
      items = paste0(xsd, "imsqti_v2p2"),
      results = paste0(xsd, "imsqti_result_v2p2"),
      package = paste0(xsd, "imscp_v1p1"),
      item_kind = "imsqti_item_xmlv2p2",
      test_kind = "imsqti_test_xmlv2p2",
      schema = "QTIv2.2 Package",
      schema_version = "1.0.0",
      rules = function(name) {
        paste0("http://www.imsglobal.org/question/qti_v2p2/rptemplates/", name)
      }
    ),
    "3.0" = list(
      items = paste0(xsd, "imsqtiasi_v3p0"),
      results = paste0(xsd, "imsqti_result_v3p0"),
      package = paste0(xsd, "qti/qtiv3p0/imscp_v1p1"),
      item_kind = "imsqti_item_xmlv3p0",
      test_kind = "imsqti_test_xmlv3p0",
      schema = "QTI Package",
      schema_version = "3.0.0",
      rules = function(name) {
        paste0("https://purl.imsglobal.org/spec/qti/v3p0/rptemplates/", name, ".xml")
      }
    )
  )
}

# The identifiers of the test, its items and their options: names as XML allows them. What
# had to be changed keeps its own name as its label.
qti_names <- function(sitting) {
  items <- sitting$items
  answers <- lapply(sitting$cells, function(cells) cells$answer)
  about <- c(sitting$settings$title, sitting$settings$date, items$item)
  list(
    test = paste0("test-", uuid_of(paste(about, collapse = "\r"))),
    items = xml_names(items$item),
    options = each_row(items, function(j) {
      mine <- sitting$options$option[sitting$options$item == items$item[j]]
      values <- qti_values(answers[[j]], item_qti(items[j, ], mine))
      xml_names(unique(c(mine, named_in_key(items[j, ], mine), values)))
    })
  )
}

# How an item stands in QTI. Where its options are not listed, only some of them are
# known, those that the key or somebody's answer names: then it is a line to write on.
item_qti <- function(item, options) {
  qti <- item_type(item$type)$qti
  listed <- length(options) || qti$cardinality == "ordered"
  if (qti$choices != "options" || listed) return(qti)
  line <- list(
    interaction = "textEntryInteraction",
    cardinality = "single",
    base = "string",
    choices = "none",
    attributes = list(),
    values = identity,
    maps = "always"
  )
  qti[names(line)] <- line
  qti
}

is_named_option <- function(qti) qti$base %in% c("identifier", "directedPair")

# The single names of options that answers are made of.
qti_values <- function(answers, qti) {
  if (!is_named_option(qti)) return(character())
  values <- as.character(unlist(lapply(answers[!is.na(answers)], qti$values)))
  if (qti$base == "directedPair") unlist(pair_ends(values)) else values
}

# The two ends of each pair, by the side on which they stand: there may be an A on both.
pair_ends <- function(pairs) {
  between <- ifelse(grepl("\t", pairs), "\t", " ")
  lapply(strsplit(pairs, between), function(two) {
    paste(c("left", "right"), two, sep = "\t")
  })
}

named_in_key <- function(item, options) {
  if (is.na(item$key)) return(character())
  qti_values(split_parts(item$key, "|")[[1]], item_qti(item, options))
}

# Values of a response with the names that options have there.
named_values <- function(values, qti, names) {
  if (!is_named_option(qti)) return(values)
  if (qti$base == "identifier") return(unname(names[values]))
  vapply(pair_ends(values), function(ends) paste(names[ends], collapse = " "), "")
}

bare_end <- function(x) sub("^(left|right)\t", "", x)

# The first right answer of a key.
key_values <- function(item, qti, named) {
  named_values(qti$values(qti$correct(item$key)), qti, named)
}

# A name for each, by what it was: letters, digits, "." "-" "_", no digit in front, none
# twice.
xml_names <- function(x) {
  name <- gsub("[^\\p{L}\\p{Nd}._-]", "_", bare_end(x), perl = TRUE)
  opens <- grepl("^[\\p{L}_]", name, perl = TRUE)
  name[!opens] <- paste0("_", name[!opens])
  stats::setNames(make.unique(name, "_"), x)
}

# ---- elements ----------------------------------------------------------------------

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

# Elements as the lines of a document, in the spelling of the version. A tree that others
# build node by node takes as long again for each that is there: here it is written down.
document_lines <- function(tree, version) {
  c("<?xml version=\"1.0\" encoding=\"UTF-8\"?>", element_lines(tree, version, ""))
}

element_lines <- function(tree, version, indent) {
  tree <- spell_qti(tree, version)
  values <- vapply(tree$attributes, as.character, "")
  attributes <- paste0(" ", names(values), "=\"", xml_text(values), "\"", recycle0 = TRUE)
  open <- paste0(indent, "<", tree$name, paste(attributes, collapse = ""))
  inside <- flatten_elements(tree$inside)
  if (!length(inside)) return(paste0(open, "/>"))
  close <- paste0("</", tree$name, ">")
  if (all(vapply(inside, is.character, TRUE))) {
    text <- xml_text(paste(unlist(inside), collapse = " "))
    return(paste0(open, ">", text, close))
  }
  within <- lapply(inside, element_lines, version, paste0(indent, "  "))
  c(paste0(open, ">"), unlist(within), paste0(indent, close))
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
