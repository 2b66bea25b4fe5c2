# What in the answers does not add up.

# Answers that are no option, no number, or no possible mark.
check_answers <- function(coded, item, options, rows) {
  offered <- options$option[options$item == item$item]
  problem <- coded$problem
  severity <- ifelse(is.na(problem), "warning", "error")
  type <- item_type(item$type)
  if (type$offers && length(offered)) {
    chosen <- type$parts(type$normalise(coded$text, offered))
    strange <- !vapply(
      chosen,
      function(part) all(part %in% offered),
      TRUE
    ) &
      !is_blank(coded$text) &
      !coded$text %in% c(blank_words, several_word)
    near <- vapply(
      coded$text[strange],
      nearest_word,
      "",
      known = offered
    )
    nearest <- say("sitting-check-answers.the_nearest_is", near = quoted(near))
    problem[strange] <- say(
      "sitting-check-answers.is_no_option_of",
      item = item$item,
      near = ifelse(is.na(near), some_of(offered, 8), nearest)
    )
  }
  if (!is.null(type$problem)) {
    found <- type$problem(coded$text)
    strange <- !is.na(found) &
      !is_blank(coded$text) &
      !coded$text %in% blank_words
    problem[strange] <- say(
      "sitting-check-answers.it_earns_nothing",
      found = found[strange]
    )
  }
  if (all(is.na(problem))) return(list())
  # not only in rows that were left out
  here <- tabulate(coded$at, length(coded$text)) > 0
  lapply(which(!is.na(problem) & here), function(k) {
    at <- which(coded$at == k)
    new_finding(
      severity[k],
      rows$origin,
      item$item,
      coded$told[k],
      say(
        "sitting-check-answers.times",
        problem = problem[k],
        n = length(at)
      ),
      if (severity[k] == "error") {
        say("sitting-check-answers.it_is_not_counted")
      } else {
        say("sitting-check-answers.if_it_was_misread")
      },
      line = rows$line[at[1]],
      student = rows$student[at]
    )
  })
}

# What was found of an answer is settled once its mark was changed by hand, what
# was found of a key once there is another.
without_settled <- function(findings, changes) {
  by_hand <- changes[changes$action %in% c("points", "excuse"), ]
  settled <- paste(by_hand$student, by_hand$item)
  rekeyed <- changes$item[changes$action == "key"]
  Filter(function(one) {
    if (!is.null(one$item)) return(!one$item %in% rekeyed)
    is.null(one$student) || !all(paste(one$student, one$column) %in% settled)
  }, findings)
}

# Points that were given beside the answers, along the rows of the sitting.
given_apart <- function(rows, kept) lapply(rows$given, coded_rows, kept)

# ---- looked for when somebody asks ------------------------------------------------

line_in <- function(sitting, rows) {
  line <- sitting$source$line
  if (length(rows) && rows[1] <= length(line)) line[rows[1]] else NA
}

# Given points that differ from what the key scores.
check_given <- function(sitting) {
  found <- lapply(seq_along(sitting$cells), function(j) {
    given <- sitting$source$given[[j]]
    item <- sitting$items[j, ]
    if (is.null(given) || is_marked(item$type) || is.na(item$key)) return(NULL)
    said <- read_number(given$text)[given$at]
    # not as changed by hand
    scored <- sitting$before$cells[[j]]$points[
      sitting$before$codes[seq_along(said), j]
    ]
    rows <- which(!is.na(said) & !is.na(scored))
    off <- rows[abs(said - scored)[rows] > 1e-6]
    if (!length(off)) return(NULL)
    list(
      say_given_off(sitting, item, off, said, scored),
      say_all_right(sitting, item, rows, said, scored)
    )
  })
  Filter(Negate(is.null), unlist(found, recursive = FALSE))
}

say_given_off <- function(sitting, item, off, said, scored) {
  by <- mean(said[off] - scored[off])
  differs <- say(
    "sitting-check-answers.differs_from_the_that",
    scored = shown_number(scored[off[1]]),
    n = length(off),
    by = shown_number(round(by, 3))
  )
  new_finding(
    "warning",
    sitting$source$origin,
    paste(item$item, "points"),
    shown_number(said[off[1]]),
    differs,
    say("sitting-check-answers.the_key_counts_if"),
    line = line_in(sitting, off)
  )
}

