# Signs that rules look for in the options of an item, and the words that the
# sentences of a verdict are filled with.

# An option that hardly anybody took although many went wrong.
idle_option <- function(options, settings) {
  wrong <- which(is_wrong(options))
  if (!any(options$distractor %in% "idle")) return(integer())
  if (sum(options$count[wrong]) < settings$thresholds$few_students) {
    return(integer())
  }
  idle <- wrong[options$distractor[wrong] %in% "idle"]
  idle[which.min(options$count[idle])]
}

# What the sentences of a verdict are filled with: a function that works out the value
# of a slot when a sentence asks for it. at: the option that it is about.
review_values <- function(item, options, at, waiting, settings) {
  quote_text <- function(text) {
    if (length(text) && !is.na(text)) {
      paste0(" ", in_parentheses(cited(text)))
    } else {
      ""
    }
  }
  type <- item_type(item$type)
  option <- options$option[at]
  text <- quote_text(options$text[at])
  idea <- options$idea[at]
  idle <- idle_option(options, settings)
  idle <- idle[options$count[idle] %in% c(0, settings$smallest_group:item$n)]
  part <- missed_part(
    item,
    options,
    type,
    max(3, settings$smallest_group)
  )
  talked_of <- type$answer %in% c("chosen", "written") &&
    any(options$count[at] >= max(3, 0.1 * item$n, settings$smallest_group))
  about <- if (!is.null(part)) "part" else if (talked_of) "chosen"
  value_of <- function(slot) {
    switch(slot,
      count = options$count[at],
      n = item$n,
      option = option,
      chose = words_for(type$verb, "answering"),
      text = text,
      shown = if (type$answer == "written") {
        cited(option)
      } else {
        paste0(option, text)
      },
      idea = if (length(idea) && !is.na(idea)) {
        say("judge-signs.which_goes_with_the", idea = idea)
      } else {
        ""
      },
      rival = options$option[likelier_key(options)],
      any_rival = length(likelier_key(options)) > 0,
      key = join_words(options$option[options$key], "or"),
      like = options$like[at],
      low = percent(item$low),
      high = percent(item$high),
      difficulty = percent(item$difficulty),
      masters = percent(item$masters),
      others = percent(item$others),
      before = percent(item$before),
      cut = percent(settings$mastery_cut),
      n_students = say("judge-signs.students", n = item$n),
      not_reached = say(
        "judge-signs.students_2",
        not_reached = item$not_reached
      ),
      waiting = say("judge-signs.answers_wait", waiting = waiting),
      idle_option = options$option[idle],
      idle_count = options$count[idle],
      part = part$option,
      missed = part$missed,
      rank = if (settings$purpose == "rank") say("review_talk.rank") else ""
    )
  }
  list(
    value_of = value_of,
    about = about,
    has_idle = length(idle) > 0
  )
}

# The option that would be the likeliest key, where the key is not: not sure enough to say
# so, but enough not to speak of mending the question only.
likelier_key <- function(options) {
  at <- which(options$key_ratio > 0 & options$option_rest > 0)
  at[which.max(options$key_ratio[at])]
}

# Of a key in parts, the part that most lacked.
missed_part <- function(item, options, type, fewest) {
  right <- which(options$key)
  if (type$answer != "parts" || !length(right)) return(NULL)
  least <- right[which.min(options$share[right])]
  missed <- round(item$n - options$count[least])
  if (!isTRUE(missed >= fewest)) return(NULL)
  list(option = type$say_part(options$option[least]), missed = missed)
}

# The wording of a rule for the turn-th item that it speaks of.
say_rule <- function(rule, turn, signs) {
  values <- signs$values
  # Each time the wordings of one kind are through, the others move on by one.
  shifted <- turn + (turn - 1) %/% 3
  filled <- function(slot) {
    switch(slot,
      talk = if (is.null(values$about)) {
        ""
      } else {
        say_with(
          paste0("review_talk.", values$about),
          values$value_of,
          shifted
        )
      },
      idle = if (values$has_idle) {
        say_with("review_talk.idle", values$value_of)
      } else {
        ""
      },
      values$value_of(slot)
    )
  }
  list(
    what = say_with(paste0("review_what.", rule), filled, turn),
    do = say_with(paste0("review_do.", rule), filled, shifted)
  )
}
