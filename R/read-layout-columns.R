# What each column of a table is: of the student, a part of a question, a total,
# or something else that is kept with the students.

# A data frame, a row a column: name, role (person_roles, "question", "total", "other"),
# told, sum (what kind of total), for questions stem, part, most, prefix, number, text,
# and doubt: what makes the role unsure.
column_roles <- function(frame, told, known = NULL) {
  columns <- data.frame(name = frame$names)
  columns$plain <- plain_heading(frame$renamed)
  columns$role <- heading_means(
    frame$renamed,
    "person",
    columns$plain
  )
  worthless <- heading_worth(frame$renamed)$rest # "Total /70" is a total
  columns$sum <- or_else(
    heading_means(frame$renamed, "total", columns$plain),
    heading_means(worthless, "total")
  )
  columns <- cbind(columns, parse_headings(frame$renamed))
  columns$told <- FALSE
  columns$doubt <- NA_character_
  looks <- column_looks(frame$body, frame$facts)
  columns <- settle_parts(columns, frame$renamed)
  # "correct?"
  columns$part[columns$part %in% "key" & looks$said > 0.9] <- "points"
  columns <- settle_people(columns, looks)
  columns <- apply_told(columns, told, frame)
  columns <- mark_questions(columns, looks, known)
  columns <- mark_totals(columns)
  columns <- mark_neighbours(columns, frame, looks)
  columns$role[is.na(columns$role)] <- "other"
  columns
}

# What stands in each column, of at most 400 rows over the whole of it.
column_looks <- function(body, facts = cell_facts(body)) {
  rows <- spread_rows(nrow(body))
  looked <- lapply(body, function(cells) cells[rows])
  looks <- lapply(facts_at(looked, facts), function(at) {
    at <- at[facts$text[at] != ""]
    of <- max(1, length(at))
    list(
      filled = length(at) / length(rows),
      distinct = length(unique(at)) / of,
      number = sum(!is.na(facts$value[at])) / of,
      name = sum(facts$name[at]) / of,
      said = sum(facts$said[at] | facts$text[at] %in% c("0", "1")) / of,
      usual = usual_of(kinds_at(at, facts))
    )
  })
  data.table::rbindlist(looks) |> as.data.frame()
}

spread_rows <- function(n, most = 400) {
  if (n <= most) {
    seq_len(n)
  } else {
    unique(round(seq(1, n, length.out = most)))
  }
}

# What each distinct cell of some columns is, worked out once.
cell_facts <- function(body) {
  text <- distinct_cells(unlist(lapply(body, distinct_cells), use.names = FALSE))
  # Ids, times and numbers differ in digits alone, which say nothing of what they are;
  # only 0 and 1 are words too.
  shape <- text
  long <- nchar(text) > 2
  shape[long] <- as_shape(text[long])
  found <- distinct_strings(shape)
  of <- found$distinct
  kind <- cell_kind(of)[found$at]
  value <- rep(NA_real_, length(text))
  value[kind == "mark"] <- value_of(text[kind == "mark"])
  list(
    text = text,
    upper = toupper(text),
    value = value,
    kind = kind,
    name = looks_like_name(of)[found$at],
    said = (plain_text(of) %in% unlist(said_words()))[found$at],
    gone = says_nothing(of)[found$at]
  )
}

# Where the cells of each column stand among the facts. The facts can be as many as the
# students, so they are searched once for all columns.
facts_at <- function(columns, facts) {
  found <- lapply(columns, distinct_strings)
  distinct <- lapply(found, function(one) one$distinct)
  place <- data.table::chmatch(as.character(unlist(distinct)), facts$text)
  ends <- cumsum(lengths(distinct))
  Map(function(one, end) {
    place[end - length(one$distinct) + one$at]
  }, found, ends)
}

distinct_cells <- function(cells) count_strings(cells)$distinct

as_shape <- function(text) chartr("012345678", "999999999", text)

