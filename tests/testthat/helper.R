# Small sittings to reason about, and ways to run the command line.

internal <- function(name) getFromNamespace(name, "pregunta")

# What is the same to the last bit has no difference to be told; testthat looks for one at
# every expectation, which takes a sixth of the time of all tests.
quick_when_same <- function(full) {
  function(object, expected, ..., label = NULL, expected.label = NULL) {
    if (identical(object, expected)) {
      succeed()
      return(invisible(object))
    }
    if (is.null(label)) label <- deparse1(substitute(object))
    if (is.null(expected.label)) expected.label <- deparse1(substitute(expected))
    full(object, expected, ..., label = label, expected.label = expected.label)
  }
}

expect_equal <- quick_when_same(testthat::expect_equal)
expect_identical <- quick_when_same(testthat::expect_identical)

quick_when <- function(value, full) {
  function(object, info = NULL, label = NULL) {
    if (identical(as.vector(object), value)) {
      succeed()
      return(invisible(object))
    }
    if (is.null(label)) label <- deparse1(substitute(object))
    full(object, info, label)
  }
}

expect_true <- quick_when(TRUE, testthat::expect_true)
expect_false <- quick_when(FALSE, testthat::expect_false)

# Each process of tests has ports of its own, and none that the system gives to who asks for
# any: between asking and listening nobody else takes it.
free_port <- function() {
  for (port in 20000 + 50 * Sys.getpid() %% 250 + sample(0:49)) {
    socket <- tryCatch(serverSocket(port), error = function(e) NULL)
    if (!is.null(socket)) {
      close(socket)
      return(port)
    }
  }
}

# A wide table of answers to choice items; the key of each is A unless given.
choice_sitting <- function(answers, key = rep("A", ncol(answers)), ..., options = NULL) {
  answers <- as.data.frame(answers, stringsAsFactors = FALSE)
  names(answers) <- paste0("Q", seq_along(answers))
  responses <- data.frame(student = sprintf("s%03d", seq_len(nrow(answers))), answers)
  sitting(
    responses,
    data.frame(item = names(answers), type = "choice", key = key),
    options = options,
    ...
  )
}

# n students whose answers to k items hang together, with blanks.
random_sitting <- function(n = 60, k = 12, seed = 7, ...) {
  set.seed(seed)
  ability <- rnorm(n)
  answers <- vapply(seq_len(k), function(j) {
    right <- runif(n) < plogis(ability + rnorm(1))
    given <- ifelse(right, "A", sample(c("B", "C", "D"), n, TRUE))
    ifelse(runif(n) < 0.04, NA, given)
  }, character(n))
  choice_sitting(answers, ...)
}

# One item of a type answered in the given ways; the points of each answer.
points_of <- function(answers, type, key, scoring = NA, points = 1) {
  quiz <- sitting(
    data.frame(student = paste0("s", seq_along(answers)), Q1 = answers, Z = "x"),
    data.frame(
      item = c("Q1", "Z"),
      type = c(type, "text"),
      key = c(key, "x"),
      points = c(points, 1),
      scoring = c(scoring, NA)
    )
  )
  summarise_students(quiz)$points - 1
}

# A test folder of the given files (character vectors of lines).
folder_of <- function(..., env = parent.frame()) {
  folder <- tempfile("folder-")
  dir.create(folder)
  files <- list(...)
  for (name in names(files)) {
    if (is.raw(files[[name]])) {
      writeBin(files[[name]], file.path(folder, name))
    } else {
      writeLines(files[[name]], file.path(folder, name), useBytes = TRUE)
    }
  }
  folder
}

plain_folder <- function(responses = c("student,Q1,Q2", "a,A,B", "b,B,B", "c,A,C"),
                         items = c("item,key", "Q1,A", "Q2,B"), ...) {
  folder_of(responses.csv = responses, items.csv = items, ...)
}

demo_copy <- function() {
  folder <- tempfile("demo-")
  dir.create(folder)
  file.copy(list.files(demo_path(), full.names = TRUE), folder, recursive = TRUE)
  folder
}

# The command line as a process of its own: status, output and messages.
pregunta <- function(...) {
  script <- Sys.getenv(
    "PREGUNTA_EXEC",
    system.file("exec", "pregunta", package = "pregunta")
  )
  out <- tempfile()
  err <- tempfile()
  status <- system2(
    file.path(R.home("bin"), "Rscript"),
    c(shQuote(script), shQuote(c(...))),
    stdout = out,
    stderr = err,
    env = c("R_TESTS=", "NO_COLOR=1")
  )
  read <- function(path) readLines(path, warn = FALSE, encoding = "UTF-8")
  list(status = status, out = read(out), err = paste(read(err), collapse = "\n"))
}

