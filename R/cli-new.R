# A test folder from raw exports, and the account of how they were read.

run_new <- function(call) {
  if (is.null(call$from)) {
    abort_pregunta(
      "call",
      "pregunta new needs the exports to read.",
      NULL,
      paste0("For example: pregunta new ", call$folder, " --from results.csv")
    )
  }
  account <- new_test(
    call$folder,
    call$from,
    key = call$key,
    students = call$students,
    standards = call$standards,
    like = call$like,
    sheet = call$sheet,
    layout = read_set(call$set)
  )
  cat(show_account(account), sep = "\n")
  findings <- check_sitting(read_sitting(call$folder))
  cat("", say_folder(call$folder, findings), sep = "\n")
  0L
}

# --set student=Code;rows.points=Max as the list that a layout is.
read_set <- function(set) {
  layout <- list()
  for (one in if (is.null(set)) NULL else trimws(strsplit(set, ";", fixed = TRUE)[[1]])) {
    name <- trimws(sub("=.*", "", one))
    root <- sub("[.].*", "", name)
    if (!grepl("=", one, fixed = TRUE) || !root %in% layout_names) {
      abort_pregunta(
        "call",
        paste0("--set ", one, " is not understood."),
        NULL,
        paste0("Write it as WHAT=NAME; WHAT is one of: ", some_of(layout_names, 40), ".")
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
  blocks <- split(account, factor(account$file, unique(account$file)))
  text <- vapply(
    blocks,
    function(block) paste(block$what, block$taken, collapse = "\r"),
    ""
  )
  names <- split(names(blocks), factor(text, unique(text)))
  wide <- max(nchar(account$what))
  unlist(
    lapply(names, function(files) {
      block <- blocks[[files[1]]]
      c(
        paint(printable(paste0(some_of(files, 4), ":"))[nzchar(files[1])], "bold"),
        unlist(
          Map(function(what, taken) {
            lines <- wrap_lines(printable(taken), width = table_width - wide - 4)
            paste0(
              "  ", formatC(c(what, rep("", length(lines) - 1)), width = -wide), "  ",
              lines
            )
          }, block$what, block$taken),
          use.names = FALSE
        )
      )
    }),
    use.names = FALSE
  )
}

say_folder <- function(folder, findings) {
  about <- attr(findings, "about")
  kinds <- table(factor(findings$severity, c("error", "warning", "note")))
  kinds <- kinds[kinds > 0]
  c(
    paint(paste0(folder, ":"), "bold"),
    paste0("  ", about[-1]),
    "",
    if (length(kinds)) {
      paste0(
        "pregunta check ", folder, " shows ",
        join_words(mapply(count_of, kinds, names(kinds))), "."
      )
    } else {
      "All adds up."
    },
    paste0("Next: pregunta items ", folder)
  )
}

# A blank form, or a filled-in one read back.
run_form <- function(call) {
  if (is.null(call$back)) {
    paths <- write_form(call$folder)
    cat(
      paste0(
        "Written: ", paths[1], ", and ", paths[2],
        " with the allowed answers as a list in each cell."
      ),
      paste0(
        "Fill in either one, as far as you are, then: pregunta form ", call$folder,
        " --back FILE"
      ),
      sep = "\n"
    )
    return(0L)
  }
  counts <- read_form(call$folder, call$back)
  cat(
    paste0(
      "Read from ", call$back, ": ", paste(counts$n, counts$what, collapse = ", "), "."
    ),
    paste0("Next: pregunta check ", call$folder),
    sep = "\n"
  )
  0L
}

#' @export
print.pregunta_account <- function(x, ...) {
  cat(show_account(x), sep = "\n")
  invisible(x)
}