say_all_right <- function(sitting, item, rows, said, scored) {
  if (length(rows) < 5 ||
    any(scored[rows] < item$points) ||
    mean(said[rows]) > item$points - 1e-6) {
    return(NULL)
  }
  average <- round(mean(said[rows]), 3)
  new_finding(
    "warning",
    sitting$source$origin,
    paste(item$item, "points"),
    shown_number(average),
    say(
      "sitting-check-answers.is_the_average_of",
      points = shown_number(item$points)
    ),
    say("sitting-check-answers.see_which_of_the")
  )
}

# Items on which everybody earned the same. All right is no fault.
check_spread <- function(sitting) {
  present <- which(was_present(sitting))
  if (length(present) < 5) return(NULL)
  unlist(
    lapply(seq_along(sitting$cells), function(j) {
      points <- unique(
        sitting$cells[[j]]$points[unique(sitting$codes[present, j])]
      )
      if (length(points) == 1 && !is.na(points)) {
        list(say_no_spread(sitting$items, j, points))
      }
    }),
    recursive = FALSE
  )
}

say_no_spread <- function(items, j, points) {
  found <- function(severity, column, ...) {
    new_finding(
      severity,
      origin_of(items),
      column,
      items$item[j],
      ...,
      line = line_of(items)[j]
    )
  }
  if (points == items$points[j]) {
    found(
      "note",
      "item",
      say("sitting-check-answers.was_answered_right_by"),
      say("sitting-check-answers.nothing_to_do_after")
    )
  } else if (points == 0) {
    found(
      "warning",
      "item",
      say("sitting-check-answers.was_answered_right_by_nobody"),
      say("sitting-check-answers.see_whether_its_key")
    )
  } else {
    found(
      "warning",
      "points",
      say(
        "sitting-check-answers.gave_everybody_of",
        points = shown_number(points),
        items_points = shown_number(items$points[j])
      ),
      say(
        "sitting-check-answers.if_that_is_full",
        points = shown_number(points)
      )
    )
  }
}

# A single letter that no question has and that follows no other: a slip of the one who
# typed. Only where options are not listed, and enough answers say which there are.
check_strays <- function(sitting, enough = 40) {
  listed <- sitting$items$item %in% sitting$options$item
  mine <- which(is_answered(sitting$items$type, "chosen") & !listed)
  counts <- lapply(mine, function(j) {
    cells <- sitting$cells[[j]]
    answered <- which(cells$state %in% c("answered", "pending"))
    data.frame(
      j = rep(j, length(answered)),
      answer = cells$answer[answered],
      n = tabulate(sitting$codes[, j], length(cells$state))[answered]
    )
  })
  counts <- do.call(rbind, counts)
  if (is.null(counts) || sum(counts$n) < enough) return(NULL)
  counts <- counts[counts$n > 0, ]
  times <- tapply(counts$n, toupper(counts$answer), sum)
  keys <- toupper(unlist(right_options(sitting$items[mine, ])))
  if (!all(names(times) %in% LETTERS)) return(NULL)
  used <- match(union(keys, names(times)[times > 1]), LETTERS)
  stray <- names(times)[
    times == 1 & match(names(times), LETTERS) > max(used, 0) + 1
  ]
  lapply(stray, function(letter) {
    j <- counts$j[toupper(counts$answer) == letter]
    code <- which(toupper(sitting$cells[[j]]$answer) == letter)
    new_finding(
      "warning",
      sitting$source$origin,
      sitting$items$item[j],
      letter,
      say("sitting-check-answers.is_a_stray_letter"),
      say("sitting-check-answers.if_it_was_misread"),
      line = line_in(sitting, which(sitting$codes[, j] %in% code))
    )
  })
}

# Reasons that stand in attempts which do not count are shown nowhere.
check_reasons <- function(sitting) {
  n <- reasons_elsewhere(sitting)
  if (!n) return(NULL)
  list(new_finding(
    "note",
    sitting$source$origin,
    "explanation",
    NA,
    say("sitting-check-answers.reasons_elsewhere", n = n),
    say("sitting-check-answers.count_another_attempt")
  ))
}

