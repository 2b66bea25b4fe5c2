# The table of rules that verdicts on items come from. The first rule that holds
# gives the verdict and the two sentences, the others that hold give reasons.
# Where several wordings stand, items in turn take the next one, so that a page
# of verdicts does not say the same words over and over.

verdicts <- c(
  "check the key", "drop or rewrite", "look at it", "too few to tell", "mastered", "sound"
)

review_rule <- function(rule, verdict, reason, what, do) {
  list(rule = rule, verdict = verdict, reason = reason, what = what, do = do)
}

mend_or_leave <- paste(
  "Read it again: something in it misleads those who know.",
  "Mend it or leave it out."
)

review_rules <- list(
  review_rule(
    "dropped",
    "drop or rewrite",
    "dropped from the test",
    "It is dropped from the test and counts for nobody.",
    "Rewrite it before it is used again."
  ),
  review_rule(
    "key",
    "check the key",
    "another answer does better than the key",
    paste0(
      "{count} of {n} chose {option}{text}, and they did better on the rest than those ",
      "who chose the key {key}."
    ),
    "Read the question and its key again: {option} may be the right answer."
  ),
  review_rule(
    "reversed",
    "drop or rewrite",
    "the strong do worse on it than the weak",
    "The strongest third earned {high} on it, the weakest {low}.",
    mend_or_leave
  ),
  review_rule(
    "misleads",
    "drop or rewrite",
    "those who have mastered the rest do worse on it",
    paste0(
      "Those who have mastered the rest of the test earned {masters} on it, the others ",
      "{others}."
    ),
    mend_or_leave
  ),
  review_rule(
    "pulls",
    "look at it",
    "a wrong answer draws the strong",
    paste0(
      "{count} of {n} chose {option}{text}, and they are stronger on the rest than the ",
      "others."
    ),
    c(
      paste0(
        "Ask two of them why: it may be right as well, or the question can be read in ",
        "two ways."
      ),
      "Let those who chose it argue for it; perhaps they read the question differently."
    )
  ),
  review_rule(
    "shared",
    "look at it",
    "many share one wrong answer",
    c(
      "{count} of {n} {chose} {option}{text}{idea}.",
      "One wrong answer drew {count} of {n}: {option}{text}{idea}."
    ),
    c(
      "Many share one wrong idea: take it up with the class.",
      "Let those who chose it say why, then settle it together.",
      "Show why it cannot be, before going on."
    )
  ),
  review_rule(
    "guessed",
    "look at it",
    "the wrong answers are spread, as by guessing",
    paste0(
      "{difficulty} of the points were earned, and the wrong answers are spread evenly, ",
      "as when many guess."
    ),
    c(
      "It has not been learnt yet, or not been understood: teach it again.",
      "Start from the beginning with it: there is no one wrong idea to mend."
    )
  ),
  review_rule(
    "hard",
    "look at it",
    "hard",
    c(
      "Only {difficulty} of the points were earned, {high} in the strongest third.",
      "Few could do it: {difficulty} of the points, {high} in the strongest third."
    ),
    c("Go over it with the class.", "Teach it once more, then ask it again.")
  ),
  review_rule(
    "unchanged",
    "look at it",
    "no better than before teaching",
    "{before} of its points were earned before teaching, {difficulty} after.",
    c(
      "Teaching did not reach it: try another way.",
      "It needs another lesson, or another question."
    )
  ),
  review_rule(
    "unlearnt",
    "look at it",
    "surely below the mastery cut",
    c(
      "{difficulty} of its points were earned; {cut} is the aim.",
      "The class stands at {difficulty} on it, short of {cut}."
    ),
    c(
      "Teach it again before going on.",
      "Not there yet: a short lesson and a second try.", "Practise it once more."
    )
  ),
  review_rule(
    "slip",
    "look at it",
    "a slip of the pen counts as wrong",
    c(
      paste0(
        "{count} of {n} wrote {shown}, a slip away from \u201c{like}\u201d, and earned ",
        "nothing."
      ),
      "{shown}, from {count} of {n}, is a slip away from \u201c{like}\u201d."
    ),
    c(
      "Decide whether that is right enough; if it is, accept it for all.",
      "If spelling is not what you asked for, accept it."
    )
  ),
  review_rule(
    "weak",
    "look at it",
    "tells strong from weak hardly at all",
    "The strongest third earned {high} on it, the weakest {low}: hardly a difference.",
    c(
      paste0(
        "See whether it asks for something else than the rest, or can be answered ",
        "without knowing."
      ),
      "Ask what somebody needs to answer it; it may not be what you taught."
    )
  ),
  review_rule(
    "waiting",
    "look at it",
    "answers wait for a mark",
    c("{waiting} for a mark; until then counted neither way.", "{waiting} to be marked."),
    c("Mark them.", "Mark these first, then look again.")
  ),
  review_rule(
    "time",
    "look at it",
    "many did not get that far",
    c("{not_reached} did not get that far.", "{not_reached} ran out of time before it."),
    c("Allow more time, or ask less.", "Put it earlier, or give the test more minutes.")
  ),
  review_rule(
    "waits",
    "look at it",
    "answers wait for a mark",
    "{waiting} for a mark.",
    "Mark what is left."
  ),
  review_rule(
    "nobody",
    "too few to tell",
    "nobody has points on it",
    "Nobody has points on it yet.",
    "Look again when there are answers."
  ),
  review_rule(
    "few",
    "too few to tell",
    "too few students",
    c(
      "{n_students} had it and earned {difficulty} of its points.",
      "{difficulty} of its points were earned, by {n_students}.",
      "{n_students} answered; {difficulty} of the points."
    ),
    c(
      paste0(
        "Too few to judge the question by: talk it over, and keep the figures for the ",
        "next class."
      ),
      "With so few, look at the answers one by one instead.",
      "Say nothing against it yet."
    )
  ),
  review_rule(
    "mastered",
    "mastered",
    "all but everybody has it",
    c(
      "{difficulty} of its points were earned: they have it.",
      "All but everybody has it ({difficulty})."
    ),
    c("Taught and learnt: move on.{rank}", "Good news. Go on to the next thing.{rank}")
  ),
  review_rule(
    "sound",
    "sound",
    "tells strong from weak",
    c(
      "The strongest third earned {high} of its points, the weakest {low}.",
      paste0(
        "Those who know the rest know this: {high} in the strongest third, {low} in the ",
        "weakest."
      ),
      "{difficulty} of its points were earned; {high} at the top, {low} at the bottom."
    ),
    c(
      "Keep it.{talk}{idle}", "It does its work.{talk}{idle}",
      "Use it again.{talk}{idle}", "A good question.{talk}{idle}"
    )
  ),
  review_rule(
    "middling",
    "sound",
    "tells strong from weak a little",
    c(
      "The strongest third earned {high} of its points, the weakest {low}.",
      "{high} of its points in the strongest third, {low} in the weakest."
    ),
    c(
      "Keep it; how well it tells strong from weak is not sure yet.{talk}{idle}",
      "Nothing speaks against it; see how the next class does.{talk}{idle}"
    )
  ),
  review_rule(
    "taught",
    "sound",
    "as the rest of the test",
    c(
      "{difficulty} of its points were earned.",
      "The class earned {difficulty} of its points.", "They stand at {difficulty} on it."
    ),
    c("Keep it.{talk}{idle}", "On the way.{talk}{idle}", "Go on with it.{talk}{idle}")
  )
)

# What follows a verdict of "sound": the answer to talk about when going over it.
review_talk <- list(
  part = c(
    " Going over it, show {part} once more: {missed} did not have it.",
    " {missed} did not have {part}.", " What was missed most is {part}, by {missed}."
  ),
  chosen = c(
    " Going over it, take up {shown}: {count} {chose} it.",
    " {count} {chose} {shown}; ask them why.",
    " The wrong answer to talk about is {shown}, from {count}."
  )
)
review_idle <- " Next time give {idle_option} a likelier mistake: {nobody} chose it."
review_rank <- " It cannot tell strong from weak, so one or two of these will do."

# Signs that another sign explains, and that need not be told beside it.
explained_by <- list(
  key = c(
    "reversed", "misleads", "pulls", "shared", "guessed", "hard", "weak", "unlearnt",
    "unchanged"
  ),
  reversed = c("pulls", "weak"),
  misleads = "pulls",
  guessed = "unlearnt",
  hard = "unlearnt",
  unchanged = "unlearnt"
)
