# A set of options is chosen; the order in which they were ticked is nothing.
score_multiple <- list(
  example = "A;C",
  scorings = c("all", "each"),
  read_key = function(key) {
    alternatives(key, function(set) {
      right <- split_parts(set, ";")[[1]]
      if (!length(right)) bad_key("names no option")
      if (anyDuplicated(right)) bad_key("names an option twice")
      right
    })
  },
  normalise = function(x, offered) {
    sets <- lapply(split_parts(x, ";"), function(set) sort(unique(as_offered(set, offered)), method = "radix"))
    vapply(sets, paste, "", collapse = ";")
  },
  share = function(x, key, scoring) {
    chosen <- split_parts(x, ";")
    best_share(key, function(wanted) {
      right <- vapply(chosen, function(set) sum(set %in% wanted), 0)
      wrong <- lengths(chosen) - right
      if (scoring == "each") return(pmax(0, right - wrong) / length(wanted))
      as.numeric(right == length(wanted) & wrong == 0)
    })
  },
  parts = function(x) split_parts(x, ";"),
  right_parts = function(key) unique(unlist(key))
)
