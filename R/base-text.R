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
  if (length(padded)) x[padded] <- trimws(enc2utf8(x[padded]), whitespace = "[ \t\r\n\u00a0\u000b\u000c]")
  x
}

is_blank <- function(x) is.na(x) | !nzchar(x)

quoted <- function(x) paste0("\"", x, "\"")

some_of <- function(x, most = 5) {
  if (length(x) <= most) return(paste(x, collapse = ", "))
  paste0(paste(x[seq_len(most)], collapse = ", "), " and ", length(x) - most, " more")
}

count_of <- function(n, thing) paste0(n, " ", thing, if (n != 1) "s")

# Control characters cannot reach a terminal or a message.
printable <- function(x) {
  if (is.null(x)) return(NULL)
  gsub("[\u0001-\u001f\u007f-\u009f]", "\u00b7", x, perl = TRUE)
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
  said <- if (is.na(near)) paste0("Known are: ", some_of(known, 12), ".")
  else paste0("Did you mean ", quoted(near), "?")
  structure(said, value = as.character(word), choices = as.character(known))
}

capital <- function(text) paste0(toupper(substr(text, 1, 1)), substring(text, 2))

join_words <- function(words, link = "and") {
  if (length(words) < 2) return(paste(words))
  paste(paste(words[-length(words)], collapse = ", "), link, words[length(words)])
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
  unname(split(pieces[filled], factor(whose[filled], seq_along(parts))))
}

# Latin letters without their accents, in lower case, one blank between words.
plain_text <- function(x) {
  x <- gsub("[ \t\r\n\u00a0]+", " ", trim_blanks(tolower(x)))
  x <- gsub("[\u0300-\u036f]", "", x)
  x <- gsub("\u00df", "ss", gsub("\u00e6", "ae", gsub("\u0153", "oe", x)))
  chartr(accented_letters, plain_letters, x)
}

accented_letters <- paste0(
  "\u00e0\u00e1\u00e2\u00e3\u00e4\u00e5\u0101\u0103\u0105\u00e7\u0107\u0109\u010b\u010d\u010f\u0111",
  "\u00e8\u00e9\u00ea\u00eb\u0113\u0115\u0117\u0119\u011b\u011d\u011f\u0121\u0123\u0125\u0127",
  "\u00ec\u00ed\u00ee\u00ef\u0129\u012b\u012d\u012f\u0131\u0135\u0137\u013a\u013c\u013e\u0142",
  "\u00f1\u0144\u0146\u0148\u00f2\u00f3\u00f4\u00f5\u00f6\u00f8\u014d\u014f\u0151\u0155\u0157\u0159",
  "\u015b\u015d\u015f\u0161\u0219\u0163\u0165\u021b\u00f9\u00fa\u00fb\u00fc\u0169\u016b\u016d\u016f\u0171\u0173",
  "\u0175\u00fd\u00ff\u0177\u017a\u017c\u017e"
)

plain_letters <- paste0(
  "aaaaaaaaacccccdd", "eeeeeeeeegggghh", "iiiiiiiiijkllll", "nnnnooooooooorrr",
  "sssssttt", "uuuuuuuuuu", "wyyyzzz"
)

only_one <- function(x) if (length(x) == 1) x else NA_character_
