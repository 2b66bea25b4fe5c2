# Things put into a sequence.
type_order <- function() {
  new_item_type(
    "order",
    "parts",
    examples = "C>A>B",
    scorings = c("all", "each"),
    read_key = function(key) {
      alternatives(key, function(one) {
        sequence <- split_parts(one, ">")[[1]]
        if (length(sequence) < 2) bad_key(say("score-order.is_no_sequence"))
        if (anyDuplicated(sequence)) {
          bad_key(say("score-order.names_a_thing_twice"))
        }
        sequence
      })
    },
    solve = function(key) paste(key[[1]], collapse = ">"),
    normalise = function(x, offered) {
      things <- sub("^[0-9]+: ", "", offered)
      sequences <- lapply(split_parts(x, ">"), as_offered, things)
      vapply(sequences, paste, "", collapse = ">")
    },
    share = function(x, key, scoring) {
      sequence <- split_parts(x, ">")
      best_share(key, function(wanted) {
        placed <- vapply(sequence, function(part) {
          sum(part[seq_along(wanted)] == wanted, na.rm = TRUE)
        }, 0)
        if (scoring == "each") return(placed / length(wanted))
        as.numeric(
          placed == length(wanted) & lengths(sequence) == length(wanted)
        )
      })
    },
    parts = function(x) lapply(split_parts(x, ">"), numbered),
    right_parts = function(key) unique(unlist(lapply(key, numbered))),
    near = near_order,
    tells = c("whole", "swaps"),
    whole = "order",
    show_answer = function(x) gsub(">", " \u2192 ", x, fixed = TRUE),
    say_part = function(part) {
      say(
        "score-order.in_place",
        thing = sub("^[0-9]+: ", "", part),
        place = sub(": .*", "", part)
      )
    },
    paper = list(
      hint = say("score-order.write_the_letters_in"),
      lines = strrep("_", 40)
    ),
    qti = list(
      interaction = "orderInteraction",
      cardinality = "ordered",
      base = "identifier",
      choices = "options",
      attributes = list(shuffle = "true"),
      values = function(answer) split_parts(answer, ">")[[1]],
      by_place = TRUE
    ),
    xapi = "sequencing"
  )
}

numbered <- function(part) {
  if (length(part)) paste0(seq_along(part), ": ", part) else part
}

# Two things have swapped their places.
near_order <- function(answer, key) {
  given <- split_parts(answer, ">")[[1]]
  for (right in key) {
    if (length(given) != length(right)) next
    off <- which(given != right)
    if (length(off) != 2 || !identical(given[off], rev(right[off]))) next
    return(c(
      paste(right, collapse = ">"),
      near_miss_code("swapped", sort(right[off]))
    ))
  }
}
