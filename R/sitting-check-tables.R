# What does not fit together in the tables beside the responses.

check_codes_known <- function(items, options, standards, misconceptions) {
  findings <- list()
  with_code <- lengths(split_codes(items$standards)) > 0
  if (any(with_code)) {
    findings <- lapply(items$item[!with_code], function(item) {
      new_finding(
        "warning",
        origin_of(items),
        "standards",
        item,
        "is an item without a standard",
        "It counts in the test but in no standard. Add a code."
      )
    })
  }
  if (nrow(misconceptions)) {
    unknown <- setdiff(
      options$misconception[!is.na(options$misconception)],
      misconceptions$code
    )
    findings <- c(
      findings,
      lapply(unknown, function(code) {
        new_finding(
          "warning",
          origin_of(options),
          "misconception",
          code,
          "is a misconception that is not listed",
          hint_for_code(code, misconceptions$code),
          line = line_of(options)[match(code, options$misconception)]
        )
      })
    )
  }
  used <- unlist(split_codes(items$standards))
  used <- unique(c(used, unlist(lapply(used, ancestors, standards = standards))))
  idle <- setdiff(standards$code, used)
  if (!length(idle)) return(findings)
  c(
    findings,
    list(new_finding(
      if (length(used)) "note" else "warning",
      origin_of(standards),
      "code",
      some_of(idle),
      if (length(idle) == 1) {
        "is a standard that no item asks about"
      } else {
        "are standards that no item asks about"
      },
      if (length(used)) {
        "Nothing to do, if that was meant."
      } else {
        "Give items.csv a column standards with their codes."
      }
    ))
  )
}

check_keys_there <- function(items) {
  keyed <- !is_marked(items$type)
  lapply(which(keyed & is.na(items$key)), function(row) {
    new_finding(
      "error",
      origin_of(items),
      "key",
      items$item[row],
      "is an item without a key; its answers are not counted",
      paste0("Fill in its key, such as ", say_examples(item_type(items$type[row])), "."),
      line = line_of(items)[row],
      item = items$item[row]
    )
  })
}

check_keys_offered <- function(items, options) {
  findings <- list()
  offered_some <- of_types(items$type, "offers") &
    items$item %in% options$item &
    !is.na(items$key)
  for (row in which(offered_some)) {
    type <- item_type(items$type[row])
    right <- type$right_parts(type$read_key(items$key[row]))
    offered <- options$option[options$item == items$item[row]]
    for (key in setdiff(right, offered)) {
      found <- new_finding(
        "error",
        origin_of(items),
        "key",
        key,
        paste("is the key of", items$item[row], "but not one of its options"),
        paste0("Its options are: ", some_of(offered), "."),
        line = line_of(items)[row],
        item = items$item[row]
      )
      findings <- c(findings, list(found))
    }
  }
  findings
}

# Standards with cuts of their own that the test does not know.
check_cut_codes <- function(settings, standards) {
  lapply(setdiff(names(settings$cuts), standards$code), function(code) {
    new_finding(
      "warning",
      "test.yml",
      "cuts",
      code,
      "is no standard of this test; its cuts are not used",
      hint_for_code(code, standards$code)
    )
  })
}

# Codes of items that a list of standards does not have.
check_codes_listed <- function(items, standards) {
  if (is.null(standards)) return(NULL)
  known <- as_text(standards[["code"]])
  codes <- split_codes(items$standards)
  lapply(setdiff(unlist(codes), known), function(code) {
    at <- which(vapply(codes, function(some) code %in% some, TRUE))[1]
    new_finding(
      "warning",
      origin_of(items),
      "standards",
      code,
      paste("is a standard of", items$item[at], "that is not listed"),
      hint_for_code(code, known),
      line = line_of(items)[at]
    )
  })
}
