#' What the figures mean, in plain words
#'
#' One entry a figure: what it says, what is a good value and what is not, and
#' what a small class does to it. The same words stand in the report (hold the
#' pointer over a heading), in `pregunta explain`, and in
#' `vignette("glossary", "pregunta")`.
#'
#' @param term Names of entries, or columns of a summary; all by default.
#' @return A data frame, a row an entry: `term`; `column`: the columns that hold
#'   it, with commas; `short`: in one sentence; `meaning`, `good`, `poor` and
#'   `small`: what it says, a good value, a poor one, and small classes.
#' @section Errors: `pregunta_error_call` when there is no such entry.
#' @export
#' @examples
#' glossary("discrimination")$meaning
glossary <- function(term = NULL) {
  table <- glossary_table
  if (is.null(term)) return(table)
  wanted <- plain_term(term)
  named <- glossary_names
  find <- function(one) match(TRUE, vapply(named, function(names) one %in% names, TRUE))
  found <- vapply(wanted, find, 0L)
  bound <- is.na(found) # a bound is explained where its figure is
  found[bound] <- vapply(sub(" (low|high)$", "", wanted[bound]), find, 0L)
  if (anyNA(found)) {
    missing <- term[is.na(found)][1]
    abort_pregunta(
      "call",
      paste0("The glossary has no entry ", quoted(missing), "."),
      NULL,
      did_you_mean(missing, c(table$term, unlist(strsplit(table$column, ", "))))
    )
  }
  table[unname(found), ]
}

# The short text of an entry, for hovering over.
gloss <- function(term) glossary(term)$short

plain_term <- function(term) tolower(gsub("[_-]", " ", term))

entry <- function(term, column, short, meaning, good, poor, small) {
  c(term, column, short, meaning, good, poor, small)
}

