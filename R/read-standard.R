# Documents of the open standards, told by their first element or first field:
# QTI results and items (alone or in a package), CASE, xAPI. A bundle, or NULL
# for anything else.
read_standard <- function(path) {
  if (is_zip(path)) return(if (is_workbook(path)) NULL else read_package(path))
  kind <- document_kind(path)
  switch(kind,
    xml = read_xml_documents(path),
    json = read_json_document(path),
    NULL
  )
}

# By the first characters that are no blanks.
document_kind <- function(path) {
  if (!file.size(path)) return("")
  start <- readBin(path, "raw", n = 4000)
  start <- start[
    !start %in% as.raw(c(0, 9, 10, 13, 32, 0xEF, 0xBB, 0xBF, 0xFE, 0xFF))
  ]
  if (!length(start)) return("")
  if (start[1] == charToRaw("<")) {
    letters <- rawToChar(start[start < as.raw(0x80)])
    return(if (opens_web_page(letters)) "page" else "xml")
  }
  looks_json <- start[1] %in% charToRaw("{[") &&
    length(start) > 1 &&
    any(utils::head(start, 60) == charToRaw("\""))
  if (looks_json) "json" else ""
}

# Told by its first element, whatever the name of the file; the blanks are gone.
opens_web_page <- function(start) {
  start <- tolower(gsub("<[?][^>]*>|<!--.*?-->", "", start, perl = TRUE))
  grepl("^<(!doctypehtml|html|head|body|table|div)", start)
}

# Results and items among the documents; with both, the items are the key.
# entries: what the documents are called in their package, as its manifest says.
read_xml_documents <- function(paths, origin = say_files_read(paths),
                               entries = basename(paths)) {
  roots <- lapply(paths, read_xml_safely)
  kind <- vapply(roots, node_name, "")
  results <- kind == "assessmentResult"
  items <- kind == "assessmentItem"
  if (!any(results | items)) {
    abort_pregunta(
      "input",
      say("read-standard.is_xml_but_neither", origin = origin),
      paste0(
        basename(paths[1]), ": <", xml2::xml_name(roots[[1]]), ">"
      ),
      say("read-standard.export_it_as_csv")
    )
  }
  if (!any(items)) return(results_bundle(roots[results], origin))
  codes <- c(character(), unlist(unname(Map(
    codes_in_manifest,
    roots[kind == "manifest"],
    dirname(entries)[kind == "manifest"]
  ))))
  key <- items_bundle(roots[items], origin, unname(codes[entries[items]]))
  if (!any(results)) return(key)
  own <- lapply(roots[items], own_names)
  names(own) <- vapply(roots[items], attribute, "", "identifier")
  bundle <- results_bundle(roots[results], origin, own)
  add_key(tell_file(bundle), key)
}

# The standards of each document, as a manifest's metadata say them.
codes_in_manifest <- function(root, folder) {
  resources <- find_within(root, "resource")
  codes <- vapply(as.list(resources), function(resource) {
    labels <- xml2::xml_text(find_nodes(find_within(resource, "labelledGUID"), "label"))
    labels <- unique(labels[nzchar(labels)])
    if (length(labels)) paste(labels, collapse = ";") else NA_character_
  }, "")
  said <- !is.na(codes)
  entry <- sub("^[.]/", "", file.path(folder, attribute(resources, "href")))
  stats::setNames(codes[said], entry[said])
}

say_files_read <- function(paths) {
  say(
    "read-standard.and_more",
    paths = basename(paths[1]),
    n = length(paths) - 1,
    n_paths = length(paths)
  )
}

# A zip of QTI items and results, with or without a manifest.
read_package <- function(path) {
  copies <- zip_copies(path, function(name) {
    grepl("[.]xml$", name, ignore.case = TRUE)
  })
  if (!length(copies)) {
    files <- some_of(zip_names(path), 8)
    abort_pregunta(
      "input",
      say("read-standard.holds_no_qti_document", path = basename(path)),
      say("read-standard.holds", path = path, files = files),
      say("read-standard.unpack_it_and_name")
    )
  }
  # what is wrong with a copy is wrong with the entry of the package
  errors_about(
    read_xml_documents(unname(copies), basename(path), names(copies)),
    copies,
    paste0(path, ": ", names(copies))
  )
}

# ---- XML -------------------------------------------------------------------------

# No document of these standards declares entities, so one that does is refused
# before it is parsed; nothing outside the file is ever fetched.
read_xml_safely <- function(path) {
  text <- whole_text(path)
  # it is UTF-8 by now, whatever it says
  text <- sub("^\\s*<[?]xml[^>]*[?]>", "", text)
  bytes <- charToRaw(enc2utf8(text))
  check_xml(bytes, path)
  tryCatch(
    xml2::xml_ns_strip(xml2::read_xml(bytes, encoding = "UTF-8", options = quietly)),
    error = function(e) {
      abort_pregunta(
        "input",
        say("read-standard.is_broken_xml", path = basename(path)),
        paste0(path, ": ", conditionMessage(e)),
        say("read-standard.export_it_again")
      )
    }
  )
}

# Nothing is fetched, and what the parser would print is kept to itself.
quietly <- c("NONET", "NOERROR", "NOWARNING")

