# What the headings of a file and the labels of its rows are called, in all languages at
# once: the section `headers` of each. A layout is recognised by what stands in the cells;
# these words break ties and never say where a file came from.

heading_words <- local({
  words <- NULL
  function() {
    if (is.null(words)) {
      words <<- load_heading_words()
    }
    words
  }
})

# Each list of phrases as a vector of what it means, named by the phrase; and, as
# `language`, the languages that know each phrase, separated by blanks. The oldest of our
# languages come first, where two mean different things by the same word.
load_heading_words <- function() {
  codes <- union(c("en", "es", "fr", "de", "pt"), language_codes())
  lists <- lapply(stats::setNames(nm = codes), section_in_file, section = "headers")
  lists <- Filter(Negate(is.null), lists)
  plain <- c("filler", "who", "worth", "item", "item_after")
  named <- setdiff(unlist(lapply(lists, names)), plain)
  words <- lapply(stats::setNames(nm = plain), function(name) {
    unique(unlist(lapply(lists, `[[`, name)))
  })
  meanings <- lapply(stats::setNames(nm = unique(named)), function(name) {
    phrases <- lapply(lists, function(one) unlist_named(one[[name]]))
    means <- unlist(lapply(phrases, names), use.names = FALSE)
    phrases <- unlist(phrases, use.names = FALSE)
    # All languages of the first meaning before the next meaning.
    order <- order(match(means, unique(names(lists$en[[name]]))))
    found <- stats::setNames(means, phrases)[order]
    found[!duplicated(paste(names(found), found))]
  })
  c(words, meanings, list(language = languages_of_phrases(lists)))
}

# The phrases under each meaning, named by it.
unlist_named <- function(list) {
  stats::setNames(unlist(list, use.names = FALSE), rep(names(list), lengths(list)))
}

languages_of_phrases <- function(lists) {
  lists <- lapply(lists, function(one) {
    unique(unlist(one[setdiff(names(one), c("filler", "worth", "cell", "month"))]))
  })
  phrase <- unlist(lists, use.names = FALSE)
  vapply(split(rep(names(lists), lengths(lists)), phrase), paste, "", collapse = " ")
}

# The language that the headings and labels of a file are in: the one that knows most of
# them, counting less for a word that others know as well. NA where none knows two more
# surely than the next, or all are known to two alike.
language_of_headings <- function(plain) {
  known <- heading_words()$language
  plain <- unique(plain[nzchar(plain)])
  bare <- ifelse(plain %in% names(known), plain, sub(" ?[0-9]+( .*)?$", "", plain))
  said <- known[intersect(unique(c(bare, plain)), names(known))]
  if (!length(said)) return(NA_character_)
  each <- strsplit(said, " ", fixed = TRUE)
  weight <- sort(
    tapply(rep(1 / lengths(each), lengths(each)), unlist(each), sum),
    decreasing = TRUE
  )
  if (length(weight) > 1 && weight[1] < weight[2] + 1e-9) return(NA_character_)
  names(weight)[1]
}

# The roles that a column of the student, and of a long table, can have.
person_roles <- c(
  "student", "first_name", "last_name", "name", "email", "guardian_email",
  "section", "teacher", "school", "district", "attempt", "seconds", "submitted",
  "started", "status"
)
name_roles <- c("student", "first_name", "last_name", "name", "email")
long_roles <- c(
  "item", "response", "points", "most", "key", "standards", "explanation",
  "comment", "prompt", "type", "seconds"
)

# What a layout can say; see read-layout.R.
layout_names <- c(
  "shape",
  "header",
  person_roles,
  setdiff(long_roles, person_roles),
  "questions",
  "leave_out",
  "rows",
  "blank_mark",
  "several_mark",
  "id_width",
  "key_line",
  "sheet",
  "scale",
  "namesakes"
)

# What the columns of a question can hold beside its answer.
part_roles <- c(
  response = "answer",
  points = "points",
  most = "most",
  key = "key",
  explanation = "explanation",
  comment = "comment",
  seconds = "seconds",
  tries = "tries"
)

# A heading without case, accents and marks: "N\u00ba de alumno" is "no de alumno".
plain_heading <- function(text) {
  apart <- gsub(
    "(?<=\\p{Ll})(?=\\p{Lu})",
    " ",
    enc2utf8(as.character(text)),
    perl = TRUE
  )
  apart <- gsub(
    "(?<=[Nn])[\u00ba\u00b0]",
    "o",
    apart,
    perl = TRUE
  )
  plain <- latin_digits(plain_text(apart))
  trimws(gsub("[^[:alnum:]%]+", " ", plain))
}

