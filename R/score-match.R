# Pairs; a thing that is given two partners is given none.
score_match <- list(
  example = "1=B;2=A",
  scorings = c("all", "each"),
  read_key = function(key) {
    alternatives(key, function(one) {
      pairs <- read_pairs(one)[[1]]
      if (!length(pairs) || !all(grepl("^[^=]+=[^=]+$", pairs))) bad_key("is not made of pairs")
      if (anyDuplicated(sub("=.*", "", pairs))) bad_key("gives one thing two partners")
      pairs
    })
  },
  normalise = function(x, offered) {
    pairs <- lapply(read_pairs(x), function(pair) sort(unique(as_offered(pair, offered)), method = "radix"))
    vapply(pairs, paste, "", collapse = ";")
  },
  share = function(x, key, scoring) {
    pairs <- lapply(split_parts(x, ";"), function(pair) {
      left <- sub("=.*", "", pair)
      pair[!left %in% left[duplicated(left)]]
    })
    best_share(key, function(wanted) {
      right <- vapply(pairs, function(pair) sum(wanted %in% pair), 0)
      if (scoring == "each") return(right / length(wanted))
      as.numeric(right == length(wanted) & lengths(pairs) == length(wanted))
    })
  },
  parts = function(x) split_parts(x, ";"),
  right_parts = function(key) unique(unlist(key))
)

read_pairs <- function(x) {
  lapply(split_parts(x, ";"), function(pair) gsub(" *= *", "=", pair))
}
