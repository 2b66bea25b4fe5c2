# A row for each student and question (and attempt).

# What each column of a long table is: by its heading where one says it, and by what
# stands in it: students and questions come again and again, and a pair of them once.
columns_of_long <- function(frame, told, known = NULL) {
  plain <- plain_heading(frame$renamed)
  columns <- data.frame(
    name = frame$names,
    plain = plain,
    role = heading_means(frame$renamed, "long", plain),
    told = FALSE
  )
  person <- heading_means(frame$renamed, "person", plain)
  # one of a row: which attempt it is
  columns$role[columns$role %in% "tries"] <- NA
  columns$role <- or_else(columns$role, person)
  columns$role[columns$role %in% "seconds" & duplicated(columns$role)] <- NA
  looks <- column_looks(frame$body, frame$facts)
  columns$role[columns$role %in% "comment" & looks$number > 0.9] <- "points"
  columns <- settle_long_people(columns, looks)
  for (role in intersect(names(told), c(long_roles, person_roles))) {
    at <- match(plain_words(unlist(told[[role]])), plain_words(frame$names))
    if (anyNA(at)) {
      abort_layout(
        role,
        unlist(told[[role]]),
        say(
          "read-layout-long.names_no_column_of",
          role = quoted(role),
          origin = frame$origin
        ),
        say(
          "read-layout-long.its_columns_are",
          names = some_of(frame$names, 20)
        )
      )
    }
    columns$role[columns$role %in% role] <- NA
    columns$role[at] <- role
    columns$told[at] <- TRUE
  }
  again <- duplicated(columns$role) &
    !columns$role %in% c("first_name", "last_name", NA)
  columns$role[again & !columns$told] <- NA
  columns$role[columns$role %in% "key" & looks$said > 0.9] <- if (any(
    columns$role %in% "points"
  )) {
    NA
  } else {
    "points"
  }
  columns <- find_item_column(columns, frame, looks, known)
  find_response_column(columns, frame)
}

settle_long_people <- function(columns, looks) {
  at <- which(columns$role %in% "student")
  named <- at[looks$name[at] > 0.8]
  if (length(at) > 1 && length(named) < length(at)) {
    columns$role[named] <- "name"
  }
  if (!any(columns$role %in% name_roles) && any(columns$role %in% "name")) {
    columns$role[match("name", columns$role)] <- "student"
  }
  columns
}

# Where no heading says which column is the answer: the one that holds what the key holds.
find_response_column <- function(columns, frame) {
  key <- which(columns$role %in% "key")
  if (any(columns$role %in% "response") || length(key) != 1) return(columns)
  free <- which(is.na(columns$role))
  fits <- vapply(free, function(k) {
    cells <- frame$body[[k]][frame$body[[k]] != ""]
    length(cells) > 0 && mean(cells %in% frame$body[[key]]) > 0.5
  }, TRUE)
  if (sum(fits) == 1) {
    columns$role[free[fits]] <- "response"
  }
  columns
}

# Where no heading says which column is the question: the one with which a student makes
# a pair that is there once.
find_item_column <- function(columns, frame, looks, known) {
  if (any(columns$role %in% "item")) return(columns)
  who <- which(columns$role %in% c("student", "name", "email"))[1]
  if (is.na(who)) return(columns)
  each <- nrow(frame$body) / max(1, length(unique(frame$body[[who]])))
  if (each < 2) return(columns)
  free <- which(is.na(columns$role) | columns$role %in% "prompt")
  fits <- vapply(free, function(k) {
    cells <- frame$body[[k]]
    numbered <- mean(!is.na(parse_headings(unique(cells))$number))
    (numbered > 0.8 || mean(unique(cells) %in% known$item) > 0.5) &&
      pairs_once(frame$body[[who]], cells) == 1
  }, TRUE)
  if (sum(fits) == 1) {
    columns$role[free[fits]] <- "item"
  }
  columns
}

