# A test folder from raw exports, and the account of how they were read.

run_new <- function(call) {
  if (is.null(call$from)) {
    abort_pregunta(
      "call",
      say("cli-new.pregunta_new_needs_the"),
      NULL,
      if (file.exists(call$folder) && !dir.exists(call$folder)) {
        new_call <- paste(c("pregunta", call_for_file(call$folder)), collapse = " ")
        say("cli-arguments.right_call", call = new_call)
      } else {
        say("cli-new.for_example_pregunta_new", folder = call$folder)
      }
    )
  }
  if (!call$preview) stop_where_test_is(call)
  account <- answered_reading(
    call,
    read_take(call$take),
    read_new
  )
  put_lines(show_account(account))
  if (call$preview) {
    put_lines("", show_preview(account))
    return(0L)
  }
  findings <- check_sitting(read_sitting(call$folder))
  put_lines("", say_folder(call$folder, findings))
  0L
}

# A folder that is a test already: what could have been meant, as it would be called.
stop_where_test_is <- function(call) {
  if (!is_test_folder(call$folder) || is_half_made(call$folder)) return(invisible())
  given <- c("--from", "--key", "--students")
  key <- if (length(call$key)) paste(split_repeated(call$key), collapse = ",")
  files <- list(split_repeated(call$from), key, call$students)
  start <- c("pregunta", "add", shell_word(call$folder))
  meant <- function(...) paste(c(start, ...), collapse = " ")
  add <- unlist(Map(function(flag, files) {
    if (length(files)) c(flag, shell_word(files))
  }, given, files))
  abort_pregunta(
    "output",
    say("cli-new.is_a_test_already", folder = quoted(call$folder)),
    c(
      say("cli-new.more_answers", call = meant(add)),
      say("cli-new.other_answers", call = meant(add, "--again replace"))
    ),
    say("cli-new.or_a_new_folder")
  )
}

# The account; where a file can be read in several ways and somebody sits at the
# terminal, after asking which.
answered_reading <- function(call, take, read) {
  undecided <- function(e) {
    asked <- is.data.frame(e$choices) && is_asked_here()
    if (!asked || !is.null(call$take) || e$value %in% names(take)) stop(e)
    tell_user(conditionMessage(e))
    taken <- stats::setNames(ask_reading(nrow(e$choices)), e$value)
    answered_reading(call, c(take, taken), read)
  }
  tryCatch(read(call, take), pregunta_error_undecided = undecided)
}

read_new <- function(call, take) {
  asked <- list(
    from = split_repeated(call$from),
    key = key_asked(call$key),
    students = call$students,
    standards = call$standards,
    like = call$like,
    sheet = call$sheet,
    layout = read_set(call$set),
    take = take
  )
  if (call$preview) return(do.call(read_account, asked))
  do.call(new_test, c(list(call$folder), asked, list(language = spoken$home)))
}

# More answers, a key or students into a folder that is there, or the last of it undone.
run_add <- function(call) {
  if (call$undo) {
    files <- undo_addition(call$folder)
    put_lines(say("cli-new.undone", files = join_words(files)))
    return(0L)
  }
  if (!is.null(call$again)) {
    check_choice("--again", call$again, ways_again)
  }
  account <- answered_reading(
    call,
    read_take(call$take),
    read_addition
  )
  put_lines(show_account(account))
  if (call$preview) {
    put_lines("", show_preview(account))
    return(0L)
  }
  if (!length(attr(account, "changed"))) {
    put_lines("", say("cli-new.nothing_changed"))
    return(0L)
  }
  findings <- check_sitting(read_sitting(call$folder))
  folder <- say_folder(call$folder, findings)
  undo <- say("cli-new.take_it_back", folder = call$folder)
  put_lines("", utils::head(folder, -1), undo)
  0L
}

read_addition <- function(call, take) {
  add_to_test(
    call$folder,
    split_repeated(call$from),
    key = key_asked(call$key),
    students = call$students,
    sheet = call$sheet,
    layout = read_set(call$set),
    take = take,
    again = call$again,
    write = !call$preview
  )
}

# --take 2, or --take a.csv=2,b.csv=1.
read_take <- function(take) {
  if (is.null(take)) return(NULL)
  parts <- split_parts(take, ",")[[1]]
  numbers <- suppressWarnings(as.integer(sub("^.*=", "", parts)))
  if (anyNA(numbers)) return(take) # refused where it is used
  named <- grepl("=", parts, fixed = TRUE)
  if (any(named)) {
    stats::setNames(numbers, sub("=[^=]*$", "", parts))
  } else {
    numbers
  }
}

is_asked_here <- function() isatty(stdin()) && isatty(stdout())

