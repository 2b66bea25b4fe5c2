# Pairs; a thing that is given two partners is given none.
type_match <- function() {
  new_item_type(
    "match",
    "parts",
    examples = "1=B;2=A",
    scorings = c("all", "each"),
    read_key = function(key) {
      alternatives(key, function(one) {
        pairs <- read_pairs(one)[[1]]
        if (!length(pairs) || !all(grepl("^[^=]+=[^=]+$", pairs))) {
          bad_key(say("score-match.is_not_made_of"))
        }
        if (anyDuplicated(left_of(pairs))) {
          bad_key(say("score-match.gives_one_thing_two"))
        }
        pairs
      })
    },
    solve = function(key) paste(key[[1]], collapse = ";"),
    normalise = function(x, offered) {
      pairs <- lapply(read_pairs(x), function(pair) {
        sort(unique(as_offered(pair, offered)), method = "radix")
      })
      vapply(pairs, paste, "", collapse = ";")
    },
    share = function(x, key, scoring) {
      pairs <- lapply(split_parts(x, ";"), without_rivals)
      best_share(key, function(wanted) {
        right <- vapply(
          pairs,
          function(pair) sum(wanted %in% pair),
          0
        )
        if (scoring == "each") return(right / length(wanted))
        as.numeric(right == length(wanted) & lengths(pairs) == length(wanted))
      })
    },
    parts = function(x) split_parts(x, ";"),
    right_parts = function(key) unique(unlist(key)),
    near = near_pairs,
    tells = c("pair", "whole"),
    whole = "pairs",
    show_answer = function(x) gsub(";", ", ", x, fixed = TRUE),
    say_part = function(part) {
      say(
        "score-match.with",
        left = left_of(part),
        right = partner_of(part)
      )
    },
    paper = list(
      hint = say("score-match.write_the_letter_beside"),
      lines = strrep("_", 40)
    ),
    qti = list(
      interaction = "matchInteraction",
      cardinality = "multiple",
      base = "directedPair",
      choices = "pairs",
      attributes = list(shuffle = "false", maxAssociations = "0"),
      values = function(answer) {
        sub("=", "\t", split_parts(answer, ";")[[1]], fixed = TRUE)
      },
      maps = "each"
    ),
    xapi = "matching"
  )
}

read_pairs <- function(x) {
  lapply(
    split_parts(x, ";"),
    function(pair) gsub(" *= *", "=", pair)
  )
}

left_of <- function(pair) sub("=.*", "", pair)

partner_of <- function(pair) sub("^[^=]*=", "", pair)

# Without the pairs of a thing that has two partners.
without_rivals <- function(pairs) {
  left <- left_of(pairs)
  pairs[!left %in% left[duplicated(left)]]
}

# One pair is missing, or two have swapped their partners.
near_pairs <- function(answer, key) {
  pairs <- split_parts(answer, ";")[[1]]
  for (right in key) {
    off <- pairs[!pairs %in% right]
    lacking <- right[!right %in% pairs]
    one_missing <- length(lacking) == 1 && !length(off)
    swapped <- length(off) == 2 &&
      length(lacking) == 2 &&
      setequal(left_of(off), left_of(lacking)) &&
      setequal(partner_of(off), partner_of(lacking))
    near_miss <- if (one_missing) {
      near_miss_code("missing", left_of(lacking))
    } else if (swapped) {
      near_miss_code("swapped", sort(left_of(off)))
    }
    if (length(near_miss)) return(c(paste(right, collapse = ";"), near_miss))
  }
}
