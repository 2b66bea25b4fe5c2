# One option is chosen; the key may allow more than one.
type_choice <- function() {
  new_item_type(
    "choice",
    "chosen",
    examples = c("B", "B|D"),
    read_key = function(key) {
      right <- split_parts(key, "|")[[1]]
      if (!length(right)) bad_key(say("score-choice.names_no_option"))
      right
    },
    solve = function(key) key[1],
    normalise = as_offered,
    share = function(x, key, scoring) as.numeric(x %in% key),
    right_parts = function(key) key,
    allowed = function(item, offered, scale) if (length(offered)) offered,
    paper = list(hint = "", lines = NULL),
    qti = list(
      interaction = "choiceInteraction",
      base = "identifier",
      choices = "options",
      attributes = list(shuffle = "false", maxChoices = "1"),
      maps = "several"
    ),
    xapi = c("choice", "true-false", "likert")
  )
}
