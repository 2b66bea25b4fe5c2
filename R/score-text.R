# A word or a few; case, accents and the number of blanks do not matter.
score_text <- list(
  example = "ebb|ebb tide",
  scorings = "all",
  read_key = function(key) {
    accepted <- unique(plain_text(split_parts(key, "|")[[1]]))
    if (!length(accepted)) bad_key("names no accepted answer")
    accepted
  },
  normalise = function(x, offered) plain_text(x),
  share = function(x, key, scoring) as.numeric(x %in% key),
  parts = function(x) as.list(x),
  right_parts = function(key) key
)

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