# The kind that most are of; counts: how often each stands there.
usual_of <- function(kinds, counts = rep(1L, length(kinds))) {
  if (!length(kinds)) return("empty")
  distinct <- sort(unique(kinds))
  times <- vapply(
    distinct,
    function(kind) sum(counts[kinds == kind]),
    0
  )
  distinct[which.max(times)]
}

# The kinds of filled cells of a column. Where nothing but yes and no stands, a bare y, n
# or x says it too; among other words they are words.
kinds_at <- function(at, facts) {
  kind <- facts$kind[at]
  if (!length(kind)) return(kind)
  said <- facts$said[at]
  if (mean(said | !is.na(facts$value[at]) | facts$gone[at]) > 0.6) {
    if (any(kind == "mark")) {
      kind[said] <- "mark"
    }
  } else {
    kind[said & kind == "mark"] <- "word"
  }
  kind
}

cell_kind <- function(cells) {
  plain <- tolower(cells)
  yes_or_no <- plain_text(cells) %in% unlist(said_words())
  long_or_sign <- nchar(cells) > 1 | grepl("[^ -~]", cells)
  states <- tolower(c(blank_words, several_word))
  date <- "^[0-9]{1,4}[-./][0-9]{1,2}[-./][0-9]{1,4}|^[0-9]+:[0-9]{2}"
  data.table::fcase(
    yes_or_no & long_or_sign, "mark",
    !is.na(value_of(cells)), "mark",
    plain %in% states | says_nothing(cells) | says_excused(cells), "gap",
    grepl("^[A-Za-z]$", cells), "letter",
    grepl("^[A-Za-z]( ?[,;+/] ?[A-Za-z])+$", cells), "letter",
    several_letters(cells), "letter",
    grepl(date, cells), "time",
    grepl("@", cells, fixed = TRUE), "email",
    nchar(cells) > 25 | grepl("( .*){3}", cells), "text",
    default = "word"
  )
}

# Several options in a row: AC, BDE.
several_letters <- function(cells) {
  nchar(cells) > 1 & grepl("^A?B?C?D?E?F?G?H?$", cells)
}

looks_like_name <- function(cells) {
  letters <- gsub("[\\s,.'\u2019-]", "", cells, perl = TRUE)
  grepl("^\\p{L}{2,}$", letters, perl = TRUE) &
    lengths(strsplit(cells, " +")) <= 5
}

# A part counts where something stands beside it: another part of the same question, or
# the same part of another one.
settle_parts <- function(columns, shown) {
  has <- !is.na(columns$part)
  beside <- has &
    nzchar(columns$stem) &
    vapply(seq_along(has), function(k) {
      sum(columns$stem == columns$stem[k]) > 1
    }, TRUE)
  again <- has &
    columns$part %in% columns$part[has][duplicated(columns$part[has])]
  loose <- has & !nzchar(columns$stem)
  numbered <- !is.na(columns$number)
  # The same word again and again; "Points" and "Mark" at the end are sums.
  columns$loose <- loose &
    columns$plain %in% columns$plain[loose][duplicated(columns$plain[loose])]
  # "Question 1: Points" beside "Question 1: Which tide?": found by its number.
  asked <- paste(columns$prefix, columns$number)
  main <- which(
    numbered & nzchar(columns$stem) & columns$part %in% c(NA, "answer")
  )
  main <- main[!asked[main] %in% asked[main][duplicated(asked[main])]]
  by_number <- match(asked, asked[main])
  lone <- has &
    numbered &
    !loose &
    !beside &
    !is.na(by_number) &
    !seq_along(has) %in% main
  columns$stem[lone] <- columns$stem[main][by_number[lone]]
  beside <- beside | lone
  keeps <- beside | (again & numbered) | columns$loose
  # "Q1 why?" is the question itself when no column beside it holds its answer.
  alone <- keeps &
    !loose &
    !columns$part %in% c("answer", "points") &
    !columns$stem %in% columns$stem[
      !has | columns$part %in% c("answer", "points")
    ]
  lost <- (has & !keeps) | alone
  columns$part[lost] <- NA
  columns$stem[lost] <- columns$plain[lost]
  named <- question_number(columns$stem[lost], shown[lost])
  columns[lost, c("prefix", "number", "text")] <- named
  twice <- columns$name != shown & is.na(columns$part)
  columns$stem[twice] <- plain_heading(columns$name[twice])
  columns
}

