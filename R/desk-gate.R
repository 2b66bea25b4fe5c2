# Who may ask the desk for anything: whoever has the key, from the desk's own page.

# The names under which this machine calls its desk. A page elsewhere that has its own
# name lead to this machine asks under that name. Listening on all interfaces the desk is
# called by the machine's own name and by any number; a number is nobody's name that could
# lead here.
is_here <- function(desk, host) {
  own <- paste0(c("127.0.0.1", "localhost", called_here(desk)), ":", desk$port)
  by_number <- desk$host == "0.0.0.0" &&
    grepl(paste0("^[0-9]+[.][0-9]+[.][0-9]+[.][0-9]+:", desk$port, "$"), host)
  tolower(host) %in% tolower(own) || by_number
}

called_here <- function(desk) {
  if (desk$host == "0.0.0.0") Sys.info()[["nodename"]] else desk$host
}

is_own_host <- function(desk, request) {
  host <- paste0("", request$HTTP_HOST)
  is_here(desk, host) || host %in% sub("^https?://", "", desk$address)
}

# A browser tells where a request comes from, where that is another page; same-site is
# not enough, since every port of this machine is the same site.
is_own_origin <- function(desk, request) {
  origin <- request$HTTP_ORIGIN
  if (is.null(origin) || identical(origin, desk$address)) return(TRUE)
  startsWith(origin, "http://") && is_here(desk, sub("^http://", "", origin))
}

is_from_here <- function(desk, request) {
  is_own_host(desk, request) && is_own_origin(desk, request)
}

# Whose key the cookie holds; NULL for nobody's.
person_asking <- function(desk, request) {
  pairs <- strsplit(paste0("", request$HTTP_COOKIE), "; *")[[1]]
  mine <- pairs[startsWith(pairs, paste0(desk$cookie, "="))]
  person_with_key(desk, sub("^[^=]*=", "", mine))
}

# The language that they chose, which their browser keeps; else that of the desk.
language_asking <- function(desk, request) {
  pairs <- strsplit(paste0("", request$HTTP_COOKIE), "; *")[[1]]
  chosen <- sub("^[^=]*=", "", pairs[startsWith(pairs, "pregunta-language=")])
  if (!length(chosen)) return(desk$language)
  known <- languages_that_cover("everything")
  if (chosen[1] %in% known) chosen[1] else desk$language
}

person_with_key <- function(desk, given) {
  found <- vapply(desk$people, function(one) is_key(one$key, given), TRUE)
  if (any(found)) desk$people[[which(found)[1]]]
}

may_ask <- function(desk, request) {
  is_from_here(desk, request) && !is.null(person_asking(desk, request))
}

# What the browser is told with every answer.
safe_headers <- list(
  `Content-Security-Policy` = paste(
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline';",
    "img-src 'self' data:; font-src 'self' data:; connect-src 'self';",
    "form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
  ),
  `X-Content-Type-Options` = "nosniff",
  `Referrer-Policy` = "no-referrer",
  `Cross-Origin-Resource-Policy` = "same-origin",
  `Cache-Control` = "no-store"
)

# The last word on every answer: what is not for the one who asks is not sent.
guarding <- function(desk) {
  function(request, response) {
    open <- isTRUE(response$status %in% c(303, 403)) || is_statements(request)
    if (open || may_ask(desk, request)) return(response)
    refusal()
  }
}

desk_response <- function(status, kind, content, headers = list()) {
  more <- safe_headers[setdiff(names(safe_headers), names(headers))]
  shiny::httpResponse(status, kind, content, c(headers, more))
}

refusal <- function() {
  desk_response(403, "text/plain; charset=utf-8", say("desk-gate.needs_the_key"))
}

not_here <- function() {
  desk_response(404, "text/plain; charset=utf-8", say("desk-gate.nothing_here"))
}

