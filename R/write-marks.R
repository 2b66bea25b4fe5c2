# Marks on their way to the grade book of a server of the standard.

#' Send marks to a school's grade book
#'
#' Puts the scores of a sitting into the grade book of a server of OneRoster 1.2
#' (1EdTech, REST): a category, a line item for each class, a result for each student,
#' as [export_sitting()] writes them to files. Each has the same identifier every time:
#' what is sent again takes the place of what was there.
#'
#' @param sitting A [sitting()] whose students came from a roster (columns `class_id` and,
#'   where students are called otherwise here, `sourced_id`) and whose setting
#'   `grading_period` is given.
#' @inheritParams fetch_roster
#' @param told `function(n)`, called with the number of results that have been taken.
#' @return How many results were taken, invisibly.
#' @section Errors: `pregunta_error_output` when the server does not answer or refuses
#'   something: what it took before stays there, and all can be sent again;
#'   `pregunta_error_input` when there is no score, no roster or no grading period.
#' @references 1EdTech OneRoster 1.2, Gradebook Service REST binding; RFC 6749, section
#'   4.4.
#' @seealso [fetch_roster()].
#' @export
#' @examples
#' \dontrun{
#' send_marks(
#'   read_sitting("quiz"), "https://sis.school.example/ims/oneroster",
#'   token_at = "https://sis.school.example/token"
#' )
#' }
send_marks <- function(sitting, address, token_at,
                       id = Sys.getenv("PREGUNTA_ONEROSTER_ID"),
                       secret = Sys.getenv("PREGUNTA_ONEROSTER_SECRET"),
                       told = function(n) NULL) {
  service <- new_service(
    checked_server(address),
    checked_server(token_at),
    checked_key(id),
    checked_key(secret)
  )
  records <- marks_to_send(sitting)
  for (kind in c("categories", "lineItems")) {
    for (record in records[[kind]]) put_record(service, kind, record)
  }
  for (k in seq_along(records$results)) {
    put_record(service, "results", records$results[[k]])
    told(k)
  }
  invisible(length(records$results))
}

# One record under its own identifier: put once more it is the same record.
put_record <- function(service, kind, record) {
  path <- paste0("/", kind, "/", record$sourcedId)
  # Each reference also says where the thing stands that it is to.
  refers <- vapply(record, is.list, TRUE)
  record[refers] <- lapply(record[refers], function(one) {
    place <- c(service$address, reference_places[[one$type]], one$sourcedId)
    c(list(href = paste(place, collapse = "/")), one)
  })
  body <- stats::setNames(list(record), record_names[[kind]])
  ask_service(service, "gradebook", path, method = "PUT", body = json_line(body))
}

record_names <- c(categories = "category", lineItems = "lineItem", results = "result")

marks_to_send <- function(sitting) {
  students <- graded_students(sitting)
  if (is.null(sitting$students$class_id)) {
    abort_pregunta(
      "input",
      say("write-marks.bring_the_roster"),
      NULL,
      say("write-marks.as_new")
    )
  }
  if (is.na(sitting$settings$grading_period)) {
    abort_pregunta(
      "input",
      say("write-marks.period_needed"),
      "test.yml",
      say("write-marks.name_the_period")
    )
  }
  # Who is in no class of the roster has no place in its grade book.
  known <- sitting$students$student[!is_blank(sitting$students$class_id)]
  students <- students[students$student %in% known, ]
  records_of_tables(oneroster_tables(sitting, students, "1.2"))
}

# The rows of the files as the records of the service, each thing that another names a
# reference of its kind.
records_of_tables <- function(tables) {
  lapply(tables[c("categories", "lineItems", "results")], function(table) {
    each_row(table, function(k) record_of_row(table[k, ]))
  })
}

reference_kinds <- c(
  class = "class", category = "category", gradingPeriod = "gradingPeriod",
  school = "org", lineItem = "lineItem", student = "user"
)

reference_places <- c(
  class = "rostering/v1p2/classes", org = "rostering/v1p2/orgs",
  user = "rostering/v1p2/users", gradingPeriod = "rostering/v1p2/gradingPeriods",
  category = "gradebook/v1p2/categories", lineItem = "gradebook/v1p2/lineItems"
)

record_of_row <- function(row) {
  record <- list(
    sourcedId = row$sourcedId,
    status = "active",
    dateLastModified = format(Sys.time(), "%Y-%m-%dT%H:%M:%SZ", tz = "UTC")
  )
  for (column in setdiff(names(row), names(record))) {
    value <- row[[column]]
    if (is_blank(value)) next
    named <- sub("SourcedId$", "", column)
    is_day <- column %in% c("assignDate", "dueDate")
    record[[named]] <- if (named != column) {
      list(sourcedId = value, type = reference_kinds[[named]])
    } else if (is_day) {
      paste0(value, "T00:00:00Z")
    } else {
      value
    }
  }
  record
}