# Two columns for one role: names go to the name, ids to the student; else the one whose
# cells are all filled and distinct keeps it. "Nombre" beside "Apellidos" is a first name.
settle_people <- function(columns, looks) {
  columns$role[!is.na(columns$number) & columns$prefix %in% heading_words()$item] <- NA
  columns$role[!is.na(columns$role) & grepl(" [(][0-9]+[)]$", columns$name)] <- NA
  at <- which(columns$role %in% "student")
  # Notes and headings of classes between the rows are no names.
  apart <- length(at) > 1 && min(looks$name[at]) < 0.2
  named <- at[looks$name[at] > if (apart) 0.5 else 0.8]
  if (length(at) > 1 && length(named) < length(at)) {
    columns$role[named] <- if (any(columns$role %in% "name")) {
      "other"
    } else {
      "name"
    }
  }
  has <- function(role) any(columns$role %in% role)
  # "Student" over first names, beside a column of last names.
  if (length(named) == 1 &&
    has("last_name") &&
    !has("first_name") &&
    !has("name")) {
    columns$role[named] <- "first_name"
  }
  called <- which(columns$role %in% "name")
  if (length(called) && has("last_name") && !has("first_name")) {
    columns$role[called[1]] <- "first_name"
  } else if (length(called) && has("first_name") && !has("last_name")) {
    columns$role[called[1]] <- "last_name"
  }
  for (role in unique(stats::na.omit(columns$role))) {
    at <- which(columns$role == role)
    if (length(at) < 2) next
    worth <- 10 * looks$filled[at] + looks$distinct[at]
    columns$role[setdiff(at, at[which.max(worth)])] <- "other"
  }
  columns
}

apply_told <- function(columns, told, frame) {
  set <- function(role, wanted) {
    at <- match(plain_words(wanted), plain_words(columns$name))
    if (anyNA(at)) {
      abort_layout(
        role,
        wanted[is.na(at)][1],
        say(
          "read-layout-columns.names_no_column_of",
          role = quoted(role),
          origin = frame$origin
        ),
        say(
          "read-layout-columns.its_columns_are",
          name = some_of(columns$name, 20)
        )
      )
    }
    columns$role[columns$role %in% role] <<- "other"
    columns$role[at] <<- role
    columns$told[at] <<- TRUE
  }
  for (role in intersect(names(told), person_roles)) {
    set(role, unlist(told[[role]]))
  }
  if (!is.null(told$questions)) {
    set(
      "question",
      expand_range(unlist(told$questions), columns$name, frame)
    )
  }
  if (!is.null(told$leave_out)) {
    here <- plain_words(columns$name) %in% plain_words(unlist(told$leave_out))
    columns$role[here] <- "total"
    columns$sum[here & is.na(columns$sum)] <- "grade"
    columns$told[here] <- TRUE
  }
  columns
}

# "Q1..Q20": all columns from one to the other.
expand_range <- function(wanted, names, frame) {
  ranges <- grepl("..", wanted, fixed = TRUE)
  if (!any(ranges)) return(wanted)
  plain <- plain_words(names)
  unlist(lapply(wanted, function(one) {
    ends <- trimws(strsplit(one, "..", fixed = TRUE)[[1]])
    at <- match(plain_words(ends), plain)
    if (length(ends) != 2 || anyNA(at)) return(one)
    names[seq(at[1], at[2])]
  }))
}

