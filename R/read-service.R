# The services of OneRoster 1.2 over HTTP, at an address that the user names: OAuth 2 with
# client credentials, pages of a collection one after the other, records put one by one.

# address: where the services stand; token_at: where a token is given for them. The id and
# secret are the school's: they go to token_at and nowhere else.
new_service <- function(address, token_at, id, secret, tries = 5, wait = 1) {
  service <- new.env(parent = emptyenv())
  service$address <- service_root(address)
  service$token_at <- token_at
  service$id <- id
  service$secret <- secret
  service$tokens <- list()
  service$tries <- tries
  service$wait <- wait
  service
}

# With or without what the standard puts behind it.
service_root <- function(address) {
  root <- sub("/(rostering|gradebook)/v1p2/?$", "", sub("/+$", "", address))
  if (endsWith(root, "/ims/oneroster")) root else paste0(root, "/ims/oneroster")
}

service_scopes <- list(
  rostering = paste0(
    "https://purl.imsglobal.org/spec/or/v1p2/scope/",
    c("roster.readonly", "roster-core.readonly")
  ),
  gradebook = paste0(
    "https://purl.imsglobal.org/spec/or/v1p2/scope/",
    c("gradebook.readonly", "gradebook.createput")
  )
)

# All records of a collection. name: what the standard calls them in the answer.
service_records <- function(service, path, name, shape, filter = NULL, page = 200) {
  records <- list()
  repeat {
    query <- c(limit = page, offset = length(records), filter = filter)
    got <- ask_service(service, "rostering", path, query = query)
    said <- read_answer(got, path)
    check_fields(said, fields_of_list(name, shape), service_place(service, path))
    found <- said[[name]]
    records <- c(records, found)
    check_limit("entries", length(records), path)
    total <- suppressWarnings(as.numeric(answer_header(got, "x-total-count")))
    whole <- if (is.na(total)) length(found) < page else length(records) >= total
    # Nobody is asked for ever: a page without records is the last one.
    if (whole || !length(found)) return(records)
  }
}

fields_of_list <- function(name, shape) {
  do.call(fields_of, stats::setNames(list(each_of(shape)), name))
}

# ---- asking ------------------------------------------------------------------------

# Tried again while the server cannot be reached or is busy; a token that has run out is
# asked for once more.
ask_service <- function(service, room, path, query = NULL, method = "GET", body = NULL) {
  at <- paste0(service$address, "/", room, "/v1p2", path, query_text(query))
  fresh <- FALSE
  for (try in seq_len(service$tries)) {
    if (try > 1) Sys.sleep(service$wait * 2^(try - 2))
    token <- token_of(service, room)
    got <- fetch_answer(at, method, body, paste("Bearer", token), "application/json")
    if (got$status_code %in% 200:299) return(got)
    if (got$status_code == 401 && !fresh) {
      service$tokens[[room]] <- NULL
      fresh <- TRUE
      next
    }
    if (!is_worth_another(got$status_code)) break
  }
  abort_service(got, at)
}

is_worth_another <- function(status) status %in% c(0, 408, 429) || status >= 500

token_of <- function(service, room) {
  known <- service$tokens[[room]]
  if (!is.null(known) && known$until > Sys.time()) return(known$token)
  form <- c(
    grant_type = "client_credentials",
    scope = paste(service_scopes[[room]], collapse = " ")
  )
  sent <- substring(query_text(form), 2)
  key <- basic_key(service$id, service$secret)
  for (try in seq_len(service$tries)) {
    if (try > 1) Sys.sleep(service$wait * 2^(try - 2))
    got <- fetch_answer(
      service$token_at, "POST", sent, key, "application/x-www-form-urlencoded"
    )
    if (!is_worth_another(got$status_code)) break
  }
  if (got$status_code != 200) abort_service(got, service$token_at)
  said <- read_answer(got, service$token_at)
  check_fields(said, token_shape, service$token_at)
  seconds <- suppressWarnings(as.numeric(c(said$expires_in, 300)[[1]]))
  service$tokens[[room]] <- list(
    token = said$access_token,
    until = Sys.time() + max(0, seconds - 30)
  )
  said$access_token
}

token_shape <- fields_of(access_token = a_text, must = "access_token")

basic_key <- function(user, key) {
  code <- jsonlite::base64_enc(charToRaw(enc2utf8(paste0(user, ":", key))))
  paste("Basic", gsub("\n", "", code, fixed = TRUE))
}

query_text <- function(query) {
  if (!length(query)) return("")
  value <- vapply(as.character(query), utils::URLencode, "", reserved = TRUE)
  paste0("?", paste0(names(query), "=", value, collapse = "&"))
}

# Nothing is followed elsewhere: the address is the one that was named.
fetch_answer <- function(at, method, body, authorization, kind) {
  need_package("curl")
  handle <- curl::new_handle(
    customrequest = method,
    followlocation = FALSE,
    connecttimeout = 10,
    timeout = 60,
    maxfilesize = 1e6 * limit_of("megabytes")
  )
  headers <- list(Authorization = authorization, Accept = "application/json")
  if (!is.null(body)) {
    curl::handle_setopt(handle, copypostfields = enc2utf8(body))
    headers$`Content-Type` <- kind
  }
  curl::handle_setheaders(handle, .list = headers)
  tryCatch(
    curl::curl_fetch_memory(at, handle),
    error = function(e) {
      list(status_code = 0, content = charToRaw(conditionMessage(e)), headers = raw())
    }
  )
}

