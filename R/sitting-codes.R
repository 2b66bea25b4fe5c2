# Codes as they are listed. Who types them writes TC.1.a, tc.1.A and TC1a for the
# same; where a list has one code that is meant, that one is read.

with_listed_codes <- function(table, column, known) {
  known <- unique(as_text(known))
  known <- known[!is.na(known)]
  if (!length(known) || is.null(table) || !column %in% names(table)) {
    return(table)
  }
  written <- split_codes(table[[column]])
  strange <- setdiff(unlist(written), known)
  meant <- vapply(
    strange,
    function(code) only_one(codes_like(code, known)),
    ""
  )
  meant <- meant[!is.na(meant)]
  if (!length(meant)) return(table)
  rows <- which(
    vapply(
      written,
      function(codes) any(codes %in% names(meant)),
      TRUE
    )
  )
  table[[column]][rows] <- vapply(written[rows], function(codes) {
    said <- ifelse(codes %in% names(meant), meant[codes], codes)
    paste(unique(said), collapse = ";")
  }, "")
  put_right(
    table,
    lapply(names(meant), function(code) {
      first <- which(vapply(written, function(codes) code %in% codes, TRUE))[
        1
      ]
      new_finding(
        "note",
        origin_of(table),
        column,
        code,
        say("sitting-codes.is_read_as", meant = meant[[code]]),
        say("sitting-codes.nothing_to_do_if"),
        line = line_of(table)[first]
      )
    })
  )
}

# The listed codes that differ in case and dots alone.
codes_like <- function(code, known) known[bare_code(known) == bare_code(code)]

bare_code <- function(code) tolower(gsub(".", "", code, fixed = TRUE))

# What to do about a code that is not listed.
hint_for_code <- function(code, known) {
  like <- codes_like(code, known)
  if (length(like) > 1) {
    return(say(
      "sitting-codes.it_could_be_write",
      like = join_words(like, "or")
    ))
  }
  did_you_mean(code, known)
}

# The parents of a code up to the root; stops where it meets one again.
ancestors <- function(code, standards) {
  seen <- character()
  above <- standards$parent[match(code, standards$code)]
  while (!is.na(above) && !above %in% seen) {
    seen <- c(seen, above)
    above <- standards$parent[match(above, standards$code)]
  }
  seen
}

# These codes and all that stand above them.
with_ancestors <- function(codes, standards) {
  above <- lapply(codes, ancestors, standards = standards)
  unique(c(codes, unlist(above)))
}

tree_order <- function(standards) {
  below <- function(code) {
    children <- standards$code[which(standards$parent == code)]
    c(code, unlist(lapply(children, below)))
  }
  unlist(lapply(standards$code[is.na(standards$parent)], below))
}