# Numbered columns are questions; so are those that the key names, and their parts.
# Where none is, those that follow the columns of the student and hold alike cells.
mark_questions <- function(columns, looks, known) {
  free <- is.na(columns$role)
  if (any(columns$role %in% "question" & columns$told)) {
    stems <- columns$stem[columns$role %in% "question"]
    with_stem <- free & columns$stem != "" & columns$stem %in% stems
    columns$role[with_stem | (free & columns$loose)] <- "question"
    return(columns)
  }
  named <- columns$stem %in% plain_heading(known) |
    columns$plain %in% plain_heading(known)
  hit <- free &
    (is_numbered(columns) | columns$loose | (named & nzchar(columns$stem)))
  # Something like a class or a date bears a number by chance.
  hit <- hit &
    (named | !looks$usual %in% c("time", "email") | !is.na(columns$part))
  beside <- free & !is.na(columns$part) & nzchar(columns$stem) & !columns$loose
  hit <- hit | (beside & !any(hit))
  hit <- hit |
    (free & nzchar(columns$stem) & columns$stem %in% columns$stem[hit])
  hit <- hit & !columns$part %in% "tries" & !unnamed_part(columns, hit)
  columns$role[hit] <- "question"
  columns
}

# "Q1 Colour", "Q2 Colour" beside "Q1" and "Q2": something said of each question, but
# nobody knows what.
unnamed_part <- function(columns, hit) {
  named <- hit & !is.na(columns$number)
  asked <- paste(columns$prefix, columns$number)
  bare <- named & columns$text == "" & is.na(columns$part)
  behind <- named &
    columns$text != "" &
    is.na(columns$part) &
    asked %in% asked[bare]
  behind &
    columns$text %in% columns$text[behind][duplicated(columns$text[behind])]
}

# Numbers in the name that count: with a word for a question or letters of one's own
# before them, or by themselves from one on.
is_numbered <- function(columns) {
  has <- !is.na(columns$number)
  digits <- suppressWarnings(as.numeric(gsub("[a-z]", "", columns$number)))
  known <- columns$prefix %in% heading_words()$item
  many <- columns$prefix %in% columns$prefix[has][
    duplicated(columns$prefix[has])
  ]
  bare <- has & columns$prefix == "" & columns$text == "" & is.na(columns$part)
  steps <- diff(digits[bare])
  counted <- length(steps) > 0 && mean(steps >= 0 & steps <= 1) > 0.7
  has &
    ((known & !bare) |
      (many & !bare) |
      (bare & counted) |
      (columns$prefix == "" & (columns$text != "" | !is.na(columns$part))))
}

# Names of sums. "Points" alone is one, unless it stands beside each question.
mark_totals <- function(columns) {
  sums <- is.na(columns$role) & !is.na(columns$sum) & !columns$loose
  columns$role[sums] <- "total"
  columns
}

last_person <- function(columns) {
  left <- which(columns$role %in% c(name_roles, "section"))
  if (length(left)) max(left) else 0
}

# Columns that no word names. Where questions are known, one that holds what they hold
# may be one: inside them, or beside them where the totals say so. Where none is known,
# all that follow the students' columns and hold alike cells are.
mark_neighbours <- function(columns, frame, looks) {
  asked <- which(columns$role %in% "question")
  free <- which(is.na(columns$role) & looks$usual != "empty")
  if (any(columns$told[asked])) return(columns)
  if (!length(asked)) return(mark_unnamed(columns, frame, looks, free))
  main <- asked[columns$part[asked] %in% c(NA, "answer", "points")]
  kinds <- unique(looks$usual[main])
  alike <- free[looks$usual[free] %in% setdiff(kinds, "gap")]
  alike <- alike[share_values(frame$body, alike, main)]
  if (length(columns$part[asked]) && all(!is.na(columns$part[asked]))) {
    return(columns)
  }
  between <- alike[alike > min(asked) & alike < max(asked)]
  columns$role[between] <- "question"
  columns$doubt[between] <- "between_questions"
  edge <- setdiff(alike, between)
  edge <- edge[edge > last_person(columns)]
  if (!length(edge)) return(columns)
  columns$doubt[edge] <- "like_a_question"
  columns
}