# A number from the terminal, asked until it is one of those offered.
ask_reading <- function(n) {
  repeat {
    cat(say("cli-new.which_one", n = n), "")
    line <- readLines(file("stdin"), 1)
    number <- suppressWarnings(as.integer(line))
    if (!length(line) || line %in% c("", "q")) {
      abort_pregunta("call", say("cli-new.nothing_was_chosen"))
    }
    if (number %in% seq_len(n)) return(number)
  }
}

# The first rows as they would stand in the folder.
show_preview <- function(account, most = 6) {
  table <- plain_table(attr(account, "responses"))
  rows <- utils::head(table, most)
  cells <- Map(function(name, column) {
    cell <- shorten(c(name, or_blank(as.character(column))), 16)
    formatC(cell, width = -max(nchar(cell)))
  }, names(rows), rows)
  lines <- do.call(paste, c(unname(cells), sep = "  "))
  c(
    say(
      "cli-new.would_be_written",
      n = nrow(table),
      shown = nrow(rows)
    ),
    paste0(
      "  ",
      substr(sub(" +$", "", lines), 1, table_width - 2)
    )
  )
}

# --set student=Code;rows.points=Max as the list that a layout is.
read_set <- function(set) {
  layout <- list()
  parts <- trimws(unlist(lapply(split_repeated(set), strsplit, ";", fixed = TRUE)))
  for (one in parts) {
    name <- trimws(sub("=.*", "", one))
    root <- sub("[.].*", "", name)
    if (!grepl("=", one, fixed = TRUE) || !root %in% layout_names) {
      abort_pregunta(
        "call",
        say("cli-new.set_is_not_understood", one = one),
        NULL,
        say(
          "cli-new.write_it_as_what",
          layout_names = some_of(layout_names, 40)
        )
      )
    }
    value <- trimws(sub("^[^=]*=", "", one))
    if (grepl("^[0-9]+$", value) &&
      root %in% c("header", "rows", "key_line", "id_width")) {
      value <- as.integer(value)
    }
    if (root %in% c("questions", "leave_out", "name", "scale")) {
      value <- trimws(strsplit(value, ",", fixed = TRUE)[[1]])
    }
    if (root == "rows") {
      layout$rows[[sub("^rows[.]", "", name)]] <- value
    } else {
      layout[[root]] <- value
    }
  }
  layout
}

# A block a file; the same account of many files is said once.
show_account <- function(account) {
  account$what <- words_for(account$what, "account")
  blocks <- split_in_order(account, account$file)
  text <- vapply(
    blocks,
    function(block) paste(block$what, block$taken, collapse = "\r"),
    ""
  )
  names <- split_in_order(names(blocks), text)
  wide <- max(nchar(account$what))
  lines <- lapply(names, function(files) {
    block <- blocks[[files[1]]]
    heading <- paste0(some_of(files, 4), ":")
    c(
      if (nzchar(files[1])) bold_line(heading),
      unlist(
        Map(taken_lines, block$what, block$taken, wide),
        use.names = FALSE
      )
    )
  })
  unlist(lines, use.names = FALSE)
}

# What is told in the margin, and beside it what was taken for it.
taken_lines <- function(what, taken, wide) {
  lines <- wrap_lines(taken, width = table_width - wide - 4)
  margin <- formatC(c(what, rep("", length(lines) - 1)), width = -wide)
  paste0("  ", margin, "  ", lines)
}

say_folder <- function(folder, findings) {
  about <- attr(findings, "about")
  kinds <- table(factor(findings$severity, c("error", "warning", "note")))
  kinds <- kinds[kinds > 0]
  c(
    bold_line(paste0(folder, ":")),
    paste0("  ", about[-1]),
    "",
    if (length(kinds)) {
      say(
        "cli-new.pregunta_check_shows",
        folder = folder,
        findings = join_words(say_counts(kinds))
      )
    } else {
      say("cli-new.all_adds_up")
    },
    say("cli-new.next_pregunta_items", folder = folder)
  )
}

# A blank form, or a filled-in one read back.
run_form <- function(call) {
  if (is.null(call$back)) {
    if (call$replace) {
      abort_pregunta(
        "call",
        say("cli-new.replace_is_for_back"),
        NULL,
        say("cli-new.fill_in_either_one", folder = call$folder)
      )
    }
    paths <- write_form(call$folder)
    put_lines(
      say(
        "cli-new.written_and_with_the",
        csv = paths[1],
        workbook = paths[2]
      ),
      say("cli-new.fill_in_either_one", folder = call$folder)
    )
    return(0L)
  }
  counts <- read_form(call$folder, call$back, call$replace)
  put_lines(
    say(
      "cli-new.read_from",
      back = call$back,
      n = paste(counts$n, counts$what, collapse = ", ")
    ),
    say("cli-new.next_pregunta_check", folder = call$folder)
  )
  0L
}

#' @export
print.pregunta_account <- function(x, ...) {
  put_lines(show_account(x))
  invisible(x)
}
