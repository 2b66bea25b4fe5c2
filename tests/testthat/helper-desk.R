# The desk in a real browser: started as a process, driven by what a person would press.

# A desk on a folder with the demo in it as `tides`. Most tests take turns at one, whose
# shelf is as new for each; who ends it, floods it or starts it otherwise has one alone.
open_desk_here <- function(env = parent.frame(), folder = NULL, more = NULL,
                           alone = !is.null(folder) || !is.null(more)) {
  skip_on_cran()
  skip_if_not_installed("chromote")
  browser <- Sys.which(c("chromium", "chromium-browser", "google-chrome"))
  skip_if_not(any(nzchar(browser)), "no browser on this machine")
  if (!alone) return(desk_in_turn())
  if (is.null(folder)) folder <- new_shelf(tempfile("shelf-"))
  desk <- start_desk(folder, more)
  defer_here(desk$process$kill_tree(), env)
  desk
}

desk_taken_in_turn <- new.env(parent = emptyenv())

# At the end of a file of tests that took turns; a forked process has no finalizers.
end_desk_in_turn <- function() {
  if (!is.null(desk_taken_in_turn$desk)) desk_taken_in_turn$desk$process$kill_tree()
  desk_taken_in_turn$desk <- NULL
}

desk_in_turn <- function() {
  known <- desk_taken_in_turn$desk
  if (!is.null(known) && known$process$is_alive()) {
    new_shelf(known$folder)
    return(known)
  }
  desk_taken_in_turn$desk <- start_desk(new_shelf(tempfile("shelf-")))
  desk_taken_in_turn$desk
}

# Nothing but the demo as it comes, whatever was there.
new_shelf <- function(folder) {
  there <- list.files(folder, full.names = TRUE, all.files = TRUE, no.. = TRUE)
  unlink(there, recursive = TRUE)
  dir.create(folder, showWarnings = FALSE)
  file.copy(demo_path(), folder, recursive = TRUE)
  file.rename(file.path(folder, basename(demo_path())), file.path(folder, "tides"))
  folder
}

start_desk <- function(folder, more = NULL) {
  port <- free_port()
  log <- tempfile("desk-", fileext = ".log")
  process <- processx::process$new(
    Sys.getenv("PREGUNTA_EXEC"),
    c("desk", folder, "--no-browser", "--port", port, more),
    stdout = "|",
    stderr = log
  )
  address <- wait_for(function() {
    process$poll_io(200)
    lines <- process$read_output_lines()
    if (length(lines)) lines
  })
  list(folder = folder, process = process, address = address, port = port, log = log)
}

defer_here <- function(expr, env) {
  code <- substitute(expr)
  here <- parent.frame()
  do.call(on.exit, list(bquote(eval(quote(.(code)), .(here))), add = TRUE), envir = env)
}

# Until it is something. How long it may take says nothing of what is tested: a machine
# that does three things at once has to get there too.
wait_for <- function(ask, seconds = 120) {
  end <- Sys.time() + seconds
  pause <- 0.05
  repeat {
    found <- ask()
    if (!is.null(found) && !identical(found, FALSE)) return(found)
    if (Sys.time() > end) stop("nothing came in ", seconds, " s")
    Sys.sleep(pause)
    pause <- min(0.25, pause * 1.2)
  }
}

# One browser for all tests of a process; each has a page of its own, and a desk whose
# cookie and port are its own.
browser_here <- new.env(parent = emptyenv())

open_page <- function(desk, width = 1280, height = 800, env = parent.frame()) {
  page <- new_page(width, height, env)
  page$Page$navigate(desk$address)
  wait_js(page, "document.querySelector('#main h1')")
  settle(page)
  page
}

# A file in the browser, when its tables are drawn.
open_file <- function(path, width = 1280, height = 800, env = parent.frame()) {
  page <- new_page(width, height, env)
  page$Page$navigate(paste0("file://", normalizePath(path)))
  drawn <- paste0(
    "document.readyState === 'complete' && ",
    "Array.from(document.querySelectorAll('.reactable.html-widget'))",
    ".every(function (one) { return one.querySelector('.rt-table') })"
  )
  wait_js(page, drawn)
  Sys.sleep(0.2)
  page
}

new_page <- function(width, height, env) {
  flags <- c(
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
    "--force-color-profile=srgb"
  )
  root <- browser_here$root
  if (is.null(root)) {
    path <- Sys.which(c("chromium", "chromium-browser", "google-chrome"))
    options(chromote.timeout = 120)
    chrome <- chromote::Chrome$new(path = path[nzchar(path)][1], args = flags)
    root <- browser_here$root <- chromote::Chromote$new(browser = chrome)
    root$default_timeout <- 120
  }
  page <- root$new_session(width = width, height = height)
  defer_here(try(page$close(), silent = TRUE), env)
  page
}