# The first request brings the key, gets the cookie and goes on without the key in its
# address; what stands behind "#" stays.
desk_answer <- function(desk) {
  answer <- function(request) {
    if (is_statements(request)) return(receive_at_desk(desk, request))
    if (request$REQUEST_METHOD != "GET") return(refusal())
    if (!is_from_here(desk, request)) return(refusal())
    asked <- shiny::parseQueryString(paste0("", request$QUERY_STRING))
    person <- person_with_key(desk, asked$key)
    if (!is.null(person)) return(welcome(desk, person))
    person <- person_asking(desk, request)
    if (is.null(person)) return(refusal())
    path <- request$PATH_INFO
    if (path == "/") {
      page <- in_language(language_asking(desk, request), desk_page())
      return(desk_response(200, "text/html; charset=utf-8", page))
    }
    if (path %in% names(page_files)) return(own_file(path))
    if (path %in% names(shared_files)) return(shared_file(path))
    if (startsWith(path, "/made/")) return(made_file(desk, person, path))
    not_here()
  }
  methods <- c("GET", "HEAD", "POST", "PUT", "DELETE")
  structure(answer, http_methods_supported = methods)
}

welcome <- function(desk, person) {
  parts <- c(
    paste0(desk$cookie, "=", person$key), "Path=/", "HttpOnly", "SameSite=Strict",
    if (startsWith(paste0("", desk$address), "https:")) "Secure"
  )
  cookie <- paste(parts, collapse = "; ")
  desk_response(303, "text/plain", "", list(Location = "/", `Set-Cookie` = cookie))
}

page_files <- c(
  "/desk.js" = "text/javascript; charset=utf-8",
  "/desk.css" = "text/css; charset=utf-8",
  "/paper.css" = "text/css; charset=utf-8"
)

# Those of shiny stand behind the key as well: of itself its server would give them to
# everybody.
shared_files <- c(
  "/shared/jquery.min.js" = "text/javascript; charset=utf-8",
  "/shared/shiny.min.js" = "text/javascript; charset=utf-8",
  "/shared/shiny.min.css" = "text/css; charset=utf-8"
)

close_shared_files <- function(desk) {
  for (server in httpuv::listServers()) {
    if (identical(as.integer(server$getPort()), as.integer(desk$port))) {
      given <- grep("shared$", names(server$getStaticPaths()), value = TRUE)
      for (path in given) server$removeStaticPath(path)
    }
  }
}

shared_file <- function(path) {
  file <- system.file("www", path, package = "shiny")
  desk_response(200, shared_files[[path]], list(file = file, owned = FALSE))
}

own_file <- function(path) {
  file <- system.file("page", basename(path), package = "pregunta")
  desk_response(200, page_files[[path]], list(file = file, owned = FALSE))
}

# A file that was made from a test: shown as a page of nobody, which reaches no desk.
made_file <- function(desk, person, path) {
  parts <- vapply(strsplit(path, "/")[[1]][-(1:2)], decoded, "", USE.NAMES = FALSE)
  name <- parts[length(parts)]
  id <- paste(parts[-length(parts)], collapse = "/")
  known <- length(parts) > 1 && id %in% shelf_tests(desk)
  if (!known || !name %in% files_for(person, path_of_test(desk, id))$name) {
    return(not_here())
  }
  sandboxed(file.path(path_of_test(desk, id), name))
}

# As a page of nobody.
sandboxed <- function(path) {
  if (!file.exists(path)) return(not_here())
  kind <- made_kinds[[match(tools::file_ext(path), names(made_kinds))]]
  headers <- list(
    `Content-Security-Policy` = paste(
      "sandbox allow-scripts; default-src 'none'; script-src 'unsafe-inline';",
      "style-src 'unsafe-inline'; img-src data:"
    )
  )
  desk_response(200, kind, list(file = path, owned = FALSE), headers)
}

made_kinds <- c(
  html = "text/html; charset=utf-8", pdf = "application/pdf",
  md = "text/plain; charset=utf-8", zip = "application/zip",
  xlsx = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
  docx = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
)

decoded <- function(part) {
  none <- function(e) ""
  text <- tryCatch(utils::URLdecode(part), error = none, warning = none)
  Encoding(text) <- "UTF-8"
  if (validUTF8(text)) text else ""
}

encoded <- function(part) utils::URLencode(part, reserved = TRUE)
