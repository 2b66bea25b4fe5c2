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
        say("sitting-check-tables.is_an_item_without"),
        say("sitting-check-tables.it_counts_in_the")
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
          say("sitting-check-tables.is_a_misconception_that"),
          hint_for_code(code, misconceptions$code),
          line = line_of(options)[match(code, options$misconception)]
        )
      })
    )
  }
  used <- unlist(split_codes(items$standards))
  used <- with_ancestors(unique(used), standards)
  idle <- setdiff(standards$code, used)
  if (!length(idle)) return(findings)
  with_finding(
    findings,
    if (length(used)) "note" else "warning",
    origin_of(standards),
    "code",
    some_of(idle),
    if (length(idle) == 1) {
      say("sitting-check-tables.is_a_standard_that")
    } else {
      say("sitting-check-tables.are_standards_that_no")
    },
    if (length(used)) {
      say("sitting-check-tables.nothing_to_do_if")
    } else {
      say("sitting-check-tables.give_items_csv_a")
    }
  )
}

check_keys_there <- function(items,
                             rows = which(!is_marked(items$type) & is.na(items$key))) {
  lapply(rows, function(row) {
    type <- items$type[row]
    if (is_marked(type)) type <- usual_type(keyed = TRUE)
    new_finding(
      "error",
      origin_of(items),
      "key",
      items$item[row],
      say("sitting-check-tables.is_an_item_without_a"),
      say(
        "sitting-check-tables.fill_in_its_key",
        type = say_examples(item_type(type))
      ),
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
        say("sitting-check-tables.is_the_key_of", item = items$item[row]),
        say("sitting-check-tables.its_options_are", offered = some_of(offered)),
        line = line_of(items)[row],
        item = items$item[row]
      )
      findings <- c(findings, list(found))
    }
  }
  findings
}

# Languages that families are said to read, and that no words are there for.
check_languages <- function(students) {
  if (is.null(students$language)) return(list())
  said <- as_text(students$language)
  unknown <- unique(said[!is.na(said) & is.na(language_like(said))])
  lapply(unknown, function(one) {
    new_finding(
      "note",
      origin_of(students),
      "language",
      one,
      say("sitting-check-tables.is_no_language"),
      say(
        "sitting-check-tables.known_languages",
        known = in_a_row(languages_that_cover("home"))
      ),
      line = line_of(students)[match(one, said)]
    )
  })
}

# Standards with cuts of their own that the test does not know.
check_cut_codes <- function(settings, standards) {
  lapply(setdiff(names(settings$cuts), standards$code), function(code) {
    new_finding(
      "warning",
      "test.yml",
      "cuts",
      code,
      say("sitting-check-tables.is_no_standard_of"),
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
    at <- which(vapply(codes, function(some) code %in% some, TRUE))[
      1
    ]
    new_finding(
      "warning",
      origin_of(items),
      "standards",
      code,
      say("sitting-check-tables.is_a_standard_of", item = items$item[at]),
      hint_for_code(code, known),
      line = line_of(items)[at]
    )
  })
}
