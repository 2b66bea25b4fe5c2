# What is said of a mistake: what, where, what to do. The condition holds the same
# as fields, so that whoever catches it needs to read no sentence.

# class: what kind of mistake (call, folder, input, output, undecided, bank, record,
# package);
# what, where, fix: the three parts of the message; ...: facts by name, of these:
#   file, line, column   where it is
#   value                what stands there, or was given
#   choices              what could stand there
# Where the fix was made by did_you_mean(), value and choices are known from it.
abort_pregunta <- function(class, what, where = NULL, fix = NULL, ...) {
  facts <- list(...)
  stopifnot(all(names(facts) %in% error_facts), length(what) == 1)
  near <- attributes(fix)[c("value", "choices")]
  more <- setdiff(names(near), c(names(facts), NA))
  facts <- c(facts, near[more])
  facts <- facts[!vapply(facts, is.null, TRUE)]
  parts <- lapply(list(what = what, where = where, fix = fix), function(x) {
    printable(as.vector(x))
  })
  condition <- rlang::error_cnd(
    class = c(paste0("pregunta_error_", class), "pregunta_error"),
    message = parts$what,
    body = c(where_lines(parts$where), i = parts$fix),
    use_cli_format = TRUE,
    call = NULL,
    what = parts$what,
    where = if (length(parts$where)) paste(parts$where, collapse = "\n"),
    fix = parts$fix,
    !!!facts
  )
  stop(condition)
}

# What cli's own layout of a condition comes to, in a twentieth of the time: R lays out
# each when it is raised, and most are caught and never read.
#' @exportS3Method
conditionMessage.pregunta_error <- function(c) {
  width <- getOption("cli.condition_width", cli::console_width())
  signs <- c(
    x = cli::col_red(cli::symbol$cross),
    i = cli::col_cyan(cli::symbol$info)
  )
  below <- Map(function(text, sign) {
    if (!sign %in% names(signs)) return(cli::ansi_strwrap(text, width))
    lines <- cli::ansi_strwrap(text, width - 2)
    paste(c(signs[[sign]], rep(" ", length(lines) - 1)), lines)
  }, c$body, rlang::names2(c$body))
  # Where R puts the word Error before it.
  above <- sub("^ +", "", cli::ansi_strwrap(c$message, width, indent = 8))
  lines <- c(above, unlist(below))
  paste(gsub("\u00a0", " ", lines, fixed = TRUE), collapse = "\n")
}

# The second part; several lines of it stand below each other as they are.
where_lines <- function(where) {
  if (length(where) < 2) return(if (length(where)) c(x = where))
  stats::setNames(
    gsub(" ", "\u00a0", where, fixed = TRUE),
    rep("", length(where))
  )
}

# Errors of what is read or written under other paths than a person knows it by.
errors_about <- function(code, paths, known) {
  tryCatch(code, pregunta_error = function(e) {
    for (part in intersect(c("message", "what", "where", "body"), names(e))) {
      for (k in seq_along(paths)) {
        e[[part]][] <- gsub(paths[k], known[k], e[[part]], fixed = TRUE)
      }
    }
    stop(e)
  })
}

error_facts <- c("file", "line", "column", "value", "choices")

# One cell of a table is wrong. Tables that were read from a file carry its
# name and the line of each row, so the message can point into the file.
abort_cell <- function(table, row, column, what, fix) {
  value <- if (column %in% names(table)) {
    as.character(table[[column]][row])
  } else {
    NA_character_
  }
  line <- attr(table, "line")
  abort_pregunta(
    "input",
    what,
    where_is(table, row, column, value),
    fix,
    file = origin_of(table),
    line = if (is.null(line)) NA_integer_ else as.integer(line[row]),
    column = column,
    value = value
  )
}

where_is <- function(table, row, column, value = NA) {
  line <- attr(table, "line")
  place <- if (is.null(line)) {
    say("base-errors.row", row = row)
  } else if (is.na(line[row])) {
    say("base-errors.the_new_one")
  } else {
    say("base-errors.line", line = line[row])
  }
  say(
    "base-errors.column_blank",
    table = origin_of(table),
    place = place,
    column = column,
    value = value,
    no_value = is.na(value)
  )
}

# Packages that not everybody has (DESCRIPTION, Suggests), as something of them is wanted.
need_package <- function(packages) {
  lacking <- packages[!has_package(packages)]
  if (!length(lacking)) return(invisible())
  abort_pregunta(
    "package",
    say(
      "base-errors.needs_a_package",
      n = length(lacking),
      package = join_words(lacking)
    ),
    NULL,
    say("base-errors.install_it", call = install_call(lacking))
  )
}

has_package <- function(packages) {
  vapply(packages, requireNamespace, TRUE, quietly = TRUE, USE.NAMES = FALSE)
}

# What installs packages, as it is typed in R.
install_call <- function(packages) {
  named <- paste0("\"", packages, "\"", collapse = ", ")
  if (length(packages) > 1) named <- paste0("c(", named, ")")
  paste0("install.packages(", named, ")")
}

# What an error says field by field: its kind, and those that are known.
facts_said <- function(e) {
  facts <- lapply(e[c("what", "where", "fix", error_facts)], function(fact) {
    if (is.atomic(fact) && length(fact)) fact[!is.na(fact)]
  })
  kind <- sub("^pregunta_error_", "", class(e)[1])
  c(
    if (inherits(e, "pregunta_error")) list(kind = kind),
    facts[lengths(facts) > 0]
  )
}