reasons_elsewhere <- function(sitting) {
  said <- sitting$handed_in$rows$said
  sum(said$kind == "explanation" & !said$row %in% sitting$source$row)
}

month_words <- "(jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*"
date_pattern <- paste0(
  "^[0-9]{4}-[0-9]{2}-[0-9]{2}( [0-9:]{5,8})?$|^[0-9]{1,2}[-. ]",
  month_words,
  "([-. ][0-9]{2,4})?$|^",
  month_words,
  "[-. ][0-9]{1,2}$"
)

# 3-5 typed into a spreadsheet comes back as the fifth of March.
check_dates <- function(sitting) {
  unlist(
    lapply(seq_along(sitting$cells), function(j) {
      item <- sitting$items[j, ]
      expected <- c(
        sitting$options$option[sitting$options$item == item$item],
        split_parts(item$key, "|")[[1]]
      )
      if (is_marked(item$type) || any(grepl(date_pattern, tolower(expected)))) {
        return(NULL)
      }
      answers <- sitting$cells[[j]]$answer
      dated <- which(grepl(date_pattern, tolower(answers)))
      lapply(dated, function(code) {
        rows <- which(sitting$codes[, j] == code)
        new_finding(
          "warning",
          sitting$source$origin,
          item$item,
          answers[code],
          say("sitting-check-answers.looks_like_an_answer", n = length(rows)),
          say(
            "sitting-check-answers.put_it_right_in",
            answers = likely_before(answers[code], expected)
          ),
          line = line_in(sitting, rows)
        )
      })
    }),
    recursive = FALSE
  )
}

# The expected answer that has the numbers of the date.
likely_before <- function(date, expected) {
  numbers <- function(x) {
    lapply(regmatches(x, gregexpr("[0-9]+", x)), function(n) {
      sort(as.integer(n))
    })
  }
  letters_only <- tolower(gsub("[^A-Za-z]", "", date))
  month <- match(substr(letters_only, 1, 3), tolower(month.abb))
  mine <- if (is.na(month)) {
    day_and_month <- strsplit(substr(date, 6, 10), "-")[[1]]
    sort(as.integer(day_and_month))
  } else {
    sort(c(month, numbers(date)[[1]][1]))
  }
  hit <- expected[
    vapply(numbers(expected), identical, TRUE, mine)
  ]
  if (length(hit)) {
    say("sitting-check-answers.it_may_have_been", hit = quoted(hit[1]))
  } else {
    ""
  }
}

wrong_letters <- "\u00c3[\u0080-\u00bf]|\u00c2[\u0080-\u00bf]|\u00e2\u20ac|\ufffd"

# Letters that were read in a wrong encoding somewhere on the way.
check_spelling <- function(sitting) {
  look <- function(values, origin, column) {
    hit <- unique(values[grepl(wrong_letters, values)])
    if (!length(hit)) return(NULL)
    list(new_finding(
      "warning",
      origin,
      column,
      some_of(hit, 3),
      say("sitting-check-answers.looks_like_text_in"),
      say("sitting-check-answers.export_it_again_as")
    ))
  }
  answers <- lapply(seq_along(sitting$cells), function(j) {
    look(
      sitting$cells[[j]]$answer,
      sitting$source$origin,
      sitting$items$item[j]
    )
  })
  c(
    look(
      sitting$students$student,
      sitting$source$origin,
      "student"
    ),
    look(sitting$students$name, "students", "name"),
    look(
      sitting$items$prompt,
      origin_of(sitting$items),
      "prompt"
    ),
    unlist(answers, recursive = FALSE)
  )
}

# Ids that are the same but for blanks, case or leading zeros.
check_ids <- function(sitting) {
  ids <- sitting$students$student
  plain <- sub(
    "^0+(?=.)",
    "",
    gsub("[[:space:]]+", "", tolower(ids)),
    perl = TRUE
  )
  lapply(unique(plain[duplicated(plain)]), function(one) {
    same <- which(plain == one)
    new_finding(
      "warning",
      sitting$source$origin,
      "student",
      some_of(ids[same], 4),
      say("sitting-check-answers.are_ids_that_differ"),
      say("sitting-check-answers.if_they_are_one"),
      line = line_in(sitting, same)
    )
  })
}
