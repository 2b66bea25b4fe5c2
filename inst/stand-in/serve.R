# A server of OneRoster 1.2 (rostering read, grade book write; OAuth 2 client credentials)
# for tests and to try things out, written to the text of the standards. It holds a made-up
# school in memory and forgets what it was told when it ends.
#
#   Rscript serve.R PORT
#
# Id and secret: "harbour" and "lantern". GET /seen gives what the grade book holds and how
# often each was put; FAULTS in the environment (a number) lets every such request fail.

told <- commandArgs(TRUE)
port <- as.integer(told[1])
faults <- as.integer(Sys.getenv("FAULTS", "0"))

reference <- function(id, type) list(sourcedId = id, type = type, href = paste0("#", id))
record <- function(id, ...) {
  list(sourcedId = id, status = "active", dateLastModified = "2026-08-01T00:00:00Z", ...)
}

class_ids <- c("c-a", "c-b", "c-c")
people <- sprintf("h%03d", 1:84)
class_of <- rep(class_ids, each = 28)

school <- list(
  orgs = list(record("o-1", name = "Harbour School", type = "school")),
  classes = lapply(1:3, function(k) {
    record(
      class_ids[k],
      title = paste("Harbour", LETTERS[k]), school = reference("o-1", "org")
    )
  }),
  users = c(
    lapply(people, function(id) {
      record(
        paste0("u-", id),
        username = id, givenName = "Student", familyName = sub("h0*", "", id),
        roles = list(list(
          roleType = "primary", role = "student", org = reference("o-1", "org")
        ))
      )
    }),
    list(record(
      "u-t1",
      username = "tess", givenName = "Tess", familyName = "Lantern",
      roles = list(list(
        roleType = "primary", role = "teacher", org = reference("o-1", "org")
      ))
    ))
  ),
  enrollments = c(
    lapply(seq_along(people), function(k) {
      record(
        paste0("e-", k),
        role = "student", user = reference(paste0("u-", people[k]), "user"),
        class = reference(class_of[k], "class"), school = reference("o-1", "org")
      )
    }),
    lapply(1:3, function(k) {
      record(
        paste0("e-t", k),
        role = "teacher", user = reference("u-t1", "user"),
        class = reference(class_ids[k], "class"), school = reference("o-1", "org")
      )
    }),
    # One that has gone.
    list(modifyList(
      record(
        "e-gone",
        role = "student", user = reference("u-h001", "user"),
        class = reference("c-b", "class"), school = reference("o-1", "org")
      ),
      list(status = "tobedeleted")
    ))
  ),
  academicSessions = list(record(
    "gp-1",
    title = "Autumn", type = "gradingPeriod", startDate = "2025-08-15",
    endDate = "2025-12-20"
  ))
)

book <- new.env()
book$seen <- list()
book$tokens <- character()
book$asked <- 0

answer <- function(status, body = NULL, headers = list()) {
  list(
    status = status,
    headers = c(list("Content-Type" = "application/json"), headers),
    body = if (is.null(body)) {
      ""
    } else {
      as.character(jsonlite::toJSON(body, auto_unbox = TRUE, null = "null", digits = NA))
    }
  )
}

# What went wrong, as the standard says it.
fault <- function(status, minor) {
  answer(status, list(
    imsx_codeMajor = "failure",
    imsx_severity = "error",
    imsx_CodeMinor = list(imsx_codeMinorField = list(list(
      imsx_codeMinorFieldName = "TargetEndSystem", imsx_codeMinorFieldValue = minor
    )))
  ))
}

form_of <- function(text) {
  parts <- strsplit(strsplit(text, "&", fixed = TRUE)[[1]], "=", fixed = TRUE)
  value <- vapply(parts, function(part) utils::URLdecode(c(part, "")[2]), "")
  stats::setNames(as.list(value), vapply(parts, `[`, "", 1))
}

give_token <- function(request) {
  form <- form_of(rawToChar(request$rook.input$read()))
  key <- paste("Basic", jsonlite::base64_enc(charToRaw("harbour:lantern")))
  if (!identical(request$HTTP_AUTHORIZATION, key)) {
    return(answer(401L, list(error = "invalid_client")))
  }
  if (!identical(form$grant_type, "client_credentials")) {
    return(answer(400L, list(error = "unsupported_grant_type")))
  }
  token <- paste(sample(c(letters, 0:9), 24, TRUE), collapse = "")
  book$tokens[[token]] <- form$scope
  answer(200L, list(access_token = token, token_type = "bearer", expires_in = 3600))
}

