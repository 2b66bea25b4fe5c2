# A JSON Schema for what each verb writes with --format json, from what it writes of
# the demo: the columns, their types, and what each means. Run after a column is
# added: Rscript data-raw/schemas.R
library(pregunta)
meaning_of <- getFromNamespace("meaning_of", "pregunta")
codes_of <- getFromNamespace("codes_of", "pregunta")
demo <- demo_path()
reasoned <- tempfile() # a test where students wrote their reasons
dir.create(reasoned)
writeLines(
  c("student,Q1,Q1 explanation,Q2", "a,A,for,B", "b,B,,B", "c,A,because,C"),
  file.path(reasoned, "responses.csv")
)
writeLines(c("item,key", "Q1,A", "Q2,B"), file.path(reasoned, "items.csv"))
marked <- tempfile() # a test that two people marked
dir.create(marked)
writeLines(
  c(
    "student,item,marker,points",
    sprintf(
      "%s,essay,%s,%d", rep(letters[1:8], each = 2), c("Ames", "Bell"), c(4:9, 1:9, 7L)
    )
  ),
  file.path(marked, "responses.csv")
)
writeLines(c("item,type,points", "essay,mark,10"), file.path(marked, "items.csv"))
calls <- list(
  check = list(c("check", demo)),
  test = list(c("test", demo), c("test", demo, "--by", "section")),
  items = list(c("items", demo), c("items", demo, "--by", "section")),
  review = list(c("items", demo, "--review")),
  keys = list(c("items", demo, "--keys")),
  options = list(c("options", demo), c("options", demo, "--by", "section")),
  answers = list(c("options", demo, "--whole")),
  who = list(c("options", demo, "--who")),
  explanations = list(c("explanations", reasoned)),
  time = list(c("time", demo)),
  attempts = list(c("attempts", demo)),
  students = list(c("students", demo)),
  standards = list(c("standards", demo), c("standards", demo, "--by", "section")),
  `standards-by-student` = list(c("standards", demo, "--by", "student")),
  misconceptions = list(c("misconceptions", demo)),
  `misconceptions-by-student` = list(c("misconceptions", demo, "--by", "student")),
  groups = list(c("groups", demo)),
  decisions = list(c("decisions", demo)),
  parts = list(c("parts", demo)),
  precision = list(c("precision", demo)),
  scale = list(c("scale", demo)),
  `scale-by-student` = list(c("scale", demo, "--by", "student")),
  `scale-by-score` = list(c("scale", demo, "--by", "score")),
  patterns = list(c("patterns", demo)),
  markers = list(c("markers", marked)),
  `markers-by-marker` = list(c("markers", marked, "--by", "marker")),
  `markers-by-answer` = list(c("markers", marked, "--by", "answer")),
  `markers-by-number` = list(c("markers", marked, "--by", "number")),
  cuts = list(c("cuts", demo, "--cut", "0.6")),
  `standards-helped` = list(c("standards", demo, "--by", "student", "--helped")),
  fairness = list(c("fairness", demo, "--by", "section")),
  plan = list(c("plan", demo)),
  compare = list(c("compare", demo, demo_path("follow-up"))),
  watch = list(c("watch", demo)),
  `what-if` = list(c("what-if", demo, "--key", "Q7=C"))
)
# The record of the year: its tables come from a record of all the demo's tests.
record <- tempfile(fileext = ".sqlite")
invisible(utils::capture.output(
  suppressMessages({
    run_command(
      c(
        "record", "add", demo, demo_path(c("knots", "follow-up", "knots-again")),
        "--record", record
      )
    )
  })
))
year <- function(...) list(c("record", ..., "--record", record))
calls <- c(
  calls,
  list(
    growth = year("growth"),
    drift = year("drift"),
    `growth-by-student` = year("growth", "--by", "student"),
    `record-list` = year("list"),
    `record-tests` = year("tests"),
    `record-items` = year("items")
  )
)
kind <- function(values) {
  values <- Filter(Negate(is.null), values)
  if (!length(values)) return(c("boolean", "number", "string")) # never seen yet
  unique(vapply(values, function(v) {
    if (is.logical(v)) "boolean" else if (is.numeric(v)) "number" else "string"
  }, ""))
}
for (name in names(calls)) {
  first <- calls[[name]][[1]]
  others <- if (first[1] != "record") {
    lapply(c("knots", "logbook", "follow-up"), function(other) {
      replace(first, first == demo, demo_path(other))
    })
  }
  rows <- unlist(
    lapply(c(calls[[name]], if (name != "what-if") others), function(call) {
      text <- utils::capture.output(
        invisible(suppressMessages(run_command(c(call, "--format", "json"))))
      )
      if (any(nzchar(text))) {
        jsonlite::fromJSON(paste(text, collapse = "\n"), simplifyVector = FALSE)
      }
    }),
    recursive = FALSE
  )
  columns <- unique(unlist(lapply(rows, names)))
  if (name == "record-tests") {
    columns <- setdiff(columns, c("demo", "knots", "follow-up", "knots-again"))
  } # one a test
  everywhere <- columns[
    vapply(columns, function(column) {
      all(vapply(rows, function(row) column %in% names(row), TRUE))
    }, TRUE)
  ]
  levels <- names(default_settings()$levels)
  properties <- lapply(stats::setNames(nm = columns), function(column) {
    values <- Filter(Negate(is.null), lapply(rows, `[[`, column))
    codes <- codes_of(column, unlist(values))
    c(
      list(
        type = I(sort(unique(c(kind(values), "null")))),
        description = meaning_of(column, levels)
      ),
      if (!is.null(codes)) list(enum = c(as.list(codes), list(NULL)))
    )
  })
  schema <- list(
    `$schema` = "https://json-schema.org/draft/2020-12/schema",
    title = paste("pregunta", name),
    description = paste(
      paste0(
        "An array of objects, one a row; unrounded. Levels and columns to group by have ",
        "the names that"
      ),
      "the test gives them."
    ),
    type = "array",
    items = list(
      type = "object",
      properties = properties,
      # A test without sections has none to group within.
      required = I(as.character(setdiff(
        everywhere, c(levels, if (name == "groups") "section")
      ))),
      additionalProperties = TRUE
    )
  )
  writeLines(
    jsonlite::toJSON(schema, auto_unbox = TRUE, pretty = TRUE),
    file.path("inst", "schema", paste0(name, ".schema.json"))
  )
}