# Arabic, Persian and full-width digits as those that all know.
latin_digits <- function(text) {
  other <- intToUtf8(c(0x660:0x669, 0x6f0:0x6f9, 0xff10:0xff19))
  chartr(other, strrep("0123456789", 3), text)
}

# The first meaning of each heading, NA where it has none. list: of heading_words().
heading_means <- function(text, list, plain = plain_heading(text)) {
  words <- heading_words()
  codes <- words[[list]]
  found <- unname(codes[match(plain, names(codes))])
  left <- which(is.na(found) & nzchar(plain))
  if (!length(left)) return(found)
  bare <- without_words(plain[left], words$filler)
  found[left] <- unname(codes[match(bare, names(codes))])
  if (list != "person") return(found)
  left <- left[is.na(found[left])]
  whose <- without_words(plain[left], c(words$filler, words$who))
  alone <- !nzchar(whose) & nzchar(without_words(plain[left], words$filler))
  alone <- alone | plain[left] %in% words$who
  found[left] <- ifelse(
    alone,
    "student",
    unname(codes[match(whose, names(codes))])
  )
  found
}

without_words <- function(plain, words) {
  vapply(strsplit(plain, " ", fixed = TRUE), function(pieces) {
    paste(pieces[!pieces %in% words], collapse = " ")
  }, "")
}

# Every meaning that a phrase has in a list, such as "note": points and comment.
all_meanings <- function(plain, list) {
  codes <- heading_words()[[list]]
  found <- unname(codes[names(codes) == plain])
  if (length(found) || !nzchar(plain)) return(found)
  bare <- without_words(plain, heading_words()$filler)
  unname(codes[names(codes) == bare])
}

meanings_of_each <- function(text, list) {
  lapply(plain_heading(text), all_meanings, list)
}

# ---- a question's heading taken apart ---------------------------------------------

# A data frame, a row a heading: number ("7", "7b"), prefix (what stands before it),
# part ("points" in "Q3 points"), stem (without the part), most (its worth), text (the
# wording behind the number).
parse_headings <- function(headings) {
  worth <- heading_worth(headings)
  plain <- plain_heading(worth$rest)
  parts <- split_part(worth$rest, plain)
  named <- question_number(parts$stem, worth$rest)
  data.frame(
    stem = parts$stem,
    part = parts$part,
    most = worth$most,
    prefix = named$prefix,
    number = named$number,
    text = named$text
  )
}

# "(2 points)", "[max 3]", "(/5)" anywhere, "/4" at the end: the most a question gives.
heading_worth <- function(headings) {
  before <- heading_words()$worth
  before <- paste(before[order(-nchar(before))], collapse = "|")
  inside <- paste0(
    "[(\\[]\\s*(?i:", before, ")?[.:]*\\s*/?\\s*",
    "([0-9]+(?:[.,][0-9]+)?)\\s*(?:\\p{L}{1,8})?[.]?\\s*[)\\]]"
  )
  behind <- "/\\s?([0-9]+(?:[.,][0-9]+)?)$"
  pattern <- paste0(inside, "|", behind)
  found <- regmatches(
    headings,
    regexec(pattern, headings, perl = TRUE)
  )
  most <- vapply(found, function(hit) {
    if (length(hit)) hit[-1][nzchar(hit[-1])][1] else NA_character_
  }, "")
  rest <- headings
  has <- !is.na(most)
  rest[has] <- trimws(sub(pattern, " ", headings[has], perl = TRUE))
  # "(2)" alone is a number of the question's own, and "(2 points)" no question.
  bare <- has &
    grepl("[(\\[]\\s*[0-9]+\\s*[)\\]]", headings, perl = TRUE)
  bare <- bare & !are_worths(rest, most, bare)
  none <- bare | (has & !nzchar(gsub("[^[:alnum:]]", "", rest)))
  most[none] <- NA
  rest[none] <- headings[none]
  list(most = most, rest = rest)
}

# "Essay (4)" and "Evidence (4)": several names without a number of their own say what
# each gives, unless they count from 1 up or one name stands again and again.
are_worths <- function(rest, most, bare) {
  named <- bare &
    !grepl("[0-9]", rest) &
    grepl("\\p{L}{3}", rest, perl = TRUE)
  number <- suppressWarnings(as.numeric(most[named]))
  counted <- identical(sort(number), as.numeric(seq_along(number)))
  if (sum(named) < 2 || counted || anyDuplicated(rest[named])) {
    named[] <- FALSE
  }
  named
}

