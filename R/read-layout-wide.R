# A row a student, in every shape: answers or marks, one to three columns a
# question, names and totals around them, rows of points and keys among them.

read_wide <- function(frame, told = list(), known = NULL) {
  columns <- column_roles(frame, told, known$item)
  could_be <- is.na(columns$part) & columns$role %in% c("question", NA)
  check_limit("questions", sum(could_be), frame$origin)
  columns <- find_student(columns, frame)
  if (!any(columns$role %in% name_roles)) ask_student(frame$origin, columns)
  extra <- extra_rows(frame, columns, told, known)
  asked <- question_groups(columns, frame$renamed)
  if (!nrow(asked)) {
    abort_pregunta(
      "undecided",
      say("read-layout-wide.no_column_looks_like", origin = frame$origin),
      say("read-layout-wide.its_columns_are", name = some_of(columns$name, 20)),
      say("read-layout-wide.say_it_with_set")
    )
  }
  rows <- student_rows(frame, extra)
  if (!nrow(rows$body)) {
    abort_pregunta(
      "input",
      say("read-layout-wide.holds_no_row_of", origin = frame$origin),
      NULL,
      say("read-layout-wide.see_that_it_is")
    )
  }
  people <- read_people(rows, columns, frame$origin, told)
  items <- wide_items(asked, extra, known$item, rows$body)
  responses <- data.frame(student = people$student, check.names = FALSE)
  for (column in intersect(
    c("attempt", "submitted", "seconds"),
    names(people)
  )) {
    responses[[column]] <- people[[column]]
  }
  responses <- add_questions(
    responses,
    rows$body,
    asked,
    items$item
  )
  about <- setdiff(names(people), c("attempt", "seconds", "submitted"))
  sums <- wide_sums(columns, rows, asked, items, known)
  columns <- mark_proven_sums(columns, sums)
  new_bundle(
    responses = responses,
    items = items,
    students = people[!duplicated(people$student), about, drop = FALSE],
    settings = list(title = frame$title),
    layout = wide_layout(frame, columns, extra),
    account = wide_account(
      frame,
      columns,
      extra,
      asked,
      items,
      people
    ),
    origin = frame$origin,
    reading = wide_reading(
      frame,
      columns,
      extra,
      asked,
      rows,
      people,
      items,
      known,
      told,
      sums
    )
  )
}

# A column of numbers that add up the points is a total, whatever it is called.
mark_proven_sums <- function(columns, sums) {
  proven <- match(sums$name, columns$name)[!sums$meant]
  columns$role[proven] <- "total"
  columns$sum[proven] <- "sum"
  columns$doubt[proven] <- NA
  columns
}

# Where no heading says who the student is: the one column beside the questions that is
# filled and distinct all over.
find_student <- function(columns, frame) {
  if (any(columns$role %in% name_roles)) return(columns)
  free <- which(columns$role %in% c("other", "section") & !columns$told)
  fits <- vapply(free, function(k) {
    cells <- frame$body[[k]][frame$body[[k]] != ""]
    length(cells) > 0.7 * nrow(frame$body) &&
      length(unique(cells)) > 0.9 * length(cells)
  }, TRUE)
  at <- free[fits]
  if (length(at) != 1) return(columns)
  columns$role[at] <- "student"
  if (nrow(frame$body) < 5) {
    columns$doubt[at] <- "student_unnamed"
  }
  columns
}

# What speaks for the reading, what makes it unsure, and the file's own sums.
wide_reading <- function(frame, columns, extra, asked, rows, people, items,
                         known, told, sums) {
  main <- or_else(asked$answer, asked$points)
  looks <- column_looks(rows$body, frame$facts)
  agree <- unlist(lapply(sums$said, function(one) one$agree / one$n))
  is_question <- columns$role %in% "question"
  list(
    signs = list(
      shape_fits = min(1, 2 * mean(!duplicated(people$student))) *
        !any(
          vapply(
            utils::head(rows$body[main], 2000),
            is_column_of_marks,
            TRUE
          )
        ),
      ids_distinct = min(1, 1.5 * mean(!duplicated(people$student))),
      who_named = 0 +
        any(
          !is.na(
            heading_means(frame$renamed[columns$role %in% name_roles], "person")
          )
        ),
      numbered = mean(!is.na(columns$number[main])),
      key_covers = if (is.null(known)) NA else key_covers(known, items),
      cells_alike = mean(
        or_else(
          vapply(
            main,
            function(k) usual_share(rows$body[[k]], frame$facts),
            0
          ),
          1
        )
      ),
      rows_alike = 1 -
        mean(
          unlike_rows(
            utils::head(rows$body, 2000),
            is_question,
            frame$facts
          )
        ),
      placed = mean(columns$role != "other"),
      totals_agree = if (length(agree)) max(agree) else NA,
      header_apart = header_apart(frame, looks)
    ),
    doubts = wide_doubts(
      frame,
      columns,
      extra,
      people,
      asked,
      known,
      told
    ),
    sums = sums,
    line = rows$line,
    columns = columns_read(columns$name, role_shown(columns), rows$body),
    rows = data.frame(extra[c("line", "label", "kind")])
  )
}