# Whether the columns hold the letters that the questions hold, or marks of their size.
share_values <- function(body, columns, questions) {
  cells_of_column <- function(k) {
    cells <- toupper(body[[k]][spread_rows(nrow(body))])
    cells[cells != "" & !says_nothing(cells)]
  }
  held <- unlist(lapply(questions, cells_of_column))
  known <- unique(held)
  most <- max(c(mark_of(known), 1), na.rm = TRUE)
  said <- function(x) {
    plain_text(x) %in% unlist(said_words()) | !is.na(mark_of(x))
  }
  # Counted by cells: a row of averages brings many values, yet it is one row.
  marks <- mean(said(known)[match(held, known)]) > 0.5
  vapply(columns, function(k) {
    mine <- cells_of_column(k)
    mark <- mark_of(mine)
    if (marks && all(said(mine)) && anyNA(mark)) return(TRUE)
    if (mean(!is.na(mark)) > 0.5) {
      return(mean(mark <= 5 * most, na.rm = TRUE) > 0.5)
    }
    !all(nchar(mine) <= 4) || mean(mine %in% letters_up_to(known)) > 0.5
  }, TRUE)
}

# The values, and the letters that options beside them may have.
letters_up_to <- function(values) {
  last <- max(0, match(values, LETTERS), na.rm = TRUE)
  c(values, if (last %in% 1:8) LETTERS[seq_len(max(last, 4))])
}

# The same of each of several columns and the rest of them.
shares_values <- function(body, columns) {
  if (length(columns) < 3) return(rep(TRUE, length(columns)))
  vapply(
    columns,
    function(k) share_values(body, k, setdiff(columns, k)),
    TRUE
  )
}

mark_unnamed <- function(columns, frame, looks, free) {
  after <- free[free > last_person(columns)]
  if (!length(after)) return(columns)
  kinds <- looks$usual[after]
  usual <- names(
    which.max(table(kinds[kinds %in% c("letter", "mark", "word", "text")]))
  )
  if (!length(usual)) return(columns)
  alike <- after[kinds == usual | (usual == "mark" & kinds == "gap")]
  sums <- alike[are_sums(frame$body[alike])]
  columns$role[sums] <- "total"
  columns$sum[sums] <- "sum"
  alike <- setdiff(alike, sums)
  strange <- alike[!shares_values(frame$body, alike)]
  alike <- setdiff(alike, strange)
  columns$role[alike] <- "question"
  if (!length(alike)) return(columns)
  odd <- setdiff(
    after,
    c(alike, sums, strange[strange < min(alike)])
  )
  inside <- odd[odd > min(alike) & odd < max(alike)]
  columns$role[inside] <- "question"
  columns$doubt[inside] <- "unlike_the_questions"
  columns
}

# Which columns of numbers add up all the others, whatever they are called.
are_sums <- function(cells) {
  numbers <- lapply(cells, mark_of)
  is_numeric <- vapply(
    numbers,
    function(x) mean(!is.na(x)) > 0.6,
    TRUE
  )
  if (sum(is_numeric) < 3) return(rep(FALSE, length(cells)))
  all <- Reduce(`+`, lapply(numbers[is_numeric], function(x) or_else(x, 0)))
  vapply(numbers, function(one) {
    rest <- all - or_else(one, 0)
    sure <- !is.na(one) & rest > 0
    sum(sure) >= 3 && mean(abs(one - rest)[sure] < 1e-6) > 0.9
  }, TRUE) &
    is_numeric
}
