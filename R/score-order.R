# Things put into a sequence.
score_order <- list(
  example = "C>A>B",
  scorings = c("all", "each"),
  read_key = function(key) {
    sequence <- split_parts(key, ">")[[1]]
    if (length(sequence) < 2) bad_key("is no sequence")
    if (anyDuplicated(sequence)) bad_key("names a thing twice")
    sequence
  },
  normalise = function(x, offered) {
    things <- sub("^[0-9]+: ", "", offered)
    vapply(split_parts(x, ">"), function(part) paste(as_offered(part, things), collapse = ">"), "")
  },
  share = function(x, key, scoring) {
    sequence <- split_parts(x, ">")
    placed <- vapply(sequence, function(part) sum(part[seq_along(key)] == key, na.rm = TRUE), 0)
    if (scoring == "each") return(placed / length(key))
    as.numeric(placed == length(key) & lengths(sequence) == length(key))
  },
  parts = function(x) lapply(split_parts(x, ">"), numbered),
  right_parts = function(key) numbered(key)
)

numbered <- function(part) if (length(part)) paste0(seq_along(part), ": ", part) else part
