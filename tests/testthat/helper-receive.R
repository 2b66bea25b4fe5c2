# A receiver as a process, and somebody who speaks to it.

receive_here <- function(folder, env = parent.frame(), ...) {
  skip_on_cran()
  log <- tempfile("receive-", fileext = ".log")
  process <- processx::process$new(
    Sys.getenv("PREGUNTA_EXEC"),
    c("receive", folder, "--port", free_port(), ...),
    stdout = "|",
    stderr = log
  )
  defer_here(process$kill_tree(), env)
  line <- wait_for(function() {
    process$poll_io(200)
    lines <- process$read_output_lines()
    if (length(lines)) lines[1] else if (!process$is_alive()) stop(readLines(log))
  })
  parts <- regmatches(line, regexec("^http://([^:]*):([^@]*)@([^/]*)(/xapi)$", line))[[1]]
  list(
    process = process, folder = folder, user = parts[2], key = parts[3],
    base = paste0("http://", parts[4]), log = log
  )
}

# The statement's own folder, with the demo's questions and nobody's answers.
unsat_demo <- function() {
  folder <- tempfile("class-")
  dir.create(folder)
  names <- c("items.csv", "options.csv", "students.csv", "standards.csv", "misconceptions.csv")
  file.copy(file.path(demo_path(), names), folder)
  writeLines("title: Tides and Currents", file.path(folder, "test.yml"))
  folder
}

ask_receiver <- function(receiver, path = "/xapi/statements", method = "GET", body = NULL,
                         headers = list(), key = receiver$key, user = receiver$user) {
  handle <- curl::new_handle(customrequest = method, followlocation = FALSE)
  if (method == "HEAD") curl::handle_setopt(handle, nobody = TRUE)
  if (!is.null(body)) {
    bytes <- charToRaw(body)
    curl::handle_setopt(
      handle,
      post = TRUE, postfieldsize = length(bytes), postfields = bytes, customrequest = method
    )
  }
  usual <- list(
    Authorization = paste("Basic", jsonlite::base64_enc(charToRaw(paste0(user, ":", key)))),
    `X-Experience-API-Version` = "1.0.3",
    `Content-Type` = "application/json"
  )
  curl::handle_setheaders(handle, .list = utils::modifyList(usual, headers))
  got <- curl::curl_fetch_memory(paste0(receiver$base, path), handle)
  text <- rawToChar(got$content)
  list(
    status = got$status_code,
    text = text,
    json = if (nzchar(text)) jsonlite::fromJSON(text, simplifyVector = FALSE),
    headers = curl::parse_headers_list(got$headers)
  )
}

# A sound statement; what is named in `...` is put in its place, by a path of names.
a_statement <- function(student = "h001", item = "Q1", response = "A", ...) {
  statement <- list(
    actor = list(account = list(homePage = "https://example.org", name = student)),
    verb = list(id = "http://adlnet.gov/expapi/verbs/answered"),
    object = list(id = paste0("https://example.org/tides/", item)),
    result = list(response = response)
  )
  other <- list(...)
  for (path in names(other)) {
    statement[[strsplit(path, ".", fixed = TRUE)[[1]]]] <- other[[path]]
  }
  statement
}

as_json <- function(x) as.character(jsonlite::toJSON(x, auto_unbox = TRUE, null = "null"))

new_id <- function() internal("new_uuid")()

# A server as a process that dies at the first request, is busy at the second and takes the
# third; the bodies that it got stand in `state`.
flaky_server <- function(port, state) {
  code <- sprintf(
    paste0(
      "bodies <- character(); httpuv::startServer('127.0.0.1', %d, list(call = function(req) { ",
      "bodies <<- c(bodies, rawToChar(req$rook.input$read())); saveRDS(bodies, '%s'); ",
      "if (length(bodies) == 1) stop('gone'); ",
      "status <- c(500L, 503L, 200L)[length(bodies)]; ",
      "list(status = status, headers = list('Content-Type' = 'application/json'), body = '[]') ",
      "})); repeat httpuv::service(100)"
    ),
    port, state
  )
  process <- processx::process$new("Rscript", c("-e", code))
  wait_for(function() {
    tryCatch(
      {
        close(socketConnection("127.0.0.1", port, timeout = 1))
        TRUE
      },
      error = function(e) FALSE,
      warning = function(w) FALSE
    )
  })
  process
}
