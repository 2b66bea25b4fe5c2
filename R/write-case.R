# The standards as a CASE package: a framework's document, its items, and how they hang
# together.

write_case <- function(sitting, path) {
  if (!nrow(sitting$standards)) {
    abort_pregunta(
      "input",
      say("write-export.the_test_has_no"),
      NULL,
      say("write-export.add_a_column_standards")
    )
  }
  package <- case_package(sitting)
  write_text(
    jsonlite::toJSON(
      package,
      auto_unbox = TRUE,
      pretty = TRUE,
      null = "null"
    ),
    path
  )
}

case_package <- function(sitting) {
  standards <- sitting$standards
  frame <- framework_of(sitting)
  ids <- standard_ids(sitting)
  stamp <- case_stamp(sitting)
  thing <- function(id) list(identifier = id, uri = case_uri(id))
  at <- function(id, title) list(title = title, identifier = id, uri = case_uri(id))
  document <- c(
    thing(frame$identifier),
    list(creator = own_tool, title = frame$title, lastChangeDateTime = stamp)
  )
  items <- each_row(standards, function(k) {
    emphasis <- standards$emphasis[k]
    c(
      thing(ids[[k]]),
      list(
        humanCodingScheme = standards$code[k],
        fullStatement = or_else(standards$title[k], standards$code[k]),
        lastChangeDateTime = stamp
      ),
      # The standard has no place of its own for it.
      if (!is.na(emphasis)) {
        list(extensions = stats::setNames(list(emphasis), emphasis_field))
      }
    )
  })
  parent <- match(standards$parent, standards$code)
  links <- each_row(standards, function(k) {
    above <- if (is.na(parent[k])) {
      at(frame$identifier, frame$title)
    } else {
      at(ids[[parent[k]]], standards$code[parent[k]])
    }
    c(
      thing(uuid_of(paste(ids[[k]], "isChildOf", above$identifier), frame$namespace)),
      list(
        associationType = "isChildOf",
        sequenceNumber = k,
        originNodeURI = at(ids[[k]], standards$code[k]),
        destinationNodeURI = above,
        lastChangeDateTime = stamp
      )
    )
  })
  list(CFDocument = document, CFItems = items, CFAssociations = links)
}

case_uri <- function(id) paste0("urn:uuid:", id)

# As of the day of the test, else of the export.
case_stamp <- function(sitting) {
  day <- sitting$settings$date
  if (!is.na(day)) return(paste0(day, "T00:00:00Z"))
  format(Sys.time(), "%Y-%m-%dT%H:%M:%SZ", tz = "UTC")
}

# What the standards belong to: one document for all tests that name the same framework.
# Its identifiers are made within a namespace of its own.
framework_of <- function(sitting) {
  said <- sitting$settings$framework
  title <- if (is.null(said$title)) say("write-export.standards") else said$title
  namespace <- uuid_of(paste("framework", said$title))
  id <- if (is.null(said$identifier)) uuid_of("document", namespace) else said$identifier
  list(title = title, identifier = id, namespace = namespace)
}

# The identifier of each standard, by its code: as it was imported, else by its code
# within the framework.
standard_ids <- function(sitting) {
  standards <- sitting$standards
  made <- uuid_of(standards$code, framework_of(sitting)$namespace)
  kept <- standards$identifier
  if (!is.null(kept)) {
    ours <- !grepl(uuid_form, kept) | duplicated(kept)
    made[!ours] <- kept[!ours]
  }
  stats::setNames(made, standards$code)
}