# A word for a part at the end ("Q1_points", "What causes it? - Answer") or in front
# ("Points 1"), if something stands beside it.
split_part <- function(shown, plain) {
  phrases <- part_phrases()
  stem <- plain
  part <- unname(phrases[match(plain, names(phrases))])
  stem[!is.na(part)] <- ""
  words <- strsplit(plain, " ", fixed = TRUE)
  longest <- max(lengths(strsplit(names(phrases), " ", fixed = TRUE)))
  for (n in rev(seq_len(longest))) {
    open <- which(is.na(part) & lengths(words) > n)
    ends <- vapply(words[open], function(x) {
      paste(utils::tail(x, n), collapse = " ")
    }, "")
    hit <- match(ends, names(phrases))
    at <- open[!is.na(hit)]
    part[at] <- phrases[stats::na.omit(hit)]
    stem[at] <- substr(
      plain[at],
      1,
      nchar(plain[at]) - nchar(ends[!is.na(hit)]) - 1
    )
    # "Score on question 3", but no wording that begins so.
    open <- which(is.na(part) & lengths(words) > n & lengths(words) <= 4)
    open <- open[grepl("[0-9]", plain[open])]
    starts <- vapply(words[open], function(x) {
      paste(x[seq_len(n)], collapse = " ")
    }, "")
    hit <- match(starts, names(phrases))
    at <- open[!is.na(hit)]
    part[at] <- phrases[stats::na.omit(hit)]
    stem[at] <- substring(plain[at], nchar(starts[!is.na(hit)]) + 2)
  }
  list(stem = without_edges(stem), part = part)
}

# Each phrase and the part it names.
part_phrases <- function() {
  codes <- heading_words()$long
  codes <- codes[codes %in% names(part_roles)]
  codes <- codes[!duplicated(names(codes))]
  codes[] <- part_roles[codes]
  codes
}

without_edges <- function(stem) {
  filler <- paste(heading_words()$filler, collapse = "|")
  has <- grepl(" ", stem, fixed = TRUE)
  stem[has] <- sub(
    paste0("^(", filler, ") (?=.*[0-9])"),
    "",
    stem[has],
    perl = TRUE
  )
  stem
}

# Where the word for a question follows its number, as in "3. soru", it is put before it.
numbers_first <- function(plain) {
  after <- heading_words()$item_after
  if (!length(after)) return(plain)
  items <- heading_words()$item
  before <- paste(items[order(-nchar(items))], collapse = "|")
  form <- paste0(
    "^(?:", before, ")? ?([0-9]{1,3}) ?(", paste(after, collapse = "|"), ")(?= |$)"
  )
  sub(form, "\\2 \\1", plain, perl = TRUE)
}

number_like <- "[0-9](-[0-9A-Za-z]{1,2}\\b|[:/][0-9]|[.,][0-9])|%|[0-9]{4}"

# "q 3", "aufgabe 3", "a1a", "3 what causes it": what stands before the number, the
# number, and the text behind it.
question_number <- function(plain, shown = plain) {
  items <- heading_words()$item
  items <- items[order(-nchar(items))]
  plain <- numbers_first(plain)
  named <- paste0(
    "^(",
    paste(items, collapse = "|"),
    ")? ?([0-9]{1,3})(?: ?([a-z]))?(?: (.*))?$"
  )
  own <- "^([a-z]{1,6}) ?([0-9]{1,3})(?: ?([a-z]))?$"
  found <- regmatches(plain, regexec(named, plain, perl = TRUE))
  other <- regmatches(plain, regexec(own, plain, perl = TRUE))
  none <- lengths(found) == 0
  found[none] <- other[none]
  # 7-A is a class, 12:31 a time, 0,5 a mark.
  found[grepl(number_like, shown, perl = TRUE)] <- list(character())
  piece <- function(k) {
    vapply(
      found,
      function(hit) if (length(hit) >= k) hit[k] else NA_character_,
      ""
    )
  }
  text <- or_blank(piece(5))
  letter <- or_blank(piece(4))
  # "3 a current is": the letter belongs to the text unless it closes the number.
  loose <- nzchar(letter) & nzchar(text) & grepl("[0-9] [a-z]", plain)
  text[loose] <- paste(letter[loose], text[loose])
  letter[loose] <- ""
  number <- ifelse(
    is.na(piece(3)),
    NA,
    paste0(
      sub("^0+(?=.)", "", or_blank(piece(3)), perl = TRUE),
      letter
    )
  )
  data.frame(
    prefix = or_blank(piece(2)),
    number = number,
    text = text
  )
}
