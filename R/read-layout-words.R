# What the cells of a header and of the rows around the students are called, in
# plain language. A layout is recognised by these words and by what stands
# below them, never by where it came from.

# A column of the student, by its whole name.
person_words <- c(
  student = paste0(
    "^(student|pupil|learner|candidate|participant|user|person|respondent)?[ _.-]*",
    "(id|no|nr|number|code|key|identifier)[.]?$",
    "|^(student|pupil|learner|candidate|participant|username|user ",
    "?name|user|login|sourcedid)s?$"
  ),
  first_name = "^(first|given)[ _-]*names?$|^forename$",
  last_name = "^(last|family)[ _-]*names?$|^surname$",
  name = "^((full|student|pupil|learner|candidate|display)[ _-]*)?names?$",
  email = "^(student[ _-]*)?e-?mail([ _-]*address)?$",
  guardian_email = "^(guardian|parent)s?[ _-]*e-?mail",
  section = "^(class|section|group|period|form|homeroom|set)([ _-]*(name|id|code))?$",
  teacher = "^teacher([ _-]*name)?$",
  school = "^school([ _-]*name)?$",
  district = "^district([ _-]*name)?$",
  attempt = "^(attempt|try|run)s?([ _-]*(no|nr|number|id|#))?[.]?$",
  seconds = paste0(
    "^((total|time)[ _-]*)?(seconds|duration|elapsed)|",
    "^time[ _-]*(taken|spent|used|needed)|^minutes?$"
  ),
  submitted = paste0(
    "^(submitted|completed|finished|ended|handed in|end|time ?stamp|date|time)",
    "([ _-]*(at|on|time|date))*$"
  ),
  started = "^(started|begun|begin|start|opened)([ _-]*(at|on|time|date))*$",
  status = "^(status|state)$"
)

# A column of a row for each student and item.
long_words <- c(
  item = paste0(
    "^(item|question|task|problem|skill)s?",
    "[ _-]*(id|no|nr|number|code|name|key|identifier)?[.]?$"
  ),
  response = paste0(
    "^(given |student |chosen |selected )?(response|answer|reply|choice)s?( given| ",
    "chosen)?$"
  ),
  points = paste0(
    "^(points?|score|marks?|earned|credit)([ _-]*(earned|given|awarded))?$",
    "|^(awarded|earned)[ _-]*(points|marks)$"
  ),
  most = paste0(
    "^(max|maximum|possible|available|most)[ _.-]*(points?|score|marks?)$",
    "|^(points?|marks?)[ _-]*(possible|available)$|^out of$"
  ),
  key = "^(key|(correct|right)([ _-]*(answer|response|option))?)$",
  standards = "^(standard|objective|outcome)s?([ _-]*codes?)?$",
  explanation = "^(explanation|reason|reasoning|working|why)s?$",
  comment = "^(comment|feedback|remark|note)s?$",
  prompt = "^(prompt|(question|item)[ _-]*(text|title)|wording)$",
  type = "^((question|item)[ _-]*)?type$"
)

# What a column of a question holds, as a word within its name.
part_words <- c(
  most = "\\b(max(imum)?|possible|available|out of)\\b",
  points = "\\b(points?|pts|score|marks?|earned|credit|awarded)\\b",
  explanation = "\\b(explanation|reason|reasoning|why)\\b",
  comment = "\\b(comments?|feedback|remarks?|notes?)\\b",
  seconds = "\\b(seconds|time|duration)\\b",
  key = "\\b(correct( answer)?|key)\\b",
  answer = "\\b(answers?|response|chosen|choice|reply|given)\\b"
)

# A column that sums up: no question, though numbers stand in it.
total_words <- paste0(
  "^((grand|sub|over ?all|final|raw|test|quiz|total|sum|max(imum)?|possible|class)",
  "[ _-]*)*",
  "(total|sum|scores?|points?|marks?|results?|grade|percent(age)?|pct|%|correct|right|",
  "wrong|incorrect|blank|rank|level|average|mean|answered|attempted)",
  "([ _-]*(of|in|%|percent|score|points?|possible|earned|total|correct|questions|items|",
  "raw|scaled))*",
  "[ _-]*([(]?%[)]?|/ ?[0-9.]+|[(].*[)])?$"
)

# A row that is no student, by the label in front of it.
row_words <- c(
  key = paste0(
    "^((answer|marking|scoring)[ _-]*)?key$|",
    "^(correct|right)([ _-]*(answer|response|option)s?)?$|^solutions?$"
  ),
  points = paste0(
    "^((max(imum)?|possible|available|most|full|total)[ _.-]*)*",
    "(points?|pts|marks?|max(imum)?|score|worth|weight)",
    "([ _-]*(possible|available|max(imum)?))?$|^out of$|^possible$"
  ),
  standards = "^(standard|objective|outcome|target|code)s?([ _-]*codes?)?$",
  type = "^((question|item)[ _-]*)?types?$",
  level = "^levels?$",
  prompt = "^((question|item)[ _-]*)?(prompt|text|wording)s?$",
  summary = paste0(
    "^((class|group|total|overall)[ _-]*)?(average|mean|median|total|sum|percent( ",
    "correct)?|%|",
    "% correct|correct %|number correct|difficulty|std( dev)?|sd|standard ",
    "deviation|minimum|min|highest|lowest|",
    "count|n)s?",
    "([ _-]*(score|points|marks|correct|right))?$"
  )
)

# A header that names a question: a word for it, a number, perhaps its text.
question_pattern <- paste0(
  "^(?:q(?:u(?:estion)?)?|item|task|exercise|problem|part|no|nr)?[ ._#-]*",
  "([0-9]{1,3}(?:[.]?[a-z])?)(?![0-9%/-])[ .:)_-]*"
)

# Its worth at the end of the name: "(2 points)", "[max 3]", "/4".
worth_pattern <- paste0(
  "(?:[(\\[] ?(?:max|out of)?[.: ]*([0-9]+(?:[.,][0-9]+)?) ?",
  "(?:points?|pts?|p|marks?)?[.]? ?[)\\]]",
  "|/ ?([0-9]+(?:[.,][0-9]+)?))$"
)

# Cells of a table of marks that say that there is none.
gone_words <- c(
  "-", "\u2013", "\u2014", "n/a", "na", "absent", "abs", "missing", "none", "null", "#n/a"
)
excused_words <- c("excused", "exempt", "ex")

# The first word that fits each text, or NA.
word_of <- function(text, words) {
  text <- plain_words(text)
  hit <- rep(NA_character_, length(text))
  for (name in rev(names(words))) hit[grepl(words[[name]], text, perl = TRUE)] <- name
  hit
}

plain_words <- function(text) {
  apart <- tolower(gsub("([a-z])([A-Z])", "\\1 \\2", text))
  trimws(gsub("[ \t\r\n\u00a0]+", " ", apart, perl = TRUE))
}