expect_refused <- function(code, class, ...) {
  error <- tryCatch(
    {
      force(code)
      NULL
    },
    error = function(e) e
  )
  expect_s3_class(error, paste0("pregunta_error_", class))
  expect_true(
    is.character(error$what) && length(error$what) == 1,
    label = "the condition says what is wrong"
  )
  for (fact in c("file", "column", "value", "choices")) {
    expect_true(
      is.null(error[[fact]]) || is.character(error[[fact]]),
      label = paste("the field", fact)
    )
  }
  expect_true(is.null(error$line) || is.integer(error$line), label = "the line")
  for (text in c(...)) {
    expect_match(gsub("\\s+", " ", conditionMessage(error)), text, fixed = TRUE)
  }
  invisible(error)
}

browser <- function() {
  found <- Sys.which(c("chromium", "chromium-browser", "google-chrome"))
  unname(found[nzchar(found)][1])
}

# The page after a script has run in it, as headless Chromium sees it.
# before: a script that goes in first; wait: how long, in thousandths of a second, what
# the script
# begins may take.
page_after <- function(path, script = "", before = NULL, wait = 400, size = NULL) {
  skip_if(is.na(browser()), "no browser on this machine")
  html <- paste(readLines(path, warn = FALSE, encoding = "UTF-8"), collapse = "\n")
  noted <- paste0(
    "<script>window.faults=[];addEventListener('error',function(e){faults.push(e.message)});",
    "addEventListener('securitypolicyviolation',function(e){faults.push(e.blockedURI+e.violatedDirective)});</script>"
  )
  if (length(before)) {
    noted <- paste0(
      noted, "<script>", gsub("</script", "<\\/script", before, fixed = TRUE), "</script>"
    )
  }
  driver <- paste0(
    "<script>addEventListener('load',function(){setTimeout(function(){var said={};try{",
    script,
    "}catch(e){faults.push(String(e))}",
    "setTimeout(function(){var ",
    "o=document.createElement('script');o.type='application/json';o.id='said';",
    "said.faults=faults;if(window.later)later(said);o.textContent=encodeURIComponent(JSON.stringify(said));",
    "document.body.appendChild(o)},",
    wait,
    # The tables are there after 250 at the latest.
    ")},400)});</script>"
  )
  at <- regexpr("<meta charset", html, fixed = TRUE)
  html <- paste0(substr(html, 1, at - 1), noted, substring(html, at))
  at <- regexpr("</body>\\s*</html>\\s*$", html)
  html <- paste0(substr(html, 1, at - 1), driver, "</body></html>")
  copy <- tempfile(fileext = ".html")
  writeLines(html, copy, useBytes = TRUE)
  profile <- tempfile("profile-")
  dom <- suppressWarnings(system2(
    browser(),
    c(
      "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
      "--disable-background-networking", "--disable-component-update", "--disable-sync",
      paste0("--user-data-dir=", profile),
      if (length(size)) paste0("--window-size=", size),
      paste0("--virtual-time-budget=", 4600 + wait), "--dump-dom", paste0("file://", copy)
    ),
    stdout = TRUE,
    stderr = FALSE
  ))
  unlink(profile, recursive = TRUE)
  dom <- paste(dom, collapse = "\n")
  said <- regmatches(
    dom,
    regexpr(
      "(?s)(?<=<script type=\"application/json\" id=\"said\">).*?(?=</script>)",
      dom,
      perl = TRUE
    )
  )
  decoded <- curl::curl_unescape(said) # base R's goes letter by letter
  Encoding(decoded) <- "UTF-8"
  jsonlite::fromJSON(decoded)
}

# The command line within this process: status, output and messages.
run_here <- function(...) {
  err <- character()
  out <- capture.output(
    status <- withCallingHandlers(run_command(c(...)), message = function(m) {
      err <<- c(err, conditionMessage(m))
      invokeRestart("muffleMessage")
    })
  )
  list(status = status, out = out, err = paste(err, collapse = "\n"))
}

# The sitting without its list of changes: what the figures come from.
without_list <- function(quiz) {
  quiz$adjustments <- NULL
  quiz
}

# The same answers under other settings.
complete_settings_for <- function(quiz, ...) {
  settings <- list(...)
  quiz$settings[names(settings)] <- settings
  quiz
}

# `make test` is quick. What takes long is left to `make test TESTS=all`, as CI runs it;
# long loops go through every member there and through a few here.
all_tests <- function() identical(Sys.getenv("PREGUNTA_TESTS"), "all")

only_in_all <- function() skip_if_not(all_tests(), "left to make test TESTS=all")

thinned <- function(x, n) {
  if (all_tests() || length(x) <= n) return(x)
  x[unique(round(seq(1, length(x), length.out = n)))]
}
