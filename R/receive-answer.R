# The standard's own language: a request as it comes over HTTP, and what is answered.

statements_path <- "/xapi/statements"
about_path <- "/xapi/about"
version_name <- "x-experience-api-version"

# request: method, path, query (a named list of text), headers (named in small letters)
# and body (bytes). Gives status, headers and body.
answer_xapi <- function(receiver, request) {
  answer <- tryCatch(
    {
      request <- as_meant(request)
      answer_to(receiver, request)
    },
    pregunta_refused = function(e) e$answer,
    pregunta_error = function(e) refusal_of(503, conditionMessage(e)),
    error = function(e) refusal_of(500, say("receive-answer.could_not_be_kept"))
  )
  version <- if (startsWith(version_asked(request), "2")) "2.0.0" else "1.0.3"
  answer$headers <- c(
    answer$headers,
    list(
      `X-Experience-API-Version` = version,
      `X-Content-Type-Options` = "nosniff",
      `Cache-Control` = "no-store"
    )
  )
  if (request$method == "HEAD") answer["body"] <- list(NULL)
  answer
}

# A request as the servers of R hand it on.
request_of <- function(request) {
  headers <- names(request)[startsWith(names(request), "HTTP_")]
  told <- mget(headers, envir = as.environment(as.list(request)[headers]))
  names(told) <- gsub("_", "-", tolower(sub("^HTTP_", "", headers)), fixed = TRUE)
  if (is.null(told$`content-type`)) told$`content-type` <- request$CONTENT_TYPE
  list(
    method = request$REQUEST_METHOD,
    path = request$PATH_INFO,
    query = query_of(request$QUERY_STRING),
    headers = told,
    body = request$rook.input$read()
  )
}

# The standard's other way of asking, for programs that can say neither method nor
# headers: a POST to ?method= whose form holds the headers, what is asked, the content.
as_meant <- function(request) {
  method <- request$query$method
  if (request$method != "POST" || is.null(method)) return(request)
  if (length(request$query) > 1) refuse(400, say("receive-answer.method_alone"))
  if (content_kind(request) != "application/x-www-form-urlencoded") {
    refuse(400, say("receive-answer.send_a_form"))
  }
  check_length(request)
  if (any(request$body == as.raw(0L))) refuse(400, say("receive-answer.no_utf8"))
  form <- query_of(rawToChar(request$body))
  if (anyDuplicated(names(form))) refuse(400, say("receive-answer.once_in_the_form"))
  is_header <- tolower(names(form)) %in% headers_in_form
  headers <- form[is_header]
  names(headers) <- tolower(names(headers))
  request$headers$`content-type` <- "application/json"
  request$headers <- utils::modifyList(request$headers, headers)
  request$method <- toupper(method)
  request$query <- form[!is_header & names(form) != "content"]
  request$body <- charToRaw(paste0("", form$content))
  request
}

headers_in_form <- c(
  "authorization", "x-experience-api-version", "content-type", "content-length",
  "if-match", "if-none-match", "accept", "accept-language"
)

content_kind <- function(request) {
  tolower(sub(" *;.*", "", paste0("", request$headers$`content-type`)))
}

check_length <- function(request) {
  if (length(request$body) <= 1e6 * limit_of("megabytes") / 10) return(invisible())
  refuse(413, say("receive-answer.too_much"))
}

# a=1&b=2 behind the question mark; what cannot be read is not asked.
query_of <- function(text) {
  parts <- strsplit(sub("^[?]", "", paste0("", text)), "&", fixed = TRUE)[[1]]
  parts <- parts[nzchar(parts)]
  plain <- function(x) {
    # utils::URLdecode() takes minutes for a megabyte; here a zero would end the text.
    said <- gsub("+", " ", x, fixed = TRUE)
    text <- if (grepl("%00", said, fixed = TRUE)) "" else curl::curl_unescape(said)
    Encoding(text) <- "UTF-8"
    if (validUTF8(text)) text else ""
  }
  values <- lapply(sub("^[^=]*=?", "", parts), plain)
  names(values) <- vapply(sub("=.*", "", parts), plain, "")
  values
}

version_asked <- function(request) paste0("", request$headers[[version_name]])

refuse <- function(status, said, headers = list()) {
  stop(rlang::error_cnd(
    "pregunta_refused",
    message = said,
    answer = refusal_of(status, said, headers)
  ))
}

# In words, and by its place where a statement is refused.
refusal_of <- function(status, said, headers = list()) {
  json_answer(status, list(error = said), headers)
}

json_answer <- function(status, content, headers = list()) {
  body <- if (is.character(content)) content else json_line(content)
  list(
    status = status,
    headers = c(list(`Content-Type` = "application/json; charset=utf-8"), headers),
    body = body
  )
}

answer_to <- function(receiver, request) {
  if (request$path == about_path) {
    check_method(request, c("GET", "HEAD"))
    return(json_answer(200, list(version = list("1.0.3", "2.0.0"))))
  }
  allowed <- allowed_tests(receiver, request)
  if (request$path != statements_path) {
    refuse(404, say("receive-answer.not_offered", path = printable(request$path)))
  }
  if (!grepl("^(1[.]0|2[.]0)([.][0-9]+)?$", version_asked(request))) {
    refuse(400, say("receive-answer.which_version"))
  }
  check_method(request, c("GET", "HEAD", "PUT", "POST"))
  switch(request$method,
    PUT = put_statement(receiver, allowed, request),
    POST = post_statements(receiver, allowed, request),
    get_statements(receiver, allowed, request)
  )
}

