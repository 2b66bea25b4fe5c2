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