# What is no document of results is not parsed. part: of a package.
check_xml <- function(bytes, path, part = NULL) {
  look <- look_at_xml(bytes)
  if (look$entities) {
    at <- grepRaw("<!(DOCTYPE|ENTITY)[^>\n]{0,60}", bytes, value = TRUE)
    abort_pregunta(
      "input",
      say("read-standard.declares_entities_of_its", path = basename(path)),
      paste(c(path, part, valid_text(rawToChar(at[at != 0]))), collapse = ": "),
      say("read-standard.it_was_not_read")
    )
  }
  check_limit("depth", look$depth, path, part)
  check_limit("elements", look$elements, path, part)
  look
}

# QTI 3 writes qti-assessment-item where 2.x wrote assessmentItem.
camel <- function(name) {
  gsub("-([a-z])", "\\U\\1", sub("^qti-", "", name), perl = TRUE)
}
kebab <- function(name) tolower(gsub("([A-Z])", "-\\1", name))

node_name <- function(node) camel(xml2::xml_name(node))

# Namespaces were taken off, so none has to be looked up at each step.
no_namespaces <- structure(
  character(),
  names = character(),
  class = "xml_namespace"
)

find_nodes <- function(node, name, below = "./") {
  xml2::xml_find_all(node, node_path(name, below), no_namespaces)
}

find_within <- function(node, name) find_nodes(node, name, ".//")

# The names that a node may have, as a path; made once for each.
node_path <- function(name, below) {
  named <- paste0(below, name)
  if (is.null(path_memory[[named]])) {
    with_hyphens <- kebab(name)
    names <- unique(c(name, with_hyphens, paste0("qti-", with_hyphens)))
    path_memory[[named]] <- paste0(
      below,
      "*[",
      paste0("name()='", names, "'", collapse = " or "),
      "]"
    )
  }
  path_memory[[named]]
}

path_memory <- new.env(parent = emptyenv())

attribute <- function(node, name) {
  value <- xml2::xml_attr(node, name, no_namespaces)
  if (!anyNA(value) || !length(value)) return(value)
  other <- xml2::xml_attr(node, kebab(name), no_namespaces)
  or_else(value, other)
}

node_text <- function(nodes) {
  text <- paste(xml2::xml_text(nodes), collapse = " ")
  text <- trimws(gsub("[ \t\r\n]+", " ", text))
  if (nzchar(text)) text else NA_character_
}

# ---- JSON ------------------------------------------------------------------------

read_json_document <- function(path) {
  text <- whole_text(path)
  look <- look_at_json(charToRaw(text))
  check_limit("depth", look$depth, path)
  check_limit("elements", look$values, path)
  parsed <- parse_json(text, path)
  if (any(c("CFItems", "CFDocument") %in% names(parsed))) {
    return(case_bundle(parsed, path))
  }
  if (is.list(parsed) && "statements" %in% names(parsed)) {
    parsed <- parsed[["statements"]]
  }
  statements <- if (is.list(parsed) && is.null(names(parsed))) parsed else list(parsed)
  are_statements <- vapply(statements, is_statement, TRUE)
  if (any(are_statements)) {
    return(statements_bundle(statements, path))
  }
  abort_pregunta(
    "input",
    say("read-standard.is_json_but_neither", path = basename(path)),
    paste0(path, ": ", substr(text, 1, 60)),
    say("read-standard.export_it_as_csv")
  )
}

# A document, or a document a line.
parse_json <- function(text, path) {
  read <- function(x) jsonlite::fromJSON(x, simplifyVector = FALSE)
  whole <- tryCatch(read(text), error = function(e) e)
  if (!inherits(whole, "error")) return(whole)
  lines <- strsplit(text, "\r?\n")[[1]]
  used <- which(grepl("[^ \t]", lines))
  if (length(used) > 1 && all(startsWith(trimws(lines[used]), "{"))) {
    return(lapply(used, function(k) {
      tryCatch(read(lines[k]), error = function(e) {
        abort_json(path, say("read-standard.line", line = k), e)
      })
    }))
  }
  abort_json(path, NULL, whole)
}

abort_json <- function(path, where, e) {
  place <- paste(c(path, where), collapse = ", ")
  trouble <- strsplit(conditionMessage(e), "\n")[[1]][1]
  abort_pregunta(
    "input",
    say("read-standard.is_broken_json", path = basename(path)),
    paste0(place, ": ", trouble),
    say("read-standard.export_it_again")
  )
}

# ---- what documents of answers share -----------------------------------------------

# Rows of answers (student, item, response, points, seconds, submitted, and
# `order` in time) numbered by try. A try that answered only some items again
# holds what stood for the others before, as the test stood after that try.
number_tries <- function(rows) {
  rows <- rows[order(rows$student, rows$order), ]
  cell <- paste(rows$student, rows$item, sep = "\r")
  if (!anyDuplicated(cell)) return(rows[setdiff(names(rows), "order")])
  try <- data.table::rowidv(cell)
  most <- highest_of(try, rows$student)
  last <- try == highest_of(try, cell)
  times <- ifelse(last, most - try + 1, 1)
  copy <- rep(seq_along(try), times)
  out <- rows[copy, ]
  out$attempt <- as.character(try[copy] + sequence(times) - 1)
  if (!is.null(out$seconds)) {
    out$seconds[sequence(times) > 1] <- ""
  }
  rownames(out) <- NULL
  out[setdiff(names(out), "order")]
}

# The highest of each group, at each of its members.
highest_of <- function(x, group) {
  code <- match(group, unique(group))
  largest <- x[order(code, -x)][!duplicated(sort(code))]
  largest[code]
}

said_or_blank <- function(x) or_blank(x, as.character(x))