check_method <- function(request, offered) {
  if (request$method %in% offered) return(invisible())
  offered <- paste(offered, collapse = ", ")
  refuse(
    405,
    say("receive-answer.no_such_method", method = printable(request$method)),
    list(Allow = offered)
  )
}

# HTTP Basic: a name and a key.
allowed_tests <- function(receiver, request) {
  given <- paste0("", request$headers$authorization)
  code <- sub("^[Bb]asic +", "", given)
  text <- tryCatch(
    rawToChar(jsonlite::base64_dec(code)),
    error = function(e) "",
    warning = function(w) ""
  )
  parts <- regmatches(text, regexec("^([^:]*):(.*)$", text))[[1]]
  allowed <- if (length(parts) == 3 && code != given && validUTF8(text)) {
    tests_for(receiver, enc2utf8(parts[2]), parts[3])
  }
  if (length(allowed)) return(allowed)
  refuse(
    401,
    say("receive-answer.needs_the_key"),
    list(`WWW-Authenticate` = "Basic realm=\"xapi\", charset=\"UTF-8\"")
  )
}

# ---- taking in --------------------------------------------------------------------

put_statement <- function(receiver, allowed, request) {
  id <- request$query$statementId
  if (!identical(names(request$query), "statementId") || !grepl(uuid_form, id)) {
    refuse(400, say("receive-answer.put_needs_an_id"))
  }
  statement <- body_of(request)
  if (is_array(statement)) refuse(400, say("receive-answer.one_statement"))
  if (is_object(statement) && is.null(statement$id)) {
    statement$id <- id
    request$body <- charToRaw(json_line(statement))
  }
  if (!identical(tolower(paste0("", statement$id)), tolower(id))) {
    refuse(400, say("receive-answer.another_id"))
  }
  take_statements(receiver, allowed, list(statement), request)
  list(status = 204, headers = list(), body = NULL)
}

post_statements <- function(receiver, allowed, request) {
  if (length(request$query)) refuse(400, say("receive-answer.nothing_asked_of_post"))
  body <- body_of(request)
  statements <- if (is_array(body)) body else list(body)
  ids <- take_statements(receiver, allowed, statements, request)
  json_answer(200, as.list(ids))
}

# All of them or none: each is looked at before the first is kept.
take_statements <- function(receiver, allowed, statements, request) {
  for (k in seq_along(statements)) {
    fault <- statement_fault(statements[[k]])
    if (!is.null(fault)) {
      refuse(400, say_fault(fault, if (length(statements) > 1) k))
    }
  }
  if (!length(statements)) return(character())
  of <- vapply(statements, function(one) {
    found <- test_of_statement(receiver, allowed, one)
    if (length(found)) found[1] else NA_character_
  }, "")
  if (anyNA(of)) {
    strange <- statements[[which(is.na(of))[1]]]
    address <- quoted(printable(paste0("", addresses_of(strange)[1])))
    refuse(403, say("receive-answer.of_no_test_here", address = address))
  }
  if (length(unique(of)) > 1) refuse(400, say("receive-answer.of_several_tests"))
  test <- test_of_receiver(receiver, of[1])
  text <- if (length(statements) == 1) written_as(request, statements[[1]])
  kept <- store_statements(test$store, statements, test$name, text = text)
  if (is.null(kept$ids)) {
    refuse(if (kept$code == "conflict") 409 else 400, say_fault(kept))
  }
  if (length(kept$new)) note_answers(test, kept$new)
  unname(kept$ids)
}

# The text of a request that is one statement and holds nothing but that.
written_as <- function(request, statement) {
  text <- rawToChar(request$body)
  Encoding(text) <- "UTF-8"
  is_one <- grepl("^\\s*[{]", text) && !is.null(statement$actor)
  if (is_one) text
}

say_fault <- function(fault, k = NULL) {
  place <- paste(c(if (!is.null(k)) c("statements", k), fault$place), collapse = ".")
  value <- if (is.list(fault$value)) NULL else say_found(fault$value)
  words <- words_for(fault$code, "faults")
  paste0(
    if (nzchar(place)) paste0(place, ": "),
    words,
    if (length(value)) paste0(" (", value, ")")
  )
}

# JSON of bounded size and depth.
body_of <- function(request) {
  kind <- content_kind(request)
  if (kind != "application/json") {
    refuse(if (kind == "multipart/mixed") 415 else 400, say("receive-answer.send_json"))
  }
  check_length(request)
  text <- rawToChar(request$body[request$body != as.raw(0L)])
  Encoding(text) <- "UTF-8"
  if (!validUTF8(text) || any(request$body == as.raw(0L))) {
    refuse(400, say("receive-answer.no_utf8"))
  }
  look <- look_at_json(request$body)
  if (look$depth > limit_of("depth")) refuse(400, say("receive-answer.too_deep"))
  parsed <- tryCatch(
    list(jsonlite::fromJSON(text, simplifyVector = FALSE)),
    error = function(e) NULL
  )
  if (is.null(parsed)) refuse(400, say("receive-answer.broken_json"))
  parsed[[1]]
}