glossary_entries <- list(
  entry(
    "difficulty",
    "difficulty, mean_points",
    "The share of a question's points that were earned: high means easy.",
    paste(
      paste0(
        "Add up what the class earned on the question and divide it by what it could ",
        "have earned. 100% is a question"
      ),
      paste0(
        "that everybody got right. The name is an old one: a high difficulty is an easy ",
        "question."
      )
    ),
    paste(
      paste0(
        "Depends on what you want. To tell students apart, most questions between 30% ",
        "and 80%; after teaching"
      ),
      "for mastery, as near to 100% as can be."
    ),
    paste0(
      "Below 30% hardly anybody could do it: not learnt, not understood, or the key is ",
      "wrong."
    ),
    paste0(
      "With 20 students it wavers by about 20 points either way; the interval beside it ",
      "says how much."
    )
  ),
  entry(
    "95% interval",
    paste(
      paste0(
        "difficulty_low, difficulty_high, alpha_low, alpha_high, discrimination_low, ",
        "discrimination_high,"
      ),
      "mean_low, mean_high, pass_low, pass_high"
    ),
    "Where the figure would lie for other students like these, 95 times in 100.",
    paste(
      paste0(
        "Your class is one of many that could have sat the test. The interval is made ",
        "so that, of 100 such classes, in"
      ),
      paste0(
        "about 95 it holds the figure of all such students. Two figures whose intervals ",
        "overlap may well be equal."
      )
    ),
    "Narrow: you can go by the figure.",
    "So wide that it holds both a good and a poor value: do not decide on it.",
    "Four times as many students make it half as wide."
  ),
  entry(
    "discrimination",
    "discrimination",
    paste0(
      "How well the question tells strong from weak students, from \u22121 to 1; below ",
      "0 the strong do worse on it."
    ),
    paste(
      paste0(
        "The correlation between the points on the question and the points on the rest ",
        "of the test. When those who know"
      ),
      paste0(
        "the rest also know this, it is high. It says nothing where everybody earned ",
        "the same."
      )
    ),
    "From .30 good, from .40 strong.",
    paste(
      paste0(
        "Below 0 the strong got it wrong and the weak got it right: look at the key and ",
        "the wording. Between"
      ),
      "0 and .20 it says little about who knows the rest."
    ),
    paste(
      paste0(
        "With 20 students a true .30 can show as anything from \u2212.16 to .66. Under ",
        "20 nothing is said"
      ),
      "against a question."
    )
  ),
  entry(
    "upper-lower index",
    "upper_lower",
    "What the top 27% earned on the question minus what the bottom 27% earned.",
    paste(
      paste0(
        "An older way to see what discrimination shows, easy to check by hand. 27% is ",
        "where the difference is seen most"
      ),
      paste0(
        "clearly. Students with equal scores at the edge share the places, so the order ",
        "of rows does not matter."
      )
    ),
    "From .30.",
    "Below 0.",
    paste0(
      "The two groups are five students each in a class of 20: one student moves it by ",
      "20 points."
    )
  ),
  entry(
    "thirds",
    "low, middle, high",
    paste0(
      "What the weakest, middle and strongest third of the class, by total score, ",
      "earned on the question."
    ),
    paste(
      paste0(
        "The class in three equal parts by their score on the whole test. The three ",
        "figures should rise from"
      ),
      "left to right."
    ),
    "Rising, with a clear gap.",
    "Falling: those who know the rest go wrong here.",
    "Each third of 24 students is eight; one student is 13 points."
  ),
  entry(
    "mastery index",
    "mastery_index",
    paste0(
      "What students who mastered the test earned on the question minus what the others ",
      "earned."
    ),
    paste(
      paste0(
        "Students are parted at the mastery cut, not in the middle. It takes the place ",
        "of discrimination when the test is"
      ),
      "to show who has learnt it."
    ),
    "Above .20: those who have mastered the rest have mastered this.",
    "Below 0.",
    paste0(
      "There is none when everybody is on one side of the cut, which is no fault of the ",
      "question."
    )
  ),
  entry(
    "standardised change",
    "standardised",
    "The change between two tests, in standard deviations of the scores before.",
    paste(
      paste0(
        "It lets changes on tests of different spread be laid side by side. One half ",
        "means: by half of how far"
      ),
      "students lay apart."
    ),
    "0.2 is small, 0.5 is plain to see, 0.8 is large, as rough words.",
    "",
    paste0(
      "With a dozen students it wavers by half and more; look at the interval of the ",
      "change."
    )
  ),
  entry(
    "regression to the mean",
    "expected, expected_below, chosen_low",
    "The part of a gain that comes by itself when students were picked for low scores.",
    paste(
      paste0(
        "A low score is partly a bad day, and bad days do not last: the same students ",
        "score higher next time without"
      ),
      paste0(
        "any teaching. How much follows from the reliability of the first score: the ",
        "less reliable, the more."
      )
    ),
    "",
    "",
    "Hold the gain against it before saying that the teaching did it."
  ),
  entry(
    "carried forward",
    "carried, share_carried",
    "An earlier result that stands where there is no new one, and is marked as such.",
    paste0(
      "It says where somebody stood last, not where they stand now, and it is never ",
      "counted as a new result."
    ),
    "",
    "",
    "A class of carried results has not been tested."
  ),
  entry(
    "change after teaching",
    "change",
    "Difficulty now minus difficulty before teaching.",
    paste(
      paste0(
        "The same question asked before and after. It says more about a question of a ",
        "mastery test than"
      ),
      "discrimination does."
    ),
    "Well above 0: it was learnt, and the question shows it.",
    "About 0: teaching did not reach it, or everybody knew it before.",
    paste0(
      "The interval holds 0 easily in a small class; look at it before saying that ",
      "nothing was learnt."
    )
  ),
  entry(
    "chance level",
    "chance",
    "What blind guessing would earn: one divided by the number of options.",
    "With four options a quarter of those who have no idea get it right.",
    "Difficulty well above it.",
    paste0(
      "Difficulty at or below it: as good as guessing, or one wrong answer draws ",
      "everybody."
    ),
    "One or two students above or below are nothing."
  ),
  entry(
    "blank",
    "omitted, not_reached",
    paste0(
      "Left out (a later question was answered) + not reached (nothing after it was ",
      "answered)."
    ),
    paste(
      paste0(
        "Left out is a choice; not reached is mostly a matter of time. Both earn 0 ",
        "points unless the settings"
      ),
      "say otherwise."
    ),
    "None.",
    "Many not reached at the end: the test was too long.",
    "Ask the two or three why."
  ),
  entry(
    "distractor",
    "distractor, share",
    "A wrong option. It works when some choose it and they are weaker on the rest.",
    paste(
      paste0(
        "Working: chosen by at least 5%, by weaker students. Idle: chosen by fewer. ",
        "Draws the strong: its choosers are"
      ),
      "stronger than the rest, which a wrong answer should not."
    ),
    "All working.",
    paste0(
      "Idle ones make the question a choice between fewer; one that draws the strong ",
      "may be right."
    ),
    "In a class of 20 one student is 5%: an idle option there says nothing."
  ),
  entry(
    "option-rest correlation",
    "option_rest, mean_rest",
    paste0(
      "Whether those who chose this answer are strong (above 0) or weak (below 0) on ",
      "the rest of the test."
    ),
    paste0(
      "Like discrimination, for one answer: the correlation of having chosen it with ",
      "the points on the rest."
    ),
    "Above 0 for the right answer, below 0 for the others.",
    "Above 0 for a wrong answer, more than for the key.",
    "Rests on those who chose it: three students decide nothing."
  ),
  entry(
    "pattern",
    "pattern",
    paste0(
      "How the wrong answers fall: shared (piled up on one), spread (as by guessing), ",
      "mixed, or too few to tell."
    ),
    paste(
      paste0(
        "When many choose the same wrong answer they share an idea; when wrong answers ",
        "are spread evenly they most likely"
      ),
      paste0(
        "guessed. The first is mended by talking about that idea, the second by ",
        "teaching it again."
      )
    ),
    "",
    "Shared by a quarter of the class or more: take it up.",
    "Needs at least 8 wrong answers; with 10 it often cannot tell."
  ),
  entry(
    "key in doubt",
    "doubt",
    "Another option goes with the score on the rest better than the key does.",
    paste0(
      "Most often a slip in the key, or two right answers, or a wording that can be ",
      "read in two ways."
    ),
    "None.",
    "Clear: the intervals of the two do not meet.",
    "Under 20 students it is only called possible."
  ),
  entry(
    "mean and median",
    "mean, median, mean_share",
    "The average of the points, and the score in the middle of all.",
    paste0(
      "Half of the students have at least the median. When the two are far apart, some ",
      "scores lie far off."
    ),
    "",
    "",
    "One very low score moves the mean of a small class, hardly the median."
  ),
  entry(
    "standard deviation",
    "sd",
    paste0(
      "How far the students are apart: about two thirds lie within one of it around the ",
      "mean."
    ),
    "The usual distance from the mean, in points.",
    "For ranking, large. After teaching for mastery small is good news.",
    "Near 0: everybody has the same; reliability cannot be told then.",
    "Wavers a good deal under 20."
  ),
  entry(
    "alpha",
    "alpha",
    paste0(
      "Reliability, from 0 to 1: how much of the differences between scores would show ",
      "again on a test like this one."
    ),
    paste(
      paste(
        paste0(
          "When the questions hang together, students who do well on some do well on ",
          "others, and their order"
        ),
        "would stay much"
      ),
      paste0(
        "the same on another such test. For questions with 0 or 1 point it is the same ",
        "figure as KR-20."
      )
    ),
    paste0(
      "From .70 for a class test, from .80 to compare groups, from .90 to decide about ",
      "one student."
    ),
    paste(
      paste0(
        "Below .50 the order of students is half luck. A test that everybody masters ",
        "has a low alpha too, and"
      ),
      "that is no fault."
    ),
    "With 20 students and 20 questions an alpha of .70 can be anything from .47 to .86."
  ),
  entry(
    "alpha without",
    "alpha_without",
    "What alpha would be without this question.",
    "When it is higher than alpha, the question disturbs.",
    "At or below alpha.",
    "Clearly above alpha, together with a low discrimination.",
    "Differences of .01 mean nothing."
  ),
  entry(
    "KR-21",
    "kr21",
    paste0(
      "Reliability as if all questions were equally hard; lower than alpha when they ",
      "are not."
    ),
    paste0(
      "It needs only the mean and the spread of the scores, so it can be checked with a ",
      "pocket calculator."
    ),
    "Near alpha.",
    "Far below alpha: the questions differ much in difficulty.",
    "As alpha."
  ),
  entry(
    "lambda-2",
    "lambda2",
    "Another reliability, never below alpha and a little nearer to the truth.",
    paste0(
      "Alpha is too low when questions measure somewhat different things; lambda-2 is ",
      "less so."
    ),
    "As alpha.",
    "As alpha.",
    "Too high in small classes: it takes chance for connection."
  ),
  entry(
    "split half",
    "split_half",
    "The odd questions against the even ones, stepped up to the length of the test.",
    "How well one half of the test foretells the other.",
    "As alpha.",
    "As alpha.",
    paste0(
      "Depends on how the questions happen to stand; alpha is the mean of all ways to ",
      "halve."
    )
  ),
  entry(
    "stratified alpha",
    "stratified_alpha",
    "Alpha for a test made of parts, such as standards or types of question.",
    paste0(
      "Where parts measure different things, plain alpha is too low; this one puts it ",
      "right."
    ),
    "As alpha.",
    "Hardly above alpha: the parts measure much the same.",
    "As alpha."
  ),
  entry(
    "SEM",
    "sem",
    paste0(
      "Standard error of measurement: by how many points a student's score would waver ",
      "on another such test."
    ),
    paste(
      paste(
        paste0(
          "Two thirds of scores lie within one SEM of what the student truly is worth, ",
          "95% within two. Two"
        ),
        "students less than"
      ),
      "about three SEM apart may be equal."
    ),
    "Small against the distance between levels.",
    "As large as a level is wide: levels are half luck then.",
    "As alpha; but it hangs less on who sits the test."
  ),
  entry(
    "SEM at a score",
    "sem, low, high",
    "The same at each score: a score in the middle wavers more than one at the end.",
    "One SEM for all is an average. What counts for a decision is the SEM at the cut.",
    "Small at the cut.",
    "Large at the cut: more questions of that difficulty would help.",
    "For 0/1 questions it follows from the score alone, whatever the class."
  ),
  entry(
    "length for a target",
    "length_for_target, needed, target",
    "How many questions like these it would take to reach a reliability.",
    paste0(
      "Twice as many questions of the same kind make a test more reliable by a known ",
      "amount."
    ),
    "At most what there are.",
    "Many times what there are: better questions help more than more of them.",
    "As uncertain as alpha; see its interval."
  ),
  entry(
    "agreement",
    "agreement",
    paste0(
      "The share of students who would get the same decision on another test like this ",
      "one."
    ),
    paste(
      paste0(
        "Pass or not, secure or not: some students stand so near to the cut that luck ",
        "decides. Found from the spread and"
      ),
      "the reliability of the scores."
    ),
    "From 90%.",
    "Below 80% one in five is decided by luck: use a second test.",
    "Rough under 30 students; the interval says how rough."
  ),
  entry(
    "kappa",
    "kappa",
    "How much of the agreement is more than luck, from 0 to 1.",
    paste0(
      "When nearly everybody passes, agreement is high by luck alone. Kappa takes that ",
      "away."
    ),
    "From .60.",
    "Near 0: the decision is no better than a coin that knows how many pass.",
    "Very rough when only a few students are on one side."
  ),
  entry(
    "dependability",
    "dependability",
    paste0(
      "How surely scores lie on their side of the cut, from 0 to 1; only for 0/1 ",
      "questions."
    ),
    "Higher the further the class is from the cut. At the mean it is KR-21.",
    "From .80.",
    "Below .60.",
    "As alpha."
  ),
  entry(
    "worth its own score",
    "worth, by_part, by_total",
    paste0(
      "Whether a part's own score says more about it than the score on the whole test ",
      "does."
    ),
    paste(
      paste0(
        "A part with few questions is measured badly. Often the total, which rests on ",
        "many, foretells it better; then the"
      ),
      "part's score should not be used to compare students, only to see what to teach."
    ),
    "yes",
    "no: the total says it better.",
    "Mostly unsure."
  ),
  entry(
    "two groups",
    "humps, lower_n, lower_mean, upper_mean, between_n",
    "Whether the average lies between two groups of students, where hardly anybody is.",
    paste(
      paste0(
        "When one half of the class can do it and the other cannot, the average ",
        "describes nobody. The scores are cut in"
      ),
      paste0(
        "two where the halves differ most; if that cut explains more of the spread than ",
        "it would in one group, and few"
      ),
      "students are in between, there are two."
    ),
    "1: one group, the average says something.",
    "2: look at the two groups apart, and teach them apart.",
    "Under 10 students nothing is said; with 30, two groups must be far apart to be seen."
  ),
  entry(
    "misconception",
    "likely, now_and_then, once, never, status",
    paste0(
      "An idea that a wrong answer stands for; likely held when chosen at least twice ",
      "and half the time."
    ),
    paste(
      paste0(
        "Wrong options can be written so that each comes from one wrong idea. Choosing ",
        "the same idea on several questions"
      ),
      "is evidence that the student holds it; once may be a slip or a guess."
    ),
    "Nobody holds it.",
    "Many hold it likely: teach against the idea, not only the question.",
    "An idea that one question alone offers can never be told from a slip."
  ),
  entry(
    "guessing",
    "p_guess, p_coded, reads_as, coded, expected, coded_expected",
    "How often picking options without knowing would get as many right.",
    paste(
      paste0(
        "Of four options one pick in four is right without knowing anything. If ",
        "guessing gets as many right in more than 5"
      ),
      paste0(
        "of 100 tries, the score does not show that the student knows the matter; it ",
        "does not show the opposite either."
      )
    ),
    "Under 5%: more than guessing.",
    "Half or more: the answers might as well have been drawn by lot.",
    "It depends on the number of questions, not of students; under 8 nothing is said."
  ),
  entry(
    "together",
    "both, odds_ratio, p_adjusted",
    "Two wrong answers that the same students gave, more often than chance.",
    paste(
      paste0(
        "Among students with like scores, those who gave the one gave the other too. ",
        "Perhaps one idea is behind both; a"
      ),
      "person who reads the questions can tell."
    ),
    "",
    "",
    "Under 20 students it is not looked at; of many pairs only the surest are shown."
  ),
  entry(
    "fairness",
    "class, delta, odds_ratio, smd",
    "Whether students of two groups with the same score do equally well on the question.",
    paste(
      paste0(
        "Not whether one group did worse, but whether this one question treats equals ",
        "unequally: a word, a setting or a"
      ),
      "picture that one group knows less well."
    ),
    "negligible",
    "large: read the wording with that group in mind.",
    paste0(
      "Not done below 20 students in a group; of 20 questions one shows something by ",
      "chance."
    )
  ),
  entry(
    "level",
    "level, unsure",
    paste0(
      "The highest level whose cut the score reaches; unsure when the interval reaches ",
      "into another."
    ),
    "Cuts and names are yours, in test.yml. An unsure level rests on too few points.",
    "",
    "",
    "On a standard with two questions nearly every level is unsure."
  ),
  entry(
    "beyond chance",
    "beyond_chance, difference",
    paste0(
      "Whether a group's mean differs from that of the others by more than the luck of ",
      "the draw would bring."
    ),
    paste(
      paste0(
        "Two groups taught alike never have the same mean. The difference is held ",
        "against how much such means waver; and"
      ),
      paste0(
        "since of many groups some stand out by luck, more is asked of each the more ",
        "there are."
      )
    ),
    "",
    "",
    paste0(
      "A class of ten must be far away to be called different; not so called is not the ",
      "same as equal."
    )
  ),
  entry(
    "resampling",
    "bootstrap",
    paste0(
      "An interval found by drawing students anew, thousands of times, from those there ",
      "are."
    ),
    paste(
      paste0(
        "For figures that no formula gives an interval for. Each draw is a class that ",
        "might have been; the middle 95% of"
      ),
      "the figures are the interval. The same seed gives the same interval."
    ),
    "",
    "",
    "Too narrow under 20 students: a class cannot show more than its students hold."
  )
)

# Once, when the package is built: every heading of a page asks for its entry.
glossary_table <- data.frame(
  term = vapply(glossary_entries, `[[`, "", 1),
  column = vapply(glossary_entries, `[[`, "", 2),
  short = vapply(glossary_entries, `[[`, "", 3),
  meaning = vapply(glossary_entries, `[[`, "", 4),
  good = vapply(glossary_entries, `[[`, "", 5),
  poor = vapply(glossary_entries, `[[`, "", 6),
  small = vapply(glossary_entries, `[[`, "", 7)
)
glossary_names <- Map(
  function(term, column) plain_term(c(term, strsplit(column, ", ")[[1]])),
  glossary_table$term,
  glossary_table$column
)