# How many of the key's questions are there, and of the questions in the key.
key_covers <- function(known, items) {
  min(mean(known$item %in% items$known), mean(!is.na(items$known)))
}

# How far the headings are unlike what stands below them.
header_apart <- function(frame, looks) {
  if (frame$header == 0) return(if (first_is_data(frame, looks)) 1 else 0)
  here <- which(frame$renamed != "" & looks$usual != "empty")
  kind <- cell_kind(frame$renamed[here])
  again <- vapply(
    here,
    function(k) frame$renamed[k] %in% distinct_cells(frame$body[[k]]),
    TRUE
  )
  same <- kind == looks$usual[here] &
    !(kind == "mark" &
      looks$usual[here] == "mark" &
      suppressWarnings(as.numeric(frame$renamed[here])) %in% seq_along(
        frame$renamed
      ))
  named <- sum(looks$usual != "empty" & frame$renamed != "") /
    sum(looks$usual != "empty")
  apart <- data.table::fcase(again, 0, same, 0.3, default = 1)
  mean(apart) * named
}

# Without a header the first row is like the others.
first_is_data <- function(frame, looks) {
  here <- which(looks$usual %in% c("mark", "letter", "time", "email"))
  first <- unlist(frame$body[1, here], use.names = FALSE)
  length(here) > 0 && mean(cell_kind(first) == looks$usual[here]) > 0.7
}

# The share of the filled cells that are of the commonest kind.
usual_share <- function(cells, facts) {
  first <- utils::head(cells, 4000)
  if (sum(first != "") >= 2000) {
    cells <- first
  }
  cells <- utils::head(cells[cells != ""], 2000)
  at <- data.table::chmatch(cells, facts$text)
  kinds <- kinds_at(at, facts)
  if (!length(kinds)) NA_real_ else mean(kinds == usual_of(kinds))
}

# A part of a question is a role of its own: question, points, comment ...
role_shown <- function(columns) {
  part <- columns$role == "question" & !columns$part %in% c(NA, "answer")
  ifelse(part, columns$part, columns$role)
}

# The columns that sum up, as far as they can be checked, and how they agree.
wide_sums <- function(columns, rows, asked, items, known) {
  if (!any(columns$role %in% c("total", "other"))) {
    return(list(meant = logical()))
  }
  rough <- rough_points(rows, asked, items, known)
  valued <- !any(is.na(rough$points))
  points <- rowSums(rough$points)
  right <- rowSums(
    rough$points >= rep(rough$most, each = nrow(rough$points)) - 1e-9
  )
  at <- which(columns$role %in% c("total", "other"))
  said <- lapply(at, function(k) {
    sum_agreement(
      rows$body[[k]],
      points,
      sum(rough$most),
      right,
      ncol(rough$points)
    )
  })
  meant <- columns$sum[at] %in% c("sum", "percent") &
    columns$role[at] == "total"
  fits <- vapply(said, function(one) {
    !is.null(one) && one$agree >= 0.9 * one$n && one$n > 1
  }, TRUE)
  keep <- valued &
    !vapply(said, is.null, TRUE) &
    (meant | (fits & lengths(said) > 0))
  meant_or_fits <- !vapply(said, is.null, TRUE) | !valued
  list(
    said = said[keep],
    name = columns$name[at[(meant | fits) & meant_or_fits]],
    meant = meant[(meant | fits) & meant_or_fits],
    cells = unname(as.list(rows$body[at[(meant | fits) & meant_or_fits]]))
  )
}

