# How much is read of what comes from outside, so that no file fills the memory or takes
# an evening. Whoever has a right reason for more raises all of them: PREGUNTA_LIMITS=10.

limits <- c(
  megabytes = 100, # of one document of XML, JSON or YAML, or of a zip file's entries
  entries = 20000, # of a zip file
  elements = 5e6, # of XML with their attributes, or values of JSON
  depth = 100, # of either
  cells = 1e6, # of a sheet, from its first to its last
  columns = 2000, # of a table: three for each question, and those of the students
  questions = 500, # of a test
  letters = 1e5, # of a cell
  letters_of_id = 200,
  standards = 20000,
  levels_of_standards = 100
)

limit_of <- function(what) limits[[what]] * raised_limits()

raised_limits <- function() {
  said <- suppressWarnings(as.numeric(Sys.getenv("PREGUNTA_LIMITS", "1")))
  if (is.na(said)) 1 else max(1, said)
}

# The share of the usual that is in memory at once where responses are many.
read_at_once <- function() getOption("pregunta.read_at_once", 1)

# Refuses what is over a limit. path: where it is; more: what else is known of the place.
check_limit <- function(what, found, path, more = NULL) {
  limit <- limit_of(what)
  if (is.na(found) || found <= limit) return(invisible())
  abort_pregunta(
    "input",
    say(
      paste0("limits.", what),
      path = basename(path),
      found = format_count(found),
      limit = format_count(limit)
    ),
    paste(c(path, more), collapse = ", "),
    say("limits.if_it_is_right"),
    file = path,
    value = format_count(found)
  )
}

format_count <- function(x) {
  format(round(x), big.mark = " ", scientific = FALSE, trim = TRUE)
}
