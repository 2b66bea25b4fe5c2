# The rules that verdicts on items come from, in order. The first that holds gives the
# verdict and its two sentences (review_what and review_do among the words), all that
# hold are the reasons. Where several wordings stand there, items in turn take the next
# one, so that a page of verdicts does not say the same words over and over.

verdicts <- c(
  "check_key", "drop_or_rewrite", "look", "too_few", "mastered", "sound"
)

review_rules <- c(
  dropped = "drop_or_rewrite",
  key = "check_key",
  reversed = "drop_or_rewrite",
  misleads = "drop_or_rewrite",
  pulls = "look",
  idea = "look",
  shared = "look",
  guessed = "look",
  hard = "look",
  unchanged = "look",
  unlearnt = "look",
  near_miss = "look",
  weak = "look",
  waiting = "look",
  time = "look",
  waits = "look",
  nobody = "too_few",
  few = "too_few",
  mastered = "mastered",
  sound = "sound",
  middling = "sound",
  taught = "sound"
)

# Signs that another sign explains, and that need not be told beside it.
explained_by <- list(
  key = c(
    "reversed", "misleads", "pulls", "idea", "shared", "guessed", "hard",
    "weak", "unlearnt", "unchanged"
  ),
  reversed = c("pulls", "weak"),
  misleads = "pulls",
  guessed = "unlearnt",
  hard = "unlearnt",
  unchanged = "unlearnt"
)