wide_doubts <- function(frame, columns, extra, people, groups, known, told) {
  asked <- columns$name[columns$role %in% "question"]
  by_column <- lapply(
    which(!is.na(columns$doubt) & !columns$told),
    function(k) {
      name <- columns$name[k]
      switch(columns$doubt[k],
        student_unnamed = new_doubt("student_unnamed", name = quoted(name)),
        like_a_question = new_doubt(
          "like_a_question",
          name = quoted(name),
          options = list(
            list(leave_out = name),
            list(questions = c(asked, name))
          )
        ),
        new_doubt(
          columns$doubt[k],
          name = quoted(name),
          options = list(list(), list(leave_out = name))
        )
      )
    }
  )
  unsure <- extra[!extra$sure & !extra$line %in% unlist(told$rows), ]
  by_row <- each_row(unsure, function(i) {
    # What the question names comes first, since not all may be shown.
    others <- setdiff(c("student", "key", "points", "summary"), unsure$kind[i])
    new_doubt(
      "row_unsure",
      line = unsure$line[i],
      label = quoted(unsure$label[i]),
      named = nzchar(unsure$label[i]),
      kind = unsure$kind[i],
      options = c(
        list(list()),
        lapply(others, function(kind) {
          list(rows = stats::setNames(list(unsure$line[i]), kind))
        })
      )
    )
  })
  c(
    by_column,
    by_row,
    key_counts_doubt(columns, groups, known$item),
    attr(people, "doubts")
  )
}

# Questions that are told by wordings alone have the key's lines by their place, which
# a question too many or too few moves.
key_counts_doubt <- function(columns, groups, known) {
  main <- or_else(groups$answer, groups$points)
  by_place <- is.na(columns$number[main]) & !is.na(groups$prompt)
  worded <- match(plain_heading(or_else(groups$prompt, "?")), plain_heading(known))
  if (is.null(known) ||
    !any(by_place & is.na(worded)) ||
    length(known) == nrow(groups) ||
    any(columns$told[main])) {
    return(NULL)
  }
  asked <- columns$name[columns$role %in% "question"]
  free <- columns$name[columns$role %in% "other"]
  # As many as the key has, if there are that many.
  all_of_them <- length(free) > 1 && length(free) + nrow(groups) == length(known)
  list(new_doubt(
    "key_counts",
    n_key = length(known),
    n = nrow(groups),
    options = c(
      list(list()),
      if (all_of_them) list(list(questions = c(free, asked))),
      lapply(free, function(name) list(questions = c(name, asked)))
    ),
    stays = TRUE
  ))
}

# The columns of each question: a row a question, the place of each part.
question_groups <- function(columns, shown) {
  at <- which(columns$role %in% "question")
  if (!length(at)) return(data.frame(name = character(), prompt = character()))
  stem <- settle_loose(columns, at)
  part <- columns$part[at]
  part[is.na(part)] <- "answer"
  groups <- unique(stem)
  place <- function(kind) at[match(paste(groups, kind), paste(stem, part))]
  out <- data.frame(
    stem = groups,
    answer = place("answer"),
    points = place("points"),
    comment = place("comment"),
    explanation = place("explanation"),
    seconds = place("seconds"),
    key = place("key"),
    most = place("most")
  )
  out$timed <- shown[out$seconds]
  main <- or_else(out$answer, out$points)
  out <- out[!is.na(main), ]
  main <- main[!is.na(main)]
  out$worth <- vapply(out$stem, function(one) {
    c(stats::na.omit(columns$most[at[stem == one]]), NA)[1]
  }, "")
  cbind(out, question_names(columns, main, out$stem, shown))
}

# Loose parts ("Points", "Comment" without a number) belong to the question of
# their own stretch of columns.
settle_loose <- function(columns, at) {
  stem <- columns$stem[at]
  loose <- columns$loose[at]
  if (!any(loose)) return(stem)
  n <- sum(!loose)
  each <- length(at) / n
  if (n && each == round(each)) {
    stretch <- (seq_along(at) - 1) %/% each
    if (all(tapply(!loose, stretch, sum) == 1)) {
      return(stem[!loose][stretch + 1])
    }
  }
  held <- cumsum(!loose)
  stem[!loose][pmax(1, held)]
}

# Short names stay; a number becomes Q and the number; a text becomes the prompt.
question_names <- function(columns, main, stem, shown) {
  head <- heading_worth(shown[main])$rest
  head <- without_part(head, columns, main)
  number <- columns$number[main]
  prefix <- toupper(columns$prefix[main])
  plain <- is.na(number)
  twice <- paste(number) %in% paste(number)[duplicated(number) & !plain]
  name <- data.table::fcase(
    plain, head,
    twice, paste0(prefix, number),
    default = "Q"
  )
  name[name == "Q"] <- paste0("Q", number[name == "Q"])
  keeps <- !plain &
    grepl("^[[:alpha:]]{1,4}[ .-]?[0-9]+[A-Za-z]?$", head) &
    !grepl("^(item|task|part|no|nr)", head, ignore.case = TRUE)
  name[keeps] <- head[keeps]
  text <- sub(
    "^\\W*(\\p{L}+[ ._#-]*)?[0-9]+[a-z]?[ .:)_-]*",
    "",
    head,
    perl = TRUE
  )
  long <- plain & (nchar(head) > 24 | grepl("[?]$", head))
  prompt <- ifelse(plain | columns$text[main] == "", NA, text)
  prompt[long] <- head[long]
  name[long] <- paste0("Q", which(long))
  again <- duplicated(toupper(name))
  name[again] <- paste0(
    name[again], " (", seq_along(name)[again], ")"
  )
  data.frame(
    name = name,
    prompt = prompt,
    shown = columns$name[main],
    plain = stem
  )
}

