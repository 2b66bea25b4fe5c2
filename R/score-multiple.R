# A set of options is chosen; the order in which they were ticked is nothing.
type_multiple <- function() {
  new_item_type(
    "multiple",
    "parts",
    examples = "A;C",
    scorings = c("all", "each"),
    read_key = function(key) {
      alternatives(key, function(set) {
        right <- split_parts(set, ";")[[1]]
        if (!length(right)) bad_key(say("score-multiple.names_no_option"))
        if (anyDuplicated(right)) {
          bad_key(say("score-multiple.names_an_option_twice"))
        }
        right
      })
    },
    solve = function(key) paste(key[[1]], collapse = ";"),
    normalise = function(x, offered) {
      sets <- lapply(typed_sets(x, offered), function(set) {
        sort(unique(as_offered(set, offered)), method = "radix")
      })
      vapply(sets, paste, "", collapse = ";")
    },
    share = function(x, key, scoring) {
      chosen <- split_parts(x, ";")
      best_share(key, function(wanted) {
        right <- vapply(
          chosen,
          function(set) sum(set %in% wanted),
          0
        )
        wrong <- lengths(chosen) - right
        if (scoring == "each") return(pmax(0, right - wrong) / length(wanted))
        as.numeric(right == length(wanted) & wrong == 0)
      })
    },
    parts = function(x) split_parts(x, ";"),
    right_parts = function(key) unique(unlist(key)),
    offers = TRUE,
    near = near_set,
    tells = "whole",
    whole = "set",
    verb = "ticked",
    show_key = function(x) {
      vapply(split_parts(x, ";"), function(set) paste(join_words(set), collapse = ""), "")
    },
    paper = list(hint = say("score-multiple.mark_all_that_are"), lines = NULL),
    qti = list(
      interaction = "choiceInteraction",
      cardinality = "multiple",
      base = "identifier",
      choices = "options",
      attributes = list(shuffle = "false", maxChoices = "0"),
      values = function(answer) split_parts(answer, ";")[[1]],
      maps = "each",
      wrong = function(item, right) -item$points / length(right)
    ),
    xapi = "choice"
  )
}

# "A, C", "A/C", "A C" and "AC" are what "A;C" is, where their parts are options.
typed_sets <- function(x, offered) {
  sets <- split_parts(x, ";")
  known <- toupper(offered)
  for (i in which(lengths(sets) == 1 & !toupper(trimws(x)) %in% known)) {
    letters <- if (all(nchar(known) == 1)) strsplit(sets[[i]], "")[[1]]
    for (pieces in list(strsplit(sets[[i]], " *[,/+&] *| +")[[1]], letters)) {
      if (length(pieces) > 1 && all(toupper(pieces) %in% known)) {
        sets[[i]] <- pieces
        break
      }
    }
  }
  sets
}

# One option is missing, or one is too many.
near_set <- function(answer, key) {
  chosen <- split_parts(answer, ";")[[1]]
  for (right in key) {
    missing <- setdiff(right, chosen)
    extra <- setdiff(chosen, right)
    if (length(missing) + length(extra) != 1) next
    near_miss <- if (length(missing)) {
      near_miss_code("missing", missing)
    } else {
      near_miss_code("extra", extra)
    }
    return(c(paste(right, collapse = ";"), near_miss))
  }
}
