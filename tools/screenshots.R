# One current PNG of each main output, made from the demo, in docs/screenshots.
# Needs a browser, and for the terminal Xvfb, xterm and ImageMagick, which it
# installs where apt can.
library(pregunta)
library(testthat, warn.conflicts = FALSE)

needed <- c(Xvfb = "xvfb", xterm = "xterm", import = "imagemagick")
absent <- needed[!nzchar(Sys.which(names(needed)))]
if (length(absent)) {
  system2(
    "apt-get",
    c("install", "-y", "-q", "--no-install-recommends", absent, "fonts-dejavu-core"),
    stdout = FALSE
  )
}
folder <- "docs/screenshots"
dir.create(folder, recursive = TRUE, showWarnings = FALSE)
unlink(list.files(folder, full.names = TRUE))
quiz <- read_sitting(demo_path())
picture <- getFromNamespace("write_picture", "pregunta")

pictures <- getFromNamespace("sitting_pictures", "pregunta")(quiz)
picture(pictures$misconceptions, file.path(folder, "picture-misconceptions.png"))

# The year: a record of all four tests of the demo.
record <- open_record(tempfile(fileext = ".sqlite"))
for (name in c("", "knots", "logbook", "follow-up", "knots-again")) {
  add_sitting(record, read_sitting(demo_path(name)), paste0("t", name))
}
year <- getFromNamespace("read_record_settings", "pregunta")(demo_path("record.yml"))
picture(
  ggplot2::autoplot(growth(record, "section", year$windows, "all")),
  file.path(folder, "picture-growth.png")
)

# The plan as a word processor shows its first page.
document <- tempfile("plan-", fileext = ".docx")
write_plan(plan_reteach(quiz), document, quiz$settings$title, quiz$settings$date)
paper <- c(soffice = "libreoffice-writer-nogui", pdftoppm = "poppler-utils")
paper <- paper[!nzchar(Sys.which(names(paper)))]
if (length(paper)) {
  system2(
    "apt-get",
    c("install", "-y", "-q", "--no-install-recommends", paper),
    stdout = FALSE
  )
}
# R's own libraries are not those of the word processor.
system2(
  "env",
  c(
    "-u", "LD_LIBRARY_PATH", "soffice", "--headless", "--convert-to", "pdf", "--outdir",
    dirname(document), document
  ),
  stdout = FALSE,
  stderr = FALSE
)
system2(
  "pdftoppm",
  c(
    "-r", "90", "-png", "-singlefile", "-l", "1", sub("docx$", "pdf", document),
    file.path(folder, "plan")
  )
)

# ---- the pages -------------------------------------------------------------
report <- normalizePath(write_report(quiz, tempfile(fileext = ".html")))
walkthrough <- normalizePath(write_walkthrough(quiz, tempfile(fileext = ".html")))
chromium <- Sys.which(c("chromium", "chromium-browser"))
chromium <- chromium[nzchar(chromium)][1]

page <- function(name, script = "", width = 1280, height = 800, path = report) {
  html <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  driver <- paste0(
    "<script>addEventListener('load',function(){setTimeout(function(){", script,
    "},200)});</script>"
  )
  at <- regexpr("</body>\\s*</html>\\s*$", html)
  copy <- tempfile(fileext = ".html")
  writeLines(
    paste0(substr(html, 1, at - 1), driver, "</body></html>"),
    copy,
    useBytes = TRUE
  )
  system2(
    chromium,
    c(
      "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
      "--disable-background-networking", "--disable-component-update", "--disable-sync",
      "--hide-scrollbars", "--run-all-compositor-stages-before-draw",
      paste0("--user-data-dir=", tempfile("profile-")),
      paste0("--window-size=", width, ",", height), "--virtual-time-budget=4000",
      paste0("--screenshot=", file.path(getwd(), folder, name)), paste0("file://", copy)
    ),
    stdout = FALSE,
    stderr = FALSE
  )
}

only <- function(id) {
  paste0(
    "document.querySelectorAll('main>*').forEach(function(e){if(e.id!=='", id,
    "')e.remove();else e.style.marginTop=0});"
  )
}
coordinator <- normalizePath(
  write_report(quiz, tempfile(fileext = ".html"), audience = "coordinator")
)
# The same student's slip for a family that reads English and for one that reads Arabic.
slips <- vapply(c("en", "ar"), function(language) {
  path <- tempfile(fileext = ".html")
  normalizePath(write_slips(quiz, path, student = "h001", language = language))
}, "")
slip <- tempfile(fileext = ".html")
writeLines(
  c(
    "<!DOCTYPE html><html><head><style>body{margin:0;display:flex}",
    "iframe{border:0;width:50%;height:100vh}</style></head><body>",
    paste0("<iframe src=\"file://", slips, "\"></iframe>"),
    "</body></html>"
  ),
  slip
)
slip <- normalizePath(slip)
page("report.png")
page("report-coordinator.png", path = coordinator)
page("slip.png", path = slip, width = 1500)
page(
  "walkthrough.png",
  paste0(
    "document.querySelectorAll('nav ",
    "a')[2].click();document.getElementById('show').click();"
  ),
  path = walkthrough
)

