# Options that do something only beside others, or not beside some: what would have no
# effect is refused, so that nobody takes a figure for what it is not.

# Rules of the options of a verb, by the verb's names of them. needs: one of these must be
# in the call; not: none of these may be, unless one of the others is.
unheeded_rules <- function(name) {
  only_with <- function(..., not = NULL) list(needs = c(...), not = not)
  never_with <- function(..., unless = NULL) list(not = c(...), unless = unless)
  as_data <- c("--format csv", "--format json")
  switch(name,
    demo = list(minutes = only_with("--class"), to = only_with("--class")),
    add = list(again = only_with("--from"), `undo-step` = never_with(
      "--from", "--key", "--students", "--sheet", "--set", "--take", "--preview"
    )),
    form = list(replace = only_with("--back")),
    mark = list(`no-names` = never_with("--back")),
    adjust = list(format = never_with(all_changes), out = never_with(all_changes)),
    `what-if` = list(
      reason = only_with("--apply"),
      about = only_with(as_data)
    ),
    test = list(
      target = never_with("--by"),
      bootstrap = never_with("--by", unless = as_data)
    ),
    items = list(
      by = never_with("--review", "--keys"),
      bootstrap = only_with(as_data, not = c("--review", "--keys")),
      review = never_with("--keys"),
      before = never_with("--keys")
    ),
    options = list(by = never_with("--whole"), who = never_with("--whole")),
    students = list(answers = only_with("--student"), by = never_with("--student")),
    standards = list(
      by = never_with("--student", "--below", "--grid"),
      helped = only_with("--by", "--student", "--below", "--grid")
    ),
    misconceptions = list(
      by = never_with("--uncoded", "--guessing"),
      student = never_with("--uncoded"),
      guessing = never_with("--uncoded")
    ),
    groups = list(
      least = never_with("--basis score", "--basis mixed"),
      tagged = never_with("--basis score", "--basis mixed"),
      cut = only_with("--basis score")
    ),
    cuts = list(
      level = only_with("--choose"),
      reason = only_with("--choose"),
      by = never_with("--judges"),
      cut = never_with("--judges"),
      judges = never_with("--choose")
    ),
    patterns = list(student = never_with("--pairs")),
    followup = list(source = never_with("--bank")),
    export = list(
      version = never_with("--as case", "--as long", "--as xapi")
    ),
    slips = list(
      `mail-from` = only_with("--mail", "--send"),
      unencrypted = only_with("--send"),
      `slips-as` = never_with("--mail", "--send"),
      paper = never_with("--mail", "--send")
    ),
    report = list(by = only_with("--for coordinator", "--for head")),
    plot = list(item = only_with("--of options", "--of all")),
    send = list(token = only_with("--as oneroster"))
  )
}

all_changes <- c(
  "--key", "--accept", "--drop", "--credit", "--points", "--extra", "--comment",
  "--group", "--excuse", "--undo"
)

# given: the verb's names of the options in the call; options: values by flag, with those
# that stand by default.
refuse_unheeded <- function(name, given, options) {
  rules <- unheeded_rules(name)
  flags <- vapply(command_options[given], `[[`, "", 1)
  stands <- function(piece) {
    words <- strsplit(piece, " ", fixed = TRUE)[[1]]
    if (length(words) == 1) return(words %in% flags)
    identical(as.character(options[[sub("^--", "", words[1])]]), words[2])
  }
  standing <- function(pieces) Filter(stands, pieces)
  for (option in intersect(names(rules), given)) {
    flag <- command_options[[option]][[1]]
    if (flag == "--by" && identical(options$by, "student")) next
    rule <- rules[[option]]
    if (length(standing(rule$not)) && !length(standing(rule$unless))) {
      abort_no_effect(flag, say("cli-unheeded.not_with", other = standing(rule$not)[1]))
    }
    if (length(rule$needs) && !length(standing(rule$needs))) {
      needed <- join_words(rule$needs, "or")
      abort_no_effect(flag, say("cli-unheeded.only_with", others = needed))
    }
  }
}
