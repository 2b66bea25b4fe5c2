# Things put into a sequence.
score_order <- list(
  example = "C>A>B",
  scorings = c("all", "each"),
  read_key = function(key) {
    alternatives(key, function(one) {
      sequence <- split_parts(one, ">")[[1]]
      if (length(sequence) < 2) bad_key("is no sequence")
      if (anyDuplicated(sequence)) bad_key("names a thing twice")
      sequence
    })
  },
  normalise = function(x, offered) {
    things <- sub("^[0-9]+: ", "", offered)
    vapply(split_parts(x, ">"), function(part) paste(as_offered(part, things), collapse = ">"), "")
  },
  share = function(x, key, scoring) {
    sequence <- split_parts(x, ">")
    best_share(key, function(wanted) {
      placed <- vapply(sequence, function(part) sum(part[seq_along(wanted)] == wanted, na.rm = TRUE), 0)
      if (scoring == "each") return(placed / length(wanted))
      as.numeric(placed == length(wanted) & lengths(sequence) == length(wanted))
    })
  },
  parts = function(x) lapply(split_parts(x, ">"), numbered),
  right_parts = function(key) unique(unlist(lapply(key, numbered)))
)

numbered <- function(part) if (length(part)) paste0(seq_along(part), ": ", part) else part
