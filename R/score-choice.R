# One option is chosen; the key may allow more than one.
score_choice <- list(
  example = "B, or B|D when each is right",
  scorings = "all",
  read_key = function(key) {
    right <- split_parts(key, "|")[[1]]
    if (!length(right)) bad_key("names no option")
    right
  },
  normalise = function(x, offered) as_offered(x, offered),
  share = function(x, key, scoring) as.numeric(x %in% key),
  parts = function(x) as.list(x),
  right_parts = function(key) key
)