run_js <- function(page, code) {
  found <- page$Runtime$evaluate(
    code,
    returnByValue = TRUE,
    awaitPromise = TRUE,
    timeout_ = 120
  )
  if (!is.null(found$exceptionDetails)) stop(found$exceptionDetails$exception$description)
  found$result$value
}

# Until something holds in the page, which looks for itself: asked from here, each look
# takes a part of what the page has to draw with. `apart`: milliseconds before the first
# look, in which what was pressed is told, and after the last, in which it is drawn.
wait_js <- function(page, asked, apart = 0) {
  watch <- sprintf(
    paste0(
      "new Promise((done) => {const end = Date.now() + 60000; ",
      "const holds = () => {try {return !!(%s)} catch (e) {return false}}; ",
      "const look = () => {if (holds()) setTimeout(() => done(true), %d); ",
      "else if (Date.now() > end) done(false); else setTimeout(look, 20)}; ",
      "setTimeout(look, %d);})"
    ),
    asked, apart, apart
  )
  # A page that is left has nothing more to say; the next one is asked.
  left <- "navigated|closed|context|collected"
  wait_for(function() {
    tryCatch(run_js(page, watch), error = function(e) {
      if (!grepl(left, conditionMessage(e))) stop(e)
      FALSE
    })
  })
}

# Nothing is being drawn, and what was drawn has come.
settle <- function(page) {
  quiet <- paste0(
    "document.documentElement.dataset.sent === document.documentElement.dataset.turned && ",
    "!document.querySelector('.recalculating') && ",
    "!document.documentElement.classList.contains('shiny-busy')"
  )
  wait_js(page, quiet, 50)
}

go_place <- function(page, place) {
  run_js(page, paste0("location.hash = ", jsonlite::toJSON(place, auto_unbox = TRUE)))
  settle(page)
}

text_of <- function(page, selector = "#page") {
  said <- run_js(page, sprintf(
    "(document.querySelector(%s) || {}).innerText || ''",
    jsonlite::toJSON(selector, auto_unbox = TRUE)
  ))
  gsub("[[:space:]]+", " ", said)
}

press <- function(page, selector) {
  found <- run_js(page, sprintf(
    "(() => {const e = document.querySelector(%s); if (e) e.click(); return !!e;})()",
    jsonlite::toJSON(selector, auto_unbox = TRUE)
  ))
  if (!found) stop("nothing to press: ", selector)
  settle(page)
}

# What a person types into a field, letter by letter.
type_into <- function(page, selector, text) {
  run_js(page, sprintf(
    "(() => {const e = document.querySelector(%s); e.focus(); e.select(); return true;})()",
    jsonlite::toJSON(selector, auto_unbox = TRUE)
  ))
  page$Input$insertText(text)
}

type_keys <- function(page, keys) {
  codes <- c(
    Enter = 13, Tab = 9, Escape = 27, ArrowLeft = 37, ArrowUp = 38, ArrowRight = 39,
    ArrowDown = 40
  )
  for (key in keys) {
    code <- if (key %in% names(codes)) codes[[key]] else utf8ToInt(toupper(key))
    text <- if (key == "Enter") "\r" else if (nchar(key) == 1) key
    down <- c(
      list(type = "keyDown", key = key, windowsVirtualKeyCode = code),
      if (!is.null(text)) list(text = text)
    )
    do.call(page$Input$dispatchKeyEvent, down)
    page$Input$dispatchKeyEvent(type = "keyUp", key = key, windowsVirtualKeyCode = code)
  }
  settle(page)
}

# An act told to the desk as the page tells it, and waited for: `settle()` counts it too.
tell_act <- function(page, ...) {
  act <- jsonlite::toJSON(list(...), auto_unbox = TRUE)
  run_js(page, sprintf(
    paste0(
      "(() => {const at = document.documentElement.dataset; ",
      "at.sent = Number(at.sent || 0) + 1; ",
      "Shiny.setInputValue('act', %s, {priority: 'event'}); ",
      "Shiny.setInputValue('turn', Number(at.sent), {priority: 'event'}); return true;})()"
    ),
    act
  ))
  settle(page)
}

