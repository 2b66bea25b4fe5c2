# The item types. Each stands in a file of its own as a list of:
#   example      a key as it is written
#   scorings     the rules that items.csv may ask for
#   read_key     text to key, with | between alternatives; stops with bad_key().
#                NULL: points come by hand
#   normalise    the form in which two answers that mean the same are the same
#   share        the share of the points that each normalised answer earns
#   parts        what an answer is made of, for the table of options
#   right_parts  the parts that the key asks for
# A new type is a new file like its neighbours and a line here.
score_types <- function() {
  list(
    choice = score_choice, multiple = score_multiple, text = score_text,
    number = score_number, order = score_order, match = score_match,
    mark = score_mark, open = score_open
  )
}

# A key of several alternatives, "A;C|A;D": each is right, and an answer earns
# what it earns by the one that fits it best.
alternatives <- function(key, read_one) {
  parts <- split_parts(key, "|")[[1]]
  if (!length(parts)) bad_key("names no answer")
  lapply(parts, read_one)
}

best_share <- function(key, share_one) do.call(pmax, lapply(key, share_one))

bad_key <- function(problem) {
  stop(structure(
    class = c("pregunta_bad_key", "error", "condition"),
    list(message = problem, call = NULL)
  ))
}

# Options spelled as they are offered, where only the case differs.
as_offered <- function(x, offered) {
  offered <- unique(offered)
  if (!length(offered) || anyDuplicated(toupper(offered))) return(x)
  at <- match(toupper(x), toupper(offered))
  ifelse(is.na(at), x, offered[at])
}