answer_header <- function(got, name) {
  headers <- curl::parse_headers_list(got$headers)
  value <- headers[[name]]
  if (is.null(value)) NA_character_ else value
}

# What a server says is looked at like a file of unknown origin.
read_answer <- function(got, path) {
  check_limit("megabytes", length(got$content) / 1e6, path)
  look <- look_at_json(got$content)
  check_limit("depth", look$depth, path)
  check_limit("elements", look$values, path)
  parse_json(valid_text(rawToChar(got$content[got$content != 0])), path)
}

service_place <- function(service, path) paste0(service$address, path)

abort_service <- function(got, at) {
  said <- valid_text(rawToChar(utils::head(got$content[got$content != 0], 400)))
  status <- got$status_code
  abort_pregunta(
    "output",
    say("read-service.did_not_answer", at = sub("[?].*$", "", at)),
    say("read-service.answered", status = status, said = said),
    if (status %in% c(401, 403)) {
      say("read-service.see_the_key")
    } else {
      say("read-service.ask_again")
    }
  )
}

# ---- the roster --------------------------------------------------------------------

reference <- fields_of(sourcedId = a_text)
session_shape <- fields_of(
  sourcedId = a_text, status = a_text, title = a_text, type = a_text,
  startDate = a_text, endDate = a_text, must = "sourcedId"
)
org_shape <- fields_of(
  sourcedId = a_text, status = a_text, name = a_text, type = a_text, must = "sourcedId"
)
class_shape <- fields_of(
  sourcedId = a_text, status = a_text, title = a_text, school = reference,
  must = "sourcedId"
)
enrollment_shape <- fields_of(
  sourcedId = a_text, status = a_text, role = a_text, user = reference,
  class = reference, school = reference, must = "sourcedId"
)
user_shape <- fields_of(
  sourcedId = a_text, status = a_text, username = a_text, identifier = a_text,
  givenName = a_text, familyName = a_text, email = a_text, role = a_text,
  roles = each_of(fields_of(roleType = a_text, role = a_text)),
  must = "sourcedId"
)

# The tables of a roster as the standard's files have them. classes: only these, by their
# identifiers; those who are in none of them are left out.
service_roster <- function(service, classes = NULL) {
  active <- "status='active'"
  all <- function(path, name, shape) service_records(service, path, name, shape, active)
  known <- all("/classes", "classes", class_shape)
  known <- table_of_records(known, c("sourcedId", "status", "title"), "school")
  unknown <- setdiff(classes, known$sourcedId)
  if (length(unknown)) {
    abort_pregunta(
      "call",
      say("read-service.no_such_class", class = quoted(unknown[1])),
      service$address,
      did_you_mean(unknown[1], known$sourcedId)
    )
  }
  if (!is.null(classes)) known <- known[known$sourcedId %in% classes, ]
  seats <- all("/enrollments", "enrollments", enrollment_shape)
  seats <- table_of_records(
    seats, c("sourcedId", "status", "role"), c("class", "school", "user")
  )
  seats <- seats[seats$classSourcedId %in% known$sourcedId, ]
  users <- lapply(all("/users", "users", user_shape), with_one_role)
  users <- table_of_records(users, c(
    "sourcedId", "status", "role", "username", "givenName", "familyName", "identifier",
    "email"
  ))
  orgs <- table_of_records(
    all("/orgs", "orgs", org_shape), c("sourcedId", "status", "name", "type")
  )
  periods <- table_of_records(
    all("/gradingPeriods", "academicSessions", session_shape),
    c("sourcedId", "status", "title", "type", "startDate", "endDate")
  )
  list(
    classes = known,
    enrollments = seats,
    users = users[users$sourcedId %in% seats$userSourcedId, ],
    orgs = orgs,
    academicSessions = periods
  )
}

# A person has one role a school; the first one says what they are.
with_one_role <- function(user) {
  if (is.null(user[["role"]]) && length(user$roles)) user$role <- user$roles[[1]]$role
  user
}

# Fields as they are, references by what they refer to (class: classSourcedId).
table_of_records <- function(records, fields, references = character()) {
  pick <- function(name, inner = NULL) {
    vapply(records, function(one) {
      value <- one[[name]]
      if (!is.null(inner)) value <- value[[inner]]
      as.character(c(value, NA)[[1]])
    }, "")
  }
  columns <- lapply(stats::setNames(nm = fields), pick)
  referred <- lapply(references, pick, "sourcedId")
  names(referred) <- paste0(references, "SourcedId", recycle0 = TRUE)
  table <- as.data.frame(c(columns, referred), stringsAsFactors = FALSE)
  table[!duplicated(table$sourcedId), , drop = FALSE]
}