# The Tab key until something of that kind has the focus; how often it took.
tab_to <- function(page, selector, most = 120) {
  at <- sprintf(
    "document.activeElement.matches(%s)", jsonlite::toJSON(selector, auto_unbox = TRUE)
  )
  for (k in seq_len(most)) {
    page$Input$dispatchKeyEvent(type = "keyDown", key = "Tab", windowsVirtualKeyCode = 9)
    page$Input$dispatchKeyEvent(type = "keyUp", key = "Tab", windowsVirtualKeyCode = 9)
    if (run_js(page, at)) return(k)
  }
  stop("no way by Tab to ", selector)
}

send_form <- function(page, selector) {
  run_js(page, sprintf(
    "(document.querySelector(%s).requestSubmit(), true)",
    jsonlite::toJSON(selector, auto_unbox = TRUE)
  ))
  settle(page)
}

drop_files <- function(page, selector, files) {
  root <- page$DOM$getDocument()$root$nodeId
  node <- page$DOM$querySelector(root, selector)$nodeId
  before <- run_js(page, "document.documentElement.dataset.drawn")
  page$DOM$setFileInputFiles(files = as.list(files), nodeId = node)
  wait_js(page, sprintf("document.documentElement.dataset.drawn !== '%s'", before))
  settle(page)
}

# What a call says to who asks by hand.
ask_desk <- function(desk, path = "/", cookie = NULL, headers = list(), method = "GET") {
  handle <- curl::new_handle(followlocation = FALSE, customrequest = method)
  curl::handle_setheaders(
    handle,
    .list = c(headers, if (!is.null(cookie)) list(Cookie = cookie))
  )
  curl::curl_fetch_memory(paste0(sub("/[?]key=.*", "", desk$address), path), handle)
}

cookie_of <- function(desk) {
  port <- sub(".*:([0-9]+)/.*", "\\1", desk$address)
  paste0("pregunta-", port, "=", sub(".*key=", "", desk$address))
}

# By the mouse, from the middle of one thing to the middle of another.
drag <- function(page, from, to) {
  middle <- function(selector) {
    unlist(run_js(page, sprintf(
      paste0(
        "(() => {const e = document.querySelector(%s); e.scrollIntoView({block: 'center'}); ",
        "const r = e.getBoundingClientRect(); ",
        "return [r.left + r.width / 2, r.top + Math.min(r.height / 2, 20)];})()"
      ),
      jsonlite::toJSON(selector, auto_unbox = TRUE)
    )))
  }
  page$Input$setInterceptDrags(enabled = TRUE)
  data <- NULL
  page$Input$dragIntercepted(callback_ = function(message) data <<- message$data)
  mouse <- function(type, at, ...) {
    page$Input$dispatchMouseEvent(type = type, x = at[1], y = at[2], button = "left", ...)
  }
  start <- middle(from)
  mouse("mousePressed", start, clickCount = 1)
  mouse("mouseMoved", start + 12, buttons = 1)
  wait_for(function() {
    later::run_now(0.05, loop = page$get_child_loop())
    data
  })
  end <- middle(to)
  for (type in c("dragEnter", "dragOver", "drop")) {
    page$Input$dispatchDragEvent(type = type, x = end[1], y = end[2], data = data)
  }
  mouse("mouseReleased", end)
  settle(page)
}

# One browser's side of the desk, without the browser.
open_socket <- function(desk) {
  state <- new.env()
  state$at <- list()
  host <- sub("^http://([^/]*)/.*", "\\1", desk$address)
  socket <- websocket::WebSocket$new(
    paste0("ws://", host, "/websocket/"),
    headers = list(Cookie = cookie_of(desk)),
    autoConnect = FALSE,
    maxMessageSize = 32 * 1024^2,
    errorLogChannels = "none"
  )
  socket$onOpen(function(event) state$open <- TRUE)
  socket$onMessage(function(event) {
    turn <- regmatches(event$data, regexec("\"turned\":([0-9]+)", event$data))[[1]][2]
    if (!is.na(turn)) state$at[[turn]] <- Sys.time()
    state$said <- c(state$said, event$data)
  })
  socket$connect()
  wait_for(function() {
    later::run_now(0.01)
    state$open
  })
  told <- function(method, data) {
    socket$send(as.character(jsonlite::toJSON(
      list(method = method, data = data),
      auto_unbox = TRUE
    )))
  }
  parts <- c("places", "main", "beside", "ask", "done")
  shown <- rep(list(FALSE), length(parts))
  names(shown) <- paste0(".clientdata_output_", parts, "_hidden")
  told("init", c(list(place = "tides", `.clientdata_pixelratio` = 1), shown))
  list(
    press = function(place, turn) told("update", list(place = place, turn = turn)),
    act = function(given, turn) told("update", list(act = given, turn = turn)),
    said = function() state$said,
    answered = function(turn) state$at[[as.character(turn)]]
  )
}