# ---- the desk --------------------------------------------------------------
# Driven as its tests drive it.
for (name in c("helper", "helper-desk")) source(sprintf("tests/testthat/%s.R", name))
Sys.setenv(PREGUNTA_EXEC = normalizePath("exec/pregunta"), NOT_CRAN = "true")

# The made-up class after 24 of its 60 seconds, as if they were 24 of 60 minutes.
half_a_class <- function(folder) {
  ours <- function(name) getFromNamespace(name, "pregunta")
  dir.create(folder)
  names <- c("items.csv", "options.csv", "students.csv", "standards.csv", "test.yml")
  file.copy(file.path(demo_path(), names), folder)
  events <- ours("class_events")(read_sitting(demo_path()), 60)
  ids <- vapply(events$statement, `[[`, "", "id")
  events <- events[events$time < 24 & !duplicated(ids), ]
  store <- ours("open_store")(folder)
  begun <- Sys.time() - 24 * 60
  for (k in seq_len(nrow(events))) {
    at <- begun + 60 * events$time[k]
    ours("store_statements")(store, events$statement[k], "class", at)
  }
}

desk_pictures <- function() {
  shelf <- file.path(tempfile("shelf-"), "My tests")
  dir.create(shelf, recursive = TRUE)
  file.copy(demo_path(), shelf, recursive = TRUE)
  file.rename(file.path(shelf, basename(demo_path())), file.path(shelf, "tides"))
  desk <- open_desk_here(folder = shelf)
  page <- open_page(desk)
  keep <- function(name) {
    data <- page$Page$captureScreenshot()$data
    writeBin(jsonlite::base64_dec(data), file.path(folder, name))
  }
  go_place(page, "#tides")
  keep("desk-went.png")
  go_place(page, "#tides/questions/Q9")
  keep("desk-question.png")
  go_place(page, "#tides/questions/Q7")
  press(page, "#beside button[data-action='key'][data-value='C']")
  keep("desk-change.png")
  press(page, "#ask [data-act='close'], #beside [data-act='close']")
  go_place(page, "#tides/students/h012/Q9")
  keep("desk-students.png")
  half_a_class(file.path(shelf, "quiz"))
  go_place(page, "#quiz/live")
  Sys.sleep(3)
  keep("desk-live.png")
  go_place(page, "#tides/next")
  press(page, ".group[data-to='TC.1.c'] li:nth-child(2) .move")
  keep("desk-next.png")
  go_place(page, "#new")
  exports <- system.file("extdata", "exports", package = "pregunta")
  drop_files(page, "#arriving", file.path(exports, "wide-names-totals.csv"))
  drop_files(page, "#arriving_key", file.path(demo_path(), "items.csv"))
  keep("desk-new.png")
}
desk_pictures()

# ---- the terminal ----------------------------------------------------------
display <- ":91"
server <- paste("Xvfb", display, "-screen 0 1000x900x24 >/dev/null 2>&1 & echo $!")
process <- system(server, intern = TRUE)
Sys.sleep(1)

terminal <- function(name, arguments, lines, head = NULL) {
  piped <- if (!is.null(head)) paste(" | head -n", head)
  command <- paste0(
    "clear; echo '$ pregunta ", arguments, piped, "'; exec/pregunta ", arguments,
    " 2>/dev/null", piped, "; sleep 30"
  )
  call <- paste(
    "xterm -tn xterm-256color -display", display, "-geometry", paste0("102x", lines),
    "-fa 'DejaVu Sans Mono' -fs 9", "-bg '#FBF8F1' -fg '#1F2421' -b 12 +sb -e bash -c",
    shQuote(command), ">/dev/null 2>&1 & echo $!"
  )
  window <- system(call, intern = TRUE)
  Sys.sleep(4)
  file <- file.path(folder, name)
  system2("import", c("-display", display, "-window", "root", file))
  system2(
    "convert",
    c(
      file, "-bordercolor", "black", "-border", "1", "-fuzz", "2%", "-trim", "+repage",
      # Without its hour, a picture that did not change stays the same file.
      "-define", "png:exclude-chunks=date,time", file
    )
  )
  system2("kill", window)
  Sys.sleep(0.5)
}
work <- tempfile()
dir.create(work)
invisible(file.symlink(demo_path(), file.path(work, "demo")))
root <- getwd()
folder <- file.path(root, folder)
script <- file.path(root, "exec", "pregunta")
setwd(work)
dir.create("exec")
invisible(file.symlink(script, "exec/pregunta"))
terminal("terminal-items.png", "items demo", 44)
terminal("terminal-what-if.png", "what-if demo --key Q7=C --drop Q11", 38)
half_a_class(file.path(work, "quiz"))
terminal("terminal-watch.png", "watch quiz", 41)
terminal("terminal-compare.png", "compare demo/weather demo/weather-again", 32)
invisible(file.symlink(
  system.file("extdata", "exports", package = "pregunta"),
  file.path(work, "exports")
))
terminal(
  "terminal-new.png",
  "new my-test --from exports/wide-names-totals.csv --key demo/items.csv",
  29
)
setwd(root)
system2("kill", process)
cat(length(list.files(folder)), "pictures in docs/screenshots\n")