# Whether there is a column for the question and one for what was answered or earned.
could_be_long <- function(grid, layout, told, known) {
  part <- sampled_grid(grid)
  at <- match(layout$header, attr(part, "line"), 0L)
  if (at == nrow(part)) return(FALSE)
  frame <- frame_grid(part, utils::modifyList(told, layout))
  roles <- columns_of_long(frame, told, known)$role
  "item" %in% roles && any(c("response", "points") %in% roles)
}

# The share of rows that are the only one of their pair.
pairs_once <- function(a, b) mean(!duplicated(row_numbers(list(a, b))))

read_long <- function(frame, told = list(), known = NULL) {
  columns <- columns_of_long(frame, told, known)
  roles <- columns$role
  columns$role[is.na(columns$role)] <- "other"
  cell <- function(role) {
    at <- match(role, roles)
    if (!is.na(at)) frame$body[[at]]
  }
  for (role in c("item", "response")) {
    if (is.null(cell(role)) && (role == "item" || is.null(cell("points")))) {
      ask_layout(
        frame$origin,
        say("read-layout-long.no_column_looks_like", role = role),
        say(
          "read-layout-long.its_columns_are",
          names = some_of(frame$names, 20)
        ),
        role
      )
    }
  }
  check_limit("questions", length(unique(cell("item"))), frame$origin)
  keep <- which(cell("item") != "")
  aside <- which(cell("item") == "")
  aside <- data.frame(
    line = frame$line[aside],
    label = apply(frame$body[aside, , drop = FALSE], 1, function(x) {
      c(x[x != ""], "")[1]
    })
  )
  frame$body <- take_rows(frame$body, keep)
  frame$line <- frame$line[keep]
  rows <- list(body = frame$body, line = frame$line)
  person <- columns
  person$role[!person$role %in% c(person_roles, "other")] <- "item"
  who <- first_of(
    cell("student"),
    cell("name"),
    cell("email"),
    cell("first_name")
  )
  steady <- vapply(frame$body, function(x) {
    is.null(who) || constant_within(x, who)
  }, TRUE)
  person$role[person$role == "other" & !steady] <- "item"
  people <- read_people(
    rows,
    person,
    frame$origin,
    list(namesakes = "one")
  )
  name <- item_names(cell("item"), cell("prompt"), known$item)
  responses <- data.frame(student = people$student, item = name)
  for (column in c("response", "points", "explanation", "comment")) {
    responses[[column]] <- cell(column)
  }
  for (column in intersect(
    c("attempt", "seconds", "submitted", "status"),
    names(people)
  )) {
    responses[[column]] <- people[[column]]
  }
  items <- long_items(name, cell)
  left <- setdiff(names(people), c("attempt", "seconds", "submitted", "status"))
  new_bundle(
    responses = responses,
    items = items,
    students = people[!duplicated(people$student), left, drop = FALSE],
    settings = list(title = frame$title),
    layout = long_layout(frame, columns),
    account = long_account(
      frame,
      columns,
      person,
      items,
      aside,
      attr(people, "dates")
    ),
    origin = frame$origin,
    reading = long_reading(
      frame,
      columns,
      people,
      name,
      items,
      known
    )
  )
}

# Pairs of student and question that are there once (or once an attempt) speak for it.
long_reading <- function(frame, columns, people, name, items, known) {
  tries <- intersect(c("attempt", "submitted"), names(people))
  pair <- row_numbers(c(list(people$student, as.vector(name)), people[tries]))
  cell <- function(role) frame$body[[match(role, columns$role)]]
  again <- if (length(unique(name)) < length(name)) 1 else 0.5
  once <- mean(!duplicated(pair))
  spread <- length(unique(people$student)) * length(unique(name))
  answer <- if ("response" %in% columns$role) {
    cell("response")
  } else {
    cell("points")
  }
  has <- function(role) 0 + any(columns$role %in% role)
  doubts <- if (once < 0.8 && !length(tries)) {
    list(new_doubt("pairs_again", n = sum(duplicated(pair))))
  }
  list(
    signs = list(
      shape_fits = again * once * min(1, 2 * nrow(frame$body) / spread),
      ids_distinct = once,
      who_named = has(c("student", "name", "email")),
      numbered = mean(
        !is.na(question_number(plain_heading(items$item))$number)
      ),
      key_covers = if (is.null(known)) NA else key_covers(known, items),
      cells_alike = usual_share(answer, frame$facts),
      rows_alike = 1,
      placed = mean(columns$role != "other"),
      header_apart = header_apart(frame, column_looks(frame$body, frame$facts))
    ),
    doubts = doubts,
    columns = columns_read(columns$name, columns$role, frame$body)
  )
}