may <- function(request, scope) {
  token <- sub("^Bearer ", "", paste0("", request$HTTP_AUTHORIZATION))
  token %in% names(book$tokens) && grepl(scope, book$tokens[[token]], fixed = TRUE)
}

lists <- c(
  orgs = "orgs", classes = "classes", users = "users", enrollments = "enrollments",
  gradingPeriods = "academicSessions"
)

# filter: one comparison of a field with a value, as in status='active'.
read_roster <- function(request, name) {
  if (!may(request, "roster")) return(fault(401L, "unauthorisedrequest"))
  query <- form_of(sub("^[?]", "", paste0("", request$QUERY_STRING)))
  all <- school[[lists[[name]]]]
  if (!is.null(query$filter)) {
    parts <- regmatches(query$filter, regexec("^(\\w+)='([^']*)'$", query$filter))[[1]]
    if (!length(parts)) return(fault(400L, "invalid_filter_field"))
    all <- Filter(function(one) identical(one[[parts[2]]], parts[3]), all)
  }
  limit <- as.integer(c(query$limit, 100)[[1]])
  offset <- as.integer(c(query$offset, 0)[[1]])
  some <- utils::head(utils::tail(all, max(0, length(all) - offset)), limit)
  answer(
    200L,
    stats::setNames(list(some), lists[[name]]),
    list("X-Total-Count" = as.character(length(all)))
  )
}

needed <- list(
  categories = c("title"),
  lineItems = c("title", "assignDate", "dueDate", "class", "school", "category", "gradingPeriod"),
  results = c("lineItem", "student", "scoreStatus", "scoreDate")
)
statuses <- c(
  "exempt", "fully graded", "not submitted", "partially graded", "submitted"
)

put_mark <- function(request, kind, id) {
  if (!may(request, "gradebook.createput")) return(fault(403L, "forbidden"))
  said <- jsonlite::fromJSON(rawToChar(request$rook.input$read()), simplifyVector = FALSE)
  one <- said[[1]]
  names <- c(categories = "category", lineItems = "lineItem", results = "result")
  sound <- identical(names(said), names[[kind]]) &&
    identical(one$sourcedId, id) &&
    all(needed[[kind]] %in% names(one)) &&
    all(vapply(Filter(is.list, one), function(to) {
      all(c("href", "sourcedId", "type") %in% names(to))
    }, TRUE))
  if (kind == "results") {
    sound <- sound && one$scoreStatus %in% statuses &&
      paste0("lineItems/", one$lineItem$sourcedId) %in% names(book$seen)
  }
  if (!sound) return(fault(422L, "invalid_data"))
  at <- paste0(kind, "/", id)
  times <- if (is.null(book$seen[[at]])) 0 else book$seen[[at]]$times
  book$seen[[at]] <- list(record = one, times = times + 1)
  answer(if (times) 200L else 201L, said)
}

respond <- function(request) {
  path <- request$PATH_INFO
  if (path == "/token") return(give_token(request))
  if (path == "/seen") return(answer(200L, book$seen))
  book$asked <- book$asked + 1
  if (faults > 0 && book$asked %% faults == 0) return(fault(503L, "server_busy"))
  roster <- regmatches(path, regexec("^/ims/oneroster/rostering/v1p2/(\\w+)$", path))[[1]]
  if (length(roster) && roster[2] %in% names(lists) && request$REQUEST_METHOD == "GET") {
    return(read_roster(request, roster[2]))
  }
  marks <- regmatches(
    path, regexec("^/ims/oneroster/gradebook/v1p2/(\\w+)/([^/]+)$", path)
  )[[1]]
  if (length(marks) && marks[2] %in% names(needed) && request$REQUEST_METHOD == "PUT") {
    return(put_mark(request, marks[2], utils::URLdecode(marks[3])))
  }
  fault(404L, "unknownobject")
}

server <- httpuv::startServer("127.0.0.1", port, list(call = respond), quiet = TRUE)
cat("http://127.0.0.1:", port, "/ims/oneroster\n", sep = "")
repeat httpuv::service(200)
