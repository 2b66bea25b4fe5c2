# Text as people type it and as it is shown.

# Text columns as plain character, outer blanks gone, so that a factor, a
# number and a padded string all mean what they show.
as_text <- function(x) {
  x <- trim_blanks(if (is.numeric(x)) format_plain(x) else as.character(x))
  x[is_blank(x)] <- NA_character_
  x
}

# trimws(), but only where there is something to trim: most cells have nothing.
trim_blanks <- function(x) {
  padded <- padded_strings(x)
  if (length(padded)) {
    x[padded] <- trimws(
      enc2utf8(x[padded]),
      whitespace = "[ \t\r\n\u00a0\u000b\u000c]"
    )
  }
  x
}

# An empty text where x is missing, else what is shown of it.
or_blank <- function(x, shown = x) ifelse(is.na(x), "", shown)

# x, or another where it is missing.
or_else <- function(x, other) ifelse(is.na(x), other, x)

is_blank <- function(x) is.na(x) | !nzchar(x)

in_parentheses <- function(x) paste0("(", x, ")")

quoted <- function(x) paste0("\"", x, "\"")

some_of <- function(x, most = 5) {
  if (length(x) <= most) return(in_a_row(x))
  say(
    "joining.more",
    some = in_a_row(x[seq_len(most)]),
    n = length(x) - most
  )
}

nearest_word <- function(word, known) {
  if (!length(known)) return(NA_character_)
  distance <- utils::adist(word, known, ignore.case = TRUE)[1, ]
  slips <- if (nchar(word) < 3) 0 else max(2, nchar(word) / 3)
  if (min(distance) > min(slips, nchar(word) - 2)) return(NA_character_)
  known[which.min(distance)]
}

# What could have been meant; the word and what is known go along, for the
# condition that is made of it.
did_you_mean <- function(word, known) {
  near <- nearest_word(word, known)
  said <- if (is.na(near)) {
    say("base-text.known_are", known = some_of(known, 12))
  } else {
    say("base-text.did_you_mean", near = quoted(near))
  }
  structure(
    said,
    value = as.character(word),
    choices = as.character(known)
  )
}

# link: and, or.
join_words <- function(words, link = "and") {
  if (length(words) < 2) return(paste(words))
  n <- length(words)
  say(
    paste0("joining.", link),
    first = in_a_row(words[-n]),
    last = words[n],
    sound = first_sound(words[n])
  )
}

in_a_row <- function(words) paste(words, collapse = say("joining.comma"))

# In the marks of the language.
cited <- function(text) say("joining.quoted", text = text)

# What a word begins with to the ear, where that changes the word before it: Spanish says
# "padres e hijos" and "siete u ocho".
first_sound <- function(word) {
  if (grepl("^(i|\u00ed|hi(?![aeo])|h\u00ed)", word, TRUE, perl = TRUE)) return("i")
  if (grepl("^(h?[o\u00f3]|8|11$)", word, TRUE, perl = TRUE)) return("o")
  "none"
}

join_some <- function(words, most = 5) {
  if (length(words) > most) some_of(words, most) else join_words(words)
}

shorten <- function(x, width) {
  long <- nchar(x, "width") > width
  x[long] <- paste0(trimws(strtrim(x[long], width - 1), "right"), "\u2026")
  x
}

# The pieces of each answer between separators, outer blanks and empties gone.
split_parts <- function(x, separator) {
  x[is.na(x)] <- ""
  parts <- strsplit(x, separator, fixed = TRUE)
  if (length(parts) == 1) {
    pieces <- trim_blanks(parts[[1]])
    return(list(pieces[nzchar(pieces)]))
  }
  pieces <- trim_blanks(as.character(unlist(parts)))
  whose <- rep(seq_along(parts), lengths(parts))
  filled <- nzchar(pieces)
  whose <- factor(whose[filled], seq_along(parts))
  unname(split(pieces[filled], whose))
}

# Latin letters without their accents, in lower case, one blank between words. Marks
# on letters of other scripts are letters of their own and stay.
# A text as it can stand in the name of a file.
file_word <- function(text) {
  plain <- hyphened(text)
  # "section Harbour A" can be made from its small letters again. Where that is not so,
  # some digits tell apart what would be called alike.
  if (grepl("^[a-z]+( ([A-Z][a-z]*|[0-9]+))+$", text)) return(plain)
  paste(c(plain[nzchar(plain)], substr(cli::hash_md5(text), 1, 6)), collapse = "-")
}

hyphened <- function(text) {
  plain <- plain_text(stringi::stri_trans_general(text, "Any-Latin"))
  gsub("(^-|-$)", "", gsub("[^a-z0-9]+", "-", plain))
}

plain_text <- function(x) {
  x <- gsub("[ \t\r\n\u00a0]+", " ", trim_blanks(tolower(x)))
  accented <- which(!is.na(x) & grepl("[^ -~]", x))
  if (!length(accented)) return(x)
  composed <- stringi::stri_trans_nfc(enc2utf8(x[accented]))
  folded <- stringi::stri_trans_general(composed, "Latin-ASCII")
  bare <- stringi::stri_replace_all_regex(
    folded,
    "(?<=[A-Za-z])[\u0300-\u036f]+",
    ""
  )
  x[accented] <- tolower(bare)
  x
}

only_one <- function(x) if (length(x) == 1) x else NA_character_

# A word as it is written in a shell.
shell_word <- function(words) {
  type <- if (.Platform$OS.type == "windows") "cmd2" else "sh"
  plain <- grepl("^[A-Za-z0-9_./=:,-]+$", words)
  ifelse(plain, words, shQuote(words, type))
}
