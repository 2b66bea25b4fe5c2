#' Pass a sitting on in an open form
#'
#' @param sitting A [sitting()].
#' @param path Path of the file to write.
#' @param as `"qti"`: a zip of QTI items and of the results of each student;
#'   `"case"`: the standards as a CASE package (JSON); `"long"`: a CSV table
#'   with a row for each student and item; `"oneroster"`: the scores as OneRoster 1.1 CSV
#'   (a zip of results, line items and categories): on the school's own scale where the
#'   names of the setting `bands` are numbers, else of 100 with the band as a comment;
#'   `"xapi"`: a statement a line for each answer, with the same id every time. What the
#'   test is called there says the setting `activity` (an address), else its title.
#' @param version Of QTI: `"2.2"`, or `"3.0"` with its spelling of items.
#' @return The path, invisibly.
#' @details Only the attempt that counts is passed on. What is not given or
#'   excused has no row; an answer that waits has no points. [new_test()] reads
#'   each of them back to the same sitting; names and sections of students are
#'   in none of them.
#' @section Errors: `pregunta_error_output` when the file cannot be written,
#'   `pregunta_error_input` when there is nothing of that kind to write.
#' @references ADL Experience API 1.0.3; 1EdTech OneRoster 1.1, CSV binding; 1EdTech
#' Question and Test Interoperability (QTI) 2.2 and 3.0; 1EdTech Competencies and
#' Academic Standards Exchange (CASE) 1.0.
#' @export
#' @examples
#' quiz <- read_sitting(demo_path())
#' path <- tempfile(fileext = ".csv")
#' export_sitting(quiz, path, as = "long")
#' head(read.csv(path))
export_sitting <- function(sitting, path,
                           as = c("qti", "case", "long", "oneroster", "xapi"),
                           version = c("2.2", "3.0")) {
  as <- match.arg(as)
  version <- match.arg(version)
  check_output(path)
  switch(as,
    qti = write_qti(sitting, path, version),
    case = write_case(sitting, path),
    long = write_long(sitting, path),
    xapi = write_xapi(sitting, path),
    oneroster = write_oneroster(sitting, path),
    xapi = write_xapi(sitting, path)
  )
  invisible(path)
}

# A row for each student and item that was given.
long_responses <- function(sitting) {
  states <- cell_states(sitting)
  n <- nrow(states)
  state <- cell_state_names[as.vector(states)]
  answer <- as.vector(cell_answers(sitting))
  points <- as.vector(cell_points(sitting))
  table <- data.frame(
    student = rep(sitting$students$student, nrow(sitting$items)),
    item = rep(sitting$items$item, each = n),
    response = ifelse(
      state == "answered" | state == "pending",
      answer,
      NA
    ),
    points = ifelse(state == "answered", points, NA),
    state = state,
    order = rep(seq_len(n), nrow(sitting$items))
  )
  table <- table[rep(was_present(sitting), nrow(sitting$items)), ]
  table[!table$state %in% c("not_given", "excused"), ]
}

write_long <- function(sitting, path) {
  table <- long_responses(sitting)
  table <- table[order(table$order), ]
  type <- sitting$items$type[match(table$item, sitting$items$item)]
  table$response[is_points_cell(type)] <- NA
  table$status <- ifelse(
    table$state == "answered",
    "",
    table$state
  )
  write_csv_table(
    table[c("student", "item", "response", "points", "status")],
    path
  )
}

# CASE identifiers are UUIDs; ours follow from the code, so that the same
# standard has the same one every time.
code_uuid <- function(code) {
  hash <- cli::hash_md5(enc2utf8(code))
  paste(
    substr(hash, 1, 8),
    substr(hash, 9, 12),
    paste0("5", substr(hash, 14, 16)),
    paste0("8", substr(hash, 18, 20)),
    substr(hash, 21, 32),
    sep = "-"
  )
}

write_case <- function(sitting, path) {
  standards <- sitting$standards
  if (!nrow(standards)) {
    abort_pregunta(
      "input",
      say("write-export.the_test_has_no"),
      NULL,
      say("write-export.add_a_column_standards")
    )
  }
  title <- sitting$settings$title
  uri <- function(id) {
    list(
      title = id$title,
      identifier = id$identifier,
      uri = paste0("urn:uuid:", id$identifier)
    )
  }
  stamp <- if (is.na(sitting$settings$date)) {
    "1970-01-01T00:00:00Z"
  } else {
    paste0(sitting$settings$date, "T00:00:00Z")
  }
  document <- list(
    identifier = code_uuid(paste("document", title)),
    title = title
  )
  node <- function(k) {
    list(identifier = code_uuid(standards$code[k]), title = standards$code[k])
  }
  items <- each_row(standards, function(k) {
    statement <- if (is.na(standards$title[k])) {
      standards$code[k]
    } else {
      standards$title[k]
    }
    id <- code_uuid(standards$code[k])
    emphasis <- standards$emphasis[k]
    c(
      list(
        identifier = id,
        uri = paste0("urn:uuid:", id),
        humanCodingScheme = standards$code[k],
        fullStatement = statement,
        lastChangeDateTime = stamp
      ),
      if (!is.na(emphasis)) list(emphasis = emphasis)
    )
  })
  parent <- match(standards$parent, standards$code)
  links <- lapply(seq_along(parent), function(k) {
    above <- if (is.na(parent[k])) document else node(parent[k])
    id <- code_uuid(paste("child", standards$code[k]))
    list(
      identifier = id,
      uri = paste0("urn:uuid:", id),
      associationType = "isChildOf",
      sequenceNumber = k,
      originNodeURI = uri(node(k)),
      destinationNodeURI = uri(above),
      lastChangeDateTime = stamp
    )
  })
  about <- list(
    uri = paste0("urn:uuid:", document$identifier),
    creator = "pregunta",
    lastChangeDateTime = stamp
  )
  package <- list(
    CFDocument = c(document, about),
    CFItems = items,
    CFAssociations = links
  )
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
