# What each column of the summaries means, in a line: for the workbook and the
# schemas. What the glossary explains is taken from there.

column_words <- c(
  student = "The student's id.", name = "The student's name.", section = "The section or class.",
  points = "Points: earned by a student, or the most that a question or the test gives.",
  open = "Points that were open to the student.",
    share = "Share of the open points that were earned, or of the students.",
  share_low = "Lower end of the 95% interval of the share.", share_high = "Upper end of the 95% interval of the share.",
  level = "The performance level that the share reaches.", band = "The grade on the school's own scale.",
  omitted = "Blanks with a later answer.", not_reached = "Blanks with no answer after them.",
  status = "sat, late, unfinished, waiting (for a mark), absent or excused; of an idea, how surely it is held.",
  item = "The question.", prompt = "What the question asks.", type = "The kind of question.",
  n = "Students counted.", absent = "Students who were absent.", items = "Questions counted, or which ones.",
  reason = "Why a figure is missing, or why.", verdict = "Keep it, look at it, check the key, or drop it.",
  what = "What happened.", do = "What to do.", option = "The answer; (blank): left out.",
    text = "What the option says.",
  key = "Whether it is right.", count = "Students who gave it.", low = "Share within the weakest third.",
  middle = "Share within the middle third.", high = "Share within the strongest third.",
  mean_rest = "Mean score of its choosers on the rest of the test.",
  option_rest = "Correlation of choosing it with the rest of the test.",
  pattern = "How the wrong answers fall: shared, spread, mixed, too few to tell.",
  misconception = "Code of the idea that it stands for.", idea = "The idea that it stands for.",
  code = "Code of the standard or idea.", title = "What it is about.", emphasis = "priority or supporting.",
  shown_by = "Its questions, the hardest first.", description = "The idea in words.",
  severity = "error, warning or note.", file = "The file it stands in.", line = "The line of the file.",
  column = "The column.", value = "The value as it was read.", finding = "What does not add up.",
  action = "What was done, or is to be done.", earned = "Points earned on it.",
    unsure = "Whether the interval reaches another level.",
  mean = "Mean of the points.", median = "Median of the points.", sd = "Standard deviation of the points.",
  lowest = "Lowest points.", highest = "Highest points.", mean_share = "Mean share of the open points.",
  mean_points = "Mean points on the question.", chances = "Answered questions that offered it.",
    chosen = "Times chosen.",
  answers = "The very answers.", likely = "Students who likely hold it.", once = "Students who chose it once.",
  now_and_then = "Students who chose it twice or more, but in fewer than half of the chances.",
  never = "Students who never chose it.", group = "The number of the group.", topic = "What the group is about.",
  role = "learns, helps, ready for more, or on their own.", because = "Why the student is there.",
  sheet = "The sheet.", means = "What it means.", submitted = "When it was handed in.", attempt = "Which try.",
  late = "Whether it was handed in after the day it was due.",
    reached = "Students there now who were below the cut before.",
  below = "Students below the cut.",
  answer = "The answer as a whole.", like = "The right answer that it is one step from.", slip = "That step.",
    seconds = "Time in seconds.",
  reasons = "Why, one after another.", rule = "The rule that led to the verdict.",
  difficulty_band = "hard, middling or easy.", discrimination_band = "strong, good, marginal, weak or reversed.",
  masters = "Students at or above the mastery cut.", others = "The other students.",
  n_complete = "Students with points on every question.", lower_quartile = "A quarter earned fewer points.",
  upper_quartile = "A quarter earned more points.", skewness = "Skewness of the points.", hard = "Hard questions.",
  middling = "Questions neither hard nor easy.", easy = "Easy questions.", mean_seconds = "Mean time in seconds.",
  who = "Who gave the answer.", rival = "The other answer that could be right.", rival_text = "What the rival says.",
  key_count = "Students who gave the key.", rival_count = "Students who gave the rival.",
  key_rest = "Correlation of the key with the rest of the test.", rival_rest = "Correlation of the rival with it.",
  key_upper = "Of the upper group who gave the key.", rival_upper = "Of the upper group who gave the rival.",
  rise = "Students whose points would rise.", fall = "Students whose points would fall.",
  reference = "The group that is compared with.", focal = "The group that is looked at.",
  n_reference = "Students in the reference group.", n_focal = "Students in the focal group.",
  difficulty_reference = "Difficulty in the reference group.", difficulty_focal = "Difficulty in the focal group.",
  statistic = "The test statistic.", p = "Its p value.", favours = "The group that the question is easier for.",
  need = "The sum of the students' needs.", know = "What a student should know and be able to do.",
  cause = "What is likely behind it.", settle = "Questions to look at first.", students = "Students, or who they are.",
  activity = "Yours to fill in: what you do.", day = "Yours to fill in: when.",
    check = "Yours to fill in: how you check.",
  note = "Yours to fill in.", still_below = "Students below the cut afterwards.", closed = "The date of the follow-up.",
  score = "Points on the test.", method = "By which method.", decision = "The decision, or the level.",
  cut = "Share of the points it takes.", cut_points = "Points it takes.", passed = "Students who reach it.",
  pass_share = "Share of the students who reach it.", reliability = "Reliability of the scores.",
  effective_length = "Effective length of the test (Livingston and Lewis).", part = "The part of the test.",
  median_seconds = "Median time in seconds.", slowest_seconds = "Longest time in seconds.",
    slowest = "Who took longest.",
  too_fast = "Answers given faster than one can read.", too_fast_below = "Below how many seconds that is.",
  tried = "Students with several tries.", tries = "Tries.", right_at_once = "Right at the first try.",
  tries_until_right = "Mean tries until right.", never_right = "Never right.", up = "Students who moved up a level.",
  stayed = "Students who stayed in their level.", down = "Students who moved down a level.",
  gain_below = "Mean gain of those below the cut before.", counts = "Whether this try counts.",
  done = "Tests done.", of = "Tests there were.", window = "The period of the year.",
    standards = "Codes of the standards.",
  uses = "Tests that used it.", sitting = "The test.", date = "When the test was.",
  first_difficulty = "Difficulty at its first use.", level_since = "Since when the level is held.",
  baseline = "Share at the first test.", gain = "Share now less the baseline.",
  first_there = "When the cut was first reached.", revision = "How often the test was recorded.",
  current = "Whether this revision counts.", kind = "The kind of test.", added = "When it was recorded.",
  explanation = "What the student wrote as the reason."
)

meaning_of <- function(columns, levels = character()) {
  said <- unname(column_words[columns])
  bare <- is.na(said)
  said[bare & columns %in% levels] <- "Share or number of the students in this level."
  known <- unlist(lapply(glossary_entries, function(entry) {
    columns <- strsplit(entry[2], ", ", fixed = TRUE)[[1]]
    stats::setNames(rep(entry[3], length(columns)), columns)
  }))
  said <- ifelse(is.na(said), unname(known[columns]), said)
  around <- c(low = "Lower end of the 95% interval of ", high = "Upper end of the 95% interval of ",
    before = "Before: ",
    after = "After: ")
  for (end in names(around)) {
    mine <- is.na(said) & grepl(paste0("_", end, "$"), columns)
    said[mine] <- paste0(around[end], gsub("_", " ", sub(paste0("_", end, "$"), "", columns[mine])), ".")
  }
  ifelse(is.na(said), "", said)
}