constant_within <- function(x, group) {
  length(unique(row_numbers(list(group, x)))) == length(unique(group))
}

# Numbers become Q and the number; a wording becomes a prompt.
item_names <- function(item, prompt, known = NULL) {
  distinct <- unique(item)
  long <- nchar(distinct) > 24
  name <- distinct
  parsed <- parse_headings(distinct)
  number <- parsed$number
  bare <- grepl("^[0-9]+[a-z]?$", distinct) |
    (!is.na(number) &
      (long |
        grepl(
          "^(question|item|task)",
          distinct,
          ignore.case = TRUE
        )))
  name[bare & !is.na(number)] <- paste0("Q", number[bare & !is.na(number)])
  plain <- long & is.na(number)
  name[plain] <- paste0("Q", seq_along(distinct)[plain])
  if (anyDuplicated(name)) {
    name <- distinct
  }
  asked <- data.frame(
    name = name,
    shown = distinct,
    prompt = ifelse(long, distinct, NA),
    plain = parsed$stem
  )
  found <- match_known(asked, known)
  name <- found$item
  out <- name[match(item, distinct)]
  attr(out, "prompt") <- stats::setNames(asked$prompt, name)
  attr(out, "known") <- stats::setNames(found$known, name)
  out
}

# What the rows of a question all say of it.
long_items <- function(name, cell) {
  items <- unique(name)
  one <- function(role) {
    values <- cell(role)
    if (is.null(values)) return(rep(NA_character_, length(items)))
    vapply(split(values, factor(name, items)), function(x) {
      x <- unique(x[x != ""])
      if (length(x) == 1) x else NA_character_
    }, "")
  }
  order <- natural_order(items)
  wording <- attr(name, "prompt")[items]
  prompt <- one("prompt")
  data.frame(
    item = items,
    type = known_type(one("type")),
    key = one("key"),
    points = one("most"),
    standards = gsub(" *, *", ";", one("standards")),
    prompt = or_else(prompt, wording),
    level = NA_character_,
    known = unname(attr(name, "known")[items]),
    row.names = NULL
  )[
    order,
  ]
}

known_type <- function(type) {
  ifelse(
    tolower(type) %in% names(item_types()),
    tolower(type),
    NA
  )
}

# Q2 before Q10 where all have a number, else as they came.
natural_order <- function(items) {
  digits <- gsub(
    "[a-z]",
    "",
    question_number(plain_heading(items), items)$number
  )
  number <- suppressWarnings(as.numeric(digits))
  if (anyNA(number)) seq_along(items) else order(number)
}

long_layout <- function(frame, columns) {
  named <- columns[columns$role != "other", ]
  c(
    list(shape = "long", header = frame$header),
    split_in_order(named$name, named$role)
  )
}

long_account <- function(frame, columns, person, items, aside, dates) {
  rows <- columns[columns$role %in% long_roles, ]
  kept <- columns$name[person$role == "other"]
  lost <- columns$name[columns$role == "other" & person$role != "other"]
  by_role <- Map(function(role, name) {
    account_line(role, say_column_names(name))
  }, rows$role, rows$name)
  rbind(
    account_line(
      "read_as",
      say(
        "read-layout-long.a_row_for_each",
        about = frame$about,
        header = frame$header
      )
    ),
    language_account(frame),
    person_account(columns, dates),
    account_line(
      "questions",
      say(
        "read-layout-long.to",
        n = nrow(items),
        item = items$item[1],
        items_item = items$item[nrow(items)]
      )
    ),
    do.call(rbind, by_role),
    account_line("kept_with_students", say_column_names(kept)),
    account_line("left_out", say_column_names(lost)),
    row_account(data.frame(kind = rep("note", nrow(aside)), aside))
  )
}
