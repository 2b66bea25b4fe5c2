# The tables beside the responses: what must be there, what is filled in.

complete_items <- function(items) {
  items <- with_its_columns(items, "items")
  if (!nrow(items)) {
    abort_pregunta(
      "input",
      say("sitting-tables.holds_no_item", items = origin_of(items)),
      NULL,
      say("sitting-tables.give_it_a_line")
    )
  }
  items$type <- fill_types(items)
  items$points <- read_item_points(items)
  items$scoring <- read_scoring(items)
  check_keys(items)
  in_their_order(items, "items")
}

fill_types <- function(items) {
  type <- tolower(items$type)
  type[is.na(type)] <- usual_type(keyed = !is.na(items$key[is.na(type)]))
  known <- names(item_types())
  unknown <- which(!type %in% known)
  if (length(unknown)) {
    abort_cell(
      items,
      unknown[1],
      "type",
      say("sitting-tables.an_item_has_a"),
      did_you_mean(type[unknown[1]], known)
    )
  }
  type
}

read_item_points <- function(items) {
  points <- ifelse(
    is.na(items$points),
    1,
    read_number(items$points)
  )
  wrong <- which(is.na(points) | points <= 0)
  if (length(wrong)) {
    abort_cell(
      items,
      wrong[1],
      "points",
      say("sitting-tables.the_points_of_an"),
      say("sitting-tables.write_the_most_a")
    )
  }
  points
}

read_scoring <- function(items) {
  scoring <- ifelse(
    is.na(items$scoring),
    "all",
    tolower(items$scoring)
  )
  allowed <- lapply(items$type, function(name) item_type(name)$scorings)
  wrong <- which(
    !mapply(
      function(value, known) value %in% known,
      scoring,
      allowed
    )
  )
  if (length(wrong)) {
    abort_cell(
      items,
      wrong[1],
      "scoring",
      say("sitting-tables.an_item_of_type", type = items$type[wrong[1]]),
      say(
        "sitting-tables.possible_here",
        allowed = some_of(allowed[[wrong[1]]])
      )
    )
  }
  unname(scoring)
}

check_keys <- function(items) {
  each_key(items, function(row) {
    type <- item_type(items$type[row])
    if (is.null(type$read_key)) return(NULL)
    if (is.na(items$key[row])) return(NULL) # said by check_sitting(): its answers wait
    tryCatch(
      type$read_key(items$key[row]),
      pregunta_bad_key = function(problem) {
        abort_cell(
          items,
          row,
          "key",
          say(
            "sitting-tables.the_key_of_item",
            item = items$item[row],
            problem = conditionMessage(problem)
          ),
          say(
            "sitting-tables.a_key_of_type",
            type = items$type[row],
            example = say_examples(type)
          )
        )
      }
    )
  })
}

complete_options <- function(options, items, misconceptions) {
  if (is.null(options)) {
    return(data.frame(
      item = character(),
      option = character(),
      text = character(),
      misconception = character()
    ))
  }
  options <- with_its_columns(options, "options")
  strange <- lapply(setdiff(options$item, items$item), function(item) {
    new_finding(
      "error",
      origin_of(options),
      "item",
      item,
      say("sitting-tables.has_an_option_but"),
      did_you_mean(item, items$item),
      line = line_of(options)[match(item, options$item)]
    )
  })
  drop_rows(options, !options$item %in% items$item, strange)
}

# A key that is written as the text of its option.
with_option_keys <- function(items, options) {
  at <- which(
    of_types(items$type, "offers") &
      !is.na(items$key) &
      items$item %in% options$item[!is_blank(options$text)]
  )
  for (row in at) {
    mine <- options$item == items$item[row]
    key <- strsplit(items$key[row], "|", fixed = TRUE)[[1]]
    key <- as_options(
      trimws(key),
      options$option[mine],
      options$text[mine]
    )
    items$key[row] <- paste(key, collapse = "|")
  }
  items
}

complete_misconceptions <- function(misconceptions) {
  if (is.null(misconceptions)) {
    return(data.frame(code = character(), description = character()))
  }
  with_its_columns(misconceptions, "misconceptions")
}

complete_students <- function(students) {
  if (is.null(students)) return(NULL)
  in_their_order(with_its_columns(students, "students"), "students")
}

# Codes that only items name become standards without a title.
complete_standards <- function(standards, items) {
  if (is.null(standards)) {
    standards <- data.frame(code = character(), stringsAsFactors = FALSE)
  }
  standards <- with_its_columns(standards, "standards")
  standards <- break_loops(
    without_orphans(with_listed_codes(standards, "parent", standards$code))
  )
  unlisted <- setdiff(unlist(split_codes(items$standards)), standards$code)
  if (length(unlisted)) {
    extra <- standards[rep(NA_integer_, length(unlisted)), ]
    extra$code <- unlisted
    standards <- keep_origin(rbind(standards, extra), standards)
    rownames(standards) <- NULL
  }
  standards
}

split_codes <- function(codes) lapply(split_parts(codes, ";"), unique)

# What can be said of an item besides its standards: its type, and tags of one's own.
tag_columns <- function(items) {
  setdiff(
    names(items),
    c("item", "key", "points", "scoring", "standards", "prompt", "rationale")
  )
}
