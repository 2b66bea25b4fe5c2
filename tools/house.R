# The house in figures: how densely the code is written, and which room calls
# which. Rscript tools/house.R [--calls FROM TO]
#
# A room is a file's prefix. `--calls judge sitting` lists every call from one
# room to another, so that a call in the wrong direction is found.

room_order <- c(
  "base", "score", "sitting", "tally", "stat", "judge", "read", "write", "record",
  "receive", "view", "plot", "page", "desk", "cli"
)

source_files <- function(folder = "R") {
  files <- list.files(folder, "[.]R$", full.names = TRUE)
  files[!basename(files) %in% c("RcppExports.R", "pregunta-package.R", "zzz.R")]
}

room_of <- function(path) sub("[-.].*", "", basename(path))

# What a file defines: a named list of the expressions, by name.
definitions <- function(path) {
  code <- as.list(parse(path, keep.source = FALSE, encoding = "UTF-8"))
  assigned <- Filter(
    function(line) is.call(line) && identical(line[[1]], quote(`<-`)),
    code
  )
  names(assigned) <- vapply(assigned, function(line) as.character(line[[2]])[1], "")
  lapply(assigned, function(line) line[[3]])
}

# The names that an expression takes from outside itself.
globals_of <- function(expression) {
  holder <- eval(call("function", NULL, expression))
  environment(holder) <- globalenv()
  unique(codetools::findGlobals(holder))
}

# One row a call between two functions of the package.
call_graph <- function(files = source_files()) {
  defined <- lapply(files, definitions)
  home <- rep(files, lengths(defined))
  names(home) <- unlist(lapply(defined, names))
  rows <- lapply(unlist(defined, recursive = FALSE), function(body) {
    intersect(globals_of(body), names(home))
  })
  caller <- rep(names(home), lengths(rows))
  callee <- as.character(unlist(rows))
  data.frame(
    caller,
    callee,
    from = room_of(home[caller]),
    to = room_of(home[callee]),
    file = basename(home[caller]),
    of = basename(home[callee])
  )
}

# Calls that go up the house, or to a room that is not in it.
wrong_calls <- function(calls) {
  from <- match(calls$from, room_order)
  to <- match(calls$to, room_order)
  calls[is.na(from) | is.na(to) | from < to, ]
}

# Tokens on a line that holds code; calls inside calls inside calls.
density <- function(path) {
  lines <- readLines(path, encoding = "UTF-8", warn = FALSE)
  data <- utils::getParseData(parse(path, keep.source = TRUE, encoding = "UTF-8"))
  terminal <- data[data$terminal & data$token != "COMMENT", ]
  code <- unique(terminal$line1)
  nested <- nesting(parse(path, keep.source = FALSE, encoding = "UTF-8"))
  width <- nchar(lines, "width")
  data.frame(
    file = basename(path),
    room = room_of(path),
    lines = length(lines),
    code = length(code),
    tokens = nrow(terminal),
    statements = length(nested),
    deep = sum(nested >= 4),
    wide = sum(width > 90),
    longest = max(0, width)
  )
}

# How deep calls stand in each other's arguments, for every statement.
nesting <- function(code) {
  depths <- integer()
  plain <- c("{", "(", "<-", "if", "for", "while", "repeat", "function", "return")
  depth_of <- function(node) {
    if (missing(node) || !is.call(node)) return(0L)
    head <- node[[1]]
    name <- if (is.name(head)) as.character(head) else ""
    if (name == "function") {
      visit(node[[3]])
      return(0L)
    }
    if (name == "{") {
      visit(node)
      return(0L)
    }
    inner <- max(0L, vapply(as.list(node)[-1], depth_of, 0L))
    operator <- !grepl("^[A-Za-z.]", name) && nzchar(name)
    inner + !(operator || name %in% plain)
  }
  visit <- function(node) {
    if (missing(node)) return(invisible())
    if (is.call(node) && identical(node[[1]], quote(`{`))) {
      for (part in as.list(node)[-1]) visit(part)
      return(invisible())
    }
    depths[length(depths) + 1] <<- depth_of(node)
  }
  for (part in as.list(code)) visit(part)
  depths
}

main <- function(arguments) {
  calls <- call_graph()
  if (length(arguments) == 3 && arguments[1] == "--calls") {
    between <- calls$from == arguments[2] & calls$to == arguments[3]
    shown <- calls[between, c("file", "caller", "of", "callee")]
    print(shown[order(shown$callee), ], row.names = FALSE, right = FALSE)
    return(invisible())
  }
  figures <- do.call(rbind, lapply(source_files(), density))
  cat(sprintf(
    paste0(
      "%d files, %d lines, %.1f tokens a line of code, %.1f%% of %d statements nested ",
      "four deep\n"
    ),
    nrow(figures),
    sum(figures$lines),
    sum(figures$tokens) / sum(figures$code),
    100 * sum(figures$deep) / sum(figures$statements),
    sum(figures$statements)
  ))
  cat(sprintf(
    "%d lines over 90 columns, the longest %d\n",
    sum(figures$wide),
    max(figures$longest)
  ))
  cat("\nCalls between rooms (from a row to a column):\n")
  rooms <- intersect(room_order, c(calls$from, calls$to))
  print(table(factor(calls$from, rooms), factor(calls$to, rooms), dnn = NULL))
  wrong <- wrong_calls(calls)
  cat(sprintf("\n%d calls go up the house\n", nrow(wrong)))
}

if (sys.nframe() == 0 && !interactive()) main(commandArgs(trailingOnly = TRUE))