# The heading without the words for its part, as it was written.
without_part <- function(head, columns, main) {
  has <- which(!is.na(columns$part[main]) & !columns$loose[main])
  for (k in has) {
    words <- length(strsplit(columns$plain[main[k]], " ")[[1]]) -
      length(strsplit(columns$stem[main[k]], " ")[[1]])
    ends <- startsWith(columns$plain[main[k]], columns$stem[main[k]])
    pieces <- paste0(
      "(\\W|_)*",
      paste(rep("[^\\W_]+", max(1, words)), collapse = "(\\W|_)+"),
      "(\\W|_)*"
    )
    pattern <- if (ends) paste0(pieces, "$") else paste0("^", pieces)
    head[k] <- trimws(sub(paste0("(*UCP)", pattern), "", head[k], perl = TRUE))
  }
  head
}

# What the rows around the students, a column beside the question or its name
# say of it.
wide_items <- function(asked, extra, known, body) {
  columns_of <- each_row(asked, function(j) {
    stats::na.omit(unlist(asked[j, c("answer", "points")]))
  })
  value <- function(kind) {
    values <- row_values(extra, kind, columns_of)
    if (is.null(values)) rep(NA_character_, nrow(asked)) else values
  }
  key <- first_said(value("key"), steady_cells(body, asked$key))
  points <- first_said(
    value("points"),
    steady_cells(body, asked$most),
    asked$worth
  )
  prompt <- or_else(asked$prompt, value("prompt"))
  data.frame(
    item = match_known(asked, known)$item,
    type = value("type"),
    key = key,
    points = points,
    standards = gsub(" *, *", ";", value("standards")),
    prompt = prompt,
    level = value("level"),
    set = value("set"),
    known = match_known(asked, known)$known
  )
}

first_said <- function(...) Reduce(function(a, b) or_else(a, b), list(...))

# The one value that stands in all of a column; NA where there is no such.
steady_cells <- function(body, at) {
  vapply(at, function(k) {
    cells <- if (is.na(k)) character() else setdiff(body[[k]], "")
    if (length(cells) == 1) cells else NA_character_
  }, "")
}

# The names of a key file, where they are the same but for spelling, number or wording;
# a wording does not become a name.
match_known <- function(asked, known) {
  if (is.null(known)) return(list(item = asked$name, known = asked$name))
  whole <- plain_heading(asked$shown)
  theirs <- plain_heading(known)
  parsed <- parse_headings(known)
  number <- question_number(plain_heading(asked$name), asked$name)$number
  unique_number <- function(x) ifelse(x %in% x[duplicated(x)], NA, x)
  at <- first_said(
    match(toupper(asked$name), toupper(known)),
    match(whole, theirs),
    match(plain_heading(or_else(asked$prompt, "?")), theirs),
    match(asked$plain, parsed$stem, incomparables = ""),
    match(
      unique_number(number),
      unique_number(parsed$number),
      incomparables = NA
    )
  )
  at[duplicated(at)] <- NA
  short <- !is.na(at) & nchar(known[at]) <= 24 & is.na(parsed$most[at])
  list(
    item = ifelse(short, known[at], asked$name),
    known = ifelse(is.na(at), NA, known[at])
  )
}

add_questions <- function(responses, body, asked, items) {
  for (j in seq_along(items)) {
    answer <- asked$answer[j]
    points <- asked$points[j]
    responses[[items[j]]] <- if (!is.na(answer)) {
      body[[answer]]
    } else {
      body[[points]]
    }
    if (!is.na(points) && !is.na(answer)) {
      responses[[paste(items[j], "points")]] <- body[[points]]
    }
    seconds <- asked$seconds[j]
    if (!is.na(seconds)) {
      taken <- read_seconds(body[[seconds]], asked$timed[j])
      responses[[paste(items[j], "seconds")]] <- format_plain(taken)
    }
    for (part in c("comment", "explanation")) {
      at <- asked[[part]][j]
      if (!is.na(at) && any(body[[at]] != "")) {
        responses[[paste(items[j], part)]] <- body[[at]]
      }
    }
  }
  responses
}
